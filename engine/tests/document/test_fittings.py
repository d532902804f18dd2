"""Fittings that are wrong are refused with their path, in a sentence that says what to do; all of them, and at once."""

import copy
import unittest
from typing import Any

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.layouts.catalogue import layout_named, starting_project
from engine.tests import samples


def faults(values: Any) -> str:
    try:
        check_project(samples.document(values) if "points" in values else values)
    except DocumentRefused as refused:
        return "\n".join(str(fault) for fault in refused.faults)
    return ""


def corner(**more: Any) -> samples.Values:
    return samples.pushrod_corner() | more


def with_envelope(**more: Any) -> samples.Values:
    box = {"name": "rail", "shape": "box", "centre": [0, 400, 500], "size": [800, 60, 80]}
    kept = {key: value for key, value in (box | more).items() if value is not None}
    return corner(envelopes=[kept])


def with_unit(**more: Any) -> samples.Values:
    values = corner()
    values["units"][0] |= more
    return values


class Envelopes(unittest.TestCase):
    def test_a_good_one_of_each_shape(self) -> None:
        line = {"along": ["lower_front", [10, 20, 30]], "radius": 12}
        for shape in (
            {},
            {"shape": "capsule", **line},
            {"shape": "cylinder", **line, "on": "lower_arm"},
            {"shape": "half_space", "at": [0, 0, 0], "facing": [0, 0, 2]},
            {"shape": "plate", "outline": [[0, 0, 900], [500, 0, 900], [500, 400, 900]], "thickness": 2},
        ):
            self.assertEqual(faults(with_envelope(**shape)), "", shape)

    def test_what_is_wrong_is_named_with_its_path(self) -> None:
        at = "stations[0].envelopes[0]"
        for change, sentence in (
            ({"shape": "ball"}, f"{at}.shape: must be 'capsule'"),
            ({"size": None}, f"{at}.size: is missing; a box needs it"),
            ({"size": [800, -60, 80]}, f"{at}.size[1]: must be greater than 0, got -60"),
            (
                {"on": "lower_arn"},
                f'{at}.on: no body or unit is called "lower_arn"; did you mean "lower_arm"?',
            ),
            ({"on": "roof"}, f'{at}.on: no body or unit is called "roof"; or write chassis'),
            ({"shape": "capsule", "radius": 9}, f"{at}.along: is missing; a capsule needs it"),
            (
                {"shape": "capsule", "radius": 9, "along": ["lower_frnt", "rack"]},
                f'{at}.along[0]: no point is called "lower_frnt"',
            ),
            (
                {"shape": "capsule", "radius": 9, "along": ["rack", "rack"]},
                f"{at}.along: both places are the same",
            ),
            ({"shape": "half_space", "at": [0, 0, 0], "facing": [0, 0, 0]}, f"{at}.facing: has no direction"),
            (
                {"shape": "plate", "outline": [[0, 0, 0], [1, 0, 0], [2, 0, 0]]},
                f"{at}.outline: its places lie on one line",
            ),
            (
                {"shape": "plate", "outline": [[0, 0, 0], [900, 0, 0], [900, 900, 0], [0, 900, 60]]},
                f"{at}.outline: is not flat",
            ),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(with_envelope(**change)))

    def test_a_place_that_is_neither_a_name_nor_three_numbers(self) -> None:
        for centre in (7, [1, 2], [1, 2, "x"], {"x": 1}):
            found = faults(with_envelope(centre=centre))
            self.assertIn("stations[0].envelopes[0].centre", found)
            self.assertNotIn("constrained", found)
            self.assertNotIn("function", found)

    def test_names_are_used_once(self) -> None:
        values = with_envelope()
        values["envelopes"] *= 2
        self.assertIn('"rail" is used twice', faults(values))


class Joints(unittest.TestCase):
    def test_names_and_directions(self) -> None:
        good = {
            "name": "end",
            "point": "push_top",
            "rod": "pushrod",
            "on": "rocker",
            "bolt": [1, 0, 0],
            "rated": 20,
        }
        self.assertEqual(faults(corner(joints=[good])), "")
        at = "stations[0].joints[0]"
        for change, sentence in (
            ({"point": "push_topp"}, f'{at}.point: no point is called "push_topp"'),
            ({"point": "rack"}, f'{at}.point: "rack" is no end of pushrod'),
            ({"rod": "pushrd"}, f'{at}.rod: no rod or unit is called "pushrd"; did you mean "pushrod"?'),
            ({"on": "roker"}, f'{at}.on: no body is called "roker"'),
            ({"bolt": [0, 0, 0]}, f"{at}.bolt: has no direction"),
            ({"rated": 0}, f"{at}.rated: must be greater than 0, got 0"),
            ({"rated": 120}, f"{at}.rated: must be 90 or less, got 120"),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(corner(joints=[good | change])))

    def test_shafts(self) -> None:
        good = {"name": "half shaft", "ends": ["rack", "wheel"], "axes": [[0, 1, 0], [0, 1, 0]], "rated": 22}
        self.assertEqual(faults(corner(shafts=[good])), "")
        at = "stations[0].shafts[0]"
        for change, sentence in (
            ({"ends": ["rack", "whel"]}, f'{at}.ends[1]: no point is called "whel"; did you mean "wheel"?'),
            ({"axes": [[0, 1, 0], [0, 0, 0]]}, f"{at}.axes[1]: has no direction"),
            ({"length": {"least": 500, "most": 400}}, f"{at}.length.least: must be less than most (400 mm)"),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(corner(shafts=[good | change])))

    def test_sliders(self) -> None:
        at = "stations[0].sliders.strut"
        for change, sentence in (
            ({"body": "uprigt"}, f'{at}.body: no body is called "uprigt"; did you mean "upright"?'),
            ({"line": ["strut_low", "rack"]}, f'{at}.line[1]: "rack" is not on upright'),
            (
                {"through": "top_mnt"},
                f'{at}.through: no point is called "top_mnt"; did you mean "top_mount"?',
            ),
            ({"through": "steer"}, f'{at}.through: "steer" is on the sliding body itself'),
        ):
            with self.subTest(sentence):
                values = samples.strut()
                values["sliders"]["strut"] |= change
                self.assertIn(sentence, faults(values))


class Units(unittest.TestCase):
    def test_a_spring_says_its_rate_in_one_way(self) -> None:
        lengths = {"free_length": 220, "solid_length": 90}
        wire = {"diameter": 12, "mean_diameter": 80, "active_coils": 7}
        at = "stations[0].units[0].springs[0]"
        for spring, sentence in (
            (lengths, f"{at}.rate: give one of a rate in N/mm"),
            (lengths | {"rate": 50, "wire": wire}, "this has rate and wire"),
            (
                lengths | {"wire": wire | {"diameter": 90}},
                f"{at}.wire.diameter: must be less than mean_diameter (80 mm), got 90",
            ),
            (
                lengths | {"wire": wire | {"active_coils": 0}},
                f"{at}.wire.active_coils: must be greater than 0",
            ),
            (
                lengths | {"two_loads": [[20, 200], [60, 210]]},
                f"{at}.two_loads: the heavier load must leave it lower",
            ),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(with_unit(springs=[spring])))

    def test_eyes_and_adapters(self) -> None:
        at = "stations[0].units[0]"
        for change, sentence in (
            (
                {"eyes": [{"end": "rack", "bolt": [0, 1, 0]}]},
                f'{at}.eyes[0].end: "rack" is no end of coilover',
            ),
            ({"eyes": [{"end": "damper_eye", "bolt": [0, 0, 0]}]}, f"{at}.eyes[0].bolt: has no direction"),
            ({"adapter": {"top": -4}}, f"{at}.adapter.top: must be 0 or more, got -4"),
            ({"perch": {"up": 3}}, f"{at}.perch.down: is missing; add it"),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(with_unit(**change)))

    def test_tanks(self) -> None:
        air = copy.deepcopy(starting_project(layout_named("axle-on-air"))["stations"][0])
        at = "stations[0].tanks"
        for tanks, sentence in (
            (
                [{"name": "a", "bags": ["bag_lft"]}],
                f'{at}[0].bags[0]: no air spring is called "bag_lft"; did you mean "bag_left"?',
            ),
            (
                [{"name": "a", "bags": ["bag_left"]}, {"name": "b", "bags": ["bag_left"]}],
                '"bag_left" is on two tanks',
            ),
            (
                [{"name": "a", "bags": ["bag_left"], "volume": -1}],
                f"{at}[0].volume: must be 0 or more, got -1",
            ),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(air | {"tanks": tanks}))
        uneven = copy.deepcopy(air)
        next(u for u in uneven["units"] if u["name"] == "bag_left")["pressure"] = 3.0
        self.assertIn("share their air, so give them the same pressure", faults(uneven))

    def test_rods_and_uncertainty(self) -> None:
        rod = {"thread": 12, "engagement": 18}
        self.assertEqual(faults(corner(rods={"pushrod": rod})), "")
        self.assertIn('rods.pushrd: no rod is called "pushrd"', faults(corner(rods={"pushrd": rod})))
        self.assertIn(
            "rods.pushrod.thread: must be greater than 0",
            faults(corner(rods={"pushrod": rod | {"thread": 0}})),
        )
        self.assertIn(
            "rods.pushrod.hands[0]: must be 'right' or 'left'",
            faults(corner(rods={"pushrod": rod | {"hands": ["up", "left"]}})),
        )
        self.assertIn(
            'uncertainty.points.rak: no point is called "rak"',
            faults(corner(uncertainty={"points": {"rak": 1.0}})),
        )
        self.assertIn(
            "uncertainty.tape: must be 20 or less, got 50", faults(corner(uncertainty={"tape": 50}))
        )


class Wholes(unittest.TestCase):
    def test_the_other_side_is_a_station_of_the_job(self) -> None:
        self.assertIn('stations[0].other_side: "Rear" is no other station', faults(corner(other_side="Rear")))
        for said in ("mirror", "alone"):
            self.assertEqual(faults(corner(other_side=said)), "")

    def test_judging(self) -> None:
        for change, sentence in (
            ({"purpose": "moon"}, "judging.purpose: must be 'road'"),
            ({"damper_left_mm": -1}, "judging.damper_left_mm: must be 0 or more, got -1"),
            ({"tyre_structure_mm": [25]}, "judging.tyre_structure_mm: needs at least 2 entries"),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, faults(samples.document(corner()) | {"judging": change}))

    def test_a_vehicle_has_a_centre_of_gravity_above_the_floor(self) -> None:
        self.assertIn(
            "vehicle.cg_height: must be greater than 0",
            faults(samples.document(corner()) | {"vehicle": {"cg_height": 0}}),
        )

    def test_what_nobody_knows_is_kept(self) -> None:
        values = with_envelope(colour="red") | {"bench_note": "left of the door"}
        project = check_project(samples.document(values))
        kept = project.model_dump(mode="json", exclude_unset=True)["stations"][0]
        self.assertEqual((kept["bench_note"], kept["envelopes"][0]["colour"]), ("left of the door", "red"))


if __name__ == "__main__":
    unittest.main()
