"""Dampers and coils over the travel: nothing may bottom, top out, go solid or come loose."""

import numpy as np

from engine.document.schema import Coilover, SpringUnit, Station
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.forces.units import damper_ends_mm
from engine.sentences import Sentence, length, travel
from engine.station.ends import Limit
from engine.station.solved import SolvedStation
from engine.workup import WorkUp


def judge_dampers(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return what there is to say of each damper at both ends of the travel."""
    found = []
    for use in work.dampers:
        for end, kind, left, word in (
            ("droop", "damper_extended", use.left_in_droop, "tops out"),
            ("bump", "damper_compressed", use.left_in_bump, "bottoms"),
        ):
            found.append(_damper_end(work.solved, rules, use.name, end, kind, left, word))
    return found


_LEFT = {
    "damper_extended": kinds.DAMPER_EXTENDED_LEFT,
    "damper_compressed": kinds.DAMPER_COMPRESSED_LEFT,
}


def _damper_end(
    solved: SolvedStation, rules: Rules, unit: str, end: str, kind: str, left: float, word: str
) -> Finding:
    limit = next((x for x in solved.limits if x.kind == kind and x.unit == unit), None)
    wanted = solved.station.travel
    goal = wanted.bump if end == "bump" else -wanted.droop
    if left < 0:
        at = goal if limit is None else limit.travel
        return Finding(
            kind=kinds.KINDS[kind],
            mark="fault",
            subjects=(unit,),
            what=Sentence(
                f"The {{0}} {word} at {{at}}, before full {end} at {{goal}}.",
                {"at": travel(at), "goal": travel(goal)},
                (unit,),
            ),
            why="The damper would be the stop: every knock goes through its rod and its bracket.",
            remedy=Sentence(
                f"It is {{short}} short of stroke at this end: move an eye by that much along its line, "
                f"fit one that is longer {'extended' if end == 'droop' else 'in stroke'}, or stop the wheel earlier.",
                {"short": length(-left)},
            ),
            travel_mm=at,
            value=left,
            limit=rules.damper_left_mm,
            measures="length",
        )
    mark = "good" if left >= rules.damper_left_mm else "warning"
    return Finding(
        kind=_LEFT[kind],
        mark=mark,
        subjects=(unit,),
        what=Sentence(f"The {{0}} has {{left}} left at full {end}.", {"left": length(left)}, (unit,)),
        why="A few millimetres must stay free for squash, stretch and what the tape got wrong.",
        remedy=None
        if mark == "good"
        else Sentence("Find {more} more.", {"more": length(rules.damper_left_mm - left)}),
        travel_mm=goal,
        value=left,
        limit=rules.damper_left_mm,
        measures="length",
    )


SEAT_MM = 1.0  # a coil's bore and the seat it stands on agree to this
BODY_MM = 2.0  # a coil that bows clears the body inside it by this


def unfit(unit: Coilover | SpringUnit) -> Sentence | None:
    """Return why a unit's coils do not go where they stand, None where they do as far as is known.

    A coil's bore must be its seats' size and clear the body; its length must leave the perch on its thread.
    """
    for spring in unit.springs:
        if spring.bore is None:
            continue
        told = {"bore": length(spring.bore)}
        if unit.seat is not None and abs(spring.bore - unit.seat) > SEAT_MM:
            words = "The spring of the {0} is {bore} inside; its seats are made for {seat}."
            return Sentence(words, {**told, "seat": length(unit.seat)}, (unit.name,))
        body = unit.body_diameter if isinstance(unit, Coilover) else None
        if body is not None and spring.bore < body + BODY_MM:
            words = "The spring of the {0} is {bore} inside and does not clear its body of {body}."
            return Sentence(words, {**told, "body": length(body)}, (unit.name,))
    if isinstance(unit, Coilover) and unit.perch is not None:
        past = min(unit.perch.up, unit.perch.down)
        if past < 0:
            way = "higher" if unit.perch.up < 0 else "lower"
            words = f"The perch of the {{0}} would have to be {{past}} {way} than it goes."
            return Sentence(words, {"past": length(-past)}, (unit.name,))
    return None


def _fits(station: Station) -> list[Finding]:
    """Judge whether coils go onto their seats and over the body; how far a perch goes is judged with what is left to wind."""
    found = []
    for unit in station.units:
        if not isinstance(unit, Coilover | SpringUnit) or not any(spring.bore for spring in unit.springs):
            continue
        words = unfit(unit.model_copy(update={"perch": None}) if isinstance(unit, Coilover) else unit)
        bore = next(spring.bore for spring in unit.springs if spring.bore is not None)
        remedy = "Fit seats and perch for {bore}, or a coil that goes on what is there."
        if words is None and unit.seat is None:
            words = Sentence(
                "The spring of the {0} is {bore} inside; nobody has said what its seats are made for.",
                {"bore": length(bore)},
                (unit.name,),
            )
            mark, remedy = "warning", "Measure the seats, and say it beside the spring."
        else:
            mark = "good" if words is None else "fault"
        found.append(
            Finding(
                kind=kinds.COIL_FIT,
                mark=mark,
                subjects=(unit.name,),
                what=words
                or Sentence(
                    "The spring of the {0} is {bore} inside, as its seats are.",
                    {"bore": length(bore)},
                    (unit.name,),
                ),
                why="A coil that is too wide walks off its seat; one that is too narrow rubs the body through.",
                remedy=None if mark == "good" else Sentence(remedy, {"bore": length(bore)}),
                travel_mm=None,
                value=bore,
                limit=unit.seat,
                measures="length",
            )
        )
    return found


def judge_coils(solved: SolvedStation, rules: Rules) -> list[Finding]:
    """Return what there is to say of each coil: whether it goes on, solid in bump, loose in droop."""
    found = _fits(solved.station)
    wanted = solved.station.travel
    for law in solved.springing.laws:
        if law.stack is None:
            continue
        lengths = solved.taken.units[law.name].length
        if not len(lengths):
            continue
        called = "{0}" if law.kind == "spring" else "spring of the {0}"
        part = next(unit for unit in solved.station.units if unit.name == law.name)
        if isinstance(part, Coilover):
            # Past the damper's own ends the coil cannot follow; the damper's finding says so.
            extended, compressed = damper_ends_mm(part)
            lengths = np.clip(lengths, compressed, extended)
        squeeze = law.free_reference - lengths
        left = law.stack.solid_compression - float(squeeze.max())
        good = max(rules.coil_left_share * law.stack.solid_compression, rules.coil_left_mm)
        limit = next((x for x in solved.limits if x.kind == "coil_solid" and x.unit == law.name), None)
        found.append(_coil_solid(called, law.name, left, good, rules, limit, wanted.bump))
        found += _coil_loose(solved, called, law.name, float(squeeze.min()), rules)
    return found


def _coil_solid(
    called: str, unit: str, left: float, good: float, rules: Rules, limit: Limit | None, bump: float
) -> Finding:
    why = "A coil that goes solid is a steel bar: the next load goes into the bracket."
    if left < 0:
        at = bump if limit is None else limit.travel
        return Finding(
            kind=kinds.COIL_SOLID,
            mark="fault",
            subjects=(unit,),
            what=Sentence(
                f"The {called} is solid at {{at}}, before full bump at {{bump}}.",
                {"at": travel(at), "bump": travel(bump)},
                (unit,),
            ),
            why=why,
            remedy=Sentence(
                "Fit a spring with {more} more travel, or take preload out.",
                {"more": length(rules.coil_left_mm - left)},
            ),
            travel_mm=at,
            value=left,
            limit=good,
            measures="length",
        )
    mark = "good" if left >= good else "warning" if left >= rules.coil_left_mm else "fault"
    words = f"The {called} has {{left}} before coil bind at full bump" + (
        "." if mark == "good" else "; {good} is wanted."
    )
    return Finding(
        kind=kinds.COIL_LEFT,
        mark=mark,
        subjects=(unit,),
        what=Sentence(words, {"left": length(left), "good": length(good)}, (unit,)),
        why=why,
        remedy=None
        if mark == "good"
        else Sentence("Fit a spring with {more} more travel.", {"more": length(good - left)}),
        travel_mm=bump,
        value=left,
        limit=good,
        measures="length",
    )


def _coil_loose(solved: SolvedStation, called: str, unit: str, seat: float, rules: Rules) -> list[Finding]:
    """Judge the seat at full droop, or where the damper tops out if that comes first."""
    limit = next((x for x in solved.limits if x.kind == "coil_loose" and x.unit == unit), None)
    droop = -solved.station.travel.droop
    why = "A loose coil jumps out of its seat, and comes back across it."
    if seat < 0:
        at = droop if limit is None else limit.travel
        return [
            Finding(
                kind=kinds.COIL_LOOSE,
                mark="fault",
                subjects=(unit,),
                what=Sentence(
                    f"The {called} is loose from {{at}} to full droop, by {{gap}} at the end.",
                    {"at": travel(at), "gap": length(-seat)},
                    (unit,),
                ),
                why=why,
                remedy=Sentence(
                    "Add {more} of preload, or a helper spring that closes up.",
                    {"more": length(rules.loose_preload_mm - seat)},
                ),
                travel_mm=at,
                value=seat,
                limit=rules.loose_preload_mm,
                measures="length",
            )
        ]
    if seat >= rules.loose_preload_mm:
        return []
    return [
        Finding(
            kind=kinds.COIL_SEAT,
            mark="warning",
            subjects=(unit,),
            what=Sentence(
                f"The {called} is held by only {{seat}} at full droop.", {"seat": length(seat)}, (unit,)
            ),
            why=why,
            remedy=Sentence("Add {more} of preload.", {"more": length(rules.loose_preload_mm - seat)}),
            travel_mm=droop,
            value=seat,
            limit=rules.loose_preload_mm,
            measures="length",
        )
    ]
