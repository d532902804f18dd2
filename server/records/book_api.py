"""A job's book over HTTP: on screen, as a PDF for the customer, as CSV out and in."""

from collections.abc import Callable
from datetime import date
from hashlib import sha256
from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from server.accounts.shop import shop
from server.answers import ActionRefused, answer
from server.jobs.actions.open_job import open_job
from server.jobs.models import Job
from server.paper.setting import Paper
from server.paper.sheets import NoPaper
from server.records.actions.records_csv import records_table, take_records
from server.records.actions.survey import items_of, records_of
from server.records.actions.tables import BadTable
from server.records.book import KINDS, Entry, book_of
from server.records.customer_book.pdf import book_pdf
from server.records.floor_pdf import floor_pdf
from server.running.caching import cached_away
from server.running.following import key_of
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["book"])


class EntryOut(Schema):
    """An entry of the book: when, by whom, what it says and holds; a revision's number, a picture's id."""

    when: str
    by: str
    kind: str
    say: SentenceOut
    sheet: str
    note: str
    holds: list[SentenceOut]
    set_then: list[SentenceOut]
    good: bool
    number: int | None
    photo: str
    key: str


class BookOut(Schema):
    """A job's book, the newest entry first, and what each kind of entry is called."""

    entries: list[EntryOut]
    kinds: dict[str, str]


class TakenIn(Schema):
    """How many records a table brought."""

    records: int


@router.get("/jobs/{job_id}/book", response=BookOut, operation_id="readBook")
def read_book(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return everything that happened to a job, the newest first."""
    entries = book_of(open_job(request.user, job_id))
    return answer({"entries": [_entry(entry) for entry in reversed(entries)], "kinds": KINDS})


def _entry(entry: Entry) -> dict[str, Any]:
    return {
        "when": entry.when,
        "by": entry.by,
        "kind": entry.kind,
        "say": sentence_values(entry.say),
        "sheet": entry.sheet,
        "note": entry.note,
        "holds": [sentence_values(one) for one in entry.holds],
        "set_then": [sentence_values(one) for one in entry.set_then],
        "good": entry.good,
        "number": entry.number,
        "photo": entry.photo,
        "key": entry.key,
    }


@router.get("/jobs/{job_id}/book.pdf", operation_id="printBook")
def print_book(request: HttpRequest, job_id: UUID, paper: str = "A4", inches: bool = False) -> HttpResponse:
    """Return the book as a PDF for the customer, its pictures with it."""
    job = open_job(request.user, job_id)
    its = Paper(by=request.user.get_username(), page=paper, inches=inches)
    return _pdf(
        cached_away(printed_book, job.pk, its, key=key_of(request), of=_state(job)), f"{job.name} book"
    )


@router.get("/jobs/{job_id}/floor.pdf", operation_id="printFloorSheets")
def print_floor(request: HttpRequest, job_id: UUID, paper: str = "A4", inches: bool = False) -> HttpResponse:
    """Return the sheets for the floor: to cycle each station by, to weigh it by, and what is to be turned."""
    job = open_job(request.user, job_id)
    its = Paper(by=request.user.get_username(), page=paper, inches=inches)
    return _pdf(
        cached_away(printed_floor, job.pk, its, key=key_of(request), of=_state(job)),
        f"{job.name} floor sheets",
    )


def printed_book(job_id: UUID, paper: Paper) -> bytes:
    """Return the book of a job; raise ActionRefused for a page that there is not."""
    return _on(book_pdf, job_id, paper)


def printed_floor(job_id: UUID, paper: Paper) -> bytes:
    """Return the floor's sheets of a job; raise ActionRefused for a page that there is not."""
    return _on(floor_pdf, job_id, paper)


def _on(print_it: Callable[[Job, Paper], bytes], job_id: UUID, paper: Paper) -> bytes:
    try:
        return print_it(Job.objects.get(pk=job_id), paper)
    except NoPaper as error:
        raise ActionRefused(422, "no_paper", str(error)) from error


def _said_by_shop() -> tuple[Any, ...]:
    """Return what every paper bears of the shop."""
    its = shop()
    return its.name, its.address, sha256(bytes(its.mark or b"")).hexdigest()


def _state(job: Job) -> list[Any]:
    """Return what a job's papers are made of beside the page: the same as long as nothing was stored."""
    latest = (job.survey_items, job.photographs)
    return [
        date.today(),
        job.name,
        job.newest().pk,
        *_said_by_shop(),
        job.revisions.count(),
        *(list(some.order_by("pk").values_list("pk", "at", "gone")) for some in latest),
    ]


def _pdf(data: bytes, name: str) -> HttpResponse:
    response = HttpResponse(data, content_type="application/pdf")
    safe = "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-")[:80]
    response["Content-Disposition"] = (
        f'attachment; filename="{safe.encode("ascii", "ignore").decode() or "book"}.pdf"'
    )
    return response


@router.get("/jobs/{job_id}/records.csv", operation_id="exportRecords")
def export_records(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return a job's records as CSV: a row a length read, a scale, a height, a setting, a drive, in order of time."""
    text = records_table(records_of(items_of(open_job(request.user, job_id))))
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="records.csv"'
    return response


@router.post(
    "/jobs/{job_id}/records.csv",
    response=TakenIn,
    operation_id="importRecords",
)
def import_records(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Take records in from a table of the same form; what is there already stays once."""
    job = open_job(request.user, job_id)
    try:
        count = take_records(request.user, job, request.body)
    except BadTable as error:
        raise ActionRefused(422, "bad_table", str(error)) from error
    return answer({"records": count})
