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
from engine.drawing.flat import Said, flat_drawing, millimetres
from engine.drawing.model import Drawing
from engine.drawing.setting_out import setting_out_drawing
from engine.drawing.tube import tube_drawing
from engine.sentences import spoken
from engine.shop.job_parts import JobParts
from engine.shop.made import Made
from engine.shop.parts import StationParts
from engine.shop.torque import torque
from engine.station.solved import SolvedStation
from engine.vehicle.wheels import vehicle_of
from server.paper.floor_sheets import cycle_sheet, weigh_sheet
from server.paper.pen import Drawn, PageOf
from server.paper.setting import MARGIN_MM, Paper
from server.shop.papers import CAUTION, settings_of

PLATE_ROOM = (64.0, 84.0)  # mm on the paper that a plate itself may take
BESIDE_MM = 4.0
NO_CERTIFICATE = (
    "A first check, no certificate. A competent engineer and the rules of the road or track decide."
)


def build_sheet_pdf(parts: JobParts, made_by: str = "", paper: str = "A4", only: str | None = None) -> bytes:
    """Return the build book of a job, or of one station of it; raise NoPaper."""
    pages: dict[str, int] = {}
    setting = Paper(by=made_by or "Jugatrix", page=paper)
    vehicle = vehicle_of(parts.project) if parts.solved and only is None else None
    # Twice: the contents are known once the pages are laid.
    for _ in range(2):
        story: list[Flowable] = [*_cover(parts, setting, made_by, only, pages), PageBreak()]
        for station, solved in zip(parts.stations, parts.solved, strict=True):
            if only is None or station.station == only:
                story += [*_station(parts, station, solved, setting, pages), PageBreak()]
        if parts.frame is not None and only in (None, parts.frame.station):
            story += [*_frame(parts, parts.frame, setting, pages), PageBreak()]
        if only is None and vehicle is not None:
            story += [*weigh_sheet(vehicle, parts.project.name, setting), PageBreak()]
        data = setting.build(story[:-1], f"{parts.project.name}, build book")
    return data


def _cover(
    parts: JobParts, paper: Paper, made_by: str, only: str | None, pages: dict[str, int]
) -> list[Flowable]:
    pieces = sum(part.many for part in parts.parts)
    mass = sum(part.mass * part.many for part in parts.parts)
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
    rows.append(["All of it", f"{pieces}, {mass:.1f} kg of steel", ""])
    return [*found, paper.table(rows, [90, 50, 20])]


def _station(
    parts: JobParts, station: StationParts, solved: SolvedStation, paper: Paper, pages: dict[str, int]
) -> list[Flowable]:
    drawn = [drawing for part in station.parts if (drawing := part_drawing(part)) is not None]
    floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
    tubes = tube_lines(parts.project)
    panels = [
        setting_out_drawing(mount, solved.station, parts.tabs_at(mount), floor=floor, tubes=tubes)
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
            "mm, as drawn. Height first, then the plumb mark, then the tapes; tack only, and read it back."
        ),
        *(KeepTogether([Drawn(panel), Spacer(1, 2 * mm)]) for panel in panels),
        paper.say(f"{spoken(station.station)}: parts to cut", "head"),
        *_packed(drawn, paper.sheet.page[0] - 2 * MARGIN_MM),
        *_joints(station, paper),
        *_hardware(station, paper),
        *_under("Cautions", [paper.say(" ".join(CAUTION))], paper),
        PageBreak(),
        *cycle_sheet(solved, parts.project.name, paper),
    ]


def _frame(parts: JobParts, frame: StationParts, paper: Paper, pages: dict[str, int]) -> list[Flowable]:
    """Return the chapter of the frame: what is cut, where its places come, every piece drawn."""
    rows = [["No.", "Tube", "Pieces", "Stock", "Cut", "kg"]]
    for number, part in enumerate(frame.parts, start=1):
        cut = part.cut
        stock, long = ("", "not cut") if cut is None else (cut.said, f"{cut.length:.1f} mm")
        rows.append([f"{number}", spoken(part.name), f"{part.many}", stock, long, f"{part.mass:.2f}"])
    drawn = [drawing for part in frame.parts if (drawing := part_drawing(part)) is not None]
    floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
    tubes = tube_lines(parts.project)
    panels = [
        setting_out_drawing(mount, None, (), floor=floor, tubes=tubes)
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
        paper.table(rows, [11, 56, 20, 50, 24, 14]),
        paper.say("How the ends are cut", "head"),
        paper.table(ends, [40, 67, 67]),
        paper.say(f"{spoken(frame.station)}: setting out", "head"),
        paper.say(
            "mm, where the tubes' middle lines meet. Tack all of it, read the places back, then weld from side to side."
        ),
        *(KeepTogether([Drawn(panel), Spacer(1, 2 * mm)]) for panel in panels),
        paper.say(f"{spoken(frame.station)}: tubes to cut", "head"),
        *_packed(drawn, paper.sheet.page[0] - 2 * MARGIN_MM),
        *_under("Cautions", [paper.say(" ".join(CAUTION))], paper),
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


def _spaced(one: Flowable) -> Flowable:
    return KeepTogether([one, Spacer(1, 2 * mm)])


def _packed(drawings: Sequence[Drawing], wide: float) -> list[Flowable]:
    """Return drawings down the page, two beside one another where both have room."""
    found: list[Flowable] = []
    left = list(drawings)
    while left:
        first = left.pop(0)
        other = next((k for k, one in enumerate(left) if first.wide + BESIDE_MM + one.wide <= wide), None)
        if other is None:
            found.append(_spaced(Drawn(first)))
            continue
        second = left.pop(other)
        row = Table(
            [[Drawn(first), Drawn(second)]],
            colWidths=[(first.wide + BESIDE_MM) * mm, second.wide * mm],
            hAlign="LEFT",
            style=[
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ],
        )
        found.append(_spaced(row))
    return found


def _part_list(station: StationParts, solved: SolvedStation, paper: Paper) -> list[Flowable]:
    rows = [["No.", "Part", "Pieces", "Stock", "Cut", "kg"]]
    for one in numbered(station.parts, solved):
        part = one.part
        stock = part.flat.stock if part.flat else part.cut.said if part.cut else "bought"
        cut = f"{part.cut.length:.1f} mm" if part.cut else ""
        hands = f"{part.count} a side" if part.hands == 2 else ""
        rows.append(
            [
                f"{one.number}",
                spoken(part.name),
                f"{part.many} {hands}".strip(),
                stock,
                cut,
                f"{part.mass:.2f}" if part.mass else "",
            ]
        )
    return [paper.table(rows, [11, 56, 24, 46, 22, 14])]


def _joints(station: StationParts, paper: Paper) -> list[Flowable]:
    rows = [["At", "Bolt", "Grip, mm", "N·m, dry", "From head to nut"]]
    for part in station.parts:
        for stack in part.stacks:
            words = spoken(" · ".join(layer.what for layer in stack.layers))
            tight = f"{torque(stack.bolt.of.thread):.0f}"
            rows.append([spoken(part.name), stack.bolt.said, f"{stack.grip:.1f}", tight, words])
    if len(rows) == 1:
        return []
    return [paper.say("What stands on each bolt", "head"), paper.table(rows, [42, 30, 16, 16, 70])]


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
