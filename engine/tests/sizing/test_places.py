"""Places checked by moving the point in the file and solving the whole station again."""

import copy
import unittest

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.places import NoPlacing, grid_about, places_at_length, places_of
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

Values = samples.Values


def started(name: str) -> Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


def solved(values: Values) -> SolvedStation:
    return solve_station(samples.station(values))


def ends_of(values: Values) -> tuple[str, str, str]:
    """Return the first damper's name, its chassis end and its moving end."""
    unit = next(u for u in values["units"] if u["kind"] in ("coilover", "damper"))
    fixed, moving = sorted(unit["ends"], key=lambda end: end not in values["chassis"])
    return unit["name"], fixed, moving


class Moved(unittest.TestCase):
    def check(self, values: Values, unit: str, end: str, by: list[float]) -> None:
        place = np.array(values["points"][end], dtype=float) + by
        found = places_of(solved(values), unit, end, place[None])
        changed = copy.deepcopy(values)
        changed["points"][end] = place.tolist()
        alone = solved(changed)
        trace = alone.sweep.units[unit]
        np.testing.assert_allclose(found.length[0], trace.length[alone.reached], atol=1e-6)
        middle = int(np.abs(alone.sweep.travels[alone.reached]).argmin())
        self.assertAlmostEqual(found.ratio[0], trace.motion_ratio[alone.reached][middle], places=7)
        part = next(u for u in alone.station.units if u.name == unit)
        if isinstance(part, Coilover | Damper) and found.left_in_bump is not None:
            self.assertAlmostEqual(found.left_in_bump[0], trace.length.min() - part.compressed, places=5)

    def test_either_end_of_many_arrangements(self) -> None:
        random = np.random.default_rng(7)
        for name in ("trailing-arm", "wishbones-lower", "wishbones-upright", "pushrod", "single-rear-drop-link",
                     "axle-four-link", "arm-on-air"):  # fmt: skip
            values = started(name)
            unit, fixed, moving = ends_of(values)
            for end in (fixed, moving):
                # Only the unit's own end is moved: what else shares the point moves with it in both routes.
                self.check(values, unit, end, random.uniform(-15, 15, 3).tolist())

    def test_the_ratio_is_the_slope_of_the_lengths(self) -> None:
        values = started("wishbones-lower")
        unit, _, moving = ends_of(values)
        found = places_of(
            solved(values),
            unit,
            moving,
            np.array([values["points"][moving]], dtype=float) + np.array([5, 0, 9]),
        )
        slope = -np.gradient(found.length[0], found.travels)
        middle = int(np.abs(found.travels).argmin())
        self.assertAlmostEqual(found.ratio[0], slope[middle], places=3)

    def test_a_damper_along_its_eyes_path_loses_nothing(self) -> None:
        values = samples.arm()
        found = places_of(
            solved(values), "coilover", "top", np.array([[-238.0, 450, 560.0], [-60, 450, 480]])
        )
        self.assertGreater(found.in_line[0], 0.999)
        self.assertLess(found.in_line[1], 0.9)


class AtALength(unittest.TestCase):
    def test_the_dummy_strut_has_its_length_where_it_is_wanted(self) -> None:
        for name, travel in (("wishbones-lower", 0.0), ("wishbones-lower", 41.3), ("pushrod", -30.0)):
            values = started(name)
            unit, fixed, moving = ends_of(values)
            for end in (fixed, moving):
                now = solved(values)
                start = np.array(values["points"][end], dtype=float)
                other = np.array(values["points"][moving if end == fixed else fixed], dtype=float)
                length = float(np.linalg.norm(start - other)) - 6.0
                places = places_at_length(now, unit, end, start, start - other + [0, 4, 9], travel, length)
                self.assertEqual(len(places), 2)
                for place in places[:1]:
                    changed = copy.deepcopy(values)
                    changed["points"][end] = place.tolist()
                    again = solved(changed)
                    rows = again.at(np.array([travel]))
                    self.assertAlmostEqual(float(rows.units[unit].length[0]), length, places=5)

    def test_too_far_away_is_no_place(self) -> None:
        values = samples.arm()
        found = places_at_length(
            solved(values), "coilover", "top", np.array([0.0, 900, 900]), np.array([1.0, 0, 0]), 0.0, 100.0
        )
        self.assertEqual(found, ())

    def test_refusals_say_why(self) -> None:
        now = solved(samples.arm())
        for unit, end, way in (
            ("spare", "top", [1, 0, 0]),
            ("coilover", "wheel", [1, 0, 0]),
            ("coilover", "top", [0, 0, 0]),
        ):
            with self.assertRaises(NoPlacing):
                places_at_length(now, unit, end, np.zeros(3), np.array(way, dtype=float), 0.0, 100.0)


class Grid(unittest.TestCase):
    def test_a_plans_places_lie_in_it_about_the_point(self) -> None:
        place = grid_about(np.array([10.0, 20, 30]), "side", 50, 11)
        self.assertEqual(place.shape, (121, 3))
        self.assertTrue((place[:, 1] == 20).all())
        np.testing.assert_allclose(place[60], [10, 20, 30])
        np.testing.assert_allclose(place[1] - place[0], [10, 0, 0])
        np.testing.assert_allclose(place[11] - place[0], [0, 0, 10])


if __name__ == "__main__":
    unittest.main()
