"""Starting from an arrangement through the API."""

import json
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS
from engine.station.solved import solve_station
from engine.tests import samples


class Starting(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("bench", password="a-long-one"))

    def start(self, name: str, **brief: Any) -> Any:
        return self.client.post(
            f"/api/layouts/{name}/start", json.dumps(brief), content_type="application/json"
        )

    def test_without_time_an_arrangement_says_so_and_asking_again_comes_further(self) -> None:
        body = json.dumps({"brief": {"track": 1777.0}, "room": {}})
        with patch("server.starting.api.MOST_SECONDS", 0.0):
            late = self.client.post("/api/layouts/suited", body, content_type="application/json").json()
        self.assertEqual(len(late), len(LAYOUTS))
        self.assertTrue(all("Not weighed in the time" in one["why_not"][0]["words"] for one in late))
        again = self.client.post("/api/layouts/suited", body, content_type="application/json").json()
        self.assertNotIn("Not weighed", json.dumps(again))

    def test_every_arrangement_is_listed_with_how_it_moves(self) -> None:
        found = self.client.get("/api/layouts").json()
        self.assertEqual([item["name"] for item in found], [layout.name for layout in LAYOUTS])
        for item in found:
            wheel = item["points"][item["wheels"][0]]
            self.assertLess(wheel[0][2], wheel[1][2])
            self.assertLess(wheel[1][2], wheel[2][2])

    def test_a_brief_is_met(self) -> None:
        answered = self.start(
            "pushrod", track=1300, wheel_radius=270, bump=45, droop=40, corner_mass=190, unsprung_mass=24
        )
        self.assertEqual(answered.status_code, 200)
        stations = answered.json()["stations"]
        project = {"format": "jugatrix-project", "version": 1, "name": "new", "stations": stations}
        station = check_project(project).stations[0]
        solved = solve_station(station)
        assert solved.ride is not None
        self.assertAlmostEqual(solved.ride.travel, 0, delta=0.5)
        self.assertEqual((station.travel.bump, station.travel.droop, station.mass.corner), (45, 40, 190))
        self.assertEqual(station.points["wheel"][1], 650)

    def test_refusals(self) -> None:
        unknown = self.start("pushrods")
        self.assertEqual((unknown.status_code, unknown.json()["code"]), (422, "no_such_layout"))
        unfit = self.start("wishbones-lower", bump=450, wheel_radius=150)
        self.assertEqual((unfit.status_code, unfit.json()["code"]), (422, "layout_does_not_fit"))
        self.assertIn("only reaches", unfit.json()["detail"])
        self.assertEqual(self.start("pushrod", track=-3).status_code, 422)

    def apart(self, document: Any, station: int = 0) -> Any:
        body = json.dumps({"document": document, "station": station})
        return self.client.post("/api/layouts/apart", body, content_type="application/json")

    def test_sides_are_set_apart_as_mirror_images_that_name_one_another(self) -> None:
        document = samples.document(samples.pushrod_corner() | {"name": "Front left"})
        found = self.apart(document).json()["document"]
        one, other = check_project(found).stations
        self.assertEqual(
            (one.other_side, other.name, other.other_side), ("Front right", "Front right", "Front left")
        )
        self.assertEqual(other.points["wheel"][1], -one.points["wheel"][1])
        ride = [solve_station(side).ride for side in (one, other)]
        assert ride[0] and ride[1]
        self.assertAlmostEqual(ride[0].travel, ride[1].travel, delta=1e-6)

    def test_a_side_is_carried_over_to_the_other(self) -> None:
        document = samples.document(samples.pushrod_corner() | {"name": "Front left"})
        both = self.apart(document).json()["document"]
        point = both["stations"][0]["chassis"][0]
        both["stations"][0]["points"][point][2] += 7
        both["stations"][1]["mass"]["corner"] += 3
        body = {"document": both, "station": 0}
        found = self.client.post(
            "/api/layouts/mirrored", json.dumps(body), content_type="application/json"
        ).json()["document"]
        left, right = found["stations"]
        x, y, z = left["points"][point]
        self.assertEqual(right["points"][point], [x, -y, z])
        self.assertEqual(right["mass"]["corner"], left["mass"]["corner"] + 3)
        self.assertEqual((right["name"], right["other_side"]), ("Front right", "Front left"))
        alone = {"document": document, "station": 0}
        refused = self.client.post(
            "/api/layouts/mirrored", json.dumps(alone), content_type="application/json"
        )
        self.assertEqual(refused.json()["code"], "no_other_side")

    def test_what_cannot_be_set_apart_says_why(self) -> None:
        axle = samples.document(samples.axle())
        self.assertEqual(self.apart(axle).json()["code"], "no_mirror")
        left = samples.pushrod_corner() | {"name": "Front left"}
        taken = samples.document(left, samples.mirrored(left) | {"name": "Front right"})
        self.assertEqual(self.apart(taken).json()["code"], "name_taken")

    def test_only_for_those_who_are_signed_in(self) -> None:
        self.client.logout()
        self.assertEqual(self.client.get("/api/layouts").status_code, 401)
