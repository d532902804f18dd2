"""What a shop has on its racks, in generic sizes: tube, plate, threads, bolts.

Sizes   mm; the usual preferred sizes of tube and plate, ISO coarse threads (fine from M20), bolt lengths of ISO 4014.
Grades  yield of the steel, N/mm², by the grade's own standard (`document.make.GRADES`).
"""

import math
from dataclasses import dataclass

from engine.document.make import GRADES
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
        """Return its size as it is ordered."""
        return f"{self.outside:g} × {self.wall:g} {self.grade}"


def grade_of(yields: float) -> str:
    """Return the usual grade of a yield, N/mm²: the strongest that is not stronger."""
    return max(
        (name for name, its in GRADES.items() if its <= yields + NEAR_N_PER_MM2),
        key=lambda name: GRADES[name],
        default="S235",
    )


@dataclass(frozen=True, kw_only=True)
class Thread:
    """A generic rod end: thread, pitch, shank from the joint's centre to the tip, width over the ball, head across, mm."""

    size: float
    pitch: float
    shank: float
    width: float
    head: float


@dataclass(frozen=True, kw_only=True)
class Stock:
    """Everything that parts are proposed from, each list from the smallest up."""

    tubes: tuple[Tube, ...]
    threads: tuple[Thread, ...]
    plates: tuple[float, ...] = (4.0, 6.0, 8.0, 10.0, 12.0, 15.0)
    plate_grade: str = "S355"
    bolts: tuple[float, ...] = (8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 24.0)
    bolt_yield: float = 640.0  # property class 8.8
    bar_mm: float = 6000.0
    kerf_mm: float = 2.0
    sheet_mm: tuple[float, float] = (1000.0, 500.0)

    def thread(self, at_least: float) -> Thread:
        """Return the generic rod end of a thread, or of the next larger one, else the largest."""
        return next((one for one in self.threads if one.size >= at_least - 1e-9), self.threads[-1])

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
            (8.0, 1.25, 42.0, 12.0, 24.0), (10.0, 1.5, 48.0, 14.0, 28.0), (12.0, 1.75, 54.0, 16.0, 32.0),
            (14.0, 2.0, 60.0, 19.0, 36.0), (16.0, 2.0, 66.0, 21.0, 42.0), (20.0, 1.5, 78.0, 25.0, 50.0),
            (24.0, 2.0, 94.0, 31.0, 60.0),
        )
    ),
)  # fmt: skip
"""Generic metric sizes."""

IN = 25.4
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
            (0.3125, 24, 1.7, 0.44, 0.9), (0.375, 24, 1.9, 0.5, 1.0), (0.4375, 20, 2.1, 0.56, 1.15),
            (0.5, 20, 2.3, 0.63, 1.3), (0.625, 18, 2.7, 0.75, 1.6), (0.75, 16, 3.1, 0.88, 1.9),
            (1.0, 14, 3.9, 1.2, 2.4),
        )
    ),
    plates=tuple(size * IN for size in (0.125, 0.1875, 0.25, 0.3125, 0.375, 0.5, 0.625)),
    bolts=tuple(size * IN for size in (0.3125, 0.375, 0.4375, 0.5, 0.625, 0.75, 1.0)),
    bar_mm=20 * 12 * IN,
    kerf_mm=IN / 12,
    sheet_mm=(48 * IN, 24 * IN),
)  # fmt: skip
"""Generic inch sizes."""

BOLT_LENGTHS = (*range(20, 80, 5), *range(80, 200, 10), *range(200, 420, 20))


@facts
class Bolt:
    """A bolt through a joint, mm: what it grips, its standard length, thread beyond the nut, washers under the nut.

    shank_in_shear : whether the plain shank, not the thread, stands in every shear plane
    """

    size: float
    grip: float
    length: float
    beyond: float
    washers: int
    shank_in_shear: bool

    @property
    def said(self) -> str:
        """Return it as it is ordered."""
        return (
            f"M{self.size:g} × {self.length:g} mm"
            if self.size % 1 == 0
            else f"{self.size / IN:.4g} in × {self.length / IN:.3g} in"
        )


WASHER, NUT = 0.18, 0.8  # of the bolt's diameter
LEAST_BEYOND_TURNS = 2


def bolt_for(size: float, grip: float, last_plate: float, pitch: float = 1.75) -> Bolt:
    """Return the shortest standard bolt through a grip with washers, nut and two threads; its shank through the planes.

    last_plate : mm of the plate on the nut's side, in which thread may begin
    """
    washer = WASHER * size

    def found(washers: int) -> tuple[float, bool]:
        wanted = grip + (1 + washers) * washer + NUT * size + LEAST_BEYOND_TURNS * pitch
        length = float(next((one for one in BOLT_LENGTHS if one >= wanted - 1e-9), math.ceil(wanted)))
        thread = 2 * size + (6.0 if length <= 125 else 12.0)
        return length, length - thread >= washer + grip - last_plate

    # A washer or two more often brings the plain shank through; where it does not, the thread stands in shear.
    washers = next((count for count in (1, 2, 3) if found(count)[1]), 1)
    length, shank = found(washers)
    beyond = length - grip - (1 + washers) * washer - NUT * size
    return Bolt(size=size, grip=grip, length=length, beyond=beyond, washers=washers, shank_in_shear=shank)
