"""A rocker as it is drawn: square to rod and damper, pressed in bump, and of the ratio that its arms promise."""

import unittest

from engine.layouts.corners import wishbones
from engine.layouts.fit import fitted
from engine.layouts.layout import Brief
from engine.layouts.rocker import add_rocker
from engine.ride.angles import joint_angle, rocker_joints
from engine.station.solved import mover_of, solve_station
from engine.tests import samples


def cornered(turn: float, side: int, arm: float, damper_arm: float) -> samples.Values:
    brief = Brief()
    draft, r = wishbones(brief), brief.wheel_radius
    draft.moving("rod_low", (0.0, draft.points["lower_ball"][1] - 40, 0.64 * r), "the rod's lower bolt")
    draft.body("lower_arm", "rod_low")
    pivot = (0.0, draft.points["upper_front"][1] - 10, 1.9 * r)
    add_rocker(draft, brief, pivot, (1.0, 0.0, 0.0), arm=arm, damper_arm=damper_arm, turn=turn, side=side)
    return fitted(draft, brief)


class Drawn(unittest.TestCase):
    def test_square_at_both_joints_and_pressed_in_bump(self) -> None:
        for turn, side in ((20.0, 1), (70.0, 1), (-60.0, 1), (30.0, -1), (-80.0, -1)):
            with self.subTest(turn=turn, side=side):
                mover = mover_of(samples.station(cornered(turn, side, 75.0, 70.0)))
                for joint in rocker_joints(mover.linkage):
                    angle = float(joint_angle(mover.linkage, joint, mover.path.solution)[0])
                    # The rod's foot is carried by an arm: square up to the rounding of places to 0.1 mm.
                    self.assertAlmostEqual(angle, 90, delta=1.0)
                self.assertGreater(float(mover.along.units["coilover"].motion_ratio[0]), 0)

    def test_a_longer_damper_arm_gives_as_much_more_ratio(self) -> None:
        ratios = []
        for damper_arm in (50.0, 75.0):
            solved = solve_station(samples.station(cornered(20.0, 1, 75.0, damper_arm)), steps=5)
            ratios.append(float(solved.sweep.units["coilover"].motion_ratio[2]))
        self.assertAlmostEqual(ratios[1] / ratios[0], 1.5, delta=0.03)

    def test_rod_and_joints_come_with_it(self) -> None:
        values = cornered(20.0, 1, 75.0, 70.0)
        self.assertEqual(set(values["rods"]), {"rod"})
        self.assertEqual({joint["on"] for joint in values["joints"]}, {"lower_arm", "rocker"})


if __name__ == "__main__":
    unittest.main()
