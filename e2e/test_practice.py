"""Practice: a wrong decision told with what it cost, the same car again decided rightly, and the car opened as a job."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench

LONG_MS = 60_000


class Practice(Bench):
    def test_a_car_is_got_wrong_then_right_and_opened(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Practise").click()
        expect(page.get_by_role("button", name=re.compile("^A whole day"))).to_have_count(2)
        page.goto(f"{self.live_server_url}/practise?car=3")
        page.get_by_role("button", name=re.compile("^What ends bump")).click()
        fork = page.get_by_test_id("fork")
        expect(fork).to_contain_text("How is the frame measured?")
        self.assert_accessible("practise")
        expect(page.get_by_text("Car 3", exact=True)).to_be_visible()
        fork.get_by_role("button", name="each place once").click()
        expect(fork).to_contain_text("What ends bump?")
        fork.get_by_role("button", name="the damper").click()
        account = page.get_by_test_id("account")
        expect(account).to_contain_text("something is wrong", timeout=LONG_MS)
        expect(account).to_contain_text("What cost most")
        page.get_by_role("button", name="The same car again").click()
        expect(page.get_by_text("Car 3", exact=True)).to_be_visible()
        fork.get_by_role("button", name="the designed list").click()
        fork.get_by_role("button", name="a bump stop").click()
        expect(account).to_contain_text("It stands as it was wanted", timeout=LONG_MS)
        expect(account).to_contain_text("found, and read again")
        account.get_by_role("button", name="Open this car as a job").click()
        expect(page).to_have_url(re.compile("/jobs/"))
        expect(page.get_by_text("Practice: What ends bump")).to_be_visible(timeout=LONG_MS)
