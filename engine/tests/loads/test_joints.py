"""Forces at the joints: balance, levers by hand, and virtual work as a second route."""

import unittest

import numpy as np

from engine.loads.cases import Loading
from engine.loads.joints import loads_at, unbalanced_n
from engine.loads.peak import peak_loads
from engine.station.solved import mover_of, solve_station
from engine.tests import samples


class Balance(unittest.TestCase):
    def test_everything_balances_with_the_wheel_force_of_virtual_work(self) -> None:
        # Equilibrium can only hold if the wheel force is right: the forces know nothing of motion ratios.
        for name, values in samples.every_linkage().items():
            with self.subTest(name):
                solved = solve_station(samples.station(values), steps=9)
                for row in np.flatnonzero(solved.reached)[::4]:
                    loads = loads_at(solved, solved.sweep, int(row))
                    left = unbalanced_n(solved, solved.sweep, int(row))
                    self.assertLess(left, 1e-4 * max(abs(loads.wheel_force), 100.0))

    def test_a_wrong_wheel_force_would_not_balance(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=3)
        solved.sweep.wheel_force[1] *= 1.01
        self.assertGreater(unbalanced_n(solved, solved.sweep, 1), 0.5)

    def test_the_chassis_carries_the_wheel_and_the_units_push(self) -> None:
        # All forces on the chassis and from the units' upper ends together hold the wheel up.
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=3)
        loads = loads_at(solved, solved.sweep, 1)
        total = np.sum([joint.force for joint in loads.joints if joint.body is None], axis=0)
        place = solved.sweep.solution.motion.place[:, :, 1]
        for law in solved.springing.laws:
            fixed, moving = sorted(law.ends, key=lambda end: end not in solved.station.chassis)
            axis = place[:, solved.linkage.index[fixed]] - place[:, solved.linkage.index[moving]]
            total = total + axis / np.linalg.norm(axis) * loads.units[law.name]
        np.testing.assert_allclose(total, [0, 0, loads.wheel_force], atol=1e-6)


class ByHand(unittest.TestCase):
    def test_the_hinge_of_an_arm_takes_wheel_and_spring(self) -> None:
        solved = solve_station(samples.station(samples.arm()), steps=3)
        loads = loads_at(solved, solved.sweep, 1)
        hinge = np.sum([j.force for j in loads.joints if j.body == "arm"], axis=0)
        place = solved.sweep.solution.motion.place[:, :, 1]
        axis = place[:, solved.linkage.index["top"]] - place[:, solved.linkage.index["eye"]]
        spring = -axis / np.linalg.norm(axis) * loads.units["coilover"]
        np.testing.assert_allclose(hinge + spring + [0, 0, loads.wheel_force], 0, atol=1e-6)

    def test_a_rods_push_is_what_stretching_it_would_cost(self) -> None:
        # dU/dℓ at a held wheel is the rod's push with its sign turned: virtual work on the rod itself.
        values = samples.pushrod_corner()
        solved = solve_station(samples.station(values), steps=3)
        loads = loads_at(solved, solved.sweep, 1)
        linkage = solved.linkage
        one, other = (linkage.points[linkage.index[p]] for p in values["bodies"]["pushrod"])
        drawn = float(np.linalg.norm(one - other))

        def energy(length: float) -> float:
            changed = values | {"links": {"pushrod": {"length": length}}}
            mover = mover_of(samples.station(changed))
            trace = next(iter(mover.along.units.values()))
            squeeze = np.linspace(float(trace.length[0]), 285.0, 4001)
            return float(np.trapezoid(mover.springing.laws[0].at(squeeze)[0], squeeze))

        push = (energy(drawn + 0.05) - energy(drawn - 0.05)) / 0.1
        self.assertAlmostEqual(-loads.links["pushrod"] / push, 1, delta=2e-3)

    def test_a_bump_scales_with_its_multiple(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()), steps=9)
        five, ten = (peak_loads(solved, Loading(bump=times)) for times in (5.0, 10.0))
        assert five is not None and ten is not None
        for one, other in zip(five.cases, ten.cases, strict=True):
            if one.name == "bump":
                self.assertAlmostEqual(other.links["pushrod"] / one.links["pushrod"], 2.0, delta=1e-9)
        self.assertGreater(five.pushes["pushrod"].value, 5 * solved.springing.weight_n)


if __name__ == "__main__":
    unittest.main()
