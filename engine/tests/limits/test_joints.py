"""Tilts, bends, plunge and the order of events."""

import math
import unittest

import numpy as np

from engine.limits.joints import angle_deg, joint_tilts, shaft_uses
from engine.linkage.grid import grid_of
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def with_link(bolt: list[float]) -> samples.Values:
    """An arm with a coilover whose lower eye is rated; the arm turns by asin(z/400)."""
    values = samples.arm(60, 60)
    values["joints"] = [
        {"name": "eye", "point": "eye", "rod": "coilover", "bolt": bolt, "on": "arm", "rated": 15.0}
    ]
    return values


class Joints(unittest.TestCase):
    def test_a_bolt_along_the_hinge_sees_no_tilt(self) -> None:
        linkage = Linkage(samples.station(with_link([0, 1, 0])))
        (tilt,) = joint_tilts(linkage, grid_of(linkage, 21))
        self.assertAlmostEqual(tilt.worst, 0, delta=1e-6)

    def test_a_bolt_along_the_car_leans_with_the_arm(self) -> None:
        # Bolt along x on the arm: the tilt is the angle between the damper and the arm's own x axis, less 90°.
        linkage = Linkage(samples.station(with_link([1, 0, 0])))
        grid = grid_of(linkage, 21)
        (tilt,) = joint_tilts(linkage, grid)
        worst = 0.0
        for row, z in enumerate(grid.heave):
            turn = math.asin(z / 400)
            along = np.array([math.cos(turn), 0, -math.sin(turn)])
            rod = grid.place[:, linkage.index["top"], row] - grid.place[:, linkage.index["eye"], row]
            worst = max(worst, abs(90 - math.degrees(math.acos(along @ rod / np.linalg.norm(rod)))))
        self.assertAlmostEqual(tilt.worst, worst, delta=1e-6)

    def test_binding_is_an_event_of_the_ledger(self) -> None:
        values = with_link([1, 0, 0])
        work = WorkUp(solve_station(samples.station(values)))
        binds = [
            event for event in (*work.ledger.bump, *work.ledger.droop) if event.kind.code == "joint_bind"
        ]
        (tilt,) = work.tilts
        self.assertEqual(bool(binds), tilt.worst > 15)

    def test_angles_near_nothing_are_exact(self) -> None:
        one = np.array([[1.0, 0, 0], [1.0, 1e-8, 0]])
        other = np.array([[1.0, 0, 0], [1.0, 0, 0]])
        np.testing.assert_allclose(angle_deg(one, other), [0, math.degrees(1e-8)], rtol=1e-6, atol=1e-12)


class Shafts(unittest.TestCase):
    def test_bend_and_plunge_of_a_shaft_square_across(self) -> None:
        values = samples.pushrod_corner()
        wheel = values["points"]["wheel"]
        values["points"]["inner"] = [wheel[0], 150, wheel[2]]
        values["chassis"].append("inner")
        span = wheel[1] - 150
        values["shafts"] = [
            {
                "name": "half shaft",
                "ends": ["inner", "wheel"],
                "axes": [[0, 1, 0], [0, 1, 0]],
                "rated": 20,
                "length": {"least": span - 3, "most": span + 3},
            }
        ]
        linkage = Linkage(samples.station(values))
        grid = grid_of(linkage, 41)
        (shaft,) = shaft_uses(linkage, grid)
        place = grid.place[:, linkage.index["wheel"]]
        inner = np.array(values["points"]["inner"])[:, None]
        lengths = np.linalg.norm(place - inner, axis=0)
        self.assertAlmostEqual(shaft.longest, float(lengths.max()), delta=1e-9)
        self.assertAlmostEqual(shaft.shortest, float(lengths.min()), delta=1e-9)
        bends = np.degrees(np.arccos((place - inner)[1] / lengths))
        self.assertAlmostEqual(shaft.bends[0], float(bends.max()), delta=1e-6)
        work = WorkUp(solve_station(samples.station(values)))
        events = [e for e in (*work.ledger.bump, *work.ledger.droop) if e.subject == "half shaft"]
        self.assertEqual(bool(events), lengths.min() < span - 3 or lengths.max() > span + 3)


class Ledgers(unittest.TestCase):
    def test_events_come_in_order_with_their_margin(self) -> None:
        values = samples.arm()
        values["units"].append(samples.bump_stop("stop", "eye", "top", 280))
        values["units"].append(
            {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": 325, "stretch": 0.02}
        )
        work = WorkUp(solve_station(samples.station(values)))
        bump = [event.travel for event in work.ledger.bump]
        droop = [event.travel for event in work.ledger.droop]
        self.assertEqual(bump, sorted(bump))
        self.assertEqual(droop, sorted(droop, reverse=True))
        kinds = [event.kind.code for event in work.ledger.droop]
        self.assertLess(kinds.index("strap_taut"), kinds.index("strap_end"))
        for event in work.ledger.bump:
            self.assertAlmostEqual(event.margin, event.travel - 70)
        # The stretched strap is where the solver finds its stretched length.
        end = next(e for e in work.ledger.droop if e.kind.code == "strap_end")
        rows = work.solved.at(np.array([end.travel]))
        self.assertAlmostEqual(float(rows.units["strap"].length[0]), 325 * 1.02, delta=0.02)


if __name__ == "__main__":
    unittest.main()
