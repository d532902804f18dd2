"""Choices and records in the file: kept as they are, mirrored, compared in the Log, and moving nothing."""

import copy
import json
import unittest
from typing import Any

from engine.document.changes import changes_between
from engine.document.mirror import mirrored_station
from engine.document.read import check_project
from engine.document.schema import Station
from engine.tests import samples

MAKE: dict[str, Any] = {
    "factor": 2.5,
    "parts": [
        {"kind": "tab", "name": "top tab", "point": "top", "holds": "coilover", "thickness": 5.0, "towards": [0.0, 1.0, 0.5], "shade": "blue"},
        {"kind": "tower", "name": "leg", "corners": [[0.0, 400.0, 300.0], "top"], "tube": {"outside": 38.0, "wall": 3.0},
         "ends": [{"on": "tube", "outside": 60.3, "along": [1.0, 0.1, 0.0]}, {"on": "square"}]},
        {"kind": "template", "name": "card", "outline": [{"at": [0.0, 0.0]}, {"at": [50.0, 0.0], "bulge": 0.4}, {"at": [50.0, 40.0]}]},
    ],
}  # fmt: skip


def made() -> dict[str, Any]:
    values = samples.arm()
    values["make"] = copy.deepcopy(MAKE)
    return values


class Choices(unittest.TestCase):
    def test_what_is_chosen_stays_as_it_was_written_even_what_nobody_knows(self) -> None:
        station = samples.station(made())
        again = json.loads(station.model_dump_json(exclude_unset=True))
        self.assertEqual(again["make"], MAKE)

    def test_a_choice_moves_nothing(self) -> None:
        self.assertEqual(samples.station(made()).motion, samples.station(samples.arm()).motion)

    def test_on_the_other_side_places_and_ways_are_mirrored_and_outlines_are_not(self) -> None:
        other = mirrored_station(made(), "other arm")
        tab, tower, card = other["make"]["parts"]
        self.assertEqual(tab["towards"], [0.0, -1.0, 0.5])
        self.assertEqual(tower["corners"], [[0.0, -400.0, 300.0], "top"])
        self.assertEqual(tower["ends"][0]["along"], [1.0, -0.1, 0.0])
        self.assertEqual(card["outline"], MAKE["parts"][2]["outline"])
        check_project(samples.document(other))

    def test_the_log_shows_what_was_chosen_otherwise(self) -> None:
        before, after = made(), made()
        after["make"]["parts"][0]["thickness"] = 8.0
        found = changes_between(samples.document(before), samples.document(after))
        self.assertTrue(any("thickness" in str(change) for change in found))


class Records(unittest.TestCase):
    def test_records_keep_their_own_words(self) -> None:
        record = {
            "kind": "setting", "when": "2026-11-21T10:00:00", "station": "arm", "what": "perch", "from": 20.0, "to": 23.0,
            "turns": 1.5, "weather": "wet",
        }  # fmt: skip
        weigh = {"kind": "weigh", "when": "2026-11-21T09:00:00", "with": "driver", "wheels": {"arm": 210.0}}
        project = check_project({**samples.document(samples.arm()), "records": [weigh, record]})
        told = json.loads(project.model_dump_json(exclude_unset=True))["records"]
        self.assertEqual(told, [weigh, record])
        self.assertEqual((project.records[1].was, project.records[1].to), (20.0, 23.0))  # type: ignore[union-attr]
        self.assertIn("records", type(project).model_fields)
        self.assertNotIn("records", Station.model_fields)

    def test_a_negative_weight_is_kept_and_not_refused(self) -> None:
        weigh = {"kind": "weigh", "when": "2026-11-21", "wheels": {"arm": -4.0}}
        project = check_project({**samples.document(samples.arm()), "records": [weigh]})
        self.assertEqual(project.records[0].wheels, {"arm": -4.0})  # type: ignore[union-attr]


if __name__ == "__main__":
    unittest.main()
