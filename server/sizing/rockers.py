"""Sizing rockers: what is there, a search in parts, and the short list proved."""

from dataclasses import asdict
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.budget import Budget
from engine.document.schema import RockerPlate
from engine.results.whole import beside_of
from engine.sizing.rocker.candidates import Choice
from engine.sizing.rocker.plate import metal_of, plate_of, widths_of
from engine.sizing.rocker.refine import Proved, refine, unmet
from engine.sizing.rocker.room import along_tube, keep_outs_of, usual_room
from engine.sizing.rocker.search import PART, Found, search_part
from engine.sizing.rocker.sketch import COUNT, Sketch, glance
from engine.sizing.rocker.targets import ARMS_MM, Targets
from engine.sizing.rocker.wheel_side import NoRocker, WheelSide, rockers_here, wheel_side_of
from engine.station.solved import SolvedStation
from server.answers import ActionRefused, answer
from server.running.workers import away
from server.solving.asked import MOST_SECONDS, other_side, solved_station, worked_station
from server.solving.shapes import FindingOut, SolveIn
from server.solving.view import finding_values

router = Router(tags=["rockers"])
PARTS = 8

Place = list[float]


class PlateOut(Schema):
    """A rocker's sizes as drawn: mm and degrees; readings of its bolt by view, null where it is seen end on."""

    rod_arm: float
    damper_arm: float
    included: float
    rod: float
    offset: float
    front: float | None
    side: float | None
    top: float | None
    rod_tilt: float
    damper_tilt: float
    pivot: Place
    across: Place
    up: Place
    axis: Place


class MetalOut(Schema):
    """Two holes of a plate: mm of metal between them, mm wanted, mm between the heads of their bolts."""

    one: str
    other: str
    metal: float
    wanted: float
    heads: float
    good: bool


class CutOut(Schema):
    """How the plate is cut (mm), what is left between its holes, its whole width and the room between a pair."""

    thickness: float
    count: int
    gap: float
    pivot_bore: float
    rod_hole: float
    damper_hole: float
    edge: float
    given: bool
    metal: list[MetalOut]
    width: float
    room: float


class RockerOut(Schema):
    """One rocker of a station: the names of its parts, its sizes, and what it does now.

    shared : its pivot's bolt carries another body too, and stays; ratio at each of the travels (mm)
    """

    rocker: str
    pivots: list[str]
    rod: str
    rod_end: str
    rod_joint: str
    unit: str
    eye: str
    far: str
    shared: bool
    plate: PlateOut
    cut: CutOut
    travels: list[float]


class RockersOut(Schema):
    """Every rocker that can be sized, and why there is none."""

    rockers: list[RockerOut]
    why_none: str | None


@router.post("/rockers", response=RockersOut, operation_id="listRockers")
def rockers(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return the rockers of a station with their sizes."""
    solved, _ = solved_station(body)
    try:
        sides = [wheel_side_of(solved, here.rocker) for here in rockers_here(solved)]
        station = solved.station
        if not sides:
            wheel_side_of(solved)
    except NoRocker as none:
        return answer({"rockers": [], "why_none": str(none)})
    return answer(
        {
            "rockers": [_described(side, station.plates.get(side.here.rocker)) for side in sides],
            "why_none": None,
        }
    )


def _described(side: WheelSide, given: RockerPlate | None) -> dict[str, Any]:
    sizes = plate_of(side)
    plate = asdict(sizes)
    cut = given or RockerPlate()
    width, room = widths_of(cut)
    plain = {
        key: np.round(value, 7).tolist() if isinstance(value, np.ndarray) else value
        for key, value in plate.items()
    }
    return asdict(side.here) | {
        "pivots": list(side.here.pivots),
        "shared": side.shared,
        "plate": plain,
        "cut": {
            **cut.model_dump(),
            "given": given is not None,
            "metal": [{**asdict(one), "good": one.good} for one in metal_of(sizes, cut)],
            "width": width,
            "room": room,
        },
        "travels": np.round(side.travels, 4).tolist(),
    }


class TargetsIn(Schema):
    """What a rocker is to do, and its room; null leaves a target out.

    one of ratio (damper per wheel), wheel_rate N/mm and stroke mm; change share from droop to bump; degrees; mm
    pivot_room : mm each way from where it is; along : an envelope of the chassis, or two points, that it stays on
    far_room   : mm each way from where the damper's far end is
    """

    rocker: str | None = None
    ratio: float | None = Field(None, gt=0.02, le=5)
    wheel_rate: float | None = Field(None, gt=0, le=5000)
    stroke: float | None = Field(None, gt=0, le=1000)
    change: float | None = Field(0.0, ge=-0.6, le=1.5)
    straight: bool = True
    school: Literal["square", "even"] = "square"
    damper_angle: float | None = Field(90.0, ge=40, le=140)
    rod_arm: list[float] = Field(default_factory=lambda: list(ARMS_MM), min_length=2, max_length=2)
    damper_arm: list[float] = Field(default_factory=lambda: list(ARMS_MM), min_length=2, max_length=2)
    pivot_room: list[float] = Field(default_factory=lambda: [40.0, 40.0, 40.0], min_length=3, max_length=3)
    along: str | None = None
    far_room: list[float] = Field(default_factory=lambda: [150.0, 150.0, 150.0], min_length=3, max_length=3)
    in_line: bool = False
    left: float = Field(5.0, ge=0, le=200)


class SearchIn(SolveIn):
    """One part of a search."""

    targets: TargetsIn
    part: int = Field(0, ge=0, lt=64)


class CandidateOut(Schema):
    """One rocker found: its numbers (for the proof), its score, misses (1 is just acceptable) and traits."""

    numbers: list[float]
    score: float
    misses: dict[str, float]
    traits: dict[str, float]
    spots: list[float]


class SearchPartOut(Schema):
    """What one part of a search found; `parts` make a whole search. fit : have arm and far end where they may be, and take the travel."""

    tried: int
    fit: int
    parts: int
    found: list[CandidateOut]


@router.post("/rockers/search", response=SearchPartOut, operation_id="searchRockers")
def search(request: HttpRequest, body: SearchIn) -> HttpResponse:
    """Search one part of the room for rockers; parts interleave, so any of them is a search of its own."""
    return answer(away(searched, body.model_dump()))


def searched(values: dict[str, Any]) -> dict[str, Any]:
    """Return what one part of a search finds, of plain values."""
    body = SearchIn(**values)
    solved, _ = solved_station(body)
    side = wheel_side_of(solved, body.targets.rocker)
    found, fit = search_part(side, targets_of(body.targets, side, solved), body.part)
    return {"tried": PART, "fit": fit, "parts": PARTS, "found": _candidates(found)}


def _candidates(found: Found) -> list[dict[str, Any]]:
    return [
        {
            "numbers": np.round(found.choices[k], 9).tolist(),
            "score": round(float(found.score[k]), 4),
            "misses": {name: round(float(values[k]), 3) for name, values in found.misses.items()},
            "traits": {
                name: round(float(values[k]), 5)
                for name, values in found.traits.items()
                if np.isfinite(values[k])
            },
            "spots": np.round(found.spots[k], 2).tolist(),
        }
        for k in range(len(found.score))
    ]


class SketchOut(Schema):
    """One rocker of a search that follows the hand: not proved yet. points mm; ratio over the wheel side's travels.

    misses by target; robust : share of the ratio that 1 mm of error anywhere changes
    """

    points: dict[str, list[float]]
    ratio: list[float]
    misses: dict[str, float]
    traits: dict[str, float]
    robust: float


class GlanceIn(SolveIn):
    """What is asked while a hand still moves."""

    targets: TargetsIn


class GlanceOut(Schema):
    """What a small search finds at once; travels mm, of the sketches' ratio."""

    rod: str
    tried: int
    fit: int
    travels: list[float]
    found: list[CandidateOut]
    sketches: list[SketchOut]


@router.post("/rockers/glance", response=GlanceOut, operation_id="glanceAtRockers")
def glance_at(request: HttpRequest, body: GlanceIn) -> HttpResponse:
    """Search as much as a moving hand gives time for; nothing of it is proved."""
    return answer(away(glanced, body.model_dump()))


def glanced(values: dict[str, Any]) -> dict[str, Any]:
    """Return what a small search finds, of plain values."""
    body = GlanceIn(**values)
    solved, _ = solved_station(body)
    side = wheel_side_of(solved, body.targets.rocker)
    its = glance(solved, side, targets_of(body.targets, side, solved))
    return {
        "rod": side.here.rod,
        "tried": COUNT,
        "fit": its.fit,
        "travels": np.round(side.travels, 4).tolist(),
        "found": _candidates(its.found),
        "sketches": [_sketched(one) for one in its.sketches],
    }


def _sketched(one: Sketch | Proved) -> dict[str, Any]:
    return {
        "points": one.points,
        "ratio": np.round(one.ratio, 6).tolist(),
        "misses": {name: round(miss, 3) for name, miss in one.misses.items()},
        "traits": {name: round(value, 5) for name, value in one.traits.items() if np.isfinite(value)},
        "robust": round(one.robust, 5),
    }


class RefineIn(SolveIn):
    """Candidates to be refined and proved, the best first."""

    targets: TargetsIn
    numbers: list[list[float]] = Field(max_length=40)


class SolutionOut(SketchOut):
    """One rocker of the short list, proved: its ratio from the general solver over travels of its own, mm.

    apart  : how far the search's ratio is from the general solver's, at most
    """

    travels: list[float]
    apart: float
    faults: int
    warnings: int
    findings: list[FindingOut]


class UnmetOut(Schema):
    """A target that cannot be met beside the others: the nearest that can be come to (as in the traits), and what
    else has to give for that.
    """

    target: str
    nearest: float | None
    gives: list[str]


class ShortListOut(Schema):
    """The really different ones, the best first; what cannot be met; how many there was no time to prove."""

    rod: str
    solutions: list[SolutionOut]
    unmet: list[UnmetOut]
    untried: int


@router.post("/rockers/refine", response=ShortListOut, operation_id="refineRockers")
def refine_rockers(request: HttpRequest, body: RefineIn) -> HttpResponse:
    """Refine candidates and prove each with the general solver."""
    return answer(away(refined, body.model_dump()))


def refined(values: dict[str, Any]) -> dict[str, Any]:
    """Return a short list, of plain values."""
    body = RefineIn(**values)
    work, rules = worked_station(body)
    solved = work.solved
    side = wheel_side_of(solved, body.targets.rocker)
    targets = targets_of(body.targets, side, solved)
    if any(len(row) != len(Choice) for row in body.numbers):
        raise ActionRefused(422, "not_a_candidate", "These are no candidates of a search; search again.")
    numbers = np.array(body.numbers, dtype=float).reshape(-1, len(Choice))
    beside = beside_of(work, other_side(body, work), rules)
    solutions, untried = refine(solved, side, targets, numbers, rules, Budget(MOST_SECONDS), beside)
    missed = unmet(side, targets, numbers, solutions)
    return {
        "rod": side.here.rod,
        "solutions": [_solution(one) for one in solutions],
        "unmet": [asdict(one) for one in missed],
        "untried": untried,
    }


def _solution(one: Proved) -> dict[str, Any]:
    return {
        **_sketched(one),
        "travels": np.round(one.travels, 4).tolist(),
        "apart": one.apart,
        "faults": one.faults,
        "warnings": sum(finding.mark == "warning" for finding in one.findings),
        "findings": [finding_values(finding) for finding in one.findings if finding.mark != "good"],
    }


def targets_of(asked: TargetsIn, side: WheelSide, solved: SolvedStation) -> Targets:
    """Return the engine's targets for what was asked; raise ActionRefused where it makes no sense."""
    if [asked.ratio, asked.wheel_rate, asked.stroke].count(None) != 2:
        raise ActionRefused(422, "one_target", "Ask for one of a motion ratio, a wheel rate or a stroke.")
    for name, (least, most) in (("rod", asked.rod_arm), ("damper", asked.damper_arm)):
        if not 5 <= least <= most <= 1000:
            raise ActionRefused(
                422, "arms", f"The {name} arm may be 5 mm to a metre long, the least no more than the most."
            )
    if min(*asked.pivot_room, *asked.far_room) < 0:
        raise ActionRefused(422, "room", "Room cannot be negative.")
    if asked.wheel_rate is not None and side.spring_n_per_mm is None:
        raise ActionRefused(
            422, "no_coil", "A wheel rate needs a coil on the damper; ask for a ratio instead."
        )
    room: dict[str, Any] = dict(usual_room(side.pivot, side.far, side.shared))
    if not side.shared:
        half = np.array(asked.pivot_room)
        room["corner"], room["edges"] = side.pivot - half, np.diag(2 * half)
        if asked.along is not None:
            tube = along_tube(solved.station, asked.along)
            if tube is None:
                raise ActionRefused(422, "no_tube", f'No tube of this station is called "{asked.along}".')
            room["corner"], room["edges"] = tube
    reach = np.array(asked.far_room)
    room["far_low"], room["far_high"] = side.far - reach, side.far + reach
    return Targets(
        **room,
        ratio=asked.ratio,
        wheel_rate=asked.wheel_rate,
        stroke=asked.stroke,
        change=asked.change,
        straight=asked.straight,
        school=asked.school,
        damper_angle=asked.damper_angle,
        rod_arm=(asked.rod_arm[0], asked.rod_arm[1]),
        damper_arm=(asked.damper_arm[0], asked.damper_arm[1]),
        in_line=asked.in_line,
        left=asked.left,
        keep_outs=keep_outs_of(solved.linkage, leave=asked.along),
    )
