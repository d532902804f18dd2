"""What a shop has on its racks, in generic sizes: tube, plate, threads, bolts.

Sizes   mm; the usual preferred sizes of tube and plate, ISO coarse threads (fine from M20), bolt lengths of ISO 4014.
Grades  yield of the steel, N/mm², by the grade's own standard (`document.make.GRADES`).
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property

from engine.document.make import GRADES
from engine.document.threads import IN, BoltSize, NoThread, Screw, inches, screw
from engine.facts import facts

STEEL_E_N_PER_MM2 = 205_000.0
STEEL_KG_PER_MM3 = 7.85e-6
NEAR_N_PER_MM2 = 1.0
SHEAR = 1 / math.sqrt(3)  # what of its yield a metal bears in shear (von Mises, 1913)


@dataclass(frozen=True, kw_only=True)
class Tube:
    """Round tube of a stock size, mm."""

    outside: float
    wall: float
    grade: str = "S235"

    @property
    def yields(self) -> float:
        """Return its yield, N/mm²."""
        return GRADES[self.grade]

    @property
    def area(self) -> float:
        """Return its cross section, mm²."""
        return math.pi / 4 * (self.outside**2 - self.bore**2)

    @property
    def bore(self) -> float:
        """Return its inside diameter, mm."""
        return self.outside - 2 * self.wall

    @property
    def inertia(self) -> float:
        """Return its second moment of area, mm⁴."""
        return math.pi / 64 * (self.outside**4 - self.bore**4)

    @property
    def kg_per_mm(self) -> float:
        """Return its mass a millimetre."""
        return self.area * STEEL_KG_PER_MM3

    @property
    def said(self) -> str:
        """Return its size as it is ordered: an inch size in inches."""
        if self.inch:
            return f"{inches(self.outside)} × {self.wall / IN:.3f} in {self.grade}"
        return f"{self.outside:g} × {self.wall:g} {self.grade}"

    @property
    def inch(self) -> bool:
        """Return whether it is an inch size: sixteenths over it, and a wall of whole thousandths."""
        over, wall = self.outside / IN * 16, self.wall / IN * 1000
        return abs(over - round(over)) < 0.005 and abs(wall - round(wall)) < 0.02


@dataclass(frozen=True, kw_only=True)
class Profile(Tube):
    """A box or a flat bar of a stock size, mm: `outside` is its height, `across` its width; a flat bar has no hollow."""

    across: float
    hollow: bool = True

    @property
    def area(self) -> float:
        """Return its cross section, mm²."""
        inside = (self.outside - 2 * self.wall) * (self.across - 2 * self.wall) if self.hollow else 0.0
        return self.outside * self.across - inside

    @property
    def said(self) -> str:
        """Return its size as it is ordered."""
        sides = f"{self.outside:g} × {self.across:g}"
        return f"box {sides} × {self.wall:g} {self.grade}" if self.hollow else f"flat {sides} {self.grade}"


def plate_size(thickness: float) -> str:
    """Return a plate's thickness (mm) as it is ordered: an inch size in inches."""
    parts = thickness / IN * 16
    return f"{inches(thickness)} in" if abs(parts - round(parts)) < 0.005 else f"{thickness:g}"


def grade_of(yields: float) -> str:
    """Return the usual grade of a yield, N/mm²: the strongest that is not stronger."""
    return max(
        (name for name, its in GRADES.items() if its <= yields + NEAR_N_PER_MM2),
        key=lambda name: GRADES[name],
        default="S235",
    )


@dataclass(frozen=True, kw_only=True)
class Thread:
    """A generic rod end: thread, pitch, shank from the joint's centre to the tip, width over the ball, head across, mm.

    Its bore takes a bolt of the size of its thread.
    """

    size: float
    pitch: float
    shank: float
    width: float
    head: float

    @property
    def screw(self) -> Screw:
        """Return its thread; raise NoThread."""
        return screw(self.size, self.pitch)


@dataclass(frozen=True, kw_only=True)
class Stock:
    """Everything that parts are proposed from, each list from the smallest up."""

    tubes: tuple[Tube, ...]
    threads: tuple[Thread, ...]
    plates: tuple[float, ...] = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0)
    plate_grade: str = "S355"
    bolts: tuple[float, ...] = (8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 24.0)
    bolt_yield: float = 640.0  # property class 8.8, and about grade 5
    bar_mm: float = 6000.0
    kerf_mm: float = 2.0
    sheet_mm: tuple[float, float] = (1000.0, 500.0)

    def thread(self, at_least: float) -> Thread:
        """Return the generic rod end of a thread, or of the next larger one, else the largest."""
        return next((one for one in self.threads if one.size >= at_least - 1e-9), self.threads[-1])

    def rod_end(self, size: float, pitch: float | None = None) -> Thread:
        """Return the rod end of a thread that was asked for, metric or inch whatever the stock; raise NoThread."""
        asked = screw(size, pitch)
        every = [*self.threads, *METRIC.threads, *INCH.threads]
        its = next((one for one in every if abs(one.size - asked.size) < 0.05), None)
        if its is None:
            raise NoThread(
                f"No rod end is sold with a thread of {asked.said}: take the next size up or down."
            )
        if pitch is None and abs(its.size - asked.size) < 0.05:
            return its
        return Thread(size=asked.size, pitch=asked.pitch, shank=its.shank, width=its.width, head=its.head)

    @cached_property
    def graded(self) -> tuple[Tube, ...]:
        """Return its sizes of tube in every grade of steel, the plain one first: ordered where that is too weak."""
        return tuple(replace(one, grade=grade) for grade in GRADES for one in self.tubes)

    def plate(self, at_least: float) -> float | None:
        """Return the thinnest plate of at least a thickness, None where none is so thick."""
        return next((one for one in self.plates if one >= at_least - 1e-9), None)


def _tubes(sizes: tuple[tuple[float, float], ...], grade: str = "S235") -> tuple[Tube, ...]:
    return tuple(Tube(outside=outside, wall=wall, grade=grade) for outside, wall in sizes)


METRIC = Stock(
    tubes=_tubes(
        (
            (16.0, 1.5), (18.0, 2.0), (20.0, 2.0), (22.0, 2.0), (25.0, 2.0), (25.0, 2.5), (28.0, 2.5),
            (30.0, 3.0), (32.0, 3.0), (35.0, 3.0), (38.0, 3.0), (42.0, 3.2), (48.3, 4.0), (60.3, 5.0),
        )
    ),
    threads=tuple(
        Thread(size=size, pitch=pitch, shank=shank, width=width, head=head)
        for size, pitch, shank, width, head in (
            (6.0, 1.0, 36.0, 9.0, 20.0), (8.0, 1.25, 42.0, 12.0, 24.0), (10.0, 1.5, 48.0, 14.0, 28.0),
            (12.0, 1.75, 54.0, 16.0, 32.0), (14.0, 2.0, 60.0, 19.0, 36.0), (16.0, 2.0, 66.0, 21.0, 42.0),
            (18.0, 1.5, 72.0, 23.0, 46.0), (20.0, 1.5, 78.0, 25.0, 50.0), (24.0, 2.0, 94.0, 31.0, 60.0),
        )
    ),
)  # fmt: skip
"""Generic metric sizes."""

INCH = Stock(
    tubes=_tubes(
        tuple(
            (outside * IN, wall * IN)
            for outside, wall in (
                (0.625, 0.065), (0.75, 0.083), (0.875, 0.083), (1.0, 0.083), (1.0, 0.12), (1.125, 0.12),
                (1.25, 0.12), (1.5, 0.12), (1.625, 0.12), (1.75, 0.12), (2.0, 0.156), (2.5, 0.188),
            )
        ),
        "E235",
    ),
    threads=tuple(
        Thread(size=size * IN, pitch=IN / turns, shank=shank * IN, width=width * IN, head=head * IN)
        for size, turns, shank, width, head in (
            (0.25, 28, 1.4, 0.38, 0.75), (0.3125, 24, 1.7, 0.44, 0.9), (0.375, 24, 1.9, 0.5, 1.0), (0.4375, 20, 2.1, 0.56, 1.15),
            (0.5, 20, 2.3, 0.63, 1.3), (0.625, 18, 2.7, 0.75, 1.6), (0.75, 16, 3.1, 0.88, 1.9),
            (0.875, 14, 3.5, 1.0, 2.15), (1.0, 14, 3.9, 1.2, 2.4), (1.25, 12, 4.6, 1.45, 3.0),
        )
    ),
    plates=tuple(size * IN for size in (0.125, 0.1875, 0.25, 0.3125, 0.375, 0.5, 0.625)),
    bolts=tuple(size * IN for size in (0.3125, 0.375, 0.4375, 0.5, 0.625, 0.75, 1.0)),
    bar_mm=20 * 12 * IN,
    kerf_mm=IN / 12,
    sheet_mm=(48 * IN, 24 * IN),
)  # fmt: skip
"""Generic inch sizes."""


def in_sizes(stock: Stock, sizes: str) -> Stock:
    """Return a stock with the generic sizes of a system, `metric` or `inch`, and all that a shelf added to the metric ones."""
    if sizes != "inch":
        return stock
    return replace(
        INCH,
        tubes=(*INCH.tubes, *(one for one in stock.tubes if one not in METRIC.tubes)),
        threads=(*INCH.threads, *(one for one in stock.threads if one not in METRIC.threads)),
        plates=tuple(sorted({*INCH.plates, *(one for one in stock.plates if one not in METRIC.plates)})),
        bolts=tuple(sorted({*INCH.bolts, *(one for one in stock.bolts if one not in METRIC.bolts)})),
    )


@facts
class Bolt:
    """A bolt through a joint, mm: what it grips, its standard length, thread beyond the nut, washers under the nut.

    grip : plates and what stands between them, without washers
    shank_in_shear : whether the plain shank, not the thread, stands in every shear plane
    """

    of: BoltSize
    grip: float
    length: float
    beyond: float
    washers: int
    shank_in_shear: bool

    @property
    def size(self) -> float:
        """Return its diameter, mm."""
        return self.of.size

    @property
    def said(self) -> str:
        """Return it as it is ordered."""
        return f"{self.of.said} × {self.of.length_said(self.length)}"

    @property
    def what(self) -> str:
        """Return what is ordered with it."""
        return f"bolt {self.of.grade}, {self.washers + 1} washers, lock nut"


LEAST_BEYOND_TURNS, MOST_BEYOND_TURNS = 1.0, 3.0
MOST_WASHERS, FAIR_WASHERS = 6, 3


def bolt_for(of: BoltSize, grip: float, last_plate: float) -> Bolt:
    """Return the bolt through a grip: a standard length, one to three threads out of its lock nut, as few washers as that takes.

    last_plate : mm of the plate on the nut's side, in which thread may begin: with a washer more the plain shank often
    comes through it
    """

    def found(washers: int) -> Bolt | None:
        inside = grip + (1 + washers) * of.washer + of.nut
        least = inside + LEAST_BEYOND_TURNS * of.thread.pitch
        length = next((one for one in of.lengths() if one >= least - 1e-9), None)
        if length is None:
            return None
        shank = length - of.thread_length(length) >= of.washer + grip - last_plate
        return Bolt(
            of=of, grip=grip, length=length, beyond=length - inside, washers=washers, shank_in_shear=shank
        )

    tried = [its for count in range(1, MOST_WASHERS + 1) if (its := found(count)) is not None]
    if not tried:
        raise NoThread(
            f"No {of.said} bolt is long enough for {grip:.0f} mm: bring what it holds nearer together."
        )
    most = MOST_BEYOND_TURNS * of.thread.pitch + 1e-9
    fits = [its for its in tried if its.beyond <= most] or tried[:1]
    return min(fits, key=lambda its: (its.washers > FAIR_WASHERS, not its.shank_in_shear, its.washers))
