"""What is cut from which bar and which sheet, to scale: every piece numbered, the numbers told beside or below.

Bar     a strip with its pieces in the order of the saw; how much is left of it is said.
Sheet   its pieces by their true shapes; as much of it is drawn as they reach, and how long it is in truth is said.
"""

from collections.abc import Sequence

from engine.drawing.crossing import ways_of
from engine.drawing.flat import Said, millimetres, unit_of
from engine.drawing.labels import labelled
from engine.drawing.model import TEXT_MM, Drawing, Edge, Line, Spot, Text, placed, scale_for, scale_said
from engine.drawing.running import APART
from engine.sentences import spoken
from engine.shop.cutting import Bar, Piece, Sheet
from engine.shop.outline import box_of

MARGIN, TALL_MM, LEAST_MM = 2.0, 6.0, 6.0
BEYOND_MM = 12.0  # of the sheet that is drawn beyond its pieces


def bar_drawing(bar: Bar, number: int, wide: float = 174.0, said: Said = millimetres) -> Drawing:
    """Return a bar with its pieces in the order in which they are sawn, so wide on the paper, mm."""
    scale = (wide - 2 * MARGIN) / bar.long
    lines: list[Line] = []
    texts: list[Text] = []
    low = MARGIN + APART * (len(bar.pieces) + 1)
    lines.append(_box(MARGIN, low, MARGIN + bar.long * scale, low + TALL_MM, "fine"))
    at = 0.0
    for k, piece in enumerate(bar.pieces, start=1):
        left, right = MARGIN + at * scale, MARGIN + (at + piece.long) * scale
        lines.append(_box(left, low, right, low + TALL_MM, "outline"))
        if right - left >= LEAST_MM:
            text = Text(words=f"{k}", at=((left + right) / 2, low + TALL_MM / 2 - 0.35 * TEXT_MM), anchor="middle")  # fmt: skip
            texts.append(text)
        row = f"{k}  {said(piece.long)}  {spoken(piece.part)}, {spoken(piece.station)}"
        texts.append(Text(words=row, at=(MARGIN, low - APART * (k + 0.4))))
        at += piece.long + bar.kerf
    head = f"bar {number}, {bar.stock}: {said(bar.long)} {unit_of(said)}{', on the rack' if bar.rack else ''}, {said(bar.left)} {unit_of(said)} left"
    top = low + TALL_MM + 1.5
    texts.append(Text(words=head, at=(MARGIN, top), bold=True))
    tall = top + APART + MARGIN
    across = max(wide, *(text.box[2] + MARGIN for text in texts))
    return Drawing(name=head, wide=across, tall=tall, scale=scale, origin=(MARGIN, low), lines=tuple(lines), texts=tuple(texts))  # fmt: skip


def sheet_drawing(
    sheet: Sheet, number: int, room: Spot = (170.0, 150.0), said: Said = millimetres
) -> Drawing:
    """Return a sheet with its pieces by their shapes, its shorter side up the paper, as far along as they reach."""
    reach = min(sheet.used + BEYOND_MM, sheet.wide)
    scale = scale_for(reach, sheet.high, room)
    names = list(dict.fromkeys((piece.part, piece.station) for piece in sheet.pieces))
    number_of = {name: k for k, name in enumerate(names, start=1)}
    told = [_row(number_of[name], name, sheet.pieces) for name in names]
    foot = MARGIN + APART * (len(told) + 0.6)
    origin = (MARGIN, foot)
    edges = [
        Edge(arcs=tuple(placed(arc, scale, origin) for arc in piece.lying(edge)))
        for piece in sheet.pieces
        if piece.flat is not None
        for edge in (piece.flat.outline, *(hole.edge for hole in piece.flat.holes))
    ]
    right, top = MARGIN + reach * scale, foot + sheet.high * scale
    through: tuple[Spot, ...] = ((right, foot), (MARGIN, foot), (MARGIN, top), (right, top))
    whole = reach >= sheet.wide - 1e-9
    lines = [Line(through=(*through, (right, foot)) if whole else through, meaning="fine")]
    bare = Drawing(name="", wide=right, tall=top, scale=scale, origin=origin, edges=tuple(edges), lines=tuple(lines))  # fmt: skip
    wanted = [(f"{number_of[piece.part, piece.station]}", _middle(piece, scale, origin)) for piece in sheet.pieces]  # fmt: skip
    numbers, leaders = labelled(wanted, list(ways_of(bare)), [], (MARGIN, foot, max(right + 24.0, 60.0), top))
    missing = len(wanted) - len(numbers)
    head = [
        f"sheet {number}, {sheet.stock}",
        f"{said(sheet.wide)} × {said(sheet.high)} {unit_of(said)}, {scale_said(scale)}",
        f"used to {said(sheet.used)} {unit_of(said)} of it{f'; {missing} not numbered' if missing else ''}",
    ]
    texts = [
        Text(words=words, at=(MARGIN, top + 2.0 + APART * (len(head) - 1 - row)), bold=row == 0)
        for row, words in enumerate(head)
    ]
    texts += [Text(words=words, at=(MARGIN, foot - APART * (row + 1))) for row, words in enumerate(told)]
    wide = max([right + MARGIN, *(text.box[2] + MARGIN for text in (*texts, *numbers))])
    return Drawing(
        name=head[0],
        wide=wide,
        tall=top + 2.0 + len(head) * APART + MARGIN,
        scale=scale,
        origin=origin,
        edges=tuple(edges),
        lines=(*lines, *leaders),
        texts=(*texts, *numbers),
    )


def _row(number: int, name: tuple[str, str], pieces: Sequence[Piece]) -> str:
    many = sum((piece.part, piece.station) == name for piece in pieces)
    return f"{number}  {many} × {spoken(name[0])}, {spoken(name[1])}"


def _middle(piece: Piece, scale: float, origin: Spot) -> Spot:
    """Return the middle of a piece's box on the paper."""
    assert piece.flat is not None
    low, bottom, high, top = box_of(piece.lying(piece.flat.outline))
    return origin[0] + (low + high) / 2 * scale, origin[1] + (bottom + top) / 2 * scale


def _box(left: float, low: float, right: float, high: float, meaning: str) -> Line:
    through = ((left, low), (right, low), (right, high), (left, high), (left, low))
    return Line(through=through, meaning=meaning)  # type: ignore[arg-type]
