"""How close solids come to one another through heave and articulation, and where.

Bolted   two solids that both hold the point at which their hosts are joined: as a rod touches the arm it is
         bolted to. Only these are left out, with pairs on one host and those that the file lets touch.
Drawn    a pair that runs into one another as drawn, and is not bolted there, is said so with its depth.

Bounding comes first: only positions whose bounding capsules are nearer than the nearest exact distance so far are
worked out. The nearest of them is then looked at more finely between its neighbours.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import combinations

import numpy as np

from engine.conventions import TOLERANCES
from engine.facts import facts
from engine.limits.distance import LOOKS, core_distance, core_of, nearest_row
from engine.limits.solids import Placed, Solid, members_of, placed_all, solids_on
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.roots import first_over
from engine.linkage.vectors import Array, distinct, lengths
from engine.station.solved import SolvedStation

CARE_MM = 150.0  # pairs that never come nearer are of no interest
CROSSING_MM = 1e-6
HOLDS_MM = 0.5  # a bolt's middle this near to a solid's skin is in it
FINE_MM = 40.0  # pairs that come no nearer are not looked at more finely
FINE_STEPS = 5
FINE_TURNS = 2
TOUCH_MM = 1e-3


@facts
class Clearance:
    """The nearest that two solids come: mm (negative: into one another), and where.

    kinds  : what the two are, as the envelopes say
    push   : unit direction that moves the first away from the second
    drawn  : mm between them as drawn
    """

    one: str
    other: str
    kinds: tuple[str, str]
    distance: float
    heave: float
    articulation: float
    push: tuple[float, float, float]
    drawn: float = np.inf


def distances_at(linkage: Linkage, clearance: Clearance, place: Array, drawn_places: Array) -> Array:
    """Return the distance of a clearance's two solids at places of their own, (rows,) mm.

    place, drawn_places : (3, n, rows) mm; each row is another geometry
    """
    names = (clearance.one, clearance.other)
    solids = {s.name: s for s in solids_on(linkage) if s.name in names}
    return _between(linkage, solids[clearance.one], solids[clearance.other], place, drawn_places)


def _between(
    linkage: Linkage,
    one: Solid,
    other: Solid,
    place: Array,
    drawn_places: Array | None = None,
    looks: int = LOOKS,
) -> Array:
    """Return the distance of two solids at places (3, n, rows), (rows,) mm."""
    at = placed_all(linkage, [one, other], place, drawn_places)
    rows = np.arange(place.shape[2])
    return _apart(Pair(at[one.name], at[other.name], np.zeros(len(rows))), rows, looks)[0]


@facts(kw_only=False)
class Pair:
    """Two solids at the same positions, and what they are certainly no nearer than there, (rows,) mm; written on."""

    one: Placed
    other: Placed
    bound: Array


def clearances(
    linkage: Linkage, grid: Grid, about: frozenset[str] | None = None, care: float = CARE_MM
) -> tuple[Clearance, ...]:
    """Return the nearest approach of every pair that matters, the nearest first; `about` some solids only if named.

    care : mm; pairs that certainly stay further apart are left out
    """
    solids = solids_on(linkage)
    if len(solids) < 2 or not grid.place.shape[2]:
        return ()
    at = placed_all(linkage, solids, grid.place)
    pairs = [
        (a, b)
        for a, b in combinations(solids, 2)
        if (about is None or a.name in about or b.name in about) and _matters(linkage, a, b)
    ]
    waiting = [
        pair for pair in bounded([(at[a.name], at[b.name]) for a, b in pairs]) if pair.bound.min() < care
    ]
    pairs = [(pair.one.solid, pair.other.solid) for pair in waiting]
    drawn = _as_drawn(linkage, solids, pairs, looks=0)
    meet = [drawn[a.name, b.name] > 0 or not _bolted(linkage, a, b) for a, b in pairs]
    inside = [
        pair for pair, its in zip(pairs, meet, strict=True) if its and drawn[pair[0].name, pair[1].name] <= 0
    ]
    drawn |= _as_drawn(linkage, solids, inside, looks=LOOKS)
    near = nearest_of([pair for pair, its in zip(waiting, meet, strict=True) if its], grid)
    finer = _finer(linkage, grid, {solid.name: solid for solid in solids}, near)
    return tuple(replace(c, drawn=drawn[c.one, c.other]) for c in finer)


def _finer(
    linkage: Linkage, grid: Grid, solids: dict[str, Solid], found: tuple[Clearance, ...]
) -> tuple[Clearance, ...]:
    """Return the clearances with each of the nearer ones sought between the positions beside its nearest."""
    better = list(found)
    for amount in distinct(grid.articulation):
        heaves = np.sort(grid.heave[grid.articulation == amount])
        its = [k for k, c in enumerate(found) if c.articulation == amount and 0 <= c.distance < FINE_MM]
        if len(heaves) < 2 or not its:
            continue
        row = np.searchsorted(heaves, [found[k].heave for k in its])
        low, high = heaves[np.maximum(row - 1, 0)], heaves[np.minimum(row + 1, len(heaves) - 1)]
        for _ in range(FINE_TURNS):
            at = np.linspace(low, high, FINE_STEPS)  # (steps, pairs)
            every, back = np.unique(at, return_inverse=True)
            path = linkage.follow(every, float(amount))
            places = path.solution.motion.place
            back = back.reshape(at.shape)
            for n, k in enumerate(its):
                rows = back[path.reached[back[:, n]], n]
                if not len(rows):
                    continue
                c = better[k]
                gaps = _between(linkage, solids[c.one], solids[c.other], places[:, :, rows])
                least = int(gaps.argmin())
                if gaps[least] < c.distance:
                    better[k] = replace(c, distance=float(gaps[least]), heave=float(every[rows[least]]))
            step = (high - low) / (FINE_STEPS - 1)
            middle = np.array([better[k].heave for k in its])
            low, high = np.maximum(middle - step, low), np.minimum(middle + step, high)
    return tuple(sorted(better, key=_nearness))


def nearest_of(pairs: list[Pair], grid: Grid) -> tuple[Clearance, ...]:
    """Return each pair's nearest approach; its depth where it is deepest by a quick look."""
    every = np.arange(grid.heave.size)
    parts = {id(part): part for pair in pairs for part in (pair.one, pair.other) if not _is_space(part)}
    cores = {part: core_of([(its, every)]) for part, its in parts.items()}
    best: list[tuple[float, int, Array]] = []
    for pair in pairs:
        if _has_space(pair):
            distance, ways = _apart(pair, every, 0)
            least = int(distance.argmin())
            best.append((float(distance[least]), least, ways[least]))
            continue
        skins = pair.one.solid.skin + pair.other.solid.skin
        near = nearest_row(cores[id(pair.one)], cores[id(pair.other)], skins, pair.bound)
        if near[0] < 0:
            distance, ways = _apart(pair, np.array([near[1]]), LOOKS)
            near = float(distance[0]), near[1], ways[0]
        best.append(near)
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
    return tuple(sorted((c for c in found if c.distance < CARE_MM), key=_nearness))


def _nearness(clearance: Clearance) -> float:
    """Return what clearances are ordered by, mm: of two sides alike to rounding the one drawn first comes first."""
    return round(clearance.distance, TOLERANCES.alike_digits)


def _has_space(pair: Pair) -> bool:
    return _is_space(pair.one) or _is_space(pair.other)


def _apart(pair: Pair, rows: np.ndarray, looks: int) -> tuple[Array, Array]:
    """Return a pair's exact distances at some rows (k,), mm, and the directions there (k, 3)."""
    if _has_space(pair):
        return _to_half_space(pair, rows)
    distance, ways = core_distance(core_of([(pair.one, rows)]), core_of([(pair.other, rows)]), looks)
    return distance - pair.one.solid.skin - pair.other.solid.skin, ways


def _is_space(part: Placed) -> bool:
    return part.solid.facing is not None


def _to_half_space(pair: Pair, rows: np.ndarray) -> tuple[Array, Array]:
    """Return the exact distance of a solid from a half space (rows,), and the way out of it."""
    solid_first = pair.other.solid.facing is not None
    solid, space = (pair.one, pair.other) if solid_first else (pair.other, pair.one)
    assert space.solid.facing is not None
    # Only its direction turns with its host: axes are rows, drawn as the identity.
    facing = np.einsum("j,njk->nk", space.solid.facing, space.axes[rows])
    core = core_of([(solid, rows)])
    depth = ((core.support(-facing) - space.centre[rows]) * facing).sum(axis=1) - solid.solid.skin
    return depth, facing if solid_first else -facing


def bounded(pairs: list[tuple[Placed, Placed]]) -> list[Pair]:
    """Return the pairs with distances that they are certainly not nearer than, from capsules that hold them."""
    if not pairs:
        return []
    parts = {id(part): part for pair in pairs for part in pair}
    number = {part: k for k, part in enumerate(parts)}
    one, other = ([number[id(part)] for part in side] for side in zip(*pairs, strict=True))
    first, last, radius = capsules_of(list(parts.values()))
    r, s = radius[one].ravel(), radius[other].ravel()
    a, b, c, d = (
        ends[side].reshape(-1, 3) for side, ends in ((one, first), (one, last), (other, first), (other, last))
    )
    apart = segment_distance(a, b, c, d)
    # Crossing axes part by more than their radii: nothing is certain of how deep they are.
    bounds = np.where(apart > CROSSING_MM, apart - r - s, -np.inf).reshape(len(pairs), -1)
    found = [Pair(x, y, bound) for (x, y), bound in zip(pairs, bounds, strict=True)]
    for pair in found:
        if _has_space(pair):
            pair.bound[:] = -np.inf
    return found


def capsules_of(parts: Sequence[Placed]) -> tuple[Array, Array, Array]:
    """Return capsules that hold solids at as many positions: two ends (solids, rows, 3), radii (solids, rows), mm.

    What has corners is held by a ball.
    """
    centre, half = np.array([part.centre for part in parts]), np.array([part.half for part in parts])
    longest = half.argmax(axis=2)[:, :, None]
    arm = np.array([part.axes for part in parts])
    arm = np.take_along_axis(arm, longest[..., None], axis=2)[:, :, 0] * half.max(axis=2)[:, :, None]
    np.put_along_axis(half, longest, 0.0, axis=2)
    radius = np.sqrt((half * half).sum(axis=2)) + np.array([[p.solid.disc + p.solid.skin] for p in parts])
    for k, part in enumerate(parts):
        if part.corners is not None:
            arm[k], radius[k] = 0.0, part.reach()
    return centre - arm, centre + arm, radius


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
    return lengths(w + s[:, None] * u - t[:, None] * v)


def _matters(linkage: Linkage, one: Solid, other: Solid) -> bool:
    if one.host == other.host or other.name in one.ignore or one.name in other.ignore:
        return False
    if one.facing is not None and other.facing is not None:
        return False
    if {one.what, other.what} == {"floor", "tyre"}:
        return False  # the floor is drawn where it is at ride: the wheel stands on it
    shared = members_of(linkage.station, one.host) & members_of(linkage.station, other.host)
    return not (one.spans and other.spans and shared)


def _bolted(linkage: Linkage, one: Solid, other: Solid) -> bool:
    """Return whether two solids both hold a point at which their hosts are joined, as drawn."""
    chassis = set(linkage.station.chassis)
    mine, its = (
        chassis if solid.host == "chassis" else members_of(linkage.station, solid.host)
        for solid in (one, other)
    )
    return any(_holds(linkage, one, point) and _holds(linkage, other, point) for point in mine & its)


def _holds(linkage: Linkage, solid: Solid, point: str) -> bool:
    """Return whether a solid as drawn holds a point; one that spans its unit holds both of its ends."""
    if solid.spans and point in members_of(linkage.station, solid.host):
        return True
    spot = Solid(name="", what="structure", host="chassis", centre=linkage.points[linkage.index[point]])
    drawn = np.ascontiguousarray(linkage.points.T[:, :, None])
    return float(_between(linkage, solid, spot, drawn, looks=0)[0]) <= HOLDS_MM


@facts
class Touch:
    """Where two solids first touch in level heave on one way: mm of travel."""

    direction: str
    travel: float
    one: str
    other: str


def touches(solved: SolvedStation, found: tuple[Clearance, ...]) -> tuple[Touch, ...]:
    """Return where pairs that run into one another first touch in level heave, up and down; as drawn at its travel."""
    rows, linkage = solved.taken, solved.linkage
    solids = {s.name: s for s in solids_on(solved.linkage)}
    touched: list[Touch] = []
    for c in found:
        if c.distance >= 0:
            continue

        def over(place: Array, one: Solid = solids[c.one], other: Solid = solids[c.other]) -> Array:
            return -_between(linkage, one, other, place, looks=0)

        def value(travel: float, over: Callable[[Array], Array] = over) -> float:
            return float(over(solved.at(np.array([travel])).solution.motion.place)[0])

        for direction, at in first_over(rows.travels, over(rows.solution.motion.place), value, TOUCH_MM):
            touched.append(Touch(direction=direction, travel=at, one=c.one, other=c.other))
    return tuple(touched)


def _as_drawn(
    linkage: Linkage, solids: list[Solid], pairs: list[tuple[Solid, Solid]], looks: int
) -> dict[tuple[str, str], float]:
    """Return how far apart each pair stands as drawn, mm; negative where it runs into one another.

    looks : how exactly a depth is sought; none tells only that there is one
    """
    if not pairs:
        return {}
    drawn = placed_all(linkage, solids, np.ascontiguousarray(linkage.points.T[:, :, None]))
    both = [Pair(drawn[a.name], drawn[b.name], np.zeros(1)) for a, b in pairs]
    row = np.zeros(1, dtype=int)
    return {
        (a.name, b.name): float(_apart(pair, row, looks)[0][0])
        for (a, b), pair in zip(pairs, both, strict=True)
    }
