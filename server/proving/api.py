"""What was found on the floor, over HTTP: the document in hand proved by its records."""

from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from engine.document.read import check_project
from engine.prove.causes import cause_sentence
from engine.prove.cycled import Cycled
from engine.prove.proof import Known, Proof, as_built, prove, verdict
from engine.prove.weighed import Weighed
from engine.sentences import Sentence
from engine.vehicle.carried import middle_mm, put_in, thrown
from engine.vehicle.stance import Stance
from engine.vehicle.wheels import vehicle_of
from server.answers import ActionRefused, Document, RecordValues, answer
from server.running.following import key_of, tell
from server.running.workers import away
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["prove"])
KNOWN: Known = {}


class AboutProof(Schema):
    """The document in hand, and the records as the project file has them."""

    document: Document
    records: list[RecordValues] = []


class StanceOut(Schema):
    """How the vehicle stands: heave mm, pitch (nose down +) and roll (right side down +) degrees; travels mm, kg and heights mm by name."""

    heave: float
    pitch: float
    roll: float
    travels: dict[str, float]
    scales: dict[str, float]
    heights: dict[str, float]
    cross: float | None
    lifted: list[str]


class WheelAt(Schema):
    """One wheel as drawn, mm: its middle, and how high that is above the floor; what the plan says it carries, kg."""

    key: str
    x: float
    y: float
    high: float
    planned: float


class BuiltRow(Schema):
    """One length read, as built and as drawn, and the ratio as built with its standard error."""

    unit: str
    wheel: float
    length: float
    likely: float
    drawn: float
    ratio: float
    sigma: float


class CauseOut(Schema):
    """One thing that would explain a cycle."""

    say: SentenceOut
    explains: float


class MisreadOut(Schema):
    """A row that does not fit the others, from 1: what was read, and what the others make of it, mm."""

    row: int
    unit: str
    wheel: float
    length: float
    others: float
    alone: bool


class CycleOut(Schema):
    """A cycle worked out; mm. `ride` where it stands as built and the standard error of that."""

    record: int
    station: str
    rms: float | None
    built: list[BuiltRow]
    causes: list[CauseOut]
    untold: list[list[str]]
    tell: SentenceOut | None
    ride: list[float] | None
    moved: int
    said: list[SentenceOut]
    misread: list[MisreadOut]
    fits: bool


class TurnOut(Schema):
    """One thing to turn: turns (null for pressure), from what it is set to by mm or bar, what is then left that way."""

    station: str
    what: str
    subjects: list[str]
    turns: float | None
    now: float
    by: float
    left_after: float | None
    learnt: float
    way: SentenceOut


class WeighOut(Schema):
    """A weigh-in worked out; kg, shares, mm."""

    record: int
    total: float
    front_share: float | None
    left_share: float | None
    cross_share: float | None
    cg: list[float] | None
    turns: list[TurnOut]
    after: StanceOut | None
    cg_height: float | None
    said: list[SentenceOut]


class CaseOut(Schema):
    """How it stands with a load case in it."""

    name: str
    stands: StanceOut


class GateOut(Schema):
    """One gate."""

    name: str
    title: str
    station: str
    met: bool
    say: SentenceOut
    initials: str


class CurveOut(Schema):
    """A unit's drawn length over wheel travel, mm: [travel, length]."""

    station: str
    unit: str
    points: list[list[float]]


class ProofOut(Schema):
    """Everything that a job's records come to."""

    mark: str
    verdict: SentenceOut
    now: StanceOut | None
    finished: StanceOut | None
    cases: list[CaseOut]
    wheels: list[WheelAt]
    datums: dict[str, float]
    curves: list[CurveOut]
    cycles: list[CycleOut]
    weighs: list[WeighOut]
    gates: list[GateOut]
    said: list[SentenceOut]


@router.post("/prove", response=ProofOut, operation_id="proveJob")
def prove_job(request: HttpRequest, body: AboutProof) -> HttpResponse:
    """Return the document in hand proved by its records."""
    return answer(away(proved, body.model_dump(), key=key_of(request)))


def proved(values: dict[str, Any]) -> dict[str, Any]:
    """Return a document proved by its records, of plain values."""
    project = check_project({**values["document"], "records": values["records"]})
    proof = prove(project, known=KNOWN, throws=(), tell=tell)
    mark, words = verdict(proof)
    apart = proof.vehicle.apart()
    return {
        "mark": mark,
        "verdict": sentence_values(words),
        "now": _stance(proof.now),
        "finished": _stance(proof.finished),
        "cases": [{"name": name, "stands": _stance(stands)} for name, stands in proof.cases],
        "wheels": [
            {"key": w.key, "x": w.x, "y": w.y, "high": middle_mm(apart, w), "planned": w.mass}
            for w in apart.wheels
        ],
        "datums": _datums(proof),
        "curves": _curves(proof),
        "cycles": [_cycle(one) for one in proof.cycles],
        "weighs": [_weigh(one) for one in proof.weighs],
        "gates": [
            {**vars(gate), "title": gate.title, "say": sentence_values(gate.say)} for gate in proof.gates
        ],
        "said": _said(proof.said),
    }


class AboutStance(Schema):
    """The document in hand; what it does, g (turning left +); its load case; what stands under its wheels, mm."""

    document: Document
    brake_g: Annotated[float, Field(ge=0, le=3)] = 0.0
    corner_g: Annotated[float, Field(ge=-3, le=3)] = 0.0
    load: str = ""
    blocks: dict[str, Annotated[float, Field(ge=0, le=500)]] = {}


@router.post("/prove/stands", response=StanceOut, operation_id="standVehicle")
def stand(request: HttpRequest, body: AboutStance) -> HttpResponse:
    """Return how the vehicle stands and what each wheel carries: braking, cornering, wheels on blocks, held still there."""
    project = check_project({**body.document, "records": []})
    high = 0.0 if project.vehicle is None else project.vehicle.cg_height
    if project.vehicle is None and (body.brake_g or body.corner_g):
        words = "Say on the Brief how high the centre of gravity stands: without it nothing is thrown over."
        raise ActionRefused(422, "no_cg_height", words)
    case = next((one for one in project.loads if one.name == body.load), None)
    if body.load and case is None:
        raise ActionRefused(422, "no_load", f"This job has no load case called {body.load}.")
    extra = () if case is None else put_in(case)
    vehicle = vehicle_of(project)
    strange = sorted(set(body.blocks) - {wheel.key for wheel in vehicle.wheels})
    if strange:
        raise ActionRefused(422, "no_wheel", f"This job has no wheel called {strange[0]}.")
    return answer(
        _stance(thrown(vehicle, high, body.brake_g, body.corner_g, extra, blocks=body.blocks).stands)
    )


class AboutBuilt(AboutProof):
    """Which record's cycle is taken as built; every station's last one if left out."""

    record: int | None = None


class BuiltOut(Schema):
    """The document with the places of a cycle's most probable geometry."""

    document: Document


@router.post("/prove/take", response=BuiltOut, operation_id="takeAsBuilt")
def take(request: HttpRequest, body: AboutBuilt) -> HttpResponse:
    """Return the document as it was likely built, by one cycle."""
    return answer(away(taken, body.model_dump(), key=key_of(request)))


def taken(values: dict[str, Any]) -> dict[str, Any]:
    """Return a document as it was likely built, of plain values; raise ActionRefused."""
    proof = prove(check_project({**values["document"], "records": values["records"]}), known=KNOWN, tell=tell)
    try:
        return {"document": as_built(values["document"], proof, values["record"])}
    except KeyError as error:
        raise ActionRefused(
            404, "no_cycle", "This cycle moves nothing: there is nothing to take as built."
        ) from error


def _said(said: tuple[Sentence, ...]) -> list[dict[str, Any]]:
    return [sentence_values(one) for one in said]


def _stance(stands: Stance | None) -> dict[str, Any] | None:
    return None if stands is None else {**vars(stands), "lifted": list(stands.lifted)}


def _datums(proof: Proof) -> dict[str, float]:
    """Return the heights that are wanted: every datum's with its wheel where it should stand, mm."""
    found = {}
    apart = proof.vehicle.apart()
    for number, support in enumerate(apart.supports):
        station = support.solved.station
        if station.datum is not None:
            key = station.name if station.kind == "axle" else apart.wheels[apart.of(number)[0]].key
            found[key] = station.datum.height - (station.travel.at or 0.0)
    return found


def _curves(proof: Proof) -> list[dict[str, Any]]:
    found = []
    for support in proof.vehicle.supports:
        rows = support.solved.taken
        for unit, trace in rows.units.items():
            points = [[float(z), float(long)] for z, long in zip(rows.travels, trace.length, strict=True)]
            found.append({"station": support.solved.station.name, "unit": unit, "points": points})
    return found


def _cycle(one: Cycled) -> dict[str, Any]:
    return {
        "record": one.record,
        "station": one.station,
        "rms": one.rms,
        "built": [vars(row) for row in one.built],
        "causes": [
            {"say": sentence_values(cause_sentence(cause)), "explains": cause.explains}
            for cause in one.causes
        ],
        "untold": [list(alike) for alike in one.cannot_tell],
        "tell": None if one.tell is None else sentence_values(one.tell),
        "ride": None if one.ride is None else list(one.ride),
        "moved": len(one.moved),
        "said": _said(one.said),
        "misread": [vars(row) for row in one.misread],
        "fits": one.fits,
    }


def _weigh(one: Weighed) -> dict[str, Any]:
    return {
        "record": one.record,
        "total": one.total,
        "front_share": one.front_share,
        "left_share": one.left_share,
        "cross_share": one.cross_share,
        "cg": None if one.cg is None else list(one.cg),
        "turns": [
            {**vars(turn), "subjects": list(turn.subjects), "way": sentence_values(turn.way)}
            for turn in one.turns
        ],
        "after": _stance(one.after),
        "cg_height": one.cg_height,
        "said": _said(one.said),
    }
