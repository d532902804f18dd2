"""The Rocker sheet: a search that is stopped and taken, one that is picked from the scatter, one pushed by hand."""

import re

import numpy as np
from playwright.sync_api import expect

from e2e.bench import Bench
from engine.sizing.rocker.wheel_side import wheel_side_of

HERON = "Heron three-wheeler"


class Rocker(Bench):
    def begin(self, job: str = "Heron", station: str | None = None) -> None:
        self.at_the_bench(job, station)
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile("^Rocker")).click()
        self.settle()

    def saved(self) -> None:
        self.save("Another rocker")
        self.page.get_by_text("revision 3, saved").wait_for()

    def test_a_search_is_run_tried_taken_and_undone(self) -> None:
        self.begin()
        page = self.page
        field = page.get_by_label(re.compile("^Wheel ÷ damper"))
        field.fill("1.6")
        field.press("Enter")
        expect(page.get_by_label(re.compile("^Damper ÷ wheel"))).to_have_value("0.625")
        rise = page.get_by_label(re.compile("^Rise from droop to bump"))
        rise.fill("5")
        rise.press("Enter")
        # What was asked is followed; at rest the whole of it is searched and proved, and the best stands on the drawing.
        listed = page.get_by_role("region", name="The short list")
        listed.wait_for(timeout=40_000)
        expect(page.get_by_test_id("search-status")).to_contain_text("131,072 rockers tried")
        listed.get_by_role("button", name="Take it off the drawing, number 1").click()
        expect(page.get_by_test_id("ghost")).to_have_count(0)
        listed.get_by_role("button", name="Try it, number 1").click()
        expect(page.get_by_test_id("ghost")).to_be_attached()
        self.assert_accessible("a short list of rockers")
        # Trying changes nothing.
        expect(page.get_by_text("revision 2, saved")).to_be_visible()
        listed.get_by_role("button", name="Take it, number 1").click()
        self.settle()
        self.saved()
        solved = self.solved(self.document(HERON))
        side = wheel_side_of(solved)
        trace = solved.at(side.travels).units["coilover"].motion_ratio
        self.assertAlmostEqual(float(trace[side.ride]), 0.625, delta=0.003)
        self.assertAlmostEqual(float(trace[-1] / trace[0] - 1), 0.05, delta=0.015)
        page.get_by_role("button", name="Undo").click()
        self.settle()
        expect(page.get_by_text("with unsaved changes")).to_be_visible()

    def test_a_stopped_search_keeps_its_best_and_one_is_picked_from_the_scatter_by_key(self) -> None:
        self.begin()
        page = self.page
        page.get_by_role("button", name="Search", exact=True).click()
        page.get_by_role("button", name="Stop, keep the best").click()
        page.get_by_role("region", name="The short list").wait_for(timeout=40_000)
        tried = re.search(r"([\d,]+) rockers tried", page.get_by_test_id("search-status").inner_text())
        assert tried
        self.assertLess(int(tried.group(1).replace(",", "")), 131_072)
        scatter = page.get_by_test_id("scatter")
        scatter.focus()
        scatter.press("ArrowRight")
        scatter.press("Enter")
        expect(page.get_by_test_id("ghost")).to_be_attached(timeout=20_000)
        self.assert_accessible("the scatter")

    def test_the_search_follows_while_the_ratio_asked_for_and_the_rooms_are_pulled(self) -> None:
        self.begin()
        page = self.page
        glances: list[str] = []
        page.on("requestfinished", lambda its: glances.append(its.url) if "glance" in its.url else None)
        pull = page.get_by_test_id("pull-level")
        box = pull.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(12):
            page.mouse.move(x, y - 3 * step)
            page.wait_for_timeout(120)
        # Still held: scatter, cards and ghost are there, and nothing is proved.
        expect(page.get_by_test_id("sketches")).to_contain_text("not proved yet")
        expect(page.get_by_test_id("ghost")).to_be_attached()
        expect(page.get_by_test_id("scatter")).to_be_visible()
        expect(page.get_by_role("region", name="The short list")).to_have_count(0)
        self.assertGreater(len(glances), 1)
        page.mouse.up()
        asked = float(page.get_by_label(re.compile("^Damper ÷ wheel")).input_value())
        self.assertGreater(asked, 0.66)
        page.get_by_role("region", name="The short list").wait_for(timeout=40_000)
        expect(page.get_by_test_id("sketches")).to_have_count(0)
        self.assertAlmostEqual(float(pull.get_attribute("aria-valuenow") or 0), asked)
        # A room by key: five millimetres a press, and the search follows again.
        edge = page.get_by_role("slider", name=re.compile("^room for the pivot, up and down"))
        edge.focus()
        edge.press("ArrowUp")
        edge.press("ArrowUp")
        self.assertEqual(edge.get_attribute("aria-valuenow"), "50")
        expect(page.get_by_test_id("sketches")).to_be_attached()
        page.get_by_role("region", name="The short list").wait_for(timeout=40_000)
        self.assert_accessible("a search that follows")
        # Nothing of the drawing was changed.
        expect(page.get_by_text("revision 2, saved")).to_be_visible()

    def test_no_edge_of_a_room_lies_on_what_is_taken_hold_of(self) -> None:
        self.begin()
        self.page.get_by_test_id("pivot_room-2").wait_for()
        over = self.page.evaluate(
            """() => [...document.querySelectorAll('[data-testid=rocker-drawing] circle[r="7"], [data-testid=rocker-drawing] rect')]
            .map((grip) => { const box = grip.getBoundingClientRect();
              return document.elementFromPoint(box.x + 7, box.y + 7) === grip; })"""
        )
        self.assertEqual(over, [True] * 4)

    def test_what_cannot_be_met_is_said(self) -> None:
        self.begin()
        page = self.page
        rise = page.get_by_label(re.compile("^Rise from droop to bump"))
        rise.fill("120")
        rise.press("Enter")
        page.get_by_role("button", name="Stop, keep the best").click()
        listed = page.get_by_role("region", name="The short list")
        listed.wait_for(timeout=40_000)
        expect(listed).to_contain_text("No rocker in this space meets every target")

    def test_by_hand_with_keys_the_locks_are_kept(self) -> None:
        self.begin()
        page = self.page
        drawing = page.get_by_test_id("rocker-drawing")
        drawing.focus()
        drawing.press("PageDown")
        self.assertIn("In hand: the rod's joint", drawing.get_attribute("aria-label") or "")
        page.get_by_role("button", name="arm lengths").click()
        page.get_by_role("button", name="angle", exact=True).click()
        drawing.focus()
        for _ in range(4):
            drawing.press("ArrowUp")
        self.settle()
        expect(page.get_by_test_id("ghost")).to_be_attached()
        self.saved()
        old = wheel_side_of(self.solved(self.job(HERON).revisions.get(number=2).document))
        new = wheel_side_of(self.solved(self.document(HERON)))
        self.assertGreater(float(np.linalg.norm(new.joint - old.joint)), 2.0)
        for name in ("joint", "eye"):
            arms = [float(np.linalg.norm(getattr(side, name) - side.pivot)) for side in (old, new)]
            self.assertAlmostEqual(*arms, delta=0.01)
        between = [float(np.linalg.norm(side.joint - side.eye)) for side in (old, new)]
        self.assertAlmostEqual(*between, delta=0.01)

    def test_an_arm_end_is_dragged_with_the_mouse_in_one_step(self) -> None:
        self.begin()
        page = self.page
        joint = page.get_by_test_id("rocker-drawing").locator("circle[r='7']").first
        box = joint.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 20, y - 10, steps=5)
        page.mouse.up()
        self.settle()
        moved = joint.bounding_box()
        assert moved
        self.saved()
        old = wheel_side_of(self.solved(self.job(HERON).revisions.get(number=2).document))
        new = wheel_side_of(self.solved(self.document(HERON)))
        self.assertGreater(float(np.linalg.norm(new.joint - old.joint)), 3.0)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Undo")).to_be_disabled()

    def test_the_plate_is_read_off(self) -> None:
        self.begin()
        page = self.page
        self.tab("Plate")
        plate = page.get_by_role("region", name="The plate")
        side = wheel_side_of(self.solved(self.document(HERON)))
        arm = float(np.linalg.norm(side.joint - side.pivot))
        expect(plate).to_contain_text(f"{arm:.1f} mm")
        expect(plate).to_contain_text("How it is cut, usual sizes")
        bore = plate.get_by_label(re.compile("^Pivot bore"))
        bore.fill("1 1/4")
        bore.press("Enter")
        self.settle()
        between = plate.get_by_role("list", name="Between the holes")
        expect(between).to_contain_text(f"pivot bore to rod's hole: {arm - (31.75 + 10) / 2:.1f} mm of metal")
        plate.get_by_label("Made of").select_option("1")
        self.settle()
        expect(plate).to_contain_text("one plate")
        expect(plate.get_by_test_id("outline")).to_be_visible()
        self.assert_accessible("the plate")

    def test_a_station_without_a_rocker_says_where_to_go(self) -> None:
        self.begin("Hollin", "Front axle")
        expect(self.page.get_by_text("has no rocker to size")).to_be_visible()
        self.assert_accessible("no rocker")

    def test_it_reads_on_a_tablet(self) -> None:
        self.page.set_viewport_size({"width": 820, "height": 1180})
        self.begin()
        self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 820)
        self.assert_accessible("the Rocker sheet on a tablet")
