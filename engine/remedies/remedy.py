"""The smallest change that clears a finding, found by solving again with it applied.

Cleared   judged anew, nothing of the same family is left about the same subjects, and no fault has come in its place:
          not in the station, not in its clearances, not beside its other side.
Beside    what else it does: how far it then stands elsewhere, which warnings come and which go with it. Of several
          changes that clear, one that raises nothing comes first.
Budget    how many trials, and how many seconds, one finding may use; at its end there is only the advice in words.
"""

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from engine.budget import Budget
from engine.document.check import station_faults
from engine.document.schema import Station
from engine.errors import EngineError
from engine.findings.finding import Finding, Rules
from engine.findings.judge import judge
from engine.findings.kinds import KINDS
from engine.remedies.knob import Knob, Remedy, both_sides, unit_of
from engine.remedies.makers import direct_remedy, knobs_for
from engine.sentences import Sentence, length
from engine.station.solved import SolvedStation, solve_again
from engine.workup import WorkUp

TRIES = 14
MOST_TRIALS = 60  # for one finding, over all its knobs
MOST_SECONDS = 8.0
MOVED_MM = 2.0  # ride height that moves by more is said beforehand

Beside = Callable[[WorkUp], list[Finding]]
"""A station's answers to what there is to say of it beside its other side."""


def remedy_for(
    solved: SolvedStation,
    findings: tuple[Finding, ...],
    finding: Finding,
    rules: Rules,
    beside: Beside | None = None,
    budget: Budget | None = None,
) -> Remedy | None:
    """Return the smallest change that clears a finding, or None where no one number does.

    findings : all that was found, clearances and the other side among them
    beside   : what to say of the changed station beside its other side; None where there is none
    budget   : what may be spent on it; at its end only what was found so far is known
    """
    if finding.mark == "good":
        return None
    trials = _Trials(solved, findings, finding, rules, beside, budget or Budget(MOST_SECONDS))
    direct = direct_remedy(finding, solved)
    second = None
    if direct is not None:
        found = trials.whole(direct)
        if found is not None and not found.raises:
            return found
        second = found
    for knob in knobs_for(finding, solved):
        size = trials.smallest(knob)
        if size is None:
            continue
        found = trials.whole(Remedy(what=knob.say(size), station=knob.turn(solved.station, size)))
        if found is not None and not found.raises:
            return found
        second = second or found
    return second


class _Trials:
    """Tries changes on a station until a finding is gone."""

    def __init__(
        self,
        solved: SolvedStation,
        findings: tuple[Finding, ...],
        finding: Finding,
        rules: Rules,
        beside: Beside | None,
        budget: Budget,
    ) -> None:
        self.solved, self.finding, self.rules, self.beside = solved, finding, rules, beside
        self.left, self.budget = MOST_TRIALS, budget
        self.before = findings
        subjects = set(finding.subjects)
        for name in finding.subjects:
            if unit_of(solved.station, name) is not None:
                subjects |= set(both_sides(solved.station, name))
        self.subjects = subjects
        self.faults = {_key(f) for f in findings if f.mark == "fault"}
        self.rooms = finding.kind.rooms

    def judged(self, station: Station, rooms: bool) -> tuple[SolvedStation, tuple[Finding, ...]] | None:
        """Return a changed station solved and judged, or None where it cannot be put together or was tried enough."""
        if self.left == 0 or self.budget.spent:
            return None
        self.left -= 1
        try:
            checked = Station.model_validate(station.model_dump(exclude_unset=True))
            if station_faults(checked, ""):
                return None
            solved = solve_again(self.solved, checked)
            work = WorkUp(solved, rooms)
            found = judge(solved, self.rules, work)
            return solved, (*found, *(self.beside(work) if rooms and self.beside is not None else ()))
        except (EngineError, ValueError, np.linalg.LinAlgError):
            return None

    def whole(self, remedy: Remedy) -> Remedy | None:
        """Return a change with all that it does, or None where it does not clear or brings a new fault."""
        self.left = max(self.left, 1)
        found = self.judged(remedy.station, rooms=True)
        if found is None or not self._clear(found[1]):
            return None
        solved, findings = found
        was = {_key(f) for f in self.before if f.mark != "good"}
        now = {_key(f) for f in findings if f.mark != "good"}
        told = replace(
            remedy,
            station=solved.station,
            raises=tuple(sorted({code for code, _ in now - was})),
            clears=tuple(sorted({code for code, _ in was - now} - {self.finding.code})),
        )
        if self.solved.ride is None or solved.ride is None:
            return told
        higher = (
            self.solved.ride.travel - solved.ride.travel
        )  # the body rises where the wheel stands further down
        return replace(told, ride_by=higher, what=_and_stands(told.what, higher))

    def cleared(self, station: Station) -> bool:
        """Return whether a change clears the finding and brings no new fault, clearances apart where they are not asked."""
        found = self.judged(station, self.rooms)
        return found is not None and self._clear(found[1])

    def _clear(self, found: tuple[Finding, ...]) -> bool:
        worse = [f for f in found if f.mark != "good"]
        same = any(self._is_it(f) for f in worse)
        new = {_key(f) for f in worse if f.mark == "fault"} - self.faults
        if self.finding.kind.opens:
            new = {key for key in new if KINDS[key[0]].rooms}  # the rest could not be judged before
        return not same and not new

    def _is_it(self, finding: Finding) -> bool:
        if finding.kind.family != self.finding.kind.family:
            return False
        return finding.kind.leads or not self.subjects or bool(self.subjects & set(finding.subjects))

    def smallest(self, knob: Knob) -> float | None:
        """Return the least turn of a knob that clears, to its own fineness, or None."""
        best = None
        for way in knob.ways:
            found = self._one_way(knob, way, None if best is None else abs(best))
            if found is not None and (best is None or abs(found) < abs(best)):
                best = found
        return best

    def _one_way(self, knob: Knob, way: int, within: float | None) -> float | None:
        most = knob.most if within is None else min(knob.most, within)
        station = self.solved.station
        guess = self._guess(knob, way, most)
        if guess is None:
            return None
        bad, good, size = 0.0, None, _rounded_up(guess, knob.fine)
        for _ in range(TRIES):
            size = min(size, most)
            if self.cleared(knob.turn(station, way * size)):
                good = size
                break
            if size >= most:
                return None
            bad, size = size, _rounded_up(size * 1.5, knob.fine)
        if good is None:
            return None
        if good - bad > knob.fine * 1.01:
            # Mostly the guess is right: then the next finer step does not clear.
            below = good - knob.fine
            if self.cleared(knob.turn(station, way * below)):
                good = below
            else:
                bad = below
        while good - bad > knob.fine * 1.01:
            middle = bad + round((good - bad) / 2 / knob.fine) * knob.fine
            if self.cleared(knob.turn(station, way * middle)):
                good = middle
            else:
                bad = middle
        return way * good

    def _guess(self, knob: Knob, way: int, most: float) -> float | None:
        """Return a first size: by the finding's own number and how a small turn moves it, else a small one.

        None where turning this way only makes it worse.
        """
        value, limit = self.finding.value, self.finding.limit
        step = min(knob.step, most)
        found = self.judged(knob.turn(self.solved.station, way * step), self.rooms)
        if value is None or limit is None or found is None:
            return step
        now = next((f.value for f in found[1] if self._is_it(f) and f.value is not None), None)
        if now is None:
            return step
        moved = now - value
        if abs(moved) < 1e-9 or moved * (limit - value) < 0:
            return None
        return float(np.clip((limit - value) / moved * step, knob.fine, most))


def _and_stands(what: Sentence, higher: float) -> Sentence:
    """Return what a change is, and how far it moves the ride height where that is more than a little."""
    if abs(higher) < MOVED_MM or "stands where" in what.words:
        return what
    words = (
        what.words.removesuffix(".") + f"; it then stands {{stands}} {'higher' if higher > 0 else 'lower'}."
    )
    return Sentence(words, what.quantities | {"stands": length(abs(higher))}, what.names)


def _rounded_up(size: float, fine: float) -> float:
    return math.ceil(size / fine - 1e-6) * fine


def _key(finding: Finding) -> tuple[str, tuple[str, ...]]:
    return finding.code, finding.subjects
