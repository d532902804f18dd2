"""Bytes or text into a checked project, or every fault in plain sentences with its path."""

import json
import math
import sys
from collections.abc import Iterator
from typing import Any

from pydantic import ValidationError

from engine.document.check import cross_faults
from engine.document.check_frame import frame_faults
from engine.document.check_survey import survey_faults
from engine.document.check_work import work_faults
from engine.document.make import PART_KINDS
from engine.document.records import RECORD_KINDS
from engine.document.schema import Project
from engine.document.survey import USUAL_TOOL
from engine.errors import DocumentRefused, Fault

MAX_BYTES = 4_000_000
MAX_DEPTH = 40
MAX_FAULTS = 20
LEAST_NUMBER = sys.float_info.min  # below it figures are lost one by one, and what divides by one is infinite
MOST_WHOLE = 2**53  # beyond it a browser's numbers are no longer whole
UNIT_KINDS = ("coilover", "spring", "damper", "air_spring", "bump_stop", "strap", "bar")
KINDS = {
    "units": UNIT_KINDS,
    "readings": tuple(USUAL_TOOL),
    "parts": PART_KINDS,
    "records": RECORD_KINDS,
}  # what stands in a list by its `kind`


def read_json(data: bytes | str, most: int = MAX_BYTES, levels: int = MAX_DEPTH) -> Any:
    """Return the JSON value in `data`; raise DocumentRefused in one sentence if there is none.

    most, levels : bytes, and how deep it may be nested; more where documents come wrapped in a question
    """
    if len(data) > most:
        raise _refused(too_big(len(data)))
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
        value = json.loads(text, object_pairs_hook=_each_once)
        json.dumps(value, ensure_ascii=False).encode()
    except DocumentRefused:
        raise
    except UnicodeDecodeError as error:
        raise _refused(
            f"The file is not text in UTF-8 (byte {error.start}). Export it again as JSON."
        ) from error
    except UnicodeEncodeError as error:
        raise _refused("The file holds half a character (a lone surrogate). Export it again.") from error
    except json.JSONDecodeError as error:
        raise _refused(
            f"The file is not readable JSON: line {error.lineno}, column {error.colno}: {error.msg}. "
            "Correct it there, or export it again."
        ) from error
    except (RecursionError, ValueError) as error:
        # Nested beyond Python's own patience, or a number of more digits than it reads.
        raise _refused(
            f"The file is nested deeper than {levels} levels, or holds a number thousands of digits long. "
            "Export it again."
        ) from error
    if _depth(value, levels) > levels:
        raise _refused(f"The file is nested deeper than {levels} levels. Export it again.")
    faults = _number_faults(value)
    if faults:
        raise DocumentRefused(faults)
    return value


def _each_once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Return an object's pairs; raise DocumentRefused for a key that stands twice, of which one would be lost in silence."""
    found = dict(pairs)
    if len(found) < len(pairs):
        keys = [key for key, _ in pairs]
        twice = next(key for key in keys if keys.count(key) > 1)
        raise _refused(
            f"The key “{twice[:60]}” stands twice in one object: one of the two would be lost. Take one out."
        )
    return found


def _number_faults(value: Any) -> list[Fault]:
    """Return what is no number that is kept; paths are made up only where there is something to say."""
    left = [value]
    while left:
        one = left.pop()
        kind = type(one)
        if kind is dict:
            left += one.values()
        elif kind is list:
            left += one
        elif (kind is float and _is_none(one)) or (kind is int and abs(one) > MOST_WHOLE):
            return list(_not_numbers(value, ""))[:MAX_FAULTS]
    return []


def _is_none(value: float) -> bool:
    """Return whether a float is none to work with: NaN, infinite, or so near nothing that its inverse is infinite."""
    return not math.isfinite(value) or 0.0 < abs(value) < LEAST_NUMBER


def _not_numbers(value: Any, path: str) -> Iterator[Fault]:
    """Yield every NaN, infinity and next to nothing with its path, in keys that nobody knows as well."""
    if isinstance(value, float) and not math.isfinite(value):
        yield Fault(
            path, f"must be a finite number, got {json.dumps(value)}; measure it again, or leave the key out"
        )
    elif isinstance(value, float) and _is_none(value):
        yield Fault(
            path, f"must be nothing or a number that can be worked with, got {value!r}; measure it again"
        )
    elif isinstance(value, int) and abs(value) > MOST_WHOLE:
        yield Fault(
            path, f"is a whole number of {len(str(abs(value)))} digits, more than is kept; correct it"
        )
    elif isinstance(value, dict):
        for key, child in value.items():
            yield from _not_numbers(child, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for number, child in enumerate(value):
            yield from _not_numbers(child, f"{path}[{number}]")


def too_big(size: int) -> str:
    """Return the sentence that refuses a file of `size` bytes."""
    return (
        f"The file is {size / 1e6:.1f} MB; a job is at most {MAX_BYTES / 1e6:.0f} MB. "
        "Take photographs and other attachments out of it."
    )


def refuse_too_big(size: int) -> None:
    """Raise DocumentRefused for a document of more bytes than a job may have."""
    if size > MAX_BYTES:
        raise _refused(too_big(size))


def read_project(data: bytes | str) -> Project:
    """Return the checked project in `data`; raise DocumentRefused with every fault."""
    return check_project(read_json(data), numbers=False)


def check_project(value: Any, numbers: bool = True) -> Project:
    """Return the checked project in an already parsed JSON value; raise DocumentRefused.

    numbers : looked through too; not where `read_json` has done so
    """
    if not isinstance(value, dict):
        raise _refused(f"A project file is one JSON object; this one holds {_kind(value)}.")
    marks = _mark_faults(value) or (_number_faults(value) if numbers else [])
    if marks:
        raise DocumentRefused(marks)
    try:
        project = Project.model_validate(value)
    except ValidationError as error:
        raise DocumentRefused(in_sentences(error)) from error
    faults = [
        *cross_faults(project), *survey_faults(project), *work_faults(project), *frame_faults(project)
    ]  # fmt: skip
    if faults:
        raise DocumentRefused(faults[:MAX_FAULTS])
    return project


def in_sentences(error: ValidationError, under: str = "") -> list[Fault]:
    """Return what pydantic refused as sentences with their paths; `under` is the list that a lone value belongs to."""
    faults = []
    for item in error.errors(include_url=False, include_context=True):
        values: dict[str, Any] = dict(item)
        if under:
            values["loc"] = (under, 0, *values["loc"])
        fault = _fault(values)
        faults.append(
            Fault(fault.path.removeprefix(f"{under}[0]").lstrip("."), fault.message) if under else fault
        )
    return _unique(faults)[:MAX_FAULTS]


def _refused(sentence: str) -> DocumentRefused:
    return DocumentRefused([Fault("", sentence)])


def _mark_faults(value: dict[str, Any]) -> list[Fault]:
    """Return what is wrong with the two marks that say what the file is."""
    if value.get("format") != "jugatrix-project":
        got = json.dumps(value.get("format"))[:60]
        return [
            Fault(
                "format", f'must be "jugatrix-project", got {got}; this is not a project file of this program'
            )
        ]
    version = value.get("version")
    if version != 1 or isinstance(version, bool) or not isinstance(version, int):
        got = json.dumps(version)[:60]
        return [
            Fault(
                "version", f"this program reads version 1, got {got}; export it again as version 1, or update"
            )
        ]
    return []


def _depth(value: Any, most: int) -> int:
    depth, layer = 0, [value]
    while layer and depth <= most:
        depth += 1
        layer = [
            child
            for item in layer
            if isinstance(item, dict | list)
            for child in (item.values() if isinstance(item, dict) else item)
        ]
    return depth


def _unique(faults: list[Fault]) -> list[Fault]:
    return list(dict.fromkeys(faults))


def _path(location: tuple[Any, ...]) -> str:
    """Return `stations[0].units[1].springs[0].rate` for a pydantic location, without its union tags."""
    path, previous = "", None
    for index, part in enumerate(location):
        is_tag = isinstance(previous, int) and part in KINDS.get(location[index - 2], ())
        is_key_mark = part == "[key]"
        if not is_tag and not is_key_mark:
            path += f"[{part}]" if isinstance(part, int) else (f".{part}" if path else str(part))
        previous = part
    return path


def _shown(value: Any) -> str:
    if isinstance(value, float | int | bool | str) or value is None:
        return json.dumps(value)[:60]
    return _kind(value)


def _kind(value: Any) -> str:
    if isinstance(value, dict):
        return "an object"
    if isinstance(value, list):
        return f"a list of {len(value)}"
    return {str: "a text", bool: "true or false", type(None): "nothing"}.get(type(value), "a number")


_SENTENCES = {
    "missing": "is missing; add it",
    "greater_than": "must be greater than {gt:g}, got {got}",
    "greater_than_equal": "must be {ge:g} or more, got {got}",
    "less_than": "must be less than {lt:g}, got {got}",
    "less_than_equal": "must be {le:g} or less, got {got}",
    "float_type": "must be a number, got {got}",
    "int_type": "must be a whole number, got {got}",
    "string_type": "must be a text, got {got}",
    "list_type": "must be a list, got {got}",
    "dict_type": "must be an object, got {got}",
    "model_type": "must be an object, got {got}",
    "model_attributes_type": "must be an object, got {got}",
    "finite_number": "must be a finite number, got {got}",
    "string_too_short": "must not be empty",
    "string_pattern_mismatch": "must hold something that can be seen",
    "string_too_long": "must be at most {max_length} characters long",
    "too_short": "needs at least {min_length} entries, got {actual_length}",
    "too_long": "takes at most {max_length} entries, got {actual_length}",
    "literal_error": "must be {expected}, got {got}",
    "union_tag_not_found": "is missing its `kind`; give one of {kinds}",
    "union_tag_invalid": "has the kind {tag}, which is not known; give one of {kinds}",
}


PLACE = "must be the name of a point, or its place as three numbers [x, y, z] in mm"


def _is_place_tag(part: Any) -> bool:
    """Return whether a part of a location is pydantic's name for one way of giving a place."""
    return isinstance(part, str) and ("constrained" in part or part.startswith("list["))


def _fault(error: dict[str, Any]) -> Fault:
    location = tuple(error["loc"])
    tag = next((k for k, part in enumerate(location) if _is_place_tag(part)), None)
    if tag is not None:
        return Fault(_path(location[:tag]), PLACE)
    context = dict(error.get("ctx") or {})
    context["got"] = _shown(error.get("input"))
    context["kinds"] = ", ".join(next((KINDS[part] for part in location if part in KINDS), ()))
    sentence = _SENTENCES.get(str(error["type"]))
    message = sentence.format(**context) if sentence else f"{error['msg']}, got {context['got']}"
    return Fault(_path(tuple(error["loc"])), message)
