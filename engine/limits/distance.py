"""Distance between convex solids, many pairs and positions at once.

The closest points of two convex cores are found pair by pair (`nearing.py`, compiled). Skins are taken off at the end.
Where cores overlap, the depth is the least shift that parts them, searched over directions.
"""

import numpy as np

from engine.compiled import loaded
from engine.facts import facts
from engine.limits.solids import Placed
from engine.linkage.vectors import Array

NEARING = loaded("engine.limits.nearing")
LOOKS = 28


@facts
class Core:
    """Cores of many solids side by side: centre (n, 3), axes (n, 3, 3), half (n, 3), disc (n,), corners or None."""

    centre: Array
    axes: Array
    half: Array
    disc: Array
    corners: Array | None

    def support(self, direction: Array) -> Array:
        """Return each core's furthest point along a direction (n, 3)."""
        along: Array = np.einsum("nij,nj->ni", self.axes, direction)
        point: Array = self.centre + np.einsum("ni,nij->nj", self.half * np.sign(along), self.axes)
        if self.disc.any():
            # In the disc's own axes, so that a direction along the axis cannot leave its plane.
            flat = along[:, 1:] / np.maximum(np.linalg.norm(along[:, 1:], axis=1, keepdims=True), 1e-12)
            point = point + self.disc[:, None] * np.einsum("ni,nij->nj", flat, self.axes[:, 1:])
        if self.corners is not None:
            best = np.einsum("nkj,nj->nk", self.corners, direction).argmax(axis=1)
            point = point + self.corners[np.arange(len(best)), best]
        return point

    def times(self, count: int) -> "Core":
        """Return one core so many times over."""
        corners = None if self.corners is None else np.repeat(self.corners, count, axis=0)
        return Core(
            centre=np.repeat(self.centre, count, axis=0),
            axes=np.repeat(self.axes, count, axis=0),
            half=np.repeat(self.half, count, axis=0),
            disc=np.repeat(self.disc, count),
            corners=corners,
        )

    @property
    def flat(self) -> tuple[Array, ...]:
        """Return its arrays, (n, …) mm each, as the compiled loops take them; no corners are (n, 0, 3)."""
        corners = np.empty((len(self.disc), 0, 3)) if self.corners is None else self.corners
        parts = (self.centre, self.axes, self.half, self.disc, corners)
        return tuple(np.ascontiguousarray(part, dtype=float) for part in parts)


def core_of(parts: list[tuple[Placed, np.ndarray]]) -> Core:
    """Return the cores of several placed solids at chosen rows (k,) each, one after another: (all rows, …)."""
    most = max((p.corners.shape[1] for p, _ in parts if p.corners is not None), default=0)
    corners = None
    if most:
        corners = np.concatenate([_padded(p, rows, most) for p, rows in parts])
    return Core(
        centre=np.concatenate([p.centre[rows] for p, rows in parts]),
        axes=np.concatenate([p.axes[rows] for p, rows in parts]),
        half=np.concatenate([p.half[rows] for p, rows in parts]),
        disc=np.concatenate([np.full(len(rows), p.solid.disc) for p, rows in parts]),
        corners=corners,
    )


def _padded(part: Placed, rows: np.ndarray, most: int) -> Array:
    if part.corners is None:
        return np.zeros((len(rows), most, 3))
    its = part.corners[rows]
    return np.concatenate([its, np.repeat(its[:, :1], most - its.shape[1], axis=1)], axis=1)


def core_distance(one: Core, other: Core, looks: int = LOOKS) -> tuple[Array, Array]:
    """Return the distance between cores (n,) mm, and the direction from the second to the first (n, 3).

    Overlapping cores give minus the least shift that parts them, the more exactly the more `looks`.
    """
    rows = len(one.centre)
    distance, direction = np.empty(rows), np.empty((rows, 3))
    NEARING.distances(*one.flat, *other.flat, WAYS if looks else FEW_WAYS, NUDGES, looks, distance, direction)
    return distance, direction


def nearest_row(one: Core, other: Core, skins: float, bound: Array) -> tuple[float, int, Array]:
    """Return the least distance of two solids over many positions, mm, where it is, and the direction there (3,).

    bound : (n,) mm that they are certainly no nearer than; written on
    """
    found = np.empty(5)
    NEARING.nearest_row(*one.flat, *other.flat, skins, FEW_WAYS, NUDGES, bound, found)
    return float(found[0]), int(found[1]), found[2:]


def _ball_directions(count: int = 400) -> Array:
    """Return directions spread evenly over the ball (a Fibonacci lattice)."""
    k = np.arange(count) + 0.5
    z = 1 - 2 * k / count
    around = np.pi * (1 + 5**0.5) * k
    flat = np.sqrt(1 - z * z)
    return np.stack([flat * np.cos(around), flat * np.sin(around), z], axis=1)


NUDGES = _ball_directions(14)
WAYS, FEW_WAYS = _ball_directions(400), _ball_directions(60)
