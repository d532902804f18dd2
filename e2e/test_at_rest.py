"""A sheet at rest asks nothing, and every finding gets its remedy."""

from django.test import SimpleTestCase
from playwright.sync_api import Page, Request

from e2e.bench import SHEETS, Bench
from e2e.node import asked

HERON = "Heron three-wheeler"
TENDER = "Hollin Fell fire tender"
SETTLED_S, REST_S = 150, 10
LINES = 4  # of one browser that may be held open: it has six, and here all its pages are looked at


class Asked:
    """What a page has asked the server, and what of it is still open."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.all: list[Request] = []
        self.open: set[Request] = set()
        page.on("request", self._asked)
        page.on("requestfinished", self._done)
        page.on("requestfailed", self._done)

    def _asked(self, request: Request) -> None:
        if request.url.endswith("/saved"):
            return  # the line that is held open, on which nothing is asked
        self.all.append(request)
        self.open.add(request)

    def _done(self, request: Request) -> None:
        self.open.discard(request)

    def until_quiet(self) -> None:
        """Wait until nothing is open and nothing has been asked for two seconds."""
        for _ in range(SETTLED_S // 2):
            before = len(self.all)
            self.page.wait_for_timeout(2000)
            if not self.open and len(self.all) == before:
                return
        raise AssertionError(f"{self.page.url} still asks {[request.url for request in self.open]}")


class AtRest(Bench):
    def test_ten_seconds_on_every_sheet_ask_nothing(self) -> None:
        self.sign_in()
        job = self.job(HERON).pk
        sheets = []
        for number, name in enumerate(SHEETS):
            if number % LINES == 0:
                context = self.opened()
                self.addCleanup(context.close)
                context.add_cookies(self.context.cookies())  # type: ignore[arg-type]
            page = context.new_page()
            self.watch(page)
            sheets.append(Asked(page))
            page.goto(f"{self.live_server_url}/jobs/{job}/{name}")
        for sheet in sheets:
            sheet.until_quiet()
        before = [len(sheet.all) for sheet in sheets]
        self.page.wait_for_timeout(REST_S * 1000)
        self.assertEqual([len(sheet.all) for sheet in sheets], before)

    def test_every_finding_of_the_springing_sheet_gets_its_remedy(self) -> None:
        self.at_the_bench(TENDER)
        self.page.get_by_role("link", name="Springing").click()
        self.settle()
        asked = Asked(self.page)
        self.page.reload()
        self.page.get_by_role("region", name="Look at these").wait_for()
        asked.until_quiet()
        # One that was given up because what it asked about changed on its way is no second asking.
        answered = [request for request in asked.all if request.failure is None]
        remedies = [request.post_data for request in answered if request.url.endswith("/api/remedy")]
        shown = self.page.get_by_role("region", name="Look at these").locator("li").count()
        self.assertGreater(shown, 0)
        self.assertEqual(len(remedies), shown)
        self.assertEqual(len(set(remedies)), shown)
        before = len(asked.all)
        self.page.wait_for_timeout(REST_S * 1000)
        self.assertEqual(len(asked.all), before)


class Questions(SimpleTestCase):
    def test_a_question_is_known_by_its_values_and_by_which_document_it_is_of(self) -> None:
        document = {"format": "jugatrix-project", "stations": [{"name": "front"}]}
        keys = [
            ["springs", 0, document],
            ["springs", 0, document],  # read anew: another document, though it says the same
            ["jobs", {"owner": 1, "page": 2}],
            ["jobs", {"page": 2, "owner": 1}],
            ["jobs", {"page": 3, "owner": 1}],
        ]
        one, other, jobs, same, next_page = asked("api/keys.ts", [["hashOf", key] for key in keys])
        self.assertNotEqual(one, other)
        self.assertNotIn("front", one)
        self.assertEqual(jobs, same)
        self.assertNotEqual(jobs, next_page)
