"""Placing an end: the wheel held, one end slid until the strut fits; shaded places; bolt holes; in the round."""

import math
import re

from playwright.sync_api import Request, expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.findings.finding import rules_of
from engine.sizing.holes import pairs_of


class Placing(Bench):
    def begin(self) -> None:
        self.at_the_bench("Heron")
        self.tab("Place")
        self.settle()

    def test_at_full_droop_the_damper_extended_tells_where_its_end_goes(self) -> None:
        self.begin()
        page = self.page
        panel = page.get_by_role("region", name="Place it")
        panel.get_by_role("button", name="At full droop").click()
        field = panel.get_by_label(re.compile("^Eye to eye there"))
        field.fill("282")
        field.press("Enter")
        self.settle()
        self.assertIn("−40", page.get_by_role("slider", name="Wheel travel").inner_text())
        panel.get_by_role("button", name=re.compile("^Put damper anchor there")).first.click()
        self.settle()
        self.save("Anchor by the extended damper")
        page.get_by_text("revision 3, saved").wait_for()
        solved = self.solved(self.document("Heron three-wheeler"))
        lengths = solved.sweep.units["coilover"].length
        self.assertAlmostEqual(float(lengths[0]), 282.0, delta=0.01)
        expect(panel).to_contain_text("where it is")
        self.assert_accessible("placing")

    def test_shaded_places_follow_while_the_other_end_is_dragged_and_never_queue(self) -> None:
        self.begin()
        page = self.page
        page.get_by_role("region", name="Place it").get_by_role("button", name="front", exact=True).click()
        self.settle()
        # How many questions are open, told from where it began: one may be on its way.
        level, done = [0], [0]

        def asked(request: Request) -> None:
            if request.url.endswith("/api/places"):
                level.append(level[-1] + 1)

        def answered(request: Request) -> None:
            if request.url.endswith("/api/places"):
                level.append(level[-1] - 1)
                done[0] += 1

        page.on("request", asked)
        page.on("requestfinished", answered)
        box = page.get_by_test_id("view-close").bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        moves = 60
        for step in range(moves):
            page.mouse.move(x + (step % 20), y + step / 10)
            page.wait_for_timeout(25)
        held = done[0]
        page.mouse.up()
        self.settle()
        self.assertGreater(held, 2, "answers came while the hand still moved")
        self.assertLess(done[0], moves)
        self.assertEqual(max(level) - min(level), 1)

    def test_a_length_that_no_place_has_says_so(self) -> None:
        self.begin()
        panel = self.page.get_by_role("region", name="Place it")
        panel.get_by_label("It slides along").select_option("out")
        field = panel.get_by_label(re.compile("^Eye to eye there"))
        field.fill("20")
        field.press("Enter")
        expect(panel).to_contain_text("Nowhere on that line is 20.0 mm from the other end")

    def test_it_slides_along_a_tube_of_the_chassis(self) -> None:
        self.at_the_bench("Heron")
        page = self.page
        self.tab("Room")
        page.get_by_role("button", name="Tube", exact=True).click()
        self.settle()
        self.tab("Place")
        lines = page.get_by_label("It slides along")
        expect(lines).to_contain_text("the middle of tube")
        expect(lines).to_contain_text("along tube, as far from it as now")

    def test_what_moving_it_does_is_solved_and_put(self) -> None:
        self.begin()
        page = self.page
        page.get_by_label("It slides along").select_option("up")
        page.get_by_text("What moving it does").click()
        panel = page.get_by_role("region", name="Place it")
        row = panel.get_by_role("row", name=re.compile(r"^\+20"))
        row.wait_for()
        document = self.document("Heron three-wheeler")
        document["stations"][0]["points"]["damper_anchor"][2] += 20
        ride = self.solved(document).ride
        assert ride is not None
        expect(row).to_contain_text(f"{ride.wheel_rate:.1f}")
        row.get_by_role("button", name=re.compile(r"^Put \+20")).click()
        self.settle()
        self.tab("Figures")
        self.assertAlmostEqual(self.shown("ride-rate"), ride.wheel_rate, delta=0.06)

    def test_the_other_side_is_drawn_faintly_where_it_comes_into_sight(self) -> None:
        self.begin()
        page = self.page
        for name, count in (("front", 1), ("top", 1), ("side", 0)):
            expect(page.get_by_test_id(f"view-{name}").get_by_test_id("other-side")).to_have_count(count)

    def test_every_place_is_shaded_on_its_plan_and_only_there(self) -> None:
        self.begin()
        page = self.page
        panel = page.get_by_role("region", name="Place it")
        expect(page.get_by_test_id("bands")).to_have_count(0)
        panel.get_by_role("button", name="side", exact=True).click()
        expect(page.get_by_test_id("view-side").get_by_test_id("bands")).to_be_attached()
        expect(page.get_by_test_id("view-top").get_by_test_id("bands")).to_have_count(0)
        few = page.get_by_role("region", name="The best few")
        expect(few).to_contain_text("Most ratio", timeout=15_000)
        self.assert_accessible("the best few places")
        few.get_by_role("button", name="Put it there: Most ratio").click()
        self.settle()
        expect(page.get_by_text("with unsaved changes")).to_be_visible()
        panel.get_by_role("button", name="side", exact=True).click()
        expect(page.get_by_test_id("bands")).to_have_count(0)

    def test_holes_are_drilled_compared_and_taken(self) -> None:
        self.begin()
        page = self.page
        page.get_by_label("It slides along").select_option("up")
        page.get_by_role("button", name="Drill one each way").click()
        self.settle()
        expect(page.get_by_text("bolted here")).to_be_visible()
        self.assert_accessible("bolt holes")
        page.get_by_role("link", name=re.compile("^Compare every pair")).click()
        self.settle()
        table = page.get_by_role("region", name="Holes side by side")
        expect(table.get_by_role("row", name=re.compile("^A"))).to_contain_text("bolted")
        self.save("Three holes at the anchor")
        page.get_by_text("revision 3, saved").wait_for()
        document = self.document("Heron three-wheeler")
        rules = rules_of(check_project(document).judging)
        found = pairs_of(self.solved(document), rules)
        for pair, letter in zip(found.pairs, "ABC", strict=True):
            assert pair.wheel_rate is not None
            expect(table.get_by_role("row", name=re.compile(f"^{letter}"))).to_contain_text(
                f"{pair.wheel_rate:.1f} N/mm"
            )
        expect(table).to_contain_text("Moving only the chassis end changes the height")
        table.get_by_role("button", name="Take holes B").click()
        self.settle()
        assert found.pairs[1].ride is not None
        self.assertAlmostEqual(self.shown("ride-travel"), found.pairs[1].ride, delta=0.06)
        self.assert_accessible("holes side by side")

    def test_nearest_things_are_measured_where_they_occur(self) -> None:
        self.at_the_bench("Heron")
        page = self.page
        self.tab("Room")
        page.get_by_role("button", name="Rail or box").click()
        part = page.get_by_role("region", name="rail", exact=True)
        field = part.get_by_label(re.compile("^rail Middle to the left"))
        field.fill("470")
        field.press("Enter")
        self.settle()
        self.tab("Figures")
        page.get_by_role("button", name=re.compile("^Jack to it: .*rail run")).first.click()
        expect(page.get_by_test_id("view-front").get_by_test_id("nearest").first).to_be_attached()


class InTheRound(Bench):
    def test_it_is_loaded_when_asked_for_turns_by_key_and_follows_the_jack(self) -> None:
        self.sign_in()
        loaded: list[str] = []
        self.page.on("request", lambda request: loaded.append(request.url))
        self.open_job("Heron")
        self.settle()
        self.assertFalse([url for url in loaded if "turnable" in url])
        self.page.get_by_role("radio", name="3D").click()
        view = self.page.get_by_test_id("view-round")
        canvas = view.locator("canvas")
        canvas.wait_for()
        self.page.wait_for_timeout(700)
        self.assertTrue([url for url in loaded if "turnable" in url])
        seen = [view.screenshot()]
        view.focus()
        for key in ("ArrowRight", "ArrowRight", "ArrowUp", "+"):
            view.press(key)
        self.page.wait_for_timeout(400)
        seen.append(view.screenshot())
        self.page.get_by_role("slider", name="Wheel travel").press("Shift+ArrowUp")
        self.page.wait_for_timeout(400)
        seen.append(view.screenshot())
        self.assertEqual(len(set(seen)), 3)
        self.assertGreater(math.prod(canvas.bounding_box()[side] for side in ("width", "height")), 20_000)  # type: ignore[index]
        self.assert_accessible("in the round")

    def test_it_is_opened_large_with_names_and_goes_back_to_the_plans(self) -> None:
        self.at_the_bench("Hollin Fell")
        self.settle()
        page = self.page
        page.get_by_role("radio", name="3D").click()
        view = page.get_by_test_id("view-round")
        small = view.bounding_box()
        page.get_by_role("button", name="Large").click()
        expect(page.get_by_test_id("view-front")).to_have_count(0)
        large = view.bounding_box()
        assert small and large
        self.assertGreater(large["width"] * large["height"], 3 * small["width"] * small["height"])
        self.assertEqual(view.locator("[data-point]").count(), 0)
        page.get_by_role("button", name="Names").click()
        self.assertEqual(view.locator("[data-point='seat_left']").inner_text(), "seat left")
        with_tyres = view.screenshot()
        page.get_by_role("button", name="Tyres").click()
        page.wait_for_timeout(400)
        self.assertNotEqual(view.screenshot(), with_tyres)
        self.assert_accessible("in the round, large")
        page.get_by_role("button", name="Back to the plans").click()
        expect(page.get_by_test_id("view-front")).to_be_visible()
