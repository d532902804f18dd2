"""A design study from the Brief: begun, watched, walked along within limits, one vehicle taken, stopped and taken up again."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from server.demo.load import load_demo

HERON = "Heron three-wheeler"


class Study(Bench):
    def fill(self) -> None:
        """Load the shop anew: studies lie beside the database by their job's name, and a copy's jobs have the same."""
        load_demo()

    def setUp(self) -> None:
        super().setUp()
        self.at_the_bench(HERON)
        self.page.get_by_role("link", name="Brief", exact=True).click()
        self.page.get_by_role("link", name="Study all stations together").click()
        self.page.get_by_role("button", name="Start the study").wait_for()

    def test_a_study_is_begun_walked_along_and_one_of_its_vehicles_taken(self) -> None:
        page = self.page
        self.assert_accessible("a study to be begun")
        page.get_by_label(re.compile("^Front left, frequency")).fill("1.7")
        page.keyboard.press("Enter")
        rates = page.get_by_label("Rear wheel, springs that may be fitted")
        rates.fill("70 nonsense")
        expect(page.get_by_text("Rates with spaces between them")).to_be_visible()
        rates.fill("70 80 90 100 110")
        rates.press("Enter")
        page.get_by_label("How many vehicles").select_option("100000")
        page.get_by_role("button", name="Start the study").click()
        rows = page.get_by_test_id("wish-rows")
        rows.wait_for(timeout=60_000)
        expect(page.get_by_role("button", name="Start again")).to_be_visible(timeout=90_000)
        expect(page.get_by_test_id("study-status")).to_contain_text("131,072 vehicles looked at")
        walk = page.get_by_label("Walk along")
        expect(walk).to_have_attribute("aria-valuetext", re.compile(r"^number 1 of \d+$"))
        many = int(walk.get_attribute("max") or "0")
        self.assertGreater(many, 0)
        walk.focus()
        walk.press("ArrowRight")
        expect(walk).to_have_attribute("aria-valuetext", re.compile("^number 2 of"))
        # A limit leaves fewer, or says that none is left.
        limit = page.get_by_label(re.compile("^Frequencies, at most"))
        limit.focus()
        limit.press("Home")
        expect(page.get_by_text(re.compile("is within these limits|of \\d+$")).first).to_be_visible()
        limit.press("End")
        walk.focus()
        walk.press("Home")
        table = page.get_by_role("region", name="The vehicle in hand")
        expect(table).to_contain_text("stands at 0.0 mm", timeout=30_000)
        self.assert_accessible("a study that is done")
        told = re.search(r"([\d.]+) N/mm\s+([\d.]+) Hz", table.get_by_role("row").nth(1).inner_text())
        assert told
        page.get_by_role("button", name="Take this one").click()
        self.save("A vehicle from the study")
        page.get_by_text("revision 3, saved").wait_for()
        document = self.document(HERON)
        solved = self.solved(document)
        assert solved.ride is not None
        self.assertAlmostEqual(solved.ride.frequency, float(told.group(2)), delta=0.006)
        rates_now = [
            next(unit for unit in station["units"] if unit["kind"] == "coilover")["springs"][0]["rate"]
            for station in document["stations"][:2]
        ]
        self.assertEqual(rates_now[0], rates_now[1])
        self.assertAlmostEqual(rates_now[0], float(told.group(1)))

    def test_stopped_it_is_taken_up_again_and_it_reads_on_a_tablet(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 820, "height": 1180})
        page.get_by_label("How many vehicles").select_option("10000000")
        page.get_by_role("button", name="Start the study").click()
        page.get_by_test_id("wish-rows").wait_for(timeout=60_000)
        page.get_by_role("button", name="Stop, keep what was found").click()
        expect(page.get_by_test_id("study-status")).to_contain_text("taken up again", timeout=60_000)
        # It is still there when the page is opened anew.
        page.reload()
        before = page.get_by_test_id("study-status").inner_text()
        page.get_by_role("button", name="Take it up again").click()
        expect(page.get_by_test_id("study-status")).not_to_have_text(before, timeout=60_000)
        page.get_by_role("button", name="Stop, keep what was found").click()
        expect(page.get_by_role("button", name="Take it up again")).to_be_visible(timeout=60_000)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 820)
