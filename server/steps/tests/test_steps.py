"""The order of the work over HTTP: the document in hand, and the wall, each as the one who asks may see it."""

import json
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase

from server.jobs.actions.import_project import import_project
from server.parts.models import Part

HERON = Path(__file__).parents[2] / "demo" / "files" / "heron-three-wheeler.json"


class Steps(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("wilma", password="a long word here")
        self.client.force_login(self.user)
        self.document: dict[str, Any] = json.loads(HERON.read_text("utf-8"))
        self.job = import_project(self.user, HERON.read_bytes())

    def asked(self, **more: Any) -> Any:
        survey, records = self.document.get("survey", {}), self.document.get("records", [])
        document = {k: v for k, v in self.document.items() if k not in ("survey", "records")}
        body = {"document": document, "survey": survey, "records": records, **more}
        return self.client.post("/api/steps", json.dumps(body), content_type="application/json")

    def test_the_document_in_hand_says_what_comes_next(self) -> None:
        steps = self.asked().json()
        of = {(one["station"], one["step"]): one for one in steps}
        self.assertEqual(of[None, "weigh"]["state"], "done")
        self.assertEqual(of["Front left", "survey"]["state"], "done")
        self.assertEqual(of["Rear wheel", "order"]["state"], "not_yet")
        self.assertGreater(of["Rear wheel", "order"]["spoils"]["money"], 0)

    def test_what_is_on_the_shelf_need_not_be_ordered(self) -> None:
        def lines() -> int:
            order = next(one for one in self.asked().json() if one["step"] == "order")
            return int(order["say"]["words"].split()[0])

        before = lines()
        values = {"thickness_mm": 8, "width_mm": 500, "length_mm": 1000}
        Part.objects.create(owner=self.user, kind="plate", name="8 mm", values=values, stock=9)
        self.assertEqual(lines(), before - 1)

    def test_the_wall_shows_the_newest_revision_with_its_records(self) -> None:
        wall = self.client.get(f"/api/jobs/{self.job.id}/next").json()
        of = {(one["station"], one["step"]): one for one in wall["steps"]}
        self.assertEqual(of[None, "drive"]["state"], "done")
        self.assertEqual(len(wall["drawn"]["tyres"]), 3)
        self.assertEqual(wall["refused"], "")

    def test_a_stranger_sees_nothing_of_it(self) -> None:
        other = get_user_model().objects.create_user("otto", password="another long word")
        self.client.force_login(other)
        self.assertEqual(self.client.get(f"/api/jobs/{self.job.id}/next").status_code, 404)
        body = self.asked(job=str(self.job.id), revision=2)
        self.assertEqual(body.status_code, 404)
