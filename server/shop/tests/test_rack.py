"""The shop's shelf as stock: its own sizes among the generic ones, its ends in their place, and what is left to buy."""

import csv
import io
import re

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.stock import METRIC
from server.demo.load import FILES
from server.parts.actions.take_shelf import take_shelf
from server.parts.models import Part
from server.shop.lists import cut_list, order, set_out_list
from server.shop.rack import shelf_of, stock_of


class Rack(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="x")

    def put(self, kind: str, name: str, stock: int = 1, **values: float) -> None:
        Part.objects.create(owner=self.user, kind=kind, name=name, stock=stock, values=values)

    def job(self) -> JobParts:
        stock = stock_of(shelf_of(self.user))
        return job_parts(check_project(starting_project(layout_named("pushrod"))), stock, fitted=False)

    def test_an_empty_shelf_leaves_the_generic_sizes(self) -> None:
        self.assertEqual(stock_of(shelf_of(self.user)), METRIC)

    def test_sizes_of_the_shelf_stand_among_the_generic_ones_in_order(self) -> None:
        self.put("tube", "odd", outside_mm=27.0, wall_mm=2.6, length_mm=900.0, yield_n_per_mm2=355.0)
        self.put("plate", "five", thickness_mm=5.0, width_mm=500.0, length_mm=1000.0)
        self.put("bolt", "eleven", size_mm=11.0, length_mm=50.0)
        self.put("tube", "all wall", outside_mm=6.0, wall_mm=3.0, length_mm=900.0)
        stock = stock_of(shelf_of(self.user))
        self.assertIn((27.0, 2.6, "S355"), [(tube.outside, tube.wall, tube.grade) for tube in stock.tubes])
        self.assertNotIn(6.0, [tube.outside for tube in stock.tubes])
        self.assertEqual(list(stock.plates), sorted({*METRIC.plates, 5.0}))
        self.assertIn(11.0, stock.bolts)

    def test_a_rod_end_of_the_shelf_is_what_rods_are_made_with(self) -> None:
        before = next(part for part in self.job().parts if part.kind == "rod")
        size = float(re.search(r"M([\d.]+)", before.hardware[0].size).group(1))  # type: ignore[union-attr]
        usual = METRIC.thread(size)
        self.put("rod_end", "long", thread_mm=size, tilt_degrees=20.0, shank_mm=usual.shank + 14.0)
        after = next(part for part in self.job().parts if part.subject == before.subject)
        assert before.cut and after.cut
        # A longer shank stands half further out at each end, the way it is set in the middle of its thread.
        self.assertLess(after.cut.length, before.cut.length)
        self.assertIn(f"shank {usual.shank + 14:g} mm", after.hardware[0].size)

    def test_the_demo_shelf_takes_from_its_rack_first_and_buys_less(self) -> None:
        take_shelf(self.user, (FILES / "shelf.csv").read_bytes())
        shelf = shelf_of(self.user)
        parts = self.job()
        cut = list(csv.DictReader(io.StringIO(cut_list(parts, shelf))))
        self.assertTrue(any(row["where"] == "on the rack" for row in cut))
        bare, less = (list(csv.DictReader(io.StringIO(order(parts, its)))) for its in ([], shelf))
        self.assertLess(sum(int(row["to buy"]) for row in less), sum(int(row["to buy"]) for row in bare))
        for row in less:
            self.assertEqual(int(row["to buy"]), int(row["needed"]) - int(row["on the shelf"]))

    def test_setting_out_carries_the_bolts_readings(self) -> None:
        rows = list(csv.DictReader(io.StringIO(set_out_list(self.job()))))
        read = [row for row in rows if row["bolt out of level deg"]]
        self.assertTrue(read)
        for row in read:
            self.assertLessEqual(abs(float(row["bolt turned deg"])), 45.0)
            self.assertLessEqual(float(row["tab from vertical deg"]), 90.0)
