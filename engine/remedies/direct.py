"""Changes that are worked out in one go, with nothing to search."""

import math

import numpy as np

from engine.findings.finding import Finding
from engine.linkage.pose import host_of, pose_of
from engine.remedies.knob import Remedy, Values, both_sides, unit_number, with_value
from engine.remedies.stops import fit_stop, fit_strap, strap_in_line
from engine.sentences import Quantity, Sentence, spoken
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

SWING_SHARE = 0.01  # a swing of about half a degree tells no plane


def direct_remedy(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
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
            return fit_strap(finding, values, solved)
        case "strap_pull":
            return strap_in_line(finding, values, solved)
        case "first_in_bump":
            return fit_stop(finding, values, solved)
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
