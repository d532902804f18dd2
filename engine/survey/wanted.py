"""What the user may want to know better, as slopes by the survey's places: figures of the job, or places themselves."""

import numpy as np

from engine.document.schema import Project
from engine.errors import EngineError
from engine.facts import facts
from engine.limits.rooms_by_point import rooms_by_point
from engine.ride.sensitivity import sensitivities
from engine.station.solved import solve_station
from engine.survey.adjust import Adjusted
from engine.survey.loose import said
from engine.survey.worth import Wanted, every_place, one_place
from engine.workup import WorkUp

FIGURES = ("ride height", "motion ratio", "tightest clearance")
STEPS = 21


@facts
class Aim:
    """What may be chosen: a figure of a station, a place of the survey, or everything."""

    figure: str
    of: str = ""

    @property
    def said(self) -> str:
        """Return how it is said: "ride height, Front left"."""
        of = said(self.of) if self.figure == "place" else self.of
        return f"{self.figure}, {of}" if of else self.figure


def aims_of(project: Project, adjusted: Adjusted) -> list[Aim]:
    """Return everything that may be chosen, figures first."""
    stations = [
        station.name
        for station in project.stations
        if any(f"{station.name}/{point}" in adjusted.network.index for point in station.points)
    ]
    figures = [Aim(figure=figure, of=name) for name in stations for figure in FIGURES]
    return [
        *figures,
        Aim(figure="every place"),
        *(Aim(figure="place", of=name) for name in adjusted.network.names),
    ]


def wanted_of(project: Project, adjusted: Adjusted, aim: Aim) -> Wanted | None:
    """Return an aim as slopes by the survey's places; None where it cannot be worked out or does not depend on them."""
    if aim.figure == "every place":
        return every_place(adjusted)
    if aim.figure == "place":
        return one_place(adjusted, aim.of) if aim.of in adjusted.network.index else None
    number = next((k for k, station in enumerate(project.stations) if station.name == aim.of), None)
    if number is None or aim.figure not in FIGURES:
        return None
    slopes = _figure_slopes(project, number, aim.figure)
    found = np.zeros((1, len(adjusted.network.names), 3))
    for (point, axis), slope in slopes.items():
        place = adjusted.network.index.get(f"{aim.of}/{point}")
        if place is not None:
            found[0, place, axis] = slope
    return Wanted(name=aim.said, slopes=found) if found.any() else None


def _figure_slopes(project: Project, number: int, figure: str) -> dict[tuple[str, int], float]:
    """Return a figure's change per mm of each point along each axis: mm/mm, or 1/mm of a ratio."""
    try:
        solved = solve_station(project.stations[number], f"stations[{number}]", STEPS)
    except EngineError:
        return {}
    if figure == "tightest clearance":
        clearances = WorkUp(solved).clearances
        if not clearances:
            return {}
        pair = clearances[0].one, clearances[0].other
        rooms = rooms_by_point(solved, clearances[:1])
        return {(room.point, room.axis): room.rooms[pair] for room in rooms if pair in room.rooms}
    known = sensitivities(solved)
    if figure == "ride height":
        return {(one.point, one.axis): one.ride_mm for one in known}
    unit = next((law.name for law in solved.springing.laws if law.springs), None)
    if unit is None:
        return {}
    return {(one.point, one.axis): one.ratios[unit] for one in known}
