"""The batch against the single solve, row by row."""

import unittest

import numpy as np

from engine.linkage.batch import sweep_batch
from engine.linkage.linkage import Linkage
from engine.station.solved import mover_of
from engine.tests import samples

TRAVELS = np.linspace(-30, 30, 13)


def crooked(linkage: Linkage, rows: int, spread: float = 1.0) -> np.ndarray:
    random = np.random.default_rng(3)
    return linkage.points + random.normal(0, spread, (rows, *linkage.points.shape))


class Batch(unittest.TestCase):
    def test_each_row_is_what_its_own_geometry_gives(self) -> None:
        for name in ("pushrod", "five_link", "axle_triangulated", "drop_link"):
            with self.subTest(name):
                values = samples.every_linkage()[name]
                linkage = Linkage(samples.station(values))
                points = crooked(linkage, 4)
                ends = values["units"][0]["ends"]
                pair = [(linkage.index[ends[0]], linkage.index[ends[1]])]
                sweep = sweep_batch(linkage, points, TRAVELS, pair)
                self.assertTrue(sweep.closed.all())
                for row in range(4):
                    moved = dict(zip(linkage.index, points[row].tolist(), strict=True))
                    rows = mover_of(samples.station({**values, "points": moved}), travels=TRAVELS).along
                    unit = rows.units[values["units"][0]["name"]]
                    np.testing.assert_allclose(sweep.length[row, :, 0], unit.length, atol=1e-7)
                    np.testing.assert_allclose(sweep.motion_ratio[row, :, 0], unit.motion_ratio, atol=1e-8)
                    np.testing.assert_allclose(sweep.ratio_slope[row, :, 0], unit.ratio_slope, atol=1e-9)

    def test_a_march_of_many_or_uneven_steps_ends_where_the_single_solve_does(self) -> None:
        """What is foreseen from the last two positions is closed at each: nothing grows along the way."""
        marches = (
            np.linspace(-40, 40, 401),
            np.array([-37.0, -2.0, -1.9, 0.0, 0.1, 12.0, 12.5, 30.0]),
            np.array([8.0, 9.0, 25.0]),
            np.array([-30.0]),
        )
        for name in ("pushrod", "five_link", "axle_triangulated", "drop_link"):
            values = samples.every_linkage()[name]
            linkage = Linkage(samples.station(values))
            ends = values["units"][0]["ends"]
            pair = [(linkage.index[ends[0]], linkage.index[ends[1]])]
            for travels in marches:
                with self.subTest(name, travels=len(travels)):
                    sweep = sweep_batch(linkage, linkage.points[None], travels, pair)
                    rows = mover_of(samples.station(values), travels=travels).along
                    unit = rows.units[values["units"][0]["name"]]
                    self.assertTrue(sweep.closed.all())
                    np.testing.assert_allclose(sweep.length[0, :, 0], unit.length, atol=1e-7)
                    np.testing.assert_allclose(sweep.motion_ratio[0, :, 0], unit.motion_ratio, atol=1e-8)
                    np.testing.assert_allclose(sweep.ratio_slope[0, :, 0], unit.ratio_slope, atol=1e-9)

    def test_to_its_very_end_it_stays_put_together_as_the_single_solve_is(self) -> None:
        """Far past every reach: where the batch still closes, the single solve gets too, to the same length."""
        travels = np.linspace(-260, 260, 53)
        for name in ("arm", "pushrod", "five_link", "axle_triangulated", "strut", "drop_link", "leaning_arm"):
            values = samples.every_linkage()[name]
            linkage = Linkage(samples.station(values))
            points = crooked(linkage, 3, 2.0)
            ends = values["units"][0]["ends"]
            pair = [(linkage.index[ends[0]], linkage.index[ends[1]])]
            sweep = sweep_batch(linkage, points, travels, pair)
            for row, its in enumerate(points):
                with self.subTest(name, row=row):
                    moved = dict(zip(linkage.index, its.tolist(), strict=True))
                    mover = mover_of(samples.station({**values, "points": moved}), travels=travels)
                    both = sweep.closed[row]
                    self.assertFalse((both & ~mover.path.reached).any())
                    # At most the last position each way is one that only finer steps get to.
                    self.assertLessEqual(int((mover.path.reached & ~both).sum()), 2)
                    unit = mover.along.units[values["units"][0]["name"]]
                    np.testing.assert_allclose(sweep.length[row, both, 0], unit.length[both], atol=1e-6)
                    np.testing.assert_allclose(
                        sweep.motion_ratio[row, both, 0], unit.motion_ratio[both], atol=1e-5
                    )

    def test_rows_do_not_touch_one_another(self) -> None:
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        points = crooked(linkage, 2200, 0.5)
        pair = [(linkage.index["damper_eye"], linkage.index["damper_anchor"])]
        whole = sweep_batch(linkage, points, TRAVELS, pair)
        part = sweep_batch(linkage, points[1990:2010], TRAVELS, pair)
        np.testing.assert_allclose(whole.length[1990:2010], part.length, atol=1e-9)

    def test_what_cannot_be_reached_is_nan_in_its_own_row_only(self) -> None:
        linkage = Linkage(samples.station(samples.pushrod_corner()))
        points = np.repeat(linkage.points[None], 3, axis=0)
        travels = np.linspace(0, 170, 35)
        pair = [(linkage.index["damper_eye"], linkage.index["damper_anchor"])]
        # Bring one rocker nearer, so that its rod reaches further.
        points[1, linkage.index["push_top"], 1] += 25
        sweep = sweep_batch(linkage, points, travels, pair)
        reach = [travels[row].max() for row in sweep.closed]
        self.assertEqual(reach[0], reach[2])
        self.assertAlmostEqual(reach[0], 149.67, delta=5)
        self.assertTrue(np.isnan(sweep.length[0, ~sweep.closed[0]]).all())
        self.assertTrue(np.isfinite(sweep.length[0, sweep.closed[0]]).all())
        self.assertNotEqual(reach[0], reach[1])

    def test_set_link_lengths_hold_in_every_row(self) -> None:
        values = samples.pushrod_corner() | {"links": {"pushrod": {"length": 386.0}}}
        linkage = Linkage(samples.station(values))
        points = crooked(linkage, 3, 0.2)
        rod = [(linkage.index["push_low"], linkage.index["push_top"])]
        sweep = sweep_batch(linkage, points, TRAVELS, rod)
        np.testing.assert_allclose(sweep.length[..., 0], 386.0, atol=1e-7)
