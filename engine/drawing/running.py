"""Running dimensions: every place by its distance from one datum, each at the end of a line of its own.

What is marked out from one edge adds up no errors, and a line to each place needs no arrows that could cross.

Jog   where two lie nearer than their texts have room, the ends of their lines are bent apart.
"""

from collections.abc import Sequence

from engine.drawing.model import TEXT_MM, Dimension, Line, Spot, Text, text_wide
from engine.facts import facts

APART = 1.35 * TEXT_MM  # from one text to the next
OUT, JOG, GAP = 2.5, 3.0, 0.8  # mm: beyond the part, bent, and before the text
SAME = 0.05  # mm of the part that are one place


@facts
class Place:
    """A place that is dimensioned along one axis: mm of the part, where on the paper, and the choice it shows."""

    value: float
    at: Spot
    spot: Spot
    field: str = ""


def spread(wanted: Sequence[float], apart: float) -> list[float]:
    """Return places in the order of `wanted` (sorted), none nearer than `apart`, as near to where they are wanted as can be.

    Those that would lie on one another are one block about their own middle (pool adjacent violators).
    """
    blocks: list[tuple[float, int]] = []  # the first of a block where it stands, and how many
    sums: list[float] = []
    for k, one in enumerate(wanted):
        blocks.append((one, 1))
        sums.append(one)
        while len(blocks) > 1 and blocks[-1][0] < blocks[-2][0] + blocks[-2][1] * apart:
            (_, many), total = blocks.pop(), sums.pop()
            (_, before), first = blocks[-1], sums[-1]
            count = before + many
            whole = first + total
            blocks[-1] = (whole / count - apart * (count - 1) / 2, count)
            sums[-1] = whole
        del k
    return [first + n * apart for first, many in blocks for n in range(many)]


def merged(places: Sequence[Place]) -> list[Place]:
    """Return places by their value, one for each."""
    found: list[Place] = []
    for place in sorted(places, key=lambda one: one.value):
        if found and abs(found[-1].value - place.value) < SAME:
            if place.field and not found[-1].field:
                found[-1] = place
            continue
        found.append(place)
    return found


def below(places: Sequence[Place], edge: float, said: Sequence[str]) -> list[Dimension]:
    """Return the running dimensions across, under an edge (y on the paper); their texts stand upright."""
    ends = spread([place.at[0] for place in places], APART)
    found = []
    for place, x, words in zip(places, ends, said, strict=True):
        foot = edge - OUT - JOG
        line = Line(
            through=(place.at, (place.at[0], edge - OUT), (x, foot), (x, foot - GAP / 2)), meaning="extension"
        )
        text = Text(words=words, at=(x + 0.25 * TEXT_MM, foot - GAP), angle=90.0, anchor="end")
        found.append(
            Dimension(kind="x", value=place.value, text=text, lines=(line,), at=place.spot, field=place.field)
        )
    return found


def beside(places: Sequence[Place], edge: float, said: Sequence[str]) -> list[Dimension]:
    """Return the running dimensions up, to the left of an edge (x on the paper)."""
    ends = spread([place.at[1] for place in places], APART)
    found = []
    for place, y, words in zip(places, ends, said, strict=True):
        foot = edge - OUT - JOG
        line = Line(
            through=(place.at, (edge - OUT, place.at[1]), (foot, y), (foot - GAP / 2, y)), meaning="extension"
        )
        text = Text(words=words, at=(foot - GAP, y - 0.25 * TEXT_MM), anchor="end")
        found.append(
            Dimension(kind="y", value=place.value, text=text, lines=(line,), at=place.spot, field=place.field)
        )
    return found


def room_below(said: Sequence[str]) -> float:
    """Return the room under the part that running dimensions take, mm."""
    return OUT + JOG + GAP + max((text_wide(words, TEXT_MM) for words in said), default=0.0) + 1.0


def room_beside(said: Sequence[str]) -> float:
    """Return the room to the left of the part that running dimensions take, mm."""
    return room_below(said)
