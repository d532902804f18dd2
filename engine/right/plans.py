"""Plans for a whole job: the cheapest, and others that are really different; each taken and judged anew.

Group  what is put right together: a station, or two that are one another's mirror image, changed alike.
Aim    what a plan is to be least in, or to leave alone.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Project, Station
from engine.document.write import project_values
from engine.facts import facts
from engine.results.parts import differences
from engine.results.whole import WorkedProject, WorkedStation, work_project
from engine.ride.taped import taped
from engine.right.aims import AIMS, Asked
from engine.right.costs import Cost, Costs, costs_of
from engine.right.groups import Group, groups_of
from engine.right.lever import Lever
from engine.right.search import Found
from engine.right.stock import Shelf
from engine.right.trial import Settings, judged, with_settings
from engine.sentences import spoken
from engine.telling import Tell, to_nobody, within

GEOMETRIES = 30  # within the tape's error, in which a plan is judged again


@facts
class Change:
    """One change of a plan: the station's name, its key, in words, and every value before and after, by path."""

    station: str
    key: str
    lever: Lever
    value: Any
    say: str
    differences: tuple[dict[str, Any], ...]
    cost: Cost


@facts
class Plan:
    """Changes that belong together, the job with them, and what is then found.

    found : by group, what the search ended at
    """

    why: str
    changes: tuple[Change, ...]
    cost: Cost
    total: float
    gives_up: float
    project: Project
    after: WorkedProject
    settings: tuple[Settings, ...]
    holds_in: float | None


@facts
class Righted:
    """A job as it is, and the plans that put it right.

    stuck : groups for which no plan clears every fault without giving up a wish
    """

    before: WorkedProject
    costs: Costs
    groups: tuple[Group, ...]
    plans: tuple[Plan, ...]
    stuck: tuple[int, ...]


def put_right(
    project: Project,
    shelf: Shelf | None = None,
    most: int = len(AIMS),
    tell: Tell = to_nobody,
    only: str | None = None,
) -> Righted:
    """Return a job's plans, the cheapest first; raise the engine's errors for a linkage that cannot move.

    shelf : what the shop has; most : plans wanted; only : a station's name, the others left as they are
    """
    before, costs = work_project(project), costs_of(project.work)
    groups = tuple(
        group
        for group in groups_of(project, before, shelf or Shelf())
        if only is None or any(project.stations[number].name == only for number in group.members)
    )
    there = (shelf or Shelf()).counts
    stuck: set[int] = set()
    plans: list[Plan] = []
    seen: set[tuple[Settings, ...]] = set()
    firsts: list[Found | None] = [None] * len(groups)
    for number, aim in enumerate(AIMS):
        if len(plans) >= most:
            break
        tell(number / len(AIMS), aim.why)
        asked = Asked(groups, aim, costs, firsts if number else None, frozenset(stuck), there)
        found, gave_up = asked.found(within(tell, number / len(AIMS), (number + 1) / len(AIMS)))
        if number == 0:
            firsts, stuck = found, set(gave_up)
        if number and any(one is None for one in found):
            continue
        settings = tuple(() if one is None else one.settings for one in found)
        if not any(settings) or settings in seen:
            continue
        seen.add(settings)
        plan = _plan(project, before, costs, groups, aim.why, settings, found)
        if not number or not _faults(plan.after):
            plans.append(plan)
    plans.sort(key=lambda plan: (_faults(plan.after), plan.gives_up, plan.total, len(plan.changes)))
    return Righted(before=before, costs=costs, groups=groups, plans=tuple(plans), stuck=tuple(sorted(stuck)))


def _faults(worked: WorkedProject) -> int:
    return sum(f.mark == "fault" for f in every_finding(worked))


def every_finding(worked: WorkedProject) -> list[Any]:
    """Return the findings of every station and of the whole vehicle."""
    return [*(f for station in worked.stations for f in station.findings), *worked.findings]


def _plan(
    project: Project,
    before: WorkedProject,
    costs: Costs,
    groups: Sequence[Group],
    why: str,
    settings: tuple[Settings, ...],
    found: Sequence[Found | None],
) -> Plan:
    stations = list(project.stations)
    changes: list[Change] = []
    for group, chosen in zip(groups, settings, strict=True):
        changes += _changes(project, group, chosen, costs)
        for member, levers in zip(group.members, group.levers, strict=True):
            stations[member] = with_settings(project.stations[member], levers, chosen)
    taken = taken_by(project, stations)
    after = work_project(taken)
    total = Cost(
        sum(change.cost.hours for change in changes),
        sum(change.cost.money for change in changes),
        max((change.cost.days for change in changes), default=0.0),
    )
    faults = sum(f.mark == "fault" for f in every_finding(after))
    changed = [
        member
        for group, chosen in zip(groups, settings, strict=True)
        if chosen
        for member in group.members[: len(group.trials.bases)]
    ]
    return Plan(
        why=why,
        changes=tuple(changes),
        cost=total,
        total=costs.money(total),
        gives_up=sum(one.gives_up for one in found if one is not None),
        project=taken,
        after=after,
        settings=settings,
        holds_in=None if faults else _holds_in([after.stations[member] for member in changed]),
    )


def taken_by(project: Project, stations: Sequence[Station]) -> Project:
    """Return a job with its stations changed, read anew through the document's own door; raise DocumentRefused."""
    values = project_values(project)
    values["stations"] = [station.model_dump(mode="json", exclude_unset=True) for station in stations]
    return check_project(values)


def _changes(project: Project, group: Group, chosen: Settings, costs: Costs) -> list[Change]:
    """Return a group's changes in the order in which they are made, each with what it alone alters in the file."""
    found = []
    ordered = sorted(chosen, key=lambda one: group.levers[0][one[0]].order)
    for at, (number, value) in enumerate(ordered):
        lever = group.levers[0][number]
        lines: list[dict[str, Any]] = []
        for member, levers in zip(group.members, group.levers, strict=True):
            station = project.stations[member]
            earlier, with_it = (with_settings(station, levers, tuple(ordered[:k])) for k in (at, at + 1))
            was, now = (one.model_dump(mode="json", exclude_unset=True) for one in (earlier, with_it))
            for line in differences(was, now):
                lines.append({"station": station.name, **line})
        say = str(lever.say(lever.values[value]))
        one_sided = len(group.members) > 1 and len({line["station"] for line in lines}) == 1
        if one_sided:
            say = f"{say.removesuffix('.')}, {spoken(lines[0]['station'])} only."
        elif lever.sides > 1 and "both sides" not in say:
            say = f"{say.removesuffix('.')}, on both sides."
        found.append(
            Change(
                station=lines[0]["station"],
                key=lever.key,
                lever=lever,
                value=lever.values[value],
                say=say,
                differences=tuple(lines),
                cost=costs.of_change(lever.key, lever.sides),
            )
        )
    return found


def _holds_in(changed: Sequence[WorkedStation]) -> float | None:
    """Return the share of geometries within the tape's error in which none of the changed stations has a fault."""
    if not changed:
        return None
    holds = np.ones(GEOMETRIES, dtype=bool)
    for worked in changed:
        solved = worked.work.solved
        names = list(solved.linkage.index)
        for k, places in enumerate(taped(solved, GEOMETRIES)):
            if holds[k]:
                points = {name: [float(c) for c in places[solved.linkage.index[name]]] for name in names}
                station = solved.station.model_copy(update={"points": {**solved.station.points, **points}})
                found = judged(worked, station)
                holds[k] = found is not None and not any(
                    f.mark == "fault" and f.code not in SIDES for f in found[1]
                )
    return float(holds.mean())


SIDES = {"sides_differ", "sides_springs"}  # each side is measured by itself: that is no fault of the plan
