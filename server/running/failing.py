"""What is answered when nothing else caught it: a sentence and the number of the request, never a trace."""

import logging
import sys
from html import escape

from django.core.exceptions import DisallowedHost
from django.db import DatabaseError, IntegrityError
from django.http import HttpRequest, HttpResponse

from server.answers import refused
from server.running.log import number
from server.running.whole import NO_ROOM, NO_WRITING

log = logging.getLogger("jugatrix")
DAMAGED = "The job store is damaged. Stop Jugatrix and restore the newest backup; docs/running.md says how."
FAULTS = (
    (
        "locked",
        "database_locked",
        "Somebody else is storing something long. Nothing was stored; try again in a moment.",
    ),
    (
        "readonly",
        "database_read_only",
        "The job store cannot be written: its folder or file is read-only. Nothing was stored.",
    ),
    ("disk is full", "disk_full", "The disk is full. Nothing was stored; make room, then try again."),
    (
        "unable to open",
        "database_missing",
        "The job store cannot be opened. Is its folder there, and may it be written?",
    ),
    (
        "not a database",
        "database_damaged",
        DAMAGED,
    ),
    (
        "malformed",
        "database_damaged",
        DAMAGED,
    ),
)
UNKNOWN = ("database_failed", "The job store cannot be read just now. Nothing was stored; try again.")


def of_database(error: BaseException) -> tuple[str, str]:
    """Return the code and the sentence for a database that cannot be read or written."""
    said = str(error)
    return next(((code, detail) for part, code, detail in FAULTS if part in said), UNKNOWN)


def of_disk(error: OSError) -> tuple[str, str] | None:
    """Return the code and the sentence for a disk that takes nothing; None where an error is another."""
    if error.errno in NO_ROOM:
        return "disk_full", "The disk is full. Nothing was stored; make room, then try again."
    if error.errno in NO_WRITING:
        return (
            "disk_read_only",
            "The data folder cannot be written: its disk or folder is read-only. Nothing was stored.",
        )
    return None


def outer_fault(error: BaseException | None) -> tuple[str, str] | None:
    """Return the code and the sentence for the fault of the store or the disk that an error came from, if it did."""
    while error is not None:
        if isinstance(error, DatabaseError) and not isinstance(error, IntegrityError):
            return of_database(error)
        if isinstance(error, OSError) and (found := of_disk(error)):
            return found
        error = error.__cause__ or error.__context__
    return None


def failed(request: HttpRequest) -> HttpResponse:
    """Answer what failed outside the API, signing in with a full disk among it."""
    error = sys.exc_info()[1]
    fault = outer_fault(error)
    if fault is not None:
        return _said(request, 503, *fault, error)
    return _said(
        request, 500, "server_error", "The server failed at this. What you entered is kept; try again.", error
    )


def not_understood(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer what Django takes for a bad request: a session that could not be kept, a name this copy does not go by."""
    fault = outer_fault(exception)
    if fault is not None:
        return _said(request, 503, *fault, exception)
    if isinstance(exception, DisallowedHost):
        words = (
            "Jugatrix does not go by this name. Whoever runs it adds it to `names`; docs/running.md says how."
        )
        return _said(request, 400, "unknown_name", words, exception)
    return _said(request, 400, "refused", "This was not understood. Load the page again.", exception)


def _said(
    request: HttpRequest, status: int, code: str, detail: str, error: BaseException | None
) -> HttpResponse:
    trace = error if status == 500 else None
    log.error("%s %s failed: %s", request.method, request.path, error, exc_info=trace)
    if request.path.startswith("/api/"):
        return refused(status, code, detail, values={"request": number.get()})
    page = (
        "<!doctype html><html lang=en><title>Jugatrix</title><h1>This page failed</h1>"
        f"<p>{escape(detail)}</p><p>Request {number.get()}</p></html>"
    )
    return HttpResponse(page, status=status)
