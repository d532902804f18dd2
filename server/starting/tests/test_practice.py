"""Practice over HTTP: every exercise decided rightly comes through; what is decided wrongly is told, and the car is a job."""

import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.practice.exercises import BY_KEY
from engine.practice.play import careful, careless, play
from engine.practice.result_file import account_values


class Practice(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))

    def play(self, key: str, takes: dict[str, str], status: int = 200, seed: int = 3) -> Any:
        answer = self.client.post(
            f"/api/practice/{key}",
            json.dumps({"seed": seed, "takes": takes}),
            content_type="application/json",
        )
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json()

    def test_what_is_listed_can_be_decided_and_does_not_say_which_way_is_right(self) -> None:
        listed = self.client.get("/api/practice").json()
        self.assertEqual([one["key"] for one in listed], list(BY_KEY))
        first = 0
        for one in listed:
            right = careful(BY_KEY[one["key"]]).takes
            self.assertEqual({fork["key"] for fork in one["forks"]}, set(right))
            for fork in one["forks"]:
                self.assertIn(right[fork["key"]], fork["ways"])
                first += fork["ways"][0] == right[fork["key"]]
        forks = sum(len(one["forks"]) for one in listed)
        self.assertTrue(0.2 * forks < first < 0.8 * forks)

    def test_it_is_the_headless_account_and_the_car_is_a_job(self) -> None:
        exercise = BY_KEY["stop"]
        for worker in (careful(exercise), careless(exercise)):
            told = self.play("stop", dict(worker.takes))
            account = account_values(play(exercise, 3, worker))
            for name in ("came", "slips", "mistakes", "costliest"):
                for one, other in zip([told[name]] if name == "costliest" else told[name], [account[name]] if name == "costliest" else account[name], strict=True):  # fmt: skip
                    self.assertEqual(one, other and {key: other[key] for key in one})
            self.assertEqual((told["hours"], told["money"]), (account["hours"], account["money"]))
            answer = self.client.post(
                "/api/jobs/import", json.dumps(told["car"]), content_type="application/json"
            )
            self.assertEqual(answer.status_code, 201, answer.content[:300])
            solved = self.client.post(
                "/api/solve",
                json.dumps({"document": told["car"], "station": 0}),
                content_type="application/json",
            )
            self.assertEqual(solved.status_code, 200, solved.content[:300])
        self.assertEqual(len(told["mistakes"]), 2)

    def test_what_is_undecided_or_no_way_is_refused(self) -> None:
        takes = dict(careful(BY_KEY["strap"]).takes)
        self.assertIn("no exercise here", self.play("boat", takes, 404)["detail"])
        self.assertIn(
            "Still to be decided: strap", self.play("strap", {"survey": takes["survey"]}, 422)["detail"]
        )
        self.assertIn(
            "is not one of the choices", self.play("strap", takes | {"strap": "by eye"}, 422)["detail"]
        )
        self.play("strap", takes, 422, seed=-1)
