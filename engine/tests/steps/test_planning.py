"""Who does what when, by second routes: every plan looked through for what cannot be; the bound beside every plan of a small shop."""

import itertools
import json
from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any
from unittest import TestCase

import numpy as np

from engine.document.people import DAY_MINUTES, Arrival, Held, Person, Shop, read_shop, stretches_of
from engine.errors import DocumentRefused
from engine.sentences import Sentence
from engine.steps.calendar import QUARTER, hours_of_person
from engine.steps.least import cost_of, least_cost
from engine.steps.passing import carried_out
from engine.steps.planning import Plan, begun, plan_of
from engine.steps.solver import _slots
from engine.steps.states import JobSteps, StepStands
from engine.steps.step import BY_KEY, STEPS
from engine.steps.tasks import Task, awaiting, tasks_of

FIRST = date(2026, 12, 2)  # a Wednesday


def job(name: str, stations: Sequence[str] = ("Front", "Rear"), lag: float = 5.0, **hours: float) -> JobSteps:
    """Return a job with everything still to do; hours by step, an hour if nothing else is said."""
    steps: list[StepStands] = []
    for step in STEPS:
        for station in stations if step.per == "station" else [None]:
            needs: list[tuple[str | None, str]] = []
            for need in step.needs:
                if BY_KEY[need].per == "vehicle":
                    needs.append((None, need))
                else:
                    needs += [(one, need) for one in (stations if station is None else [station])]
            if step.key == "rocker":
                continue
            needs = [one for one in needs if one[1] != "rocker"]
            its = hours.get(step.key, 1.0)
            steps.append(
                StepStands(
                    station=station,
                    step=step,
                    state="waits",
                    say=Sentence("Still to do."),
                    why="",
                    waits_for=(),
                    spoils=None,
                    hours=(its * 0.7, its, its * 1.6),
                    needs=tuple(needs),
                    lag_days=lag if step.key == "cycle" else 0.0,
                )
            )
    return JobSteps(name=name, stations=tuple(stations), steps=tuple(steps))


def planned(jobs: list[JobSteps], shop: Shop, seconds: float = 0.5) -> tuple[list[Task], Plan]:
    tasks, _ = tasks_of(jobs, shop, FIRST)
    return tasks, plan_of(tasks, [one.name for one in jobs], shop, FIRST, seconds)


UNLIKE = Shop(
    people=[
        Person(name="Ines", hours={"mon": ["08:00-12:00"], "thu": ["09:00-15:00"], "fri": ["07:00-11:30", "12:15-18:00"]}, away=["2026-12-10"]),
        Person(name="Bo", can=["make", "tack", "weld", "cycle"]),
        Person(name="Ulla", hours={"sat": ["08:00-13:00"], "wed": ["08:00-12:00", "13:00-17:00"]}),
    ],
    arrivals=[Arrival(job="Cart", part="Front, damper", date="2026-12-17")],
    wanted={"Cart": "2026-12-30"},
)  # fmt: skip


class Plans(TestCase):
    def looked_through(self, jobs: list[JobSteps], shop: Shop, tasks: list[Task], plan: Plan) -> None:
        """Fail where somebody works outside his hours or at two things, or a task before what it needs."""
        spans: dict[int, list[tuple[float, float]]] = {}
        for entry in plan.entries:
            spans.setdefault(entry.task, []).append((entry.start, entry.end))
            person = shop.people[entry.who]
            self.assertIn(entry.who, tasks[entry.task].who)
            day = int(entry.start // DAY_MINUTES)
            when = FIRST + timedelta(days=day)
            self.assertNotIn(when.isoformat(), person.away)
            within = [
                one <= entry.start - day * DAY_MINUTES and entry.end - day * DAY_MINUTES <= other
                for one, other in stretches_of(person, ("mon", "tue", "wed", "thu", "fri", "sat", "sun")[when.weekday()])  # type: ignore[arg-type]
            ]  # fmt: skip
            self.assertTrue(any(within), (person.name, when, entry))
        for who in range(len(shop.people)):
            mine = sorted((one.start, one.end) for one in plan.entries if one.who == who)
            for one, other in itertools.pairwise(mine):
                self.assertLessEqual(one[1], other[0] + 1e-6)
        for number, task in enumerate(tasks):
            begin, end = min(one for one, _ in spans[number]), max(other for _, other in spans[number])
            worked = sum(other - one for one, other in spans[number])
            self.assertAlmostEqual(worked, QUARTER * max(1, round(task.hours[1] * 4)), 6)
            for need in task.needs:
                self.assertGreaterEqual(begin + 1e-6, max(other for _, other in spans[need]))
            for need, days in task.lags:
                self.assertGreaterEqual(
                    begin + 1e-6, max(other for _, other in spans[need]) + days * DAY_MINUTES
                )
            for one in task.arrives:
                self.assertGreaterEqual(begin + 1e-6, one.day * DAY_MINUTES)
            self.assertGreater(end, begin)
        for tool in ("welder", "lift"):
            mine = sorted(
                (min(a for a, _ in spans[k]), max(b for _, b in spans[k]))
                for k, task in enumerate(tasks)
                if task.stands.step.tool == tool
            )
            for one, other in itertools.pairwise(mine):
                self.assertLessEqual(one[1], other[0] + 1e-6)

    def test_nobody_does_two_things_or_works_when_away(self) -> None:
        for shop in (Shop(), UNLIKE, Shop(people=[Person(name=name) for name in "abc"])):
            jobs = [job("Cart", make=7.0), job("Sled", ("Front",), weld=3.5)]
            tasks, plan = planned(
                jobs, shop.model_copy(update={"wanted": {k: v for k, v in shop.wanted.items()}})
            )
            self.looked_through(jobs, shop, tasks, plan)
            self.assertTrue(0 < plan.bound <= 1)
            for finish in plan.finish:
                assert finish is not None
                self.assertTrue(finish[0] <= finish[1] <= finish[2])

    def test_no_plan_of_a_small_shop_is_better_than_the_bound(self) -> None:
        """Every order of beginning that keeps the needs, carried out: none comes to less than the bound says."""
        tasks, _ = tasks_of([job("Cart", ("Front",), lag=0.0)], Shop(), FIRST)
        few = [k for k, task in enumerate(tasks) if task.stands.step.key in ("layout", "springing", "stops")]
        both: list[Task] = []
        for number in range(2):
            for place, k in enumerate(few):
                need = (len(both) - 1,) if place else ()
                both.append(
                    Task(job=number, stands=tasks[k].stands, hours=(1.0, 1.5 + 1.25 * number + 0.5 * place, 4.0),
                         needs=need, lags=(), arrives=(), who=(0,))
                )  # fmt: skip
        for wanted in ([None, None], [None, 700.0], [3000.0, 900.0]):
            people = [hours_of_person(Person(name="a"), FIRST, 40)]
            work = np.array([60 * task.hours[1] for task in both])
            costs = []
            for order in itertools.permutations(range(len(both))):
                if all(
                    order.index(need) < order.index(k) for k, task in enumerate(both) for need in task.needs
                ):
                    passed = carried_out(
                        both, order, [0] * 6, people, {"welder": 1, "lift": 1}, work[:, None]
                    )
                    slots = _slots(people, 20000.0)
                    costs.append(cost_of(both, passed.end[:, 0], wanted, slots))
            least = least_cost(both, range(6), people, work, wanted, slots, {"welder": 1, "lift": 1})
            self.assertLessEqual(least, min(costs) + 1e-6)
            self.assertGreater(least, 0.9 * min(costs))

    def test_no_plan_of_a_larger_shop_is_better_than_the_bound(self) -> None:
        """Plans of three jobs by chance, alike and unlike, in any order that keeps the needs, by anybody: the bound holds."""
        chance = np.random.default_rng(3)
        jobs = [
            job("Cart", weld=6.0, lag=4.0),
            job("Barrow", ["Rear"], weld=9.0),
            job("Sledge", tack=3.0, make=5.0),
        ]
        two = Shop(people=[Person(name="Ines"), Person(name="Bo")])
        for shop in (two, UNLIKE):
            tasks, _ = tasks_of(jobs, shop, FIRST)
            work = np.array(
                [QUARTER * max(1, round(60 * task.hours[1] / QUARTER)) for task in tasks], dtype=float
            )
            people = [hours_of_person(one, FIRST, 900) for one in shop.people]
            wanted = [None if one.name not in shop.wanted else 29 * DAY_MINUTES for one in jobs]
            things = {"welder": 1, "lift": 1}
            every = range(len(tasks))
            costs, least = [], 0.0
            for _ in range(120):
                keen = (
                    chance.normal(size=len(tasks)) + np.array([task.job for task in tasks]) * chance.normal()
                )
                order: list[int] = []
                while len(order) < len(tasks):
                    could = [
                        k
                        for k in every
                        if k not in order and {*tasks[k].needs, *(n for n, _ in tasks[k].lags)} <= set(order)
                    ]
                    order.append(min(could, key=lambda k: keen[k]))
                who = [int(chance.choice(task.who)) for task in tasks]
                passed = carried_out(tasks, order, who, people, things, work[:, None])
                slots = _slots(people, float(passed.end.max()))
                costs.append(cost_of(tasks, passed.end[:, 0], wanted, slots))
                least = least_cost(tasks, list(every), people, work, wanted, slots, things)
                self.assertLessEqual(least, costs[-1] + 1e-6)
            plan = plan_of(tasks, [one.name for one in jobs], shop, FIRST, 1.0)
            self.assertLessEqual(plan.bound, 1.0)
            self.assertGreater(plan.bound, 0.6)

    def test_what_is_wanted_sooner_is_done_sooner(self) -> None:
        jobs = [job("Cart"), job("Sled")]
        for soon in ("Cart", "Sled"):
            _, plan = planned(jobs, Shop(wanted={soon: "2026-12-12"}), 1.0)
            ends = {one.name: finish for one, finish in zip(jobs, plan.finish, strict=True)}
            other = "Sled" if soon == "Cart" else "Cart"
            self.assertLess(ends[soon], ends[other])  # type: ignore[operator]

    def test_a_delivery_moved_moves_the_plan(self) -> None:
        ends = []
        for day in ("2026-12-10", "2027-01-20"):
            shop = Shop(arrivals=[Arrival(job="Cart", part="spring", date=day)])
            _, plan = planned([job("Cart", lag=0.0)], shop)
            assert plan.finish[0] is not None
            ends.append(plan.finish[0][1])
        self.assertGreater(ends[1], ends[0])
        self.assertIn("spring comes", plan.hangs_on[0])

    def test_a_shop_with_nothing_left_to_do_has_an_empty_plan(self) -> None:
        done = replace(job("Cart"), steps=tuple(replace(one, state="done") for one in job("Cart").steps))
        for jobs in ([], [done], [done, done]):
            tasks, plan = planned(
                jobs, Shop(people=[Person(name="a"), Person(name="b", hours={"mon": ["08:00-12:00"]})])
            )
            self.assertEqual((tasks, plan.entries, plan.undone, plan.bound), ([], (), (), 1.0))
            self.assertEqual(plan.finish, (None,) * len(jobs))
            self.assertEqual(plan.hangs_on, ((),) * len(jobs))

    def test_a_plan_is_no_worse_than_the_one_before_with_what_has_changed(self) -> None:
        jobs = [job("Cart", make=7.0), job("Sled", ("Front",), weld=3.5), job("Boat", ("Rear",))]
        names = [one.name for one in jobs]
        shop = Shop(people=[Person(name=name) for name in "abc"])
        tasks, long = planned(jobs, shop, 3.0)
        was = begun(long, tasks, names, shop)
        self.assertEqual(len(was), len(tasks))

        def total(plan: Plan) -> float:
            return sum(max(e.end for e in plan.entries if tasks[e.task].job == k) for k in range(len(jobs)))

        # No time to look for anything: the same again, not one of the first plans.
        again = plan_of(tasks, names, shop, FIRST, 0.01, was)
        self.assertLessEqual(total(again), total(long) + 1e-6)
        held = shop.model_copy(update={"held": [Held(job="Boat", station="Rear", step="make", who="c")]})
        tasks, _ = tasks_of(jobs, held, FIRST)
        moved = plan_of(tasks, names, held, FIRST, 0.01, was)
        self.looked_through(jobs, held, tasks, moved)
        # Somebody has left, a job is new: what was planned does not fit any more, and nothing is made of it that should not be.
        fewer = Shop(people=[Person(name="a"), Person(name="d")])
        more = [*jobs, job("Kite")]
        tasks, _ = tasks_of(more, fewer, FIRST)
        self.looked_through(
            more, fewer, tasks, plan_of(tasks, [one.name for one in more], fewer, FIRST, 0.3, was)
        )
        tasks, _ = tasks_of(jobs, fewer, FIRST)
        self.looked_through(jobs, fewer, tasks, plan_of(tasks, names, fewer, FIRST, 0.3, was))

    def test_what_is_held_is_kept_by_every_plan_and_what_cannot_be_held_is_said(self) -> None:
        jobs = [job("Cart", make=7.0), job("Sled", ("Front",))]
        held = [
            Held(job="Cart", station="Rear", step="make", who="Bo", day="2026-12-14"),
            Held(job="Sled", step="weigh", who="Ines"),
            Held(job="Sled", station="Front", step="layout", day="2027-02-01"),
        ]
        for shop in (UNLIKE, Shop(people=[Person(name=name) for name in ("Ines", "Bo", "Ulla")])):
            kept = shop.model_copy(update={"held": held})
            tasks, plan = planned(jobs, kept)
            self.looked_through(jobs, kept, tasks, plan)
            for one in held:
                (k,) = (
                    k
                    for k, its in enumerate(tasks)
                    if (jobs[its.job].name, its.stands.station, its.stands.step.key)
                    == (one.job, one.station, one.step)
                )
                mine = [entry for entry in plan.entries if entry.task == k]
                if one.who is not None:
                    self.assertEqual({shop.people[entry.who].name for entry in mine}, {one.who})
                if one.day is not None:
                    begun = FIRST + timedelta(days=min(entry.start for entry in mine) // DAY_MINUTES)
                    self.assertGreaterEqual(begun, date.fromisoformat(one.day))
            assert plan.finish[1] is not None
            self.assertGreater(plan.finish[1][0], date(2027, 2, 1))
            self.assertEqual(plan.hangs_on[1][0], "the day it is held to comes")
        gone = replace(jobs[1], steps=tuple(one for one in jobs[1].steps if one.step.key != "weigh"))
        _, said = tasks_of([jobs[0], gone], kept, FIRST)
        self.assertIn("Sled: weigh is held, and this job has no such step.", said)
        for wrong, words in (
            ({"job": "Boat", "step": "weld", "who": "Bo"}, 'no job here is called "Boat"'),
            ({"job": "Cart", "step": "paint", "who": "Bo"}, '"paint" is no step'),
            ({"job": "Cart", "step": "weld", "who": "Zoe"}, 'nobody here is called "Zoe"'),
            ({"job": "Cart", "step": "weld"}, "says neither who nor from which day"),
            ({"job": "Cart", "step": "weld", "day": "Friday"}, "write a day as"),
        ):
            with self.assertRaises(DocumentRefused) as refused:
                read_shop(json.dumps({"people": [{"name": "Bo"}], "held": [wrong]}), ["Cart"], list(BY_KEY))
            self.assertIn(words, str(refused.exception.faults))

    def test_what_is_on_its_way_is_said_at_the_step_that_waits_for_it(self) -> None:
        shop = Shop(arrivals=[Arrival(job="Cart", part="Rear, damper", date="2026-12-10")])
        its = job("Cart")
        ready = replace(its, steps=tuple(replace(one, state="next") for one in its.steps))
        waits = {(one.station, one.step.key): one for one in awaiting(ready, shop, FIRST).steps}
        self.assertEqual(waits["Rear", "cycle"].state, "waits")
        self.assertIn("Rear, damper (due 2026-12-10)", waits["Rear", "cycle"].waits_for)
        self.assertEqual((waits["Front", "cycle"].state, waits["Rear", "make"].state), ("next", "next"))
        late = awaiting(ready, shop, date(2026, 12, 10)).steps
        self.assertTrue(all(one.state == "next" for one in late))

    def test_a_step_that_nobody_can_do_is_left_out_and_so_is_what_needs_it(self) -> None:
        shop = Shop(people=[Person(name="a", can=[step.key for step in STEPS if step.key != "weld"])])
        tasks, plan = planned([job("Cart")], shop)
        left = {tasks[k].stands.step.key for k in plan.undone}
        self.assertEqual(left, {"weld", "weigh", "set", "drive"})
        self.assertIsNone(plan.finish[0])
        self.assertNotIn("weld", {tasks[one.task].stands.step.key for one in plan.entries})

    def test_the_same_question_has_the_same_chances(self) -> None:
        one, other = (planned([job("Cart")], Shop())[1].finish for _ in range(2))
        self.assertEqual(one, other)


class Hours(TestCase):
    def test_a_clock_that_stands_still_while_he_is_away(self) -> None:
        """By a second route: a minute at a time."""
        person = Person(name="a", hours={"wed": ["08:00-10:00"], "thu": ["09:00-09:30", "13:00-14:00"]}, away=["2026-12-03"])  # fmt: skip
        hours = hours_of_person(person, FIRST, 16)
        minutes = [
            minute
            for day in range(16)
            for one, other in (
                stretches_of(person, ("mon", "tue", "wed", "thu", "fri", "sat", "sun")[(day + 2) % 7])  # type: ignore[arg-type]
                if (FIRST + timedelta(days=day)).isoformat() not in person.away
                else []
            )
            for minute in range(day * DAY_MINUTES + one, day * DAY_MINUTES + other)
        ]
        for begin in (0, 500, 560, 1000, 12000):
            for work in (15, 60, 100, 150):
                after = [minute for minute in minutes if minute >= begin][:work]
                start = hours.start(np.array([float(begin)]))
                self.assertEqual(start[0], after[0])
                self.assertAlmostEqual(hours.end(start, np.array([float(work)]))[0], after[-1] + 1)


class Files(TestCase):
    def refused(self, values: Any) -> str:
        with self.assertRaises(DocumentRefused) as caught:
            read_shop(json.dumps(values), ["Cart"], list(BY_KEY))
        return "\n".join(str(fault) for fault in caught.exception.faults)

    def test_what_is_wrong_is_said_with_its_path(self) -> None:
        for values, path, words in (
            ({"people": [{"name": "a", "hours": {"mon": ["8-12"]}}]}, "people[0].hours.mon[0]", "08:00"),
            ({"people": [{"name": "a", "hours": {"mon": ["12:00-08:00"]}}]}, "people[0].hours.mon[0]", "earlier"),
            ({"people": [{"name": "a", "hours": {"mon": ["08:00-12:00", "11:00-13:00"]}}]}, "people[0].hours.mon", "overlap"),
            ({"people": [{"name": "a", "hours": {"moon": []}}]}, "people[0].hours", ""),
            ({"people": [{"name": "a", "hours": {}}]}, "people[0].hours", "no hours"),
            ({"people": [{"name": "a"}, {"name": "a"}]}, "people[1].name", "twice"),
            ({"people": [{"name": "a", "can": ["dance"]}]}, "people[0].can[0]", "no step"),
            ({"people": [{"name": "a", "away": ["24.12.26"]}]}, "people[0].away[0]", "2026-12-24"),
            ({"arrivals": [{"job": "Boat", "part": "spring", "date": "2026-12-24"}]}, "arrivals[0].job", "Cart"),
            ({"wanted": {"Boat": "2026-12-24"}}, "wanted.Boat", "Cart"),
            ({"zone": "Middle Earth"}, "zone", "time zone"),
        ):  # fmt: skip
            said = self.refused(values)
            self.assertIn(path, said)
            self.assertIn(words, said)

    def test_left_out_is_one_person_in_the_usual_week(self) -> None:
        shop = read_shop("{}", [], [])
        self.assertEqual([stretches_of(shop.people[0], day) for day in ("mon", "sat")], [[(480, 720), (780, 1020)], []])  # type: ignore[arg-type]  # fmt: skip

    def test_an_arrival_that_nothing_waits_for_is_said(self) -> None:
        its = job("Cart")
        done = JobSteps(name="Cart", stations=its.stations, steps=())
        shop = Shop(arrivals=[Arrival(job="Cart", part="spring", date="2026-12-10")])
        self.assertIn("nothing that is open waits for it", tasks_of([done], shop, FIRST)[1][0])
