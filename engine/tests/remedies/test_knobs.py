"""Knobs change one thing of a copy, nothing at nought, and both sides of an axle alike."""

import copy
import unittest

from engine.findings.judge import judge
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.remedies.knob import both_sides, with_points, with_spring, with_units
from engine.remedies.makers import knobs_for
from engine.station.solved import solve_station
from engine.tests import samples


class Lenses(unittest.TestCase):
    def test_a_changed_copy_leaves_what_it_was_made_from(self) -> None:
        station = samples.station(samples.arm())
        before = station.model_dump()
        name = station.units[0].name
        changed = with_units(station, [name], lambda unit: with_spring(unit, 0, rate=33.0))
        self.assertEqual(changed.units[0].springs[0].rate, 33.0)
        moved = with_points(station, {"wheel": (1, 2, 3)})
        self.assertEqual(moved.points["wheel"], [1.0, 2.0, 3.0])
        self.assertEqual(station.model_dump(), before)

    def test_units_of_an_axle_that_face_one_another_are_a_pair(self) -> None:
        values = samples.axle()
        one, other = (unit["name"] for unit in values["units"][:2])
        self.assertEqual(both_sides(samples.station(values), one), (one, other))
        values["points"]["seat_right"][1] += 60
        self.assertEqual(both_sides(samples.station(values), one), (one,))
        arm = samples.station(samples.arm())
        self.assertEqual(both_sides(arm, arm.units[0].name), (arm.units[0].name,))


class Turned(unittest.TestCase):
    def test_at_nought_nothing_changes_and_a_turn_changes_something(self) -> None:
        tried = set()
        for values in self.spoiled():
            station = samples.station(values)
            solved = solve_station(station)
            plain = station.model_dump(mode="json", exclude_unset=True)
            for finding in judge(solved):
                for knob in knobs_for(finding, solved):
                    tried.add(finding.code)
                    still, turned = (
                        knob.turn(station, x).model_dump(mode="json", exclude_unset=True)
                        for x in (0.0, knob.ways[0] * knob.step)
                    )
                    self.assertEqual(station.model_dump(mode="json", exclude_unset=True), plain, finding.code)
                    self.assertLess(self.moved(plain, still), 1e-3, finding.code)
                    self.assertGreater(self.moved(plain, turned), 1e-4, finding.code)
                    words = str(knob.say(knob.ways[0] * knob.step))
                    self.assertTrue(words.endswith(".") and "{" not in words, words)
        self.assertGreaterEqual(len(tried), 10)

    def spoiled(self) -> list[samples.Values]:
        found = []
        for layout in LAYOUTS:
            values = copy.deepcopy(starting_project(layout)["stations"][0]) | {"other_side": "alone"}
            for unit in values["units"]:
                if unit["kind"] == "strap":
                    unit["length"] += 15
                if unit["kind"] == "coilover":
                    unit["preload"] -= 12
                    unit["springs"][0]["solid_length"] += 12
                if unit["kind"] == "air_spring":
                    unit["pressure"] *= 1.3
            found.append(values)
        return found

    def moved(self, one: object, other: object) -> float:
        """Return the largest difference between numbers of two documents; something new counts as one."""
        if isinstance(one, dict) and isinstance(other, dict):
            keys = set(one) | set(other)
            # A rod that is set to its drawn length was not set before, and stands as it stood.
            return max(
                (self.moved(one.get(k), other.get(k)) for k in keys if k != "links" or k in one), default=0.0
            ) or (self.links_moved(one, other))
        if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
            return max((self.moved(a, b) for a, b in zip(one, other, strict=True)), default=0.0)
        if isinstance(one, int | float) and isinstance(other, int | float):
            return abs(one - other)
        return 0.0 if one == other else 1.0

    def links_moved(self, one: samples.Values, other: samples.Values) -> float:
        if "links" not in other or "links" in one:
            return 0.0
        moved = 0.0
        for rod, link in other["links"].items():
            a, b = (other["points"][p] for p in other["bodies"][rod])
            drawn = sum((x - y) ** 2 for x, y in zip(a, b, strict=True)) ** 0.5
            moved = max(moved, abs(link["length"] - drawn))
        return moved


if __name__ == "__main__":
    unittest.main()
