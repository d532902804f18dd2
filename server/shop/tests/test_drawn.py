"""The pens: texts are no wider than the drawing takes them for; the PDF read back has every figure; the DXF its dimensions apart."""

import io
import re
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import ezdxf
import numpy as np
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from engine.document.read import read_project
from engine.drawing.flat import flat_drawing, fractions, millimetres
from engine.drawing.flat import inches as in_inches
from engine.drawing.model import text_wide
from engine.drawing.setting_out import setting_out_drawing
from engine.drawing.tube import tube_drawing
from engine.sentences import spoken
from engine.shop.buying import OnShelf
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.stock import Tube
from engine.shop.torque import torque
from engine.vehicle.wheels import vehicle_of
from server.paper.letterhead import Letterhead
from server.paper.setting import fonts
from server.shop.build_book import build_sheet_pdf
from server.shop.drawings import flat_dxf, sheet_dxf
from server.shop.lists import cut_list
from server.shop.papers import templates_pdf

DEMOS = Path(__file__).parents[2] / "demo" / "files"


def heron() -> JobParts:
    return job_parts(read_project((DEMOS / "heron-three-wheeler.json").read_bytes()), fitted=False)


class Pens(TestCase):
    def test_no_text_is_wider_than_the_drawing_takes_it_for(self) -> None:
        fonts()
        parts = heron()
        drawings = [flat_drawing(part.flat, part.name) for part in parts.parts if part.flat]
        drawings += [tube_drawing(part, part.name) for part in parts.parts if part.cut]
        drawings += [
            setting_out_drawing(mount, parts.works[0].station, parts.tabs_at(mount)) for mount in parts.mounts
        ]
        for drawing in drawings:
            for text in drawing.every_text:
                font = "BookBold" if text.bold else "Book"
                self.assertLessEqual(
                    stringWidth(text.words, font, text.height),
                    text_wide(text.words, text.height, text.bold),
                    text.words,
                )

    def test_the_book_has_every_mount_and_every_part_of_its_station_and_few_pages(self) -> None:
        parts = heron()
        pages = PdfReader(io.BytesIO(build_sheet_pdf(parts, "revision 2, ada", only="Front left"))).pages
        self.assertLess(len(pages) - 1, 14)  # the cover is the job's
        text = "\n".join(page.extract_text() for page in pages)
        self.assertIn("no certificate", text)
        self.assertIn("revision 2, ada", text)
        for part in parts.stations[0].parts:
            self.assertIn(spoken(part.name).split(",")[0], text)
            if part.cut is not None:
                self.assertIn(f"{part.cut.length:.1f}", text)
        for mount in parts.mounts:
            if mount.station == "Front left" and mount.on is None:
                self.assertIn(f"up from the floor {mount.up:.1f}".rstrip("0").rstrip("."), text)

    def test_the_book_ends_with_the_sheets_for_the_floor_and_every_bolt_has_its_torque(self) -> None:
        parts = heron()
        texts = [page.extract_text() for page in PdfReader(io.BytesIO(build_sheet_pdf(parts, "ada"))).pages]
        for station, solved in zip(parts.stations, parts.solved, strict=True):
            (sheet,) = [one for one in texts if f"Cycle sheet: {spoken(station.station)}" in one]
            drawn = solved.at(np.array([-solved.station.travel.droop])).units
            for unit in solved.station.units:
                if unit.kind in ("coilover", "damper", "spring", "air_spring"):
                    self.assertIn(f"{drawn[unit.name].length[0]:.1f} mm", sheet)
        self.assertIn("Weigh-in sheet", texts[-1])
        for wheel in vehicle_of(parts.project).apart().wheels:
            self.assertIn(f"{wheel.mass:.1f} kg", texts[-1])
        whole = " ".join(" ".join(texts).split())
        for part in parts.parts:
            for stack in part.stacks:
                tight = f"{torque(stack.bolt.of.thread):.0f}"
                told = re.findall(rf"{re.escape(stack.bolt.said)}, grip ([\d.]+) mm {tight} N·m dry", whole)
                self.assertIn(millimetres(stack.grip), told)
                # The bolt as it was chosen: what it grips, its washers, the nut, and the thread beyond it.
                nut = next(layer.width for layer in stack.layers if layer.what == "lock nut")
                self.assertAlmostEqual(stack.bolt.length - stack.grip - nut, stack.bolt.beyond, delta=0.05)

    def test_in_inches_with_the_shop_at_its_head_every_length_is_in_inches(self) -> None:
        parts = heron()
        head = Letterhead(name="Plumb and Square", address="1 Bench Lane\nAnvil End")
        made = build_sheet_pdf(parts, "ada", "Letter", "Front left", inches=True, head=head)
        texts = [page.extract_text() for page in PdfReader(io.BytesIO(made)).pages]
        for words in ("Plumb and Square", "1 Bench Lane", "Anvil End"):
            self.assertIn(words, texts[0])
        whole = " ".join(" ".join(texts).split())
        for part in parts.stations[0].parts:
            if part.cut is not None:
                self.assertIn(f"{in_inches(part.cut.length)} in", whole)
                self.assertNotIn(f"{part.cut.length:.1f} mm", whole)
        for part in parts.stations[0].parts:
            for stack in part.stacks:
                self.assertIn(f"{stack.bolt.said}, grip {in_inches(stack.grip)} in", whole)
        for mount in parts.mounts:
            if mount.station == "Front left" and mount.on is None:
                self.assertIn(f"up from the floor {in_inches(mount.up)}", whole)
        self.assertIn(" lb", whole)
        self.assertNotRegex(whole, r"\d kg")

    def test_an_inch_shop_that_reads_fractions_has_them_where_it_tapes(self) -> None:
        parts = heron()
        made = build_sheet_pdf(parts, "ada", "Letter", "Front left", inches=True, fractions=True)
        whole = " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(made)).pages).split())
        for part in parts.stations[0].parts:
            if part.cut is not None:
                self.assertIn(f"cut {fractions(part.cut.length)} in", whole)
            for stack in part.stacks:
                self.assertIn(f"{stack.bolt.said}, grip {in_inches(stack.grip)} in", whole)

    def test_the_contents_say_the_page_on_which_a_station_begins(self) -> None:
        pages = PdfReader(io.BytesIO(build_sheet_pdf(heron(), "ada"))).pages
        contents = pages[0].extract_text()
        for name in ("Front right", "Rear wheel"):
            begins = next(k for k, page in enumerate(pages) if f"{name}, 1:" in page.extract_text())
            self.assertRegex(contents, rf"{name}\s+\d+\s+{begins + 1}\b")

    def test_templates_go_together_on_few_pages_each_with_its_name(self) -> None:
        parts = heron()
        pages = PdfReader(io.BytesIO(templates_pdf(parts))).pages
        plates = [part for part in parts.parts if part.flat is not None]
        self.assertLess(len(pages), len(plates) / 3)
        text = " ".join(" ".join(page.extract_text() for page in pages).split())
        for part in plates:
            self.assertIn(f"{part.station}, {spoken(part.name)}".split(",")[0], text)
        self.assertEqual(text.count("100 mm"), len(pages))

    def test_dimensions_stand_on_a_layer_of_their_own(self) -> None:
        for part in heron().parts:
            if part.flat is None:
                continue
            for inches, size in ((False, 1.0), (True, 25.4)):
                document = ezdxf.read(io.StringIO(flat_dxf(part.flat, part.name, inches)))
                self.assertFalse(document.audit().errors)
                space = document.modelspace()
                dimensions = space.query("DIMENSION")
                drawn = [one for one in flat_drawing(part.flat, "").dimensions if one.kind != "angle"]
                self.assertEqual(len(dimensions), len(drawn))
                self.assertEqual({one.dxf.layer for one in dimensions}, {"DIM"})
                at = sorted(
                    round(float(one.dxf.defpoint2.x - one.dxf.defpoint.x) * size, 1)
                    for one in dimensions
                    if one.dimtype == 6 and one.dxf.dimtype & 64
                )
                wanted = sorted(round(one.value, 1) for one in drawn if one.kind == "x")
                for one, other in zip(at, wanted, strict=True):
                    self.assertAlmostEqual(one, other, delta=0.11)
                cut = [one for one in space if one.dxf.layer == "CUT"]
                self.assertEqual(len(cut), 1 + len(part.flat.holes))

    def test_a_sheet_goes_to_the_cutter_with_every_piece_where_it_lies(self) -> None:
        parts = heron()
        for sheet in sheets(parts.parts, parts.stock):
            document = ezdxf.read(io.StringIO(sheet_dxf(sheet, "sheet")))
            self.assertFalse(document.audit().errors)
            space = document.modelspace()
            cut = [one for one in space if one.dxf.layer == "CUT"]
            edges = sum(1 + len(piece.flat.holes) for piece in sheet.pieces if piece.flat is not None)
            self.assertEqual(len(cut), edges)
            # By a second route: the middles of the file's own circles are the holes of the pieces as they lie.
            circles = sorted((round(one.dxf.center.x, 3), round(one.dxf.center.y, 3)) for one in cut if one.dxftype() == "CIRCLE")  # fmt: skip
            holes = sorted(
                (round(arc.circle.x, 3), round(arc.circle.y, 3))
                for piece in sheet.pieces
                if piece.flat is not None
                for hole in piece.flat.holes
                if hole.to is None
                for arc in piece.lying(hole.edge)
            )
            self.assertEqual(circles, holes)
            for x, y in circles:
                self.assertTrue(0 < x < sheet.wide and 0 < y < sheet.high)

    def test_the_book_says_what_is_cut_from_which_bar_and_sheet(self) -> None:
        parts = heron()
        pages = PdfReader(io.BytesIO(build_sheet_pdf(parts, "ada"))).pages
        told = " ".join(" ".join(page.extract_text() for page in pages[-6:]).split())
        self.assertRegex(pages[0].extract_text(), r"Cut from which bar, and which sheet\s+\d+")
        for bar in bars(parts.parts, parts.stock):
            self.assertIn(f"{bar.stock}: {millimetres(bar.long)} mm", told)
            for piece in bar.pieces:
                self.assertIn(
                    f"{millimetres(piece.long)} {spoken(piece.part)}, {spoken(piece.station)}", told
                )
        for sheet in sheets(parts.parts, parts.stock):
            self.assertIn(f"used to {millimetres(sheet.used)} mm of it", told)
            for piece in sheet.pieces:
                self.assertIn(f"× {spoken(piece.part)}, {spoken(piece.station)}", told)

    def test_bars_of_the_rack_are_cut_first_in_the_book_as_in_the_cut_list(self) -> None:
        parts = heron()
        (bar, *_) = bars(parts.parts, parts.stock)
        piece = next(part for part in parts.parts if part.cut is not None and part.cut.stock == bar.stock)
        assert piece.cut is not None and isinstance(piece.cut.tube, Tube)
        tube = piece.cut.tube
        values = {
            "outside_mm": tube.outside,
            "wall_mm": tube.wall,
            "yield_n_per_mm2": 235.0,
            "length_mm": 912.0,
        }
        shelf = [OnShelf(kind="tube", name="offcut", stock=1, values=values)]
        made = build_sheet_pdf(parts, "ada", shelf=shelf)
        told = " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(made)).pages).split())
        self.assertIn(f"{bar.stock}: 912 mm, on the rack", told)
        self.assertIn("912.0", cut_list(parts, shelf))

    def test_a_bar_of_more_pieces_than_a_page_has_lines_is_printed_smaller_and_not_refused(self) -> None:
        parts = heron()
        short = next(part for part in parts.parts if part.cut is not None and part.cut.length < 100)
        many = replace(parts, stations=[replace(one, parts=(*one.parts, replace(short, count=66, hands=1)) if one.station == short.station else one.parts) for one in parts.stations])  # fmt: skip
        text = " ".join(
            page.extract_text() for page in PdfReader(io.BytesIO(build_sheet_pdf(many, "ada"))).pages
        )
        row = rf"\d+ +[\d.]+ +{spoken(short.name)}, {spoken(short.station)}"
        told = sum(len(bar.pieces) for bar in bars(many.parts, many.stock) if bar.stock == short.cut.stock)  # type: ignore[union-attr]
        self.assertEqual((len(re.findall(row, text)), told), (67, 67))
