"""The station that a request asks about, checked and solved."""

from typing import Any

from engine.document.coming import as_given, with_finished_masses
from engine.document.read import check_project
from engine.document.schema import Project, Station
from engine.findings.finding import Finding, Rules, rules_of
from engine.results.whole import across, other_side_of
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp
from server.answers import ActionRefused
from server.solving.shapes import SolveIn

STEPS = 61
MOST_SECONDS = 4.0  # of processor time for one question: somebody waits for the answer


def checked(body: SolveIn) -> tuple[Project, Station]:
    """Return the document and the station asked about; raise DocumentRefused or ActionRefused."""
    project = with_finished_masses(check_project(body.document))
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    return project, project.stations[body.station]


def station_values(station: Station, body: SolveIn) -> dict[str, Any]:
    """Return a changed station as the document that was sent would hold it."""
    return as_given(station, body.document["stations"][body.station])


def solved_station(body: SolveIn) -> tuple[SolvedStation, Rules]:
    """Return the station solved, and the rules that it is judged by; raise the engine's refusals."""
    project, station = checked(body)
    rules = rules_of(project.judging, station.judging)
    return solve_station(station, f"stations[{body.station}]", STEPS), rules


def beside_findings(body: SolveIn, work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of the station beside its other side."""
    project, _ = checked(body)
    return across(work, other_side_of(project, body.station, work), rules)[0]
