"""Bars and sheets, what is bought, what fits, and choices that cannot be: against brute force and by hand."""

import copy
import math
import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.linkage.vectors import Array
from engine.shop.buying import OnShelf, to_buy
from engine.shop.cutting import GAP_MM, Sheet, bars, by_box, sheets
from engine.shop.job_parts import job_parts, verdict
from engine.shop.made import Cut, Flat, Made
from engine.shop.nesting import nested
from engine.shop.outline import (
    Circle,
    area_of,
    box_of,
    bulged,
    hull,
    inside,
    mirrored,
    sharp,
    spots_of,
    through,
)
from engine.shop.parts import Maker, station_parts
from engine.shop.small import edge_left
from engine.shop.stock import METRIC, Tube
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def piece(name: str, long: float, count: int = 1, tube: Tube | None = None) -> Made:
    its = tube or Tube(outside=25.0, wall=2.0)
    return Made(station="s", name=name, kind="rod", subject=("rod", name), proposed=True, count=count, cut=Cut(tube=its, length=long))  # fmt: skip


class Cutting(unittest.TestCase):
    def test_every_piece_comes_out_of_some_bar_and_none_is_overfull(self) -> None:
        rng = np.random.default_rng(3)
        for _ in range(40):
            parts = [piece(f"p{k}", float(rng.uniform(60, 2800)), int(rng.integers(1, 4))) for k in range(12)]
            laid = bars(parts, METRIC)
            for bar in laid:
                cuts = [one.long for one in bar.pieces]
                self.assertLessEqual(sum(cuts) + bar.kerf * (len(cuts) - 1), bar.long + 1e-9)
            got = sorted(one.long for bar in laid for one in bar.pieces)
            self.assertEqual(got, sorted(long for part in parts for long in [part.cut.length] * part.many))  # type: ignore[union-attr]
            # Never worse than eleven ninths of what is needed at least, and a bar (Johnson's bound on this rule).
            least = math.ceil(sum(got) / METRIC.bar_mm)
            self.assertLessEqual(len(laid), math.ceil(11 / 9 * least) + 1)

    def test_the_rack_is_used_before_a_new_bar_the_shortest_that_fits(self) -> None:
        name = Tube(outside=25.0, wall=2.0).said
        laid = bars([piece("a", 400), piece("b", 300)], METRIC, {name: [2000.0, 450.0, 320.0]})
        self.assertEqual([(bar.rack, bar.long) for bar in laid], [(True, 450.0), (True, 320.0)])
        self.assertEqual(bars([piece("long", 7000.0)], METRIC)[0].long, 7000.0)

    def test_plates_lie_on_their_sheet_by_their_shapes_a_gap_from_one_another(self) -> None:
        for arrangement in ("pushrod", "axle-four-link"):
            parts = job_parts(check_project(starting_project(layout_named(arrangement))), fitted=False)
            laid = sheets(parts.parts, METRIC)
            for sheet in laid:
                self.assert_laid(sheet)
            self.assertEqual(
                sum(len(sheet.pieces) for sheet in laid),
                sum(part.many for part in parts.parts if part.flat is not None),
            )
            # As many of either hand as the vehicle takes, and no metal gained or lost.
            for part in parts.parts:
                if part.flat is not None:
                    mine = [
                        p for s in laid for p in s.pieces if (p.station, p.part) == (part.station, part.name)
                    ]
                    drawn = [p for p in mine if p.flat == part.flat]
                    if part.hands == 2 and part.flat != part.flat.other_hand:
                        self.assertEqual((len(drawn), len(mine)), (part.count, part.many))
                    for piece in mine:
                        assert piece.flat is not None
                        lying = area_of(piece.lying(piece.flat.outline))
                        self.assertAlmostEqual(abs(lying), abs(area_of(list(part.flat.outline))), places=6)

    def assert_laid(self, sheet: Sheet) -> None:
        edges = []
        for one in sheet.pieces:
            assert one.flat is not None
            edge = one.lying(one.flat.outline)
            low, bottom, high, top = box_of(edge)
            self.assertAlmostEqual(low, one.x, places=6)
            self.assertAlmostEqual(bottom, one.y, places=6)
            self.assertGreaterEqual(min(low, bottom), -1e-6)
            self.assertLessEqual(high, sheet.wide + 1e-6)
            self.assertLessEqual(top, sheet.high + 1e-6)
            spots = np.array(spots_of(edge, 0.05))
            for other in edges:
                self.assertGreaterEqual(apart(spots, other), GAP_MM - 0.2)
                self.assertFalse(inside(edge, *other[0]))
            edges.append(spots)

    def test_any_shapes_lie_apart_and_never_on_more_sheets_than_their_boxes(self) -> None:
        random = np.random.default_rng(5)
        for _ in range(8):
            parts = []
            for k in range(int(random.integers(2, 14))):
                size = random.uniform(20.0, 160.0)
                if random.random() < 0.4:  # an angle: what another can lie in
                    thin = size * random.uniform(0.15, 0.4)
                    corners = [(0.0, 0.0), (size, 0.0), (size, thin), (thin, thin), (thin, size), (0.0, size)]
                    outline = [sharp(*spot) for spot in corners]
                else:
                    outline = hull([Circle(*random.uniform(0.0, size, 2), float(random.uniform(8.0, 20.0))) for _ in range(3)])  # fmt: skip
                flat = Flat(outline=tuple(outline), thickness=6.0, grade="S355")
                parts.append(Made(station="a", name=f"p{k}", kind="plate", subject=("plate", f"p{k}"), proposed=True, count=2, hands=2, flat=flat))  # fmt: skip
            stock = replace(METRIC, sheet_mm=(500.0, 300.0))
            laid = sheets(parts, stock)
            for sheet in laid:
                self.assert_laid(sheet)
            pieces = [piece for sheet in laid for piece in sheet.pieces]
            self.assertEqual(len(pieces), 4 * len(parts))
            self.assertLessEqual(len(laid), len(by_box(pieces, 500.0, 300.0)))

    def test_no_plate_is_lost_however_many_sheets_it_takes(self) -> None:
        outline = tuple(hull([Circle(0.0, 0.0, 110.0), Circle(200.0, 0.0, 110.0)]))
        flat = Flat(outline=outline, thickness=6.0, grade="S355")
        part = Made(station="a", name="large", kind="plate", subject=("plate", "large"), proposed=True, count=45, flat=flat)  # fmt: skip
        laid = sheets([part], replace(METRIC, sheet_mm=(500.0, 300.0)))
        self.assertEqual([len(sheet.pieces) for sheet in laid], [1] * 45)

    def test_a_shape_that_is_larger_than_its_sheet_is_said_by_the_one_who_lays_and_has_a_sheet_of_its_own(self) -> None:  # fmt: skip
        outline = tuple(hull([Circle(0.0, 0.0, 20.0), Circle(700.0, 0.0, 20.0)]))
        with self.assertRaises(ValueError):
            nested([outline], 500.0, 300.0, GAP_MM)
        flat = Flat(outline=outline, thickness=6.0, grade="S355")
        part = Made(
            station="a", name="long", kind="plate", subject=("plate", "long"), proposed=True, flat=flat
        )
        (sheet,) = sheets([part], replace(METRIC, sheet_mm=(500.0, 300.0)))
        self.assertEqual((sheet.wide, sheet.high), (740.0, 40.0))


def apart(one: Array, other: Array) -> float:
    """Return the least distance of the places of one edge from the straight ways of another, mm, and the other way round."""

    def least(spots: Array, edge: Array) -> float:
        a, b = edge, np.roll(edge, -1, axis=0)
        way = b - a
        share = ((spots[:, None] - a) * way).sum(axis=2) / np.maximum((way * way).sum(axis=1), 1e-12)
        near = a + np.clip(share, 0.0, 1.0)[..., None] * way
        return float(np.linalg.norm(spots[:, None] - near, axis=2).min())

    return min(least(one, other), least(other, one))


class Buying(unittest.TestCase):
    def test_less_what_is_on_the_shelf(self) -> None:
        parts = job_parts(check_project(starting_project(layout_named("pushrod"))), fitted=False)
        bare = {(line.what, line.size): line for line in to_buy(parts)}
        ends = next(line for key, line in bare.items() if key[0] == "rod end" and "right-hand" in key[1])
        thread = float(ends.size.split()[0][1:])
        shelf = [
            OnShelf(
                kind="rod_end",
                name="end",
                stock=2,
                price="11.20",
                lead_days=4.0,
                values={"thread_mm": thread},
            ),
            OnShelf(
                kind="tube",
                name="bar",
                stock=1,
                values={"outside_mm": 20.0, "wall_mm": 2.0, "length_mm": 6000.0},
            ),
        ]
        found = {(line.what, line.size): line for line in to_buy(parts, shelf)}
        with_shelf = found[ends.what, ends.size]
        self.assertEqual(
            (with_shelf.needed, with_shelf.there, with_shelf.buy), (ends.needed, 2, ends.needed - 2)
        )
        self.assertEqual((with_shelf.price, with_shelf.lead_days), ("11.20", 4.0))

    def test_springs_wait_while_their_station_has_a_fault(self) -> None:
        values = starting_project(layout_named("pushrod"))
        good = [
            line for line in to_buy(job_parts(check_project(values), fitted=False)) if line.what == "spring"
        ]
        values = copy.deepcopy(values)
        unit = next(unit for unit in values["stations"][0]["units"] if unit["kind"] == "coilover")
        unit["extended"] = unit["compressed"] + 12.0
        held = [
            line for line in to_buy(job_parts(check_project(values), fitted=False)) if line.what == "spring"
        ]
        self.assertTrue(all(line.note is not None and "Hold back" in str(line.note) for line in held))
        self.assertEqual(len(good), len(held))

    def test_the_verdict_counts_both_hands(self) -> None:
        parts = job_parts(check_project(starting_project(layout_named("pushrod"))))
        mark, words = verdict(parts)
        self.assertIn(str(sum(part.many for part in parts.parts)), str(words))
        self.assertIn(mark, ("good", "warning", "fault"))


class Outlines(unittest.TestCase):
    def test_bulges_are_arcs_and_the_area_is_the_polygons(self) -> None:
        # A slot: two straight sides, two half circles (bulge 1).
        slot = bulged([(0, 0, 0), (60, 0, 1), (60, 20, 0), (0, 20, 1)])
        self.assertAlmostEqual(area_of(slot), 60 * 20 + math.pi * 100)
        self.assertEqual([round(c, 6) for c in box_of(slot)], [-10, 0, 70, 20])
        hollow = bulged([(0, 0, 0), (60, 0, -1), (60, 20, 0), (0, 20, 0)])
        self.assertAlmostEqual(area_of(hollow), 60 * 20 - math.pi * 50)
        self.assertAlmostEqual(area_of(mirrored(hollow)), -area_of(hollow))

    def test_inside_agrees_with_a_grid_of_winding_numbers(self) -> None:
        hollow = bulged([(0, 0, 0), (60, 0, -1), (60, 20, 0), (0, 20, 0)])
        rng = np.random.default_rng(1)
        for x, y in rng.uniform(-10, 70, size=(200, 2)):
            want = 0 < x < 60 and 0 < y < 20 and math.hypot(x - 60, y - 10) > 10
            if abs(math.hypot(x - 60, y - 10) - 10) > 0.3:
                self.assertEqual(inside(hollow, x, y), want, (x, y))

    def test_an_arc_through_three_places_holds_them(self) -> None:
        arc = through((0, 0), (5, 3), (10, 0))
        assert arc is not None
        for x, y in ((0, 0), (5, 3), (10, 0)):
            self.assertAlmostEqual(math.hypot(x - arc.circle.x, y - arc.circle.y), arc.circle.radius)
        self.assertLess(arc.turn, 0)
        self.assertIsNone(through((0, 0), (5, 0), (10, 0)))
        self.assertEqual(sharp(3, 4).first, (3, 4))

    def test_a_cut_plate_says_holes_that_run_out_of_it(self) -> None:
        values = samples.arm()
        choice: dict[str, Any] = {
            "kind": "template", "name": "card", "outline": [{"at": [0, 0]}, {"at": [80, 0]}, {"at": [80, 40]}, {"at": [0, 40]}],
            "holes": [{"at": [20, 20], "diameter": 12}, {"at": [76, 20], "diameter": 12}], "thickness": 5,
        }  # fmt: skip
        values["make"] = {"parts": [choice]}
        work = WorkUp(solve_station(samples.station(values)))
        (card,) = station_parts(Maker(work, RULES)).of("template")
        self.assertEqual([one.mark for one in card.said], ["fault"])
        assert card.flat is not None
        self.assertAlmostEqual(edge_left(card.flat, card.flat.holes[0]), 14.0)
        self.assertAlmostEqual(card.mass, (80 * 40 - math.pi * 72) * 5 * 7.85e-6, places=6)

    def test_a_slot_of_a_cut_plate_is_weighed_and_keeps_its_edge(self) -> None:
        values = samples.arm()
        corners = [{"at": at} for at in ([0, 0], [80, 0], [80, 40], [0, 40])]
        slots = [
            {"at": [30, 20], "to": [62, 22], "diameter": 10},
            {"at": [12, 8], "to": [12, 33], "diameter": 10},
        ]
        values["make"] = {
            "parts": [
                {"kind": "template", "name": "card", "outline": corners, "holes": slots, "thickness": 5}
            ]
        }
        (card,) = station_parts(Maker(WorkUp(solve_station(samples.station(values))), RULES)).of("template")
        assert card.flat is not None
        taken = 2 * math.pi * 25 + 10 * (math.hypot(32, 2) + 25)
        self.assertAlmostEqual(card.mass, (80 * 40 - taken) * 5 * 7.85e-6, places=6)
        self.assertEqual([edge_left(card.flat, hole) for hole in card.flat.holes], [13.0, 2.0])
        self.assertEqual([one.mark for one in card.said], ["warning"])
        self.assertEqual([hole.size for hole in card.flat.holes], ["10 × 42.1", "10 × 35.0"])


class Refused(unittest.TestCase):
    def test_what_cannot_be_is_one_sentence_with_its_path(self) -> None:
        tube = {"outside": 30, "wall": 3}
        tab = {"kind": "tab", "name": "t", "point": "top", "holds": "coilover"}
        for choice, path, words in (
            ({**tab, "thickness": 0}, "thickness", "greater than 0"),
            ({**tab, "width": -4}, "width", "greater than 0"),
            ({**tab, "hole": 30, "width": 20}, "hole", "wider than the tab"),
            ({**tab, "point": "tip"}, "point", "no point"),
            ({**tab, "holds": "arm", "point": "top"}, "point", "is not on arm"),
            ({**tab, "foot": {"on": "tube"}}, "foot.outside", "is missing"),
            ({"kind": "rod", "name": "r", "body": "arm"}, "body", "is no rod"),
            ({"kind": "tower", "name": "h", "corners": ["top", "eye"], "tube": {"outside": 6, "wall": 3}}, "tube.wall", "twice"),
            ({"kind": "tower", "name": "h", "corners": ["top", "top"], "tube": tube}, "corners", "one place"),
            ({"kind": "tower", "name": "h", "corners": ["top", "nowhere"], "tube": tube}, "corners[1]", "no point"),
            ({"kind": "hoop", "name": "h", "corners": ["top", "eye"], "tube": tube, "radius": 60, "least_radius": 90}, "radius", "tighter than the bender"),
            ({"kind": "tower", "name": "h", "corners": ["top", "eye"], "tube": tube, "ends": [{"on": "tube"}, {}]}, "ends[0].outside", "needs the tube"),
            ({"kind": "cup", "name": "c", "unit": "coilover", "end": "top"}, "unit", "no air spring"),
            ({"kind": "notch", "name": "n", "over": "wheel", "rail": {"width": 6, "height": 90, "wall": 3}, "rail_bottom": 400, "axle_tube": 70}, "rail.wall", "twice the wall"),
            ({"kind": "wing", "name": "w"}, "", "not known"),
        ):  # fmt: skip
            values = samples.arm()
            values["make"] = {"parts": [choice]}
            with self.assertRaises(DocumentRefused) as refused:
                check_project(samples.document(values))
            fault = refused.exception.faults[0]
            self.assertTrue(fault.path.startswith("stations[0].make.parts[0]"), fault.path)
            self.assertTrue(fault.path.endswith(path), (fault.path, path))
            self.assertIn(words, fault.message)

    def test_two_choices_for_one_thing_and_one_name_twice(self) -> None:
        tab = {"kind": "tab", "name": "t", "point": "top", "holds": "coilover"}
        values = samples.arm()
        values["make"] = {"parts": [tab, {**tab, "name": "u"}, {**tab, "point": "eye", "name": "t"}]}
        with self.assertRaises(DocumentRefused) as refused:
            check_project(samples.document(values))
        said = " ".join(fault.message for fault in refused.exception.faults)
        self.assertIn("for the same thing", said)
        self.assertIn("used twice", said)


if __name__ == "__main__":
    unittest.main()
