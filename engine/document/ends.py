"""Which end of the vehicle each station is: as it was given, else by its place among all wheels."""

from engine.document.schema import Project, Station

APART_MM = 500.0  # wheels nearer together than this along the vehicle tell no end


def with_ends(project: Project) -> Project:
    """Return a project with each station's end filled in where its place tells it; one station alone tells nothing."""
    places = [_fore_aft(station) for station in project.stations]
    if not places or max(places) - min(places) < APART_MM:
        return project
    middle = (max(places) + min(places)) / 2
    return project.model_copy(
        update={"stations": [_with_end(station, middle) for station in project.stations]}
    )


def _with_end(station: Station, middle: float) -> Station:
    if station.end is not None:
        return station
    return station.model_copy(update={"end": "front" if _fore_aft(station) >= middle else "rear"})


def _fore_aft(station: Station) -> float:
    return sum(station.points[wheel.centre][0] for wheel in station.wheels) / len(station.wheels)
