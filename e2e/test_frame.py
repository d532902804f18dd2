"""What carries the mounts: the tender's soft crossbar braced by a press, a tube drawn, one that nothing holds told."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.frame.borne import borne
from engine.frame.judged import judged
from engine.shop.job_parts import job_parts

LONG_MS = 60_000


class Frames(Bench):
    def opened_on(self, job: str) -> None:
        self.at_the_bench(job)
        self.page.get_by_role("link", name=re.compile("^Frame")).click()
        expect(self.page.get_by_role("heading", name="Mounts")).to_be_visible(timeout=LONG_MS)

    def codes(self, document: object) -> set[str]:
        project = check_project(document)
        return {f.code for f in judged(project, borne(project, buckling=False)) if f.mark != "good"}

    def test_a_soft_crossbar_is_braced_by_what_was_tried(self) -> None:
        page = self.page
        self.opened_on("Hollin Fell fire tender")
        soft = page.get_by_test_id("finding-frame_soft")
        expect(soft.first).to_contain_text("shock top")
        self.assert_accessible("frame")
        page.get_by_role("combobox", name="Load case").select_option(index=1)
        drawn = page.get_by_role("group", name=re.compile("^Frame, ")).locator("polyline")
        lines = drawn.count()
        for plan in ("side", "top", "front"):  # nothing of one plan is left lying in the next
            page.get_by_role("button", name=plan, exact=True).click()
            expect(drawn).to_have_count(lines)
        page.get_by_role(
            "button", name=re.compile("^Add the brace: A brace from hoop to spring pocket")
        ).click()
        expect(soft).to_have_count(0, timeout=LONG_MS)
        expect(page.get_by_role("button", name="brace", exact=True).last).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(soft.first).to_be_visible(timeout=LONG_MS)
        page.get_by_role("button", name="Redo").click()
        expect(soft).to_have_count(0, timeout=LONG_MS)
        self.save("Braced the crossbar")
        page.get_by_text(re.compile(r"revision \d+, saved")).wait_for()
        document = self.document("Hollin Fell fire tender")
        self.assertEqual(document["frame"]["members"][-1]["ends"], ["hoop", "spring pocket"])
        self.assertNotIn("frame_soft", self.codes(document))

    def test_what_nothing_holds_is_told_and_held_by_a_tube(self) -> None:
        page = self.page
        self.opened_on("Wandering shelf library")
        loose = page.get_by_test_id("finding-frame_loose")
        expect(loose.first).to_contain_text("Nothing holds step")
        self.unfold("Draw a tube")
        form = page.get_by_role("region", name="Draw a tube")
        form.get_by_role("combobox", name="from").select_option("sill")
        form.get_by_role("combobox", name="to", exact=True).select_option("step")
        form.get_by_label("Name").fill("outrigger")
        form.get_by_role("button", name="Draw the tube").click()
        expect(loose).to_have_count(0, timeout=LONG_MS)
        expect(page.get_by_role("button", name="outrigger", exact=True).last).to_be_visible()
        self.unfold("Places")
        page.get_by_label("How step behind is held").select_option("pinned")
        expect(page.get_by_label("How step behind is held")).to_have_value("pinned")

    def at(self, x: float, y: float, z: float) -> tuple[float, float]:
        """Return where a place is on the screen, from the front: told by two squares that are there."""
        squares = self.page.get_by_role("group", name="Frame, front").locator("g:has(> title)")
        known = {}
        for name, place in (("hoop foot", (640.0, 620.0)), ("hoop across", (-640.0, 1010.0))):
            its = (
                squares.filter(has=self.page.locator("title", has_text=re.compile(f"^{name}")))
                .locator("rect")
                .last
            )
            box = its.bounding_box()
            assert box is not None
            known[place] = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        (one, p), (other, q) = known.items()
        return (
            p[0] + (y - one[0]) * (q[0] - p[0]) / (other[0] - one[0]),
            p[1] + (z - one[1]) * (q[1] - p[1]) / (other[1] - one[1]),
        )

    def test_tubes_are_drawn_by_hand_dragged_changed_and_cut(self) -> None:
        page = self.page
        self.opened_on("Hollin Fell fire tender")
        page.get_by_role("button", name="Draw tubes").click()
        doing = page.get_by_role("status").filter(has_text=re.compile("Press where|Begin|From"))
        # From the middle of the crossbar, which is cut in two there, to a new place under it.
        page.mouse.move(*self.at(0, 0, 1010))
        expect(doing).to_contain_text("Begin at the middle of crossbar")
        page.mouse.click(*self.at(0, 0, 1010))
        page.mouse.move(*self.at(0, 0, 800))
        expect(doing).to_contain_text("to a new place, 210.0 mm")
        page.mouse.click(*self.at(0, 0, 800))
        panel = page.get_by_role("region", name="Tube tube")
        panel.get_by_label("Over the tube").fill("30")
        panel.get_by_label("Over the tube").press("Enter")
        # And to the other hoop's foot, of the size off the rack.
        page.get_by_label("Tube off the rack").select_option("25x2")
        page.mouse.click(*self.at(0, 0, 800))
        page.mouse.click(*self.at(0, 640, 620))
        expect(page.get_by_role("button", name="tube 2", exact=True).last).to_be_visible(timeout=LONG_MS)
        page.get_by_role("button", name="Draw tubes").click()
        # The new place is dragged 100 mm down; the tubes go with it.
        start, end = self.at(0, 0, 800), self.at(0, 0, 700)
        page.mouse.move(*start)
        page.mouse.down()
        page.mouse.move(start[0], (start[1] + end[1]) / 2)
        page.mouse.move(*end)
        expect(page.get_by_role("status").filter(has_text="ahead")).to_contain_text(
            re.compile("place: −2,?600 mm ahead, 0 mm out, (69|70)")
        )
        page.mouse.up()
        self.save("Drawn by hand")
        page.get_by_text(re.compile(r"revision \d+, saved")).wait_for()
        frame = self.document("Hollin Fell fire tender")["frame"]
        members = {one["name"]: one for one in frame["members"]}
        self.assertEqual(members["crossbar"]["ends"], ["hoop", "on crossbar"])
        self.assertEqual(members["crossbar 2"]["ends"], ["on crossbar", "hoop across"])
        self.assertEqual(
            (members["tube"]["ends"], members["tube"]["tube"]["outside"]), (["on crossbar", "place"], 30.0)
        )
        self.assertEqual(
            (members["tube 2"]["ends"], members["tube 2"]["tube"]),
            (["place", "hoop foot"], {"outside": 25.0, "wall": 2.0}),
        )
        x, y, z = frame["nodes"]["place"]
        self.assertEqual((x, y), (-2600, 0))
        self.assertAlmostEqual(z, 700, delta=6)
        # What is drawn is cut: the shorter of the two to be seen on Make, with what its ends sit on.
        page.get_by_role("button", name="tube", exact=True).last.click()
        with page.expect_download() as got:
            page.get_by_role("button", name="GLB").click()
        self.assertEqual(got.value.path().read_bytes()[:4], b"glTF")
        page.get_by_role("link", name="Cut list and copes on Make").click()
        page.get_by_role("region", name="Parts", exact=True).get_by_role(
            "button", name=re.compile("1 × tube Frame")
        ).click()
        part = page.get_by_test_id("part")
        expect(part).to_contain_text("coped on crossbar")
        expect(part.get_by_role("link", name="Change it on Frame")).to_be_visible()
        expect(page.get_by_role("region", name="Drawing of tube")).to_contain_text("Wrapped round the tube")
        self.assert_accessible("a tube of the frame on Make")
        with page.expect_download() as got:
            part.get_by_role("button", name=re.compile("1:1")).first.click()
        self.assertEqual(got.value.path().read_bytes()[:5], b"%PDF-")
        page.get_by_role("tab", name="Setting out").click()
        expect(page.get_by_test_id("mount").filter(has_text="hoop foot, Frame")).to_contain_text(
            "middle lines meet"
        )

    def test_a_ghost_is_pressed_a_box_taken_and_makes_tower_brought_in(self) -> None:
        page = self.page
        self.opened_on("Hollin Fell fire tender")
        soft = page.get_by_test_id("finding-frame_soft")
        expect(soft.first).to_be_visible()
        drawn = page.get_by_role("group", name="Frame, front")
        drawn.get_by_role("button", name=re.compile("^Add it: A brace from hoop to spring pocket")).click()
        expect(soft).to_have_count(0, timeout=LONG_MS)
        page.get_by_role("button", name="brace", exact=True).last.click()
        panel = page.get_by_role("region", name="Tube brace")
        panel.get_by_label("Its section").select_option("box")
        panel.get_by_label("Height").fill("50")
        panel.get_by_label("Height").press("Enter")
        panel.get_by_label("How it is joined at spring pocket").select_option("pinned")
        page.mouse.click(*self.at(0, 640, 620))  # the foot of the hoop, which is held
        place = page.get_by_role("region", name="Place hoop foot")
        place.get_by_role("button", name="Close").click()
        self.unfold("Places")  # and without a pointer, from the list
        page.get_by_role("button", name="hoop foot", exact=True).press("Enter")
        place.get_by_label("hoop foot, ahead").fill("-2590")
        place.get_by_label("hoop foot, ahead").press("Enter")
        place.get_by_label("How hoop foot is held").select_option("pinned")
        expect(place).to_contain_text("Here ends hoop leg.")
        page.get_by_role("button", name="Bring in from Make").click()
        expect(page.get_by_role("region", name="From Make")).to_have_count(0)
        self.save("Box and tower")
        page.get_by_text(re.compile(r"revision \d+, saved")).wait_for()
        document = self.document("Hollin Fell fire tender")
        members = {one["name"]: one for one in document["frame"]["members"]}
        self.assertEqual(document["frame"]["nodes"]["hoop foot"], [-2590.0, 640.0, 620.0])
        self.assertEqual(document["frame"]["held"]["hoop foot"], "pinned")
        self.assertEqual(members["brace"]["box"], {"height": 50.0, "width": 40.0, "wall": 3.0})
        self.assertEqual(
            (members["brace"].get("tube"), members["brace"]["ends_held"]), (None, ["welded", "pinned"])
        )
        chosen = [
            part["kind"]
            for station in document["stations"]
            for part in (station.get("make") or {}).get("parts", [])
        ]
        self.assertEqual(set(chosen) & {"tower", "hoop", "crossbar"}, set())
        project = check_project(document)
        self.assertGreater(len(borne(project, buckling=False).members), 4)
        self.assertEqual(
            {part.name for part in job_parts(project, fitted=False).parts if part.station == "Frame"},
            set(members),
        )
