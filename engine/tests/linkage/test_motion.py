"""Positions and derivatives by second routes: differences, mirrors, moved origins, energy, closed forms."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from engine.linkage.linkage import Linkage
from engine.station.solved import mover_of, solve_station
from engine.tests import samples


class EveryLinkage(unittest.TestCase):
    def test_first_and_second_derivatives_against_differences(self) -> None:
        step = 1e-3
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                linkage = Linkage(samples.station(values))
                travels = np.array([-31.0, -7.0, 0.0, 12.5, 29.0])
                path = linkage.follow(travels)
                here, up, down = (linkage.at(path, travels + d).motion for d in (0, step, -step))
                first = (up.place - down.place) / (2 * step)
                second = (up.first - down.first) / (2 * step)
                np.testing.assert_allclose(here.first, first, atol=1e-7)
                np.testing.assert_allclose(here.second, second, atol=1e-8)

    def test_a_body_carried_in_part_by_what_is_solved_before_it(self) -> None:
        """Its carried point is moved by the arm as well as by its own unknowns: a row of its own block looks at it."""
        linkage = Linkage(samples.station(samples.plate_on_arm()))
        plate = linkage.assembly.blocks[1]
        self.assertEqual((len(linkage.assembly.blocks), len(plate.columns), plate.needed), (2, 6, (0,)))
        travels, step = np.array([-9.0, 0.0, 8.0]), 1e-3
        path = linkage.follow(travels)
        self.assertTrue(path.reached.all())
        here, up, down = (linkage.at(path, travels + d).motion for d in (0, step, -step))
        np.testing.assert_allclose(here.first, (up.place - down.place) / (2 * step), atol=1e-7)
        np.testing.assert_allclose(here.second, (up.first - down.first) / (2 * step), atol=1e-7)

    def test_bodies_stay_rigid_and_links_keep_their_length(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                station = samples.station(values)
                linkage = Linkage(station)
                place = linkage.follow(np.linspace(-45, 45, 7)).solution.motion.place
                for members in station.bodies.values():
                    numbers = [linkage.index[member] for member in members]
                    drawn = linkage.points[numbers]
                    for row in range(place.shape[2]):
                        moved = place[:, numbers, row].T
                        for i in range(len(numbers)):
                            for j in range(i):
                                self.assertAlmostEqual(
                                    math.dist(drawn[i], drawn[j]), math.dist(moved[i], moved[j]), delta=1e-6
                                )

    def test_wheel_moves_by_the_travel(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                station = samples.station(values)
                linkage = Linkage(station)
                travels = np.linspace(-40, 40, 9)
                place = linkage.follow(travels).solution.motion.place
                heights = [place[2, linkage.index[w.centre]] for w in station.wheels]
                drawn = [station.points[w.centre][2] for w in station.wheels]
                np.testing.assert_allclose(np.mean(heights, axis=0) - np.mean(drawn), travels, atol=1e-8)

    def test_work_at_the_wheel_is_work_in_the_units(self) -> None:
        # Simpson's rule over the travel on one side, stored energy on the other.
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                travels = np.linspace(-30, 30, 201)
                mover = mover_of(samples.station(values), travels=travels)
                rows, springing = mover.along, mover.springing
                weights = np.ones(201)
                weights[1:-1:2], weights[2:-1:2] = 4, 2
                at_wheel = float((rows.wheel_force * weights).sum()) * (travels[1] - travels[0]) / 3
                in_units = 0.0
                for trace in rows.units.values():
                    lengths = np.linspace(trace.length[0], trace.length[-1], 20001)
                    law = next(law for law in springing.laws if rows.units[law.name] is trace)
                    force = law.at(lengths)[0]
                    in_units -= float(np.trapezoid(force, lengths))
                self.assertAlmostEqual(at_wheel * springing.wheels / in_units, 1, delta=1e-6)

    def test_wheel_rate_is_the_slope_of_wheel_force(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                mover = mover_of(samples.station(values), travels=np.linspace(-20, 20, 11))
                places = np.array([-17.0, -3.0, 4.0, 15.0])
                up, down = mover.at(places + 1e-3), mover.at(places - 1e-3)
                slope = (up.wheel_force - down.wheel_force) / 2e-3
                np.testing.assert_allclose(mover.at(places).wheel_rate, slope, rtol=1e-6)

    def test_the_other_side_is_the_mirror(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                one = solve_station(samples.station(values), steps=5)
                other = solve_station(samples.station(samples.mirrored(values)), steps=5)
                np.testing.assert_allclose(one.sweep.wheel_rate, other.sweep.wheel_rate, rtol=1e-9)
                for wheel in one.sweep.wheels:
                    mine, its = one.sweep.wheels[wheel], other.sweep.wheels[wheel]
                    np.testing.assert_allclose(mine.camber, its.camber, atol=1e-8)
                    np.testing.assert_allclose(mine.toe, its.toe, atol=1e-8)
                    np.testing.assert_allclose(mine.centre * [[1], [-1], [1]], its.centre, atol=1e-6)

    def test_a_moved_origin_changes_nothing(self) -> None:
        shift = (3210.0, -1480.0, 655.0)
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                one = solve_station(samples.station(values), steps=5)
                other = solve_station(samples.station(samples.moved(values, shift)), steps=5)
                np.testing.assert_allclose(one.sweep.wheel_force, other.sweep.wheel_force, rtol=1e-8)
                self.assertEqual([x.kind for x in one.limits], [x.kind for x in other.limits])
                for mine, its in zip(one.limits, other.limits, strict=True):
                    self.assertAlmostEqual(mine.travel, its.travel, delta=1e-5)


class ClosedForms(unittest.TestCase):
    def test_arm_turns_as_its_sine_says(self) -> None:
        # A hinge along y: the wheel rises by R·sin, the eye turns by the same angle.
        station = samples.station(samples.arm())
        travels = np.linspace(-60, 70, 14)
        rows = mover_of(station, travels=travels).along
        angle = np.arcsin(travels / 400)
        eye = np.array([-250 * np.cos(angle) - 10 * -np.sin(angle), 250 * np.sin(angle) + 10 * np.cos(angle)])
        length = np.hypot(eye[0] + 220, eye[1] + 250 - 560)
        np.testing.assert_allclose(rows.units["coilover"].length, length, atol=1e-9)

    def test_reach_of_an_arm_is_its_own_length(self) -> None:
        solved = solve_station(samples.station(samples.arm(bump=500, droop=500)), steps=41)
        ends = sorted(x.travel for x in solved.limits if x.kind == "linkage_reach")
        np.testing.assert_allclose(ends, [-400, 400], atol=0.001)
        self.assertEqual({x.body for x in solved.limits if x.kind == "linkage_reach"}, {"arm"})
        self.assertFalse(solved.reached[0])
        self.assertTrue(solved.reached[20])

    def test_parallel_plates_translate(self) -> None:
        # Equal and parallel arms carry the wheel without turning it.
        values = samples.plate_four_bar()
        for end in ("in", "out"):
            y = 100 if end == "in" else 160
            values["points"][f"up_pivot_{end}"] = [0, y, 330]
            values["points"][f"up_joint_{end}"] = [-380, y, 320]
        solved = solve_station(samples.station(values), steps=9)
        wheel = solved.sweep.wheels["wheel"]
        np.testing.assert_allclose(wheel.camber, 0, atol=1e-7)
        place = solved.sweep.solution.motion.place
        one, other = (solved.linkage.index[n] for n in ("wheel", "up_joint_in"))
        apart = place[:, one] - place[:, other]
        np.testing.assert_allclose(apart - apart[:, :1], 0, atol=1e-7)

    def test_the_way_it_is_assembled_does_not_flip(self) -> None:
        # Steps from fine to one single leap end in the same place.
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        far = linkage.follow(np.array([95.0])).solution.motion.place[:, :, 0]
        fine = linkage.follow(np.linspace(0, 95, 200)).solution.motion.place[:, :, -1]
        np.testing.assert_allclose(far, fine, atol=1e-6)


class Perturbed(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, 2**32 - 1), st.sampled_from(sorted(samples.every_linkage())))
    def test_any_nearby_geometry_closes_and_balances(self, seed: int, name: str) -> None:
        values = samples.every_linkage()[name]
        if name in {"plate_four_bar", "axle_parallel", "strut"}:
            return  # their redundancy (or the strut's line) is exact; a crooked copy is rightly another linkage
        random = np.random.default_rng(seed)
        points = {n: list(np.add(p, random.uniform(-8, 8, 3))) for n, p in values["points"].items()}
        travels = np.linspace(-25, 25, 11)
        mover = mover_of(samples.station({**values, "points": points}), travels=travels)
        self.assertTrue(mover.path.reached.all())
        rows = mover.along
        ratio = next(iter(rows.units.values())).motion_ratio
        lengths = next(iter(rows.units.values())).length
        middle = -(lengths[2:] - lengths[:-2]) / (travels[2:] - travels[:-2])
        np.testing.assert_allclose(ratio[1:-1], middle, atol=2e-3)


if __name__ == "__main__":
    unittest.main()
