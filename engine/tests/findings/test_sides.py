"""Left against right as drawn: points, camber and toe, and units that pass one another across the car."""

import copy
import math
import unittest

from engine.document.read import check_project
from engine.findings.finding import Finding
from engine.results.whole import work_project
from engine.tests import samples


def pair() -> tuple[samples.Values, samples.Values]:
    """Return an arm and its mirror image, as two stations that name one another."""
    left = samples.arm() | {"name": "left arm", "other_side": "right arm"}
    return left, samples.mirrored(left) | {"name": "right arm", "other_side": "left arm"}


def between(left: samples.Values, right: samples.Values) -> dict[str, Finding]:
    worked = work_project(check_project(samples.document(left, right)))
    return {f.code: f for f in worked.stations[0].findings if f.code.startswith("sides_")}


class MirrorImages(unittest.TestCase):
    def test_nothing_differs_and_no_angle_is_mentioned(self) -> None:
        found = between(*pair())
        self.assertEqual(list(found), ["sides_differ"])
        self.assertEqual((found["sides_differ"].mark, found["sides_differ"].value), ("good", 0.0))

    def test_units_that_pass_one_another_across_the_car_are_turned_half_round(self) -> None:
        left, right = pair()
        wheel = right["points"]["wheel"][0]
        for end in ("eye", "top"):
            right["points"][end][0] = 2 * wheel - right["points"][end][0]
        self.assertEqual(between(left, right)["sides_differ"].value, 0.0)

    def test_a_hinge_may_not_be_turned_half_round(self) -> None:
        left, right = pair()
        wheel = right["points"]["wheel"][0]
        for end in ("hinge_in", "hinge_out"):
            right["points"][end][0] = 2 * wheel - right["points"][end][0]
        finding = between(left, right)["sides_differ"]
        self.assertEqual(finding.mark, "fault")
        self.assertAlmostEqual(finding.value or 0.0, 800.0)


class WheelsThatPointElsewhere(unittest.TestCase):
    def test_toe_and_camber_are_the_spindle_against_the_tape(self) -> None:
        # The spindle is 100 mm long: its far end moved by d turns the wheel by atan(d / 100).
        for angle, axis in (("toe", 0), ("camber", 2)):
            for moved, mark in ((0.5, None), (1.2, "warning"), (2.4, "fault")):
                left, right = copy.deepcopy(pair())
                right["points"]["spindle"][axis] += moved
                found = between(left, right)
                finding = found.pop(f"sides_{angle}", None)
                self.assertEqual(finding.mark if finding else None, mark, (angle, moved))
                self.assertEqual(list(found), ["sides_differ"])
                self.assertAlmostEqual(found["sides_differ"].value or 0.0, moved)
                if finding is not None:
                    self.assertAlmostEqual(
                        finding.value or 0.0, math.degrees(math.atan(moved / 100)), delta=1e-6
                    )
                    self.assertIn("left arm and right arm", str(finding.what))

    def test_what_two_sides_differ_in_is_said_at_the_first_of_them(self) -> None:
        left, right = pair()
        right["points"]["spindle"][0] += 3
        worked = work_project(check_project(samples.document(left, right)))
        told = [[f.code for f in station.findings].count("sides_toe") for station in worked.stations]
        self.assertEqual(told, [1, 0])


class Copied(unittest.TestCase):
    def test_a_bracket_copied_and_turned_round_is_called_that(self) -> None:
        left, right = pair()
        wheel = right["points"]["wheel"][0]
        right["points"]["top"][0] = 2 * wheel - right["points"]["top"][0]  # its other eye stays mirrored
        finding = between(left, right)["sides_differ"]
        self.assertEqual(finding.mark, "fault")
        self.assertIn("copied instead of mirrored", str(finding.what))
        self.assertIn("mirror image", str(finding.remedy))

    def test_one_off_every_way_is_a_place_to_measure_again(self) -> None:
        left, right = pair()
        right["points"]["top"] = [c + by for c, by in zip(right["points"]["top"], (9, -8, 12), strict=True)]
        finding = between(left, right)["sides_differ"]
        self.assertNotIn("copied", str(finding.what))
        self.assertIn("Measure", str(finding.remedy))


class Springs(unittest.TestCase):
    def test_two_springs_a_third_apart_are_said_with_how_much_lower_one_side_stands(self) -> None:
        left, right = pair()
        rate = left["units"][0]["springs"][0]["rate"]
        left["units"][0]["springs"][0]["rate"] = 0.85 * rate
        right["units"][0]["springs"][0]["rate"] = 1.15 * rate
        worked = work_project(check_project(samples.document(left, right)))
        found = next(f for f in worked.stations[0].findings if f.code == "sides_springs")
        self.assertEqual(found.mark, "fault")
        rides = [station.work.solved.ride for station in worked.stations]
        assert rides[0] is not None and rides[1] is not None
        lower = found.what.quantities["lower"].value
        self.assertAlmostEqual(lower, abs(rides[0].travel - rides[1].travel), places=9)
        self.assertGreater(lower, 5.0)
        self.assertNotIn("sides_springs", [f.code for f in worked.stations[1].findings])

    def test_an_axle_with_unlike_springs_says_which(self) -> None:
        axle = samples.axle() | {"name": "axle"}
        same = work_project(check_project(samples.document(copy.deepcopy(axle)))).stations[0]
        self.assertNotIn("springs_unlike", [f.code for f in same.findings])
        coils = [unit for unit in axle["units"] if unit["kind"] == "coilover"]
        coils[0]["springs"][0]["rate"] *= 1.3
        found = work_project(check_project(samples.document(axle))).stations[0].findings
        unlike = next(f for f in found if f.code == "springs_unlike")
        self.assertEqual(set(unlike.subjects), {unit["name"] for unit in coils})
        self.assertAlmostEqual(unlike.value or 0.0, 0.3 / 1.15, places=6)


if __name__ == "__main__":
    unittest.main()
