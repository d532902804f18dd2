"""A load case on the wheels: all of it is carried, and what holds it at its height does so by a full solve."""

import copy
import unittest

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.ride.setting import standings, with_setting
from engine.station.solved import solve_station
from engine.tests.vehicle.test_stance import four_corners, project
from engine.vehicle.loaded import corner_masses
from engine.vehicle.wheels import vehicle_of

PAIR = {"name": "two on the bench", "masses": [{"name": "two", "mass": 160.0, "at": [-900.0, 120.0, 600.0]}]}


class Loaded(unittest.TestCase):
    def test_all_of_a_case_is_on_the_wheels_and_nearer_ones_carry_more(self) -> None:
        job = project(four_corners())
        document = job.model_dump(exclude_unset=True) | {"loads": [PAIR]}
        job = check_project(copy.deepcopy(document))
        vehicle = vehicle_of(job)
        more = {}
        for support in vehicle.supports:
            station = support.solved.station
            more[station.name] = corner_masses(job, station.name)["two on the bench"] - station.mass.corner
        self.assertAlmostEqual(sum(more.values()), 160.0, delta=0.05)
        front = [k for k, w in zip(more, vehicle.wheels, strict=True) if w.x > -1000]
        rear = [k for k in more if k not in front]
        self.assertGreater(sum(more[k] for k in front), sum(more[k] for k in rear))
        # Moments about both axes: where the mass sits is where the wheels carry it.
        for axis, at in (("x", -900.0), ("y", 120.0)):
            lever = sum(more[w.key] * getattr(w, axis) for w in vehicle.wheels) / 160.0
            self.assertAlmostEqual(lever, at, delta=1.0)

    def test_the_pressure_for_a_case_holds_it_where_it_is_wanted(self) -> None:
        values = starting_project(layout_named("axle-on-air"))
        for name in ("axle-on-air", "wishbones-lower"):
            values = starting_project(layout_named(name))
            values["loads"] = [PAIR]
            job = check_project(values)
            station = job.stations[0]
            masses = corner_masses(job, station.name)
            self.assertGreater(masses["two on the bench"], station.mass.corner + 5)
            solved = solve_station(station)
            means = standings(solved, 1.0, masses)[0]
            setting = means.cases["two on the bench"]
            assert setting is not None
            mass = station.mass.model_copy(update={"corner": masses["two on the bench"]})
            loaded = with_setting(station, means.means, setting).model_copy(update={"mass": mass})
            ride = solve_station(loaded).ride
            assert ride is not None
            with self.subTest(name):
                self.assertAlmostEqual(ride.travel, 0.0, delta=0.1)

    def test_none_without_cases(self) -> None:
        job = check_project(starting_project(layout_named("pushrod")))
        self.assertEqual(corner_masses(job, job.stations[0].name), {})


if __name__ == "__main__":
    unittest.main()
