"""Left against right on the sheets: said on both, put right by the press, and a side carried over whole."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench

HERON = "Heron three-wheeler"


class Sides(Bench):
    def sheet(self, name: str) -> None:
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile(f"^{name}")).click()
        self.settle()

    def test_a_bracket_moved_on_one_side_is_said_on_both_and_carried_over_from_the_brief(self) -> None:
        page = self.page
        self.sign_in()
        self.open_job("Heron", "Front left")
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
