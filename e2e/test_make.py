"""What has to be made: parts drawn, changed and cleared, files taken away and read back, a card made into a plate."""

import io
import json
import re
import time
import zipfile
from collections.abc import Callable
from typing import Any
from unittest import mock

import cv2
import numpy as np
from django.contrib.auth import get_user_model
from ezdxf.filemanagement import read
from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.shop.job_parts import JobParts, job_parts
from server.demo.card_photo import COLOURS, LOW, PER_MM, rendered
from server.jobs.actions.import_project import import_project
from server.records.actions.photographs import keep_photograph
from server.records.actions.survey import items_of, survey_of
from server.running.caching import forget_all
from server.running.following import tell
from server.shop.files import all_files

HERON = "Heron three-wheeler"
TENDER = "Hollin Fell fire tender"


def slot(bench: np.ndarray, mask: np.ndarray) -> None:
    """Cut a slot of 12 by 39 mm into the card."""
    one, other = (
        tuple(((np.array(at) - LOW) * PER_MM).astype(int).tolist()) for at in ((320, 150), (345, 140))
    )
    cv2.line(mask, one, other, 0, round(12 * PER_MM), cv2.LINE_AA)


class Make(Bench):
    def open(self, job: str, station: str) -> None:
        self.at_the_bench(job)
        self.page.get_by_role("link", name="Make", exact=True).click()
        self.page.get_by_role("region", name=f"Parts of {station}").wait_for()
        self.settle()

    def made(self, job: str) -> JobParts:
        document = {**self.document(job), "survey": survey_of(items_of(self.job(job)))}
        return job_parts(check_project(document), fitted=False)

    def part(self, name: str) -> None:
        self.page.get_by_role("button", name=re.compile(f"[0-9] × {name}")).first.click()
        self.page.get_by_test_id("part").wait_for()

    def download(self, button: str) -> bytes:
        with self.page.expect_download() as waiting:
            self.page.get_by_role("button", name=button, exact=True).click()
        data: bytes = waiting.value.path().read_bytes()
        return data

    def test_a_link_with_an_eye_on_it_is_a_tube_on_bushes_or_two_plates(self) -> None:
        values = starting_project(next(layout for layout in LAYOUTS if layout.name == "axle-three-link"))
        values["name"] = "Plover timber crawler"
        import_project(get_user_model().objects.get(username="bench"), json.dumps(values).encode(), "Started")
        self.open("Plover timber crawler", "Rear axle")
        self.part("lower link left")
        part = self.page.get_by_test_id("part")
        link = next(its for its in self.made("Plover timber crawler").parts if its.name == "lower_link_left")
        assert link.cut
        expect(part).to_contain_text(f"{link.cut.length:.1f} mm")
        expect(part).to_contain_text(
            "Eye left stands 0.0 mm from the middle of lower link left, inside its tube"
        )
        expect(self.page.get_by_role("img", name="End of the tube, unrolled")).to_have_count(2)
        self.page.get_by_role("button", name="Make it of two plates").click()
        self.part("lower link left link")
        drawing = self.page.get_by_role("region", name="Drawing of lower link left link")
        expect(drawing).to_contain_text("bolt of eye left")
        self.page.get_by_role("button", name="All parts").click()
        self.settle()
        expect(
            self.page.get_by_role("button", name=re.compile("eye right tab, coilover right"))
        ).not_to_have_count(0)
        expect(self.page.get_by_role("button", name=re.compile("eye left tab, coilover left"))).to_have_count(
            0
        )

    def test_a_dimension_that_is_pressed_is_the_field_that_is_edited(self) -> None:
        self.open(HERON, "Front left")
        self.part("rack tab, tie rod")
        drawing = self.page.get_by_role("group", name="rack tab, tie rod, dimensioned")
        drawing.get_by_role("button", name="Change ⌀10 +0.1 bolt").click()
        field = self.page.get_by_role("textbox", name="Hole, mm", exact=True)
        expect(field).to_be_focused()
        field.fill("12")
        field.press("Enter")
        expect(drawing.get_by_role("button", name="Change ⌀12 +0.1 bolt")).to_be_visible(timeout=60_000)
        self.assert_accessible("a part's drawing")
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_role("tab", name="Setting out").click()
        self.page.get_by_role("button", name="Show it drawn: lower front, Front left").click()
        panel = self.page.get_by_role("group", name="lower front, set out")
        expect(panel).to_contain_text("up from the floor 152", timeout=60_000)
        expect(panel).to_contain_text("from the front")

    def test_from_a_solved_corner_to_files_that_say_what_the_engine_says(self) -> None:
        self.open(HERON, "Front left")
        parts = {part.name: part for part in self.made(HERON).stations[0].parts}
        self.part("pushrod")
        long = parts["pushrod"].figure("tube_length")
        expect(self.page.get_by_test_id("part")).to_contain_text(f"{long:.1f} mm")
        self.page.get_by_role("button", name="All parts").click()
        self.part("rocker plate")
        opened = read(io.StringIO(self.download("DXF").decode()))
        flat = parts["rocker plate"].flat
        assert flat is not None
        circles = sorted(
            (round(c.dxf.center.x, 3), round(c.dxf.center.y, 3), c.dxf.radius)
            for c in opened.modelspace().query('CIRCLE[layer=="CUT"]')
        )
        self.assertEqual(circles, sorted((round(h.x, 3), round(h.y, 3), h.diameter / 2) for h in flat.holes))
        self.assertTrue(self.download("Print 1:1").startswith(b"%PDF"))
        self.assertIn(b"mm", self.download("SVG"))
        self.page.get_by_role("button", name="All parts").click()
        with self.page.expect_download() as waiting:
            self.page.get_by_role("button", name="Everything, as a ZIP").click()
        packed = zipfile.ZipFile(io.BytesIO(waiting.value.path().read_bytes()))
        self.assertLessEqual(
            {"parts.json", "cut-list.csv", "skeleton.dxf", "templates.pdf"}, set(packed.namelist())
        )
        told = {(one["station"], one["name"]): one for one in json.loads(packed.read("parts.json"))["parts"]}
        self.assertAlmostEqual(told["Front left", "pushrod"]["tube_length"], long, places=2)
        self.assertIn(told["Front left", "rocker plate"]["file"], packed.namelist())

    def test_long_work_says_how_far_it_is_and_is_stopped_and_begun_anew(self) -> None:
        def slowly(real: Callable[..., Any]) -> Callable[..., Any]:
            def work(*values: Any, **more: Any) -> Any:
                for part in range(200):
                    tell(part / 400, f"part {part} of it")
                    time.sleep(0.05)
                return real(*values, **more)

            return work

        forget_all()  # another test may have had it made
        with mock.patch("server.shop.api.all_files", slowly(all_files)):
            self.open(HERON, "Front left")
            self.page.get_by_role("button", name="Everything, as a ZIP").click()
            line = self.page.get_by_role("status").filter(has_text="Working on part")
            expect(line).to_have_text(re.compile(r"Working on part \d+ of it: \d+ %"))
            self.page.get_by_role("button", name="Stop", exact=True).click()
            said = self.page.get_by_role("alert")
            expect(said).to_have_text("Stopped, as you asked. Nothing was changed.")
            expect(line).to_have_count(0)
        with self.page.expect_download() as waiting:
            self.page.get_by_role("button", name="Everything, as a ZIP").click()
        self.assertTrue(waiting.value.path().read_bytes().startswith(b"PK"))
        expect(said).to_have_count(0)
        with mock.patch("server.shop.api.job_parts", slowly(job_parts)):
            self.page.reload()
            self.page.get_by_text(re.compile("Working on part")).first.wait_for()
            self.page.get_by_role("button", name="Stop", exact=True).first.click()
            self.page.get_by_role("button", name="Work it out").wait_for()
        self.page.get_by_role("button", name="Work it out").click()
        self.page.get_by_role("region", name="Parts of Front left").wait_for()
        self.settle()
        with mock.patch("server.shop.api.job_parts", slowly(job_parts)):
            self.page.get_by_role("tab", name="Hardware").click()
            self.page.get_by_text(re.compile("Working on part")).first.wait_for()
            self.page.get_by_role("button", name="Stop", exact=True).first.click()
            self.page.get_by_role("button", name="Work it out").wait_for()
        self.page.get_by_role("button", name="Work it out").click()
        expect(self.page.get_by_role("region", name="Hardware").get_by_role("listitem").first).to_be_visible()

    def test_a_weak_tab_is_cleared_by_its_press_and_a_proposal_taken(self) -> None:
        self.open(TENDER, "Front axle")
        self.page.get_by_role("listitem").filter(has_text="tower hoop").first.wait_for()
        self.part("seat left tab")
        part = self.page.get_by_test_id("part")
        expect(part).to_contain_text("times its peak load where 2 are wanted")
        part.get_by_role("button", name=re.compile("^Make it .* thick")).click()
        expect(part).not_to_contain_text("times its peak load where 2 are wanted")
        self.page.get_by_role("button", name="All parts").click()
        self.part("seat right tab")
        part.get_by_role("button", name="Lock this design").click()
        expect(part).to_contain_text("customised")
        self.page.get_by_label(re.compile("^Plate, mm")).fill("12")
        self.page.keyboard.press("Enter")
        expect(part.get_by_text("12.0 mm").first).to_be_visible()
        part.get_by_role("button", name="Back to suggestion").click()
        self.part("seat right tab")
        expect(self.page.get_by_test_id("part")).to_contain_text("proposed from stock")

    def test_a_bolt_that_cannot_come_out_is_said_and_turned_till_it_can(self) -> None:
        self.open(TENDER, "Rear left")
        self.part("shock top tab")
        part = self.page.get_by_test_id("part")
        expect(part).to_contain_text("cannot be drawn out")
        part.get_by_role("button", name=re.compile("^Turn its bolt")).click()
        expect(part).not_to_contain_text("cannot be drawn out")
        self.settle()
        expect(part).not_to_contain_text("cannot be drawn out")

    def test_a_hoop_is_added_bent_and_printed(self) -> None:
        self.open(HERON, "Front left")
        self.page.get_by_role("button", name="Add a part").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("radio", name=re.compile("^Hoop")).check()
        dialog.get_by_role("button", name="Add it").click()
        part = self.page.get_by_test_id("part")
        expect(part).to_contain_text("Bend 2 begins at")
        self.page.get_by_label("End 1 is cut").select_option("fore")
        expect(part).to_contain_text("End 1 is coped on a tube of")
        self.assertTrue(self.download("Print 1:1").startswith(b"%PDF"))
        self.page.get_by_role("img", name=re.compile("in the round")).wait_for()
        self.page.get_by_role("button", name="Turn left").click()
        part.get_by_role("button", name="Remove it").click()
        expect(self.page.get_by_role("region", name="Parts of Front left")).not_to_contain_text("hoop")

    def test_stock_hardware_and_what_to_buy(self) -> None:
        self.open(HERON, "Front left")
        self.page.get_by_role("tab", name="Stock & cutting").click()
        self.page.get_by_role("img", name=re.compile("^Bar of")).first.wait_for()
        expect(self.page.get_by_role("img", name=re.compile("^Sheet of")).first).to_be_visible()
        self.page.get_by_role("tab", name="Hardware").click()
        expect(self.page.get_by_role("region", name="Hardware")).to_contain_text("rod end")
        self.page.get_by_role("tab", name="To buy").click()
        expect(self.page.get_by_role("region", name="To buy")).to_contain_text("damper")

    def test_a_mount_is_read_back_into_the_survey(self) -> None:
        self.open(HERON, "Front left")
        self.page.get_by_role("tab", name="Setting out").click()
        mount = self.page.get_by_test_id("mount").filter(has_text="damper anchor, Front left").first
        expect(mount).to_contain_text("tape to")
        expect(mount).to_contain_text("Bolt out of level")
        mount.get_by_role("link", name=re.compile("^Read it back")).click()
        self.page.get_by_test_id("in-hand").wait_for()
        expect(self.page.get_by_test_id("in-hand")).to_contain_text(", Front left")

    def test_a_photographed_card_becomes_a_plate_and_is_compared(self) -> None:
        job = self.job(HERON)
        picture = rendered(*COLOURS["white card on wood"], 1, slot)
        keep_photograph(job.owner, job, "card", picture)
        self.open(HERON, "Front left")
        self.page.get_by_role("button", name="From cardboard").click()
        wide = self.page.get_by_label("Board’s print, measured across")
        wide.fill("180 mm")
        wide.press("Enter")
        self.page.get_by_role("button", name="Straighten by the board").click()
        self.page.get_by_text("Point at the card.").wait_for(timeout=30_000)
        box = self.page.get_by_test_id("card-photo").bounding_box()
        assert box is not None
        self.page.mouse.click(box["x"] + 0.689 * box["width"], box["y"] + 0.357 * box["height"])
        found = self.page.get_by_role("region", name="What was found")
        expect(found).to_contain_text(re.compile("[56] corners, 4 holes"), timeout=30_000)
        expect(found).to_contain_text(re.compile(r"Slot \d, 3[89]\.\d mm long, wide"))
        expect(self.page.get_by_text(re.compile("Over the card the picture is good to [01]"))).to_be_visible()
        self.page.get_by_label("Corner 1", exact=True).focus()
        self.page.keyboard.press("ArrowLeft")
        expect(found).to_contain_text("Corner 1")
        self.page.get_by_label("Its name").fill("reservoir bracket")
        self.page.get_by_role("button", name="Save as a part").click()
        expect(self.page.get_by_test_id("part")).to_contain_text("reservoir bracket")
        opened = read(io.StringIO(self.download("DXF").decode()))
        widths = []
        for line in opened.modelspace().query("LWPOLYLINE"):
            xs = [point[0] for point in line.get_points()]
            widths.append(max(xs) - min(xs))
        self.assertEqual(len(widths), 2)
        self.assertAlmostEqual(max(widths), 260.0, delta=1.0)
        self.assertLess(min(widths), 45.0)
        self.page.get_by_role("button", name="All parts").click()
        self.page.get_by_role("button", name="From cardboard").click()
        self.page.get_by_text("Point at the card.").wait_for()
        self.page.mouse.click(box["x"] + 0.689 * box["width"], box["y"] + 0.357 * box["height"])
        expect(found).to_contain_text("4 holes", timeout=30_000)
        self.page.get_by_label(re.compile("Lay it on the drawing")).select_option(
            "Front left/reservoir bracket"
        )
        self.page.get_by_role("button", name="Compare", exact=True).click()
        expect(self.page.get_by_role("region", name="Compare")).to_contain_text(
            "than drawn at worst", timeout=30_000
        )

    def test_axe_finds_nothing(self) -> None:
        self.open(HERON, "Front left")
        for tab in ("Parts", "Setting out", "Stock & cutting", "Hardware", "To buy"):
            self.page.get_by_role("tab", name=tab).click()
            self.settle()
            self.assert_accessible(f"Make, {tab}")
        self.page.get_by_role("tab", name="Parts").click()
        self.part("rocker pivot tab")
        self.assert_accessible("Make, a part")
