"""A station as it stands, from three sides to one scale, with full bump and full droop behind it; parts numbered by balloons.

Balloon  a number in a ring, off the part that it is of; the parts list has the same numbers.
"""

from collections.abc import Callable, Sequence
from math import ceil, cos, pi, sin

import numpy as np

from engine.drawing.labels import labelled, middle_of
from engine.drawing.model import TEXT_MM, Box, Drawing, Line, Spot, Text, scale_said, text_wide
from engine.drawing.running import APART
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import spoken
from engine.shop.made import Made
from engine.station.solved import SolvedStation

MARGIN, GAP = 3.0, 14.0
RING_MM = 3.4
SEEN = (("from the right side", 0, 2), ("from the front", 1, 2), ("from above", 0, 1))


@facts
class Numbered:
    """A part with its number and where it is, mm."""

    number: int
    part: Made
    at: tuple[float, float, float]


def numbered(parts: Sequence[Made], solved: SolvedStation) -> list[Numbered]:
    """Return a station's parts with the numbers of their balloons, in the order in which they are made."""
    points = solved.station.points
    found = []
    for number, part in enumerate(parts, start=1):
        names = [name for name in _about(part, solved) if name in points]
        spots = [points[name] for name in names] or [points[solved.station.wheels[0].centre]]
        middle = np.mean(np.array(spots, dtype=float), axis=0)
        found.append(
            Numbered(number=number, part=part, at=(float(middle[0]), float(middle[1]), float(middle[2])))
        )
    return found


def _about(part: Made, solved: SolvedStation) -> list[str]:
    """Return the points that a part is at: its own, those of its body, or the ends of its unit."""
    station, found = solved.station, []
    for name in part.subject[1:]:
        if name in station.points:
            return [name]
        if name in station.bodies:
            found = list(station.bodies[name])
        found += [end for unit in station.units if unit.name == name for end in unit.ends[-1:]]
    return found


def arrangement_drawing(solved: SolvedStation, parts: Sequence[Made], room: Spot = (184.0, 190.0)) -> Drawing:
    """Return the general arrangement of a station in so much room, mm."""
    rows = np.flatnonzero(solved.reached)
    place = solved.sweep.solution.motion.place
    drawn = {name: np.array(spot, dtype=float) for name, spot in solved.station.points.items()}
    index = dict(solved.linkage.index)
    stands = drawn if solved.ride is None else _at(solved, solved.ride.travel, drawn, index)
    ghosts = [
        drawn | {name: place[:, k, row] for name, k in index.items()} for row in (rows[0], rows[-1])
    ] if len(rows) else []  # fmt: skip
    every = np.array([spot for its in (stands, *ghosts) for spot in its.values()])
    low, high = every.min(axis=0), every.max(axis=0)
    x, y, z = (float(high[k] - low[k]) + 60.0 for k in range(3))
    scale = _whole(min((room[0] - GAP - 20) / (x + y), (room[1] - GAP - 36) / (z + y)))
    tall = (z + y) * scale + GAP + 3 * APART + 2 * MARGIN + 16
    lines: list[Line] = []
    texts: list[Text] = []
    without: list[str] = []
    for words, across, up in SEEN:
        left = MARGIN + (max(x * scale, text_wide(SEEN[0][0], TEXT_MM)) + GAP if across == 1 else 0.0)
        bottom = MARGIN + 8 + (y * scale + GAP + APART if up == 2 else 0.0)
        view: Box = (
            left,
            bottom - 8,
            left + (high[across] - low[across] + 60) * scale + 8,
            bottom + (high[up] - low[up] + 60) * scale + 4,
        )

        def at(
            spot: Array, across: int = across, up: int = up, left: float = left, bottom: float = bottom
        ) -> Spot:
            return (
                left + (float(spot[across] - low[across]) + 30) * scale,
                bottom + (float(spot[up] - low[up]) + 30) * scale,
            )

        mine = _view(solved, stands, ghosts, at)
        ways = [(a, b) for line in mine for a, b in zip(line.through, line.through[1:], strict=False)]
        balloons = [(f"{one.number}", at(np.array(one.at))) for one in numbered(parts, solved)] if across == 1 else []  # fmt: skip
        said, leaders = labelled(balloons, ways, [], _about_view(view, room[0]), ring=RING_MM)
        without += [words for words, _ in balloons if words not in {text.words for text in said}]
        lines += [*mine, *leaders]
        lines += [_ring(middle_of(text)) for text in said]
        texts += said
        texts.append(Text(words=words, at=(left, view[3] + 1.0)))
    title = f"{spoken(solved.station.name)}, {scale_said(scale)}"
    title += f"; no room for balloon {', '.join(without)}" if without else ""
    texts.append(Text(words=title, at=(MARGIN, tall - MARGIN - APART), bold=True, height=1.2 * TEXT_MM))
    wide = max([(x + y) * scale + GAP + 2 * MARGIN + 10, *(text.box[2] + MARGIN for text in texts)])
    return Drawing(
        name=title,
        wide=wide,
        tall=tall,
        scale=scale,
        origin=(MARGIN, MARGIN),
        lines=tuple(lines),
        texts=tuple(texts),
    )


def _whole(scale: float) -> float:
    """Return the largest scale of one to a whole number that is no larger."""
    return 1.0 / ceil(1.0 / min(scale, 1.0) - 1e-9)


def vehicle_drawing(stations: Sequence[SolvedStation], name: str, room: Spot = (170.0, 190.0)) -> Drawing:
    """Return the whole vehicle as drawn, from three sides to one scale: every station's bodies, units and tyres."""
    drawn = [{n: np.array(spot, dtype=float) for n, spot in one.station.points.items()} for one in stations]
    tyres = [_tyre(one, wheel.centre) for one in stations for wheel in one.station.wheels]
    every = np.array(
        [spot for its in drawn for spot in its.values()] + [spot for its in tyres for spot in its]
    )
    low, high = every.min(axis=0), every.max(axis=0)
    x, y, z = (float(high[k] - low[k]) + 60.0 for k in range(3))
    scale = _whole(min((room[0] - 2 * MARGIN) / max(x, y), (room[1] - 5 * GAP) / (2 * z + y)))
    lines: list[Line] = []
    texts: list[Text] = []
    bottom = MARGIN
    for words, across, up in reversed(SEEN):

        def at(spot: Array, across: int = across, up: int = up, bottom: float = bottom) -> Spot:
            return (
                MARGIN + (float(spot[across] - low[across]) + 30) * scale,
                bottom + (float(spot[up] - low[up]) + 30) * scale,
            )

        for one, its in zip(stations, drawn, strict=True):
            lines += _view(one, its, [], at)
        for corners in tyres:
            spots = [at(spot) for spot in corners]
            left, right = min(s[0] for s in spots), max(s[0] for s in spots)
            under, over = min(s[1] for s in spots), max(s[1] for s in spots)
            lines.append(
                Line(
                    through=((left, under), (right, under), (right, over), (left, over), (left, under)),
                    meaning="fine",
                )
            )
        top = bottom + (float(high[up] - low[up]) + 60) * scale
        texts.append(Text(words=words, at=(MARGIN, top + 1.0)))
        bottom = top + GAP
    wide = max([max(x, y) * scale + 2 * MARGIN, *(text.box[2] + MARGIN for text in texts)])
    return Drawing(
        name=name,
        wide=wide,
        tall=bottom,
        scale=scale,
        origin=(MARGIN, MARGIN),
        lines=tuple(lines),
        texts=tuple(texts),
    )


def _tyre(solved: SolvedStation, centre: str) -> tuple[Array, Array]:
    """Return the opposite corners of the box about a tyre, mm."""
    wheel = next(one for one in solved.station.wheels if one.centre == centre)
    middle = np.array(solved.station.points[centre], dtype=float)
    radius, half = wheel.tyre_radius or 300.0, (wheel.tyre_width or 200.0) / 2
    reach = np.array([radius, half, radius])
    return middle - reach, middle + reach


def _about_view(view: Box, right: float) -> Box:
    """Return the room that balloons have: about their view, to the right edge of the paper."""
    return view[0] - GAP + 3.0, view[1] - 6.0, max(view[2], right), view[3]


def _at(
    solved: SolvedStation, travel: float, drawn: dict[str, Array], index: dict[str, int]
) -> dict[str, Array]:
    """Return where every point is at a travel, between the rows that are solved."""
    rows = np.flatnonzero(solved.reached)
    travels = solved.sweep.travels[rows]
    place = solved.sweep.solution.motion.place[:, :, rows]
    return drawn | {
        name: np.array([float(np.interp(travel, travels, place[axis, k])) for axis in range(3)])
        for name, k in index.items()
    }


def _view(
    solved: SolvedStation,
    stands: dict[str, Array],
    ghosts: Sequence[dict[str, Array]],
    at: Callable[[Array], Spot],
) -> list[Line]:
    station = solved.station
    found: list[Line] = []
    ways = [(its, "fine") for its in ghosts]
    for its, meaning in (*ways, (stands, "frame")):
        for members in station.bodies.values():
            spots = [at(its[name]) for name in members]
            through = tuple([*spots, spots[0]] if len(spots) > 2 else spots)
            if len(through) > 1:
                found.append(Line(through=through, meaning=meaning))  # type: ignore[arg-type]
        for unit in station.units:
            ends = [at(its[end]) for end in unit.ends]
            found.append(Line(through=(ends[0], ends[1]), meaning="hidden" if meaning == "frame" else "fine"))
    for name in station.chassis:
        x, y = at(stands[name])
        found.append(Line(through=((x - 0.9, y - 0.9), (x + 0.9, y - 0.9), (x + 0.9, y + 0.9), (x - 0.9, y + 0.9), (x - 0.9, y - 0.9)), meaning="frame"))  # fmt: skip
    return found


def _ring(at: Spot) -> Line:
    """Return the ring of a balloon."""
    return Line(
        through=tuple(
            (at[0] + RING_MM * cos(pi * k / 12), at[1] + RING_MM * sin(pi * k / 12)) for k in range(25)
        ),
        meaning="extension",
    )
