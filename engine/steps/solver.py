"""A better plan than the first one, by a solver of constraints: quarters of an hour, one thing at a time for each person and tool.

Alike     people of the same hours who can do the same are one crowd: so many things at a time, and who does which follows.
Unlike    a crowd of other hours has slots of its own, of those that anybody works: in them a thing takes its own time, and where
          it begins and ends among all slots is looked up.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
from ortools.sat.python import cp_model

from engine.document.people import DAY_MINUTES
from engine.linkage.vectors import Array
from engine.steps.calendar import QUARTER, Hours
from engine.steps.least import LATE_WEIGHT, WANTED_WEIGHT, cost_of, least_cost, on_quarters, there_of
from engine.steps.passing import carried_out
from engine.steps.tasks import Task

WORKERS = 4
SEED = 7
GOOD_ENOUGH = 0.01  # of its bound: then it is not sought further
FEW = 40  # steps: one job of a vehicle
BUSY = 6  # times so long may a machine take that has other work

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
    if len(order) <= FEW:
        # One worker, stopped by what it has done and not by the clock: the same question has the same plan, however busy the machine.
        solver.parameters.num_workers = 1
        solver.parameters.max_deterministic_time = seconds
        solver.parameters.max_time_in_seconds = BUSY * seconds
    solver.parameters.random_seed = SEED
    solver.parameters.linearization_level = 0  # the bound is our own: all its time goes into better plans
    solver.parameters.relative_gap_limit = GOOD_ENOUGH
    status = solver.solve(model.model)
    before = cost_of(tasks, hint.end[:, 0], wanted, slots)
    if status in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        if on_quarters(people):  # else its slots are only near what is carried out
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
        self.size = {k: max(1, round(float(work[k]) / QUARTER)) for k in order}
        self.there = [there_of(hours, slots) for hours in people]
        self.alike = all(np.array_equal(self.there[0], one) for one in self.there) and all(
            len(tasks[k].who) == len(people) for k in order
        )
        horizon = len(slots)
        self.start = {k: self.model.new_int_var(0, horizon, f"s{k}") for k in order}
        self.end = {k: self.model.new_int_var(0, horizon, f"e{k}") for k in order}
        self.crowds = _crowds(tasks, order, self.there)
        self.done_by: dict[tuple[int, int], Any] = {}
        self.own: dict[tuple[int, int], Any] = {}
        self.whole = {
            k: self.model.new_interval_var(self.start[k], self.size[k], self.end[k], f"i{k}")
            if self.alike
            else self.model.new_interval_var(
                self.start[k], self.model.new_int_var(self.size[k], horizon, f"d{k}"), self.end[k], f"i{k}"
            )
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
        optional: dict[int, list[Any]] = {number: [] for number in range(len(self.crowds))}
        own_slots = [np.flatnonzero(self.there[crowd[0]]) for crowd in self.crowds]
        for k in self.order:
            for number, crowd in enumerate(self.crowds):
                if crowd[0] in self.tasks[k].who and len(own_slots[number]) >= self.size[k]:
                    optional[number].append(self._by_crowd(k, number, own_slots[number], who[k] in crowd))
            self.model.add_exactly_one(self.done_by[k, n] for n in optional if (k, n) in self.done_by)
        for number, its in optional.items():
            self.model.add_cumulative(its, [1] * len(its), len(self.crowds[number]))

    def _by_crowd(self, k: int, number: int, slots: Any, hinted: bool) -> Any:
        """Return a task's interval among a crowd's own slots, there if that crowd does it; its place among all slots follows."""
        model, size = self.model, self.size[k]
        begun = model.new_int_var(0, len(slots) - size, f"c{k}_{number}")
        does = model.new_bool_var(f"p{k}_{number}")
        self.own[k, number], self.done_by[k, number] = begun, does
        at = int(np.searchsorted(slots, np.searchsorted(self.slots, float(self.hint.start[k, 0]) - 1e-6)))
        at = min(at, len(slots) - size)
        if len(slots) == len(self.slots):
            model.add(self.start[k] == begun).only_enforce_if(does)
            model.add(self.end[k] == begun + size).only_enforce_if(does)
        else:
            last = len(slots) - size + 1
            self._no_sooner(self.start[k], begun, slots[:last], at, does)
            self._no_sooner(self.end[k], begun, slots[size - 1 :] + 1, at, does)
        model.add_hint(does, hinted)
        model.add_hint(begun, at)
        return model.new_optional_interval_var(begun, size, begun + size, does, f"o{k}_{number}")

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
        self._no_sooner(self.start[k], self.end[need], first, self.hinted(need))

    def _no_sooner(self, then: Any, when: Any, table: Any, hinted: int, same: Any = None) -> None:
        """Let something be no sooner than a rising table says of when: piece by piece, in each flat or rising by ones.

        hinted : what `when` is in the plan that is there already; same : a condition under which it is just then
        """
        on = []
        for low, high, flat in _pieces(table):
            here = self.model.new_bool_var("")
            on.append(here)
            self.model.add_linear_constraint(when, low, high).only_enforce_if(here)
            value = int(table[low]) if flat else when + int(table[low]) - low
            if same is None:
                self.model.add(then >= value).only_enforce_if(here)
            else:
                self.model.add(then == value).only_enforce_if(here, same)
            self.model.add_hint(here, low <= hinted <= high)
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
        self.model.add(sum(terms) >= int(np.ceil(least - 1e-6)))

    def who(self, solver: Any, order: Sequence[int]) -> list[int]:
        """Return who does each task: as the solver has it, or of a crowd whoever is free the longest."""
        found = [task.who[0] if task.who else 0 for task in self.tasks]
        free = [0] * len(self.people)
        for k in order:
            crowd, begin, end = self._when(solver, k)
            can = [person for person in crowd if free[person] <= begin]
            # Who did the last thing there goes on with it.
            same = [person for person in can if any(found[n] == person for n in self.tasks[k].needs)]
            found[k] = (same or can or [min(crowd, key=lambda person: free[person])])[0]
            free[found[k]] = end
        return found

    def _when(self, solver: Any, k: int) -> tuple[Sequence[int], int, int]:
        """Return which crowd does a task, and from when to when in that crowd's own slots."""
        if self.alike:
            return range(len(self.people)), solver.value(self.start[k]), solver.value(self.end[k])
        number = next(
            n for n in range(len(self.crowds)) if (k, n) in self.done_by and solver.value(self.done_by[k, n])
        )
        begin = solver.value(self.own[k, number])
        return self.crowds[number], begin, begin + self.size[k]


def _pieces(table: Array) -> list[tuple[int, int, bool]]:
    """Return a rising table's pieces: first and last place, and whether it is flat there; else it rises by ones."""
    found = []
    steps = np.diff(table)
    low = 0
    while low < len(table):
        runs = [
            low + (int(np.argmax(steps[low:] != rise)) if (steps[low:] != rise).any() else len(steps) - low)
            for rise in (1, 0)
        ]
        high = max(runs)
        found.append((low, high, runs[1] > runs[0]))
        low = high + 1
    return found


def _crowds(tasks: Sequence[Task], order: Sequence[int], there: Sequence[Array]) -> list[list[int]]:
    """Return the people by crowds: of the same hours, who can do the same."""
    found: dict[tuple[bytes, tuple[int, ...]], list[int]] = {}
    for person, its in enumerate(there):
        can = tuple(k for k in order if person in tasks[k].who)
        found.setdefault((its.tobytes(), can), []).append(person)
    return list(found.values())
