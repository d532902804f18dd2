"""The API and the one place where refusals become HTTP: {code, detail, path, values}."""

import logging
import re
from contextlib import suppress
from functools import cache
from typing import Any

import orjson
from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, AuthorizationError, HttpError, ValidationError
from ninja.parser import Parser
from ninja.renderers import BaseRenderer
from pydantic import ValidationError as PydanticError

from engine.document.read import MAX_DEPTH, read_json, too_big
from engine.errors import DocumentRefused, EngineError
from server.accounts.api import router as accounts
from server.accounts.may import AtTheBench
from server.accounts.people_api import router as people
from server.answers import ActionRefused, refused
from server.exports.api import router as exports
from server.instruments.api import router as instruments
from server.jobs.api import router as jobs
from server.jobs.comparing import router as comparing
from server.jobs.people_api import router as job_people
from server.keeping.api import router as machine
from server.parts.api import router as parts
from server.proving.api import router as proving
from server.records.api import router as records
from server.records.book_api import router as book
from server.records.photographs_api import router as photographs
from server.records.stickers_api import router as stickers
from server.running.failing import outer_fault
from server.running.log import number
from server.running.working_api import router as working
from server.shop.api import router as shop
from server.shop.cards import router as cards
from server.sizing.dampers import router as dampers
from server.sizing.mounts import router as mounts
from server.sizing.right import router as right
from server.sizing.rockers import router as rockers
from server.sizing.springs import router as springs
from server.solving.api import router as solving
from server.solving.frame import router as frame
from server.starting.api import router as starting
from server.starting.practice_api import router as practice
from server.steps.api import router as steps
from server.steps.week_api import router as week
from server.study.api import router as study

log = logging.getLogger("jugatrix")
MOST_ASKED = settings.DATA_UPLOAD_MAX_MEMORY_SIZE  # two documents are compared in one question
MOST_FORGOTTEN, FORGOTTEN_AT_ONCE = 64_000_000, 1 << 18
WRAPPED = 4  # levels that a question lays round a document


class JsonRenderer(BaseRenderer):
    """Fast JSON; NaN becomes null."""

    media_type = "application/json"

    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> bytes:
        return orjson.dumps(data, default=str)


class StrictParser(Parser):
    """Reads bodies as project files are read: one sentence for what is no JSON, NaN or too deep."""

    def parse_body(self, request: HttpRequest) -> Any:
        return read_json(request.body, MOST_ASKED, MAX_DEPTH + WRAPPED)


def operation_of(request: HttpRequest) -> str:
    """Return the operation id of a call, by the address that answers it and its method; empty where none does."""
    match = request.resolver_match
    if match is None:
        return ""
    path = "/" + re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", match.route)
    return _operations().get((str(request.method), path), "")


@cache
def _operations() -> dict[tuple[str, str], str]:
    """Return every published operation's id by its method and its address."""
    return {
        (method.upper(), path): its["operationId"]
        for path, methods in api.get_openapi_schema()["paths"].items()
        for method, its in methods.items()
    }


api = NinjaAPI(
    parser=StrictParser(),
    title="Jugatrix",
    version="1",
    auth=AtTheBench(operation_of),
    renderer=JsonRenderer(),
    docs_url=None,
)


@api.exception_handler(EngineError)
def _engine(request: HttpRequest, error: EngineError) -> HttpResponse:
    values = {key: value for key, value in error.values.items() if key not in {"faults", "path", "code"}}
    if isinstance(error, DocumentRefused):
        values["faults"] = [{"path": fault.path, "message": fault.message} for fault in error.faults]
    return refused(422, error.code, str(error), error.path, values)


@api.exception_handler(ActionRefused)
def _action(request: HttpRequest, error: ActionRefused) -> HttpResponse:
    return refused(error.status, error.code, str(error), "", error.values)


@api.exception_handler(RequestDataTooBig)
def _too_big(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
    size = int(request.META.get("CONTENT_LENGTH") or 0)
    _let_finish(request)
    return refused(413, "file_too_big", too_big(size))


def _let_finish(request: HttpRequest) -> None:
    """Read on, and forget, what is still being sent: a line that is cut meanwhile is taken for no line, and the answer is lost."""
    left = MOST_FORGOTTEN
    with suppress(OSError):
        while left > 0 and (some := len(request.read(FORGOTTEN_AT_ONCE))):
            left -= some


@api.exception_handler(PydanticError)
def _own_figure(request: HttpRequest, error: PydanticError) -> HttpResponse:
    """Say that a figure that was worked out is beyond what a job may hold, and which."""
    first = error.errors()[0]
    what = ".".join(str(part) for part in first["loc"])
    log.warning("%s %s: %s of %s: %s", request.method, request.path, what, error.title, first["msg"])
    words = (
        f"What follows from this job is beyond what a job may hold: {what} of a made part ({first['msg'].lower()}). "
        "Look for a size with a nought too many."
    )
    return refused(422, "beyond_bounds", words, values={"request": number.get()})


@api.exception_handler(Http404)
def _missing(request: HttpRequest, error: Http404) -> HttpResponse:
    return refused(404, "not_found", "There is nothing here that you can open. It may have been removed.")


@api.exception_handler(AuthenticationError)
def _stranger(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
    return refused(401, "signed_out", "You are signed out. Sign in to go on; what you entered is kept.")


@api.exception_handler(AuthorizationError)
def _forbidden(request: HttpRequest, error: AuthorizationError) -> HttpResponse:
    return refused(403, "forbidden", "This is not yours to do.")


@api.exception_handler(Exception)
def _failed(request: HttpRequest, error: Exception) -> HttpResponse:
    """Say what keeps the store or the disk from being written or read; what it is not is a failure of ours."""
    fault = outer_fault(error)
    values = {"request": number.get()}
    if fault is not None:
        log.warning("%s %s: %s", request.method, request.path, error)
        return refused(503, *fault, values=values)
    log.exception("%s %s failed", request.method, request.path)
    words = "The server failed at this. What you entered is kept; try again."
    return refused(500, "server_error", words, values=values)


@api.exception_handler(HttpError)
def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    if isinstance(error.__cause__, EngineError):
        return _engine(request, error.__cause__)
    if error.status_code == 403 and not request.user.is_authenticated:
        return _stranger(request, AuthenticationError())  # the session went, and its token with it
    return refused(error.status_code, "refused", str(error))


@api.exception_handler(ValidationError)
def _unreadable(request: HttpRequest, error: ValidationError) -> HttpResponse:
    first = error.errors[0]
    if first["loc"][0] == "path":
        return _missing(request, Http404())
    path = ".".join(str(part) for part in first["loc"][1:])
    return refused(422, "request_refused", f"{path}: {first['msg']}", path)


api.add_router("/session", accounts)
api.add_router("/people", people)
api.add_router("/machine", machine)
api.add_router("/working", working)
api.add_router("/jobs", jobs)
api.add_router("/jobs", job_people)
api.add_router("/jobs", exports)
api.add_router("", solving)
api.add_router("", comparing)
for sizing in (springs, dampers, mounts, rockers, right, frame):
    api.add_router("", sizing)
api.add_router("/layouts", starting)
api.add_router("/practice", practice)
api.add_router("/parts", parts)
api.add_router("", records)
api.add_router("", photographs)
api.add_router("", stickers)
api.add_router("", book)
api.add_router("/instruments", instruments)
api.add_router("", shop)
api.add_router("", cards)
api.add_router("", proving)
api.add_router("", study)
api.add_router("", steps)
api.add_router("", week)
