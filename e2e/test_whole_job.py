"""A whole made-up job, start to finish, as a fabricator would do it; what the screen says is what `solve` says."""

import io
import json
import re
import tempfile
from contextlib import redirect_stdout
from pathlib import Path
from typing import Any

from django.core.management import call_command
from playwright.sync_api import Locator, expect

from e2e.bench import Bench
from engine.document.read import check_project
from server.jobs.models import Job

NAME = "Linnet hill climber"


class WholeJob(Bench):
    def sheet(self, name: str) -> None:
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile(f"^{name}")).click()
        self.settle()

    def typed(self, label: str, text: str, within: Locator | None = None) -> None:
        field = (within or self.page).get_by_label(re.compile(f"^{label}"))
        field.fill(text)
        field.press("Enter")
        self.settle()

    def headless(self) -> dict[str, Any]:
        """Return what the headless command says of the job as it is exported."""
        document = Job.objects.get(name=NAME).newest().document
        path = Path(tempfile.mkdtemp()) / "job.json"
        path.write_text(json.dumps(document))
        out = io.StringIO()
        with redirect_stdout(out):
            call_command("solve", str(path), "--steps", "21")
        result: dict[str, Any] = json.loads(out.getvalue())
        return result

    def save_as(self, reason: str, number: int) -> None:
        self.save(reason)
        self.page.get_by_text(f"revision {number}, saved").wait_for()

    def test_from_the_first_tape_to_a_set_up_corner(self) -> None:
        page = self.page
        self.sign_in_by_form()
        # What must it do, and what room is there?
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill(NAME)
        for label, text in (
            ("Tyre radius", "272"), ("Tyre width", "8 in"), ("Track", "1420"), ("Bump travel", "50"),
            ("Droop travel", "45"), ("Mass at this wheel", "380 lb"), ("Unsprung part", "22"),
            ("Frequency wanted", "1.9"), ("Tyre to frame", "60"),
        ):  # fmt: skip
            self.typed(label, text)
        expect(page.get_by_test_id("card-pushrod")).to_contain_text("Only a rod reaches the wheel")
        page.get_by_role("button", name="Start with this: Wishbones, pushrod and rocker").click()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        self.settle()
        # The brief: sport, an engine still to come, height by the rod.
        self.sheet("Brief")
        page.get_by_label("What is it for?").select_option("sport")
        page.get_by_role("button", name="A part still to come").click()
        self.typed("part weighs", "38")
        page.get_by_label("Height is set by").select_option("rod")
        self.typed("Height to be set", "8")
        # The rocker: a little rising, taken from the short list.
        self.sheet("Rocker")
        self.typed("Damper ÷ wheel", "0.7")
        self.typed("Rise from droop to bump", "4")
        page.get_by_role("button", name="Search", exact=True).click()
        listed = page.get_by_role("region", name="The short list")
        listed.wait_for(timeout=40_000)
        listed.get_by_role("button", name="Take it, number 1").click()
        self.settle()
        self.save_as("Rocker from the search", 2)
        result = self.headless()["stations"][0]
        self.assertAlmostEqual(
            result["ride"]["frequency"], self.number("Springing", "ride-frequency"), delta=0.006
        )
        # Springs: one that rides as wanted, then the height set for today.
        rows = (
            page.get_by_role("region", name="Springs side by side")
            .get_by_role("row")
            .filter(has_text="as wanted")
        )
        rows.filter(has=page.get_by_role("button", name=re.compile("^Take"))).first.get_by_role(
            "button"
        ).click()
        self.settle()
        setting = page.get_by_role("region", name="Setting the height")
        expect(setting).to_contain_text("Finished")
        # Stops: everything that wants a look and has a press is cleared.
        self.sheet("Stops")
        for _ in range(6):
            presses = page.get_by_role("button", name=re.compile("^Apply: "))
            page.wait_for_timeout(2500)
            if not presses.count():
                break
            presses.first.click()
            self.settle()
        self.save_as("Springs and stops", 3)
        # What is on the screen is what the exported file gives without one.
        result = self.headless()["stations"][0]
        self.assertAlmostEqual(result["ride"]["travel"], self.number("Springing", "ride-travel"), delta=0.06)
        self.assertAlmostEqual(
            result["ride"]["wheel_rate"], self.number("Springing", "ride-rate"), delta=0.06
        )
        document = Job.objects.get(name=NAME).newest().document
        station = check_project(document).stations[0]
        self.assertEqual(document["coming"][0]["mass"], 38)
        self.assertEqual(station.adjusting.by if station.adjusting else None, "rod")
        faults = [finding for finding in result["findings"] if finding["mark"] == "fault"]
        self.assertEqual([finding["code"] for finding in faults], [])
        solved = self.solved(document)
        assert solved.ride is not None
        self.assertGreaterEqual(solved.ride.frequency, 1.55)
        # And the three revisions stand side by side.
        self.sheet("Log")
        page.get_by_role("button", name="Side by side on the Jack").click()
        page.get_by_label("Left: revision").select_option("1")
        row = page.get_by_role("row", name=re.compile("^Ride frequency"))
        row.wait_for()
        self.assertIn(f"{solved.ride.frequency:.2f} Hz", row.inner_text())

    def number(self, sheet: str, test_id: str) -> float:
        self.sheet(sheet)
        return self.shown(test_id)
