"""What ends the travel, each way, in the order in which it is met.

Searched over the wanted travel and half as far again each way, up to the end of reach itself, starting from the
position nearest to the drawn one at which the unit is still free of the event.
"""

import numpy as np

from engine.conventions import TOLERANCES
from engine.facts import facts
from engine.forces.units import Event, UnitLaw
from engine.linkage.roots import hermite_root, newton_between
from engine.linkage.vectors import Array
from engine.station.rows import Mover


@facts
class Limit:
    """One event on one side: mm of wheel travel, kind, and the unit or body it belongs to."""

    direction: str
    travel: float
    kind: str
    unit: str | None
    body: str | None = None


@facts
class Crossing:
    """Where a unit comes to a length: the position below it on the path, and the way it is met from drawn."""

    law: UnitLaw
    event: Event
    direction: str
    row: int


def find_limits(mover: Mover) -> tuple[Limit, ...]:
    """Return every limit met in the searched travel, nearest to the drawn position first."""
    limits = list(_reach_limits(mover))
    rows, reached = mover.along, mover.path.reached
    crossings: list[Crossing] = []
    for law in mover.springing.laws:
        for event in law.events:
            past = _past(event, rows.length(law.name))
            crossings += _met(law, event, rows.travels, past, reached)
            if reached.any() and past[reached].all():
                limits.append(_everywhere(law, event, rows.travels[reached]))
    for crossing, travel in zip(crossings, travels_at(mover, crossings), strict=True):
        limits.append(
            Limit(
                direction=crossing.direction,
                travel=float(travel),
                kind=crossing.event.kind,
                unit=crossing.law.name,
            )
        )
    # Of two sides alike to rounding the one that the station names first comes first.
    return tuple(
        sorted(
            limits, key=lambda its: (round(abs(its.travel), TOLERANCES.alike_digits), its.direction, its.kind)
        )
    )


def event_limits(mover: Mover, law: UnitLaw, event: Event) -> tuple[Limit, ...]:
    """Return where one more event of a unit is met, each way; none where it never is or always was."""
    past = _past(event, mover.along.length(law.name))
    crossings = _met(law, event, mover.along.travels, past, mover.path.reached)
    return tuple(
        Limit(direction=c.direction, travel=float(at), kind=event.kind, unit=law.name)
        for c, at in zip(crossings, travels_at(mover, crossings), strict=True)
    )


def _past(event: Event, length: Array) -> np.ndarray:
    past: np.ndarray = length > event.length_mm if event.longer else length < event.length_mm
    return past


def _everywhere(law: UnitLaw, event: Event, travels: Array) -> Limit:
    """The unit is past the event at every position: it was met before the search began."""
    direction = "droop" if event.longer else "bump"
    travel = travels[-1] if event.longer else travels[0]
    return Limit(direction=direction, travel=float(travel), kind=event.kind, unit=law.name)


def _met(law: UnitLaw, event: Event, travels: Array, past: np.ndarray, reached: np.ndarray) -> list[Crossing]:
    """Return where an event is first met each way from the free position nearest to drawn."""
    free = np.flatnonzero(reached & ~past)
    if not len(free):
        return []
    start = int(free[np.abs(travels[free]).argmin()])
    found = []
    for direction, step in (("bump", 1), ("droop", -1)):
        rows = np.arange(start + step, len(travels) if step > 0 else -1, step)
        stops = np.flatnonzero(past[rows] | ~reached[rows])
        if len(stops) and reached[rows[stops[0]]]:
            row = int(rows[stops[0]])
            found.append(Crossing(law=law, event=event, direction=direction, row=min(row, row - step)))
    return found


def travels_at(mover: Mover, crossings: list[Crossing]) -> Array:
    """Return the exact travel of each crossing, (crossings,) mm; what was sought before is at hand."""
    known = mover.crossed
    keys = [(c.law.name, c.event.length_mm, c.event.longer, c.row) for c in crossings]
    new = {key: crossing for key, crossing in zip(keys, crossings, strict=True) if key not in known}
    if new:
        known.update(zip(new, _sought(mover, list(new.values())).tolist(), strict=True))
    return np.array([known[key] for key in keys])


def _sought(mover: Mover, crossings: list[Crossing]) -> Array:
    """Return the travel of each crossing: Newton on the linkage for all at once, kept in their brackets."""
    rows = mover.along
    units = np.array([mover.springing.number[crossing.law.name] for crossing in crossings])
    each = np.arange(len(crossings))
    first = np.array([crossing.row for crossing in crossings])
    low, high = rows.travels[first], rows.travels[first + 1]
    wanted = np.array([crossing.event.length_mm for crossing in crossings])
    sides = first + np.array([[0], [1]])
    gaps, slopes = rows.squeezes.length[units, sides] - wanted, -rows.squeezes.ratio[units, sides]

    def look(travel: Array) -> tuple[Array, Array]:
        at = mover.at(travel)
        return at.squeezes.length[units, each] - wanted, -at.squeezes.ratio[units, each]

    return newton_between(low, high, gaps[1] > gaps[0], hermite_root(low, high, gaps, slopes), look)


def _reach_limits(mover: Mover) -> list[Limit]:
    found = []
    path = mover.path
    for direction, reach, beyond in (("bump", path.above, 1.0), ("droop", path.below, -1.0)):
        if reach is not None:
            shortfall = mover.linkage.shortfall_beyond(reach, reach.travel + beyond)
            found.append(
                Limit(
                    direction=direction,
                    travel=reach.travel,
                    kind="linkage_reach",
                    unit=None,
                    body=shortfall.body,
                )
            )
    return found
