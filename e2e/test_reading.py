"""Reading the sheet: units, curves, themes, air, and what is remembered."""

import re

from e2e.bench import Bench

HERON = "Heron three-wheeler"
LIBRARY = "Wandering Shelf library coach"


class Reading(Bench):
    def setUp(self) -> None:
        super().setUp()
        self.sign_in()

    def jack_says(self) -> str:
        return self.page.get_by_role("slider", name="Wheel travel").get_attribute("aria-valuetext") or ""

    def test_a_press_on_a_curve_moves_the_jack_and_every_cursor(self) -> None:
        self.open_job(HERON)
        self.settle()
        before = self.shown("curve-Wheel force")
        curve = self.page.locator("figure").filter(has_text="Motion ratio").locator("svg")
        box = curve.bounding_box()
        assert box
        curve.click(position={"x": box["width"] * 0.9, "y": box["height"] / 2})
        self.assertRegex(self.jack_says(), r"^\+3\d\.0 mm bump$")
        self.assertGreater(self.shown("curve-Wheel force"), before)

    def test_the_jack_is_dragged_and_stays_within_reach(self) -> None:
        self.open_job(LIBRARY, "Tag trailer left")
        self.settle()
        solved = self.solved(self.document(LIBRARY), 3)
        jack = self.page.get_by_role("slider", name="Wheel travel")
        jack.press("End")
        reach = max(t for t, good in zip(solved.search.travels, solved.path.reached, strict=True) if good)
        self.assertEqual(self.jack_says(), f"+{reach:.1f} mm bump")
        box = jack.bounding_box()
        assert box
        self.page.mouse.move(box["x"] + 20, box["y"] + box["height"] / 2)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 20, box["y"] + 160, steps=5)
        self.page.mouse.up()
        self.assertNotEqual(self.jack_says(), f"+{reach:.1f} mm bump")

    def test_units_are_chosen_one_by_one_and_remembered_for_the_job(self) -> None:
        self.open_job(HERON)
        self.settle()
        rate = self.shown("ride-rate")
        self.page.get_by_role("button", name="choose each unit").click()
        self.page.get_by_role("menuitemradio", name="lb/in").click()
        self.page.get_by_role("button", name="choose each unit").click()
        self.page.get_by_role("menuitemradio", name="inch, decimal").click()
        self.assertAlmostEqual(self.shown("ride-rate"), rate / 0.17512683524647636, delta=1)
        self.page.reload()
        self.page.get_by_test_id("ride-rate").get_by_text("lb/in").wait_for()
        self.assertIn("″", self.page.get_by_test_id("ride-travel").inner_text())
        self.page.get_by_role("link", name="All jobs").click()
        self.open_job(LIBRARY, "Tag trailer left")
        self.page.get_by_test_id("ride-rate").get_by_text("N/mm").wait_for()

    def test_the_dark_look_is_remembered(self) -> None:
        self.page.get_by_role("button", name="Switch to the dark look").click()
        self.page.reload()
        self.assertEqual(self.page.locator("html").get_attribute("data-theme"), "dark")
        self.page.get_by_role("button", name="Switch to the light look").click()
        self.assertEqual(self.page.locator("html").get_attribute("data-theme"), "light")

    def test_standing_on_air(self) -> None:
        self.open_job(LIBRARY, "Rear axle")
        self.settle()
        solved = self.solved(self.document(LIBRARY), 2)
        assert solved.ride
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)
        self.page.get_by_role("button", name=re.compile("^Ride")).click()
        self.assertAlmostEqual(self.shown("pressure-bag left"), 4.85, delta=0.006)
        self.tab("Rods")
        field = self.page.get_by_label(re.compile("^bag left Pressure"))
        field.fill("72 psi")
        field.press("Enter")
        self.settle()
        document = self.document(LIBRARY)
        document["stations"][2]["units"][0]["pressure"] = 72 * 0.0689475729317831
        changed = self.solved(document, 2)
        assert changed.ride
        self.tab("Figures")
        self.assertAlmostEqual(self.shown("ride-travel"), changed.ride.travel, delta=0.06)

    def test_each_mark_has_its_own_shape_and_word(self) -> None:
        self.open_job(LIBRARY, "Rear axle")
        self.settle()
        for word in ("Fault", "Warning", "Good"):
            self.assertGreater(self.page.get_by_role("img", name=word).count(), 0)

    def test_on_a_tablet_a_finding_brings_its_drawing_back(self) -> None:
        context = self.opened(820, 1180)
        page = context.new_page()
        self.watch(page)
        self.sign_in(page)
        self.open_job(HERON, "Rear wheel", page)
        self.settle(page)
        page.get_by_role("button", name=re.compile("^Jack to it")).first.click()
        page.wait_for_timeout(200)
        box = page.get_by_test_id("view-front").bounding_box()
        assert box
        self.assertGreaterEqual(box["y"], -1)
        context.close()
