"""Whether the strap and the bump stop come first, as they must: a damper is no stop."""

import numpy as np

from engine.document.schema import BumpStop, Coilover, Damper, Strap
from engine.document.sides import beside
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.forces.units import Event, damper_ends_mm
from engine.sentences import Sentence, length, travel
from engine.station.ends import Limit, event_limits
from engine.station.solved import SolvedStation

USUAL_STRETCH = 0.03  # of a strap's length


def judge_stops(solved: SolvedStation, rules: Rules) -> list[Finding]:
    """Return what there is to say of every strap and bump stop."""
    found = []
    for unit in solved.station.units:
        if isinstance(unit, Strap):
            found += [*_strap(solved, unit, rules), *_no_stretch(unit)]
        if isinstance(unit, BumpStop):
            found += _bump_stop(solved, unit, rules)
    return found


def _dampers(solved: SolvedStation, beside_of: Strap | BumpStop) -> list[Coilover | Damper]:
    """Return the dampers that a stop is there to save: those on its own side."""
    same = beside(solved.station, beside_of)
    return [unit for unit in solved.station.units if isinstance(unit, Coilover | Damper) and same(unit)]


def _length_at(solved: SolvedStation, unit: str, at: float) -> float:
    return float(solved.at(np.array([at])).length(unit)[0])


def _met_at(solved: SolvedStation, unit: str, length_mm: float, longer: bool) -> tuple[Limit, ...]:
    """Return where a unit comes to a length each way, nearest to drawn first."""
    found = event_limits(solved.mover, solved.springing.law(unit), Event("length", length_mm, longer=longer))
    return tuple(sorted(found, key=lambda limit: abs(limit.travel)))


def _strap(solved: SolvedStation, strap: Strap, rules: Rules) -> list[Finding]:
    """Judge a strap by what is left of each damper when the strap has given all its stretch, whichever way it does."""
    met = _met_at(solved, strap.name, strap.length * (1 + strap.stretch), longer=True)
    why = "The strap must take the droop; a damper that tops out takes every knock through its rod."
    if not met:
        return [
            Finding(
                kind=kinds.STRAP_NEVER_TAUT,
                mark="warning",
                subjects=(strap.name,),
                what=Sentence(
                    "The {0} never comes taut, stretch allowed for, in the travel that was searched.",
                    names=(strap.name,),
                ),
                why=why,
                remedy=Sentence("Shorten it until it ends droop where that is wanted."),
            )
        ]
    margins = [
        (damper_ends_mm(damper)[0] - _length_at(solved, damper.name, limit.travel), limit, damper)
        for limit in met
        for damper in _dampers(solved, strap)
    ]
    if not margins:
        return []
    left, limit, damper = min(margins, key=lambda margin: margin[0])
    return [_strap_margin(solved, strap, damper, limit, left, rules, why)]


def _no_stretch(strap: Strap) -> list[Finding]:
    """Say that a strap is taken to give nothing: no webbing does, and the damper may top out first."""
    if strap.stretch > 0:
        return []
    gives = length(USUAL_STRETCH * strap.length)
    return [
        Finding(
            kind=kinds.STRAP_STRETCH,
            mark="warning",
            subjects=(strap.name,),
            what=Sentence(
                "The {0} is taken not to stretch at all; webbing gives about 3 %: {gives} of it.",
                {"gives": gives},
                (strap.name,),
            ),
            why="What it gives lets the damper top out first, or a joint bind, after all looked right.",
            remedy=Sentence(
                "Give its stretch at full load, from its maker or from a pull with a known weight."
            ),
            value=0.0,
            limit=USUAL_STRETCH,
            measures="share",
        )
    ]


def _strap_margin(
    solved: SolvedStation,
    strap: Strap,
    damper: Coilover | Damper,
    limit: Limit,
    left: float,
    rules: Rules,
    why: str,
) -> Finding:
    good = rules.strap_before_damper_mm
    mark = "good" if left >= good else "warning" if left >= 0 else "fault"
    names = (strap.name, damper.name)
    if left >= 0:
        words = f"The {{0}} ends {limit.direction} at {{at}} with {{left}} left in the {{1}}, stretch allowed for."
    else:
        words = "The {1} tops out before the {0} is taut: it is {left} late, stretch allowed for."
    remedy = None
    if mark != "good":
        wanted = _met_at(solved, damper.name, damper_ends_mm(damper)[0] - good, longer=True)
        place = next((one.travel for one in wanted if one.direction == limit.direction), None)
        if place is not None:
            shorter = strap.length - _length_at(solved, strap.name, place) / (1 + strap.stretch)
            remedy = Sentence("Shorten the strap by {shorter}.", {"shorter": length(shorter)})
    return Finding(
        kind=kinds.STRAP_BEFORE_DAMPER,
        mark=mark,
        subjects=(strap.name,),
        what=Sentence(words, {"at": travel(limit.travel), "left": length(abs(left))}, names),
        why=why,
        remedy=remedy,
        travel_mm=limit.travel,
        value=left,
        limit=good,
        measures="length",
    )


def _bump_stop(solved: SolvedStation, stop: BumpStop, rules: Rules) -> list[Finding]:
    """Judge a bump stop by what is left of each damper and coil when it is squashed flat."""
    met = _met_at(solved, stop.name, stop.contact, longer=False)
    touch = met[0].travel if met else None
    ends = _met_at(solved, stop.name, stop.contact - stop.solid, longer=False)
    flat = next((end.travel for end in ends if end.direction == met[0].direction), None) if met else None
    if touch is None:
        return [
            Finding(
                kind=kinds.BUMP_STOP_NEVER_TOUCHED,
                mark="warning",
                subjects=(stop.name,),
                what=Sentence(
                    "The {0} is never touched in the travel that was searched.", names=(stop.name,)
                ),
                why="Then something else ends bump.",
                remedy=Sentence("Make it longer, or pack it out."),
            )
        ]
    at = flat if flat is not None else float(solved.search.travels[solved.path.reached][-1])
    margins = [(_length_at(solved, d.name, at) - damper_ends_mm(d)[1], d) for d in _dampers(solved, stop)]
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
    good = rules.damper_left_mm
    mark = "good" if left >= good else "warning" if left >= 0 else "fault"
    where = "squashed flat" if flat is not None else "at the end of what was searched"
    words = f"The {{0}} touches at {{touch}}; {where} it leaves the {{1}} {{left}}."
    if left < 0:
        much = " {left}" if flat is not None else ""
        words = f"The {{1}} bottoms{much} before the {{0}} is squashed flat."
    remedy = (
        None if mark == "good" else Sentence("Pack the stop out by {more}.", {"more": length(good - left)})
    )
    return Finding(
        kind=kinds.BUMP_STOP_BEFORE_DAMPER,
        mark=mark,
        subjects=(stop.name,),
        what=Sentence(words, {"touch": travel(touch), "left": length(abs(left))}, (stop.name, damper.name)),
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
            kind=kinds.BUMP_STOP_AT_RIDE,
            mark="fault",
            subjects=(stop.name,),
            what=Sentence(
                "At ride height it already rests on the {0}, squashed {squash}.",
                {"squash": length(squash)},
                (stop.name,),
            ),
            why="There is no bump left, and the stop carries what the spring or the air should.",
            remedy=Sentence("Fit a stiffer spring, more preload or more pressure until it stands clear."),
            travel_mm=solved.ride.travel,
            value=squash,
            limit=0.0,
            measures="length",
        )
    ]
