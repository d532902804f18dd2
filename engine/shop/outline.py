"""The outline of a plate in true arcs and straight lines; the tight band round circles of metal about its holes.

An outline is a list of arcs; a straight line goes from where each ends to where the next begins. A sharp corner is an
arc of no radius, a hollow one turns clockwise.

The band: seen from a direction, the outermost circle is the one whose edge reaches furthest; where the furthest one changes, a line
touches both. All those directions are known exactly, so the outline needs no sampling.
"""

import math
from dataclasses import dataclass
from itertools import combinations

FULL = 2 * math.pi
NEAR = 1e-9


@dataclass(frozen=True)
class Circle:
    """A circle of metal, mm."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Arc:
    """An arc of a circle from an angle, radians; `turn` is what it sweeps, anticlockwise +."""

    circle: Circle
    start: float
    turn: float

    def at(self, angle: float) -> tuple[float, float]:
        """Return the place on the circle at an angle, mm."""
        its = self.circle
        return its.x + its.radius * math.cos(angle), its.y + its.radius * math.sin(angle)

    @property
    def first(self) -> tuple[float, float]:
        """Return where it starts, mm."""
        return self.at(self.start)

    @property
    def last(self) -> tuple[float, float]:
        """Return where it ends, mm; a line goes from there to the next one's start."""
        return self.at(self.start + self.turn)


def hull(circles: list[Circle]) -> list[Arc]:
    """Return the arcs of the band round some circles, anticlockwise; lines join each to the next."""
    if not circles:
        return []
    angles = sorted({0.0, *(angle for pair in combinations(circles, 2) for angle in _changes(*pair))})
    furthest = [
        _furthest(circles, (one + other) / 2)
        for one, other in zip(angles, [*angles[1:], angles[0] + FULL], strict=True)
    ]
    if all(circle is furthest[0] for circle in furthest):
        return [Arc(furthest[0], 0.0, FULL)]
    # Start where the furthest one changes, so that no arc is cut in two.
    begin = next(k for k in range(len(angles)) if furthest[k] is not furthest[k - 1])
    found: list[Arc] = []
    for step in range(len(angles)):
        k = (begin + step) % len(angles)
        end = angles[k + 1] if k + 1 < len(angles) else angles[0] + FULL
        if found and found[-1].circle is furthest[k]:
            last = found[-1]
            found[-1] = Arc(last.circle, last.start, last.turn + end - angles[k])
        else:
            found.append(Arc(furthest[k], angles[k], end - angles[k]))
    return found


def _changes(one: Circle, other: Circle) -> list[float]:
    """Return the directions in which two circles reach equally far, 0 to 2π."""
    dx, dy = other.x - one.x, other.y - one.y
    apart = math.hypot(dx, dy)
    if apart < NEAR or abs(one.radius - other.radius) > apart:
        return []
    towards, off = math.atan2(dy, dx), math.acos((one.radius - other.radius) / apart)
    return [(towards + off) % FULL, (towards - off) % FULL]


def _furthest(circles: list[Circle], angle: float) -> Circle:
    return max(circles, key=lambda c: c.x * math.cos(angle) + c.y * math.sin(angle) + c.radius)


def area_of(outline: list[Arc]) -> float:
    """Return what an outline encloses, mm² (Green's theorem over its arcs and lines)."""
    total = 0.0
    for arc, after in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        its, end = arc.circle, arc.start + arc.turn
        total += its.radius**2 * arc.turn / 2
        total += its.radius * its.x * (math.sin(end) - math.sin(arc.start)) / 2
        total -= its.radius * its.y * (math.cos(end) - math.cos(arc.start)) / 2
        (x, y), (u, v) = arc.last, after.first
        total += (x * v - u * y) / 2
    return total


def box_of(outline: list[Arc]) -> tuple[float, float, float, float]:
    """Return the least x and y and the most, mm."""
    spots = [spot for arc in outline for spot in (arc.first, arc.last)]
    for arc in outline:
        low, high = sorted((arc.start, arc.start + arc.turn))
        quarter = math.ceil(low / (math.pi / 2))
        while quarter * math.pi / 2 < high:
            spots.append(arc.at(quarter * math.pi / 2))
            quarter += 1
    xs, ys = zip(*spots, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


def sharp(x: float, y: float) -> Arc:
    """Return a corner that is not rounded."""
    return Arc(Circle(x, y, 0.0), 0.0, 0.0)


def mirrored(outline: list[Arc]) -> list[Arc]:
    """Return an outline with its y turned round: the other hand."""
    return [Arc(Circle(a.circle.x, -a.circle.y, a.circle.radius), -a.start, -a.turn) for a in outline]


def turned(outline: list[Arc], degrees: float, right: float = 0.0, up: float = 0.0) -> list[Arc]:
    """Return an outline turned anticlockwise about its nought and then shifted, mm."""
    turn = math.radians(degrees)
    c, s = math.cos(turn), math.sin(turn)
    return [
        Arc(
            Circle(
                c * a.circle.x - s * a.circle.y + right, s * a.circle.x + c * a.circle.y + up, a.circle.radius
            ),
            a.start + turn,
            a.turn,
        )
        for a in outline
    ]


def spots_of(outline: list[Arc], off: float = 0.05) -> list[tuple[float, float]]:
    """Return places round an outline, near enough that a straight line between two is no further off than `off`, mm."""
    found: list[tuple[float, float]] = []
    for arc in outline:
        radius = arc.circle.radius
        if radius == 0:
            found.append(arc.first)
            continue
        widest = 2 * math.acos(max(1 - off / radius, 0.0)) or 0.1
        steps = max(1, math.ceil(abs(arc.turn) / widest))
        found += [arc.at(arc.start + arc.turn * k / steps) for k in range(steps + 1)]
    return found


def through(one: tuple[float, float], middle: tuple[float, float], other: tuple[float, float]) -> Arc | None:
    """Return the arc from one place by a second to a third; None where they lie on a line."""
    (ax, ay), (bx, by), (cx, cy) = one, middle, other
    double = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
    if abs(double) < NEAR * max(1.0, math.hypot(cx - ax, cy - ay) ** 2):
        return None
    b2, c2 = (bx - ax) ** 2 + (by - ay) ** 2, (cx - ax) ** 2 + (cy - ay) ** 2
    x = ax + ((cy - ay) * b2 - (by - ay) * c2) / double
    y = ay + ((bx - ax) * c2 - (cx - ax) * b2) / double
    circle = Circle(x, y, math.hypot(ax - x, ay - y))
    start, end = math.atan2(ay - y, ax - x), math.atan2(cy - y, cx - x)
    turn = (end - start) % FULL
    return Arc(circle, start, turn if double > 0 else turn - FULL)


def bulged(corners: list[tuple[float, float, float]]) -> list[Arc]:
    """Return the outline through corners (x, y, bulge); the bulge is the tangent of a quarter of the edge's arc."""
    found: list[Arc] = []
    for k, (x, y, bulge) in enumerate(corners):
        u, v, _ = corners[(k + 1) % len(corners)]
        if abs(bulge) < NEAR:
            if abs(corners[k - 1][2]) < NEAR:
                found.append(sharp(x, y))
            continue
        # The arc's middle stands off the chord by its bulge.
        middle = ((x + u) / 2 + bulge * (v - y) / 2, (y + v) / 2 - bulge * (u - x) / 2)
        arc = through((x, y), middle, (u, v))
        if arc is not None:
            found.append(arc)
    return found


def inside(outline: list[Arc], x: float, y: float) -> bool:
    """Return whether a place is within an outline (how often it goes round it)."""
    turns = 0.0
    for arc, after in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        steps = max(2, math.ceil(abs(arc.turn) / 0.2) + 1)
        spots = [arc.at(arc.start + arc.turn * n / (steps - 1)) for n in range(steps)]
        for (ax, ay), (bx, by) in zip(spots, [*spots[1:], after.first], strict=True):
            cross = (ax - x) * (by - y) - (ay - y) * (bx - x)
            turns += math.atan2(cross, (ax - x) * (bx - x) + (ay - y) * (by - y))
    return abs(turns) > math.pi
