"""What leaves the shop is read back: drawings opened again, check lines measured, lists added up, nothing half written."""

import csv
import io
import json
import math
import re
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
from django.conf import settings
from django.core.management import call_command
from ezdxf.bbox import extents
from ezdxf.document import Drawing
from ezdxf.filemanagement import read
from ezdxf.path import make_path

from engine.document.read import check_project
from engine.shop.job_parts import job_parts
from engine.shop.made import Flat, Fold
from engine.shop.outline import area_of, bulged
from server.shop.drawings import etched, flat_dxf
from server.shop.files import all_files, write_all

EXAMPLES = settings.ROOT / "docs" / "examples"
HERON = settings.ROOT / "server" / "demo" / "files" / "heron-three-wheeler.json"


def project(path: Path = HERON):  # type: ignore[no-untyped-def]
    return check_project(json.loads(path.read_text("utf-8")))


def drawing(data: bytes) -> Drawing:
    return read(io.StringIO(data.decode()))


class Files(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.parts = job_parts(project())
        cls.files = all_files(project())
        made = next(part for part in cls.parts.parts if part.kind == "plate")
        cls.plate = made.flat

    def test_a_plates_dxf_is_closed_true_and_as_large_as_the_engine_says(self) -> None:
        plate = self.plate
        for turned, way in ((False, 1), (True, -1)):
            text = flat_dxf(plate.other_hand if turned else plate, "rocker")
            if not turned:
                opened = drawing(self.files["plates/front-left-rocker-plate.dxf"])
                self.assertEqual(opened.units, 4)  # millimetres
            opened = drawing(text.encode())
            self.assertEqual(opened.audit().errors, [])
            self.assertEqual({"CUT", "ETCH", "BEND"} - {layer.dxf.name for layer in opened.layers}, set())
            (outline,) = opened.modelspace().query("LWPOLYLINE")
            self.assertTrue(outline.closed)
            spots = np.array([(p.x, p.y) for p in make_path(outline).flattening(0.0005)])
            area = abs(
                float(
                    (spots[:, 0] * np.roll(spots[:, 1], -1) - np.roll(spots[:, 0], -1) * spots[:, 1]).sum()
                    / 2
                )
            )
            self.assertAlmostEqual(area / abs(area_of(list(plate.outline))), 1.0, places=4)
            circles = opened.modelspace().query('CIRCLE[layer=="CUT"]')
            got = sorted((round(c.dxf.center.x, 3), round(c.dxf.center.y, 3), c.dxf.radius) for c in circles)
            want = sorted((round(h.x, 3), round(way * h.y, 3), h.diameter / 2) for h in plate.holes)
            self.assertEqual(got, want)

    def test_the_svg_is_in_millimetres_and_holds_the_same_holes(self) -> None:
        plate = self.plate
        text = self.files["plates/front-left-rocker-plate.svg"].decode()
        wide, box = re.search(r'width="([\d.]+)mm".*viewBox="0 0 ([\d.]+) ', text).groups()  # type: ignore[union-attr]
        self.assertEqual(wide, box)
        self.assertEqual(
            sorted(float(r) for r in re.findall(r'r="([\d.]+)"', text)),
            sorted(h.diameter / 2 for h in plate.holes),
        )

    def test_every_sheet_has_check_lines_of_their_length(self) -> None:
        text = self.files["templates.pdf"].decode("latin-1")
        pages = text.count("/Type /Page\n") or len(re.findall(r"/Type /Page\b(?!s)", text))
        lines = [
            tuple(map(float, found))
            for found in re.findall(r"n ([\d.-]+) ([\d.-]+) m ([\d.-]+) ([\d.-]+) l S", text)
        ]
        lengths = [round(math.hypot(c - a, d - b) * 25.4 / 72, 2) for a, b, c, d in lines]
        self.assertGreaterEqual(pages, 3)
        self.assertEqual(lengths.count(100.0), pages)
        self.assertEqual(lengths.count(101.6), pages)

    def test_the_skeleton_holds_every_point(self) -> None:
        opened = drawing(self.files["skeleton.dxf"])
        self.assertEqual(opened.audit().errors, [])
        spots = {
            tuple(round(c, 3) for c in point.dxf.location) for point in opened.modelspace().query("POINT")
        }
        for station in self.parts.solved:
            for spot in station.station.points.values():
                self.assertIn(tuple(round(float(c), 3) for c in spot), spots)

    def test_the_lists_add_up(self) -> None:
        values = json.loads(self.files["parts.json"])
        cut = list(csv.DictReader(io.StringIO(self.files["cut-list.csv"].decode())))
        tubes = [part for part in values["parts"] if part.get("cut")]
        pieces = [row for row in cut if row["wide mm"] == ""]
        many = [part["count"] * part["hands"] for part in tubes]
        self.assertEqual(len(pieces), sum(many))
        self.assertAlmostEqual(
            sum(float(row["cut mm"]) for row in pieces),
            sum(part["cut"] * count for part, count in zip(tubes, many, strict=True)),
            delta=0.05 * len(pieces),
        )
        plates = [part for part in values["parts"] if "file" in part]
        self.assertEqual(len(cut) - len(pieces), sum(part["count"] * part["hands"] for part in plates))
        for part in plates:
            self.assertIn(part["file"], self.files)
        rods = [part for part in values["parts"] if part["kind"] == "rod"]
        hardware = list(csv.DictReader(io.StringIO(self.files["hardware.csv"].decode())))
        ends = sum(int(row["count"]) for row in hardware if row["what"] == "rod end")
        self.assertEqual(ends, 2 * sum(part["count"] * part["hands"] for part in rods))
        bought = list(csv.DictReader(io.StringIO(self.files["order.csv"].decode())))
        self.assertEqual(sum(int(row["needed"]) for row in bought if row["what"] == "rod end"), ends)
        for mount in values["set_out"]:
            self.assertEqual(len(mount["tapes"]), 3)
            self.assertTrue(all(0.5 <= value <= 10 for value in mount["close_enough"]))

    def test_a_part_says_what_the_contract_names(self) -> None:
        parts = {
            (part["station"], part["name"]): part for part in json.loads(self.files["parts.json"])["parts"]
        }
        rod, plate = parts["Front left", "pushrod"], parts["Front left", "rocker plate"]
        for key in ("tube_length", "centre_to_centre", "change_per_turn", "buckling_factor"):
            self.assertIsInstance(rod[key], float, key)
        self.assertEqual((rod["kind"], rod["count"], plate["count"]), ("rod", 1, 2))
        self.assertEqual({hole["for"] for hole in plate["holes"]}, {"pivot", "rod", "damper"})
        self.assertEqual(plate["holes"][0]["at"], [0.0, 0.0])
        for part in parts.values():
            self.assertGreaterEqual(part["mass"], 0)
            self.assertEqual(
                part["weakest"], min(part["checks"], key=lambda check: check["factor"], default=None)
            )

    def test_names_are_said_as_people_say_them_and_no_wider_than_their_part(self) -> None:
        plates = 0
        for name, data in self.files.items():
            if name.endswith(".csv"):
                self.assertNotIn("_", data.decode(), name)
            if not name.endswith(".dxf") or "plates/" not in name:
                continue
            texts, outlines = [], []
            for entity in drawing(data).modelspace():
                if entity.dxftype() == "TEXT" and entity.dxf.layer == "ETCH":
                    texts.append((entity.dxf.text, entity.dxf.height))
                if entity.dxf.layer == "CUT":
                    outlines.append(entity)
            box = extents(outlines)
            for words, tall in texts:
                self.assertNotIn("_", words, name)
                # A letter of the plainest font is no wider than it is tall.
                self.assertLessEqual(len(words) * tall, box.size.x + 0.01, (name, words))
            plates += 1
        self.assertGreater(plates, 5)

    def test_long_names_go_on_lines_of_their_own(self) -> None:
        for words, wide in (("lower front tab, 4 mm S355", 30.0), ("x" * 60, 25.0), ("rocker", 200.0)):
            tall, lines = etched(words, wide)
            self.assertEqual(" ".join(lines), words)
            self.assertLessEqual(max(len(line) for line in lines) * tall, wide + 1e-9)
            self.assertLessEqual(tall, 4.0)

    def test_a_folded_plate_and_an_inch_drawing(self) -> None:
        fold = Fold(one=(20.0, 0.0), other=(20.0, 60.0), angle=45.0)
        corners = [(0.0, 0.0, 0.0), (254.0, 0.0, 0.0), (254.0, 60.0, 0.0), (0.0, 60.0, 0.0)]
        flat = Flat(outline=tuple(bulged(corners)), thickness=5, grade="S355", folds=(fold,))
        opened = drawing(flat_dxf(flat, "strip", inches=True).encode())
        self.assertEqual(opened.units, 1)
        (outline,) = opened.modelspace().query("LWPOLYLINE")
        self.assertAlmostEqual(max(x for x, *_ in outline.get_points()), 10.0)
        self.assertEqual(len(opened.modelspace().query('LINE[layer=="BEND"]')), 1)
        turned = flat.other_hand
        self.assertEqual((turned.folds[0].angle, turned.folds[0].other), (-45.0, (20.0, -60.0)))

    def test_a_tape_is_as_long_as_the_places_are_apart(self) -> None:
        places = {f"{s.name}/{p}": np.array(spot) for s in project().stations for p, spot in s.points.items()}
        places |= {name: np.array(spot) for name, spot in project().survey.marks.items()}
        for mount in json.loads(self.files["parts.json"])["set_out"]:
            for tape in mount["tapes"]:
                apart = np.linalg.norm(places[f"{mount['station']}/{mount['point']}"] - places[tape["to"]])
                self.assertAlmostEqual(float(apart), tape["length"], places=2)

    def test_headless_for_every_example_and_a_folder_that_cannot_be_written(self) -> None:
        for path in sorted(EXAMPLES.glob("*.json")):
            with tempfile.TemporaryDirectory() as folder:
                out = Path(folder) / "made"
                call_command("make", str(path), "--out", str(out), stdout=io.StringIO())
                there = {str(file.relative_to(out)) for file in out.rglob("*") if file.is_file()}
            wanted = {"parts.json", "cut-list.csv", "hardware.csv", "order.csv", "set-out.csv"}
            self.assertLessEqual(
                wanted | {"skeleton.dxf", "templates.pdf", "build-sheet.pdf", "mounts.pdf"}, there, path.name
            )
        said = io.StringIO()
        with tempfile.NamedTemporaryFile() as file, self.assertRaises(SystemExit) as end:
            call_command("make", str(HERON), "--out", f"{file.name}/made", stderr=said)
        self.assertEqual(end.exception.code, 2)
        self.assertIn("cannot be written", said.getvalue())

    def test_nothing_is_left_half_written(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "made"
            with self.assertRaises(TypeError):
                write_all({"a.txt": b"x", "b.txt": None}, out)  # type: ignore[dict-item]
            self.assertEqual(list(Path(folder).iterdir()), [])
