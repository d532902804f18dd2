"""What the tool thinks of a solved station: every judgement with its number, its reason and a way out.

Mark     good, warning or fault.
What     the sentence with its numbers.
Why      why it matters at the bench.
Remedy   the smallest change that clears it, where one can be named.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.findings.bags import judge_bags
from engine.findings.finding import RULES, Finding, Rules
from engine.findings.stops import judge_stops
from engine.forces.units import damper_ends_mm
from engine.limits.search import Limit
from engine.ride.angles import joint_angle, rocker_joints
from engine.sentences import Quantity, Sentence, length, spoken, travel
from engine.station import SolvedStation

RANK = {"fault": 0, "warning": 1, "good": 2}


def judge(solved: SolvedStation, rules: Rules = RULES) -> tuple[Finding, ...]:
    """Return every finding, faults first."""
    found = [
        *_reach(solved),
        *_ride(solved),
        *_over_constrained(solved),
        *_rod_angles(solved, rules),
        *_dampers(solved, rules),
        *_coils(solved, rules),
        *judge_stops(solved, rules),
        *judge_bags(solved, rules),
    ]
    return tuple(sorted(found, key=lambda finding: RANK[finding.mark]))


def _within(solved: SolvedStation, limit: Limit) -> bool:
    wanted = solved.station.travel
    return -wanted.droop <= limit.travel <= wanted.bump


def _reach(solved: SolvedStation) -> list[Finding]:
    found = []
    for limit in solved.limits:
        if limit.kind == "linkage_reach" and _within(solved, limit):
            wanted = solved.station.travel
            end = wanted.bump if limit.direction == "bump" else -wanted.droop
            words = f"The {spoken(limit.body or 'linkage')} cannot reach past {{at}}; full {limit.direction} is {{end}}."
            found.append(
                Finding(
                    "linkage_reach",
                    "fault",
                    limit.body,
                    Sentence(words, {"at": travel(limit.travel), "end": travel(end)}),
                    "Past that the joint would be forced, and something bends.",
                    Sentence(
                        "Move a bracket so that the travel fits, or want {less} less.",
                        {"less": length(abs(end - limit.travel))},
                    ),
                    limit.travel,
                )
            )
    return found


def _ride(solved: SolvedStation) -> list[Finding]:
    if solved.ride is not None or solved.ride_fault is None:
        return []
    return [
        Finding(
            "no_equilibrium",
            "fault",
            None,
            solved.ride_fault,
            "Without a place to stand there is no ride height, and no frequency to judge.",
        )
    ]


def _over_constrained(solved: SolvedStation) -> list[Finding]:
    if not solved.linkage.assembly.over_constrained:
        return []
    return [
        Finding(
            "over_constrained",
            "warning",
            None,
            Sentence("The axle is held by more links than it can articulate on; what is shown is heave."),
            "One wheel up and the other down is then taken up by the bushings.",
        )
    ]


def _rod_angles(solved: SolvedStation, rules: Rules) -> list[Finding]:
    found = []
    for joint in rocker_joints(solved.linkage):
        if joint.is_unit:
            continue
        names = f"{spoken(joint.rod)} to {spoken(joint.rocker)} arm".capitalize()
        if solved.at_ride is not None:
            angle = float(joint_angle(solved.linkage, joint, solved.at_ride.solution)[0])
            found.append(_square(names, angle, joint.rod, solved, rules))
        inside = solved.reached
        angles = joint_angle(solved.linkage, joint, solved.sweep.solution)[inside]
        if len(angles):
            found += _anywhere(names, joint.rod, angles, solved.sweep.travels[inside], rules)
    return found


def _square(names: str, angle: float, rod: str, solved: SolvedStation, rules: Rules) -> Finding:
    off = abs(angle - 90)
    words = f"{names} {{angle}} at ride height, {{off}} off square."
    remedy = None
    if off <= rules.rod_square_good_deg:
        mark, words = "good", f"{names} {{angle}} at ride height."
    elif off <= rules.rod_square_warn_deg:
        mark, words = "good", words.replace("off square.", "off square: still fair.")
    else:
        # Off square is a worse ratio, not yet a danger: a warning, however far.
        mark = "warning"
        turn = "Turn the rocker by {off}: with the rod's adjuster if that is enough, else with another arm angle."
        remedy = Sentence(turn, {"off": Quantity(off, "angle")})
    assert solved.ride is not None
    return Finding(
        "rod_square_at_ride",
        mark,
        rod,
        Sentence(words, {"angle": Quantity(angle, "angle"), "off": Quantity(off, "angle")}),
        "Square at ride height, the rod pushes the rocker with its whole force and the ratio changes evenly each way.",
        remedy,
        solved.ride.travel,
    )


def _anywhere(names: str, rod: str, angles: np.ndarray, travels: np.ndarray, rules: Rules) -> list[Finding]:
    worst = int(np.abs(angles - 90).argmax())
    angle = float(angles[worst])
    low, high = rules.rod_anywhere_good_deg
    if low <= angle <= high:
        return []
    least, most = rules.rod_anywhere_warn_deg
    mark = "warning" if least <= angle <= most else "fault"
    return [
        Finding(
            "rod_near_centre",
            mark,
            rod,
            Sentence(
                f"{names} reaches {{angle}} at {{at}}.",
                {"angle": Quantity(angle, "angle"), "at": travel(float(travels[worst]))},
            ),
            "Near 0° or 180° a rocker can go over centre, and then it does not come back.",
            Sentence("Lengthen the rocker arm or lower the travel."),
            float(travels[worst]),
        )
    ]


def _dampers(solved: SolvedStation, rules: Rules) -> list[Finding]:
    found = []
    for unit in solved.station.units:
        if not isinstance(unit, Coilover | Damper):
            continue
        lengths = solved.sweep.units[unit.name].length[solved.reached]
        if not len(lengths):
            continue
        name = spoken(unit.name)
        shortest, longest = float(lengths.min()), float(lengths.max())
        extended, compressed = damper_ends_mm(unit)
        for end, kind, left, word in (
            ("droop", "damper_extended", extended - longest, "tops out"),
            ("bump", "damper_compressed", shortest - compressed, "bottoms"),
        ):
            found.append(_damper_end(solved, rules, unit.name, name, end, kind, left, word))
    return found


def _damper_end(
    solved: SolvedStation, rules: Rules, unit: str, name: str, end: str, kind: str, left: float, word: str
) -> Finding:
    limit = next((x for x in solved.limits if x.kind == kind and x.unit == unit), None)
    wanted = solved.station.travel
    goal = wanted.bump if end == "bump" else -wanted.droop
    if left < 0:
        at = goal if limit is None else limit.travel
        return Finding(
            kind,
            "fault",
            unit,
            Sentence(
                f"The {name} {word} at {{at}}, before full {end} at {{goal}}.",
                {"at": travel(at), "goal": travel(goal)},
            ),
            "The damper would be the stop: every knock goes through its rod and its bracket.",
            Sentence(
                f"It is {{short}} short of stroke at this end: move an eye by that much along its line, "
                f"fit one that is longer {'extended' if end == 'droop' else 'in stroke'}, or stop the wheel earlier.",
                {"short": length(-left)},
            ),
            at,
        )
    mark = "good" if left >= rules.damper_left_mm else "warning"
    return Finding(
        f"{kind}_left",
        mark,
        unit,
        Sentence(f"The {name} has {{left}} left at full {end}.", {"left": length(left)}),
        "A few millimetres must stay free for squash, stretch and what the tape got wrong.",
        None
        if mark == "good"
        else Sentence("Find {more} more.", {"more": length(rules.damper_left_mm - left)}),
        goal,
    )


def _coils(solved: SolvedStation, rules: Rules) -> list[Finding]:
    found = []
    wanted = solved.station.travel
    for law in solved.laws:
        if law.stack is None:
            continue
        lengths = solved.sweep.units[law.name].length[solved.reached]
        if not len(lengths):
            continue
        name = spoken(law.name) if law.kind == "spring" else f"spring of the {spoken(law.name)}"
        part = next(unit for unit in solved.station.units if unit.name == law.name)
        if isinstance(part, Coilover):
            # Past the damper's own ends the coil cannot follow; the damper's finding says so.
            lengths = np.clip(lengths, part.compressed, part.extended)
        squeeze = law.free_reference - lengths
        left = law.stack.solid_compression - float(squeeze.max())
        good = max(rules.coil_left_share * law.stack.solid_compression, rules.coil_left_mm)
        limit = next((x for x in solved.limits if x.kind == "coil_solid" and x.unit == law.name), None)
        found.append(_coil_solid(name, law.name, left, good, rules, limit, wanted.bump))
        found += _coil_loose(solved, name, law.name, float(squeeze.min()), rules)
    return found


def _coil_solid(
    name: str, unit: str, left: float, good: float, rules: Rules, limit: Limit | None, bump: float
) -> Finding:
    why = "A coil that goes solid is a steel bar: the next load goes into the bracket."
    if left < 0:
        at = bump if limit is None else limit.travel
        return Finding(
            "coil_solid",
            "fault",
            unit,
            Sentence(
                f"The {name} is solid at {{at}}, before full bump at {{bump}}.",
                {"at": travel(at), "bump": travel(bump)},
            ),
            why,
            Sentence(
                "Fit a spring with {more} more travel, or take preload out.",
                {"more": length(rules.coil_left_mm - left)},
            ),
            at,
        )
    mark = "good" if left >= good else "warning" if left >= rules.coil_left_mm else "fault"
    words = f"The {name} has {{left}} before it is solid at full bump" + (
        "." if mark == "good" else "; {good} is wanted."
    )
    return Finding(
        "coil_left",
        mark,
        unit,
        Sentence(words, {"left": length(left), "good": length(good)}),
        why,
        None
        if mark == "good"
        else Sentence("Fit a spring with {more} more travel.", {"more": length(good - left)}),
        bump,
    )


def _coil_loose(solved: SolvedStation, name: str, unit: str, seat: float, rules: Rules) -> list[Finding]:
    """Judge the seat at full droop, or where the damper tops out if that comes first."""
    limit = next((x for x in solved.limits if x.kind == "coil_loose" and x.unit == unit), None)
    droop = -solved.station.travel.droop
    why = "A loose coil jumps out of its seat, and comes back across it."
    if seat < 0:
        at = droop if limit is None else limit.travel
        return [
            Finding(
                "coil_loose",
                "fault",
                unit,
                Sentence(
                    f"The {name} is loose from {{at}} to full droop, by {{gap}} at the end.",
                    {"at": travel(at), "gap": length(-seat)},
                ),
                why,
                Sentence(
                    "Add {more} of preload, or a helper spring that closes up.",
                    {"more": length(rules.loose_preload_mm - seat)},
                ),
                at,
            )
        ]
    if seat >= rules.loose_preload_mm:
        return []
    return [
        Finding(
            "coil_seat",
            "warning",
            unit,
            Sentence(f"The {name} is held by only {{seat}} at full droop.", {"seat": length(seat)}),
            why,
            Sentence("Add {more} of preload.", {"more": length(rules.loose_preload_mm - seat)}),
            droop,
        )
    ]
