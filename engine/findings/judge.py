"""What the tool thinks of a solved station: every judgement with its number, its reason and a way out.

Mark     good, warning or fault.
What     the sentence with its numbers.
Why      why it matters at the bench.
Remedy   the smallest change that clears it, where one can be named.
"""

import numpy as np

from engine.findings import kinds
from engine.findings.adjusting import judge_adjusting
from engine.findings.alike import said_once
from engine.findings.bags import judge_bags
from engine.findings.ends import judge_ends
from engine.findings.finding import Finding, Rules, rules_of
from engine.findings.joints import judge_joints
from engine.findings.ride import judge_ride
from engine.findings.rooms import judge_rooms
from engine.findings.sides import judge_unlike
from engine.findings.springs import judge_coils, judge_dampers
from engine.findings.stops import judge_stops
from engine.findings.traps import judge_traps
from engine.findings.wheels import judge_wheels
from engine.linkage.grid import articulation_mm
from engine.ride.angles import flat_angle, joint_angle, over_centre_margin_deg, rocker_joints
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.ends import Limit
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

RANK = {"fault": 0, "warning": 1, "good": 2}


def judge(
    solved: SolvedStation, rules: Rules | None = None, work: WorkUp | None = None
) -> tuple[Finding, ...]:
    """Return every finding, faults first; by the station's own rules if none are given."""
    rules = rules_of(solved.station.judging) if rules is None else rules
    work = WorkUp(solved) if work is None else work
    before_ends, after_ends = _whatever_the_rooms(work, rules)
    found = [
        *before_ends,
        *judge_ends(work, rules),
        *after_ends,
        *(judge_rooms(work, rules) if work.rooms else []),
    ]
    once = said_once(solved.station, found, rules)
    return tuple(sorted(once, key=lambda finding: RANK[finding.mark]))


def _whatever_the_rooms(work: WorkUp, rules: Rules) -> tuple[list[Finding], list[Finding]]:
    """Return the findings that no clearance changes, those before and after what ends the travel; found once."""
    key = ("judged", rules)
    if key not in work.kept:
        solved = work.solved
        before = [
            *_end_of_reach(solved),
            *_ride(solved),
            *_over_constrained(work),
            *_rod_angles(solved, rules),
            *judge_dampers(work, rules),
            *judge_coils(solved, rules),
        ]
        after = [
            *judge_stops(solved, rules),
            *judge_bags(work, rules),
            *judge_ride(work, rules),
            *judge_adjusting(work, rules),
            *judge_traps(solved),
            *judge_joints(work, rules),
            *judge_wheels(work, rules),
            *judge_unlike(work.station),
        ]
        work.kept[key] = before, after
    found: tuple[list[Finding], list[Finding]] = work.kept[key]
    return found


def _within(solved: SolvedStation, limit: Limit) -> bool:
    wanted = solved.station.travel
    return -wanted.droop <= limit.travel <= wanted.bump


def _end_of_reach(solved: SolvedStation) -> list[Finding]:
    found = []
    for limit in solved.limits:
        if limit.kind == "linkage_reach" and _within(solved, limit):
            wanted = solved.station.travel
            end = wanted.bump if limit.direction == "bump" else -wanted.droop
            body = limit.body or "linkage"
            words = f"The {{0}} cannot reach past {{at}}; full {limit.direction} is {{end}}."
            found.append(
                Finding(
                    kind=kinds.LINKAGE_REACH,
                    mark="fault",
                    subjects=(body,),
                    what=Sentence(words, {"at": travel(limit.travel), "end": travel(end)}, (body,)),
                    why="Past that the joint would be forced, and something bends.",
                    remedy=Sentence(
                        "Move a bracket so that the travel fits, or want {less} less.",
                        {"less": length(abs(end - limit.travel))},
                    ),
                    travel_mm=limit.travel,
                    value=limit.travel,
                    limit=end,
                    measures="travel",
                )
            )
    return found


def _ride(solved: SolvedStation) -> list[Finding]:
    if solved.ride is not None or solved.ride_fault is None:
        return []
    return [
        Finding(
            kind=kinds.NO_EQUILIBRIUM,
            mark="fault",
            what=solved.ride_fault,
            why="Without a place to stand there is no ride height, and no frequency to judge.",
        )
    ]


def _over_constrained(work: WorkUp) -> list[Finding]:
    if work.forced is None:
        return []
    body, most = max(work.forced.gives.items(), key=lambda item: item[1])
    words = "The axle is held by more links than it can articulate on; what is shown is heave. "
    words += "With one wheel {cross} up and the other down the {0} must give {most}."
    return [
        Finding(
            kind=kinds.OVER_CONSTRAINED,
            mark="warning",
            subjects=(body,),
            what=Sentence(
                words, {"cross": length(articulation_mm(work.linkage)), "most": length(most)}, (body,)
            ),
            why="One wheel up and the other down is then taken up by the bushings, and at last by the brackets.",
            remedy=Sentence(
                "Let one link go, or give its ends soft bushes that allow {most}.", {"most": length(most)}
            ),
            travel_mm=None,
            value=most,
            limit=0.0,
            measures="length",
        )
    ]


def _rod_angles(solved: SolvedStation, rules: Rules) -> list[Finding]:
    found = []
    for joint in rocker_joints(solved.linkage):
        if joint.is_unit:
            continue
        arm = (joint.rod, joint.rocker)
        if solved.at_ride is not None:
            angle = float(joint_angle(solved.linkage, joint, solved.at_ride.solution)[0])
            found.append(_square(arm, angle, solved, rules))
        taken = solved.taken
        angles = flat_angle(solved.linkage, joint, taken.solution)
        if len(angles):
            found += _anywhere(arm, angles, taken.travels, rules)
    return found


def _square(arm: tuple[str, str], angle: float, solved: SolvedStation, rules: Rules) -> Finding:
    off = abs(angle - 90)
    words = "{0} to {1} arm {angle} at ride height, {off} off square."
    remedy = None
    if off <= rules.rod_square_good_deg:
        mark, words = "good", "{0} to {1} arm {angle} at ride height."
    elif off <= rules.rod_square_warn_deg:
        mark, words = "good", words.replace("off square.", "off square: still fair.")
    else:
        # Off square is a worse ratio, not yet a danger: a warning, however far.
        mark = "warning"
        turn = "Turn the rocker by {off}: with the rod's adjuster if that is enough, else with another arm angle."
        remedy = Sentence(turn, {"off": Quantity(off, "angle")})
    assert solved.ride is not None
    return Finding(
        kind=kinds.ROD_SQUARE_AT_RIDE,
        mark=mark,
        subjects=(arm[0],),
        what=Sentence(words, {"angle": Quantity(angle, "angle"), "off": Quantity(off, "angle")}, arm),
        why="Square at ride height, the rod pushes the rocker with its whole force and the ratio changes evenly each way.",
        remedy=remedy,
        travel_mm=solved.ride.travel,
        value=angle,
        limit=90.0,
        measures="angle",
    )


def _anywhere(arm: tuple[str, str], angles: np.ndarray, travels: np.ndarray, rules: Rules) -> list[Finding]:
    """Judge how near to being in line a rod and its arm come; `angles` in the rocker's plane, degrees."""
    worst = int(np.abs(angles - 90).argmax())
    angle = float(np.clip(angles[worst], 0, 180))
    low, high = rules.rod_anywhere_good_deg
    if low <= angle <= high:
        return []
    least, most = rules.rod_anywhere_warn_deg
    words = "{0} to {1} arm comes to {angle} at {at}."
    if over_centre_margin_deg(angles) == 0:
        words = "{0} to {1} arm goes over centre before {at}."
    return [
        Finding(
            kind=kinds.ROD_NEAR_CENTRE,
            mark="warning" if least <= angle <= most else "fault",
            subjects=(arm[0],),
            what=Sentence(
                words, {"angle": Quantity(angle, "angle"), "at": travel(float(travels[worst]))}, arm
            ),
            why="Near 0° or 180° a rocker can go over centre, and then it does not come back.",
            remedy=Sentence("Lengthen the rocker arm or lower the travel."),
            travel_mm=float(travels[worst]),
            value=angle,
            limit=low if angle < low else high,
            measures="angle",
        )
    ]
