"""Places by least squares: slopes by differences, an independent solver, chi squares, slips, datum and mirror."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares
from scipy.stats import chi2

from engine.document.survey import Survey
from engine.survey.adjust import SLIP, adjust, fitted
from engine.survey.kinds import READS
from engine.survey.network import Network
from engine.tests.survey.networks import held_readings, network_of, survey_of, true_places, well_checked


class Slopes(unittest.TestCase):
    def test_every_kind_by_differences(self) -> None:
        rng = np.random.default_rng(3)
        for kind, read in READS.items():
            many = {"angle": 3, "height": 1, "offset": 1, "fore_aft": 1}.get(kind, 2)
            spots = rng.uniform(-800, 800, (20, many, 3))
            value, slopes = read(spots)
            for place in range(many):
                for axis in range(3):
                    step = np.zeros_like(spots)
                    step[:, place, axis] = 1e-3
                    moved = (read(spots + step)[0] - read(spots - step)[0]) / 2e-3
                    np.testing.assert_allclose(moved, slopes[:, :, place, axis], atol=2e-7, err_msg=kind)
            self.assertEqual(value.shape[1], slopes.shape[1])

    def test_a_whole_network_with_pictures_by_differences(self) -> None:
        rng = np.random.default_rng(4)
        places = true_places(rng, 6)
        survey = survey_of(places, held_readings(rng, list(places), 12), rng)
        survey["readings"].append({"kind": "mirrored", "pair": ["p0", "p1"]})
        survey["photos"] = [
            {
                "name": plane,
                "plane": plane,
                "reference": {"ends": [[10, 20], [900, 80]], "length": 500},
                "picked": {name: rng.uniform(0, 2000, 2).tolist() for name in places},
            }
            for plane in ("side", "front", "top")
        ]
        network = network_of(survey, places, rng)
        unknowns = network.begin()
        _, slopes = network.left(unknowns)
        for column in range(network.columns):
            step = np.zeros(network.columns)
            step[column] = 1e-3
            moved = (network.left(unknowns - step)[0] - network.left(unknowns + step)[0]) / 2e-3
            np.testing.assert_allclose(moved, slopes[:, column], atol=1e-6)


class Places(unittest.TestCase):
    def test_the_same_as_an_independent_solver(self) -> None:
        rng = np.random.default_rng(9)
        places = true_places(rng, 12)
        network = network_of(survey_of(places, held_readings(rng, list(places), 40), rng), places, rng)
        fit = fitted(network, np.ones(network.rows, dtype=bool))
        other = least_squares(
            lambda x: network.left(x)[0] / network.sigma, network.begin(), xtol=1e-14, ftol=1e-14, gtol=1e-12
        )
        np.testing.assert_allclose(fit.spots.ravel(), other.x, atol=1e-4)
        errors = np.sqrt(np.diag(np.linalg.inv(other.jac.T @ other.jac))).reshape(-1, 3)
        np.testing.assert_allclose(fit.sigma, errors, rtol=0.005)

    def test_errors_are_what_they_say_over_many_surveys(self) -> None:
        total, count = 0.0, 0
        for seed in range(150):
            rng = np.random.default_rng(seed)
            places = true_places(rng, 6)
            network = network_of(survey_of(places, held_readings(rng, list(places), 14), rng), places, rng)
            fit = fitted(network, np.ones(network.rows, dtype=bool))
            off = (fit.spots - np.array([places[name] for name in network.names])).ravel()
            columns = np.arange(3 * len(network.names))
            total += float(off @ np.linalg.solve(fit.block(columns), off))
            count += len(columns)
        self.assertGreater(total, chi2.ppf(0.0005, count))
        self.assertLess(total, chi2.ppf(0.9995, count))

    @settings(max_examples=30, deadline=None)
    @given(seed=st.integers(0, 10**6), many=st.integers(3, 9), more=st.integers(0, 20))
    def test_readings_without_error_find_the_places(self, seed: int, many: int, more: int) -> None:
        rng = np.random.default_rng(seed)
        places = true_places(rng, many)
        network = network_of(survey_of(places, held_readings(rng, list(places), more)), places, rng)
        found = adjust(network)
        for name, spot in places.items():
            np.testing.assert_allclose(found.fit.spots[network.index[name]], spot, atol=0.01)
        self.assertEqual(found.suspects, ())
        self.assertFalse(found.fit.loose.any())

    def test_another_datum_and_the_mirrored_vehicle(self) -> None:
        rng = np.random.default_rng(21)
        places = true_places(rng, 7)
        readings = held_readings(rng, list(places), 16)
        survey = survey_of(places, readings, rng)
        drawn = {name: (spot + rng.normal(0, 9, 3)).tolist() for name, spot in places.items()}
        plain = adjust(Network(Survey.model_validate(survey), drawn)).fit
        moved = _changed(survey, {"fore_aft": (1, 350.0), "height": (1, -40.0)})
        shifted = {name: [x + 350, y, z - 40] for name, (x, y, z) in drawn.items()}
        there = adjust(Network(Survey.model_validate(moved), shifted)).fit
        np.testing.assert_allclose(there.spots, plain.spots + np.array([350, 0, -40]), atol=1e-5)
        np.testing.assert_allclose(there.sigma, plain.sigma, atol=1e-6)
        turned = _changed(survey, {"offset": (-1, 0.0)})
        flipped = {name: [x, -y, z] for name, (x, y, z) in drawn.items()}
        there = adjust(Network(Survey.model_validate(turned), flipped)).fit
        np.testing.assert_allclose(there.spots, plain.spots * np.array([1, -1, 1]), atol=1e-5)

    def test_reading_again_helps_up_to_a_point(self) -> None:
        for count, share in ((1, 1.0), (2, 0.5**0.5), (4, 0.5), (9, 0.5)):
            survey = {"readings": [{"kind": "height", "of": "a", "values": [200.0] * count}]}
            network = Network(Survey.model_validate(survey), {"a": [0, 0, 190]})
            self.assertAlmostEqual(float(network.sigma[0]), share)
        own = {"readings": [{"kind": "height", "of": "a", "values": [200.0], "sigma": 0.3}]}
        self.assertEqual(Network(Survey.model_validate(own), {"a": [0, 0, 0]}).sigma[0], 0.3)
        shop = {"tools": {"tape": 0.4}, "readings": [{"kind": "height", "of": "a", "values": [200.0]}]}
        self.assertEqual(Network(Survey.model_validate(shop), {"a": [0, 0, 0]}).sigma[0], 0.4)


def _changed(survey: dict, ways: dict) -> dict:
    def one(reading: dict) -> dict:
        if reading["kind"] not in ways:
            return reading
        times, more = ways[reading["kind"]]
        return {**reading, "values": [times * value + more for value in reading["values"]]}

    return {**survey, "readings": [one(reading) for reading in survey["readings"]]}


class Slips(unittest.TestCase):
    def test_a_planted_slip_is_named_and_nothing_else(self) -> None:
        named = 0
        for seed in range(300):
            rng = np.random.default_rng(1000 + seed)
            places = true_places(rng, 5)
            survey = survey_of(places, well_checked(list(places)), rng)
            network = network_of(survey, places, rng, off_mm=5.0)
            clean = fitted(network, np.ones(network.rows, dtype=bool))
            checked = [
                k for k in range(len(survey["readings"])) if clean.redundancy[network.row_of[k]] >= 0.3
            ]
            planted = int(rng.choice(checked))
            survey["readings"][planted]["values"][0] += 10 * float(network.sigma[network.row_of[planted]])
            network = Network(Survey.model_validate(survey), {n: s.tolist() for n, s in places.items()})
            named += [one.number for one in adjust(network).suspects] == [planted]
        self.assertGreaterEqual(named, 285)

    def test_false_alarms_come_at_the_levels_own_rate(self) -> None:
        alarms = readings = 0
        for seed in range(300):
            rng = np.random.default_rng(5000 + seed)
            places = true_places(rng, 5)
            network = network_of(
                survey_of(places, held_readings(rng, list(places), 16), rng), places, rng, 5.0
            )
            fit = fitted(network, np.ones(network.rows, dtype=bool))
            with np.errstate(invalid="ignore", divide="ignore"):
                w = np.abs(fit.left) / (network.sigma * np.sqrt(fit.redundancy))
            known = fit.redundancy > 1e-6
            alarms += int((w[known] > SLIP).sum())
            readings += int(known.sum())
        expected = readings / 1000
        self.assertLess(abs(alarms - expected), 4 * expected**0.5)

    def test_all_that_contradict_leave_the_rest_standing(self) -> None:
        values = [{"kind": "height", "of": "a", "values": [v]} for v in (200.0, 201.0, 640.0, 641.0)]
        network = Network(Survey.model_validate({"readings": values}), {"a": [0, 0, 200]})
        found = adjust(network)
        self.assertFalse([one for one in found.suspects if one.alone])  # nobody can tell which two are right
        self.assertTrue(np.isfinite(found.fit.spots).all())


if __name__ == "__main__":
    unittest.main()
