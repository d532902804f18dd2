"""Papers: tiles joined give back the outline, words are wrapped and not lost, lists keep formulas out."""

import csv
import json
import math
import re
import zipfile
from io import BytesIO, StringIO
from unittest import TestCase as PlainTestCase

from django.contrib.auth import get_user_model
from django.test import TestCase
from pypdf import PdfReader

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.sentences import spoken
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Cut, Flat, Hole, Made, TubeEnd
from engine.shop.outline import Circle, hull
from engine.shop.parts import StationParts
from engine.shop.stock import Tube
from server.paper.sheets import FOOT, MARGIN, NoPaper, sheet_of
from server.parts.models import Part
from server.shop.build_book import build_sheet_pdf
from server.shop.lists import cut_list, hardware
from server.shop.papers import OVERLAP, templates_pdf
from server.tables import table

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
    flat = Flat(outline=tuple(outline), thickness=6, grade="S355", holes=holes)
    plate = Made(
        station="Large", name="rocker", kind="plate", subject=("plate", "rocker"), proposed=True, flat=flat
    )
    return with_parts(parts, plate)


def with_parts(parts: JobParts, *made: Made) -> JobParts:
    station = StationParts(station="Large", parts=made, factor=2.0)
    return JobParts(project=parts.project, makers=(), stations=(station,), mounts=())


class Templates(PlainTestCase):
    def test_tiles_joined_give_back_the_holes_where_they_are(self) -> None:
        text = templates_pdf(large(job())).decode("latin-1")
        pages = text.split("/Type /Page\n")[1:] or re.split(r"/Type /Page\b(?!s)", text)[1:]
        page = sheet_of("A4")
        wide, tall = page.wide, page.tall
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
        self.assertIn("there is nothing to print", templates_pdf(with_parts(job())).decode("latin-1"))

    def test_a_coped_end_is_printed_as_wide_as_its_tube_goes_round(self) -> None:
        tube = Tube(outside=38.0, wall=3.0)
        cut = Cut(tube=tube, length=400.0, ends=(TubeEnd(met=30.0, angle=60.0), TubeEnd(mitre=10.0)))
        leg = Made(
            station="Large", name="leg", kind="tower", subject=("tower", "leg"), proposed=False, cut=cut
        )
        text = templates_pdf(with_parts(job(), leg)).decode("latin-1")
        lines = re.findall(r"n ((?:[\d.-]+ [\d.-]+ [ml]\s){100,})h\s+S", text)
        self.assertEqual(len(lines), 2)
        for line in lines:
            xs = [float(x) * POINT for x, _ in re.findall(r"([\d.-]+) ([\d.-]+) [ml]", line)]
            self.assertAlmostEqual(max(xs) - min(xs), math.pi * 38.0, delta=0.05)
        self.assertIn("witness line", text)

    def test_pages_that_can_be_printed_and_one_that_cannot(self) -> None:
        for paper, wide in (("A3", 297.0), ("Letter", 215.9)):
            self.assertAlmostEqual(sheet_of(paper).page[0], wide, places=1)
            self.assertTrue(templates_pdf(job(), paper=paper).startswith(b"%PDF"))
        with self.assertRaises(NoPaper) as refused:
            sheet_of("Foolscap")
        self.assertIn("A4, A3, Letter", str(refused.exception))

    def test_every_sheet_says_what_it_is_and_that_it_is_no_certificate(self) -> None:
        text = templates_pdf(job(), "revision 3, ada").decode("latin-1")
        self.assertIn("revision 3, ada", text)
        self.assertIn("No certificate", text)
        self.assertIn("Print at 100 %", text)

    def test_a_build_sheet_a_station(self) -> None:
        data = build_sheet_pdf(job(), "ada")
        self.assertTrue(data.startswith(b"%PDF"))
        self.assertGreaterEqual(len(re.findall(rb"/Type /Page\b(?!s)", data)), 1)


class Lists(PlainTestCase):
    def test_bars_are_never_cut_longer_than_they_are(self) -> None:
        rows = list(csv.DictReader(StringIO(cut_list(job()))))
        self.assertTrue(rows)
        self.assertTrue(all(float(row["left of the bar mm"] or 0) >= 0 for row in rows))

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
        self.assertIn("pieces", made["verdict"]["words"])
        rod = next(one for one in made["parts"] if one["name"] == "rod")
        figures = {figure["key"]: figure["value"] for figure in rod["figures"]}
        self.assertLess(figures["tube_length"], figures["centre_to_centre"])
        self.assertAlmostEqual(rod["tube"]["length"], figures["tube_length"])
        plate = next(one for one in made["parts"] if one["kind"] == "plate")
        self.assertTrue(plate["flat"]["path"].endswith("Z"))
        self.assertTrue(all(isinstance(value, int | float) for value in plate["flat"]["box"]))

    def sent(self, path: str, **more: object):  # type: ignore[no-untyped-def]
        body = json.dumps({"document": self.document, **more})
        return self.client.post(path, body, content_type="application/json")

    def test_whether_they_fit_is_a_second_answer(self) -> None:
        self.assertEqual(set(self.sent("/api/make/fits").json()), {"mark", "verdict", "fits"})

    def test_what_is_cut_and_what_is_bought_less_the_shelf(self) -> None:
        before = self.sent("/api/make/stock").json()
        bolt = next(line for line in before["lines"] if line["what"].startswith("bolt"))
        size, long = re.match(r"M([\d.]+) × ([\d.]+) mm", bolt["size"]).groups()  # type: ignore[union-attr]
        owner = get_user_model().objects.get(username="ada")
        values = {"size_mm": float(size), "length_mm": float(long), "lead_days": 3.0}
        Part.objects.create(
            owner=owner, kind="bolt", name="b", values=values, stock=bolt["needed"], price="0.80"
        )
        after = self.sent("/api/make/stock").json()
        again = next(
            line for line in after["lines"] if line["size"] == bolt["size"] and line["what"] == bolt["what"]
        )
        self.assertEqual((again["buy"], again["price"], again["lead_days"]), (0, "0.80", 3.0))
        self.assertTrue(after["bars"] and after["sheets"])

    def test_a_job_in_inch_sizes_is_cut_from_what_is_bought_for_it(self) -> None:
        self.document["sizes"] = "inch"
        found = self.sent("/api/make/stock").json()
        bought = " ".join(line["size"] for line in found["lines"] if line["what"] in ("tube", "plate"))
        self.assertTrue(found["bars"] and found["sheets"])
        for bar in found["bars"]:
            self.assertEqual(bar["long"], 6096.0)
            self.assertIn(bar["stock"].removeprefix("tube "), bought)
        for sheet in found["sheets"]:
            self.assertEqual((sheet["wide"], sheet["high"]), (48 * 25.4, 24 * 25.4))
            self.assertRegex(sheet["stock"], r"^plate \d+/\d+ in S\d+$")
            self.assertIn(sheet["stock"].removeprefix("plate "), bought)

    def test_a_parts_own_drawing(self) -> None:
        made = self.sent("/api/make").json()
        plate = next(one for one in made["parts"] if one["kind"] == "plate")
        which = {"station": plate["station"], "name": plate["name"]}
        for form, starts in (
            ("dxf", b"  0\nSECTION"),
            ("dxf-inch", b"  0\nSECTION"),
            ("svg", b"<svg"),
            ("pdf", b"%PDF"),
        ):
            answer = self.sent("/api/make/file", **which, form=form)
            self.assertEqual(answer.status_code, 200, form)
            self.assertTrue(answer.content.startswith(starts), form)
        rod = next(one for one in made["parts"] if one["kind"] == "rod")
        refused = self.sent("/api/make/file", station=rod["station"], name=rod["name"], form="dxf")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("is no plate", refused.json()["detail"])
        gone = self.sent("/api/make/file", station="nowhere", name="x", form="dxf")
        self.assertEqual(gone.status_code, 404)
        paper = self.sent("/api/make/file", **which, form="pdf", paper="Quarto")
        self.assertIn("no page that can be printed", paper.json()["detail"])

    def test_a_build_sheet_of_one_station(self) -> None:
        path = f"/api/jobs/{self.job}/revisions/1/build-sheet.pdf"
        name = self.document["stations"][0]["name"]
        self.assertTrue(self.client.get(path, {"station": name}).content.startswith(b"%PDF"))
        self.assertEqual(self.client.get(path, {"station": "nowhere"}).status_code, 404)

    def test_a_page_for_every_mount_with_its_figures_large_enough_for_a_wall(self) -> None:
        path = f"/api/jobs/{self.job}/revisions/1/mounts.pdf"
        self.assertIn("no page", self.client.get(path, {"paper": "Quarto"}).json()["detail"])
        mounts = [one for one in job_parts(check_project(self.document)).mounts if one.on is None]
        for paper in ("A4", "Tabloid"):
            pages = PdfReader(BytesIO(self.client.get(path, {"paper": paper}).content)).pages
            self.assertEqual(len(pages), len(mounts))
            for page, mount in zip(pages, mounts, strict=True):
                sizes, corners = [], []

                def seen(text: str, cm: list[float], tm: list[float], _: object, size: float) -> None:
                    if text.strip():
                        sizes.append(size * abs(cm[3] or 1.0))  # noqa: B023
                        corners.append((cm[4] + tm[4] * cm[0], cm[5] + tm[5] * cm[3]))  # noqa: B023

                words = page.extract_text(visitor_text=seen)
                self.assertIn(spoken(mount.point), words)
                for value in (mount.up, mount.out, *(long for _, long in mount.tapes)):
                    self.assertIn(
                        f"{value:.1f}".removesuffix(".0").replace("-", "\u2212"), words, mount.point
                    )
                self.assertIn("Read back", words)
                self.assertGreaterEqual(min(sizes), 9.0)
                wide, tall = float(page.mediabox.width), float(page.mediabox.height)
                self.assertGreater(wide, tall)  # it lies on its side
                self.assertTrue(all(0 < x < wide and 0 < y < tall for x, y in corners))

    def test_a_rod_shorter_than_its_ends_is_a_sentence(self) -> None:
        document = json.loads(json.dumps(self.document))
        document["stations"][0]["rods"] = {"rod": {"thread": 12, "engagement": 8, "hands": ["left", "left"]}}
        made = self.client.post(
            "/api/make", json.dumps({"document": document}), content_type="application/json"
        ).json()
        rod = next(one for one in made["parts"] if one["name"] == "rod")
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
