"""A sheet at rest asks nothing, and every finding gets its remedy."""

from e2e.bench import Bench

TENDER = "Hollin Fell fire tender"
SHEETS = ("brief", "layout", "rocker", "springing", "stops", "log")
SETTLED_S, REST_S = 25, 10


class AtRest(Bench):
    def test_ten_seconds_on_every_sheet_ask_nothing(self) -> None:
        self.sign_in()
        self.open_job(TENDER)
        job = self.job(TENDER).pk
        asked: list[str] = []
        pages = []
        for sheet in SHEETS:
            page = self.context.new_page()
            self.watch(page)
            page.goto(f"{self.live_server_url}/jobs/{job}/{sheet}")
            pages.append((sheet, page))
        for _, page in pages:
            self.quiet(page)
        for sheet, page in pages:
            page.on("request", lambda request, sheet=sheet: asked.append(f"{sheet}: {request.url}"))
        self.page.wait_for_timeout(REST_S * 1000)
        self.assertEqual(asked, [])

    def quiet(self, page: object) -> None:
        """Wait until nothing has been asked for two seconds."""
        page.evaluate(
            """() => { window.lastAsked = performance.now();
            new PerformanceObserver(() => { window.lastAsked = performance.now(); }).observe({ type: 'resource' }); }"""
        )
        page.wait_for_function("() => performance.now() - window.lastAsked > 3000", timeout=SETTLED_S * 1000)

    def test_every_finding_of_the_springing_sheet_gets_its_remedy(self) -> None:
        self.sign_in()
        self.open_job(TENDER)
        with self.page.expect_response("**/api/solve"):
            self.page.get_by_role("link", name="Springing").click()
            self.page.reload()
        counted: dict[str, int] = {}

        def note(request: object) -> None:
            if request.url.endswith("/api/remedy"):
                body = request.post_data_json
                key = f"{body['code']} {body['subjects']}"
                counted[key] = counted.get(key, 0) + 1

        self.page.on("request", note)
        self.page.reload()
        self.page.get_by_role("region", name="Look at these").wait_for()
        self.quiet(self.page)
        shown = self.page.get_by_role("region", name="Look at these").locator("li").count()
        self.assertEqual(len(counted), shown)
        self.assertEqual(set(counted.values()), {1})
