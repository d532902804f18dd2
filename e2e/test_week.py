"""The week: a person added, a step dragged and one held by hand, what slips told and taken back, a date on the wall, a calendar."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from server.steps.week import said

LONG_MS = 90_000
TENDER, HERON = "Hollin Fell fire tender", "Heron three-wheeler"


class Week(Bench):
    def test_a_week_is_planned_dragged_held_and_wanted(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="The week").click()
        grid = page.get_by_role("table", name="Who does what, day by day")
        grid.wait_for(timeout=LONG_MS)
        page.get_by_label("Name of another person").fill("Ines")
        page.get_by_role("button", name="Add a person").click()
        row = grid.get_by_role("row", name=re.compile("^Ines"))
        expect(row.get_by_role("button").first).to_be_visible(timeout=LONG_MS)
        self.assert_accessible("week")

        # Dragged to a far day: held there, told by how much it slips, and taken back.
        dates = page.get_by_role("region", name="When each job is done")
        expect(dates).to_have_attribute("aria-busy", "false", timeout=LONG_MS)
        step = grid.get_by_role("button").filter(has_text=HERON).first
        last = grid.locator('td[data-who="You"]').last
        day = last.get_attribute("data-day")
        step.drag_to(last, target_position={"x": 20, "y": 12})
        expect(grid.get_by_label("held").first).to_be_visible(timeout=LONG_MS)
        (held,) = said()["held"]
        self.assertEqual((held["who"], held["day"]), ("You", day))
        moved = last.get_by_role("button").filter(has_text=HERON)
        expect(moved.first).to_be_visible()
        expect(dates.get_by_text(re.compile(r"days? later by the last change")).first).to_be_visible()
        page.get_by_role("button", name="Undo the last change").click()
        expect(grid.get_by_label("held")).to_have_count(0, timeout=LONG_MS)
        self.assertEqual(said()["held"], [])

        # By keyboard alone: the same by a card.
        expect(dates).to_have_attribute("aria-busy", "false", timeout=LONG_MS)
        grid.get_by_role("button").filter(has_text=TENDER).first.press("Enter")
        card = page.get_by_role("dialog")
        expect(card.get_by_role("button", name="Hold it there")).to_be_disabled()
        card.get_by_label("Who does it").select_option("Ines")
        card.get_by_role("button", name="Hold it there").click()
        pinned = row.get_by_role("button").filter(has=page.get_by_label("held"))
        expect(pinned.first).to_be_visible(timeout=LONG_MS)
        expect(dates).to_have_attribute("aria-busy", "false", timeout=LONG_MS)
        pinned.first.click()
        card.get_by_role("button", name="Let go of it").click()
        expect(grid.get_by_label("held")).to_have_count(0, timeout=LONG_MS)

        # Hours that cannot be are refused in a sentence, and nothing is lost.
        page.get_by_role("region", name="People at work").get_by_text("Ines", exact=True).click()
        monday = page.get_by_label("Monday, Ines")
        monday.fill("8 to 5")
        monday.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("write a stretch of hours as")
        expect(monday).to_have_value("08:00-12:00, 13:00-17:00")
        page.get_by_role("button", name="Calendar for the telephone").click()
        address = page.get_by_test_id("calendar-address").inner_text()
        self.assertIn("BEGIN:VCALENDAR", page.request.get(address).text())
        page.get_by_role("button", name="Withdraw the calendar").click()
        expect(page.get_by_test_id("calendar-address")).to_have_count(0)
        self.assertEqual(page.request.get(address).status, 404)

        # What is wanted sooner than it is done is a fault here and on the wall.
        page.get_by_label(f"{HERON}, wanted by").fill("2026-01-09")
        expect(dates).to_have_attribute("aria-busy", "false", timeout=LONG_MS)
        page.get_by_role("link", name="All jobs").click()
        page.get_by_role("heading", name="Which job is on the stands?").wait_for()
        wall = page.get_by_role("listitem").filter(has_text=HERON)
        expect(wall).to_contain_text("wanted by Fri")
        expect(wall.get_by_role("link", name=re.compile("^done "))).to_be_visible()
