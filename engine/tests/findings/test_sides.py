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

    def test_it_is_said_on_both_sides(self) -> None:
        left, right = pair()
        right["points"]["spindle"][0] += 3
        worked = work_project(check_project(samples.document(left, right)))
        told = [[f.code for f in station.findings].count("sides_toe") for station in worked.stations]
        self.assertEqual(told, [1, 1])


if __name__ == "__main__":
    unittest.main()
