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
from engine.linkage.roots import hermite_root
from engine.linkage.vectors import Array

if TYPE_CHECKING:
    from engine.station import Rows, StationSolver

NEWTON_STEPS = 30
ROOT_MM = 1e-6  # 0.01 mm is asked


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
    """A row and the next one up, between which a unit passes an event's length."""

    law: UnitLaw
    event: Event
    direction: str
    row: int


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
    limits += _roots(solver, path, rows, brackets)
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
                found.append(_Bracket(law, event, direction, min(row, row - step)))
                break
    return found


def _roots(solver: StationSolver, path: Path, rows: Rows, brackets: list[_Bracket]) -> list[Limit]:
    """Close all brackets at once with Newton on the exact linkage, each kept inside its bracket."""
    if not brackets:
        return []
    names = [bracket.law.name for bracket in brackets]
    first = np.array([bracket.row for bracket in brackets])
    low, high = rows.travels[first], rows.travels[first + 1]
    wanted = np.array([bracket.event.length_mm for bracket in brackets])
    gaps, slopes = (np.stack(pair, axis=1) for pair in _ends(rows, names, first, wanted))
    travel = hermite_root(low, high, gaps, slopes)
    rising = gaps[1] > gaps[0]
    for _ in range(NEWTON_STEPS):
        at = solver.at(path, travel)
        gap = np.array([at.units[name].length[k] for k, name in enumerate(names)]) - wanted
        slope = -np.array([at.units[name].motion_ratio[k] for k, name in enumerate(names)])
        past = (gap > 0) == rising
        high, low = np.where(past, travel, high), np.where(past, low, travel)
        with np.errstate(all="ignore"):
            following = travel - gap / slope
        inside = (following >= low) & (following <= high)
        following = np.where(inside, following, (low + high) / 2)
        moved = np.abs(following - travel).max()
        travel = following
        if moved < ROOT_MM:
            break
    return [
        Limit(bracket.direction, float(at_travel), bracket.event.kind, bracket.law.name)
        for bracket, at_travel in zip(brackets, travel, strict=True)
    ]


def _ends(rows: Rows, names: list[str], first: np.ndarray, wanted: Array) -> tuple[list[Array], list[Array]]:
    """Return gaps and slopes of each bracket's unit at its two rows."""
    gaps, slopes = [], []
    for name, row, length in zip(names, first, wanted, strict=True):
        unit, pair = rows.units[name], slice(row, row + 2)
        gaps.append(unit.length[pair] - length)
        slopes.append(-unit.motion_ratio[pair])
    return gaps, slopes


def _reach_limits(solver: StationSolver, path: Path) -> list[Limit]:
    found = []
    for direction, reach, beyond in (("bump", path.above, 1.0), ("droop", path.below, -1.0)):
        if reach is not None:
            shortfall = solver.linkage.shortfall_beyond(reach, reach.travel + beyond)
            found.append(Limit(direction, reach.travel, "linkage_reach", None, shortfall.body))
    return found
