"""A job's survey and records, item by item: put, taken out and brought back, read out whole as the project file has them.

A reading, mark, tool, guard or picture is stored by itself, so that two people can measure one vehicle at the same time
and nobody has to save. The file's order is the order in which they were first put.
"""

from collections.abc import Callable
from typing import Any

from django.db import transaction
from django.db.models import Max
from pydantic import TypeAdapter, ValidationError

from engine.document.fields import Name, Point
from engine.document.read import in_sentences
from engine.document.records import Record
from engine.document.survey import (
    PLACE_FIELDS,
    Camera,
    Guard,
    Photo,
    Reading,
    StandardError,
    Stickers,
    TakenPicture,
)
from engine.errors import DocumentRefused
from engine.facts import facts
from server.answers import ActionRefused
from server.jobs.models import Job
from server.records.models import SurveyItem

Values = dict[str, Any]
MOST = 4000
LISTS = {"reading": "readings", "photo": "photos", "guard": "guards", "picture": "pictures"}
NAMED = {"mark": "marks", "tool": "tools", "camera": "cameras"}
WHOLE = "stickers"  # one item, under its own name
CHECKS: dict[str, TypeAdapter[Any]] = {
    "reading": TypeAdapter(Reading),
    "photo": TypeAdapter(Photo),
    "guard": TypeAdapter(Guard),
    "mark": TypeAdapter(Point),
    "tool": TypeAdapter(StandardError),
    "record": TypeAdapter(Record),
    "picture": TypeAdapter(TakenPicture),
    "camera": TypeAdapter(Camera),
    WHOLE: TypeAdapter(Stickers),
}
NAME: TypeAdapter[Any] = TypeAdapter(Name)


@facts(kw_only=False)
class Kept:
    """One item as it is stored: its key, what the file has, who put it last and when."""

    kind: str
    key: str
    body: Any
    by: str
    at: str


def items_of(job: Job) -> list[Kept]:
    """Return what is there of a job's survey, in the order in which it was put."""
    found = job.survey_items.filter(gone=False).select_related("by")
    return [
        Kept(item.kind, item.key, item.body, item.by.get_username() if item.by else "", item.at.isoformat())
        for item in found
    ]


def survey_of(items: list[Kept]) -> Values:
    """Return items as the survey of a project file; a reading says who took it and when."""
    survey: Values = {name: {} for name in NAMED.values()} | {name: [] for name in LISTS.values()}
    for item in items:
        if item.kind in NAMED:
            survey[NAMED[item.kind]][item.key] = item.body
        elif item.kind == "reading":
            survey["readings"].append({"by": item.by, "when": item.at, **item.body})
        elif item.kind in LISTS:
            survey[LISTS[item.kind]].append(item.body)
        elif item.kind == WHOLE:
            survey[WHOLE] = item.body
    return {name: some for name, some in survey.items() if some}


def records_of(items: list[Kept]) -> list[Values]:
    """Return what was found on the floor as the project file has it, in order of time."""
    found = [{"by": item.by, **item.body} for item in items if item.kind == "record"]
    return sorted(found, key=lambda record: str(record.get("when", "")))


def put_records(user: Any, job: Job, records: list[Values]) -> None:
    """Store a file's records beside what is there."""
    start = job.survey_items.count()
    SurveyItem.objects.bulk_create(
        SurveyItem(job=job, kind="record", key=f"file-{start + n}", body=body, by=user, place=start + n)
        for n, body in enumerate(records)
    )


def put_item(user: Any, job: Job, kind: str, key: str, body: Any) -> None:
    """Store one item, in place of the one of the same key; raise DocumentRefused where it is none."""
    check_item(kind, key, body)
    with transaction.atomic():
        others = job.survey_items
        if others.count() >= MOST:
            raise ActionRefused(422, "too_many", f"A survey holds {MOST} readings and marks at most.")
        last = others.aggregate(last=Max("place"))["last"] or 0.0
        SurveyItem.objects.update_or_create(
            job=job,
            kind=kind,
            key=key,
            defaults={"body": body, "by": user, "gone": False},
            create_defaults={"body": body, "by": user, "place": last + 1},
        )


def remove_item(job: Job, kind: str, key: str) -> None:
    """Take one item out; it can be put again."""
    job.survey_items.filter(kind=kind, key=key).update(gone=True)


def put_survey(user: Any, job: Job, survey: Values) -> None:
    """Store a file's whole survey beside what is there."""
    items: list[tuple[str, str, Any]] = []
    for kind, name in NAMED.items():
        items += [(kind, key, body) for key, body in (survey.get(name) or {}).items()]
    for kind, name in LISTS.items():
        items += [
            (kind, f"file-{number}", body)
            for number, body in enumerate(survey.get(name) or [], start=job.survey_items.count())
        ]
    if survey.get(WHOLE):
        items.append((WHOLE, WHOLE, survey[WHOLE]))
    with transaction.atomic():
        for number, (kind, key, body) in enumerate(items):
            SurveyItem.objects.update_or_create(
                job=job,
                kind=kind,
                key=key,
                defaults={"body": body, "by": user, "gone": False, "place": number},
            )


def follow_names(job: Job, before: Values, after: Values) -> None:
    """Let the survey follow stations that were given another name, so that no reading loses its places."""
    old = [station["name"] for station in before.get("stations", [])]
    new = [station["name"] for station in after.get("stations", [])]
    if len(old) != len(new):
        return
    renamed = {a: b for a, b in zip(old, new, strict=True) if a != b and a not in new and b not in old}
    if not renamed:
        return

    def follow(place: str) -> str:
        station, slash, point = place.rpartition("/")
        return f"{renamed[station]}/{point}" if slash and station in renamed else place

    for item in job.survey_items.all():
        body = _with_places(item.body, follow)
        if body != item.body:
            job.survey_items.filter(pk=item.pk).update(body=body)


def _with_places(body: Any, follow: Callable[[str], str]) -> Any:
    if not isinstance(body, dict):
        return body
    changed = dict(body)
    for field in PLACE_FIELDS:
        if isinstance(changed.get(field), str):
            changed[field] = follow(changed[field])
        elif isinstance(changed.get(field), list):
            changed[field] = [follow(place) for place in changed[field]]
    if isinstance(changed.get("places"), dict):  # of stickers
        changed["places"] = {
            number: follow(its) if isinstance(its, str) else {**its, "place": follow(its["place"])}
            for number, its in changed["places"].items()
        }
    if isinstance(changed.get("picked"), dict):
        changed["picked"] = {follow(place): spot for place, spot in changed["picked"].items()}
    return changed


def check_item(kind: str, key: str, body: Any) -> None:
    """Raise DocumentRefused where an item is not what its kind may be."""
    try:
        if kind in NAMED:
            NAME.validate_python(key)
        CHECKS[kind].validate_python(body)
    except ValidationError as error:
        raise DocumentRefused(in_sentences(error, under=LISTS.get(kind, kind))) from error
