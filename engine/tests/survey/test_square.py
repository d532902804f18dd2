"""Square and alike: what was built in is what is told, with its interval; a mirrored vehicle is out the other way."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.survey.square import NINE_TENTHS, Square, pairs_of
from engine.survey.worked import WorkedSurvey
from engine.tests.survey.networks import survey_of

Values = dict[str, Any]
SINGLES = ("height", "offset", "fore_aft")


def vehicle(moved: dict[str, tuple[float, float, float]] | None = None, flip: bool = False) -> WorkedSurvey:
    """Return a vehicle of two corners in front and an axle behind, every place read where it was built."""
    left = copy.deepcopy(starting_project(layout_named("wishbones-lower"))["stations"][0])
    right = copy.deepcopy(left)
    left |= {"name": "Front left", "other_side": "Front right"}
    right |= {"name": "Front right", "other_side": "Front left"}
    right["points"] = {name: [x, -y, z] for name, (x, y, z) in right["points"].items()}
    axle = copy.deepcopy(starting_project(layout_named("axle-four-link"))["stations"][0])
    axle["name"] = "Rear axle"
    axle["points"] = {name: [x - 2600, y, z] for name, (x, y, z) in axle["points"].items()}
    project: Values = {
        "format": "jugatrix-project",
        "version": 1,
        "name": "Whole",
        "stations": [left, right, axle],
    }
    places = {
        f"{station['name']}/{point}": np.array(spot, dtype=float)
        for station in project["stations"]
        for point, spot in station["points"].items()
    }
    for name, by in (moved or {}).items():
        places[name] = places[name] + np.array(by)
    if flip:
        images = {"Front left": "Front right", "Front right": "Front left"}

        def image(name: str) -> str:
            station, point = name.split("/")
            if station in images:
                return f"{images[station]}/{point}"
            swapped = point.replace("left", "#").replace("right", "left").replace("#", "right")
            return f"{station}/{swapped}"

        places = {image(name): spot * [1, -1, 1] for name, spot in places.items()}
    blank = [{"kind": kind, "of": name} for name in places for kind in SINGLES]
    return WorkedSurvey(check_project({**project, "survey": survey_of(places, blank)}))


def told(worked: WorkedSurvey, what: str) -> Square:
    return next(one for one in worked.squares if one.what == what)


class Vehicle(unittest.TestCase):
    def test_every_point_finds_its_other_side(self) -> None:
        worked = vehicle()
        pairs = pairs_of(worked.project, worked.adjusted)
        names = {name for pair in pairs for name in pair}
        self.assertIn("Front left/top" if "Front left/top" in names else next(iter(names)), names)
        for left, right in pairs:
            self.assertGreater(worked.drawn[left][1], worked.drawn[right][1])
        self.assertIn(("Rear axle/wheel_left", "Rear axle/wheel_right"), pairs)

    def test_a_square_vehicle_is_square_as_far_as_the_tape_can_tell(self) -> None:
        worked = vehicle()
        self.assertTrue(all(abs(one.out) < 1e-6 and one.mark == "good" for one in worked.squares))
        self.assertTrue(all(one.mark == "good" for one in worked.sides))
        kinds = {one.what for one in worked.squares}
        self.assertLessEqual(
            {"diagonals of the wheels", "wheelbases", "square to the centreline", "wheels side to side"},
            kinds,
        )

    def test_an_axle_that_stands_askew_is_told_by_what_was_built_in(self) -> None:
        worked = vehicle({"Rear axle/wheel_left": (6, 0, 0), "Rear axle/wheel_right": (-6, 0, 0)})
        askew = next(
            one
            for one in worked.squares
            if one.what == "square to the centreline" and "Rear" in one.places[0]
        )
        self.assertAlmostEqual(askew.out, 12.0, places=4)
        self.assertEqual(askew.mark, "fault")
        self.assertIn("12.0 mm", str(askew.say))
        self.assertIn("ahead of", str(askew.say))
        self.assertAlmostEqual(told(worked, "wheelbases").out, -12.0, places=4)
        self.assertIn("shorter on the left", str(told(worked, "wheelbases").say))
        self.assertGreater(abs(told(worked, "diagonals of the wheels").out), 4.0)

    def test_the_mirrored_vehicle_is_out_the_other_way(self) -> None:
        moved = {"Rear axle/wheel_left": (6.0, 3.0, 0.0), "Front right/wheel": (0.0, 5.0, 0.0)}
        plain, mirrored = vehicle(moved), vehicle(moved, flip=True)
        for one in plain.squares:
            other = next(
                o for o in mirrored.squares if o.what == one.what and set(o.places) == set(one.places)
            )
            self.assertAlmostEqual(other.out, -one.out, places=3)
            self.assertAlmostEqual(other.within, one.within, places=4)

    def test_wheels_off_the_middle(self) -> None:
        worked = vehicle({"Rear axle/wheel_left": (0, 8, 0), "Rear axle/wheel_right": (0, 8, 0)})
        middle = next(o for o in worked.squares if o.what == "wheels side to side" and "Rear" in o.places[0])
        self.assertAlmostEqual(middle.out, 8.0, places=4)
        self.assertIn("to the left of the middle", str(middle.say))

    def test_intervals_are_nine_tenths_of_the_readings_own_errors(self) -> None:
        worked = vehicle()
        base = told(worked, "wheelbases")
        sigma = np.sqrt(4 * 1.5**2)  # four plumb readings
        self.assertAlmostEqual(base.within, NINE_TENTHS * sigma, places=3)
        side = worked.sides[0]
        np.testing.assert_allclose(side.within, NINE_TENTHS * side.sigma)
        np.testing.assert_allclose(side.sigma, [1.5 * 2**0.5, 1.5 * 2**0.5, 1.0 * 2**0.5], atol=1e-6)

    def test_a_side_that_was_built_otherwise_is_named_first(self) -> None:
        worked = vehicle({"Front left/wheel": (0, 0, 7)})
        first = worked.sides[0]
        self.assertEqual((first.left, first.right), ("Front left/wheel", "Front right/wheel"))
        np.testing.assert_allclose(first.apart, [0, 0, 7], atol=1e-6)
        self.assertEqual(first.mark, "fault")
        self.assertIn("7.0 mm", str(first.say))


class Shafts(unittest.TestCase):
    def test_a_shafts_joint_angle_by_its_ends(self) -> None:
        project = starting_project(layout_named("axle-four-link"))
        station = project["stations"][0]
        frame = station["chassis"][0]
        carried = next(
            point for members in station["bodies"].values() if len(members) > 2 for point in members
        )
        one, other = (np.array(station["points"][name], dtype=float) for name in (carried, frame))
        station["shafts"] = [
            {"name": "prop", "ends": [carried, frame], "axes": [[1, 0, 0], [1, 0, 0]], "rated": 40}
        ]
        places = {
            f"{station['name']}/{name}": np.array(station["points"][name], dtype=float)
            for name in (carried, frame)
        }
        blank = [{"kind": kind, "of": name} for name in places for kind in SINGLES]
        worked = WorkedSurvey(check_project({**project, "survey": survey_of(places, blank)}))
        shafts = [square for square in worked.squares if square.what == "pinion and shaft angle"]
        way = other - one
        wanted = float(np.degrees(np.arccos(abs(way[0]) / np.linalg.norm(way))))
        self.assertEqual(len(shafts), 2)
        for shaft in shafts:
            self.assertAlmostEqual(shaft.out, wanted, places=5)
            self.assertEqual(shaft.measures, "angle")
            self.assertGreater(shaft.within, 0)


if __name__ == "__main__":
    unittest.main()
