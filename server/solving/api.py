"""Solving a document that is still being worked on: nothing is stored."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.document.changes import changes_between
from engine.document.read import check_project
from engine.document.schema import Project, Station
from engine.findings.finding import Rules, rules_of
from engine.findings.judge import judge
from engine.findings.remedies import remedy_for
from engine.linkage.linkage import Linkage
from engine.ride.sensitivity import sensitivities
from engine.sizing.springs import ShelfCoil, spring_options
from engine.station import SolvedStation, solve_station
from server.config.answers import ActionRefused, Refusal, answer
from server.parts.models import Part
from server.solving.vehicle import vehicle_view
from server.solving.view import articulated_view, sentence_values, station_view

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


class EventOut(Schema):
    """Something that happens on the way: mm of travel, kind, what it belongs to, mm past the wanted end."""

    travel: float
    kind: str
    subject: str | None
    past_wanted: float


class LedgerOut(Schema):
    """Events each way, first met first."""

    bump: list[EventOut]
    droop: list[EventOut]


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


class BagStateOut(Schema):
    """One bag in one state (bump, ride, droop, lift, aired_out): mm, mm, bar gauge, N."""

    bag: str
    state: str
    travel: float
    height: float
    pressure: float
    force: float


class BagsOut(Schema):
    """How the bags were filled; pressure_wanted (bar) would carry the weight where it is wanted to stand."""

    filled_at_ride: bool
    pressure_wanted: float | None
    states: list[BagStateOut]


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
    ledger: LedgerOut
    articulation: float | None
    complete: bool
    spring_rates: dict[str, list[float | None]]
    bags: BagsOut | None
    verdict: SentenceOut
    links: dict[str, LinkOut]


class SolveIn(Schema):
    """A whole document, and which of its stations to solve."""

    document: dict[str, Any]
    station: int


class LookIn(SolveIn):
    """The same; `rooms` asks for clearances too, the slowest part."""

    rooms: bool = True


@router.post("/solve", response={200: StationView, 422: Refusal}, operation_id="solveStation")
def solve(request: HttpRequest, body: LookIn) -> HttpResponse:
    """Solve one station of a document as it stands."""
    # Plain values go straight out: checking 100 rows of points again would cost more than solving them.
    solved, rules = _station(body)
    return answer(station_view(solved, rules, body.rooms))


def _checked(body: SolveIn) -> tuple[Project, Station]:
    project = check_project(body.document)
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    return project, project.stations[body.station]


def _station(body: SolveIn) -> tuple[SolvedStation, Rules]:
    project, station = _checked(body)
    return solve_station(station, f"stations[{body.station}]", STEPS), rules_of(
        project.judging, station.judging
    )


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


@router.post("/articulated", response={200: ArticulatedOut, 422: Refusal}, operation_id="solveArticulated")
def articulated(request: HttpRequest, body: ArticulatedIn) -> HttpResponse:
    """Return where an axle's parts stand with one wheel up and the other down."""
    station = _checked(body)[1]
    linkage = Linkage(station, f"stations[{body.station}]")
    if linkage.articulation() is None:
        raise ActionRefused(
            422, "no_articulation", "Only an axle on no more links than it can articulate on does so."
        )
    return answer(articulated_view(linkage, body.articulation))


class RemedyIn(SolveIn):
    """Which finding of the station is to be cleared."""

    code: str
    subject: str | None


class RemedyOut(Schema):
    """A change that was tried and clears the finding; `station` is the station with it made."""

    what: SentenceOut
    station: dict[str, Any]


@router.post("/remedy", response={200: RemedyOut | None, 422: Refusal}, operation_id="findRemedy")
def remedy(request: HttpRequest, body: RemedyIn) -> HttpResponse:
    """Return the smallest change that clears a finding, tried by solving again; null where no one number does."""
    solved, rules = _station(body)
    findings = judge(solved, rules)
    finding = next((f for f in findings if (f.code, f.subject) == (body.code, body.subject)), None)
    found = None
    if finding is not None:
        found = remedy_for(solved.station, solved, findings, finding, rules)
    if found is None:
        return answer(None)
    return answer({"what": sentence_values(found.what), "station": found.values})


class FittedOut(Schema):
    """What a coilover would carry: its springs as in the project file, and its preload, mm."""

    springs: list[dict[str, Any]]
    preload: float


class SpringOut(Schema):
    """One coil and what it would do: N/mm, mm, N/mm, Hz, mm, mm; `name` and `stock` of one on the shelf."""

    name: str | None
    stock: int | None
    rate: float
    units: dict[str, FittedOut]
    ride: float | None
    wheel_rate: float | None
    frequency: float | None
    coil_left: float
    seat_left: float
    inside: bool | None
    now: bool


class SpringsOut(Schema):
    """Springs side by side, and the frequencies that are wanted (Hz), if the job says."""

    options: list[SpringOut]
    wanted: list[float] | None
    purpose: str | None


@router.post("/springs", response={200: SpringsOut, 422: Refusal}, operation_id="listSprings")
def springs(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return what generic rates and the shelf's coils would do, preloaded to stand where it is wanted."""
    solved, rules = _station(body)
    coils = {part.name: part for part in Part.objects.filter(owner=request.user, kind="coil")}
    shelf = tuple(
        ShelfCoil(
            name, part.values["rate_n_per_mm"], part.values["free_length_mm"], part.values["solid_length_mm"]
        )
        for name, part in coils.items()
    )
    options = [
        {
            **{key: getattr(option, key) for key in SPRING_KEYS},
            "stock": coils[option.name].stock if option.name else None,
            "units": {
                name: {"springs": [s.model_dump(exclude_unset=True) for s in its], "preload": preload}
                for name, (its, preload) in option.fitted.items()
            },
        }
        for option in spring_options(solved, rules, shelf=shelf)
    ]
    band = rules.frequencies
    return answer(
        {"options": options, "wanted": None if band is None else list(band), "purpose": rules.purpose}
    )


SPRING_KEYS = ("name", "rate", "ride", "wheel_rate", "frequency", "coil_left", "seat_left", "inside", "now")


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
    found = sensitivities(_station(body)[0])
    return answer(
        [
            {"point": s.point, "axis": s.axis, "ride": s.ride_mm, "rate": s.rate, "ratios": s.ratios}
            for s in found
        ]
    )


class VehicleIn(Schema):
    """A whole document."""

    document: dict[str, Any]


class StationRollOut(Schema):
    """A station's part in roll: N·m per degree, mm; `by_base` with each spring 10 mm further out."""

    station: str
    stiffness: float
    track: float
    roll_centre: float | None
    spring_base: float | None
    by_base: float | None


class VehicleOut(Schema):
    """The vehicle in roll: degrees per g, share, mm, kg, N·m per degree; null without a centre of gravity."""

    gradient: float | None
    front_share: float | None
    arm: float | None
    sprung_mass: float | None
    wanted_bar: float | None
    stations: list[StationRollOut]
    findings: list[FindingOut]
    faults: list[str]


@router.post("/vehicle", response={200: VehicleOut, 422: Refusal}, operation_id="solveVehicle")
def vehicle(request: HttpRequest, body: VehicleIn) -> HttpResponse:
    """Return how the whole vehicle leans, and what each station gives to it."""
    return answer(vehicle_view(check_project(body.document)))


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
