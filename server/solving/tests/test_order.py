"""`manage.py order`: what the contract asks for, refusals in a sentence, and a calendar that a well-kept parser reads whole."""

import json
import tempfile
from datetime import datetime
from io import StringIO
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from django.core.management import call_command
from django.test import SimpleTestCase
from icalendar import Calendar

DEMOS = Path(__file__).parents[2] / "demo" / "files"
HERON = DEMOS / "heron-three-wheeler.json"
STATES = {"done", "next", "may", "waits", "not_yet", "again"}


class Order(SimpleTestCase):
    def run_order(self, *arguments: str) -> tuple[int, str, str]:
        out, err = StringIO(), StringIO()
        try:
            call_command("order", *arguments, stdout=out, stderr=err)
        except SystemExit as end:
            return int(end.code or 0), out.getvalue(), err.getvalue()
        return 0, out.getvalue(), err.getvalue()

    def test_every_job_of_the_demo_is_ordered_and_planned(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            people, calendar = Path(folder) / "people.json", Path(folder) / "plan.ics"
            shop = {
                "people": [{"name": "Ines", "away": ["2026-12-24"]}, {"name": "Bo", "can": ["make", "weld", "tack"]}],
                "arrivals": [{"job": "Heron three-wheeler", "part": "Rear wheel, shock", "date": "2026-12-18"}],
                "wanted": {"Heron three-wheeler": "2027-01-15"},
                "zone": "Europe/Lisbon",
            }  # fmt: skip
            people.write_text(json.dumps(shop), "utf-8")
            files = [str(file) for file in sorted(DEMOS.glob("*.json"))]
            status, out, err = self.run_order(
                *files, "--people", str(people), "--from", "2026-12-02", "--ics", str(calendar)
            )
            self.assertEqual((status, err), (0, ""))
            answer: dict[str, Any] = json.loads(out)
            self.assertEqual((answer["format"], answer["version"]), ("jugatrix-order", 1))
            self.assertEqual(len(answer["jobs"]), len(files))
            for job in answer["jobs"]:
                self.assertTrue(job["hangs_on"])
                self.assertEqual(sorted(job["finish"]), job["finish"])
                for step in job["steps"]:
                    self.assertIn(step["state"], STATES)
                    self.assertTrue(step["say"])
                    self.assertEqual(sorted(step["hours"]), step["hours"])
                    self.assertEqual(bool(step["spoils"]), step["state"] == "not_yet")
            self.assertTrue(0 < answer["bound"] <= 1)
            events = Calendar.from_ical(calendar.read_bytes()).walk("VEVENT")
            self.assertEqual(len(events), len(answer["plan"]))
            self.assertEqual(len({str(event["uid"]) for event in events}), len(events))
            begun = sorted(event.decoded("dtstart") for event in events)
            clock = ZoneInfo("Europe/Lisbon")
            self.assertEqual(
                begun,
                sorted(datetime.fromisoformat(one["from"]).replace(tzinfo=clock) for one in answer["plan"]),
            )

    def test_bad_input_is_one_sentence_a_fault(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            people = Path(folder) / "people.json"
            people.write_text('{"wanted": {"Heron": "2027-01-15"}}', "utf-8")
            for arguments, words in (
                ((str(HERON), "--from", "soon"), "2026-12-02"),
                ((str(HERON), str(HERON)), "a name of its own"),
                ((str(HERON), "--people", str(people)), 'no job here is called "Heron"'),
                ((str(HERON), "--people", str(Path(folder) / "none.json")), "cannot be read"),
                ((str(Path(folder) / "none.json"),), "cannot be read"),
                ((str(HERON), "--ics", str(Path(folder) / "none" / "plan.ics")), "cannot be written"),
            ):
                status, out, err = self.run_order(*arguments)
                self.assertEqual((status, out), (2, ""), arguments)
                self.assertIn(words, err)
                self.assertNotIn("Traceback", err)
