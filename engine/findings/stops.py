"""Whether the strap and the bump stop come first, as they must: a damper is no stop."""

import numpy as np

from engine.document.schema import BumpStop, Coilover, Damper, Strap
from engine.findings.finding import Finding, Rules
from engine.forces.units import damper_ends_mm
from engine.limits.ledger import travel_at_length
from engine.sentences import Sentence, length, spoken, travel
from engine.station.solved import SolvedStation


def judge_stops(solved: SolvedStation, rules: Rules) -> list[Finding]:
    """Return what there is to say of every strap and bump stop."""
    found = []
    for unit in solved.station.units:
        if isinstance(unit, Strap):
            found += _strap(solved, unit, rules)
        if isinstance(unit, BumpStop):
            found += _bump_stop(solved, unit, rules)
    return found


def _dampers(solved: SolvedStation) -> list[Coilover | Damper]:
    return [unit for unit in solved.station.units if isinstance(unit, Coilover | Damper)]


def _length_at(solved: SolvedStation, unit: str, at: float) -> float:
    reached = solved.path.reached
    return float(np.interp(at, solved.search.travels[reached], solved.search.units[unit].length[reached]))


def _strap(solved: SolvedStation, strap: Strap, rules: Rules) -> list[Finding]:
    """Judge a strap by what is left of each damper when the strap has given all its stretch."""
    name = spoken(strap.name)
    stretched = strap.length * (1 + strap.stretch)
    at = travel_at_length(solved, strap.name, stretched)
    why = "The strap must take the droop; a damper that tops out takes every knock through its rod."
    if at is None:
        return [
            Finding(
                code="strap_never_taut",
                mark="warning",
                subject=strap.name,
                what=Sentence(
                    f"The {name} never comes taut, stretch allowed for, in the travel that was searched.",
                ),
                why=why,
                remedy=Sentence("Shorten it until it ends droop where that is wanted."),
            )
        ]
    margins = [
        (damper_ends_mm(damper)[0] - _length_at(solved, damper.name, at), damper)
        for damper in _dampers(solved)
    ]
    if not margins:
        return []
    left, damper = min(margins, key=lambda pair: pair[0])
    return [_strap_margin(solved, strap, damper, at, left, rules, why)]


def _strap_margin(
    solved: SolvedStation,
    strap: Strap,
    damper: Coilover | Damper,
    at: float,
    left: float,
    rules: Rules,
    why: str,
) -> Finding:
    good = rules.strap_before_damper_mm
    mark = "good" if left >= good else "warning" if left >= 0 else "fault"
    names = spoken(strap.name), spoken(damper.name)
    if left >= 0:
        words = (
            f"The {names[0]} ends droop at {{at}} with {{left}} left in the {names[1]}, stretch allowed for."
        )
    else:
        words = f"The {names[1]} tops out before the {names[0]} is taut: it is {{left}} late, stretch allowed for."
    remedy = None
    if mark != "good":
        place = travel_at_length(solved, damper.name, damper_ends_mm(damper)[0] - good)
        if place is not None:
            shorter = strap.length - _length_at(solved, strap.name, place) / (1 + strap.stretch)
            remedy = Sentence("Shorten the strap by {shorter}.", {"shorter": length(shorter)})
    return Finding(
        code="strap_before_damper",
        mark=mark,
        subject=strap.name,
        what=Sentence(words, {"at": travel(at), "left": length(abs(left))}),
        why=why,
        remedy=remedy,
        travel_mm=at,
        value=left,
        limit=good,
        measures="length",
    )


def _bump_stop(solved: SolvedStation, stop: BumpStop, rules: Rules) -> list[Finding]:
    """Judge a bump stop by what is left of each damper and coil when it is squashed flat."""
    name = spoken(stop.name)
    flat = travel_at_length(solved, stop.name, stop.contact - stop.solid)
    touch = travel_at_length(solved, stop.name, stop.contact)
    if touch is None:
        return [
            Finding(
                code="bump_stop_never_touched",
                mark="warning",
                subject=stop.name,
                what=Sentence(f"The {name} is never touched in the travel that was searched."),
                why="Then something else ends bump.",
                remedy=Sentence("Make it longer, or pack it out."),
            )
        ]
    at = flat if flat is not None else float(solved.search.travels[solved.path.reached][-1])
    margins = [(_length_at(solved, d.name, at) - damper_ends_mm(d)[1], d) for d in _dampers(solved)]
    found = _rests_on(solved, stop)
    if margins:
        left, damper = min(margins, key=lambda pair: pair[0])
        found.append(_stop_margin(stop, damper, touch, flat, at, left, rules))
    return found


def _stop_margin(
    stop: BumpStop,
    damper: Coilover | Damper,
    touch: float,
    flat: float | None,
    at: float,
    left: float,
    rules: Rules,
) -> Finding:
    name, other = spoken(stop.name), spoken(damper.name)
    good = rules.damper_left_mm
    mark = "good" if left >= good else "warning" if left >= 0 else "fault"
    where = "squashed flat" if flat is not None else "at the end of what was searched"
    words = f"The {name} touches at {{touch}}; {where} it leaves the {other} {{left}}."
    if left < 0:
        much = " {left}" if flat is not None else ""
        words = f"The {other} bottoms{much} before the {name} is squashed flat."
    remedy = (
        None if mark == "good" else Sentence("Pack the stop out by {more}.", {"more": length(good - left)})
    )
    return Finding(
        code="bump_stop_before_damper",
        mark=mark,
        subject=stop.name,
        what=Sentence(words, {"touch": travel(touch), "left": length(abs(left))}),
        why="The stop must take the last of bump; a damper that bottoms breaks its bracket or itself.",
        remedy=remedy,
        travel_mm=at,
        value=left,
        limit=good,
        measures="length",
    )


def _rests_on(solved: SolvedStation, stop: BumpStop) -> list[Finding]:
    """Standing on a stop is standing on the wrong spring."""
    if solved.at_ride is None or solved.ride is None:
        return []
    squash = stop.contact - float(solved.at_ride.units[stop.name].length[0])
    if squash <= 0:
        return []
    return [
        Finding(
            code="bump_stop_at_ride",
            mark="fault",
            subject=stop.name,
            what=Sentence(
                f"At ride height it already rests on the {spoken(stop.name)}, squashed {{squash}}.",
                {"squash": length(squash)},
            ),
            why="There is no bump left, and the stop carries what the spring or the air should.",
            remedy=Sentence("Fit a stiffer spring, more preload or more pressure until it stands clear."),
            travel_mm=solved.ride.travel,
            value=squash,
            limit=0.0,
            measures="length",
        )
    ]
