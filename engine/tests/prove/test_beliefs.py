"""Beliefs against Bayes' rule by brute force, one hypothesis at a time, and against what was planted."""

import unittest
from itertools import product

import numpy as np
from scipy.stats import multivariate_normal

from engine.prove.beliefs import GOODNESS, READ, READ_SPREAD, SLIP_MM, believed


def problem(seed: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.random.Generator]:
    rng = np.random.default_rng(seed)
    at = np.linspace(-1, 1, 9)
    slopes = np.column_stack([np.ones(9), at, at**2, 0.6 * at + 0.2, np.exp(at), np.zeros(9)])
    return slopes, np.full(9, 0.8), np.array([2.0, 2.0, 2.0, 1.0, 1.5, 2.0]), rng


class Beliefs(unittest.TestCase):
    def test_the_mixture_is_every_hypothesis_weighed_by_its_likelihood(self) -> None:
        slopes, sigma, prior, rng = problem(3)
        misfit = slopes @ rng.normal(scale=prior) + rng.normal(scale=sigma)
        chances, means, seconds = [], [], []
        felt = [0, 1, 2, 3, 4]  # the last cause moves no reading: no slip is looked for in it
        for (goodness, before), read, slip in product(GOODNESS.items(), READ, [None, *felt]):
            known = np.diag((goodness * prior) ** 2)
            if slip is not None:
                known[slip, slip] += SLIP_MM**2
            noise = np.diag((read * sigma) ** 2)
            likely = multivariate_normal(np.zeros(9), slopes @ known @ slopes.T + noise).logpdf(misfit)
            weight = (
                before * np.exp(-0.5 * (np.log(read) / READ_SPREAD) ** 2) / (1 if slip is None else len(felt))
            )
            cover = np.linalg.inv(slopes.T @ np.linalg.inv(noise) @ slopes + np.linalg.inv(known))
            mean = cover @ slopes.T @ np.linalg.inv(noise) @ misfit
            chances.append(likely + np.log(weight))
            means.append(mean)
            seconds.append(cover + np.outer(mean, mean))
        weights = np.exp(np.array(chances) - max(chances))
        weights /= weights.sum()
        mean = weights @ np.array(means)
        cover = np.tensordot(weights, np.array(seconds), 1) - np.outer(mean, mean)
        values, its = believed(slopes, sigma, prior, misfit)
        np.testing.assert_allclose(values, mean, atol=1e-8)
        np.testing.assert_allclose(
            its, cover, atol=0.02 * float(cover.max())
        )  # the faintest beliefs are left out

    def test_one_slip_is_put_where_it_is_and_not_spread_over_all(self) -> None:
        for seed in range(6):
            slopes, sigma, prior, rng = problem(seed)
            misfit = 9.0 * slopes[:, 2] + rng.normal(scale=0.2 * sigma)
            values, _ = believed(slopes, sigma, prior, misfit)
            self.assertEqual(int(np.abs(values).argmax()), 2)
            self.assertGreater(float(values[2]), 6.0)

    def test_what_moves_no_reading_stays_as_it_was_known(self) -> None:
        slopes, sigma, prior, rng = problem(1)
        values, cover = believed(slopes, sigma, prior, rng.normal(scale=sigma))
        self.assertAlmostEqual(float(values[5]), 0.0)
        self.assertAlmostEqual(float(cover[:5, 5].max()), 0.0)
        self.assertLessEqual(float(cover[5, 5]), 4.0)
