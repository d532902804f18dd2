"""`/health`: whether it can store and answer, for a monitor, a proxy or a person."""

from datetime import UTC, datetime
from typing import Any

from django.db import DatabaseError, connection, transaction
from django.http import HttpRequest, HttpResponse

from server.answers import answer
from server.keeping.backup import newest_backup
from server.running.disk import free_mb, warnings


def health(request: HttpRequest) -> HttpResponse:
    """Answer 200 where jobs can be read and stored, else 503 with what is in the way."""
    found: dict[str, Any] = {"ok": True, "database": "ok", "faults": []}
    try:
        # Begun for writing, as every save is: a store that only reads is not well.
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) FROM jobs_job")
    except DatabaseError as error:
        found |= {"ok": False, "database": "failed"}
        found["faults"].append(f"The job store does not answer: {error}.")
    free = free_mb()
    found["free_mb"] = None if free is None else round(free)
    found["warnings"] = warnings()
    if free is not None and free < 5:
        found["ok"] = False
        found["faults"].append("The disk is full.")
    last = newest_backup()
    found["last_backup"] = None if last is None else last.made.isoformat()
    found["now"] = datetime.now(UTC).isoformat(timespec="seconds")
    response = answer(found, 200 if found["ok"] else 503)
    response["Cache-Control"] = "no-store"
    return response
