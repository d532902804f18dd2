"""`manage.py carry` and the Frame sheet's call: the engine's answer, and refusals in a sentence."""

import itertools
import json
import math
import tempfile
from io import StringIO
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import TestCase

from engine.document.read import read_project
from engine.frame.borne import borne
from engine.frame.result_file import frame_values

TENDER = Path(__file__).parents[2] / "demo" / "files" / "hollin-fell-fire-tender.json"


class Carry(TestCase):
    def run_carry(self, *arguments: str) -> tuple[int, str, str]:
        out, err = StringIO(), StringIO()
        try:
            call_command("carry", *arguments, stdout=out, stderr=err)
        except SystemExit as end:
            return int(end.code or 0), out.getvalue(), err.getvalue()
        return 0, out.getvalue(), err.getvalue()

    def test_the_command_prints_the_engines_answer(self) -> None:
        status, out, err = self.run_carry(str(TENDER))
        self.assertEqual((status, err), (0, ""))
        project = read_project(TENDER.read_bytes())
        self.assertEqual(json.loads(out), json.loads(json.dumps(frame_values(project, borne(project)))))

    def test_a_job_without_a_frame_is_one_sentence(self) -> None:
        values = json.loads(TENDER.read_text("utf-8"))
        del values["frame"]
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "job.json"
            file.write_text(json.dumps(values), "utf-8")
            status, out, err = self.run_carry(str(file))
        self.assertEqual((status, out), (2, ""))
        self.assertIn("this job has no frame", err)

    def ask(self, document: Any) -> Any:
        self.client.force_login(get_user_model().objects.get_or_create(username="fitter")[0])
        return self.client.post(
            "/api/frame", json.dumps({"document": document}), content_type="application/json"
        )

    def test_the_sheet_has_every_tube_mount_and_movement(self) -> None:
        values = json.loads(TENDER.read_text("utf-8"))
        told = self.ask(values).json()
        its = borne(read_project(TENDER.read_bytes()))
        self.assertEqual([one["name"] for one in told["members"]], [one.name for one in its.members])
        for one, mine in zip(told["members"], its.members, strict=True):
            self.assertAlmostEqual(one["stress"], mine.stress)
        self.assertEqual(len(told["cases"][0]["moves"]), len(told["names"]))
        worst = {one["case"] for one in told["members"]} | {one["case"] for one in told["mounts"]}
        self.assertEqual({one["name"] for one in told["cases"]}, worst)
        stations = {one["name"]: one for one in values["stations"]}
        moved = 0.0
        for case in told["cases"]:
            for name in {at.split("/")[0] for at in case["stands"]}:
                points = stations[name]["points"]
                stands = {point: case["stands"][f"{name}/{point}"] for point in points}
                # Its mounts stay, no link is longer than it was, and the wheels are somewhere else.
                for point in stations[name]["chassis"]:
                    self.assertLess(math.dist(stands[point], points[point]), 0.1)
                for body in stations[name]["bodies"].values():
                    for one, other in itertools.combinations(body, 2):
                        long = math.dist(points[one], points[other])
                        self.assertAlmostEqual(math.dist(stands[one], stands[other]), long, delta=0.2)
                moved = max(moved, *(math.dist(stands[point], points[point]) for point in points))
        self.assertGreater(moved, 50.0)
        del values["frame"]
        self.assertIsNone(self.ask(values).json())
        values["frame"] = {"nodes": {"a": "nowhere"}}
        answer = self.ask(values)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "document_refused"))
