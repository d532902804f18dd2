"""A study's front as plain values: what the command prints and the page shows."""

import math
from dataclasses import asdict
from typing import Any

from engine.document.schema import Project
from engine.linkage.vectors import Array
from engine.study.asked import StudyAsked
from engine.study.chunk import MISSES
from engine.study.taken import proved, put_in
from server.study.folder import rows_of
from server.study.run import Ran

TOLD = ("frequency", "roll", "perch", "coil_left", "seat_left", "ratio", "left", "longest", "shortest")


def vehicle_values(row: dict[str, float]) -> dict[str, Any]:
    """Return one vehicle: its misses, and every station's spring and figures; what is not there is null."""
    stations: dict[str, dict[str, Any]] = {}
    for key, value in row.items():
        name, _, what = key.rpartition("/")
        if what == "spring" or (what in TOLD and name != "miss"):
            stations.setdefault(name, {})[what] = _plain(value)
    return {
        "score": _plain(row["score"]),
        "misses": {name: _plain(row[f"miss/{name}"]) for name in MISSES},
        "stations": stations,
    }


def result_values(
    asked: StudyAsked, project: Project, front: dict[str, Array], ran: Ran, many: int
) -> dict[str, Any]:
    """Return what the command answers; the first `many` of the front proved by the general solver."""
    rows = rows_of(front)
    vehicles = [vehicle_values(row) for row in rows]
    for vehicle, row in zip(vehicles[:many], rows, strict=False):
        document = put_in(asked, project, row)
        vehicle["proved"] = [asdict(one) for one in proved(document, list(vehicle["stations"]))]
        vehicle["changes"] = changes_of(asked.job, document)
    return {"format": "jugatrix-front", "version": 1, **ran.values(), "front": vehicles}


def changes_of(before: dict[str, Any], after: dict[str, Any]) -> dict[str, dict[str, Any]]:
    """Return what of every station is otherwise: points mm, and units by name with their springs and preload."""
    found = {}
    for one, other in zip(before["stations"], after["stations"], strict=True):
        points = {name: spot for name, spot in other["points"].items() if one["points"].get(name) != spot}
        units = {
            new["name"]: {
                key: new[key] for key in ("springs", "preload", "contact") if new.get(key) != old.get(key)
            }
            for old, new in zip(one.get("units", []), other.get("units", []), strict=True)
            if new != old
        }
        if points or units:
            found[one["name"]] = {"points": points, "units": units}
    return found


def _plain(value: float) -> float | None:
    return round(value, 5) if math.isfinite(value) else None
