"""What a drag may do to a rocker, and how the vehicle lies on paper: the front end's own geometry, run in Node."""

import copy
import math
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from e2e.node import asked
from engine.document.mirror import mirrored_station
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.rocker.plate import plate_of
from engine.sizing.rocker.wheel_side import WheelSide, wheel_side_of
from engine.station.solved import solve_station
from engine.tests import samples

MODULE = "rocker/plane.ts"
FREE = {"arms": False, "angle": False, "grid": 0}
Values = dict[str, Any]


def station(name: str) -> Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


def side_of(values: Values, rocker: str | None = None) -> WheelSide:
    return wheel_side_of(solve_station(samples.station(values)), rocker)


def rocker_of(values: Values) -> Values:
    """Return the rocker as the server tells it, as far as the drawing needs it."""
    here = side_of(values).here
    return {
        "rocker": here.rocker, "pivots": list(here.pivots), "rod": here.rod, "rod_end": here.rod_end,
        "rod_joint": here.rod_joint, "unit": here.unit, "eye": here.eye, "far": here.far,
    }  # fmt: skip


class Plane(SimpleTestCase):
    def look(self, values: Values) -> Values:
        found: Values = asked(MODULE, [["lookAt", values, rocker_of(values)]])[0]
        return found

    def dragged(self, values: Values, grip: str, to: list[float], locks: Values) -> Values:
        rocker, look = rocker_of(values), self.look(values)
        found: Values = asked(MODULE, [["dragged", values, rocker, look, grip, to, locks]])[0]
        return found

    def flat(self, values: Values, places: list[list[float]]) -> list[list[float]]:
        look = self.look(values)
        return asked(MODULE, [["flat", look, place] for place in places])

    def test_it_is_looked_at_along_its_bolt_with_up_upward(self) -> None:
        for name in ("pushrod", "pullrod", "axle-cantilever", "single-rear-drop-link"):
            values = station(name)
            look = self.look(values)
            side = side_of(values)
            right, up, eye = (np.array(look[key]) for key in ("right", "up", "eye"))
            np.testing.assert_allclose(np.abs(eye @ side.axis), 1, atol=1e-9)
            np.testing.assert_allclose(np.cross(right, up), eye, atol=1e-9)
            self.assertGreater(up[2], 0.5)
            np.testing.assert_allclose(look["pivot"], side.pivot, atol=1e-6)

    def test_lengths_on_paper_are_the_plates(self) -> None:
        values = station("pushrod")
        side = side_of(values)
        pivot, joint, eye = self.flat(values, [side.pivot.tolist(), side.joint.tolist(), side.eye.tolist()])
        plate = plate_of(side)
        self.assertAlmostEqual(math.dist(pivot, joint), plate.rod_arm, places=6)
        self.assertAlmostEqual(math.dist(pivot, eye), plate.damper_arm, places=2)

    def test_a_free_drag_puts_the_joint_where_the_finger_is(self) -> None:
        values = station("pushrod")
        changed = self.dragged(values, "joint", [60.0, 25.0], FREE)
        joint = self.flat(values, [changed["points"]["rod_top"]])[0]
        np.testing.assert_allclose(joint, [60, 25], atol=1e-3)
        for name, place in values["points"].items():
            if name != "rod_top":
                self.assertEqual(changed["points"][name], place)

    def test_a_set_rod_is_made_to_the_new_drawing(self) -> None:
        values = station("pushrod")
        values["links"] = {"rod": {"length": 470.0}, "tie_rod": {"length": 352.0}}
        changed = self.dragged(values, "eye", [-10.0, 60.0], FREE)
        self.assertEqual(changed["links"], {"tie_rod": {"length": 352.0}})

    def test_locks(self) -> None:
        values = station("pushrod")
        before = side_of(values)
        arms = [float(np.linalg.norm(end - before.pivot)) for end in (before.joint, before.eye)]
        between = float(np.linalg.norm(before.joint - before.eye))
        for grip, to in (("joint", [55.0, 61.0]), ("eye", [-25.0, 61.0])):
            kept = side_of(self.dragged(values, grip, to, FREE | {"arms": True}))
            for end, arm in zip((kept.joint, kept.eye), arms, strict=True):
                self.assertAlmostEqual(float(np.linalg.norm(end - kept.pivot)), arm, places=2)
            both = side_of(self.dragged(values, grip, to, FREE | {"arms": True, "angle": True}))
            self.assertAlmostEqual(float(np.linalg.norm(both.joint - both.eye)), between, places=2)
            self.assertGreater(float(np.linalg.norm(both.joint - before.joint)), 3)

    def test_a_grid_of_holes_is_counted_from_the_pivot(self) -> None:
        values = station("pushrod")
        changed = self.dragged(values, "joint", [58.0, 27.0], FREE | {"grid": 12.5})
        joint = self.flat(values, [changed["points"]["rod_top"]])[0]
        np.testing.assert_allclose(joint, [62.5, 25.0], atol=1e-3)

    def test_the_pivot_takes_both_ends_of_its_bolt_and_nothing_else(self) -> None:
        values = station("pushrod")
        changed = self.dragged(values, "pivot", [8.0, -5.0], FREE)
        moved = {name for name, place in changed["points"].items() if place != values["points"][name]}
        self.assertEqual(moved, {"pivot_front", "pivot_rear"})
        shift = np.array(changed["points"]["pivot_front"]) - values["points"]["pivot_front"]
        self.assertAlmostEqual(float(np.linalg.norm(shift)), math.hypot(8, 5), places=3)
        np.testing.assert_allclose(
            shift, np.array(changed["points"]["pivot_rear"]) - values["points"]["pivot_rear"], atol=1e-6
        )

    def test_on_an_axle_the_other_side_follows_as_a_mirror_image(self) -> None:
        values = station("axle-cantilever")
        rocker = rocker_of(values)
        changed = self.dragged(values, "far", [40.0, 200.0], FREE)
        moved = [name for name, place in changed["points"].items() if place != values["points"][name]]
        self.assertEqual(len(moved), 2)
        here = changed["points"][rocker["far"]]
        other = changed["points"][next(name for name in moved if name != rocker["far"])]
        np.testing.assert_allclose(other, [here[0], -here[1], here[2]], atol=1e-6)

    def test_a_found_rocker_is_put_in_whole(self) -> None:
        values = station("pushrod") | {"links": {"rod": {"length": 470.0}}}
        points = {"rod_top": [1.0, 380.0, 620.0], "eye": [1.0, 360.0, 640.0]}
        changed = asked(MODULE, [["withRocker", values, points, "rod"]])[0]
        self.assertEqual(changed["points"]["rod_top"], [1.0, 380.0, 620.0])
        self.assertEqual(changed["points"]["wheel"], values["points"]["wheel"])
        self.assertEqual(changed["links"], {})


class Paper(SimpleTestCase):
    def test_what_moves_on_paper_moves_at_the_vehicle(self) -> None:
        """A movement put on paper and taken back is the same movement, in every plan and on either side."""
        questions: list[list[Any]] = []
        for plan in ("front", "side", "top"):
            for side in (1, -1):
                questions.append(["unproject", plan, side, 7.0, -3.0])
        for (plan, side), by in zip(
            [(p, s) for p in ("front", "side", "top") for s in (1, -1)],
            asked("views/projection.ts", questions),
            strict=True,
        ):
            back = asked("views/projection.ts", [["project", plan, side, by]])[0]
            np.testing.assert_allclose(back, [7.0, -3.0], atol=1e-12)

    def test_the_left_side_is_drawn_from_the_left(self) -> None:
        left = station("pushrod")
        right = mirrored_station(left, "right")
        sides = asked(
            "views/shapes.ts", [["sideOf", left], ["sideOf", right], ["sideOf", station("axle-four-link")]]
        )
        self.assertEqual(sides, [1, -1, 1])

    def test_a_stations_box_holds_its_points_and_tyres(self) -> None:
        values = station("wishbones-lower")
        box = asked("views/shapes.ts", [["boxOf", values]])[0]
        points = np.array([p for name, p in values["points"].items() if name != "spindle"])
        self.assertTrue((points.min(axis=0) >= box["low"]).all())
        self.assertTrue((points.max(axis=0) <= box["high"]).all())
        self.assertLessEqual(box["low"][2], 0)

    def test_nearest_things_are_shown_about_where_they_occur(self) -> None:
        near = {
            "one": "tyre",
            "other": "rail",
            "distance": 9.0,
            "travel": 40.0,
            "articulation": 0.0,
            "places": [],
        }
        view = {"nearest": [near, near | {"travel": -40.0}, near | {"articulation": 60.0}]}
        questions: list[list[Any]] = [
            ["nearestHere", view, 38.0, 0.0], ["nearestHere", view, 0.0, 0.0], ["nearestHere", view, 40.0, 60.0],
            ["nearestHere", None, 0.0, 0.0],
        ]  # fmt: skip
        found = asked("views/nearest.ts", questions)
        self.assertEqual([len(one) for one in found], [1, 0, 1, 0])
        middle = asked("views/nearest.ts", [["middleOf", [[0, 0, 0], [10, 20, 40]]]])[0]
        self.assertEqual(middle, [5, 10, 20])
