"""The shop's log: a line an event, `key=value`, so that a person reads it and a machine takes it apart.

Every request has a number; it goes out with the answer, stands on the page when something failed, and finds the lines here.
"""

import logging
import logging.handlers
import re
import secrets
import time
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime
from pathlib import Path

from django.http import HttpRequest, HttpResponseBase

HEADER = "X-Request-ID"
SLOW_MS = 2000
SECRETS = {"token", "working_key"}
KEPT_FILES, KEPT_BYTES = 8, 4_000_000
number: ContextVar[str] = ContextVar("number", default="")
log = logging.getLogger("jugatrix.request")


def told(value: object) -> str:
    """Return a value as it stands after a key: quoted where it has spaces, never over a line's end."""
    text = str(value).replace("\\", "\\\\").replace('"', '\\"')
    text = "".join(c if c.isprintable() else c.encode("unicode_escape").decode() for c in text)
    return f'"{text}"' if not text or any(c in text for c in ' "=\\') else text


class Lines(logging.Formatter):
    """Formats a record as one line of `key=value`; what failed follows, indented."""

    def format(self, record: logging.LogRecord) -> str:
        at = (
            datetime.fromtimestamp(record.created, UTC)
            .isoformat(timespec="milliseconds")
            .replace("+00:00", "Z")
        )
        parts = {"at": at, "level": record.levelname.lower(), "from": record.name}
        if number.get():
            parts["request"] = number.get()
        fields = getattr(record, "fields", None)
        parts |= {key: str(value) for key, value in fields.items()} if isinstance(fields, dict) else {}
        if record.getMessage():
            parts["said"] = record.getMessage()
        line = " ".join(f"{key}={told(value)}" for key, value in parts.items())
        if record.exc_info:
            line += "\n    " + self.formatException(record.exc_info).replace("\n", "\n    ")
        return line


def _path(request: HttpRequest) -> str:
    """Return what was asked; of a link that lets somebody in, or of work that only its asker may stop, not which."""
    match = request.resolver_match
    if match is None or not SECRETS & set(match.kwargs):
        return request.path
    return "/" + re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", match.route)


class ShopLog(logging.handlers.RotatingFileHandler):
    """The log's file in the data folder; where it cannot be written the console has it, and nothing fails for it."""

    def __init__(self, filename: str) -> None:
        try:
            Path(filename).parent.mkdir(parents=True, exist_ok=True)
        except OSError:
            filename = "/dev/null"
        super().__init__(filename, maxBytes=KEPT_BYTES, backupCount=KEPT_FILES, encoding="utf-8", delay=True)

    def emit(self, record: logging.LogRecord) -> None:
        try:
            super().emit(record)
        except OSError:
            self.stream = None

    def handleError(self, record: logging.LogRecord) -> None:
        """Say nothing more: a full disk is told where it is met."""


class RequestLog:
    """Number each request, and write down what was asked by whom, what it was answered, and how long that took."""

    def __init__(self, then: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.then = then

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        number.set(secrets.token_hex(4))
        began = time.perf_counter()
        response = self.then(request)
        took = round(1000 * (time.perf_counter() - began))
        response[HEADER] = number.get()
        if request.path.startswith("/api/"):
            response.setdefault("Cache-Control", "no-store")
            self._tell(request, response.status_code, took)
        return response

    def _tell(self, request: HttpRequest, status: int, took: int) -> None:
        level = logging.INFO
        if status >= 500:
            level = logging.ERROR
        elif took > SLOW_MS or status == 429:
            level = logging.WARNING
        user = getattr(request, "_told_user", None) or getattr(request, "user", None)
        fields = {
            "who": user.get_username() if user is not None and user.is_authenticated else "-",
            "address": request.META.get("REMOTE_ADDR", "-"),
            "method": request.method,
            "path": _path(request),
            "status": status,
            "ms": took,
        }
        log.log(level, "", extra={"fields": fields})
