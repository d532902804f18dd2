"""Where a body has gone: its turn and shift from the drawn position, at many positions at once.

Host    what something is tied to: "chassis", a body, or a unit by name.
Pose    a turn (rows, 3, 3) about an origin; a link or unit takes the smallest turn that aims it, for it may spin.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array, cross_rows

LINE_AREA_MM2 = 1e-3  # three points that span less lie on one line


@dataclass(frozen=True)
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
    """Return a host's pose.

    place        : (3, n, rows) mm, solved points
    drawn_places : (3, n, rows) mm, where each row has a drawing of its own; else the linkage's
    """
    rows = place.shape[2]
    if host == "chassis":
        return Pose(np.broadcast_to(np.eye(3), (rows, 3, 3)), np.zeros(3), np.zeros((rows, 3)))
    members = linkage.bodies.get(host)
    if members is None:
        members = list(next(unit.ends for unit in linkage.station.units if unit.name == host))
    key = ("drawn", *members)
    if key not in linkage.kept:
        linkage.kept[key] = _as_drawn(linkage, members)
    its: _Drawn = linkage.kept[key]
    if its.before is None:
        one, other = (place[:, number].T for number in its.numbers)
        return Pose(_aimed(its.points[1] - its.points[0], other - one), its.points[0], one)
    now = place[:, its.numbers].transpose(2, 1, 0)
    origin, before = its.points[:1], its.before
    if drawn_places is not None:
        own = drawn_places[:, its.numbers].transpose(2, 1, 0)
        origin, before = own[:, 0], _frame(own)
    return Pose(_frame(now) @ np.swapaxes(before, 1, 2), origin, now[:, 0])


@dataclass(frozen=True)
class _Drawn:
    """The points that a host is aimed by, as drawn: their numbers, places (2 or 3, 3) mm, and three points' frame."""

    numbers: list[int]
    points: Array
    before: Array | None


def _as_drawn(linkage: Linkage, members: Sequence[str]) -> _Drawn:
    numbers = [linkage.index[name] for name in members]
    drawn = linkage.points[numbers]
    trio = _best_trio(drawn)
    if trio is None:
        return _Drawn(numbers[:2], drawn[:2], None)
    return _Drawn([numbers[k] for k in trio], drawn[list(trio)], _frame(drawn[None, list(trio)]))


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


def _frame(trio: Array) -> Array:
    """Return (rows, 3, 3) with columns along a–b, in the plane, and square to it."""
    one = trio[:, 1] - trio[:, 0]
    one = one / np.linalg.norm(one, axis=1, keepdims=True)
    out = cross_rows(one, trio[:, 2] - trio[:, 0])
    out = out / np.linalg.norm(out, axis=1, keepdims=True)
    return np.stack([one, cross_rows(out, one), out], axis=2)


def _aimed(before: Array, after: Array) -> Array:
    """Return the smallest turn from one direction (3,) to each of many (rows, 3); Rodrigues' formula."""
    a = before / np.linalg.norm(before)
    b = after / np.linalg.norm(after, axis=1, keepdims=True)
    v, c = cross_rows(np.broadcast_to(a, b.shape), b), b @ a
    zero = np.zeros(len(b))
    skew = np.stack(
        [
            np.stack([zero, -v[:, 2], v[:, 1]], axis=1),
            np.stack([v[:, 2], zero, -v[:, 0]], axis=1),
            np.stack([-v[:, 1], v[:, 0], zero], axis=1),
        ],
        axis=1,
    )
    with np.errstate(divide="ignore", invalid="ignore"):
        turned: Array = np.eye(3) + skew + skew @ skew / np.maximum(1 + c, 1e-9)[:, None, None]
    return turned
