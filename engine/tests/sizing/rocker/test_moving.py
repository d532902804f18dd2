"""The closed form against the general solver and against differences, for every arrangement with a rocker."""

import copy
import unittest

import numpy as np

from engine.document.schema import RockerPlate
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.rocker.candidates import as_drawn, limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.plate import metal_of, plate_of, widths_of
from engine.sizing.rocker.room import usual_room
from engine.sizing.rocker.targets import KeepOut, Targets
from engine.sizing.rocker.wheel_side import NoRocker, WheelSide, rockers_here, wheel_side_of
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

WITH_ROCKERS = ("pushrod", "pullrod", "five-link", "single-rear-drop-link", "axle-cantilever")


def solved(name: str) -> SolvedStation:
    values = copy.deepcopy(starting_project(layout_named(name))["stations"][0])
    return solve_station(samples.station(values))


def room_of(side: WheelSide, **more: object) -> Targets:
    return Targets(**usual_room(side.pivot, side.far, side.shared), **more)  # type: ignore[arg-type]


class AsDrawn(unittest.TestCase):
    def test_lengths_ratios_and_angles_are_the_general_solvers(self) -> None:
        for name in WITH_ROCKERS:
            now = solved(name)
            side = wheel_side_of(now)
            moved = move(as_drawn(side), side.path, side.rate)
            trace = now.at(side.travels).units[side.here.unit]
            with self.subTest(name):
                np.testing.assert_allclose(moved.length[0], trace.length, atol=1e-6)
                np.testing.assert_allclose(moved.ratio[0], trace.motion_ratio, atol=1e-9)

    def test_the_samples_written_by_hand_too(self) -> None:
        now = solve_station(samples.station(samples.pushrod_corner()))
        side = wheel_side_of(now)
        moved = move(as_drawn(side), side.path, side.rate)
        # Its rod is set to another length than drawn; the rocker is sized as drawn.
        self.assertAlmostEqual(
            float(moved.length[0, side.drawn]), float(np.linalg.norm(side.eye - side.far)), places=6
        )

    def test_the_ratio_is_the_slope_of_the_length(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        moved = move(as_drawn(side), side.path, side.rate)
        slope = -np.gradient(moved.length[0], side.travels)
        np.testing.assert_allclose(moved.ratio[0, 1:-1], slope[1:-1], atol=4e-4)

    def test_both_rockers_of_an_axle_are_known(self) -> None:
        now = solved("axle-cantilever")
        self.assertEqual([here.unit for here in rockers_here(now)], ["coilover_left", "coilover_right"])
        self.assertEqual(wheel_side_of(now, "rocker_right").here.unit, "coilover_right")

    def test_without_a_rocker_it_says_so(self) -> None:
        for name in ("wishbones-lower", "axle-four-link", "single-rear"):
            with self.assertRaises(NoRocker) as none:
                wheel_side_of(solved(name))
            self.assertIn("no rod from a moving part", str(none.exception))
        with self.assertRaises(NoRocker):
            wheel_side_of(solved("pushrod"), "spare")


class Candidates(unittest.TestCase):
    def test_they_stand_as_asked_where_the_wheel_should_stand(self) -> None:
        for name in WITH_ROCKERS:
            side = wheel_side_of(solved(name))
            for in_line in (False, True):
                targets = room_of(side, ratio=0.55, in_line=in_line)
                low, high = limits_of(targets)
                numbers = np.random.default_rng(3).uniform(low, high, (400, 9))
                rockers = rockers_from(numbers, side, targets)
                moved = move(rockers, side.path, side.rate)
                ok = np.isfinite(moved.length[:, side.ride])
                self.assertGreater(ok.sum(), 200)
                at = side.ride
                np.testing.assert_allclose(moved.ratio[ok, at], 0.55, atol=1e-9)
                rod = np.degrees(np.arccos(moved.rod_cosine[ok, at]))
                np.testing.assert_allclose(rod, 90 + np.degrees(numbers[ok, 3]), atol=1e-6)
                damper = np.degrees(np.arccos(moved.damper_cosine[ok, at]))
                np.testing.assert_allclose(np.abs(damper - 90), np.abs(np.degrees(numbers[ok, 6])), atol=1e-6)
                if in_line:
                    np.testing.assert_allclose(moved.tilt[ok, at], 0, atol=1e-9)


class Plates(unittest.TestCase):
    def test_sizes_are_those_a_tape_would_read(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        plate = plate_of(side)
        self.assertAlmostEqual(plate.rod_arm, float(np.linalg.norm(side.joint - side.pivot)), places=6)
        self.assertAlmostEqual(plate.rod, float(np.linalg.norm(side.joint - side.path[side.drawn])), places=6)
        one, other = side.joint - side.pivot, side.eye - side.pivot
        between = np.degrees(np.arccos(one @ other / np.linalg.norm(one) / np.linalg.norm(other)))
        self.assertAlmostEqual(plate.included, float(between), places=2)
        # The bolt runs straight fore and aft: seen end on from the front, level from the side.
        self.assertIsNone(plate.front)
        self.assertEqual((plate.side, plate.top), (0.0, 0.0))


class Metals(unittest.TestCase):
    def test_metal_between_the_holes_is_what_a_caliper_reads(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        cut = RockerPlate(pivot_bore=26, rod_hole=8, damper_hole=12)
        found = {(one.one, one.other): one for one in metal_of(plate_of(side), cut)}
        apart = float(np.linalg.norm(side.joint - side.eye))
        self.assertAlmostEqual(found["rod", "damper"].metal, apart - 10, places=1)
        self.assertAlmostEqual(
            found["pivot", "rod"].metal, float(np.linalg.norm(side.joint - side.pivot)) - 17, places=4
        )
        self.assertTrue(found["pivot", "damper"].good)
        # 36 mm apart: metal enough, but heads and washers of bolts of 20 mm run into one another.
        close = metal_of(plate_of(side), RockerPlate(rod_hole=20, damper_hole=20))[2]
        self.assertFalse(close.good)

    def test_a_pair_with_a_gap_is_as_wide_as_both_and_the_gap(self) -> None:
        self.assertEqual(widths_of(RockerPlate(thickness=5, count=2, gap=18)), (28, 18))
        self.assertEqual(widths_of(RockerPlate(thickness=8, count=1, gap=18)), (8, 0))


class KeepOuts(unittest.TestCase):
    def test_distances_of_a_box_and_of_a_tube(self) -> None:
        box = KeepOut(
            name="rail", centre=np.zeros(3), axes=np.eye(3), half=np.array([10.0, 20, 30]), radius=0.0
        )
        self.assertAlmostEqual(float(box.distance(np.array([13.0, 24, 0]))), 5.0)
        self.assertAlmostEqual(float(box.distance(np.array([7.0, 0, 0]))), -3.0)
        tube = KeepOut(
            name="tube", centre=np.zeros(3), axes=np.eye(3), half=np.array([50.0, 0, 0]), radius=19.0
        )
        self.assertAlmostEqual(float(tube.distance(np.array([20.0, 30, 40]))), 31.0)


if __name__ == "__main__":
    unittest.main()
