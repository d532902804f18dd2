"""Two side by side on one Jack, variants of a station, and what if."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.station.ends import Limit


class Beside(Bench):
    def sheet(self, name: str) -> None:
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile(f"^{name}")).click()
        self.settle()

    def test_two_revisions_stand_on_the_same_jack(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Log")
        page.get_by_role("button", name="Side by side on the Jack").click()
        rows = page.get_by_role("row", name=re.compile("^Eye to eye at the Jack, coilover"))
        rows.wait_for()
        page.get_by_label("Left: revision").select_option("1")
        job = self.job("Heron three-wheeler")
        lengths = []
        for number in (1, 2):
            solved = self.solved(job.revisions.get(number=number).document)
            at = solved.at([10.0])  # type: ignore[arg-type]
            lengths.append(f"{float(at.units['coilover'].length[0]):.1f} mm")
        page.get_by_role("slider", name="Wheel travel").press("Shift+ArrowUp")
        cells = rows.get_by_role("cell")
        expect(cells.nth(0)).to_have_text(lengths[0])
        expect(cells.nth(1)).to_have_text(lengths[1])
        self.assert_accessible("side by side")
        page.get_by_role("button", name="Back to the log").click()
        expect(page.get_by_role("heading", name="The job’s book, newest first")).to_be_visible()

    def test_a_variant_is_made_changed_and_compared_and_does_not_count_in_the_vehicle(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        lean = page.get_by_text(re.compile("it leans .* for each g"))
        before = lean.inner_text()
        page.get_by_role("button", name="Make a variant of Front left").click()
        expect(page.get_by_text("a variant of Front left")).to_be_visible()
        self.settle()
        self.assertEqual(lean.inner_text(), before)
        self.sheet("Springing")
        page.get_by_role("button", name="Take 50.0 N/mm").click()
        self.settle()
        self.sheet("Log")
        page.get_by_role("button", name="Side by side on the Jack").click()
        row = page.get_by_role("row", name=re.compile("^Wheel rate at ride"))
        row.wait_for()
        one, other = row.get_by_role("cell").all_inner_texts()
        self.assertNotEqual(one, other)

    def test_what_if_changes_nothing_until_it_is_kept(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Stops")
        taut = page.get_by_role("button", name=re.compile("strap comes taut"))
        before = self.travel_in(taut)
        slider = page.get_by_role("slider", name="What if, strap")
        for _ in range(8):
            slider.press("ArrowLeft")
        self.settle()
        expect(page.get_by_text("What is shown here is only tried.")).to_be_visible()
        document = self.document("Heron three-wheeler")
        strap = next(u for u in document["stations"][0]["units"] if u["kind"] == "strap")
        strap["length"] -= 8
        limits: tuple[Limit, ...] = self.solved(document).limits
        at = next(limit.travel for limit in limits if limit.kind == "strap_taut")
        expect(taut).to_contain_text(f"{at:.1f}".replace("-", "−"))
        expect(page.get_by_text(re.compile(r"revision 2, saved"))).to_be_visible()
        self.assert_accessible("what if")
        page.get_by_role("button", name="Put it back").click()
        self.settle()
        expect(taut).to_contain_text(before)
        self.assertEqual(self.travel_in(taut), before)
        slider.press("ArrowLeft")
        self.settle()
        page.get_by_role("button", name="Keep it").click()
        self.settle()
        expect(page.get_by_text(re.compile("with unsaved changes"))).to_be_visible()
        self.assertNotEqual(self.travel_in(taut), before)
        page.get_by_role("button", name="Undo").click()
        self.settle()
        expect(taut).to_contain_text(before)
        self.assertEqual(self.travel_in(taut), before)
