"""What a means must be set to, checked by setting it and solving the station anew."""

import copy
import unittest

from engine.document.schema import Coilover
from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.setting import Standing, standings, with_setting
from engine.sizing.pressures import pressure_options
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

Values = samples.Values


def started(name: str, **mass: float) -> Values:
    values = copy.deepcopy(starting_project(layout_named(name))["stations"][0])
    values["mass"] |= mass
    return values


def solved(values: Values) -> SolvedStation:
    return solve_station(samples.station(values))


def set_to(values: Values, one: Standing, setting: float) -> Values:
    """Return values with a means turned to a setting, by the file's own keys."""
    changed = copy.deepcopy(values)
    means = one.means
    if means.by == "rod":
        for rod in means.subjects:
            changed.setdefault("links", {})[rod] = {"length": setting}
    for unit in changed["units"]:
        if unit["name"] in means.subjects:
            if means.by == "perch":
                unit["preload"] = unit.get("preload", 0.0) + setting - means.now
            elif means.by == "spring":
                unit["springs"][0]["free_length"] += setting - means.now
            else:
                unit["pressure"] = setting
    return changed


class Settings(unittest.TestCase):
    def check(self, name: str, by: str, places: int = 2) -> None:
        values = started(name)
        values["mass"]["finished"] = values["mass"]["corner"] * 1.15
        values["adjusting"] = {"by": by, "reach": 12.0}
        one = next(s for s in standings(solved(values)) if s.means.by == by)
        heavier = copy.deepcopy(values)
        heavier["mass"]["corner"] = values["mass"]["finished"]
        for which, base, wanted in (
            (one.today, values, 0.0),
            (one.finished, heavier, 0.0),
            (one.higher, values, -12.0),
            (one.lower, values, 12.0),
        ):
            assert which is not None
            ride = solved(set_to(base, one, which)).ride
            assert ride is not None
            self.assertAlmostEqual(ride.travel, wanted, places=places, msg=f"{name} by {by}")

    def test_perch_of_one_coil_and_of_an_axle(self) -> None:
        self.check("wishbones-lower", "perch")
        self.check("axle-four-link", "perch")

    def test_rod_to_a_rocker_and_rods_of_an_axle(self) -> None:
        self.check("pushrod", "rod")
        self.check("pullrod", "rod")
        self.check("axle-cantilever", "rod")

    def test_pressure_of_one_bag_and_of_two(self) -> None:
        self.check("arm-on-air", "pressure", places=1)
        self.check("axle-on-air", "pressure", places=1)

    def test_length_of_a_spring_on_its_own(self) -> None:
        values = started("swing-beam")
        values["mass"]["finished"] = values["mass"]["corner"] * 1.15
        (one,) = standings(solved(values))
        self.assertEqual((one.means.by, one.means.subjects), ("spring", ("spring",)))
        heavier = copy.deepcopy(values)
        heavier["mass"]["corner"] = values["mass"]["finished"]
        for which, base in ((one.today, values), (one.finished, heavier)):
            assert which is not None
            ride = solved(set_to(base, one, which)).ride
            assert ride is not None
            self.assertAlmostEqual(ride.travel, 0.0, places=2)

    def test_setting_it_counts_down_what_is_left_to_turn(self) -> None:
        values = started("wishbones-lower", finished=460)
        values["units"][0] |= {"preload": 3.0, "perch": {"up": 30, "down": 2}}
        now = solved(values)
        one = standings(now)[0]
        station = with_setting(now.station, one.means, 9.5)
        coilover = station.units[0]
        assert isinstance(coilover, Coilover) and coilover.perch is not None
        self.assertEqual((coilover.preload, coilover.perch.up, coilover.perch.down), (9.5, 23.5, 8.5))

    def test_every_means_set_stands_where_it_is_wanted(self) -> None:
        for name in ("wishbones-lower", "pushrod", "axle-on-air", "swing-beam"):
            now = solved(started(name))
            for one in standings(now):
                if one.today is not None:
                    ride = solve_station(with_setting(now.station, one.means, one.today)).ride
                    assert ride is not None
                    self.assertAlmostEqual(ride.travel, 0.0, places=1, msg=f"{name} by {one.means.by}")

    def test_a_rod_is_made_longer_and_keeps_what_is_left(self) -> None:
        values = started("pushrod")
        rod = next(s for s in standings(solved(values)) if s.means.by == "rod").means
        values["rods"] = {rod.subjects[0]: {"thread": 12, "engagement": 20, "longer": 4.0, "shorter": 6.0}}
        station = with_setting(samples.station(values), rod, rod.now + 2.5)
        self.assertAlmostEqual(station.links[rod.subjects[0]].length or 0.0, rod.now + 2.5, places=3)
        self.assertEqual(
            (station.rods[rod.subjects[0]].longer, station.rods[rod.subjects[0]].shorter), (1.5, 8.5)
        )

    def test_a_weight_that_nothing_carries_is_none(self) -> None:
        values = started("pushrod")
        values["mass"]["finished"] = values["mass"]["corner"] * 40
        rod = next(s for s in standings(solved(values)) if s.means.by == "rod")
        self.assertIsNone(rod.finished)

    def test_what_is_there_to_turn(self) -> None:
        values = started("wishbones-lower")
        values["units"][0]["perch"] = {"up": 10, "down": 4}
        one = standings(solved(values))[0]
        preload = values["units"][0].get("preload", 0.0)
        self.assertEqual(one.means.holds(preload + 10), True)
        self.assertEqual(one.means.holds(preload + 10.1), False)
        self.assertEqual(one.means.holds(preload - 4.1), False)
        self.assertEqual(one.means.holds(None), False)


class Judged(unittest.TestCase):
    def mark(self, values: Values, code: str) -> str | None:
        return next((f.mark for f in judge(solved(values), RULES) if f.code == code), None)

    def test_heights_that_are_wanted(self) -> None:
        values = started("wishbones-lower")
        self.assertIsNone(self.mark(values, "height_adjuster"))
        values["adjusting"] = {"by": "perch", "reach": 15.0}
        values["units"][0]["perch"] = {"up": 40, "down": 40}
        self.assertEqual(self.mark(values, "height_adjuster"), "good")
        values["units"][0]["perch"] = {"up": 2, "down": 40}
        self.assertEqual(self.mark(values, "height_adjuster"), "warning")
        values["adjusting"] = {"by": "pressure", "reach": 15.0}
        self.assertEqual(self.mark(values, "height_adjuster"), "warning")

    def test_finished_mass_on_bags_and_by_a_rod(self) -> None:
        values = started("arm-on-air")
        values["mass"]["finished"] = values["mass"]["corner"] + 15
        self.assertEqual(self.mark(values, "finished_mass"), "good")
        values["units"][0]["max_pressure"] = values["units"][0]["pressure"]
        self.assertEqual(self.mark(values, "finished_mass"), "warning")
        values = started("pushrod")
        rod = next(s for s in standings(solved(values)) if s.means.by == "rod").means.subjects[0]
        values["mass"]["finished"] = values["mass"]["corner"] + 15
        values["adjusting"] = {"by": "rod", "reach": 0.0}
        values["rods"] = {rod: {"thread": 12, "engagement": 35, "longer": 30, "shorter": 30}}
        self.assertEqual(self.mark(values, "finished_mass"), "good")
        values["rods"][rod] |= {"longer": 0.5, "shorter": 0.5}
        self.assertEqual(self.mark(values, "finished_mass"), "warning")
        # What the thread holds ends it first, whatever is said to be left.
        values["rods"][rod] |= {"longer": 30, "shorter": 30, "engagement": 18.2}
        self.assertEqual(self.mark(values, "finished_mass"), "warning")


class Pressures(unittest.TestCase):
    def test_each_is_the_station_solved_with_it(self) -> None:
        values = started("axle-on-air")
        options = pressure_options(solved(values), RULES)
        self.assertGreater(len([o for o in options if o.ride is not None]), 2)
        for option in options:
            changed = copy.deepcopy(values)
            for unit in changed["units"]:
                if unit["kind"] == "air_spring":
                    unit["pressure"] = option.pressure
            alone = solved(changed)
            if option.ride is not None:
                assert alone.ride is not None
                self.assertAlmostEqual(alone.ride.travel, option.ride, places=6)
                self.assertAlmostEqual(alone.ride.frequency, option.frequency or 0, places=6)

    def test_more_pressure_stands_higher_and_the_wanted_one_stands_as_wanted(self) -> None:
        options = [o for o in pressure_options(solved(started("arm-on-air")), RULES) if o.ride is not None]
        rides = [o.ride for o in options]
        self.assertEqual(rides, sorted(rides, reverse=True))
        wanted = next(o for o in options if o.wanted)
        self.assertAlmostEqual(wanted.ride or 9.0, 0.0, delta=0.3)

    def test_none_without_bags(self) -> None:
        self.assertEqual(pressure_options(solved(started("pushrod")), RULES), ())


if __name__ == "__main__":
    unittest.main()
