"""A better plan than the first one, by a solver of constraints: quarters of an hour, one thing at a time for each person and tool.

Alike     people of the same hours who can do the same are one crowd: so many things at a time, and who does which follows.
Unlike    who is there half of the slots takes twice as many for a thing: near enough to choose by, and what is chosen is then
          carried out by everybody's own hours.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
from ortools.sat.python import cp_model

from engine.document.people import DAY_MINUTES
from engine.linkage.vectors import Array
from engine.steps.calendar import QUARTER, Hours
from engine.steps.least import LATE_WEIGHT, WANTED_WEIGHT, cost_of, least_cost, there_of
from engine.steps.passing import carried_out
from engine.steps.tasks import Task

WORKERS = 4
SEED = 7
GOOD_ENOUGH = 0.01  # of its bound: then it is not sought further

Ordered = tuple[list[int], list[int]]


def improved(
    tasks: Sequence[Task],
    order: list[int],
    who: list[int],
    people: Sequence[Hours],
    things: dict[str, int],
    work: Array,
    wanted: Sequence[float | None],
    seconds: float,
) -> tuple[list[int], list[int], float]:
    """Return a plan no worse than the one given (the order of beginning, by whom), and its bound over what it comes to."""
    hint = carried_out(tasks, order, who, people, things, work[:, None])
    slots = _slots(people, float(np.max(hint.end[order])))
    least = least_cost(tasks, order, people, work, wanted, slots, things)
    model = _Model(tasks, order, who, people, things, work, wanted, slots, hint, least)
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = SEED
    solver.parameters.relative_gap_limit = GOOD_ENOUGH
    status = solver.solve(model.model)
    before = cost_of(tasks, hint.end[:, 0], wanted, slots)
    if status in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        if model.alike and model.exact:  # else its slots are only near what is carried out
            least = max(least, solver.best_objective_bound)
        begun = {k: solver.value(model.start[k]) for k in order}
        new_order = sorted(order, key=lambda k: (begun[k], order.index(k)))
        new_who = model.who(solver, new_order)
        after = carried_out(tasks, new_order, new_who, people, things, work[:, None])
        cost = cost_of(tasks, after.end[:, 0], wanted, slots)
        if cost < before:
            return new_order, new_who, min(1.0, least / max(cost, 1e-9))
    return order, who, min(1.0, least / max(before, 1e-9))


def _slots(people: Sequence[Hours], until: float) -> Array:
    """Return the minutes at which the slots begin in which anybody works, to the end of the first plan and a little more."""
    every: set[float] = set()
    for hours in people:
        for one, other in zip(hours.begins, hours.ends, strict=True):
            if one > until + DAY_MINUTES:
                break
            # The solver's quarters lie on the hour's quarters: a stretch that does not begin on one loses what is before it.
            begin = QUARTER * np.ceil(one / QUARTER)
            every.update(np.arange(begin, other - QUARTER + 1e-6, QUARTER).tolist())
    return np.array(sorted(every))


class _Model:
    """The jobs as the solver has them."""

    def __init__(
        self,
        tasks: Sequence[Task],
        order: Sequence[int],
        who: Sequence[int],
        people: Sequence[Hours],
        things: dict[str, int],
        work: Array,
        wanted: Sequence[float | None],
        slots: Array,
        hint: Any,
        least: float,
    ) -> None:
        self.model = cp_model.CpModel()
        self.tasks, self.people, self.slots, self.wanted = tasks, people, slots, wanted
        self.order, self.hint = order, hint
        self.exact = True
        self.size = {k: max(1, round(float(work[k]) / QUARTER)) for k in order}
        self.there = [there_of(hours, slots) for hours in people]
        self.alike = all(np.array_equal(self.there[0], one) for one in self.there) and all(
            len(tasks[k].who) == len(people) for k in order
        )
        horizon = len(slots)
        self.start = {k: self.model.new_int_var(0, horizon, f"s{k}") for k in order}
        self.end = {k: self.model.new_int_var(0, horizon, f"e{k}") for k in order}
        self.present: dict[tuple[int, int], Any] = {}
        self.optional: dict[tuple[int, int], Any] = {}
        self.whole = {
            k: self.model.new_interval_var(
                self.start[k],
                self.model.new_int_var(self.size[k], horizon, f"d{k}"),
                self.end[k],
                f"i{k}",
            )
            if not self.alike
            else self.model.new_interval_var(self.start[k], self.size[k], self.end[k], f"i{k}")
            for k in order
        }
        self._people(who)
        self._order_of_work()
        for tool, count in things.items():
            its = [self.whole[k] for k in order if tasks[k].stands.step.tool == tool]
            if len(its) > count:
                self.model.add_cumulative(its, [1] * len(its), count)
        self._aim(horizon, least)
        for k in order:
            self.model.add_hint(self.start[k], int(np.searchsorted(slots, float(hint.start[k, 0]) - 1e-6)))
            self.model.add_hint(self.end[k], self.hinted(k))

    def hinted(self, k: int) -> int:
        """Return the slot in which a task ends in the plan that is there already."""
        return int(np.searchsorted(self.slots, float(self.hint.end[k, 0]) - 1e-6))

    def _people(self, who: Sequence[int]) -> None:
        if self.alike:
            its = list(self.whole.values())
            if len(self.people) == 1:
                self.model.add_no_overlap(its)
                return
            self.model.add_cumulative(its, [1] * len(its), len(self.people))
            return
        for k in self.order:
            for person in self.tasks[k].who:
                self.present[k, person] = self.model.new_bool_var(f"p{k}_{person}")
                size = max(1, round(self.size[k] * len(self.slots) / max(self.there[person].sum(), 1)))
                self.optional[k, person] = self.model.new_optional_interval_var(
                    self.start[k], size, self.end[k], self.present[k, person], f"o{k}_{person}"
                )
                self.model.add_hint(self.present[k, person], person == who[k])
            self.model.add_exactly_one(self.present[k, person] for person in self.tasks[k].who)
        for person in range(len(self.people)):
            self.model.add_no_overlap([its for (_, one), its in self.optional.items() if one == person])

    def _order_of_work(self) -> None:
        for k in self.order:
            task = self.tasks[k]
            for need in task.needs:
                self.model.add(self.start[k] >= self.end[need])
            for need, days in task.lags:
                self._after_days(k, need, days)
            for day in (task.from_day, *(one.day for one in task.arrives)):
                first = int(np.searchsorted(self.slots, day * DAY_MINUTES - 1e-6))
                self.model.add(self.start[k] >= min(first, len(self.slots)))

    def _after_days(self, k: int, need: int, days: float) -> None:
        """Let a task begin so many days after another one has ended: day by day of that end, since weekends lie between."""
        # What ends in a slot ends a quarter after that slot begins.
        ends = np.concatenate([[self.slots[0]], self.slots + QUARTER])
        first = np.searchsorted(self.slots, ends + days * DAY_MINUTES - 1e-6)
        of_day = ((ends - QUARTER / 2) // DAY_MINUTES).astype(int)
        on = []
        for day in np.unique(of_day):
            mine = np.flatnonzero(of_day == day)
            here = self.model.new_bool_var(f"w{k}_{day}")
            on.append(here)
            self.model.add_linear_constraint(self.end[need], int(mine[0]), int(mine[-1])).only_enforce_if(
                here
            )
            after, wait = first[mine], first[mine] - mine
            if (after == after[0]).all():
                self.model.add(self.start[k] >= int(after[0])).only_enforce_if(here)
            else:
                self.exact &= bool((wait == wait[0]).all())
                self.model.add(self.start[k] >= self.end[need] + int(wait.max())).only_enforce_if(here)
            self.model.add_hint(here, int(self.hinted(need)) in range(mine[0], mine[-1] + 1))
        self.model.add_exactly_one(on)

    def _aim(self, horizon: int, least: float) -> None:
        terms = []
        for job, when in enumerate(self.wanted):
            mine = [k for k in self.order if self.tasks[k].job == job]
            if not mine:
                continue
            done = self.model.new_int_var(0, horizon, f"j{job}")
            for k in mine:
                self.model.add(done >= self.end[k])
            terms.append(done * (1 if when is None else WANTED_WEIGHT))
            if when is not None:
                late = self.model.new_int_var(0, horizon, f"l{job}")
                self.model.add(late >= done - int(np.searchsorted(self.slots, when - 1e-6)))
                terms.append(late * LATE_WEIGHT)
        self.model.minimize(sum(terms))
        if self.alike:
            self.model.add(sum(terms) >= int(np.ceil(least - 1e-6)))

    def who(self, solver: Any, order: Sequence[int]) -> list[int]:
        """Return who does each task: as the solver has it, or of a crowd whoever is free the longest."""
        found = [task.who[0] if task.who else 0 for task in self.tasks]
        if not self.alike:
            for k in order:
                found[k] = next(p for p in self.tasks[k].who if solver.value(self.present[k, p]))
            return found
        free = [0] * len(self.people)
        for k in order:
            begin = solver.value(self.start[k])
            can = [p for p in range(len(self.people)) if free[p] <= begin]
            # Who did the last thing there goes on with it.
            same = [p for p in can if any(found[n] == p for n in self.tasks[k].needs)]
            found[k] = (same or can or [int(np.argmin(free))])[0]
            free[found[k]] = solver.value(self.end[k])
        return found
