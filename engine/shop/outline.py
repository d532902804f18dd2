"""The outline of a plate: the tight band round circles of metal about its holes, in true arcs and straight lines.

Seen from a direction, the outermost circle is the one whose edge reaches furthest; where the furthest one changes, a line
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
    """An arc of one of the circles, anticlockwise from one angle to the next, radians; `turn` is what it sweeps."""

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
    circles = [arc.circle for arc in outline]
    return (
        min(c.x - c.radius for c in circles),
        min(c.y - c.radius for c in circles),
        max(c.x + c.radius for c in circles),
        max(c.y + c.radius for c in circles),
    )
