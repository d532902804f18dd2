"""Plans for a whole job: the cheapest, and others that are really different; each taken and judged anew.

Group  what is put right together: a station, or two that are one another's mirror image, changed alike.
Aim    what a plan is to be least in, or to leave alone.
"""

import itertools
import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from engine.document.mirror import mirrored_station
from engine.document.read import check_project
from engine.document.schema import Project, Station
from engine.document.write import project_values
from engine.facts import facts
from engine.results.parts import differences
from engine.results.whole import WorkedProject, WorkedStation, beside_of, says_sides, work_project
from engine.ride.taped import taped
from engine.right.costs import Cost, Costs, costs_of
from engine.right.lever import Lever
from engine.right.levers import Held, held_of, levers_of
from engine.right.search import MOST_SOLVES, Found, Search
from engine.right.stock import Shelf
from engine.right.trial import Settings, Trials, judged, with_settings
from engine.sentences import spoken
from engine.telling import Tell, to_nobody, within

ALIKE_MM, SAME = 0.5, 1e-3
OWN_KEYS = {"name", "other_side", "uncertainty", "judging", "make", "variant_of"}
HELD_RIDE_MM, KEPT_HEIGHT_MM = 0.05, 1.0
GEOMETRIES = 30  # within the tape's error, in which a plan is judged again
PARTS_KEPT = {"spring", "damper", "shelf", "rod", "rocker_drawn", "rocker_made"}


@dataclass(frozen=True)
class Aim:
    """What a plan is for; `price` what is to be least, `allows` which levers, `ride_within` mm that its height may move."""

    why: str
    price: Callable[[Cost, Costs], float]
    allows: Callable[[Lever, Costs], bool]
    ride_within: float | None = None


def _any(lever: Lever, costs: Costs) -> bool:
    return True


def _money(cost: Cost, costs: Costs) -> float:
    return costs.money(cost)


AIMS = (
    Aim("least cost", _money, _any),
    Aim("least work", lambda cost, costs: cost.hours + 1e-6 * costs.money(cost), _any),
    Aim("nothing to wait for", _money, lambda lever, costs: costs.of[lever.key].days == 0),
    Aim("keeps the parts", _money, lambda lever, _: lever.key not in PARTS_KEPT),
    Aim("keeps the height", _money, _any, KEPT_HEIGHT_MM),
)


@facts
class Group:
    """What is put right together.

    members : the stations' numbers, the first the one that is looked at where both are alike
    levers  : of each member, the same ones in the same order
    """

    members: tuple[int, ...]
    levers: tuple[tuple[Lever, ...], ...]
    trials: Trials
    held: Held

    @property
    def worked(self) -> WorkedStation:
        """Return the first of it as it is."""
        return self.trials.base

    @property
    def free(self) -> tuple[int, ...]:
        """Return the levers by number that touch nothing held."""
        return tuple(n for n, lever in enumerate(self.levers[0]) if not lever.of & self.held.names)


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
        asked = _Asked(groups, aim, costs, firsts if number else None, frozenset(stuck), there)
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


@facts(kw_only=False)
class _Asked:
    """What is looked for in every group under one aim.

    firsts : what the first aim ended at; None while that is looked for
    stuck  : groups that had to give up a wish
    there  : how many of a part lie on the shelf, by its name
    """

    groups: Sequence[Group]
    aim: Aim
    costs: Costs
    firsts: Sequence[Found | None] | None
    stuck: frozenset[int]
    there: Mapping[str, int]

    def found(self, tell: Tell) -> tuple[list[Found | None], frozenset[int]]:
        """Return what each group's search ends at, and which had to give up a wish.

        Each is looked for as if the shelf were its own. Where they then take more of a part than there is, who takes
        first is tried every way round, and the others do with what is left.
        """
        every = range(len(self.groups))
        alone = self._in_turn(every, {}, False, tell)
        if not (both := self._want_the_same(alone[0])):
            return alone
        settled = {k: alone[0][k] for k in every if k not in both}
        tries = [self._in_turn(order, settled, True, tell) for order in itertools.permutations(both)]
        return min(tries, key=lambda one: _worth(one[0]))

    def _in_turn(
        self, order: Sequence[int], settled: Mapping[int, Found | None], share: bool, tell: Tell
    ) -> tuple[list[Found | None], frozenset[int]]:
        got, gave_up, left = dict(settled), set(self.stuck), Counter(self.there)
        for k, its in settled.items():
            left.subtract(self._taken(k, its))
        for at, k in enumerate(order):
            mine = {part: left[part] for part in self.there} if share else self.there
            got[k], up = self._of_group(k, mine, within(tell, at / len(order), (at + 1) / len(order)))
            left.subtract(self._taken(k, got[k]))
            gave_up |= {k} if up else set()
        return [got[k] for k in range(len(self.groups))], frozenset(gave_up)

    def _taken(self, k: int, its: Found | None) -> Counter[str]:
        return Counter() if its is None else self.groups[k].trials.taken(its.settings)

    def _want_the_same(self, found: Sequence[Found | None]) -> list[int]:
        """Return the groups that take parts of which there are fewer than all of them take."""
        each = [self._taken(k, its) for k, its in enumerate(found)]
        short = {part for part in self.there if sum(its[part] for its in each) > self.there[part]}
        return [k for k, its in enumerate(each) if short & set(its)]

    def _of_group(self, k: int, there: Mapping[str, int], tell: Tell) -> tuple[Found | None, bool]:
        """Return what the search of one group ends at, and whether it had to give up a wish: only where nothing else does."""
        group, aim, costs, stuck = self.groups[k], self.aim, self.costs, k in self.stuck
        first = None if self.firsts is None else self.firsts[k]
        ride = HELD_RIDE_MM if group.held.ride else aim.ride_within
        trials = Trials(**{**vars(group.trials), "ride_within": ride, "there": there})
        levers = group.levers[0]
        kept = tuple(n for n in group.free if aim.allows(levers[n], costs))
        if first is not None and (stuck or not first.settings):
            fits = all(n in kept for n, _ in first.settings) and not trials.outcome(first.settings).faults
            return (first if fits else None), stuck

        def search(usable: Sequence[int]) -> Found | None:
            return Search(
                trials=trials,
                costs=costs,
                usable=tuple(usable),
                price=lambda cost: aim.price(cost, costs),
                most=MOST_SOLVES if first is None else MOST_SOLVES // 3,
                tell=tell,
            ).best()

        found = search([n for n in kept if levers[n].gives_up is None])
        if found is None and first is None:
            return search(kept), True
        return found, False


def _worth(found: Sequence[Found | None]) -> tuple[int, float, float]:
    """Return what says which of several ways is taken: groups with nothing, what is given up, what it costs."""
    there = [one for one in found if one is not None]
    return (
        len(found) - len(there),
        math.fsum(one.gives_up for one in there),
        math.fsum(one.total for one in there),
    )


def groups_of(project: Project, before: WorkedProject, shelf: Shelf) -> list[Group]:
    """Return what is put right together, by itself each, in the stations' order."""
    found: list[Group] = []
    done: set[int] = set()
    for number in range(len(before.stations)):
        if number not in done:
            group = _group(project, before, shelf, number)
            done |= set(group.members)
            found.append(group)
    return found


def _group(project: Project, before: WorkedProject, shelf: Shelf, number: int) -> Group:
    station, other = project.stations[number], _other_side(project, number)
    twice = other is not None or (
        station.kind == "corner" and station.other_side == "mirror" and not station.single
    )
    members = (number,) if other is None else (number, other)
    if other is not None and len(project.stations[other].envelopes) > len(station.envelopes):
        members = (other, number)  # what is said to be in the way on one side is in the way
    alike = other is not None and _alike(project, members)
    made = [levers_of(project, before.stations[m], shelf, 2 if twice else 1) for m in members]
    levers = _sides_levers(made, alike)
    bases = tuple(before.stations[m] for m in members)
    said = tuple(says_sides(project, m) for m in members)
    if alike:
        first = bases[0]
        bases = (WorkedStation(**{**vars(first), "beside": beside_of(first.work, first.work, first.rules)}),)
    held = [held_of(project, project.stations[m]) for m in members]
    return Group(
        members=members,
        levers=levers,
        trials=Trials(bases=bases, each=levers, said=said, kept={}),
        held=Held(names=frozenset().union(*(one.names for one in held)), ride=any(one.ride for one in held)),
    )


def _sides_levers(each: list[tuple[Lever, ...]], alike: bool) -> tuple[tuple[Lever, ...], ...]:
    """Return each member's levers in the first one's order; what only one of them has is done on one side.

    Where the sides are not alike, what is only turned or shimmed may be set on one of them alone too.
    """
    if len(each) == 1:
        return (each[0],)
    by_name = [{lever.name: lever for lever in levers} for levers in each]
    both = [
        name
        for name in by_name[0]
        if name in by_name[1] and len(by_name[0][name].values) == len(by_name[1][name].values)
    ]
    mine = [by_name[0][name] for name in both]
    theirs = [by_name[1][name] for name in both]
    for side in (0, 1):
        for lever in each[side]:
            alone = lever.name not in both
            if not alone and (alike or lever.key not in ("turned", "shimmed")):
                continue
            if alone and alike and side == 1:
                continue
            name = f"{lever.name} of side {side + 1}"
            its = Lever(**{**vars(lever), "name": name, "sides": max(lever.sides // 2, 1)})
            other = Lever(**{**vars(its), "change": lambda station, _: station})
            mine.append(its if side == 0 else other)
            theirs.append(other if side == 0 else its)
    return (tuple(mine), tuple(theirs))


def _other_side(project: Project, number: int) -> int | None:
    """Return the number of the station that is the other side of one, each naming the other."""
    station = project.stations[number]
    other = next((k for k, one in enumerate(project.stations) if one.name == station.other_side), None)
    if other is None or project.stations[other].other_side != station.name:
        return None
    same = set(project.stations[other].points) == set(station.points)
    return other if same else None


def _alike(project: Project, members: tuple[int, ...]) -> bool:
    """Return whether two sides are one another's mirror image, their parts the same and their work as far."""
    station, other = (project.stations[number] for number in members)
    values = [one.model_dump(mode="json", exclude_unset=True) for one in (station, other)]
    image = mirrored_station(values[1], station.name)
    alike = all(
        _same(values[0].get(key), image.get(key), ALIKE_MM if key == "points" else SAME)
        for key in {*values[0], *image} - OWN_KEYS
        if key != "envelopes" or (values[0].get(key) and image.get(key))
    )
    return alike and _work_of(project, station) == _work_of(project, other)


def _same(one: Any, other: Any, within_: float) -> bool:
    """Return whether two plain values are the same, their numbers within a little."""
    if isinstance(one, dict) and isinstance(other, dict):
        return set(one) == set(other) and all(_same(one[key], other[key], within_) for key in one)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(_same(a, b, within_) for a, b in zip(one, other, strict=True))
    numbers = isinstance(one, float | int) and isinstance(other, float | int)
    return abs(one - other) <= within_ if numbers else bool(one == other)


def _work_of(project: Project, station: Station) -> set[tuple[str, str]]:
    states = {} if project.work is None else project.work.state
    front = f"{station.name}/"
    return {(name.removeprefix(front), state) for name, state in states.items() if name.startswith(front)}


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
