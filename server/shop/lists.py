"""The lists that go with the parts: what is cut from which bar, hardware, what to order, where each mount comes."""

import csv
import io
import math
from collections import Counter
from collections.abc import Iterable

from engine.document.schema import Coilover, SpringUnit
from engine.findings.finding import rules_of
from engine.findings.judge import judge
from engine.shop.job_parts import JobParts
from engine.shop.parts import PlatePart
from engine.workup import WorkUp

BAR_MM, KERF_MM = 6000.0, 2.0
BOLT_STEP_MM = 5.0


def table(head: list[str], rows: Iterable[Iterable[object]]) -> str:
    """Return rows as CSV; a text that a spreadsheet would read as a formula is kept from it."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    for row in rows:
        writer.writerow([_cell(value) for value in row])
    return out.getvalue()


def _cell(value: object) -> object:
    if isinstance(value, float):
        return f"{value:.1f}"
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return value


def cut_list(parts: JobParts) -> str:
    """Return every tube to cut, by stock, laid into bars of six metres, the longest first."""
    wanted: dict[str, list[tuple[float, str, str]]] = {}
    for station in parts.stations:
        for one in station.rods:
            if one.rod.tube_length > 0:
                piece = (one.rod.tube_length, station.station, one.name)
                wanted.setdefault(one.rod.tube.said, []).extend([piece] * one.count)
    rows: list[list[object]] = []
    for stock in sorted(wanted):
        bars: list[float] = []
        for long, station_name, name in sorted(wanted[stock], key=lambda piece: -piece[0]):
            bar = next((k for k, left in enumerate(bars) if left >= long + KERF_MM), None)
            if bar is None:
                bars.append(BAR_MM)
                bar = len(bars) - 1
            bars[bar] -= long + KERF_MM
            rows.append([stock, bar + 1, station_name, name, long, max(bars[bar], 0.0)])
    return table(["stock", "bar", "station", "part", "cut mm", "left of the bar mm"], rows)


def bolt_mm(plate: PlatePart, diameter: float) -> float:
    """Return the next standard bolt through a rocker at a hole: plates and gap, washers, nut and two threads."""
    plates = 2 if plate.gap else 1
    grip = plates * plate.thickness + plate.gap
    whole = grip + 2 * 0.17 * diameter + 0.8 * diameter + 3.0
    return math.ceil(whole / BOLT_STEP_MM) * BOLT_STEP_MM


def hardware(parts: JobParts) -> str:
    """Return rod ends, inserts, nuts and bolts, counted."""
    count: Counter[tuple[str, str]] = Counter()
    for station in parts.stations:
        for one in station.rods:
            for end in one.rod.ends:
                thread = f"M{end.thread:g} × {end.pitch:g} {end.hand}-hand"
                count["rod end", f"{thread}, shank {end.shank:g} mm"] += one.count
                count["weld-in insert", f"{thread}, for {one.rod.tube.said}"] += one.count
                count["jam nut", thread] += one.count
        for plate in station.plates:
            for hole in plate.holes[1:]:
                size = f"M{hole.diameter:g} × {bolt_mm(plate, hole.diameter):g} mm"
                # One bolt goes through a pair of plates.
                count["bolt, washers, lock nut", size] += plate.count // (2 if plate.gap else 1)
    return table(
        ["what", "size", "count"], [[what, size, many] for (what, size), many in sorted(count.items())]
    )


def order(parts: JobParts) -> str:
    """Return springs and dampers to buy; springs are held back while a station has a fault."""
    rows: list[list[object]] = []
    for solved in parts.solved:
        rules = rules_of(parts.project.judging, solved.station.judging)
        faults = [finding for finding in judge(solved, rules, WorkUp(solved)) if finding.mark == "fault"]
        held = f"hold back: {faults[0].what}" if faults else ""
        many = 2 if solved.station.kind == "corner" and solved.station.other_side == "mirror" else 1
        for unit in solved.station.units:
            if isinstance(unit, Coilover | SpringUnit):
                for spring in unit.springs:
                    rate = "by its table" if spring.rate is None else f"{spring.rate:g} N/mm"
                    rows.append(
                        [
                            solved.station.name,
                            unit.name,
                            "spring",
                            f"{rate}, free {spring.free_length:g} mm",
                            many,
                            held,
                        ]
                    )
            if isinstance(unit, Coilover):
                said = f"{unit.compressed:g} to {unit.extended:g} mm"
                rows.append([solved.station.name, unit.name, "coilover damper", said, many, ""])
    return table(["station", "unit", "what", "size", "count", "note"], rows)


def set_out_list(parts: JobParts) -> str:
    """Return where each mount comes: height, plumb mark, tapes, how close is close enough."""
    rows: list[list[object]] = []
    for mount in parts.mounts:
        tapes = [cell for place, long in mount.tapes for cell in (place, long)]
        tapes += [""] * (6 - len(tapes))
        rows.append(
            [mount.station, mount.point, mount.up, mount.out, mount.ahead, *tapes, *mount.close_enough]
        )
    head = ["station", "point", "up mm", "out mm, left +", "ahead mm"]
    for number in (1, 2, 3):
        head += [f"tape {number} to", f"tape {number} mm"]
    return table([*head, "close fore-aft mm", "close out mm", "close up mm"], rows)
