"""Bad input gets one sentence with its path; unknown keys survive; the schema is the code's."""

import copy
import json
import re
import unittest
from pathlib import Path
from typing import Any

from engine.document.read import check_project, read_project
from engine.document.write import project_text, project_values, schema_text
from engine.errors import DocumentRefused
from engine.station.solved import solve_station
from engine.tests import samples

DOCS = Path(__file__).parents[3] / "docs"


def faults(value: Any) -> str:
    """Return the sentences with which a document (text, bytes or value) is refused."""
    try:
        read_project(value) if isinstance(value, str | bytes) else check_project(value)
    except DocumentRefused as refused:
        return str(refused)
    return ""


def corner(path: str, value: Any) -> dict[str, Any]:
    """Return the pushrod corner with one value replaced; path like `mass/corner`."""
    whole = samples.document(samples.pushrod_corner())
    keys = path.split("/")
    target: Any = whole["stations"][0]
    for key in keys[:-1]:
        target = target[int(key)] if key.isdigit() else target[key]
    last = int(keys[-1]) if keys[-1].isdigit() else keys[-1]
    if value is KeyError:
        del target[last]
    else:
        target[last] = value
    return whole


class Refused(unittest.TestCase):
    def test_a_key_that_stands_twice_is_refused_where_one_would_be_lost(self) -> None:
        text = json.dumps(samples.document(samples.arm()))
        twice = text.replace('"rate":', '"rate": 9.0, "rate":', 1)
        self.assertIn("“rate” stands twice", faults(twice))

    def test_a_name_of_which_nothing_can_be_seen_is_none(self) -> None:
        for name in ("\u200b", " \u2060\ufeff", "\u202e", "   "):
            self.assertIn(
                "something that can be seen", faults({**samples.document(samples.arm()), "name": name})
            )
        check_project({**samples.document(samples.arm()), "name": "\u200bHeron"})

    def test_values(self) -> None:
        for path, value, sentence in (
            (
                "units/0/springs/0/rate",
                -40,
                "stations[0].units[0].springs[0].rate: must be greater than 0, got -40",
            ),
            ("units/0/springs/0/rate", KeyError, "stations[0].units[0].springs[0].rate: give one of a rate"),
            (
                "units/0/compressed",
                300,
                "stations[0].units[0].compressed: must be shorter than extended (285 mm)",
            ),
            ("units/0/kind", "magnet", "stations[0].units[0]: has the kind magnet"),
            ("units/0/ends/1", "dampr_anchor", 'did you mean "damper_anchor"?'),
            ("chassis/0", "nowhere", 'stations[0].chassis[0]: no point is called "nowhere"'),
            ("bodies/pushrod/0", "push_lo", 'stations[0].bodies.pushrod[0]: no point is called "push_lo"'),
            ("points/wheel/1", "wide", 'stations[0].points.wheel[1]: must be a number, got "wide"'),
            ("points/wheel", [1, 2], "stations[0].points.wheel: needs at least 3 entries, got 2"),
            ("points/wheel/1", True, "stations[0].points.wheel[1]: must be a number, got true"),
            ("points/wheel/0", 9e9, "stations[0].points.wheel[0]: must be 20000 or less"),
            ("travel/bump", 1_000_000, "stations[0].travel.bump: must be 1000 or less, got 1000000"),
            ("mass/unsprung", 400, "stations[0].mass.unsprung: must be less than the corner mass (232 kg)"),
            ("wheels/0/centre", "damper_anchor", "is on the chassis and cannot travel"),
            ("wheels", [], "stations[0].wheels: needs at least 1 entries"),
            ("kind", "sidecar", "stations[0].kind: must be 'corner' or 'axle', got \"sidecar\""),
            ("mass", KeyError, "stations[0].mass: is missing"),
            ("links", {"rocker": {"length": 10}}, "only a body of two points"),
            ("links", {"pushrod": {"length": 0}}, "stations[0].links.pushrod.length: must be greater than 0"),
            ("name", "", "stations[0].name: must not be empty"),
        ):
            with self.subTest(path=path, value=value):
                self.assertIn(sentence, faults(corner(path, value)))

    def test_coincident_points(self) -> None:
        whole = corner("points/push_top", [6, 596, 160])
        self.assertIn('"push_low" and "push_top" stand in the same place', faults(whole))

    def test_a_body_that_nothing_holds(self) -> None:
        whole = samples.document(samples.pushrod_corner())
        station = whole["stations"][0]
        station["points"] |= {"loose_a": [0, 0, 900], "loose_b": [0, 50, 900]}
        station["bodies"]["strut"] = ["loose_a", "loose_b"]
        self.assertIn("stations[0].bodies.strut: nothing holds it", faults(whole))

    def test_a_point_on_nothing(self) -> None:
        whole = corner("points/stray", [1, 2, 3])
        self.assertIn("stations[0].points.stray: is on no body", faults(whole))

    def test_text_that_is_no_project(self) -> None:
        for text, words in (
            ("{", "not readable JSON: line 1, column 2"),
            ("[]", "one JSON object; this one holds a list"),
            ("", "not readable JSON"),
            ('{"format": "jugatrix-project", "version": NaN}', "NaN"),
            ('{"a": 1e999}', "a: must be a finite number, got Infinity"),
            ('{"a": [1, {"b": NaN}]}', "a[1].b: must be a finite number, got NaN"),
            ('{"a": ' + "9" * 5000 + "}", "thousands of digits"),
            ('{"a": "\\ud800"}', "lone surrogate"),
            ('{"format": "other"}', 'format: must be "jugatrix-project", got "other"'),
            ('{"format": "jugatrix-project", "version": 7}', "version: this program reads version 1, got 7"),
            ('{"format": "jugatrix-project", "version": true}', "version"),
            (b"\xff\xfe\x00", "not text in UTF-8"),
            (b" " * 20_000_000, "The file is 20.0 MB; a job is at most 4 MB"),
            ("[" * 100_000, "nested deeper"),
            ('{"a":' * 60 + "1" + "}" * 60, "nested deeper"),
        ):
            with self.subTest(words):
                self.assertIn(words, faults(text))

    def test_every_fault_is_listed_at_once(self) -> None:
        whole = corner("mass/corner", -1)
        whole["stations"][0]["units"][0]["extended"] = "long"
        self.assertEqual(len(faults(whole).split("\n")), 2)

    def test_other_units(self) -> None:
        bag = {
            "name": "bag", "kind": "air_spring", "ends": ["damper_eye", "damper_anchor"], "pressure": 3,
            "height_table": [[200, 9000], [100, 8000]], "min_height": 250, "max_height": 240,
        }  # fmt: skip
        text = faults(corner("units/0", bag))
        self.assertIn("units[0].height_table[1]: heights must rise", text)
        self.assertIn("units[0].min_height: must be less than max_height", text)
        stop = {"name": "stop", "kind": "bump_stop", "ends": ["damper_eye", "damper_anchor"]}
        stop |= {"contact": 30, "table": [[0, 0], [10, 500], [10, 700]], "solid": 20}
        self.assertIn("units[0].table[2][0]: deflection must rise", faults(corner("units/0", stop)))


class Kept(unittest.TestCase):
    def test_unknown_keys_survive_a_round_trip(self) -> None:
        whole = samples.document(samples.pushrod_corner())
        whole["shop_note"] = {"bench": 3}
        whole["stations"][0]["units"][0]["colour"] = "grey"
        self.assertEqual(project_values(check_project(copy.deepcopy(whole))), whole)
        self.assertEqual(read_project(project_text(whole)).stations[0].name, whole["stations"][0]["name"])

    def test_the_example_in_the_documentation_works(self) -> None:
        text = (DOCS / "project-file.md").read_text()
        (example,) = re.findall(r"```json\n(.*?)```", text, re.DOTALL)
        solved = solve_station(read_project(example).stations[0])
        self.assertTrue(solved.reached.all())
        self.assertIsNotNone(solved.ride)

    def test_the_published_schema_is_the_codes_own(self) -> None:
        published = (DOCS / "project-file.schema.json").read_text()
        self.assertEqual(published, schema_text(), "run: python manage.py publish_schemas")
        self.assertIn("air_spring", json.dumps(json.loads(published)))
