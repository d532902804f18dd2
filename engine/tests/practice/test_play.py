"""Exercises played by scripted workers: the careful one comes through, the careless one is told his mistakes by name."""

import json
from unittest import TestCase

import numpy as np

from engine.document.read import check_project
from engine.practice.exercises import BY_KEY, EXERCISES
from engine.practice.play import FRAME_MM, LISTED, SURVEY, Worker, careful, careless, play, truth_of
from engine.practice.result_file import account_values
from engine.right.costs import USUAL_RATE

SEED = 3


class Played(TestCase):
    def test_the_careful_worker_comes_through_every_exercise(self) -> None:
        for exercise in EXERCISES:
            account = play(exercise, SEED, careful(exercise))
            for _, came in account.came:
                self.assertTrue(came.well, f"{exercise.key}: {came.say}")
            self.assertEqual(account.mistakes, (), exercise.key)
            self.assertEqual(account.found, account.slips, exercise.key)
            self.assertIsNone(account.costliest)
            self.assertEqual(account.cut_twice, 0)
            self.assertGreaterEqual(account.readings, account.enough)
            self.assertLess(max(account.off.values()), 5.0)

    def test_the_careless_worker_is_told_his_mistakes_by_name(self) -> None:
        for exercise in EXERCISES:
            account = play(exercise, SEED, careless(exercise))
            self.assertEqual(
                {key for key, _ in account.mistakes}, {SURVEY, *(one.key for one in exercise.decisions)}
            )
            self.assertEqual(account.found, ())
            assert account.costliest is not None
            self.assertGreater(account.costliest[1], 0.0)
            self.assertGreater(account.cost, play(exercise, SEED, careful(exercise)).cost)

    def test_who_had_every_reading_checked_and_is_caught_has_made_no_mistake(self) -> None:
        exercise = BY_KEY["stop"]
        account = play(
            exercise, 14, careful(exercise)
        )  # a car whose one misread reading its neighbours cover
        self.assertEqual((len(account.slips), len(account.found)), (2, 1))
        self.assertEqual((account.mistakes, account.costliest), ((), None))
        careless_one = play(exercise, 14, careless(exercise))
        self.assertIn("survey", [key for key, _ in careless_one.mistakes])

    def test_each_exercise_is_about_its_own_thing(self) -> None:
        """Measured with care, the other way at its own decision alone brings its mistake, and what it cost."""
        for exercise in (one for one in EXERCISES if len(one.decisions) == 1):
            decision = exercise.decisions[0]
            worker = Worker(name="one", takes={SURVEY: LISTED, decision.key: decision.ways[-1].name})
            account = play(exercise, SEED, worker)
            self.assertEqual(account.mistakes, ((decision.key, decision.ways[-1].mistake),), exercise.key)
            again = decision.again_hours * USUAL_RATE + decision.again_money
            assert account.costliest is not None
            self.assertEqual(account.costliest[0], decision.key)
            self.assertAlmostEqual(account.costliest[1], again)

    def test_the_same_seed_is_the_same_car_and_the_same_day(self) -> None:
        exercise = BY_KEY["strap"]
        one, other = (json.dumps(account_values(play(exercise, 7, careless(exercise)))) for _ in range(2))
        self.assertEqual(one, other)
        self.assertNotEqual(one, json.dumps(account_values(play(exercise, 8, careless(exercise)))))

    def test_the_truth_is_hidden_by_what_a_frame_is_off(self) -> None:
        exercise = BY_KEY["ratio"]
        drawn = exercise.drawn()["stations"][0]
        off = []
        for seed in range(60):
            true = truth_of(exercise, seed)["stations"][0]
            off += [np.array(true["points"][p]) - np.array(drawn["points"][p]) for p in drawn["chassis"]]
            self.assertEqual(true["points"]["wheel"], drawn["points"]["wheel"])
        self.assertAlmostEqual(float(np.std(off)), FRAME_MM, delta=0.1)

    def test_every_exercise_begins_with_a_job_that_has_no_fault_of_its_own(self) -> None:
        for exercise in EXERCISES:
            check_project(exercise.drawn())
            for decision in exercise.decisions:
                self.assertFalse(decision.ways[0].mistake)
                self.assertTrue(all(way.mistake for way in decision.ways[1:]))
