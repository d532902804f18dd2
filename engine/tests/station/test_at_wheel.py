"""One room for force and rate at the wheel: what stands on it agrees with what is solved one by one."""

import copy
import json
import unittest
from pathlib import Path

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Station, Uncertainty
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.ride.sensitivity import Sensitivity, sensitivities
from engine.ride.settled import settled, swept
from engine.ride.spread import spread_of
from engine.station.at_wheel import Squeezes
from engine.station.solved import SolvedStation, solve_station

ROOT = Path(__file__).parents[3]
FILES = sorted([*(ROOT / "docs/examples").glob("*.json"), *(ROOT / "server/demo/files").glob("*.json")])
STEP_MM = 0.25


def every_station() -> dict[str, Station]:
    """Return every station of the examples and the demo jobs; those on air with their tank and without."""
    found = {}
    for file in FILES:
        for station in check_project(json.loads(file.read_text())).stations:
            found[f"{file.stem}: {station.name}"] = station
            bags = [unit.name for unit in station.units if unit.kind == "air_spring"]
            if bags:
                tank = {"name": "tank", "bags": bags, "volume": 5e6}
                values = station.model_dump(exclude_unset=True)
                other = [] if station.tanks else [tank]
                found[f"{file.stem}: {station.name}, other air"] = Station.model_validate(
                    values | {"tanks": other}
                )
    return found


def moved(station: Station, point: str, axis: int, by: float) -> SolvedStation:
    points = copy.deepcopy(station.points)
    points[point] = [float(c) + (by if k == axis else 0.0) for k, c in enumerate(points[point])]
    return solve_station(station.model_copy(update={"points": points}), steps=5)


class AtTheWheel(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.solved = {name: solve_station(station, steps=9) for name, station in every_station().items()}

    def test_a_batch_of_one_is_the_rows(self) -> None:
        for name, solved in self.solved.items():
            with self.subTest(name):
                rows = solved.search.pick(np.flatnonzero(solved.path.reached))
                parts = (rows.squeezes.length, rows.squeezes.ratio, rows.squeezes.slope)
                batch = Squeezes(
                    **dict(zip(("length", "ratio", "slope"), (p[:, None] for p in parts), strict=True))
                )
                at = solved.springing.at_wheel(batch)
                np.testing.assert_array_equal(at.force[0], rows.wheel_force)
                np.testing.assert_array_equal(at.rate[0], rows.wheel_rate)
                swept_rows = swept(solved, solved.linkage.points[None], rows.travels)
                closed = swept_rows.closed[0]  # a march takes no finer steps where a linkage comes to its end
                lengths = swept_rows.squeezes.length[:, 0, closed]
                np.testing.assert_allclose(lengths, rows.squeezes.length[:, closed], atol=1e-7)

    def test_the_rate_is_the_slope_of_the_force_by_whatever_air(self) -> None:
        for name, solved in self.solved.items():
            if solved.ride is None:
                continue
            with self.subTest(name):
                up, down = (solved.at(np.array([solved.ride.travel + by])) for by in (1e-3, -1e-3))
                slope = float(up.wheel_force[0] - down.wheel_force[0]) / 2e-3
                self.assertAlmostEqual(solved.ride.wheel_rate / slope, 1, delta=1e-5)

    def test_the_spread_at_no_tape_error_is_the_ride(self) -> None:
        for name, solved in self.solved.items():
            if solved.ride is None:
                continue
            with self.subTest(name):
                exact = solved.station.model_copy(update={"uncertainty": Uncertainty(tape=0.0)})
                spread = spread_of(solve_station(exact, steps=9), geometries=2)
                assert spread.ride_travel and spread.wheel_rate and spread.frequency
                self.assertAlmostEqual(spread.ride_travel.middle, solved.ride.travel, delta=1e-5)
                self.assertAlmostEqual(spread.wheel_rate.middle / solved.ride.wheel_rate, 1, delta=1e-5)
                self.assertAlmostEqual(spread.frequency.middle / solved.ride.frequency, 1, delta=1e-5)

    def test_many_geometries_stand_where_each_would_alone(self) -> None:
        for name, solved in self.solved.items():
            if solved.ride is None or ("arm-on-air" not in name and "axle-on-air" not in name):
                continue
            point = next(end for unit in solved.station.units for end in unit.ends)
            with self.subTest(name, point=point):
                points = np.repeat(solved.linkage.points[None], 3, axis=0)
                points[1, solved.linkage.index[point], 2] += 5.0
                points[2, solved.linkage.index[point], 2] -= 5.0
                travel = solved.station.travel
                stood = settled(solved, swept(solved, points, np.linspace(-travel.droop, travel.bump, 41)))
                for row, by in enumerate((0.0, 5.0, -5.0)):
                    alone = moved(solved.station, point, 2, by)
                    assert alone.ride is not None
                    self.assertAlmostEqual(float(stood.travel[row]), alone.ride.travel, delta=1e-5)
                    self.assertAlmostEqual(float(stood.at.rate[row, 0]), alone.ride.wheel_rate, delta=1e-4)

    def test_a_sensitivity_is_the_difference_of_two_full_solves_with_the_same_air(self) -> None:
        for name, solved in self.solved.items():
            found = sensitivities(solved)
            for item in (*found[:2], *found[len(found) // 3 : len(found) // 3 + 1]):
                with self.subTest(name, point=item.point, axis=item.axis):
                    self.check(solved, item)

    def test_an_eye_moved_off_its_links_own_line_is_told_as_a_station_drawn_so_stands(self) -> None:
        layout = next(its for its in LAYOUTS if its.name == "axle-three-link")
        solved = solve_station(check_project(starting_project(layout)).stations[0])
        link = solved.station.bodies["lower_link_left"]
        self.assertEqual(len(link), 3)
        found = {(item.point, item.axis): item for item in sensitivities(solved)}
        for point in link:
            for axis in range(3):
                with self.subTest(point, axis=axis):
                    self.check(solved, found[point, axis])
        self.assertGreater(max(abs(found["eye_left", axis].ride_mm) for axis in range(3)), 0.2)

    def test_a_batch_moves_what_stands_beside_a_line_as_a_body_that_is_held_from_spinning(self) -> None:
        layout = next(its for its in LAYOUTS if its.name == "axle-three-link")
        solved = solve_station(check_project(starting_project(layout)).stations[0])
        points = solved.linkage.points + np.random.default_rng(7).normal(
            scale=4.0, size=(5, *solved.linkage.points.shape)
        )
        sweep = swept(solved, points, np.linspace(-55.0, 70.0, 6))
        self.assertTrue(sweep.closed.all())
        for row, places in enumerate(points):
            drawn = {name: places[n].tolist() for name, n in solved.linkage.index.items()}
            alone = solve_station(solved.station.model_copy(update={"points": drawn})).at(sweep.travels)
            for n, law in enumerate(solved.springing.laws):
                its = alone.units[law.name]
                for mine, wanted, delta in (
                    (sweep.squeezes.length, its.length, 1e-6),
                    (sweep.squeezes.ratio, its.motion_ratio, 1e-8),
                    (sweep.squeezes.slope, its.ratio_slope, 1e-8),
                ):
                    np.testing.assert_allclose(mine[n, row], wanted, atol=delta, rtol=0, err_msg=law.name)

    def check(self, solved: SolvedStation, item: Sensitivity) -> None:
        up, down = (moved(solved.station, item.point, item.axis, by) for by in (STEP_MM, -STEP_MM))
        assert up.ride and down.ride
        ride = (up.ride.travel - down.ride.travel) / (2 * STEP_MM)
        self.assertAlmostEqual(item.ride_mm, ride, delta=2e-3 + 2e-3 * abs(ride))
        assert solved.ride
        here = np.array([solved.ride.travel])
        above, below = (its.at(here) for its in (up, down))
        rate = float(above.wheel_rate[0] - below.wheel_rate[0]) / (2 * STEP_MM)
        self.assertAlmostEqual(item.rate, rate, delta=2e-3 + 1e-2 * abs(rate))
        for name, by in item.ratios.items():
            ratio = above.units[name].motion_ratio[0] - below.units[name].motion_ratio[0]
            self.assertAlmostEqual(by, float(ratio) / (2 * STEP_MM), delta=1e-5 + 1e-2 * abs(by))


if __name__ == "__main__":
    unittest.main()
