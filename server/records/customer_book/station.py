"""A station: drawn as it stands, its curves with what ends them, and what everything is set to as delivered."""

from collections.abc import Iterator

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, Table

from engine.document.schema import Project
from engine.drawing.arrangement import arrangement_drawing
from engine.drawing.curves import Axis, MarkAt, curve_drawing
from engine.drawing.model import Drawing
from engine.limits.ledger import LedgerEvent
from engine.results.whole import WorkedStation
from engine.sentences import Quantity, spoken
from engine.station.solved import SolvedStation
from server.paper.pen import Drawn, PageOf
from server.paper.setting import Paper

DRAWN_MM, FIGURE_MM = 92.0, 21.0
BELOW_MM = 191.0  # of a page's height, for margins, curves and settings
MOST_EVENTS = 4  # each way: what comes after them is never reached
FIGURES = (
    ("rate", "rate", "rate"), ("free_length", "free length", "length"), ("preload", "preload", "length"),
    ("pressure", "pressure at ride", "pressure"), ("extended", "extended", "length"), ("compressed", "compressed", "length"),
    ("contact", "touches at", "length"), ("length", "taut at", "length"), ("diameter", "bar", "length"),
)  # fmt: skip
MARKED = ("soft", "hard")


def station_chapter(
    project: Project, worked: WorkedStation, paper: Paper, pages: dict[str, int]
) -> Iterator[Flowable]:
    """Yield the chapter of one station."""
    solved, name = worked.work.solved, worked.work.station.name
    yield PageOf(name, pages)
    yield paper.say(spoken(name), "head")
    drawing = Drawn(arrangement_drawing(solved, (), (DRAWN_MM, paper.sheet.page[1] - BELOW_MM)))
    style = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]
    beside = list(_ends(worked, paper, paper.wide - DRAWN_MM))
    yield Table([[drawing, beside]], colWidths=[DRAWN_MM * mm, (paper.wide - DRAWN_MM) * mm], style=style)
    yield from _curves(worked, paper)
    yield from _set(solved, paper)


def _curves(worked: WorkedStation, paper: Paper) -> Iterator[Flowable]:
    """Yield ratio, rate, force and length over the travel, two beside one another, with what ends it."""
    solved = worked.work.solved
    rows = solved.taken
    if len(rows.travels) < 2:
        return
    travel = Axis("wheel travel from as drawn", "travel", paper.inches)
    marks = _marks(worked)
    room = ((paper.wide - 6) / 2, 46.0)
    found: list[Drawing] = []
    for words, measures, values in (
        ("Wheel rate", "rate", rows.at_wheel.rate),
        ("Wheel force", "force", rows.at_wheel.force),
    ):
        found.append(
            curve_drawing(travel, Axis(words, measures, paper.inches), rows.travels, values, marks, room)
        )
    for unit in solved.station.units[:1]:
        trace = rows.units[unit.name]
        for words, measures, values in (
            ("Motion ratio, damper ÷ wheel", "ratio", trace.motion_ratio),
            (f"{spoken(unit.name)}, eye to eye", "length", trace.length),
        ):
            found.append(
                curve_drawing(travel, Axis(words, measures, paper.inches), rows.travels, values, marks, room)
            )
    pairs = [found[k : k + 2] for k in range(0, len(found), 2)]
    table = [[Drawn(one) for one in pair] + [""] * (2 - len(pair)) for pair in pairs]
    style = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("RIGHTPADDING", (0, 0), (-1, -1), 0)]
    head = paper.say("How it moves", "head")
    yield KeepTogether([head, Table(table, colWidths=[paper.wide / 2 * mm] * 2, style=style)])


def _marks(worked: WorkedStation) -> list[MarkAt]:
    """Return where it stands and what first ends it each way."""
    solved, ledger = worked.work.solved, worked.work.ledger
    found = [] if solved.ride is None else [MarkAt(solved.ride.travel, "stands")]
    for way in ("droop", "bump"):
        first = next((event for event in ledger.on(way) if event.kind.takes in MARKED), None)
        if first is not None:
            found.append(MarkAt(first.travel, first.kind.short))
    return found


def _ends(worked: WorkedStation, paper: Paper, wide: float) -> Iterator[Flowable]:
    rows = [["What stops it", "At", "Past wanted"]]
    for way, words in (("bump", "Going up"), ("droop", "Going down")):
        for event in worked.work.ledger.on(way)[:MOST_EVENTS]:
            figures = (paper.figure(event.travel, "travel"), paper.figure(event.margin, "travel"))
            rows.append([f"{words}: {_event(event)}", *figures])
    if len(rows) > 1:
        yield paper.table(rows, [wide - 2 * FIGURE_MM, FIGURE_MM, FIGURE_MM])


def _event(event: LedgerEvent) -> str:
    subject = " and ".join(spoken(one) for one in event.subjects)
    return f"{subject} {event.kind.said}".strip()


def _set(solved: SolvedStation, paper: Paper) -> Iterator[Flowable]:
    """Yield springs, dampers, stops and rods with what they are and what they are set to."""
    station = solved.station
    rows = [["As delivered", "What", "Figures"]]
    for unit in station.units:
        figures = [
            f"{words} {paper.figure(value, measures)}"
            for field, words, measures in FIGURES
            if isinstance(value := getattr(unit, field, None), float | int)
            and not isinstance(value, bool)
            and value
        ]
        for k, coil in enumerate(getattr(unit, "springs", None) or [], start=1):
            many = len(unit.springs) > 1  # type: ignore[union-attr]
            if coil.rate:
                figures.append(
                    f"spring{f' {k}' if many else ''} {paper.figure(coil.rate, 'rate')}, {paper.figure(coil.free_length, 'length')} free"
                )
        rows.append([spoken(unit.name), spoken(unit.kind), "; ".join(figures)])
    for name, link in station.links.items():
        if link.length:
            rows.append(
                [
                    spoken(name),
                    "rod",
                    f"set to {Quantity(link.length, 'length').told(paper.inches)} between centres",
                ]
            )
    if len(rows) > 1:
        yield paper.say("Springs and settings as delivered", "head")
        yield paper.table(rows, [46, 26, paper.wide - 72])
