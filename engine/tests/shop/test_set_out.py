"""Setting out: tapes that cross well give the place back, marks come first, and close enough is what the ride allows."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.job_parts import job_parts
from engine.shop.set_out import FAR_MM, NEAR_MM, RIDE_MM, SetOut, crossing, set_out
from engine.station.solved import SolvedStation, solve_station

Values = dict[str, Any]
MARKS = {"A": [700, 420, 250], "B": [700, -420, 250], "C": [-700, 420, 260], "D": [-700, -420, 620]}


def project(marks: Values | None = None) -> Values:
    values: Values = {**starting_project(layout_named("wishbones-lower"))}
    return {**values, "survey": {"marks": marks}} if marks else values


def mounts(values: Values) -> tuple[list[SetOut], SolvedStation]:
    checked = check_project(values)
    solved = solve_station(checked.stations[0])
    return set_out(checked, solved), solved


class Tapes(unittest.TestCase):
    def test_how_well_three_cross_is_their_least_singular_value(self) -> None:
        ways = np.random.default_rng(5).normal(size=(400, 3, 3))
        ways[0] = np.eye(3)
        ways[1, 2] = ways[1, 0] + ways[1, 1]  # in one plane
        ways[2] = ways[2, 0]  # all one way
        ways /= np.linalg.norm(ways, axis=2, keepdims=True)
        np.testing.assert_allclose(crossing(ways), np.linalg.svd(ways, compute_uv=False)[:, -1], atol=3e-8)

    def test_three_tapes_find_the_place_again(self) -> None:
        values = project(MARKS)
        found, solved = mounts(values)
        for mount in found:
            places = np.array([self.place(values, name) for name, _ in mount.tapes])
            lengths = np.array([long for _, long in mount.tapes])
            spot = np.add(solved.station.points[mount.point], [4.0, -3.0, 5.0])
            for _ in range(20):  # Newton from where it was tacked a little off
                away = spot - places
                apart = np.linalg.norm(away, axis=1)
                spot = spot - np.linalg.solve(away / apart[:, None], apart - lengths)
            np.testing.assert_allclose(spot, solved.station.points[mount.point], atol=1e-6)

    def place(self, values: Values, name: str) -> list[float]:
        if name in values["survey"]["marks"]:
            return values["survey"]["marks"][name]
        return values["stations"][0]["points"][name.split("/")[1]]

    def test_marks_that_are_there_come_before_mounts_still_to_be_made(self) -> None:
        found, _ = mounts(project(MARKS))
        names = [name for mount in found for name, _ in mount.tapes]
        self.assertGreater(sum(name in MARKS for name in names), len(names) / 2)

    def test_no_tape_is_too_short_or_too_long_or_to_itself(self) -> None:
        for mount in mounts(project(MARKS))[0]:
            for name, long in mount.tapes:
                self.assertTrue(NEAR_MM <= long <= FAR_MM)
                self.assertNotEqual(name, f"{mount.station}/{mount.point}")

    def test_it_stands_where_it_is_drawn(self) -> None:
        found, solved = mounts(project())
        for mount in found:
            self.assertEqual(
                [mount.ahead, mount.out, mount.up], list(map(float, solved.station.points[mount.point]))
            )


class Close(unittest.TestCase):
    def test_as_far_off_as_is_close_enough_the_ride_moves_no_more_than_is_allowed(self) -> None:
        values = project()
        found, solved = mounts(values)
        assert solved.ride is not None
        tight = min(found, key=lambda mount: min(mount.close_enough))
        axis = int(np.argmin(tight.close_enough))
        moved = copy.deepcopy(values)
        moved["stations"][0]["points"][tight.point][axis] += tight.close_enough[axis]
        after = solve_station(check_project(moved).stations[0]).ride
        assert after is not None
        self.assertLessEqual(abs(after.travel - solved.ride.travel), 1.1 * RIDE_MM)


class OneBoltTwoPoints(unittest.TestCase):
    """A rocker turns on one bolt through both of its points: it is set out once, where its tabs are."""

    def test_the_middle_of_the_pair_is_set_out_and_its_points_say_so(self) -> None:
        for name in ("pushrod", "pullrod", "axle-cantilever"):
            with self.subTest(name):
                project = check_project(starting_project(layout_named(name)))
                parts = job_parts(project, fitted=False)
                rows = {mount.point: mount for mount in parts.mounts}
                pivots = [mount for mount in parts.mounts if len(mount.tabs) > 1]
                self.assertTrue(pivots)
                for pivot in pivots:
                    (tab,) = parts.tabs_at(pivot)
                    self.assertEqual(tab.name, f"{pivot.point} tab")
                    spots = [np.array(project.stations[0].points[one]) for one in pivot.tabs]
                    middle = np.array([pivot.ahead, pivot.out, pivot.up])
                    line = (spots[1] - spots[0]) / np.linalg.norm(spots[1] - spots[0])
                    # On the hinge's line, between its points; and each point says how far from there it lies.
                    self.assertLess(np.linalg.norm(np.cross(middle - spots[0], line)), 1e-9)
                    for one, spot in zip(pivot.tabs, spots, strict=True):
                        self.assertEqual(parts.tabs_at(rows[one]), [])
                        on = rows[one].on
                        assert on is not None
                        self.assertEqual(on[0], pivot.point)
                        self.assertAlmostEqual(on[1], spot[0] - middle[0])
                        for mount in parts.mounts:  # nothing is taped to where no metal is
                            self.assertNotIn(f"{mount.station}/{one}", [place for place, _ in mount.tapes])
                    taped = {place: long for place, long in pivot.tapes}
                    for place, long in taped.items():
                        station, _, point = place.partition("/")
                        if point in project.stations[0].points and station == pivot.station:
                            apart = np.linalg.norm(middle - np.array(project.stations[0].points[point]))
                            self.assertAlmostEqual(long, apart)


if __name__ == "__main__":
    unittest.main()
