"""A corner's other side: everything with a place or a direction mirrored in the centreline, names kept.

Places and directions turn their y round. A box turned about x or z turns the other way; about y it stays.
"""

import copy
from typing import Any

import numpy as np

from engine.document.schema import Station

Values = dict[str, Any]
MIRROR_MM = 25.0  # two points of an axle that stand this nearly opposite are one another's mirror image


def mirrored_station(values: Values, name: str) -> Values:
    """Return a station's values on the other side of the centreline, under another name."""
    other = copy.deepcopy(values)
    other["name"] = name
    other["points"] = {point: _flipped(place) for point, place in other["points"].items()}
    for holes in other.get("holes", {}).values():
        holes["places"] = [_flipped(place) for place in holes["places"]]
    for envelope in other.get("envelopes", []):
        for key in ("centre", "at", "facing"):
            if isinstance(envelope.get(key), list):
                envelope[key] = _flipped(envelope[key])
        for key in ("along", "outline"):
            if key in envelope:
                envelope[key] = [_flipped(p) if isinstance(p, list) else p for p in envelope[key]]
        if "turn" in envelope:
            x, y, z = envelope["turn"]
            envelope["turn"] = [-x, y, -z]
    for joint in other.get("joints", []):
        joint["bolt"] = _flipped(joint["bolt"])
    for shaft in other.get("shafts", []):
        shaft["axes"] = [_flipped(axis) for axis in shaft["axes"]]
    for unit in other.get("units", []):
        for eye in unit.get("eyes", []):
            eye["bolt"] = _flipped(eye["bolt"])
        if unit.get("plates"):
            unit["plates"] = {key: _flipped(normal) for key, normal in unit["plates"].items()}
    return other


def images_of(station: Station, moved: dict[str, list[float]]) -> dict[str, list[float]]:
    """Return where the mirror images of moved points go on the other side of an axle, mm; nothing for a corner."""
    if station.kind != "axle":
        return {}
    found = {}
    for name, place in moved.items():
        image = np.array(station.points[name]) * [1, -1, 1]
        for other, its in station.points.items():
            if other not in moved and np.abs(np.array(its) - image).max() < MIRROR_MM:
                found[other] = _flipped(place)
    return found


def _flipped(place: list[float]) -> list[float]:
    x, y, z = place
    return [x, 0.0 if y == 0 else -y, z]


def other_sides_name(name: str) -> str:
    """Return what the other side is called: left for right and right for left, else the name with its side said."""
    for one, other in (("left", "right"), ("Left", "Right")):
        if one in name:
            return name.replace(one, other)
        if other in name:
            return name.replace(other, one)
    return f"{name}, other side"
