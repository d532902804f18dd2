"""Solving a document that is still being worked on: nothing is stored."""

from dataclasses import asdict, replace
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.budget import Budget
from engine.document.read import check_project
from engine.findings import kinds
from engine.findings.brief import brief_of
from engine.findings.finding import FREQUENCY_HZ, RULES, Rules
from engine.findings.judge import judge
from engine.findings.sides import as_the_other_side
from engine.limits.rooms_by_point import rooms_by_point
from engine.linkage.linkage import Linkage
from engine.remedies.remedy import remedy_for
from engine.results.parts import spread_values
from engine.results.whole import across, beside_of
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import spread_of
from engine.ride.taped import USUAL_TAPE_MM
from engine.sentences import Sentence
from engine.workup import WorkUp
from server.answers import ActionRefused, Document, StationValues, answer
from server.running.following import key_of, tell
from server.running.turns import turn
from server.running.workers import away
from server.solving.asked import (
    MOST_SECONDS,
    beside_findings,
    checked,
    other_side,
    station_values,
    worked_station,
)
from server.solving.shapes import Column, FindingOut, LookIn, SentenceOut, SolveIn, StationView
from server.solving.vehicle import vehicle_view
from server.solving.view import articulated_view, sentence_values, station_view

router = Router(tags=["solving"])


@router.post("/solve", response=StationView, operation_id="solveStation")
def solve(request: HttpRequest, body: LookIn) -> HttpResponse:
    """Solve one station of a document as it stands."""
    with turn():
        work, rules = worked_station(body, body.rooms)
        view = station_view(work, rules, beside_findings(body, work, rules) if body.rooms else None)
    # Plain values go straight out: checking 100 rows of points again would cost more than solving them.
    return answer(view)


class ArticulatedIn(SolveIn):
    """How far the left wheel stands above the mean and the right one below it, mm."""

    articulation: float = Field(ge=-1000, le=1000)


class ArticulatedOut(Schema):
    """An axle articulated throughout its heave: points of the reached rows, and each unit's length, mm."""

    articulation: float
    travels: list[float]
    reached: list[bool]
    points: dict[str, list[list[float]]]
    lengths: dict[str, Column]


@router.post("/articulated", response=ArticulatedOut, operation_id="solveArticulated")
def articulated(request: HttpRequest, body: ArticulatedIn) -> HttpResponse:
    """Return where an axle's parts stand with one wheel up and the other down."""
    station = checked(body)[1]
    linkage = Linkage(station, f"stations[{body.station}]")
    if linkage.articulation() is None:
        raise ActionRefused(
            422, "no_articulation", "Only an axle on no more links than it can articulate on does so."
        )
    return answer(articulated_view(linkage, body.articulation))


class RemedyIn(SolveIn):
    """Which finding of the station is to be cleared."""

    code: str
    subjects: list[str]


class RemedyOut(Schema):
    """A change that was tried and clears the finding; `station` is the station with it made.

    ride_by : mm that it then stands higher; null where that is not known
    raises  : codes of the warnings that come with it, and `clears` of those that go too
    """

    what: SentenceOut
    station: StationValues
    ride_by: float | None
    raises: list[str]
    clears: list[str]


@router.post("/remedy", response=RemedyOut | None, operation_id="findRemedy")
def remedy(request: HttpRequest, body: RemedyIn) -> HttpResponse:
    """Return the smallest change that clears a finding, tried by solving again; null where no one number does."""
    work, rules = worked_station(body)
    solved = work.solved
    if body.code == kinds.SIDES_DIFFER.code:
        return answer(_mirrored(body, work, rules))
    other = other_side(body, work)
    findings = (*judge(solved, rules, work), *across(work, other, rules)[0])
    wanted = (body.code, tuple(body.subjects))
    finding = next((f for f in findings if (f.code, f.subjects) == wanted), None)
    found = None
    if finding is not None:
        beside = beside_of(work, other, rules)
        found = remedy_for(solved, findings, finding, rules, beside, Budget(MOST_SECONDS))
    if found is None:
        return answer(None)
    return answer(
        {
            "what": sentence_values(found.what),
            "station": station_values(found.station, body),
            "ride_by": found.ride_by,
            "raises": found.raises,
            "clears": found.clears,
        }
    )


@router.get("/usual-limits", response=dict[str, float | list[float] | None], operation_id="readUsualLimits")
def usual_limits(request: HttpRequest, purpose: str = "") -> HttpResponse:
    """Return the workshop values that a job is judged by where it says nothing: keys of `judging`, for a purpose."""
    rules = replace(RULES, purpose=purpose if purpose in FREQUENCY_HZ else None)
    values = {key: value for key, value in asdict(rules).items() if key != "purpose"}
    return answer(values | {"frequency_hz": rules.frequencies, "peak_multiple": rules.peak})


def _mirrored(body: RemedyIn, work: WorkUp, rules: Rules) -> dict[str, Any] | None:
    """Return the station with its crooked points put where the other side's mirror image stands."""
    station, other = work.station, other_side(body, work)
    moved = {} if other is None else as_the_other_side(work.solved, other.solved, rules)
    if not moved or other is None:
        return None
    values = dict(body.document["stations"][body.station])
    values["points"] = {**values["points"], **moved}
    many = f"{len(moved)} points" if len(moved) > 1 else "{2}"
    words = f"Put {many} of {{0}} where the mirror image of {{1}} stands."
    names = (station.name, other.station.name, next(iter(moved)))
    told = {"what": sentence_values(Sentence(words, names=names)), "station": values}
    return told | {"ride_by": None, "raises": [], "clears": []}


class GapOut(Schema):
    """What it does to a gap between two parts, where that is narrowest: mm per mm."""

    one: str
    other: str
    by: float


class SensitivityOut(Schema):
    """What a millimetre at one point along one axis does: mm of ride travel, N/mm of wheel rate per mm.

    ratios by unit, per mm, at the same travel; gaps : of the nearest few, those that it changes
    """

    point: str
    axis: int
    ride: float
    rate: float
    ratios: dict[str, float]
    gaps: list[GapOut]


@router.post("/sensitivity", response=list[SensitivityOut], operation_id="listSensitivities")
def sensitivity(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what one millimetre at each bracket does, the strongest on ride height first."""
    work, _ = worked_station(body)
    found = sensitivities(work.solved)
    rooms = {(its.point, its.axis): its.rooms for its in rooms_by_point(work.solved, work.clearances)}
    return answer(
        [
            {
                "point": s.point,
                "axis": s.axis,
                "ride": s.ride_mm,
                "rate": s.rate,
                "ratios": s.ratios,
                "gaps": [
                    {"one": one, "other": other, "by": by}
                    for (one, other), by in rooms.get((s.point, s.axis), {}).items()
                ],
            }
            for s in found
        ]
    )


Span = Annotated[list[float], Field(min_length=3, max_length=3)]


class LeftOut(Schema):
    """What is left of a damper at full bump and at full droop, mm: [5 %, middle, 95 %] each."""

    bump: Span
    droop: Span


class WheelSpreadOut(Schema):
    """A wheel's own angles, [5 %, middle, 95 %] each: degrees in 25 mm, and mm over the tyre."""

    bump_steer: Span
    rim_mm: Span | None
    camber_gain: Span


class AxisSpreadOut(Schema):
    """The steering axis, [5 %, middle, 95 %] each: degrees and mm."""

    caster: Span
    kingpin: Span
    scrub: Span
    trail: Span


class GapSpreadOut(Schema):
    """How far two parts stay apart, [5 %, middle, 95 %] mm."""

    one: str
    other: str
    distance: Span


class EndSpreadOut(Schema):
    """At what travel a unit's event comes on a way, [5 %, middle, 95 %] mm."""

    way: str
    kind: str
    unit: str
    travel: Span


class SpreadOut(Schema):
    """What the tape leaves open, [5 %, middle, 95 %] of `geometries` as they may truly be; null where none stands.

    standing : the share of them that stands on its weight somewhere in the travel
    ride_travel mm, wheel_rate N/mm, frequency Hz, motion_ratios by unit where it stands; datum its height there, mm
    gaps     : the nearest few
    hard_first : by way, the share in which a hard end comes before every soft one
    tape     : the standard error of a co-ordinate that has none of its own, mm
    """

    geometries: int
    standing: float
    ride_travel: Span | None
    wheel_rate: Span | None
    frequency: Span | None
    motion_ratios: dict[str, Span]
    damper_left: dict[str, LeftOut]
    datum: Span | None
    wheel_angles: dict[str, WheelSpreadOut]
    steering_axis: AxisSpreadOut | None
    gaps: list[GapSpreadOut]
    ends: list[EndSpreadOut]
    hard_first: dict[str, float]
    tape: float


@router.post("/spread", response=SpreadOut, operation_id="spreadOfTape")
def spread(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return between what every result lies, for what is known of the places."""
    return answer(away(spread_out, body.model_dump(), key=key_of(request)))


def spread_out(values: dict[str, Any]) -> dict[str, Any]:
    """Return the intervals of a station, asked for in plain values."""
    work, _ = worked_station(SolveIn.model_validate(values))
    known = work.station.uncertainty
    tape = USUAL_TAPE_MM if known is None else known.tape
    its = spread_of(
        work.solved,
        settings.INTERVAL_GEOMETRIES,
        tell=tell,
        clearances=work.clearances,
        ledger=work.ledger,
    )
    return {**spread_values(its), "tape": tape}


class VehicleIn(Schema):
    """A whole document."""

    document: Document


class StationRollOut(Schema):
    """A station's part in roll: N·m per degree, mm; `by_base` with each spring 10 mm further out.

    bar : what of the stiffness is its anti-roll bar's; one_wheel : N/mm at a wheel that rises alone, null for an axle
    """

    station: str
    stiffness: float
    track: float
    roll_centre: float | None
    spring_base: float | None
    by_base: float | None
    bar: float
    one_wheel: float | None


class VehicleOut(Schema):
    """The vehicle in roll: degrees per g, share, mm, kg, N·m per degree; null without a centre of gravity."""

    gradient: float | None
    front_share: float | None
    arm: float | None
    sprung_mass: float | None
    wanted_bar: float | None
    spare: float | None
    stations: list[StationRollOut]
    findings: list[FindingOut]
    faults: list[str]


@router.post("/vehicle", response=VehicleOut, operation_id="solveVehicle")
def vehicle(request: HttpRequest, body: VehicleIn) -> HttpResponse:
    """Return how the whole vehicle leans, and what each station gives to it."""
    return answer(vehicle_view(check_project(body.document)))


class BriefOut(Schema):
    """What the job is to carry and how it is to ride, and whether enough is said of it."""

    mark: str
    said: SentenceOut


@router.post("/brief", response=BriefOut, operation_id="readBrief")
def brief(request: HttpRequest, body: VehicleIn) -> HttpResponse:
    """Return the whole job in one sentence."""
    mark, said = brief_of(check_project(body.document))
    return answer({"mark": mark, "said": sentence_values(said)})
