"""Every screen for everyone: axe, keyboard alone, both sizes, dark, and a phone that can be read."""

from playwright.sync_api import Page

from e2e.bench import Bench


class Access(Bench):
    def test_axe_finds_nothing_on_any_screen(self) -> None:
        for theme in ("light", "dark"):
            self.page.goto(self.live_server_url)
            self.page.evaluate("theme => localStorage.setItem('jugatrix-theme', theme)", theme)
            self.page.reload()
            self.page.get_by_role("button", name="Open the demo shop").wait_for()
            self.assert_accessible(f"the door, {theme}")
            self.page.get_by_role("button", name="Open the demo shop").click()
            self.page.get_by_role("heading", name="Which job").wait_for()
            self.assert_accessible(f"the job list, {theme}")
            self.open_job("Wandering Shelf", "Tag trailer left")
            for tab in ("Figures", "Points", "Rods"):
                self.tab(tab)
                self.assert_accessible(f"{tab}, {theme}")
            self.page.get_by_label("Preload").first.press("ArrowUp")
            self.settle()
            self.page.get_by_role("button", name="Save revision").click()
            self.page.get_by_role("dialog").get_by_text("preload").wait_for()
            self.assert_accessible(f"saving, {theme}")
            self.page.keyboard.press("Escape")
            self.page.get_by_role("button", name="Undo").click()
            self.page.get_by_role("link", name="Log").click()
            self.page.get_by_role("button", name="Revisions", exact=True).click()
            self.page.get_by_role("heading", name="Revisions").wait_for()
            self.settle()
            self.assert_accessible(f"the log, {theme}")
            self.page.get_by_role("link", name="All jobs").click()
            self.page.get_by_role("button", name="Sign out").click()
            self.page.get_by_role("button", name="Open the demo shop").wait_for()

    def test_a_whole_round_without_a_mouse(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        self.reach("Open the demo shop")
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Which job").wait_for()
        self.reach("Heron three-wheeler")
        page.keyboard.press("Enter")
        page.get_by_role("slider").wait_for()
        self.reach("Wheel travel")
        page.keyboard.press("Shift+ArrowDown")
        self.assertEqual(page.get_by_role("slider").get_attribute("aria-valuetext"), "−10.0 mm droop")
        self.reach("Front, looking aft")
        page.keyboard.press("PageDown")
        page.keyboard.press("Alt+ArrowUp")
        self.settle()
        page.get_by_text("with unsaved changes").wait_for()
        self.reach("Save revision")
        page.keyboard.press("Enter")
        page.get_by_role("dialog").get_by_label("Why").wait_for()
        page.keyboard.type("A tenth, by keys alone")
        page.keyboard.press("Enter")
        page.get_by_text("revision 3, saved").wait_for()
        self.assertAlmostEqual(
            self.document("Heron three-wheeler")["stations"][0]["points"]["lower_front"][2], 152.1
        )

    def reach(self, name: str) -> None:
        """Press Tab until what has focus carries the name."""
        named = "e => e === document.body ? '' : (e.getAttribute('aria-label') ?? '') + ' ' + (e.textContent ?? '')"
        for _ in range(90):
            self.page.keyboard.press("Tab")
            if name in self.page.evaluate_handle("document.activeElement").evaluate(named):
                return
        self.fail(f"Tab never reached {name}")

    def test_nothing_runs_off_the_side_at_any_width(self) -> None:
        for width, height in ((1280, 800), (820, 1180), (390, 844)):
            context = self.opened(width, height)
            page = context.new_page()
            self.watch(page)
            self.sign_in(page)
            self.assert_fits(page, width)
            self.open_job("Heron", page=page)
            for tab in ("Figures", "Points", "Place", "Rods", "Room"):
                page.get_by_role("tab", name=tab).click()
                self.assert_fits(page, width)
            for sheet in ("Brief", "Rocker", "Springing", "Stops"):
                page.get_by_role("navigation", name="Sheets").get_by_role("link", name=sheet).click()
                page.wait_for_timeout(700)
                self.assert_fits(page, width)
            page.get_by_role("link", name="Log").click()
            page.get_by_role("button", name="Revisions", exact=True).click()
            page.get_by_role("heading", name="Revisions").wait_for()
            self.assert_fits(page, width)
            context.close()

    def assert_fits(self, page: Page, width: int) -> None:
        page.wait_for_timeout(100)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)

    def test_on_paper_every_sheet_is_whole_black_on_white_and_without_keys(self) -> None:
        width = 718  # A4 within its margins
        context = self.opened(width, 1050)
        page = context.new_page()
        self.watch(page)
        self.sign_in(page)
        self.open_job("Heron", page=page)
        page.get_by_role("slider").press("ArrowUp")
        page.emulate_media(media="print")
        page.get_by_text("At the Jack, wheel at +1.0 mm").wait_for()
        for sheet in ("layout", "springing", "stops", "brief"):
            page.emulate_media(media="screen")
            page.get_by_role("navigation").locator(f"a[href*='/{sheet}']").click()
            page.locator("main h2").first.wait_for()
            self.settle(page)
            page.emulate_media(media="print")
            self.assert_fits(page, width)
            self.assertTrue(page.get_by_role("heading", name="Heron three-wheeler").is_visible())
            self.assertEqual(page.locator(".press:visible").count(), 0, sheet)
            self.assertFalse([s for s in page.get_by_role("slider").all() if s.is_visible()])
            self.assertEqual(
                page.evaluate("getComputedStyle(document.documentElement).backgroundColor"),
                "rgb(255, 255, 255)",
            )
            for drawing in page.locator(".bg-dye:visible").all():
                box = drawing.bounding_box()
                assert box is not None
                self.assertGreater(box["width"], 600, sheet)
                self.assertEqual(
                    drawing.evaluate("e => getComputedStyle(e).filter"), "grayscale(1) invert(1)", sheet
                )
        context.close()

    def test_the_sheet_does_not_shift_while_jacking(self) -> None:
        self.at_the_bench("Heron")
        self.settle()
        drawing = self.page.get_by_test_id("view-front")
        before = drawing.bounding_box()
        jack = self.page.get_by_role("slider")
        jack.focus()
        for key in ("Home", "End", "ArrowDown", "Shift+ArrowDown"):
            jack.press(key)
            self.assertEqual(drawing.bounding_box(), before)
