"""A station's linkage on its path, asked for rows at any travel.

Rows     everything at a set of positions: units, wheels, and what the units do at the wheel.
Mover    a linkage, its path and a springing; frozen: other air or other springs are another mover.
"""

from dataclasses import replace
from functools import cached_property

import numpy as np

from engine.document.schema import Station
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.path import Path
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.station.at_wheel import AtWheel, Springing, Squeezes
from engine.station.traces import UnitTrace, WheelTrace, squeezed, wheel_trace


@facts
class Rows:
    """Everything at a set of positions; what nobody asks for is not worked out.

    travels      (positions,) mm
    squeezes     what the units' motion is, to be asked of any springing
    """

    linkage: Linkage
    springing: Springing
    travels: Array
    solution: Solution
    squeezes: Squeezes

    def pick(self, which: np.ndarray) -> "Rows":
        """Return some of the positions, by their numbers or a mask (positions,)."""
        its = replace(
            self,
            travels=self.travels[which],
            solution=self.solution.pick(which),
            squeezes=self.squeezes.at(which),
        )
        if "at_wheel" in self.__dict__:
            its.__dict__["at_wheel"] = self.at_wheel.at(which)
        return its

    @cached_property
    def at_wheel(self) -> AtWheel:
        """Return what the units do at the wheel."""
        return self.springing.at_wheel(self.squeezes)

    @cached_property
    def units(self) -> dict[str, UnitTrace]:
        """Return each unit's length, ratio and force, by name, in the station's order."""
        squeezes = self.squeezes
        return {
            law.name: UnitTrace(
                length=squeezes.length[k],
                motion_ratio=squeezes.ratio[k],
                ratio_slope=squeezes.slope[k],
                force=unit.force,
                rate=unit.rate,
                force_slope=unit.slope,
                pressure=unit.pressure,
            )
            for k, (law, unit) in enumerate(zip(self.springing.laws, self.at_wheel.units, strict=True))
        }

    @cached_property
    def wheels(self) -> dict[str, WheelTrace]:
        """Return each wheel's place and angles, by name."""
        index = self.linkage.index
        return {
            wheel.name: wheel_trace(
                index[wheel.centre], None if wheel.spindle is None else index[wheel.spindle], self.solution
            )
            for wheel in self.linkage.station.wheels
        }

    @property
    def wheel_force(self) -> Array:
        """Return the units' force at each wheel, (positions,) N."""
        return self.at_wheel.force

    @property
    def wheel_rate(self) -> Array:
        """Return the rate at each wheel, (positions,) N/mm."""
        return self.at_wheel.rate

    @property
    def rate_from_ratio(self) -> Array:
        """Return the part of the rate that the changing ratio makes, (positions,) N/mm."""
        return self.at_wheel.from_ratio

    def length(self, unit: str) -> Array:
        """Return one unit's length, (positions,) mm."""
        its: Array = self.squeezes.length[self.springing.number[unit]]
        return its


def rows_of(linkage: Linkage, springing: Springing, travels: Array, solution: Solution) -> Rows:
    """Return units and wheels at solved positions; `travels` (positions,) mm, in heave or in articulation."""
    ends = np.array([[linkage.index[end] for end in law.ends] for law in springing.laws], dtype=int)
    length, ratio, slope = squeezed(ends.reshape(-1, 2), solution)
    squeezes = Squeezes(length=length, ratio=ratio, slope=slope)
    return Rows(linkage=linkage, springing=springing, travels=travels, solution=solution, squeezes=squeezes)


Crossed = tuple[str, float, bool, int]
"""A unit, the length that it comes to, whether from shorter ones, and the position below on the path."""


@facts(kw_only=False)
class Mover:
    """A linkage along its path under one springing."""

    linkage: Linkage
    path: Path
    springing: Springing

    @property
    def station(self) -> Station:
        """Return the station that moves."""
        return self.linkage.station

    @cached_property
    def along(self) -> Rows:
        """Return the rows at every travel of the path."""
        return rows_of(self.linkage, self.springing, self.path.travels, self.path.solution)

    @cached_property
    def crossed(self) -> dict[Crossed, float]:
        """Return where units were found to come to a length, mm of travel; added to."""
        return {}

    def at(self, travels: Array) -> Rows:
        """Return exact rows at travels (positions,) mm between those of the path."""
        travels = np.asarray(travels, dtype=float)
        return rows_of(self.linkage, self.springing, travels, self.linkage.at(self.path, travels))

    def under(self, springing: Springing) -> "Mover":
        """Return the same motion under another springing; no joint is solved again."""
        other = replace(self, springing=springing)
        before = self.__dict__.get("along")
        if before is not None and springing.ends == self.springing.ends:
            other.__dict__["along"] = replace(before, linkage=self.linkage, springing=springing)
        return other
