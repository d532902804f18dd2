"""Dampers that suit, checked by fitting each and solving again."""

import copy
import unittest

import numpy as np

from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.dampers import ShelfDamper, dampers_that_suit, same_all_round
from engine.station.solved import solve_station
from engine.tests import samples

SHELF = (
    ShelfDamper("long", 420, 300),
    ShelfDamper("right", 369, 271),
    ShelfDamper("short stroke", 345, 305),
)


def started() -> samples.Values:
    return copy.deepcopy(starting_project(layout_named("wishbones-lower"))["stations"][0])


class Suits(unittest.TestCase):
    def test_each_fitted_leaves_what_is_said(self) -> None:
        values = started()
        for one in dampers_that_suit(solve_station(samples.station(values)), RULES, SHELF):
            if one.now:
                continue
            damper = next(d for d in SHELF if d.name == one.name)
            fitted = copy.deepcopy(values)
            fitted["units"][0] |= {"extended": damper.extended, "compressed": damper.compressed}
            lengths = solve_station(samples.station(fitted)).sweep.units["coilover"].length
            self.assertAlmostEqual(float(lengths.min()) - damper.compressed, one.left_in_bump, places=9)
            self.assertAlmostEqual(damper.extended - float(lengths.max()), one.left_in_droop, places=9)
            self.assertEqual(one.fits, min(one.left_in_bump, one.left_in_droop) >= RULES.damper_left_mm)

    def test_moving_the_far_end_by_what_is_said_shares_what_is_left(self) -> None:
        values = started()
        one = next(
            s
            for s in dampers_that_suit(solve_station(samples.station(values)), RULES, SHELF)
            if s.name == "long"
        )
        self.assertFalse(one.fits)
        self.assertTrue(one.can)
        eye, top = (np.array(values["points"][p]) for p in ("eye", "top"))
        moved = top + (top - eye) / np.linalg.norm(top - eye) * one.moved
        values["points"]["top"] = moved.tolist()
        values["units"][0] |= {"extended": 420, "compressed": 300}
        again = solve_station(samples.station(values))
        lengths = again.sweep.units["coilover"].length
        self.assertAlmostEqual(float(lengths.min()) - 300, one.left, delta=1.5)
        self.assertAlmostEqual(420 - float(lengths.max()), one.left, delta=1.5)
        bad = {f.code for f in judge(again) if f.mark == "fault"} & {"damper_extended", "damper_compressed"}
        self.assertEqual(bad, set())

    def test_the_fitted_one_comes_first_and_the_ratio_it_wants_uses_it_up(self) -> None:
        solved = solve_station(samples.station(started()))
        suits = dampers_that_suit(solved, RULES, SHELF)
        self.assertTrue(suits[0].now)
        one = suits[0]
        travel = solved.station.travel.bump + solved.station.travel.droop
        self.assertAlmostEqual(one.wants * travel + 2 * RULES.damper_left_mm, one.stroke)
        self.assertAlmostEqual(one.ratio * travel, float(np.ptp(solved.sweep.units["coilover"].length)))

    def test_the_same_all_round(self) -> None:
        stations = [
            solve_station(
                samples.station(starting_project(layout_named(name))["stations"][0] | {"name": name})
            )
            for name in ("wishbones-lower", "axle-four-link")
        ]
        found = same_all_round(stations, RULES, SHELF)
        self.assertEqual([one.name for one in found], [one.name for one in SHELF])
        self.assertEqual(set(found[0].wants), {"wishbones-lower", "axle-four-link"})
        self.assertAlmostEqual(found[0].wants["wishbones-lower"], (120 - 10) / 125)
        self.assertGreater(found[0].has["axle-four-link"], found[0].has["wishbones-lower"])


if __name__ == "__main__":
    unittest.main()
