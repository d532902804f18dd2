"""What a plan comes to, and what no plan can be better than.

Cost     the slot in which each job ends, by its weight, and every slot past the day it is wanted, more.
Crowd    people who alone can do some of the tasks: what only they can do is not done sooner than they have hours for it.
"""

from collections.abc import Sequence

import numpy as np

from engine.document.people import DAY_MINUTES
from engine.linkage.vectors import Array
from engine.steps.calendar import QUARTER, Hours
from engine.steps.tasks import Task

WANTED_WEIGHT = 4  # of a job with a wanted date
LATE_WEIGHT = 12  # of every slot past it, besides
MOST_JOBS = 12  # of which every order is looked at


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
    there = np.array([there_of(hours, slots) for hours in people])
    for crowd in {task.who for task in (tasks[k] for k in order)}:
        its = list(crowd)
        load = [
            sum(float(work[k]) for k in order if tasks[k].job == job and set(tasks[k].who) <= set(crowd))
            for job in jobs
        ]
        done = np.cumsum(there[its].sum(axis=0)) * QUARTER
        best = max(best, _least_order(load, [longest[job] for job in jobs], done, [wanted[job] for job in jobs], slots))  # fmt: skip
    for tool, count in things.items():
        load, done, tails = _on_tool(tool, count, tasks, order, jobs, readies, work, slots)
        best = max(best, _least_order(load, [longest[job] for job in jobs], done, [wanted[job] for job in jobs], slots, tails))  # fmt: skip
    return best


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
    load: Sequence[float],
    longest: Sequence[float],
    done: Array,
    wanted: Sequence[float | None],
    slots: Array,
    tails: Sequence[float] = (),
) -> float:
    """Return the least of every order of ending; `tails` by job what comes after its share of the load, slots."""
    many = len(load)
    least = np.full(1 << many, np.inf)
    least[0] = 0.0
    for some in range(1, 1 << many):
        mine = [k for k in range(many) if some >> k & 1]
        total = sum(load[k] for k in mine)
        slot = 0.0 if total <= 0 else float(np.searchsorted(done, total - 1e-6) + 1)
        slot += min((tails[k] for k in mine if load[k] > 0), default=0.0) if tails else 0.0
        least[some] = min(
            least[some ^ (1 << k)] + cost_of_end(max(slot, longest[k]), wanted[k], slots) for k in mine
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
