"""Put it right over HTTP and from the command line: the engine's plans, the shelf of who asks, refusals in words."""

import json
import tempfile
from io import StringIO
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import TestCase

from engine.document.read import read_project
from engine.document.write import project_text
from engine.layouts.catalogue import layout_named, starting_project
from engine.results.whole import work_project
from engine.right.plans import every_finding
from server.parts.models import Part

SHELF = Path(__file__).parents[2] / "demo" / "files" / "shelf.csv"


def short_of_droop() -> dict[str, Any]:
    """Return an arm whose damper is 14 mm too short, everything of it welded and made."""
    document: dict[str, Any] = json.loads(project_text(starting_project(layout_named("trailing-arm"))))
    station = document["stations"][0]
    station["units"][0]["extended"] -= 14
    done = {point: "welded" for point in station["chassis"]} | dict.fromkeys(station["bodies"], "made")
    document["work"] = {"state": {f"{station['name']}/{name}": state for name, state in done.items()}}
    return document


class OverHttp(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("fitter")
        self.client.force_login(self.user)

    def ask(self, document: Any, **more: Any) -> Any:
        body = {"document": document, "plans": 1, **more}
        return self.client.post("/api/right", json.dumps(body), content_type="application/json")

    def test_a_plan_taken_leaves_no_fault_and_what_it_says(self) -> None:
        found = self.ask(short_of_droop()).json()
        (plan,) = found["plans"]
        self.assertGreater(found["before"]["fault"], 0)
        self.assertEqual((plan["after"]["fault"], found["cannot"]), (0, []))
        again = every_finding(work_project(read_project(json.dumps(plan["document"]))))
        self.assertEqual(sum(f.mark == "warning" for f in again), plan["after"]["warning"])
        self.assertEqual(len(plan["left"]), plan["after"]["warning"])
        self.assertEqual(plan["document"]["work"], short_of_droop()["work"])
        self.assertAlmostEqual(plan["cost"], plan["hours"] * found["rate"] + plan["money"])

    def test_what_lies_on_the_shelf_is_taken_before_anything_is_bought(self) -> None:
        bought = self.ask(short_of_droop()).json()["plans"][0]
        unit = short_of_droop()["stations"][0]["units"][0]
        values = {"extended_mm": unit["extended"] + 20, "compressed_mm": unit["compressed"]}
        Part.objects.create(owner=self.user, kind="damper", name="Oak 3", stock=2, values=values)
        plan = self.ask(short_of_droop()).json()["plans"][0]
        if plan["cost"] < bought["cost"]:
            self.assertIn("Oak 3", [name for change in plan["changes"] for name in change["say"]["names"]])
        self.assertLessEqual(plan["cost"], bought["cost"])

    def test_what_is_no_document_is_said(self) -> None:
        document = short_of_droop()
        document["work"]["held"] = ["nobody/top"]
        answer = self.ask(document)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "document_refused"))
        self.assertIn("work.held[0]", answer.json()["values"]["faults"][0]["path"])
        self.assertEqual(self.ask(short_of_droop(), plans=0).status_code, 422)


class FromTheCommandLine(TestCase):
    def run_right(self, *arguments: str) -> tuple[int, str, str]:
        out, err = StringIO(), StringIO()
        try:
            call_command("right", *arguments, stdout=out, stderr=err)
        except SystemExit as end:
            return int(end.code or 0), out.getvalue(), err.getvalue()
        return 0, out.getvalue(), err.getvalue()

    def test_a_plan_is_told_and_written(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file, taken = Path(folder) / "arm.json", Path(folder) / "taken.json"
            file.write_text(json.dumps(short_of_droop()), "utf-8")
            status, out, err = self.run_right(
                str(file), "--plans", "1", "--shelf", str(SHELF), "--take", "1", "--write", str(taken)
            )
            self.assertEqual((status, err), (0, ""))
            told = json.loads(out)
            self.assertEqual((told["format"], told["version"]), ("jugatrix-right", 1))
            after = every_finding(work_project(read_project(taken.read_bytes())))
            self.assertEqual(sum(f.mark == "fault" for f in after), told["plans"][0]["after"]["fault"])
            self.assertEqual(json.loads(taken.read_text("utf-8"))["work"], short_of_droop()["work"])

    def test_what_cannot_be_asked_is_one_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "arm.json"
            file.write_text(json.dumps(short_of_droop()), "utf-8")
            for arguments, words in (
                (["--station", "Nobody"], "is no station of this job"),
                (["--plans", "0"], "ask for 1 or more"),
                (["--take", "1"], "go together"),
                (["--shelf", str(file)], "Line 1"),
                (["--plans", "1", "--take", "9", "--write", str(file)], "plan 9 is none of these"),
            ):
                status, _, err = self.run_right(str(file), *arguments)
                self.assertEqual(status, 2, arguments)
                self.assertIn(words, err)
                self.assertEqual(len(err.strip().split("\n")), 1)
