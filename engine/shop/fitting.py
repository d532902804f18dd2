"""A line traced round a card, as it is cut: straight lines and true arcs, corners kept sharp, holes as circles.

Pieces   from the sharpest corner on, each the longest that a line or an arc fits within FIT_MM; then every joint is moved to
         where the two beside it meet, or to where it costs least.
Same     a card that ought to be its own mirror image is averaged with it, about the axis that fits best.
Compare  a traced line laid on a drawing by the turn and shift that leave least between them (rigid, least squares).
"""

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from scipy.optimize import least_squares, minimize_scalar
from scipy.spatial import cKDTree

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.shop.made import Flat
from engine.shop.outline import Arc, through
from engine.shop.small import outline_distance
from engine.shop.traced_holes import Circled, quick_circle

STEP_MM = 1.0
FIT_MM = 0.45
FLAT_BULGE = 0.012  # an arc that bulges less is a line
LEAST_PIECE_MM = 4.0
MEET_MM = 2.5  # how far from its joint two pieces may meet
MOST_RADIUS_MM = 2000.0
LEAST_POINTS = 20
STARTS = 24


def resampled(trace: Array, step: float = STEP_MM) -> Array:
    """Return a closed trace (n, 2) mm as places a step apart."""
    closed = np.concatenate([trace, trace[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1))])
    count = max(LEAST_POINTS, round(along[-1] / step))
    at = np.linspace(0.0, along[-1], count, endpoint=False)
    found: Array = np.column_stack([np.interp(at, along, closed[:, k]) for k in range(2)])
    return found


def corners_of(trace: Array, fit_mm: float = FIT_MM) -> list[tuple[float, float, float]]:
    """Return a traced outline (n, 2) mm as corners with bulges, anticlockwise."""
    spots = resampled(trace)
    if _area(spots) < 0:
        spots = spots[::-1]
    spots = np.roll(spots, -_sharpest(spots), axis=0)
    joints = _pieces(spots, fit_mm)
    joints = _merged(spots, joints, fit_mm)
    shapes = [_shape(_run(spots, a, b)) for a, b in _pairs(joints)]
    found = []
    for k, joint in enumerate(joints[:-1]):
        before, after = shapes[k - 1], shapes[k]
        found.append(_meet(before, after, spots[joint % len(spots)]))
    corners = []
    for k, ((x, y), (u, v)) in enumerate(zip(found, [*found[1:], *found[:1]], strict=True)):
        middle = spots[(joints[k] + joints[k + 1]) // 2 % len(spots)]
        corners.append((x, y, _bulge(shapes[k], (x, y), (u, v), middle)))
    return corners


def _area(spots: Array) -> float:
    x, y = spots[:, 0], spots[:, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def _sharpest(spots: Array) -> int:
    """Return where the trace turns most over a few millimetres."""
    far = max(2, round(4.0 / STEP_MM))
    into, out = spots - np.roll(spots, far, axis=0), np.roll(spots, -far, axis=0) - spots
    cross = into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0]
    return int(np.abs(np.arctan2(cross, (into * out).sum(axis=1))).argmax())


def _run(spots: Array, one: int, other: int) -> Array:
    """Return the places from one joint to another, round the end."""
    return spots[np.arange(one, other + 1) % len(spots)]


def _pairs(joints: list[int]) -> list[tuple[int, int]]:
    return list(pairwise(joints))


@facts(kw_only=False)
class _Shape:
    """A line (a place and a way) or a circle (middle, radius)."""

    place: Array
    way: Array
    radius: float  # 0 for a line
    off: float


def _shape(run: Array) -> _Shape:
    """Return the line, or else the circle, nearest to some places; its ends, where a corner rounds the trace, count less."""
    inner = run[1:-1] if len(run) > 6 else run
    middle = inner.mean(axis=0)
    _, _, axes = np.linalg.svd(inner - middle)
    line = _Shape(middle, axes[0], 0.0, float(np.abs((inner - middle) @ axes[1]).max()))
    if len(inner) < 5:
        return line
    circle = quick_circle(inner)
    chord = float(np.linalg.norm(run[-1] - run[0]))
    sag = circle.diameter / 2 - math.sqrt(max(circle.diameter**2 / 4 - chord**2 / 4, 0.0))
    bent = chord < 1e-6 or sag / (chord / 2) > FLAT_BULGE
    if bent and circle.off < 0.6 * line.off and circle.diameter < 2 * MOST_RADIUS_MM:
        return _Shape(np.array([circle.x, circle.y]), np.zeros(2), circle.diameter / 2, circle.off)
    return line


def _pieces(spots: Array, fit_mm: float) -> list[int]:
    """Return the joints: from each the furthest that one line or arc still fits, found by doubling and halving."""
    whole, least = len(spots), max(2, round(LEAST_PIECE_MM / STEP_MM))
    joints, at = [0], 0
    while at < whole:
        low, high = min(at + least, whole), whole
        if _shape(_run(spots, at, high)).off > fit_mm:
            reach = least
            while at + reach < whole and _shape(_run(spots, at, at + reach)).off <= fit_mm:
                low, reach = at + reach, reach * 2
            high = min(at + reach, whole)
            while high - low > 1:
                middle = (low + high) // 2
                if _shape(_run(spots, at, middle)).off <= fit_mm:
                    low = middle
                else:
                    high = middle
        else:
            low = whole
        at = low
        joints.append(at)
    if len(joints) > 2 and joints[-1] - joints[-2] < least:
        del joints[-2]
    return joints


def _merged(spots: Array, joints: list[int], fit_mm: float) -> list[int]:
    """Move every joint to where both of its neighbours fit best; take out those that nothing is lost by."""
    its = list(joints)
    k = 1
    while k < len(its) - 1:
        if _shape(_run(spots, its[k - 1], its[k + 1])).off <= fit_mm:
            del its[k]
        else:
            k += 1
    for _ in range(3):
        for k in range(1, len(its) - 1):
            before, after = its[k - 1], its[k + 1]
            options = range(max(before + 3, its[k] - 6), min(after - 3, its[k] + 6) + 1)
            best = min(options, key=lambda joint: _cost(spots, before, joint, after), default=its[k])
            its[k] = best
    return its


def _cost(spots: Array, before: int, joint: int, after: int) -> float:
    total = 0.0
    for a, b in ((before, joint), (joint, after)):
        run = _run(spots, a, b)
        shape = _shape(run)
        total += float((_off(shape, run) ** 2).sum())
    return total


def _off(shape: _Shape, spots: Array) -> Array:
    if shape.radius > 0:
        return np.asarray(np.linalg.norm(spots - shape.place, axis=1) - shape.radius)
    square = np.array([-shape.way[1], shape.way[0]])
    return np.asarray((spots - shape.place) @ square)


def _meet(one: _Shape, other: _Shape, near: Array) -> tuple[float, float]:
    """Return where two shapes meet nearest to a joint; where they do not, the place that is nearest to both."""
    found = least_squares(
        lambda p: np.array(
            [_off(one, p[None])[0], _off(other, p[None])[0], 1e-4 * (p[0] - near[0]), 1e-4 * (p[1] - near[1])]
        ),
        near,
    )
    place = found.x if float(np.linalg.norm(found.x - near)) <= MEET_MM else near
    return float(place[0]), float(place[1])


def _bulge(shape: _Shape, one: tuple[float, float], other: tuple[float, float], middle: Array) -> float:
    """Return the bulge of a circle's arc between two places by the side on which its trace's middle lies; 0 for a line."""
    if shape.radius <= 0 or math.dist(one, other) < 1e-6:
        return 0.0
    way = middle - shape.place
    by = shape.place + way / np.linalg.norm(way) * shape.radius
    arc = through(one, (float(by[0]), float(by[1])), other)
    return 0.0 if arc is None else math.tan(arc.turn / 4)


def same_on_both_sides(trace: Array) -> Array:
    """Return a trace (n, 2) mm averaged with its own mirror image, about the axis through its middle that fits best."""
    spots = resampled(trace)
    middle = spots.mean(axis=0)
    arms = spots - middle

    def image(angle: float) -> Array:
        way = np.array([math.cos(angle), math.sin(angle)])
        return np.asarray(2 * np.outer(arms @ way, way) - arms)

    def apart(angle: float) -> float:
        return float((_nearest(arms, image(angle))[0] ** 2).sum())

    angles = np.linspace(0, math.pi, 90, endpoint=False)
    best = min(angles, key=apart)
    found = minimize_scalar(
        apart, bounds=(best - 0.04, best + 0.04), method="bounded", options={"xatol": 1e-5}
    )
    _, which = _nearest(arms, image(float(found.x)))
    averaged: Array = (arms + image(float(found.x))[which]) / 2 + middle
    return averaged


def _nearest(one: Array, other: Array) -> tuple[Array, np.ndarray]:
    apart, which = cKDTree(other).query(one)
    return np.asarray(apart), np.asarray(which)


@facts(kw_only=False)
class Compared:
    """A traced plate laid on its drawing: most that its edge is off (mm, outside +) and where on the drawing.

    holes : for each hole of the drawing, how far the traced one is from its middle, and how much wider it is, mm
    """

    most: float
    at: tuple[float, float]
    rms: float
    turned_over: bool
    holes: tuple[tuple[str, float, float], ...]


def compared(flat: Flat, trace: Array, holes: Sequence[Circled]) -> Compared:
    """Return how a traced plate (n, 2) mm differs from a drawing, laid on it as it fits best, turned over if need be."""
    outline = list(flat.outline)
    spots = resampled(trace, 3.0)
    drawn = _sampled(outline)
    tree = cKDTree(drawn)
    best: tuple[float, Array, bool] | None = None
    for over in (False, True):
        own = spots * [1.0, -1.0] if over else spots
        own_middle, middle = own.mean(axis=0), drawn.mean(axis=0)
        starts = []
        for start in np.linspace(0, 2 * math.pi, STARTS, endpoint=False):
            laid = (own - own_middle) @ _turn(start).T + middle
            starts.append((float((tree.query(laid)[0] ** 2).sum()), start))
        for _, start in sorted(starts)[:3]:

            def off(
                p: Array, own: Array = own, own_middle: Array = own_middle, middle: Array = middle
            ) -> Array:
                laid = (own - own_middle) @ _turn(p[2]).T + middle + p[:2]
                return np.asarray(tree.query(laid)[0])

            # What is really different must not pull the rest away with it.
            found = least_squares(off, [0.0, 0.0, start], diff_step=1e-4, loss="soft_l1", f_scale=0.25)
            if best is None or found.cost < best[0]:
                best = (float(found.cost), np.array([*found.x, *own_middle, *middle]), over)
    assert best is not None
    _, p, over = best
    own = spots * [1.0, -1.0] if over else spots

    def lay(places: Array) -> Array:
        return np.asarray((places - p[3:5]) @ _turn(p[2]).T + p[5:7] + p[:2])

    laid = lay(own)
    off_mm = np.array([outline_distance(outline, x, y) for x, y in laid])
    worst = int(np.abs(off_mm).argmax())
    told = []
    for hole in flat.holes:
        apart = [
            _ends_apart(hole.places, lay(_ends(one) * [1.0, -1.0] if over else _ends(one))) for one in holes
        ]
        nearest = int(np.argmin(apart)) if apart else 0
        wider = holes[nearest].diameter - hole.diameter if apart else 0.0
        told.append((hole.what, apart[nearest] if apart else math.inf, wider))
    return Compared(
        most=float(off_mm[worst]),
        at=(float(laid[worst, 0]), float(laid[worst, 1])),
        rms=float(np.sqrt((off_mm**2).mean())),
        turned_over=over,
        holes=tuple(told),
    )


def _ends(hole: Circled) -> Array:
    """Return the middles of both a slot's ends (2, 2); of a round hole the same twice."""
    return np.array([(hole.x, hole.y), hole.to or (hole.x, hole.y)])


def _ends_apart(drawn: Sequence[tuple[float, float]], seen: Array) -> float:
    """Return how far the worse end of a seen hole is from where it is drawn, mm, whichever end is which."""
    ends = np.array([drawn[0], drawn[-1]])
    return float(min(np.linalg.norm(ends - its, axis=1).max() for its in (seen, seen[::-1])))


def _turn(angle: float) -> Array:
    c, s = math.cos(angle), math.sin(angle)
    return np.array([[c, -s], [s, c]])


def _sampled(outline: list[Arc]) -> Array:
    """Return an outline as places some tenths of a millimetre apart."""
    spots: list[tuple[float, float]] = []
    for arc, after in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        steps = max(1, math.ceil(abs(arc.turn) * arc.circle.radius))
        spots += [arc.at(arc.start + arc.turn * n / steps) for n in range(steps + 1)]
        (x, y), (u, v) = arc.last, after.first
        count = math.ceil(math.hypot(u - x, v - y))
        spots += [(x + (u - x) * n / count, y + (v - y) * n / count) for n in range(1, count)]
    return resampled(np.array(spots), 0.3)
