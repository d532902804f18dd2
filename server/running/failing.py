"""What is answered when nothing else caught it: a sentence and the number of the request, never a trace."""

import logging
import sys
from html import escape

from django.core.exceptions import DisallowedHost
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse

from server.answers import refused
from server.running.log import number

log = logging.getLogger("jugatrix")
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
        "malformed",
        "database_damaged",
        "The job store is damaged. Stop Jugatrix and restore the newest backup; docs/running.md says how.",
    ),
)
UNKNOWN = ("database_failed", "The job store cannot be read just now. Nothing was stored; try again.")


def of_database(error: BaseException) -> tuple[str, str]:
    """Return the code and the sentence for a database that cannot be read or written."""
    said = str(error)
    return next(((code, detail) for part, code, detail in FAULTS if part in said), UNKNOWN)


def _database_fault(error: BaseException | None) -> OperationalError | None:
    """Return the fault of the database that an error came from, if it did."""
    while error is not None and not isinstance(error, OperationalError):
        error = error.__cause__ or error.__context__
    return error


def failed(request: HttpRequest) -> HttpResponse:
    """Answer what failed outside the API, signing in with a full disk among it."""
    error = sys.exc_info()[1]
    fault = _database_fault(error)
    if fault is not None:
        code, detail = of_database(fault)
        return _said(request, 503, code, detail, fault)
    return _said(
        request, 500, "server_error", "The server failed at this. What you entered is kept; try again.", error
    )


def not_understood(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer what Django takes for a bad request: a session that could not be kept, a name this copy does not go by."""
    fault = _database_fault(exception)
    if fault is not None:
        code, detail = of_database(fault)
        return _said(request, 503, code, detail, fault)
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
