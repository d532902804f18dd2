"""Agreement with what an independent solver found, at the accuracies the contract asks."""

import unittest

from engine.document.read import check_project
from engine.results.result_file import solve_project
from engine.tests import samples

LENGTH_MM, RATIO, RATE_SHARE, TRAVEL_MM = 0.001, 1e-5, 0.001, 0.01


class Cases(unittest.TestCase):
    def check_case(self, name: str) -> None:
        wanted = samples.expected(name)
        steps = len(wanted["sweep"])
        found = solve_project(check_project(samples.case(name)), steps)["stations"][0]
        for want, row in zip(wanted["sweep"], found["sweep"], strict=True):
            self.assertAlmostEqual(want["travel"], row["travel"], delta=1e-9)
            self.assertLess(abs(row["wheel_rate"] / want["wheel_rate"] - 1), RATE_SHARE)
            self.assertLess(abs(row["wheel_force"] / want["wheel_force"] - 1), RATE_SHARE)
            for unit, its in want["units"].items():
                self.assertAlmostEqual(its["length"], row["units"][unit]["length"], delta=LENGTH_MM)
                self.assertAlmostEqual(its["motion_ratio"], row["units"][unit]["motion_ratio"], delta=RATIO)
        self.assertAlmostEqual(wanted["ride"]["travel"], found["ride"]["travel"], delta=TRAVEL_MM)
        self.assertLess(abs(found["ride"]["frequency"] / wanted["ride"]["frequency"] - 1), RATE_SHARE)
        self.check_limits(wanted.get("limits", []), found["limits"])

    def check_limits(self, wanted: list[samples.Values], found: list[samples.Values]) -> None:
        self.assertEqual([w["kind"] for w in wanted], [f["kind"] for f in found])
        for want, limit in zip(wanted, found, strict=True):
            self.assertEqual((want["direction"], want["unit"]), (limit["direction"], limit["unit"]))
            self.assertAlmostEqual(want["travel"], limit["travel"], delta=TRAVEL_MM)

    def test_leaning_arm(self) -> None:
        self.check_case("arm-lean")

    def test_drop_link(self) -> None:
        self.check_case("mono-rocker")

    def test_wishbone_pushrod(self) -> None:
        self.check_case("wishbone-pushrod")

    def test_every_case_file_is_tested(self) -> None:
        names = {path.name.split(".")[0] for path in samples.CASES.glob("*.expected.json")}
        self.assertEqual(names, {"arm-lean", "mono-rocker", "wishbone-pushrod"})
