"""Signing in: with a password, by the demo's door only where it is open, and never forged."""

import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import Client, TestCase, override_settings

from server.accounts.api import DEMO_USER
from server.demo.load import FILES, load_demo
from server.jobs.models import Job


class SigningIn(TestCase):
    def setUp(self) -> None:
        get_user_model().objects.create_user("fitter", password="right")

    def sign_in(self, password: str, client: Client | None = None, **extra: Any) -> Any:
        body = json.dumps({"username": "fitter", "password": password})
        return (client or self.client).post("/api/session", body, content_type="application/json", **extra)

    def test_with_a_password(self) -> None:
        self.assertIsNone(self.client.get("/api/session").json()["user"])
        wrong = self.sign_in("wrong")
        self.assertEqual((wrong.status_code, wrong.json()["code"]), (401, "wrong_password"))
        self.assertEqual(self.sign_in("right").json()["user"], "fitter")
        self.assertEqual(self.client.get("/api/jobs").status_code, 200)
        self.assertIsNone(self.client.delete("/api/session").json()["user"])
        self.assertEqual(self.client.get("/api/jobs").status_code, 401)

    def test_a_forged_request_is_refused(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(self.sign_in("right", strict).status_code, 403)
        strict.get("/api/session")
        token = strict.cookies["csrftoken"].value
        self.assertEqual(self.sign_in("right", strict, headers={"X-CSRFToken": token}).status_code, 200)
        forged = strict.post("/api/jobs/import", "{}", content_type="application/json")
        self.assertEqual(forged.status_code, 403)

    def test_the_demo_door_opens_in_demo_mode_on_loopback_only(self) -> None:
        get_user_model().objects.create_user(DEMO_USER)
        self.assertEqual(self.client.post("/api/session/demo").status_code, 403)
        with override_settings(DEMO=True):
            far = self.client.post("/api/session/demo", REMOTE_ADDR="192.0.2.7")
            self.assertEqual((far.status_code, far.json()["code"]), (403, "no_demo"))
            self.assertEqual(self.client.post("/api/session/demo").json()["user"], DEMO_USER)


class DemoData(TestCase):
    def test_it_loads_once_and_every_station_solves(self) -> None:
        self.assertEqual(len(load_demo()), len(list(FILES.glob("*.json"))))
        self.assertEqual(load_demo(), [])
        self.client.force_login(get_user_model().objects.get(username=DEMO_USER))
        seen = set()
        for job in Job.objects.all():
            document = job.newest().document
            for number in range(len(document["stations"])):
                body = json.dumps({"document": document, "station": number})
                answer = self.client.post("/api/solve", body, content_type="application/json")
                self.assertEqual(answer.status_code, 200, answer.content)
                seen |= {finding["code"] for finding in answer.json()["findings"]}
        wanted = {
            "rod_square_at_ride", "rod_near_centre", "damper_extended", "damper_compressed", "coil_solid", "coil_left",
            "coil_loose", "coil_seat", "no_equilibrium", "linkage_reach", "over_constrained", "bag_heights", "bag_pressure",
            "strap_before_damper", "bump_stop_before_damper",
        }  # fmt: skip
        self.assertLessEqual(wanted, seen)
