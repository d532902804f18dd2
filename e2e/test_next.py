"""What comes next: a not-yet with its reason, steps done by doing them, a part made, and the wall that follows."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench

LONG_MS = 60_000


class Next(Bench):
    def next_of(self, job: str) -> None:
        self.at_the_bench(job)
        self.page.get_by_role("link", name="Next", exact=True).click()
        expect(self.page.get_by_role("table")).to_be_visible(timeout=LONG_MS)

    def test_what_is_too_early_says_what_it_would_spoil(self) -> None:
        page = self.page
        self.next_of("Heron three-wheeler")
        page.get_by_role("button", name="Buy, Front right: not yet").click()
        card = page.get_by_role("region", name="Buy, Front right, opened")
        expect(card).to_contain_text("Done now, this may be wasted")
        expect(card).to_contain_text("Survey is still open")
        self.assert_accessible("next")
        card.get_by_role("link", name="Go to Make").click()
        expect(page).to_have_url(re.compile("/make"))

    def test_steps_are_done_by_doing_them_and_the_wall_follows(self) -> None:
        page = self.page
        self.next_of("Hollin Fell fire tender")
        card = page.get_by_role("region", name="Check dimensions, The vehicle")
        card.get_by_role("textbox", name="The braces are on: initials").fill("AB")
        card.get_by_role("button", name="Sign").click()
        expect(page.get_by_role("button", name="Check dimensions: done, the whole vehicle")).to_be_visible(
            timeout=LONG_MS
        )
        page.get_by_role("link", name="All jobs").click()
        tender = page.get_by_role("listitem").filter(has_text="Hollin Fell fire tender")
        expect(tender).to_contain_text("of 32 steps done", timeout=LONG_MS)
        expect(tender.get_by_role("link", name=re.compile("^What comes next: Survey"))).to_be_visible(
            timeout=LONG_MS
        )

    def test_what_is_ordered_comes_and_a_part_is_made(self) -> None:
        page = self.page
        self.next_of("Heron three-wheeler")
        card = page.get_by_role("region", name="Buy, Front left")
        card.get_by_label("Expected on").fill("2026-12-11")
        card.get_by_role("button", name="All of it is ordered").click()
        cycle = page.get_by_role("button", name=re.compile("^Cycle, Front left"))
        expect(page.get_by_role("button", name="Buy, Front left: done")).to_be_visible(timeout=LONG_MS)
        cycle.click()
        opened = page.get_by_role("region", name="Cycle, Front left, opened")
        expect(opened).to_contain_text("due 2026-12-11")
        page.get_by_role("link", name="Make", exact=True).click()
        part = page.get_by_role("button", name=re.compile("pushrod")).first
        part.click(timeout=LONG_MS)
        page.get_by_role("button", name="It is made").click()
        expect(page.get_by_role("button", name=re.compile("^Made; undo: pushrod"))).to_be_visible()
        page.get_by_role("link", name="Next", exact=True).click()
        page.get_by_role("button", name=re.compile("^Make, Front left")).click(timeout=LONG_MS)
        expect(page.get_by_role("region", name="Make, Front left, opened")).to_contain_text(
            "1 part of 12 made", timeout=LONG_MS
        )
