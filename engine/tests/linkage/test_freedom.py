"""What is loose, doubly held or merely written twice."""

import unittest

import numpy as np

from engine.errors import LinkageDidNotClose, LinkageRefused
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_station
from engine.tests import samples


def refusal(values: samples.Values) -> LinkageRefused:
    try:
        solve_station(samples.station(values), "stations[0]")
    except LinkageRefused as refused:
        return refused
    raise AssertionError("the linkage was not refused")


class Refused(unittest.TestCase):
    def test_a_missing_tie_rod_leaves_the_upright_loose(self) -> None:
        values = samples.pushrod_corner()
        del values["bodies"]["tie_rod"]
        refused = refusal(values)
        self.assertEqual(refused.code, "linkage_loose")
        self.assertIn("upright", refused.bodies)
        self.assertIn("1 freedom", str(refused))

    def test_a_missing_pushrod_leaves_the_rocker_loose(self) -> None:
        values = samples.pushrod_corner()
        del values["bodies"]["pushrod"]
        self.assertEqual(refusal(values).bodies, ("rocker",))

    def test_a_second_tie_rod_holds_the_wheel(self) -> None:
        values = samples.pushrod_corner()
        values["bodies"]["second_tie_rod"] = ["rack", "wheel"]
        refused = refusal(values)
        self.assertEqual(refused.code, "linkage_held")
        self.assertIn("second_tie_rod", refused.bodies)

    def test_crooked_plates_fight(self) -> None:
        values = samples.plate_four_bar()
        values["points"]["up_pivot_out"][2] += 12
        self.assertEqual(refusal(values).code, "linkage_held")

    def test_a_rocker_drawn_at_dead_centre(self) -> None:
        values = samples.arm()
        values["points"] |= {"rod_low": [-300, 450, 250], "rod_top": [-300, 450, 450]}
        values["points"] |= {
            "pivot_a": [-300, 400, 600],
            "pivot_b": [-300, 500, 600],
            "eye": [-400, 450, 600],
        }
        values["points"]["rod_top"] = [-300, 450, 450]
        values["bodies"]["arm"] = ["hinge_in", "hinge_out", "wheel", "spindle", "rod_low"]
        values["bodies"]["rod"] = ["rod_low", "rod_top"]
        values["bodies"]["rocker"] = ["pivot_a", "pivot_b", "rod_top", "eye"]
        values["chassis"] += ["pivot_a", "pivot_b"]
        refused = refusal(values)
        self.assertEqual(refused.code, "linkage_dead_centre")
        self.assertIn("rocker", refused.bodies)

    def test_an_axle_without_a_lateral_link(self) -> None:
        values = samples.axle(triangulated=False)
        del values["bodies"]["lateral_link"]
        for side, y in (("left", 450), ("right", -450)):
            values["points"][f"low_front_{side}"] = [600, y, 250]
            values["points"][f"low_{side}"] = [0, y, 250]
            values["points"][f"up_front_{side}"] = [600, y, 430]
            values["points"][f"up_{side}"] = [0, y, 430]
        self.assertEqual(refusal(values).code, "linkage_loose")


class Normal(unittest.TestCase):
    def test_hinges_written_twice(self) -> None:
        solved = solve_station(samples.station(samples.plate_four_bar()), steps=9)
        self.assertTrue(solved.reached.all())
        self.assertLess(solved.mismatch_mm, 1e-6)
        self.assertTrue(solved.linkage.assembly.spare)

    def test_a_rod_with_a_third_point_on_its_line(self) -> None:
        values = samples.pushrod_corner()
        middle = np.mean([values["points"][n] for n in ("push_low", "push_top")], axis=0)
        values["points"]["middle"] = list(middle)
        values["bodies"]["pushrod"].append("middle")
        solved = solve_station(samples.station(values), steps=5)
        plain = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        np.testing.assert_allclose(solved.sweep.wheel_rate, plain.sweep.wheel_rate, rtol=1e-9)
        place, index = solved.sweep.solution.motion.place, solved.linkage.index
        ends = [place[:, index[n]] for n in ("push_low", "push_top")]
        np.testing.assert_allclose(place[:, index["middle"]], np.mean(ends, axis=0), atol=1e-8)

    def test_a_rod_with_a_point_off_its_line_is_held_from_spinning(self) -> None:
        values = samples.pushrod_corner()
        values["points"]["clip"] = [5, 470, 345]
        values["bodies"]["pushrod"].append("clip")
        solved = solve_station(samples.station(values), steps=5)
        plain = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        np.testing.assert_allclose(solved.sweep.wheel_rate, plain.sweep.wheel_rate, rtol=1e-9)

    def test_two_bodies_that_are_one(self) -> None:
        values = samples.pushrod_corner()
        values["points"]["caliper"] = [-60, 660, 250]
        values["bodies"]["caliper_plate"] = ["lower_ball", "upper_ball", "steer_ball", "caliper"]
        solved = solve_station(samples.station(values), steps=5)
        plain = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        np.testing.assert_allclose(solved.sweep.wheel_rate, plain.sweep.wheel_rate, rtol=1e-9)

    def test_a_body_bolted_to_the_chassis(self) -> None:
        values = samples.pushrod_corner()
        points = {"tower_a": [30, 40, 480], "tower_b": [-30, 40, 480], "tower_c": [0, 10, 470]}
        values["points"] |= points
        values["chassis"] = [n for n in values["chassis"] if n != "damper_anchor"] + list(points)
        values["bodies"]["tower"] = [*points, "damper_anchor"]
        solved = solve_station(samples.station(values), steps=5)
        plain = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        np.testing.assert_allclose(solved.sweep.wheel_rate, plain.sweep.wheel_rate, rtol=1e-12)

    def test_an_axle_on_five_links_gives_its_heave_and_says_so(self) -> None:
        values = samples.axle(triangulated=False)
        values["points"]["up_left"][2] += 12
        linkage = Linkage(samples.station(values))
        self.assertTrue(linkage.assembly.over_constrained)
        self.assertIsNone(linkage.articulation())
        self.assertTrue(linkage.follow(np.linspace(-50, 50, 9)).reached.all())

    def test_an_axle_articulates(self) -> None:
        linkage = Linkage(samples.station(samples.axle()))
        path = linkage.articulate(np.linspace(-50, 50, 9), heave_mm=20.0)
        place = path.solution.motion.place
        heights = [place[2, linkage.index[f"wheel_{side}"]] - 320 for side in ("left", "right")]
        np.testing.assert_allclose(heights[0] - 20, np.linspace(-50, 50, 9), atol=1e-8)
        np.testing.assert_allclose(heights[1] - 20, np.linspace(50, -50, 9), atol=1e-8)


class Lengths(unittest.TestCase):
    def test_a_turned_adjuster_is_the_same_as_a_redrawn_rocker(self) -> None:
        # Lengthen the pushrod, read where the rocker went, redraw it there: nothing may differ.
        values = samples.pushrod_corner()
        drawn = float(np.linalg.norm(np.subtract(values["points"]["push_low"], values["points"]["push_top"])))
        longer = {**values, "links": {"pushrod": {"length": drawn + 4}}}
        turned = solve_station(samples.station(longer), steps=9)
        place = turned.path.solution.motion.place[:, :, int(np.flatnonzero(turned.path.travels == 0)[0])]
        for name in ("push_top", "damper_eye"):
            values["points"][name] = place[:, turned.linkage.index[name]].tolist()
        redrawn = solve_station(samples.station(values), steps=9)
        np.testing.assert_allclose(turned.sweep.wheel_force, redrawn.sweep.wheel_force, rtol=1e-9)
        assert turned.ride and redrawn.ride
        self.assertAlmostEqual(turned.ride.travel, redrawn.ride.travel, delta=1e-6)

    def test_a_link_far_too_long_is_named_with_its_gap(self) -> None:
        values = samples.pushrod_corner() | {"links": {"pushrod": {"length": 700}}}
        with self.assertRaises(LinkageDidNotClose) as caught:
            solve_station(samples.station(values), "stations[0]")
        self.assertEqual(caught.exception.body, "pushrod")
        self.assertGreater(caught.exception.gap_mm, 100)
        self.assertEqual(caught.exception.path, "stations[0].links")

    def test_a_link_that_only_fits_away_from_the_drawn_height(self) -> None:
        values = samples.pushrod_corner()
        drawn = float(np.linalg.norm(np.subtract(values["points"]["push_low"], values["points"]["push_top"])))
        values |= {"links": {"pushrod": {"length": drawn + 108}}, "travel": {"bump": 60, "droop": 60}}
        solved = solve_station(samples.station(values), steps=9)
        self.assertTrue(solved.reached.any())
        self.assertFalse(solved.reached.all())
