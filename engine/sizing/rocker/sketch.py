"""A search in the time that a hand gives it: one small part, and the best few of it brought to their targets, not proved.

It is the search itself (`search`, `tuning`) with fewer rockers; what it shows is told by `moving`, which is exact. What it
leaves out is the general solver's proof and what is judged, and the seven eighths of the rockers that only a rest gives time for.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.refine import robustness, station_with
from engine.sizing.rocker.search import Found, different, looked_at, search_part
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.tuning import tune
from engine.sizing.rocker.wheel_side import WheelSide
from engine.station.solved import SolvedStation

COUNT = 8_192
TUNED, SHOWN = 8, 6
TRIES = 12


@facts
class Sketch:
    """One rocker as it would stand, mm by point; ratio (rows,) over the wheel side's travels; misses and traits by name.

    robust : how much of the ratio at ride 1 mm of error anywhere takes or gives, share
    """

    points: dict[str, list[float]]
    ratio: Array
    misses: dict[str, float]
    traits: dict[str, float]
    robust: float


@facts
class Glance:
    """What a small search finds: the rockers, how many of them fit, and the best as sketches."""

    found: Found
    fit: int
    sketches: tuple[Sketch, ...]


def glance(solved: SolvedStation, side: WheelSide, targets: Targets, count: int = COUNT) -> Glance:
    """Return what a search of `count` rockers finds, the best of them brought to their targets."""
    found, fit = search_part(side, targets, 0, count)
    if not len(found.score):
        return Glance(found=found, fit=fit, sketches=())
    tuned = tune(different(found, TUNED).choices, side, targets, tries=TRIES)
    best = different(looked_at(tuned, side, targets), SHOWN)
    rockers = rockers_from(best.choices, side, targets)
    ratio = move(rockers, side.path, side.rate).ratio
    sketches = []
    for k in range(len(best.score)):
        one = rockers.pick(np.array([k]))
        _, points = station_with(solved, side, one)
        sketches.append(
            Sketch(
                points=points,
                ratio=ratio[k],
                misses={name: float(values[k]) for name, values in best.misses.items()},
                traits={name: float(values[k]) for name, values in best.traits.items()},
                robust=robustness(one, side),
            )
        )
    return Glance(found=found, fit=fit, sketches=tuple(sketches))
