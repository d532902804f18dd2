"""One station's options by second routes: the general solver for each spring, the mirrored side, the energy of the springs."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.document.mirror import mirrored_station
from engine.document.schema import Station
from engine.ride.roll import roll_of
from engine.station.solved import solve_station
from engine.study.asked import Place, Vary
from engine.study.options import Ready, geometries, options, ready
from engine.tests import samples

Values = dict[str, Any]
RATES = [40.0, 58.0, 75.0]
BOX = (12.0, 12.0, 12.0)


def made_ready(values: Values, points: list[str], springs: list[float]) -> Ready:
    vary = Vary(station=values["name"], places=[Place(points=points, box=BOX)], springs=springs)
    station = Station.model_validate(values)
    return ready(station.model_dump_json(exclude_unset=True), vary.model_dump_json())


def put(values: Values, its: Ready, points: np.ndarray, rate: float, perch: float) -> Values:
    """Return a station with one option in it."""
    other = copy.deepcopy(values)
    for name, k in its.solved.linkage.index.items():
        if name in other["points"]:
            other["points"][name] = [float(c) for c in points[k]]
    for unit in other["units"]:
        if unit["kind"] == "coilover":
            unit["springs"][0]["rate"] = rate
            unit["preload"] = unit.get("preload", 0.0) + perch
    return other


class Options(unittest.TestCase):
    shares = np.array([[0.0, 0.0, 0.0], [0.8, -0.4, 0.5], [-0.6, 0.9, -0.7]])

    def test_every_geometry_under_every_spring_is_the_general_solvers(self) -> None:
        for values, points in ((samples.arm(), ["top"]), (samples.pushrod_corner(), ["damper_anchor"])):
            its = made_ready(values, points, RATES)
            spots = geometries(its, self.shares)
            found = options(its, spots)
            for row, spot in enumerate(spots):
                for column, rate in enumerate(RATES):
                    other = put(values, its, spot, rate, float(found.perch[row, column]))
                    solved = solve_station(samples.station(other))
                    assert solved.ride is not None
                    self.assertAlmostEqual(solved.ride.travel, solved.station.travel.at or 0.0, delta=0.02)
                    self.assertAlmostEqual(solved.ride.frequency, found.frequency[row, column], delta=1e-3)
                    roll = roll_of(solved)
                    assert roll is not None
                    self.assertAlmostEqual(roll.stiffness / found.roll[row, column], 1.0, delta=2e-3)

    def test_an_axle_rolls_as_its_articulation_says_in_every_geometry(self) -> None:
        values = samples.axle() | {"name": "axle"}
        coil = next(unit for unit in values["units"] if unit["kind"] == "coilover")
        held = next(end for end in coil["ends"] if end in values["chassis"])
        its = made_ready(values, [held], RATES)
        spots = geometries(its, self.shares)
        found = options(its, spots)
        seen = 0
        for row, spot in enumerate(spots):
            for column, rate in enumerate(RATES):
                if not found.stands[row, column]:
                    continue
                solved = solve_station(
                    samples.station(put(values, its, spot, rate, float(found.perch[row, column])))
                )
                roll = roll_of(solved)
                assert roll is not None
                seen += 1
                self.assertAlmostEqual(roll.stiffness / found.roll[row, column], 1.0, delta=2e-3)
        self.assertGreater(seen, 3)

    def test_one_of_two_corners_brings_half_of_the_pairs_roll_stiffness(self) -> None:
        alone = samples.arm()
        pair = samples.arm() | {"other_side": "the other one"}
        one, half = (made_ready(values, ["top"], RATES) for values in (alone, pair))
        whole, found = (options(its, geometries(its, self.shares)) for its in (one, half))
        np.testing.assert_allclose(found.roll, whole.roll / 2)

    def test_the_mirrored_side_has_the_same_options(self) -> None:
        left = samples.arm()
        right = mirrored_station(copy.deepcopy(left), "right")
        one, other = (made_ready(values, ["top"], RATES) for values in (left, right))
        here, there = (options(its, geometries(its, self.shares)) for its in (one, other))
        for name in ("frequency", "roll", "perch", "coil_left", "seat_left", "ratio", "left"):
            np.testing.assert_allclose(getattr(here, name), getattr(there, name), rtol=1e-8, atol=1e-8)

    def test_both_ends_of_an_axle_go_together(self) -> None:
        values = samples.axle() | {"name": "axle"}
        coil = next(unit for unit in values["units"] if unit["kind"] == "coilover")
        held = next(end for end in coil["ends"] if end in values["chassis"])
        its = made_ready(values, [held], [])
        (spot,) = geometries(its, np.array([[0.5, 0.5, 0.5]]))
        moved = spot - its.solved.linkage.points
        index = its.solved.linkage.index
        changed = {name for name, k in index.items() if np.abs(moved[k]).max() > 0}
        self.assertEqual(len(changed), 2)
        for name in changed:
            side = 1.0 if its.solved.linkage.points[index[name]][1] > 0 else -1.0
            np.testing.assert_allclose(moved[index[name]], [6.0, 6.0 * side, 6.0])

    def test_the_wheel_rate_is_the_second_difference_of_the_springs_energy(self) -> None:
        values = samples.arm()
        values["units"] = [unit | {"gas_force": 0} for unit in values["units"]]
        its = made_ready(values, ["top"], [58.0])
        found = options(its, geometries(its, self.shares))
        step = 0.5
        for row, spot in enumerate(geometries(its, self.shares)):
            other = put(values, its, spot, 58.0, float(found.perch[row, 0]))
            solved = solve_station(samples.station(other))
            at = (solved.station.travel.at or 0.0) + np.array([-step, 0.0, step])
            unit = solved.station.units[0]
            squeezed = solved.springing.laws[0].free_reference - solved.at(at).units[unit.name].length
            energy = 0.5 * 58.0 * squeezed**2
            rate = (energy[0] - 2 * energy[1] + energy[2]) / step**2
            hertz = np.sqrt(rate * 1000 / solved.station.mass.sprung) / (2 * np.pi)
            self.assertAlmostEqual(float(hertz), float(found.frequency[row, 0]), delta=2e-3)

    def test_what_no_perch_can_carry_does_not_stand(self) -> None:
        values = samples.arm()
        values["mass"] = {"corner": 30_000, "unsprung": 25}
        its = made_ready(values, ["top"], [58.0])
        found = options(its, geometries(its, self.shares))
        carried = found.stands & (found.coil_left > 0)
        self.assertFalse(carried.any())
