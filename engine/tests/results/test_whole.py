"""The result of everything: complete, finite, and the same as the subjects say by themselves."""

import copy
import json
import unittest

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from engine.document.read import check_project
from engine.errors import EngineError
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.results.parts import differences
from engine.results.result_file import solve_project
from engine.tests import samples, some


def solved(name: str, **station: object) -> samples.Values:
    project = starting_project(layout_named(name))
    project["stations"][0] |= station
    return solve_project(check_project(project), 11)["stations"][0]


class Whole(unittest.TestCase):
    def test_every_subject_is_there_for_the_arrangement_that_has_it(self) -> None:
        everywhere = {
            "dampers",
            "wheel_moves",
            "loads",
            "events",
            "sensitivity",
            "findings",
            "sweep",
            "limits",
            "ride",
        }
        subjects = {
            "pushrod": {"rockers", "joints", "roll", "spread", "clearances"},
            "five-link": {"shafts", "rockers", "joints"},
            "axle-on-air": {"bag_states", "axle", "articulation", "roll", "bags"},
            "axle-four-link-lateral": {"axle", "forced_articulation", "over_constrained", "roll"},
            "crossed-coilovers": {"clearances", "roll"},
        }
        for name, its in subjects.items():
            with self.subTest(name):
                self.assertLessEqual(everywhere | its, set(solved(name)))

    def test_bag_states(self) -> None:
        states = {(s["bag"], s["state"]): s for s in solved("axle-on-air")["bag_states"]}
        ride, lift, down = (states["bag_left", state] for state in ("ride", "lift", "aired_out"))
        self.assertEqual(down["force"], 0)
        self.assertGreater(lift["height"], ride["height"])
        self.assertLess(down["height"], ride["height"])
        self.assertGreater(states["bag_left", "bump"]["pressure"], ride["pressure"])
        self.assertLess(states["bag_left", "droop"]["pressure"], ride["pressure"])

    def test_the_other_side_is_named_in_clearances_across_the_car(self) -> None:
        found = solved("crossed-coilovers")["clearances"]
        self.assertTrue(any("other side: coilover body" in item["between"] for item in found))

    def test_articulation_has_the_level_axle_in_its_middle(self) -> None:
        its = solved("axle-four-link")
        level = its["articulation"][4]
        middle = min(its["sweep"], key=lambda row: abs(row["travel"]))
        self.assertEqual(level["articulation"], 0)
        self.assertGreater(
            its["articulation"][8]["units"]["coilover_right"]["length"],
            level["units"]["coilover_right"]["length"],
        )
        self.assertLess(
            abs(level["units"]["coilover_left"]["length"] - middle["units"]["coilover_left"]["length"]), 8
        )

    def test_remedies_are_left_out_when_asked(self) -> None:
        project = starting_project(layout_named("trailing-arm"))
        project["stations"][0]["units"] = project["stations"][0]["units"][:1]
        with_them, without = (solve_project(check_project(project), 11, remedies=r) for r in (True, False))
        self.assertTrue(any("remedy" in f for f in with_them["stations"][0]["findings"]))
        self.assertFalse(any("remedy" in f for f in without["stations"][0]["findings"]))

    def test_differences_say_where_and_what(self) -> None:
        before = {"a": {"b": 1}, "list": [{"x": 1}, {"x": 2}], "point": [1, 2, 3]}
        after = {"a": {"b": 2}, "list": [{"x": 1}, {"x": 3}, {"x": 4}], "point": [1, 2, 4]}
        self.assertEqual(
            [d["path"] for d in differences(before, after)], ["a.b", "list[1].x", "list[2]", "point"]
        )


def spoiled(place: np.ndarray, middle: np.ndarray, how: str, random: np.random.Generator) -> np.ndarray:
    """Return a point moved so that little of the arrangement is left."""
    match how:
        case "jitter":
            return place + random.uniform(-120, 120, 3)
        case "flat":
            return np.array([place[0], place[1], 300 + random.uniform(-0.01, 0.01)])
        case "huge":
            return middle + (place - middle) * 8
        case "tiny":
            return middle + (place - middle) * 0.02
        case "far":
            return np.add(place, [15_000.0, 0.0, -12_000.0])
    return place


class Hostile(unittest.TestCase):
    """Hostile geometry may be refused or fall short; it never hangs, crashes or gives NaN."""

    @settings(max_examples=some(24), deadline=None)
    @given(
        st.sampled_from([layout.name for layout in LAYOUTS]),
        st.integers(0, 2**32 - 1),
        st.sampled_from(["jitter", "flat", "huge", "tiny", "far", "travel"]),
    )
    @example("axle-cantilever", 5135, "flat")  # stands where it cannot articulate at all
    def test_spoiled_arrangements(self, name: str, seed: int, how: str) -> None:
        random = np.random.default_rng(seed)
        project = copy.deepcopy(starting_project(layout_named(name)))
        for station in project["stations"]:
            places = {p: np.array(place, dtype=float) for p, place in station["points"].items()}
            middle = np.mean(list(places.values()), axis=0)
            for point, place in places.items():
                station["points"][point] = [round(float(c), 4) for c in spoiled(place, middle, how, random)]
            if how == "travel":
                station["travel"] |= {
                    "bump": float(random.uniform(200, 1000)),
                    "droop": float(random.uniform(200, 1000)),
                }
        try:
            result = solve_project(check_project(project), 9, remedies=False)
        except EngineError as refused:
            self.assertTrue(str(refused))
            return
        json.dumps(result, allow_nan=False)


if __name__ == "__main__":
    unittest.main()
