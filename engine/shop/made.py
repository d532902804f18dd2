"""What any part is: its flat shape or its tube, what it takes, what it bears, and what is said of it.

Kind      of the contract: rod, plate, tab, tower, cup, notch …; one choice may make several pieces (a cup's plate and tube).
Count     of one hand; `hands` is 2 where the other side of the vehicle has the same again, mirrored.
Proposed  what the job says nothing of; a choice of the document is never changed, only judged.
Figure    a number of a part under its key in parts.json and its plain name on the sheet.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from engine.facts import facts
from engine.sentences import Sentence
from engine.shop.bends import BentTube
from engine.shop.outline import Arc, Circle, area_of, hull, mirrored
from engine.shop.stacks import BoltStack
from engine.shop.stock import STEEL_KG_PER_MM3, Profile, Tube, plate_size
from engine.shop.strength import Check, weakest


@facts
class Hole:
    """A hole of a plate: what it is for, its middle and its diameter, mm; a slot runs on to `to`, and is as wide."""

    what: str
    x: float
    y: float
    diameter: float
    to: tuple[float, float] | None = None

    @property
    def places(self) -> list[tuple[float, float]]:
        """Return the middles of its ends: one of a round hole, two of a slot."""
        return [(self.x, self.y), *([] if self.to is None else [self.to])]

    @property
    def edge(self) -> list[Arc]:
        """Return its edge, anticlockwise."""
        return hull([Circle(x, y, self.diameter / 2) for x, y in self.places])

    @property
    def size(self) -> str:
        """Return its size as it is marked out, mm."""
        if self.to is None:
            return f"{self.diameter:g}"
        return f"{self.diameter:g} × {math.dist(*self.places) + self.diameter:.1f}"


@facts
class Fold:
    """A line that a plate is bent along: both its ends mm, and degrees (down +, the drawn face being the outer one)."""

    one: tuple[float, float]
    other: tuple[float, float]
    angle: float


@facts
class Flat:
    """A piece cut from plate, mm: outline with +y up on the vehicle, or along the rod's arm for a rocker."""

    outline: tuple[Arc, ...]
    thickness: float
    grade: str
    holes: tuple[Hole, ...] = ()
    folds: tuple[Fold, ...] = ()

    @property
    def mass(self) -> float:
        """Return its mass, kg of steel."""
        holes = sum(abs(area_of(hole.edge)) for hole in self.holes)
        return max(abs(area_of(list(self.outline))) - holes, 0.0) * self.thickness * STEEL_KG_PER_MM3

    @property
    def other_hand(self) -> "Flat":
        """Return the plate for the other side of the vehicle: turned over."""
        return replace(
            self,
            outline=tuple(mirrored(list(self.outline))),
            holes=tuple(
                replace(hole, y=-hole.y, to=None if hole.to is None else (hole.to[0], -hole.to[1]))
                for hole in self.holes
            ),
            folds=tuple(
                replace(
                    fold,
                    one=(fold.one[0], -fold.one[1]),
                    other=(fold.other[0], -fold.other[1]),
                    angle=-fold.angle,
                )
                for fold in self.folds
            ),
        )

    @property
    def stock(self) -> str:
        """Return its plate as it is ordered."""
        return f"plate {plate_size(self.thickness)} {self.grade}"


@facts
class TubeEnd:
    """How a tube's end is cut. Square where `met` and `mitre` are nothing.

    met, angle, offset : a cope on a round tube of outside radius `met` mm, its axis at degrees, passing by mm
    mitre : degrees out of square; clock : degrees round the tube from its witness line to where the cut is longest
    """

    met: float = 0.0
    angle: float = 90.0
    offset: float = 0.0
    mitre: float = 0.0
    clock: float = 0.0


@facts
class Cut:
    """A piece of tube: cut length mm (over all, before its ends are shaped), bends, both ends."""

    tube: Tube
    length: float
    ends: tuple[TubeEnd, TubeEnd] = field(default_factory=lambda: (TubeEnd(), TubeEnd()))
    bent: BentTube | None = None
    spots: tuple[tuple[float, float, float], ...] = ()

    @property
    def mass(self) -> float:
        """Return its mass, kg of steel."""
        return max(self.length, 0.0) * self.tube.kg_per_mm

    @property
    def stock(self) -> str:
        """Return its tube as it is ordered."""
        return self.tube.said

    @property
    def said(self) -> str:
        """Return what it is cut from, in words."""
        return self.tube.said if isinstance(self.tube, Profile) else f"tube {self.tube.said}"


@facts
class Hardware:
    """Something bought for a part, for one of it."""

    what: str
    size: str
    count: int = 1


@facts
class Figure:
    """A number of a part, or words: its key in parts.json, its plain name, and what it measures."""

    key: str
    name: str
    value: float | str | None
    measures: str = "length"


@facts
class Remedy:
    """A change that clears what is said of a part, worked out by making it again.

    into : where it goes: the part's own choice in `make`, the station's `rods` or `plates` under its body's name, or
        the bolt that its subject's eye or joint has (`eyes`)
    """

    say: Sentence
    change: dict[str, Any]
    into: str = "make"


@facts
class Said:
    """A judgement of a part: mark (fault, warning, note), sentence, and what clears it."""

    mark: str
    say: Sentence
    remedy: Remedy | None = None


@dataclass(frozen=True, kw_only=True)
class Made:
    """One part of a station.

    subject : kind and names of what it belongs to, as `check_make.subject_of` has it
    choice  : what the document would have to say to get this very part; None where it has no choice of its own
    stacks  : what stands on each of its bolts, from head to nut
    also    : of a tab, what else stands on its bolt: its point, and the unit or rod
    """

    station: str
    name: str
    kind: str
    subject: tuple[str, ...]
    proposed: bool
    count: int = 1
    hands: int = 1
    flat: Flat | None = None
    cut: Cut | None = None
    hardware: tuple[Hardware, ...] = ()
    checks: tuple[Check, ...] = ()
    figures: tuple[Figure, ...] = ()
    said: tuple[Said, ...] = ()
    choice: dict[str, Any] | None = None
    stacks: tuple[BoltStack, ...] = ()
    also: tuple[tuple[str, str], ...] = ()

    @property
    def mass(self) -> float:
        """Return the mass of one, kg."""
        return (self.flat.mass if self.flat else 0.0) + (self.cut.mass if self.cut else 0.0)

    @property
    def many(self) -> int:
        """Return how many the vehicle takes."""
        return self.count * self.hands

    @property
    def weakest(self) -> Check | None:
        """Return the check with the least factor."""
        return weakest(self.checks)

    @property
    def mark(self) -> str:
        """Return the worst mark of what is said: fault, warning or good."""
        return worst(self.said)

    def figure(self, key: str) -> Any:
        """Return a figure's value by its key; raises StopIteration where it has none."""
        return next(one.value for one in self.figures if one.key == key)

    def saying(self, more: Sequence[Said]) -> "Made":
        """Return the part with more said of it."""
        return replace(self, said=(*self.said, *more)) if more else self


def worst(said: Sequence[Said]) -> str:
    """Return the worst mark of some judgements; notes do not count."""
    marks = {one.mark for one in said}
    return next((mark for mark in ("fault", "warning") if mark in marks), "good")
