"""Drawings by second routes: nothing lies on anything, every outline is had again from what is written, scales are true."""

import itertools
import math
import re
from fractions import Fraction
from pathlib import Path
from unittest import TestCase

import numpy as np

from engine.document.frame_sides import tube_lines
from engine.document.read import read_project
from engine.drawing.arrangement import arrangement_drawing, vehicle_drawing
from engine.drawing.crossing import collisions, crosses, overlaps
from engine.drawing.cut_plan import bar_drawing, sheet_drawing
from engine.drawing.flat import datum_of, flat_drawing, fractions, inches, millimetres
from engine.drawing.joint import as_drawn, held_in, joint_drawing
from engine.drawing.labels import labelled
from engine.drawing.model import TEXT_MM, Drawing, Text
from engine.drawing.rocker_sweep import rocker_drawing
from engine.drawing.running import APART, spread
from engine.drawing.setting_out import setting_out_drawing
from engine.drawing.tube import tube_drawing
from engine.sentences import spoken
from engine.shop.cutting import bars, sheets
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Flat, Fold, Made
from engine.shop.outline import Arc, Circle, area_of, bulged, hull, sharp
from engine.sizing.rocker.wheel_side import RockerHere, rockers_here, wheel_side_of
from engine.station.solved import SolvedStation

ROOT = Path(__file__).parents[3]
FILES = [
    *sorted((ROOT / "server" / "demo" / "files").glob("*.json")),
    *sorted((ROOT / "docs" / "examples").glob("*.json")),
]
JOBS: dict[str, JobParts] = {}


def jobs() -> dict[str, JobParts]:
    for file in FILES:
        if file.name not in JOBS:
            JOBS[file.name] = job_parts(read_project(file.read_bytes()), fitted=False)
    return JOBS


def rockers_of(parts: JobParts) -> list[tuple[SolvedStation, Made, RockerHere]]:
    found = []
    for station, solved in zip(parts.stations, parts.solved, strict=True):
        here = {one.rocker: one for one in rockers_here(solved)}
        found += [(solved, part, here[part.subject[-1]]) for part in station.parts if part.kind == "plate" and part.subject[-1] in here]  # fmt: skip
    return found


class Clear(TestCase):
    def assert_clear(self, drawing: Drawing, what: str) -> None:
        self.assertEqual(collisions(drawing), [], what)

    def test_nothing_lies_on_anything_in_any_part_of_demos_and_examples(self) -> None:
        count = 0
        for name, parts in jobs().items():
            for part in parts.parts:
                if part.flat is not None:
                    self.assert_clear(flat_drawing(part.flat, part.name), f"{name} {part.name}")
                    self.assert_clear(flat_drawing(part.flat, part.name, (64, 84), largest=1.0), part.name)
                if part.cut is not None:
                    self.assert_clear(tube_drawing(part, part.name), f"{name} {part.name}")
                count += 1
        self.assertGreater(count, 200)

    def test_nor_in_any_joint_pulled_apart_nor_any_rocker_with_its_sweep(self) -> None:
        joints = rockers = 0
        for name, parts in jobs().items():
            for part in parts.parts:
                for stack in part.stacks:
                    drawing = joint_drawing(stack, f"{spoken(part.name)} ({', '.join(held_in(stack))})")
                    self.assert_clear(drawing, f"{name} {part.name}")
                    joints += 1
            for solved, part, here in rockers_of(parts):
                for room in ((120.0, 90.0), (60.0, 60.0)):
                    drawn = rocker_drawing(solved, here, part.flat, room)  # type: ignore[arg-type]
                    assert drawn is not None
                    self.assert_clear(drawn, f"{name} {part.name} {room}")
                rockers += 1
        self.assertGreater(joints, 100)
        self.assertGreater(rockers, 4)

    def test_nor_in_any_cut_plan_and_every_piece_is_told(self) -> None:
        for name, parts in jobs().items():
            for number, bar in enumerate(bars(parts.parts, parts.stock), start=1):
                drawing = bar_drawing(bar, number)
                self.assert_clear(drawing, f"{name} {bar.stock}")
                told = [text.words for text in drawing.texts]
                for k, piece in enumerate(bar.pieces, start=1):
                    self.assertIn(f"{k}  {millimetres(piece.long)}  {spoken(piece.part)}, {spoken(piece.station)}", told)  # fmt: skip
            for number, sheet in enumerate(sheets(parts.parts, parts.stock), start=1):
                drawing = sheet_drawing(sheet, number)
                self.assert_clear(drawing, f"{name} {sheet.stock}")
                rows = [text.words for text in drawing.texts if "×" in text.words and not text.bold]
                many = sum(int(row.split()[1]) for row in rows if row.split()[0].isdigit() and row.split()[2] == "×")  # fmt: skip
                self.assertEqual(many, len(sheet.pieces), name)

    def test_nor_in_any_setting_out_nor_arrangement(self) -> None:
        for name, parts in jobs().items():
            floor = 0.0 if parts.project.vehicle is None else parts.project.vehicle.floor
            for mount in parts.mounts:
                its = next((one.station for one in parts.works if one.station.name == mount.station), None)
                if mount.on is None:
                    tubes = tube_lines(parts.project)
                    drawing = setting_out_drawing(mount, its, parts.tabs_at(mount), floor=floor, tubes=tubes)
                    self.assert_clear(drawing, f"{name} {mount.station} {mount.point}")
                    # Every place that a tape goes to is told to its last word: left or right stands there.
                    told = " ".join(" ".join(text.words.split()) for text in drawing.texts)
                    for place, _ in mount.tapes:
                        self.assertIn(spoken(place.rpartition("/")[2]), told, f"{name} {mount.point}")
            for station, solved in zip(parts.stations, parts.solved, strict=True):
                drawing = arrangement_drawing(solved, station.parts)
                self.assert_clear(drawing, f"{name} {station.station}")
                said = {text.words for text in drawing.texts}
                shown = [n for n in range(1, len(station.parts) + 1) if str(n) in said]
                left = re.findall(
                    r"\d+",
                    next((t.words for t in drawing.texts if "no room" in t.words), "").split("balloon")[-1],
                )
                self.assertEqual(len(shown) + len(left), len(station.parts))
            self.assert_clear(vehicle_drawing(parts.solved, name), name)

    def test_what_lies_on_something_is_found(self) -> None:
        self.assertTrue(overlaps((0, 0, 2, 2), (1, 1, 3, 3)))
        self.assertFalse(overlaps((0, 0, 2, 2), (2, 0, 3, 3)))
        self.assertTrue(crosses((-1, 1), (3, 1), (0, 0, 2, 2)))
        self.assertFalse(crosses((-1, 3), (3, 3), (0, 0, 2, 2)))
        self.assertFalse(crosses((3, 1), (5, 1), (0, 0, 2, 2)))
        flat = Flat(outline=tuple(hull([Circle(0, 0, 20)])), thickness=5, grade="S355")
        its = flat_drawing(flat, "disc")
        ruined = Drawing(name="", wide=its.wide, tall=its.tall, scale=its.scale, origin=its.origin, edges=its.edges,
                         texts=(Text(words="across", at=its.origin), Text(words="outside", at=(its.wide, 5.0))),
                         lines=its.lines)  # fmt: skip
        self.assertEqual(len(collisions(ruined)), 2)


class Complete(TestCase):
    def outline_from(self, flat: Flat) -> list[Arc]:
        """Return a plate's outline from what its drawing says alone: running dimensions, radii, the order of going round."""
        drawing = flat_drawing(flat, "plate")
        across = sorted({one.text.words for one in drawing.dimensions if one.kind == "x"}, key=_number)
        up = sorted({one.text.words for one in drawing.dimensions if one.kind == "y"}, key=_number)
        radii = {_number(re.sub(r"^(\d+ × )?R", "", one.text.words).split()[0]) for one in drawing.dimensions if one.kind == "radius"}  # fmt: skip
        x0, y0 = datum_of(flat)
        again = []
        for arc in flat.outline:
            its = arc.circle
            x = min((_number(words) for words in across), key=lambda value: abs(value - (its.x - x0)))
            y = min((_number(words) for words in up), key=lambda value: abs(value - (its.y - y0)))
            radius = 0.0 if its.radius == 0 else min(radii, key=lambda value: abs(value - its.radius))
            again.append(Arc(Circle(x0 + x, y0 + y, radius), arc.start, arc.turn))
        return again

    def test_every_outline_is_had_again_from_what_is_written(self) -> None:
        for name, parts in jobs().items():
            for part in parts.parts:
                if part.flat is None:
                    continue
                again = self.outline_from(part.flat)
                for one, other in zip(part.flat.outline, again, strict=True):
                    for k in range(5):
                        turn = one.start + one.turn * k / 4
                        self.assertLess(math.dist(one.at(turn), other.at(turn)), 0.15, f"{name} {part.name}")
                share = area_of(again) / area_of(list(part.flat.outline))
                self.assertAlmostEqual(share, 1.0, delta=0.02)

    def test_every_hole_has_its_size_and_both_its_places(self) -> None:
        for name, parts in jobs().items():
            for part in parts.parts:
                if part.flat is None:
                    continue
                drawing = flat_drawing(part.flat, part.name)
                x0, y0 = datum_of(part.flat)
                values = {kind: [one.value for one in drawing.dimensions if one.kind == kind] for kind in ("x", "y", "diameter")}  # fmt: skip
                for hole in part.flat.holes:
                    self.assertTrue(
                        any(abs(v - (hole.x - x0)) < 0.06 for v in values["x"]), f"{name} {part.name}"
                    )
                    self.assertTrue(any(abs(v - (hole.y - y0)) < 0.06 for v in values["y"]))
                    self.assertTrue(any(abs(v - hole.diameter) < 1e-3 for v in values["diameter"]))

    def test_scale_is_true(self) -> None:
        for parts in jobs().values():
            for part in parts.parts:
                if part.flat is None:
                    continue
                drawing = flat_drawing(part.flat, part.name)
                for one, edge in zip(part.flat.holes, drawing.edges[1:], strict=True):
                    middle = (
                        drawing.origin[0] + one.x * drawing.scale,
                        drawing.origin[1] + one.y * drawing.scale,
                    )
                    self.assertLess(math.dist(middle, (edge.arcs[0].circle.x, edge.arcs[0].circle.y)), 1e-9)
                    self.assertAlmostEqual(edge.arcs[0].circle.radius, one.diameter / 2 * drawing.scale)

    def test_a_fold_says_which_way_it_goes(self) -> None:
        """A notch's bridge lies with its outer face up: where its outline turns right, it goes down."""
        square = tuple(sharp(x, y) for x, y in ((0, 0), (100, 0), (100, 40), (0, 40)))
        fold = Fold(one=(50.0, 0.0), other=(50.0, 40.0), angle=45.0)
        drawing = flat_drawing(Flat(outline=square, thickness=4, grade="S355", folds=(fold,)), "bridge")
        self.assertIn("bend 45.0° down", [text.words for text in drawing.every_text])

    def test_a_traced_outline_of_many_corners_has_a_table(self) -> None:
        corners = [(60 * math.cos(k / 4) + (k % 3), 60 * math.sin(k / 4) + (k % 2), 0.0) for k in range(25)]
        flat = Flat(outline=tuple(bulged(corners)), thickness=3, grade="S235")
        drawing = flat_drawing(flat, "card")
        self.assertEqual(collisions(drawing), [])
        self.assertTrue(any(text.words.startswith("no.") for text in drawing.texts))
        self.assertGreater(sum("R" not in text.words for text in drawing.texts), 25)


class Placing(TestCase):
    def test_texts_that_are_spread_keep_their_order_and_distance(self) -> None:
        for wanted in ([0.0, 0.1, 0.2, 30.0], [1.0, 2.0, 3.0, 4.0, 5.0], [0.0], []):
            found = spread(wanted, APART)
            self.assertTrue(all(b - a >= APART - 1e-9 for a, b in itertools.pairwise(found)))
            if wanted:
                self.assertAlmostEqual(sum(found) / len(found), sum(wanted) / len(wanted), delta=APART)

    def test_a_label_that_finds_no_room_is_left_out_and_covers_nothing(self) -> None:
        texts, _ = labelled([("far too long to have room here", (5.0, 5.0))], [], [], (0, 0, 10, 10))
        self.assertEqual(texts, [])

    def test_figures_are_written_as_a_bench_reads_them(self) -> None:
        for value, words in ((12.0, "12"), (12.34, "12.3"), (-5.55, "−5.5"), (-0.01, "0")):
            self.assertEqual(millimetres(value), words)
        self.assertGreaterEqual(TEXT_MM, 9 * 25.4 / 72)


def _number(words: str) -> float:
    return float(words.replace("−", "-"))


class Joints(TestCase):
    def test_everything_on_the_bolt_is_named_in_its_order_and_to_scale(self) -> None:
        for parts in jobs().values():
            for part in parts.parts:
                for stack in part.stacks:
                    drawing = joint_drawing(stack, part.name)
                    layers = sorted(stack.layers, key=lambda one: one.at)
                    said = [one.text for one in drawing.dimensions]
                    self.assertEqual([one.words.partition(",")[0] for one in said], [as_drawn(one) for one in layers])  # fmt: skip
                    heights = [one.at[1] for one in said]
                    self.assertEqual(heights, sorted(heights, reverse=True))
                    boxes = [line.through for line in drawing.lines if line.meaning == "outline"]
                    for layer, box in zip(layers, boxes, strict=True):
                        self.assertAlmostEqual(box[1][0] - box[0][0], layer.outside * drawing.scale, places=6)
                        thick = box[2][1] - box[1][1]
                        self.assertGreaterEqual(thick + 1e-9, layer.width * drawing.scale)
                        self.assertLessEqual(thick, max(layer.width * drawing.scale, 0.7) + 1e-9)


class Sweeps(TestCase):
    def test_a_rocker_turns_by_what_its_joint_goes_in_space(self) -> None:
        """By a second route: chord over arm, from the joint's own places; nothing of the plane is used."""
        told = re.compile(
            r"turns ([\d.]+)° to full droop \(([\d.]+) mm .*, ([\d.]+)° to full bump \(([\d.]+) mm"
        )
        seen = 0
        for parts in jobs().values():
            for solved, part, here in rockers_of(parts):
                drawing = rocker_drawing(solved, here, part.flat)  # type: ignore[arg-type]
                assert drawing is not None
                (found,) = [m for text in drawing.texts if (m := told.match(text.words))]
                droop, down, bump, up = (float(its) for its in found.groups())
                ends = solved.taken.travels
                self.assertAlmostEqual(down + up, float(ends[-1] - ends[0]), delta=0.11)
                stands = float(ends[0]) + down
                places = solved.at(np.array([float(ends[0]), stands, float(ends[-1])])).solution.motion.place
                joint = places[:, solved.linkage.index[here.rod_joint], :].T
                side = wheel_side_of(solved, here.rocker)
                arm = float(np.linalg.norm(side.joint - side.pivot))
                for one, other, turn in ((joint[0], joint[1], droop), (joint[1], joint[2], bump)):
                    chord = float(np.linalg.norm(one - other))
                    self.assertAlmostEqual(2 * math.degrees(math.asin(chord / (2 * arm))), turn, delta=0.3)
                seen += 1
        self.assertGreater(seen, 4)

    def test_its_holes_are_drawn_where_it_stands_as_far_apart_as_they_are_cut(self) -> None:
        for parts in jobs().values():
            for solved, part, here in rockers_of(parts):
                assert part.flat is not None
                drawing = rocker_drawing(solved, here, part.flat)
                assert drawing is not None
                middles = [(edge.arcs[0].circle.x, edge.arcs[0].circle.y) for edge in drawing.edges[3:]]
                holes = [hole for hole in part.flat.holes if hole.what != "lightening"]
                for (a, one), (b, other) in itertools.combinations(zip(middles, holes, strict=True), 2):
                    cut = math.dist((one.x, one.y), (other.x, other.y))
                    self.assertAlmostEqual(math.dist(a, b) / drawing.scale, cut, delta=0.01)


class Fractions(TestCase):
    def test_they_are_the_nearest_thirty_second_in_lowest_terms(self) -> None:
        for inch, words in ((0.0, "0"), (1.0, "1"), (2.5, "2 1/2"), (-2.40625, "−2 13/32"), (0.01, "0"), (0.999, "1"), (0.05, "1/16")):  # fmt: skip
            self.assertEqual(fractions(25.4 * inch), words)
        for tenths in range(-4000, 4000, 7):
            words = fractions(tenths / 10).replace("−", "-")
            whole, _, part = words.rpartition(" ") if "/" in words else (words, "", "0")
            sign = -1 if words.startswith("-") else 1
            value = sign * (abs(int(whole or 0)) + abs(Fraction(part)))
            self.assertLessEqual(abs(float(value) * 25.4 - tenths / 10), 25.4 / 64 + 1e-9)

    def test_what_is_taped_is_in_fractions_and_what_a_caliper_measures_is_not(self) -> None:
        parts = jobs()["heron-three-wheeler.json"]
        for mount in parts.mounts:
            if mount.on is None:
                its = next((one.station for one in parts.works if one.station.name == mount.station), None)
                drawing = setting_out_drawing(mount, its, parts.tabs_at(mount), fractions)
                self.assertEqual(collisions(drawing), [], mount.point)
                told = [text.words for text in drawing.texts]
                self.assertTrue(any(f"up from the floor {fractions(mount.up)}, within 0." in one for one in told), told)  # fmt: skip
        for part in parts.parts:
            if part.cut is not None:
                drawing = tube_drawing(part, part.name, fractions)
                self.assertEqual(collisions(drawing), [], part.name)
                self.assertIn(f"tube {fractions(part.cut.length)}", [one.text.words for one in drawing.dimensions])  # fmt: skip
            if part.flat is not None:
                one, other = (flat_drawing(part.flat, "", said=said) for said in (fractions, inches))
                self.assertEqual(*([text.words for text in its.every_text] for its in (one, other)))
