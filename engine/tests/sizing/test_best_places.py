"""The best few places, checked by putting the mount there and solving."""

import copy
import unittest

import numpy as np

from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.best_places import Best, best_places
from engine.sizing.places import Places, grid_about, places_of
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp

Values = samples.Values


def found(
    values: Values, end: str, plan: str = "front", half: float = 90.0
) -> tuple[tuple[Best, ...], Places]:
    now = solve_station(samples.station(values))
    grid = grid_about(np.array(values["points"][end], dtype=float), plan, half, 31)
    places = places_of(now, "coilover", end, grid)
    return best_places(now, "coilover", end, places, RULES), places


class Named(unittest.TestCase):
    def setUp(self) -> None:
        self.values = copy.deepcopy(starting_project(layout_named("wishbones-lower"))["stations"][0])
        self.best, self.places = found(self.values, "top")

    def test_each_fits_and_they_are_really_apart(self) -> None:
        self.assertEqual([one.wish for one in self.best], ["nearest", "ratio", "steady", "lean"])
        for one in self.best:
            assert one.left is not None
            self.assertGreaterEqual(one.left, RULES.damper_left_mm)
            changed = copy.deepcopy(self.values)
            changed["points"]["top"] = one.place
            lengths = solve_station(samples.station(changed)).sweep.units["coilover"].length
            unit = self.values["units"][0]
            left = min(float(lengths.min()) - unit["compressed"], unit["extended"] - float(lengths.max()))
            self.assertAlmostEqual(left, one.left, delta=0.02)
        for k, one in enumerate(self.best):
            for other in self.best[:k]:
                self.assertGreater(float(np.linalg.norm(np.subtract(one.place, other.place))), 11.9)

    def test_no_place_of_the_square_that_fits_is_better_at_its_wish(self) -> None:
        places = self.places
        assert places.left_in_bump is not None and places.left_in_droop is not None
        fits = np.minimum(places.left_in_bump, places.left_in_droop) >= RULES.damper_left_mm
        by = {one.wish: one for one in self.best}
        # The first wish was served first; the others only stay away from those before them.
        nearest = np.linalg.norm(places.place[fits] - np.array(self.values["points"]["top"]), axis=1).min()
        told = float(np.linalg.norm(np.subtract(by["nearest"].place, self.values["points"]["top"])))
        self.assertAlmostEqual(told, nearest, delta=0.02)
        away = np.linalg.norm(places.place - np.array(by["nearest"].place), axis=1) > 12
        self.assertAlmostEqual(by["ratio"].ratio, float(places.ratio[fits & away].max()), delta=0.01)
        self.assertLess(by["lean"].lost, by["nearest"].lost + 1e-9)

    def test_the_clearance_is_the_units_own(self) -> None:
        values = copy.deepcopy(self.values)
        top = values["points"]["top"]
        values["envelopes"] = [
            {"name": "rail", "shape": "capsule", "radius": 20,
             "along": [[-300, top[1] - 130, top[2] - 60], [300, top[1] - 130, top[2] - 60]]},
        ]  # fmt: skip
        best, _ = found(values, "top")
        for one in best:
            changed = copy.deepcopy(values)
            changed["points"]["top"] = one.place
            work = WorkUp(solve_station(samples.station(changed)))
            near = [
                c.distance
                for c in work.clearances
                if "rail" in (c.one, c.other) and "coilover" in c.one + c.other
            ]
            if near:
                assert one.clear is not None
                self.assertLessEqual(one.clear, min(near) + 1e-6)

    def test_where_nothing_fits_nothing_is_named(self) -> None:
        values = copy.deepcopy(self.values)
        values["units"][0] |= {"extended": 330.0, "compressed": 310.0}
        self.assertEqual(found(values, "top")[0], ())

    def test_a_spring_fits_wherever_it_pushes(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("swing-beam"))["stations"][0])
        unit = next(u for u in values["units"] if u["kind"] == "spring")
        end = next(end for end in unit["ends"] if end in values["chassis"])
        now = solve_station(samples.station(values))
        grid = grid_about(np.array(values["points"][end], dtype=float), "side", 60, 13)
        best = best_places(now, unit["name"], end, places_of(now, unit["name"], end, grid), RULES)
        self.assertTrue(best)
        self.assertTrue(all(one.left is None and one.ratio > 0 for one in best))


if __name__ == "__main__":
    unittest.main()
