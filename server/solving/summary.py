"""A document's stations in a few figures, for comparing revisions."""

from typing import Any

from engine.document.read import check_project
from engine.document.schema import Project
from engine.errors import EngineError
from engine.results.whole import work_project
from engine.station.solved import SolvedStation, solve_station

Values = dict[str, Any]


def document_summary(document: Values) -> list[Values]:
    """Return the figures of every station; a station that cannot be solved says why."""
    project = check_project(document)
    found = _found(project)
    told = [_summary(station.name, number, station) for number, station in enumerate(project.stations)]
    return [{**one, "figures": {**its, **one["figures"]}} for one, its in zip(told, found, strict=True)]


def _found(project: Project) -> list[dict[str, float | None]]:
    """Return how many faults and warnings each station has; nothing where one of them cannot be put together."""
    try:
        worked = work_project(project)
    except EngineError:
        return [{} for _ in project.stations]
    marks = [[finding.mark for finding in one.findings] for one in worked.stations]
    return [{"faults": float(its.count("fault")), "warnings": float(its.count("warning"))} for its in marks]


def _summary(name: str, number: int, station: Any) -> Values:
    try:
        solved = solve_station(station, f"stations[{number}]", steps=5)
    except EngineError as error:
        return {"station": name, "figures": {}, "fault": str(error)}
    fault = None if solved.ride_fault is None else str(solved.ride_fault)
    return {"station": name, "figures": _figures(solved), "fault": fault}


def _figures(solved: SolvedStation) -> dict[str, float | None]:
    figures: dict[str, float | None] = {}
    if solved.ride is not None and solved.at_ride is not None:
        figures |= {
            "ride_travel": round(solved.ride.travel, 4),
            "wheel_rate": round(solved.ride.wheel_rate, 5),
            "frequency": round(solved.ride.frequency, 5),
        }
        for name, trace in solved.at_ride.units.items():
            figures[f"motion_ratio:{name}"] = round(float(trace.motion_ratio[0]), 6)
    for limit in solved.limits:
        figures.setdefault(
            f"{limit.kind}:{limit.direction}:{limit.unit or limit.body}", round(limit.travel, 4)
        )
    return figures
