"""Put it right, by second routes: every plan taken through the document's own door and solved anew; the cheapest against
every pair of levers at coarse settings, and against the remedies one by one; what is held, to the digit.
"""

import itertools
import json
import math
from pathlib import Path
from typing import Any
from unittest import TestCase

from engine.document.read import read_project
from engine.document.schema import Project
from engine.document.write import project_text, project_values
from engine.errors import DocumentRefused
from engine.layouts.catalogue import layout_named, starting_project
from engine.results.parts import differences
from engine.results.whole import work_project
from engine.right.cannot import cannot_of
from engine.right.costs import USUAL, Cost, costs_of
from engine.right.groups import groups_of
from engine.right.plans import Righted, every_finding, put_right
from engine.right.result_file import right_values
from engine.right.stock import ALLOWED_N_PER_MM2, Shelf, ShelfStrap, free_lengths, rates, stock_dampers, wound
from engine.right.trial import with_settings
from engine.sizing.dampers import ShelfDamper

DEMO = Path(__file__).parents[3] / "server" / "demo" / "files" / "heron-three-wheeler.json"


def planted(layout: str = "trailing-arm", work: dict[str, Any] | None = None, **unit: float) -> Project:
    """Return an arrangement as it starts, with figures of its first unit changed by so much."""
    values = json.loads(project_text(starting_project(layout_named(layout))))
    for field, by in unit.items():
        values["stations"][0]["units"][0][field] = values["stations"][0]["units"][0].get(field, 0.0) + by
    if work is not None:
        values["work"] = work
    return read_project(json.dumps(values))


def faults(project: Project) -> int:
    return sum(f.mark == "fault" for f in every_finding(work_project(project)))


class Plans(TestCase):
    def each_leaves_what_it_says(self, project: Project, righted: Righted) -> None:
        told = right_values(project, righted)
        self.assertGreater(len(told["plans"]), 0)
        for plan, values in zip(righted.plans, told["plans"], strict=True):
            again = read_project(project_text(project_values(plan.project)))
            left = [
                {"code": f.code, "mark": f.mark}
                for f in every_finding(work_project(again))
                if f.mark != "good"
            ]
            said = [{key: one[key] for key in ("code", "mark")} for one in values["left"]]
            self.assertEqual(sorted(map(str, left)), sorted(map(str, said)))
            self.assertEqual(values["after"]["fault"], sum(one["mark"] == "fault" for one in left))
            self.nothing_else_is_changed(project, plan.project, values)
            self.assertAlmostEqual(
                values["cost"], values["hours"] * righted.costs.rate + values["money"], places=2
            )
            self.assertEqual(values["hours"], round(sum(one["hours"] for one in values["changes"]), 2))

    def nothing_else_is_changed(self, before: Project, after: Project, plan: dict[str, Any]) -> None:
        listed = {
            (line["station"], line["path"])
            for change in plan["changes"]
            for line in ({"station": change["station"], "path": change["path"]}, *change["also"])
        }
        one, other = project_values(before), project_values(after)
        self.assertEqual(
            {k: v for k, v in one.items() if k != "stations"},
            {k: v for k, v in other.items() if k != "stations"},
        )
        for was, now in zip(one["stations"], other["stations"], strict=True):
            for line in differences(was, now):
                self.assertIn((was["name"], line["path"]), listed)

    def test_every_plan_of_a_demo_leaves_what_it_says_and_changes_nothing_else(self) -> None:
        project = read_project(DEMO.read_bytes())
        righted = put_right(project)
        self.each_leaves_what_it_says(project, righted)
        self.assertEqual(faults(righted.plans[0].project), 0)
        self.assertGreater(sum(f.mark == "fault" for f in every_finding(righted.before)), 0)

    def test_the_same_file_has_the_same_answer(self) -> None:
        project = planted(extended=-22.0)
        one, other = put_right(project, most=2), put_right(project, most=2)
        self.assertEqual(right_values(project, one), right_values(project, other))
        self.each_leaves_what_it_says(project, one)

    def test_costs_go_by_the_state_of_the_work_and_twice_for_both_sides(self) -> None:
        drawn = planted(extended=-14.0)
        first = put_right(drawn, most=1).plans[0]
        self.assertEqual(faults(first.project), 0)
        name = drawn.stations[0].name
        welded = {f"{name}/{point}": "welded" for point in drawn.stations[0].chassis}
        made = {f"{name}/{body}": "made" for body in drawn.stations[0].bodies}
        work = {"state": {**welded, **made}, "costs": {"rate": 50, "damper": {"money": 10.0, "days": 0}}}
        dearer = put_right(planted(work=work, extended=-14.0), most=1)
        usual = put_right(planted(work={"state": {**welded, **made}}, extended=-14.0), most=1)
        self.assertGreaterEqual(usual.plans[0].total, first.total)
        self.assertEqual(dearer.costs.rate, 50)
        self.assertEqual(dearer.costs.of["damper"], Cost(USUAL["damper"].hours, 10.0, 0))
        for change in dearer.plans[0].changes:
            once = dearer.costs.of[change.key]
            self.assertEqual(
                change.cost.hours, 2 * once.hours
            )  # a corner whose other side is its mirror image
            self.assertEqual(change.cost.money, 2 * once.money)
            self.assertIn("both sides", change.say)

    def test_what_is_held_stays_to_the_digit(self) -> None:
        free = planted(extended=-14.0)
        station = free.stations[0]
        for held in (station.chassis[-1], station.units[0].name, station.units[0].ends[0]):
            project = planted(extended=-14.0, work={"held": [f"{station.name}/{held}"]})
            for plan in put_right(project, most=2).plans:
                its = plan.project.stations[0]
                if held in station.points:
                    self.assertEqual(its.points[held], station.points[held])
                else:
                    self.assertEqual(its.unit(held), station.unit(held))

    def test_a_lever_says_all_that_it_changes(self) -> None:
        for layout in ("pushrod", "trailing-arm", "axle-four-link"):
            project = planted(layout)
            for group in groups_of(project, work_project(project), Shelf()):
                station = group.worked.work.station
                for lever in group.levers[0]:
                    for value in (lever.values[0], lever.values[-1]):
                        after = lever.change(station, value)
                        for body, points in station.bodies.items():
                            if any(after.points[p] != station.points[p] for p in points):
                                self.assertIn(body, lever.of, lever.name)
                        for unit in station.units:
                            if after.unit(unit.name) != unit:
                                self.assertIn(unit.name, lever.of, lever.name)

    def test_where_it_stands_can_be_held(self) -> None:
        project = planted(extended=-22.0, work={"held": ["ride"]})
        righted = put_right(project, most=1)
        before, plan = righted.before.stations[0].work.solved.ride, righted.plans[0]
        after = plan.after.stations[0].work.solved.ride
        assert before is not None and after is not None
        if not any(f.mark == "fault" for f in every_finding(plan.after)):
            self.assertAlmostEqual(before.travel, after.travel, delta=0.051)

    def test_the_first_plan_is_no_dearer_than_any_pair_at_coarse_settings(self) -> None:
        for by in ({"extended": -14.0}, {"extended": -22.0, "preload": 8.0}):
            name = planted().stations[0].name
            state = {f"{name}/{point}": "welded" for point in planted().stations[0].chassis}
            state |= {f"{name}/{body}": "made" for body in planted().stations[0].bodies}
            project = planted(work={"state": state}, **by)
            righted = put_right(project, most=1)
            group, plan = righted.groups[0], righted.plans[0]
            self.assertEqual(faults(plan.project), 0)
            levers = group.levers[0]
            free = [n for n in group.free if levers[n].gives_up is None]
            cheapest = math.inf
            for pair in [*((n,) for n in free), *itertools.combinations(free, 2)]:
                price = sum(
                    righted.costs.money(righted.costs.of_change(levers[n].key, levers[n].sides)) for n in pair
                )
                if price >= min(plan.total, cheapest) - 1e-6 or len({levers[n].slot for n in pair}) < len(
                    pair
                ):
                    continue
                coarse = [
                    sorted(
                        {
                            0,
                            len(levers[n].values) // 3,
                            2 * len(levers[n].values) // 3,
                            len(levers[n].values) - 1,
                        }
                    )
                    for n in pair
                ]
                for settings in itertools.product(*coarse):
                    chosen = tuple(zip(pair, settings, strict=True))
                    if not group.trials.outcome(chosen).faults:
                        cheapest = price
            self.assertGreaterEqual(cheapest, plan.total - 1e-6, by)

    def test_a_shelf_is_used_before_anything_is_bought(self) -> None:
        name = planted().stations[0].name
        state = {f"{name}/{point}": "welded" for point in planted().stations[0].chassis}
        state |= {f"{name}/{body}": "made" for body in planted().stations[0].bodies}
        project = planted(extended=-25.0, work={"state": state})
        unit = planted().stations[0].units[0]
        there = ShelfDamper("Oak 1", unit.extended + 8.0, unit.compressed)  # type: ignore[union-attr]
        plan = put_right(
            project, Shelf(dampers=(there,), straps=(ShelfStrap("Four ply", 300.0, 0.03),)), most=1
        ).plans[0]
        self.assertIn("shelf", [change.key for change in plan.changes])
        self.assertLess(plan.total, put_right(project, most=1).plans[0].total)
        # Both sides take two: with one of them there, no lever offers it.
        for count, offered in ((1, False), (2, True)):
            shelf = Shelf(dampers=(there,), counts={"Oak 1": count})
            (group,) = groups_of(project, work_project(project), shelf)
            self.assertEqual(any(lever.key == "shelf" for lever in group.levers[0]), offered)

    def test_a_part_of_the_shelf_is_taken_once_over_the_whole_plan(self) -> None:
        """Two stations want the same dampers: with four there both take two, with two one does, and it is the cheaper way."""
        first = planted().stations[0]
        values = json.loads(project_text(project_values(planted(extended=-25.0))))
        (one,) = values["stations"]
        behind = json.loads(json.dumps(one).replace(one["name"], "Behind"))
        behind["points"] = {name: [x - 2600.0, y, z] for name, (x, y, z) in behind["points"].items()}
        values["stations"].append(behind)
        names = (one["name"], "Behind")
        # Behind the mounts are welded and the arm is made: there a damper off the shelf saves more.
        state = {f"Behind/{its}": "welded" for its in first.chassis} | {
            f"Behind/{its}": "made" for its in first.bodies
        }
        state |= {f"{names[0]}/{its}": "tacked" for its in first.chassis}
        values["work"] = {"state": state}
        project = read_project(json.dumps(values))
        unit = first.units[0]
        there = ShelfDamper("Oak 1", unit.extended + 8.0, unit.compressed)  # type: ignore[union-attr]
        costs = {}
        for count, most in ((4, 4), (2, 2)):
            righted = put_right(project, Shelf(dampers=(there,), counts={"Oak 1": count}), most=1)
            self.each_leaves_what_it_says(project, righted)
            for plan in righted.plans:
                taken = [2 for change in plan.changes if change.key == "shelf"]
                self.assertLessEqual(sum(taken), most, [change.say for change in plan.changes])
            costs[count] = righted.plans[0].total
            stations = [change.station for change in righted.plans[0].changes if change.key == "shelf"]
            if count == 4:
                self.assertEqual(sorted(stations), sorted(names))
            self.assertEqual(faults(righted.plans[0].project), 0)
        self.assertLessEqual(costs[4], costs[2])
        # By hand: each of both has them, the other does without; the cheaper of the two is what was taken.
        each = {}
        for name in names:
            with_them = put_right(project, Shelf(dampers=(there,)), most=1, only=name).plans[0].total
            without = put_right(project, most=1, only=name).plans[0].total
            each[name] = (with_them, without)
        by_hand = min(each[a][0] + each[b][1] for a, b in itertools.permutations(names, 2))
        self.assertAlmostEqual(costs[2], by_hand, places=6)

    def test_what_cannot_be_had_together_is_named_with_each_way_out(self) -> None:
        station = planted().stations[0]
        held = [
            *(f"{station.name}/{one}" for one in (*station.points, *station.bodies)),
            f"{station.name}/{station.units[0].name}",
        ]
        project = planted(extended=-25.0, work={"held": held})
        righted = put_right(project, most=1)
        told = cannot_of(project, righted)
        assert told is not None
        self.assertRegex(told.say, r"\d mm of (droop|bump).*cannot be had")
        self.assertTrue(any(change.key == "wish" for change in righted.plans[0].changes))
        self.assertEqual(faults(righted.plans[0].project), 0)
        travel = next(one for one in told.wishes if one["what"] == "travel.droop")
        values = project_values(project)
        values["stations"][0]["travel"]["droop"] = travel["to"]
        self.assertEqual(faults(read_project(json.dumps(values))), 0)
        values["stations"][0]["travel"]["droop"] = travel["to"] + 1
        self.assertGreater(faults(read_project(json.dumps(values))), 0)

    def test_a_job_without_a_fault_has_nothing_to_put_right(self) -> None:
        project = planted()
        if not faults(project):
            self.assertEqual(put_right(project, most=1).plans, ())


class Stock(TestCase):
    def test_a_coil_that_is_sold_has_its_rate_and_bears_being_solid(self) -> None:
        for rate, bore, long in ((20.0, 60.0, 250.0), (60.0, 57.0, 180.0), (140.0, 80.0, 400.0)):
            coil = wound(rate, bore, long)
            assert coil is not None and coil.rate is not None
            closed = coil.free_length - coil.solid_length
            self.assertGreater(closed, 0.15 * long)
            # Bach: a wire of d bears τ = K·8·F·D/(π·d³); whatever wire it is wound of, solid holds d·(n + 1.5).
            best = math.inf
            for quarter in range(16, 120):
                wire = quarter / 4
                turns = 78_500 * wire**4 / (8 * (bore + wire) ** 3 * rate)
                if abs((turns + 1.5) * wire - coil.solid_length) < 0.1:
                    c = (bore + wire) / wire
                    k = (4 * c - 1) / (4 * c - 4) + 0.615 / c
                    best = min(best, k * 8 * rate * closed * (bore + wire) / (math.pi * wire**3))
            self.assertLess(best, 1.05 * ALLOWED_N_PER_MM2)

    def test_sizes_are_those_of_the_job(self) -> None:
        self.assertIn(60.0, rates(False, 20, 100))
        self.assertAlmostEqual(rates(True, 34, 36)[0], 35.025, places=2)  # 200 lb/in
        self.assertIn(254.0, free_lengths(True))
        for one in stock_dampers():
            self.assertGreater(one.compressed, one.extended - one.compressed)


class State(TestCase):
    def test_what_names_nothing_is_said(self) -> None:
        name = planted().stations[0].name
        point = planted().stations[0].chassis[0]
        for work, words in (
            ({"state": {f"{name}/nowhere": "welded"}}, "neither a chassis point nor a body"),
            ({"state": {f"{name}/{point}": "made"}}, "drawn or tacked or welded"),
            ({"state": {"Nobody/top": "drawn"}}, "begin with a station's name"),
            ({"held": ["everything"]}, "begin with a station's name"),
            ({"held": [f"{name}/nowhere"]}, "no point, body or unit"),
            ({"costs": {"paint": {"hours": 1}}}, "is no kind of change"),
            ({"costs": {"rate": {"hours": 1}}}, "one number"),
            ({"costs": {"damper": 5}}, "takes hours, money and days"),
            ({"costs": {"damper": {"hours": -1}}}, "0 or more"),
        ):
            with self.assertRaises(DocumentRefused) as refused:
                planted(work=work)
            self.assertIn(words, " ".join(map(str, refused.exception.faults)))

    def test_usual_costs_are_those_of_the_contract(self) -> None:
        self.assertEqual(costs_of(None).rate, 60.0)
        self.assertEqual(USUAL["moved_welded"], Cost(5.0, 15.0, 0.0))
        self.assertEqual(USUAL["damper"], Cost(1.5, 350.0, 10.0))

    def test_settings_of_parts_come_before_turns(self) -> None:
        righted = put_right(planted(extended=-22.0), most=1)
        levers = righted.groups[0].levers[0]
        perch = next(n for n, lever in enumerate(levers) if lever.name == "perch")
        spring = next(n for n, lever in enumerate(levers) if lever.name.startswith("spring"))
        station = planted(extended=-22.0).stations[0]
        both = with_settings(station, levers, ((min(perch, spring), 0), (max(perch, spring), 0)))
        alone = with_settings(station, levers, ((spring, 0),))
        turned = levers[perch].values[0]
        self.assertAlmostEqual(both.units[0].preload, alone.units[0].preload + turned)  # type: ignore[union-attr]
