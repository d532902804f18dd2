"""The lists that go with the parts: what is cut from which bar and sheet, hardware, what to order, where each mount comes."""

from collections import Counter
from collections.abc import Iterable

from engine.sentences import spoken
from engine.shop.buying import Line, OnShelf, rack_of, to_buy
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import JobParts
from engine.shop.made import Made
from engine.shop.set_out import TAPES
from server.tables import table


def cut_list(parts: JobParts, shelf: Iterable[OnShelf] = ()) -> str:
    """Return every tube to cut, by stock, laid into bars the longest first; then every plate, laid on sheets."""
    rows: list[list[object]] = []
    number: Counter[str] = Counter()
    for bar in bars(parts.parts, parts.stock, rack_of(shelf)):
        number[bar.stock] += 1
        left = bar.long
        for piece in bar.pieces:
            left = max(left - piece.long - bar.kerf, 0.0)
            where = "on the rack" if bar.rack else ""
            rows.append(
                [
                    bar.stock,
                    number[bar.stock],
                    bar.long,
                    piece.station,
                    spoken(piece.part),
                    piece.long,
                    "",
                    left,
                    where,
                ]
            )
    for sheet in sheets(parts.parts, parts.stock):
        number[sheet.stock] += 1
        for piece in sheet.pieces:
            turn = f", turned {piece.turn:.0f}°" if piece.turn else ""
            at = f"at {piece.x:.0f}, {piece.y:.0f}{turn}"
            rows.append(
                [
                    sheet.stock,
                    number[sheet.stock],
                    sheet.wide,
                    piece.station,
                    spoken(piece.part),
                    piece.long,
                    piece.wide,
                    "",
                    at,
                ]
            )
    head = [
        "stock",
        "bar or sheet",
        "its length mm",
        "station",
        "part",
        "cut mm",
        "wide mm",
        "left of the bar mm",
        "where",
    ]
    return table(head, rows)


def hardware(parts: JobParts) -> str:
    """Return rod ends, inserts, nuts and bolts, counted."""
    count: Counter[tuple[str, str]] = Counter()
    for part in parts.parts:
        joints = part.hands if part.kind in ("tab", "plate") else part.many
        for one in part.hardware:
            count[one.what, one.size] += one.count * joints
    return table(
        ["what", "size", "count"], [[what, size, many] for (what, size), many in sorted(count.items())]
    )


def order(parts: JobParts, shelf: Iterable[OnShelf] = ()) -> str:
    """Return everything to buy, less the shelf; springs are held back while their station has a fault."""
    head = ["what", "size", "needed", "on the shelf", "to buy", "price", "lead days", "note"]
    return table(head, [_row(line) for line in to_buy(parts, shelf)])


def _row(line: Line) -> list[object]:
    note = "" if line.note is None else str(line.note)
    lead = "" if line.lead_days is None else f"{line.lead_days:g}"
    return [line.what, line.size, line.needed, line.there, line.buy, line.price, lead, note]


def set_out_list(parts: JobParts) -> str:
    """Return where each mount comes: height, plumb mark, tapes, how close is close enough, its bolt's readings."""
    rows: list[list[object]] = []
    for mount in parts.mounts:
        tapes = [cell for place, long in mount.tapes for cell in (spoken(place), long)]
        tapes += [""] * (2 * TAPES - len(tapes))
        place = [
            mount.station,
            spoken(mount.point),
            mount.up,
            mount.out,
            mount.ahead,
            *tapes,
            *mount.close_enough,
        ]
        tabs: list[Made | None] = [*parts.tabs_at(mount)]
        for tab in tabs or [None]:
            keys = (
                "bolt_level",
                "bolt_level_side",
                "bolt_turn",
                "bolt_turn_side",
                "tab_plumb",
                "tab_plumb_side",
            )
            angles = [""] * 7 if tab is None else [spoken(tab.name), *(tab.figure(key) for key in keys)]
            if mount.on is not None:
                angles[0] = (
                    f"none here: on the bolt of the {spoken(mount.on[0])}, {mount.on[1]:+.1f} mm ahead of its middle"
                )
            rows.append([*place, mount.tape_mm, mount.loose or "", *angles])
    head = ["station", "point", "up mm", "out mm, left +", "ahead mm"]
    for number in range(1, TAPES + 1):
        head += [f"tape {number} to", f"tape {number} mm"]
    head += [
        "close fore-aft mm",
        "close out mm",
        "close up mm",
        "1 mm of tape is mm of place",
        "loosest way",
        "tab",
        "bolt out of level deg",
        "which end of the bolt is higher",
        "bolt turned deg",
        "turned from what, which end which way",
        "tab from vertical deg",
        "where its foot is",
    ]
    return table(head, rows)
