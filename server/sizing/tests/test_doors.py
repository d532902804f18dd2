"""Every sizing endpoint: only for those signed in, and a document or a station that is none is refused in words."""

import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.layouts.catalogue import layout_named, starting_project
from engine.tests import samples

ASKED: dict[str, dict[str, Any]] = {
    "springs": {},
    "pressures": {},
    "standings": {},
    "holes": {},
    "dampers": {},
    "bars": {},
    "rockers": {},
    "places": {"unit": "coilover", "end": "top", "plan": "top"},
    "places/best": {"unit": "coilover", "end": "top", "plan": "top"},
    "place": {
        "unit": "coilover",
        "end": "top",
        "start": [0, 0, 0],
        "way": [0, 0, 1],
        "travel": 0,
        "length": 300,
    },
    "slide": {"unit": "coilover", "end": "top", "way": [0, 0, 1]},
    "rockers/search": {"targets": {"ratio": 0.7}},
    "rockers/refine": {"targets": {"ratio": 0.7}, "numbers": []},
}


class Doors(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("fitter"))

    def ask(self, what: str, body: Any) -> Any:
        return self.client.post(f"/api/{what}", json.dumps(body), content_type="application/json")

    def test_only_for_those_who_are_signed_in(self) -> None:
        self.client.logout()
        for what, more in ASKED.items():
            answer = self.ask(what, {"document": samples.document(samples.arm()), "station": 0, **more})
            self.assertEqual(answer.status_code, 401, what)
            self.assertIn("signed out", answer.json()["detail"])
        self.assertEqual(self.client.get("/api/usual-limits").status_code, 401)

    def test_a_station_that_is_not_there(self) -> None:
        for what, more in ASKED.items():
            answer = self.ask(what, {"document": samples.document(samples.arm()), "station": 4, **more})
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, "no_station"), what)
            self.assertIn("no station number 5", answer.json()["detail"])

    def test_a_document_with_a_fault_is_refused_with_its_path(self) -> None:
        broken = samples.document(samples.arm())
        broken["stations"][0]["units"][0]["springs"][0]["rate"] = -4
        for what, more in ASKED.items():
            answer = self.ask(what, {"document": broken, "station": 0, **more})
            self.assertEqual(answer.status_code, 422, what)
            self.assertIn("springs[0].rate", answer.json()["path"] or answer.json()["detail"])

    def test_a_linkage_that_cannot_be_put_together_is_a_sentence(self) -> None:
        apart = samples.document(samples.pushrod_corner())
        station = apart["stations"][0]
        rod = next(body for body, members in station["bodies"].items() if len(members) == 2)
        station["links"] = {rod: {"length": 2500.0}}
        for what in ("springs", "standings", "holes", "dampers", "rockers"):
            answer = self.ask(what, {"document": apart, "station": 0})
            self.assertEqual(answer.status_code, 422, what)
            self.assertNotIn("Traceback", answer.content.decode())
            self.assertGreater(len(answer.json()["detail"]), 20)

    def test_a_station_without_what_is_asked_about_is_empty_not_an_error(self) -> None:
        on_air = starting_project(layout_named("arm-on-air"))
        sprung = samples.document(samples.arm())
        for what, document in (("springs", on_air), ("pressures", sprung), ("holes", sprung)):
            answer = self.ask(what, {"document": document, "station": 0})
            self.assertEqual(answer.status_code, 200, what)
            found = answer.json()
            found = found if isinstance(found, list) else found.get("options", found.get("pairs"))
            self.assertEqual(found, [], what)

    def test_numbers_that_make_no_sense_are_refused(self) -> None:
        document = samples.document(samples.arm())
        for what, more in (
            ("places", {"unit": "coilover", "end": "top", "plan": "back"}),
            ("places", {"unit": "coilover", "end": "top", "plan": "top", "half": -3}),
            ("place", {**ASKED["place"], "length": 0}),
            ("place", {**ASKED["place"], "way": [1, 2]}),
            ("slide", {**ASKED["slide"], "step": 0}),
            ("rockers/search", {"targets": {"ratio": 40}}),
            ("rockers/search", {"targets": {"ratio": 0.7}, "part": 900}),
        ):
            answer = self.ask(what, {"document": document, "station": 0, **more})
            self.assertEqual(
                (answer.status_code, answer.json()["code"]), (422, "request_refused"), (what, more)
            )
