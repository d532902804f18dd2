"""A tablet that several use: what is kept belongs to one person, goes with the sign-out, and what was not sent is asked about."""

import re

from django.contrib.auth import get_user_model
from playwright.sync_api import BrowserContext, Route, expect

from e2e.bench import Bench

HERON = "Heron three-wheeler"
PASSWORD = "plumb-bob-and-twine"
KEPT = """() => new Promise(done => {
  const asked = indexedDB.open('jugatrix-answers');
  asked.onsuccess = () => {
    const all = asked.result.transaction('answers').objectStore('answers').getAllKeys();
    all.onsuccess = () => done([...all.result.filter(key => !String(key).includes('/session')), ...Object.keys(localStorage).filter(key => /draft|readings/.test(key))]);
  };
})"""


class HandedOn(Bench):
    def opened(self, width: int = 820, height: int = 1180) -> BrowserContext:
        context = self.browser.new_context(
            viewport={"width": width, "height": height}, reduced_motion="reduce", service_workers="allow"
        )
        context.set_default_timeout(30_000)
        return context

    def as_somebody(self, name: str) -> None:
        user, _ = get_user_model().objects.get_or_create(username=name)
        user.set_password(PASSWORD)
        user.save()
        page = self.page
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_role("heading", name="Which job").wait_for()

    def kept(self) -> list[str]:
        found: list[str] = self.page.evaluate(KEPT)
        return found

    def test_who_sits_down_next_sees_nothing_of_whoever_was_there(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        self.as_somebody("bench")
        self.open_job(HERON)
        address = page.url
        self.settle()
        self.assertTrue(any("/solve" in key for key in self.kept()))
        # The session ends by itself; somebody else signs in on the same tablet, and then the line goes.
        self.context.clear_cookies()
        page.goto(self.live_server_url)
        self.as_somebody("robin")
        self.assertFalse(any(re.search("/jobs/[0-9a-f]{8}-|/solve", key) for key in self.kept()), self.kept())
        self.page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
        page.wait_for_function(
            "() => navigator.serviceWorker.ready.then((r) => r.active?.state === 'activated')"
        )
        self.context.set_offline(True)
        page.goto(address)
        page.wait_for_timeout(500)
        self.assertNotIn("pushrod", page.locator("body").inner_text())
        self.context.set_offline(False)
        page.goto(address)
        expect(page.get_by_text(re.compile("There is nothing here that you can open"))).to_be_visible()

    def test_signing_out_without_a_line_forgets_at_once_and_ends_the_session_later(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        self.as_somebody("bench")
        self.open_job(HERON)
        page.goto(self.live_server_url)
        page.get_by_role("heading", name="Which job").wait_for()
        self.page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
        page.wait_for_function(
            "() => navigator.serviceWorker.ready.then((r) => r.active?.state === 'activated')"
        )
        session = next(one["value"] for one in self.context.cookies() if one["name"] == "sessionid")
        self.context.set_offline(True)
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Password").wait_for()
        self.assertEqual(self.kept(), [])
        page.reload()
        page.get_by_label("Password").wait_for()
        self.context.set_offline(False)
        page.reload()
        page.get_by_label("Password").wait_for()
        from django.contrib.sessions.models import Session

        self.eventually(lambda: not Session.objects.filter(pk=session).exists())

    def test_what_was_not_sent_is_asked_about_and_sent_by_itself_when_there_is_room(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        self.as_somebody("bench")
        self.open_job(HERON)
        full = {
            "code": "disk_full",
            "detail": "The disk is full. Nothing was stored; make room, then try again.",
            "path": "",
            "values": {},
        }

        def refuse(route: Route) -> None:
            if route.request.method in ("PUT", "DELETE"):
                route.fulfill(status=503, json=full)
            else:
                route.continue_()

        page.route("**/survey/**", refuse)
        page.get_by_role("link", name="Survey", exact=True).click()
        self.settle()
        page.get_by_test_id("in-hand").wait_for()
        page.keyboard.type("512")
        page.keyboard.press("Enter")
        waits = page.get_by_test_id("kept")
        expect(waits).to_contain_text("waits for the server; kept in this browser. The disk is full")
        page.get_by_role("link", name="Jugatrix").or_(page.get_by_role("link", name="All jobs")).first.click()
        page.get_by_role("button", name="Sign out").click()
        asked = page.get_by_role("alertdialog")
        expect(asked).to_contain_text("One entry waits in this browser")
        asked.get_by_role("button", name="Stay signed in").click()
        self.open_job(HERON)
        page.get_by_role("link", name="Survey", exact=True).click()
        expect(waits).to_contain_text("waits for the server")
        page.unroute("**/survey/**")
        expect(waits).to_contain_text("on the list read", timeout=15_000)
        before = self.kept()
        self.assertTrue(
            all(
                "readings" not in key or self.page.evaluate("k => localStorage.getItem(k)", key) == "[]"
                for key in before
            )
        )
