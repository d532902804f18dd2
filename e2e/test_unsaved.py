"""Nothing entered is lost: two tabs, a full or forbidden storage, a killed browser, a strange draft, signed out."""

import json
import re

from e2e.bench import Bench
from server.jobs.actions.import_project import import_project
from server.jobs.models import Draft

HERON = "Heron three-wheeler"
FULL = "Storage.prototype.setItem = () => { throw new DOMException('full', 'QuotaExceededError'); };"
FORBIDDEN = """Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('no', 'SecurityError'); } });"""


class Unsaved(Bench):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def move(self, text: str, page: object = None) -> None:
        page = page or self.page
        page.get_by_role("tab", name="Points").click()
        field = page.get_by_label(re.compile("^pivot front up from floor"))
        field.fill(text)
        field.press("Enter")
        self.settle(page)

    def held(self, page: object = None) -> str:
        page = page or self.page
        page.get_by_role("tab", name="Points").click()
        return page.get_by_label(re.compile("^pivot front up from floor")).input_value()

    def test_one_fields_typing_is_one_step_however_slowly_it_is_typed(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        page.get_by_role("link", name=re.compile("^Brief")).click()
        self.settle()
        name = page.get_by_label("Ride height is measured at")
        before = name.input_value()
        name.press("End")
        for key in "xyz":
            name.press(key)
            page.wait_for_timeout(1000)
        name.press("Tab")
        name.focus()
        name.press("End")
        name.press("w")
        self.assertEqual(name.input_value(), before + "xyzw")
        page.get_by_role("button", name="Undo").click()
        self.assertEqual(name.input_value(), before + "xyz")
        page.get_by_role("button", name="Undo").click()
        self.assertEqual(name.input_value(), before)

    def test_two_tabs_keep_their_own_and_each_is_offered_the_others(self) -> None:
        self.open_job(HERON)
        self.move("430")
        self.page.get_by_text("kept on the server").wait_for()
        other = self.context.new_page()
        self.watch(other)
        other.goto(self.page.url)
        offered = other.get_by_role("status").filter(has_text="unsaved changes of yours from another tab")
        offered.wait_for()
        self.assertNotEqual(self.held(other), "430.0")  # offered, not taken
        self.move("440", other)
        other.get_by_text("kept on the server").wait_for()
        self.page.reload()
        self.page.get_by_text("Your unsaved changes were kept in this browser.").wait_for()
        self.assertEqual(self.held(), "430.0")
        other.reload()
        self.assertEqual(self.held(other), "440.0")
        self.save("From the first tab")
        self.page.get_by_text(re.compile(r"revision \d+, saved")).wait_for()
        other.reload()
        self.assertEqual(self.held(other), "440.0")

    def test_what_a_closed_tab_left_is_taken_up_at_a_typed_address(self) -> None:
        self.open_job(HERON)
        self.move("430")
        self.page.get_by_text("kept on the server").wait_for()
        address = self.page.url
        self.page.close()
        self.page = self.context.new_page()
        self.watch(self.page)
        self.page.goto(address)
        self.page.get_by_text("Your unsaved changes were kept in this browser.").wait_for()
        self.assertEqual(self.held(), "430.0")
        self.page.get_by_text("kept on the server").wait_for()
        # The same once more: the address typed in the tab that has it in hand.
        self.page.goto("about:blank")
        self.page.goto(address)
        self.page.get_by_text("Your unsaved changes were kept in this browser.").wait_for()
        self.assertEqual(self.held(), "430.0")
        self.eventually(lambda: Draft.objects.count() == 1)
        self.page.get_by_role("button", name="Discard them").click()
        self.page.get_by_text("revision 2, saved").wait_for()

    def test_the_sheet_stays_where_it_is_when_something_is_unsaved(self) -> None:
        self.open_job(HERON)
        # The drawing begins where it began, and the field that is typed in stays under the finger.
        tall = "() => document.querySelector('header').offsetHeight"
        before = self.page.evaluate(tall), self.page.get_by_test_id("view-front").bounding_box()
        self.move("432")
        self.page.get_by_text("kept on the server").wait_for()
        after = self.page.evaluate(tall), self.page.get_by_test_id("view-front").bounding_box()
        self.assertEqual(after, before)

    def test_a_long_name_and_what_is_kept_where_still_fit_the_head(self) -> None:
        name = "Three-wheeler with a name as long as anybody would ever give to anything at all"
        renamed = json.dumps({**self.document(HERON), "name": name}).encode()
        import_project(self.job(HERON).owner, renamed, "A longer name")
        self.page.reload()
        self.open_job(name)
        self.move("433")
        self.page.get_by_text("kept on the server").wait_for()
        head = self.page.locator("header")
        self.assertLessEqual(self.page.evaluate("() => document.documentElement.scrollWidth"), 1280)
        box = self.page.get_by_text("kept on the server").bounding_box()
        whole = head.bounding_box()
        assert box is not None and whole is not None
        self.assertLessEqual(box["y"] + box["height"], whole["y"] + whole["height"] + 1)

    def test_a_browser_killed_right_after_an_edit_loses_nothing(self) -> None:
        self.open_job(HERON)
        self.move("431")
        self.page.get_by_text("kept on the server").wait_for(timeout=2000)
        self.context.close()
        self.context = self.opened()  # another browser altogether: nothing in its storage
        self.page = self.context.new_page()
        self.watch(self.page)
        self.at_the_bench(HERON)
        self.page.get_by_role("button", name="Continue here").click()
        self.assertEqual(self.held(), "431.0")
        self.page.get_by_text("with unsaved changes").wait_for()
        self.page.get_by_role("button", name="Undo").click()
        self.assertNotEqual(self.held(), "431.0")

    def test_a_full_or_forbidden_storage_takes_nothing_down(self) -> None:
        for script in (FULL, FORBIDDEN):
            context = self.opened()
            context.add_init_script(script)
            page = context.new_page()
            self.watch(page)
            self.sign_in(page)
            self.open_job(HERON, page=page)
            self.move("432", page)
            page.get_by_text("kept on the server").wait_for()
            self.assertEqual(self.held(page), "432.0")
            context.close()
            Draft.objects.all().delete()

    def test_a_draft_of_another_form_does_not_shut_the_job(self) -> None:
        self.open_job(HERON)
        job = self.job(HERON)
        strange = {"format": "jugatrix-project", "stations": [{"name": "x", "points": "gone"}], "name": "y"}
        text = json.dumps({"base": 1, "document": strange, "at": 1})
        self.page.evaluate(
            "([k, t]) => localStorage.setItem(k, t)", [f"jugatrix-draft:bench:{job.pk}:older", text]
        )
        self.page.reload()
        self.page.get_by_text("this version cannot show").wait_for()
        self.page.get_by_test_id("verdict").wait_for()
        self.page.get_by_role("button", name="Discard them").click()
        self.page.get_by_text("this version cannot show").wait_for(state="detached")

    def test_signed_out_is_said_as_that_and_one_signs_in_where_one_stands(self) -> None:
        self.open_job(HERON)
        self.move("433")
        self.context.clear_cookies()
        self.page.reload()
        # The door stands open again; behind it what was in hand.
        self.page.get_by_label("Name").fill("bench")
        self.page.get_by_label("Password").fill("scribe-and-punch")
        self.page.get_by_role("button", name="Sign in", exact=True).click()
        self.page.get_by_text("Your unsaved changes were kept").wait_for()
        self.context.clear_cookies()
        self.move("434")
        form = self.page.get_by_role("form", name="Sign in again")
        form.wait_for()
        self.assertEqual(self.page.get_by_text("This cannot be put together").count(), 0)
        self.assertIn("signed out", self.page.get_by_test_id("verdict").inner_text())
        form.get_by_label("Name").fill("bench")
        form.get_by_label("Password").fill("scribe-and-punch")
        form.get_by_role("button", name="Sign in").click()
        form.wait_for(state="detached")
        self.settle()
        self.assertEqual(self.held(), "434.0")

    def test_a_removed_job_is_taken_back(self) -> None:
        self.page.get_by_role("button", name=re.compile(f"Remove {HERON}")).click()
        self.page.get_by_role("button", name="Remove it").click()
        self.page.get_by_role("link", name=HERON).wait_for(state="detached")
        self.page.get_by_role("button", name=re.compile(f"Restore {HERON}")).click()
        self.page.get_by_role("link", name=HERON).wait_for()
