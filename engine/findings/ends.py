"""What ends the travel, each way, against what ought to: a bump stop above, a strap below, never the damper."""

import numpy as np

from engine.document.schema import BumpStop, Coilover, Damper, Strap
from engine.document.sides import beside
from engine.findings import kinds
from engine.findings.alike import called_alike
from engine.findings.finding import Finding, Rules
from engine.findings.kinds import Kind
from engine.limits.events import HARD, SOFT, SPENT
from engine.limits.ledger import LedgerEvent
from engine.ride.installed import installed_angle_deg
from engine.sentences import Quantity, Sentence, length, travel
from engine.workup import WorkUp


def judge_ends(work: WorkUp, rules: Rules) -> list[Finding]:
    """Return the verdict on bump and the verdict on droop."""
    return [*_bump(work, rules), *_droop(work, rules), *_strap_pull(work, rules)]


def _end_words(event: LedgerEvent, first: int = 0) -> str:
    """Return what happens, its subjects as numbered names from `first` on."""
    if len(event.subjects) > 1 and event.kind.code == "metal_contact":
        return f"{{{first}}} and {{{first + 1}}} {event.kind.said}"
    if event.kind.code == "joint_bind" and len(event.subjects) > 1:
        return f"the {{{first}}} {event.kind.said} at {{{first + 1}}}"
    return f"the {{{first}}} {event.kind.said}" if event.subjects else f"the linkage {event.kind.said}"


def _bump(work: WorkUp, rules: Rules) -> list[Finding]:
    ledger = work.ledger
    stop = ledger.first("bump", {"bump_stop_contact"})
    end = ledger.first("bump", HARD - SPENT)
    why = "The stop must take the last of bump: what comes first takes every blow."
    has_stop = any(isinstance(unit, BumpStop) for unit in work.station.units)
    flat = ledger.first("bump", {"bump_stop_solid"})
    if stop is not None and end is not None and stop.travel <= end.travel < _or(flat, end.travel):
        # It touches first and yet something hard comes before it has given all it can.
        if end.kind.code == "damper_compressed":
            return []  # judged with the bump stop itself
        return [_hard_end(kinds.FIRST_IN_BUMP, work, rules, end, "bump", "Pack the bump stop out.", why)]
    if stop is not None and (end is None or stop.travel <= end.travel):
        end = _beside(work, "bump", stop)
        words = "In bump the {0} comes first, at {at}" + (
            "." if end is None else f"; {_end_words(end, len(stop.subjects))} {{later}} after it."
        )
        values = {"at": travel(stop.travel)}
        if end is not None:
            values["later"] = length(end.travel - stop.travel)
        return [
            Finding(
                kind=kinds.FIRST_IN_BUMP,
                mark="good",
                subjects=stop.subjects,
                what=Sentence(words, values, _called(work, rules, "bump", stop, end)),
                why=why,
                remedy=None,
                travel_mm=stop.travel,
            )
        ]
    if end is None:
        if has_stop or not _judged(work):
            return []
        return [
            Finding(
                kind=kinds.FIRST_IN_BUMP,
                mark="warning",
                what=Sentence(
                    "Nothing ends bump in the travel that was searched, and there is no bump stop."
                ),
                why=why,
                remedy=Sentence("Fit a bump stop that touches before full bump."),
            )
        ]
    return [
        _hard_end(kinds.FIRST_IN_BUMP, work, rules, end, "bump", "Fit a bump stop that touches earlier.", why)
    ]


def _droop(work: WorkUp, rules: Rules) -> list[Finding]:
    ledger = work.ledger
    strap = ledger.first("droop", {"strap_taut"})
    end = ledger.first("droop", HARD - SPENT)
    why = (
        "The strap, or the linkage itself, must take droop: a damper that tops out takes it through its rod."
    )
    stretched = ledger.first("droop", {"strap_end"}) or strap
    if strap and stretched and end and stretched.travel < end.travel <= strap.travel:
        if end.kind.code == "damper_extended":
            return []  # judged with the strap itself
        return [_hard_end(kinds.FIRST_IN_DROOP, work, rules, end, "droop", "Shorten the strap.", why)]
    if strap is not None and stretched is not None and (end is None or end.travel <= strap.travel):
        end = _beside(work, "droop", strap)
        words = "In droop the {0} comes first, taut at {at}" + (
            "." if end is None else f"; {_end_words(end, len(strap.subjects))} {{later}} below where it ends."
        )
        values = {"at": travel(strap.travel)}
        if end is not None:
            later = stretched.travel - end.travel
            values["later"] = length(max(later, 0.0))
        return [
            Finding(
                kind=kinds.FIRST_IN_DROOP,
                mark="good",
                subjects=strap.subjects,
                what=Sentence(words, values, _called(work, rules, "droop", strap, end)),
                why=why,
                remedy=None,
                travel_mm=strap.travel,
            )
        ]
    if end is None:
        if any(isinstance(unit, Strap) for unit in work.station.units) or not _judged(work):
            return []
        return [
            Finding(
                kind=kinds.FIRST_IN_DROOP,
                mark="warning",
                what=Sentence("Nothing ends droop in the travel that was searched, and there is no strap."),
                why=why,
                remedy=Sentence("Fit a strap that comes taut at full droop."),
            )
        ]
    if end.kind.code == "linkage_reach":
        words = "In droop the linkage itself ends at {at}, before anything else."
        return [
            Finding(
                kind=kinds.FIRST_IN_DROOP,
                mark="good",
                subjects=end.subjects,
                what=Sentence(words, {"at": travel(end.travel)}),
                why=why,
                remedy=None,
                travel_mm=end.travel,
            )
        ]
    return [
        _hard_end(
            kinds.FIRST_IN_DROOP, work, rules, end, "droop", "Fit a strap that comes taut before it.", why
        )
    ]


def _beside(work: WorkUp, way: str, stop: LedgerEvent) -> LedgerEvent | None:
    """Return the first hard end that a stop is there to save from: nothing of an axle's other side."""
    units = {unit.name: unit for unit in work.station.units}
    same = beside(work.station, units[stop.subjects[0]])
    return next(
        (
            event
            for event in work.ledger.on(way)
            if event.kind.code in HARD - SPENT
            and all(name not in units or same(units[name]) for name in event.subjects)
        ),
        None,
    )


def _called(work: WorkUp, rules: Rules, way: str, *events: LedgerEvent | None) -> tuple[str, ...]:
    """Return what the subjects of events are called: both sides together where the other side's comes alike."""
    return tuple(
        name
        for event in events
        if event is not None
        for name in called_alike(work.station, event, work.ledger.on(way), rules)
    )


def _or(event: LedgerEvent | None, otherwise: float) -> float:
    return otherwise if event is None else event.travel


def _judged(work: WorkUp) -> bool:
    """Return whether there is anything at this wheel that a stop could save."""
    return any(isinstance(unit, Coilover | Damper) for unit in work.station.units)


def _hard_end(
    kind: Kind, work: WorkUp, rules: Rules, end: LedgerEvent, way: str, remedy: str, why: str
) -> Finding:
    """A hard end met first: within the wanted travel it is a fault, beyond it still wants a stop."""
    inside = end.margin < 0
    stops = any(event.kind.code in SOFT for event in work.ledger.on(way))
    there = [
        unit.name for unit in work.station.units if isinstance(unit, BumpStop if way == "bump" else Strap)
    ]
    mark = "fault" if inside or stops else "warning"
    words = f"In {way} {_end_words(end)} first, at {{at}}"
    names = _called(work, rules, way, end)
    if stops:
        words += ", before a stop has taken it up."
    elif there:
        never = "is never touched" if way == "bump" else "is not taut by then"
        words += f"; the {{{len(names)}}} {never}."
        names = (*names, there[0])
        remedy = f"{'Pack it out' if way == 'bump' else 'Shorten it'} until it comes first."
    else:
        words += f"; there is no {'bump stop' if way == 'bump' else 'strap'}."
    return Finding(
        kind=kind,
        mark=mark,
        subjects=end.subjects,
        what=Sentence(words, {"at": travel(end.travel)}, names),
        why=why,
        remedy=Sentence(remedy),
        travel_mm=end.travel,
        value=end.travel,
        limit=None,
        measures="travel",
    )


def _strap_pull(work: WorkUp, rules: Rules) -> list[Finding]:
    """A strap must lie along the pull: at an angle it works through its bracket, and comes taut late."""
    found: list[Finding] = []
    straps = [unit for unit in work.station.units if isinstance(unit, Strap)]
    event = work.ledger.first("droop", {"strap_taut"}) if straps else None
    if event is None or not work.solved.path.reached.any():
        return found
    rows = work.solved.at(np.array([event.travel]))
    for unit in straps:
        angle = float(installed_angle_deg(work.solved, rows, unit.name)[0])
        if not np.isfinite(angle):  # its ends do not move against one another
            continue
        mark = "good" if angle <= rules.strap_pull_deg else "warning"
        words = "The {0} pulls {angle} off the way its end moves when it comes taut."
        found.append(
            Finding(
                kind=kinds.STRAP_PULL,
                mark=mark,
                subjects=(unit.name,),
                what=Sentence(words, {"angle": Quantity(angle, "angle")}, (unit.name,)),
                why="Out of line it bends its tab, and a little stretch lets much droop through.",
                remedy=None
                if mark == "good"
                else Sentence("Move its upper end to stand in line with the pull."),
                travel_mm=event.travel,
                value=angle,
                limit=rules.strap_pull_deg,
                measures="angle",
            )
        )
    return found
