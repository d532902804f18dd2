"""What a sheet is told beyond the sweep: the other side, what comes nearest, crossovers, the finished mass."""

import copy
import json
import math
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.forces.stack import crossovers
from engine.layouts.catalogue import layout_named, starting_project
from engine.tests import samples

Values = dict[str, Any]


def pair(by: float) -> Values:
    """Return a document of two sides, a bracket of the right one so much too high."""
    left = copy.deepcopy(starting_project(layout_named("wishbones-lower"))["stations"][0])
    left |= {"name": "Left", "other_side": "Right"}
    right = samples.mirrored(left) | {"name": "Right", "other_side": "Left"}
    right["points"]["rack"][2] += by
    return samples.document(left, right)


class Told(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def post(self, what: str, document: Values, station: int = 0, **more: Any) -> Any:
        body = {"document": document, "station": station, **more}
        return self.client.post(f"/api/{what}", json.dumps(body), content_type="application/json").json()

    def test_left_against_right_is_said_on_both_sheets_and_only_with_the_rooms(self) -> None:
        document = pair(6.0)
        for station in (0, 1):
            view = self.post("solve", document, station)
            told = next(f for f in view["findings"] if f["code"] == "sides_differ")
            self.assertEqual((told["mark"], told["subjects"]), ("fault", ["rack"]))
            self.assertAlmostEqual(told["what"]["quantities"]["off"]["value"], 6.0)
            quick = self.post("solve", document, station, rooms=False)
            self.assertFalse(quick["complete"])
            self.assertNotIn("sides_differ", [f["code"] for f in quick["findings"]])
        well = self.post("solve", pair(0.5))
        self.assertEqual([f["mark"] for f in well["findings"] if f["code"] == "sides_differ"], ["good"])

    def test_the_faults_still_come_first(self) -> None:
        marks = [f["mark"] for f in self.post("solve", pair(6.0))["findings"]]
        rank = {"fault": 0, "warning": 1, "good": 2}
        self.assertEqual(marks, sorted(marks, key=lambda mark: rank[mark]))

    def test_the_remedy_puts_the_crooked_bracket_where_the_mirror_image_stands(self) -> None:
        document = pair(6.0)
        for station, (mine, other) in enumerate(((0, 1), (1, 0))):
            found = self.post("remedy", document, station, code="sides_differ", subjects=["rack"])
            x, y, z = document["stations"][other]["points"]["rack"]
            self.assertEqual(found["station"]["points"]["rack"], [x, -y, z])
            self.assertEqual(found["what"]["names"][2], "rack")
            cleared = copy.deepcopy(document)
            cleared["stations"][mine] = found["station"]
            view = self.post("solve", cleared, station)
            self.assertEqual([f["mark"] for f in view["findings"] if f["code"] == "sides_differ"], ["good"])
        self.assertIsNone(self.post("remedy", pair(0.0), 0, code="sides_differ", subjects=["rack"]))

    def test_another_side_that_cannot_be_put_together_leaves_this_one_solved(self) -> None:
        document = pair(0.0)
        document["stations"][1]["links"] = {"tie_rod": {"length": 3000.0}}
        view = self.post("solve", document, 0)
        self.assertIsNotNone(view["ride"])
        self.assertNotIn("sides_differ", [f["code"] for f in view["findings"]])

    def test_what_comes_nearest_is_told_with_both_places(self) -> None:
        values = samples.arm()
        values["wheels"][0] |= {"tyre_radius": 250, "tyre_width": 150}
        values["envelopes"] = [
            {"name": "rail", "shape": "box", "centre": [-400, 560, 250], "size": [300, 60, 80]}
        ]
        view = self.post("solve", samples.document(values))
        near = next(one for one in view["nearest"] if {one["one"], one["other"]} == {"tyre", "rail"})
        self.assertAlmostEqual(math.dist(*near["places"]), abs(near["distance"]), delta=0.5)
        self.assertTrue(-60 <= near["travel"] <= 70)
        self.assertEqual(self.post("solve", samples.document(values), rooms=False)["nearest"], [])

    def test_where_a_stack_crosses_over(self) -> None:
        values = samples.arm()
        soft = {"rate": 20, "free_length": 60, "solid_length": 22, "stop": 20}
        values["units"][0]["springs"].append(soft)
        values["units"][0]["preload"] += 20
        view = self.post("solve", samples.document(values))
        (told,) = view["crossovers"]["coilover"]
        (lock,) = crossovers(list(samples.station(values).units[0].springs))  # type: ignore[union-attr]
        self.assertEqual(told["spring"], 1)
        self.assertAlmostEqual(told["force"], lock.force)
        self.assertAlmostEqual(told["rate_after"], 58.0)
        self.assertAlmostEqual(told["length"], 345 + 25 - lock.compression)

    def test_the_finished_mass_comes_from_the_list_or_from_the_station(self) -> None:
        document = samples.document(samples.arm())
        self.assertIsNone(self.post("solve", document)["finished"])
        document["coming"] = [{"name": "engine", "mass": 30, "carried": {"arm": 0.5}}]
        self.assertAlmostEqual(self.post("solve", document)["finished"], 217.5)
        document["stations"][0]["mass"]["finished"] = 240
        self.assertAlmostEqual(self.post("solve", document)["finished"], 240)
