"""A corner's other side: everything with a place or a direction mirrored in the centreline, names kept.

Places and directions turn their y round. A box turned about x or z turns the other way; about y it stays.
What is a place, a direction or a turn is said at the fields of the document itself.
"""

from typing import Any

from engine.document.meaning import STATION, Slot
from engine.document.schema import Station
from engine.document.sides import image_of_point

Values = dict[str, Any]
FLIPS = {"place": (1, -1, 1), "direction": (1, -1, 1), "turn": (-1, 1, -1)}


def mirrored_station(values: Values, name: str) -> Values:
    """Return a station's values on the other side of the centreline, under another name."""
    mirrored: Values = _mirrored(values, STATION)
    return {**mirrored, "name": name}


def _mirrored(value: Any, slot: Slot) -> Any:
    """Return a copy of a value with every place, direction and turn in it mirrored."""
    if isinstance(value, dict):
        return {key: _mirrored(child, slot.below(str(key), value)) for key, child in value.items()}
    if not isinstance(value, list):
        return value
    if slot.spatial is not None and len(value) == 3 and all(isinstance(c, int | float) for c in value):
        return _flipped(value, FLIPS[slot.spatial])
    return [_mirrored(child, slot.below(number, value)) for number, child in enumerate(value)]


def images_of(station: Station, moved: dict[str, list[float]]) -> dict[str, list[float]]:
    """Return where the mirror images of moved points go on the other side of an axle, mm; nothing for a corner."""
    found = {}
    for name, place in moved.items():
        image = image_of_point(station, name)
        if image is not None and image not in moved:
            found[image] = _flipped(place, FLIPS["place"])
    return found


def _flipped(triple: list[float], ways: tuple[int, int, int]) -> list[float]:
    return [0.0 if c == 0 and way < 0 else c * way for c, way in zip(triple, ways, strict=True)]


def other_sides_name(name: str) -> str:
    """Return what the other side is called: left for right and right for left, else the name with its side said."""
    for one, other in (("left", "right"), ("Left", "Right")):
        if one in name:
            return name.replace(one, other)
        if other in name:
            return name.replace(other, one)
    return f"{name}, other side"
