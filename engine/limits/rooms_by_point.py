"""What a millimetre at each point does to each clearance, where it is nearest now.

Every point is moved half a millimetre each way along each axis, and all those geometries are solved as one batch.
Envelopes stay where they were drawn on what carries them: it is the joints that were measured wrong.
"""

import numpy as np

from engine.facts import facts
from engine.limits.clearance import Clearance, distances_at
from engine.linkage.batch import places_at
from engine.station.solved import SolvedStation

STEP_MM = 0.5
WATCHED = 4


@facts(kw_only=False)
class RoomByPoint:
    """One point along one axis (0 fore–aft, 1 out, 2 up): mm of each clearance per mm, by the two that are near."""

    point: str
    axis: int
    rooms: dict[tuple[str, str], float]


def rooms_by_point(solved: SolvedStation, clearances: tuple[Clearance, ...]) -> tuple[RoomByPoint, ...]:
    """Return what each point does to the nearest few clearances."""
    linkage = solved.linkage
    names = list(linkage.index)
    count = 3 * len(names)
    steps = (np.eye(count) * STEP_MM).reshape(count, len(names), 3)
    points = linkage.points + np.concatenate([steps, -steps])
    drawn = np.ascontiguousarray(points.T)
    rooms: dict[tuple[str, int], dict[tuple[str, str], float]] = {}
    for clearance in clearances[:WATCHED]:
        place, good = places_at(linkage, points, clearance.heave, clearance.articulation)
        distance = distances_at(linkage, clearance, place, drawn)
        slope = (distance[:count] - distance[count:]) / (2 * STEP_MM)
        known = good[:count] & good[count:] & np.isfinite(slope)
        for k in np.flatnonzero(known):
            key = (names[k // 3], int(k % 3))
            rooms.setdefault(key, {})[clearance.one, clearance.other] = float(slope[k])
    return tuple(RoomByPoint(point, axis, its) for (point, axis), its in rooms.items())
