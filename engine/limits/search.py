"""What ends the travel, each way, in the order in which it is met.

Searched over the wanted travel and half as far again each way, starting from the position nearest
to the drawn one at which the unit is still free of the event.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from engine.forces.units import Event, UnitLaw
from engine.linkage.path import Path
from engine.linkage.topology import Array

if TYPE_CHECKING:
    from engine.station import Rows, StationSolver

NEWTON_STEPS = 8
ROOT_MM = 1e-8


@dataclass(frozen=True)
class Limit:
    """One event on one side: mm of wheel travel, kind, and the unit or body it belongs to."""

    direction: str
    travel: float
    kind: str
    unit: str | None
    body: str | None = None


@dataclass(frozen=True)
class _Bracket:
    """Two neighbouring travels between which a unit passes an event's length."""

    law: UnitLaw
    event: Event
    direction: str
    low: float
    high: float


def find_limits(solver: StationSolver, path: Path, rows: Rows) -> tuple[Limit, ...]:
    """Return every limit met in the searched travel, nearest to the drawn position first."""
    limits = list(_reach_limits(solver, path))
    brackets: list[_Bracket] = []
    for law in solver.laws:
        for event in law.events:
            past = _past(event, rows.units[law.name].length)
            brackets += _brackets(law, event, rows.travels, past, path.reached)
            if path.reached.any() and past[path.reached].all():
                limits.append(_everywhere(law, event, rows.travels[path.reached]))
    limits += _roots(solver, path, brackets)
    return tuple(sorted(limits, key=lambda limit: (abs(limit.travel), limit.direction, limit.kind)))


def _past(event: Event, length: Array) -> np.ndarray:
    past: np.ndarray = length > event.length_mm if event.longer else length < event.length_mm
    return past


def _everywhere(law: UnitLaw, event: Event, travels: Array) -> Limit:
    """The unit is past the event at every position: it was met before the search began."""
    direction = "droop" if event.longer else "bump"
    travel = travels[-1] if event.longer else travels[0]
    return Limit(direction, float(travel), event.kind, law.name)


def _brackets(
    law: UnitLaw, event: Event, travels: Array, past: np.ndarray, reached: np.ndarray
) -> list[_Bracket]:
    free = np.flatnonzero(reached & ~past)
    if not len(free):
        return []
    start = int(free[np.abs(travels[free]).argmin()])
    found = []
    for direction, step in (("bump", 1), ("droop", -1)):
        row = start
        while 0 <= row + step < len(travels) and reached[row + step]:
            row += step
            if past[row]:
                low, high = sorted((float(travels[row - step]), float(travels[row])))
                found.append(_Bracket(law, event, direction, low, high))
                break
    return found


def _roots(solver: StationSolver, path: Path, brackets: list[_Bracket]) -> list[Limit]:
    """Close all brackets at once with Newton on the exact linkage, each kept inside its bracket."""
    if not brackets:
        return []
    low = np.array([bracket.low for bracket in brackets])
    high = np.array([bracket.high for bracket in brackets])
    lengths = np.array([bracket.event.length_mm for bracket in brackets])
    columns = np.arange(len(brackets))
    travel = (low + high) / 2
    # The side of the bracket on which the unit is longer than the event's length.
    rising = np.array([b.event.longer == (b.direction == "bump") for b in brackets])
    for _ in range(4 * NEWTON_STEPS):
        at = solver.at(path, travel)
        length = np.array([at.units[b.law.name].length[k] for k, b in zip(columns, brackets, strict=True)])
        slope = -np.array([at.units[b.law.name].motion_ratio[k] for k, b in zip(columns, brackets, strict=True)])
        above = (length > lengths) == rising
        high, low = np.where(above, travel, high), np.where(above, low, travel)
        with np.errstate(all="ignore"):
            following = travel - (length - lengths) / slope
        outside = ~((following >= low) & (following <= high))
        following = np.where(outside, (low + high) / 2, following)
        moved = np.abs(following - travel).max()
        travel = following
        if moved < ROOT_MM:
            break
    return [
        Limit(bracket.direction, float(at_travel), bracket.event.kind, bracket.law.name)
        for bracket, at_travel in zip(brackets, travel, strict=True)
    ]


def _reach_limits(solver: StationSolver, path: Path) -> list[Limit]:
    found = []
    for direction, reach, beyond in (("bump", path.above, 1.0), ("droop", path.below, -1.0)):
        if reach is not None:
            shortfall = solver.linkage.shortfall_beyond(reach, reach.travel + beyond)
            found.append(Limit(direction, reach.travel, "linkage_reach", None, shortfall.body))
    return found
