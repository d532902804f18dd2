"""What one millimetre at each bracket does to ratio, rate and ride height: which points to measure twice.

Every point is moved half a millimetre each way along each axis, and all those geometries are settled on the weight
as one batch, each with its own filling of its bags: half their difference is what a millimetre does.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.settled import settled, swept
from engine.station.solved import SolvedStation

STEP_MM = 0.5
MARCH_MM = 8.0  # how far apart the positions are that lead from drawn to ride and a little past it
PAST_MM = 6.0  # how far a geometry may settle from the station as drawn: twelve millimetres a millimetre


@facts
class Sensitivity:
    """One point along one axis (0 fore–aft, 1 out, 2 up), per mm of its place.

    ride_mm : mm of ride travel per mm
    rate    : N/mm of wheel rate per mm, at the same travel, not where it then settles
    ratios  : per unit, change of its motion ratio per mm, at the same travel
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
    linkage, ride = solved.linkage, solved.ride.travel
    names, laws = list(linkage.index), solved.springing.laws
    count = 3 * len(names)
    steps = (np.eye(count) * STEP_MM).reshape(count, len(names), 3)
    low, high = min(ride - PAST_MM, 0.0), max(ride + PAST_MM, 0.0)
    travels = np.linspace(low, high, int((high - low) / MARCH_MM) + 3)
    sweep = swept(solved, linkage.points + np.concatenate([steps, -steps]), travels)
    stood = settled(solved, sweep)
    here = sweep.at(np.full(2 * count, ride))
    rate = stood.springing.at_wheel(here).rate[:, 0]
    d_ride, d_rate = (_per_mm(values, count) for values in (stood.travel, rate))
    d_ratio = [_per_mm(values[:, 0], count) for values in here.ratio]
    found = [
        Sensitivity(
            point=name,
            axis=axis,
            ride_mm=float(d_ride[3 * k + axis]),
            rate=float(d_rate[3 * k + axis]),
            ratios={law.name: float(d_ratio[n][3 * k + axis]) for n, law in enumerate(laws)},
        )
        for k, name in enumerate(names)
        for axis in range(3)
    ]
    known = [item for item in found if np.isfinite(item.ride_mm)]
    # Like sides do the same to the last digits: rounded, so that they keep the order of the file.
    return tuple(sorted(known, key=lambda item: -round(abs(item.ride_mm), 6)))


def _per_mm(values: Array, count: int) -> Array:
    difference: Array = (values[:count] - values[count:]) / (2 * STEP_MM)
    return difference
