"""What is looked at after the first hundred kilometres, and how tight every bolt is drawn."""

from collections import Counter
from collections.abc import Iterator

from reportlab.platypus import Flowable, Spacer

from engine.sentences import spoken
from engine.shop.job_parts import JobParts
from engine.shop.torque import torque
from server.paper.pen import PageOf
from server.paper.setting import Paper

N_M_PER_LBF_FT = 1.3558179
TITLE = "After 100 km"
LOOKED_AT = (
    "Every bolt below at its torque, its paint line unbroken",
    "Lock nuts of every rod tight, rod ends without play and not at the end of their tilt",
    "Springs in their seats, perches locked, dampers dry",
    "Bags without a rub mark all round, lines and fittings tight and dry",
    "Straps without a frayed edge, stops whole and in their place",
    "Every weld of every mount, and the tube beside it: no crack, no line of rust",
    "Nothing bright where nothing should touch: tyre, spring, rod, line",
    "Ride height at every wheel, written below",
)


def bolts_chapter(parts: JobParts, paper: Paper, pages: dict[str, int]) -> Iterator[Flowable]:
    """Yield the check list and the torques."""
    yield PageOf(TITLE, pages)
    yield paper.say(TITLE, "head")
    yield paper.say("And then each year. On stands and chocked, the wheels off; note what was found.")
    yield paper.table([["☐", "What is looked at", "Found, and by whom"], *(["☐", one, ""] for one in LOOKED_AT)], [8, 96, paper.wide - 104], 9.0)  # fmt: skip
    yield Spacer(1, 4)
    yield paper.say(
        "Ride heights: ______________   ______________   ______________   ______________   Date ____________"
    )
    many: Counter[tuple[str, str, float]] = Counter()
    for part in parts.parts:
        for stack in part.stacks:
            where = f"{spoken(part.station)}, {spoken(part.name)}"
            many[where, stack.bolt.said, torque(stack.bolt.of.thread)] += 1
    rows = [["Bolt at", "Size", "Torque", "☐"]]
    for (where, size, its), count in many.items():
        told = f"{its / N_M_PER_LBF_FT:.0f} lbf·ft" if paper.inches else f"{its:.0f} N·m"
        rows.append([where, f"{count} × {size}" if count > 1 else size, told, "☐"])
    if len(rows) > 1:
        yield paper.say("How tight", "head")
        yield paper.say(
            "Dry, plain bolts of class 8.8 or grade 5, at three quarters of their proof load. What the maker of a bolt, joint or "
            "bush says comes before it; oil or paste on the thread takes a quarter off. Bolts of rubber bushes are drawn tight at ride height only."
        )
        yield paper.table(rows, [96, 44, 24, 8], tight=True)
