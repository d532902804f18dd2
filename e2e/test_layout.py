"""The Layout sheet: jacking, moving brackets, turning rods, units; every number checked with the engine."""

import json
import re

import numpy as np
from playwright.sync_api import Route, expect

from e2e.bench import GEOMETRIES, Bench
from engine.limits.rooms_by_point import rooms_by_point
from engine.ride.installed import damper_uses
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import spread_of
from engine.workup import WorkUp

HERON = "Heron three-wheeler"


class Layout(Bench):
    def setUp(self) -> None:
        super().setUp()
        self.at_the_bench(HERON)
        self.settle()

    def test_it_stands_where_the_engine_says(self) -> None:
        solved = self.solved(self.document(HERON))
        assert solved.ride
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)
        self.assertAlmostEqual(self.shown("ride-rate"), solved.ride.wheel_rate, delta=0.06)
        self.assertAlmostEqual(self.shown("ride-frequency"), solved.ride.frequency, delta=0.006)
        self.assertIn("The mounts fit", self.page.get_by_test_id("verdict").inner_text())

    def test_it_says_how_the_ratio_rises_and_how_much_of_its_movement_goes_into_the_damper(self) -> None:
        solved = self.solved(self.document(HERON))
        use = next(use for use in damper_uses(solved) if use.name == "coilover")
        assert use.installed_angle is not None
        assert use.path_share is not None
        self.assertAlmostEqual(self.shown("lean-coilover"), use.installed_angle, delta=0.06)
        figures = self.page.get_by_role("region", name="At the Jack")
        expect(figures).to_contain_text(f"{100 * use.path_share:.1f} % of its movement goes into the damper")
        travel = solved.station.travel
        droop, bump = solved.at(np.array([-travel.droop, travel.bump])).units["coilover"].motion_ratio
        way = "rises" if bump > droop else "falls"
        expect(figures).to_contain_text(f"{way} {100 * abs(bump / droop - 1):.1f} % from droop to bump")

    def test_jacking_by_keyboard_moves_every_number(self) -> None:
        solved = self.solved(self.document(HERON))
        jack = self.page.get_by_role("slider", name="Wheel travel")
        jack.focus()
        for _ in range(4):
            jack.press("ArrowUp")
        jack.press("Shift+ArrowUp")
        self.page.wait_for_timeout(100)
        self.assertEqual(jack.get_attribute("aria-valuetext"), "+14.0 mm bump")
        rows = solved.search
        for figure, column, digits in (
            ("ratio-coilover", rows.units["coilover"].motion_ratio, 3),
            ("rate", rows.wheel_rate, 1),
        ):
            low = int((rows.travels <= 14).sum()) - 1
            share = (14 - rows.travels[low]) / (rows.travels[low + 1] - rows.travels[low])
            wanted = column[low] + share * (column[low + 1] - column[low])
            self.assertAlmostEqual(self.shown(figure), wanted, delta=0.6 * 10**-digits)
        jack.press("End")
        self.assertEqual(jack.get_attribute("aria-valuetext"), "+60.0 mm bump")
        self.page.get_by_role("button", name=re.compile("^Ride")).click()
        self.assertIn("−6.", jack.get_attribute("aria-valuetext") or "")

    def test_nudging_a_bracket_gives_the_engines_new_numbers_and_undo_brings_them_back(self) -> None:
        before = (self.shown("ratio-coilover"), self.shown("ride-travel"))
        self.tab("Points")
        for point in ("pivot front", "pivot rear"):
            self.page.get_by_role("button", name=point).click()
            view = self.page.get_by_test_id("view-front")
            # A key held: however slow the machine, its presses come at once.
            view.evaluate(
                """view => { for (let k = 0; k < 5; k++)
                view.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowUp", bubbles: true })) }"""
            )
        self.settle()
        document = self.document(HERON)
        for point in ("pivot_front", "pivot_rear"):
            document["stations"][0]["points"][point][2] += 5
        solved = self.solved(document)
        assert solved.ride
        self.tab("Figures")
        at_zero = int((solved.search.travels < 0).sum())
        ratio = solved.search.units["coilover"].motion_ratio[at_zero]
        self.assertAlmostEqual(self.shown("ratio-coilover"), ratio, delta=6e-4)
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)
        self.assertNotEqual((self.shown("ratio-coilover"), self.shown("ride-travel")), before)
        # Five presses on one bracket are one step back; two brackets are two.
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_role("button", name="Undo").click()
        self.settle()
        self.assertEqual((self.shown("ratio-coilover"), self.shown("ride-travel")), before)
        self.assertTrue(self.page.get_by_role("button", name="Undo").is_disabled())
        self.page.keyboard.press("Control+Shift+z")
        self.page.keyboard.press("Control+y")
        self.settle()
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)

    def test_a_nudge_is_answered_within_a_blink(self) -> None:
        # Not a benchmark: it would only fail if an answer were queued behind others or never came.
        self.tab("Points")
        field = self.page.get_by_label(re.compile("^damper anchor up from floor"))
        field.focus()
        for _ in range(12):
            field.press("ArrowUp")
        self.settle()
        self.assertEqual(field.input_value(), "553.0")
        document = self.document(HERON)
        document["stations"][0]["points"]["damper_anchor"][2] += 12
        solved = self.solved(document)
        assert solved.ride
        self.tab("Figures")
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)

    def test_dragging_a_point_moves_it_in_the_plane_of_the_view(self) -> None:
        view = self.page.get_by_test_id("view-close")
        box = view.bounding_box()
        assert box
        # The close-up has the first unit's moving eye in its middle.
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 12, y, steps=4)
        self.page.mouse.up()
        self.settle()
        self.tab("Points")
        out = self.page.get_by_label(re.compile("^damper eye out from centre")).input_value()
        self.assertGreater(float(out), 299.0)
        self.assertEqual(self.page.get_by_label(re.compile("^damper eye fore")).input_value(), "−1.0")
        self.page.get_by_role("button", name="Undo").click()
        self.settle()
        self.assertEqual(
            self.page.get_by_label(re.compile("^damper eye out from centre")).input_value(), "299.0"
        )

    def test_what_to_measure_twice_is_what_the_engine_finds(self) -> None:
        self.tab("Points")
        ranked = self.page.get_by_role("region", name="Measure these twice")
        ranked.wait_for()
        first = sensitivities(self.solved(self.document(HERON)))[0]
        line = ranked.get_by_role("listitem").first.inner_text()
        self.assertIn(first.point.replace("_", " "), line)
        # More bump at the wheel is a lower vehicle.
        way = "lower" if first.ride_mm > 0 else "higher"
        self.assertIn(f"{abs(first.ride_mm):.2f} mm {way}", line)
        ranked.get_by_role("button").first.click()
        ranked.get_by_role("heading", name=re.compile("The picked point")).wait_for()
        self.assertEqual(ranked.get_by_role("listitem").count(), 9)

    def test_what_to_measure_twice_is_ranked_by_what_one_cares_about(self) -> None:
        self.tab("Points")
        ranked = self.page.get_by_role("region", name="Measure these twice")
        solved = self.solved(self.document(HERON))
        found = sensitivities(solved)
        first = max(found, key=lambda one: abs(one.ratios["coilover"]))
        about = ranked.get_by_label("What it does to")
        about.select_option("Motion ratio, coilover")
        line = ranked.get_by_role("listitem").first
        expect(line).to_contain_text(first.point.replace("_", " "))
        way = "more" if first.ratios["coilover"] > 0 else "less"
        expect(line).to_contain_text(f"{abs(first.ratios['coilover']):.4f} {way}")
        near = WorkUp(solved).clearances
        rooms = rooms_by_point(solved, near)
        pair = near[0].one, near[0].other
        by = max((room.rooms.get(pair, 0.0) for room in rooms), key=abs)
        about.select_option(f"Gap, {pair[0]} to {pair[1]}".replace("_", " "))
        expect(line).to_contain_text(f"{abs(by):.2f} mm {'wider' if by > 0 else 'tighter'}")

    def test_every_figure_at_ride_says_between_what_the_tape_leaves_it(self) -> None:
        ride = self.page.get_by_test_id("ride-travel-between")
        expect(ride).to_have_text(self.between(1.0))
        expect(self.page.get_by_role("region", name="At ride height")).to_contain_text("measured to 1.0 mm")
        self.tab("Points")
        measured = self.page.get_by_role("region", name="How well it is measured")
        expect(measured).to_contain_text(self.between(1.0))
        field = measured.get_by_label(re.compile("^Every place, to within"))
        field.fill("21")
        expect(measured).to_contain_text("Give 0 to 20.0 mm.")
        field.fill("3")
        field.press("Enter")
        expect(measured).to_contain_text(self.between(3.0))
        expect(measured).to_contain_text("Stroke left at full bump, coilover")
        self.tab("Figures")
        expect(ride).to_have_text(self.between(3.0))
        # The wheel's own angles too, and the nearest gaps; in inches the same in inches.
        document = self.document(HERON)
        document["stations"][0]["uncertainty"] = {"tape": 3.0}
        solved = self.solved(document)
        found = spread_of(solved, GEOMETRIES, clearances=WorkUp(solved).clearances)
        steer = found.wheels["wheel"].bump_steer
        self.assertGreater(steer.low * steer.high, -1.0)
        low = max(steer.low, 0.0) if steer.high > 0 else -steer.high
        expect(self.page.get_by_test_id("bump-steer-wheel-between")).to_contain_text(f"{low:.2f} to ")
        assert found.axis
        trail = found.axis.trail
        expect(self.page.get_by_test_id("scrub-between")).to_contain_text(
            f"{trail.low:.1f} to {trail.high:.1f} mm".replace("-", "−")
        )
        self.tab("Points")
        (one, other), gap = next(iter(found.gaps.items()))
        expect(measured).to_contain_text(
            f"Nearest, {one} to {other}{gap.low:.1f} to {gap.high:.1f} mm".replace("_", " ")
        )
        # Not on the Layout alone, and stored with the job.
        self.page.get_by_role("link", name="Springing").click()
        expect(self.page.get_by_test_id("ride-travel-between")).to_have_text(self.between(3.0))
        self.save("taped in a hurry")
        self.eventually(lambda: self.document(HERON)["stations"][0].get("uncertainty", {}).get("tape") == 3.0)

    def test_intervals_that_are_not_answered_say_why_and_are_asked_again(self) -> None:
        lost = json.dumps(
            {"code": "worker_lost", "detail": "Its process was lost.", "path": "", "values": {}}
        )
        answers = [(503, lost)]

        def answer(route: Route) -> None:
            if not answers:
                return route.continue_()
            status, body = answers.pop()
            return route.fulfill(status=status, body=body, content_type="application/json")

        self.page.route("**/api/spread", answer)
        self.tab("Points")
        self.type_place("damper eye", "out", "298")
        measured = self.page.get_by_role("region", name="How well it is measured")
        expect(measured).to_contain_text("Its process was lost.")
        measured.get_by_role("button", name="Work it out").click()
        expect(measured).to_contain_text("Stands at")
        expect(measured).not_to_contain_text("was lost")

    def between(self, tape: float) -> str:
        document = self.document(HERON)
        document["stations"][0]["uncertainty"] = {"tape": tape}
        found = spread_of(self.solved(document), GEOMETRIES).ride_travel
        assert found is not None
        return f"{found.low:+.1f} to {found.high:+.1f} mm".replace("-", "−")

    def test_out_is_away_from_the_centre_on_both_sides(self) -> None:
        document = self.document(HERON)
        told = []
        for index, station in enumerate(("Front left", "Front right")):
            self.page.get_by_label("Station", exact=True).select_option(label=station)
            self.settle()
            self.tab("Points")
            line = self.page.get_by_role("button", name=re.compile("^damper anchor, out"))
            line.wait_for()
            told.append(line.inner_text().split()[-1])
            found = sensitivities(self.solved(document, index))
            item = next(s for s in found if (s.point, s.axis) == ("damper_anchor", 1))
            side = 1 if index == 0 else -1
            self.assertEqual(told[-1], "lower" if item.ride_mm * side > 0 else "higher")
        self.assertEqual(told[0], told[1])

    def test_turning_the_rod_moves_the_ride_height(self) -> None:
        before = self.shown("ride-travel")
        self.tab("Rods")
        for _ in range(4):
            self.page.get_by_role("button", name="½ turn longer").click()
        self.assertEqual(self.page.get_by_test_id("turns").inner_text(), "+2 turns")
        self.settle()
        document = self.document(HERON)
        points = document["stations"][0]["points"]
        drawn = sum((a - b) ** 2 for a, b in zip(points["push_low"], points["push_top"], strict=True)) ** 0.5
        document["stations"][0]["links"] = {"pushrod": {"length": drawn + 6}}
        solved = self.solved(document)
        assert solved.ride
        self.tab("Figures")
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)
        self.assertNotEqual(self.shown("ride-travel"), before)

    def test_a_rod_that_cannot_reach_says_so_and_can_be_undone(self) -> None:
        self.tab("Rods")
        field = self.page.get_by_role("textbox", name=re.compile("^Rod length"))
        field.fill("700")
        field.press("Enter")
        alert = self.page.get_by_role("alert").filter(has_text="cannot be put together")
        alert.wait_for()
        self.assertIn("the pushrod is", alert.inner_text())
        self.assertIn("stations[0].links", alert.inner_text())
        alert.get_by_role("button", name="Undo the last change").click()
        alert.wait_for(state="hidden")
        self.assertIn("The mounts fit", self.page.get_by_test_id("verdict").inner_text())

    def test_inches_with_a_fraction_typed_in(self) -> None:
        self.tab("Points")
        self.page.get_by_role("button", name=re.compile("switch units")).click()
        field = self.type_place("damper anchor", "up from floor", "21 3/8")
        self.assertEqual(field.input_value(), "21 3/8")
        self.page.get_by_role("button", name=re.compile("switch units")).click()
        self.assertEqual(field.input_value(), "542.9")
        document = self.document(HERON)
        document["stations"][0]["points"]["damper_anchor"][2] = 542.925
        solved = self.solved(document)
        assert solved.ride
        self.tab("Figures")
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.06)

    def test_a_field_refuses_in_words_and_keeps_the_old_value(self) -> None:
        self.tab("Points")
        field = self.page.get_by_label(re.compile("^rack up from floor"))
        for text, words in (
            ("11 5/0", "below the line"),
            ("12 kg", "not a unit for this"),
            ("90000", "20 m"),
        ):
            field.fill(text)
            self.assertIn(words, self.page.get_by_role("alert").first.inner_text())
            field.press("Enter")
            self.assertEqual(field.input_value(), text)
        field.press("Escape")
        self.assertEqual(field.input_value(), "196.0")
        self.assertTrue(self.page.get_by_role("button", name="Save revision").is_disabled())

    def test_a_finding_jacks_the_wheel_to_where_it_happens(self) -> None:
        self.page.get_by_label("Station", exact=True).select_option(label="Rear wheel")
        self.settle()
        solved = self.solved(self.document(HERON), 2)
        limit = next(x for x in solved.limits if x.kind == "damper_extended")
        self.page.get_by_role("button", name=re.compile("Jack to it: The shock tops out")).click()
        said = self.page.get_by_role("slider", name="Wheel travel").get_attribute("aria-valuetext") or ""
        self.assertEqual(said, f"−{abs(limit.travel):.1f} mm droop")
