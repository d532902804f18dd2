"""Starting from an arrangement through the API."""

import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS
from engine.station import solve_station


class Starting(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("bench", password="a-long-one"))

    def start(self, name: str, **brief: Any) -> Any:
        return self.client.post(
            f"/api/layouts/{name}/start", json.dumps(brief), content_type="application/json"
        )

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

    def test_only_for_those_who_are_signed_in(self) -> None:
        self.client.logout()
        self.assertEqual(self.client.get("/api/layouts").status_code, 401)
