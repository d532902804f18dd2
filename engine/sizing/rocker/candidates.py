"""From nine plain numbers, the choices, to a rocker that stands as it should where the wheel stands.

Place   where in its room the pivot lies (three shares of the edges)
Lean    rod to rod arm less a right angle, at ride
Arm     the rod arm's length
Turn    from the rod's arm to the damper's, about the bolt
Aside   damper to its arm less a right angle, at ride
Scale   of the ratio asked for; 1 where the ratio itself is the target
Side    which of the two ways the rod arm stands: below a half one, else the other

The damper's arm is then as long as the ratio wants it, and its far end lies where its length at ride puts it, on
the side to which the arm moves in bump: so it is always pressed, and stands within its stroke.
"""

import math
from enum import IntEnum

import numpy as np

from engine.compiled import loaded
from engine.linkage.vectors import Array, cross_rows
from engine.sizing.rocker.moving import Rockers
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide

TURNING = loaded("engine.sizing.rocker.turning")


class Choice(IntEnum):
    """The columns of a row of choices, as the search, the proof and `turning.py` pass them on."""

    PLACE_1 = 0
    PLACE_2 = 1
    PLACE_3 = 2
    LEAN = 3
    ROD_ARM = 4
    TURN = 5
    ASIDE = 6
    SCALE = 7
    SIDE = 8


PLACES = [Choice.PLACE_1, Choice.PLACE_2, Choice.PLACE_3]
LEAN = math.radians(14)
ASIDE = math.radians(22)
SCALE = 0.25
FREE_LENGTH_MM = 300.0  # of a unit that says no lengths


def limits_of(targets: Targets) -> tuple[Array, Array]:
    """Return the least and the most of each choice, (9,) each."""
    free = targets.ratio is None
    scale = SCALE if free else 0.0
    edges = {
        Choice.PLACE_1: (0.0, 1.0),
        Choice.PLACE_2: (0.0, 1.0),
        Choice.PLACE_3: (0.0, 1.0),
        Choice.LEAN: (-LEAN, LEAN),
        Choice.ROD_ARM: targets.rod_arm,
        Choice.TURN: (-math.pi, math.pi),
        Choice.ASIDE: (-ASIDE, ASIDE),
        Choice.SCALE: (1 - scale, 1 + scale),
        Choice.SIDE: (0.0, 1.0),
    }
    low, high = np.array([edges[choice] for choice in Choice], dtype=float).T
    return low, high


def ratio_guess(side: WheelSide, targets: Targets) -> float:
    """Return the ratio at ride that a target comes to when it changes little: K_w = MR²·k, stroke = MR·travel."""
    if targets.ratio is not None:
        return targets.ratio
    if targets.stroke is not None:
        return targets.stroke / float(side.travels[-1] - side.travels[0])
    if targets.wheel_rate is not None and side.spring_n_per_mm:
        return math.sqrt(targets.wheel_rate / side.spring_n_per_mm)
    return 0.7


def rockers_from(choices: Array, side: WheelSide, targets: Targets) -> Rockers:
    """Return the rockers of rows of choices (n, 9); NaN in those that cannot be drawn."""
    count = len(choices)
    places = {name: np.empty((count, 3)) for name in ("pivot", "across", "up", "axis")}
    sizes = {name: np.empty(count) for name in ("damper_arm", "rod", "side")}
    far = np.empty((count, 3))
    given = (
        np.ascontiguousarray(part, dtype=float)
        for part in (choices, targets.corner, targets.edges, side.axis)
    )
    where = (np.ascontiguousarray(part[side.ride], dtype=float) for part in (side.path, side.rate))
    TURNING.drawn(
        *given, targets.in_line, *where, ratio_guess(side, targets), _length_at_ride(side),
        *places.values(), *sizes.values(), far,
    )  # fmt: skip
    arms = {"rod_arm": choices[:, Choice.ROD_ARM], "turn": choices[:, Choice.TURN]}
    return Rockers(**places, **sizes, **arms, far=far)


def _length_at_ride(side: WheelSide) -> Array:
    """Return the unit's length at ride, mm, as what it is and what it is by the ratio, (2,).

    What is not used of its stroke is left in equal parts at both ends.
    """
    if side.extended is None or side.compressed is None:
        return np.array([FREE_LENGTH_MM, 0.0])
    up, whole = side.travels[-1] - side.travels[side.ride], side.travels[-1] - side.travels[0]
    return np.array([(side.extended + side.compressed) / 2, up - whole / 2])


def far_places(rockers: Rockers) -> Array:
    """Return where each unit's far end stands, (n, 3) mm."""
    return in_space(rockers, rockers.far[:, 0], rockers.far[:, 1], rockers.far[:, 2])


def in_space(rockers: Rockers, x: Array, y: Array, h: Array | float = 0.0) -> Array:
    """Return places of the rockers' planes in space: x, y (n,) or (n, rows) mm from the pivots to (…, 3)."""
    x, y, h = np.asarray(x), np.asarray(y), np.asarray(h)
    if x.ndim == 2:
        shaped = [way[:, None, :] for way in (rockers.pivot, rockers.across, rockers.up, rockers.axis)]
    else:
        shaped = [rockers.pivot, rockers.across, rockers.up, rockers.axis]
    pivot, across, up, axis = shaped
    place: Array = pivot + x[..., None] * across + y[..., None] * up
    return place + h[..., None] * axis if h.ndim else place + float(h) * axis


def as_drawn(side: WheelSide) -> Rockers:
    """Return the rocker that is drawn now, alone; the rod's length that of the drawing."""
    axis = side.axis[None]
    end = side.path[side.drawn]
    out = end - side.pivot
    across = out - side.axis * float(out @ side.axis)
    across = (across / np.linalg.norm(across))[None]
    up = cross_rows(axis, across)

    def flat(place: Array) -> tuple[float, float, float]:
        arm = place - side.pivot
        return float(arm @ across[0]), float(arm @ up[0]), float(arm @ side.axis)

    (jx, jy, _), (kx, ky, kh), far = flat(side.joint), flat(side.eye), flat(side.far)
    turn = math.atan2(ky, kx) - math.atan2(jy, jx)
    return Rockers(
        pivot=side.pivot[None],
        across=across,
        up=up,
        axis=axis,
        rod_arm=np.array([math.hypot(jx, jy)]),
        damper_arm=np.array([math.hypot(kx, ky)]),
        turn=np.array([turn]),
        rod=np.array([float(np.linalg.norm(side.joint - end))]),
        side=np.array([1.0 if jy >= 0 else -1.0]),
        far=np.array([[far[0], far[1], far[2] - kh]]),
    )
