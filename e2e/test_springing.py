"""Air and stacks on the Springing sheet: pressures side by side, a tank, two rates with a crossover, a bar."""

import re

from playwright.sync_api import expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.findings.finding import RULES
from engine.forces.stack import crossovers
from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.roll import roll_of
from engine.sizing.pressures import pressure_options
from engine.station.solved import solve_station
from engine.tests import samples


class Springing(Bench):
    def on_air(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill("Reed barge")
        page.get_by_role("button", name="Start with this: Live axle on bags").click()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()

    def test_a_spring_on_its_own_is_ordered_for_the_height_and_for_the_finished_mass(self) -> None:
        page = self.page
        self.at_the_bench("Hollin", "Rear left")
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()
        table = page.get_by_role("region", name="Setting the height")
        expect(table).to_contain_text("Finished, 1494.5 kg")
        expect(page.get_by_test_id("finding-finished_mass")).to_contain_text("longer, or a shim")
        table.get_by_role("button", name="Set it: the spring for today").click()
        self.settle()
        self.assertAlmostEqual(self.shown("ride-travel"), 0.0, delta=0.06)
        page.get_by_role("button", name="Undo").click()
        self.settle()
        table.get_by_role("button", name="Set it: the spring for finished").click()
        self.settle()
        self.save("Spring ordered for the tank")
        page.get_by_text("revision 3, saved").wait_for()
        document = self.document("Hollin Fell fire tender")
        document["stations"][1]["mass"]["corner"] = 1494.5
        ride = self.solved(document, 1).ride
        assert ride is not None
        self.assertAlmostEqual(ride.travel, 0.0, delta=0.05)

    def test_a_pressure_is_taken_from_the_table_and_stands_as_it_says(self) -> None:
        self.on_air()
        page = self.page
        station = starting_project(layout_named("axle-on-air"))["stations"][0]
        options = pressure_options(solve_station(samples.station(station), steps=61), RULES)
        option = next(o for o in options if not o.now and o.ride is not None and abs(o.ride) > 2)
        table = page.get_by_role("region", name="Pressures side by side")
        row = table.get_by_role("row", name=re.compile(rf"^{option.pressure:.2f} bar"))
        assert option.frequency is not None and option.ride is not None
        expect(row).to_contain_text(f"{option.frequency:.2f} Hz")
        row.get_by_role("button", name="Take").click()
        self.settle()
        self.assertAlmostEqual(self.shown("ride-travel"), option.ride, delta=0.06)
        self.assert_accessible("pressures side by side")

    def test_a_tank_makes_it_softer_and_taking_it_off_brings_it_back(self) -> None:
        self.on_air()
        page = self.page
        joined = page.get_by_label(re.compile("^Bags joined by pipe"))
        expect(joined).to_be_checked()
        piped = self.shown("ride-frequency")
        joined.uncheck()
        self.settle()
        alone = self.shown("ride-frequency")
        self.assertGreater(alone, piped)
        joined.check()
        self.settle()
        field = page.get_by_label(re.compile("^Air in tank and pipe"))
        expect(field).to_have_value("1.00")
        field.fill("8 l")
        field.press("Enter")
        self.settle()
        station = starting_project(layout_named("axle-on-air"))["stations"][0]
        station["tanks"][0]["volume"] = 8e6
        ride = solve_station(samples.station(station)).ride
        assert ride is not None
        self.assertAlmostEqual(self.shown("ride-frequency"), ride.frequency, delta=0.0051)
        joined.uncheck()
        self.settle()
        self.assertEqual(self.shown("ride-frequency"), alone)

    def test_a_damper_from_the_shelf_is_taken_and_leaves_what_was_said(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()
        self.unfold("Dampers that suit")
        table = page.get_by_role("region", name="Dampers that suit")
        row = table.get_by_role("row", name=re.compile("^Long eye 520")).first
        expect(row).to_contain_text("fits with its chassis end")
        expect(table.get_by_role("heading", name="The same all round")).to_be_visible()
        self.assert_accessible("dampers that suit")
        row.get_by_role("button", name="Take Long eye 520").click()
        self.settle()
        self.save("A longer damper")
        page.get_by_text("revision 3, saved").wait_for()
        unit = self.document("Heron three-wheeler")["stations"][0]["units"][0]
        self.assertEqual((unit["extended"], unit["compressed"]), (520, 345))
        # The coil stands as it stood: the perch went back by as much as the damper is longer.
        self.assertAlmostEqual(unit["preload"] + unit["extended"], 5 + 284)

    def test_a_second_coil_gives_two_rates_and_says_where_they_cross(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()
        self.unfold("The stack")
        stack = page.get_by_role("region", name="The stack")
        stack.get_by_role("button", name="A coil under it").click()
        self.settle()
        field = stack.get_by_label(re.compile("^Coil 2 crossover ring"))
        field.fill("24")
        field.press("Enter")
        self.settle()
        self.save("Two rates")
        page.get_by_text("revision 3, saved").wait_for()
        unit = self.solved(self.document("Heron three-wheeler")).station.units[0]
        lock = crossovers(list(unit.springs))[0]
        expect(stack).to_contain_text(f"Coil {lock.spring + 1} stops giving at")
        expect(stack).to_contain_text(
            f"{lock.rate_before:.1f} N/mm before it, {lock.rate_after:.1f} N/mm after"
        )
        self.assert_accessible("a stack of two coils")
        stack.get_by_role("button", name="Remove coil 2").click()
        self.settle()
        expect(stack).not_to_contain_text("stops giving at")

    def test_a_bar_is_fitted_and_the_least_that_is_enough_is_taken(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.tab("Rods & parts")
        bar = page.get_by_role("region", name="Anti-roll bar")
        bar.get_by_label("Drop link meets").select_option(label="push low")
        bar.get_by_role("button", name="Fit a bar there").click()
        field = bar.get_by_label("Bar diameter")
        field.fill("28")
        field.press("Enter")
        page.get_by_label("Link to the rack").select_option(label="tie rod")
        self.settle()
        self.assert_accessible("an anti-roll bar")
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()
        self.unfold("Which bar")
        row = page.get_by_role("region", name="Which bar").get_by_role(
            "row", name=re.compile("the least that is")
        )
        thick = re.match(r"[\d.]+", row.inner_text())
        assert thick
        row.get_by_role("button", name="Take").click()
        self.settle()
        self.save("A bar against the lean")
        page.get_by_text("revision 3, saved").wait_for()
        station = self.document("Heron three-wheeler")["stations"][0]
        fitted = next(unit for unit in station["units"] if unit["kind"] == "bar")
        self.assertAlmostEqual(fitted["diameter"], float(thick.group()), delta=0.05)
        self.assertEqual(station["steering"]["tie_rod"], "tie_rod")
        ride = solve_station(check_project(self.document("Heron three-wheeler")).stations[0], steps=61)
        roll = roll_of(ride)
        assert roll is not None
        self.assertGreater(roll.bar, 0.3 * roll.stiffness)
