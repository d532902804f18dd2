"""What moving a mount along a line does: the station solved again at each step, both sides of an axle alike."""

from dataclasses import dataclass

import numpy as np

from engine.budget import Budget
from engine.document.mirror import images_of
from engine.document.schema import Coilover, Damper
from engine.errors import EngineError
from engine.forces.units import damper_ends_mm
from engine.linkage.vectors import Array
from engine.ride.roll import roll_of
from engine.sizing.places import NoPlacing
from engine.station.solved import SolvedStation, solve_station

STEPS = 21
NO_TIME = "not worked out in the time there is: ask again with a smaller step"


@dataclass(frozen=True, kw_only=True)
class Step:
    """A mount moved by so much: mm; None where it cannot be put together or stands nowhere.

    ratio of the unit at ride (per wheel); wheel_rate N/mm; frequency Hz; roll N·m per degree of the station
    left_in_bump, left_in_droop : mm of damper
    """

    by: float
    place: list[float]
    ride: float | None = None
    ratio: float | None = None
    wheel_rate: float | None = None
    frequency: float | None = None
    roll: float | None = None
    left_in_bump: float | None = None
    left_in_droop: float | None = None
    fault: str | None = None


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
            steps[by] = _step(solved, unit_name, ends, end, along, by)
    return tuple(steps[by] for by in distances)


def _step(solved: SolvedStation, unit: str, ends: list[str], end: str, way: Array, by: float) -> Step:
    station = solved.station
    points = {name: (np.array(station.points[name]) + way * by).tolist() for name in ends}
    moved = {**points, **images_of(station, points)}
    place = points[end]
    try:
        again = solve_station(
            station.model_copy(update={"points": {**station.points, **moved}}), solved.linkage.path, STEPS
        )
    except EngineError as error:
        return Step(by=by, place=place, fault=str(error).splitlines()[0])
    part = next(one for one in station.units if one.name == unit)
    bump = droop = None
    if isinstance(part, Coilover | Damper) and again.reached.any():
        lengths = again.taken.units[unit].length
        extended, compressed = damper_ends_mm(part)
        bump, droop = float(lengths.min()) - compressed, extended - float(lengths.max())
    if again.ride is None or again.at_ride is None:
        return Step(by=by, place=place, left_in_bump=bump, left_in_droop=droop, fault=str(again.ride_fault))
    roll = roll_of(again)
    return Step(
        by=by,
        place=place,
        ride=again.ride.travel,
        ratio=float(again.at_ride.units[unit].motion_ratio[0]),
        wheel_rate=again.ride.wheel_rate,
        frequency=again.ride.frequency,
        roll=None if roll is None else roll.stiffness,
        left_in_bump=bump,
        left_in_droop=droop,
    )
