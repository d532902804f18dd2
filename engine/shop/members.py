"""What stands in each joint of a station, and the bolt that goes through it.

Fixed    a bore that is there: a rod end's, a bushed link's, an eye's as the document says it; the bolt is the least of them.
Free     what takes any bolt: an eye of which nothing is said, a strap's end, an arm's bush, a rocker's sleeve as proposed.
Needed   the least stock bolt that bears what comes to it by the factor, its thread standing in shear.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from engine.document.make import TabChoice
from engine.document.schema import Station
from engine.document.threads import bolt_size, bolt_within
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.loads.peak import Peak
from engine.shop.mounts import Mount
from engine.shop.stacks import LOOSE_MM, NONE_MM, Member
from engine.shop.stock import Stock
from engine.shop.strength import CORE, bolt_shear
from engine.shop.tabs import BoltedJoint

LEAST_BOLT_MM = 9.5
UNIT_WIDTH = 1.6  # of the bolt: what an eye's bearing is wide, with its cones
UNIT_HEAD = 2.6  # of the bolt: over an eye
STRAP_END_MM, STRAP_END_ACROSS = 5.0, 2.6


@facts
class Asks:
    """What one thing in a joint asks for: its own bore where that is fixed, else the least bolt that bears it, mm."""

    fixed: float | None
    least: float
    make: Callable[[float], Member]


class Members:
    """The members of one station's joints."""

    def __init__(
        self,
        station: Station,
        peak: Peak | None,
        stock: Stock,
        factor: float,
        links: Mapping[str, Callable[[], Member]],
        rocker_holes: Mapping[str, float],
    ) -> None:
        """Take a station; `links` how the ends of its links are made, `rocker_holes` a unit's hole where its rocker's is told."""
        self.station, self.peak, self.stock, self.factor = station, peak, stock, factor
        self.links, self.rocker_holes = links, rocker_holes

    def needed(self, loads: Array) -> float:
        """Return the least stock bolt that bears loads (cases,) N in double shear, mm; the largest where none does."""
        sizes = [size for size in self.stock.bolts if size >= LEAST_BOLT_MM]
        most = float(loads.max()) if len(loads) else 0.0
        for size in sizes:
            check = bolt_shear(max(most, 1.0), CORE * size, 2, self.stock.bolt_yield)
            if check is not None and check.factor >= self.factor:
                return size
        return sizes[-1]

    def pushes(self, unit: str) -> Array:
        """Return what a unit and all that stands on its eyes push, case by case, (cases,) N."""
        if self.peak is None:
            return np.zeros(1)
        its = coaxial_with(self.station, unit)
        return np.array([abs(sum(case.units.get(name, 0.0) for name in its)) for case in self.peak.cases])

    def of_unit(self, name: str, end: str, at_least: float = 0.0) -> Asks:
        """Return what a damper's eye or a strap's end asks for; both eyes of a damper take one bolt where nothing else is said."""
        unit = self.station.unit(name)
        if unit.kind == "strap":
            return Asks(
                fixed=None,
                least=max(self.needed(self.pushes(name)), at_least),
                make=lambda bolt: Member(
                    name=name, what="end", bore=bolt, width=STRAP_END_MM, outside=STRAP_END_ACROSS * bolt
                ),
            )
        said = next((eye for eye in getattr(unit, "eyes", []) if eye.end == end), None)
        bore = None if said is None else said.bore
        width = None if said is None else said.width
        if bore is None:
            bore = self.rocker_holes.get(name)

        def eye(bolt: float) -> Member:
            wide = width or round(UNIT_WIDTH * bolt)
            return Member(
                name=name, what="eye", bore=bore or bolt, width=wide, outside=UNIT_HEAD * (bore or bolt)
            )

        return Asks(fixed=bore, least=max(self.needed(self.pushes(name)), at_least), make=eye)

    def of(self, point: str, holds: str, mount: Mount) -> Asks:
        """Return what one thing at a mount asks for."""
        if holds in self.links:
            member = self.links[holds]()
            return Asks(fixed=member.bore, least=member.bore, make=lambda _: member)
        if any(unit.name == holds for unit in self.station.units):
            return self.of_unit(holds, point)
        return Asks(
            fixed=None,
            least=self.needed(mount.loads),
            make=lambda bolt: Member(
                name=holds, what="bush", bore=bolt, width=round(UNIT_WIDTH * bolt), outside=UNIT_HEAD * bolt
            ),
        )

    def joint(
        self, mount: Mount, sleeve: Member | None = None, choice: TabChoice | None = None
    ) -> BoltedJoint:
        """Return what a mount's tabs take; raise NoThread where no bolt has the size of its bore.

        sleeve : a rocker's; choice : of the tab, whose hole and width of the joint tell an eye of which nothing else is said
        """
        if sleeve is not None and not mount.also:
            return BoltedJoint(bolt=bolt_size(sleeve.bore), members=(sleeve,))
        asks = [self.of(point, holds, mount) for point, holds in mount.all_held]
        if sleeve is not None:
            asks[0] = Asks(fixed=sleeve.bore, least=sleeve.bore, make=lambda _: sleeve)
        fixed = [its.fixed for its in asks if its.fixed is not None]
        size = min(fixed) if fixed else max([self.needed(mount.loads), *(its.least for its in asks)])
        if choice is not None and choice.hole and not fixed:
            size = self.through(choice.hole)
        members = [its.make(size) for its in asks]
        if choice is not None and choice.joint_width and len(members) == 1 and asks[0].fixed is None:
            members[0] = replace(members[0], width=choice.joint_width)
        return BoltedJoint(bolt=bolt_size(size), members=tuple(members))

    def through(self, hole: float) -> float:
        """Return the largest bolt that goes through a hole, mm: of stock, else of any that is made; raise NoThread."""
        fits = [size for size in self.stock.bolts if hole - LOOSE_MM <= size <= hole + NONE_MM]
        return max(fits) if fits else bolt_within(hole).size


def coaxial_with(station: Station, unit: str) -> list[str]:
    """Return a unit and the coils and stops between the same two points: they push on its eyes."""
    ends = set(station.unit(unit).ends)
    return [unit] + [
        one.name
        for one in station.units
        if one.name != unit and one.kind in ("bump_stop", "spring") and set(one.ends) == ends
    ]
