"""Left against right on the sheets: said on both, put right by the press, and a side carried over whole."""

import re

import numpy as np
from playwright.sync_api import expect

from e2e.bench import Bench

HERON = "Heron three-wheeler"


class Sides(Bench):
    def sheet(self, name: str) -> None:
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile(f"^{name}")).click()
        self.settle()

    def test_what_both_sides_of_an_axle_do_alike_is_one_figure_and_two_where_they_differ(self) -> None:
        self.at_the_bench("Hollin", "Front axle")
        figures = self.page.get_by_role("region", name="At the Jack")
        for once in (
            "Motion ratio, coilover (both sides)",
            "Bump steer, both sides",
            "Camber · toe, both sides",
        ):
            expect(figures.get_by_text(once, exact=True)).to_have_count(1)
        expect(figures.get_by_text("Motion ratio, coilover left", exact=True)).to_have_count(0)
        self.tab("Points")
        measured = self.page.get_by_role("region", name="How well it is measured")
        expect(measured).to_contain_text("Stroke left at full bump, coilover (both sides)")
        expect(measured).to_contain_text("Nearest, frame rail to coilover (both sides)")
        self.tab("Figures")
        self.page.get_by_role("slider", name="Articulation").press("Shift+ArrowLeft")
        expect(figures).to_contain_text("Left wheel up 10.0 mm: lengths are those with it up")
        for apart in ("Eye to eye, coilover left", "Eye to eye, coilover right"):
            expect(figures.get_by_text(apart, exact=True)).to_have_count(1)
        solved = self.solved(self.document("Hollin Fell fire tender"))
        place = solved.linkage.follow(np.array([0.0]), 10.0).solution.motion.place[:, :, 0]
        ends = [place[:, solved.linkage.index[name]] for name in ("seat_left", "tower_left")]
        expect(figures).to_contain_text(f"Eye to eye, coilover left{np.linalg.norm(ends[0] - ends[1]):.1f}mm")

    def test_a_bracket_moved_on_one_side_is_said_on_both_and_carried_over_from_the_brief(self) -> None:
        page = self.page
        self.at_the_bench("Heron", "Front left")
        self.tab("Points")
        self.type_place("pivot front", "up from floor", "424")
        self.tab("Figures")
        finding = page.get_by_test_id("finding-sides_differ")
        expect(finding).to_contain_text("from being mirror images")
        page.get_by_label("Station", exact=True).select_option(label="Front right")
        self.settle()
        expect(finding).to_contain_text("from being mirror images")
        # Work goes on from the left: its brackets are carried over, the right keeps its name and masses.
        page.get_by_label("Station", exact=True).select_option(label="Front left")
        self.settle()
        self.sheet("Brief")
        page.get_by_role("button", name="Make Front right the mirror image of this side").click()
        self.save("Both sides alike again")
        page.get_by_text("revision 3, saved").wait_for()
        left, right = self.document(HERON)["stations"][:2]
        for name, (x, y, z) in left["points"].items():
            self.assertEqual(right["points"][name], [x, -y if y else 0.0, z], name)
        self.assertEqual(left["points"]["pivot_front"][2], 424)
        self.assertEqual(right["name"], "Front right")
        self.sheet("Layout")
        expect(page.get_by_test_id("finding-sides_differ")).to_contain_text("0.0 mm from being mirror images")
        self.assert_accessible("sides alike")
