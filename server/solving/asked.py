"""The station that a request asks about, checked and solved."""

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from engine.document.coming import as_given
from engine.document.schema import Project, Station
from engine.findings.finding import Finding, Rules, rules_of
from engine.results.whole import across, other_side_of
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp
from server.answers import ActionRefused
from server.solving.shapes import SolveIn

STEPS = 61
KEPT = 24  # stations worked up that are kept at hand
MOST_SECONDS = 4.0  # of processor time for one question: somebody waits for the answer


def checked(body: SolveIn) -> tuple[Project, Station]:
    """Return the document and the station asked about; raise DocumentRefused or ActionRefused."""
    project = body.project
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    return project, project.stations[body.station]


def station_values(station: Station, body: SolveIn) -> dict[str, Any]:
    """Return a changed station as the document that was sent would hold it."""
    return as_given(station, body.document["stations"][body.station])


@dataclass(frozen=True, kw_only=True)
class _Asked:
    """All that a station's answers follow from; the station itself is only carried along."""

    json: str
    where: str
    steps: int
    station: Station = field(compare=False)


@lru_cache(maxsize=KEPT)
def _solved(asked: _Asked) -> SolvedStation:
    return solve_station(asked.station, asked.where, asked.steps)


@lru_cache(maxsize=KEPT)
def _worked(asked: _Asked, rooms: bool) -> WorkUp:
    # The clearances come second, to what was asked without them a moment before.
    return _worked(asked, False).with_rooms() if rooms else WorkUp(_solved(asked), rooms)


def worked_up(project: Project, number: int, steps: int = STEPS, rooms: bool = True) -> WorkUp:
    """Return a station worked up; raise the engine's refusals.

    What was asked a moment ago is at hand: the same station's findings, remedies and sweep, and its other side, which
    stays as it was while this one is moved.
    """
    station = project.stations[number]
    asked = _Asked(json=station.model_dump_json(), where=f"stations[{number}]", steps=steps, station=station)
    return _worked(asked, rooms)


def worked_station(body: SolveIn, rooms: bool = True) -> tuple[WorkUp, Rules]:
    """Return the station worked up, and the rules that it is judged by; raise the engine's refusals."""
    project, station = checked(body)
    return worked_up(project, body.station, rooms=rooms), rules_of(project.judging, station.judging)


def solved_station(body: SolveIn) -> tuple[SolvedStation, Rules]:
    """Return the station solved, and the rules that it is judged by; raise the engine's refusals."""
    work, rules = worked_station(body)
    return work.solved, rules


def other_side(body: SolveIn, work: WorkUp) -> WorkUp | None:
    """Return the other side of the station asked about; None where it stands alone."""
    project, _ = checked(body)
    return other_side_of(project, body.station, work, worked_up)


def beside_findings(body: SolveIn, work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of the station beside its other side."""
    return across(work, other_side(body, work), rules)[0]
