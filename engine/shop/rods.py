"""A rod between two threaded ends: how long its tube is cut, what it adjusts, and whether it buckles.

Shank      from the joint's centre to the end's tip, mm; engagement is what of it is in the thread.
Flange     what of a weld-in insert stays outside the tube, mm.
Tube       centre to centre less, at each end, what of the shank is outside and the flange.
Nut        the jam nut needs its height and one turn of thread beside the insert.
Column     pinned at both ends: Euler (1744) where slender, Johnson's parabola (1893) where stocky.
Bent       a link with an eye on it bears so many times what it carries that its share of the column, or of the pull at
           which it yields, and its share of the bending at which it yields come to one (linear interaction).
"""

import math

from engine.document.threads import LEAST_ENGAGEMENT, screw
from engine.facts import facts
from engine.shop.stock import STEEL_E_N_PER_MM2, Stock, Tube
from engine.shop.strength import CORE

NUT_SHARE = 0.6  # of the thread's diameter
NO_LOAD_N = 1e-9


@facts
class RodEnd:
    """A threaded end and its insert, mm; hand right or left; engagement as set; width over its ball, head across."""

    thread: float
    pitch: float
    shank: float
    flange: float
    hand: str
    engagement: float
    width: float
    head: float

    @property
    def said(self) -> str:
        """Return its thread as it is ordered."""
        return screw(self.thread, self.pitch).said

    @property
    def nut(self) -> float:
        """Return what the jam nut needs beside the insert, mm: its height and one turn."""
        return NUT_SHARE * self.thread + self.pitch

    @property
    def outside(self) -> float:
        """Return what of the shank is outside, mm."""
        return self.shank - self.engagement

    def bends_at(self, across: float) -> float:
        """Return the stress in its core at the insert from a force (N) across the joint, N/mm²."""
        return 32 * across * self.outside / (math.pi * (CORE * self.thread) ** 3)

    @property
    def out(self) -> float:
        """Return how far it can still be screwed out, mm; negative where it holds too little as set."""
        return self.engagement - LEAST_ENGAGEMENT * self.thread

    @property
    def into(self) -> float:
        """Return how far it can still be screwed in, mm; negative where there is no room for its nut."""
        return self.outside - self.nut


FLANGE_MM = 4.0


def stock_end(
    stock: Stock, thread: float, hand: str, pitch: float | None = None, engagement: float | None = None
) -> RodEnd:
    """Return the end of a thread that was asked for, set in the middle of what it adjusts; raise NoThread."""
    its = stock.rod_end(thread, pitch)
    turn = its.pitch
    nut = NUT_SHARE * its.size + turn
    middle = (its.shank - nut + LEAST_ENGAGEMENT * its.size) / 2
    return RodEnd(
        thread=its.size,
        pitch=turn,
        shank=its.shank,
        flange=FLANGE_MM,
        hand=hand,
        engagement=middle if engagement is None else engagement,
        width=its.width,
        head=its.head,
    )


@facts
class RodMade:
    """A rod as it is cut: lengths mm, loads N.

    tube_length     cut square at both ends; negative where the two ends alone are longer than the rod
    change_per_turn mm longer for a turn of the tube; 0 where both hands are alike
    out, into       mm that it can still be made longer and shorter by both ends
    buckles_at      N of push; factor : of the greatest push, None where it is never pushed
    bent            times what it bears of push or pull and bending together; None where nothing bends it
    """

    centre_to_centre: float
    tube: Tube
    ends: tuple[RodEnd, RodEnd]
    tube_length: float
    change_per_turn: float
    out: float
    into: float
    buckles_at: float
    factor: float | None
    bent: float | None

    @property
    def mass(self) -> float:
        """Return the tube's mass, kg."""
        return max(self.tube_length, 0.0) * self.tube.kg_per_mm


@facts(kw_only=False)
class Borne:
    """The most that a rod is pushed and pulled, and pushed across at an end, N, and bent, N·mm; and in which case."""

    push: float = 0.0
    pull: float = 0.0
    across: float = 0.0
    moment: float = 0.0
    push_case: str = ""
    pull_case: str = ""
    bent_case: str = ""

    @property
    def most_case(self) -> str:
        """Return the case of the greater of push and pull."""
        return self.push_case if self.push >= self.pull else self.pull_case


def made(
    centre_to_centre: float, tube: Tube, ends: tuple[RodEnd, RodEnd], borne: Borne | None = None
) -> RodMade:
    """Return a rod of a length between joint centres (mm) for what it bears."""
    load = borne or Borne()
    one, other = ends
    buckles = column_n(tube, centre_to_centre)
    return RodMade(
        centre_to_centre=centre_to_centre,
        tube=tube,
        ends=ends,
        tube_length=centre_to_centre - sum(end.outside + end.flange for end in ends),
        change_per_turn=one.pitch + other.pitch if one.hand != other.hand else abs(one.pitch - other.pitch),
        out=one.out + other.out,
        into=one.into + other.into,
        buckles_at=buckles,
        factor=buckles / load.push if load.push > 0 else None,
        bent=bent_factor(tube, centre_to_centre, load) if load.moment > 0 else None,
    )


def bent_factor(tube: Tube, length: float, load: Borne) -> float:
    """Return how many times a load along a tube and across it the tube bears."""
    section = 2 * tube.inertia / tube.outside
    along = max(load.push / column_n(tube, length), load.pull / (tube.area * tube.yields))
    share = along + load.moment / (section * tube.yields)
    return 1 / share if share > 0 else math.inf


def column_n(tube: Tube, length: float) -> float:
    """Return the push that a pinned column of a length (mm) bears, N."""
    return section_column_n(tube.area, tube.inertia, tube.yields, length)


def section_column_n(area: float, inertia: float, yields: float, length: float) -> float:
    """Return the push that a pinned column of any section bears, N: mm², least mm⁴, N/mm², mm."""
    slender = length / math.sqrt(inertia / area)
    if slender >= math.sqrt(2 * math.pi**2 * STEEL_E_N_PER_MM2 / yields):
        return math.pi**2 * STEEL_E_N_PER_MM2 * inertia / length**2
    share = yields * slender**2 / (4 * math.pi**2 * STEEL_E_N_PER_MM2)
    return area * yields * (1 - share)


def lightest(
    stock: Stock, centre_to_centre: float, ends: tuple[RodEnd, RodEnd], load: Borne, factor: float
) -> Tube:
    """Return the lightest stock tube that takes the inserts and bears a load by a factor, else the strongest."""
    room = max(end.thread for end in ends) * 1.25 + 2.0  # an insert's body about its thread
    fits = [tube for tube in stock.tubes if tube.bore >= room] or [stock.tubes[-1]]
    strong = [tube for tube in fits if bears(tube, centre_to_centre, load) >= factor]
    if not strong:
        return max(fits, key=lambda tube: bears(tube, centre_to_centre, load))
    return min(strong, key=lambda tube: tube.area)


def bears(tube: Tube, length: float, load: Borne) -> float:
    """Return how many times its load a rod bears: as a column and pulled; bent with it where something bends it."""
    if load.moment > 0:
        return bent_factor(tube, length, load)
    pushed = column_n(tube, length) / max(load.push, NO_LOAD_N)
    return min(pushed, tube.area * tube.yields / max(load.pull, NO_LOAD_N))
