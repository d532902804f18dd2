"""The other side is the same car: every judgement and number of a mirrored station is that of the first."""

import unittest

import numpy as np

from engine.document.mirror import mirrored_station, other_sides_name
from engine.document.read import check_project
from engine.findings.judge import judge
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.limits.clearance import clearances
from engine.linkage.grid import grid_of
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_station
from engine.tests import samples


class Mirror(unittest.TestCase):
    def fitted(self) -> samples.Values:
        values = samples.pushrod_corner() | {"other_side": "alone"}
        values["envelopes"] = [
            {
                "name": "rail",
                "shape": "box",
                "centre": [30, 240, 420],
                "size": [700, 50, 90],
                "turn": [12, 5, -20],
            },
            {
                "name": "panel",
                "shape": "plate",
                "outline": [[-300, 480, 610], [300, 480, 610], [300, 800, 640], [-300, 800, 640]],
            },
            {"name": "tube", "shape": "capsule", "along": ["upper_front", [-200, 300, 420]], "radius": 14},
            {
                "name": "ground",
                "shape": "half_space",
                "what": "floor",
                "at": [0, 0, 60],
                "facing": [0, 0.1, 1],
            },
        ]
        values["joints"] = [
            {
                "name": "end",
                "point": "push_low",
                "rod": "pushrod",
                "on": "lower_arm",
                "bolt": [1, 0.2, 0.1],
                "rated": 14,
            }
        ]
        values["units"][0] |= {
            "coil_diameter": 70,
            "eyes": [{"end": "damper_eye", "bolt": [1, 0.1, 0], "rated": 9}],
        }
        return values

    def test_everything_judged_is_judged_the_same(self) -> None:
        one = self.fitted()
        other = mirrored_station(one, "other")
        here, there = (
            {(f.code, f.subject): (f.mark, f.value) for f in judge(solve_station(samples.station(v)))}
            for v in (one, other)
        )
        self.assertEqual(set(here), set(there))
        for key, (mark, value) in here.items():
            self.assertEqual(mark, there[key][0], key)
            if value is not None:
                self.assertAlmostEqual(value, there[key][1] or 0.0, delta=0.02, msg=str(key))

    def test_clearances_are_the_same(self) -> None:
        found = []
        for values in (self.fitted(), mirrored_station(self.fitted(), "other")):
            linkage = Linkage(samples.station(values))
            found.append({(c.one, c.other): c.distance for c in clearances(linkage, grid_of(linkage, 9))})
        self.assertGreaterEqual(len(found[0]), 2)
        self.assertEqual(set(found[0]), set(found[1]))
        for pair, distance in found[0].items():
            self.assertAlmostEqual(distance, found[1][pair], delta=0.02, msg=str(pair))

    def test_twice_is_where_it_was_and_every_arrangement_is_accepted(self) -> None:
        for layout in LAYOUTS:
            values = starting_project(layout)["stations"][0] | {"other_side": "alone"}
            back = mirrored_station(mirrored_station(values, "x"), values["name"])
            for point, place in values["points"].items():
                np.testing.assert_allclose(back["points"][point], place)
            if values["kind"] == "corner":
                check_project(samples.document(mirrored_station(values, "x")))

    def test_names(self) -> None:
        for name, other in (
            ("Front left", "Front right"),
            ("Right rear", "Left rear"),
            ("Tail", "Tail, other side"),
        ):
            self.assertEqual(other_sides_name(name), other)


if __name__ == "__main__":
    unittest.main()
