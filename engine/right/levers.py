"""Everything that can be changed on a station, and what of it is held."""

from engine.document.check_work import split_name
from engine.document.schema import Project, Station
from engine.document.work import RIDE, TRAVEL, Work
from engine.facts import facts
from engine.results.whole import WorkedStation
from engine.right.lever import Lever
from engine.right.parts import part_levers
from engine.right.places import place_levers
from engine.right.stock import Shelf
from engine.right.wishes import wish_levers


@facts
class Held:
    """What of a station stays as it is: names, and `ride` where it stands."""

    names: frozenset[str] = frozenset()
    ride: bool = False


def held_of(project: Project, station: Station) -> Held:
    """Return what is held of a station."""
    names: set[str] = set()
    stations = {one.name: one for one in project.stations}
    for name in (project.work or Work()).held:
        found = split_name(stations, name)
        if name in (TRAVEL, RIDE):
            names.add(name)
        elif found is not None and found[0].name == station.name:
            names.add(found[1])
    return Held(names=frozenset(names - {RIDE}), ride=RIDE in names)


def levers_of(project: Project, worked: WorkedStation, shelf: Shelf, sides: int) -> tuple[Lever, ...]:
    """Return a station's levers that have a setting, what is held among them, in an order that never differs.

    sides : how often the whole of it is done, on a vehicle whose other side is alike
    """
    station = worked.work.station
    state = (project.work or Work()).state

    def state_of(name: str) -> str:
        return state.get(f"{station.name}/{name}", "drawn")

    inches = project.sizes == "inch"
    made = [
        *part_levers(worked.work.solved, worked.rules, worked.findings, shelf, inches),
        *place_levers(worked.work.solved, worked.findings, state_of),
        *wish_levers(station),
    ]
    by_name: dict[str, Lever] = {}
    for one in made:
        lever = _there(one, shelf, one.sides * sides) if one.key == "shelf" else one
        if lever.values:
            all_of = lever.of | _changed_by(station, lever)
            by_name.setdefault(
                lever.name, Lever(**{**vars(lever), "sides": lever.sides * sides, "of": all_of})
            )
    return tuple(by_name.values())


def _there(lever: Lever, shelf: Shelf, needed: int) -> Lever:
    """Return a lever with only those parts of the shelf of which there are as many as it takes."""
    enough = tuple(part for part in lever.values if shelf.counts.get(part.name, needed) >= needed)
    return Lever(**{**vars(lever), "values": enough})


def _changed_by(station: Station, lever: Lever) -> frozenset[str]:
    """Return everything that a lever alters, by trying it: a body is another one when a point of it stands elsewhere."""
    after = lever.change(station, lever.values[0])
    points = {name for name, place in station.points.items() if after.points[name] != place}
    bodies = {body for body, its in station.bodies.items() if points & set(its)}
    before = {unit.name: unit for unit in station.units}
    units = {
        unit.name
        for unit in after.units
        if before.get(unit.name) is not unit and before.get(unit.name) != unit
    }
    links = {name for name in after.links if after.links[name] != station.links.get(name)}
    rods = {name for name in after.rods if after.rods[name] != station.rods.get(name)}
    return frozenset(points | bodies | units | links | rods)
