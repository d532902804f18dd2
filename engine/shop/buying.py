"""What has to be bought: tube, plate, hardware, springs and dampers, less what is on the shop's shelf.

Held back  springs while their station has a fault: ordered before the ratio is settled they fit nothing.
"""

from collections import Counter
from collections.abc import Iterable

from engine.document.schema import AirSpring, Coilover, Damper, SpringUnit
from engine.document.threads import NoThread, bolt_size, inches
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.findings.judge import judge
from engine.sentences import Sentence, spoken
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import JobParts
from engine.shop.stock import Tube, grade_of
from engine.workup import WorkUp

SAME_MM = 0.5
SAME_RATE = 0.02


@facts
class OnShelf:
    """One line of the shop's shelf, as far as this job may use it: `values` in the shelf's own columns."""

    kind: str
    name: str
    stock: int
    price: str = ""
    lead_days: float | None = None
    values: dict[str, float]


@facts
class Line:
    """One thing to buy: how many are needed, how many are there, price and lead time as the shelf says, why it waits."""

    what: str
    size: str
    needed: int
    there: int = 0
    price: str = ""
    lead_days: float | None = None
    note: Sentence | None = None
    shelf: str = ""

    @property
    def buy(self) -> int:
        """Return how many are to be ordered."""
        return max(self.needed - self.there, 0)


def rack_of(shelf: Iterable[OnShelf]) -> dict[str, list[float]]:
    """Return the lengths of tube that are there, by the stock's name as it is ordered."""
    rack: dict[str, list[float]] = {}
    for one in shelf:
        if one.kind == "tube" and one.stock > 0:
            outside, wall = one.values.get("outside_mm", 0.0), one.values.get("wall_mm", 0.0)
            grade = grade_of(one.values.get("yield_n_per_mm2", 235.0))
            long = one.values.get("length_mm", 0.0)
            name = Tube(outside=outside, wall=wall, grade=grade).said
            rack.setdefault(name, []).extend([long] * one.stock)
    return rack


def to_buy(parts: JobParts, shelf: Iterable[OnShelf] = ()) -> list[Line]:
    """Return everything that the job takes, with what of it is there."""
    known = list(shelf)
    lines = [*_tube(parts, known), *_plate(parts, known), *_hardware(parts, known)]
    for work in parts.works:
        lines += _units(parts, work, known)
    return lines


def _tube(parts: JobParts, shelf: list[OnShelf]) -> list[Line]:
    laid = bars(parts.parts, parts.stock, rack_of(shelf))
    count = Counter((bar.stock, bar.long) for bar in laid if not bar.rack)
    there = Counter(bar.stock for bar in laid if bar.rack)
    names = sorted({stock for stock, _ in count} | set(there))
    found = []
    for name in names:
        new = sum(many for (stock, _), many in count.items() if stock == name)
        lengths = [long for stock, long in count if stock == name]
        size = f"{name}, bars of {max(lengths, default=parts.stock.bar_mm):g} mm"
        found.append(Line(what="tube", size=size, needed=new + there[name], there=there[name]))
    return found


def _plate(parts: JobParts, shelf: list[OnShelf]) -> list[Line]:
    count = Counter(
        (sheet.thickness, sheet.stock, sheet.wide, sheet.high) for sheet in sheets(parts.parts, parts.stock)
    )
    found = []
    for (thick, stock, wide, high), many in sorted(count.items()):
        its = [
            one
            for one in shelf
            if one.kind == "plate" and abs(one.values.get("thickness_mm", 0.0) - thick) < 0.1
        ]
        big = [
            one
            for one in its
            if one.values.get("width_mm", 0.0) >= min(wide, high)
            and one.values.get("length_mm", 0.0) >= max(wide, high)
        ]
        size = f"{stock.removeprefix('plate ')}, {wide:.0f} × {high:.0f} mm"
        found.append(_line("plate", size, many, big))
    return found


def _hardware(parts: JobParts, shelf: list[OnShelf]) -> list[Line]:
    count: Counter[tuple[str, str]] = Counter()
    for part in parts.parts:
        # A bolt goes through a pair, or through all plates of a rocker.
        joints = part.hands if part.kind in ("tab", "plate") else part.many
        for one in part.hardware:
            count[one.what, one.size] += one.count * joints
    found = []
    for (what, size), many in sorted(count.items()):
        matching = [one for one in shelf if _is_it(what, size, one)]
        found.append(_line(what, size, many, matching))
    return found


def _is_it(what: str, size: str, one: OnShelf) -> bool:
    kind = {"rod end": "rod_end", "weld-in insert": "insert", "jam nut": "nut"}.get(
        what, "bolt" if what.startswith("bolt") else ""
    )
    if one.kind != kind:
        return False
    thread = one.values.get("thread_mm", one.values.get("size_mm", 0.0))
    try:
        its = bolt_size(thread)
    except NoThread:
        return False
    long = one.values.get("length_mm", 0.0)
    if kind == "bolt":
        return size == f"{its.said} × {its.length_said(long)}"
    if not size.startswith((f"{its.said} ", f"{inches(its.size)}-") if its.inch else f"{its.said} "):
        return False
    if kind in ("rod_end", "insert", "nut"):
        return ("left-hand" in size) == (one.values.get("left_hand", 0.0) >= 0.5)
    return True


def _line(what: str, size: str, many: int, matching: list[OnShelf], note: Sentence | None = None) -> Line:
    there = sum(one.stock for one in matching)
    priced = next((one for one in matching if one.price), None)
    lead = next((one.lead_days for one in matching if one.lead_days is not None), None)
    return Line(
        what=what,
        size=size,
        needed=many,
        there=min(there, many),
        price=priced.price if priced else "",
        lead_days=lead,
        note=note,
        shelf=matching[0].name if matching else "",
    )


def _units(parts: JobParts, work: WorkUp, shelf: list[OnShelf]) -> list[Line]:
    """Return a station's springs, dampers and bags; springs wait while the station has a fault."""
    rules = rules_of(parts.project.judging, work.station.judging)
    faults = [finding for finding in judge(work.solved, rules, work) if finding.mark == "fault"]
    held = None
    if faults:
        first = faults[0].what
        held = Sentence(f"Hold back until the fault is out: {first.words}", first.quantities, first.names)
    station = work.station
    many = 2 if station.kind == "corner" and station.other_side == "mirror" and not station.single else 1
    found = []
    for unit in station.units:
        at = f"{station.name}, {spoken(unit.name)}"
        if isinstance(unit, Coilover | SpringUnit):
            for spring in unit.springs:
                rate = "rate by its table" if spring.rate is None else f"{spring.rate:g} N/mm"
                size = f"{at}: {rate}, {spring.free_length:g} mm free"
                its = [one for one in shelf if one.kind == "coil" and spring.rate is not None
                       and abs(one.values.get("rate_n_per_mm", 0.0) / spring.rate - 1) < SAME_RATE
                       and abs(one.values.get("free_length_mm", 0.0) - spring.free_length) < SAME_MM]  # fmt: skip
                found.append(_line("spring", size, many, its, held))
        if isinstance(unit, Coilover | Damper):
            size = f"{at}: {unit.compressed:g} to {unit.extended:g} mm"
            its = [one for one in shelf if one.kind == "damper"
                   and abs(one.values.get("extended_mm", 0.0) - unit.extended) < SAME_MM
                   and abs(one.values.get("compressed_mm", 0.0) - unit.compressed) < SAME_MM]  # fmt: skip
            found.append(_line("damper", size, many, its))
        if isinstance(unit, AirSpring):
            size = f"{at}: {unit.min_height:g} to {unit.max_height:g} mm high"
            its = [one for one in shelf if one.kind == "bag"
                   and abs(one.values.get("min_height_mm", 0.0) - unit.min_height) < SAME_MM
                   and abs(one.values.get("max_height_mm", 0.0) - unit.max_height) < SAME_MM]  # fmt: skip
            found.append(_line("bag", size, many, its))
    return found
