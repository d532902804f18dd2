"""What cannot be had together: the wishes and what is held, each with what alone would settle it."""

import math
from typing import Any

import numpy as np

from engine.document.schema import Project, Station
from engine.document.units import Coilover, Damper
from engine.facts import facts
from engine.right.groups import Group
from engine.right.lever import Lever, steps
from engine.right.parts import longer_damper
from engine.right.plans import Righted
from engine.right.trial import Settings, Trials, judged
from engine.sentences import spoken

DAMPER_MM = 150.0
WAYS = (("forward", "rearward"), ("left", "right"), ("up", "down"))


@facts
class Contradiction:
    """A station's wishes that contradict, in words; each with what alone would settle it."""

    say: str
    wishes: tuple[dict[str, Any], ...]


def cannot_of(project: Project, righted: Righted) -> Contradiction | None:
    """Return what cannot be had together; None where every fault goes without giving up a wish."""
    if not righted.stuck:
        return None
    wishes: list[dict[str, Any]] = []
    words: list[str] = []
    for number in righted.stuck:
        group = righted.groups[number]
        settings = righted.plans[0].settings[number] if righted.plans else ()
        station = project.stations[group.members[0]]
        its, said = _of_group(group, station, _without_wishes(group, settings))
        wishes += its
        words.append(_sentence(station.name, said, several=len(righted.stuck) > 1))
    return Contradiction(say=" ".join(words), wishes=tuple(wishes))


def _without_wishes(group: Group, settings: Settings) -> Settings:
    return tuple((n, k) for n, k in settings if group.levers[0][n].gives_up is None)


def _sentence(station: str, said: list[str], several: bool) -> str:
    where = f"{spoken(station)}: " if several else ""
    if not said:
        return f"{where}no change that is known here clears every fault, whatever is given up."
    if len(said) == 1:
        return f"{where}{said[0]} cannot be had with the rest as it is."
    text = f"{where}{', '.join(said[:-1])} and {said[-1]} cannot be had together."
    return text[:1].upper() + text[1:]


def _of_group(group: Group, station: Station, others: Settings) -> tuple[list[dict[str, Any]], list[str]]:
    """Return each wish or held thing that would settle it alone, beside the other changes of the plan."""
    found: list[dict[str, Any]] = []
    said: list[str] = []
    levers = group.levers[0]
    free = set(group.free)
    taken = {levers[n].slot for n, _ in others}
    for number, lever in enumerate(levers):
        if lever.slot in taken or (lever.gives_up is None and number in free):
            continue
        at = _least(group.trials, number, others)
        if at is None:
            continue
        its, words = _told(station, lever, lever.values[at])
        if its is not None and not any(one["what"] == its["what"] for one in found):
            found.append({"station": station.name, **its})
            said.append(words)
    for unit in station.units:
        if isinstance(unit, Coilover | Damper) and not any(one["what"] == unit.name for one in found):
            by = _longer(group, unit.name, others)
            if by is not None:
                found.append({"station": station.name, "what": unit.name, "longer": by})
                said.append(f"this {spoken(unit.name)}")
    return found, said


def _least(trials: Trials, number: int, others: Settings) -> int | None:
    """Return the setting of a lever nearest to today's that leaves no fault, others as they are set; None if none does."""
    lever = trials.levers[number]
    order = sorted(range(len(lever.values)), key=lambda k: _size(lever, k))
    tried = sorted({round(share * (len(order) - 1)) for share in (0.0, 0.05, 0.15, 0.3, 0.5, 0.75, 1.0)})

    def does(at: int) -> bool:
        return not trials.outcome(tuple(sorted([*others, (number, order[at])]))).faults

    good = next((at for at in tried if does(at)), None)
    if good is None:
        return None
    bad = max((at for at in tried if at < good), default=-1)
    while good - bad > 1:
        middle = (good + bad) // 2
        good, bad = (middle, bad) if does(middle) else (good, middle)
    return order[good]


def _size(lever: Lever, at: int) -> tuple[float, int]:
    return (abs(lever.values[at] - lever.now) if lever.numbers else 0.0, at)


def _told(station: Station, lever: Lever, value: Any) -> tuple[dict[str, Any] | None, str]:
    """Return a way out as the file has it, and what it would free in words."""
    if lever.gives_up is not None:
        field = lever.name.removeprefix("travel.")
        before, after = (getattr(one.travel, field) or 0.0 for one in (station, lever.change(station, value)))
        words = f"{before:g} mm of {field}" if field != "at" else f"standing at {before:+g} mm"
        return {"what": lever.name, "from": before, "to": after}, words
    changed = lever.change(station, value)
    moved = [name for name in station.points if changed.points[name] != station.points[name]]
    if moved:
        by = np.array(changed.points[moved[0]]) - np.array(station.points[moved[0]])
        axis = int(np.abs(by).argmax())
        way = WAYS[axis][0 if by[axis] > 0 else 1]
        its = {"what": f"{station.name}/{moved[0]}", way: math.ceil(abs(float(by[axis])) * 10) / 10}
        return its, f"{spoken(moved[0])} where it is"
    name = sorted(lever.of)[0]
    return {"what": f"{station.name}/{name}", "say": str(lever.say(value))}, f"the {spoken(name)} as it is"


def _longer(group: Group, name: str, others: Settings) -> float | None:
    """Return how much longer, open, a damper would have to be, in whole mm; None where no length settles it."""
    base = group.trials.station_with(others)

    def does(by: float) -> bool:
        found = judged(group.worked, longer_damper(base, name, by))
        return found is not None and not any(f.mark == "fault" for f in found[1])

    sizes = steps(DAMPER_MM, 1.0, (1,))
    good = next((k for k in (4, 9, 19, 39, 79, len(sizes) - 1) if does(sizes[k])), None)
    if good is None:
        return None
    bad = -1 if good == 4 else (good - 1) // 2
    while good - bad > 1:
        middle = (good + bad) // 2
        good, bad = (middle, bad) if does(sizes[middle]) else (good, middle)
    return sizes[good]
