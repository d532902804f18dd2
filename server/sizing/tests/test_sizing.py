"""Sizing over HTTP: the engine's numbers, and refusals in words."""

import json
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.setting import standings
from engine.sizing.places import places_of
from engine.station.solved import solve_station
from engine.tests import samples
from server.parts.models import Part


class Sizing(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def ask(self, what: str, document: Any, **more: Any) -> Any:
        body = {"document": document, "station": 0, **more}
        return self.client.post(f"/api/{what}", json.dumps(body), content_type="application/json")

    def test_standings_are_the_engines_with_the_mass_still_to_come(self) -> None:
        document = samples.document(samples.arm())
        document["coming"] = [{"name": "engine", "mass": 50, "carried": {"arm": 1}}]
        found = self.ask("standings", document).json()
        self.assertEqual((found["corner"], found["finished"]), (210, 235))
        heavier = samples.arm()
        heavier["mass"]["finished"] = 235
        (one,) = standings(solve_station(samples.station(heavier), steps=61))
        self.assertAlmostEqual(found["means"][0]["finished"], one.finished)
        self.assertEqual(found["means"][0]["there_finished"], None)

    def test_what_bars_must_give_does_not_depend_on_the_bar_that_is_fitted(self) -> None:
        asked = []
        for diameter in (14.0, 38.0):
            arm = samples.arm()
            arm["points"] |= {"drop": [-300, 500, 250], "held": [-500, 450, 400]}
            arm["chassis"] = [*arm["chassis"], "held"]
            arm["bodies"]["arm"] = [*arm["bodies"]["arm"], "drop"]
            bar = {"name": "bar", "kind": "bar", "ends": ["drop", "held"], "tip": [-300, 500, 400]}
            arm["units"] = [*arm["units"], bar | {"length": 900.0, "diameter": diameter}]
            document = samples.document(arm) | {"vehicle": {"cg_height": 900}}
            asked.append(self.ask("bars", document).json())
        one, other = asked
        self.assertGreater(one["wanted"], 0)
        self.assertAlmostEqual(one["wanted"], other["wanted"], places=6)
        self.assertEqual([o["suits"] for o in one["options"]], [o["suits"] for o in other["options"]])
        self.assertEqual(sum(o["suits"] for o in one["options"]), 1)

    def test_a_list_of_parts_does_not_become_the_stations_own_mass(self) -> None:
        document = samples.document(samples.arm())
        document["coming"] = [{"name": "engine", "mass": 50, "carried": {"arm": 1}}]
        tried = [
            self.ask("remedy", document, code=finding["code"], subjects=finding["subjects"]).json()
            for finding in self.ask("solve", document).json()["findings"]
            if finding["mark"] != "good"
        ]
        made = [remedy["station"] for remedy in tried if remedy]
        self.assertTrue(made)
        self.assertTrue(all("finished" not in station["mass"] for station in made))

    def test_pressures_side_by_side(self) -> None:
        document = starting_project(layout_named("axle-on-air"))
        found = self.ask("pressures", document).json()
        self.assertEqual(sum(option["now"] for option in found), 1)
        self.assertTrue(all(option["height"] for option in found if option["ride"] is not None))

    def test_a_bag_of_the_shelf_brings_all_of_itself(self) -> None:
        document = starting_project(layout_named("arm-on-air"))
        self.assertEqual(self.ask("bags", document).json(), [])
        values = {"min_height_mm": 75, "max_height_mm": 255, "max_pressure_bar": 8}
        owner = get_user_model().objects.get(username="fitter")
        Part.objects.create(owner=owner, kind="bag", name="Squat", values=values, stock=2)
        (bag,) = self.ask("bags", document).json()
        self.assertEqual((bag["name"], bag["stock"], bag["scaled"], bag["now"]), ("Squat", 2, True, False))
        (unit,) = bag["units"].values()
        self.assertEqual((unit["min_height"], unit["max_height"], unit["max_pressure"]), (75, 255, 8))
        document["stations"][0]["units"] = [
            unit if one["name"] == unit["name"] else one for one in document["stations"][0]["units"]
        ]
        (bag,) = self.ask("bags", document).json()
        self.assertTrue(bag["now"])

    def test_places_are_row_by_row_from_the_lowest(self) -> None:
        document = samples.document(samples.arm())
        found = self.ask("places", document, unit="coilover", end="top", plan="side", half=40, count=5).json()
        self.assertEqual(found["across"], [-260, -240, -220, -200, -180])
        self.assertEqual(found["up"], [520, 540, 560, 580, 600])
        solved = solve_station(check_project(document).stations[0], steps=61)
        told = places_of(solved, "coilover", "top", np.array([[-240.0, 450, 600]]))
        self.assertAlmostEqual(found["ratio"][4 * 5 + 1], told.ratio[0], places=3)
        assert told.left_in_droop is not None
        self.assertAlmostEqual(found["left_in_droop"][4 * 5 + 1], told.left_in_droop[0], places=1)

    def test_a_dummy_strut_is_slid_to_its_length(self) -> None:
        document = samples.document(samples.arm())
        asked = {"unit": "coilover", "end": "top", "start": [-220, 450, 560], "way": [0, 0, 1]}
        found = self.ask("place", document, **asked, travel=0, length=310).json()
        apart = np.linalg.norm(np.array(found[0]["place"]) - [-250, 450, 260])
        self.assertAlmostEqual(float(apart), 310, places=3)
        self.assertEqual(self.ask("place", document, **asked, travel=0, length=10).json(), [])

    def test_refusals_are_sentences(self) -> None:
        document = samples.document(samples.arm())
        asked = {"start": [0, 0, 0], "way": [0, 0, 1], "travel": 0, "length": 300}
        for more, words in (
            ({"unit": "spare", "end": "top"}, "no unit has this name"),
            ({"unit": "coilover", "end": "wheel"}, "is no end of it"),
            ({"unit": "coilover", "end": "top", "way": [0, 0, 0]}, "has no direction"),
            ({"unit": "coilover", "end": "top", "travel": 900}, "within the wanted travel"),
        ):
            refused = self.ask("place", document, **{**asked, **more})
            self.assertEqual(refused.status_code, 422)
            self.assertIn(words, refused.json()["detail"])
        refused = self.ask("places", document, unit="coilover", end="nowhere", plan="top")
        self.assertIn("nowhere", refused.json()["detail"])

    def test_dampers_of_the_shelf_and_what_each_wants_all_round(self) -> None:
        owner = get_user_model().objects.get(username="fitter")
        values = {"extended_mm": 350.0, "compressed_mm": 245.0}
        Part.objects.create(owner=owner, kind="damper", name="Rack 350", values=values, stock=2)
        found = self.ask("dampers", samples.document(samples.arm())).json()
        self.assertEqual([one["now"] for one in found["suits"]], [True, False])
        shelf = found["suits"][1]
        self.assertEqual((shelf["name"], shelf["stock"], shelf["stroke"]), ("Rack 350", 2, 105))
        self.assertAlmostEqual(found["all_round"][0]["wants"]["arm"], 95 / 130)

    def test_hole_pairs(self) -> None:
        values = samples.arm()
        values["holes"] = {"top": {"places": [[-220, 450, 560], [-220, 450, 575]]}}
        found = self.ask("holes", samples.document(values)).json()
        self.assertEqual(found["patterns"], [["top"]])
        self.assertEqual([pair["now"] for pair in found["pairs"]], [True, False])
        self.assertIn("{change}", found["chassis_only"]["words"])

    def test_arrangements_are_weighed_by_the_room(self) -> None:
        body = {"brief": {}, "room": {"beside": 30, "purpose": "sport"}}
        found = self.client.post(
            "/api/layouts/suited", json.dumps(body), content_type="application/json"
        ).json()
        fits = {one["name"]: one["fits"] for one in found}
        self.assertTrue(fits["pushrod"])
        self.assertFalse(fits["wishbones-lower"])

    def test_usual_limits_go_by_the_purpose(self) -> None:
        found = self.client.get("/api/usual-limits?purpose=rough").json()
        self.assertEqual(found["frequency_hz"], [0.8, 1.4])
        self.assertEqual(found["peak_multiple"], 5.0)
        self.assertEqual(found["tyre_structure_mm"], list(RULES.tyre_structure_mm))
        self.assertIsNone(self.client.get("/api/usual-limits").json()["frequency_hz"])
