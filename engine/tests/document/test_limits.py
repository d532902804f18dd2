"""Numbers that no fabricator means are refused with a sentence; explicit nothing is nothing; the Log shows all."""

import copy
import unittest

from engine.document.changes import changes_between
from engine.document.mirror import mirrored_station
from engine.document.read import check_project, read_json
from engine.errors import DocumentRefused
from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.remedies.remedy import remedy_for
from engine.sizing.places import grid_about, places_of
from engine.station.solved import solve_station
from engine.tests import samples


def refused(project: samples.Values) -> str:
    try:
        check_project(project)
    except DocumentRefused as error:
        return str(error)
    return ""


class Limits(unittest.TestCase):
    def test_what_is_beyond_any_shop_is_refused_with_its_place(self) -> None:
        for value in (1e300, 10**20, 2**63, 25_000):
            project = samples.document(samples.pushrod_corner())
            project["stations"][0]["units"][0]["springs"][0]["rate"] = value
            self.assertIn("stations[0].units[0].springs[0].rate", refused(project), value)
        project = samples.document(samples.pushrod_corner()) | {"note": {"count": 10**20}}
        self.assertIn("note.count: is a whole number of 21 digits", refused(project))
        with self.assertRaises(DocumentRefused):
            read_json('{"a": 100000000000000000000}')

    def test_a_file_in_metres_is_asked_about(self) -> None:
        project = samples.document(samples.pushrod_corner())
        station = project["stations"][0]
        station["points"] = {name: [c / 1000 for c in place] for name, place in station["points"].items()}
        self.assertIn("drawn in metres", refused(project))


class ExplicitNothing(unittest.TestCase):
    def test_null_where_the_schema_allows_it_is_as_if_left_out(self) -> None:
        values = copy.deepcopy(samples.pushrod_corner())
        values["units"][0] |= {"adapter": None, "perch": None, "gas_force_compressed": None}
        values["units"][0]["springs"][0] |= {"rate": None, "table": [[0, 0], [60, 4000]], "wire": None}
        values["envelopes"] = [
            {
                "name": "box",
                "shape": "box",
                "centre": [0, 900, 300],
                "size": [50, 50, 50],
                "along": None,
                "turn": None,
            }
        ]
        station = samples.station(values)
        solved = solve_station(station, steps=9)
        findings = judge(solved)
        for finding in findings:
            remedy_for(solved, findings, finding, RULES)
        other = mirrored_station(values, "other")
        self.assertEqual(other["envelopes"][0]["centre"], [0, -900, 300])


class EveryDifference(unittest.TestCase):
    def test_the_vehicle_the_purpose_and_what_is_to_come_are_told(self) -> None:
        before = samples.document(samples.pushrod_corner())
        after = copy.deepcopy(before) | {
            "vehicle": {"cg_height": 510.0, "floor": 0.0},
            "judging": {"purpose": "sport", "damper_left_mm": 6.0},
            "coming": [{"name": "roof", "mass": 20.0, "carried": {"Front left": 0.5}}],
        }
        told = {
            (c["subject"], c["what"]): (c["before"], c["after"], c["measures"])
            for c in changes_between(before, after)
        }
        self.assertEqual(told["vehicle", "cg_height"], (None, 510.0, "length"))
        self.assertEqual(told["judging", "purpose"], (None, "sport", None))
        self.assertEqual(told["judging", "damper_left_mm"], (None, 6.0, "length"))
        self.assertEqual(told["coming · roof", "mass"], (None, 20.0, "mass"))
        self.assertEqual(told["coming · roof · carried", "Front left"], (None, 0.5, "share"))

    def test_numbers_of_a_job_say_what_they_measure(self) -> None:
        before = samples.document(samples.pushrod_corner())
        after = copy.deepcopy(before)
        corner = after["stations"][0]
        corner["mass"]["finished"] = 260.0
        corner["datum"] = {"name": "sill", "height": 210.0}
        corner["units"][0] |= {"gas_force_compressed": 210, "coil_diameter": 92}
        corner["joints"] = [
            {
                "name": "j",
                "point": "push_low",
                "rod": "pushrod",
                "on": "lower_arm",
                "bolt": [1, 0, 0],
                "rated": 20,
            }
        ]
        measures = {c["what"]: c["measures"] for c in changes_between(before, after)}
        self.assertEqual(
            {
                key: measures[key]
                for key in ("finished", "height", "gas_force_compressed", "coil_diameter", "rated")
            },
            {
                "finished": "mass",
                "height": "length",
                "gas_force_compressed": "force",
                "coil_diameter": "length",
                "rated": "angle",
            },
        )

    def test_a_cell_of_a_table_is_told_with_its_row(self) -> None:
        project = samples.document(samples.arm())
        unit = project["stations"][0]["units"][0]
        stop = samples.bump_stop("stop", *unit["ends"], 280)
        project["stations"][0]["units"].append(stop)
        after = copy.deepcopy(project)
        after["stations"][0]["units"][1]["table"][2][1] += 50
        (change,) = changes_between(project, after)
        self.assertEqual((change["what"], change["measures"]), ("table, row 3, column 2", "force"))


class EveryArrangement(unittest.TestCase):
    def test_every_units_every_end_can_be_placed_or_says_why_not(self) -> None:
        from engine.errors import EngineError

        for layout in LAYOUTS:
            station = samples.station(starting_project(layout)["stations"][0] | {"other_side": "alone"})
            solved = solve_station(station, steps=9)
            for unit in station.units:
                for end in unit.ends:
                    with self.subTest(layout.name, unit=unit.name, end=end):
                        place = grid_about(solved.linkage.points[solved.linkage.index[end]], "side", 30.0, 3)
                        try:
                            places_of(solved, unit.name, end, place)
                        except EngineError as error:
                            self.assertTrue(str(error))


if __name__ == "__main__":
    unittest.main()
