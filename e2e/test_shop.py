"""A shop with people: the first owner, an invitation taken on a tablet, a job shared, and a day without Wi-Fi."""

import io
import re
import tempfile
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.test import override_settings
from PIL import Image
from playwright.sync_api import BrowserContext, Page, expect

from e2e.bench import NETWORK, SHEETS, Bench
from server.accounts import first_owner
from server.accounts.models import OWNER, READER, Person
from server.demo.load import DEMO_PASSWORD
from server.jobs.actions.save_revision import save_revision
from server.jobs.models import Job
from server.records.actions.survey import items_of, records_of

GOOD = "plumb-bob-and-twine"
HERON = "Heron three-wheeler"


@override_settings(ALLOWED_HOSTS=[NETWORK])
class WithoutTls(Bench):
    def test_a_tablet_on_a_network_without_tls_reads_moves_keeps_and_saves(self) -> None:
        """Its browser has less for an address that it does not trust: no random names, no sums, no clipboard."""
        page = self.page
        address = self.live_server_url.replace("localhost", NETWORK)
        page.goto(address)
        self.assertFalse(page.evaluate("isSecureContext"))
        page.get_by_label("Name").fill("bench")
        page.get_by_label("Password").fill(DEMO_PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_role("heading", name="Which job").wait_for()
        self.open_job(HERON)
        self.tab("Points")
        self.type_place("pivot front", "up from floor", "421")
        page.get_by_text("kept on the server").wait_for()
        self.save("Seen from the tablet")
        page.get_by_text("revision 3, saved").wait_for()
        for sheet in SHEETS:
            page.goto(f"{address}/jobs/{self.job(HERON).pk}/{sheet}")
            page.get_by_role("navigation", name="Sheets").wait_for()
            self.settle()
            expect(page.get_by_text("This page failed")).to_have_count(0)
        tender = self.job("Hollin Fell fire tender")
        before = len(items_of(tender))
        page.goto(f"{address}/jobs/{tender.pk}/survey?station=2")
        page.get_by_test_id("in-hand").wait_for()
        page.keyboard.type("512")
        page.keyboard.press("Enter")
        self.eventually(lambda: len(items_of(tender)) > before)
        page.goto(f"{address}/people")
        page.get_by_label("For whom").fill("Bo, at the lathe")
        page.get_by_role("button", name="Make an invitation").click()
        page.get_by_role("button", name="Copy").first.click()
        expect(page.get_by_role("status").filter(has_text="copy it by hand")).to_be_visible()


class FirstDay(Bench):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        changed = override_settings(DATA=Path(folder.name), SERVING=True, DEMO=False)
        changed.enable()
        self.addCleanup(changed.disable)
        for job in Job.objects.all():
            for revision in job.revisions.order_by("-number"):
                revision.delete()
            job.delete()
        get_user_model().objects.all().delete()

    def test_from_the_code_in_the_terminal_to_a_second_person_on_a_tablet(self) -> None:
        code = first_owner.first_code()
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_label("The code").fill("AAAA-AAAA-AAAA")
        page.get_by_label("Your name").fill("Ada Kern")
        page.get_by_label("A password").fill(GOOD)
        page.get_by_role("button", name="Open the shop").click()
        expect(page.get_by_role("alert")).to_contain_text("stands in the terminal")
        page.get_by_label("The code").fill(str(code))
        page.get_by_role("button", name="Open the shop").click()
        page.get_by_role("heading", name="Which job").wait_for()
        page.get_by_role("link", name="Ada Kern").click()
        page.get_by_label("For whom").fill("Bo, at the lathe")
        page.get_by_role("button", name="Make an invitation").click()
        link = page.get_by_role("region", name="Invitations").get_by_test_id("link").inner_text()
        expect(page.get_by_role("img", name="Code: the invitation for Bo, at the lathe")).to_be_visible()
        shop = page.get_by_role("region", name="On the shop’s papers")
        shop.get_by_label("Name of the shop").fill("Plumb and Square")
        shop.get_by_label("Address").fill("1 Bench Lane")
        shop.get_by_role("button", name="Keep it").click()
        expect(shop.get_by_role("status")).to_contain_text("The next book bears it")
        drawn = io.BytesIO()
        Image.new("RGB", (300, 90), "navy").save(drawn, "PNG")
        shop.get_by_label("Add a mark").set_input_files(
            {"name": "mark.png", "mimeType": "image/png", "buffer": drawn.getvalue()}
        )
        expect(shop.get_by_role("img", name="The shop’s mark")).to_be_visible()
        # An SVG is kept as a picture as large as marks are kept; one that is none is said.
        square = '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20" fill="#c00"/></svg>'
        with page.expect_response(re.compile("shop/mark$")) as kept:
            shop.get_by_label("Another mark").set_input_files(
                {"name": "mark.svg", "mimeType": "image/svg+xml", "buffer": square.encode()}
            )
        self.assertTrue(kept.value.ok)
        with Image.open(io.BytesIO(page.request.get(f"{self.live_server_url}/api/people/shop/mark.png").body())) as mark:  # fmt: skip
            self.assertEqual(mark.size, (1000, 500))
            self.assertEqual(mark.convert("RGB").getpixel((500, 250)), (204, 0, 0))
        shop.get_by_label("Another mark").set_input_files(
            {"name": "mark.svg", "mimeType": "image/svg+xml", "buffer": b"<svg"}
        )
        expect(shop.get_by_role("status")).to_contain_text("This SVG cannot be drawn here")
        shop.get_by_label("Another mark").set_input_files(
            {"name": "mark.png", "mimeType": "image/png", "buffer": b"no picture"}
        )
        expect(shop.get_by_role("status")).to_contain_text("Give the mark as a PNG or a JPEG")
        self.assert_accessible("the people")
        # The tablet.
        tablet = self.opened(820, 1180)
        other = tablet.new_page()
        self.watch(other)
        other.goto(self.live_server_url + "/invite/" + link.partition("/invite/")[2])
        expect(other.get_by_role("heading", name="Ada Kern lets you in")).to_be_visible()
        other.get_by_label("Your name").fill("Bo")
        other.get_by_label("A password").fill("short")
        other.get_by_role("button", name="Come in").click()
        expect(other.get_by_role("alert")).to_contain_text("too short")
        other.get_by_label("A password").fill(GOOD)
        other.get_by_role("button", name="Come in").click()
        other.get_by_role("heading", name="Which job").wait_for()
        expect(other.get_by_text("No job yet")).to_be_visible()
        # Once is once.
        third = tablet.new_page()
        third.goto(self.live_server_url + "/invite/" + link.partition("/invite/")[2])
        expect(third.get_by_role("alert")).to_contain_text("has been used")
        # A forgotten password, by a link from the owner.
        page.reload()
        page.get_by_role("button", name="New password for Bo").click()
        reset = page.get_by_test_id("link").last.inner_text()
        other.goto(self.live_server_url + "/reset/" + reset.partition("/reset/")[2])
        other.get_by_label("A password").fill("another-pair-of-stands")
        other.get_by_role("button", name="Take it").click()
        other.get_by_role("heading", name="Which job").wait_for()
        tablet.close()


class Together(Bench):
    def second(self, user: str, width: int = 820, height: int = 1180) -> tuple[BrowserContext, Page]:
        context = self.opened(width, height)
        page = context.new_page()
        self.watch(page)
        self.sign_in(page, user)
        return context, page

    def test_a_job_is_opened_to_somebody_who_is_seen_to_have_it_in_hand(self) -> None:
        page = self.page
        self.at_the_bench(HERON)
        page.get_by_role("button", name="People and tablets").click()
        panel = page.get_by_role("dialog", name="People and tablets")
        expect(panel.get_by_role("img", name=re.compile("this sheet"))).to_be_visible()
        expect(panel.get_by_test_id("link").first).to_contain_text(re.compile(r"/jobs/[\w-]+"))
        panel.get_by_label("Open it to").select_option("wilma")
        panel.get_by_role("button", name="Open it", exact=True).click()
        expect(panel.get_by_role("listitem").filter(has_text="wilma")).to_be_visible()
        self.assert_accessible("people and tablets")
        context, other = self.second("wilma")
        self.open_job(HERON, page=other)
        expect(other.get_by_role("button", name=re.compile("bench had it open"))).to_be_visible()
        panel.get_by_role("button", name="Close", exact=True).click()
        page.get_by_role("button", name=re.compile("^People and tablets")).click()
        expect(panel).to_contain_text("wilma, just now")
        panel.get_by_role("button", name="Hand it over to wilma").click()
        expect(panel).to_contain_text("wilma, whose job it is")
        self.assertEqual(self.job(HERON).owner.get_username(), "wilma")
        context.close()

    def test_who_only_reads_is_told_so_and_loses_nothing(self) -> None:
        wilma = get_user_model().objects.get(username="wilma")
        Person.objects.filter(user=wilma).update(role=READER)
        self.job(HERON).members.add(wilma)
        self.sign_in(user="wilma")
        self.open_job(HERON)
        self.tab("Points")
        self.type_place("pivot front", "up from floor", "421")
        self.page.get_by_role("button", name="Save revision").click()
        self.page.get_by_label(re.compile("^Why")).fill("trying")
        self.page.get_by_role("dialog").get_by_role("button", name=re.compile("^Save")).click()
        expect(self.page.get_by_role("dialog")).to_contain_text("not store anything")
        self.assertEqual(self.job(HERON).last_number(), 2)


class WithoutWiFi(Bench):
    """The tablet under the car: what was solved is jacked and read, what is read is sent when the line is back."""

    def opened(self, width: int = 820, height: int = 1180) -> BrowserContext:
        # The worker that keeps the application is part of what is looked at here.
        context = self.browser.new_context(
            viewport={"width": width, "height": height}, reduced_motion="reduce", service_workers="allow"
        )
        context.set_default_timeout(30_000)
        return context

    def installed(self) -> None:
        """Wait until the worker has everything that it keeps."""
        self.page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
        self.page.wait_for_function(
            "() => navigator.serviceWorker.ready.then((r) => r.active?.state === 'activated')"
        )

    def test_a_day_under_the_car(self) -> None:
        page = self.page
        self.sign_in_by_form()
        self.open_job(HERON, "Rear wheel")
        page.get_by_role("link", name="Prove", exact=True).click()
        self.settle()
        page.get_by_role("button", name="All checked").click()
        self.eventually(lambda: self.records()[-1]["kind"] == "caution")
        page.get_by_role("link", name="Layout").click()
        self.settle()
        before = len(self.records())
        self.installed()
        self.context.set_offline(True)
        # Loaded anew without a line: the application, the job, the solved station.
        page.reload()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        expect(page.get_by_text("No line to the shop’s computer")).to_be_visible()
        page.get_by_role("slider", name="Wheel travel").press("ArrowUp")
        jack = page.get_by_role("region", name="At the Jack")
        expect(jack).to_contain_text(re.compile(r"0\.\d{3}"))
        page.get_by_role("link", name="Prove", exact=True).click()
        page.get_by_role("button", name="Begin a cycle").click()
        page.get_by_label("Springs out").check()
        for wheel, length in ((-20, 320), (0, 309.5), (20, 298.5)):
            page.get_by_label("Wheel, from as drawn").focus()
            page.keyboard.type(str(wheel))
            page.keyboard.press("Enter")
            page.get_by_label(re.compile("^shock, eye to eye")).focus()
            page.keyboard.type(str(length))
            page.keyboard.press("Enter")
            page.get_by_role("button", name="Keep the row").press("Enter")
        self.assertEqual(len(self.records()), before)
        # Somebody else works on it meanwhile.
        self.job(HERON).members.add(get_user_model().objects.get(username="wilma"))
        self.context.set_offline(False)
        expect(page.get_by_text("No line to the shop’s computer")).to_be_hidden()
        self.eventually(lambda: len(self.records()) == before + 1)
        (cycle,) = [one for one in self.records() if one["kind"] == "cycle" and len(one["rows"]) == 3]
        self.assertEqual([row["wheel"] for row in cycle["rows"]], [-20, 0, 20])
        self.assertTrue(cycle["springs_out"])

    def test_what_was_changed_without_a_line_waits_and_meets_the_others(self) -> None:
        page = self.page
        self.at_the_bench(HERON)
        self.tab("Points")
        self.installed()
        self.context.set_offline(True)
        field = page.get_by_label(re.compile("^pivot front up from floor"))
        field.fill("421")
        field.press("Enter")
        expect(page.get_by_text("No line to the shop’s computer")).to_be_visible()
        expect(page.get_by_text(re.compile("with unsaved changes"))).to_be_visible()
        page.get_by_role("button", name="Save revision").click()
        page.get_by_label(re.compile("^Why")).fill("up under the car")
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Save")).click()
        expect(page.get_by_role("dialog")).to_contain_text("The server does not answer")
        page.keyboard.press("Escape")
        # At the office somebody saves first.
        job = self.job(HERON)
        save_revision(job.owner, job, 2, {**job.newest().document, "notes": "from the office"}, "office")
        self.context.set_offline(False)
        expect(page.get_by_text("No line to the shop’s computer")).to_be_hidden()
        page.get_by_role("button", name="Save revision").click()
        page.get_by_label(re.compile("^Why")).fill("up under the car")
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Save")).click()
        expect(page.get_by_role("dialog")).to_contain_text("office")
        page.get_by_role("dialog").get_by_role("button", name="Save both").click()
        self.eventually(lambda: self.job(HERON).last_number() == 4)
        newest = self.job(HERON).newest()
        self.assertEqual((newest.reason, newest.document["notes"]), ("up under the car", "from the office"))

    def records(self) -> list[dict[str, Any]]:
        return records_of(items_of(self.job(HERON)))


class Owner(Bench):
    def test_an_owner_is_warned_of_a_disk_nearly_full(self) -> None:
        from unittest.mock import patch

        self.assertEqual(Person.objects.get(user__username="bench").role, OWNER)
        with patch("server.running.disk.free_mb", return_value=120.0):
            self.sign_in()
            expect(self.page.get_by_role("alert")).to_contain_text("120 MB are left")
