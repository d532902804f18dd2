"""Rising gas, unknown coils, adapters, hydraulic stops, straps that pull, and bags that share their air."""

import unittest
import warnings

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from engine.document.schema import BumpStop, Coilover, Spring, Strap
from engine.forces.air import ATMOSPHERE_BAR, Bag
from engine.forces.gas import Gas, gas_of
from engine.forces.stack import crossovers, stack_of
from engine.forces.stops import pull_of, stop_of
from engine.forces.units import law_of
from engine.forces.unknown import rate_n_per_mm
from engine.ride.settled import settled, swept
from engine.ride.spread import spread_of
from engine.station.solved import solve_station
from engine.station.tank import SharedAir
from engine.tests import samples


def shock(**more: object) -> Coilover:
    values = samples.coilover("coilover", "eye", "top", 345, 240, 58) | more
    return Coilover.model_validate(values)


class DamperGas(unittest.TestCase):
    def test_both_ends_have_the_forces_given(self) -> None:
        gas = gas_of(shock(gas_force=120, gas_force_compressed=190), 0.0)
        force, _ = gas.at(np.array([345.0, 240.0]))
        np.testing.assert_allclose(force, [120, 190], rtol=1e-12)

    def test_it_is_boyles_law_for_a_gas_squeezed_by_its_shaft(self) -> None:
        # A shaft of area A takes A·x from the volume V: F = F0·V/(V − A·x); both unknown, one from the other.
        gas = gas_of(shock(gas_force=120, gas_force_compressed=190), 0.0)
        shaft_area, stroke = 113.1, 105.0
        volume = shaft_area * stroke / (1 - 120 / 190)
        for x in (10.0, 55.0, 90.0):
            self.assertAlmostEqual(
                float(gas.at(np.array([345 - x]))[0][0]), 120 * volume / (volume - shaft_area * x), delta=1e-9
            )

    @given(st.floats(241, 344))
    def test_rate_is_the_slope(self, length: float) -> None:
        gas = gas_of(shock(gas_force=120, gas_force_compressed=190), 0.0)
        force = gas.at(np.array([length - 1e-4, length + 1e-4]))[0]
        self.assertAlmostEqual(
            float(gas.at(np.array([length]))[1][0]), (force[0] - force[1]) / 2e-4, delta=1e-4
        )

    def test_without_a_second_force_it_is_constant(self) -> None:
        self.assertEqual(gas_of(shock(), 0.0), Gas(100.0, 345.0))


class Coils(unittest.TestCase):
    def test_wire(self) -> None:
        spring = Spring.model_validate(
            {
                "wire": {"diameter": 10, "mean_diameter": 80, "active_coils": 6, "shear_modulus": 79000},
                "free_length": 250,
                "solid_length": 90,
            }
        )
        # 79 000 · 10⁴ / (8 · 80³ · 6), worked by hand.
        self.assertAlmostEqual(rate_n_per_mm(spring), 790_000_000 / 24_576_000, delta=1e-9)

    def test_two_loads(self) -> None:
        spring = Spring.model_validate(
            {"two_loads": [[20, 240], [80, 220]], "free_length": 250, "solid_length": 90}
        )
        self.assertAlmostEqual(rate_n_per_mm(spring), 60 * 9.80665 / 20, delta=1e-9)

    def test_a_measured_coil_solves_as_its_rate_does(self) -> None:
        given_rate = samples.arm()
        measured = samples.arm()
        spring = measured["units"][0]["springs"][0]
        del spring["rate"]
        spring["two_loads"] = [[10, 200], [10 + 58 * 20 / 9.80665, 180]]
        one, other = (solve_station(samples.station(v), steps=5) for v in (given_rate, measured))
        np.testing.assert_allclose(one.sweep.wheel_force, other.sweep.wheel_force, rtol=1e-9)

    def test_crossover_is_where_the_ring_locks(self) -> None:
        springs = [
            Spring(rate=30, free_length=100, solid_length=40, stop=35),
            Spring(rate=90, free_length=160, solid_length=70),
        ]
        (lock,) = crossovers(springs)
        self.assertEqual(lock.spring, 0)
        self.assertAlmostEqual(lock.force, 30 * 35)
        self.assertAlmostEqual(lock.compression, 35 + 30 * 35 / 90)
        self.assertAlmostEqual(lock.rate_before, 1 / (1 / 30 + 1 / 90))
        self.assertAlmostEqual(lock.rate_after, 90)
        self.assertAlmostEqual(float(stack_of(springs).at(np.array([lock.compression]))[0][0]), lock.force)


class Adapters(unittest.TestCase):
    def test_made_up_length_counts_at_both_ends_of_the_stroke(self) -> None:
        plain, on_adapter = law_of(shock()), law_of(shock(adapter={"top": 20, "bottom": 15}))
        for one, other in zip(plain.events, on_adapter.events, strict=True):
            self.assertEqual((one.kind, one.length_mm + 35), (other.kind, other.length_mm))
        length = np.array([300.0])
        np.testing.assert_allclose(plain.at(length)[0], on_adapter.at(length + 35)[0])


class Stops(unittest.TestCase):
    def test_a_hydraulic_stop_pushes_as_soon_as_it_touches(self) -> None:
        values = samples.bump_stop("stop", "eye", "top", 270) | {"type": "hydraulic", "gas_force": 250}
        stop = stop_of(BumpStop.model_validate(values))
        force, _ = stop.at(np.array([270.1, 269.9, 260.0]))
        np.testing.assert_allclose(force, [0, 253, 550])

    def test_a_strap_pulls_its_load_at_its_stretch(self) -> None:
        strap = Strap(name="strap", kind="strap", ends=["eye", "top"], length=300, stretch=0.03, load=4000)
        pull = pull_of(strap)
        assert pull is not None
        force, rate = pull.at(np.array([299.0, 300.0, 309.0]))
        np.testing.assert_allclose(force, [0, 0, -4000])
        self.assertAlmostEqual(float(rate[2]), 4000 / 9)
        self.assertIsNone(pull_of(strap.model_copy(update={"load": None})))

    def test_a_pulling_strap_holds_the_wheel_in_droop(self) -> None:
        values = samples.arm()
        values["units"].append(
            {
                "name": "strap",
                "kind": "strap",
                "ends": ["eye", "top"],
                "length": 320,
                "stretch": 0.02,
                "load": 5000,
            }
        )
        solved = solve_station(samples.station(values), steps=9)
        self.assertLess(solved.sweep.wheel_force[0], 0)


class SharedAirTests(unittest.TestCase):
    def bag(self, filled: float | None = 200.0) -> Bag:
        return Bag(
            heights=np.array([120.0, 280.0]),
            areas=np.array([15000.0, 12000.0]),
            volumes=None,
            pressure_bar=4.0,
            law=1.38,
            filled_mm=filled,
        )

    def test_one_bag_and_no_tank_is_the_bag_alone(self) -> None:
        height, speed = np.array([150.0, 200.0, 240.0]), np.array([-0.9, -0.9, -0.9])
        shared = SharedAir(("bag",), 0.0).at([self.bag()], height[None], speed[None])
        force, rate = self.bag().at(height)
        np.testing.assert_allclose(shared.bags[0].force, force, rtol=1e-12)
        np.testing.assert_allclose(shared.bags[0].rate, rate, rtol=1e-12)
        np.testing.assert_allclose(shared.bags[0].slope, 0.9 * rate, rtol=1e-12)

    def test_p_v_to_the_n_of_the_whole_stays(self) -> None:
        one, other = np.array([150.0, 220.0]), np.array([200.0, 180.0])
        air = SharedAir(("a", "b"), 2e6)
        found = air.at([self.bag(), self.bag()], np.array([one, other]), np.zeros((2, 2)))
        volume = 2e6 + self.bag().volume(one)[0] + self.bag().volume(other)[0]
        filled = 2e6 + 2 * float(self.bag().volume(np.array([200.0]))[0][0])
        np.testing.assert_allclose(
            (found.pressure + ATMOSPHERE_BAR) * volume**1.38, (4.0 + ATMOSPHERE_BAR) * filled**1.38
        )

    def test_slopes_by_travel_against_differences(self) -> None:
        air, speeds = SharedAir(("a", "b"), 1e6), np.array([[-0.8], [0.5]])

        def forces(z: float) -> list[float]:
            heights = np.array([[190.0 - 0.8 * z], [210.0 + 0.5 * z]])
            return [float(part.force[0]) for part in air.at([self.bag(), self.bag()], heights, speeds).bags]

        found = air.at([self.bag(), self.bag()], np.array([[190.0], [210.0]]), speeds).bags
        for k in range(2):
            self.assertAlmostEqual(
                float(found[k].slope[0]), (forces(1e-3)[k] - forces(-1e-3)[k]) / 2e-3, delta=1e-5
            )

    def test_a_tank_softens_heave_and_a_pipe_softens_roll(self) -> None:
        from engine.layouts.axles import axle_on_air
        from engine.layouts.fit import fitted
        from engine.layouts.layout import Brief
        from engine.ride.roll import roll_of

        values = fitted(axle_on_air(Brief())[0], Brief())
        found = {}
        for name, tanks in (("apart", []), ("pipe", [0.0]), ("tank", [4e6])):
            joined = [{"name": "air", "bags": ["bag_left", "bag_right"], "volume": v} for v in tanks]
            solved = solve_station(samples.station(values | {"tanks": joined}), steps=9)
            roll = roll_of(solved)
            assert solved.ride is not None and roll is not None
            found[name] = (solved.ride.wheel_rate, roll.stiffness)
        self.assertAlmostEqual(found["apart"][0], found["pipe"][0], delta=0.02 * found["apart"][0])
        self.assertLess(found["tank"][0], 0.9 * found["pipe"][0])
        self.assertLess(found["pipe"][1], 0.8 * found["apart"][1])


class Spreads(unittest.TestCase):
    def test_geometries_that_stand_nowhere_are_left_out(self) -> None:
        values = samples.arm()
        coilover = next(unit for unit in values["units"] if unit["kind"] == "coilover")
        coilover |= {"preload": coilover.get("preload", 0.0) - 40, "gas_force": 0.0}  # many stand nowhere
        solved = solve_station(samples.station(values | {"uncertainty": {"tape": 12.0}}))
        spread = spread_of(solved, geometries=300)
        self.assertTrue(0 < spread.standing < 1, spread.standing)
        assert spread.ride_travel is not None and spread.wheel_rate is not None
        self.assertTrue(np.isfinite([spread.ride_travel.low, spread.wheel_rate.high]).all())

    def test_a_geometry_that_stands_nowhere_has_no_value_and_gives_no_warning(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=5)
        points = np.repeat(solved.linkage.points[None], 2, axis=0)
        points[1, solved.linkage.index["damper_anchor"]] += [0.0, 300.0, 0.0]
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            stood = settled(solved, swept(solved, points, np.linspace(-40, 40, 21)))
        self.assertEqual(stood.stands.tolist(), [True, False])
        self.assertEqual(np.isfinite(stood.travel).tolist(), [True, False])
        self.assertEqual(np.isfinite(stood.at.rate[:, 0]).tolist(), [True, False])

    def test_a_small_error_spreads_as_the_derivatives_say(self) -> None:
        from engine.ride.sensitivity import sensitivities

        values = samples.pushrod_corner() | {"uncertainty": {"tape": 0.05}}
        solved = solve_station(samples.station(values), steps=21)
        spread = spread_of(solved, 1500, 41)
        assert spread.ride_travel is not None and solved.ride is not None
        slopes = np.array([s.ride_mm for s in sensitivities(solved)])
        deviation = 0.05 * float(np.linalg.norm(slopes))
        width = (spread.ride_travel.high - spread.ride_travel.low) / (2 * 1.6449)
        self.assertAlmostEqual(width / deviation, 1, delta=0.08)
        self.assertAlmostEqual(spread.ride_travel.middle, solved.ride.travel, delta=0.02)
        self.assertEqual(spread.standing, 1.0)

    def test_no_error_leaves_no_interval(self) -> None:
        values = samples.arm() | {"uncertainty": {"tape": 0.0}}
        spread = spread_of(solve_station(samples.station(values)), 20, 41)
        assert spread.wheel_rate is not None
        self.assertAlmostEqual(spread.wheel_rate.high - spread.wheel_rate.low, 0, delta=1e-9)


if __name__ == "__main__":
    unittest.main()
