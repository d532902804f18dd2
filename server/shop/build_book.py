"""The build book: a job as the bench works from it, station by station; drawings where they are placed, tables where things compare.

Cover and contents; of each station its general arrangement with balloons and the parts list, settings, setting out, part
drawings, what stands on each bolt, hardware counted once, cautions, the sheet it is cycled by; the weigh-in sheet.
"""

from collections import Counter
from collections.abc import Sequence
from datetime import date

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, PageBreak, Spacer, Table

from engine.document.frame_sides import tube_lines
from engine.drawing.arrangement import arrangement_drawing, numbered, vehicle_drawing
from engine.drawing.cut_plan import bar_drawing, sheet_drawing
from engine.drawing.flat import Said, flat_drawing, mass_said, millimetres, said_in, unit_of
from engine.drawing.joint import as_drawn, held_in, joint_drawing
from engine.drawing.model import Drawing
from engine.drawing.rocker_sweep import rocker_drawing
from engine.drawing.setting_out import setting_out_drawing
from engine.drawing.tube import tube_drawing
from engine.sentences import spoken
from engine.shop.buying import OnShelf, rack_of
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import JobParts
from engine.shop.made import Made
from engine.shop.parts import StationParts
from engine.shop.stacks import BoltStack
from engine.sizing.rocker.wheel_side import rockers_here
from engine.station.solved import SolvedStation
from engine.vehicle.wheels import vehicle_of
from server.paper.floor_sheets import cycle_sheet, weigh_sheet
from server.paper.letterhead import NO_LETTERHEAD, Letterhead
from server.paper.pen import Drawn, PageOf
from server.paper.setting import Paper
from server.shop.papers import CAUTION, settings_of

PLATE_ROOM = (64.0, 84.0)  # mm on the paper that a plate itself may take
BESIDE_MM, HEAD_MM = 4.0, 14.0
SHEET_ROOM = (80.0, 125.0)
CUTTING = "Cut from which bar, and which sheet"
NO_CERTIFICATE = (
    "A first check, no certificate. A competent engineer and the rules of the road or track decide."
)


def build_sheet_pdf(
    parts: JobParts,
    made_by: str = "",
    paper: str = "A4",
    only: str | None = None,
    inches: bool = False,
    fractions: bool = False,
    head: Letterhead = NO_LETTERHEAD,
    shelf: Sequence[OnShelf] = (),
) -> bytes:
    """Return the build book of a job, or of one station of it; raise NoPaper.

    shelf : what is there already: bars of the rack are cut first, as in the cut list
    """
    pages: dict[str, int] = {}
    setting = Paper(by=made_by or "Jugatrix", page=paper, inches=inches, fractions=fractions)
    vehicle = vehicle_of(parts.project) if parts.solved and only is None else None
    # Twice: the contents are known once the pages are laid.
    for _ in range(2):
        story: list[Flowable] = [
            *head.flowables(setting),
            *_cover(parts, setting, made_by, only, pages),
            PageBreak(),
        ]
        for station, solved in zip(parts.stations, parts.solved, strict=True):
            if only is None or station.station == only:
                story += [*_station(parts, station, solved, setting, pages), PageBreak()]
        if parts.frame is not None and only in (None, parts.frame.station):
            story += [*_frame(parts, parts.frame, setting, pages), PageBreak()]
        if only is None:
            story += _cutting(parts, rack_of(shelf), setting, pages)
        if only is None and vehicle is not None:
            story += [*weigh_sheet(vehicle, parts.project.name, setting), PageBreak()]
        data = setting.build(story[:-1], f"{parts.project.name}, build book")
    return data


def _cover(
    parts: JobParts, paper: Paper, made_by: str, only: str | None, pages: dict[str, int]
) -> list[Flowable]:
    pieces = sum(part.many for part in parts.parts)
    mass = _mass(sum(part.mass * part.many for part in parts.parts), paper)
    found: list[Flowable] = [
        paper.say(parts.project.name, "title"),
        paper.say(
            f"Build book{'' if only is None else f' of {spoken(only)}'}, {made_by or 'not saved'}, {date.today().isoformat()}"
        ),
        paper.say(NO_CERTIFICATE),
    ]
    if parts.solved:
        found.append(Drawn(vehicle_drawing(parts.solved, parts.project.name, (paper.wide, 150.0))))
    names = [one.station for one in parts.chapters if only is None or one.station == only]
    rows = [["Contents", "Pieces", "Page"]]
    for one in parts.chapters:
        if one.station in names:
            count = sum(part.many for part in one.parts)
            rows.append([spoken(one.station), f"{count}", f"{pages.get(one.station, '')}"])
    if CUTTING in pages:
        rows.append([CUTTING, "", f"{pages[CUTTING]}"])
    rows.append(["All of it", f"{pieces}, {mass} of steel", ""])
    return [*found, paper.table(rows, [90, 50, 20])]


def _station(
    parts: JobParts, station: StationParts, solved: SolvedStation, paper: Paper, pages: dict[str, int]
) -> list[Flowable]:
    drawn = [drawing for part in station.parts if (drawing := part_drawing(part, _said(paper))) is not None]
    floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
    tubes = tube_lines(parts.project)
    panels = [
        setting_out_drawing(mount, solved.station, parts.tabs_at(mount), _said(paper), floor, tubes)
        for mount in parts.mounts
        if mount.station == station.station and mount.on is None
    ]
    return [
        PageOf(station.station, pages),
        Drawn(arrangement_drawing(solved, station.parts, (paper.wide, 172.0))),
        *_part_list(station, solved, paper),
        *_under("Settings", [paper.say(words) for words in settings_of(solved)], paper),
        paper.say(f"{spoken(station.station)}: setting out", "head"),
        paper.say(
            f"{unit_of(_said(paper))}, as drawn. Height first, then the plumb mark, then the tapes; tack only, and read it back."
        ),
        *(KeepTogether([Drawn(panel), Spacer(1, 2 * mm)]) for panel in panels),
        paper.say(f"{spoken(station.station)}: parts to cut", "head"),
        *_packed(drawn, paper),
        *_rockers(station, solved, paper),
        *_joints(station, paper),
        *_hardware(station, paper),
        *_under("Cautions", [paper.say(" ".join(CAUTION))], paper),
        PageBreak(),
        *cycle_sheet(solved, parts.project.name, paper),
    ]


def _frame(parts: JobParts, frame: StationParts, paper: Paper, pages: dict[str, int]) -> list[Flowable]:
    """Return the chapter of the frame: what is cut, where its places come, every piece drawn."""
    rows = [["No.", "Tube", "Pieces", "Stock", "Cut", "Mass"]]
    for number, part in enumerate(frame.parts, start=1):
        cut = part.cut
        stock, long = ("", "not cut") if cut is None else (cut.said, _long(cut.length, paper))
        rows.append([f"{number}", spoken(part.name), f"{part.many}", stock, long, _mass(part.mass, paper)])
    drawn = [drawing for part in frame.parts if (drawing := part_drawing(part, _said(paper))) is not None]
    floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
    tubes = tube_lines(parts.project)
    panels = [
        setting_out_drawing(mount, None, (), _said(paper), floor, tubes)
        for mount in parts.mounts
        if mount.station == frame.station
    ]
    ends = [["Tube", "End 1", "End 2"]]
    for part in frame.parts:
        said = {
            figure.key: f"{figure.value}" for figure in part.figures if figure.key in ("stands_1", "stands_2")
        }
        ends.append([spoken(part.name), said.get("stands_1", ""), said.get("stands_2", "")])
    return [
        PageOf(frame.station, pages),
        paper.say(spoken(frame.station), "head"),
        paper.table(rows, [11, 52, 20, 50, 24, 18]),
        paper.say("How the ends are cut", "head"),
        paper.table(ends, [40, 67, 67]),
        paper.say(f"{spoken(frame.station)}: setting out", "head"),
        paper.say(
            f"{unit_of(_said(paper))}, where the tubes' middle lines meet. Tack all of it, read the places back, then weld from side to side."
        ),
        *(KeepTogether([Drawn(panel), Spacer(1, 2 * mm)]) for panel in panels),
        paper.say(f"{spoken(frame.station)}: tubes to cut", "head"),
        *_packed(drawn, paper),
        *_under("Cautions", [paper.say(" ".join(CAUTION))], paper),
    ]


def _cutting(
    parts: JobParts, rack: dict[str, list[float]], paper: Paper, pages: dict[str, int]
) -> list[Flowable]:
    """Return what is cut from which bar and which sheet; nothing where nothing is cut."""
    said = _said(paper)
    drawn = [
        bar_drawing(bar, k, paper.wide - BESIDE_MM, said)
        for k, bar in enumerate(bars(parts.parts, parts.stock, rack), start=1)
    ]
    drawn += [
        sheet_drawing(sheet, k, SHEET_ROOM, said)
        for k, sheet in enumerate(sheets(parts.parts, parts.stock), start=1)
    ]
    if not drawn:
        return []
    return [
        PageOf(CUTTING, pages),
        *_under(CUTTING, _packed(drawn, paper), paper),
        PageBreak(),
    ]


def part_drawing(part: Made, said: Said = millimetres) -> Drawing | None:
    """Return the drawing of a part that is cut; None of one that is bought."""
    name = f"{part.many} × {spoken(part.name)}{', both hands' if part.hands == 2 else ''}"
    if part.flat is not None:
        return flat_drawing(part.flat, name, PLATE_ROOM, said, largest=1.0)
    if part.cut is not None:
        return tube_drawing(part, name, said)
    return None


def _under(head: str, story: list[Flowable], paper: Paper) -> list[Flowable]:
    """Return a heading that is never left alone at the foot of a page, and what stands under it."""
    if not story:
        return []
    return [KeepTogether([paper.say(head, "head"), story[0]]), *story[1:]]


def _packed(drawings: Sequence[Drawing], paper: Paper) -> list[Flowable]:
    """Return drawings down the page, as many beside one another as have room, the first first; one taller than a page smaller."""
    wide, tall = paper.wide, paper.tall - HEAD_MM
    found: list[Flowable] = []
    left = list(drawings)
    while left:
        row, taken = [left.pop(0)], 0.0
        while True:
            taken = sum(one.wide + BESIDE_MM for one in row)
            other = next((k for k, one in enumerate(left) if taken + one.wide <= wide), None)
            if other is None:
                break
            row.append(left.pop(other))
        beside = Table(
            [[Drawn(one, min(1.0, tall / one.tall)) for one in row]],
            colWidths=[(one.wide + BESIDE_MM) * mm for one in row],
            hAlign="LEFT",
            spaceAfter=2 * mm,
            style=[
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ],
        )
        found.append(beside)
    return found


def _part_list(station: StationParts, solved: SolvedStation, paper: Paper) -> list[Flowable]:
    rows = [["No.", "Part", "Pieces", "Stock", "Cut", "Mass"]]
    for one in numbered(station.parts, solved):
        part = one.part
        stock = part.flat.stock if part.flat else part.cut.said if part.cut else "bought"
        cut = _long(part.cut.length, paper) if part.cut else ""
        hands = f"{part.count} a side" if part.hands == 2 else ""
        rows.append(
            [
                f"{one.number}",
                spoken(part.name),
                f"{part.many} {hands}".strip(),
                stock,
                cut,
                _mass(part.mass, paper) if part.mass else "",
            ]
        )
    return [paper.table(rows, [11, 52, 24, 46, 22, 18])]


def _joints(station: StationParts, paper: Paper) -> list[Flowable]:
    """Return every joint pulled apart along its bolt; those that are alike but for what they hold once."""
    alike: dict[tuple[object, ...], tuple[BoltStack, list[str]]] = {}
    for part in station.parts:
        for stack in part.stacks:
            layers = tuple((as_drawn(layer), round(layer.width, 2), layer.outside) for layer in stack.layers)
            _, names = alike.setdefault((stack.bolt.said, layers), (stack, []))
            name = spoken(part.name)
            held = [one for one in held_in(stack) if one not in name]
            names.append(f"{name} ({', '.join(held)})" if held else name)
    drawn = [
        joint_drawing(stack, "; ".join(dict.fromkeys(names)), _said(paper)) for stack, names in alike.values()
    ]
    return _under("What goes on each bolt, from its head to its nut", _packed(drawn, paper), paper)


def _rockers(station: StationParts, solved: SolvedStation, paper: Paper) -> list[Flowable]:
    """Return every rocker that is cut with its sweep."""
    here = {one.rocker: one for one in rockers_here(solved)}
    drawn = [
        drawing
        for part in station.parts
        if part.kind == "plate" and part.flat is not None and part.subject[-1] in here
        if (drawing := rocker_drawing(solved, here[part.subject[-1]], part.flat, said=_said(paper)))
        is not None
    ]
    return _under("Rockers, from full droop to full bump", _packed(drawn, paper), paper)


def _mass(mass: float, paper: Paper) -> str:
    return mass_said(mass, _said(paper))


def _long(long: float, paper: Paper) -> str:
    """Return a length that is cut to, mm, as it is read."""
    return f"{_said(paper)(long)} {unit_of(_said(paper))}"


def _said(paper: Paper) -> Said:
    """Return how a length is written on the drawings of a paper."""
    return said_in(paper.inches, paper.fractions)


def _hardware(station: StationParts, paper: Paper) -> list[Flowable]:
    """Return the hardware of a station, each size once with how many the vehicle takes."""
    count: Counter[tuple[str, str]] = Counter()
    for part in station.parts:
        joints = part.hands if part.kind in ("tab", "plate") else part.many
        for item in part.hardware:
            count[item.what, item.size] += item.count * joints
    if not count:
        return []
    rows = [["Hardware", "Size", "Pieces"]]
    rows += [[what, size, f"{many}"] for (what, size), many in sorted(count.items())]
    return [paper.say("Hardware", "head"), paper.table(rows, [70, 80, 24])]
