"""Where one mount comes, drawn: from the side and from the front to one scale, with floor, plumb mark and the three tapes.

Seen     from the right side (ahead is to the right) and from the front (the vehicle's left is to the right).
Clipped  a tape that runs far beyond the drawing is drawn to its edge; its length and its place are written beside it.
"""

from collections.abc import Callable, Sequence
from math import cos, pi, sin

from engine.document.schema import Station
from engine.drawing.flat import Said, millimetres, sized
from engine.drawing.labels import labelled
from engine.drawing.model import Box, Drawing, Line, Spot, Text
from engine.drawing.running import APART
from engine.sentences import spoken
from engine.shop.made import Made
from engine.shop.set_out import SetOut

VIEW = (83.0, 60.0)  # mm of paper for each view
GAP, MARGIN, MOST = 4.0, 2.0, 1500.0
LARGEST = 0.5  # of its own size
LETTERS = "ABCDEFGH"
Tube = tuple[Sequence[float], Sequence[float]]


def setting_out_drawing(
    mount: SetOut,
    station: Station | None,
    tabs: Sequence[Made],
    said: Said = millimetres,
    floor: float = 0.0,
    tubes: Sequence[Tube] = (),
) -> Drawing:
    """Return a mount's setting out on one panel: two views, and under them what is read and how near is near enough.

    station : what the mount is of, drawn fine beside it; none for a node of the frame
    tubes   : middle lines of the frame's members, mm as drawn
    """
    spot = (mount.ahead, mount.out, mount.up + floor)
    scale = min(LARGEST, *(_scale(mount, spot, axis, floor) for axis in (0, 1)))
    columns = (_places(mount, said), _angles(tabs))
    under = APART * max(len(rows) for rows in columns)
    tall = VIEW[1] + 2 * APART + under + 2 * MARGIN
    lines: list[Line] = []
    texts: list[Text] = []
    for number, axis in enumerate((0, 1)):
        left = MARGIN + number * (VIEW[0] + GAP)
        view = (left, MARGIN + under, left + VIEW[0], MARGIN + under + VIEW[1])
        more, words = _view(mount, station, tubes, spot, axis, view, scale, said, floor)
        lines += more
        texts += words
        caption = "from the right side" if axis == 0 else "from the front"
        texts.append(Text(words=caption, at=(left, tall - MARGIN - 1.8 * APART)))
        for row, line in enumerate(columns[number]):
            texts.append(Text(words=line, at=(left, MARGIN + under - APART * (row + 0.8))))
    title = f"{spoken(mount.station)}: {spoken(mount.point)}"
    texts.append(Text(words=title, at=(MARGIN, tall - MARGIN - 0.8 * APART), bold=True))
    wide = max([2 * (MARGIN + VIEW[0]) + GAP, *(text.box[2] + MARGIN for text in texts)])
    return Drawing(
        name=title,
        wide=wide,
        tall=tall,
        scale=scale,
        origin=(MARGIN, MARGIN),
        lines=tuple(lines),
        texts=tuple(texts),
    )


def _reach(mount: SetOut, spot: tuple[float, float, float], axis: int, floor: float) -> list[Spot]:
    """Return what a view has to hold: the mount, the floor under it, the line it is measured from, tapes that are not far."""
    found = [(spot[axis], spot[2]), (spot[axis], floor)]
    if abs(spot[axis]) < MOST:
        found.append((0.0, floor))
    for place in mount.spots:
        if abs(place[axis] - spot[axis]) < MOST / 2 and abs(place[2] - spot[2]) < MOST / 2:
            found.append((place[axis], place[2]))
    return found


def _scale(mount: SetOut, spot: tuple[float, float, float], axis: int, floor: float) -> float:
    its = _reach(mount, spot, axis, floor)
    across = max(x for x, _ in its) - min(x for x, _ in its)
    up = max(z for _, z in its) - min(z for _, z in its)
    room = (VIEW[0] - 30.0, VIEW[1] - 22.0)
    return min(room[0] / max(across, 1.0), room[1] / max(up, 1.0))


def _view(
    mount: SetOut,
    station: Station | None,
    tubes: Sequence[Tube],
    spot: tuple[float, float, float],
    axis: int,
    view: Box,
    scale: float,
    said: Said,
    floor: float,
) -> tuple[list[Line], list[Text]]:
    its = _reach(mount, spot, axis, floor)
    middle = (max(x for x, _ in its) + min(x for x, _ in its)) / 2
    base = view[1] + 12.0

    def at(place: Sequence[float]) -> Spot:
        return (view[0] + view[2]) / 2 + (place[axis] - middle) * scale, base + (place[2] - floor) * scale

    lines: list[Line] = [Line(through=((view[0], base), (view[2], base)), meaning="ground")]
    nought = at((0.0, 0.0, floor))
    if view[0] < nought[0] < view[2]:
        lines.append(Line(through=((nought[0], base - 9.0), (nought[0], view[3])), meaning="centre"))
    lines += [] if station is None else _bodies(station, at, view)
    for one, other in tubes:
        within = _within(at(one), at(other), view)
        if within is not None:
            lines.append(Line(through=within, meaning="fine"))
    x, z = at(spot)
    for place in mount.spots:
        end = _clipped((x, z), at(place), view)
        if end is not None:
            lines.append(Line(through=((x, z), end), meaning="tape"))
    lines.append(Line(through=((x, z), (x, base)), meaning="hidden"))
    for dx, dy in ((2.0, 0.0), (0.0, 2.0)):
        lines.append(Line(through=((x - dx, z - dy), (x + dx, z + dy)), meaning="outline"))
    lines.append(_ring((x, z), 1.4, "outline"))
    lines.append(Line(through=((x - 1.5, base - 1.5), (x + 1.5, base + 1.5)), meaning="outline"))
    lines.append(Line(through=((x - 1.5, base + 1.5), (x + 1.5, base - 1.5)), meaning="outline"))
    across = spot[axis]
    if view[0] < nought[0] < view[2] and abs(x - nought[0]) > 0.5:
        y = base - 6.0
        lines.append(Line(through=((nought[0], y), (x, y)), meaning="extension"))
        lines.append(Line(through=((x, base - 2.0), (x, y - 1.5)), meaning="extension"))
    ways = [(a, b) for line in lines for a, b in zip(line.through, line.through[1:], strict=False)]
    word = "ahead" if axis == 0 else "out"
    wanted: list[tuple[str, Spot]] = [
        (f"{word} {said(across)}", ((x + nought[0]) / 2 if view[0] < nought[0] < view[2] else x, base - 6.0)),
        (f"up {said(spot[2] - floor)}", (x, (z + base) / 2)),
    ]
    for k, place in enumerate(mount.spots):
        end = _clipped((x, z), at(place), view)
        if end is not None and (end[0] - x) ** 2 + (end[1] - z) ** 2 > 4.0:
            wanted.append((LETTERS[k], end))
    texts, leaders = labelled(wanted, ways, [], (view[0], view[1], view[2], view[3]))
    return [*lines, *leaders], texts


def _bodies(station: Station, at: Callable[[Sequence[float]], Spot], view: Box) -> list[Line]:
    found = []
    place = {name: at(spot) for name, spot in station.points.items()}
    for members in station.bodies.values():
        spots = [place[name] for name in members if _inside(place[name], view)]
        if len(spots) > 1:
            found.append(Line(through=tuple(spots), meaning="fine"))
    for name in station.chassis:
        if _inside(place[name], view):
            found.append(_ring(place[name], 0.7, "fine"))
    return found


def _ring(at: Spot, radius: float, meaning: str) -> Line:
    return Line(
        through=tuple(
            (at[0] + radius * cos(pi * k / 6), at[1] + radius * sin(pi * k / 6)) for k in range(13)
        ),
        meaning=meaning,  # type: ignore[arg-type]
    )


def _inside(spot: Spot, view: Box) -> bool:
    return view[0] + 1 <= spot[0] <= view[2] - 1 and view[1] + 1 <= spot[1] <= view[3] - 1


def _within(one: Spot, other: Spot, view: Box) -> tuple[Spot, Spot] | None:
    """Return the piece of a line that lies in a view (Liang and Barsky, 1984); None where none does."""
    low, high = 0.0, 1.0
    for axis in (0, 1):
        along = other[axis] - one[axis]
        for room, sign in ((one[axis] - view[axis] - 1, -along), (view[axis + 2] - 1 - one[axis], along)):
            if abs(sign) < 1e-9:
                if room < 0:
                    return None
            elif sign < 0:
                low = max(low, room / sign)
            else:
                high = min(high, room / sign)
    if high - low < 1e-6:
        return None
    x, y = other[0] - one[0], other[1] - one[1]
    return (one[0] + low * x, one[1] + low * y), (one[0] + high * x, one[1] + high * y)


def _clipped(one: Spot, other: Spot, view: Box) -> Spot | None:
    """Return where a line from a place within a view ends: at its other end, or at the view's edge; None without length."""
    share = 1.0
    for axis in (0, 1):
        along = other[axis] - one[axis]
        if along > 0:
            share = min(share, (view[axis + 2] - one[axis]) / along)
        elif along < 0:
            share = min(share, (view[axis] - one[axis]) / along)
    if share <= 0:
        return None
    return one[0] + (other[0] - one[0]) * share, one[1] + (other[1] - one[1]) * share


def _places(mount: SetOut, said: Said) -> list[str]:
    ahead, out, up = mount.close_enough
    rows = [
        f"up from the floor {said(mount.up)}, within {sized(said)(up)}",
        f"plumb mark out {said(mount.out)}, within {sized(said)(out)}",
        f"plumb mark ahead {said(mount.ahead)}, within {sized(said)(ahead)}",
    ]
    for letter, (place, long) in zip(LETTERS, mount.tapes, strict=False):
        rows += _wrapped(f"{letter} {said(long)} to {_said_of(place, mount.station)}")
    if mount.loose:
        rows.append(f"loose {mount.loose}: set height and mark first")
    letters = LETTERS[: len(mount.tapes)]
    return [*rows, "read: " + "  ".join(f"{letter} ______" for letter in letters)]


def _said_of(place: str, station: str) -> str:
    """Return a place as it is said: of the same station by its point alone, of another with that one's name behind it."""
    of, _, point = place.partition("/")
    if not point:
        return spoken(place)
    return spoken(point) if of == station else f"{spoken(point)}, {spoken(of)}"


def _wrapped(words: str) -> list[str]:
    """Return words on as many lines as a column's width asks for: a side that is cut off is the wrong side."""
    lines: list[str] = []
    for word in words.split(" "):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and Text(words=longer, at=(0.0, 0.0)).box[2] > VIEW[0]:
            lines.append(f"    {word}")
        else:
            lines[-1:] = [longer]
    return lines


def _angles(tabs: Sequence[Made]) -> list[str]:
    rows: list[str] = []
    for tab in tabs:
        rows += [
            *_wrapped(spoken(tab.name)),
            f"  bolt {tab.figure('bolt_level'):.1f}° out of level",
            f"  {tab.figure('bolt_level_side')}",
            f"  turned {tab.figure('bolt_turn'):.1f}°",
            f"  {tab.figure('bolt_turn_side')}",
            f"  tab {tab.figure('tab_plumb'):.1f}° from vertical",
            f"  {tab.figure('tab_plumb_side')}",
        ]
    return rows
