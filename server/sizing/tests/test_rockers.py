"""Rockers over HTTP: what is there, a part of a search, the short list, and refusals in words."""

import json
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import solve_station
from engine.tests import samples


class Rockers(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))
        self.document = starting_project(layout_named("pushrod"))

    def ask(self, what: str, document: Any = None, **more: Any) -> Any:
        body = {"document": document or self.document, "station": 0, **more}
        return self.client.post(f"/api/{what}", json.dumps(body), content_type="application/json")

    def test_what_is_there(self) -> None:
        (rocker,) = self.ask("rockers").json()["rockers"]
        self.assertEqual((rocker["rod"], rocker["unit"], rocker["shared"]), ("rod", "coilover", False))
        self.assertGreater(rocker["plate"]["rod_arm"], 20)
        none = self.ask("rockers", samples.document(samples.arm())).json()
        self.assertEqual(none["rockers"], [])
        self.assertIn("no rocker to size", none["why_none"])

    def test_a_part_of_a_search_and_its_short_list(self) -> None:
        targets = {"ratio": 0.74, "change": 0.02}
        part = self.ask("rockers/search", targets=targets, part=3).json()
        self.assertEqual((part["tried"], part["parts"]), (16384, 8))
        scores = [one["score"] for one in part["found"]]
        self.assertEqual(scores, sorted(scores))
        numbers = [one["numbers"] for one in part["found"][:12]]
        short = self.ask("rockers/refine", targets=targets, numbers=numbers).json()
        self.assertEqual(short["rod"], "rod")
        best = short["solutions"][0]
        self.assertLess(best["apart"], 1e-4)
        self.assertAlmostEqual(best["traits"]["ratio"], 0.74, delta=0.004)
        self.assertEqual(set(best["points"]), {"pivot_front", "pivot_rear", "rod_top", "eye", "top"})

    def test_a_glance_is_a_small_search_whose_best_the_general_solver_agrees_with(self) -> None:
        targets = {"ratio": 0.74, "change": 0.02}
        glance = self.ask("rockers/glance", targets=targets).json()
        self.assertEqual((glance["rod"], glance["tried"]), ("rod", 8192))
        best = glance["sketches"][0]
        self.assertAlmostEqual(best["traits"]["ratio"], 0.74, delta=0.006)
        document = json.loads(json.dumps(self.document))
        station = document["stations"][0]
        station["points"].update(best["points"])
        station.get("links", {}).pop(glance["rod"], None)
        rows = solve_station(check_project(document).stations[0]).at(np.array(glance["travels"]))
        np.testing.assert_allclose(rows.units["coilover"].motion_ratio, best["ratio"], atol=2e-4)
        nowhere = self.ask("rockers/glance", targets={"ratio": 4.9, "far_room": [0, 0, 0]}).json()
        self.assertEqual(nowhere["sketches"] == [], nowhere["found"] == [])

    def test_a_tube_and_envelopes_are_taken_from_the_job(self) -> None:
        station = self.document["stations"][0]
        station["envelopes"] = [
            {"name": "rail", "shape": "capsule", "along": [[-200, 312, 560], [200, 312, 560]], "radius": 19},
            {"name": "tower", "shape": "box", "centre": [0, 84, 894], "size": [120, 120, 120]},
        ]
        part = self.ask("rockers/search", targets={"ratio": 0.74, "along": "rail"}, part=0).json()
        self.assertTrue(all(one["spots"][1:3] == [312.0, 560.0] for one in part["found"]))
        self.assertIn("keep_outs", part["found"][0]["misses"])

    def test_refusals_are_sentences(self) -> None:
        for targets, words in (
            ({}, "Ask for one of"),
            ({"ratio": 0.7, "stroke": 50}, "Ask for one of"),
            ({"ratio": 0.7, "rod_arm": [90, 60]}, "rod arm"),
            ({"ratio": 0.7, "pivot_room": [-1, 0, 0]}, "cannot be negative"),
            ({"ratio": 0.7, "along": "nowhere"}, "No tube"),
            ({"ratio": 0.7, "rocker": "spare"}, 'none of its rockers is called "spare"'),
        ):
            refused = self.ask("rockers/search", targets=targets, part=0)
            self.assertEqual(refused.status_code, 422, targets)
            self.assertIn(words, refused.json()["detail"])
        refused = self.ask("rockers/refine", targets={"ratio": 0.7}, numbers=[[1, 2]])
        self.assertIn("no candidates", refused.json()["detail"])
