"""A station's linkage on its path, asked for rows at any travel.

Rows     everything at a set of positions: units, wheels, and what the units do at the wheel.
Mover    a linkage, its path and a springing; frozen: other air or other springs are another mover.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from engine.document.schema import Station
from engine.linkage.linkage import Linkage
from engine.linkage.path import Path
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.station.at_wheel import Springing, Squeezes
from engine.station.traces import UnitTrace, WheelTrace, picked, squeezed, wheel_trace


@dataclass(frozen=True, kw_only=True)
class Rows:
    """Everything at a set of positions.

    travels      (positions,) mm
    units        by name, in the station's order
    wheel_force, wheel_rate  (positions,) N and N/mm, per wheel
    rate_from_ratio          the part of the rate that the changing ratio makes
    """

    travels: Array
    solution: Solution
    units: dict[str, UnitTrace]
    wheels: dict[str, WheelTrace]
    wheel_force: Array
    wheel_rate: Array
    rate_from_ratio: Array

    def pick(self, which: np.ndarray) -> "Rows":
        """Return some of the positions, by their numbers or a mask."""
        return Rows(
            travels=self.travels[which],
            solution=self.solution.pick(which),
            units={name: picked(trace, which) for name, trace in self.units.items()},
            wheels={name: picked(trace, which) for name, trace in self.wheels.items()},
            wheel_force=self.wheel_force[which],
            wheel_rate=self.wheel_rate[which],
            rate_from_ratio=self.rate_from_ratio[which],
        )

    @property
    def squeezes(self) -> Squeezes:
        """Return what the units' motion is at these positions, to be asked of another springing."""
        traces = list(self.units.values())
        shape = (len(traces), len(self.travels))
        return Squeezes(
            length=np.array([t.length for t in traces]).reshape(shape),
            ratio=np.array([t.motion_ratio for t in traces]).reshape(shape),
            slope=np.array([t.ratio_slope for t in traces]).reshape(shape),
        )


def rows_of(linkage: Linkage, springing: Springing, travels: Array, solution: Solution) -> Rows:
    """Return units and wheels at solved positions; `travels` (positions,) mm, in heave or in articulation."""
    index, shape = linkage.index, (3, len(springing.laws), len(travels))
    parts = [squeezed(index[law.ends[0]], index[law.ends[1]], solution) for law in springing.laws]
    length, ratio, slope = np.array(parts).reshape((shape[1], 3, shape[2])).swapaxes(0, 1)
    return _rows(linkage, springing, travels, solution, Squeezes(length=length, ratio=ratio, slope=slope))


def _rows(
    linkage: Linkage, springing: Springing, travels: Array, solution: Solution, squeezes: Squeezes
) -> Rows:
    at, index = springing.at_wheel(squeezes), linkage.index
    return Rows(
        travels=travels,
        solution=solution,
        units={
            law.name: UnitTrace(
                length=squeezes.length[k],
                motion_ratio=squeezes.ratio[k],
                ratio_slope=squeezes.slope[k],
                force=unit.force,
                rate=unit.rate,
                force_slope=unit.slope,
                pressure=unit.pressure,
            )
            for k, (law, unit) in enumerate(zip(springing.laws, at.units, strict=True))
        },
        wheels={
            wheel.name: wheel_trace(
                index[wheel.centre], None if wheel.spindle is None else index[wheel.spindle], solution
            )
            for wheel in linkage.station.wheels
        },
        wheel_force=at.force,
        wheel_rate=at.rate,
        rate_from_ratio=at.from_ratio,
    )


@dataclass(frozen=True)
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

    def at(self, travels: Array) -> Rows:
        """Return exact rows at travels between those of the path, mm."""
        travels = np.asarray(travels, dtype=float)
        return rows_of(self.linkage, self.springing, travels, self.linkage.at(self.path, travels))

    def under(self, springing: Springing) -> "Mover":
        """Return the same motion under another springing; no joint is solved again."""
        other = replace(self, springing=springing)
        before = self.__dict__.get("along")
        if before is not None and springing.ends == self.springing.ends:
            along = _rows(self.linkage, springing, before.travels, before.solution, before.squeezes)
            other.__dict__["along"] = along
        return other
