"""Solving a document that is still being worked on: nothing is stored."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.changes import changes_between
from engine.document.read import check_project
from engine.ride.sensitivity import sensitivities
from engine.station import SolvedStation, solve_station
from server.config.answers import ActionRefused, Refusal, answer
from server.solving.view import station_view

router = Router(tags=["solving"])
STEPS = 61

Column = list[float | None]


class QuantityOut(Schema):
    """A number and what it measures: length, travel, force, rate, angle, mass, frequency, ratio, share."""

    value: float
    measures: str


class SentenceOut(Schema):
    """Words with {places} for quantities."""

    words: str
    quantities: dict[str, QuantityOut]


class FindingOut(Schema):
    """One judgement; mark is good, warning or fault; travel in mm is where it happens."""

    code: str
    mark: str
    subject: str | None
    what: SentenceOut
    why: str
    remedy: SentenceOut | None
    travel: float | None


class UnitOut(Schema):
    """A unit over the travels: mm, mm/mm, N, and for a bag its gauge pressure in bar."""

    length: Column
    motion_ratio: Column
    force: Column
    pressure: Column | None


class WheelOut(Schema):
    """A wheel over the travels, degrees."""

    camber: Column
    toe: Column


class AngleOut(Schema):
    """An angle at a rocker's joint over the travels, degrees."""

    rod: str
    rocker: str
    is_unit: bool
    point: str
    angle: Column
    at_ride: float | None


class RideUnit(Schema):
    """A unit at ride height."""

    length: float | None
    motion_ratio: float | None
    force: float | None


class RideWheel(Schema):
    """A wheel at ride height, degrees."""

    camber: float | None
    toe: float | None


class RideOut(Schema):
    """Where it stands: mm, N/mm, Hz."""

    travel: float
    wheel_rate: float
    rate_from_ratio: float
    frequency: float
    sag: float
    units: dict[str, RideUnit]
    wheels: dict[str, RideWheel]


class LimitOut(Schema):
    """What ends the travel, mm."""

    direction: str
    travel: float
    kind: str
    unit: str | None
    body: str | None


class StrokeOut(Schema):
    """A damper's stroke, mm."""

    stroke: float
    used: float
    left_in_bump: float
    left_in_droop: float


class LinkOut(Schema):
    """A link's lengths, centre to centre, mm."""

    drawn: float
    length: float


class BagsOut(Schema):
    """How the bags were filled; pressure_wanted (bar) would carry the weight where it is wanted to stand."""

    filled_at_ride: bool
    pressure_wanted: float | None


class StationView(Schema):
    """One solved station; points hold only the reached rows."""

    travels: list[float]
    reached: list[bool]
    points: dict[str, list[list[float]]]
    units: dict[str, UnitOut]
    wheel_force: Column
    wheel_rate: Column
    rate_from_ratio: Column
    wheels: dict[str, WheelOut]
    angles: list[AngleOut]
    ride: RideOut | None
    ride_fault: SentenceOut | None
    weight: float
    limits: list[LimitOut]
    strokes: dict[str, StrokeOut]
    preload_left: dict[str, float]
    findings: list[FindingOut]
    bags: BagsOut | None
    verdict: SentenceOut
    links: dict[str, LinkOut]


class SolveIn(Schema):
    """A whole document, and which of its stations to solve."""

    document: dict[str, Any]
    station: int


@router.post("/solve", response={200: StationView, 422: Refusal}, operation_id="solveStation")
def solve(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Solve one station of a document as it stands."""
    # Plain values go straight out: checking 100 rows of points again would cost more than solving them.
    return answer(station_view(_station(body)))


def _station(body: SolveIn) -> SolvedStation:
    project = check_project(body.document)
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    return solve_station(project.stations[body.station], f"stations[{body.station}]", STEPS)


class SensitivityOut(Schema):
    """What a millimetre at one point along one axis does: mm of ride height and N/mm of wheel rate per mm."""

    point: str
    axis: int
    ride: float
    rate: float
    ratios: dict[str, float]


@router.post(
    "/sensitivity", response={200: list[SensitivityOut], 422: Refusal}, operation_id="listSensitivities"
)
def sensitivity(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what one millimetre at each bracket does, the strongest on ride height first."""
    found = sensitivities(_station(body))
    return answer(
        [
            {"point": s.point, "axis": s.axis, "ride": s.ride_mm, "rate": s.rate, "ratios": s.ratios}
            for s in found
        ]
    )


class Change(Schema):
    """One difference between two documents; numbers with what they measure."""

    station: str
    what: str
    subject: str
    before: Any
    after: Any
    measures: str | None


class TwoDocuments(Schema):
    """Two documents to compare; either may be unsaved."""

    before: dict[str, Any]
    after: dict[str, Any]


@router.post("/changes", response=list[Change], operation_id="listChanges")
def changes(request: HttpRequest, body: TwoDocuments) -> list[dict[str, Any]]:
    """Return what differs between two documents."""
    check_project(body.before)
    check_project(body.after)
    return changes_between(body.before, body.after)
