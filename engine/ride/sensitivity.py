"""What one millimetre at each bracket does to ratio, rate and ride height: which points to measure twice.

Every point is moved half a millimetre each way along each axis, and all those geometries are solved as one
batch at the ride position. Ride height answers by dz = −(∂F_w/∂x)/K_w: the weight stays, so the wheel settles
until the force is made up again.
"""

from dataclasses import dataclass

import numpy as np

from engine.linkage.batch import sweep_batch
from engine.linkage.vectors import Array
from engine.station import SolvedStation

STEP_MM = 0.5
MARCH_ROWS = 5  # positions from drawn to ride; few, because only the last one is looked at


@dataclass(frozen=True)
class Sensitivity:
    """One point along one axis (0 fore–aft, 1 out, 2 up), per mm of its place.

    ride_mm : mm of ride travel per mm
    rate    : N/mm of wheel rate per mm
    ratios  : per unit, change of its motion ratio per mm
    """

    point: str
    axis: int
    ride_mm: float
    rate: float
    ratios: dict[str, float]


def sensitivities(solved: SolvedStation) -> tuple[Sensitivity, ...]:
    """Return what each point does along each axis, the strongest on ride height first; none without a ride."""
    if solved.ride is None:
        return ()
    linkage, ride = solved.linkage, solved.ride
    names = list(linkage.index)
    count = 3 * len(names)
    steps = (np.eye(count) * STEP_MM).reshape(count, len(names), 3)
    points = linkage.points + np.concatenate([steps, -steps])
    pairs = [(linkage.index[law.ends[0]], linkage.index[law.ends[1]]) for law in solved.laws]
    travels = np.unique(np.linspace(0.0, ride.travel, MARCH_ROWS))
    at = int(np.abs(travels - ride.travel).argmin())
    sweep = sweep_batch(linkage, points, travels, pairs)
    length, ratio, slope = (part[:, at] for part in (sweep.length, sweep.motion_ratio, sweep.ratio_slope))
    forces, rates = _at_the_wheel(solved, length, ratio, slope)
    d_force, d_rate, d_ratio = (_per_mm(values, count) for values in (forces, rates, ratio))
    found = [
        Sensitivity(
            point=name,
            axis=axis,
            ride_mm=float(-d_force[3 * k + axis] / ride.wheel_rate),
            rate=float(d_rate[3 * k + axis]),
            ratios={law.name: float(d_ratio[3 * k + axis, n]) for n, law in enumerate(solved.laws)},
        )
        for k, name in enumerate(names)
        for axis in range(3)
    ]
    known = [item for item in found if np.isfinite(item.ride_mm)]
    return tuple(sorted(known, key=lambda item: -abs(item.ride_mm)))


def _at_the_wheel(solved: SolvedStation, length: Array, ratio: Array, slope: Array) -> tuple[Array, Array]:
    """Return wheel force and wheel rate of every geometry, per wheel."""
    force, rate = np.zeros(len(length)), np.zeros(len(length))
    for n, law in enumerate(solved.laws):
        its_force, its_rate = law.at(length[:, n])
        force += ratio[:, n] * its_force
        rate += ratio[:, n] ** 2 * its_rate + its_force * slope[:, n]
    wheels = len(solved.station.wheels)
    return force / wheels, rate / wheels


def _per_mm(values: Array, count: int) -> Array:
    difference: Array = (values[:count] - values[count:]) / (2 * STEP_MM)
    return difference
