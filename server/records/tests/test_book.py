"""The job's book: in order of time, printed, out as a table and back in; rows that are none are named."""

import io
import json
import re
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase
from PIL import Image
from pypdf import PdfReader

from engine.document.read import check_project
from engine.results.whole import work_project
from server.accounts.shop import keep_mark, say_shop
from server.demo.load import load_demo
from server.jobs.actions.import_project import import_project
from server.jobs.actions.save_revision import save_revision
from server.jobs.models import Job
from server.records.actions.records_csv import MOST_FAULTS, records_in, records_table
from server.records.actions.survey import items_of, put_item, records_of, survey_of
from server.records.actions.tables import BadTable
from server.records.book import book_of
from server.records.customer_book.put_right import judged_of, put_right
from server.records.models import Photograph
from server.records.proved import whole_document

HERON = "Heron three-wheeler"
EXAMPLES = Path(__file__).parents[3] / "docs" / "examples"


def words_of(pdf: bytes) -> str:
    """Return what a PDF says, page after page."""
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages)


class Kept(TestCase):
    """The demo shop's Heron."""

    def setUp(self) -> None:
        load_demo()
        self.user = get_user_model().objects.get(username="bench")
        self.client.force_login(self.user)
        self.job = Job.objects.get(name=HERON)

    def get(self, path: str) -> Any:
        return self.client.get(f"/api/jobs/{self.job.pk}/{path}")

    def post(self, data: bytes) -> Any:
        return self.client.post(f"/api/jobs/{self.job.pk}/records.csv", data, content_type="text/csv")

    def records(self) -> list[dict[str, Any]]:
        return records_of(items_of(self.job))


class Book(Kept):
    def test_every_kind_of_entry_stands_in_it_in_order_of_time(self) -> None:
        gate = {
            "kind": "gate",
            "when": "2026-10-20T08:00:00",
            "name": "cycled",
            "station": "Front right",
            "initials": "kl",
        }
        put_item(self.user, self.job, "record", "g", gate)
        reading = {
            "kind": "reading",
            "when": "2026-10-20T08:05:00",
            "of": "bag pressure",
            "station": "Rear wheel",
            "value": 4.2,
            "unit": "bar",
        }
        put_item(self.user, self.job, "record", "r", reading)
        guard = {"name": "hoop", "between": ["frame_front_left", "frame_rear_right"], "before": [1502.0], "signed": "kl",
                 "when_before": "2026-10-20T09:00:00"}  # fmt: skip
        put_item(self.user, self.job, "guard", "hoop", guard)
        Photograph.objects.create(job=self.job, name="card", width=40, height=20, by=self.user)
        entries = book_of(self.job)
        self.assertEqual([one.when[:19] for one in entries], sorted(one.when[:19] for one in entries))
        kinds = {one.kind for one in entries}
        self.assertLessEqual(
            {"revision", "reading", "mark", "photo", "guard", "cycle", "weigh", "setting", "drive", "gate"},
            kinds,
        )
        said = "\n".join(str(one.say) for one in entries)
        for words in (
            "Front right, Cycled through: initials kl", "Bag pressure 4.2 bar, Rear wheel", "Check dimension hoop before the cut: 1502.0 mm; signed kl",
            "630.0 kg, driver in, tank half", "Rear wheel, perch from 8.0 mm to 16.0 mm, +4.00 turns",
        ):  # fmt: skip
            self.assertIn(words, said)

    def test_the_readings_of_a_day_stand_together_and_open(self) -> None:
        days = [one for one in book_of(self.job) if one.kind == "reading"]
        count = len([item for item in items_of(self.job) if item.kind == "reading"])
        self.assertEqual(len(days), 2)
        self.assertEqual(sum(len(one.holds) for one in days), count)
        for one in days:
            self.assertEqual(str(one.say), f"{len(one.holds)} readings")

    def test_what_was_set_when_it_drove_well(self) -> None:
        (good,) = [one for one in book_of(self.job) if one.good]
        self.assertEqual(len(good.set_then), 3)
        self.assertIn("perch", " ".join(str(one) for one in good.set_then))

    def test_over_http_the_newest_first_and_only_for_who_knows_the_job(self) -> None:
        entries = self.get("book").json()["entries"]
        self.assertEqual(len(entries), len(book_of(self.job)))
        self.assertGreater(entries[0]["when"], entries[-1]["when"])
        stranger = get_user_model().objects.create_user("stranger", password="x")
        self.client.force_login(stranger)
        for path in ("book", "book.pdf", "floor.pdf", "records.csv"):
            self.assertEqual(self.get(path).status_code, 404)
        self.assertEqual(self.post(b"when,kind,what,value\n").status_code, 404)

    def test_printed_with_its_pictures_and_its_names_whatever_they_are(self) -> None:
        photo = Photograph.objects.create(
            job=self.job, name="<b>shot & \u05d0", width=40, height=20, by=self.user
        )
        photo.path.parent.mkdir(parents=True, exist_ok=True)
        Image.new("RGB", (40, 20), "red").save(photo.path)
        put_item(
            self.user,
            self.job,
            "record",
            "d",
            {"kind": "drive", "when": "2026-10-20T10:00:00", "note": "{0} <para> & | “x”" * 20},
        )
        for paper in ("A4", "Letter"):
            answer = self.get(f"book.pdf?paper={paper}")
            self.assertEqual(answer.status_code, 200)
            self.assertTrue(answer.content.startswith(b"%PDF"))
        self.assertIn("heron-three-wheeler-book.pdf", answer["Content-Disposition"])
        self.assertEqual(self.get("book.pdf?paper=A9").status_code, 422)

    def test_a_customers_book_says_what_was_wanted_what_it_is_set_to_and_how_that_is_known(self) -> None:
        say_shop("Plumb and Square", "1 Bench Lane")
        mark = io.BytesIO()
        Image.new("RGB", (400, 100), "navy").save(mark, "PNG")
        keep_mark(mark.getvalue())
        reader = PdfReader(io.BytesIO(self.get("book.pdf").content))
        pages = [page.extract_text() for page in reader.pages]
        self.assertLess(len(pages), 14)
        self.assertIn("Plumb and Square", pages[0])
        self.assertEqual(len(list(reader.pages[0].images)), 1)
        # The contents tell the page on which each chapter begins.
        for line in ("What was wanted, and how it stands", "Front left", "Rear wheel", "After 100 km", "How it came to be", "Appendix: what was read"):  # fmt: skip
            told = re.search(rf"^{line}\s+(\d+)$", pages[0], re.M)
            assert told is not None, line
            self.assertIn(line, pages[int(told[1]) - 1])
        worked = work_project(check_project(whole_document(self.job)))
        whole = "\n".join(pages)
        flat = " ".join(whole.split())
        for one in worked.stations:
            if one.work.station.variant_of is None:
                assert one.work.solved.ride is not None
                self.assertIn(f"{one.work.solved.ride.travel:+.1f} mm", whole)
                for finding in one.findings:
                    if finding.mark != "good":
                        self.assertIn(str(finding.what), flat)
        for words in ("Wheel rate, N/mm", "Motion ratio, damper ÷ wheel", "preload 5.0 mm", "M10 × 50 mm", "50 N·m",
                      "630.5 kg", "Rocker pivot up 2 mm, to clear the tube clamp"):  # fmt: skip
            self.assertIn(words, flat)
        # Every reading of the survey stands in the appendix, each with how far it is off.
        survey = survey_of(items_of(self.job))
        self.assertRegex(whole, rf"(?m)^{len(survey['readings'])}$")
        self.assertIn("does not fit", whole)

    def test_what_was_found_and_put_right_stands_in_it_with_the_revision_that_did_it(self) -> None:
        job = import_project(self.user, (EXAMPLES / "pushrod.json").read_bytes(), "Started")
        whole = job.newest().document
        spoiled = json.loads(json.dumps(whole))
        (unit,) = [one for one in spoiled["stations"][0]["units"] if one["kind"] == "coilover"]
        unit["springs"][0]["solid_length"] = 0.9 * unit["springs"][0]["free_length"]
        for k, (document, why) in enumerate(((spoiled, "A spring off the shelf"), (whole, "The long spring"), (spoiled, "Back"), (whole, "Taken out"))):  # fmt: skip
            save_revision(self.user, job, k + 1, document, why)
        judged, left_out = judged_of(job)
        self.assertEqual((len(judged), left_out), (5, 0))
        # By a second route: what revision 2 has and revision 3 has not.
        had, has = (
            {f.code for f in work_project(check_project(its)).stations[0].findings if f.mark != "good"}
            for its in (spoiled, whole)
        )
        self.assertTrue(had - has)
        gone = put_right(judged)
        for number, since in ((3, 2), (5, 4)):
            mine = [one for one in gone if one.gone.number == number]
            self.assertEqual({one.since for one in mine}, {since})
            self.assertEqual(len(mine), len(had - has))
            self.assertFalse(any(one.with_station for one in mine))
        words = " ".join(words_of(self.client.get(f"/api/jobs/{job.pk}/book.pdf").content).split())
        self.assertIn("What was found, and put right", words)
        self.assertRegex(words, r"Revision 3, [\d-]+: The long spring")
        without = {**whole, "stations": []}
        save_revision(self.user, job, 5, spoiled, "Again")
        save_revision(self.user, job, 6, without, "Another car")
        # With no station there is nothing to judge, and nothing is called put right.
        judged, left_out = judged_of(job)
        self.assertEqual((left_out, len(put_right(judged))), (1, len(gone)))

    def test_a_book_of_a_job_with_nothing_in_it_is_a_book_too(self) -> None:
        empty = import_project(self.user, json.dumps({"format": "jugatrix-project", "version": 1, "name": "Bare", "stations": []}).encode())  # fmt: skip
        words = words_of(self.client.get(f"/api/jobs/{empty.pk}/book.pdf").content)
        self.assertIn("Bare", words)
        self.assertIn("How it came to be", words)

    def test_the_floor_has_a_sheet_a_station(self) -> None:
        answer = self.get("floor.pdf")
        self.assertEqual(answer.status_code, 200)
        # Three stations that are no variants, the weigh-in, the setting list.
        self.assertEqual(answer.content.count(b"/Type /Page\n") or answer.content.count(b"/Type /Page "), 5)

    def test_an_inch_shop_prints_in_inches_and_names_in_any_alphabet(self) -> None:
        put_item(
            self.user, self.job, "record", "c",
            {"kind": "caution", "when": "2026-10-21T08:00:00", "station": "Rear wheel", "what": "Подпорки стоят"},
        )  # fmt: skip
        told = {}
        for inches in ("false", "true"):
            for name in ("book", "floor"):
                told[name, inches] = words_of(self.get(f"{name}.pdf?inches={inches}").content)
        self.assertIn("Rear wheel: Подпорки стоят", told["book", "false"])
        self.assertIn(" kg", told["book", "false"])
        self.assertNotIn(" kg", told["book", "true"])
        self.assertIn(" lb", told["book", "true"])
        self.assertIn(" mm", told["floor", "false"])
        self.assertNotIn(" mm", told["floor", "true"])

    def test_a_caution_seen_to_stands_in_the_book_and_its_table(self) -> None:
        record = {
            "kind": "caution",
            "when": "2026-10-21T08:00:00",
            "station": "Rear wheel",
            "what": "Stands, chocks",
        }
        put_item(self.user, self.job, "record", "c", record)
        said = [str(one.say) for one in book_of(self.job) if one.kind == "caution"]
        self.assertEqual(said, ["Rear wheel: Stands, chocks"])
        self.assertEqual(records_in(records_table([record]).encode()), [record])

    def test_a_job_with_nothing_in_it_prints_too(self) -> None:
        self.job.survey_items.all().delete()
        for path in ("book.pdf", "floor.pdf"):
            self.assertEqual(self.get(path).status_code, 200)


class Tables(Kept):
    def test_out_and_in_again_is_the_same_and_nothing_twice(self) -> None:
        before = self.records()
        table = self.get("records.csv").content
        self.assertEqual(self.post(table).json(), {"records": 0})
        self.job.survey_items.filter(kind="record").delete()
        self.assertEqual(self.post(table).json(), {"records": len(before)})
        after = self.records()
        self.assertEqual(records_table(after), records_table(before))
        for one, other in zip(before, after, strict=True):
            for key in (
                "kind",
                "when",
                "station",
                "rows",
                "wheels",
                "heights",
                "from",
                "to",
                "turns",
                "used_bump",
                "good",
                "springs_out",
            ):
                self.assertEqual(one.get(key) or None, other.get(key) or None, key)

    def test_a_table_typed_elsewhere(self) -> None:
        table = (
            "when;kind;station;what;wheel mm;value;note\n"
            "2026-11-01T09:00:00;weigh;Front left;scale;;201,5;driver in\n"
            "2026-11-01T09:00:00;weigh;Front left;height;;111,0;driver in\n"
            "2026-11-01T10:00:00;cycle;Rear wheel;shock;-30;320,5;\n"
            "2026-11-01T10:00:00;cycle;Rear wheel;shock;0;307,9;\n"
            "2026-11-01T10:00:00;cycle;Rear wheel;touched: exhaust;0;3;\n"
        )
        weigh, cycle = records_in(table.encode("utf-8-sig"))
        self.assertEqual(
            (weigh["wheels"], weigh["heights"], weigh["with"]),
            ({"Front left": 201.5}, {"Front left": 111.0}, "driver in"),
        )
        self.assertEqual([row["lengths"]["shock"] for row in cycle["rows"]], [320.5, 307.9])
        self.assertEqual(cycle["contacts"], [{"what": "exhaust", "wheel": 0.0, "gap": 3.0}])

    def test_rows_that_are_none_are_named_and_nothing_is_kept(self) -> None:
        count = len(self.records())
        head = "when,by,kind,station,what,wheel mm,value,unit,note\n"
        for row, words in (
            ("2026-11-01,,cycle,Rear wheel,shock,up,320,mm,", "Row 2: “up” in “wheel mm” is no number"),
            (",,drive,,bump used,,20,mm,", "Row 2: it says no time"),
            ("2026-11-01,,guess,,x,,1,,", "is no kind of record"),
            ("2026-11-01,,weigh,Front left,mood,,1,kg,", "has a scale or a height"),
            ("2026-11-01,,setting,Front left,perch,,1,mm,", "“perch, to”"),
            ("2026-11-01,,gate,Front left,cycled,,,,", "The gate of 2026-11-01"),
            ("2026-11-01,,setting,Front left,\"wings, to\",,1,mm,", "The setting of 2026-11-01"),
            ("", "holds no records"),
        ):  # fmt: skip
            good = "2026-11-02,,drive,,bump used,,20,mm,fine\n" if row else ""
            answer = self.post((head + row + "\n" + good).encode())
            self.assertEqual(answer.status_code, 422, row)
            self.assertIn(words, answer.json()["detail"])
        self.assertEqual(len(self.records()), count)

    def test_what_is_no_table(self) -> None:
        for data, words in (
            (b"\xff\xfe\x00", "not text in UTF-8"),
            (b"a,b\n1,2\n", "first row must name the columns"),
            (b"x" * 2_100_000, "2.1 MB"),
        ):
            with self.assertRaisesRegex(BadTable, words):
                records_in(data)
        many = "when,kind,what,value\n" + "2026,guess,x,1\n" * 40
        with self.assertRaisesRegex(BadTable, f"And {40 - MOST_FAULTS} more"):
            records_in(many.encode())

    def test_a_formula_is_kept_from_the_spreadsheet_and_comes_back(self) -> None:
        put_item(
            self.user,
            self.job,
            "record",
            "f",
            {"kind": "drive", "when": "2026-10-21T10:00:00", "note": "=1+1"},
        )
        table = self.get("records.csv").content.decode()
        self.assertIn("'=1+1", table)
        self.assertIn("=1+1", [record.get("note") for record in records_in(table.encode())])
        self.assertTrue(json.dumps(self.records()))
