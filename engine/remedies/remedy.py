"""The smallest change that clears a finding, found by solving again with it applied.

Cleared  judged anew, nothing of the same kind is left about the same subject, and no fault has come in its place.
"""

import math

import numpy as np

from engine.document.check import station_faults
from engine.document.schema import Station
from engine.errors import EngineError
from engine.findings.finding import Finding, Rules
from engine.findings.judge import judge
from engine.remedies.direct import direct_remedy
from engine.remedies.knob import Knob, Remedy, Values, both_sides, unit_number
from engine.remedies.knobs import knobs_for
from engine.station.solved import SolvedStation, solve_again
from engine.workup import WorkUp

TRIES = 14
MOST_TRIALS = 60  # for one finding, over all its knobs
FAMILIES = (
    {"damper_extended", "damper_extended_left"},
    {"damper_compressed", "damper_compressed_left"},
    {"coil_solid", "coil_left"},
    {"coil_loose", "coil_seat"},
    {"strap_before_damper", "strap_never_taut"},
    {"bump_stop_before_damper", "bump_stop_never_touched"},
)
ROOM_CODES = {"tyre_to_structure", "tyre_to_spring", "parts_to_one_another", "bag_to_anything"}


def remedy_for(
    station: Station, solved: SolvedStation, findings: tuple[Finding, ...], finding: Finding, rules: Rules
) -> Remedy | None:
    """Return the smallest change that clears a finding, or None where no one number does."""
    if finding.mark == "good":
        return None
    values = {"units": []} | station.model_dump(mode="json", exclude_unset=True)
    number = unit_number(values, finding.subject)
    pair = set() if number is None else {values["units"][k]["name"] for k in both_sides(values, number)}
    bench = _Bench(solved, findings, finding, rules, pair | {finding.subject})
    direct = direct_remedy(finding, values, solved)
    if direct is not None and bench.cleared(direct.values):
        return direct
    for knob in knobs_for(finding, values, solved):
        size = bench.smallest(values, knob)
        if size is not None:
            return Remedy(knob.say(size), knob.turn(values, size))
    return None


class _Bench:
    """Tries changes on a station until a finding is gone."""

    def __init__(
        self,
        solved: SolvedStation,
        findings: tuple[Finding, ...],
        finding: Finding,
        rules: Rules,
        subjects: set[str | None],
    ) -> None:
        self.solved = solved
        self.left = MOST_TRIALS
        self.subjects = subjects
        self.finding, self.rules = finding, rules
        self.codes = next((family for family in FAMILIES if finding.code in family), {finding.code})
        self.faults = {_key(f) for f in findings if f.mark == "fault"}
        self.rooms = finding.code in ROOM_CODES or finding.code.startswith("first_in")

    def judged(self, values: Values) -> tuple[Finding, ...] | None:
        """Return the findings with a change made, or None where it cannot be put together or was tried enough."""
        if self.left == 0:
            return None
        self.left -= 1
        try:
            station = Station.model_validate(values)
            if station_faults(station, ""):
                return None
            solved = solve_again(self.solved, station)
            return judge(solved, self.rules, WorkUp(solved, self.rooms))
        except (EngineError, ValueError, np.linalg.LinAlgError):
            return None

    def cleared(self, values: Values) -> bool:
        """Return whether a change clears the finding and brings no new fault."""
        found = self.judged(values)
        return found is not None and self._clear(found)

    def _clear(self, found: tuple[Finding, ...]) -> bool:
        worse = [f for f in found if f.mark != "good"]
        same = any(f.code in self.codes and self._same(f) for f in worse)
        new = {_key(f) for f in worse if f.mark == "fault"} - self.faults
        if self.finding.code in ("no_equilibrium", "rate_in_other_unit"):
            new = set()  # what could not be judged before is judged now
        return not same and not new

    def _same(self, finding: Finding) -> bool:
        return finding.subject in self.subjects or self.finding.code.startswith("first_in")

    def smallest(self, values: Values, knob: Knob) -> float | None:
        """Return the least turn of a knob that clears, to its own fineness, or None."""
        best = None
        for way in knob.ways:
            found = self._one_way(values, knob, way, None if best is None else abs(best))
            if found is not None and (best is None or abs(found) < abs(best)):
                best = found
        return best

    def _one_way(self, values: Values, knob: Knob, way: int, within: float | None) -> float | None:
        most = knob.most if within is None else min(knob.most, within)
        guess = self._guess(values, knob, way, most)
        if guess is None:
            return None
        bad, good, size = 0.0, None, _rounded_up(guess, knob.fine)
        for _ in range(TRIES):
            size = min(size, most)
            if self.cleared(knob.turn(values, way * size)):
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
            if self.cleared(knob.turn(values, way * below)):
                good = below
            else:
                bad = below
        while good - bad > knob.fine * 1.01:
            middle = bad + round((good - bad) / 2 / knob.fine) * knob.fine
            if self.cleared(knob.turn(values, way * middle)):
                good = middle
            else:
                bad = middle
        return way * good

    def _guess(self, values: Values, knob: Knob, way: int, most: float) -> float | None:
        """Return a first size: by the finding's own number and how a small turn moves it, else a small one.

        None where turning this way only makes it worse.
        """
        value, limit = self.finding.value, self.finding.limit
        step = min(knob.step, most)
        found = self.judged(knob.turn(values, way * step))
        if value is None or limit is None or found is None:
            return step
        now = next(
            (f.value for f in found if f.code in self.codes and self._same(f) and f.value is not None), None
        )
        if now is None:
            return step
        moved = now - value
        if abs(moved) < 1e-9 or moved * (limit - value) < 0:
            return None
        return float(np.clip((limit - value) / moved * step, knob.fine, most))


def _rounded_up(size: float, fine: float) -> float:
    return math.ceil(size / fine - 1e-6) * fine


def _key(finding: Finding) -> tuple[str, str | None]:
    return finding.code, finding.subject
