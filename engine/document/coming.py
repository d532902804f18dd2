"""Parts still to come: what each wheel will carry when they are on.

Share     what part of a part's mass a station carries, all of its wheels together.
Finished  a wheel's mass with everything fitted; one that was given by hand stands before the sum of the list.
"""

from collections.abc import Mapping
from typing import Any

from engine.document.pairs import paired
from engine.document.schema import Project, Station


def wheels_of(station: Station) -> int:
    """Return how many wheels a station stands for: two for an axle and for a corner that is its own mirror image."""
    if station.kind == "axle":
        return 2
    return 2 if not station.single and station.other_side == "mirror" else 1


def coming_kg(project: Project, station: Station) -> float:
    """Return the mass still to come on each wheel of a station, kg."""
    name = station.variant_of or station.name  # a variant carries what the station it stands for does
    shared = sum(part.mass * part.carried.get(name, 0.0) for part in project.coming)
    return shared / wheels_of(station)


def finished_kg(project: Project, station: Station) -> float | None:
    """Return what a wheel of a station carries with everything fitted, kg; None where nothing says it."""
    more = coming_kg(project, station)
    if station.mass.finished is not None or more == 0:
        return station.mass.finished
    return round(station.mass.corner + more, 6)


def with_finished_masses(project: Project) -> Project:
    """Return the project with each station's finished mass filled in: the doors to solving ask for this, nobody else.

    What is handed back to a file goes through `as_given`. Corners that lie across from one another are a pair.
    """
    project = paired(project)
    return project.model_copy(update={"stations": [_finished(project, one) for one in project.stations]})


def as_given(station: Station, given: Mapping[str, Any]) -> dict[str, Any]:
    """Return a changed station as its file has it: a finished mass that was filled in is not its own.

    given : the station's own values in the file
    """
    values = station.model_dump(mode="json", exclude_unset=True)
    if given.get("mass", {}).get("finished") is None:
        values["mass"].pop("finished", None)
    if given.get("other_side", "mirror") in ("mirror", "alone"):
        # A pair that the file does not name is asked about, and named by whoever answers.
        values.pop("other_side", None)
        values |= {key: given[key] for key in ("other_side",) if key in given}
    return values


def _finished(project: Project, station: Station) -> Station:
    finished = finished_kg(project, station)
    if finished == station.mass.finished:
        return station
    return station.model_copy(update={"mass": station.mass.model_copy(update={"finished": finished})})
