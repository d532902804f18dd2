"""The small parts and the rods and rockers as chosen: lengths, metal, faults and what clears them."""

import copy
import itertools
import math
import unittest
from typing import Any

from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.buying import rack_of
from engine.shop.made import Made
from engine.shop.outline import area_of, box_of
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.rods import column_n
from engine.shop.stock import INCH, METRIC, Tube, grade_of
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def parts(values: dict[str, Any]) -> StationParts:
    return station_parts(Maker(WorkUp(solve_station(samples.station(values))), RULES))


def started(name: str = "pushrod") -> dict[str, Any]:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


def chosen(choice: dict[str, Any], values: dict[str, Any] | None = None) -> Made:
    values = samples.arm() if values is None else values
    values["make"] = {"parts": [choice]}
    return next(part for part in parts(values).parts if part.name == choice["name"])


class Small(unittest.TestCase):
    def test_a_sleeve_is_as_long_as_its_rail_and_slides_on_its_bolt(self) -> None:
        part = chosen(
            {"kind": "sleeve", "name": "crush", "point": "top", "rail": 60.0, "bolt": 12.0, "wall": 3.0}
        )
        assert part.cut is not None
        self.assertEqual(part.cut.length, 60.0)
        self.assertAlmostEqual(part.cut.tube.bore, 12.5)
        self.assertAlmostEqual(part.figure("outside"), 18.5)

    def test_a_gusset_has_its_corner_cut_off_and_a_doubler_its_corners_round(self) -> None:
        gusset = chosen(
            {"kind": "gusset", "name": "g", "point": "top", "legs": [60.0, 40.0], "thickness": 4.0}
        )
        assert gusset.flat is not None
        self.assertAlmostEqual(abs(area_of(list(gusset.flat.outline))), 60 * 40 / 2 - 6 * 6 / 2)
        skew = chosen({"kind": "gusset", "name": "g", "point": "top", "legs": [60.0, 40.0], "angle": 60.0})
        assert skew.flat is not None
        sine = math.sin(math.radians(60))
        self.assertAlmostEqual(abs(area_of(list(skew.flat.outline))), (60 * 40 - 36) / 2 * sine)
        doubler = chosen({"kind": "doubler", "name": "d", "point": "top", "legs": [80.0, 50.0], "hole": 14.0})
        assert doubler.flat is not None
        self.assertAlmostEqual(area_of(list(doubler.flat.outline)), 80 * 50 - (4 - math.pi) * 64)
        self.assertEqual([round(c, 6) for c in box_of(list(doubler.flat.outline))], [0, 0, 80, 50])

    def test_an_adapter_is_as_long_as_the_job_says_and_bears_its_damper(self) -> None:
        values = samples.arm()
        values["units"][0]["adapter"] = {"top": 45.0, "bottom": 0.0}
        values["units"][0]["extended"] -= 45.0
        values["units"][0]["compressed"] -= 45.0
        (adapter,) = parts(values).of("adapter")
        assert adapter.cut is not None and adapter.weakest is not None
        self.assertEqual(adapter.subject[2], "top")
        self.assertAlmostEqual(adapter.cut.length, 45.0)
        self.assertAlmostEqual(adapter.mass, math.pi / 4 * 900 * 45 * 7.85e-6, places=5)
        self.assertGreater(adapter.weakest.factor, 2.0)

    def test_a_strap_kit_says_what_is_sewn_and_what_it_catches(self) -> None:
        values = samples.arm()
        values["units"].append(
            {
                "name": "strap",
                "kind": "strap",
                "ends": ["eye", "top"],
                "length": 330.0,
                "stretch": 0.03,
                "adjust": 20.0,
            }
        )
        found = parts(values)
        (kit,) = found.of("strap")
        self.assertAlmostEqual(kit.figure("stretched"), 330 * 1.03)
        self.assertGreater(kit.figure("webbing"), kit.figure("length"))
        # At full droop the strap's pull over its ratio is twice the unsprung weight, or what the spring still pushes.
        self.assertGreater(kit.figure("load"), RULES.loading.droop * 25 * 9.80665)
        self.assertEqual(kit.said, ())
        names = [part.subject for part in found.of("tab")]
        self.assertNotIn(("tab", "top", "strap"), names)
        shared = next(part for part in found.of("tab") if part.subject == ("tab", "top", "coilover"))
        self.assertEqual(shared.also, (("top", "strap"),))


class Rods(unittest.TestCase):
    def rod(self, values: dict[str, Any]) -> Made:
        return next(part for part in parts(values).of("rod") if part.subject[1] == "rod")

    def test_a_thin_tube_buckles_and_its_remedy_clears_it(self) -> None:
        values = started()
        choice: dict[str, Any] = {
            "kind": "rod",
            "name": "rod",
            "body": "rod",
            "tube": {"outside": 8.0, "wall": 0.5},
        }
        values["make"] = {"parts": [choice]}
        made = self.rod(values)
        said = next(one for one in made.said if one.remedy is not None)
        self.assertIn("buckles at", str(said.say))
        assert said.remedy is not None
        choice |= said.remedy.change
        self.assertFalse([one for one in self.rod(values).said if one.mark != "note"])

    def test_cut_long_is_cut_long(self) -> None:
        values = started()
        plain = self.rod(values)
        values["make"] = {"parts": [{"kind": "rod", "name": "rod", "body": "rod", "cut_long": 12.0}]}
        long = self.rod(values)
        assert plain.cut and long.cut
        self.assertAlmostEqual(long.cut.length - plain.cut.length, 12.0)
        self.assertAlmostEqual(long.figure("cut_long"), 12.0)

    def test_faults_of_threads_carry_what_clears_them(self) -> None:
        for rod, key in (
            ({"thread": 12, "engagement": 8}, "engagement"),
            ({"thread": 12, "engagement": 50}, "engagement"),
            ({"thread": 12, "engagement": 30, "hands": ["left", "left"]}, "hands"),
        ):
            values = started()
            values["rods"] = {"rod": rod}
            fault = next(
                one for one in self.rod(values).said if one.mark == "fault" and one.remedy is not None
            )
            assert fault.remedy is not None
            self.assertEqual(fault.remedy.into, "rods")
            values["rods"]["rod"] = {**rod, **{k: v for k, v in fault.remedy.change.items()}}
            self.assertIn(key, fault.remedy.change)
            self.assertFalse([one for one in self.rod(values).said if one.mark == "fault"])

    def test_a_column_changes_over_from_johnson_to_euler_without_a_step(self) -> None:
        tube = Tube(outside=25.0, wall=2.0)
        loads = [column_n(tube, length) for length in range(100, 2500, 5)]
        steps = [abs(b - a) / a for a, b in itertools.pairwise(loads)]
        self.assertLess(max(steps), 0.02)
        self.assertTrue(all(b < a for a, b in itertools.pairwise(loads)))


class Links(unittest.TestCase):
    def link(self, **more: Any) -> Made:
        values = copy.deepcopy(starting_project(layout_named("single-rear-drop-link"))["stations"][0])
        rod = next(name for name, members in values["bodies"].items() if len(members) == 2)
        values["make"] = {"parts": [{"kind": "plate", "name": "link plates", "body": rod, **more}]}
        return next(part for part in parts(values).parts if part.name == "link plates")

    def test_a_drop_link_of_plates_is_as_long_as_its_rod_and_bears_its_load(self) -> None:
        link = self.link()
        assert link.flat is not None and link.weakest is not None
        self.assertEqual(link.count, 2)
        one, other = link.flat.holes
        self.assertAlmostEqual(other.x - one.x, link.figure("centre_to_centre"))
        self.assertGreaterEqual(link.weakest.factor, 2.0)
        radius = one.diameter / 2 + link.choice["edge"]  # type: ignore[index]
        self.assertAlmostEqual(
            area_of(list(link.flat.outline)), math.pi * radius**2 + 2 * radius * other.x, delta=1e-6
        )

    def test_thin_plates_buckle_sideways_as_a_flat_bar_does(self) -> None:
        link = self.link(thickness=3.0, hole=12.0, edge=12.0)
        push, long = link.figure("push"), link.figure("centre_to_centre")
        told = [check for check in link.checks if check.what == "plates buckling sideways"]
        self.assertEqual(bool(told), push > 0)
        if told:
            inertia = 36.0 * 3.0**3 / 12
            euler = 2 * math.pi**2 * 205_000 * inertia / long**2
            slender = long / math.sqrt(inertia / (36.0 * 3.0))
            if slender > math.sqrt(2 * math.pi**2 * 205_000 / 355):
                self.assertAlmostEqual(told[0].factor, euler / push, places=6)

    def test_a_weak_link_gets_thicker_by_its_press(self) -> None:
        link = self.link(thickness=0.5)
        remedy = next(one.remedy for one in link.said if one.remedy is not None)
        least = self.link(**remedy.change).weakest
        assert least is not None
        self.assertGreaterEqual(least.factor, 2.0)


class Notes(unittest.TestCase):
    def test_a_rod_that_sets_the_height_is_to_be_cut_long(self) -> None:
        values = started()
        rod = next(part for part in parts(values).of("rod") if part.subject[1] == "rod")
        note = next(one for one in rod.said if one.mark == "note")
        assert note.remedy is not None and rod.choice is not None
        values["make"] = {"parts": [{**rod.choice, **note.remedy.change}]}
        again = next(part for part in parts(values).of("rod") if part.subject[1] == "rod")
        self.assertEqual([one for one in again.said if one.mark == "note"], [])
        tie = next(part for part in parts(values).of("rod") if part.subject[1] == "tie_rod")
        self.assertEqual([one for one in tie.said if one.mark == "note"], [])

    def test_a_heavy_part_is_said(self) -> None:
        tube = {"outside": 60.3, "wall": 5.0}
        leg = chosen(
            {
                "kind": "tower",
                "name": "leg",
                "corners": [[0.0, 400.0, 300.0], [0.0, 400.0, 900.0]],
                "tube": tube,
            }
        )
        self.assertIn("weighs", str(leg.said[0].say))

    def test_the_load_at_ride_is_beside_the_peak(self) -> None:
        top = next(part for part in parts(samples.arm()).of("tab") if part.subject[1] == "top")
        self.assertGreater(top.figure("static"), 0)
        self.assertLess(top.figure("static"), top.figure("load"))


class Rockers(unittest.TestCase):
    def plate(self, values: dict[str, Any]) -> Made:
        (plate,) = parts(values).of("plate")
        return plate

    def test_proposed_plates_bear_their_loads_and_given_ones_are_judged(self) -> None:
        values = started()
        plate = self.plate(values)
        assert plate.weakest is not None
        self.assertGreaterEqual(plate.weakest.factor, 2.0)
        values["plates"] = {"rocker": {"thickness": 1.5, "edge": 24.0}}
        thin = self.plate(values)
        warned = next(one for one in thin.said if one.remedy is not None)
        assert warned.remedy is not None
        self.assertEqual(warned.remedy.into, "plates")
        values["plates"]["rocker"] |= warned.remedy.change
        least = self.plate(values).weakest
        assert least is not None
        self.assertGreaterEqual(least.factor, 2.0)

    def test_a_lightening_hole_takes_weight_and_leaves_its_metal(self) -> None:
        values = started()
        before = self.plate(values)
        for across, mark in ((14.0, None), (60.0, "fault")):
            values["make"] = {
                "parts": [{"kind": "plate", "name": "rocker plate", "body": "rocker", "lighten": across}]
            }
            plate = self.plate(values)
            self.assertLess(plate.mass, before.mass)
            if mark:
                self.assertEqual(plate.mark, mark)


class Stocks(unittest.TestCase):
    def test_inch_stock_makes_the_same_parts_of_inch_sizes(self) -> None:
        work = WorkUp(solve_station(samples.station(started())))
        for part in station_parts(Maker(work, RULES, INCH)).parts:
            if part.flat is not None and part.kind == "tab":
                self.assertTrue(any(abs(part.flat.thickness - size) < 1e-9 for size in INCH.plates))
            if part.weakest is not None:
                self.assertGreaterEqual(part.weakest.factor, 2.0, part.name)

    def test_sizes_are_in_order_and_a_grade_is_told_by_its_yield(self) -> None:
        for stock in (METRIC, INCH):
            self.assertEqual(list(stock.plates), sorted(stock.plates))
            self.assertEqual(list(stock.bolts), sorted(stock.bolts))
            self.assertTrue(all(tube.bore > 0 for tube in stock.tubes))
            self.assertIsNone(stock.plate(400.0))
        self.assertEqual(
            [grade_of(one) for one in (200.0, 235.0, 300.0, 355.0, 600.0)],
            ["S235", "S235", "S275", "S355", "25CrMo4"],
        )

    def test_only_tube_that_is_there_is_on_the_rack(self) -> None:
        from engine.shop.buying import OnShelf

        values = {"outside_mm": 25.0, "wall_mm": 2.0, "length_mm": 1800.0, "yield_n_per_mm2": 355.0}
        shelf = [
            OnShelf(kind="tube", name="a", stock=2, values=values),
            OnShelf(kind="tube", name="b", stock=0, values=values),
        ]
        self.assertEqual(rack_of(shelf), {"25 × 2 S355": [1800.0, 1800.0]})


if __name__ == "__main__":
    unittest.main()
