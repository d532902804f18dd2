"""The week over HTTP: what the shop says of itself, who does what when, and each one's calendar by a secret address."""

import hashlib
import secrets
from datetime import date
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema, Status

from engine.document.people import USUAL_WEEK
from engine.steps.step import STEPS
from server.answers import ActionRefused, answer
from server.running.following import key_of
from server.solving.order_ics import calendar_of
from server.steps.models import CalendarLink
from server.steps.week import said, say, week_of
from server.steps.week import stamp as stamp_now

router = Router(tags=["week"])
Day = Annotated[str, Field(min_length=1, max_length=20)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
MOST_LINKS = 100


class PersonAtWork(Schema):
    """Somebody of the shop: stretches of hours by day of the week, whole days away, the steps he does."""

    name: str
    hours: dict[str, list[str]]
    away: list[str] = []
    can: Literal["all"] | list[str] = "all"


class OnItsWay(Schema):
    """Something on its way to a job, by the job's id."""

    job: UUID
    part: str
    date: Day


class HeldStep(Schema):
    """A step put where somebody wants it: by whom, no sooner than which day; the job by its id."""

    job: UUID
    station: str | None = None
    step: str
    who: str | None = None
    day: Day | None = None


class ShopSaid(Schema):
    """What the shop says of itself; `wanted` by jobs' ids."""

    people: Annotated[list[PersonAtWork], Field(min_length=1, max_length=60)]
    arrivals: list[OnItsWay] = []
    wanted: dict[str, Day] = {}
    held: list[HeldStep] = []
    zone: str = "UTC"
    things: dict[str, int] = {}


class StepNamed(Schema):
    """A step by its key, and its name."""

    key: str
    name: str


class WeekOut(Schema):
    """What the shop says of itself, the steps that there are, the usual hours, and for whom a calendar is handed out.

    stamp : tells one state from the next, so that nobody changes what somebody else has changed meanwhile
    """

    shop: ShopSaid
    stamp: str
    steps: list[StepNamed]
    usual: dict[str, list[str]]
    calendars: list[str]


class StretchOut(Schema):
    """One stretch of work: who, on which job (its id), which step, from when to when by the shop's clock; whether it is held."""

    who: str
    job: UUID
    station: str | None
    step: str
    start: str
    end: str
    held: bool


class JobWeekOut(Schema):
    """One job: the day it is done in one, five, nine of ten, null where never or where it is; what that hangs on, the first first."""

    id: UUID
    name: str
    done: bool
    finish: list[str] | None
    hangs_on: list[str]


class WeekPlanOut(Schema):
    """Who does what when from a day on; what could not be used or planned."""

    first: str
    zone: str
    jobs: list[JobWeekOut]
    plan: list[StretchOut]
    said: list[str]
    bound: float


class CalendarIn(Schema):
    """Whose calendar."""

    who: Name


class CalendarMade(Schema):
    """Its address, told this once."""

    who: str
    path: str


def _links(request: HttpRequest) -> Any:
    return CalendarLink.objects.filter(by=request.user)


@router.get("/week", response=WeekOut, operation_id="readWeek")
def read_week(request: HttpRequest) -> dict[str, Any]:
    """Return what the shop says of itself."""
    return {
        "shop": said(),
        "stamp": stamp_now(),
        "steps": [{"key": step.key, "name": step.name} for step in STEPS],
        "usual": USUAL_WEEK,
        "calendars": sorted(set(_links(request).values_list("who", flat=True))),
    }


class WeekStamp(Schema):
    """Which state it is now."""

    stamp: str


@router.put("/week", response=WeekStamp, operation_id="sayWeek")
def say_week(request: HttpRequest, body: ShopSaid, stamp: str = "") -> dict[str, str]:
    """Keep what the shop says of itself, on top of the state that it was changed from."""
    say(request.user, body.model_dump(mode="json", exclude_none=True), stamp)
    return {"stamp": stamp_now()}


@router.get("/week/plan", response=WeekPlanOut, operation_id="planWeek")
def plan_week(request: HttpRequest, first: date | None = None) -> HttpResponse:
    """Return who does what when over every job that the asker can open."""
    found = week_of(request.user, first, key_of(request))
    plan = [{**one, "start": one["from"], "end": one["to"]} for one in found["plan"]]
    return answer(
        {**{name: found[name] for name in ("first", "zone", "jobs", "said", "bound")}, "plan": plan}
    )


@router.post("/week/calendars", response={201: CalendarMade}, operation_id="makeCalendar")
def make_calendar(request: HttpRequest, body: CalendarIn) -> Status[Any]:
    """Make an address under which one person's calendar is read; the one before is no longer good."""
    if body.who not in {one["name"] for one in said()["people"]}:
        raise ActionRefused(422, "who", f"Nobody of the shop is called “{body.who}”. Add the person first.")
    _links(request).filter(who=body.who).delete()
    if _links(request).count() >= MOST_LINKS:
        raise ActionRefused(422, "too_many", f"{MOST_LINKS} calendars are handed out at most. Withdraw some.")
    secret = secrets.token_urlsafe(32)
    CalendarLink.objects.create(who=body.who, secret=_digest(secret), by=request.user)
    return Status(201, {"who": body.who, "path": f"/api/calendar/{secret}.ics"})


@router.delete("/week/calendars/{who}", response={204: None}, operation_id="takeCalendarBack")
def take_back(request: HttpRequest, who: str) -> Status[Any]:
    """Take a person's calendar back: its address is no longer good."""
    _links(request).filter(who=who).delete()
    return Status(204, None)


@router.get("/calendar/{token}.ics", auth=None, operation_id="readCalendar")
def read_calendar(request: HttpRequest, token: str) -> HttpResponse:
    """Return one person's stretches of work as a calendar, to whoever knows its address."""
    link = CalendarLink.objects.select_related("by").filter(secret=_digest(token)).first()
    if link is None or not link.by.is_active:
        raise Http404
    link.asked = timezone.now()
    link.save(update_fields=["asked"])
    found = week_of(link.by, None, "")
    names = {job["id"]: job["name"] for job in found["jobs"]}
    plan = [{**one, "job": names[one["job"]]} for one in found["plan"]]
    data = calendar_of({**found, "plan": plan}, found["zone"], link.who)
    response = HttpResponse(data, content_type="text/calendar; charset=utf-8")
    response["Cache-Control"] = "private, no-store"
    return response


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
