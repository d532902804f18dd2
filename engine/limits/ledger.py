"""Everything that happens on the way up and on the way down, in order, with what is left to the wanted end.

Stop    takes the wheel's movement up softly: a bump stop, a strap.
End     hard: nothing goes further without breaking: damper end, coil solid, no reach, a joint at its angle.
Margin  mm of wheel travel from the wanted end to the event; negative is inside the wanted travel.
"""

from dataclasses import dataclass

import numpy as np

from engine.document.schema import Strap
from engine.limits.clearance import Touch
from engine.limits.joints import angle_deg
from engine.linkage.grid import Grid
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array
from engine.station.solved import SolvedStation

STOPS = {"bump_stop_contact", "strap_taut"}
ENDS = {
    "bump": {
        "damper_compressed",
        "coil_solid",
        "bag_min_height",
        "linkage_reach",
        "bump_stop_solid",
        "metal_contact",
        "joint_bind",
        "shaft_bind",
        "shaft_short",
        "shaft_long",
    },
    "droop": {
        "damper_extended",
        "bag_max_height",
        "linkage_reach",
        "strap_end",
        "metal_contact",
        "joint_bind",
        "shaft_bind",
        "shaft_short",
        "shaft_long",
    },
}


@dataclass(frozen=True, kw_only=True)
class LedgerEvent:
    """One event: mm of travel, kind, what it belongs to, and mm left from the wanted end to it."""

    travel: float
    kind: str
    subject: str | None
    margin: float


@dataclass(frozen=True)
class Ledger:
    """Events each way, first met first."""

    bump: tuple[LedgerEvent, ...]
    droop: tuple[LedgerEvent, ...]

    def first(self, direction: str, kinds: set[str]) -> LedgerEvent | None:
        """Return the first event of some kinds on the way."""
        events = self.bump if direction == "bump" else self.droop
        return next((event for event in events if event.kind in kinds), None)


def ledger_of(solved: SolvedStation, grid: Grid | None, touched: tuple[Touch, ...] = ()) -> Ledger:
    """Return every event of the searched travel; joints and shafts in the wanted travel, where a grid is given; what touches."""
    travel = solved.station.travel
    found: dict[str, list[LedgerEvent]] = {"bump": [], "droop": []}

    def note(direction: str, at: float, kind: str, subject: str | None) -> None:
        margin = at - travel.bump if direction == "bump" else -travel.droop - at
        found[direction].append(LedgerEvent(travel=at, kind=kind, subject=subject, margin=margin))

    for limit in solved.limits:
        note(limit.direction, limit.travel, limit.kind, limit.unit or limit.body)
    for unit in solved.station.units:
        if isinstance(unit, Strap) and unit.stretch > 0:
            at = travel_at_length(solved, unit.name, unit.length * (1 + unit.stretch))
            if at is not None:
                note("droop", at, "strap_end", unit.name)
    for direction, at, kind, subject in _bindings(solved, grid) if grid is not None else []:
        note(direction, at, kind, subject)
    for touch in touched:
        note(touch.direction, touch.travel, "metal_contact", f"{touch.one} | {touch.other}")
    return Ledger(
        tuple(sorted(found["bump"], key=lambda event: event.travel)),
        tuple(sorted(found["droop"], key=lambda event: -event.travel)),
    )


def travel_at_length(solved: SolvedStation, unit: str, wanted_mm: float) -> float | None:
    """Return the travel nearest drawn at which a unit has a length; None if it never has within the search."""
    rows = solved.search
    gaps = rows.units[unit].length - wanted_mm
    pairs = (
        np.isfinite(gaps[:-1]) & np.isfinite(gaps[1:]) & (gaps[:-1] * gaps[1:] <= 0) & (gaps[:-1] != gaps[1:])
    )
    crossings = np.flatnonzero(pairs)
    if not len(crossings):
        return None
    k = int(crossings[np.abs(rows.travels[crossings]).argmin()])
    share = gaps[k] / (gaps[k] - gaps[k + 1])
    return float(rows.travels[k] + share * (rows.travels[k + 1] - rows.travels[k]))


def _bindings(solved: SolvedStation, grid: Grid) -> list[tuple[str, float, str, str]]:
    """Return where joints and shafts bind in level heave: direction, travel, kind, name."""
    level = np.flatnonzero(np.abs(grid.articulation) < 1e-9)
    if not len(level):
        return []
    heave, place = grid.heave[level], grid.place[:, :, level]
    found = []
    linkage = solved.linkage
    for joint in solved.station.joints:
        along = pose_of(linkage, joint.on, place).direction(np.array(joint.bolt))
        members = linkage.bodies.get(joint.rod) or list(
            next(u.ends for u in solved.station.units if u.name == joint.rod)
        )
        far = next(name for name in members if name != joint.point)
        rod = (place[:, linkage.index[far]] - place[:, linkage.index[joint.point]]).T
        found += _crossings(heave, np.abs(90 - angle_deg(along, rod)) - joint.rated, "joint_bind", joint.name)
    for shaft in solved.station.shafts:
        one, other = (place[:, linkage.index[end]].T for end in shaft.ends)
        for end, axis in zip(shaft.ends, shaft.axes, strict=True):
            along = pose_of(linkage, host_of(linkage, end), place).direction(np.array(axis))
            bend = angle_deg(along, other - one)
            found += _crossings(heave, np.minimum(bend, 180 - bend) - shaft.rated, "shaft_bind", shaft.name)
        if shaft.length is not None:
            lengths = np.linalg.norm(other - one, axis=1)
            found += _crossings(heave, shaft.length.least - lengths, "shaft_short", shaft.name)
            found += _crossings(heave, lengths - shaft.length.most, "shaft_long", shaft.name)
    return found


def _crossings(heave: Array, over: Array, kind: str, name: str) -> list[tuple[str, float, str, str]]:
    """Return where a value first goes over nothing, on each side of the drawn position."""
    middle = int(np.abs(heave).argmin())
    found = []
    for direction, rows in (("bump", range(middle, len(heave))), ("droop", range(middle, -1, -1))):
        before: int | None = None
        for row in rows:
            if over[row] > 0:
                at = float(heave[row])
                if before is not None:
                    share = over[before] / (over[before] - over[row])
                    at = float(heave[before] + share * (heave[row] - heave[before]))
                found.append((direction, at, kind, name))
                break
            before = row
    return found
