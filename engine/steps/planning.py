"""Who does what when over all jobs: the earliest finishes, weighed by what is wanted.

Slot      a quarter of an hour in which anybody works; the solver knows no others.
Greedy    the first plan, there at once: the job that is wanted soonest first, each task by who can begin it soonest.
Bound     what no plan can be better than: the solver's own, or that of all people working on one job at a time.
"""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Literal

import numpy as np

from engine.document.people import DAY_MINUTES, Shop, stretches_of
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.steps.calendar import QUARTER, Hours, hours_of_person
from engine.steps.durations import sampled
from engine.steps.passing import Passed, carried_out
from engine.steps.tasks import Task

SAMPLES = 500
LATE_DAYS = 3.0  # one thing in ten comes later than this after its day
Z_NINE_IN_TEN = 1.2816
SEED = 20
MOST_DAYS = 2000
TOOLS: tuple[Literal["welder"], Literal["lift"]] = ("welder", "lift")
WAYS = (0.1, 0.5, 0.9)
WORKING_MINUTES = 480.0  # of a day
WAITS = (0.0, 60.0, 240.0, DAY_MINUTES, 3 * DAY_MINUTES, 10 * DAY_MINUTES)  # minutes for a place in the row


Begun = tuple[str, str | None, str, str]  # a task's job, station and step, and who does it


@facts
class Entry:
    """One stretch of one task: who, and from when to when, minutes from midnight of the first day."""

    task: int
    who: int
    start: float
    end: float


@facts
class Plan:
    """A plan: its stretches in the order of their beginning; by job the day it is done in one, five, nine of ten, None where never.

    hangs_on : by job, what its end hangs on, the first first
    bound    : the least that any plan can come to, over what this one does; 1 is the best there is
    undone   : tasks that nobody can do, and those behind them
    """

    entries: tuple[Entry, ...]
    finish: tuple[tuple[date, date, date] | None, ...]
    hangs_on: tuple[tuple[str, ...], ...]
    bound: float
    passed: Passed
    undone: tuple[int, ...]


def plan_of(
    tasks: Sequence[Task],
    names: Sequence[str],
    shop: Shop,
    first: date,
    seconds: float = 5.0,
    before: Sequence[Begun] = (),
) -> Plan:
    """Return who does what when; `names` are the jobs'.

    before : an earlier plan, as `begun` has it: the new one is no worse than that one with what has changed since
    """
    undone = _nobody(tasks)
    doable = [k for k in range(len(tasks)) if k not in undone]
    work = np.array(
        [[QUARTER * max(1, round(task.hours[1] * 60 / QUARTER))] for task in tasks], dtype=float
    ).reshape(-1, 1)
    people = [hours_of_person(one, first, _days(tasks, work, shop)) for one in shop.people]
    things: dict[str, int] = {tool: shop.things.get(tool, 1) for tool in TOOLS}
    wanted = [_slots_wanted(name, shop, first) for name in names]
    order, who = _greedy(
        tasks, doable, people, things, work, wanted, _as_before(tasks, doable, names, shop, before)
    )
    bound = 1.0
    if doable:
        from engine.steps.solver import improved  # the solver is heavy: only where there is something to plan

        order, who, bound = improved(tasks, order, who, people, things, work[:, 0], wanted, seconds)
    passed = carried_out(tasks, order, who, people, things, work)
    random = np.random.default_rng(SEED)
    drawn = np.array([60 * sampled(task.hours, SAMPLES, random) for task in tasks]).reshape(-1, SAMPLES)
    late = np.maximum(random.standard_normal((len(tasks), SAMPLES)), 0.0) * LATE_DAYS / Z_NINE_IN_TEN
    chances = carried_out(tasks, order, who, people, things, drawn, late)
    entries = [
        Entry(task=k, who=who[k], start=one, end=other)
        for k in order
        for one, other in people[who[k]].pieces(float(passed.start[k, 0]), float(passed.end[k, 0]))
    ]
    return Plan(
        entries=tuple(sorted(entries, key=lambda one: (one.start, one.who))),
        finish=tuple(_finish(job, tasks, chances, undone, first) for job in range(len(names))),
        hangs_on=tuple(_hangs_on(job, tasks, passed, names, doable) for job in range(len(names))),
        bound=bound,
        passed=passed,
        undone=tuple(sorted(undone)),
    )


def begun(plan: Plan, tasks: Sequence[Task], names: Sequence[str], shop: Shop) -> list[Begun]:
    """Return a plan as what it was: tasks in the order of their beginning, by job's name, station and step, and who did each."""
    seen: dict[int, Begun] = {}
    for entry in plan.entries:
        task = tasks[entry.task]
        seen.setdefault(
            entry.task,
            (names[task.job], task.stands.station, task.stands.step.key, shop.people[entry.who].name),
        )
    return list(seen.values())


def _as_before(
    tasks: Sequence[Task], doable: Sequence[int], names: Sequence[str], shop: Shop, before: Sequence[Begun]
) -> tuple[list[int], list[int]] | None:
    """Return an earlier plan's order over today's tasks, and who does each; None where it does not fit them any more."""
    place = {one[:3]: k for k, one in enumerate(before)}
    did = {one[:3]: one[3] for one in before}
    keys = [(names[task.job], task.stands.station, task.stands.step.key) for task in tasks]
    if not before or any(keys[k] not in place for k in doable):
        return None
    people = {one.name: k for k, one in enumerate(shop.people)}
    who = [
        person if (person := people.get(did.get(key, ""), -1)) in task.who else (task.who or (0,))[0]
        for task, key in zip(tasks, keys, strict=True)
    ]
    order = sorted(doable, key=lambda k: place[keys[k]])
    at = {k: n for n, k in enumerate(order)}
    if any(at[need] > at[k] for k in order for need in (*tasks[k].needs, *(one for one, _ in tasks[k].lags))):
        return None
    return order, who


def _nobody(tasks: Sequence[Task]) -> set[int]:
    """Return the tasks that nobody can do, and those that need one of them."""
    found: set[int] = set()
    for number, task in enumerate(tasks):
        if not task.who or found & {*task.needs, *(need for need, _ in task.lags)}:
            found.add(number)
    return found


def _days(tasks: Sequence[Task], work: Array, shop: Shop) -> int:
    """Return so many days of calendar that the slowest person could do it all four times over, after the last thing has come."""
    weekly = min(
        sum(other - one for day in person.hours for one, other in stretches_of(person, day))
        for person in shop.people
    )
    weeks = 4 * float(work.sum()) / max(weekly, 1)
    comes = max((one.day for task in tasks for one in task.arrives), default=0.0)
    comes = max(comes, *(task.from_day for task in tasks), 0.0)
    lags = sum(days for task in tasks for _, days in task.lags)
    away = max(len(person.away) for person in shop.people)
    return int(min(7 * weeks + max(comes, 0.0) + lags + away + 60, MOST_DAYS))


def _slots_wanted(name: str, shop: Shop, first: date) -> float | None:
    """Return the minute at which a job is wanted: the end of its day; None where nobody said."""
    day = shop.wanted.get(name)
    return None if day is None else ((date.fromisoformat(day) - first).days + 1) * DAY_MINUTES


def _greedy(
    tasks: Sequence[Task],
    doable: Sequence[int],
    people: Sequence[Hours],
    things: dict[str, int],
    work: Array,
    wanted: Sequence[float | None],
    before: tuple[list[int], list[int]] | None,
) -> tuple[list[int], list[int]]:
    """Return a plan that is there at once, the best of a few and of the earlier one: the order in which tasks are begun, and who does each.

    They differ in how long anybody waits for a task of a job that comes first, rather than beginning one of another job.
    """
    total = [sum(float(work[k, 0]) for k in doable if tasks[k].job == job) for job in range(len(wanted))]
    rank = sorted(range(len(wanted)), key=lambda job: (wanted[job] is None, wanted[job] or 0.0, total[job]))
    place = {job: k for k, job in enumerate(rank)}
    tails = _tails(tasks, doable, work)
    found = [
        _one_after_another(
            tasks,
            doable,
            people,
            things,
            work,
            [wait * place[task.job] - tails[k] for k, task in enumerate(tasks)],
        )
        for wait in WAITS
    ]
    if before is not None:
        found.insert(0, before)
    ends = [carried_out(tasks, order, who, people, things, work).end[:, 0] for order, who in found]
    costs = [
        sum(
            (1 if wanted[job] is None else 4)
            * max((its[k] for k in doable if tasks[k].job == job), default=0.0)
            for job in range(len(wanted))
        )
        for its in ends
    ]
    return found[int(np.argmin(costs))]


def _one_after_another(
    tasks: Sequence[Task],
    doable: Sequence[int],
    people: Sequence[Hours],
    things: dict[str, int],
    work: Array,
    later: Sequence[float],
) -> tuple[list[int], list[int]]:
    """Return a plan in which each next task is, of those that can begin soonest, the one with the least `later` (tasks,)."""
    who = [task.who[0] if task.who else 0 for task in tasks]
    free = np.zeros(len(people))
    tools = {name: np.zeros(count) for name, count in things.items()}
    end = np.full(len(tasks), np.inf)
    order: list[int] = []
    after = {k: _soonest(tasks[k], end) for k in doable}
    left = set(doable)
    unlike = len({hours.begins.tobytes() + hours.ends.tobytes() for hours in people}) > 1
    while left:
        could: list[tuple[float, float, int, int]] = []
        for k in left:
            if np.isfinite(after[k]):
                tool = tasks[k].stands.step.tool
                ready = max(after[k], float(tools[tool].min())) if tool is not None else after[k]
                begins = [
                    (people[person].next(max(ready, free[person])), later[k], k, person)
                    for person in tasks[k].who
                ]
                # Whoever is there on Saturdays alone is not the one who is done with it soonest.
                could += (
                    [min(begins, key=lambda one: people[one[3]].done(one[0], float(work[k, 0])))]
                    if unlike
                    else begins
                )
        soonest = min(begin for begin, *_ in could)
        begin, _, k, person = min(
            (one for one in could if one[0] <= soonest + QUARTER), key=lambda one: (one[1], one[0], *one[2:])
        )
        tool = tasks[k].stands.step.tool
        end[k] = float(people[person].end(np.array([begin]), work[k])[0])
        free[person] = end[k]
        if tool is not None:
            tools[tool][int(tools[tool].argmin())] = end[k]
        who[k] = person
        order.append(k)
        left.remove(k)
        after |= {n: _soonest(tasks[n], end) for n in left if k in tasks[n].needs or k in dict(tasks[n].lags)}
    return order, who


def _tails(tasks: Sequence[Task], doable: Sequence[int], work: Array) -> list[float]:
    """Return by task the minutes from its beginning to the end of its job's longest way, working days as whole days."""
    tails = [0.0] * len(tasks)
    for k in sorted(doable, reverse=True):  # what needs a task stands after it
        tails[k] += float(work[k, 0]) * DAY_MINUTES / WORKING_MINUTES
        for need in tasks[k].needs:
            tails[need] = max(tails[need], tails[k])
        for need, days in tasks[k].lags:
            tails[need] = max(tails[need], tails[k] + days * DAY_MINUTES)
    return tails


def _soonest(task: Task, end: Array) -> float:
    """Return the minute before which a task cannot begin; infinite while what it needs has no end yet."""
    return max(
        [task.from_day * DAY_MINUTES, *(float(end[need]) for need in task.needs)]
        + [float(end[need]) + days * DAY_MINUTES for need, days in task.lags]
        + [one.day * DAY_MINUTES for one in task.arrives]
    )


def _finish(
    job: int, tasks: Sequence[Task], chances: Passed, undone: set[int], first: date
) -> tuple[date, date, date] | None:
    mine = [k for k, task in enumerate(tasks) if task.job == job]
    if not mine or undone & set(mine):
        return None
    ends = chances.end[mine].max(axis=0)
    if not np.isfinite(ends).all():
        return None
    days = [first + timedelta(minutes=float(np.quantile(ends, way)) - 1) for way in WAYS]
    return days[0], days[1], days[2]


def _hangs_on(
    job: int, tasks: Sequence[Task], passed: Passed, names: Sequence[str], doable: Sequence[int]
) -> tuple[str, ...]:
    """Return what a job's end hangs on, the first first: each was what held the next; another job's turn is said once."""
    mine = [k for k in doable if tasks[k].job == job]
    if not mine:
        return ()
    at: int | str | None = max(mine, key=lambda k: float(passed.end[k, 0]))
    found: list[str] = []
    while at is not None and len(found) < len(tasks):
        if isinstance(at, str):
            found.append(f"{at} comes")
            break
        said = tasks[at].said if tasks[at].job == job else f"{names[tasks[at].job]} before it"
        if not found or found[-1] != said:
            found.append(said)
        at = passed.held[at]
    return tuple(reversed(found))
