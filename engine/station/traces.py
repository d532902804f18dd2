"""What the units and the wheels do at solved positions."""

import numpy as np

from engine.facts import facts
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array, dot


@facts
class UnitTrace:
    """One unit over the positions: each (positions,).

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


@facts
class WheelTrace:
    """One wheel over the positions: degrees, and its centre (3, positions) in mm.

    camber : top out is positive; toe : front in is positive; NaN without a spindle point
    """

    camber: Array
    toe: Array
    centre: Array


def squeezed(pairs: np.ndarray, solution: Solution) -> tuple[Array, Array, Array]:
    """Return pairs of points' distances at solved positions, their ratios and the ratios' slopes, each (pairs, positions).

    pairs   : (pairs, 2) point numbers
    returns : mm; mm/mm, shortening; 1/mm
    """
    motion, (one, other) = solution.motion, pairs.T
    gap = motion.place[:, one] - motion.place[:, other]
    speed = motion.first[:, one] - motion.first[:, other]
    bend = motion.second[:, one] - motion.second[:, other]
    length = np.sqrt(dot(gap, gap))
    first = dot(gap, speed) / length
    second = (dot(speed, speed) + dot(gap, bend) - first**2) / length
    return length, -first, -second


def wheel_trace(centre: int, spindle: int | None, solution: Solution) -> WheelTrace:
    """Return camber and toe from the spin axis; ISO 8855 inclination to the vertical."""
    place = solution.motion.place[:, centre]
    if spindle is None:
        nothing = np.full(place.shape[1], np.nan)
        return WheelTrace(camber=nothing, toe=nothing, centre=place)
    axis = solution.motion.place[:, spindle] - place
    length = np.sqrt(dot(axis, axis))
    camber = -np.degrees(np.arcsin(np.clip(axis[2] / length, -1, 1)))
    toe = np.degrees(np.arctan2(axis[0], np.abs(axis[1])))
    return WheelTrace(camber=camber, toe=toe, centre=place)
