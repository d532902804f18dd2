"""Put it right: the plans that clear everything found of the document in hand, the cheapest first."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.document.coming import as_given
from engine.document.read import check_project
from engine.findings.finding import Finding
from engine.results.whole import WorkedProject
from engine.right.aims import AIMS
from engine.right.cannot import cannot_of
from engine.right.costs import USUAL, Cost
from engine.right.plans import Change, Plan, Righted, put_right
from engine.right.result_file import counted, figures_of
from server.answers import Document, answer
from server.parts.for_right import shelf_of_rows
from server.parts.models import Part
from server.running.following import key_of, tell
from server.running.workers import away
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["sizing"])


class RightIn(Schema):
    """The document in hand; `plans` at most so many."""

    document: Document
    plans: int = Field(len(AIMS), ge=1, le=len(AIMS))


class RightCountOut(Schema):
    """How many faults and warnings there are."""

    fault: int
    warning: int


class RightChangeOut(Schema):
    """One change: hours, money, days; `both` whether it is done on both sides; what holds it, as `work.held` names it."""

    station: str
    key: str
    say: SentenceOut
    both: bool
    hours: float
    money: float
    days: float
    holds: list[str]


class RightLeftOut(Schema):
    """What is still found; the station is empty for the whole vehicle."""

    code: str
    station: str
    mark: str
    what: SentenceOut


class RightFiguresOut(Schema):
    """Before and after: where it stands mm, wheel rate N/mm, frequency Hz, the first unit's motion ratio."""

    ride: list[float | None]
    wheel_rate: list[float | None]
    frequency: list[float | None]
    ratio: list[float | None]


class RightPlanOut(Schema):
    """One plan; holds_in the share of geometries within the tape's error in which no fault comes back."""

    why: str
    changes: list[RightChangeOut]
    hours: float
    money: float
    days: float
    cost: float
    gives_up: float
    after: RightCountOut
    left: list[RightLeftOut]
    figures: dict[str, RightFiguresOut]
    holds_in: float | None
    document: Document


class RightWayOut(Schema):
    """One of the wishes that cannot be had together, and what of it alone would settle it."""

    station: str
    what: str
    before: float | None
    after: float | None
    way: str
    by: float | None


class RightCostOut(Schema):
    """What a kind of change costs: hours, money, days."""

    hours: float
    money: float
    days: float


class RightOut(Schema):
    """Plans, the cheapest first; `cannot` the wishes that contradict; `costs` by kind of change, `rate` an hour."""

    before: RightCountOut
    plans: list[RightPlanOut]
    cannot: list[RightWayOut]
    rate: float
    costs: dict[str, RightCostOut]


@router.post("/right", response=RightOut, operation_id="putItRight")
def right(request: HttpRequest, body: RightIn) -> HttpResponse:
    """Return what puts the document in hand right."""
    rows = [
        (part.kind, part.name, part.stock, part.values) for part in Part.objects.filter(owner=request.user)
    ]
    return answer(away(righted, body.document, rows, body.plans, key=key_of(request)))


def righted(document: dict[str, Any], rows: list[Any], most: int) -> dict[str, Any]:
    """Return what puts a document right, of plain values."""
    project = check_project(document)
    found = put_right(project, shelf_of_rows(rows), most, tell)
    cannot = cannot_of(project, found)
    return {
        "before": counted(found.before),
        "plans": [_plan(plan, found, document) for plan in found.plans],
        "cannot": [] if cannot is None else [_way(one) for one in cannot.wishes],
        "rate": found.costs.rate,
        "costs": {key: _cost(found.costs.of[key]) for key in USUAL if key != "wish"},
    }


def _cost(cost: Cost) -> dict[str, float]:
    return {"hours": cost.hours, "money": cost.money, "days": cost.days}


def _plan(plan: Plan, found: Righted, document: dict[str, Any]) -> dict[str, Any]:
    stations = [
        as_given(station, given)
        for station, given in zip(plan.project.stations, document["stations"], strict=True)
    ]
    return {
        "why": plan.why,
        "changes": [_change(change) for change in plan.changes],
        **_cost(plan.cost),
        "cost": plan.total,
        "gives_up": plan.gives_up,
        "after": counted(plan.after),
        "left": _left(plan.after),
        "figures": figures_of(plan, found),
        "holds_in": plan.holds_in,
        "document": {**document, "stations": stations},
    }


def _change(change: Change) -> dict[str, Any]:
    return {
        "station": change.station,
        "key": change.key,
        "say": sentence_values(change.lever.say(change.value)),
        "both": change.lever.sides > 1,
        **_cost(change.cost),
        "holds": [f"{change.station}/{name}" for name in sorted(change.lever.of)],
    }


def _left(after: WorkedProject) -> list[dict[str, Any]]:
    of: list[tuple[str, tuple[Finding, ...]]] = [(s.work.station.name, s.findings) for s in after.stations]
    return [
        {"code": its.code, "station": name, "mark": its.mark, "what": sentence_values(its.what)}
        for name, findings in [*of, ("", after.findings)]
        for its in findings
        if its.mark != "good"
    ]


def _way(wish: dict[str, Any]) -> dict[str, Any]:
    rest = {key: value for key, value in wish.items() if key not in ("station", "what", "from", "to", "say")}
    way, by = next(iter(rest.items()), ("", None))
    return {
        "station": wish["station"],
        "what": wish["what"],
        "before": wish.get("from"),
        "after": wish.get("to"),
        "way": way,
        "by": by,
    }
