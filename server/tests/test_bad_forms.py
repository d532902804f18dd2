"""What is not of its form is refused in words by every call of the contract, and never a failure; the long one is bench/fuzz."""

import io
import json
import logging
import os
import re
import tempfile
import time
import traceback
from collections import defaultdict
from pathlib import Path
from random import Random
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.core.signals import got_request_exception
from django.test import Client, TestCase, override_settings

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.station.solved import solve_station
from engine.tests import samples
from server.accounts.models import OWNER, Person
from server.exports.api import sweep_csv
from server.jobs.actions.import_project import import_project
from server.parts.shelf_csv import read_shelf
from server.tests.mutated import DOCUMENT, HERON, Call, calls, mutated

TIMES = int(os.environ.get("JUGATRIX_FUZZ", "3"))
SEED = int(os.environ.get("JUGATRIX_FUZZ_SEED", "20261201"))


class Mutated(TestCase):
    """Every call some times over, each time with something else wrong, from a seed."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.user = get_user_model().objects.create_user("ada", password="x")
        Person.objects.create(user=cls.user, role=OWNER)
        cls.job = import_project(cls.user, json.dumps(HERON).encode())

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        changed = override_settings(
            DATA=Path(folder.name), STUDIES=Path(folder.name) / "studies", INTERVAL_GEOMETRIES=20
        )
        changed.enable()
        self.addCleanup(changed.disable)
        logging.disable(logging.ERROR)
        self.addCleanup(logging.disable, logging.NOTSET)
        self.failed: list[str] = []
        got_request_exception.connect(self.tell_failure)
        self.addCleanup(got_request_exception.disconnect, self.tell_failure)
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.user)

    def tell_failure(self, **_: Any) -> None:
        """Keep what went wrong: among fifty thousand calls one that fails once is not found again."""
        self.failed.append(traceback.format_exc())

    def asked(self, call: Call, body: Any, chance: Random) -> Any:
        filled = call.path.replace("{job_id}", str(self.job.pk))
        filled = re.sub(r"\{(?:number|before|after)\}", "1", filled)
        filled = re.sub(r"\{(?:pk|photograph_id|draft_id|working_key)\}", str(self.job.pk), filled)
        filled = filled.replace("{kind}", chance.choice(("reading", "mark", "record", "rubbish"))).replace(
            "{name}", "wishbones-lower"
        )
        filled = re.sub(
            r"\{\w+\}", lambda _: chance.choice(("x", "1", "distance-meter", "%2e%2e", "a%00b")), filled
        )
        return self.client.generic(
            call.method, filled, "" if body is None else json.dumps(body), content_type="application/json"
        )

    def test_no_call_fails_at_what_is_not_of_its_form(self) -> None:
        chance, asked = Random(SEED), 0
        took: dict[str, list[float]] = defaultdict(list)
        for call in calls():
            for number in range(TIMES):
                body = call.body if number == 0 or call.body is None else mutated(call.body, chance)
                with self.subTest(call.operation, number=number):
                    began = time.perf_counter()
                    self.failed.clear()
                    answer = self.asked(call, body, chance)
                    took[call.operation].append(time.perf_counter() - began)
                    asked += 1
                    self.assertTrue(
                        answer.status_code < 500 or answer.status_code == 503,
                        "\n".join([str(answer.content[:300]), *self.failed]),
                    )
                    if answer.status_code >= 400:
                        said = answer.json()
                        self.assertTrue(said["code"] and said["detail"], said)
                        self.assertNotRegex(said["detail"], r"Traceback|object at 0x|\.py\b|NoneType")
        self.assertGreater(asked, 300)
        if "JUGATRIX_FUZZ" in os.environ:
            slow = {
                name: f"{sum(one > 2 for one in its)} over 2 s, {max(its):.1f} s"
                for name, its in took.items()
            }
            print(asked, "calls;", {name: said for name, said in slow.items() if not said.startswith("0 ")})

    def test_a_survey_that_is_none_is_said_before_it_is_worked_on(self) -> None:
        for survey, path in (
            ({"readings": [5]}, "survey.readings"),
            ({"readings": [{"kind": "distance", "between": 3, "values": [1]}]}, "survey.readings"),
            ({"photos": [{"picked": 4}]}, "survey.photos"),
            ({"marks": [1]}, "survey.marks"),
        ):
            for address in ("survey", "survey/next", "survey/aims", "survey/take", "make", "make/stock"):
                body = {"document": DOCUMENT, "survey": survey, "figure": "place", "of": "", "alike": "own"}
                answer = self.client.post(
                    f"/api/{address}", json.dumps(body), content_type="application/json"
                )
                self.assertEqual(
                    (answer.status_code, answer.json()["code"]), (422, "document_refused"), address
                )
                self.assertTrue(answer.json()["values"]["faults"][0]["path"].startswith(path), answer.json())
        for document in ({"stations": [{}]}, {"stations": 5}, {"stations": [{"name": "a", "points": 3}]}, {}):
            answer = self.client.post(
                "/api/survey",
                json.dumps({"document": document, "survey": {}}),
                content_type="application/json",
            )
            self.assertEqual(answer.status_code, 422, document)

    def test_a_stand_in_is_held_to_places_and_nothing_else(self) -> None:
        body = {"kind": "distance", "spots": [[1, 2, 3], [4, 5]], "at": "x"}
        answer = self.client.post(
            "/api/instruments/distance-meter/aim", json.dumps(body), content_type="application/json"
        )
        self.assertIn(answer.status_code, (404, 422))

    def test_a_body_that_is_too_large_is_read_to_its_end_before_it_is_refused(self) -> None:
        answer = self.client.post("/api/solve", b"x" * 12_000_000, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (413, "file_too_big"))


class Tables(TestCase):
    def test_a_shelf_of_line_ends_is_refused_before_it_is_split(self) -> None:
        with patch("server.parts.shelf_csv.csv.reader") as split:
            (fault,) = read_shelf(b"kind,name\n" + b"\n" * 1_500_000).faults
            self.assertIn("Split it", fault)
            (fault,) = read_shelf(b"kind,name\n" + b"x" * 8_400_000).faults
            self.assertIn("at most 2 MB", fault)
        split.assert_not_called()

    def test_a_units_name_in_a_heading_is_no_formula(self) -> None:
        values = samples.arm()
        values["units"][0]["name"] = "=HYPERLINK(1)"
        solved = solve_station(samples.station(values), "", 5)
        head = next(iter(io.StringIO(sweep_csv(solved))))
        self.assertIn("'=HYPERLINK", head)
        self.assertNotRegex(head, r"(^|,)=")

    def test_next_to_nothing_is_no_figure(self) -> None:
        document = json.loads(json.dumps(DOCUMENT))
        document["stations"][0]["mass"]["corner"] = 5e-324
        with self.assertRaises(DocumentRefused) as refused:
            check_project(document)
        self.assertEqual(refused.exception.faults[0].path, "stations[0].mass.corner")
        self.assertIn("can be worked with", refused.exception.faults[0].message)
