"""Every call of the published contract with a sound body, and bodies with something in them changed: for the suite and for bench/fuzz.

A sound body is made from the call's own schema, with a demo job for a document, so that most changes get past the door.
"""

import copy
import json
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from random import Random
from typing import Any

ROOT = Path(__file__).parents[2]
CONTRACT = json.loads((ROOT / "docs" / "openapi.json").read_text("utf-8"))
HERON = json.loads((ROOT / "server" / "demo" / "files" / "heron-three-wheeler.json").read_text("utf-8"))
DOCUMENT = {key: value for key, value in HERON.items() if key not in ("survey", "records")}
AT_THE_DOOR = {
    "signIn",
    "signInDemo",
    "signOut",
    "makeFirstOwner",
    "takeInvite",
    "resetPassword",
    "changePassword",
    "signOutEverywhere",
}
ENDS = {"removeJob", "changePerson", "beginStudy", "backUpNow", "watchInstrument", "watchJob"}
JUNK: tuple[Any, ...] = (
    None, True, 0, -1, 7, 1e308, -1e308, 5e-324, 1e-12, 10**15, "", "x", "Ω\u202e", "a/b", "../..", "=1+1", "x" * 3000, [], [5], [[]], {}, {"a": 1},
    [None, None, None], [1e300, 0, 0], ["a", "b"],
)  # fmt: skip


@dataclass(frozen=True)
class Call:
    """One operation, and a sound body for it; None where it takes none."""

    method: str
    path: str
    operation: str
    body: Any


def calls() -> list[Call]:
    """Return every operation that can be asked over and over."""
    found = []
    for path, methods in CONTRACT["paths"].items():
        for method, its in methods.items():
            operation = its["operationId"]
            if operation in AT_THE_DOOR | ENDS:
                continue
            content = its.get("requestBody", {}).get("content", {}).get("application/json")
            body = None if content is None else sample(content["schema"])
            found.append(Call(method.upper(), path, operation, body))
    return found


def sample(schema: dict[str, Any], name: str = "") -> Any:
    """Return a value that a schema takes; the demo job for a document."""
    if name == "document":
        return DOCUMENT
    if name == "survey":
        return HERON.get("survey", {})
    if schema.get("$ref", "").endswith("/Project"):
        return DOCUMENT
    if "$ref" in schema:
        return sample(CONTRACT["components"]["schemas"][schema["$ref"].rpartition("/")[2]], name)
    for some in ("anyOf", "oneOf", "allOf"):
        if some in schema:
            return sample(schema[some][0], name)
    if "const" in schema or "enum" in schema:
        return schema.get("const", (schema.get("enum") or [None])[0])
    if "default" in schema:
        return copy.deepcopy(schema["default"])
    match schema.get("type"):
        case "object":
            return {key: sample(its, key) for key, its in schema.get("properties", {}).items()}
        case "array":
            return [sample(schema.get("items", {}), name) for _ in range(schema.get("minItems", 1))]
        case "integer":
            return max(0, schema.get("minimum", 0))
        case "number":
            return float(schema.get("minimum", schema.get("exclusiveMinimum", 0)) or 0) + 1.0
        case "boolean":
            return False
    return DOCUMENT["stations"][0]["name"] if name == "station" else "x"


def mutated(body: Any, chance: Random) -> Any:
    """Return a body with one thing in it changed, gone, doubled or out of place."""
    found = copy.deepcopy(body)
    places = list(_places(found))
    if not places:
        return chance.choice(JUNK)
    holder, key = chance.choice(places)
    match chance.randrange(6):
        case 0:
            del holder[key]
        case 1 if isinstance(holder[key], int | float):
            holder[key] = holder[key] * chance.choice((-1, 1e-9, 1e6, 1e300, 0))
        case 2 if isinstance(holder[key], list):
            holder[key] = holder[key] * chance.choice((0, 2, 40))
        case 3:
            other, its = chance.choice(places)
            holder[key] = copy.deepcopy(other.get(its) if isinstance(other, dict) else other[its])
        case _:
            holder[key] = copy.deepcopy(chance.choice(JUNK))
    return found


def _places(value: Any) -> Iterator[tuple[Any, Any]]:
    """Yield every holder with a key of it."""
    keys = value.keys() if isinstance(value, dict) else range(len(value)) if isinstance(value, list) else ()
    for key in list(keys):
        yield value, key
        yield from _places(value[key])
