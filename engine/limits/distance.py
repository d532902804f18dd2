"""Distance between convex solids, many pairs and positions at once.

The closest points of two convex cores are found by the method of Gilbert, Johnson and Keerthi (1988): the point
of the Minkowski difference nearest to nothing is approached by simplices of support points. Skins are taken off
at the end. Where cores overlap, the depth is the least shift that parts them, searched over directions.
"""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from engine.limits.solids import Placed
from engine.linkage.vectors import Array

CLOSE_MM = 0.002  # the distance found is at most this much too long
STEPS = 60
FLAT_SHARE = 1e-9  # a triangle flatter than this is an edge
TOUCH_MM = 1e-6
LOOKS = 28
EDGES = np.array(list(combinations(range(4), 2)))
FACES = np.array([(0, 1, 2), (0, 1, 3), (0, 2, 3), (1, 2, 3)])
APEX = np.array([3, 2, 1, 0])
SUBSETS = [subset for size in (1, 2, 3) for subset in combinations(range(4), size)]
KEPT = np.array([[*subset, *[subset[0]] * (4 - len(subset))] for subset in SUBSETS])
ORDER = 1e-12 * np.arange(len(SUBSETS))


@dataclass(frozen=True, kw_only=True)
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

    def pick(self, rows: np.ndarray) -> "Core":
        """Return only some of them."""
        corners = None if self.corners is None else self.corners[rows]
        return Core(
            centre=self.centre[rows],
            axes=self.axes[rows],
            half=self.half[rows],
            disc=self.disc[rows],
            corners=corners,
        )


def core_of(parts: list[tuple[Placed, np.ndarray]]) -> Core:
    """Return the cores of several placed solids at chosen rows, one after another."""
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
    distance, direction = np.zeros(rows), np.tile([0.0, 0.0, 1.0], (rows, 1))
    nearest = one.centre - other.centre
    nearest = np.where(np.abs(nearest).sum(axis=1, keepdims=True) > 1e-9, nearest, [1.0, 0.0, 0.0])
    live = np.arange(rows)
    simplex = np.repeat(_difference(one, other, -nearest)[:, None], 4, axis=1)
    nearest = simplex[:, 0].copy()
    inside = np.zeros(rows, dtype=bool)
    for _ in range(STEPS):
        a, b = one.pick(live), other.pick(live)
        point = _difference(a, b, -nearest)
        size = np.linalg.norm(nearest, axis=1)
        gap = (nearest * (nearest - point)).sum(axis=1)
        done = (gap <= CLOSE_MM * size) | (size < TOUCH_MM)
        distance[live[done]] = size[done]
        direction[live[done]] = nearest[done] / np.maximum(size[done], 1e-12)[:, None]
        inside[live[done]] |= size[done] < TOUCH_MM
        live, keep = live[~done], ~done
        if not len(live):
            break
        simplex, nearest, enclosed = _step(simplex[keep], point[keep])
        distance[live] = np.linalg.norm(nearest, axis=1)
        direction[live] = nearest / np.maximum(distance[live], 1e-12)[:, None]
        inside[live[enclosed]] = True
        live, simplex, nearest = live[~enclosed], simplex[~enclosed], nearest[~enclosed]
        if not len(live):
            break
    if inside.any():
        which = np.flatnonzero(inside)
        depth, way = _depth(one.pick(which), other.pick(which), looks)
        distance[which], direction[which] = -depth, way
    return distance, direction


def _difference(one: Core, other: Core, direction: Array) -> Array:
    return one.support(direction) - other.support(-direction)


def _step(simplex: Array, point: Array) -> tuple[Array, Array, np.ndarray]:
    """Add a point to each simplex and keep the part of it nearest to nothing.

    Returns the new simplices (n, 4, 3), their nearest points (n, 3), and which enclose nothing's place.
    """
    # Unused places repeat a used one, so the new point may take the place of any repeated one.
    rows = np.arange(len(point))
    simplex = simplex.copy()
    simplex[rows, _spare(simplex)] = point
    ends, ends_valid = _nearest_on_edges(simplex[:, EDGES[:, 0]], simplex[:, EDGES[:, 1]])
    faces, faces_valid = _nearest_on_faces(*(simplex[:, FACES[:, k]] for k in range(3)))
    found = np.concatenate([simplex, ends, faces], axis=1)  # (n, 14, 3): corners, edges, faces
    size = (found * found).sum(axis=2)
    size[:, 4:10][~ends_valid] = np.inf
    size[:, 10:][~faces_valid] = np.inf
    # Of two as near, the one of fewer points.
    best = (size + ORDER).argmin(axis=1)
    return simplex[rows[:, None], KEPT[best]], found[rows, best], _encloses(simplex)


def _spare(simplex: Array) -> np.ndarray:
    """Return a place in each simplex that only repeats another; the last that does."""
    spare = np.full(len(simplex), 3)
    for place in (1, 2, 3):
        repeats = (np.abs(simplex[:, place : place + 1] - simplex[:, :place]).max(axis=2) == 0).any(axis=1)
        spare = np.where(repeats, place, spare)
    return spare


def _dot(a: Array, b: Array) -> Array:
    product: Array = (a * b).sum(axis=-1)
    return product


def _cross(a: Array, b: Array) -> Array:
    """Return a × b over the last axis; numpy's own takes ten times as long for a few."""
    a0, a1, a2 = a[..., 0], a[..., 1], a[..., 2]
    b0, b1, b2 = b[..., 0], b[..., 1], b[..., 2]
    return np.stack([a1 * b2 - a2 * b1, a2 * b0 - a0 * b2, a0 * b1 - a1 * b0], axis=-1)


def _nearest_on_edges(first: Array, second: Array) -> tuple[Array, np.ndarray]:
    """Return the point of each line nearest to nothing (n, edges, 3), and whether it lies between its ends."""
    e1 = second - first
    length2 = _dot(e1, e1)
    share = -_dot(first, e1) / np.maximum(length2, 1e-30)
    return first + share[..., None] * e1, (share >= 0) & (share <= 1) & (length2 > 1e-18)


def _nearest_on_faces(first: Array, second: Array, third: Array) -> tuple[Array, np.ndarray]:
    """Return the point of each plane nearest to nothing (n, faces, 3), and whether it lies within its triangle."""
    e1, e2 = second - first, third - first
    d11, d12, d22 = _dot(e1, e1), _dot(e1, e2), _dot(e2, e2)
    r1, r2 = -_dot(first, e1), -_dot(first, e2)
    area = d11 * d22 - d12 * d12
    flat = area <= FLAT_SHARE * d11 * d22
    safe = np.where(flat, 1.0, area)
    u, v = (r1 * d22 - r2 * d12) / safe, (r2 * d11 - r1 * d12) / safe
    return first + u[..., None] * e1 + v[..., None] * e2, ~flat & (u >= 0) & (v >= 0) & (u + v <= 1)


def _encloses(simplex: Array) -> np.ndarray:
    """Return which tetrahedra hold nothing's place: it lies on the inner side of all four faces."""
    corner = simplex[:, FACES[:, 0]]
    normal = _cross(simplex[:, FACES[:, 1]] - corner, simplex[:, FACES[:, 2]] - corner)
    here = -_dot(normal, corner)
    there = _dot(normal, simplex[:, APEX] - corner)
    inside: np.ndarray = (here * there >= 0).all(axis=1) & (np.abs(there[:, 0]) > 1e-9)
    return inside


def _ball_directions(count: int = 400) -> Array:
    """Return directions spread evenly over the ball (a Fibonacci lattice)."""
    k = np.arange(count) + 0.5
    z = 1 - 2 * k / count
    around = np.pi * (1 + 5**0.5) * k
    flat = np.sqrt(1 - z * z)
    return np.stack([flat * np.cos(around), flat * np.sin(around), z], axis=1)


NUDGES = _ball_directions(14)


def _depth(one: Core, other: Core, looks: int) -> tuple[Array, Array]:
    """Return the least shift of the first that parts overlapping cores (mm), and its direction."""
    rows, ways = len(one.centre), _ball_directions(400 if looks else 60)
    best, way = np.full(rows, np.inf), np.zeros((rows, 3))
    for axis in (*ways, *_own_axes(one), *_own_axes(other)):
        direction = np.broadcast_to(axis, (rows, 3))
        depth = -(_difference(one, other, -direction) * direction).sum(axis=1)
        better = depth < best
        best, way = np.where(better, depth, best), np.where(better[:, None], direction, way)
    # The depth has creases: look all round the best direction, ever more closely, rather than down a slope.
    step = 0.12
    for _ in range(looks):
        middle = way
        for nudge in NUDGES:
            tried = middle + step * nudge
            tried = tried / np.linalg.norm(tried, axis=1, keepdims=True)
            depth = -(_difference(one, other, -tried) * tried).sum(axis=1)
            better = depth < best
            best, way = np.where(better, depth, best), np.where(better[:, None], tried, way)
        step *= 0.8
    return np.maximum(best, 0.0), way


def _own_axes(core: Core) -> list[Array]:
    return [sign * core.axes[:, k] for k in range(3) for sign in (1.0, -1.0)]
