"""Dampers that suit a linkage, and the ratio that a damper wants: by the stroke that the travel asks for.

Asks    what the unit shortens by over the wanted travel, mm, and its length at full droop and full bump.
Fits    stroke enough with something left at both ends, and lengths that the mounts as drawn can take.
Moved   how far the chassis end would have to be moved along the unit's own line for it to fit, mm outward.
Wants   the ratio at which its whole stroke but what must be left is used: (stroke − 2·left) / travel.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.facts import facts
from engine.findings.finding import Rules
from engine.forces.units import adapter_mm
from engine.station.solved import SolvedStation


@facts(kw_only=False)
class ShelfDamper:
    """A damper that is there to be fitted: mm eye to eye."""

    name: str
    extended: float
    compressed: float


@facts
class Suits:
    """One damper in one place of a station.

    left_in_bump, left_in_droop : mm with the mounts as drawn; moved mm outward that shares what is left
    left  : mm at either end once it is moved; negative where it is too short for the travel
    fits  : with the mounts as drawn; can once the chassis end is moved
    wants : damper per wheel that would use it up; ratio what it has now, the mean over the travel
    """

    name: str
    unit: str
    stroke: float
    left_in_bump: float
    left_in_droop: float
    moved: float
    left: float
    fits: bool
    can: bool
    wants: float
    ratio: float
    now: bool


def dampers_that_suit(
    solved: SolvedStation, rules: Rules, shelf: tuple[ShelfDamper, ...]
) -> tuple[Suits, ...]:
    """Return every damper of a shelf, and those fitted, in the place of each damper of a station; best first."""
    travel = solved.station.travel
    whole = travel.bump + travel.droop
    found = []
    for unit in solved.station.units:
        if not isinstance(unit, Coilover | Damper) or not solved.reached.any() or whole <= 0:
            continue
        lengths = solved.taken.units[unit.name].length - adapter_mm(unit)
        longest, shortest = float(lengths.max()), float(lengths.min())
        fitted = ShelfDamper(unit.name, unit.extended, unit.compressed)
        found += [
            _suits(one, unit.name, longest, shortest, whole, rules.damper_left_mm, one is fitted)
            for one in (fitted, *shelf)
        ]
    return tuple(
        sorted(found, key=lambda one: (one.unit, not one.now, not one.fits, not one.can, abs(one.moved)))
    )


def _suits(
    one: ShelfDamper, unit: str, longest: float, shortest: float, travel: float, least: float, now: bool
) -> Suits:
    bump, droop = shortest - one.compressed, one.extended - longest
    stroke, used = one.extended - one.compressed, longest - shortest
    moved = (droop - bump) / 2
    left = (stroke - used) / 2
    return Suits(
        name=one.name,
        unit=unit,
        stroke=stroke,
        left_in_bump=bump,
        left_in_droop=droop,
        moved=moved,
        left=left,
        fits=bool(min(bump, droop) >= least),
        can=bool(left >= least),
        wants=max(stroke - 2 * least, 0.0) / travel,
        ratio=used / travel,
        now=now,
    )


@facts(kw_only=False)
class SameAllRound:
    """One damper at every end: the ratio that each station would want for it, and what it has; by station name."""

    name: str
    wants: dict[str, float]
    has: dict[str, float]


def same_all_round(
    solved: list[SolvedStation], rules: Rules, shelf: tuple[ShelfDamper, ...]
) -> tuple[SameAllRound, ...]:
    """Return each damper with the ratio that every station would want to use it up."""
    found = []
    for one in shelf:
        wants, has = {}, {}
        for station in solved:
            mine = [s for s in dampers_that_suit(station, rules, (one,)) if not s.now]
            if mine:
                wants[station.station.name] = float(np.mean([s.wants for s in mine]))
                has[station.station.name] = float(np.mean([s.ratio for s in mine]))
        if wants:
            found.append(SameAllRound(one.name, wants, has))
    return tuple(found)
