"""The smallest change that clears a finding, found by solving again with it applied.

Cleared  judged anew, nothing of the same kind is left about the same subject, and no fault has come in its place.
"""

import copy
import math
from dataclasses import dataclass

import numpy as np

from engine.document.schema import Station
from engine.errors import EngineError
from engine.findings.finding import Finding, Rules
from engine.findings.judge import judge
from engine.findings.knob import Knob, Values, both_sides, unit_number, with_value
from engine.findings.knobs import knobs_for
from engine.linkage.pose import host_of, pose_of
from engine.sentences import Quantity, Sentence, spoken
from engine.station import SolvedStation, solve_again
from engine.workup import WorkUp

TRIES = 14
MOST_TRIALS = 60  # for one finding, over all its knobs
SWING_SHARE = 0.01  # a swing of about half a degree tells no plane
FAMILIES = (
    {"damper_extended", "damper_extended_left"},
    {"damper_compressed", "damper_compressed_left"},
    {"coil_solid", "coil_left"},
    {"coil_loose", "coil_seat"},
    {"strap_before_damper", "strap_never_taut"},
    {"bump_stop_before_damper", "bump_stop_never_touched"},
)
STRAP_STRETCH, STRAP_SPARE_MM = 0.03, 6.0
STOP_SPARE_MM = 6.0
ROOM_CODES = {"tyre_to_structure", "tyre_to_spring", "parts_to_one_another", "bag_to_anything"}


@dataclass(frozen=True)
class Remedy:
    """A change that was tried and clears: what to say, and the station's values with it made."""

    what: Sentence
    values: Values


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
    direct = _direct(finding, values, solved)
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
            solved = solve_again(self.solved, Station.model_validate(values))
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


def _direct(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """Return a change that can be worked out in one go."""
    match finding.code:
        case "same_hand_threads":
            changed = with_value(values, ("rods", finding.subject or "", "hands"), ["right", "left"])
            words = f"Make one end of the {spoken(finding.subject or '')} left-hand."
            return Remedy(Sentence(words), changed)
        case "bag_plates_at_ride" | "bag_plates_in_travel":
            return _wedge(finding, values, solved)
        case "eye_square":
            return _turn_tab(finding, values, solved)
        case "rate_in_other_unit":
            return _other_unit(finding, values)
        case "first_in_droop":
            return _fit_strap(finding, values, solved)
        case "strap_pull":
            return _strap_in_line(finding, values, solved)
        case "first_in_bump":
            return _fit_stop(finding, values, solved)
        case "bag_filling":
            needed = solved.pressure_wanted_bar
            if needed is None:
                return None
            changed = values
            for number, unit in enumerate(values["units"]):
                if unit["kind"] == "air_spring":
                    changed = with_value(changed, ("units", number, "pressure"), round(needed, 4))
            return Remedy(Sentence("Set {needed}.", {"needed": Quantity(needed, "pressure")}), changed)
    return None


def _wedge(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """Turn the second plate so that both are parallel at ride height."""
    number = next((k for k, unit in enumerate(values["units"]) if unit["name"] == finding.subject), None)
    if number is None or solved.at_ride is None:
        return None
    unit = values["units"][number]
    place = solved.at_ride.solution.motion.place
    first, second = (pose_of(solved.linkage, host_of(solved.linkage, end), place) for end in unit["ends"])
    wanted = first.direction(np.array(unit["plates"]["first"], dtype=float))[0]
    drawn = second.turn[0].T @ wanted
    before = np.array(unit["plates"]["second"], dtype=float)
    if float(drawn @ before) < 0:
        drawn = -drawn
    share = float(drawn @ before / np.linalg.norm(before) / np.linalg.norm(drawn))
    angle = math.degrees(math.acos(min(share, 1.0)))
    changed = with_value(values, ("units", number, "plates", "second"), [round(float(c), 8) for c in drawn])
    words = f"Wedge the cup at {spoken(unit['ends'][1])} by {{angle}}."
    return Remedy(Sentence(words, {"angle": Quantity(angle, "angle")}), changed)


def _turn_tab(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """Turn an eye's bolt square to the plane in which its unit swings, as that plane is seen from its host."""
    name, end = (finding.subject or " | ").split(" | ")
    number = next((k for k, unit in enumerate(values["units"]) if unit["name"] == name), None)
    if number is None:
        return None
    unit = values["units"][number]
    which = next(k for k, eye in enumerate(unit["eyes"]) if eye["end"] == end)
    linkage, place = solved.linkage, WorkUp(solved).grid.place
    far = next(other for other in unit["ends"] if other != end)
    host = pose_of(linkage, host_of(linkage, end), place)
    line = (place[:, linkage.index[far]] - place[:, linkage.index[end]]).T
    seen = np.einsum("nji,nj->ni", host.turn, line / np.linalg.norm(line, axis=1, keepdims=True))
    bolt = np.linalg.svd(seen)[2][2]
    before = np.array(unit["eyes"][which]["bolt"], dtype=float)
    before = before / np.linalg.norm(before)
    # A unit that hardly swings leaves the bolt free about it: stay as near to the old one as square allows.
    middle = seen.mean(axis=0) / np.linalg.norm(seen.mean(axis=0))
    nearest = before - middle * float(before @ middle)
    spread = np.linalg.svd(seen, compute_uv=False)[1]
    if spread < SWING_SHARE * len(seen) ** 0.5 and np.linalg.norm(nearest) > 0.1:
        bolt = nearest / np.linalg.norm(nearest)
    if float(bolt @ before) < 0:
        bolt = -bolt
    angle = math.degrees(math.acos(min(float(bolt @ before), 1.0)))
    changed = with_value(values, ("units", number, "eyes", which, "bolt"), [round(float(c), 8) for c in bolt])
    words = f"Turn the tab at {spoken(end)} by {{angle}}, its bolt square to the swing."
    return Remedy(Sentence(words, {"angle": Quantity(angle, "angle")}), changed)


def _other_unit(finding: Finding, values: Values) -> Remedy | None:
    """Read the rates of a unit, and of its other side, in the unit that was meant."""
    number = unit_number(values, finding.subject)
    if number is None or not finding.value or finding.limit is None or finding.remedy is None:
        return None
    factor, changed = finding.limit / finding.value, values
    for k in both_sides(values, number):
        for n, spring in enumerate(values["units"][k]["springs"]):
            if spring.get("rate") is not None:
                changed = with_value(
                    changed, ("units", k, "springs", n, "rate"), round(spring["rate"] * factor, 3)
                )
    return Remedy(finding.remedy, changed)


def _damper_numbers(finding: Finding, values: Values, kind: str) -> list[int]:
    """Return the dampers beside which a stop of a kind may be fitted: none if there is one already."""
    if any(unit["kind"] == kind for unit in values["units"]):
        return []
    dampers = [k for k, unit in enumerate(values["units"]) if unit["kind"] in ("coilover", "damper")]
    named = unit_number(values, finding.subject)
    first = named if named in dampers else dampers[0] if dampers else None
    return [] if first is None else both_sides(values, first)


def _fit(values: Values, made: list[Values]) -> Values:
    changed = copy.deepcopy(values)
    for number, unit in enumerate(made):
        unit["name"] += "" if len(made) == 1 else f" {number + 1}"
    changed["units"] += made
    return changed


def _fit_strap(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """A strap beside each damper, that has given all its stretch at full droop, before the damper tops out."""
    numbers = _damper_numbers(finding, values, "strap")
    if not numbers or not solved.reached.any():
        return None
    made, long = [], 0.0
    for number in numbers:
        unit = values["units"][number]
        topped = unit["extended"] + sum(unit.get("adapter", {}).values())
        lengths = solved.sweep.units[unit["name"]].length[solved.reached]
        end = min(float(lengths.max()), topped - STRAP_SPARE_MM)
        long = math.floor(end / (1 + STRAP_STRETCH) * 2) / 2
        made.append(
            {
                "name": "strap",
                "kind": "strap",
                "ends": list(unit["ends"]),
                "length": long,
                "stretch": STRAP_STRETCH,
            }
        )
    words = f"Fit a strap of {{long}} between the mounts of the {spoken(values['units'][numbers[0]]['name'])}"
    words += ", and on the other side." if len(numbers) > 1 else "."
    return Remedy(Sentence(words, {"long": Quantity(long, "length")}), _fit(values, made))


def _strap_in_line(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """The strap between the mounts of the damper it saves, taut after its stretch just before that tops out."""
    number = unit_number(values, finding.subject)
    dampers = [k for k, unit in enumerate(values["units"]) if unit["kind"] in ("coilover", "damper")]
    if number is None or not dampers or not solved.reached.any():
        return None
    strap = values["units"][number]
    damper = values["units"][_nearest_damper(values, strap, dampers)]
    topped = damper["extended"] + sum(damper.get("adapter", {}).values())
    longest = float(solved.sweep.units[damper["name"]].length[solved.reached].max())
    end = min(longest, topped - STRAP_SPARE_MM)
    long = math.floor(end / (1 + strap.get("stretch", 0.0)) * 2) / 2
    changed = with_value(values, ("units", number, "ends"), list(damper["ends"]))
    changed = with_value(changed, ("units", number, "length"), long)
    words = (
        f"Bolt the {spoken(strap['name'])} between the mounts of the {spoken(damper['name'])}, {{long}} long."
    )
    return Remedy(Sentence(words, {"long": Quantity(long, "length")}), changed)


def _nearest_damper(values: Values, strap: Values, dampers: list[int]) -> int:
    def middle(unit: Values) -> np.ndarray:
        places = np.array([values["points"][end] for end in unit["ends"]], dtype=float)
        between: np.ndarray = places.mean(axis=0)
        return between

    return min(dampers, key=lambda k: float(np.linalg.norm(middle(values["units"][k]) - middle(strap))))


def _fit_stop(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """A bump stop on each damper, flat before the damper bottoms and touching before full bump."""
    numbers = _damper_numbers(finding, values, "bump_stop")
    if not numbers or not solved.reached.any():
        return None
    made, contact = [], 0.0
    for number in numbers:
        unit = values["units"][number]
        bottomed = unit["compressed"] + sum(unit.get("adapter", {}).values())
        lengths = solved.sweep.units[unit["name"]].length[solved.reached]
        depth = max(12.0, 0.25 * (unit["extended"] - unit["compressed"]))
        flat = max(float(lengths.min()) - depth / 2, bottomed + STOP_SPARE_MM)
        law = next(law for law in solved.laws if law.name == unit["name"])
        if law.stack is not None:
            flat = max(flat, law.free_reference - law.stack.solid_compression + STOP_SPARE_MM)
        contact = math.ceil((flat + depth) * 2) / 2
        push = 2.0 * solved.solver.weight_n
        table = [[0, 0], [depth / 3, push * 0.15], [2 * depth / 3, push * 0.5], [depth, push * 1.5]]
        stop = {"name": "bump stop", "kind": "bump_stop", "ends": list(unit["ends"]), "contact": contact}
        made.append(stop | {"table": table, "solid": depth})
    words = f"Fit a bump stop on the {spoken(values['units'][numbers[0]]['name'])} that touches at {{at}} between its mounts"
    words += ", and on the other side." if len(numbers) > 1 else "."
    return Remedy(Sentence(words, {"at": Quantity(contact, "length")}), _fit(values, made))
