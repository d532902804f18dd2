"""Sizing does not care where the datum stands or which side of the car it is on, and work in equals work out."""

import copy
import unittest

import numpy as np

from engine.document.mirror import mirrored_station
from engine.document.schema import Coilover, Damper
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.setting import standings
from engine.sizing.dampers import ShelfDamper, dampers_that_suit
from engine.sizing.holes import pairs_of
from engine.sizing.places import grid_about, places_of
from engine.sizing.pressures import pressure_options
from engine.sizing.slide import slide
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

Values = samples.Values
SHIFT = np.array([137.0, 0.0, -42.0])


def started(name: str) -> Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


def solved(values: Values) -> SolvedStation:
    return solve_station(samples.station(values))


def shifted(values: Values) -> Values:
    """Return a station drawn from another datum: everything moved, nothing turned."""
    other = copy.deepcopy(values)
    other["points"] = {name: (np.array(place) + SHIFT).tolist() for name, place in values["points"].items()}
    for holes in other.get("holes", {}).values():
        holes["places"] = [(np.array(place) + SHIFT).tolist() for place in holes["places"]]
    return other


def mirrored(values: Values) -> Values:
    return mirrored_station(values, values["name"])


def first_damper(values: Values) -> tuple[str, str, str]:
    """Return a damper's name, its chassis end and its moving end."""
    unit = next(u for u in values["units"] if u["kind"] in ("coilover", "damper"))
    fixed, moving = sorted(unit["ends"], key=lambda end: end not in values["chassis"])
    return unit["name"], fixed, moving


class AnotherDatumAndTheOtherSide(unittest.TestCase):
    def both(self, values: Values) -> list[Values]:
        return [shifted(values), mirrored(values)]

    def test_settings_for_the_height(self) -> None:
        for name in ("wishbones-lower", "pushrod", "arm-on-air"):
            values = started(name)
            values["mass"]["finished"] = values["mass"]["corner"] + 25
            here = standings(solved(values))
            for other in self.both(values):
                there = standings(solved(other))
                for one, its in zip(here, there, strict=True):
                    self.assertEqual(one.means.by, its.means.by)
                    self.assertAlmostEqual(one.today or 0, its.today or 0, places=4)
                    self.assertAlmostEqual(one.finished or 0, its.finished or 0, places=4)

    def test_places(self) -> None:
        values = started("wishbones-lower")
        unit, fixed, moving = first_damper(values)
        for end in (fixed, moving):
            at = np.array(values["points"][end], dtype=float)
            spread = at + np.random.default_rng(5).uniform(-30, 30, (20, 3))
            here = places_of(solved(values), unit, end, spread)
            moved = places_of(solved(shifted(values)), unit, end, spread + SHIFT)
            flipped = places_of(solved(mirrored(values)), unit, end, spread * [1, -1, 1])
            for there in (moved, flipped):
                np.testing.assert_allclose(here.length, there.length, atol=1e-6)
                np.testing.assert_allclose(here.ratio, there.ratio, atol=1e-8)
                np.testing.assert_allclose(here.in_line, there.in_line, atol=1e-7)

    def test_slides_holes_and_dampers(self) -> None:
        values = started("wishbones-lower")
        unit, fixed, _ = first_damper(values)
        at = values["points"][fixed]
        values["holes"] = {fixed: {"places": [at, [at[0], at[1] + 12, at[2] + 9]]}}
        shelf = (ShelfDamper("spare", 380, 270),)
        here = solved(values)
        steps = slide(here, unit, fixed, np.array([0.0, 1.0, 0.5]), [-15.0, 15.0])
        pairs = pairs_of(here, RULES, rooms=False).pairs
        suits = dampers_that_suit(here, RULES, shelf)
        for other, way in ((shifted(values), [0.0, 1.0, 0.5]), (mirrored(values), [0.0, -1.0, 0.5])):
            there = solved(other)
            for one, its in zip(steps, slide(there, unit, fixed, np.array(way), [-15.0, 15.0]), strict=True):
                self.assertAlmostEqual(one.ride or 0, its.ride or 0, places=5)
                self.assertAlmostEqual(one.roll or 0, its.roll or 0, places=4)
            for pair, same in zip(pairs, pairs_of(there, RULES, rooms=False).pairs, strict=True):
                self.assertAlmostEqual(pair.wheel_rate or 0, same.wheel_rate or 0, places=5)
                self.assertEqual(pair.now, same.now)
            for suit, same_suit in zip(suits, dampers_that_suit(there, RULES, shelf), strict=True):
                self.assertAlmostEqual(suit.moved, same_suit.moved, places=6)

    def test_pressures(self) -> None:
        values = started("arm-on-air")
        here = pressure_options(solved(values), RULES)
        for other in self.both(values):
            for one, its in zip(here, pressure_options(solved(other), RULES), strict=True):
                self.assertAlmostEqual(one.pressure, its.pressure, places=6)
                self.assertAlmostEqual(one.ride or 0, its.ride or 0, places=5)


class Work(unittest.TestCase):
    def test_over_the_stroke_of_a_place_the_ratio_adds_up_to_the_stroke(self) -> None:
        """∫ MR dz is how much shorter the unit gets, wherever its end stands."""
        values = started("pushrod")
        unit, fixed, _ = first_damper(values)
        now = solved(values)
        place = np.array(values["points"][fixed], dtype=float) + np.array([0.0, 25.0, -30.0])
        changed = copy.deepcopy(values)
        changed["points"][fixed] = place.tolist()
        alone = solved(changed)
        rows = alone.sweep.units[unit]
        summed = float(np.trapezoid(rows.motion_ratio, alone.sweep.travels))
        found = places_of(now, unit, fixed, place[None])
        self.assertAlmostEqual(float(found.length[0, 0] - found.length[0, -1]), summed, delta=0.02)

    def test_stroke_used_and_left_make_up_the_whole_stroke_at_every_place(self) -> None:
        for name in ("wishbones-upright", "axle-three-link"):
            values = started(name)
            unit, fixed, _ = first_damper(values)
            now = solved(values)
            part = next(u for u in now.station.units if u.name == unit)
            assert isinstance(part, Coilover | Damper)
            grid = grid_about(np.array(values["points"][fixed], dtype=float), "side", 60, 9)
            found = places_of(now, unit, fixed, grid)
            assert found.left_in_bump is not None and found.left_in_droop is not None
            whole = found.used + found.left_in_bump + found.left_in_droop
            np.testing.assert_allclose(whole, part.extended - part.compressed, atol=1e-9)
            self.assertTrue((found.in_line <= 1 + 1e-12).all())

    def test_an_adapter_counts_with_the_damper(self) -> None:
        values = samples.arm()
        plain = places_of(solved(values), "coilover", "top", np.array([[-220.0, 450, 560]]))
        values["units"][0]["adapter"] = {"top": 12.0, "bottom": 3.0}
        made_up = places_of(solved(values), "coilover", "top", np.array([[-220.0, 450, 560]]))
        assert plain.left_in_bump is not None and made_up.left_in_bump is not None
        assert plain.left_in_droop is not None and made_up.left_in_droop is not None
        self.assertAlmostEqual(float(made_up.left_in_bump[0]), float(plain.left_in_bump[0]) - 15)
        self.assertAlmostEqual(float(made_up.left_in_droop[0]), float(plain.left_in_droop[0]) + 15)

    def test_another_height_is_set_by_the_same_means(self) -> None:
        """Where it should stand elsewhere, what is set for that is what stands there."""
        values = started("wishbones-lower")
        values["travel"]["at"] = 11.0
        one = standings(solved(values))[0]
        assert one.today is not None
        values["units"][0]["preload"] += one.today - one.means.now
        ride = solved(values).ride
        assert ride is not None
        self.assertAlmostEqual(ride.travel, 11.0, places=3)

    def test_a_stack_of_two_rates_is_set_through_its_crossover(self) -> None:
        values = started("wishbones-lower")
        spring = values["units"][0]["springs"][0]
        values["units"][0]["springs"] = [
            spring,
            {"rate": 22, "free_length": 70, "solid_length": 30, "stop": 25},
        ]
        one = standings(solved(values))[0]
        assert one.today is not None
        values["units"][0]["preload"] += one.today - one.means.now
        ride = solved(values).ride
        assert ride is not None
        self.assertAlmostEqual(ride.travel, 0.0, places=2)

    def test_on_a_tank_every_pressure_still_is_the_station_solved_with_it(self) -> None:
        values = started("axle-on-air")
        values["tanks"][0]["volume"] = 3e6
        for option in pressure_options(solved(values), RULES):
            if option.ride is None:
                continue
            changed = copy.deepcopy(values)
            for unit in changed["units"]:
                if unit["kind"] == "air_spring":
                    unit["pressure"] = option.pressure
            ride = solved(changed).ride
            assert ride is not None
            self.assertAlmostEqual(ride.frequency, option.frequency or 0, places=5)


if __name__ == "__main__":
    unittest.main()
