"""What comes next: for the document in hand with its readings and records, and for a job on the shop's wall."""

from typing import Any
from uuid import UUID

import orjson
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from engine.document.read import check_project
from engine.document.schema import CENTRELINE_MM
from engine.errors import DocumentRefused
from engine.shop.buying import OnShelf
from engine.steps.durations import past_of
from engine.steps.evidence import evidence_of
from engine.steps.states import StepStands, states_of
from server.answers import Document, RecordValues, SurveyValues, answer
from server.jobs.actions.open_job import open_job, open_revision
from server.records.actions.fitting import fitting
from server.running.caching import cached_away
from server.running.following import key_of, tell
from server.running.workers import away
from server.shop.rack import shelf_of, stock_of
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values
from server.steps.week import newest

router = Router(tags=["steps"])
Values = dict[str, Any]


class AboutSteps(Schema):
    """The document in hand, its readings and records as the project file has them; `job` for the revision before."""

    document: Document
    survey: SurveyValues = {}
    records: list[RecordValues] = []
    job: UUID | None = None
    revision: int | None = None


class SpoiltOut(Schema):
    """What would be spoilt by doing it now: money in the shop's currency, hours, kg of metal."""

    say: SentenceOut
    money: float
    hours: float
    metal_kg: float


class AwaitedOut(Schema):
    """Something ordered: when it is due, null where nobody said."""

    what: str
    due: str | None


class WorkStepOut(Schema):
    """One step; station is null for the vehicle's. hours: one in ten is quicker, half, nine in ten.

    state : done, next, may, waits, not_yet or again
    come  : what is ordered and not here yet
    """

    station: str | None
    step: str
    name: str
    state: str
    say: SentenceOut
    why: str
    sheet: str
    waits_for: list[str]
    spoils: SpoiltOut | None
    hours: list[float]
    come: list[AwaitedOut]


class BodySeen(Schema):
    """A job's drawing from above: lines of x and y, mm, and tyres as boxes x, y, long, wide, mm."""

    lines: list[list[list[float]]]
    tyres: list[list[float]]


class OnTheWall(Schema):
    """One job as the wall shows it: its drawing, every step, or why there are none."""

    drawn: BodySeen
    steps: list[WorkStepOut]
    refused: str


@router.post("/steps", response=list[WorkStepOut], operation_id="listSteps")
def list_steps(request: HttpRequest, body: AboutSteps) -> HttpResponse:
    """Return every step of the document in hand and how it stands."""
    document = {
        **body.document,
        "survey": fitting(body.document, body.survey),
        "records": list(body.records),
    }
    before = _before(request, body)
    return answer(away(told, document, before, shelf_of(request.user), key=key_of(request)))


def _before(request: HttpRequest, body: AboutSteps) -> Values | None:
    """Return the document of the revision before the one in hand; None where there is none."""
    if body.job is None or body.revision is None or body.revision < 2:
        return None
    return open_revision(request.user, body.job, body.revision - 1).document


def told(document: Values, before: Values | None, shelf: list[OnShelf]) -> list[Values]:
    """Return every step of a document, of plain values."""
    project = check_project(document)
    tell(0.1, "what is done and what comes next")
    evidence = evidence_of(
        project, stock_of(shelf), tuple(shelf), None if before is None else check_project(before)
    )
    return [_step(one) for one in states_of(evidence, past_of([project]))]


@router.get("/jobs/{job_id}/next", response=OnTheWall, operation_id="seeOnWall")
def see_on_wall(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return one job for the wall: its small drawing and its steps, of the newest revision."""
    job = open_job(request.user, job_id)
    data = cached_away(on_the_wall, newest(job), shelf_of(request.user), key=key_of(request))
    return answer(orjson.loads(data))


def on_the_wall(document: Values, shelf: list[OnShelf]) -> bytes:
    """Return a job for the wall as JSON; a job that cannot be read says so in its own place."""
    try:
        steps, refused = told(document, None, shelf), ""
    except DocumentRefused as error:
        steps, refused = [], str(error)
    return orjson.dumps({"drawn": _drawn(document), "steps": steps, "refused": refused})


def _drawn(document: Values) -> Values:
    """Return a vehicle from above, both sides where a corner is its own mirror image."""
    lines: list[list[list[float]]] = []
    tyres: list[list[float]] = []
    for station in document.get("stations", []):
        if station.get("variant_of"):
            continue
        points = station.get("points", {})
        middle = points[station["wheels"][0]["centre"]][1]
        mirrored = station.get("other_side", "mirror") == "mirror" and abs(middle) >= CENTRELINE_MM
        mirrored = mirrored and station.get("kind") == "corner"
        for side in (1.0, -1.0) if mirrored else (1.0,):
            at = {name: [spot[0], side * spot[1]] for name, spot in points.items()}
            for members in station.get("bodies", {}).values():
                lines.append([at[name] for name in members if name in at])
            for wheel in station.get("wheels", []):
                x, y = at[wheel["centre"]]
                radius, wide = wheel.get("tyre_radius") or 300.0, wheel.get("tyre_width") or 200.0
                tyres.append([x - radius, y - wide / 2, 2 * radius, wide])
    return {"lines": [line for line in lines if len(line) > 1], "tyres": tyres}


def _step(one: StepStands) -> Values:
    return {
        "station": one.station,
        "step": one.step.key,
        "name": one.step.name,
        "state": one.state,
        "say": sentence_values(one.say),
        "why": one.why,
        "sheet": one.step.sheet,
        "waits_for": list(one.waits_for),
        "spoils": None
        if one.spoils is None
        else {
            "say": sentence_values(one.spoils.say),
            "money": one.spoils.money,
            "hours": one.spoils.hours,
            "metal_kg": one.spoils.metal_kg,
        },
        "hours": list(one.hours),
        "come": [{"what": what, "due": due} for what, due in one.come],
    }
