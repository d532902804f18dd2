"""On the floor with what is left out, on axles and on air, and gates of two sides: said, and never guessed."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.prove.proof import Proof, as_built, prove, verdict
from engine.station.solved import solve_station
from engine.tests import samples
from engine.tests.prove.test_prove import cycle, proved, weigh
from engine.tests.vehicle.test_stance import car, four_corners
from engine.vehicle.stance import balanced, heights_at, stance
from engine.vehicle.wheels import Vehicle, newtons, vehicle_of

Values = dict[str, Any]


def mixed(rear: str = "axle-four-link") -> Values:
    """Return two corners in front and an axle of a catalogue's arrangement behind."""
    front = car()["stations"][0]
    axle = copy.deepcopy(starting_project(layout_named(rear))["stations"][0])
    shift = 2600 + axle["points"][axle["wheels"][0]["centre"]][0]
    for spot in axle["points"].values():
        spot[0] -= shift
    axle["envelopes"] = []
    axle["datum"] = {"name": "frame over the axle", "height": 420.0}
    return samples.document(front, axle)


def floor(
    vehicle: Vehicle, heavy: tuple[float, float, float] = (0.0, 0.0, 0.0)
) -> tuple[dict[str, float], dict[str, float]]:
    """Return scales and heights of a vehicle with a mass put in: kg, x, y."""
    x, y = (np.array([getattr(w, axis) for w in vehicle.wheels]) for axis in ("x", "y"))
    carried = np.array([newtons(w.carried(False)) for w in vehicle.wheels])
    mass, at, out = heavy
    wanted = np.array([carried.sum(), carried @ x, carried @ y]) + mass * GRAVITY_M_PER_S2 * np.array(
        [1, at, out]
    )
    stood = balanced(vehicle, wanted)
    return stood.scales, stood.heights


def on_floor(document: Values, *records: Values) -> Proof:
    return prove(check_project({**copy.deepcopy(document), "records": list(records)}))


class Axles(unittest.TestCase):
    def test_an_axle_is_set_by_both_sides_together_and_comes_to_its_height(self) -> None:
        document = mixed()
        for unit in document["stations"][1]["units"]:
            if "perch" in unit:
                unit["perch"] = {"up": 60.0, "down": 60.0}
        scales, heights = floor(vehicle_of(check_project(document)).apart(), (120.0, -2300.0, 0.0))
        (its,) = on_floor(document, weigh(scales, heights)).weighs
        turn = next(turn for turn in its.turns if turn.station == document["stations"][1]["name"])
        self.assertGreater(turn.by, 0.0)  # the load put the axle's end down
        assert its.after is not None
        for key, height in its.after.heights.items():
            self.assertAlmostEqual(height, 120.0 if "Front" in key else 420.0, delta=0.3)
        self.assertAlmostEqual(sum(its.after.scales.values()), its.total, delta=0.1)

    def test_on_air_the_pressure_is_set_and_no_turns_are_counted(self) -> None:
        document = mixed("axle-on-air")
        scales, heights = floor(vehicle_of(check_project(document)).apart(), (80.0, -2300.0, 0.0))
        (its,) = on_floor(document, weigh(scales, heights)).weighs
        turn = next(turn for turn in its.turns if turn.station == document["stations"][1]["name"])
        self.assertEqual(turn.what, "pressure")
        self.assertIsNone(turn.turns)
        self.assertGreater(turn.by, 0.0)

    def test_a_leaning_axle_shows_both_its_wheels(self) -> None:
        vehicle = vehicle_of(check_project(mixed())).apart()
        scales, _ = floor(vehicle, (90.0, -2400.0, 500.0))
        left, right = (
            w for w in vehicle.wheels if w.key.startswith(vehicle.supports[-1].solved.station.name)
        )
        self.assertGreater(scales[left.key], scales[right.key])


class Missing(unittest.TestCase):
    def test_without_heights_it_says_what_it_takes_them_from(self) -> None:
        document = car()
        scales, _ = floor(vehicle_of(check_project(document)).apart())
        (its,) = on_floor(document, weigh(scales, {})).weighs
        self.assertIn("No heights were read", " ".join(str(one) for one in its.said))
        self.assertEqual(len(its.turns), 4)

    def test_a_height_of_nothing_and_one_without_a_datum_are_said(self) -> None:
        document = car()
        scales, heights = floor(vehicle_of(check_project(document)).apart())
        said = " ".join(
            str(one) for one in on_floor(document, weigh(scales, {**heights, "Mast": 9.0})).weighs[0].said
        )
        self.assertIn("Mast is no station", said)
        del document["stations"][1]["datum"]
        said = " ".join(
            str(one)
            for one in on_floor(document, weigh(scales, {**heights, "Rear left": 9.0})).weighs[0].said
        )
        self.assertIn("has no place that its height is measured at", said)

    def test_wishes_that_no_stiff_body_meets_are_met_as_nearly_as_it_can(self) -> None:
        document = four_corners()
        document["stations"][0]["travel"]["at"] = 12.0
        scales, heights = floor(vehicle_of(check_project(document)).apart())
        said = " ".join(str(one) for one in on_floor(document, weigh(scales, heights)).weighs[0].said)
        self.assertIn("do not lie in one plane", said)

    def test_a_setting_of_a_wheel_that_is_gone_is_kept_and_said(self) -> None:
        setting = {
            "kind": "setting",
            "when": "2026-11-21",
            "station": "Mid",
            "what": "perch",
            "from": 1.0,
            "to": 2.0,
        }
        self.assertIn("no longer has", str(on_floor(car(), setting).said[0]))


class Sides(unittest.TestCase):
    def test_left_and_right_are_compared_row_by_row(self) -> None:
        left = samples.arm()
        right = copy.deepcopy(left)
        left |= {"name": "left", "other_side": "right"}
        right |= {"name": "right", "other_side": "left"}
        for spot in right["points"].values():
            spot[1] = -spot[1]
        document = samples.document(left, right)
        travels = np.linspace(-50, 60, 9)
        lengths = solve_station(samples.station(samples.arm())).at(travels).units["coilover"].length
        one = cycle("left", travels, lengths)
        for off, met in ((1.0, True), (6.0, False)):
            gates = {
                (gate.name, gate.station): gate
                for gate in on_floor(document, one, cycle("right", travels, lengths + off)).gates
            }
            self.assertEqual(gates["left_right", "left"].met, met)
            self.assertEqual(gates["left_right", "right"].met, met)
        alone = {(gate.name, gate.station): gate for gate in on_floor(document, one).gates}
        self.assertIn("Cycle right as well", str(alone["left_right", "left"].say))

    def test_what_is_not_fitted_is_named(self) -> None:
        gates = {gate.name: gate for gate in proved(samples.arm()).gates}
        self.assertFalse(gates["stops_fitted"].met)
        self.assertIn("limit strap", str(gates["stops_fitted"].say))
        self.assertTrue(gates["damper_fitted"].met)
        values = copy.deepcopy(starting_project(layout_named("pushrod"))["stations"][0])
        values["rods"] = {"rod": {"thread": 12.0, "engagement": 9.0}}
        self.assertFalse({gate.name: gate.met for gate in proved(values).gates}["rod_ends"])


class Built(unittest.TestCase):
    def test_taken_as_built_the_document_fits_its_cycle(self) -> None:
        values = samples.arm()
        other = copy.deepcopy(values)
        other["points"]["top"][2] += 8.0
        travels = np.linspace(-48, 56, 9)
        lengths = solve_station(samples.station(other)).at(travels).units["coilover"].length
        record = cycle("arm", travels, lengths)
        proof = proved(values, record)
        document = as_built(samples.document(values), proof, 0)
        again = prove(check_project({**document, "records": [record]}))
        assert proof.cycles[0].rms is not None and again.cycles[0].rms is not None
        self.assertLess(again.cycles[0].rms, proof.cycles[0].rms / 2)
        with self.assertRaises(KeyError):
            as_built(samples.document(values), proof, 7)

    def test_the_verdict_goes_from_nothing_to_good(self) -> None:
        mark, words = verdict(proved(samples.arm()))
        self.assertEqual(mark, "warning")
        self.assertIn("Nothing is cycled", str(words))
        travels = np.linspace(-60, 70, 9)
        lengths = solve_station(samples.station(samples.arm())).at(travels).units["coilover"].length
        _, words = verdict(proved(samples.arm(), cycle("arm", travels, lengths)))
        self.assertIn("off its drawn curve", str(words))


class Standing(unittest.TestCase):
    def test_every_wheel_on_its_own_support_stands_as_before(self) -> None:
        for document in (car(), car(bar=True), mixed()):
            vehicle = vehicle_of(check_project(document))
            one, two = stance(vehicle), stance(vehicle.apart())
            for key, its in one.scales.items():
                self.assertAlmostEqual(two.scales[key], its, places=3)

    def test_a_table_between_its_rows_is_the_linkages_own_force(self) -> None:
        (support, _) = vehicle_of(check_project(car())).supports
        for travel in np.linspace(-55, 65, 23):
            force, rate = support.mean(float(travel))
            exact_force, exact_rate = support.exact(float(travel))
            self.assertAlmostEqual(force, exact_force, delta=0.5)
            self.assertAlmostEqual(rate, exact_rate, delta=0.3)

    def test_heights_are_of_the_wheel_they_stand_beside(self) -> None:
        vehicle = vehicle_of(check_project(car()))
        heights = heights_at(vehicle, {wheel.key: 5.0 for wheel in vehicle.wheels})
        self.assertEqual(heights["Front left"], 115.0)
        self.assertEqual(heights["Rear right"], 125.0)


if __name__ == "__main__":
    unittest.main()
