"""The survey over HTTP: items put one by one; the whole of it worked out, beside the document in hand."""

from dataclasses import asdict
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema, Status

from engine.document.read import check_project
from engine.document.survey import USUAL_ERRORS, USUAL_TOOL
from engine.survey.plan import survey_plan
from engine.survey.survey_file import worth_values
from engine.survey.taking import Alike, effects_of, moves_of, taken_in
from engine.survey.wanted import Aim, aims_of, wanted_of
from engine.survey.worked import WorkedSurvey
from engine.survey.worth import worth_reading
from server.answers import ActionRefused, Document, ReadingValues, SurveyValues, answer
from server.jobs.actions.open_job import open_job
from server.records.actions.fitting import fitting
from server.records.actions.readings_csv import csv_of, readings_in
from server.records.actions.stickers import seen_of
from server.records.actions.survey import items_of, put_item, remove_item, survey_of
from server.records.view import PlannedOut, SurveyOut, survey_view
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["survey"])
Kind = Literal["reading", "photo", "guard", "mark", "tool", "record", "stickers", "picture", "camera"]
Key = Annotated[str, Field(min_length=1, max_length=220)]


class ItemOut(Schema):
    """One thing that was read: as the file has it, who put it last and when."""

    kind: str
    key: str
    body: Any
    by: str
    at: str


class ItemIn(Schema):
    """One thing that was read, as the project file has it."""

    body: Any


class AboutSurvey(Schema):
    """The document in hand, and the survey as the project file has it; the job whose pictures of stickers count in."""

    document: Document
    survey: SurveyValues
    job: UUID | None = None


class AimIn(AboutSurvey):
    """What is to be known better: a figure of a station, one place, or every place."""

    figure: str
    of: str = ""


class WorthOut(Schema):
    """A reading that could be taken; mm (or as the figure has it) of standard error before and after, null while loose."""

    reading: ReadingValues
    now: float | None
    then: float | None
    would_be: float


class TakeIn(AboutSurvey):
    """How left and right are taken in, and which places are not."""

    alike: Alike = "own"
    without: list[str] = []


class MoveOut(Schema):
    """One place taken in: mm."""

    station: str
    point: str
    before: list[float]
    after: list[float]
    by: float
    sigma: float
    rests: SentenceOut | None


class FiguresOut(Schema):
    """Ride travel mm, wheel rate N/mm, motion ratios by unit."""

    ride_travel: float
    wheel_rate: float
    ratios: dict[str, float]


class EffectOut(Schema):
    """What taking in does to a station; null where it does not stand, with the reason."""

    station: str
    before: FiguresOut | None
    after: FiguresOut | None
    fault: str | None


class TakenOut(Schema):
    """What moves, what that does, and the document with it done."""

    moves: list[MoveOut]
    effects: list[EffectOut]
    document: Document


@router.get("/jobs/{job_id}/survey", response=list[ItemOut], operation_id="readSurvey")
def read_survey(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return everything that was read on a job, in the order in which it was put."""
    return answer([asdict(item) for item in items_of(open_job(request.user, job_id))])


@router.put(
    "/jobs/{job_id}/survey/{kind}/{path:key}",
    response={204: None},
    operation_id="putSurveyItem",
)
def put(request: HttpRequest, job_id: UUID, kind: Kind, key: str, body: ItemIn) -> Status[Any]:
    """Store one thing that was read; the same key again replaces it."""
    if not 0 < len(key) <= 220 or not key.isprintable() or key in (".", ".."):
        # A browser takes dots alone in an address for a way up, and would store it somewhere else.
        raise ActionRefused(
            422, "key", "A name is one to 220 letters, figures and signs, and not dots alone."
        )
    put_item(request.user, open_job(request.user, job_id), kind, key, body.body)
    return Status(204, None)


@router.delete(
    "/jobs/{job_id}/survey/{kind}/{path:key}",
    response={204: None},
    operation_id="dropSurveyItem",
)
def drop(request: HttpRequest, job_id: UUID, kind: Kind, key: str) -> Status[Any]:
    """Take one thing out."""
    remove_item(open_job(request.user, job_id), kind, key)
    return Status(204, None)


@router.get("/jobs/{job_id}/survey.csv", operation_id="exportReadings")
def export_readings(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return the readings as CSV, a row a reading."""
    job = open_job(request.user, job_id)
    response = HttpResponse(csv_of(survey_of(items_of(job))), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="readings.csv"'
    return response


class ReadIn(Schema):
    """Readings taken from a CSV: as the file has them."""

    readings: list[ReadingValues]


@router.post("/survey/readings-in", response=ReadIn, operation_id="readReadings")
def read_readings(request: HttpRequest) -> HttpResponse:
    """Return the readings in a CSV, checked, for the browser to store one by one."""
    return answer({"readings": readings_in(request.body)})


@router.post("/survey", response=SurveyOut, operation_id="adjustSurvey")
def adjust(request: HttpRequest, body: AboutSurvey) -> HttpResponse:
    """Return the survey worked out beside the document in hand."""
    return answer(survey_view(_worked(request, body), body.survey))


@router.post("/survey/next", response=list[WorthOut], operation_id="readNext")
def read_next(request: HttpRequest, body: AimIn) -> HttpResponse:
    """Return the readings that help most with what is wanted, as one would walk: from front to rear."""
    worked = _worked(request, body)
    wanted = wanted_of(worked.project, worked.adjusted, Aim(figure=body.figure, of=body.of))
    found = [] if wanted is None else worth_reading(worked.adjusted, wanted)
    index, spots = worked.network.index, worked.adjusted.fit.spots
    found.sort(key=lambda one: -max(float(spots[index[place], 0]) for place in one.places))
    return answer(
        [
            {"reading": worth_values(one), "now": one.now, "then": one.then, "would_be": one.would_be}
            for one in found
        ]
    )


class AimOut(Schema):
    """Something that may be wanted."""

    figure: str
    of: str
    said: str


@router.post("/survey/aims", response=list[AimOut], operation_id="listAims")
def aims(request: HttpRequest, body: AboutSurvey) -> HttpResponse:
    """Return what may be wanted: figures of the stations that are surveyed, and places."""
    worked = _worked(request, body)
    return answer([{**asdict(aim), "said": aim.said} for aim in aims_of(worked.project, worked.adjusted)])


@router.post("/survey/take", response=TakenOut, operation_id="takeSurvey")
def take(request: HttpRequest, body: TakeIn) -> HttpResponse:
    """Return what taking the places into the job moves and does, and the document with it done."""
    worked = _worked(request, body)
    without = set(body.without)
    moves = [one for one in moves_of(worked, body.alike) if f"{one.station}/{one.point}" not in without]
    return answer(
        {
            "moves": [
                vars(one) | {"rests": None if one.rests is None else sentence_values(one.rests)}
                for one in moves
            ],
            "effects": [asdict(one) for one in effects_of(worked.project, moves)],
            "document": taken_in(body.document, moves),
        }
    )


class PlanIn(Schema):
    """The document in hand."""

    document: Document
    station: int


@router.post("/survey/plan", response=list[PlannedOut], operation_id="planSurvey")
def plan(request: HttpRequest, body: PlanIn) -> HttpResponse:
    """Return the list to read for one station, in the order one walks."""
    project = check_project(body.document)
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    found = survey_plan(project.stations[body.station])
    return answer(
        [
            asdict(one) | {"marks": {name: found.marks[name] for name in one.places if name in found.marks}}
            for one in found.readings
        ]
    )


class ToolOut(Schema):
    """A tool's usual standard error, mm or degrees, and the kinds that are read with it."""

    name: str
    sigma: float
    kinds: list[str]


@router.get("/survey/tools", response=list[ToolOut], operation_id="listTools")
def tools(request: HttpRequest) -> HttpResponse:
    """Return the usual tools."""
    return answer(
        [
            {
                "name": name,
                "sigma": sigma,
                "kinds": [kind for kind, tool in USUAL_TOOL.items() if tool == name],
            }
            for name, sigma in USUAL_ERRORS.items()
        ]
    )


def _worked(request: HttpRequest, body: AboutSurvey) -> WorkedSurvey:
    project = check_project({**body.document, "survey": fitting(body.document, body.survey)})
    if body.job is None or not body.survey.get("stickers"):
        return WorkedSurvey(project)
    return WorkedSurvey(project, seen_of(open_job(request.user, body.job), body.document, body.survey))
