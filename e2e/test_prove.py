"""On the floor: cycled by keyboard, weighed, set and weighed again, the crooked one named, gates refused and then met."""

import copy
import json
import re
from typing import Any

import numpy as np
from django.contrib.auth import get_user_model
from playwright.sync_api import Locator, expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.prove.proof import prove
from engine.station.solved import solve_station
from engine.tests.vehicle.test_stance import four_corners
from engine.vehicle.carried import put_in, thrown
from engine.vehicle.wheels import vehicle_of
from server.jobs.actions.import_project import import_project
from server.records.actions.survey import items_of, records_of

HERON = "Heron three-wheeler"
COACH = "Wandering Shelf library coach"


class Prove(Bench):
    its = HERON

    def setUp(self) -> None:
        super().setUp()
        self.at_the_bench(HERON)
        self.page.get_by_role("link", name="Prove", exact=True).click()
        self.page.get_by_role("region", name="On its wheels").wait_for()
        self.settle()

    def records(self):  # type: ignore[no-untyped-def]
        return records_of(items_of(self.job(self.its)))

    def test_a_cycle_by_keyboard_names_what_is_crooked_and_meets_its_gates(self) -> None:
        document = copy.deepcopy(self.document(HERON))
        document["stations"][2]["points"]["shock_top"][0] += 9.0
        station = check_project(document).stations[2]
        solved = solve_station(station)
        travels = np.round(np.linspace(-station.travel.droop, station.travel.bump, 9))
        lengths = solved.at(travels).units["shock"].length
        self.page.get_by_label("Station", exact=True).select_option("2")
        self.settle()
        self.page.get_by_role("tab", name="Gates").click()
        gate = (
            self.page.get_by_role("region", name="Gates of Rear wheel")
            .get_by_role("listitem")
            .filter(has_text="Cycled through")
        )
        expect(gate).to_contain_text("Not cycled yet")
        expect(gate.get_by_role("textbox")).to_be_disabled()
        self.page.get_by_role("tab", name="Cycle").click()
        self.begin()
        self.page.get_by_label("Springs out").check()
        for travel, length in zip(travels, lengths, strict=True):
            self.page.get_by_label("Wheel, from as drawn").focus()
            self.page.keyboard.type(f"{travel:.0f}")
            self.page.keyboard.press("Enter")
            self.page.get_by_label(re.compile("^shock, eye to eye")).focus()
            self.page.keyboard.type(f"{length:.1f}")
            self.page.keyboard.press("Enter")
            self.page.get_by_role("button", name="Keep the row").press("Enter")
        expect(self.page.get_by_role("list", name="Rows read").get_by_role("listitem")).to_have_count(9)
        self.settle()
        self.page.get_by_role("tab", name="As built").click()
        built = self.page.get_by_role("region", name="As built")
        expect(built).to_contain_text("Shock top")
        self.page.get_by_role("tab", name="Gates").click()
        expect(gate).to_contain_text("Cycled through its whole wanted travel")
        gate.get_by_role("textbox").fill("kl")
        gate.get_by_role("textbox").press("Enter")
        self.page.get_by_role("tab", name="Cycle").click()
        self.page.get_by_role("tab", name="Gates").click()
        expect(gate).to_contain_text("kl")
        self.eventually(lambda: any(one["kind"] == "gate" for one in self.records()))
        self.assertEqual(len([one for one in self.records() if one["kind"] == "gate"]), 1)
        cycle = next(
            one for one in self.records() if one["kind"] == "cycle" and one["station"] == "Rear wheel"
        )
        self.assertEqual([row["wheel"] for row in cycle["rows"]], [float(z) for z in travels])

    def begin(self) -> None:
        """Begin a cycle: only once the cautions are said to be seen to, and that stands in the book."""
        press = self.page.get_by_role("button", name="Begin a cycle")
        expect(press).to_be_disabled()
        self.page.get_by_role("button", name="All checked").click()
        expect(self.page.get_by_text("Checked today by bench")).to_be_visible()
        press.click()

    def test_one_row_misread_is_named_and_everything_says_the_same_of_it(self) -> None:
        page = self.page
        page.get_by_label("Station", exact=True).select_option("2")
        self.settle()
        solved = self.solved(self.document(HERON), 2)
        travel = solved.station.travel
        travels = np.round(np.linspace(-travel.droop, travel.bump, 7))
        lengths = solved.at(travels).units["shock"].length.copy()
        lengths[3] += 10.0
        page.get_by_role("tab", name="Cycle").click()
        self.begin()
        # The first field of a row is in hand, and again after each row that is kept.
        expect(page.get_by_label("Wheel, from as drawn")).to_be_focused()
        for at, length in zip(travels, lengths, strict=True):
            page.keyboard.type(f"{at:.0f}")
            page.keyboard.press("Enter")
            page.get_by_label(re.compile("^shock, eye to eye")).focus()
            page.keyboard.type(f"{length:.1f}")
            page.keyboard.press("Enter")
            page.get_by_role("button", name="Keep the row").press("Enter")
            expect(page.get_by_label("Wheel, from as drawn")).to_be_focused()
        cycle = page.get_by_role("region", name="Cycle", exact=True)
        expect(cycle).to_contain_text(f"Row 4: shock was read {lengths[3]:.1f}")
        expect(cycle).to_contain_text("without row 4")
        expect(page.get_by_text(re.compile("row 4 of the cycle of Rear wheel"))).to_be_visible()
        page.get_by_role("tab", name="As built").click()
        expect(page.get_by_role("region", name="As built")).to_contain_text("Row 4 of the cycle does not fit")
        page.get_by_role("tab", name="Gates").click()
        gates = page.get_by_role("region", name="Gates of Rear wheel").get_by_role("listitem")
        expect(gates.filter(has_text="Cycled through").first).to_contain_text(
            "Row 4 of its last cycle does not fit"
        )
        page.get_by_role("tab", name="Cycle").click()
        page.get_by_role("button", name="Remove row 4").click()
        expect(cycle).not_to_contain_text("without row 4")

    def test_a_figure_struck_before_the_screen_is_painted_stays_whole(self) -> None:
        later = "() => { window.requestAnimationFrame = (paint) => setTimeout(() => paint(0), 400) }"
        self.page.evaluate(later)
        self.begin()
        field = self.page.get_by_label("Wheel, from as drawn")
        field.click()
        self.page.keyboard.type("-47.5", delay=150)
        expect(field).to_have_value("-47.5")
        self.page.keyboard.press("Enter")
        self.page.get_by_label("What touched").click()
        field.focus()
        self.page.keyboard.type("12")
        expect(field).to_have_value("12")

    def test_weighed_set_and_weighed_again(self) -> None:
        self.page.get_by_role("tab", name="Weigh & set").click()
        scales = {"Front left": 210.0, "Front right": 196.0, "Rear wheel": 226.0}
        heights = {"Front left": 104.0, "Front right": 115.0}
        self.enter(scales, heights)
        turns = self.page.get_by_role("list", name="What to turn")
        expect(turns).to_contain_text("pushrod")
        proof = prove(check_project({**self.document(HERON), "records": self.records()}))
        last = proof.weighs[-1]
        self.assertAlmostEqual(last.total, 632.0)
        assert last.after is not None
        expect(self.page.get_by_role("region", name="Weigh and set")).to_contain_text(
            f"{last.after.heights['Front left']:.1f} mm"
        )
        self.turn_them()
        self.enter(last.after.scales, last.after.heights)
        expect(self.page.get_by_role("region", name="Weigh and set")).to_contain_text("Total")
        second = prove(check_project({**self.document(HERON), "records": self.records()})).weighs[-1]
        for turn in second.turns:
            self.assertLess(abs(turn.by), 1.0)

    def turn_them(self) -> None:
        """Write down what is turned, and wait for all of it: each turn is stored as a record of its own."""
        turns = self.page.get_by_role("list", name="What to turn").get_by_role("listitem").count()
        before = len(self.records())
        self.page.get_by_role("button", name="Done", exact=True).click()
        expect(self.page.get_by_role("status").filter(has_text="weigh it again")).to_be_visible()
        self.eventually(lambda: len(self.records()) == before + turns)
        self.assertEqual({one["kind"] for one in self.records()[before:]}, {"setting"})

    def enter(self, scales: dict[str, float], heights: dict[str, float]) -> None:
        for names, what in ((scales, "scale"), (heights, "height")):
            for name, value in names.items():
                field = self.page.get_by_label(re.compile(f"^{name}, {what}"))
                field.fill(f"{value:.1f}")
                field.press("Enter")
        before = len(self.records())
        self.page.get_by_role("button", name="Keep the weigh-in").click()
        self.eventually(lambda: len(self.records()) > before)
        self.settle()

    def test_a_cycle_live_from_the_travel_pair(self) -> None:
        self.page.get_by_label("Station", exact=True).select_option("2")
        self.settle()
        self.begin()
        self.page.get_by_label("Springs out").check()
        live = self.page.get_by_role("region", name="Live from the travel pair")
        live.get_by_role("button", name="Travel pair").click()
        expect(live.get_by_role("button", name="Take this row")).to_be_enabled()
        live.get_by_role("button", name="Take this row").click()
        live.get_by_role("checkbox").check()
        jack = live.get_by_role("slider")
        # A jack goes up by strokes.
        for travel in range(-55, 61, 5):
            jack.fill(str(travel))
            self.page.wait_for_timeout(120)
        expect(live.get_by_test_id("live-pair")).to_contain_text("+60")
        rows = self.page.get_by_role("list", name="Rows read").get_by_role("listitem")
        expect(rows.nth(9)).to_be_visible()
        live.get_by_role("button", name="Travel pair").click()
        self.settle()
        self.eventually(lambda: len(self.read_live()) >= 10)
        self.page.wait_for_timeout(500)
        station = check_project(self.document(HERON)).stations[2]
        solved = solve_station(station)
        wheels = np.array([row["wheel"] for row in self.read_live()])
        drawn = solved.at(wheels).units["shock"].length
        read = np.array([row["lengths"]["shock"] for row in self.read_live()])
        self.assertLess(float(np.abs(read - drawn).max()), 8.0)  # built a little off, as every one is
        self.assertGreaterEqual(float(np.diff(np.sort(wheels)).min()), 9.0)
        self.page.get_by_role("tab", name="As built").click()
        expect(self.page.get_by_role("region", name="As built")).to_contain_text("It stands, from as drawn")

    def read_live(self) -> list[dict[str, Any]]:
        cycles = [one for one in self.records() if one["kind"] == "cycle" and one["station"] == "Rear wheel"]
        return cycles[-1]["rows"] if cycles else []

    def test_weighed_and_set_with_the_stand_ins_alone(self) -> None:
        self.page.get_by_role("tab", name="Weigh & set").click()
        live = self.page.get_by_role("region", name="Live from the instruments")
        self.page.get_by_label("What was in it").fill("second seat taken")
        self.weigh_live(live)
        turns = self.page.get_by_role("list", name="What to turn")
        expect(turns).to_contain_text("pushrod")
        self.turn_them()
        self.page.get_by_label("What was in it").fill("second seat taken")
        self.weigh_live(live)
        second = self.records()[-1]
        self.assertEqual(second["with"], "second seat taken")
        for name, wanted in (("Front left", 110.0), ("Front right", 110.0)):
            self.assertAlmostEqual(second["heights"][name], wanted, delta=2.0)

    def test_a_four_wheeled_car_crosses_half_after_one_round_with_the_stand_ins_alone(self) -> None:
        values = four_corners() | {"name": "Four corners of a shed"}
        import_project(get_user_model().objects.get(username="bench"), json.dumps(values).encode())
        self.its = values["name"]
        self.page.goto(self.live_server_url)
        self.open_job(self.its)
        self.page.get_by_role("link", name="Prove", exact=True).click()
        self.page.get_by_role("tab", name="Weigh & set").click()
        live = self.page.get_by_role("region", name="Live from the instruments")
        wanted = {station["name"]: station["datum"]["height"] for station in values["stations"]}
        self.weigh_live(live, tuple(wanted))
        first = self.records()[-1]["heights"]
        self.assertGreater(max(abs(first[name] - height) for name, height in wanted.items()), 2.0)
        turns = self.page.get_by_role("list", name="What to turn")
        expect(turns.get_by_role("listitem")).to_have_count(4)
        self.turn_them()
        self.weigh_live(live, tuple(wanted))
        second = self.records()[-1]
        for name, height in wanted.items():
            self.assertAlmostEqual(second["heights"][name], height, delta=2.0)
        scales = second["wheels"]
        cross = (scales["Front left"] + scales["Rear right"]) / sum(scales.values())
        self.assertAlmostEqual(cross, 0.5, delta=0.005)

    def weigh_live(self, live: Locator, heights: tuple[str, ...] = ("Front left", "Front right")) -> None:
        before = len(self.records())
        for name, take in (("Corner scales", "Take the scales"), ("Distance meter", "Take reading")):
            live.get_by_role("button", name=name).click()
            for number in range(1 if name == "Corner scales" else len(heights)):
                if number:
                    expect(live.get_by_label("Which height is measured")).to_have_value(heights[number])
                self.page.wait_for_timeout(1500)  # till it has moved on to what it is now held to
                expect(live.get_by_role("button", name=take)).to_be_enabled()
                live.get_by_role("button", name=take).click()
            live.get_by_role("button", name=name).click()
        self.page.get_by_role("button", name="Keep the weigh-in").click()
        self.eventually(lambda: len(self.records()) > before)
        self.settle()

    def test_it_stands_otherwise_with_a_load_and_on_the_brakes(self) -> None:
        wheels = self.page.get_by_role("region", name="On its wheels")
        wheels.get_by_label("What is looked at").select_option("planned")
        planned = wheels.get_by_role("img", name=re.compile("from its left")).text_content() or ""
        wheels.get_by_label("What is looked at").select_option("second seat taken")
        expect(wheels.get_by_role("img", name=re.compile("from its left"))).not_to_have_text(planned)
        wheels.get_by_label("What it does").select_option(label="braking")
        expect(wheels).to_contain_text("nose down")
        expect(wheels).to_contain_text("anti-dive")
        self.settle()
        project = check_project(self.document(HERON))
        case = next(one for one in project.loads if one.name == "second seat taken")
        stands = thrown(vehicle_of(project), 330.0, 0.8, 0.0, put_in(case)).stands
        expect(wheels.get_by_role("img", name=re.compile("from above"))).to_contain_text(
            f"{stands.scales['Front left']:.1f} kg"
        )
        wheels.get_by_label("What it does").select_option(label="on a block or a jack")
        wheels.get_by_label("Under which wheel").select_option("Front right")
        wheels.get_by_label("How high a block").select_option("50")
        self.settle()
        block = thrown(vehicle_of(project), 330.0, extra=put_in(case), blocks={"Front right": 50.0}).stands
        expect(wheels.get_by_role("img", name=re.compile("from above"))).to_contain_text(
            f"{block.scales['Front right']:.1f} kg"
        )
        expect(wheels).to_contain_text("right side up")

    def test_a_bags_pressure_is_read_off_the_gauge(self) -> None:
        self.page.get_by_role("link", name="All jobs").click()
        self.open_job(COACH, "Rear axle")
        self.page.get_by_role("link", name="Prove", exact=True).click()
        self.settle()
        self.page.get_by_role("tab", name="Weigh & set").click()
        bag = self.page.get_by_role("region", name="Bag pressure")
        write = bag.get_by_role("button", name="Write the pressure down")
        expect(write).to_be_disabled()
        bag.get_by_role("button", name="Air gauge").click()
        expect(bag.get_by_test_id("live-pressure")).to_contain_text("bar")
        expect(write).to_be_enabled()
        write.click()
        expect(bag).to_contain_text("Last:")
        station = check_project(self.document(COACH)).stations[2]
        drawn = next(unit.pressure for unit in station.units if unit.kind == "air_spring")
        self.eventually(lambda: bool(records_of(items_of(self.job(COACH)))))
        (record,) = [one for one in records_of(items_of(self.job(COACH))) if one["kind"] == "reading"]
        self.assertEqual((record["of"], record["station"]), ("bag pressure", "Rear axle"))
        self.assertAlmostEqual(record["value"], drawn, delta=0.25)

    def test_a_raised_end_says_how_high_its_middle_stands(self) -> None:
        self.page.get_by_role("tab", name="Weigh & set").click()
        level = {"Front left": 203.0, "Front right": 203.0, "Rear wheel": 226.0}
        self.enter(level, {})
        self.page.get_by_label("Level, or one end raised").select_option("rear")
        weigh = self.page.get_by_role("region", name="Weigh and set")
        expect(weigh).to_contain_text("Springs locked")
        expect(weigh.get_by_role("button", name="Keep the weigh-in")).to_be_disabled()
        weigh.get_by_role("button", name="All checked").click()
        self.enter({"Front left": 206.0, "Front right": 206.0, "Rear wheel": 220.0}, {})
        expect(self.page.get_by_role("region", name="Weigh and set")).to_contain_text(
            re.compile("centre of gravity of the whole vehicle is .* above the floor")
        )

    def test_the_book_holds_a_drive_what_was_set_that_day_and_lets_a_slip_go(self) -> None:
        self.page.get_by_role("tab", name="Book").click()
        book = self.page.get_by_role("region", name="Book")
        expect(book).to_contain_text("first time on the pads")
        self.page.get_by_label("What was noticed").fill("ridge road dry, quiet")
        self.page.get_by_label(re.compile("^Bump used")).fill("37")
        self.page.keyboard.press("Enter")
        book.get_by_role("checkbox").check()
        book.get_by_role("button", name="Write it down").click()
        first = book.get_by_role("listitem").first
        expect(first).to_contain_text("37.0 mm of bump used; it drove well")
        expect(first).to_contain_text("ridge road dry, quiet")
        first.get_by_role("button", name="What was set then").click()
        expect(first).to_contain_text("Rear wheel, perch")
        self.assertEqual(self.records()[-1]["note"], "ridge road dry, quiet")
        count = len(self.records())
        first.get_by_role("button", name=re.compile("^Remove")).click()
        self.eventually(lambda: len(self.records()) == count - 1)
        self.page.get_by_label("Find in the book").fill("quarry")
        expect(book.get_by_role("listitem")).to_have_count(1)

    def test_the_crooked_side_is_taken_as_built(self) -> None:
        self.page.get_by_role("tab", name="As built").click()
        built = self.page.get_by_role("region", name="As built")
        expect(built).to_contain_text("Damper anchor")
        built.get_by_role("button", name="Use it as built").click()
        expect(built).to_contain_text("every sheet now shows it")
        expect(self.page.get_by_text("unsaved changes")).to_be_visible()

    def test_every_sheet_shows_it_as_built_and_again_as_drawn(self) -> None:
        self.page.get_by_role("link", name="Layout").click()
        ratio = (
            self.page.get_by_role("region", name="At the Jack").get_by_text(re.compile(r"^0\.\d{3}$")).first
        )
        drawn = ratio.inner_text()
        toggle = self.page.get_by_role("button", name="As built")
        toggle.click()
        expect(ratio).not_to_have_text(drawn)
        expect(toggle).to_have_attribute("aria-pressed", "true")
        self.page.get_by_role("link", name="Springing").click()
        expect(self.page.get_by_role("button", name="As built")).to_have_attribute("aria-pressed", "true")
        self.page.get_by_role("link", name="Layout").click()
        toggle.click()
        expect(ratio).to_have_text(drawn)
        self.page.get_by_text("revision 2, saved").wait_for()

    def test_axe_finds_nothing(self) -> None:
        for tab in ("Cycle", "Weigh & set", "As built", "Book", "Gates"):
            self.page.get_by_role("tab", name=tab).click()
            self.settle()
            self.assert_accessible(f"Prove, {tab}")
