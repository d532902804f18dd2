"""What a study varies and wishes for, as it stands in its file.

Vary     places that move together within a box, and the spring rates that may be fitted, station by station.
Wishes   of the whole vehicle: frequencies, the front's share of the roll stiffness, one damper all round, few different springs,
         little harm from the tape.
"""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from engine.document.pairs import paired
from engine.document.read import check_project, in_sentences
from engine.document.schema import Coilover, Project, SpringUnit, Station
from engine.errors import DocumentRefused, Fault

MOST_BOX_MM = 200.0
MOST_RATES = 24


class Said(BaseModel):
    """Base of what a study says: a key that nobody knows is a slip."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Place(Said):
    """Points that move together: a rocker's two pivots, a mount by itself. box : mm each way, ahead, out and up."""

    points: list[str] = Field(min_length=1, max_length=12)
    box: tuple[float, float, float]


class Vary(Said):
    """What of one station may be otherwise. springs : N/mm that may be fitted; none leaves what is drawn.

    alike : the station on the other side, which is changed in mirror with it: the same moves, the same spring
    """

    station: str
    alike: str | None = None
    places: list[Place] = Field(default_factory=list, max_length=12)
    springs: list[float] = Field(default_factory=list, max_length=MOST_RATES)


class OneDamper(Said):
    """The lengths between the eyes of one damper that is to fit all round, mm."""

    extended: float = Field(gt=0)
    compressed: float = Field(gt=0)


class Wishes(Said):
    """What the vehicle is to be; what is left out is not looked at.

    frequency : Hz by station; roll_front : share of the roll stiffness at the stations of the front half
    damper : one all round; few_springs : the fewer different rates the better; left : mm of damper and coil to keep
    stop_at : share of the bump travel at which every bump stop is to touch; their contacts are set for it
    tape : standard error of every co-ordinate, mm, that the ride height should not feel
    """

    frequency: dict[str, float] = Field(default_factory=dict)
    roll_front: float | None = Field(None, gt=0, lt=1)
    damper: OneDamper | None = None
    few_springs: bool = True
    stop_at: float | None = Field(None, gt=0.05, le=1)
    left: float = Field(5.0, ge=0, le=100)
    tape: float = Field(1.0, gt=0, le=20)


class StudyAsked(Said):
    """A whole study. candidates : vehicles to be looked at; the same seed finds the same."""

    format: Literal["jugatrix-study"] = "jugatrix-study"
    version: Literal[1] = 1
    job: dict[str, Any]
    vary: list[Vary] = Field(min_length=1, max_length=40)
    wishes: Wishes
    candidates: int = Field(1_000_000, ge=1, le=1_000_000_000)
    seed: int = Field(1, ge=0, le=2**31)


def check_study(value: Any) -> tuple[StudyAsked, Project]:
    """Return a checked study and its job; raise DocumentRefused with every fault in a sentence."""
    if not isinstance(value, dict):
        raise DocumentRefused([Fault("", "A study is one JSON object.")])
    try:
        asked = StudyAsked.model_validate(value)
    except ValidationError as error:
        raise DocumentRefused(in_sentences(error)) from error
    project = paired(check_project(asked.job))
    faults = [*_faults(asked, project)]
    if faults:
        raise DocumentRefused(faults)
    return asked, project


def varied(asked: StudyAsked) -> dict[str, Vary]:
    """Return what varies by station, those on the other side among them."""
    found = {vary.station: vary for vary in asked.vary}
    for vary in asked.vary:
        if vary.alike is not None:
            found[vary.alike] = vary.model_copy(update={"station": vary.alike, "alike": None})
    return found


def coils_of(station: Station) -> list[Coilover | SpringUnit]:
    """Return the units that carry a coil."""
    return [unit for unit in station.units if isinstance(unit, Coilover | SpringUnit)]


def _faults(asked: StudyAsked, project: Project) -> list[Fault]:
    stations = {station.name: station for station in project.stations}
    found = []
    seen: set[str] = set()
    named = [
        (f"vary[{number}]", key, name, vary)
        for number, vary in enumerate(asked.vary)
        for key, name in (("station", vary.station), ("alike", vary.alike))
        if name is not None
    ]
    for path, key, name, vary in named:
        station = stations.get(name)
        if station is None:
            known = ", ".join(stations)
            found.append(Fault(f"{path}.{key}", f"{name} is no station of the job; it has {known}"))
            continue
        if name in seen:
            found.append(Fault(f"{path}.{key}", f"{name} stands here twice; join the two"))
        seen.add(name)
        for k, place in enumerate(vary.places):
            for point in place.points:
                if point not in station.points:
                    found.append(Fault(f"{path}.places[{k}].points", f"{station.name} has no point {point}"))
            if not all(0 <= side <= MOST_BOX_MM for side in place.box):
                found.append(
                    Fault(f"{path}.places[{k}].box", f"a side is 0 to {MOST_BOX_MM:.0f} mm each way")
                )
        if not all(rate > 0 for rate in vary.springs):
            found.append(Fault(f"{path}.springs", "a spring rate is more than 0 N/mm"))
        if vary.springs and not coils_of(station):
            found.append(Fault(f"{path}.springs", f"{station.name} has no coil to be changed"))
    for name, hertz in asked.wishes.frequency.items():
        if name not in stations:
            found.append(Fault("wishes.frequency", f"{name} is no station of the job"))
        if not 0.2 <= hertz <= 10:
            found.append(Fault(f"wishes.frequency.{name}", "a frequency is 0.2 to 10 Hz"))
    damper = asked.wishes.damper
    if damper is not None and damper.compressed >= damper.extended:
        found.append(Fault("wishes.damper", "a damper is longer extended than compressed"))
    return found
