"""Tabs and pairs of tabs: a hole, a round end, and a foot that fits what it is welded to.

Drawn     hole at (0, 0), reach down to the foot, x across; a pair is two alike with a gap.
Foot      on a tube whose axis crosses the tab's plane at γ the edge is the cut of that plane through the tube: h(s) =
          r − √(r² − (s·sin γ)²) below its crown; a true arc across (90°), straight along (0°), else arcs within FIT_MM.
"""

import itertools
import math
from dataclasses import replace

import numpy as np

from engine.document.make import GRADES, Foot, TabChoice
from engine.document.threads import BoltSize
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.shop.gussets import Gusset, gusset_for, sideways_share
from engine.shop.made import Flat, Hole
from engine.shop.mounts import REACH_MOST_MM, Mount
from engine.shop.outline import Arc, Circle, hull, sharp, through
from engine.shop.stacks import (
    CLEARANCE_MM,
    BoltStack,
    Layer,
    Member,
    bolted,
    line_of,
    spacer_at,
    standing,
)
from engine.shop.stock import Bolt, Stock, bolt_for
from engine.shop.strength import (
    Check,
    FootLoad,
    bearing,
    bolt_shear,
    net_section,
    tab_foot,
    tear_out,
    weakest,
    weld,
)

FIT_MM = 0.01
EDGE = 1.5  # of the hole, from its middle to the tab's edge
WIDTHS = (3.0, 3.5, 4.0, 5.0)  # of the hole
FEET = (1.0, 1.5, 2.0)  # of the tab's width
REACH_ROOM_MM = 6.0  # between a joint's head and the foot
LEAST_LEAN_DEG = 1.0  # nobody welds truer
THIN_EDGE = 1.5


@facts
class BoltedJoint:
    """What a tab takes: the bolt, and everything that stands on it, the first in the drawn place."""

    bolt: BoltSize
    members: tuple[Member, ...]

    @property
    def width(self) -> float:
        """Return how wide all of it is, mm, washers between."""
        low, high = line_of(self.members, self.bolt.washer)
        return high - low

    @property
    def head(self) -> float:
        """Return what turns about the bolt, mm across."""
        return max(one.outside for one in self.members)

    @property
    def offset(self) -> float:
        """Return how far the middle of all of it stands from the drawn place, mm along the bolt."""
        return sum(line_of(self.members, self.bolt.washer)) / 2


@facts
class Tab:
    """A tab's sizes, mm; `count` is 1 or 2; `offset` of a pair's middle from the drawn place, along the bolt."""

    count: int
    thickness: float
    width: float
    foot_width: float
    reach: float
    hole: float
    joint: float
    spacer: float
    clearance: float
    grade: str
    foot: Foot
    towards: Array
    gusset: bool = False
    offset: float = 0.0

    @property
    def gap(self) -> float:
        """Return what is left between a pair."""
        return self.joint + 2 * self.spacer + self.clearance

    @property
    def grip(self) -> float:
        """Return what the bolt goes through."""
        between = self.gap if self.count == 2 else self.joint + self.spacer
        return between + self.count * self.thickness


class NoTab(ValueError):
    """A tab that cannot be drawn, in words."""


def tab_flat(tab: Tab) -> Flat:
    """Return a tab's outline and hole; raise NoTab where its foot does not fit."""
    half, radius = tab.foot_width / 2, tab.width / 2
    if tab.hole >= tab.width:
        raise NoTab(f"A hole of {tab.hole:g} mm is wider than the tab ({tab.width:g} mm).")
    left, right = _foot_edge(tab, -half), _foot_edge(tab, half)
    if max(left, right) > -tab.hole / 2:
        raise NoTab(
            f"The foot is only {tab.reach:.1f} mm from the hole: the tab needs a longer reach, or a narrower foot."
        )
    band = hull([Circle(0.0, 0.0, radius), Circle(-half, left, 1e-6), Circle(half, right, 1e-6)])
    head = [arc for arc in band if arc.circle.radius > 1e-3]
    if len(head) != 1:
        raise NoTab(
            "The foot is wider than the tab is long: the tab needs a longer reach, or a narrower foot."
        )
    outline = [head[0], sharp(-half, left), *_foot_arcs(tab, half), sharp(half, right)]
    return Flat(
        outline=tuple(outline),
        thickness=tab.thickness,
        grade=tab.grade,
        holes=(Hole(what="bolt", x=0.0, y=0.0, diameter=tab.hole),),
    )


def _foot_edge(tab: Tab, s: float) -> float:
    """Return the foot's height at a way across the tab, mm."""
    if tab.foot.on == "flat" or tab.foot.outside is None:
        return -tab.reach + s * math.tan(math.radians(tab.foot.slope))
    r, sine = tab.foot.outside / 2, math.sin(math.radians(tab.foot.angle))
    under = r * r - (s * sine) ** 2
    if under < 0:
        raise NoTab(
            f"A foot of {tab.foot_width:g} mm is wider than the tube of {tab.foot.outside:g} mm that it stands on: "
            "cut it narrower, or lay it along the tube."
        )
    return -tab.reach - (r - math.sqrt(under))


def _foot_arcs(tab: Tab, half: float) -> list[Arc]:
    """Return the hollow of the foot from left to right: as many arcs as keep within FIT_MM."""
    if tab.foot.on == "flat" or tab.foot.outside is None or tab.foot.angle < 0.5:
        return []
    for pieces in (1, 2, 4, 8, 16):
        edges = [float(edge) for edge in np.linspace(-half, half, pieces + 1)]
        arcs = []
        off = 0.0
        for a, b in itertools.pairwise(edges):
            middle = (a + b) / 2
            arc = through((a, _foot_edge(tab, a)), (middle, _foot_edge(tab, middle)), (b, _foot_edge(tab, b)))
            if arc is None:
                continue
            arcs.append(arc)
            for s in ((a + middle) / 2, (b + middle) / 2):
                away = math.hypot(s - arc.circle.x, _foot_edge(tab, s) - arc.circle.y)
                off = max(off, abs(away - arc.circle.radius))
        if off <= FIT_MM:
            break
    return arcs


def tab_checks(tab: Tab, mount: Mount, bolt: Bolt, stock: Stock) -> list[Check]:
    """Return everything that a tab and its bolt bear, each in the case that is worst for it."""
    if mount.load <= 0:
        return []
    yields, every = GRADES[tab.grade], tab.count * tab.thickness
    # What turns a pair about a line square to its bolt loads one tab more than the other: as if both bore that.
    span = tab.gap + tab.thickness if tab.count == 2 else tab.thickness + tab.joint
    more = 2 * mount.couples / span
    loads = mount.loads + more
    along = np.abs(mount.planar @ tab.towards)
    across = np.sqrt(np.maximum(mount.loads**2 - along**2, 0.0))
    swell = np.divide(loads, mount.loads, out=np.ones_like(loads), where=mount.loads > 1e-9)
    side = np.maximum(mount.along, mount.loads * math.sin(math.radians(LEAST_LEAN_DEG)))
    foot = FootLoad(
        along=along * swell,
        across=across * swell,
        sideways=side * _sideways_share(tab, bolt),
        reach=tab.reach,
    )
    edge, bears = tab.width / 2, min(tab.hole, bolt.size)
    found = [
        bolt_shear(loads, bolt.size, tab.count, stock.bolt_yield, bolt.shank_in_shear, cases=mount.cases),
        bearing(loads, every, bears, yields, cases=mount.cases),
        tear_out(loads, every, tab.hole, edge, yields, cases=mount.cases),
        net_section(loads, every, tab.hole, tab.width, yields, cases=mount.cases),
        *tab_foot(foot, tab.count, tab.thickness, tab.foot_width, yields, cases=mount.cases),
        weld(foot, tab.count, tab.thickness, tab.foot_width, yields, cases=mount.cases),
    ]
    foot_at = (0.0, -tab.reach)
    return [
        replace(check, at=foot_at if "foot" in check.what or "sideways" in check.what else (0.0, 0.0))
        for check in found
        if check is not None
    ]


def gusset_of(tab: Tab, bolt: Bolt) -> Gusset | None:
    """Return the gusset that a tab has across its back, None where it has none, or has no room for it."""
    if not tab.gusset:
        return None
    on_tube = tab.foot.on != "flat" and tab.foot.outside is not None
    angle = tab.foot.angle if on_tube else None
    return gusset_for(tab.thickness, tab.reach, bolt.of.washer_outside, angle)


def _sideways_share(tab: Tab, bolt: Bolt) -> float:
    its = gusset_of(tab, bolt)
    return 1.0 if its is None else sideways_share(its, tab.width, tab.foot_width, tab.reach)


def tab_for(
    mount: Mount, joint: BoltedJoint, choice: TabChoice | None, stock: Stock, factor: float
) -> tuple[Tab, Bolt]:
    """Return a mount's tab: what is chosen as chosen, the rest the lightest of stock that bears its load by the factor."""
    best: tuple[tuple[float, ...], Tab, Bolt] | None = None
    said = choice
    foot, towards = _foot_of(mount, said)
    counts = (2,) if said is None or said.pair is None else ((2,) if said.pair else (1,))
    thick = (said.thickness,) if said and said.thickness else tuple(p for p in stock.plates if p >= 2.9)
    hole = said.hole if said and said.hole else joint.bolt.size
    offset = joint.offset
    widths = (said.width,) if said and said.width else tuple(k * hole for k in WIDTHS)
    for count in counts:
        for width in widths:
            for spread in (said.foot_width,) if said and said.foot_width else FEET:
                foot_width = spread if said and said.foot_width else spread * width
                for thickness in thick:
                    tab = Tab(
                        count=count,
                        thickness=thickness,
                        width=width,
                        foot_width=foot_width,
                        reach=_stands_out(mount, joint, said, width, foot),
                        hole=hole,
                        joint=said.joint_width if said and said.joint_width else joint.width,
                        spacer=said.spacer if said and said.spacer is not None else 0.0,
                        clearance=said.clearance if said else 0.3,
                        grade=said.grade if said else stock.plate_grade,
                        foot=foot,
                        towards=towards,
                        gusset=bool(said and said.gusset),
                        offset=offset,
                    )
                    if not _fits(tab):
                        continue
                    bolt = bolt_for(joint.bolt, tab.grip, thickness)
                    least = weakest(tab_checks(tab, mount, bolt, stock))
                    strong = least is None or least.factor >= factor
                    rank = (0.0, _metal(tab)) if strong else (1.0, -(least.factor if least else 0.0))
                    if best is None or rank < best[0]:
                        best = (rank, tab, bolt)
                    if strong:
                        break  # thicker only weighs more
    if best is None:
        tab = _plainest(mount, joint, said, stock, foot, towards)
        tab_flat(tab)  # says what does not fit
        return tab, bolt_for(joint.bolt, tab.grip, tab.thickness)
    return best[1], best[2]


def _fits(tab: Tab) -> bool:
    """Return whether a tab can be drawn, told without drawing it."""
    half = tab.foot_width / 2
    try:
        edges = _foot_edge(tab, -half), _foot_edge(tab, half)
    except NoTab:
        return False
    return (
        max(edges) <= -tab.hole / 2 and math.hypot(half, max(edges)) > tab.width / 2 and tab.hole < tab.width
    )


def _metal(tab: Tab) -> float:
    """Return about how much metal a tab or a pair takes, mm³: what proposals are compared by."""
    area = tab.reach * (tab.width + tab.foot_width) / 2 + math.pi / 8 * tab.width**2
    return tab.count * tab.thickness * area


def _plainest(
    mount: Mount, joint: BoltedJoint, said: TabChoice | None, stock: Stock, foot: Foot, towards: Array
) -> Tab:
    hole = said.hole if said and said.hole else joint.bolt.size
    width = said.width if said and said.width else 3 * hole
    return Tab(
        count=2,
        thickness=said.thickness if said and said.thickness else stock.plates[0],
        width=width,
        foot_width=said.foot_width if said and said.foot_width else width,
        reach=_stands_out(mount, joint, said, width, foot),
        hole=hole,
        joint=joint.width,
        spacer=0.0,
        clearance=CLEARANCE_MM,
        grade=stock.plate_grade,
        foot=foot,
        towards=towards,
        offset=joint.offset,
    )


def stack_of(tab: Tab, joint: BoltedJoint, bolt: Bolt) -> BoltStack:
    """Return what stands on a tab's bolt, from head to nut: the clearance is drawn on the nut's side."""
    of, thick = joint.bolt, tab.thickness
    low, high = line_of(joint.members, of.washer)
    # A chosen width of the joint is what it is to hold: what is there is spaced out to it, and said where it is wider.
    spare = max(tab.joint - (high - low), 0.0) / 2
    spacer = tab.spacer + spare
    inside: list[Layer] = []
    if tab.count == 2:
        first = low - spacer - thick
        inside.append(Layer(what="tab", at=first, width=thick, bore=tab.hole, outside=tab.width))
        inside += spacer_at(first + thick, spacer, of)
        inside += standing(joint.members, of)
        inside += spacer_at(high, spacer, of)
        inside.append(
            Layer(what="tab", at=first + thick + tab.gap, width=thick, bore=tab.hole, outside=tab.width)
        )
        return bolted(inside, bolt, 2, first + thick + tab.gap / 2)
    first = low - spacer - thick
    inside.append(Layer(what="tab", at=first, width=thick, bore=tab.hole, outside=tab.width))
    inside += spacer_at(first + thick, spacer, of)
    inside += standing(joint.members, of)
    return bolted(inside, bolt, 1, first + thick / 2)


def _foot_of(mount: Mount, said: TabChoice | None) -> tuple[Foot, Array]:
    """Return what a tab stands on and the way to it: as chosen, else the nearest structure, else a flat."""
    towards = mount.towards
    if said is not None and said.towards is not None:
        way = np.array(said.towards) - mount.bolt * float(np.array(said.towards) @ mount.bolt)
        if float(np.linalg.norm(way)) > 1e-6:
            towards = way / np.linalg.norm(way)
    if said is not None and said.foot is not None:
        return said.foot, towards
    ground = mount.ground
    if ground is None or ground.away > REACH_MOST_MM or ground.outside <= 0:
        return Foot(), towards
    sine = abs(float(ground.axis @ mount.bolt))
    return Foot(on="tube", outside=ground.outside, angle=math.degrees(math.asin(min(sine, 1.0)))), towards


def _stands_out(mount: Mount, joint: BoltedJoint, said: TabChoice | None, width: float, foot: Foot) -> float:
    if said is not None and said.reach:
        return said.reach
    ground = mount.ground
    if ground is not None and ground.away <= REACH_MOST_MM and (said is None or said.towards is None):
        # Seen square to the bolt the way there is shorter than it is.
        return ground.away * max(float(ground.way @ mount.towards), 0.3)
    slope = width / 2 * math.tan(math.radians(abs(foot.slope)))
    return math.ceil(joint.head / 2 + REACH_ROOM_MM + slope)
