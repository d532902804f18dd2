"""What is cut from which bar and which sheet: the longest first into the bar that has least left, plates by their true shapes.

Kerf    what the saw takes of every cut, mm; a piece that ends a bar takes none beyond it.
Rack    lengths that are there already, used before a new bar is begun, the shortest that fits first.
Gap     between plates on a sheet, mm, for torch or laser.
Boxes   plates laid by their boxes (rectpack): taken where that needs fewer sheets or less of the last one.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace

import rectpack

from engine.facts import facts
from engine.shop.made import Flat, Made
from engine.shop.nesting import nested
from engine.shop.outline import Arc, area_of, box_of, turned
from engine.shop.stock import Stock

GAP_MM = 6.0
STEP = 10  # rectpack takes whole numbers: tenths of a millimetre
MOST_SHEETS = 40


@dataclass(frozen=True, kw_only=True)
class Piece:
    """One piece of one part, mm: `long` and `wide` the box that it is drawn in.

    On a sheet: its box's lower left corner as it lies, how it is turned (degrees anticlockwise), and its shape as drawn.
    """

    station: str
    part: str
    long: float
    wide: float = 0.0
    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    flat: Flat | None = None

    @property
    def turned(self) -> bool:
        """Return whether it lies across: its `long` up the sheet."""
        return self.turn % 180 != 0

    @property
    def reach(self) -> float:
        """Return how far along its sheet it reaches, mm."""
        return self.x + (self.wide if self.turned else self.long)

    def lying(self, edge: Iterable[Arc]) -> list[Arc]:
        """Return an edge of its shape, outline or hole, where it lies on the sheet."""
        assert self.flat is not None
        low, bottom, _, _ = box_of(turned(list(self.flat.outline), self.turn))
        return turned(list(edge), self.turn, self.x - low, self.y - bottom)


@dataclass(kw_only=True)
class Bar:
    """A bar: its stock, length and pieces, mm; `rack` where it is there already."""

    stock: str
    long: float
    kerf: float
    rack: bool = False
    pieces: list[Piece] = field(default_factory=list)

    @property
    def used(self) -> float:
        """Return what is cut off it with the saw's kerf, mm."""
        return sum(piece.long for piece in self.pieces) + self.kerf * len(self.pieces)

    @property
    def left(self) -> float:
        """Return the offcut, mm."""
        return max(self.long - self.used, 0.0)

    def takes(self, long: float) -> bool:
        """Return whether a piece still comes out of it; the last one needs no kerf behind it."""
        return self.long - self.used >= long - 1e-9


@facts
class Sheet:
    """A sheet of plate: mm, its pieces, and the share of it that they fill."""

    stock: str
    thickness: float
    wide: float
    high: float
    pieces: tuple[Piece, ...]

    @property
    def filled(self) -> float:
        """Return the share of it that becomes its pieces."""
        metal = sum(abs(area_of(list(piece.flat.outline))) for piece in self.pieces if piece.flat is not None)
        return metal / (self.wide * self.high)

    @property
    def used(self) -> float:
        """Return how far its pieces reach along it, mm: the rest stays whole."""
        return max(piece.reach for piece in self.pieces)


def bars(parts: Iterable[Made], stock: Stock, rack: Mapping[str, list[float]] | None = None) -> list[Bar]:
    """Return every tube laid into bars; a piece longer than a new bar gets a bar of its own length, said so by `long`."""
    wanted: dict[str, list[Piece]] = {}
    for part in parts:
        if part.cut is not None and part.cut.length > 0:
            piece = Piece(station=part.station, part=part.name, long=part.cut.length)
            wanted.setdefault(part.cut.stock, []).extend([piece] * part.many)
    found: list[Bar] = []
    for name in sorted(wanted):
        there = sorted((rack or {}).get(name, []))
        # Where a piece goes of several bars: the fullest, or the first. Neither is always better; fewer new bars are.
        tried: list[list[Bar]] = [
            _laid(name, wanted[name], stock, there, choose) for choose in (_fullest, _first)
        ]
        fewest: list[Bar] = min(tried, key=_bars_bought)
        found += fewest
    return found


def _bars_bought(laid: list[Bar]) -> tuple[int, int]:
    return sum(not bar.rack for bar in laid), len(laid)


def _fullest(bars_open: list[Bar]) -> Bar:
    return min(bars_open, key=lambda bar: bar.left)


def _first(bars_open: list[Bar]) -> Bar:
    return bars_open[0]


def _laid(
    name: str, pieces: list[Piece], stock: Stock, rack: list[float], choose: Callable[[list[Bar]], Bar]
) -> list[Bar]:
    """Return pieces laid into bars, the longest first, those on the rack before new ones."""
    there = [Bar(stock=name, long=long, kerf=stock.kerf_mm, rack=True) for long in rack]
    opened: list[Bar] = []
    for piece in sorted(pieces, key=lambda piece: -piece.long):
        fits = [bar for bar in opened if bar.takes(piece.long)]
        if fits:
            bar = choose(fits)
        else:
            waiting = [bar for bar in there if bar.takes(piece.long)]
            bar = (
                waiting[0]
                if waiting
                else Bar(stock=name, long=max(stock.bar_mm, piece.long), kerf=stock.kerf_mm)
            )
            opened.append(bar)
            there = [one for one in there if one is not bar]
        bar.pieces.append(piece)
    return opened


def sheets(parts: Iterable[Made], stock: Stock) -> list[Sheet]:
    """Return every plate laid on sheets; a plate larger than a sheet lies on one of its own size."""
    wanted: dict[str, list[Piece]] = {}
    thick: dict[str, float] = {}
    for part in parts:
        if part.flat is not None:
            thick[part.flat.stock] = part.flat.thickness
            one, other = part.flat, part.flat.other_hand
            each = part.count if part.hands == 2 else part.many
            for flat, many in ((one, each), (other, part.many - each)):
                low, bottom, high, top = box_of(list(flat.outline))
                piece = Piece(
                    station=part.station, part=part.name, long=high - low, wide=top - bottom, flat=flat
                )
                wanted.setdefault(part.flat.stock, []).extend([piece] * many)
    found: list[Sheet] = []
    for name in sorted(wanted):
        width, height = stock.sheet_mm
        large = [
            p
            for p in wanted[name]
            if max(p.long, p.wide) > max(stock.sheet_mm) - GAP_MM
            or min(p.long, p.wide) > min(stock.sheet_mm) - GAP_MM
        ]
        found += [
            Sheet(stock=name, thickness=thick[name], wide=piece.long, high=piece.wide, pieces=(piece,))
            for piece in large
        ]
        small = [piece for piece in wanted[name] if piece not in large]
        if small:
            found += [
                Sheet(stock=name, thickness=thick[name], wide=width, high=height, pieces=pieces)
                for pieces in _packed(small, width, height)
            ]
    return found


def _packed(pieces: list[Piece], width: float, height: float) -> list[tuple[Piece, ...]]:
    """Return pieces as they lie on as few sheets as they fit on, sheet by sheet: by their shapes, or by their boxes if that is less."""
    shape, box = by_shape(pieces, width, height), by_box(pieces, width, height)
    # The packer of boxes leaves out what its sheets have no room for.
    whole = sum(map(len, box)) == len(pieces)
    return min(shape, box, key=_sheets_used) if whole else shape


def _sheets_used(laid: list[tuple[Piece, ...]]) -> tuple[int, float]:
    """Return how many sheets are taken, and how far along the last."""
    return len(laid), max(piece.reach for piece in laid[-1])


def by_shape(pieces: list[Piece], width: float, height: float) -> list[tuple[Piece, ...]]:
    """Return pieces laid by their shapes, sheet by sheet."""
    shapes = [piece.flat.outline for piece in pieces if piece.flat is not None]
    found: list[list[Piece]] = []
    for lies in nested(shapes, width, height, GAP_MM):
        while len(found) <= lies.sheet:
            found.append([])
        found[lies.sheet].append(replace(pieces[lies.number], x=lies.x, y=lies.y, turn=lies.turn))
    return [tuple(sheet) for sheet in found]


def by_box(pieces: list[Piece], width: float, height: float) -> list[tuple[Piece, ...]]:
    """Return pieces laid by their boxes, sheet by sheet."""
    packer = rectpack.newPacker(rotation=True)
    for number, piece in enumerate(pieces):
        packer.add_rect(_tenths(piece.long + GAP_MM), _tenths(piece.wide + GAP_MM), number)
    packer.add_bin(_tenths(width), _tenths(height), count=MOST_SHEETS)
    packer.pack()
    found = []
    for sheet in packer:
        laid = []
        for rect in sheet:
            piece = pieces[rect.rid]
            turn = 90.0 if rect.width != _tenths(piece.long + GAP_MM) else 0.0
            laid.append(replace(piece, x=rect.x / STEP, y=rect.y / STEP, turn=turn))
        found.append(tuple(laid))
    return found


def _tenths(value: float) -> int:
    return int(-(-value * STEP // 1))
