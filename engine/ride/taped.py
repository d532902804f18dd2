"""Geometries as they may truly be, for what is known of the places; and the interval that their results make.

Error     of each co-ordinate, independent and normal, with the standard error given for its point.
Interval  the middle nine tenths of the results: from the 5th to the 95th in a hundred.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.station.solved import SolvedStation

SEED = 1  # the same file gives the same interval
USUAL_TAPE_MM = 1.0  # one standard error of a co-ordinate that nobody has said more of
LOW, HIGH = 5.0, 95.0


@facts(kw_only=False)
class Interval:
    """The middle nine tenths of a result, in the unit of the result itself."""

    low: float
    middle: float
    high: float


def interval_of(values: Array) -> Interval | None:
    """Return the interval of results, NaN those that are not known; None where none is."""
    known = values[np.isfinite(values)]
    if not len(known):
        return None
    low, middle, high = np.percentile(known, [LOW, 50.0, HIGH])
    return Interval(float(low), float(middle), float(high))


def taped(solved: SolvedStation, geometries: int) -> Array:
    """Return places as they may truly be, (geometries, points, 3) mm in the linkage's order."""
    station, linkage = solved.station, solved.linkage
    tape = USUAL_TAPE_MM if station.uncertainty is None else station.uncertainty.tape
    own = {} if station.uncertainty is None else station.uncertainty.points
    error = np.array([own.get(name, tape) for name in linkage.index])
    noise = np.random.default_rng(SEED).normal(size=(geometries, len(error), 3))
    points: Array = linkage.points + noise * error[:, None]
    return points
