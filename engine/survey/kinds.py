"""What each kind of reading would be between given places, and how it changes with them.

Every function takes places (m, k, 3) mm, the k places of each of m readings of one kind, and returns what they would
read (m, rows) in mm or degrees, with its slopes (m, rows, k, 3) by the places. All have one row but `mirrored`.
"""

from collections.abc import Callable

import numpy as np

from engine.document.survey import AngleReading, Reading, Single, SlopeReading
from engine.linkage.vectors import Array

DEGREES = 180.0 / np.pi
NOTHING_MM = 1e-9  # places nearer than this say nothing of the way between them

Read = tuple[Array, Array]


def distance(p: Array) -> Read:
    """Along the tape."""
    return _apart(p, (1.0, 1.0, 1.0))


def floor_distance(p: Array) -> Read:
    """Between the plumb marks of both."""
    return _apart(p, (1.0, 1.0, 0.0))


def rise(p: Array) -> Read:
    """How much higher the second is."""
    slopes = np.zeros((len(p), 1, 2, 3))
    slopes[:, 0, 0, 2], slopes[:, 0, 1, 2] = -1.0, 1.0
    return (p[:, 1, 2] - p[:, 0, 2])[:, None], slopes


def coordinate(axis: int) -> Callable[[Array], Read]:
    """Return the reading of one coordinate of one place."""

    def read(p: Array) -> Read:
        slopes = np.zeros((len(p), 1, 1, 3))
        slopes[:, 0, 0, axis] = 1.0
        return p[:, 0, axis][:, None], slopes

    return read


def slope(seen: str) -> Callable[[Array], Read]:
    """Return the angle above level from the first place to the second, as seen along one way."""
    flat = np.array({"line": (1.0, 1.0, 0.0), "side": (1.0, 0.0, 0.0), "front": (0.0, 1.0, 0.0)}[seen])

    def read(p: Array) -> Read:
        way = p[:, 1] - p[:, 0]
        level = way * flat
        run = np.maximum(np.linalg.norm(level, axis=1), NOTHING_MM)
        square = run**2 + way[:, 2] ** 2
        by_way = -way[:, 2, None] * level / run[:, None]
        by_way[:, 2] = run
        by_way *= DEGREES / square[:, None]
        slopes = np.stack([-by_way, by_way], axis=1)[:, None]
        return (np.arctan2(way[:, 2], run) * DEGREES)[:, None], slopes

    return read


def angle(p: Array) -> Read:
    """At the first place, between the ways to the second and the third."""
    one, two = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    long1, long2 = (np.maximum(np.linalg.norm(way, axis=1), NOTHING_MM)[:, None] for way in (one, two))
    u, v = one / long1, two / long2
    cosine = np.clip((u * v).sum(axis=1), -1.0, 1.0)
    sine = np.maximum(np.linalg.norm(np.cross(u, v), axis=1), NOTHING_MM)
    by_one = -(v - u * cosine[:, None]) / (long1 * sine[:, None]) * DEGREES
    by_two = -(u - v * cosine[:, None]) / (long2 * sine[:, None]) * DEGREES
    slopes = np.stack([-by_one - by_two, by_one, by_two], axis=1)[:, None]
    return (np.arctan2(sine, cosine) * DEGREES)[:, None], slopes


def mirrored(p: Array) -> Read:
    """How far the second is from the first's mirror image in the centreline, along each axis."""
    sign = np.array([-1.0, 1.0, -1.0])
    slopes = np.zeros((len(p), 3, 2, 3))
    for axis in range(3):
        slopes[:, axis, 0, axis], slopes[:, axis, 1, axis] = 1.0, sign[axis]
    return p[:, 0] + sign * p[:, 1], slopes


def _apart(p: Array, seen: tuple[float, float, float]) -> Read:
    way = (p[:, 1] - p[:, 0]) * np.array(seen)
    long = np.maximum(np.linalg.norm(way, axis=1), NOTHING_MM)
    unit = way / long[:, None]
    return long[:, None], np.stack([-unit, unit], axis=1)[:, None]


READS: dict[str, Callable[[Array], Read]] = {
    "distance": distance,
    "floor_distance": floor_distance,
    "rise": rise,
    "fore_aft": coordinate(0),
    "offset": coordinate(1),
    "height": coordinate(2),
    "slope, line": slope("line"),
    "slope, side": slope("side"),
    "slope, front": slope("front"),
    "angle": angle,
    "mirrored": mirrored,
}


def kind_of(reading: Reading) -> str:
    """Return which of READS a reading is."""
    return f"slope, {reading.seen}" if isinstance(reading, SlopeReading) else reading.kind


def in_degrees(reading: Reading) -> bool:
    """Return whether a reading is an angle; all others are mm."""
    return isinstance(reading, SlopeReading | AngleReading)


def is_signed(reading: Reading) -> bool:
    """Return whether a reading has a side or a direction that can be taken the wrong way round."""
    return isinstance(reading, Single | SlopeReading) or reading.kind == "rise"
