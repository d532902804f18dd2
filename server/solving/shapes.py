"""What the solving and sizing endpoints take and give: every number with its unit."""

from ninja import Schema
from pydantic import PrivateAttr

from engine.document.coming import with_finished_masses
from engine.document.read import check_project
from engine.document.schema import Project
from server.answers import Document

Column = list[float | None]


class QuantityOut(Schema):
    """A number and what it measures: length, travel, force, rate, angle, mass, frequency, ratio, share."""

    value: float
    measures: str


class SentenceOut(Schema):
    """Words with {places} for quantities, and {0}, {1} … for names of the file, which are never part of the words."""

    words: str
    quantities: dict[str, QuantityOut]
    names: list[str]


class FindingOut(Schema):
    """One judgement; mark is good, warning or fault; travel in mm is where it happens.

    sheets : where it is shown besides Layout; `rooms` if it comes with the clearances
    end    : which end of the travel it tells of, and whether it `leads` what is said of it
    """

    code: str
    mark: str
    subjects: list[str]
    sheets: list[str]
    rooms: bool
    end: str | None
    leads: bool
    what: SentenceOut
    why: str
    remedy: SentenceOut | None
    travel: float | None


class EventOut(Schema):
    """Something that happens on the way: mm of travel, kind, what it belongs to, mm past the wanted end.

    said  : what is said of it after its subject's name; `short` stands alone
    takes : soft, hard or told; `spent` where a soft stop has given all it can
    """

    travel: float
    kind: str
    said: str
    short: str
    takes: str
    spent: bool
    subjects: list[str]
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


class DatumOut(Schema):
    """Ride height at the named place: mm above the floor where it stands, where it should, and as drawn."""

    name: str
    drawn: float
    wanted: float
    stands: float | None


class LimitOut(Schema):
    """What ends the travel, mm."""

    direction: str
    travel: float
    kind: str
    unit: str | None
    body: str | None


class StrokeOut(Schema):
    """A damper's stroke, mm; at ride degrees between it and its moving eye's path, and the share of the path that squeezes it."""

    stroke: float
    used: float
    left_in_bump: float
    left_in_droop: float
    installed_angle: float | None
    path_share: float | None


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


class NearestOut(Schema):
    """Where two things come nearest: mm apart, at a travel and an articulation (mm), between two places (mm)."""

    one: str
    other: str
    distance: float
    travel: float
    articulation: float
    places: list[list[float]]


class CrossoverOut(Schema):
    """Where a spring of a stack locks: its number from 0, mm end to end, N, N/mm before and after."""

    spring: int
    length: float
    force: float
    rate_before: float
    rate_after: float


class WheelAnglesOut(Schema):
    """A wheel where it stands: degrees; bump steer and camber gain in 25 mm; the steer over the tyre's diameter, mm."""

    toe: float
    camber: float
    bump_steer: float
    rim_mm: float | None
    camber_gain: float


class SteeringAxisOut(Schema):
    """The axis a corner's wheel steers about: degrees and mm."""

    lower: str
    upper: str
    caster: float
    kingpin: float
    scrub: float
    trail: float


class LockOut(Schema):
    """Both wheels at full lock, degrees, and the share of Ackermann."""

    inner: float
    outer: float
    ackermann: float | None


class AnglesOut(Schema):
    """What a station's wheels do by themselves; parts it has none of are left out."""

    wheels: dict[str, WheelAnglesOut] = {}
    steering_axis: SteeringAxisOut | None = None
    lock: LockOut | None = None


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
    wheel_angles: AnglesOut
    strokes: dict[str, StrokeOut]
    preload_left: dict[str, float]
    findings: list[FindingOut]
    ledger: LedgerOut
    articulation: float | None
    complete: bool
    spring_rates: dict[str, list[float | None]]
    nearest: list[NearestOut]
    crossovers: dict[str, list[CrossoverOut]]
    finished: float | None
    datum: DatumOut | None
    bags: BagsOut | None
    verdict: SentenceOut
    links: dict[str, LinkOut]


class SolveIn(Schema):
    """A whole document, and which of its stations to solve."""

    document: Document
    station: int
    _project: Project | None = PrivateAttr(default=None)

    @property
    def project(self) -> Project:
        """The document checked, masses of what is still to come in it; raises DocumentRefused."""
        if self._project is None:
            # The body was read by `read_json`, as every body is: its numbers are kept ones.
            self._project = with_finished_masses(check_project(self.document, numbers=False))
        return self._project


class LookIn(SolveIn):
    """The same; `rooms` asks for clearances too, the slowest part."""

    rooms: bool = True
