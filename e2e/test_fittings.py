"""What is fitted: off the shelf with all of itself, turned on its thread, mended field by field."""

import json
import re

from django.conf import settings
from django.test import SimpleTestCase
from playwright.sync_api import expect

from e2e.bench import Bench
from e2e.node import asked
from engine.document.read import check_project
from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.parts import Maker, station_parts
from engine.station.solved import solve_station
from engine.workup import WorkUp

PARTS = json.loads((settings.ROOT / "web/src/fields/parts.gen.json").read_text("utf-8"))
ELSEWHERE = {
    ("Eye", "end"),
    ("Rod", "hands"),
    ("Coilover", "springs"),
    ("SpringUnit", "springs"),
    ("Bar", "tip"),
}
"""Fields with a form of their own beside these."""


class Published(SimpleTestCase):
    def test_every_field_that_a_file_may_have_of_a_part_is_made_into_a_form(self) -> None:
        names = list(PARTS)
        found = dict(
            zip(names, asked("fields/schema.ts", [["fieldsOf", name] for name in names]), strict=True)
        )
        for name, part in PARTS.items():
            fields = {field["key"]: field["kind"] for field in found[name]}
            self.assertEqual(set(fields), set(part["properties"]) - {"name", "kind", "ends"})
            unreached = {
                (name, key)
                for key, kind in fields.items()
                if kind == "other" or (kind == "parts" and key != "eyes")
            }
            self.assertLessEqual(unreached, ELSEWHERE)


class Fittings(Bench):
    def started(self, arrangement: str) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill("Slow barrow")
        page.get_by_role("button", name=f"Start with this: {arrangement}", exact=True).click()
        page.get_by_role("slider", name="Wheel travel").wait_for()
        self.settle()

    def go(self, sheet: str) -> None:
        self.page.get_by_role("link", name=re.compile(f"^{sheet}")).click()
        self.settle()

    def test_a_coil_off_the_shelf_brings_all_of_itself(self) -> None:
        page = self.page
        self.started("Wishbones, coilover on the lower arm")
        self.go("Springing")
        table = page.get_by_role("region", name="Springs side by side")
        row = table.get_by_role("row", name=re.compile("Slate 60 long"))
        expect(row).to_contain_text("lower than it goes")
        row.get_by_role("button", name="Take Slate 60 long").click()
        self.settle()
        expect(page.get_by_test_id("finding-coil_fit")).to_contain_text("70.0 mm inside")
        expect(page.get_by_test_id("finding-adjustment_left")).to_contain_text("lower than it goes")
        self.go("Layout")
        self.tab("Rods & parts")
        self.unfold("All of the coilover")
        page.get_by_label("coilover Seats made for coils of, mm").fill("57")
        page.get_by_label("coilover Seats made for coils of, mm").press("Enter")
        self.settle()
        # Where it is bolted on is chosen too; undo brings it back.
        page.get_by_label("coilover from", exact=True).select_option(label="lower ball")
        expect(page.get_by_label("coilover from", exact=True)).to_have_value("lower_ball")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("coilover from", exact=True)).to_have_value("eye")
        self.save("The long grey one")
        page.get_by_text("revision 2, saved").wait_for()
        unit = next(
            one for one in self.document("Slow barrow")["stations"][0]["units"] if one["kind"] == "coilover"
        )
        (spring,) = unit["springs"]
        self.assertEqual((spring["free_length"], spring["bore"], unit["seat"]), (280, 70, 57))
        self.assertGreater(unit["coil_diameter"], 85)
        self.assertLess(unit["perch"]["down"], -50)
        marks = {f.kind.code: f.mark for f in judge(self.solved(self.document("Slow barrow")))}
        self.assertEqual((marks["coil_fit"], marks["adjustment_left"]), ("fault", "fault"))

    def test_a_rod_turned_three_times_leaves_its_tube_as_it_is_cut(self) -> None:
        page = self.page
        self.started("Wishbones, pushrod and rocker")
        before = self.rod(starting_project(layout_named("pushrod")))
        self.tab("Rods & parts")
        for _ in range(6):
            page.get_by_role("button", name="½ turn longer").click()
        self.settle()
        expect(page.get_by_test_id("turns")).to_have_text("+3 turns")
        self.save("Three turns up")
        page.get_by_text("revision 2, saved").wait_for()
        document = self.document("Slow barrow")
        after = self.rod(document)
        self.assertAlmostEqual(after.figure("tube_length"), before.figure("tube_length"), places=3)
        self.assertAlmostEqual(after.figure("longer"), 9.0 - 7.5, places=3)
        self.assertAlmostEqual(document["stations"][0]["rods"]["rod"]["engagement"], 22.5 - 3.75)
        # One figure, wherever it is told.
        self.tab("Figures")
        expect(page.get_by_text("The adjuster of the rod has 1.5 mm left longer")).to_be_attached()
        self.go("Make")
        page.get_by_role("button", name=re.compile("2 × rod")).first.click()
        row = page.get_by_text("Can still be made longer").locator("xpath=..")
        expect(row).to_contain_text("1.5 mm")
        expect(page.get_by_text("Cut the tube to").locator("xpath=..")).to_contain_text(
            f"{before.figure('tube_length'):.1f} mm"
        )

    def rod(self, document):  # type: ignore[no-untyped-def]
        """Return the rod as it is made."""
        solved = solve_station(check_project(document).stations[0])
        made = station_parts(Maker(WorkUp(solved), RULES)).of("rod")
        return next(one for one in made if one.name == "rod")

    def test_a_bag_is_taken_off_the_shelf_and_mended(self) -> None:
        page = self.page
        self.started("Trailing arm on a bag")
        self.go("Springing")
        table = page.get_by_role("region", name="Bags on the shelf")
        table.get_by_role("button", name="Take Squat bag 180").click()
        self.settle()
        expect(table.get_by_role("row", name=re.compile("Squat bag 180"))).to_contain_text("fitted")
        self.assertAlmostEqual(self.shown("ride-travel"), 0.0, delta=0.2)
        self.go("Layout")
        self.tab("Rods & parts")
        self.unfold("All of the bag")
        for label, text in (
            ("bag Rated pressure, bar", "9"),
            ("bag Area over height, row 1, area, mm²", "21000"),
            ("bag Widest, mm", ""),
        ):
            page.get_by_label(label, exact=True).fill(text)
            page.get_by_label(label, exact=True).press("Enter")
        page.get_by_role("button", name="Add a row, bag Area over height").click()
        self.settle()
        self.save("The squat bag")
        page.get_by_text("revision 2, saved").wait_for()
        bag = next(
            one for one in self.document("Slow barrow")["stations"][0]["units"] if one["kind"] == "air_spring"
        )
        self.assertEqual((bag["min_height"], bag["max_height"], bag["max_pressure"]), (75, 255, 9))
        self.assertIsNone(bag["max_diameter"])
        self.assertEqual([row[0] for row in bag["height_table"]], [75, 255, 435])
        self.assertEqual(bag["height_table"][0][1], 21_000)

    def test_every_kind_of_part_is_fitted_and_taken_off(self) -> None:
        page = self.page
        self.started("Wishbones, coilover on the lower arm")
        self.go("Stops")
        fit = page.get_by_role("region", name="Fit a part")
        self.assertEqual(
            fit.get_by_label("What").locator("option").all_inner_texts(), ["bump stop", "limit strap"]
        )
        fit.get_by_role("button", name="Fit it").click()
        self.settle()
        self.go("Layout")
        self.tab("Rods & parts")
        page.get_by_role("region", name="Bump stop 2").get_by_role(
            "button", name="Remove the bump stop 2"
        ).click()
        page.get_by_role("region", name="Coilover", exact=True).get_by_role(
            "button", name="Remove the coilover"
        ).click()
        self.settle()
        fit = page.get_by_role("region", name="Fit a part")
        for kind in ("spring", "damper", "bag"):
            fit.get_by_label("What").select_option(label=kind)
            fit.get_by_label("From").select_option(label="eye")
            fit.get_by_label("To").select_option(label="top")
            fit.get_by_role("button", name="Fit it").click()
            page.get_by_role("region", name=kind.capitalize(), exact=True).wait_for()
        page.get_by_role("region", name="Bag", exact=True).get_by_role(
            "button", name="Remove the bag"
        ).click()
        self.settle()
        fit.get_by_label("To").select_option(label="eye")
        fit.get_by_role("button", name="Fit it").click()
        page.get_by_text("Choose two different places").wait_for()
        self.save("On a spring and a damper of their own")
        page.get_by_text("revision 2, saved").wait_for()
        document = self.document("Slow barrow")
        kinds = sorted(unit["kind"] for unit in document["stations"][0]["units"])
        self.assertEqual(kinds, ["bump_stop", "damper", "spring", "strap"])
        # It stands where it is drawn on the spring alone, as stiff as was wanted of it.
        ride = self.solved(document).ride
        assert ride is not None
        self.assertAlmostEqual(ride.travel, 0.0, delta=0.5)
