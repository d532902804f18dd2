"""Adjustment, the finished mass and the heights wanted: what is said, by which means, and when nothing is."""

import copy
import math
import unittest

from engine.findings.finding import RULES, Finding
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import solve_station
from engine.tests import samples

Values = samples.Values


def started(name: str) -> Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0]) | {"other_side": "alone"}


def said(values: Values, code: str) -> Finding | None:
    return next((f for f in judge(solve_station(samples.station(values)), RULES) if f.code == code), None)


class Finished(unittest.TestCase):
    def test_nothing_is_said_where_nothing_is_to_come(self) -> None:
        values = started("trailing-arm")
        self.assertIsNone(said(values, "finished_mass"))
        values["mass"]["finished"] = values["mass"]["corner"]
        self.assertIsNone(said(values, "finished_mass"))

    def test_it_stands_as_much_lower_as_the_heavier_station_does(self) -> None:
        values = started("trailing-arm")
        values["mass"]["finished"] = values["mass"]["corner"] + 18
        finding = said(values, "finished_mass")
        heavier = copy.deepcopy(values)
        heavier["mass"] = {"corner": values["mass"]["finished"], "unsprung": values["mass"]["unsprung"]}
        before, after = (solve_station(samples.station(its)).ride for its in (values, heavier))
        assert finding is not None and before is not None and after is not None
        self.assertAlmostEqual(
            finding.what.quantities["lower"].value, after.travel - before.travel, delta=0.3
        )

    def test_parts_that_come_off_are_taken_up_the_other_way(self) -> None:
        values = started("trailing-arm")
        values["mass"]["finished"] = values["mass"]["corner"] - 10
        values["units"][0]["perch"] = {"up": 0.0, "down": 30.0}
        finding = said(values, "finished_mass")
        assert finding is not None
        self.assertEqual(finding.mark, "good")
        values["units"][0]["perch"] = {"up": 30.0, "down": 0.0}
        finding = said(values, "finished_mass")
        assert finding is not None
        self.assertEqual(finding.mark, "warning")

    def test_room_to_turn_that_nobody_gave_is_asked_for_and_not_taken_as_none(self) -> None:
        for name, kind, key, asked in (
            ("trailing-arm", "coilover", "perch", "how far the perch can be turned is not given"),
            ("arm-on-air", "air_spring", "max_pressure", "what the bags are rated for is not given"),
        ):
            values = started(name)
            values["mass"]["finished"] = values["mass"]["corner"] + 12
            next(unit for unit in values["units"] if unit["kind"] == kind).pop(key, None)
            finding = said(values, "finished_mass")
            assert finding is not None and finding.remedy is not None
            self.assertEqual(finding.mark, "warning")
            self.assertIn(asked, str(finding.what))
            self.assertIsNone(finding.value)
            self.assertNotIn("there", finding.what.quantities)

    def test_a_spring_on_its_own_is_ordered_for_the_finished_mass_or_shimmed(self) -> None:
        values = started("swing-beam")
        for by, said_so in ((40, "longer, or a shim."), (-40, "shorter.")):
            values["mass"]["finished"] = values["mass"]["corner"] + by
            finding = said(values, "finished_mass")
            assert finding is not None
            self.assertEqual(finding.mark, "warning")
            self.assertIn(said_so, str(finding.what))
        values["adjusting"] = {"by": "perch", "reach": 10}
        wanted = said(values, "height_adjuster")
        assert wanted is not None
        self.assertEqual(wanted.mark, "warning")
        self.assertIn("has none", str(wanted.what))

    def test_parts_that_come_off_are_said_to_let_it_rise(self) -> None:
        values = started("trailing-arm")
        values["mass"]["finished"] = values["mass"]["corner"] - 10
        finding = said(values, "finished_mass")
        assert finding is not None
        self.assertIn("10.0 kg still to come off", str(finding.what))
        self.assertIn("higher", str(finding.what))
        self.assertGreater(finding.what.quantities["lower"].value, 0)

    def test_the_means_that_is_wanted_is_the_one_that_is_judged(self) -> None:
        values = started("pushrod")
        values["mass"]["finished"] = values["mass"]["corner"] + 12
        perch = said(values, "finished_mass")
        values["adjusting"] = {"by": "rod", "reach": 0.0}
        rod = said(values, "finished_mass")
        assert perch is not None and rod is not None
        self.assertIn("perch", str(perch.what))
        self.assertIn("turning the rod", str(rod.what))
        # Nearly the same turn, for both arms of this rocker are of a length; each sets what it says it sets.
        changed = copy.deepcopy(values)
        turned = rod.what.quantities["turned"].value
        solved = solve_station(samples.station(values))
        assert solved.ride is not None
        drawn = math.dist(values["points"]["rod_low"], values["points"]["rod_top"])
        changed["links"] = {"rod": {"length": drawn + turned}}
        changed["mass"] = {"corner": values["mass"]["finished"], "unsprung": values["mass"]["unsprung"]}
        ride = solve_station(samples.station(changed)).ride
        assert ride is not None
        self.assertAlmostEqual(ride.travel, solved.ride.travel, places=2)

    def test_a_bag_carries_more_by_pressure(self) -> None:
        values = started("arm-on-air")
        values["mass"]["finished"] = values["mass"]["corner"] + 40
        finding = said(values, "finished_mass")
        assert finding is not None
        self.assertEqual(finding.measures, "pressure")
        self.assertIn("more in the bags", str(finding.what))


class Heights(unittest.TestCase):
    def test_a_means_that_is_not_there_is_named(self) -> None:
        values = started("trailing-arm") | {"adjusting": {"by": "rod", "reach": 10.0}}
        finding = said(values, "height_adjuster")
        assert finding is not None
        self.assertEqual(finding.mark, "warning")
        self.assertIn("this station has none", str(finding.what))

    def test_how_far_it_goes_is_told_even_where_the_job_does_not_say_what_is_there(self) -> None:
        values = started("trailing-arm") | {"adjusting": {"by": "perch", "reach": 10.0}}
        values["units"][0].pop("perch", None)
        finding = said(values, "height_adjuster")
        assert finding is not None
        self.assertEqual(finding.mark, "good")
        self.assertIn("give how far the perch can be turned, and it is judged", str(finding.what))
        span = finding.what.quantities
        self.assertGreater(span["most"].value, span["least"].value)

    def test_its_ends_set_the_height_as_far_as_is_wanted(self) -> None:
        values = started("trailing-arm") | {"adjusting": {"by": "perch", "reach": 9.0}}
        values["units"][0]["perch"] = {"up": 60.0, "down": 60.0}
        finding = said(values, "height_adjuster")
        assert finding is not None
        for name, wanted in (("most", -9.0), ("least", 9.0)):
            changed = copy.deepcopy(values)
            changed["units"][0]["preload"] = finding.what.quantities[name].value
            ride = solve_station(samples.station(changed)).ride
            assert ride is not None
            self.assertAlmostEqual(ride.travel, wanted, places=2)

    def test_further_than_any_turn_goes(self) -> None:
        values = started("arm-on-air") | {"adjusting": {"by": "pressure", "reach": 300.0}}
        finding = said(values, "height_adjuster")
        assert finding is not None
        self.assertEqual(finding.mark, "warning")
        self.assertIn("No pressure in the bags sets the height", str(finding.what))


if __name__ == "__main__":
    unittest.main()
