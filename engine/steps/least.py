"""What a plan comes to, and what no plan can be better than.

Cost     the slot in which each job ends, by its weight, and every slot past the day it is wanted, more.
Crowd    people who alone can do some of the tasks: what only they can do is not done sooner than they have hours for it.
Head     the slot before which a task cannot begin; Tail the slots that its job still takes once it has ended.
Set      of some jobs, when the last of them can end: with one tool as if its work might be broken off for what is more
         urgent (Jackson's rule with tails, 1955), with several people by what begins late and has much behind it.
"""

import heapq
from collections.abc import Sequence

import numpy as np

from engine.document.people import DAY_MINUTES
from engine.linkage.vectors import Array
from engine.steps.calendar import QUARTER, Hours
from engine.steps.tasks import Task

WANTED_WEIGHT = 4  # of a job with a wanted date
LATE_WEIGHT = 12  # of every slot past it, besides
MOST_JOBS = 12  # of which every order is looked at
MOST_SETS = 8  # jobs of which every set is looked at closely


def cost_of(tasks: Sequence[Task], ends: Array, wanted: Sequence[float | None], slots: Array) -> float:
    """Return what a plan comes to, its tasks ending at (tasks,) minutes."""
    total = 0.0
    for job, when in enumerate(wanted):
        mine = [ends[k] for k, task in enumerate(tasks) if task.job == job and np.isfinite(ends[k])]
        if mine:
            total += cost_of_end(float(np.searchsorted(slots, max(mine) - 1e-6)), when, slots)
    return total


def cost_of_end(slot: float, when: float | None, slots: Array) -> float:
    """Return what one job comes to that ends at a slot, wanted at a minute."""
    if when is None:
        return slot
    return WANTED_WEIGHT * slot + LATE_WEIGHT * max(slot - float(np.searchsorted(slots, when - 1e-6)), 0.0)


def least_cost(
    tasks: Sequence[Task],
    order: Sequence[int],
    people: Sequence[Hours],
    work: Array,
    wanted: Sequence[float | None],
    slots: Array,
    things: dict[str, int],
) -> float:
    """Return what no plan can be better than: with each crowd's hours alone, and with each job's longest way through.

    Of every order in which the jobs could end: when the last of some of them ends, all their work is done. The least of
    those orders is found job by job over the sets of jobs (dynamic programming).
    """
    jobs = sorted({tasks[k].job for k in order})
    longest, readies = _longest(tasks, order, people, work, slots)
    best = sum(cost_of_end(longest[job], wanted[job], slots) for job in jobs)
    if len(jobs) > MOST_JOBS:
        return best
    ends, due = [longest[job] for job in jobs], [wanted[job] for job in jobs]
    there = np.array([there_of(hours, slots) for hours in people])
    sets = np.zeros(1 << len(jobs))
    for crowd in {task.who for task in (tasks[k] for k in order)}:
        its = list(crowd)
        load = [
            sum(float(work[k]) for k in order if tasks[k].job == job and set(tasks[k].who) <= set(crowd))
            for job in jobs
        ]
        done = np.cumsum(there[its].sum(axis=0)) * QUARTER
        sets = np.maximum(sets, _done_by(load, done))
    for tool, count in things.items():
        load, done, tails = _on_tool(tool, count, tasks, order, jobs, readies, work, slots)
        sets = np.maximum(sets, _done_by(load, done, tails))
    if len(jobs) <= MOST_SETS and on_quarters(people):
        sets = np.maximum(sets, _sets_at_least(tasks, order, jobs, readies, len(people), work, slots, things))
    return max(best, _least_order(sets, ends, due, slots))


def on_quarters(people: Sequence[Hours]) -> bool:
    """Return whether everybody begins and ends on the quarters of an hour: then slots miss nothing of what is worked."""
    return all(
        abs(one - QUARTER * round(one / QUARTER)) < 1e-6
        for hours in people
        for one in (*hours.begins, *hours.ends)
    )


def _done_by(load: Sequence[float], done: Array, tails: Sequence[float] = ()) -> Array:
    """Return by set of jobs the slot before which their load is not done, (2^jobs,); `tails` what each has after it, slots."""
    many = len(load)
    found = np.zeros(1 << many)
    for some in range(1, 1 << many):
        mine = [k for k in range(many) if some >> k & 1]
        total = sum(load[k] for k in mine)
        slot = 0.0 if total <= 0 else float(np.searchsorted(done, total - 1e-6) + 1)
        found[some] = slot + (min((tails[k] for k in mine if load[k] > 0), default=0.0) if tails else 0.0)
    return found


def _sets_at_least(
    tasks: Sequence[Task],
    order: Sequence[int],
    jobs: Sequence[int],
    readies: dict[int, float],
    many: int,
    work: Array,
    slots: Array,
    things: dict[str, int],
) -> Array:
    """Return by set of jobs the slot before which not all of them are done, (2^jobs,), with heads and tails task by task."""
    size = {k: max(1, round(float(work[k]) / QUARTER)) for k in order}
    head = {k: int(np.searchsorted(slots, readies[k] - 1e-6)) for k in order}
    tail = _tails(tasks, order, size, slots)
    found = np.zeros(1 << len(jobs))
    for some in range(1, 1 << len(jobs)):
        mine = {job for n, job in enumerate(jobs) if some >> n & 1}
        its = [k for k in order if tasks[k].job in mine]
        found[some] = _by_many(its, head, size, tail, many)
        for tool, count in things.items():
            on = [k for k in its if tasks[k].stands.step.tool == tool]
            if on:
                by = _by_one(on, head, size, tail) if count == 1 else _by_many(on, head, size, tail, count)
                found[some] = max(found[some], by)
    return found


def _tails(tasks: Sequence[Task], order: Sequence[int], size: dict[int, int], slots: Array) -> dict[int, int]:
    """Return by task the slots that its job still takes at least once it has ended."""
    ends = np.concatenate([[slots[0]], slots + QUARTER])
    tail = dict.fromkeys(order, 0)
    for k in sorted(order, reverse=True):  # what needs a task stands after it
        for need in tasks[k].needs:
            tail[need] = max(tail.get(need, 0), size[k] + tail[k])
        for need, days in tasks[k].lags:
            first = np.searchsorted(slots, ends + days * DAY_MINUTES - 1e-6)
            waits = (first - np.arange(len(first)))[first < len(slots)]
            wait = max(int(waits.min()), 0) if len(waits) else 0
            tail[need] = max(tail.get(need, 0), wait + size[k] + tail[k])
    return tail


def _by_one(its: Sequence[int], head: dict[int, int], size: dict[int, int], tail: dict[int, int]) -> int:
    """Return the slot before which tasks on one tool, and what comes after each, are not done."""
    coming = sorted(its, key=lambda k: head[k])
    left = {k: size[k] for k in its}
    there: list[tuple[int, int]] = []
    now = at = best = 0
    while at < len(coming) or there:
        if not there:
            now = max(now, head[coming[at]])
        while at < len(coming) and head[coming[at]] <= now:
            heapq.heappush(there, (-tail[coming[at]], coming[at]))
            at += 1
        k = there[0][1]
        done = min(left[k], head[coming[at]] - now) if at < len(coming) else left[k]
        now, left[k] = now + done, left[k] - done
        if not left[k]:
            heapq.heappop(there)
            best = max(best, now + tail[k])
    return best


def _by_many(
    its: Sequence[int], head: dict[int, int], size: dict[int, int], tail: dict[int, int], many: int
) -> int:
    """Return the slot before which tasks are not done by so many at a time: of every head and tail, what lies beyond both."""
    heads, row = np.unique([head[k] for k in its], return_inverse=True)
    tails, column = np.unique([tail[k] for k in its], return_inverse=True)
    load = np.zeros((len(heads), len(tails)))
    np.add.at(load, (row, column), [size[k] for k in its])
    beyond = load[::-1, ::-1].cumsum(axis=0).cumsum(axis=1)[::-1, ::-1]
    ends = np.where(beyond > 0, heads[:, None] + np.ceil(beyond / many) + tails, 0.0)
    return int(ends.max())


def _on_tool(
    tool: str,
    count: int,
    tasks: Sequence[Task],
    order: Sequence[int],
    jobs: Sequence[int],
    readies: dict[int, float],
    work: Array,
    slots: Array,
) -> tuple[list[float], Array, list[float]]:
    """Return by job the minutes on a tool, the tool's minutes by slot from when it can first be wanted, and by job the slots after it."""
    its = [k for k in order if tasks[k].stands.step.tool == tool]
    load = [sum(float(work[k]) for k in its if tasks[k].job == job) for job in jobs]
    head = min((readies[k] for k in its), default=0.0)
    done = np.cumsum(np.where(slots + QUARTER > head, QUARTER * count, 0)).astype(float)
    after: dict[int, float] = {}
    for k in sorted(order, reverse=True):
        for need in tasks[k].needs:
            after[need] = max(after.get(need, 0.0), after.get(k, 0.0) + float(work[k]) / QUARTER)
    tails = [min((after.get(k, 0.0) for k in its if tasks[k].job == job), default=0.0) for job in jobs]
    return load, done, tails


def _least_order(
    sets: Array, longest: Sequence[float], wanted: Sequence[float | None], slots: Array
) -> float:
    """Return the least of every order of ending; `sets` by set of jobs when the last of them can end, (2^jobs,) slots."""
    many = len(longest)
    least = np.full(1 << many, np.inf)
    least[0] = 0.0
    for some in range(1, 1 << many):
        mine = [k for k in range(many) if some >> k & 1]
        least[some] = min(
            least[some ^ (1 << k)] + cost_of_end(max(float(sets[some]), longest[k]), wanted[k], slots)
            for k in mine
        )
    return float(least[-1])


def _longest(
    tasks: Sequence[Task], order: Sequence[int], people: Sequence[Hours], work: Array, slots: Array
) -> tuple[dict[int, float], dict[int, float]]:
    """Return by job the slot before which it cannot end, were everybody free for it alone; and by task the minute before
    which it cannot begin."""
    ends: dict[int, float] = {}
    readies: dict[int, float] = {}
    found: dict[int, float] = {}
    for k in sorted(order):  # needs stand before what needs them
        task = tasks[k]
        ready = max(
            [0.0, *(ends[need] for need in task.needs)]
            + [ends[need] + days * DAY_MINUTES for need, days in task.lags]
            + [day * DAY_MINUTES for day in (task.from_day, *(one.day for one in task.arrives))]
        )
        readies[k] = ready
        begins = [(person, people[person].start(np.array([ready]))) for person in task.who]
        ends[k] = min(float(people[person].end(begin, work[[k]])[0]) for person, begin in begins)
        slot = float(np.searchsorted(slots, ends[k] - 1e-6))
        found[task.job] = max(found.get(task.job, 0.0), slot)
    return found, readies


def there_of(hours: Hours, slots: Array) -> np.ndarray:
    """Return in which slots a person works, (slots,) bool."""
    k = np.searchsorted(hours.ends, slots, side="right")
    inside = k < len(hours.ends)
    there = np.zeros(len(slots), dtype=bool)
    there[inside] = (hours.begins[k[inside]] <= slots[inside]) & (
        slots[inside] + QUARTER <= hours.ends[k[inside]] + 1e-6
    )
    return there
