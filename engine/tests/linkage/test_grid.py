"""Heave and articulation together, poses, and an axle that must be forced."""

import unittest

import numpy as np

from engine.linkage.batch import places_at
from engine.linkage.forced import forced_articulation
from engine.linkage.grid import articulation_mm, grid_of
from engine.linkage.linkage import Linkage
from engine.linkage.pose import host_of, pose_of
from engine.tests import samples


class Grids(unittest.TestCase):
    def test_each_wheel_stands_where_heave_and_articulation_say(self) -> None:
        linkage = Linkage(samples.station(samples.axle()))
        grid = grid_of(linkage, 9, 5)
        drawn = linkage.points[:, 2]
        for side, sign in (("left", 1), ("right", -1)):
            number = linkage.index[f"wheel_{side}"]
            risen = grid.place[2, number] - drawn[number]
            np.testing.assert_allclose(risen, grid.heave + sign * grid.articulation, atol=1e-7)
        self.assertEqual(len(np.unique(grid.articulation)), 5)
        self.assertLessEqual((grid.heave + abs(grid.articulation)).max(), 60 + 1e-6)

    def test_a_corner_does_not_articulate(self) -> None:
        grid = grid_of(Linkage(samples.station(samples.arm())), 11)
        self.assertEqual(grid.place.shape[2], 11)
        self.assertFalse(grid.articulation.any())

    def test_wanted_articulation_bounds_it(self) -> None:
        values = samples.axle()
        values["travel"]["articulation"] = 25
        self.assertEqual(articulation_mm(Linkage(samples.station(values))), 25)

    def test_poses_carry_every_point_of_their_body(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                linkage = Linkage(samples.station(values))
                place = linkage.follow(np.linspace(-25, 25, 5)).solution.motion.place
                for body, members in linkage.bodies.items():
                    pose = pose_of(linkage, body, place)
                    np.testing.assert_allclose(
                        pose.turn @ np.swapaxes(pose.turn, 1, 2), np.tile(np.eye(3), (5, 1, 1)), atol=1e-9
                    )
                    for member in members:
                        number = linkage.index[member]
                        np.testing.assert_allclose(
                            pose.point(linkage.points[number]), place[:, number].T, atol=1e-6
                        )

    def test_a_batch_at_one_position_is_each_geometry_by_itself(self) -> None:
        random = np.random.default_rng(5)
        values = samples.axle()
        linkage = Linkage(samples.station(values))
        points = linkage.points + random.uniform(-5, 5, (3, *linkage.points.shape))
        place, good = places_at(linkage, points, 20.0, 15.0)
        self.assertTrue(good.all())
        for row in range(3):
            names = dict(zip(linkage.index, points[row].tolist(), strict=True))
            alone = Linkage(samples.station({**values, "points": names}))
            expected = alone.follow(np.array([20.0]), 15.0).solution.motion.place[:, :, 0]
            np.testing.assert_allclose(place[:, :, row], expected, atol=1e-5)

    def test_hosts(self) -> None:
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        self.assertEqual(host_of(linkage, "lower_front"), "chassis")
        self.assertEqual(host_of(linkage, "wheel"), "upright")


class Forced(unittest.TestCase):
    def test_an_axle_that_articulates_needs_nothing_to_give(self) -> None:
        linkage = Linkage(samples.station(samples.axle()))
        forced = forced_articulation(linkage, 30.0)
        free = linkage.articulate(np.array([30.0])).solution.motion.place[:, :, 0]
        self.assertLess(max(forced.gives.values()), 1e-4)
        np.testing.assert_allclose(forced.place, free, atol=1e-3)

    def test_parallel_links_with_a_lateral_link_must_give(self) -> None:
        linkage = Linkage(samples.station(samples.axle(triangulated=False)))
        small, large = (max(forced_articulation(linkage, amount).gives.values()) for amount in (10.0, 40.0))
        self.assertGreater(small, 1e-4)
        self.assertGreater(large, 4 * small)
        # The axle itself stays rigid: its own points keep their distances.
        forced = forced_articulation(linkage, 40.0)
        numbers = [linkage.index[name] for name in linkage.bodies["axle"]]
        for i in numbers:
            for j in numbers:
                before = np.linalg.norm(linkage.points[i] - linkage.points[j])
                self.assertAlmostEqual(
                    float(np.linalg.norm(forced.place[:, i] - forced.place[:, j])), before, delta=0.01
                )


if __name__ == "__main__":
    unittest.main()
