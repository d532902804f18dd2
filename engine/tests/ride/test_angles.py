"""Angles at rockers: which joints are found, and what an angle finder would read there."""

import math
import unittest

import numpy as np

from engine.linkage.linkage import Linkage
from engine.ride.angles import joint_angle, rocker_joints
from engine.tests import samples


class RockerAngles(unittest.TestCase):
    def test_both_joints_of_a_pushrod_rocker_are_found(self) -> None:
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        joints = {(j.rod, j.rocker, j.point, j.is_unit) for j in rocker_joints(linkage)}
        self.assertEqual(
            joints,
            {("pushrod", "rocker", "push_top", False), ("coilover", "rocker", "damper_eye", True)},
        )

    def test_an_arm_that_carries_the_wheel_is_no_rocker(self) -> None:
        for name in ("arm", "leaning_arm", "axle_triangulated", "plate_four_bar"):
            self.assertEqual(rocker_joints(Linkage(samples.station(samples.every_linkage()[name]))), ())

    def test_the_angle_is_that_of_the_three_points_in_the_rockers_plane(self) -> None:
        # A planar rocker turning about y: the pivot, the joint and the rod's other end say it all.
        linkage = Linkage(samples.station(dict(samples.case("mono-rocker")["stations"][0])))
        joint = next(j for j in rocker_joints(linkage) if not j.is_unit)
        solution = linkage.follow(np.array([-40.0, 0.0, 40.0])).solution
        found = joint_angle(linkage, joint, solution)
        place, index = solution.motion.place, linkage.index
        for row in range(3):
            pivot = np.array([-40, 0, 232])
            at, far = (place[:, index[name], row] for name in ("link_rocker", "link_arm"))
            arm, rod = pivot - at, far - at
            turned = math.degrees(math.atan2(np.linalg.norm(np.cross(arm, rod)), arm @ rod))
            self.assertAlmostEqual(found[row], turned, delta=1e-7)

    def test_rod_force_and_damper_force_balance_about_the_pivot(self) -> None:
        # Ratio of the rocker: output arm × sine over input arm × sine is damper speed over rod speed.
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        travels = np.linspace(-35, 35, 8)
        solution = linkage.follow(travels).solution
        motion, index = solution.motion, linkage.index
        arms, sines, speeds = {}, {}, {}
        for joint in rocker_joints(linkage):
            centre = linkage.solver.geometry.turns[joint.turn].centre[:, joint.member]
            at, far = motion.place[:, index[joint.point]], motion.place[:, index[joint.far]]
            axis = linkage.solver.geometry.turns[joint.turn].axis[:, 0]
            rod = (far - at) / np.linalg.norm(far - at, axis=0)
            # Only the part of the rod's pull in the rocker's plane turns it.
            lever = np.cross((at - centre).T, rod.T) @ axis[:, 0]
            arms[joint.rod] = np.abs(lever)
            speed = motion.first[:, index[joint.point]]
            speeds[joint.rod] = np.abs((speed * rod).sum(axis=0))
            sines[joint.rod] = joint_angle(linkage, joint, solution)
        np.testing.assert_allclose(
            arms["coilover"] / arms["pushrod"], speeds["coilover"] / speeds["pushrod"], rtol=1e-9
        )
        self.assertTrue(all(((a > 45) & (a < 135)).all() for a in sines.values()))
