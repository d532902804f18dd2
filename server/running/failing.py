"""What is answered when nothing else caught it: a sentence and the number of the request, never a trace."""

import logging
import sys
from html import escape

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


def failed(request: HttpRequest) -> HttpResponse:
    """Answer what failed outside the API, signing in with a full disk among it."""
    error = sys.exc_info()[1]
    status, code = 500, "server_error"
    detail = "The server failed at this. What you entered is kept; try again."
    if isinstance(error, OperationalError):
        status, (code, detail) = 503, of_database(error)
    log.error(
        "%s %s failed: %s", request.method, request.path, error, exc_info=error if status == 500 else None
    )
    if request.path.startswith("/api/"):
        return refused(status, code, detail, values={"request": number.get()})
    page = f"<!doctype html><title>Jugatrix</title><h1>This page failed</h1><p>{escape(detail)}</p><p>Request {number.get()}</p>"
    return HttpResponse(page, status=status)
