"""What carries the mounts: the tender's soft crossbar braced by a press, a tube drawn, one that nothing holds told."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.frame.borne import borne
from engine.frame.judged import judged

LONG_MS = 60_000


class Frames(Bench):
    def opened_on(self, job: str) -> None:
        self.sign_in()
        self.open_job(job)
        self.page.get_by_role("link", name=re.compile("^Frame")).click()
        expect(self.page.get_by_role("heading", name="Mounts")).to_be_visible(timeout=LONG_MS)

    def codes(self, document: object) -> set[str]:
        project = check_project(document)
        return {f.code for f in judged(project, borne(project, buckling=False)) if f.mark != "good"}

    def test_a_soft_crossbar_is_braced_by_what_was_tried(self) -> None:
        page = self.page
        self.opened_on("Hollin Fell fire tender")
        soft = page.get_by_test_id("finding-frame_soft")
        expect(soft.first).to_contain_text("shock top")
        self.assert_accessible("frame")
        page.get_by_role("combobox", name="Load case").select_option(index=1)
        drawn = page.get_by_role("group", name=re.compile("^Frame, ")).locator("polyline")
        lines = drawn.count()
        for plan in ("side", "top", "front"):  # nothing of one plan is left lying in the next
            page.get_by_role("button", name=plan, exact=True).click()
            expect(drawn).to_have_count(lines)
        page.get_by_role(
            "button", name=re.compile("^Add the brace: A brace from hoop to spring pocket")
        ).click()
        expect(soft).to_have_count(0, timeout=LONG_MS)
        expect(page.get_by_role("button", name="brace", exact=True).last).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(soft.first).to_be_visible(timeout=LONG_MS)
        page.get_by_role("button", name="Redo").click()
        expect(soft).to_have_count(0, timeout=LONG_MS)
        self.save("Braced the crossbar")
        page.get_by_text(re.compile(r"revision \d+, saved")).wait_for()
        document = self.document("Hollin Fell fire tender")
        self.assertEqual(document["frame"]["members"][-1]["ends"], ["hoop", "spring pocket"])
        self.assertNotIn("frame_soft", self.codes(document))

    def test_what_nothing_holds_is_told_and_held_by_a_tube(self) -> None:
        page = self.page
        self.opened_on("Wandering shelf library")
        loose = page.get_by_test_id("finding-frame_loose")
        expect(loose.first).to_contain_text("Nothing holds step")
        self.unfold("Draw a tube")
        form = page.get_by_role("region", name="Draw a tube")
        form.get_by_role("combobox", name="from").select_option("sill")
        form.get_by_role("combobox", name="to", exact=True).select_option("step")
        form.get_by_label("Name").fill("outrigger")
        form.get_by_role("button", name="Draw the tube").click()
        expect(loose).to_have_count(0, timeout=LONG_MS)
        expect(page.get_by_role("button", name="outrigger", exact=True).last).to_be_visible()
        self.unfold("Places")
        page.get_by_label("How step behind is held").select_option("pinned")
        expect(page.get_by_label("How step behind is held")).to_have_value("pinned")
