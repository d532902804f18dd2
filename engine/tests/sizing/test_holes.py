"""Pairs of holes checked by moving the points in the file and solving again."""

import copy
import unittest

from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.holes import pairs_of
from engine.station.solved import solve_station
from engine.tests import samples


def drilled(**holes: list[list[float]]) -> samples.Values:
    values = samples.arm()
    values["holes"] = {point: {"places": places} for point, places in holes.items()}
    return values


ROW = [[-220, 450, 560], [-240, 450, 565], [-260, 450, 570]]
LOW = [[-250, 450, 260], [-225, 450, 260]]


class Pairs(unittest.TestCase):
    def test_every_pair_is_the_station_solved_with_it(self) -> None:
        values = drilled(top=ROW, eye=LOW)
        found = pairs_of(solve_station(samples.station(values)), RULES)
        self.assertEqual(len(found.pairs), 6)
        self.assertEqual([pair.now for pair in found.pairs].count(True), 1)
        for pair in found.pairs:
            alone = copy.deepcopy(values)
            alone["points"] |= {"top": ROW[pair.holes[0]], "eye": LOW[pair.holes[1]]}
            ride = solve_station(samples.station(alone)).ride
            self.assertEqual(pair.ride is None, ride is None)
            if ride is not None and pair.ride is not None and pair.wheel_rate is not None:
                self.assertAlmostEqual(pair.ride, ride.travel, places=9)
                self.assertAlmostEqual(pair.wheel_rate, ride.wheel_rate, places=9)

    def test_the_widest_choice_is_soft_and_high_against_firm_and_low(self) -> None:
        found = pairs_of(
            solve_station(samples.station(drilled(eye=[[-250, 450, 260], [-240, 450, 262]]))), RULES
        )
        assert found.soft_high is not None and found.firm_low is not None
        soft, firm = found.pairs[found.soft_high], found.pairs[found.firm_low]
        assert soft.wheel_rate is not None and firm.wheel_rate is not None
        self.assertLess(soft.wheel_rate, firm.wheel_rate)
        self.assertIsNone(found.chassis_only)

    def test_moving_only_the_chassis_end_changes_the_rate_too(self) -> None:
        found = pairs_of(solve_station(samples.station(drilled(top=ROW))), RULES)
        rates = [pair.wheel_rate for pair in found.pairs if pair.wheel_rate is not None]
        assert found.chassis_only is not None
        told = found.chassis_only.quantities["change"].value
        self.assertAlmostEqual(told, max(rates) / min(rates) - 1)
        self.assertGreater(told, 0.0)

    def test_an_axles_sides_go_together(self) -> None:
        values = starting_project(layout_named("axle-four-link"))["stations"][0]
        tops = [unit["ends"] for unit in values["units"] if unit["kind"] == "coilover"]
        points = [next(end for end in ends if end in values["chassis"]) for ends in tops]
        values["holes"] = {
            point: {
                "places": [
                    values["points"][point],
                    [c + d for c, d in zip(values["points"][point], (0, 0, 20), strict=True)],
                ]
            }
            for point in points
        }
        found = pairs_of(solve_station(samples.station(values)), RULES, rooms=False)
        self.assertEqual(len(found.pairs), 2)
        self.assertEqual(set(found.patterns[0]), set(points))

    def test_a_hole_out_of_reach_is_said_and_the_others_stay(self) -> None:
        found = pairs_of(solve_station(samples.station(drilled(top=[*ROW, [-220, 450, 1600]]))), RULES)
        self.assertIsNotNone(found.pairs[-1].fault)
        self.assertIsNotNone(found.pairs[0].ride)

    def test_without_holes_there_are_no_pairs(self) -> None:
        self.assertEqual(pairs_of(solve_station(samples.station(samples.arm())), RULES).pairs, ())


if __name__ == "__main__":
    unittest.main()
