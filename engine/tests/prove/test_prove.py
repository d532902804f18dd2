"""Planted errors found again: cycles of a crooked car, weigh-ins of a heavy one; records that cannot be are marked."""

import copy
import json
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.prove.causes import said_cause
from engine.prove.cycled import Cycled
from engine.prove.likely import EYES_MM
from engine.prove.proof import Proof, proof_values, prove
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples
from engine.tests.vehicle.test_stance import four_corners, project
from engine.vehicle.stance import balanced
from engine.vehicle.wheels import newtons, vehicle_of

Values = dict[str, Any]


def cycle(
    station: str, travels: np.ndarray, lengths: np.ndarray, unit: str = "coilover", **more: Any
) -> Values:
    rows = [
        {"wheel": float(z), "lengths": {unit: float(long)}} for z, long in zip(travels, lengths, strict=True)
    ]
    return {
        "kind": "cycle",
        "when": "2026-11-20T10:00:00",
        "station": station,
        "springs_out": True,
        "tyre_on": True,
        "rows": rows,
        **more,
    }


def built(values: Values, point: str, by: list[float]) -> SolvedStation:
    other = copy.deepcopy(values)
    other["points"][point] = [float(a + b) for a, b in zip(other["points"][point], by, strict=True)]
    return solve_station(samples.station(other))


def proved(values: Values, *records: Values) -> Proof:
    document = samples.document(copy.deepcopy(values))
    document["records"] = list(records)
    return prove(check_project(document))


def crooked(
    values: Values, point: str, by: list[float], seed: int, travels: np.ndarray, noise: float = 1.0
) -> tuple[Cycled, SolvedStation]:
    """Return a cycle of a crooked car, read with the errors of tape and rule, worked out; and the car as it is."""
    rng = np.random.default_rng(seed)
    truth = built(values, point, by)
    lengths = truth.at(travels).units["coilover"].length + rng.normal(scale=0.5 * noise, size=len(travels))
    read = travels + rng.normal(scale=1.0 * noise, size=len(travels))
    proof = proved(values, cycle(values["name"], read, lengths))
    return proof.cycles[0], truth


class Cycles(unittest.TestCase):
    travels = np.linspace(-48.0, 56.0, 9)

    def test_a_true_car_has_nothing_to_explain(self) -> None:
        its, truth = crooked(samples.arm(), "top", [0, 0, 0], 1, self.travels)
        self.assertEqual(its.causes, ())
        assert its.rms is not None and its.ride is not None and truth.ride is not None
        self.assertLess(its.rms, 1.5)
        self.assertLess(abs(its.ride[0] - truth.ride.travel), 3 * its.ride[1] + 0.2)

    def test_the_ratio_as_built_is_the_crooked_cars_own(self) -> None:
        off = []
        for seed in range(8):
            its, truth = crooked(
                samples.pushrod_corner(),
                _top(samples.pushrod_corner()),
                [0, 5.0, 0],
                seed,
                self.travels * 0.6,
                noise=0.0,
            )
            ratios = truth.at(np.array([row.wheel for row in its.built])).units["coilover"].motion_ratio
            off += [abs(row.ratio - ratio) for row, ratio in zip(its.built, ratios, strict=True)]
        self.assertLess(max(off), 0.005)

    def test_the_ratio_of_nine_lengths_read_to_the_half_millimetre(self) -> None:
        off, sure = [], []
        for number, values in enumerate((samples.arm(), samples.pushrod_corner(), samples.strut())):
            top, travels = _top(values), self.travels * 0.8
            for seed in range(8):
                rng = np.random.default_rng(100 * number + seed)
                by = [0.0, 0.0, 0.0]
                by[int(rng.integers(0, 3))] = float(rng.choice([-5.0, 5.0]))
                truth = built(values, top, by).at(travels).units["coilover"]
                read = truth.length + rng.uniform(-0.25, 0.25, size=9)  # what the half millimetre leaves open
                its = proved(values, cycle(values["name"], travels, read)).cycles[0]
                for row, ratio in zip(its.built, truth.motion_ratio, strict=True):
                    off.append(abs(row.ratio - ratio))
                    sure.append(abs(row.ratio - ratio) < 3 * row.sigma)
        self.assertLess(float(np.quantile(off, 0.95)), 0.005)
        self.assertLess(
            max(off), 0.009
        )  # at the ends of a rocker's travel, where a few causes bend the ratio
        self.assertTrue(all(sure))

    def test_rows_that_lie_on_a_curve_are_trusted_more_than_rows_that_do_not(self) -> None:
        values = samples.pushrod_corner()
        steady = crooked(values, _top(values), [0, 5.0, 0], 4, self.travels, noise=0.2)[0].built
        rough = crooked(values, _top(values), [0, 5.0, 0], 4, self.travels, noise=1.5)[0].built
        for one, other in zip(steady, rough, strict=True):
            self.assertLess(one.sigma, 0.75 * other.sigma)

    def test_the_planted_error_is_named_or_told_to_be_not_tellable(self) -> None:
        rng = np.random.default_rng(11)
        named = 0
        trials = 40
        for trial in range(trials):
            values = samples.arm()
            point = str(rng.choice(["top", "eye"]))
            axis = int(rng.integers(0, 3))
            if axis == 1:
                axis = 2  # across, this damper does not feel its mounts
            by = [0.0, 0.0, 0.0]
            by[axis] = float(rng.choice([-1, 1]) * rng.uniform(4, 9))
            its, _ = crooked(values, point, by, trial, self.travels)
            name = f"{point}, {('ahead', 'out', 'up')[axis]}"
            first = [said_cause(cause) for cause in its.causes[:3]]
            told = [one for alike in its.cannot_tell for one in alike]
            named += name in first or name in told
        self.assertGreaterEqual(named / trials, 0.9)

    def test_the_interval_of_ride_height_covers_the_truth(self) -> None:
        rng = np.random.default_rng(26)
        inside = []
        for _trial in range(200):
            values = samples.arm()
            truth_values = copy.deepcopy(values)
            for spot in truth_values["points"].values():
                for axis in range(3):
                    spot[axis] += float(rng.normal(scale=2.0))
            truth = solve_station(samples.station(truth_values))
            assert truth.ride is not None
            read = self.travels + rng.normal(scale=1.0, size=9)
            # Everything that may be off is off by as much as it is said to be: places, the eyes, tape and rule.
            lengths = truth.at(self.travels).units["coilover"].length + rng.normal(scale=0.5, size=9)
            lengths += rng.normal(scale=EYES_MM)
            its = proved(values, cycle("arm", read, lengths)).cycles[0]
            assert its.ride is not None
            inside.append(abs(its.ride[0] - truth.ride.travel) < 1.645 * its.ride[1])
        self.assertAlmostEqual(float(np.mean(inside)), 0.9, delta=0.05)

    def test_as_built_lengths_lie_between_what_was_read_and_what_is_drawn(self) -> None:
        its, truth = crooked(samples.arm(), "top", [0, 0, 7.0], 3, self.travels)
        real = truth.at(np.array([row.wheel for row in its.built])).units["coilover"].length
        for row, long in zip(its.built, real, strict=True):
            self.assertLess(abs(row.likely - long), abs(row.drawn - long))
            self.assertLess(abs(row.likely - long), 2.0)

    def test_rows_that_cannot_be_are_marked_and_the_rest_counts(self) -> None:
        values = samples.arm()
        solved = solve_station(samples.station(values))
        lengths = solved.at(self.travels).units["coilover"].length
        record = cycle("arm", self.travels, lengths)
        record["rows"] += [
            {"wheel": 900.0, "lengths": {"coilover": 300.0}},
            {"wheel": 10.0, "lengths": {"coilover": 900.0}},
            {"wheel": 12.0, "lengths": {"shock": 300.0}},
            {"lengths": {"coilover": 300.0}},
            {"wheel": 14.0, "lengths": {"coilover": -4.0}},
        ]
        its = proved(values, record).cycles[0]
        said = " ".join(str(words) for words in its.said)
        for words in (
            "beyond what the drawn linkage reaches",
            "outside what it can be",
            "is no unit of",
            "neither where the wheel",
            "cannot be -4.0 mm long",
            "not in the order",
        ):
            self.assertIn(words, said)
        self.assertEqual(len(its.built), 9)
        short = proved(values, cycle("arm", self.travels[:1], lengths[:1])).cycles[0]
        self.assertIn("better nine", str(short.said[0]))
        self.assertIsNone(short.ride)

    def test_a_height_of_the_wheels_middle_is_as_good_as_its_travel(self) -> None:
        values = samples.arm()
        solved = solve_station(samples.station(values))
        lengths = solved.at(self.travels).units["coilover"].length
        record = cycle("arm", self.travels, lengths)
        for row in record["rows"]:
            row["height"] = row.pop("wheel") + values["points"]["wheel"][2]
        one, two = (
            proved(values, cycle("arm", self.travels, lengths)).cycles[0],
            proved(values, record).cycles[0],
        )
        self.assertAlmostEqual(one.built[3].wheel, two.built[3].wheel)
        self.assertAlmostEqual(one.rms or 0.0, two.rms or 0.0, places=6)


def _top(values: Values) -> str:
    """Return the chassis end of a station's coilover."""
    unit = next(unit for unit in values["units"] if unit["kind"] == "coilover")
    return next(end for end in unit["ends"] if end in values["chassis"])


def weigh(scales: dict[str, float], heights: dict[str, float], when: str = "2026-11-21T10:00:00") -> Values:
    return {"kind": "weigh", "when": when, "with": "driver", "wheels": scales, "heights": heights}


class WeighIns(unittest.TestCase):
    def real(
        self, offsets: dict[str, float], heavy: tuple[float, float, float]
    ) -> tuple[dict[str, float], dict[str, float]]:
        """Return scales and heights of a car whose perches stand off what is drawn, with a mass put in: kg, x, y."""
        values = self.values(offsets)
        vehicle = vehicle_of(project(values)).apart()
        x, y = (np.array([getattr(w, axis) for w in vehicle.wheels]) for axis in ("x", "y"))
        carried = np.array([newtons(w.carried(False)) for w in vehicle.wheels])
        mass, at, out = heavy
        wanted = np.array([carried.sum(), carried @ x, carried @ y]) + mass * GRAVITY_M_PER_S2 * np.array(
            [1, at, out]
        )
        stood = balanced(vehicle, wanted)
        return stood.scales, stood.heights

    def values(self, offsets: dict[str, float]) -> Values:
        """Return the car of four corners with its perches off as given."""
        values = four_corners()
        for station in values["stations"]:
            station["units"][0]["preload"] += offsets.get(station["name"], 0.0)
        return values

    def test_one_round_brings_it_there(self) -> None:
        offsets = {"Front left": 3.0, "Front right": -4.0, "Rear left": 1.5, "Rear right": -2.0}
        heavy = (80.0, -900.0, 300.0)
        scales, heights = self.real(offsets, heavy)
        document = self.values({})
        document["records"] = [weigh(scales, heights)]
        (its,) = prove(check_project(document)).weighs
        self.assertAlmostEqual(its.total, sum(scales.values()))
        self.assertEqual(len(its.turns), 4)
        turned = {turn.station: turn.by for turn in its.turns}
        after_scales, after_heights = self.real({key: offsets[key] + turned[key] for key in offsets}, heavy)
        for key, height in after_heights.items():
            self.assertAlmostEqual(height, 120.0 if "Front" in key else 130.0, delta=0.3)
        cross = (after_scales["Front left"] + after_scales["Rear right"]) / sum(after_scales.values())
        self.assertAlmostEqual(cross, 0.5, delta=0.002)
        assert its.after is not None
        for key, its_scale in its.after.scales.items():
            self.assertAlmostEqual(its_scale, after_scales[key], delta=0.6)
        self.assertAlmostEqual(its.turns[0].turns or 0.0, its.turns[0].by / 2.0)

    def test_what_a_turn_really_did_is_learnt(self) -> None:
        heavy = (80.0, -900.0, 300.0)
        first_scales, first_heights = self.real({"Front left": -6.0}, heavy)
        document = self.values({})
        document["records"] = [weigh(first_scales, first_heights)]
        turns = {turn.station: turn.by for turn in prove(check_project(document)).weighs[0].turns}
        # The thread is coarser than anybody thought: every turn does a fifth more.
        real = {key: 1.2 * by for key, by in turns.items()}
        real["Front left"] -= 6.0
        scales, heights = self.real(real, heavy)
        settings = [
            {
                "kind": "setting",
                "when": "2026-11-21T11:00:00",
                "station": key,
                "what": "perch",
                "from": 20.0,
                "to": 20.0 + by,
            }
            for key, by in turns.items()
        ]
        document["records"] = [
            weigh(first_scales, first_heights),
            *settings,
            weigh(scales, heights, "2026-11-21T12:00:00"),
        ]
        second = prove(check_project(document)).weighs[1]
        for turn in second.turns:
            if abs(turns[turn.station]) > 0.5:
                self.assertAlmostEqual(turn.learnt, 1.2, delta=0.06)

    def test_a_perch_that_reaches_no_further_is_said(self) -> None:
        scales, heights = self.real({"Front left": -9.0}, (80.0, -900.0, 300.0))
        document = self.values({})
        document["stations"][0]["units"][0]["perch"] = {"up": 2.0, "down": 2.0}
        document["records"] = [weigh(scales, heights)]
        (its,) = prove(check_project(document)).weighs
        turn = next(turn for turn in its.turns if turn.station == "Front left")
        self.assertAlmostEqual(turn.by, 2.0)
        self.assertAlmostEqual(turn.left_after or 0.0, 0.0)
        self.assertIn("cannot be turned far enough", " ".join(str(words) for words in its.said))

    def test_scales_that_cannot_be_are_marked(self) -> None:
        scales, heights = self.real({}, (0.0, 0.0, 0.0))
        document = self.values({})
        for change, words in (
            ({"Front left": -3.0}, "less than zero"),
            ({"Trailer": 40.0}, "is no wheel of this job"),
            ({key: value / 2 for key, value in scales.items()}, "is every wheel on its scale"),
        ):
            document["records"] = [weigh({**scales, **change}, heights)]
            said = " ".join(str(one) for one in prove(check_project(document)).weighs[0].said)
            self.assertIn(words, said)
        document["records"] = [weigh({"Front left": scales["Front left"]}, heights)]
        its = prove(check_project(document)).weighs[0]
        self.assertIn("Not weighed", " ".join(str(one) for one in its.said))
        self.assertEqual(its.turns, ())

    def test_the_centre_of_gravity_is_the_scales_own(self) -> None:
        scales, heights = self.real({}, (100.0, -900.0, 300.0))
        document = self.values({})
        document["records"] = [weigh(scales, heights)]
        (its,) = prove(check_project(document)).weighs
        vehicle = vehicle_of(check_project(document))
        mass = sum(w.mass for w in vehicle.wheels)
        x = (sum(w.mass * w.x for w in vehicle.wheels) + 100.0 * -900.0) / (mass + 100.0)
        assert its.cg is not None
        self.assertAlmostEqual(its.cg[0], x, delta=0.5)


class Gates(unittest.TestCase):
    def met(self, values: Values, *records: Values) -> dict[str, bool]:
        return {gate.name: gate.met for gate in proved(values, *records).gates}

    def test_gates_are_refused_and_then_met(self) -> None:
        values = samples.arm()
        none = self.met(values)
        self.assertFalse(none["cycled"] or none["springs_out"] or none["tyre_on"] or none["no_contact"])
        travels = np.linspace(-values["travel"]["droop"], values["travel"]["bump"], 9)
        lengths = solve_station(samples.station(values)).at(travels).units["coilover"].length
        good = self.met(values, cycle("arm", travels, lengths))
        self.assertTrue(good["cycled"] and good["springs_out"] and good["tyre_on"] and good["no_contact"])
        half = self.met(values, cycle("arm", travels[:6], lengths[:6]))
        self.assertFalse(half["cycled"])
        hit = self.met(
            values, cycle("arm", travels, lengths, contacts=[{"what": "tyre to arch", "wheel": 40.0}])
        )
        self.assertFalse(hit["no_contact"])
        stop = self.met(
            values, cycle("arm", travels, lengths, contacts=[{"what": "bump stop", "wheel": 50.0}])
        )
        self.assertTrue(stop["no_contact"])

    def test_initials_stand_beside_their_gate(self) -> None:
        sign = {
            "kind": "gate",
            "when": "2026-11-22T09:00:00",
            "name": "cycled",
            "station": "arm",
            "initials": "kl",
        }
        gates = {gate.name: gate.initials for gate in proved(samples.arm(), sign).gates}
        self.assertEqual((gates["cycled"], gates["tyre_on"]), ("kl", ""))


class Files(unittest.TestCase):
    def test_the_contracts_shape_and_a_record_whose_station_is_gone(self) -> None:
        values = samples.arm()
        record = cycle("nowhere", np.array([0.0]), np.array([300.0]))
        drive = {
            "kind": "drive",
            "when": "2026-11-23",
            "note": "bottomed on the quarry ramp",
            "used_bump": 61.0,
        }
        found = proof_values(proved(values, record, drive))
        self.assertEqual((found["format"], found["version"]), ("jugatrix-proof", 1))
        self.assertIn("no longer has", found["said"][0])
        self.assertEqual(found["cycles"], [])
        self.assertLessEqual(
            {"heights", "wheels", "heave", "pitch", "roll", "cross_share"}, set(found["vehicle"])
        )
        json.dumps(found, allow_nan=False)

    def test_a_record_that_is_none_is_refused_with_its_path(self) -> None:
        for record, path in (
            ({"kind": "cycle", "when": "2026-11-20"}, "records[0].station"),
            ({"kind": "weight", "when": "2026-11-20"}, "records[0]"),
            ({"kind": "setting", "when": "2026-11-20", "station": "arm", "what": "wing"}, "records[0].what"),
        ):
            document = samples.document(samples.arm())
            document["records"] = [record]
            with self.assertRaises(DocumentRefused) as refused:
                check_project(document)
            self.assertTrue(
                refused.exception.faults[0].path.startswith(path), refused.exception.faults[0].path
            )

    def test_every_demo_job_is_proved(self) -> None:
        for path in sorted((Path(__file__).parents[3] / "server" / "demo" / "files").glob("*.json")):
            found = proof_values(prove(check_project(json.loads(path.read_text("utf-8")))))
            self.assertTrue(found["vehicle"]["wheels"], path.name)
            json.dumps(found, allow_nan=False)


if __name__ == "__main__":
    unittest.main()
