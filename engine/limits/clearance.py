"""How close solids come to one another through heave and articulation, and where.

Pairs that cannot part (both on one host) or that may touch are left out; so are pairs that are joined to one
another and touch as drawn, as a rod touches the arm it is bolted to. Bounding comes first: only positions whose
bounding capsules are nearer than the nearest exact distance so far are worked out.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from engine.limits.distance import LOOKS, core_distance, core_of
from engine.limits.solids import Placed, Solid, members_of, placed_all, solids_of
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array

CARE_MM = 150.0  # pairs that never come nearer are of no interest
TURNS = 30
A_TURN = 4
ENOUGH_MM = 0.005
CROSSING_MM = 1e-6
LEVEL_MM = 1e-9


@dataclass(frozen=True, kw_only=True)
class Clearance:
    """The nearest that two solids come: mm (negative: into one another), and where.

    kinds  : what the two are, as the envelopes say
    push   : unit direction that moves the first away from the second
    """

    one: str
    other: str
    kinds: tuple[str, str]
    distance: float
    heave: float
    articulation: float
    push: tuple[float, float, float]


def distances_at(linkage: Linkage, clearance: Clearance, place: Array, drawn_places: Array) -> Array:
    """Return the distance of a clearance's two solids at places of their own, (rows,) mm.

    place, drawn_places : (3, n, rows) mm; each row is another geometry
    """
    solids = [s for s in solids_of(linkage.station) if s.name in (clearance.one, clearance.other)]
    at = placed_all(linkage, solids, place, drawn_places)
    one, other = at[clearance.one], at[clearance.other]
    rows = np.arange(place.shape[2])
    if _is_space(one) or _is_space(other):
        return _to_half_space(_Pair(one, other, np.zeros(len(rows))), rows)[0]
    distance, _ = core_distance(core_of([(one, rows)]), core_of([(other, rows)]))
    return distance - one.solid.skin - other.solid.skin


@dataclass(frozen=True)
class _Pair:
    one: Placed
    other: Placed
    bound: Array


def clearances(linkage: Linkage, grid: Grid) -> tuple[Clearance, ...]:
    """Return the nearest approach of every pair that matters, the nearest first."""
    solids = solids_of(linkage.station)
    if len(solids) < 2 or not grid.place.shape[2]:
        return ()
    at = placed_all(linkage, solids, grid.place)
    pairs = [(a, b) for a, b in combinations(solids, 2) if _matters(linkage, a, b)]
    touching = _touching_as_drawn(linkage, solids, [pair for pair in pairs if _joined(linkage, *pair)])
    waiting = _bounded([(at[a.name], at[b.name]) for a, b in pairs if (a.name, b.name) not in touching])
    return nearest_of([pair for pair in waiting if pair.bound.min() < CARE_MM], grid)


def nearest_of(pairs: list[_Pair], grid: Grid) -> tuple[Clearance, ...]:
    """Return each pair's nearest approach.

    Each turn works out a few positions of each pair exactly: those with the lowest bounds. The direction found
    at the nearest parts the two at every other position by a distance that is cheap to tell, and is a new bound.
    """
    best = [(np.inf, 0, np.zeros(3)) for _ in pairs]
    for _ in range(TURNS):
        going = [k for k, pair in enumerate(pairs) if pair.bound.min() < best[k][0] - ENOUGH_MM]
        if not going:
            break
        chosen = [
            _likely(pair, best[k][0]) if k in going else np.zeros(0, int) for k, pair in enumerate(pairs)
        ]
        ways = _work_out(pairs, chosen, best)
        _raise_bounds([pairs[k] for k in going], [chosen[k] for k in going], [ways[k] for k in going])
    _deepen(pairs, best)
    found = [
        Clearance(
            one=pair.one.solid.name,
            other=pair.other.solid.name,
            kinds=(pair.one.solid.what, pair.other.solid.what),
            distance=float(distance),
            heave=float(grid.heave[row]),
            articulation=float(grid.articulation[row]),
            push=(float(way[0]), float(way[1]), float(way[2])),
        )
        for pair, (distance, row, way) in zip(pairs, best, strict=True)
    ]
    return tuple(sorted((c for c in found if c.distance < CARE_MM), key=lambda c: c.distance))


def _deepen(pairs: list[_Pair], best: list[tuple[float, int, Array]]) -> None:
    """Work out how deep overlapping pairs are, each where it is deepest by a quick look."""
    deep = [k for k, (distance, _, _) in enumerate(best) if distance < 0 and not _has_space(pairs[k])]
    again = [(np.inf, 0, np.zeros(3)) for _ in deep]
    _work_out([pairs[k] for k in deep], [np.array([best[k][1]]) for k in deep], again, LOOKS)
    for k, found in zip(deep, again, strict=True):
        best[k] = found


def _has_space(pair: _Pair) -> bool:
    return _is_space(pair.one) or _is_space(pair.other)


def _likely(pair: _Pair, best: float) -> np.ndarray:
    """Return the rows with the lowest bounds, as long as they may still be nearer than the best."""
    rows = np.argpartition(pair.bound, min(A_TURN, len(pair.bound) - 1))[:A_TURN]
    lowest: np.ndarray = rows[pair.bound[rows] < best - ENOUGH_MM]
    return lowest


def _raise_bounds(pairs: list[_Pair], rows: list[np.ndarray], ways: list[Array]) -> None:
    """Raise each pair's bounds to what a direction parts it by at every position."""
    solids = [
        k for k, pair in enumerate(pairs) if pair.one.solid.facing is None and pair.other.solid.facing is None
    ]
    for pair, row in zip(pairs, rows, strict=True):
        # This one is known; what is left open is only how the others compare with it.
        pair.bound[row] = np.inf
    if not solids:
        return
    every = np.arange(len(pairs[0].bound))
    one = core_of([(pairs[k].one, every) for k in solids])
    other = core_of([(pairs[k].other, every) for k in solids])
    way = np.repeat([ways[k] for k in solids], len(every), axis=0)
    apart = ((one.support(-way) - other.support(way)) * way).sum(axis=1).reshape(len(solids), -1)
    for k, its in zip(solids, apart, strict=True):
        skins = pairs[k].one.solid.skin + pairs[k].other.solid.skin
        np.maximum(pairs[k].bound, its - skins, out=pairs[k].bound)


def _work_out(
    pairs: list[_Pair], chosen: list[np.ndarray], best: list[tuple[float, int, Array]], looks: int = 0
) -> dict[int, Array]:
    """Work out exact distances at a few chosen rows of each pair, keep each pair's least, return the ways found."""
    exact = [k for k, rows in enumerate(chosen) if len(rows)]
    spaces = [k for k in exact if _has_space(pairs[k])]
    cores = [k for k in exact if k not in spaces]
    ways: dict[int, Array] = {}
    for k in spaces:
        every = np.arange(len(pairs[k].bound))
        distance, way = _to_half_space(pairs[k], every)
        least = int(distance.argmin())
        pairs[k].bound[:] = np.inf
        best[k], ways[k] = (float(distance[least]), least, way[least]), way[least]
    if cores:
        one = core_of([(pairs[k].one, chosen[k]) for k in cores])
        other = core_of([(pairs[k].other, chosen[k]) for k in cores])
        distance, way = core_distance(one, other, looks)
        start = 0
        for k in cores:
            its = slice(start, start + len(chosen[k]))
            start = its.stop
            least = its.start + int(distance[its].argmin())
            ways[k] = way[least]
            skins = pairs[k].one.solid.skin + pairs[k].other.solid.skin
            if distance[least] - skins < best[k][0]:
                best[k] = (float(distance[least] - skins), int(chosen[k][least - its.start]), way[least])
    return ways


def _is_space(part: Placed) -> bool:
    return part.solid.facing is not None


def _to_half_space(pair: _Pair, rows: np.ndarray) -> tuple[Array, Array]:
    """Return the exact distance of a solid from a half space (rows,), and the way out of it."""
    solid_first = pair.other.solid.facing is not None
    solid, space = (pair.one, pair.other) if solid_first else (pair.other, pair.one)
    assert space.solid.facing is not None
    # Only its direction turns with its host: axes are rows, drawn as the identity.
    facing = np.einsum("j,njk->nk", space.solid.facing, space.axes[rows])
    core = core_of([(solid, rows)])
    depth = ((core.support(-facing) - space.centre[rows]) * facing).sum(axis=1) - solid.solid.skin
    return depth, facing if solid_first else -facing


def _bounded(pairs: list[tuple[Placed, Placed]]) -> list[_Pair]:
    """Return the pairs with distances that they are certainly not nearer than, from capsules that hold them."""
    if not pairs:
        return []
    capsules = {id(part): _capsule(part) for pair in pairs for part in pair}
    one, other = ([capsules[id(part)] for part in side] for side in zip(*pairs, strict=True))
    a, b, r = (np.concatenate([capsule[k] for capsule in one]) for k in range(3))
    c, d, s = (np.concatenate([capsule[k] for capsule in other]) for k in range(3))
    apart = segment_distance(a, b, c, d)
    # Crossing axes part by more than their radii: nothing is certain of how deep they are.
    bounds = np.where(apart > CROSSING_MM, apart - r - s, -np.inf).reshape(len(pairs), -1)
    found = [_Pair(x, y, bound) for (x, y), bound in zip(pairs, bounds, strict=True)]
    for pair in found:
        if _has_space(pair):
            pair.bound[:] = -np.inf
    return found


def _capsule(part: Placed) -> tuple[Array, Array, Array]:
    """Return a capsule that holds the solid: two ends (rows, 3) and a radius (rows,)."""
    if part.corners is not None:
        return part.centre, part.centre, part.reach()
    longest = part.half.argmax(axis=1)
    rows = np.arange(len(longest))
    arm = part.axes[rows, longest] * part.half[rows, longest][:, None]
    across = part.half.copy()
    across[rows, longest] = 0.0
    return (
        part.centre - arm,
        part.centre + arm,
        np.linalg.norm(across, axis=1) + part.solid.disc + part.solid.skin,
    )


def segment_distance(a: Array, b: Array, c: Array, d: Array) -> Array:
    """Return the distance between segments a–b and c–d, each (rows, 3), mm."""
    u, v, w = b - a, d - c, a - c
    uu, uv, vv = (u * u).sum(axis=1), (u * v).sum(axis=1), (v * v).sum(axis=1)
    uw, vw = (u * w).sum(axis=1), (v * w).sum(axis=1)
    cross2 = uu * vv - uv * uv
    s = np.clip(np.where(cross2 > 1e-9, (uv * vw - vv * uw) / np.maximum(cross2, 1e-9), 0.0), 0, 1)
    t = np.clip((uv * s + vw) / np.maximum(vv, 1e-12), 0, 1)
    s = np.clip((uv * t - uw) / np.maximum(uu, 1e-12), 0, 1)
    t = np.clip((uv * s + vw) / np.maximum(vv, 1e-12), 0, 1)
    return np.asarray(np.linalg.norm(w + s[:, None] * u - t[:, None] * v, axis=1))


def _matters(linkage: Linkage, one: Solid, other: Solid) -> bool:
    if one.host == other.host or other.name in one.ignore or one.name in other.ignore:
        return False
    if one.facing is not None and other.facing is not None:
        return False
    if {one.what, other.what} == {"floor", "tyre"}:
        return False  # the floor is drawn where it is at ride: the wheel stands on it
    shared = members_of(linkage.station, one.host) & members_of(linkage.station, other.host)
    return not (one.spans and other.spans and shared)


def _joined(linkage: Linkage, one: Solid, other: Solid) -> bool:
    """Return whether two solids' hosts meet at a joint, the chassis through its own points."""
    chassis = set(linkage.station.chassis)
    mine, its = (
        chassis if solid.host == "chassis" else members_of(linkage.station, solid.host)
        for solid in (one, other)
    )
    return bool(mine & its)


@dataclass(frozen=True, kw_only=True)
class Touch:
    """Where two solids first touch in level heave on one way: mm of travel."""

    direction: str
    travel: float
    one: str
    other: str


def touches(linkage: Linkage, grid: Grid, found: tuple[Clearance, ...]) -> tuple[Touch, ...]:
    """Return where pairs that run into one another first touch, going up and going down from the drawn position."""
    level = np.flatnonzero(np.abs(grid.articulation) < LEVEL_MM)
    order = level[np.argsort(grid.heave[level])]
    pairs = [c for c in found if c.distance < 0]
    if not pairs or not len(order):
        return ()
    solids = {s.name: s for s in solids_of(linkage.station)}
    at = placed_all(
        linkage, [solids[n] for n in {m for c in pairs for m in (c.one, c.other)}], grid.place[:, :, order]
    )
    heave, rows = grid.heave[order], np.arange(len(order))
    touched: list[Touch] = []
    for c in pairs:
        pair = _Pair(at[c.one], at[c.other], np.zeros(len(rows)))
        if _has_space(pair):
            distance = _to_half_space(pair, rows)[0]
        else:
            gaps, _ = core_distance(core_of([(pair.one, rows)]), core_of([(pair.other, rows)]), 0)
            distance = gaps - pair.one.solid.skin - pair.other.solid.skin
        middle = int(np.abs(heave).argmin())
        for direction, way in (("bump", range(middle, len(rows))), ("droop", range(middle, -1, -1))):
            first = next((k for k in way if distance[k] < 0), None)
            if first is not None:
                touched.append(
                    Touch(
                        direction=direction,
                        travel=_crossing(heave, distance, first, way),
                        one=c.one,
                        other=c.other,
                    )
                )
    return tuple(touched)


def _crossing(heave: Array, distance: Array, first: int, way: range) -> float:
    """Return where the distance goes through nothing before a row, on a straight line from the row before it."""
    if first == way.start:
        return float(heave[first])
    before = first - way.step
    share = distance[before] / (distance[before] - distance[first])
    return float(heave[before] + share * (heave[first] - heave[before]))


@dataclass(frozen=True, kw_only=True)
class CrossClearance:
    """The nearest that something of one side comes to something of the other, mm, and both sides' travels."""

    one: str
    other: str
    kinds: tuple[str, str]
    distance: float
    travel: float
    other_travel: float


def across_the_car(
    linkage: Linkage, grid: Grid, other: Linkage, other_grid: Grid, mirror: bool
) -> tuple[CrossClearance, ...]:
    """Return how near moving parts of two sides come through all combinations of their travel.

    mirror : the other side is this one's mirror image in the centreline
    """
    mine = [s for s in solids_of(linkage.station) if s.host != "chassis" and s.facing is None]
    its = [s for s in solids_of(other.station) if s.host != "chassis" and s.facing is None]
    if not mine or not its or not grid.place.shape[2] or not other_grid.place.shape[2]:
        return ()
    left = np.repeat(np.arange(len(grid.heave)), len(other_grid.heave))
    right = np.tile(np.arange(len(other_grid.heave)), len(grid.heave))
    here = {n: _rows_of(p, left) for n, p in placed_all(linkage, mine, grid.place).items()}
    there = {n: _rows_of(p, right) for n, p in placed_all(other, its, other_grid.place).items()}
    if mirror:
        there = {name: _mirrored(part) for name, part in there.items()}
    pairs = _bounded([(a, b) for a in here.values() for b in there.values()])
    both = Grid(np.zeros((3, 0, len(left))), grid.heave[left], other_grid.heave[right])
    near = nearest_of([pair for pair in pairs if pair.bound.min() < CARE_MM], both)
    return tuple(
        CrossClearance(
            one=c.one,
            other=c.other,
            kinds=c.kinds,
            distance=c.distance,
            travel=c.heave,
            other_travel=c.articulation,
        )
        for c in near
    )


def _rows_of(part: Placed, rows: np.ndarray) -> Placed:
    corners = None if part.corners is None else part.corners[rows]
    return Placed(
        solid=part.solid,
        centre=part.centre[rows],
        axes=part.axes[rows],
        half=part.half[rows],
        corners=corners,
    )


def _mirrored(part: Placed) -> Placed:
    """Return the mirror image in the centreline: every solid here is its own image about each of its axes."""
    flip = np.array([1.0, -1.0, 1.0])
    corners = None if part.corners is None else part.corners * flip
    return Placed(
        solid=part.solid, centre=part.centre * flip, axes=part.axes * flip, half=part.half, corners=corners
    )


def _touching_as_drawn(
    linkage: Linkage, solids: list[Solid], pairs: list[tuple[Solid, Solid]]
) -> set[tuple[str, str]]:
    """Return which of the pairs touch at the drawn position."""
    drawn = placed_all(linkage, solids, np.ascontiguousarray(linkage.points.T[:, :, None]))
    both = [_Pair(drawn[a.name], drawn[b.name], np.zeros(1)) for a, b in pairs]
    best = [(np.inf, 0, np.zeros(3)) for _ in both]
    _work_out(both, [np.zeros(1, dtype=int) for _ in both], best)
    return {(a.name, b.name) for (a, b), (gap, _, _) in zip(pairs, best, strict=True) if gap <= 0}
