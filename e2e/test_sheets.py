"""From nothing to a judged station; findings applied; springs and stops set: as a new user would."""

import json
import math
import re
import tempfile
from pathlib import Path

from playwright.sync_api import Route, expect

from e2e.bench import GEOMETRIES, Bench
from engine.document.read import check_project
from engine.findings.finding import rules_of
from engine.findings.judge import judge
from engine.results.result_file import solve_project
from engine.ride.spread import spread_of
from engine.workup import WorkUp
from server.jobs.models import Job


class FromNothing(Bench):
    def start(self, name: str, arrangement: str, **brief: str) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill(name)
        for label, text in brief.items():
            field = page.get_by_label(re.compile(f"^{label.replace('_', ' ')}"))
            field.fill(text)
            field.press("Enter")
        page.get_by_role("button", name=f"Start with this: {arrangement}").click()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        self.settle()

    def test_a_pushrod_corner(self) -> None:
        self.start(
            "Dune kestrel",
            "Wishbones, pushrod and rocker",
            Track="1300",
            Tyre_radius="10 5/8 in",
            Bump_travel="45",
            Droop_travel="40",
            Mass_at_this_wheel="190",
            Unsprung_part="24",
        )
        self.assertIn("The mounts fit", self.page.get_by_test_id("verdict").inner_text())
        document = Job.objects.get(name="Dune kestrel").newest().document
        self.assertAlmostEqual(document["stations"][0]["wheels"][0]["tyre_radius"], 10.625 * 25.4, delta=0.01)
        solved = self.solved(document)
        faults = [f.code for f in judge(solved) if f.mark == "fault"]
        self.assertEqual(faults, [])
        assert solved.ride is not None
        self.assertAlmostEqual(self.shown("ride-travel"), round(solved.ride.travel, 1), delta=0.051)
        # What the screen says is what the exported file gives, headless.
        alone = solve_project(check_project(json.loads(json.dumps(document))), 5)["stations"][0]
        self.assertAlmostEqual(self.shown("ride-frequency"), alone["ride"]["frequency"], delta=0.0051)

    def test_a_live_axle_on_air(self) -> None:
        self.start(
            "Saltmarsh omnibus",
            "Live axle on bags with separate dampers",
            Track="1700",
            Mass_at_this_wheel="620",
        )
        page = self.page
        page.get_by_role("link", name=re.compile("^Springing")).click()
        expect(page.get_by_role("cell", name="4.20 bar").first).to_be_visible()
        field = page.get_by_label(re.compile("^Pressure at ride height"))
        field.fill("60 psi")
        field.press("Enter")
        self.settle()
        document = Job.objects.get(name="Saltmarsh omnibus").newest().document
        for unit in document["stations"][0]["units"]:
            if unit["kind"] == "air_spring":
                unit["pressure"] = 60 * 0.0689475729317831
        solved = self.solved(document)
        assert solved.ride is not None
        self.assertAlmostEqual(self.shown("ride-travel"), solved.ride.travel, delta=0.051)
        self.assertFalse([f.code for f in judge(solved) if f.mark == "fault"])

    def test_a_single_rear_shock_through_a_drop_link_without_a_mouse(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").focus()
        page.keyboard.press("Enter")
        page.get_by_label("Name of the job").focus()
        page.keyboard.type("Gravel heron")
        card = page.get_by_role("button", name="Start with this: Single rear wheel, drop link and rocker")
        for _ in range(60):
            page.keyboard.press("Tab")
            if card.evaluate("node => node === document.activeElement"):
                break
        page.keyboard.press("Enter")
        page.get_by_role("slider", name="Wheel travel").wait_for()
        self.settle()
        page.get_by_role("slider", name="Wheel travel").focus()
        page.keyboard.press("Shift+ArrowUp")
        document = Job.objects.get(name="Gravel heron").newest().document
        self.assertFalse([f.code for f in judge(self.solved(document)) if f.mark == "fault"])
        self.assertIn("+10", page.get_by_role("slider", name="Wheel travel").inner_text())

    def test_a_name_is_asked_for_and_a_size_that_cannot_be_is_refused(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_role("button", name=re.compile("Start with this: Trailing arm, coilover")).click()
        expect(page.get_by_role("alert")).to_contain_text("Give the job a name")
        page.get_by_label("Name of the job").fill("Too much")
        for label, text in (("Bump travel wanted", "450"), ("Tyre radius", "150")):
            page.get_by_label(re.compile(f"^{label}")).fill(text)
            page.get_by_label(re.compile(f"^{label}")).press("Enter")
        page.get_by_role(
            "button", name=re.compile("Start with this: Wishbones, coilover on the lower")
        ).click()
        expect(page.get_by_role("alert").filter(has_text="cannot be started")).to_contain_text("only reaches")
        self.assertFalse(Job.objects.filter(name="Too much").exists())

    def test_the_room_filters_the_cards(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_role("button", name="A live axle").click()
        expect(page.get_by_text("5 of 19 arrangements")).to_be_visible()
        page.get_by_role("button", name="On air").click()
        expect(page.get_by_text("1 of 19 arrangements")).to_be_visible()
        self.assert_accessible("a new job")


class Sheets(Bench):
    def sheet(self, name: str) -> None:
        self.settle()
        self.page.get_by_role("navigation", name="Sheets").get_by_role(
            "link", name=re.compile(f"^{name}")
        ).click()
        self.settle()

    def test_a_station_is_added_from_an_arrangement_and_undone(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_role("button", name="Add a station").click()
        page.get_by_role("button", name="Add this: Crossed coilovers, one fore and one aft").click()
        # The names that are taken are left alone, and the two new sides still name one another.
        expect(page.get_by_role("button", name="Remove Front right 2")).to_be_visible()
        self.save("A second pair, to compare")
        page.get_by_text("revision 3, saved").wait_for()
        stations = self.document("Heron three-wheeler")["stations"]
        self.assertEqual([s["name"] for s in stations[4:]], ["Front left 2", "Front right 2"])
        self.assertEqual(stations[4]["other_side"], "Front right 2")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Remove Front right 2")).to_have_count(0)

    def test_the_vehicle_is_set_on_its_drawing(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        for label, text in (("Mass on Front left", "181"), ("Height at sill, Front left", "118")):
            field = page.get_by_label(label)
            field.fill(text)
            field.press("Enter")
        field = page.get_by_label("Mass on Rear wheel")
        field.fill("0")
        field.press("Enter")
        expect(page.get_by_text("The load on a wheel must be more than zero.")).to_be_visible()
        field.press("Escape")
        self.settle()
        self.save("Weighed again")
        page.get_by_text("revision 3, saved").wait_for()
        station = self.document("Heron three-wheeler")["stations"][0]
        self.assertEqual((station["mass"]["corner"], station["datum"]["height"]), (181, 118))

    def test_purpose_and_finished_mass_are_judged(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Brief")
        page.get_by_label("What is it for?").select_option("circuit")
        field = page.get_by_label(re.compile("^The same when finished"))
        field.fill("190 kg")
        field.press("Enter")
        self.sheet("Springing")
        expect(page.get_by_text(re.compile("usual for the circuit")).last).to_be_visible()
        expect(page.get_by_text(re.compile("still to come")).last).to_be_visible()

    def test_the_other_side_becomes_a_station_of_its_own(self) -> None:
        page = self.page
        self.at_the_bench("Wandering", "Tag trailer left")
        self.sheet("Brief")
        page.get_by_role("button", name="Give the other side").click()
        expect(page.get_by_role("button", name="Remove Tag trailer right")).to_be_visible()
        expect(page.get_by_text("It is a station of its own: Tag trailer right.")).to_be_visible()
        self.save("Right side measured by itself")
        page.get_by_text("revision 2, saved").wait_for(timeout=90_000)
        left, right = self.document("Wandering Shelf library coach")["stations"][-2:]
        self.assertEqual(right["other_side"], "Tag trailer left")
        self.assertEqual(right["points"]["wheel"][1], -left["points"]["wheel"][1])

    def test_a_centre_of_gravity_tells_how_it_leans(self) -> None:
        page = self.page
        self.at_the_bench("Hollin")
        self.sheet("Brief")
        expect(page.get_by_role("row", name=re.compile("^Front axle"))).to_contain_text("N·m/°")
        field = page.get_by_label(re.compile("^Centre of gravity"))
        field.fill("52 in")
        field.press("Enter")
        expect(page.get_by_text(re.compile("it leans .* for each g"))).to_be_visible()
        expect(page.get_by_text(re.compile("roll stiffness is at the front"))).to_be_visible()

    def test_a_spring_is_taken_from_the_table_and_stands_as_it_says(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Springing")
        row = page.get_by_role("row", name=re.compile(r"^50\.0 N.mm"))
        frequency = row.get_by_role("cell").first.inner_text()
        row.get_by_role("button", name="Take 50.0 N/mm").click()
        self.settle()
        said = re.search(r"[\d.]+", frequency)
        assert said
        self.assertAlmostEqual(self.shown("ride-frequency"), float(said.group()), delta=0.011)
        self.assertAlmostEqual(self.shown("ride-travel"), 0.0, delta=0.11)
        expect(page.get_by_role("row", name=re.compile(r"^50\.0 N.mm"))).to_contain_text("fitted")
        self.assert_accessible("the Springing sheet")

    def test_a_finding_is_cleared_by_its_press_and_comes_back_with_undo(self) -> None:
        page = self.page
        self.at_the_bench("Heron", "Rear wheel")
        self.sheet("Stops")
        verdict = page.get_by_test_id("verdict")
        expect(verdict).to_contain_text("the shock tops out first")
        page.get_by_role("button", name=re.compile("^Apply: Fit a strap")).click(timeout=20_000)
        self.settle()
        expect(verdict).to_contain_text("the strap comes first")
        document = self.document("Heron three-wheeler")
        rules = rules_of(check_project(document).judging)
        self.assertIn(
            "fault", {f.mark for f in judge(self.solved(document, 2), rules) if f.code == "first_in_droop"}
        )
        page.get_by_role("button", name="Undo").click()
        self.settle()
        expect(verdict).to_contain_text("the shock tops out first")

    def test_the_ledger_jacks_the_wheel_and_a_strap_is_set_by_key(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.sheet("Stops")
        taut = page.get_by_role("button", name=re.compile("strap comes taut"))
        told, before = taut.inner_text(), self.travel_in(taut)
        self.assertRegex(told, r"\d\.\d mm short of the wanted end")
        expect(page.get_by_role("button", name=re.compile("strap has stretched"))).to_contain_text(
            "at the wanted end"
        )
        taut.click()
        handle = page.get_by_role("slider", name="Wheel travel").inner_text()
        self.assertIn(handle.split(".")[0], told)
        field = page.get_by_label(re.compile("^strap taut at"))
        field.focus()
        field.press("ArrowDown")
        self.settle()
        self.assertNotEqual(self.travel_in(taut), before)
        self.assert_accessible("the Stops sheet")

    def test_every_end_says_between_what_it_comes_and_where_the_tape_decides_which_is_first(self) -> None:
        page = self.page
        self.sign_in()
        page.route("**/api/spread", self.seldom_metal_first)
        self.open_job("Hollin", "Front axle")
        self.sheet("Stops")
        work = WorkUp(self.solved(self.document("Hollin Fell fire tender")))
        found = spread_of(work.solved, GEOMETRIES, ledger=work.ledger).ends
        both = [found["bump", "damper_compressed", f"coilover {side}"] for side in ("left", "right")]
        low, high = min(its.low for its in both), max(its.high for its in both)
        expect(page.get_by_test_id("between-bump-damper_compressed")).to_have_text(
            f"{low:+.1f} to {high:+.1f} mm".replace("-", "−")
        )
        expect(page.get_by_role("region", name="On the way to bump")).to_contain_text(
            "Measured to 1.0 mm, 7 in a hundred built like this meet metal before a bump stop."
        )
        expect(page.get_by_role("region", name="On the way to droop")).not_to_contain_text("in a hundred")
        # What is only tried is not measured at all.
        page.get_by_role("slider", name=re.compile("^What if")).first.press("ArrowRight")
        expect(page.get_by_role("status").filter(has_text="only tried")).to_be_visible()
        expect(page.get_by_role("region", name="On the way to bump")).not_to_contain_text("in a hundred")

    def seldom_metal_first(self, route: Route) -> None:
        values = route.fetch().json()
        route.fulfill(json=values | {"hard_first": {"bump": 0.07}})

    def test_a_coil_from_the_shelf_is_fitted(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="The shelf").click()
        expect(page.get_by_role("row", name=re.compile("^Grey 52 short"))).to_be_visible()
        self.assert_accessible("the shelf")
        head = "kind,name,stock,rate_n_per_mm,free_length_mm,solid_length_mm\n"
        page.get_by_label("CSV of parts").set_input_files(self.table(head + "coil,Bench 57,2,57,175,200"))
        expect(page.get_by_role("alert")).to_contain_text(
            "Line 2, solid_length_mm: must be less than free_length_mm"
        )
        page.get_by_label("CSV of parts").set_input_files(self.table(head + "coil,Bench 57,2,57,175,74"))
        expect(page.get_by_role("status")).to_contain_text("1 parts imported")
        page.get_by_role("link", name="All jobs").click()
        self.open_job("Heron")
        self.sheet("Springing")
        page.get_by_role("button", name="Take Bench 57").click()
        self.settle()
        expect(page.get_by_role("row", name=re.compile("Bench 57"))).to_contain_text("fitted")
        self.assertAlmostEqual(self.shown("ride-travel"), 0.0, delta=0.11)

    def table(self, text: str) -> str:
        path = Path(tempfile.mkdtemp()) / "shelf.csv"
        path.write_text(text)
        return str(path)

    def test_an_axle_is_articulated_by_its_own_handle(self) -> None:
        page = self.page
        self.at_the_bench("Hollin", "Front axle")
        label = page.get_by_test_id("view-front").locator("text", has_text="coilover left")
        before = label.text_content() or ""
        page.get_by_role("slider", name="Articulation").focus()
        page.keyboard.press("Shift+ArrowLeft")
        expect(page.get_by_test_id("articulation")).to_have_text("left 10.0 mm")
        expect(label).not_to_have_text(before)
        document = self.document("Hollin Fell fire tender")
        solved = self.solved(document)
        path = solved.linkage.follow([0.0], 10.0)
        place, index = path.solution.motion.place[:, :, 0], solved.linkage.index
        long = math.dist(place[:, index["seat_left"]], place[:, index["tower_left"]])
        found = re.search(r"[\d.]+(?= mm)", label.text_content() or "")
        assert found
        self.assertAlmostEqual(float(found.group()), long, delta=0.06)
        page.get_by_role("button", name="Drawn").click()
        expect(page.get_by_test_id("articulation")).to_have_text("level")
        self.assert_accessible("an axle on the Layout sheet")

    def test_the_brief_is_accessible_and_reads_on_a_tablet(self) -> None:
        self.page.set_viewport_size({"width": 820, "height": 1180})
        self.at_the_bench("Heron")
        for name in ("Brief", "Springing", "Stops"):
            self.sheet(name)
            self.assert_accessible(f"{name} on a tablet")
            wide = self.page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, 820, name)


class Donor(Bench):
    def test_a_coil_without_a_label_is_measured_under_two_loads(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.tab("Rods")
        page.get_by_role("combobox", name=re.compile("^Spring")).select_option("two_loads")
        self.settle()
        for label, text in (
            ("Spring, load 1", "20 kg"),
            ("Spring, height under load 1", "150"),
            ("Spring, load 2", "176 lb"),
            ("Spring, height under load 2", "140"),
        ):
            field = page.get_by_label(re.compile(f"^{label}, "))
            field.fill(text)
            field.press("Enter")
        self.settle()
        rate = (176 * 0.45359237 - 20) * 9.80665 / 10
        expect(page.get_by_role("status").filter(has_text="That is")).to_contain_text(f"{rate:.1f} N/mm")
        page.get_by_role("combobox", name=re.compile("^Spring")).select_option("rate")
        self.settle()
        self.assertAlmostEqual(
            float(page.get_by_label(re.compile("^coilover spring rate")).input_value()), rate, delta=0.06
        )
        self.assert_accessible("a measured coil")


class Room(Bench):
    def test_a_tube_is_entered_from_picked_points_drawn_and_judged(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.tab("Room")
        page.get_by_role("button", name="Rail or box").click()
        self.settle()
        part = page.get_by_role("region", name="rail", exact=True)
        # It starts at the wheel, in the way of everything: the sheet says so at once.
        expect(page.get_by_test_id("verdict")).to_contain_text("rail and tyre touch first")
        field = part.get_by_label(re.compile("^rail Middle to the left"))
        field.fill("120")
        field.press("Enter")
        self.settle()
        page.get_by_role("button", name="Tube", exact=True).click()
        view = page.get_by_test_id("view-front")
        view.focus()
        for _ in range(20):
            view.press("PageDown")
            if "Picked: upper front." in (view.get_attribute("aria-label") or ""):
                break
        tube = page.get_by_role("region", name="tube", exact=True)
        tube.get_by_role("button", name="tube From: put it at upper front").click()
        self.settle()
        self.save("A tube behind the arm")
        page.get_by_text("revision 3, saved").wait_for()
        envelopes = self.document("Heron three-wheeler")["stations"][0]["envelopes"]
        self.assertEqual(envelopes[-1]["along"][0], "upper_front")
        self.assertEqual(envelopes[-2]["centre"][1], 120)
        self.assert_accessible("the Room tab")
        tube.get_by_role("button", name="Remove tube").click()
        self.settle()
        expect(tube).to_have_count(0)

    def test_a_half_shaft_is_entered_drawn_and_judged(self) -> None:
        page = self.page
        self.at_the_bench("Heron")
        self.tab("Room")
        page.get_by_role("button", name="Half shaft").click()
        self.settle()
        shaft = page.get_by_role("region", name="half shaft", exact=True)
        field = shaft.get_by_label(re.compile("^half shaft inner joint up"))
        field.fill("420")
        field.press("Enter")
        rated = shaft.get_by_label(re.compile("^half shaft joints allow"))
        rated.fill("12")
        rated.press("Enter")
        self.settle()
        self.assert_accessible("a half shaft")
        self.save("A drive shaft at last")
        page.get_by_text("revision 3, saved").wait_for()
        station = self.document("Heron three-wheeler")["stations"][0]
        self.assertEqual(station["shafts"][0]["ends"], ["shaft_inner", station["wheels"][0]["centre"]])
        self.assertEqual(station["points"]["shaft_inner"][2], 420)
        self.assertIn("shaft_inner", station["chassis"])
        self.tab("Figures")
        expect(page.get_by_test_id("finding-shaft_angle")).to_be_visible()
        self.tab("Room")
        page.get_by_role("button", name="Remove half shaft").click()
        self.settle()
        self.save("None after all")
        page.get_by_text("revision 4, saved").wait_for()
        self.assertNotIn("shaft_inner", self.document("Heron three-wheeler")["stations"][0]["points"])
