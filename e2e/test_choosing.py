"""The Brief: room that picks arrangements, limits of taste, parts still to come, how the height is set."""

import re

from playwright.sync_api import Locator, expect

from e2e.bench import Bench
from engine.document.coming import with_finished_masses
from engine.document.read import check_project
from engine.layouts.layout import Brief
from engine.layouts.suits import facts_of
from engine.ride.setting import standings
from engine.station.solved import solve_station


class Choosing(Bench):
    def typed(self, label: str, text: str) -> Locator:
        field = self.page.get_by_label(re.compile(f"^{label}"))
        field.fill(text)
        field.press("Enter")
        return field

    def sheet(self, name: str) -> None:
        links = self.page.get_by_role("navigation", name="Sheets")
        links.get_by_role("link", name=re.compile(f"^{name}")).click()
        self.settle()

    def test_the_room_that_is_there_says_why_and_why_not(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        card = page.get_by_test_id("card-wishbones-lower")
        expect(card.get_by_text("For: ").first).to_be_attached()
        need = (facts_of("wishbones-lower", Brief()).beside or 0) + 12
        self.typed("Tyre to frame", str(round(need - 5)))
        expect(card).to_contain_text(f"it needs {need:.1f} mm, there is {round(need - 5)}.0 mm")
        expect(page.get_by_text(re.compile("with room for them"))).to_be_visible()
        # What fits comes first; what does not stays in sight, after it.
        names = [
            node.get_attribute("data-testid")
            for node in page.locator("[data-testid^=card-]").element_handles()
        ]
        self.assertLess(names.index("card-pushrod"), names.index("card-wishbones-lower"))
        self.typed("Tyre to frame", str(round(need + 5)))
        expect(card).to_contain_text(f"{need:.1f} mm of {round(need + 5)}.0 mm")
        page.get_by_role("button", name="leave it out").click()
        expect(page.get_by_label(re.compile("^Tyre to frame"))).to_have_value("")
        self.assert_accessible("arrangements with reasons")

    def test_limits_of_taste_are_the_shops_own_and_can_be_put_back(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_text("Preferred limits").click()
        field = page.get_by_label(re.compile("^Ride frequency, to"))
        expect(field).to_have_value("2.20")
        field.fill("1.2")
        expect(page.get_by_role("alert")).to_contain_text("above the lower one")
        field.press("Escape")
        self.typed("Ride frequency, from", "1.2")
        self.typed("Ride frequency, to", "1.5")
        expect(page.get_by_text("1 of your own")).to_be_visible()
        self.assert_accessible("limits of taste")
        self.sheet("Springing")
        expect(page.get_by_text("It rides at 2.10 Hz; 1.20 Hz to 1.50 Hz is usual.").last).to_be_visible()
        self.sheet("Brief")
        page.get_by_text("Preferred limits").click()
        page.get_by_role("button", name="as usual").click()
        expect(page.get_by_text("all as usual")).to_be_visible()
        expect(page.get_by_label(re.compile("^Ride frequency, to"))).to_have_value("2.20")

    def test_parts_still_to_come_size_the_perch_for_the_finished_mass(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_role("button", name="A part still to come").click()
        page.get_by_label("Name of part 3").fill("engine")
        self.typed("engine weighs", "40 kg")
        self.typed("Front left carries of engine", "80")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("more than the whole part")
        page.get_by_label(re.compile("^Front left carries of engine")).press("Escape")
        for station, share in (("Rear wheel", "20"), ("Front left", "40"), ("Front right", "40")):
            self.typed(f"{station} carries of engine", share)
        expect(page.get_by_label(re.compile("^The same when finished"))).to_have_value("204.4")
        expect(page.get_by_test_id("verdict")).to_contain_text(
            "Its 3 wheels carry 552.0 kg, 628.0 kg when finished"
        )
        page.get_by_label("Height is set by").select_option("perch")
        self.typed("Height to be set", "12")
        self.sheet("Springing")
        table = page.get_by_role("region", name="Setting the height")
        expect(table).to_contain_text("Finished, 204.4 kg")
        expect(page.get_by_test_id("finding-height_adjuster")).to_be_visible()
        self.save("Engine still to come")
        page.get_by_text("revision 3, saved").wait_for()
        document = self.document("Heron three-wheeler")
        project = with_finished_masses(check_project(document))
        perch = standings(solve_station(project.stations[0], steps=61))[0]
        assert perch.finished is not None
        expect(table.get_by_role("row", name=re.compile("^Spring perch"))).to_contain_text(
            f"{perch.finished:.1f} mm"
        )
        table.get_by_role("button", name="Set it: the perch for finished").click()
        self.settle()
        self.sheet("Brief")
        self.typed("Mass at this wheel now", "204.4 kg")
        self.sheet("Springing")
        self.assertAlmostEqual(self.shown("ride-travel"), 0.0, delta=0.11)

    def test_ride_height_is_wanted_and_told_at_a_place_the_shop_names(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_label(re.compile("^Ride height is measured at")).fill("sill")
        self.typed("Above the floor as drawn", "160")
        field = page.get_by_label(re.compile("^Wanted above the floor"))
        field.fill("300")
        expect(page.get_by_role("alert")).to_contain_text("outside the wanted travel")
        field.press("Escape")
        self.typed("Wanted above the floor", "166")
        expect(page.get_by_label(re.compile("^Should stand at"))).to_have_value("−6.0")
        self.assert_accessible("a datum on the Brief")
        self.sheet("Springing")
        ride = self.solved(self.document("Heron three-wheeler")).ride
        assert ride is not None
        self.assertAlmostEqual(self.shown("ride-height"), 160 - ride.travel, delta=0.06)

    def test_a_station_taken_out_takes_its_share_with_it(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_role("button", name="A part still to come").click()
        share = page.get_by_label(re.compile("carries of fuel, full tank"))
        expect(share).to_have_count(3)
        # Its variant stands in for it, and carries what it carried; with that one out, nothing does.
        page.get_by_role("button", name="Remove Rear wheel", exact=True).click()
        expect(page.get_by_label("Rear, no link carries of fuel, full tank, %")).to_have_value("50")
        page.get_by_role("button", name="Remove Rear, no link").click()
        expect(page.get_by_text(re.compile("of it is carried by no station"))).to_have_count(3)
        self.sheet("Layout")
        expect(page.get_by_test_id("verdict")).to_contain_text("stands at")
