"""A judgement, and the workshop values that it is made by."""

from dataclasses import dataclass, fields, replace
from typing import Any

from engine.document.fittings import LoadingCases
from engine.document.schema import Judging
from engine.findings.kinds import Kind
from engine.loads.cases import Loading, WheelPush
from engine.sentences import Sentence

Span = tuple[float, float]

FREQUENCY_HZ = {"road": (1.0, 1.6), "sport": (1.6, 2.2), "circuit": (2.2, 3.0), "rough": (0.8, 1.4)}
ROUGH = 1.5  # times the usual pothole, on rough ground
PEAK_MULTIPLE = {"road": 3.0, "sport": 3.0, "circuit": 3.0, "rough": 5.0}


@dataclass(frozen=True, kw_only=True)
class Rules:
    """Workshop values, each of which a shop may change; a pair is what is good and what is still allowed.

    purpose : road, sport, circuit or rough; None judges no frequency
    """

    purpose: str | None = None
    rod_square_good_deg: float = 5.0
    rod_square_warn_deg: float = 10.0
    rod_anywhere_good_deg: Span = (45.0, 135.0)
    rod_anywhere_warn_deg: Span = (25.0, 155.0)
    stroke_split_bump: float = 0.60
    stroke_split_slack: float = 0.10
    damper_left_mm: float = 5.0
    loose_preload_mm: float = 2.0
    coil_left_share: float = 0.10
    coil_left_mm: float = 3.0
    strap_before_damper_mm: float = 6.0
    frequency_hz: Span | None = None
    adjustment_share: float = 0.25
    tyre_structure_mm: Span = (25.0, 12.0)
    tyre_spring_mm: Span = (12.0, 6.0)
    clear_mm: Span = (6.0, 3.0)
    bag_clear_mm: Span = (12.0, 6.0)
    bag_plate_ride_deg: Span = (3.0, 5.0)
    bag_plate_travel_deg: Span = (10.0, 15.0)
    bag_pressure_share: Span = (0.30, 0.75)
    joint_spare_deg: float = 3.0
    thread_good_d: float = 1.5
    thread_warn_d: float = 1.0
    eye_square_deg: Span = (2.0, 5.0)
    sides_mm: Span = (2.0, 4.0)
    sides_deg: Span = (0.5, 1.0)
    strap_pull_deg: float = 30.0
    roll_gradient_deg_per_g: float = 6.0
    bump_steer_deg: Span = (0.15, 0.4)
    camber_gain_deg: Span = (-1.2, 0.1)
    caster_deg: Span = (2.0, 8.0)
    scrub_mm: Span = (-15.0, 60.0)
    ackermann_share: Span = (0.0, 1.2)
    pinion_deg: Span = (3.0, 6.0)
    mount_mm: float = 1.0
    peak_multiple: float | None = None
    cases: LoadingCases | None = None

    @property
    def frequencies(self) -> Span | None:
        """Return the frequencies wanted, Hz: the shop's own, or those of the purpose."""
        return self.frequency_hz or (FREQUENCY_HZ[self.purpose] if self.purpose else None)

    @property
    def peak(self) -> float:
        """Return the peak wheel load as a multiple of static: the shop's own, or that of the purpose."""
        return self.peak_multiple or PEAK_MULTIPLE.get(self.purpose or "road", 3.0)

    @property
    def loading(self) -> Loading:
        """Return the load cases: the shop's own over those of the purpose over the usual ones."""
        usual = Loading(bump=self.peak)
        if self.purpose == "rough":
            usual = replace(usual, pothole=usual.pothole.times(ROUGH))
        own = (
            {}
            if self.cases is None
            else {name: getattr(self.cases, name) for name in LoadingCases.model_fields}
        )
        given: dict[str, Any] = {
            name: its if isinstance(its, float) else WheelPush(its.up, its.along, its.across)
            for name, its in own.items()
            if its is not None
        }
        return replace(usual, **given)


RULES = Rules()


def rules_of(*given: Judging | None) -> Rules:
    """Return the usual rules with what is given in place of them, the later over the earlier."""
    rules = RULES
    for judging in given:
        if judging is not None:
            values = {f.name: getattr(judging, f.name) for f in fields(Rules)}
            known = {key: _plain(value) for key, value in values.items() if value is not None}
            rules = replace(rules, **known)
    return rules


def _plain(value: Any) -> Any:
    return tuple(value) if isinstance(value, list) else value


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One judgement. `travel_mm` is where it happens, for the Jack; `subjects` what it is about, by name.

    value, limit : the number judged and what it is judged by, in the file's units of what it `measures`
    push : for two things too near, the direction that moves the first of them away
    """

    kind: Kind
    mark: str
    what: Sentence
    subjects: tuple[str, ...] = ()
    why: str = ""
    remedy: Sentence | None = None
    travel_mm: float | None = None
    value: float | None = None
    limit: float | None = None
    measures: str | None = None
    push: tuple[float, float, float] | None = None

    @property
    def code(self) -> str:
        """Return the kind's stable code."""
        return self.kind.code

    @property
    def subject(self) -> str | None:
        """Return what it is about as one text, for a reader; nothing is to be read out of it again."""
        return " | ".join(self.subjects) or None
