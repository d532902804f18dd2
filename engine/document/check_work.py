"""What no single value of the work's state can show: names of nothing, a body that is welded, a cost of no kind."""

from collections.abc import Iterator

from engine.document.schema import Project, Station
from engine.document.work import BODY_STATES, COST_KEYS, POINT_STATES, RATE, RIDE, TRAVEL, ChangeCost, Work
from engine.errors import Fault


def work_faults(project: Project) -> list[Fault]:
    """Return every fault of the work's state beside the job it belongs to."""
    work = project.work
    if work is None:
        return []
    stations = {station.name: station for station in project.stations}
    return [*_state_faults(work, stations), *_held_faults(work, stations), *_cost_faults(work)]


def split_name(stations: dict[str, Station], name: str) -> tuple[Station, str] | None:
    """Return the station and the rest of STATION/NAME, a station's own name with a stroke in it too; else None."""
    for at, sign in enumerate(name):
        if sign == "/" and name[:at] in stations:
            return stations[name[:at]], name[at + 1 :]
    return None


def _state_faults(work: Work, stations: dict[str, Station]) -> Iterator[Fault]:
    for name, state in work.state.items():
        at, found = f"work.state.{name}", split_name(stations, name)
        if found is None:
            yield Fault(at, _no_station(stations))
            continue
        station, its = found
        point, body = its in station.chassis, its in station.bodies
        if not point and not body:
            yield Fault(at, f'"{its}" is neither a chassis point nor a body of {station.name}')
        elif state not in (POINT_STATES if point else ()) and state not in (BODY_STATES if body else ()):
            allowed = POINT_STATES if point else BODY_STATES
            what = "a chassis point" if point else "a body"
            yield Fault(at, f"{what} is {' or '.join(allowed)}, got {state}")


def _held_faults(work: Work, stations: dict[str, Station]) -> Iterator[Fault]:
    for number, name in enumerate(work.held):
        at = f"work.held[{number}]"
        if name in (TRAVEL, RIDE):
            continue
        found = split_name(stations, name)
        if found is None:
            yield Fault(at, f'"{name}": {_no_station(stations)}, or "travel", or "ride"')
            continue
        station, its = found
        units = {unit.name for unit in station.units}
        if its not in {TRAVEL, RIDE, *station.points, *station.bodies, *units}:
            yield Fault(at, f'"{its}" is no point, body or unit of {station.name}, nor travel or ride')


def _cost_faults(work: Work) -> Iterator[Fault]:
    for key, cost in work.costs.items():
        at = f"work.costs.{key}"
        if key == RATE:
            if isinstance(cost, ChangeCost):
                yield Fault(at, "is money an hour: one number")
        elif key not in COST_KEYS:
            yield Fault(at, f"is no kind of change; give one of: {RATE}, {', '.join(COST_KEYS)}")
        elif not isinstance(cost, ChangeCost):
            yield Fault(at, 'takes hours, money and days, as { "hours": 5 }')


def _no_station(stations: dict[str, Station]) -> str:
    return f"begin with a station's name and a stroke: {', '.join(f'{name}/…' for name in stations)}"
