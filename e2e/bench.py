"""A browser at the bench: the base of every browser test."""

import json
import os
import re
import sqlite3
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestResult

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client, LiveServerTestCase, override_settings
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, expect, sync_playwright
from playwright.sync_api import Error as PlaywrightError

from engine.document.read import check_project
from engine.station.solved import SolvedStation, solve_station
from server.demo.load import DEMO_PASSWORD, load_demo
from server.jobs.models import Job

# Debian's Chromium without a screen, where it is there: it costs a third less than the whole browser without one.
CHROMIUM = next(
    its
    for its in ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
    if Path(its).exists() or its.endswith("chromium")
)
# A name that no browser trusts as it trusts its own machine: the live server as a tablet on the shop's network sees it.
NETWORK = "shop.test"
QUIET = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", f"--host-resolver-rules=MAP {NETWORK} 127.0.0.1",
]  # fmt: skip
# How many times slower the page's own work is done: JUGATRIX_SLOW=4 is a tablet on a busy day. No test may mind.
SLOW = float(os.environ.get("JUGATRIX_SLOW", "1"))
# A busy machine is no fault of the page; the first page of four suites that begin at once has waited for over half a minute.
PATIENCE_MS = 60_000
expect.set_options(timeout=20_000 * SLOW)
SHEETS = (
    "brief",
    "study",
    "survey",
    "layout",
    "rocker",
    "springing",
    "stops",
    "frame",
    "right",
    "make",
    "prove",
    "log",
    "next",
)
ANSWERS_S = 20.0  # that an answer which nobody waits for any more may take
GEOMETRIES = 200  # behind every interval: a tenth of what a shop gets, and every sheet at rest asks for them
# What a press began is on its way once the page has drawn twice, however slow it is.
FRAMES = "() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 0))))"
MOST_TOLD = 2000  # letters
MOST_NOTED = 40
AXE = settings.ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]


_shop = sqlite3.connect(":memory:")


def demo_shop() -> None:
    """Put the demo shop into an empty database: loaded once a process, copied to every test after."""
    connection.ensure_connection()
    if _shop.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]:
        _shop.backup(connection.connection)
    else:
        load_demo()
        connection.connection.backup(_shop)


@override_settings(DEMO=True, INTERVAL_GEOMETRIES=GEOMETRIES)
class Bench(LiveServerTestCase):
    """A live server with the demo shop, and one browser for the whole class."""

    playwright: Playwright
    browser: Browser

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=QUIET)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        # Who ends while a solver of others' code is at work in some thread is ended by it, at the very last, with a fault.
        until = time.monotonic() + ANSWERS_S
        for thread in threading.enumerate():
            if "process_request" in thread.name:
                thread.join(max(0.0, until - time.monotonic()))
        super().tearDownClass()

    def run(self, result: TestResult | None = None) -> TestResult | None:
        self.result = result
        return super().run(result)

    def setUp(self) -> None:
        self.fill()
        self.troubles: list[str] = []
        self.noted: list[str] = []
        self.context = self.opened()
        self.page = self.context.new_page()
        self.watch(self.page)

    def fill(self) -> None:
        """Put into the empty database what the test works with."""
        demo_shop()

    def tearDown(self) -> None:
        if self.result and any(test is self for test, _ in (*self.result.errors, *self.result.failures)):
            self.tell_what_was_seen()
        self.context.close()
        self.assertEqual(self.troubles, [], "the page reported errors")

    def opened(self, width: int = 1280, height: int = 800) -> BrowserContext:
        # The worker that keeps the application for a day without Wi-Fi would fetch all of it for each test.
        context = self.browser.new_context(
            viewport={"width": width, "height": height}, reduced_motion="reduce", service_workers="block"
        )
        context.set_default_timeout(PATIENCE_MS * SLOW)
        return context

    def watch(self, page: Page) -> None:
        if SLOW > 1:
            session = page.context.new_cdp_session(page)
            session.send("Emulation.setCPUThrottlingRate", {"rate": SLOW})
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        page.on("crash", lambda _: self.troubles.append("the page crashed"))
        page.on("requestfailed", lambda its: self.noted.append(f"{its.method} {its.url}: {its.failure}"))
        page.on("response", lambda its: its.ok or self.noted.append(f"{its.url}: {its.status}"))
        page.on("console", lambda its: self.noted.append(f"{its.type}: {its.text}"))

    def tell_what_was_seen(self) -> None:
        """Put into the suite's log what a failed test's pages showed: who reads it was not there."""
        for page in self.context.pages:
            try:
                shown = page.locator("body").inner_text(timeout=2000)
            except PlaywrightError as error:
                shown = f"(not to be read: {error})"
            sys.stderr.write(f"\n{self.id()} failed at {page.url}, which showed:\n{shown[:MOST_TOLD]}\n")
        sys.stderr.write("".join(f"  {line}\n" for line in self.noted[-MOST_NOTED:]))

    # -- doing --------------------------------------------------------------------------------

    def sign_in(self, page: Page | None = None, user: str = "bench") -> None:
        """Start signed in, on the list of jobs; the form itself is tested where it is the matter."""
        page = page or self.page
        self.known_as(user, page)
        page.goto(self.live_server_url)
        page.get_by_role("heading", name="Which job").wait_for()

    def known_as(self, user: str, page: Page) -> None:
        """Give the page's browser the session of somebody who has signed in."""
        client = Client()
        client.force_login(get_user_model().objects.get(username=user))
        session = client.cookies[settings.SESSION_COOKIE_NAME].value
        page.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": self.live_server_url}]
        )

    def at_the_bench(self, name: str, station: str | None = None, page: Page | None = None) -> None:
        """Start signed in, at a job, by its own address: the list of jobs works out what comes next in each of them."""
        page = page or self.page
        self.known_as("bench", page)
        job = Job.objects.get(name__contains=name, owner__username="bench")
        page.goto(f"{self.live_server_url}/jobs/{job.pk}")
        self._stands_at(station, page)

    def sign_in_by_form(self, page: Page | None = None, user: str = "bench") -> None:
        page = page or self.page
        page.goto(self.live_server_url)
        page.get_by_label("Name").fill(user)
        page.get_by_label("Password").fill(DEMO_PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_role("heading", name="Which job").wait_for()

    def open_job(self, name: str, station: str | None = None, page: Page | None = None) -> None:
        page = page or self.page
        page.get_by_role("link", name=name).click()
        self._stands_at(station, page)

    def _stands_at(self, station: str | None, page: Page) -> None:
        page.get_by_role("slider", name="Wheel travel").wait_for()
        if station:
            page.get_by_label("Station", exact=True).select_option(label=station)
            page.wait_for_timeout(300)
            self.settle(page)  # counts on the sheets' tabs come with the answer, and shift them

    def tab(self, name: str) -> None:
        self.page.get_by_role("tab", name=name).click()

    def unfold(self, title: str) -> None:
        self.page.get_by_role("button", name=re.compile(f"^{title}")).click()
        self.settle()

    def settle(self, page: Page | None = None) -> None:
        """Wait until no question is open and the screen shows the last answer."""
        page = page or self.page
        page.wait_for_timeout(60)
        page.evaluate(FRAMES)
        page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")
        page.evaluate(FRAMES)
        page.wait_for_timeout(30)

    @staticmethod
    def travel_in(row: Locator) -> str:
        """Return the travel that a row tells, as it tells it: what stands beside it (an interval) comes when it comes."""
        found = re.search(r"[+−]?\d+\.\d", row.inner_text())
        assert found is not None, row.inner_text()
        return found[0]

    def type_place(self, point: str, axis: str, text: str) -> Locator:
        field = self.page.get_by_label(re.compile(f"^{point} {axis}"))
        field.fill(text)
        field.press("Enter")
        self.settle()
        return field

    def save(self, reason: str, page: Page | None = None) -> None:
        page = page or self.page
        page.get_by_role("button", name="Save revision").click()
        page.get_by_label(re.compile("^Why")).fill(reason)
        page.get_by_role("button", name="Save", exact=True).click()

    def eventually(self, happened: Callable[[], bool]) -> None:
        """Wait till something is stored: a record is sent right after it is on the screen."""
        for _ in range(100):
            if happened():
                return
            self.page.wait_for_timeout(100)
        self.fail("it was never stored")

    # -- looking --------------------------------------------------------------------------------

    def shown(self, test_id: str, page: Page | None = None) -> float:
        """Return the number in a figure, its real minus read as one."""
        text = (page or self.page).get_by_test_id(test_id).first.inner_text()
        found = re.search(r"[+−-]?\d+(\.\d+)?", text)
        assert found, f"{test_id} shows {text!r}"
        return float(found.group().replace("−", "-"))

    def job(self, name: str) -> Job:
        return Job.objects.get(name=name)

    def document(self, name: str) -> dict[str, Any]:
        document: dict[str, Any] = self.job(name).newest().document
        return json.loads(json.dumps(document))

    def solved(self, document: dict[str, Any], station: int = 0) -> SolvedStation:
        return solve_station(check_project(document).stations[station], steps=61)

    def assert_accessible(self, where: str) -> None:
        """Run axe on the page as it stands; list what it finds."""
        self.page.evaluate(AXE.read_text())
        run = "rules => axe.run(document, {runOnly: rules, resultTypes: ['violations']})"
        found = self.page.evaluate(run, RULES)["violations"]
        told = [
            f"{v['id']}: {v['help']}: {node['html'][:160]} {node.get('failureSummary', '')[:200]}"
            for v in found
            for node in v["nodes"][:3]
        ]
        self.assertFalse(told, f"axe on {where}: " + "\n".join(told))

    def file(self, text: str) -> str:
        """Return the path of a file holding the text."""
        folder = tempfile.mkdtemp()
        path = Path(folder) / "job.json"
        path.write_text(text)
        return str(path)
