"""Saving, reloading, conflicts, import and export, and what happens when the server is not there."""

import copy
import json
import re
import time
from typing import Any

from django.contrib.auth import get_user_model
from playwright.sync_api import Locator, Route, expect

from e2e.bench import Bench
from engine.document.write import project_text
from server.jobs.actions.save_revision import save_revision
from server.jobs.models import Job
from server.records.actions.survey import items_of, survey_of

HERON = "Heron three-wheeler"
TENDER = "Hollin Fell fire tender"


class Revisions(Bench):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def moved(self) -> None:
        self.open_job(HERON)
        self.tab("Points")
        self.type_place("pivot front", "up from floor", "420")

    def test_save_with_a_reason_reload_and_compare(self) -> None:
        self.moved()
        self.page.get_by_role("button", name="Save revision").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_text("pivot front").wait_for()
        self.assertTrue(dialog.get_by_role("button", name="Save", exact=True).is_disabled())
        self.page.keyboard.press("Escape")
        self.save("Pivot front up, to try it")
        self.page.get_by_text("revision 3, saved").wait_for()
        self.page.reload()
        self.tab("Points")
        field = self.page.get_by_label(re.compile("^pivot front up from floor"))
        field.wait_for()
        self.assertEqual(field.input_value(), "420.0")
        self.assertEqual(self.document(HERON)["stations"][0]["points"]["pivot_front"][2], 420)
        self.page.get_by_role("link", name="Log").click()
        self.page.get_by_text("Pivot front up, to try it").wait_for()
        compared = self.page.get_by_role("region", name="Compare")
        compared.get_by_text("up +6.0 mm").wait_for()
        compared.get_by_text("Stands at").first.wait_for()

    def test_an_older_revision_is_taken_in_hand_and_can_be_undone(self) -> None:
        self.open_job(HERON)
        self.page.get_by_role("link", name="Log").click()
        self.page.get_by_role("button", name="Revisions", exact=True).click()
        self.page.get_by_role("group", name="Revision 1").get_by_role("button", name="Open this one").click()
        self.page.get_by_text("with unsaved changes").wait_for()
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_text("revision 2, saved").wait_for()

    def test_unsaved_work_survives_a_reload(self) -> None:
        self.moved()
        self.page.reload()
        self.page.get_by_text("Your unsaved changes were kept in this browser.").wait_for()
        self.tab("Points")
        self.assertEqual(
            self.page.get_by_label(re.compile("^pivot front up from floor")).input_value(), "420.0"
        )
        self.page.get_by_role("button", name="Discard them").click()
        self.page.get_by_text("revision 2, saved").wait_for()

    def test_two_windows_and_a_conflict_that_loses_neither(self) -> None:
        self.moved()
        other_context = self.opened()
        other = other_context.new_page()
        self.watch(other)
        self.sign_in(other)
        self.open_job(HERON, page=other)
        other.get_by_role("tab", name="Rods").click()
        field = other.get_by_label(re.compile("^coilover spring rate"))
        field.fill("400 lb/in")
        field.press("Enter")
        self.save("Softer spring", other)
        other.get_by_text("revision 3, saved").wait_for()
        other_context.close()

        self.save("Pivot up")
        dialog = self.page.get_by_role("dialog", name="Somebody saved first")
        dialog.wait_for()
        self.assertIn("Softer spring", dialog.inner_text())
        dialog.get_by_text("pivot front").wait_for()
        expect(dialog).to_contain_text("What you changed there")
        dialog.get_by_role("button", name="Save both").click()
        self.page.get_by_text("revision 4, saved").wait_for()
        revisions = {r.number: r for r in self.job(HERON).revisions.all()}
        rate = revisions[3].document["stations"][0]["units"][0]["springs"][0]["rate"]
        self.assertAlmostEqual(rate, 400 * 0.17512683524647636, delta=1e-9)
        # What only one of the two changed is kept of both.
        self.assertEqual(revisions[4].document["stations"][0]["points"]["pivot_front"][2], 420)
        self.assertEqual(revisions[4].document["stations"][0]["units"][0]["springs"][0]["rate"], rate)
        self.assertEqual(revisions[4].parent_id, revisions[3].pk)

    def elsewhere(self, reason: str, pivot: float | None = None) -> dict[str, Any]:
        """Save a revision as somebody else who shares the job: 4 kg more, the rocker's pivot up; return its document."""
        job = self.job(HERON)
        other, _ = get_user_model().objects.get_or_create(username="ines")
        job.members.add(other)
        document = self.document(HERON)
        document["stations"][0]["mass"]["corner"] += 4.0
        if pivot is not None:
            document["stations"][0]["points"]["pivot_front"][2] = pivot
        save_revision(other, job, job.newest().number, document, reason)
        return document

    def told(self, words: str) -> Locator:
        return self.page.get_by_role("status").filter(has_text=words)

    def test_what_somebody_else_saves_is_told_while_one_works_and_put_together(self) -> None:
        self.moved()
        self.type_place("pivot front", "up from floor", "421")
        theirs = self.elsewhere("Weighed with the tank full")
        told = self.told("ines has saved revision 3: Weighed with the tank full")
        told.get_by_role("button", name="See both").click()
        dialog = self.page.get_by_role("dialog", name="ines has saved revision 3")
        dialog.get_by_role("heading", name="What you changed here").wait_for()
        dialog.get_by_role("link", name="See both on the Jack").click()
        beside = self.page.get_by_role("region", name="Side by side on the Jack")
        expect(beside).to_contain_text("Weighed with the tank full")
        beside.get_by_role("button", name="Back to the log").click()
        told.get_by_role("button", name="See both").click()
        dialog.get_by_role("button", name="Put both together").click()
        expect(told).to_have_count(0)
        expect(self.page.get_by_text("revision 3 with unsaved changes")).to_be_visible()
        self.save("Pivot up")
        self.page.get_by_text("revision 4, saved").wait_for()
        saved = self.document(HERON)["stations"][0]
        self.assertEqual(saved["points"]["pivot_front"][2], 421)
        self.assertEqual(saved["mass"], theirs["stations"][0]["mass"])

    def looked_at(self, seen: bool) -> None:
        """Have the page be looked at, or lie behind another."""
        self.page.evaluate(
            """(seen) => {
                Object.defineProperty(document, "visibilityState", { get: () => (seen ? "visible" : "hidden"), configurable: true });
                document.dispatchEvent(new Event("visibilitychange"));
            }""",
            seen,
        )

    def test_a_page_that_lies_open_is_told_and_one_behind_another_when_it_is_looked_at(self) -> None:
        self.open_job(HERON)
        self.settle()
        self.elsewhere("Weighed again")
        self.told("ines has saved revision 3: Weighed again").wait_for()
        self.looked_at(False)
        self.elsewhere("And once more")
        self.page.wait_for_timeout(2500)
        expect(self.told("revision 3")).to_be_visible()
        self.looked_at(True)
        self.told("ines has saved revision 4: And once more").wait_for()

    def test_what_is_saved_here_is_not_told_as_anothers(self) -> None:
        """Though the line may tell of it before the save's own answer comes."""
        self.moved()

        def late(route: Route) -> None:
            answer = route.fetch()
            time.sleep(2.5)
            route.fulfill(response=answer)

        self.page.route(re.compile("/revisions$"), late)
        self.page.evaluate(
            """() => { window.told = 0; new MutationObserver(() => {
                if ([...document.querySelectorAll("[role=status]")].some((one) => one.innerText.includes("saved revision"))) window.told++;
            }).observe(document.body, { childList: true, subtree: true, characterData: true }); }"""
        )
        self.save("Pivot up")
        self.page.get_by_text("revision 3, saved").wait_for()
        self.page.wait_for_timeout(1500)
        self.assertEqual(self.page.evaluate("window.told"), 0)

    def test_what_was_saved_while_the_line_was_away_is_told_when_it_is_back(self) -> None:
        self.moved()
        self.context.set_offline(True)
        field = self.page.get_by_label(re.compile("^pivot front up from floor"))
        field.fill("421")
        field.press("Enter")
        self.page.wait_for_timeout(1500)
        self.elsewhere("Weighed without a line")
        self.context.set_offline(False)
        self.told("ines has saved revision 3: Weighed without a line").wait_for()

    def test_who_comes_back_to_a_job_is_told_and_opens_what_was_saved(self) -> None:
        self.open_job(HERON)
        self.settle()
        self.elsewhere("Pivot moved at the bench", pivot=409.0)
        told = self.told("ines has saved revision 3")
        told.get_by_role("button", name="Open it").click()
        self.page.get_by_role("button", name="Open it here").click()
        self.page.get_by_text("revision 3, saved").wait_for()
        expect(told).to_have_count(0)
        self.tab("Points")
        field = self.page.get_by_label(re.compile("^pivot front up from floor"))
        expect(field).to_have_value("409.0")

    def test_what_both_changed_is_asked(self) -> None:
        self.moved()
        job = self.job(HERON)
        document = self.document(HERON)
        theirs = document["stations"][0]
        theirs["points"]["pivot_front"][2] = 405.0
        theirs["mass"]["corner"] += 4.0
        save_revision(job.owner, job, 2, document, "from the other bench")
        self.save("Pivot up")
        dialog = self.page.get_by_role("dialog", name="Somebody saved first")
        asked = dialog.get_by_role("group", name=re.compile("pivot_front"))
        expect(asked).to_contain_text("Mine")
        asked.get_by_label("Theirs").check()
        dialog.get_by_role("button", name="Save both").click()
        self.page.get_by_text("revision 4, saved").wait_for()
        saved = self.document(HERON)["stations"][0]
        self.assertEqual(saved["points"]["pivot_front"][2], 405.0)
        self.assertEqual(saved["mass"]["corner"], theirs["mass"]["corner"])

    def test_the_book_opens_what_it_holds_and_is_printed(self) -> None:
        self.open_job(HERON)
        self.page.get_by_role("link", name="Log").click()
        book = self.page.get_by_role("region", name="The job’s book")
        expect(book).to_contain_text("Revision 2: Rocker pivot up 2 mm")
        book.get_by_label("Which entries").select_option("when it drove well")
        expect(book.get_by_role("listitem")).to_have_count(1)
        book.get_by_role("button", name="What was set then").click()
        expect(book).to_contain_text("Rear wheel, perch from 8.0 mm to 16.0 mm")
        book.get_by_label("Which entries").select_option("everything")
        book.get_by_label("Find in the job’s book").fill("anchor set out")
        expect(book.get_by_role("listitem")).to_have_count(1)
        book.get_by_role("button", name="Open").click()
        expect(book).to_contain_text("−30.0 mm: coilover 263.0 mm")
        self.assert_accessible("the book")
        book.get_by_role("link", name="Prove").click()
        self.page.get_by_role("region", name="On its wheels").wait_for()
        self.page.get_by_role("link", name="Log").click()
        for kind, name, head in (
            ("button", "Customer’s book", b"%PDF"),
            ("link", "Export CSV", b"when,by,kind"),
        ):
            with self.page.expect_download() as waiting:
                book.get_by_role(kind, name=name, exact=True).click()
            table = waiting.value.path().read_bytes()
            self.assertTrue(table.startswith(head))
        drive = b"2026-11-20T10:00:00,kl,drive,,bump used,,38,mm,brought from the pit wall\n"
        book.get_by_label("A table of records").set_input_files(
            {"name": "records.csv", "mimeType": "text/csv", "buffer": table.rstrip() + b"\n" + drive}
        )
        expect(book).to_contain_text("One record imported")
        expect(book).to_contain_text("brought from the pit wall")
        book.get_by_label("A table of records").set_input_files(
            {"name": "wrong.csv", "mimeType": "text/csv", "buffer": b"when,kind,what,value\n2026,guess,x,1\n"}
        )
        expect(book).to_contain_text("is no kind of record")

    def test_the_export_comes_back_equal(self) -> None:
        self.open_job(TENDER)
        self.page.get_by_role("link", name="Log").click()
        self.page.get_by_role("button", name="Revisions", exact=True).click()
        with self.page.expect_download() as waiting:
            self.page.get_by_role("group", name="Revision 2").get_by_role("link", name="Project file").click()
        path = waiting.value.path()
        survey = survey_of(items_of(self.job(TENDER)))
        self.assertTrue(survey["readings"])
        self.assertEqual(path.read_text(), project_text({**self.document(TENDER), "survey": survey}))
        self.page.get_by_role("link", name="All jobs").click()
        self.page.get_by_label("Project file").set_input_files(path)
        self.page.get_by_text("revision 1, saved").wait_for()
        jobs = Job.objects.filter(name=TENDER)
        self.assertEqual(jobs.count(), 2)
        self.assertEqual(*(job.newest().document for job in jobs))
        self.assertEqual(*(survey_of(items_of(job)) for job in jobs))

    def test_broken_files_are_refused_in_words_and_nothing_changes(self) -> None:
        good = self.document(HERON)
        negative = copy.deepcopy(good)
        negative["stations"][0]["units"][0]["springs"][0]["rate"] = -40
        far = copy.deepcopy(good)
        far["stations"][0]["travel"]["bump"] = 1_000_000
        for text, words in (
            ('{"format": ', "not readable JSON"),
            (json.dumps({"format": "jugatrix-project", "version": 9}), "reads version 1"),
            (json.dumps(negative), "stations[0].units[0].springs[0].rate: must be greater than 0, got -40"),
            (json.dumps(far), "stations[0].travel.bump: must be 1000 or less"),
            (" " * 20_000_000, "20.0 MB"),
        ):
            self.page.get_by_label("Project file").set_input_files(self.file(text))
            alert = self.page.get_by_role("alert").filter(has_text=words)
            alert.wait_for()
            self.assertIn("Nothing has changed", alert.inner_text())
        self.assertEqual(Job.objects.count(), 3)

    def test_a_lost_server_keeps_the_work_and_goes_on_when_it_is_back(self) -> None:
        self.moved()
        self.page.route("**/api/**", lambda route: route.abort())
        self.type_place("pivot front", "up from floor", "421")
        self.page.get_by_test_id("verdict").get_by_text("does not answer").wait_for()
        self.save("While it was away")
        self.page.get_by_role("dialog").get_by_role("alert").get_by_text("does not answer").wait_for()
        self.page.unroute("**/api/**")
        self.page.get_by_role("dialog").get_by_role("button", name="Save", exact=True).click()
        self.page.get_by_text("revision 3, saved").wait_for()
        self.assertEqual(self.document(HERON)["stations"][0]["points"]["pivot_front"][2], 421)
        self.page.get_by_test_id("verdict").get_by_text(
            re.compile("The mounts fit|differ most at")
        ).wait_for()

    def test_a_page_of_which_a_part_was_lost_on_the_way_begins_anew_by_itself(self) -> None:
        """A browser never asks twice for a module that failed; here the page's is lost, and then the shop's computer."""
        lost: list[str] = []

        def lose(route: Route) -> None:
            lost.append(route.request.url)
            route.abort()

        self.moved()
        self.page.get_by_text("kept on the server").wait_for()
        job = self.page.url
        self.page.goto(self.live_server_url)
        self.page.route("**/health", lose)
        self.page.route("**/assets/job-page*.js", lose)
        self.page.get_by_role("link", name=HERON).click()
        alert = self.page.get_by_role("alert").filter(has_text="did not come over the line")
        alert.get_by_text("The server does not answer").wait_for()
        self.page.unroute("**/assets/job-page*.js")
        self.page.unroute("**/health")
        self.page.get_by_role("slider", name="Wheel travel").wait_for()
        self.assertEqual(self.page.url.split("?")[0], job.split("?")[0])
        self.page.get_by_text("Your unsaved changes were kept in this browser.").wait_for()
        self.assertEqual([url.rsplit("/", 1)[1][:8] for url in lost[:2]], ["job-page", "health"])
        # Lost again at once, it says so and leaves it to a hand: it does not begin anew for ever.
        self.page.route("**/assets/log-sheet*.js", lose)
        self.page.reload()
        self.page.evaluate("sessionStorage.setItem('jugatrix-begun-anew', Date.now())")
        self.page.get_by_role("link", name="Log").click()
        alert.wait_for()
        self.page.wait_for_timeout(2500)
        self.assertTrue(alert.is_visible())
        self.page.unroute("**/assets/log-sheet*.js")
        alert.get_by_role("button", name="Load it again").click()
        self.page.get_by_text("What was changed, and what did it do?").wait_for()

    def test_a_page_that_did_not_come_at_all_says_what_to_do(self) -> None:
        self.page.route("**/assets/index*.js", lambda route: route.abort())
        self.page.goto(self.live_server_url)
        self.page.get_by_text("load the page again").wait_for()

    def test_a_job_of_somebody_else_is_not_there(self) -> None:
        context = self.opened()
        page = context.new_page()
        self.sign_in(page, "wilma")
        page.get_by_role("link", name=TENDER).wait_for()
        self.assertEqual(page.get_by_role("listitem").count(), 1)
        page.goto(f"{self.live_server_url}/jobs/{self.job(HERON).pk}")
        page.get_by_role("heading", name="No such job").wait_for()
        page.goto(f"{self.live_server_url}/jobs/not-a-job")
        page.get_by_role("heading", name="No such job").wait_for()
        context.close()

    def test_removing_a_job_asks_first(self) -> None:
        self.page.get_by_role("button", name=f"Remove {HERON}").click()
        self.page.get_by_role("button", name="Keep it").click()
        self.assertTrue(Job.objects.filter(name=HERON).exists())
        self.page.get_by_role("button", name=f"Remove {HERON}").click()
        self.page.get_by_role("button", name="Remove it").click()
        self.page.get_by_role("link", name=HERON).wait_for(state="detached")
        self.assertFalse(Job.objects.filter(name=HERON, removed=None).exists())
