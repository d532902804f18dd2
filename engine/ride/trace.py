"""What the units and the wheels do at solved positions, by virtual work.

Wheel force  F_w = Σ MR·F, per wheel.
Wheel rate   K_w = Σ (MR²·k + F·dMR/dz), per wheel; the second term is the ratio's own change.
"""

from dataclasses import dataclass, replace

import numpy as np

from engine.forces.air import Bag
from engine.forces.tank import SharedAir
from engine.forces.units import UnitLaw
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array, dot


@dataclass(frozen=True)
class UnitTrace:
    """One unit over the rows: each (rows,).

    length       mm between its ends
    motion_ratio mm/mm, and its slope 1/mm
    force, rate  N, and N/mm as the unit alone is shortened
    force_slope  N per mm of travel: the rate times the ratio, but for bags that share their air
    pressure     bar gauge in a bag, None for the rest
    """

    length: Array
    motion_ratio: Array
    ratio_slope: Array
    force: Array
    rate: Array
    force_slope: Array
    pressure: Array | None = None


@dataclass(frozen=True)
class WheelTrace:
    """One wheel over the rows: degrees, and its centre (3, rows) in mm.

    camber : top out is positive; toe : front in is positive; NaN without a spindle point
    """

    camber: Array
    toe: Array
    centre: Array


def unit_trace(law: UnitLaw, one: int, other: int, solution: Solution) -> UnitTrace:
    """Return a unit's length, ratio and force over solved rows."""
    motion = solution.motion
    gap = motion.place[:, one] - motion.place[:, other]
    speed = motion.first[:, one] - motion.first[:, other]
    bend = motion.second[:, one] - motion.second[:, other]
    length = np.sqrt(dot(gap, gap))
    first = dot(gap, speed) / length
    second = (dot(speed, speed) + dot(gap, bend) - first**2) / length
    force, rate = law.at(length)
    pressure = None if law.bag is None else law.bag.pressure(length)[0]
    return UnitTrace(length, -first, -second, force, rate, -first * rate, pressure)


def with_shared_air(
    tank: SharedAir, bags: dict[str, Bag], units: dict[str, UnitTrace]
) -> dict[str, UnitTrace]:
    """Return the traces of the bags on one tank, their air shared."""
    traces = [units[name] for name in tank.bags]
    shared = tank.at(
        [bags[name] for name in tank.bags], [t.length for t in traces], [-t.motion_ratio for t in traces]
    )
    return {
        name: replace(trace, force=force, rate=rate, force_slope=slope, pressure=shared.pressure)
        for name, trace, (force, rate, slope) in zip(tank.bags, traces, shared.bags, strict=True)
    }


def wheel_force_n(traces: list[UnitTrace], wheels: int) -> Array:
    """Return the vertical force that the units make at each wheel."""
    total: Array = sum((t.motion_ratio * t.force for t in traces), start=np.zeros(1)) / wheels
    return total


def wheel_rate_n_per_mm(traces: list[UnitTrace], wheels: int) -> Array:
    """Return vertical stiffness at each wheel; virtual work differentiated by travel."""
    terms = (t.motion_ratio * t.force_slope + t.force * t.ratio_slope for t in traces)
    total: Array = sum(terms, start=np.zeros(1)) / wheels
    return total


def changing_ratio_share_n_per_mm(traces: list[UnitTrace], wheels: int) -> Array:
    """Return the part of the wheel rate that comes from the changing ratio alone."""
    total: Array = sum((t.force * t.ratio_slope for t in traces), start=np.zeros(1)) / wheels
    return total


def wheel_trace(centre: int, spindle: int | None, solution: Solution) -> WheelTrace:
    """Return camber and toe from the spin axis; ISO 8855 inclination to the vertical."""
    place = solution.motion.place[:, centre]
    if spindle is None:
        nothing = np.full(place.shape[1], np.nan)
        return WheelTrace(nothing, nothing, place)
    axis = solution.motion.place[:, spindle] - place
    length = np.sqrt(dot(axis, axis))
    camber = -np.degrees(np.arcsin(np.clip(axis[2] / length, -1, 1)))
    toe = np.degrees(np.arctan2(axis[0], np.abs(axis[1])))
    return WheelTrace(camber, toe, place)
