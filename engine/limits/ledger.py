"""Everything that happens on the way up and on the way down, in order, with what is left to the wanted end.

Margin  mm of wheel travel from the wanted end to the event; negative is inside the wanted travel.
"""

from collections.abc import Callable, Collection

import numpy as np

from engine.conventions import TOLERANCES
from engine.document.schema import Shaft, Strap
from engine.facts import facts
from engine.forces.units import Event
from engine.limits.clearance import Touch
from engine.limits.events import EVENTS, EventKind
from engine.limits.joints import Bearing, bearings_of, bend_deg, lean_deg, shaft_length_mm
from engine.linkage.linkage import Linkage
from engine.linkage.roots import first_over
from engine.linkage.vectors import Array
from engine.station.ends import event_limits
from engine.station.solved import SolvedStation

Over = Callable[[Array], Array]
"""Places (3, n, positions) in mm to by how much something is over its limit there, (positions,)."""


@facts
class LedgerEvent:
    """One event: mm of travel, its kind, what it belongs to, and mm left from the wanted end to it."""

    travel: float
    kind: EventKind
    subjects: tuple[str, ...]
    margin: float


@facts(kw_only=False)
class Ledger:
    """Events each way, first met first."""

    bump: tuple[LedgerEvent, ...]
    droop: tuple[LedgerEvent, ...]

    def on(self, direction: str) -> tuple[LedgerEvent, ...]:
        """Return the events of one way."""
        return self.bump if direction == "bump" else self.droop

    def first(self, direction: str, codes: Collection[str]) -> LedgerEvent | None:
        """Return the first event of some kinds on the way."""
        return next((event for event in self.on(direction) if event.kind.code in codes), None)


def ledger_of(solved: SolvedStation, touched: tuple[Touch, ...] = ()) -> Ledger:
    """Return every event of the searched travel; joints and shafts within the wanted travel; and what touches."""
    travel = solved.station.travel
    found: dict[str, list[LedgerEvent]] = {"bump": [], "droop": []}

    def note(direction: str, at: float, code: str, subjects: tuple[str, ...]) -> None:
        margin = at - travel.bump if direction == "bump" else -travel.droop - at
        event = LedgerEvent(travel=at, kind=EVENTS[code], subjects=subjects, margin=margin)
        found[direction].append(event)

    for limit in solved.limits:
        subject = limit.unit or limit.body
        note(limit.direction, limit.travel, limit.kind, () if subject is None else (subject,))
    for unit in solved.station.units:
        if isinstance(unit, Strap) and unit.stretch > 0:
            end = Event("strap_end", unit.length * (1 + unit.stretch), longer=True)
            for limit in event_limits(solved.mover, solved.springing.law(unit.name), end):
                note(limit.direction, limit.travel, "strap_end", (unit.name,))
    for direction, at, code, subjects in _bindings(solved):
        note(direction, at, code, subjects)
    for touch in touched:
        note(touch.direction, touch.travel, "metal_contact", (touch.one, touch.other))
    return Ledger(
        tuple(sorted(found["bump"], key=lambda event: round(event.travel, TOLERANCES.alike_digits))),
        tuple(sorted(found["droop"], key=lambda event: -round(event.travel, TOLERANCES.alike_digits))),
    )


def _bindings(solved: SolvedStation) -> list[tuple[str, float, str, tuple[str, ...]]]:
    """Return where joints, eyes and shafts bind in level heave: direction, travel, kind, subjects."""
    linkage, station = solved.linkage, solved.station
    found = []
    for bearing in bearings_of(linkage):
        if bearing.rated is not None:
            rated = bearing.rated

            def leans(place: Array, bearing: Bearing = bearing, rated: float = rated) -> Array:
                return lean_deg(linkage, bearing, place) - rated

            found += [(way, at, "joint_bind", bearing.subjects) for way, at in _first(solved, leans)]
    for shaft in station.shafts:
        for code, over in _shaft_ends(linkage, shaft):
            found += [(way, at, code, (shaft.name,)) for way, at in _first(solved, over)]
    return found


def _shaft_ends(linkage: Linkage, shaft: Shaft) -> list[tuple[str, Over]]:
    """Return what ends a shaft's movement: its kind, and by how much it is over at places (3, n, positions)."""
    ends: list[tuple[str, Over]] = [
        ("shaft_bind", lambda place: np.max(bend_deg(linkage, shaft, place), axis=0) - shaft.rated)
    ]
    if shaft.length is not None:
        least, most = shaft.length.least, shaft.length.most
        ends.append(("shaft_short", lambda place: least - shaft_length_mm(linkage, shaft, place)))
        ends.append(("shaft_long", lambda place: shaft_length_mm(linkage, shaft, place) - most))
    return ends


def _first(solved: SolvedStation, over: Over) -> list[tuple[str, float]]:
    """Return where something is first over in level heave, each way, exactly."""
    rows = solved.taken

    def value(travel: float) -> float:
        return float(over(solved.at(np.array([travel])).solution.motion.place)[0])

    return first_over(rows.travels, over(rows.solution.motion.place), value)
