"""Anti-roll bars: a torsion bar across the car, an arm at each end, a drop link from each arm to the wheel's side.

Twist rate   N·m per degree: G·J over the length between the arms, J = π(d⁴ − b⁴)/32 (textbook torsion of a round bar).
Arm speed    degrees of arm per mm of wheel, from the drop link's length that stays: (A − P)·(A′ − P′) = 0.
In roll      both arms twist the bar against one another: each wheel is met by 2·k·θ′², and the car by that times t²/2.
One wheel    up alone, the other held: k·θ′². Both together: nothing at all.
"""

import math

import numpy as np

from engine.document.schema import Bar, Station
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.station.rows import Rows

RAD = math.pi / 180


@facts
class BarAtWheel:
    """One bar where the car stands.

    twist_rate  N·m per degree between its arms
    arm_speed   degrees of arm per mm of wheel, each arm with its own wheel
    one_wheel   N/mm that one wheel rising alone is met by, and `in_roll` each of two that part
    square      degrees between arm and drop link, seen along the bar; it works best at 90
    """

    name: str
    twist_rate: float
    arm_speed: float
    one_wheel: float
    in_roll: float
    square: float


def twist_rate_nm_per_deg(bar: Bar) -> float:
    """Return a bar's stiffness against twist, N·m per degree: as given, or from its diameter and length."""
    if bar.rate is not None:
        return bar.rate
    assert bar.diameter is not None
    second_moment = math.pi * (bar.diameter**4 - (bar.bore or 0.0) ** 4) / 32
    return bar.shear_modulus * second_moment / bar.length / 1000 * RAD


def bar_at_wheel(station: Station, bar: Bar, rows: Rows, index: dict[str, int]) -> BarAtWheel | None:
    """Return what a bar does at the wheel at one solved row; None where the drop link cannot follow or is dead.

    rows : one position, moved in heave for a corner and in articulation for an axle
    """
    low, held = bar.ends
    place, speed = rows.solution.motion.place[:, :, 0], rows.solution.motion.first[:, :, 0]
    point, rate = place[:, index[low]], speed[:, index[low]]
    pivot = np.array(station.points[held], dtype=float)
    axis = np.array(bar.axis, dtype=float)
    axis /= np.linalg.norm(axis)
    tip = np.array(bar.tip, dtype=float)
    link = float(np.linalg.norm(tip - np.array(station.points[low], dtype=float)))
    arm = _turned(tip, pivot, axis, point, link)
    if arm is None:
        return None
    along = arm - point
    swing = np.cross(axis, arm - pivot)
    lever = float(along @ swing)
    reach = arm - pivot - axis * float(axis @ (arm - pivot))
    flat = along - axis * float(axis @ along)
    size = float(np.linalg.norm(reach) * np.linalg.norm(flat))
    if abs(lever) < 1e-6 * max(size, 1.0):
        return None
    turn = float(along @ rate) / lever / RAD
    twist = twist_rate_nm_per_deg(bar)
    cosine = float(reach @ -flat) / size
    one = twist * 1000 * turn * turn * RAD
    return BarAtWheel(
        name=bar.name,
        twist_rate=twist,
        arm_speed=turn,
        one_wheel=one,
        in_roll=2 * one,
        square=math.degrees(math.acos(max(-1.0, min(1.0, cosine)))),
    )


def _turned(tip: Array, pivot: Array, axis: Array, point: Array, link: float) -> Array | None:
    """Return where the arm's end stands with the drop link's other end at `point`: the nearest to drawn of the two."""
    arm = tip - pivot
    centre = pivot + axis * float(axis @ arm)
    one = tip - centre
    radius = float(np.linalg.norm(one))
    one = one / radius
    two = np.cross(axis, one)
    # |centre + r(cos·one + sin·two) − point| = link: a·cos + b·sin = c.
    off = point - centre
    a, b = 2 * radius * float(off @ one), 2 * radius * float(off @ two)
    c = radius**2 + float(off @ off) - link**2
    size = math.hypot(a, b)
    if size < 1e-12 or abs(c) > size:
        return None
    middle, half = math.atan2(b, a), math.acos(c / size)
    angle = min((middle + half, middle - half), key=lambda t: abs(math.remainder(t, 2 * math.pi)))
    turned: Array = centre + radius * (math.cos(angle) * one + math.sin(angle) * two)
    return turned
