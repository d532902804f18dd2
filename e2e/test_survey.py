"""From tape and plumb line to places: read in by keyboard and by touch, slips mended, taken in, guarded, offline."""

import json
import re
import tempfile
from pathlib import Path

import numpy as np
from django.contrib.auth import get_user_model
from playwright.sync_api import Page, expect

from e2e.bench import Bench
from engine.document.read import check_project
from engine.document.survey import Survey, places_of
from engine.layouts.catalogue import layout_named, starting_project
from engine.survey.kinds import READS, kind_of
from engine.survey.plan import Planned, plan_of
from engine.survey.stickers.seeing import projected
from engine.survey.worked import WorkedSurvey
from server.jobs.actions.import_project import import_project
from server.records.actions.survey import items_of, survey_of
from server.records.tests.rendered import DOTS, dots_in, photographed
from server.records.tests.walked import about_a_corner

HERON = "Heron three-wheeler"
TENDER = "Hollin Fell fire tender"
BARE = "Bare frame"


class Reads(Bench):
    def bare(self) -> dict[str, np.ndarray]:
        """Add a job that nothing was read of, and return where its places truly are: a few mm off the drawing."""
        project = {**starting_project(layout_named("wishbones-lower")), "name": BARE}
        import_project(get_user_model().objects.get(username="bench"), json.dumps(project).encode())
        rng = np.random.default_rng(5)
        station = check_project(project).stations[0]
        return {
            f"{station.name}/{point}": np.array(spot) + rng.normal(0, 2, 3)
            for point, spot in station.points.items()
        }

    def plan(self) -> list[Planned]:
        return plan_of(check_project(self.document(BARE)).stations[0])

    def would_read(self, planned: Planned, places: dict[str, np.ndarray]) -> float:
        blank = {"kind": planned.kind, "values": [1.0]}
        blank |= {"of": planned.places[0]} if len(planned.places) == 1 else {"between": list(planned.places)}
        reading = Survey.model_validate({"readings": [blank]}).readings[0]
        spots = np.array([[places[name] for name in places_of(reading)]])
        return float(READS[kind_of(reading)](spots)[0][0, 0])

    def sheet(self, job: str, station: str | None = None, page: Page | None = None) -> Page:
        page = page or self.page
        self.at_the_bench(job, station, page)
        page.get_by_role("link", name=re.compile("^Survey")).click()
        page.get_by_test_id("in-hand").or_(page.get_by_text("Pick two places")).first.wait_for()
        self.settle(page)
        return page

    def stored(self, job: str) -> dict:
        return survey_of(items_of(self.job(job)))

    def verdict(self, page: Page | None = None) -> str:
        self.settle(page)
        return (page or self.page).get_by_test_id("verdict").inner_text().replace("\xa0", " ")


class Entering(Reads):
    def test_a_corner_from_nothing_by_keyboard_alone_to_a_solved_job(self) -> None:
        true = self.bare()
        page = self.sheet(BARE)
        plan = self.plan()
        for planned in plan:
            field = page.get_by_role("textbox", name=re.compile(r"^(Height|From|Tape|On the floor|Rise)"))
            expect(field).to_be_focused()
            page.keyboard.type(f"{self.would_read(planned, true):.1f}")
            page.keyboard.press("Enter")
            if planned is not plan[-1]:
                expect(field).to_have_value("")
        expect(page.get_by_test_id("kept")).to_have_text(f"{len(plan)} of {len(plan)} on the list read")
        self.assertRegex(
            self.verdict(), rf"^{len(true)} points located to ±\d\.\d mm by {len(plan)} readings\.$"
        )
        readings = self.stored(BARE)["readings"]
        self.assertEqual([one["kind"] for one in readings], [one.kind for one in plan])

        page.get_by_role("tab", name="Apply to job").focus()
        page.keyboard.press("Enter")
        take = page.get_by_role("button", name=re.compile(r"^Take \d+ places into the job"))
        self.settle()
        take.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_text("Applied and saved as revision 2.")).to_be_visible()
        document = self.document(BARE)
        station = document["stations"][0]
        for name, spot in true.items():
            np.testing.assert_allclose(station["points"][name.split("/")[1]], spot, atol=0.3)
        self.assertEqual(len(station["uncertainty"]["points"]), len(true))
        page.get_by_role("link", name=re.compile("^Springing")).click()
        self.settle()
        ride = self.solved(document).ride
        assert ride is not None
        self.assertAlmostEqual(self.shown("ride-travel"), ride.travel, delta=0.06)

    def test_read_twice_in_inches_and_with_fractions(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        page.keyboard.type("25 3/8")
        expect(page.get_by_text("25 3/8 in = 644.5 mm")).to_be_visible()
        page.keyboard.press("&")
        page.keyboard.type("645")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("last")).to_be_visible()
        self.settle()
        (reading,) = self.stored(BARE)["readings"]
        np.testing.assert_allclose(reading["values"], [644.525, 645.0])

    def test_what_no_tool_reads_is_said_and_nothing_is_taken(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        page.keyboard.type("6 parsecs")
        expect(page.get_by_role("alert")).to_contain_text("is not a unit for this")
        page.keyboard.press("Enter")
        self.assertEqual(self.stored(BARE), {})

    def test_a_reading_far_from_the_drawing_is_asked_about(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        planned = self.plan()[0]
        drawn = check_project(self.document(BARE)).stations[0].points[planned.places[0].split("/")[1]][2]
        page.keyboard.type(f"{drawn / 10:.1f}")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("last")).to_contain_text("a figure left out?")

    def test_by_touch_on_a_tablet(self) -> None:
        context = self.browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
        context.set_default_timeout(30_000)
        page = context.new_page()
        self.watch(page)
        self.sheet(HERON, page=page)
        before = len(self.stored(HERON)["readings"])
        for name in ("frame front left", "seat rail"):
            box = page.locator(
                f'[data-testid="survey-top"] [data-place="{name}"] circle, [data-testid="survey-top"] [data-place="{name}"] rect'
            ).first.bounding_box()
            assert box is not None
            page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(page.get_by_test_id("in-hand")).to_have_text("frame front left to seat rail")
        for key in ("9", "2", "9"):
            page.get_by_role("button", name=key, exact=True).tap()
        page.get_by_role("button", name="Enter", exact=True).tap()
        expect(page.get_by_test_id("last")).to_be_visible()
        self.settle(page)
        after = self.stored(HERON)["readings"]
        self.assertEqual(len(after), before + 1)
        self.assertEqual(after[-1]["between"], ["frame front left", "seat rail"])
        self.assertNotIn("loose", self.verdict(page))
        context.close()


class Starting(Reads):
    def test_a_new_job_may_be_measured_first(self) -> None:
        page = self.page
        self.sign_in()
        page.get_by_role("link", name="Start a new job").click()
        page.get_by_label("Name of the job").fill("Measured first")
        page.get_by_label(re.compile("^Measure it first")).check()
        page.get_by_role("button", name=re.compile("^Start with this")).first.click()
        page.get_by_test_id("in-hand").wait_for()
        self.assertIn("Nothing has been read yet", self.verdict())
        page.keyboard.type("300")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("last")).to_be_visible()
        self.settle()
        self.assertEqual(len(self.stored("Measured first")["readings"]), 1)
        self.assertIn("No point is located yet by 1 reading; 1 point not located yet", self.verdict())


class Fitting(Reads):
    def test_the_slip_is_found_and_mended_and_the_place_that_is_loose_is_named(self) -> None:
        page = self.sheet(HERON)
        self.assertIn("1 reading does not fit; 1 point not located yet", self.verdict())
        suspect = page.get_by_test_id("suspect")
        expect(suspect).to_contain_text("It looks like 50.0 mm misread on the tape.")
        suspect.get_by_role("button", name=re.compile("^Correct to")).click()
        self.assertNotIn("does not fit", self.verdict())
        worked = WorkedSurvey(check_project({**self.document(HERON), "survey": self.stored(HERON)}))
        self.assertEqual(worked.adjusted.suspects, ())
        self.tab("Next")
        expect(page.get_by_test_id("loose")).to_contain_text("can still move fore and aft")
        page.get_by_test_id("loose").get_by_role("button", name="Read it").click()
        expect(page.get_by_test_id("in-hand")).to_have_text("seat rail")
        expect(page.locator("#survey-entry")).to_be_focused()

    def test_places_taken_in_change_the_ride_height_to_what_the_engine_says(self) -> None:
        page = self.sheet(HERON)
        self.tab("Apply to job")
        self.settle()
        told = page.get_by_test_id("ride-after").first.inner_text()
        page.get_by_role("button", name=re.compile(r"^Take \d+ places into the job")).click()
        expect(page.get_by_text(re.compile("Applied and saved as revision"))).to_be_visible()
        ride = self.solved(self.document(HERON)).ride
        assert ride is not None
        self.assertIn(f"{ride.travel:+.1f}".replace("-", "−"), told.replace("\xa0", " "))
        self.assertEqual(len(self.stored(HERON)["readings"]), 172)

    def test_left_out_kept_and_taken_back(self) -> None:
        page = self.sheet(HERON)
        suspect = page.get_by_test_id("suspect")
        suspect.get_by_role("button", name="Leave out").click()
        self.assertNotIn("does not fit", self.verdict())
        row = page.get_by_test_id("reading").filter(has_text="left out")
        row.get_by_role("button", name="Put back").or_(row.get_by_role("button").first).first.click()
        again = row.get_by_role("button", name="Put back")
        if again.is_visible():
            again.click()
        self.assertIn("does not fit", self.verdict())
        page.get_by_test_id("suspect").get_by_role("button", name=re.compile("^Keep")).click()
        self.assertNotIn("does not fit", self.verdict())

    def test_what_to_read_next_comes_into_hand(self) -> None:
        page = self.sheet(HERON)
        self.tab("Next")
        self.settle()
        page.get_by_label("What is to be known better").select_option(label="ride height, Front left")
        self.settle()
        first = page.get_by_test_id("worth").first
        expect(first).to_contain_text("now, ±")
        first.get_by_role("button", name="Read it").click()
        expect(page.get_by_test_id("in-hand")).to_be_visible()
        expect(page.locator("#survey-entry")).to_be_focused()

    def test_a_table_of_readings_comes_in_and_a_bad_one_is_refused(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        place = self.plan()[0].places[0]
        table = page.get_by_label("Table of readings")
        table.set_input_files(
            {
                "name": "r.csv",
                "mimeType": "text/csv",
                "buffer": f"kind,first,values\nheight,{place},212".encode(),
            }
        )
        expect(page.get_by_text("1 readings imported.")).to_be_visible()
        table.set_input_files({"name": "r.csv", "mimeType": "text/csv", "buffer": b"MZ\x90\x00\xff"})
        expect(page.get_by_text("not text in UTF-8")).to_be_visible()
        self.settle()
        self.assertEqual(len(self.stored(BARE)["readings"]), 1)


class Guarding(Reads):
    def test_a_frame_that_sprang_stops_the_job(self) -> None:
        page = self.sheet(TENDER, "Rear left")
        self.tab("Check dimensions")
        guard = next(one for one in self.stored(TENDER)["guards"] if one["name"] == "diagonal, right front")
        field = page.get_by_label("diagonal, right front, after")
        field.fill(f"{np.mean(guard['before']) - 3.5:.1f}")
        field.press("Enter")
        expect(page.get_by_test_id("guard-moved")).to_contain_text(
            "3.5 mm shorter than before the cut: stop, and pull it back before anything is welded"
        )
        self.assertIn("stop, and pull it back", self.verdict())
        page.get_by_test_id("guard-moved").get_by_role("button", name="Sign it").or_(
            page.get_by_test_id("guard-moved").get_by_text("signed bench")
        ).first.wait_for()

    def test_two_picked_places_are_guarded_and_read_before(self) -> None:
        page = self.sheet(HERON)
        self.tab("Check dimensions")
        page.get_by_role("button", name=re.compile("^Check dimension: diagonal, left front")).click()
        field = page.get_by_label("The new check dimension, before")
        field.fill("1441.5")
        field.press("Enter")
        expect(page.get_by_test_id("guard-open")).to_contain_text("stood at 1441.5 mm before the cut")
        self.settle()
        self.assertEqual(self.stored(HERON)["guards"][0]["before"], [1441.5])


class Away(Reads):
    def test_a_reading_entered_while_the_network_is_away_arrives_later(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        self.context.set_offline(True)
        page.keyboard.type("212")
        page.keyboard.press("Enter")
        page.keyboard.type("401")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("kept")).to_contain_text("2 entries wait for the server")
        expect(page.get_by_test_id("reading")).to_have_count(2)
        self.assertEqual(self.stored(BARE), {})
        self.context.set_offline(False)
        expect(page.get_by_test_id("kept")).to_contain_text("on the list read")
        self.assertEqual([one["values"] for one in self.stored(BARE)["readings"]], [[212], [401]])

    def test_what_waited_when_the_browser_was_closed_is_sent_when_it_opens_again(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        self.context.set_offline(True)
        page.keyboard.type("212")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("kept")).to_contain_text("1 entry waits for the server")
        page.close()
        self.context.set_offline(False)
        page = self.context.new_page()
        self.watch(page)
        self.sheet(BARE, page=page)
        expect(page.get_by_test_id("kept")).to_contain_text("on the list read")
        self.assertEqual(self.stored(BARE)["readings"][0]["values"], [212])

    def test_two_people_read_one_vehicle_at_once(self) -> None:
        page = self.sheet(TENDER, "Rear left")
        before = len(self.stored(TENDER)["readings"])
        other = self.opened()
        theirs = other.new_page()
        self.watch(theirs)
        self.sign_in(theirs, "wilma")
        self.open_job(TENDER, "Rear left", theirs)
        theirs.get_by_role("link", name=re.compile("^Survey")).click()
        theirs.get_by_test_id("in-hand").wait_for()
        for its, value in ((page, "512"), (theirs, "440")):
            its.get_by_label(re.compile("^Height")).fill(value)
            its.get_by_label(re.compile("^Height")).press("Enter")
            expect(its.get_by_test_id("last")).to_be_visible()
        self.settle()
        self.settle(theirs)
        last = self.stored(TENDER)["readings"][before:]
        self.assertEqual(sorted(one["by"] for one in last), ["bench", "wilma"])
        other.close()


class Seen(Reads):
    def test_axe_finds_nothing_on_any_tab(self) -> None:
        page = self.sheet(HERON)
        for name in ("Readings", "Next", "Square", "Check dimensions", "Photos", "Marks", "Apply to job"):
            page.get_by_role("tab", name=re.compile(f"^{name}")).click()
            self.settle()
            self.assert_accessible(f"Survey, {name}")

    def test_the_form_for_under_the_car_is_printed_and_not_shown(self) -> None:
        page = self.sheet(HERON)
        form = page.get_by_text("to be filled in under the car")
        expect(form).to_be_hidden()
        page.emulate_media(media="print")
        expect(form).to_be_visible()
        page.emulate_media(media="screen")

    def test_places_are_picked_on_the_drawing_by_key(self) -> None:
        page = self.sheet(HERON)
        page.get_by_test_id("survey-top").focus()
        page.keyboard.press("PageDown")
        page.keyboard.press("PageDown")
        expect(page.get_by_test_id("in-hand")).to_contain_text(" to ")
        page.keyboard.type("640")
        expect(page.get_by_role("textbox", name=re.compile("^(Tape|On the floor|Rise)"))).to_have_value("640")
        page.get_by_role("button", name="Alike", exact=True).click()
        expect(page.get_by_role("button", name="They ought to be mirror images")).to_be_visible()
        page.get_by_role("button", name="Back to the list").click()
        expect(page.get_by_role("button", name="Skip")).to_be_visible()


class Instruments(Reads):
    def test_the_distance_meters_figure_is_taken_into_the_field_in_hand(self) -> None:
        page = self.sheet(HERON)
        page.get_by_test_id("survey-top").focus()
        page.keyboard.press("PageDown")
        page.keyboard.press("PageDown")
        page.get_by_role("button", name="Tape", exact=True).click()
        page.get_by_role("button", name="Distance meter").click()
        take = page.get_by_role("button", name="Take reading")
        expect(take).to_be_enabled()
        expect(page.get_by_test_id("live")).to_contain_text("steady, stand-in")
        before = len(self.stored(HERON)["readings"])
        take.click()
        page.get_by_role("button", name="Enter", exact=True).click()
        expect(page.get_by_test_id("last")).to_be_visible()
        self.settle()
        last = self.stored(HERON)["readings"][before:]
        self.assertEqual(len(last), 1)
        self.assertEqual(last[0]["kind"], "distance")
        page.get_by_role("button", name="Distance meter").or_(
            page.get_by_text("Pick two places")
        ).first.wait_for()


class Pictures(Reads):
    def test_a_picture_is_straightened_by_its_board_and_places_in_it_are_found(self) -> None:
        jpeg, _ = photographed()
        page = self.sheet(HERON)
        self.tab("Photos")
        page.get_by_label("Picture", exact=True).set_input_files(
            {"name": "left side.jpg", "mimeType": "image/jpeg", "buffer": jpeg}
        )
        page.get_by_test_id("plate").wait_for()
        by_board = page.get_by_role("region", name="By the board")
        expect(by_board.get_by_role("button")).to_be_disabled()
        by_board.get_by_role("textbox").fill("180 mm")
        by_board.get_by_role("textbox").press("Enter")
        by_board.get_by_role("button").click()
        expect(page.get_by_text("corners of the board lie within")).to_be_visible()
        flat = self.job(HERON).photographs.order_by("-at")[0]
        zero, scale = flat.ends[0], 1 / flat.mm_per_pixel
        near = {name: (zero[0] + x * scale, zero[1] + y * scale) for name, (x, y) in DOTS.items()}
        spots = dots_in(flat.path.read_bytes(), near, round(9 * scale))
        for mark, dot in (("frame front left", "A"), ("frame rear left", "B"), ("seat rail", "C")):
            page.get_by_label("Place", exact=True).select_option(label=mark)
            plate = page.get_by_test_id("plate")
            box = plate.bounding_box()
            assert box is not None
            u, v = spots[dot]
            page.mouse.click(
                box["x"] + u / flat.width * box["width"], box["y"] + v / flat.height * box["height"]
            )
            expect(page.get_by_test_id("loupe")).to_be_visible()
            plate.press("ArrowRight")
            plate.press("ArrowLeft")
            page.get_by_role("button", name=f"Set {mark} there").click()
        page.get_by_role("button", name="Done").click()
        self.settle()
        (photo,) = self.stored(HERON)["photos"]
        one, other = (np.array(photo["picked"][name]) for name in ("frame front left", "frame rear left"))
        apart = float(np.linalg.norm(other - one)) * flat.mm_per_pixel
        true = float(np.linalg.norm(np.array(DOTS["B"]) - np.array(DOTS["A"])))
        self.assertAlmostEqual(apart, true, delta=1.0)

    def test_stickers_are_given_printed_found_in_pictures_and_the_job_drawn_over_one(self) -> None:
        self.bare()
        page = self.sheet(BARE)
        self.tab("Stickers")
        page.get_by_role("button", name=re.compile(r"^All \d+ of ")).click()
        self.settle()
        stickers = self.stored(BARE)["stickers"]
        paper = page.request.get(f"{self.live_server_url}/api/jobs/{self.job(BARE).pk}/stickers.pdf?paper=A4")
        self.assertEqual(paper.body()[:5], b"%PDF-")
        find = page.get_by_role("button", name=re.compile("^Find the places in"))
        expect(find).to_be_disabled()
        with tempfile.TemporaryDirectory() as folder:
            its, files = about_a_corner(
                self.document(BARE), stickers["places"], stickers["size"], Path(folder), 8, (1344, 1008)
            )
            page.get_by_label("Pictures of stickers").set_input_files(files)
            expect(find).to_have_text("Find the places in 8 pictures", timeout=60_000)
            expect(find).to_be_enabled()
        find.click()
        table = page.get_by_role("table", name="Places from pictures")
        table.wait_for(timeout=60_000)
        self.settle()
        self.assertIn("and the pictures of stickers", self.verdict())
        kept = self.job(BARE).places_found
        self.assertGreater(len(kept.told["stickers"]), 5)
        for number, one in kept.told["stickers"].items():
            # No tape says where the whole of it stands: it is laid on the drawing, from which each place is some mm off.
            off = np.array(one["at"]) - its.spots[int(number)]
            self.assertLess(float(np.linalg.norm(off)), 20.0, number)
            place = one["place"].split("/")[1].replace("_", " ")
            expect(table.get_by_role("row", name=re.compile(rf"^{number} · {place}"))).to_have_count(1)
        page.get_by_role("list", name="Pictures walked round").get_by_role("button").first.click()
        # What is drawn over the picture lies where the sticker's middle is seen.
        over = page.get_by_role("img", name=re.compile("with the job drawn over it"))
        shot = kept.told["pictures"][0]
        rings = over.locator("circle")
        expect(rings).to_have_count(sum(str(n) in kept.told["stickers"] for n in shot["stickers"]))
        at = [[float(ring.get_attribute(axis) or "nan") for axis in ("cx", "cy")] for ring in rings.all()]
        turn, shift = its.shots[0]
        true = [
            projected(np.array([its.spots[n]]) @ turn.T + shift, its.camera[None])[0][0]
            for n in sorted(shot["stickers"])
        ]
        near = [min(float(np.linalg.norm(np.array(ring) - one)) for one in true) for ring in at]
        self.assertLess(max(near), 1.0)
        page.get_by_role("button", name="Done").click()
        # Without one of its pictures nothing of what was found counts any more, and it says so.
        page.get_by_role("button", name=re.compile("^Remove corner-08")).click()
        expect(page.get_by_text("Stickers or pictures have changed since")).to_be_visible()

    def test_a_program_with_a_pictures_name_is_refused(self) -> None:
        page = self.sheet(HERON)
        self.tab("Photos")
        page.get_by_label("Picture", exact=True).set_input_files(
            {"name": "side.jpg", "mimeType": "image/jpeg", "buffer": b"MZ\x90\x00" + b"\x00" * 4000}
        )
        expect(page.get_by_text("This is no picture that can be read")).to_be_visible()
