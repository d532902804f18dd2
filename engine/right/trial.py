"""A station with some levers set: solved by the same solver, judged by the same judgements; nothing is tried twice.

Key      what a finding is about, whatever its mark: its family and its subjects.
Excess   how far a finding's number is beyond its limit, in steps that a bench would call something (`SCALES`);
         negative is what is left before it. Where a finding has no number it is one step.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from engine.document.check import station_faults
from engine.document.schema import Bar, BumpStop, Station, Strap
from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import Finding
from engine.findings.judge import judge
from engine.results.whole import WorkedStation, across
from engine.right.lever import Lever
from engine.station.solved import SolvedStation, solve_again
from engine.workup import WorkUp

Key = tuple[str, tuple[str, ...]]
Settings = tuple[tuple[int, int], ...]
"""Levers by number with the number of their setting, in the levers' order."""

SCALES = {
    "length": 5.0,
    "travel": 10.0,
    "angle": 3.0,
    "frequency": 0.1,
    "share": 0.05,
    "ratio": 0.1,
    "pressure": 0.5,
}
KNOWN_BY_MARK = 1.0  # the excess of a finding that has no number
UNSOLVED = (EngineError, ValueError, np.linalg.LinAlgError, StopIteration)
HIGHER: Key = ("held ride", ("higher",))
LOWER: Key = ("held ride", ("lower",))


@dataclass(frozen=True)
class Outcome:
    """What is found of a station with some levers set: the excess of each fault and each warning; ride mm of travel.

    good : the excess, negative, of what is well
    """

    faults: dict[Key, float]
    warnings: dict[Key, float]
    good: dict[Key, float]
    ride: float | None


WORSE = 100.0
BROKEN = Outcome({("cannot be put together", (str(k),)): WORSE for k in range(9)}, {}, {}, None)


@facts
class Trials:
    """Tries settings of levers and remembers what came of each, on one station or on two sides together.

    bases : the stations as they are; each the levers of every one of them, the same in the same order
    said  : of two sides, which one says what they differ in
    ride_within : mm that where the first stands may move; None where it may move as it likes
    there : how many of a part lie on the shelf yet, by its name; enough where it is not said
    """

    bases: tuple[WorkedStation, ...]
    each: tuple[Sequence[Lever], ...]
    said: tuple[bool, ...]
    kept: dict[Settings, Outcome]
    ride_within: float | None = None
    there: Mapping[str, int] = field(default_factory=dict)
    solved: int = 0

    @property
    def base(self) -> WorkedStation:
        """Return the first station as it is."""
        return self.bases[0]

    @property
    def levers(self) -> Sequence[Lever]:
        """Return the levers of the first, which are named as the other's."""
        return self.each[0]

    def station_with(self, settings: Settings) -> Station:
        """Return the first station with levers set, parts first, then places, then turns."""
        return with_settings(self.base.work.station, self.levers, settings)

    def outcome(self, settings: Settings) -> Outcome:
        """Return what is found with levers set; what the shelf has not often enough cannot be fitted."""
        if any(many > self.there.get(part, many) for part, many in self.taken(settings).items()):
            return BROKEN
        if settings not in self.kept:
            self.kept[settings] = self._judged(settings)
            object.__setattr__(self, "solved", self.solved + 1)
        return self.held(self.kept[settings])

    def taken(self, settings: Settings) -> Counter[str]:
        """Return how many of each part are taken off the shelf, by its name."""
        found: Counter[str] = Counter()
        for number, value in settings:
            lever = self.levers[number]
            if lever.key == "shelf":
                found[lever.values[value].name] += lever.sides
        return found

    def held(self, found: Outcome) -> Outcome:
        """Return an outcome with where it stands judged too, each way, where that is held."""
        before = self.base.work.solved.ride
        if self.ride_within is None or before is None:
            return found
        faults, good = dict(found.faults), dict(found.good)
        for key, way in ((HIGHER, 1), (LOWER, -1)):
            off = (
                WORSE
                if found.ride is None
                else (way * (found.ride - before.travel) - self.ride_within) / SCALES["length"]
            )
            (faults if off > 0 else good)[key] = off
        return Outcome(faults, found.warnings, good, found.ride)

    def _judged(self, settings: Settings) -> Outcome:
        if len(self.bases) == 1:
            found = judged(self.base, self.station_with(settings))
            return BROKEN if found is None else outcome_of(*found)
        works = [
            worked_again(base, with_settings(base.work.station, levers, settings))
            for base, levers in zip(self.bases, self.each, strict=True)
        ]
        if any(work is None for work in works):
            return BROKEN
        return self._both([work for work in works if work is not None])

    def _both(self, works: list[WorkUp]) -> Outcome:
        """Return what is found of two sides changed together, each beside the other."""
        found = []
        for side, (base, work) in enumerate(zip(self.bases, works, strict=True)):
            findings = judge(work.solved, base.rules, work)
            crossing = across(work, works[1 - side], base.rules, self.said[side])[0]
            found.append(outcome_of(work.solved, (*findings, *crossing), (str(side),)))
        first, second = found
        return Outcome(
            {**first.faults, **second.faults},
            {**first.warnings, **second.warnings},
            {**first.good, **second.good},
            first.ride,
        )


def with_settings(station: Station, levers: Sequence[Lever], settings: Settings) -> Station:
    """Return a station with levers set, parts first, then places, then turns."""
    for lever, value in sorted(settings, key=lambda one: levers[one[0]].order):
        station = levers[lever].change(station, levers[lever].values[value])
    return station


def worked_again(base: WorkedStation, station: Station) -> WorkUp | None:
    """Return a changed station worked up; None where it cannot be put together."""
    try:
        checked = Station.model_validate(station.model_dump(exclude_unset=True))
        if station_faults(checked, ""):
            return None
        work = WorkUp(solve_again(base.work.solved, checked))
        if checked.motion == base.work.station.motion:
            work.grid = base.work.grid  # nothing moves otherwise than it did
            if _takes_room(checked) == _takes_room(base.work.station):
                work.clearances = base.work.clearances
        return work
    except UNSOLVED:
        return None


def _takes_room(station: Station) -> tuple[Any, ...]:
    """Return what of a station decides which solids there are and how large; a coil's length goes with its preload."""
    units = [
        (unit, None)
        if getattr(unit, "coil_diameter", None)
        else (
            unit.name,
            tuple(unit.ends),
            getattr(unit, "body_diameter", None),
            getattr(unit, "max_diameter", None),
        )
        for unit in station.units
        if not isinstance(unit, BumpStop | Strap | Bar)
    ]
    return (station.envelopes, units, station.shafts, station.wheels)


def judged(base: WorkedStation, station: Station) -> tuple[SolvedStation, tuple[Finding, ...]] | None:
    """Return a changed station solved and judged beside its other side; None where it cannot be put together."""
    work = worked_again(base, station)
    try:
        return (
            None
            if work is None
            else (work.solved, (*judge(work.solved, base.rules, work), *base.beside(work)))
        )
    except UNSOLVED:
        return None


def outcome_of(solved: SolvedStation, findings: Sequence[Finding], of: tuple[str, ...] = ()) -> Outcome:
    """Return the excess of each finding by its mark; `of` is put before what it is about."""
    by_mark: dict[str, dict[Key, float]] = {"fault": {}, "warning": {}, "good": {}}
    for finding in findings:
        its = by_mark[finding.mark]
        key = (finding.kind.family, (*of, *finding.subjects))
        its[key] = max(its.get(key, -WORSE), excess(finding))
    return Outcome(
        by_mark["fault"],
        by_mark["warning"],
        by_mark["good"],
        None if solved.ride is None else solved.ride.travel,
    )


def excess(finding: Finding) -> float:
    """Return how far a finding's number is beyond its limit, in steps; negative where it is well."""
    if finding.value is None or finding.limit is None:
        return 0.0 if finding.mark == "good" else KNOWN_BY_MARK
    off = abs(finding.value - finding.limit)
    scale = SCALES.get(finding.measures or "", 0.1 * max(abs(finding.limit), 1e-3))
    return -off / scale if finding.mark == "good" else max(off / scale, 1e-6)
