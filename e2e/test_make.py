"""What has to be made: parts drawn and read, files taken away and read back, a mount read back into the survey."""

import io
import json
import re
import zipfile

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.shop.job_parts import job_parts
from server.records.actions.survey import items_of, survey_of

HERON = "Heron three-wheeler"


class Make(Bench):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()
        self.open_job(HERON)
        self.page.get_by_role("link", name="Make", exact=True).click()
        self.page.get_by_role("region", name="Parts of Front left").wait_for()
        self.settle()

    def test_a_rods_figures_are_the_engines_and_the_files_say_the_same(self) -> None:
        document = {**self.document(HERON), "survey": survey_of(items_of(self.job(HERON)))}
        rod = next(
            one for one in job_parts(check_project(document)).stations[0].rods if one.name == "pushrod"
        )
        self.page.get_by_role("button", name=re.compile("pushrod, tube")).first.click()
        expect(self.page.get_by_test_id("part")).to_contain_text(f"{rod.rod.tube_length:.1f} mm")
        with self.page.expect_download() as waiting:
            self.page.get_by_role("link", name="Everything, as a ZIP").click()
        packed = zipfile.ZipFile(io.BytesIO(waiting.value.path().read_bytes()))
        self.assertLessEqual(
            {"parts.json", "cut-list.csv", "skeleton.dxf", "templates.pdf"}, set(packed.namelist())
        )
        told = next(
            part
            for part in json.loads(packed.read("parts.json"))["parts"]
            if part["name"] == "pushrod" and part["station"] == "Front left"
        )
        self.assertAlmostEqual(told["tube_length"], rod.rod.tube_length, places=2)
        self.assertIn(b"LWPOLYLINE", packed.read("plates/front-left-rocker.dxf"))

    def test_a_mount_is_read_back_into_the_survey(self) -> None:
        self.page.get_by_role("tab", name="Setting out").click()
        mount = self.page.get_by_test_id("mount").filter(has_text="damper anchor, Front left").first
        expect(mount).to_contain_text("tape to")
        mount.get_by_role("link", name="Read it back").click()
        self.page.get_by_test_id("in-hand").wait_for()
        expect(self.page.get_by_test_id("in-hand")).to_contain_text(", Front left")

    def test_axe_finds_nothing(self) -> None:
        for tab in ("Parts", "Setting out"):
            self.page.get_by_role("tab", name=tab).click()
            self.settle()
            self.assert_accessible(f"Make, {tab}")
