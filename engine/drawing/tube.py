"""A tube's drawing: lying flat, shortened where it is long, its ends as they are cut, lengths under it, a bender's table beside it.

Shortened   a tube is drawn to scale across; along it, its length is written and not measured off the paper.
Silhouette  of a shaped end: the half of its edge that faces whoever looks, unrolled from the witness line.
"""

import math

import numpy as np

from engine.drawing.flat import Said, mass_said, millimetres, sized, unit_of
from engine.drawing.model import (
    TEXT_MM,
    Dimension,
    Drawing,
    Line,
    Spot,
    Text,
    scale_for,
    scale_said,
)
from engine.drawing.running import APART
from engine.shop.cope import cope
from engine.shop.made import Cut, Made, TubeEnd
from engine.shop.tubes import witness_words

LONG_MM, SHORT_MM = 120.0, 34.0  # on the paper
MARGIN, EYE_MM, ARROW = 2.0, 14.0, 2.2
TALLEST = 30.0
FACING = 37


def tube_drawing(part: Made, name: str, said: Said = millimetres) -> Drawing:
    """Return the drawing of a part that is cut from tube; raise ValueError where it has none."""
    if part.cut is None:
        raise ValueError(f"{part.name} is not cut from tube")
    cut = part.cut
    outside = cut.tube.outside
    scale = scale_for(1.0, outside, (1000.0, TALLEST))
    half = outside / 2 * scale
    eyes = _figure(part, "centre_to_centre")
    left = MARGIN + (EYE_MM + 6.0 if eyes is not None else 4.0)
    whole = max(cut.length, 0.0) * scale <= LONG_MM
    right = left + (max(cut.length * scale, SHORT_MM) if whole else LONG_MM)
    notes = _notes(part, cut, name, f"{scale_said(scale)}{'' if whole else ' across, shortened'}", said)
    table = _bend_rows(cut, said)
    below = 9.0 * (2 if eyes is not None else 1) + APART * len(table) + 4.0
    middle = MARGIN + below + half
    lines = [
        *_body(cut, left, right, middle, half, scale, whole),
        Line(through=((left - 6.0, middle), (right + 6.0, middle)), meaning="centre"),
    ]
    dimensions = [
        _level(
            cut.length, "length", left, right, middle - half - 8.0, middle - half, said, "tube ", (0.0, 0.0)
        )
    ]
    if eyes is not None:
        for x, way in ((left - EYE_MM, -1.0), (right + EYE_MM, 1.0)):
            lines += _eye((x, middle), half, way)
        dimensions.append(
            _level(
                eyes,
                "length",
                left - EYE_MM,
                right + EYE_MM,
                middle - half - 17.0,
                middle,
                said,
                "eye to eye ",
                (0.0, 0.0),
            )
        )
    texts = [
        Text(words=words, at=(MARGIN, MARGIN + APART * (len(table) - row) - TEXT_MM))
        for row, words in enumerate(table)
    ]
    tall = middle + half + 5.0 + APART * len(notes)
    texts += [
        Text(words=words, at=(MARGIN, tall - APART * (row + 0.8)), bold=row == 0)
        for row, words in enumerate(notes)
    ]
    width = max(right + (EYE_MM + 8.0 if eyes is not None else 6.0), *(text.box[2] for text in texts))
    return Drawing(
        name=name,
        wide=width + MARGIN,
        tall=tall + 1.0,
        scale=scale,
        origin=(left, middle),
        lines=tuple(lines),
        texts=tuple(texts),
        dimensions=tuple(dimensions),
    )


def _figure(part: Made, key: str) -> float | None:
    found = next((one.value for one in part.figures if one.key == key), None)
    return float(found) if isinstance(found, int | float) else None


def _body(
    cut: Cut, left: float, right: float, middle: float, half: float, scale: float, whole: bool
) -> list[Line]:
    """Return the tube's two sides, broken in the middle, and its ends."""
    ends = [_silhouette(cut, k, scale) for k in (0, 1)]
    gap = 0.0 if whole else 2.5
    centre = (left + right) / 2
    found = []
    for side in (1.0, -1.0):
        y = middle + side * half
        for end, x, way in ((ends[0], left, 1.0), (ends[1], right, -1.0)):
            edge = end[-1 if side > 0 else 0][0]
            found.append(Line(through=((x + way * edge, y), (centre - way * gap, y)), meaning="outline"))
    for end, x, way in ((ends[0], left, 1.0), (ends[1], right, -1.0)):
        found.append(
            Line(
                through=tuple((x + way * along, middle + across) for along, across in end), meaning="outline"
            )
        )
    for x in () if whole else (centre - gap, centre + gap):
        found.append(
            Line(
                through=(
                    (x - 0.8, middle - half),
                    (x + 0.8, middle - half / 3),
                    (x - 0.8, middle + half / 3),
                    (x + 0.8, middle + half),
                ),
                meaning="fine",
            )
        )
    return found


def _silhouette(cut: Cut, number: int, scale: float) -> list[Spot]:
    """Return the edge of an end that faces whoever looks: along the tube from its longest, and across, mm on the paper."""
    end, r = cut.ends[number], cut.tube.outside / 2
    if not (end.met or end.mitre):
        return [(0.0, -r * scale), (0.0, r * scale)]
    round_it, along = unrolled(r, end)
    turns = np.linspace(0.0, math.pi, FACING)
    back = np.interp(turns, round_it / r, along - along.min())
    return [(float(x) * scale, -r * math.cos(turn) * scale) for x, turn in zip(back, turns, strict=True)]


def unrolled(r: float, end: TubeEnd, steps: int = 145) -> tuple[np.ndarray, np.ndarray]:
    """Return an end's curve unrolled, (steps,) each: mm round the tube from its witness line, and along it, the longest at 0."""
    if end.met:
        return cope(r, end.met, end.angle, end.offset, steps)
    phi = np.linspace(0.0, 2 * math.pi, steps)
    return r * phi, r * math.tan(math.radians(end.mitre)) * (1 - np.cos(phi))


def _eye(at: Spot, half: float, way: float) -> list[Line]:
    """Return a rod end's eye and its shank towards the tube."""
    x, y = at
    radius = min(max(half * 0.9, 2.5), 5.0)
    round_it = tuple(
        (x + radius * math.cos(2 * math.pi * k / 24), y + radius * math.sin(2 * math.pi * k / 24))
        for k in range(25)
    )
    shank = radius * 0.45
    to = x - way * EYE_MM
    return [
        Line(through=round_it, meaning="outline"),
        Line(through=((x - way * radius * 0.9, y + shank), (to, y + shank)), meaning="outline"),
        Line(through=((x - way * radius * 0.9, y - shank), (to, y - shank)), meaning="outline"),
        Line(through=((x, y - radius - 1.5), (x, y + radius + 1.5)), meaning="centre"),
    ]


def _level(
    value: float,
    kind: str,
    left: float,
    right: float,
    y: float,
    top: float,
    said: Said,
    words: str,
    at: Spot,
    field: str = "",
) -> Dimension:
    """Return a length under the tube, its text in a gap of its own line."""
    text = Text(words=f"{words}{said(value)}", at=((left + right) / 2, y - 0.3 * TEXT_MM), anchor="middle")
    low, high = text.box[0] - 1.5, text.box[2] + 1.5
    lines = [
        Line(through=((left, top), (left, y - 1.5)), meaning="extension"),
        Line(through=((right, top), (right, y - 1.5)), meaning="extension"),
        Line(through=((left, y), (low, y)), meaning="extension"),
        Line(through=((high, y), (right, y)), meaning="extension"),
    ]
    for x, way in ((left, 1.0), (right, -1.0)):
        lines.append(
            Line(
                through=((x + way * ARROW, y + 0.7), (x, y), (x + way * ARROW, y - 0.7)), meaning="extension"
            )
        )
    return Dimension(kind="length", value=value, text=text, lines=tuple(lines), at=at, field=field)


def _bend_rows(cut: Cut, said: Said) -> list[str]:
    """Return the bender's table."""
    if cut.bent is None or not cut.bent.bends:
        return []
    rows = [
        f"bends about a centre line of R{sized(said)(cut.bent.radius)}: mark from end 1, bend, turn before it"
    ]
    for number, bend in enumerate(cut.bent.bends, start=1):
        set_to = f" (set to {bend.set_to:.1f}°)" if abs(bend.set_to - bend.angle) > 0.05 else ""
        rows.append(f"{number}   {said(bend.mark)}   {bend.angle:.1f}°{set_to}   {bend.turn:.1f}°")
    return rows


def _notes(part: Made, cut: Cut, name: str, drawn: str, said: Said) -> list[str]:
    notes = [
        name,
        f"{cut.said}, cut {said(cut.length)} {unit_of(said)}, {mass_said(cut.mass, said)}, {drawn}",
    ]
    for number, end in enumerate(cut.ends, start=1):
        stands = next((one.value for one in part.figures if one.key == f"stands_{number}"), None)
        if end.met:
            off = f", {sized(said)(end.offset)} beside its middle" if abs(end.offset) > 0.05 else ""
            on = f"coped on a tube of {sized(said)(2 * end.met)}" if stands is None else stands
            notes.append(f"end {number}: {on}, at {end.angle:.1f}°{off}")
            notes.append(f"    {witness_words(cut, number)}")
        elif end.mitre:
            notes.append(f"end {number}: {f'{stands}, ' if stands else ''}{end.mitre:.1f}° out of square")
            notes.append(f"    {witness_words(cut, number)}")
        elif stands is not None:
            notes.append(f"end {number}: {stands}")
        else:
            screwed = next((one.value for one in part.figures if one.key == f"end_{number}"), None)
            notes.append(f"end {number}: square{', ' + str(screwed) if screwed else ''}")
    turn = _figure(part, "change_per_turn")
    if turn:
        notes.append(f"one turn of it changes its length by {sized(said)(turn)} {unit_of(said)}")
    return notes
