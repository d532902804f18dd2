"""Tabs: laid on their tubes without a gap, strong enough by stresses worked out by hand, found where something is bolted."""

import copy
import math
import unittest
from typing import Any

import numpy as np

from engine.document.make import Foot
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.angles import angles_of
from engine.shop.made import Made
from engine.shop.mounts import Mount, mounts_of
from engine.shop.outline import box_of
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.small import edge_left
from engine.shop.strength import FootLoad, bearing, bolt_shear, net_section, tab_foot, tear_out, weld
from engine.shop.tabs import NoTab, Tab, tab_flat
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def tab(**values: Any) -> Tab:
    usual: dict[str, Any] = {
        "count": 2,
        "thickness": 6.0,
        "width": 40.0,
        "foot_width": 50.0,
        "reach": 55.0,
        "hole": 12.0,
        "joint": 20.0,
        "spacer": 0.0,
        "clearance": 0.3,
        "grade": "S355",
        "foot": Foot(),
        "towards": np.array([0.0, 0.0, -1.0]),
    }
    return Tab(**{**usual, **values})


def foot_curve(one: Tab) -> np.ndarray:
    """Return the foot's edge sampled from its arcs and lines, (n, 2)."""
    outline = list(tab_flat(one).outline)
    half = one.foot_width / 2
    start = next(k for k, arc in enumerate(outline) if arc.circle.radius == 0)
    spots: list[tuple[float, float]] = []
    for arc in outline[start:]:
        steps = np.linspace(0, 1, 60)
        spots += [arc.at(arc.start + arc.turn * step) for step in steps] if arc.circle.radius else [arc.first]
    found = np.array(spots)
    return found[np.abs(found[:, 0]) <= half + 1e-6]


def parts(values: dict[str, Any]) -> StationParts:
    return station_parts(Maker(WorkUp(solve_station(samples.station(values))), RULES))


def started(name: str = "pushrod") -> dict[str, Any]:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


class Feet(unittest.TestCase):
    def test_a_tab_lies_on_its_tube_without_a_gap(self) -> None:
        for outside in (32.0, 60.3, 114.0):
            for angle in (90.0, 75.0, 50.0, 30.0, 8.0):
                one = tab(
                    foot=Foot(on="tube", outside=outside, angle=angle),
                    foot_width=min(50.0, 0.9 * outside),
                    width=28.0,
                )
                r, turn = outside / 2, math.radians(angle)
                # The tube's axis lies below the crown of the foot, turned from the tab's plane by the angle.
                axis = np.array(
                    [math.cos(turn), 0.0, math.sin(turn)]
                )  # x across the tab, y up, z along the bolt
                for x, y in foot_curve(one):
                    arm = np.array([x, y + one.reach + r, 0.0])
                    off = np.linalg.norm(arm - axis * (arm @ axis))
                    self.assertLess(abs(off - r), 0.05, (outside, angle, x))

    def test_a_flat_foot_runs_at_its_slope(self) -> None:
        curve = foot_curve(tab(foot=Foot(slope=20.0)))
        low, high = curve[curve[:, 0].argmin()], curve[curve[:, 0].argmax()]
        self.assertAlmostEqual(math.degrees(math.atan2(high[1] - low[1], high[0] - low[0])), 20.0)
        self.assertAlmostEqual((low[1] + high[1]) / 2, -55.0)

    def test_along_a_tube_it_is_straight(self) -> None:
        flat, along = tab(), tab(foot=Foot(on="tube", outside=60.0, angle=0.0))
        self.assertEqual(tab_flat(flat).outline, tab_flat(along).outline)

    def test_the_head_is_round_and_the_hole_has_its_metal(self) -> None:
        flat = tab_flat(tab())
        self.assertAlmostEqual(edge_left(flat, flat.holes[0]), 20.0 - 6.0, places=6)
        low, bottom, high, top = box_of(list(flat.outline))
        self.assertAlmostEqual(top, 20.0)
        self.assertAlmostEqual(bottom, -55.0)
        self.assertAlmostEqual(high - low, 50.0, places=4)

    def test_what_does_not_fit_is_refused_in_words(self) -> None:
        for values, words in (
            ({"hole": 45.0}, "wider than the tab"),
            ({"reach": 4.0}, "longer reach"),
            ({"foot": Foot(on="tube", outside=40.0, angle=90.0)}, "wider than the tube"),
        ):
            with self.assertRaises(NoTab) as refused:
                tab_flat(tab(**values))
            self.assertIn(words, str(refused.exception))


class Strength(unittest.TestCase):
    def test_bolt_bearing_and_tear_out_by_hand(self) -> None:
        # 12 kN on a 12 mm bolt of class 8.8 in double shear: 2 × 113.1 mm² × 640/√3 N/mm² = 83.6 kN.
        shear = bolt_shear(12_000, 12.0, 2, 640.0)
        assert shear is not None
        self.assertAlmostEqual(shear.factor, 2 * 113.097 * 369.504 / 12_000, places=3)
        single = bolt_shear(12_000, 12.0, 1, 640.0)
        assert single is not None
        self.assertAlmostEqual(single.factor, shear.factor / 2)
        its = bearing(12_000, 12.0, 12.0, 355.0)
        out = tear_out(12_000, 12.0, 12.0, 20.0, 355.0)
        net = net_section(12_000, 12.0, 12.0, 40.0, 355.0)
        assert its and out and net
        self.assertAlmostEqual(its.factor, 12 * 12 * 355 / 12_000)
        self.assertAlmostEqual(out.factor, 2 * 12 * 14 * 355 / math.sqrt(3) / 12_000)
        self.assertAlmostEqual(net.factor, 12 * 28 * 355 / 12_000)
        self.assertIsNone(bearing(0.0, 12.0, 12.0, 355.0))

    def test_a_tabs_foot_is_a_beams_root_by_integrating_its_stress(self) -> None:
        load = FootLoad(along=3000.0, across=1500.0, sideways=200.0, reach=55.0)
        (found,) = tab_foot(load, 2, 6.0, 50.0, 355.0)
        # The stress field of that factor, integrated over the section, gives back forces and moments.
        x = np.linspace(-25, 25, 2001)
        y = np.linspace(-3, 3, 241)
        gx, gy = np.meshgrid((x[1:] + x[:-1]) / 2, (y[1:] + y[:-1]) / 2)
        cell = (x[1] - x[0]) * (y[1] - y[0])
        inertia_x, inertia_y = float((gx**2).sum() * cell), float((gy**2).sum() * cell)
        field = 3000 / 600 + 1500 * 55 / 2 * gx / inertia_x + 200 * 55 / 2 * gy / inertia_y
        self.assertAlmostEqual(float(field.sum() * cell) * 2, 3000.0, places=3)
        self.assertAlmostEqual(float((field * gx).sum() * cell) * 2, 1500 * 55, places=2)
        edge = 3000 / 600 + 1500 * 55 / 2 * 25 / inertia_x + 200 * 55 / 2 * 3 / inertia_y
        self.assertAlmostEqual(found.factor, 355 / edge, delta=0.002)

    def test_a_weld_is_as_strong_as_its_lines(self) -> None:
        straight = weld(FootLoad(along=10_000, across=0, sideways=0, reach=50), 1, 6.0, 50.0, 355.0)
        assert straight is not None
        self.assertAlmostEqual(straight.factor, 2 * 3.0 * 50 * 355 / math.sqrt(3) / 10_000)
        for more in ({"across": 2000.0}, {"sideways": 500.0}, {"reach": 50.0, "across": 4000.0}):
            worse = weld(
                FootLoad(**{"along": 10_000, "across": 0, "sideways": 0, "reach": 50, **more}),
                1,
                6.0,
                50.0,
                355.0,
            )
            assert worse is not None
            self.assertLess(worse.factor, straight.factor)


class Mounts(unittest.TestCase):
    def found(self, values: dict[str, Any]) -> dict[tuple[str, str], Mount]:
        work = WorkUp(solve_station(samples.station(values)))
        return {(one.point, one.holds): one for one in mounts_of(work, work.peak(RULES.loading))}

    def test_a_bolt_not_given_is_square_to_the_way_its_damper_swings(self) -> None:
        values = samples.arm()
        found = self.found(values)
        top = found["top", "coilover"]
        self.assertAlmostEqual(abs(top.bolt[1]), 1.0, places=6)  # it swings in the plane of the arm
        self.assertLess(top.lean, 1e-6)
        self.assertGreater(top.load, 1000)
        self.assertLess(float(abs(top.bolt @ top.towards)), 1e-9)

    def test_a_bolt_that_is_given_is_kept_and_its_lean_is_the_angle_out_of_square(self) -> None:
        values = samples.arm()
        turn = math.radians(7.0)
        values["units"][0]["eyes"] = [{"end": "top", "bolt": [0.0, math.cos(turn), math.sin(turn)]}]
        top = self.found(values)["top", "coilover"]
        drawn = np.subtract(values["points"]["eye"], values["points"]["top"])
        most = math.degrees(math.asin(abs(drawn @ top.bolt) / np.linalg.norm(drawn)))
        self.assertGreaterEqual(top.lean, most - 1e-6)
        pushes = np.linalg.norm(top.forces, axis=1)
        leaned = pushes * math.sin(math.radians(top.lean))
        self.assertTrue((top.along <= leaned + 1e-6).all())
        self.assertGreater(top.sideways, 0.5 * leaned.max())

    def test_an_upright_and_a_rockers_joints_get_no_tab(self) -> None:
        found = self.found(samples.pushrod_corner())
        values = samples.pushrod_corner()
        wheel = values["wheels"][0]["centre"]
        upright = next(m for m in values["bodies"].values() if wheel in m and len(m) > 2)
        chassis = set(values["chassis"])
        for point, _ in found:
            self.assertTrue(point in chassis or point not in upright, point)

    def test_the_pivots_of_an_arm_carry_what_the_equilibrium_says(self) -> None:
        values = samples.arm()
        work = WorkUp(solve_station(samples.station(values)))
        peak = work.peak(RULES.loading)
        assert peak is not None
        for point in ("hinge_in", "hinge_out"):
            mount = self.found(values)[point, "arm"]
            forces = peak.bush_forces(point)
            along = np.abs(forces @ mount.bolt)
            across = np.linalg.norm(forces - np.outer(forces @ mount.bolt, mount.bolt), axis=1)
            self.assertAlmostEqual(mount.load, across.max())
            self.assertAlmostEqual(mount.sideways, along.max())

    def test_a_mirrored_station_has_the_same_tabs(self) -> None:
        values = started()
        other = copy.deepcopy(values)
        for spot in other["points"].values():
            spot[1] = -spot[1]
        one, two = self.found(values), self.found(other)
        self.assertEqual(set(one), set(two))
        for key, mount in one.items():
            self.assertAlmostEqual(mount.load, two[key].load, delta=1e-3 * mount.load + 0.01)
            self.assertAlmostEqual(mount.lean, two[key].lean, places=3)
            self.assertAlmostEqual(abs(mount.bolt[1]), abs(two[key].bolt[1]), places=4)

    def test_readings_are_what_an_angle_finder_shows(self) -> None:
        tilt, turn = math.radians(12.0), math.radians(9.0)
        bolt = np.array([math.cos(tilt) * math.cos(turn), math.cos(tilt) * math.sin(turn), math.sin(tilt)])
        spot = np.array([0.0, 500.0, 300.0])
        found = angles_of(bolt, np.array([0.0, math.sin(0.3), -math.cos(0.3)]), spot)
        self.assertAlmostEqual(found.level, 12.0)
        self.assertEqual(found.level_words, "front end higher")
        self.assertAlmostEqual(found.turn, 9.0)
        self.assertEqual(found.turn_words, "from fore–aft, front end further out")
        self.assertAlmostEqual(found.plumb, math.degrees(0.3))
        self.assertEqual(found.plumb_words, "foot below the hole, set off out")


class Proposals(unittest.TestCase):
    def tabs(self, values: dict[str, Any]) -> dict[str, Made]:
        return {part.name: part for part in parts(values).of("tab")}

    def test_every_arrangement_gets_a_set_that_is_strong_enough(self) -> None:
        for name in ("pushrod", "five-link", "axle-four-link", "axle-on-air", "arm-on-air", "mono-rocker"):
            try:
                values = started(name)
            except (KeyError, StopIteration, ValueError):
                continue
            found = parts(values)
            self.assertTrue(found.parts, name)
            for part in found.parts:
                self.assertTrue(part.proposed or part.kind == "rod", f"{name} {part.name}")
                if part.weakest is not None:
                    self.assertGreaterEqual(part.weakest.factor, found.factor - 1e-9, f"{name} {part.name}")

    def test_a_choice_stays_is_judged_and_its_remedy_clears_it(self) -> None:
        values = samples.arm()
        plain = next(part for part in parts(values).of("tab") if part.subject == ("tab", "top", "coilover"))
        assert plain.choice is not None
        for change in (
            {"thickness": 1.0},
            {"pair": False, "thickness": 4.0},
            {"thickness": 1.5, "reach": 90.0},
        ):
            choice = {**plain.choice, **change, "name": "top tab"}
            values["make"] = {"parts": [choice]}
            (made,) = [part for part in parts(values).parts if part.name == "top tab"]
            self.assertFalse(made.proposed)
            assert made.flat is not None
            self.assertEqual(made.flat.thickness, choice["thickness"])
            warned = [one for one in made.said if one.mark == "warning" and one.remedy]
            self.assertTrue(warned, change)
            for _ in range(4):
                if not made.said or made.said[0].remedy is None:
                    break
                choice.update(made.said[0].remedy.change)
                values["make"] = {"parts": [choice]}
                (made,) = [part for part in parts(values).parts if part.name == "top tab"]
            assert made.weakest is not None
            self.assertGreaterEqual(made.weakest.factor, 2.0)
            self.assertEqual([one for one in made.said if one.mark != "note"], [])

    def test_taken_as_it_is_it_stays_the_same_part(self) -> None:
        values = started()
        before = parts(values)
        values["make"] = {
            "parts": [
                part.choice
                for part in before.parts
                if part.choice is not None and part.kind in ("tab", "rod")
            ]
        }
        after = {part.subject: part for part in parts(values).parts}
        for part in before.parts:
            again = after[part.subject]
            if part.flat is not None and again.flat is not None:
                self.assertEqual(again.flat.thickness, part.flat.thickness, part.name)
                self.assertAlmostEqual(again.flat.mass, part.flat.mass, delta=0.002)
            if part.cut is not None and again.cut is not None:
                self.assertAlmostEqual(again.cut.length, part.cut.length, places=6)

    def test_a_moved_mount_moves_its_tab_and_a_heavier_car_thickens_it(self) -> None:
        values = samples.arm()
        light = next(part for part in parts(values).of("tab") if part.subject[1] == "top")
        values["mass"]["corner"] = 900
        values["units"][0]["springs"][0]["rate"] *= 4
        heavy = next(part for part in parts(values).of("tab") if part.subject[1] == "top")
        assert light.flat and heavy.flat
        self.assertGreater(heavy.flat.mass, light.flat.mass)

    def test_a_tube_near_the_mount_is_what_the_tab_stands_on(self) -> None:
        values = samples.arm()
        x, y, z = values["points"]["top"]
        values["envelopes"] = [
            {
                "name": "rail",
                "shape": "capsule",
                "along": [[x - 400, y, z + 60], [x + 400, y, z + 60]],
                "radius": 24,
            }
        ]
        top = next(part for part in parts(values).of("tab") if part.subject[1] == "top")
        self.assertAlmostEqual(top.figure("reach"), 36.0, places=2)
        # The damper swings fore and aft, so its bolt runs across, and the tab stands along the rail.
        self.assertEqual(top.figure("foot"), "along a tube of 48 mm")
        values["envelopes"][0]["along"] = [[x, y - 400, z + 60], [x, y + 400, z + 60]]
        top = next(part for part in parts(values).of("tab") if part.subject[1] == "top")
        self.assertEqual(top.figure("foot"), "across a tube of 48 mm")

    def test_no_stock_that_is_strong_enough_is_said(self) -> None:
        values = samples.arm()
        values["mass"]["corner"] = 30_000
        values["units"][0]["springs"][0]["rate"] = 19_000
        values["units"][0]["preload"] = 40
        found = parts(values)
        words = " ".join(str(one.say) for part in found.parts for one in part.said)
        self.assertIn("Nothing of stock is strong enough", words)


if __name__ == "__main__":
    unittest.main()
