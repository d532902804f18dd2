"""Threads, bolts, nuts and washers as they are made: what is in no table here is refused, never replaced.

Metric   pitches of ISO 261; washers of ISO 7089, hexagons of ISO 272, bolt lengths of ISO 4014.
Inch     turns per inch of the unified coarse, fine and constant-pitch series (ASME B1.1); lengths in quarter inches.
Sizes    mm, whatever the system.
"""

import math
from fractions import Fraction

from engine.facts import facts

IN = 25.4
LEAST_ENGAGEMENT = 1.5  # diameters of thread that an end must hold
NEAR_MM = 0.03  # of a size that is told in hundredths
NEAR_PITCH_MM = 0.012

METRIC_PITCHES = {
    5: (0.8, 0.5), 6: (1.0, 0.75), 8: (1.25, 1.0, 0.75), 10: (1.5, 1.25, 1.0, 0.75), 12: (1.75, 1.5, 1.25, 1.0),
    14: (2.0, 1.5, 1.25, 1.0), 16: (2.0, 1.5, 1.0), 18: (2.5, 2.0, 1.5, 1.0), 20: (2.5, 2.0, 1.5, 1.0),
    22: (2.5, 2.0, 1.5, 1.0), 24: (3.0, 2.0, 1.5, 1.0), 27: (3.0, 2.0, 1.5, 1.0), 30: (3.5, 3.0, 2.0, 1.5, 1.0),
    33: (3.5, 3.0, 2.0, 1.5), 36: (4.0, 3.0, 2.0, 1.5), 39: (4.0, 3.0, 2.0, 1.5), 42: (4.5, 4.0, 3.0, 2.0, 1.5),
    48: (5.0, 4.0, 3.0, 2.0, 1.5),
}  # fmt: skip
"""Pitches of each metric size, mm, the coarse one first."""

INCH_TURNS = {
    Fraction(1, 4): (20, 28, 32), Fraction(5, 16): (18, 24, 32), Fraction(3, 8): (16, 24, 32), Fraction(7, 16): (14, 20, 28),
    Fraction(1, 2): (13, 20, 28), Fraction(9, 16): (12, 18, 24), Fraction(5, 8): (11, 18, 24), Fraction(3, 4): (10, 16, 20),
    Fraction(7, 8): (9, 14, 20), Fraction(1): (8, 12, 14, 20), Fraction(9, 8): (7, 12, 18), Fraction(5, 4): (7, 12, 18),
    Fraction(3, 2): (6, 12, 18),
}  # fmt: skip
"""Turns an inch of each unified size, the coarse series first."""

METRIC_WASHERS = {
    5: (1.0, 10.0), 6: (1.6, 12.0), 8: (1.6, 16.0), 10: (2.0, 20.0), 12: (2.5, 24.0), 14: (2.5, 28.0), 16: (3.0, 30.0),
    18: (3.0, 34.0), 20: (3.0, 37.0), 22: (3.0, 39.0), 24: (4.0, 44.0), 27: (4.0, 50.0), 30: (4.0, 56.0),
    33: (5.0, 60.0), 36: (5.0, 66.0), 39: (6.0, 72.0), 42: (8.0, 78.0), 48: (8.0, 92.0),
}  # fmt: skip
METRIC_FLATS = {
    5: 8, 6: 10, 8: 13, 10: 16, 12: 18, 14: 21, 16: 24, 18: 27, 20: 30, 22: 34, 24: 36, 27: 41, 30: 46, 33: 50,
    36: 55, 39: 60, 42: 65, 48: 75,
}  # fmt: skip
HEAD_SHARE, LOCK_NUT_SHARE = 0.65, 1.0  # of the bolt's diameter, along the bolt
CORNERS = 2 / math.sqrt(3)


class NoThread(ValueError):
    """A thread that nobody makes, in words."""


@facts
class Screw:
    """A thread that is made: mm of size and pitch; `turns` an inch where it is an inch thread, else 0."""

    size: float
    pitch: float
    turns: int = 0

    @property
    def said(self) -> str:
        """Return it as it is ordered."""
        if self.turns:
            return f"{inches(self.size)}-{self.turns}"
        return f"M{self.size:g} × {self.pitch:g}"


@facts
class BoltSize:
    """A bolt, nut and washer of one size, mm: hexagon across its flats, washer's thickness and outside."""

    thread: Screw
    flats: float
    washer: float
    washer_outside: float

    @property
    def size(self) -> float:
        """Return the shank's diameter."""
        return self.thread.size

    @property
    def inch(self) -> bool:
        """Return whether it is an inch size."""
        return self.thread.turns > 0

    @property
    def corners(self) -> float:
        """Return head and nut across their corners."""
        return self.flats * CORNERS

    @property
    def head(self) -> float:
        """Return the head's height."""
        return HEAD_SHARE * self.size

    @property
    def nut(self) -> float:
        """Return a lock nut's height."""
        return LOCK_NUT_SHARE * self.size

    @property
    def said(self) -> str:
        """Return its size in words."""
        return inches(self.size) + " in" if self.inch else f"M{self.size:g}"

    @property
    def grade(self) -> str:
        """Return the bolt's strength class in words: both yield at about 640 N/mm²."""
        return "grade 5" if self.inch else "8.8"

    def thread_length(self, length: float) -> float:
        """Return how much of a bolt's length is thread, mm."""
        if self.inch:
            return 2 * self.size + (0.25 if length <= 6 * IN else 0.5) * IN
        return 2 * self.size + (6.0 if length <= 125 else 12.0 if length <= 200 else 25.0)

    def lengths(self) -> tuple[float, ...]:
        """Return the lengths that are sold, mm."""
        if self.inch:
            return tuple(k * IN / 4 for k in (*range(2, 25), *range(26, 49, 2)))
        return tuple(float(k) for k in (*range(20, 80, 5), *range(80, 200, 10), *range(200, 420, 20)))

    def length_said(self, length: float) -> str:
        """Return a length as it is ordered."""
        return f"{inches(length)} in" if self.inch else f"{length:g} mm"


def inches(mm: float) -> str:
    """Return inches as a fraction: 1 3/4."""
    whole = Fraction(round(mm / IN * 64), 64)
    number, rest = divmod(whole, 1)
    if not rest:
        return str(number)
    return f"{number} {rest}" if number else str(rest)


def screw(size: float, pitch: float | None = None) -> Screw:
    """Return the real thread of a size and pitch, mm, the coarse one where no pitch is given; raise NoThread."""
    for whole, pitches in METRIC_PITCHES.items():
        if abs(size - whole) <= NEAR_MM:
            found = next((its for its in pitches if pitch is None or abs(its - pitch) <= NEAR_PITCH_MM), None)
            if found is not None:
                return Screw(size=float(whole), pitch=found)
            raise NoThread(
                f"M{whole:g} × {pitch:g} is a thread that nobody makes: M{whole} comes with a pitch of {_listed(pitches)} mm."
            )
    for fraction, every in INCH_TURNS.items():
        if abs(size - float(fraction) * IN) <= NEAR_MM:
            turns = next(
                (its for its in every if pitch is None or abs(IN / its - pitch) <= NEAR_PITCH_MM), None
            )
            if turns is not None:
                return Screw(size=float(fraction) * IN, pitch=IN / turns, turns=turns)
            wanted = f"{IN / pitch:.4g}" if pitch else ""
            raise NoThread(
                f"{inches(size)} in with {wanted} turns an inch is a thread that nobody makes: it comes with {_listed(every)}."
            )
    sizes = sorted([*map(float, METRIC_PITCHES), *(float(its) * IN for its in INCH_TURNS)])
    near = min(sizes, key=lambda its: abs(its - size))
    raise NoThread(f"A thread of {size:g} mm is one that nobody makes: the nearest is {screw(near).said}.")


def bolt_size(size: float) -> BoltSize:
    """Return the bolt of a size, mm; raise NoThread where there is none of it."""
    thread = screw(size)
    if thread.turns:
        d = thread.size
        return BoltSize(
            thread=thread, flats=1.5 * d, washer=max(0.065 * IN, 0.16 * d), washer_outside=2.1 * d
        )
    its = round(size)
    washer, outside = METRIC_WASHERS[its]
    return BoltSize(thread=thread, flats=float(METRIC_FLATS[its]), washer=washer, washer_outside=outside)


def bolt_within(hole: float) -> BoltSize:
    """Return the largest bolt that goes through a hole, mm; raise NoThread where none does."""
    sizes = [*map(float, METRIC_PITCHES), *(float(its) * IN for its in INCH_TURNS)]
    fits = [size for size in sizes if size <= hole + NEAR_MM]
    if not fits:
        raise NoThread(f"No bolt is so thin that it goes through a hole of {hole:g} mm.")
    return bolt_size(max(fits))


def _listed(values: tuple[float, ...]) -> str:
    *first, last = (f"{value:g}" for value in values)
    return f"{', '.join(first)} or {last}" if first else last
