"""Whether anything is drawn across a text, or two texts lie on one another: by their boxes."""

from collections.abc import Iterable
from itertools import combinations, pairwise

from engine.drawing.model import Box, Drawing, Spot

TOUCH = 0.05  # mm that two may share


def overlaps(one: Box, other: Box) -> bool:
    """Return whether two boxes lie on one another."""
    return (
        one[0] < other[2] - TOUCH
        and other[0] < one[2] - TOUCH
        and one[1] < other[3] - TOUCH
        and other[1] < one[3] - TOUCH
    )


def crosses(one: Spot, other: Spot, box: Box) -> bool:
    """Return whether a straight line runs through a box (Liang and Barsky's clipping)."""
    low, high = 0.0, 1.0
    for axis in (0, 1):
        along = other[axis] - one[axis]
        for edge, sign in ((box[axis] + TOUCH, -1.0), (box[axis + 2] - TOUCH, 1.0)):
            p, q = sign * along, sign * (edge - one[axis])
            if p == 0:
                if q < 0:
                    return False
                continue
            t = q / p
            if p < 0:
                low = max(low, t)
            else:
                high = min(high, t)
    return low < high


def ways_of(drawing: Drawing, steps: int = 24) -> Iterable[tuple[Spot, Spot]]:
    """Return every straight piece that is drawn; arcs in so many."""
    for line in drawing.every_line:
        yield from pairwise(line.through)
    for edge in drawing.edges:
        spots: list[Spot] = []
        for arc in edge.arcs:
            spots += [arc.at(arc.start + arc.turn * k / steps) for k in range(steps + 1)]
        yield from pairwise([*spots, spots[0]])


def collisions(drawing: Drawing) -> list[str]:
    """Return what lies on what: a line on a text, two texts, a text beyond the page."""
    boxes = [(text, text.box) for text in drawing.every_text]
    found = [
        f"“{one.words}” lies on “{other.words}”"
        for (one, a), (other, b) in combinations(boxes, 2)
        if overlaps(a, b)
    ]
    ways = list(ways_of(drawing))
    for text, box in boxes:
        if any(crosses(one, other, box) for one, other in ways):
            found.append(f"a line runs through “{text.words}”")
        if (
            box[0] < -TOUCH
            or box[1] < -TOUCH
            or box[2] > drawing.wide + TOUCH
            or box[3] > drawing.tall + TOUCH
        ):
            found.append(f"“{text.words}” is outside the page")
    return found
