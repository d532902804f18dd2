"""What every answer is made with: fast JSON, and one shape for refusals."""

from typing import Annotated, Any

import numpy as np
import orjson
from django.http import HttpResponse
from ninja import Schema
from pydantic import WithJsonSchema

OF_THE_FILE = "x-of-the-file"
"""The mark of what travels as it stands in a project file; the published schema names its shape there."""


def _as_in_the_file(shape: str) -> Any:
    # Checked by the engine, which says what is wrong in its own sentences: to the call it is an object.
    return WithJsonSchema({OF_THE_FILE: shape})


Document = Annotated[dict[str, Any], _as_in_the_file("Project")]
StationValues = Annotated[dict[str, Any], _as_in_the_file("Station")]
SurveyValues = Annotated[dict[str, Any], _as_in_the_file("Survey")]
ReadingValues = Annotated[dict[str, Any], _as_in_the_file("Reading")]
RecordValues = Annotated[dict[str, Any], _as_in_the_file("Record")]


class Refusal(Schema):
    """What every refusal looks like. `faults` lists each fault of a document with its path."""

    code: str
    detail: str
    path: str = ""
    values: dict[str, Any] = {}


class ActionRefused(Exception):
    """A server action that may not or cannot be done; `status` is its HTTP status."""

    def __init__(self, status: int, code: str, detail: str, **values: Any) -> None:
        self.status, self.code, self.values = status, code, values
        super().__init__(detail)


def answer(values: Any, status: int = 200) -> HttpResponse:
    """Return plain values and arrays as they are, without checking them again; NaN becomes null."""
    return HttpResponse(
        orjson.dumps(values, default=_plain, option=orjson.OPT_SERIALIZE_NUMPY),
        status=status,
        content_type="application/json",
    )


def _plain(value: Any) -> Any:
    # An array that does not lie in one piece is written like any other.
    return value.tolist() if isinstance(value, np.ndarray) else str(value)


def refused(
    status: int, code: str, detail: str, path: str = "", values: dict[str, Any] | None = None
) -> HttpResponse:
    """Return a refusal."""
    return answer({"code": code, "detail": detail, "path": path, "values": values or {}}, status)
