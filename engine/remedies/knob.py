"""One number that can be turned at the bench, and how a station is changed by it.

Knob    a change of one size x (mm, degrees, bar, N/mm); x is 0 as it stands, and its sign may matter.
Lens    a copy of a station with one part of it changed; what is given stays as it was.
"""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from engine.document.schema import Coilover, Damper, Station
from engine.document.sides import image_of_unit
from engine.document.units import AnyUnit, SpringUnit
from engine.facts import facts
from engine.sentences import Sentence, length

Turn = Callable[[Station, float], Station]
Say = Callable[[float], Sentence]
EITHER = (1, -1)


@facts
class Knob:
    """One number to turn.

    turn   : a station and x to the station with it turned
    say    : x to the sentence that tells it
    step   : a first small x; `most` the largest that makes sense; `fine` what it is rounded to
    ways   : which signs of x may be tried
    """

    turn: Turn
    say: Say
    step: float
    most: float
    fine: float
    ways: tuple[int, ...] = EITHER


@facts
class Remedy:
    """A change that was tried and clears: what to say, the station with it made, and what else it does.

    ride_by : mm that it then stands higher at the wheel; None where it stood or stands nowhere
    raises  : codes of warnings that were not there before, and `clears` of those that go with it
    """

    what: Sentence
    station: Station
    ride_by: float | None = None
    raises: tuple[str, ...] = ()
    clears: tuple[str, ...] = ()

    @property
    def values(self) -> dict[str, Any]:
        """Return the station as the file has it, with only what was given."""
        return self.station.model_dump(mode="json", exclude_unset=True)


def unit_of(station: Station, name: str | None) -> AnyUnit | None:
    """Return the unit of a name, or None."""
    return next((unit for unit in station.units if unit.name == name), None)


def both_sides(station: Station, name: str) -> tuple[str, ...]:
    """Return a unit's name, and that of its mirror image on an axle."""
    image = image_of_unit(station, name)
    return (name,) if image is None else (name, image)


def with_units(station: Station, names: Iterable[str], change: Callable[[Any], dict[str, Any]]) -> Station:
    """Return the station with named units changed: `change` gives the fields of each that become others."""
    wanted = set(names)
    units = [unit.model_copy(update=change(unit)) if unit.name in wanted else unit for unit in station.units]
    return station.model_copy(update={"units": units})


def with_spring(unit: Coilover | SpringUnit, number: int, **fields: Any) -> dict[str, Any]:
    """Return the change of a unit in which one spring of its stack has other fields."""
    springs = list(unit.springs)
    springs[number] = springs[number].model_copy(update=fields)
    return {"springs": springs}


def with_points(station: Station, places: Mapping[str, Iterable[float]]) -> Station:
    """Return the station with points put elsewhere, mm."""
    moved = {name: [round(float(c), 4) for c in place] for name, place in places.items()}
    return station.model_copy(update={"points": {**station.points, **moved}})


def with_listed(station: Station, field: str, name: str, change: Callable[[Any], dict[str, Any]]) -> Station:
    """Return the station with one named part of a list of its own changed: joints, shafts, envelopes."""
    parts = [
        part.model_copy(update=change(part)) if part.name == name else part
        for part in getattr(station, field)
    ]
    return station.model_copy(update={field: parts})


def with_rods(station: Station, names: Iterable[str], change: Callable[[Any], dict[str, Any]]) -> Station:
    """Return the station with named rods made otherwise."""
    changed = {name: station.rods[name].model_copy(update=change(station.rods[name])) for name in names}
    return station.model_copy(update={"rods": {**station.rods, **changed}})


def dampers_of(station: Station) -> tuple[Coilover | Damper, ...]:
    """Return the station's dampers, with coils on them or without."""
    return tuple(unit for unit in station.units if isinstance(unit, Coilover | Damper))


def coils_of(station: Station) -> tuple[Coilover | SpringUnit, ...]:
    """Return what carries a coil stack, on a damper or by itself."""
    return tuple(unit for unit in station.units if isinstance(unit, Coilover | SpringUnit))


def either_way(more: str, less: str, *names: str) -> Say:
    """Return a sentence by the sign of x, with {by} its size in mm and {0}, {1} … names."""
    return lambda x: Sentence(more if x > 0 else less, {"by": length(abs(x))}, names)


def said(words: str, *names: str) -> Say:
    """Return a sentence that is the same either way, with {by} the size of x in mm."""
    return either_way(words, words, *names)


def unit_knob(
    station: Station,
    name: str,
    change: Callable[[Any, float], dict[str, Any]],
    words: tuple[str, str],
    most: float,
    ways: tuple[int, ...] = EITHER,
) -> Knob:
    """Return a knob on a unit, and on its mirror image on an axle; {0} of the words is its name.

    change : a unit and x to its fields that become others
    """
    names = both_sides(station, name)
    more, less = (w[:-1] + ", on both sides." if len(names) > 1 else w for w in words)

    def turn(station: Station, x: float) -> Station:
        return with_units(station, names, lambda unit: change(unit, x))

    return Knob(turn=turn, say=either_way(more, less, name), step=1.0, most=most, fine=0.1, ways=ways)


def added(value: float, x: float) -> float:
    """Return a number with x added, rounded as a file holds it."""
    return round(value + x, 6)
