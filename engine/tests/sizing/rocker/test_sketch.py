"""What follows the hand: the same rockers as a search, brought nearer, and nothing where nothing fits."""

import unittest

import numpy as np

from engine.sizing.rocker.candidates import Choice, limits_of
from engine.sizing.rocker.search import different, looked_at, search_part
from engine.sizing.rocker.sketch import glance
from engine.sizing.rocker.tuning import tune
from engine.sizing.rocker.wheel_side import wheel_side_of
from engine.tests.sizing.rocker.test_moving import WITH_ROCKERS, room_of, solved


class Sketches(unittest.TestCase):
    def test_the_best_sketch_is_no_worse_than_the_best_that_was_searched(self) -> None:
        for name in WITH_ROCKERS:
            now = solved(name)
            side = wheel_side_of(now)
            targets = room_of(side, ratio=0.7, change=0.05)
            seen = glance(now, side, targets, 2048)
            self.assertEqual(len(seen.sketches) > 0, len(seen.found.score) > 0)
            # Told by all squares: a score counts no miss above its worst.
            best = min(sum(miss**2 for miss in sketch.misses.values()) for sketch in seen.sketches)
            searched = sum(float(values[0]) ** 2 for values in seen.found.misses.values())
            self.assertLessEqual(best, searched + 1e-6, name)
            self.assertEqual(len(seen.sketches[0].ratio), len(side.travels))

    def test_nothing_that_takes_the_travel_is_no_sketch(self) -> None:
        now = solved("pushrod")
        side = wheel_side_of(now)
        nowhere = room_of(side, ratio=0.7).replaced(rod_arm=(5.0, 6.0), corner=side.pivot + 900.0)
        self.assertEqual(glance(now, side, nowhere, 512).sketches, ())


class Tuned(unittest.TestCase):
    def test_choices_stay_within_their_limits_and_the_side_and_arm_stay(self) -> None:
        side = wheel_side_of(solved("pushrod"))
        targets = room_of(side, ratio=0.62, change=0.08)
        rows = different(search_part(side, targets, 0, 2048)[0], 12).choices
        tuned = tune(rows, side, targets)
        low, high = limits_of(targets)
        self.assertTrue(((tuned >= low - 1e-9) & (tuned <= high + 1e-9)).all())
        np.testing.assert_array_equal(tuned[:, Choice.SIDE], rows[:, Choice.SIDE])
        np.testing.assert_array_equal(tuned[:, Choice.ROD_ARM], rows[:, Choice.ROD_ARM])
        before, after = (looked_at(these, side, targets).score for these in (rows, tuned))
        self.assertLessEqual(float(after[0]), float(before[0]))
        # With time for few steps it comes part of the way.
        some = looked_at(tune(rows, side, targets, tries=2), side, targets).score
        self.assertLessEqual(float(after[0]), float(some[0]) + 1e-9)
