"""The shelf: read, refused in sentences, taken out and read back, each user's own."""

import json
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from server.parts.models import Part
from server.parts.shelf_csv import COLUMNS, HEADINGS, read_shelf

DEMO = Path(__file__).parents[2] / "demo" / "files" / "shelf.csv"
HEAD = "kind,name,stock,price,source,rate_n_per_mm,free_length_mm,solid_length_mm\n"


class Reading(PlainTestCase):
    def test_the_demo_shelf_holds_one_of_every_kind(self) -> None:
        reading = read_shelf(DEMO.read_bytes())
        self.assertEqual(reading.faults, [])
        self.assertEqual({row.kind for row in reading.rows}, set(COLUMNS))
        self.assertEqual(set(DEMO.read_text().splitlines()[0].split(",")), set(HEADINGS))

    def test_faults_name_line_and_column(self) -> None:
        for line, sentence in (
            (
                "coil,A,2,,,40,180,190",
                "Line 2, solid_length_mm: must be less than free_length_mm (180), got 190.",
            ),
            ("coil,A,2,,,forty,180,70", "Line 2, rate_n_per_mm: “forty” is not a number."),
            ("coil,A,2,,,,180,70", "Line 2, rate_n_per_mm: is empty; this kind of part needs it."),
            ("coil,A,2,,,-4,180,70", "Line 2, rate_n_per_mm: must be more than zero, got -4."),
            ("coil,A,2,,,nan,180,70", "Line 2, rate_n_per_mm: “nan” is not a number."),
            ("coil,,2,,,40,180,70", "Line 2, name: is empty; give the part a name."),
            ("spring,A,2,,,40,180,70", "Line 2, kind: “spring” is none; write one of coil,"),
            ("coil,A,2,,,40,180,70\ncoil,A,1,,,50,170,70", "Line 3, name: “A” stands on line 2 already"),
        ):
            with self.subTest(sentence):
                self.assertIn(sentence, "\n".join(read_shelf((HEAD + line).encode()).faults))

    def test_what_is_no_table(self) -> None:
        self.assertIn("UTF-8", read_shelf(b"\xff\xfe\x00").faults[0])
        self.assertIn("empty", read_shelf(b"").faults[0])
        self.assertIn("heading kind and name is missing", read_shelf(b"a,b\n1,2").faults[0])

    def test_semicolons_and_decimal_commas_as_some_offices_write_them(self) -> None:
        reading = read_shelf(
            (HEAD + 'coil,A,2,,,"42,5",180,70').replace(",", ";").replace("42;5", "42,5").encode()
        )
        self.assertEqual(reading.faults, [])
        self.assertEqual(reading.rows[0].values["rate_n_per_mm"], 42.5)


class Shelf(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("fitter")
        self.client.force_login(self.user)

    def take(self, text: str) -> dict:  # type: ignore[type-arg]
        return self.client.post("/api/parts/shelf.csv", text.encode(), content_type="text/csv").json()

    def test_in_and_out_again_is_the_same(self) -> None:
        self.assertEqual(self.take(DEMO.read_text())["taken"], 27)
        out = self.client.get("/api/parts/shelf.csv").content.decode()
        before = self.client.get("/api/parts").json()
        self.take(out)
        self.assertEqual(self.client.get("/api/parts").json(), before)

    def test_a_part_of_the_same_name_is_renewed(self) -> None:
        self.take(HEAD + "coil,A,2,,,40,180,70")
        self.take(HEAD + "coil,A,5,9 each,bin 1,44,180,70")
        (part,) = self.client.get("/api/parts").json()
        self.assertEqual((part["stock"], part["price"], part["values"]["rate_n_per_mm"]), (5, "9 each", 44))

    def test_one_fault_and_nothing_is_taken(self) -> None:
        answered = self.take(HEAD + "coil,A,2,,,40,180,70\ncoil,B,2,,,x,180,70")
        self.assertEqual(answered["code"], "shelf_refused")
        self.assertEqual(self.client.get("/api/parts").json(), [])

    def test_each_shelf_is_its_owners(self) -> None:
        self.take(HEAD + "coil,A,2,,,40,180,70")
        (part,) = self.client.get("/api/parts").json()
        self.client.force_login(get_user_model().objects.create_user("other"))
        self.assertEqual(self.client.get("/api/parts").json(), [])
        self.assertEqual(self.client.delete(f"/api/parts/{part['id']}").status_code, 404)
        self.client.force_login(self.user)
        self.assertEqual(self.client.delete(f"/api/parts/{part['id']}").status_code, 204)

    def test_coils_on_the_shelf_stand_among_the_springs(self) -> None:
        from engine.tests import samples

        self.take(HEAD + "coil,Grey 52,2,,,52,170,72\ncoil,Out of stock,0,,,61,170,72")
        body = {"document": samples.document(samples.arm()), "station": 0}
        found = self.client.post("/api/springs", json.dumps(body), content_type="application/json").json()
        mine = {option["name"]: option for option in found["options"] if option["name"]}
        self.assertEqual(set(mine), {"Grey 52", "Out of stock"})
        self.assertEqual(mine["Grey 52"]["stock"], 2)
        spring = mine["Grey 52"]["units"]["coilover"]["springs"][0]
        self.assertEqual((spring["rate"], spring["free_length"], spring["solid_length"]), (52, 170, 72))


class Figures(TestCase):
    """Figures that may be two things, formulas, and long tables."""

    def setUp(self) -> None:
        self.user = get_user_model().objects.create(username="ada")
        self.client.force_login(self.user)

    def take(self, *rows: str) -> Any:
        text = "kind,name,stock,price,source,rate_n_per_mm,free_length_mm,solid_length_mm\n" + "\n".join(rows)
        return self.client.post("/api/parts/shelf.csv", text.encode(), content_type="text/csv")

    def test_what_may_be_thousands_or_decimals_is_asked(self) -> None:
        for row, words in (
            ('coil,a,1,,,20,"1,234",100', "thousands or decimals"),
            ("coil,a,1,,,20,1_000,100", "is not a number"),
            ("coil,a,1,,,20,٣٠٠,100", "is not a number"),
            ("coil,a,2.7,,,20,300,100", "whole parts"),
            ("coil,a,9e18,,,20,300,100", "more than 1e"),
            ("coil,a,1,,,20,6000,100", "no part has"),
            ("coil,\u200b,1,,,20,300,100", "give the part a name"),
        ):
            answer = self.take(row)
            self.assertEqual(answer.status_code, 422, row)
            self.assertIn(words, answer.json()["detail"])
        self.assertEqual(self.take('coil,a,1,,,"20,5",300,100').status_code, 200)
        self.assertEqual(Part.objects.get().values["rate_n_per_mm"], 20.5)

    def test_no_formula_goes_out_and_out_and_in_again_is_the_same(self) -> None:
        name = "=HYPERLINK(x)"
        self.assertEqual(self.take(f"coil,{name},1,+cmd,@y,1234.56789,300.123456789,100").status_code, 200)
        before = list(Part.objects.values("name", "price", "source", "values", "stock"))
        self.assertEqual(before[0]["name"], name)
        table = self.client.get("/api/parts/shelf.csv").content
        self.assertIn(b"'=HYPERLINK", table)
        self.assertNotIn(b",=", table)
        Part.objects.all().delete()
        self.assertEqual(
            self.client.post("/api/parts/shelf.csv", table, content_type="text/csv").status_code, 200
        )
        self.assertEqual(list(Part.objects.values("name", "price", "source", "values", "stock")), before)

    def test_a_long_table_is_a_few_statements_and_no_more_than_goes_out_again(self) -> None:
        rows = [f"coil,c{n},1,,,20,300,100" for n in range(2000)]
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.take(*rows).status_code, 200)
        self.assertLess(len(asked), 30)
        more = [f"coil,d{n},1,,,20,300,100" for n in range(3500)]
        answer = self.take(*more)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "shelf_full"))
        table = self.client.get("/api/parts/shelf.csv").content
        self.assertEqual(
            self.client.post("/api/parts/shelf.csv", table, content_type="text/csv").status_code, 200
        )
