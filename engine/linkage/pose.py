"""Where a body has gone: its turn and shift from the drawn position, at many positions at once.

Host    what something is tied to: "chassis", a body, or a unit by name.
Pose    a turn (rows, 3, 3) about an origin; a link or unit takes the smallest turn that aims it, for it may spin.
"""

from collections.abc import Iterable, Sequence
from itertools import combinations

import numpy as np

from engine.compiled import loaded
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array, cross_rows

POSING = loaded("engine.linkage.posing")

LINE_AREA_MM2 = 1e-3  # three points that span less lie on one line


@facts(kw_only=False)
class Pose:
    """A host's turn and shift: `drawn` (3,) or (rows, 3) goes to `origin` (rows, 3), directions by `turn` (rows, 3, 3)."""

    turn: Array
    drawn: Array
    origin: Array

    def point(self, place: Array) -> Array:
        """Return where a place (3,) tied to the host has gone, (rows, 3)."""
        arm = np.asarray(place, dtype=float) - self.drawn
        moved: Array = self.origin + np.einsum(
            "nij,nj->ni", self.turn, np.broadcast_to(arm, self.origin.shape)
        )
        return moved

    def direction(self, vector: Array) -> Array:
        """Return where a direction (3,) tied to the host has turned, (rows, 3)."""
        turned: Array = self.turn @ np.asarray(vector, dtype=float)
        return turned


def pose_of(linkage: Linkage, host: str, place: Array, drawn_places: Array | None = None) -> Pose:
    """Return a host's pose; what it takes is told at `poses_of`."""
    return poses_of(linkage, (host,), place, drawn_places)[host]


def poses_of(
    linkage: Linkage, hosts: Iterable[str], place: Array, drawn_places: Array | None = None
) -> dict[str, Pose]:
    """Return the poses of some hosts, by name.

    place        : (3, n, rows) mm, solved points
    drawn_places : (3, n, rows) mm, where each row has a drawing of its own; else the linkage's
    """
    place = np.ascontiguousarray(place)
    rows = place.shape[2]
    found: dict[str, Pose] = {}
    aimed: list[tuple[str, _Drawn]] = []
    framed: list[tuple[str, _Drawn]] = []
    for host in hosts:
        if host == "chassis":
            found[host] = Pose(np.tile(np.eye(3), (rows, 1, 1)), np.zeros(3), np.zeros((rows, 3)))
        else:
            its = _drawn(linkage, host)
            (aimed if its.before is None else framed).append((host, its))
    turns, origins = _unwritten(len(aimed), rows)
    if aimed:
        before = np.array([its.points[1] - its.points[0] for _, its in aimed])
        POSING.aimed(place, np.array([its.numbers for _, its in aimed]), before, turns, origins)
    for k, (host, its) in enumerate(aimed):
        found[host] = Pose(turns[k], its.points[0], origins[k])
    turns, origins = _unwritten(len(framed), rows)
    if framed:
        trios = np.array([its.numbers for _, its in framed])
        drawn = np.array([its.points[:1] for _, its in framed])
        before = np.array([its.before for _, its in framed])
        if drawn_places is not None:
            before, drawn = _frames(np.ascontiguousarray(drawn_places), trios)
        POSING.framed(place, trios, before, turns, origins)
        for k, (host, _) in enumerate(framed):
            found[host] = Pose(turns[k], drawn[k], origins[k])
    return found


def _unwritten(hosts: int, rows: int) -> tuple[Array, Array]:
    return np.empty((hosts, rows, 3, 3)), np.empty((hosts, rows, 3))


def _frames(place: Array, trios: np.ndarray) -> tuple[Array, Array]:
    """Return the frames of three points each, (hosts, rows, 3, 3), and the first of them, (hosts, rows, 3)."""
    frames, first = _unwritten(len(trios), place.shape[2])
    POSING.framed(place, trios, np.tile(np.eye(3), (len(trios), 1, 1, 1)), frames, first)
    return frames, first


@facts(kw_only=False)
class _Drawn:
    """The points that a host is aimed by, as drawn: their numbers, places (2 or 3, 3) mm, three points' frame (1, 3, 3)."""

    numbers: list[int]
    points: Array
    before: Array | None


def _drawn(linkage: Linkage, host: str) -> _Drawn:
    """Return what a body, or a unit, is aimed by, worked out once."""
    members = linkage.bodies.get(host)
    if members is None:
        members = list(next(unit.ends for unit in linkage.station.units if unit.name == host))
    key = ("drawn", *members)
    if key not in linkage.kept:
        linkage.kept[key] = _as_drawn(linkage, members)
    found: _Drawn = linkage.kept[key]
    return found


def _as_drawn(linkage: Linkage, members: Sequence[str]) -> _Drawn:
    numbers = [linkage.index[name] for name in members]
    drawn = linkage.points[numbers]
    trio = _best_trio(drawn)
    if trio is None:
        return _Drawn(numbers[:2], drawn[:2], None)
    points = drawn[list(trio)]
    frame = _frames(np.ascontiguousarray(points.T[:, :, None]), np.arange(3)[None])[0][0]
    return _Drawn([numbers[k] for k in trio], points, frame)


def host_of(linkage: Linkage, point: str) -> str:
    """Return the body that carries a point with it, the most rigid first; chassis if it does not move."""
    if point in linkage.station.chassis:
        return "chassis"
    bodies = [body for body, members in linkage.bodies.items() if point in members]
    return max(bodies, key=lambda body: len(linkage.bodies[body]))


TRIOS = {count: np.array(list(combinations(range(count), 3))) for count in range(3, 13)}


def _best_trio(drawn: Array) -> tuple[int, int, int] | None:
    if len(drawn) < 3:
        return None
    trios = TRIOS[min(len(drawn), 12)]
    a, b, c = (drawn[trios[:, k]] for k in range(3))
    area = np.linalg.norm(cross_rows(b - a, c - a), axis=1)
    best = int(area.argmax())
    return (
        None
        if area[best] <= LINE_AREA_MM2
        else (int(trios[best, 0]), int(trios[best, 1]), int(trios[best, 2]))
    )
