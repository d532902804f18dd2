"""The result file: every key of the contract, finite numbers only, nothing ignored."""

import json
import unittest

from engine.document.read import check_project
from engine.results.result_file import solve_project
from engine.tests import samples


class ResultFile(unittest.TestCase):
    def test_keys_of_the_contract(self) -> None:
        result = solve_project(check_project(samples.document(samples.pushrod_corner())))
        self.assertEqual((result["format"], result["version"]), ("jugatrix-result", 1))
        station = result["stations"][0]
        self.assertEqual(len(station["sweep"]), 41)
        self.assertEqual((station["sweep"][0]["travel"], station["sweep"][-1]["travel"]), (-40, 40))
        row = station["sweep"][7]
        self.assertLessEqual(
            {"travel", "reached", "units", "wheel_force", "wheel_rate", "wheels", "points"}, set(row)
        )
        self.assertEqual(set(row["units"]["coilover"]), {"length", "motion_ratio", "force"})
        self.assertEqual(set(row["wheels"]["wheel"]), {"camber", "toe", "centre"})
        self.assertEqual(set(row["points"]), set(samples.pushrod_corner()["points"]))
        self.assertLessEqual({"travel", "wheel_rate", "frequency"}, set(station["ride"]))

    def test_drawn_camber_and_toe(self) -> None:
        # The spindle rises 2.5 mm over 100 mm: top in by its angle, so negative; a turn forward is toe in.
        values = samples.pushrod_corner()
        values["points"]["spindle"] = [1, 784, 245.5]
        row = solve_project(check_project(samples.document(values)), 3)["stations"][0]["sweep"][1]
        self.assertAlmostEqual(row["wheels"]["wheel"]["camber"], -1.432, delta=0.001)
        self.assertAlmostEqual(row["wheels"]["wheel"]["toe"], 0.573, delta=0.001)

    def test_positions_out_of_reach_say_which_body(self) -> None:
        values = samples.pushrod_corner() | {"travel": {"bump": 200, "droop": 40}}
        station = solve_project(check_project(samples.document(values)))["stations"][0]
        last = station["sweep"][-1]
        self.assertFalse(last["reached"])
        self.assertEqual(last["body"], "pushrod")
        self.assertIn("cannot reach past +149.7 mm", last["detail"])
        json.dumps(station, allow_nan=False)

    def test_bags_give_their_pressure_and_what_would_hold_them_as_drawn(self) -> None:
        station = solve_project(check_project(samples.document(samples.bagged_arm())), 5)["stations"][0]
        self.assertEqual(station["bags"]["filled_at_ride"], True)
        self.assertGreater(station["bags"]["pressure_wanted"], 0)
        pressures = [row["units"]["bag"]["pressure"] for row in station["sweep"]]
        self.assertEqual(pressures, sorted(pressures))
        self.assertTrue(all(row["wheel_force"] is not None for row in station["sweep"]))

    def test_every_kind_of_unit_is_worked_out(self) -> None:
        values = samples.bagged_arm()
        values["units"] += [
            {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": 330},
            samples.bump_stop("stop", "eye", "top", 270),
        ]
        station = solve_project(check_project(samples.document(values)), 5)["stations"][0]
        for row in station["sweep"]:
            self.assertEqual(set(row["units"]), {"bag", "damper", "strap", "stop"})
            self.assertTrue(all(unit["force"] is not None for unit in row["units"].values()))
        self.assertLessEqual(
            {"strap_taut", "bump_stop_contact"}, {limit["kind"] for limit in station["limits"]}
        )

    def test_an_empty_job_is_a_job(self) -> None:
        self.assertEqual(solve_project(check_project(samples.document()))["stations"], [])
