"""Items of a survey by themselves: order, limits, files beside files, names that change, places that go, tables."""

import json
from typing import Any
from unittest import TestCase as PlainTestCase
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.test import TestCase

from engine.errors import DocumentRefused
from engine.layouts.catalogue import layout_named, starting_project
from server.answers import ActionRefused
from server.jobs.actions.import_project import import_project
from server.records.actions import survey as actions
from server.records.actions.fitting import fitting, named
from server.records.actions.readings_csv import csv_of, readings_in
from server.records.actions.survey import follow_names, items_of, put_item, put_survey, remove_item, survey_of

Values = dict[str, Any]
READING = {"kind": "height", "of": "A", "values": [300.0]}


class Items(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="x")
        self.job = import_project(self.user, json.dumps(starting_project(layout_named("pushrod"))).encode())

    def survey(self) -> Values:
        return survey_of(items_of(self.job))

    def test_the_file_keeps_the_order_in_which_they_were_read(self) -> None:
        for number, key in enumerate("cab"):
            put_item(self.user, self.job, "reading", key, {**READING, "values": [float(number)]})
        put_item(self.user, self.job, "reading", "a", {**READING, "values": [9.0]})
        self.assertEqual([one["values"] for one in self.survey()["readings"]], [[0.0], [9.0], [2.0]])

    def test_kinds_stand_where_the_file_has_them(self) -> None:
        put_item(self.user, self.job, "mark", "A", [1, 2, 3])
        put_item(self.user, self.job, "tool", "tape", 0.5)
        put_item(self.user, self.job, "guard", "g", {"name": "g", "between": ["A", "B"], "before": [10.0]})
        put_item(self.user, self.job, "photo", "p", {"name": "p", "plane": "side", "picked": {"A": [1, 2]}})
        survey = self.survey()
        self.assertEqual(survey["marks"], {"A": [1, 2, 3]})
        self.assertEqual(survey["tools"], {"tape": 0.5})
        self.assertEqual([one["name"] for one in (*survey["guards"], *survey["photos"])], ["g", "p"])
        remove_item(self.job, "mark", "A")
        self.assertNotIn("marks", self.survey())

    def test_another_files_survey_is_laid_beside_what_is_there(self) -> None:
        put_survey(self.user, self.job, {"readings": [READING], "marks": {"A": [0, 0, 0]}})
        put_survey(self.user, self.job, {"readings": [READING], "marks": {"A": [5, 0, 0]}})
        self.assertEqual(len(self.survey()["readings"]), 2)
        self.assertEqual(self.survey()["marks"], {"A": [5, 0, 0]})
        put_survey(self.user, self.job, {})

    def test_more_than_a_survey_holds_is_refused(self) -> None:
        with patch.object(actions, "MOST", 2):
            put_item(self.user, self.job, "reading", "a", READING)
            put_item(self.user, self.job, "reading", "b", READING)
            with self.assertRaises(ActionRefused) as refused:
                put_item(self.user, self.job, "reading", "c", READING)
        self.assertIn("2 readings and marks at most", str(refused.exception))

    def test_what_is_none_of_its_kind_is_refused(self) -> None:
        for kind, key, body, words in (
            ("reading", "a", {"kind": "height", "of": "A", "values": ["x"]}, "values[0]: must be a number"),
            ("reading", "a", {"kind": "slope", "along": ["A", "B"], "values": [91]}, "must be 90 or less"),
            ("guard", "g", {"name": "g", "between": ["A", "B"], "before": []}, "needs at least 1 entries"),
            ("photo", "p", {"name": "p", "plane": "below"}, "plane: must be"),
            ("mark", " ", [0, 0, 0], "something that can be seen"),
            ("mark", "A", [0, 0], "needs at least 3 entries"),
            ("tool", "tape", 0, "must be greater than 0"),
        ):
            with self.assertRaises(DocumentRefused) as refused:
                put_item(self.user, self.job, kind, key, body)
            self.assertIn(words, str(refused.exception), f"{kind} {body}")

    def test_every_place_of_a_station_follows_its_name(self) -> None:
        bodies: dict[str, Values] = {
            "one": {"kind": "height", "of": "Front left/top", "values": [1.0]},
            "two": {"kind": "distance", "between": ["Front left/top", "A"], "values": [1.0]},
            "three": {"kind": "angle", "at": "Front left/top", "between": ["A", "B"], "values": [1.0]},
            "four": {"kind": "slope", "along": ["Front left/top", "A"], "values": [1.0]},
            "five": {"kind": "mirrored", "pair": ["Front left/top", "Front right/top"]},
        }
        for key, body in bodies.items():
            put_item(self.user, self.job, "reading", key, body)
        put_item(
            self.user,
            self.job,
            "photo",
            "p",
            {"name": "p", "plane": "side", "picked": {"Front left/top": [1, 2]}},
        )
        old = {"stations": [{"name": "Front left"}, {"name": "Front right"}]}
        follow_names(self.job, old, {"stations": [{"name": "Nose"}, {"name": "Front right"}]})
        survey = self.survey()
        self.assertTrue(all("Nose/top" in named(one) for one in survey["readings"]))
        self.assertEqual(survey["photos"][0]["picked"], {"Nose/top": [1, 2]})
        self.assertIn("Front right/top", named(survey["readings"][4]))

    def test_stations_that_change_places_are_not_taken_for_one_another(self) -> None:
        put_item(
            self.user, self.job, "reading", "a", {"kind": "height", "of": "Front left/top", "values": [1.0]}
        )
        old = {"stations": [{"name": "Front left"}, {"name": "Front right"}]}
        follow_names(self.job, old, {"stations": [{"name": "Front right"}, {"name": "Front left"}]})
        follow_names(self.job, old, {"stations": [{"name": "Front left"}]})
        self.assertEqual(self.survey()["readings"][0]["of"], "Front left/top")


class Fitting(PlainTestCase):
    DOCUMENT = {"stations": [{"name": "Front", "points": {"top": [0, 0, 0]}}]}

    def test_only_what_has_lost_its_place_is_set_aside(self) -> None:
        kept = {"kind": "distance", "between": ["Front/top", "A"], "values": [1.0]}
        lost = {"kind": "distance", "between": ["Front/top", "Z"], "values": [1.0]}
        guard = {"name": "g", "between": ["A", "Gone/x"], "before": [1.0]}
        photo = {"name": "p", "plane": "side", "picked": {"A": [0, 0], "Z": [1, 1]}}
        survey = {"marks": {"A": [0, 0, 0]}, "readings": [kept, lost], "guards": [guard], "photos": [photo]}
        found = fitting(self.DOCUMENT, survey)
        self.assertEqual(found["readings"], [kept])
        self.assertEqual(found["set_aside"], {"readings": [lost], "guards": [guard]})
        self.assertEqual(found["photos"][0]["picked"], {"A": [0, 0]})

    def test_a_mark_that_a_point_has_taken_the_name_of_gives_way(self) -> None:
        found = fitting(self.DOCUMENT, {"marks": {"Front/top": [9, 9, 9], "A": [0, 0, 0]}})
        self.assertEqual(found["marks"], {"A": [0, 0, 0]})
        self.assertNotIn("set_aside", found)

    def test_nothing_stays_nothing(self) -> None:
        self.assertEqual(fitting(self.DOCUMENT, {}), {})


class Tables(PlainTestCase):
    READINGS = [
        {"kind": "distance", "between": ["A", "B"], "values": [640.0, 640.5], "tool": "caliper"},
        {"kind": "height", "of": "=SUM(A1)", "values": [12.0], "note": "+ by the door"},
        {"kind": "angle", "at": "A", "between": ["B", "C"], "values": [98.4]},
        {"kind": "slope", "along": ["A", "B"], "values": [-3.0], "seen": "side"},
        {"kind": "mirrored", "pair": ["A", "B"], "left_out": True},
        {"kind": "rise", "between": ["A", "B"], "values": [-1.0]},
    ]

    def test_every_kind_goes_out_and_comes_back(self) -> None:
        self.assertEqual(readings_in(csv_of({"readings": self.READINGS}).encode()), self.READINGS)

    def test_no_cell_is_a_formula(self) -> None:
        for line in csv_of({"readings": self.READINGS}).splitlines():
            self.assertFalse(any(cell.strip('"')[:1] in ("=", "+", "@") for cell in line.split(",")), line)

    def test_each_bad_row_is_named_and_the_rest_is_not_taken(self) -> None:
        table = "kind,first,second,values\nheight,A,,12\nheight,A,,\nguess,A,,1\ndistance,A,B,0\n"
        with self.assertRaises(DocumentRefused) as refused:
            readings_in(table.encode())
        said = str(refused.exception)
        for words in ("row 3: values needs at least 1", "row 4:", "row 5: values[0] must be greater than 0"):
            self.assertIn(words, said)
        self.assertNotIn("row 2", said)

    def test_a_mark_before_the_text_and_empty_rows_do_no_harm(self) -> None:
        table = "\ufeffkind,first,second,values\n\nheight,A,,12\n,,,\n".encode()
        self.assertEqual(readings_in(table), [{"kind": "height", "of": "A", "values": [12.0]}])
