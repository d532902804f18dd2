"""Papers: tiles joined give back the outline, words are wrapped and not lost, lists keep formulas out."""

import json
import math
import re
import zipfile
from io import BytesIO
from unittest import TestCase as PlainTestCase

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.outline import Circle, hull
from engine.shop.parts import Hole, PlatePart, StationParts
from server.shop.lists import bolt_mm, cut_list, hardware, table
from server.shop.papers import A4, FOOT, MARGIN, OVERLAP, _wrapped, build_sheet_pdf, templates_pdf

POINT = 25.4 / 72


def job() -> JobParts:
    return job_parts(check_project(starting_project(layout_named("pushrod"))))


def large(parts: JobParts) -> JobParts:
    """Return a job with one plate that no sheet is large enough for."""
    holes = (
        Hole(what="pivot", x=0, y=0, diameter=22),
        Hole(what="rod", x=420, y=0, diameter=10),
        Hole(what="damper", x=60, y=330, diameter=12),
    )
    outline = hull([Circle(hole.x, hole.y, hole.diameter / 2 + 12) for hole in holes])
    plate = PlatePart(
        name="rocker", count=1, proposed=True, thickness=6, holes=holes, outline=tuple(outline), gap=0
    )
    station = StationParts(station="Large", rods=(), plates=(plate,))
    return JobParts(project=parts.project, solved=(), stations=(station,), mounts=())


class Templates(PlainTestCase):
    def test_tiles_joined_give_back_the_holes_where_they_are(self) -> None:
        text = templates_pdf(large(job())).decode("latin-1")
        pages = text.split("/Type /Page\n")[1:] or re.split(r"/Type /Page\b(?!s)", text)[1:]
        wide, tall = A4[0] - 2 * MARGIN, A4[1] - 2 * MARGIN - FOOT
        columns = math.ceil((420 + 17 + 23 + 4 - OVERLAP) / (wide - OVERLAP))
        rows = math.ceil((330 + 18 + 23 + 4 - OVERLAP) / (tall - OVERLAP))
        self.assertEqual(len(pages), columns * rows)
        moved = re.findall(r"1 0 0 1 ([\d.-]+) ([\d.-]+) cm", text)
        shifts = [(float(x) * POINT, float(y) * POINT) for x, y in moved if float(x) or float(y)]
        steps = sorted({round(shifts[0][0] - x, 2) for x, _ in shifts})
        self.assertIn(round(wide - OVERLAP, 2), steps)
        first = shifts[0]
        self.assertAlmostEqual(first[0], MARGIN + 2 + 23, delta=0.01)
        self.assertAlmostEqual(first[1], MARGIN + FOOT + 2 + 23, delta=0.01)

    def test_a_job_without_plates_says_so_on_its_sheet(self) -> None:
        parts = job_parts(check_project(starting_project(layout_named("trailing-arm"))))
        self.assertIn("there is nothing to print", templates_pdf(parts).decode("latin-1"))

    def test_every_sheet_says_what_it_is_and_that_it_is_no_certificate(self) -> None:
        text = templates_pdf(job(), "revision 3, ada").decode("latin-1")
        self.assertIn("revision 3, ada", text)
        self.assertIn("No certificate", text)
        self.assertIn("Print at 100 %", text)

    def test_a_build_sheet_a_station(self) -> None:
        data = build_sheet_pdf(job(), "ada")
        self.assertTrue(data.startswith(b"%PDF"))
        self.assertGreaterEqual(len(re.findall(rb"/Type /Page\b(?!s)", data)), 1)

    def test_words_are_wrapped_and_none_is_lost(self) -> None:
        words = "one two three four five six seven eight nine ten"
        lines = _wrapped(words, 16)
        self.assertTrue(all(len(line) <= 20 for line in lines))
        self.assertEqual(" ".join(line.strip() for line in lines), words)


class Lists(PlainTestCase):
    def test_bars_are_never_cut_longer_than_they_are(self) -> None:
        rows = [line.split(",") for line in cut_list(job()).splitlines()[1:]]
        self.assertTrue(rows)
        self.assertTrue(all(float(row[-1]) >= 0 for row in rows))

    def test_a_bolt_is_long_enough_for_what_it_holds(self) -> None:
        plate = large(job()).stations[0].plates[0]
        for diameter in (8.0, 10.0, 12.0, 16.0):
            long = bolt_mm(plate, diameter)
            self.assertGreaterEqual(long, plate.thickness + 0.8 * diameter)
            self.assertEqual(long % 5, 0)

    def test_hands_are_counted_apart(self) -> None:
        text = hardware(job())
        self.assertIn("left-hand", text)
        self.assertIn("right-hand", text)

    def test_a_name_that_a_spreadsheet_would_run_is_kept_from_it(self) -> None:
        self.assertIn("'=1+1", table(["name"], [["=1+1"]]))
        self.assertIn("12.3", table(["mm"], [[12.34]]))


class Api(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        self.document = starting_project(layout_named("pushrod"))
        sent = self.client.post(
            "/api/jobs/import", json.dumps(self.document), content_type="application/json"
        )
        self.job = sent.json()["id"]

    def test_the_parts_of_the_document_in_hand(self) -> None:
        answer = self.client.post(
            "/api/make", json.dumps({"document": self.document}), content_type="application/json"
        )
        made = answer.json()
        self.assertEqual(made["mark"], "good")
        self.assertIn("rods and plates", made["verdict"]["words"])
        rod = next(one for one in made["rods"] if one["name"] == "rod")
        outside = sum(end["shank"] - end["engagement"] + 4 for end in rod["ends"])
        self.assertAlmostEqual(rod["tube_length"] + outside, rod["centre_to_centre"], places=6)
        self.assertTrue(made["plates"][0]["path"].endswith("Z"))

    def test_a_rod_shorter_than_its_ends_is_a_sentence(self) -> None:
        document = json.loads(json.dumps(self.document))
        document["stations"][0]["rods"] = {"rod": {"thread": 12, "engagement": 8, "hands": ["left", "left"]}}
        made = self.client.post(
            "/api/make", json.dumps({"document": document}), content_type="application/json"
        ).json()
        rod = next(one for one in made["rods"] if one["name"] == "rod")
        said = " ".join(one["say"]["words"] for one in rod["said"])
        self.assertIn("threads of one hand", said)
        self.assertEqual(made["mark"], "fault")

    def test_everything_as_one_zip_and_not_for_strangers(self) -> None:
        path = f"/api/jobs/{self.job}/revisions/1/parts.zip"
        packed = zipfile.ZipFile(BytesIO(self.client.get(path).content))
        self.assertIsNone(packed.testzip())
        self.assertIn("build-sheet.pdf", packed.namelist())
        self.client.force_login(get_user_model().objects.create_user("eve", password="x"))
        self.assertEqual(self.client.get(path).status_code, 404)
