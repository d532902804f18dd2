"""A plan carried out: every task as soon as it can be, in the plan's order, by whom the plan says; one or many times over.

Held by   what a task's beginning hung on: another task that it needs, the person, the tool, or something that had to come.
"""

from collections.abc import Sequence

import numpy as np

from engine.document.people import DAY_MINUTES
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.steps.calendar import Hours
from engine.steps.tasks import Task

HELD = "the day it is held to"


@facts
class Passed:
    """When each task began and ended, (tasks, samples) minutes, infinite where never; what held each in the first sample.

    held : a task's number, or what had to come; None where nothing held it
    """

    start: Array
    end: Array
    held: tuple[int | str | None, ...]


def carried_out(
    tasks: Sequence[Task],
    order: Sequence[int],
    who: Sequence[int],
    people: Sequence[Hours],
    things: dict[str, int],
    work: Array,
    late: Array | None = None,
) -> Passed:
    """Return a plan carried out.

    order : the tasks' numbers as they are begun; who : by task, the number of its person
    work  : (tasks, samples) minutes; late : (tasks, samples) days that what each waits for comes late
    """
    samples = work.shape[1]
    start, end = (np.full((len(tasks), samples), np.inf) for _ in range(2))
    free = np.zeros((len(people), samples))
    last: dict[int, int] = {}
    tools = {name: np.zeros((count, samples)) for name, count in things.items()}
    on_tool: dict[tuple[str, int], int] = {}
    held: list[int | str | None] = [None] * len(tasks)
    for number in order:
        task, person = tasks[number], who[number]
        bounds: list[tuple[Array, int | str | None]] = [
            (np.full(samples, task.from_day * DAY_MINUTES), HELD if task.from_day else None)
        ]
        bounds += [(end[need], need) for need in task.needs]
        slip = np.zeros(samples) if late is None else late[number]
        bounds += [(end[need] + (days + slip) * DAY_MINUTES, need) for need, days in task.lags]
        bounds += [
            ((one.day + slip) * DAY_MINUTES, f"{one.what}, due on day {one.day}") for one in task.arrives
        ]
        bounds.append((free[person], last.get(person)))
        tool = task.stands.step.tool
        which = 0
        if tool is not None:
            which = int(tools[tool][:, 0].argmin())
            bounds.append((tools[tool][which], on_tool.get((tool, which))))
        ready = np.max([np.broadcast_to(bound, samples) for bound, _ in bounds], axis=0)
        latest = max(range(len(bounds)), key=lambda k: float(np.broadcast_to(bounds[k][0], samples)[0]))
        held[number] = _what(bounds, latest, task)
        start[number] = people[person].start(ready)
        end[number] = people[person].end(start[number], work[number])
        free[person], last[person] = end[number], number
        if tool is not None:
            tools[tool][which] = end[number]
            on_tool[tool, which] = number
    return Passed(start=start, end=end, held=tuple(held))


def _what(bounds: Sequence[tuple[Array, int | str | None]], latest: int, task: Task) -> int | str | None:
    what = bounds[latest][1]
    if isinstance(what, str) and what != HELD:
        return max(task.arrives, key=lambda one: one.day).what
    return what
