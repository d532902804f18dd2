"""What moving a mount along a line does: the station solved again at each step, both sides of an axle alike."""

from dataclasses import replace

import numpy as np

from engine.budget import Budget
from engine.document.mirror import images_of
from engine.errors import EngineError
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.roll import roll_of
from engine.sizing.places import NoPlacing
from engine.sizing.tried import Place, Tried, moved, tried
from engine.station.solved import SolvedStation

STEPS = 21
NO_TIME = "not worked out in the time there is: ask again with a smaller step"


@facts
class Step(Tried):
    """A mount moved by so much: mm; None where it cannot be put together or stands nowhere.

    ratio of the unit at ride (per wheel); roll N·m per degree of the station
    """

    by: float
    place: Place
    ratio: float | None = None
    roll: float | None = None


def slide(
    solved: SolvedStation,
    unit_name: str,
    end: str,
    way: Array,
    distances: list[float],
    both: bool = False,
    budget: Budget | None = None,
) -> tuple[Step, ...]:
    """Return what a unit's end does when moved along a direction (3,) by distances (mm); `both` ends go together.

    budget : the nearest come first; those beyond it say that there was no time for them
    """
    station = solved.station
    unit = next((one for one in station.units if one.name == unit_name), None)
    if unit is None or end not in unit.ends:
        raise NoPlacing(unit_name, f'"{end}" is no end of it.')
    size = float(np.linalg.norm(way))
    if size < 1e-9:
        raise NoPlacing(unit_name, "the line to slide along has no direction.")
    ends = list(unit.ends) if both else [end]
    along = np.asarray(way) / size
    steps = {}
    for by in sorted(distances, key=abs):
        if budget is not None and budget.spent:
            place = (np.array(station.points[end]) + along * by).tolist()
            steps[by] = Step(by=by, place=place, fault=NO_TIME)
        else:
            steps[by] = _slid_by(solved, unit_name, ends, end, along, by)
    return tuple(steps[by] for by in distances)


def _slid_by(solved: SolvedStation, unit: str, ends: list[str], end: str, way: Array, by: float) -> Step:
    station = solved.station
    points = {name: (np.array(station.points[name]) + way * by).tolist() for name in ends}
    place = points[end]
    try:
        again = moved(solved, {**points, **images_of(station, points)}, STEPS)
    except EngineError as error:
        return Step(by=by, place=place, fault=str(error).splitlines()[0])
    step = Step(**vars(tried(again, unit)), by=by, place=place)
    if again.at_ride is None:
        return step
    roll = roll_of(again)
    ratio = float(again.at_ride.units[unit].motion_ratio[0])
    return replace(step, ratio=ratio, roll=None if roll is None else roll.stiffness)
