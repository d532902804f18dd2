"""The vehicle on its wheels against an independent root, the energy's own minimum, a mirrored car and each wheel alone."""

import copy
import json
import math
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from scipy.interpolate import CubicSpline
from scipy.optimize import fsolve, minimize

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.read import check_project
from engine.document.schema import Project
from engine.layouts.catalogue import layout_named, starting_project
from engine.tests import samples
from engine.vehicle.stance import Extra, stance
from engine.vehicle.wheels import Vehicle, vehicle_of

DEMO = Path(__file__).parents[3] / "server" / "demo" / "files"


def car(bar: bool = False) -> dict[str, Any]:
    """Return four corners: the sample's arm in front, the same further back and a little softer behind."""
    front = samples.arm()
    front |= {"name": "Front left", "other_side": "mirror", "datum": {"name": "sill", "height": 120.0}}
    rear = copy.deepcopy(front)
    rear |= {"name": "Rear left", "datum": {"name": "sill", "height": 130.0}}
    for spot in rear["points"].values():
        spot[0] -= 2400
    rear["units"][0]["springs"][0]["rate"] *= 1.2
    rear["mass"] = {"corner": 250, "unsprung": 25}
    if bar:
        x, y, z = front["points"]["eye"]
        front["points"]["bar_held"] = [x + 120, y - 100, z + 10]
        front["chassis"].append("bar_held")
        front["units"].append(
            {"name": "bar", "kind": "bar", "ends": ["eye", "bar_held"], "tip": [x, y - 100, z + 110], "length": 700, "diameter": 18}
        )  # fmt: skip
    return samples.document(front, rear)


def four_corners() -> dict[str, Any]:
    """Return the car with every corner a station of its own, so that each has its own perch."""
    stations = []
    for station in car()["stations"]:
        right = copy.deepcopy(station)
        right["name"] = station["name"].replace("left", "right")
        for spot in right["points"].values():
            spot[1] = -spot[1]
        station["other_side"], right["other_side"] = right["name"], station["name"]
        stations += [station, right]
    return samples.document(*stations)


def project(values: dict[str, Any]) -> Project:
    return check_project(values)


def exact_forces(vehicle: Vehicle, body: np.ndarray) -> np.ndarray:
    """Return what every wheel's springs push, each asked of its linkage by itself; body in mm, mm/mm, mm/mm."""
    found = []
    for wheel in vehicle.wheels:
        travel = -(body[0] - body[1] * wheel.x + body[2] * wheel.y)
        found.append(float(vehicle.supports[wheel.station].solved.at(np.array([travel])).wheel_force[0]))
    return np.array(found)


class Standing(unittest.TestCase):
    def test_four_corners_stand_where_an_independent_root_puts_them(self) -> None:
        vehicle = vehicle_of(project(car()))
        extra = (
            Extra(name="driver", mass=85.0, x=-900.0, y=320.0),
            Extra(name="tools", mass=40.0, x=-2100.0, y=-500.0),
        )
        x, y = (np.array([getattr(wheel, axis) for wheel in vehicle.wheels]) for axis in ("x", "y"))
        carried = np.array([wheel.carried(False) * GRAVITY_M_PER_S2 for wheel in vehicle.wheels])
        weight = np.array([carried.sum(), carried @ x, carried @ y])
        for one in extra:
            weight += one.mass * GRAVITY_M_PER_S2 * np.array([1.0, one.x, one.y])

        def gap(body: np.ndarray) -> np.ndarray:
            force = exact_forces(vehicle, body)
            return np.array([force.sum(), force @ x, force @ y]) - weight

        root = fsolve(gap, [0.0, 0.0, 0.0], xtol=1e-12)
        found = stance(vehicle, extra=extra)
        self.assertTrue(found.settled)
        self.assertAlmostEqual(found.heave, root[0], delta=0.02)
        self.assertAlmostEqual(found.pitch, math.degrees(root[1]), delta=1e-3)
        self.assertAlmostEqual(found.roll, math.degrees(root[2]), delta=1e-3)
        force = exact_forces(vehicle, root)
        for wheel, push in zip(vehicle.wheels, force, strict=True):
            self.assertAlmostEqual(
                found.scales[wheel.key], push / GRAVITY_M_PER_S2 + wheel.unsprung, delta=0.2
            )
        self.assertAlmostEqual(
            sum(found.scales.values()), sum(w.mass for w in vehicle.wheels) + 125.0, places=3
        )

    def test_it_stands_where_the_energy_is_least(self) -> None:
        vehicle = vehicle_of(project(car()))
        extra = (Extra(name="driver", mass=85.0, x=-900.0, y=320.0),)
        found = stance(vehicle, extra=extra)
        tables = []
        for support in vehicle.supports:
            travels, force, _ = support.rows
            tables.append(CubicSpline(travels, force).antiderivative())

        def energy(body: np.ndarray) -> float:
            total = 0.0
            for wheel in vehicle.wheels:
                rise = body[0] - body[1] / 1000 * wheel.x + body[2] / 1000 * wheel.y
                total += float(tables[wheel.station](-rise))
                total += wheel.carried(False) * GRAVITY_M_PER_S2 * rise
            total += 85.0 * GRAVITY_M_PER_S2 * (body[0] + body[1] / 1000 * 900 + body[2] / 1000 * 320)
            return total / 1000

        least = minimize(
            energy,
            [0.0, 0.0, 0.0],
            method="Nelder-Mead",
            options={"xatol": 1e-4, "fatol": 1e-9, "maxiter": 4000},
        )
        self.assertAlmostEqual(found.heave, least.x[0], delta=0.3)
        self.assertAlmostEqual(math.radians(found.roll) * 1000, least.x[2], delta=0.6)

    def test_mirrored_loads_give_the_mirrored_stance_and_a_moved_datum_changes_nothing(self) -> None:
        vehicle = vehicle_of(project(car(bar=True)))
        one = stance(vehicle, extra=(Extra(name="driver", mass=85.0, x=-900.0, y=320.0),))
        two = stance(vehicle, extra=(Extra(name="driver", mass=85.0, x=-900.0, y=-320.0),))
        self.assertAlmostEqual(one.roll, -two.roll, places=6)
        self.assertAlmostEqual(one.scales["Front left"], two.scales["Front right"], places=4)
        self.assertLess(one.roll, 0)  # a driver on the left puts the left side down
        moved = car(bar=True)
        for station in moved["stations"]:
            for spot in station["points"].values():
                spot[0] += 700
            for unit in station["units"]:
                if "tip" in unit:
                    unit["tip"][0] += 700
        other = stance(
            vehicle_of(project(moved)), extra=(Extra(name="driver", mass=85.0, x=-200.0, y=320.0),)
        )
        for key, its in one.scales.items():
            self.assertAlmostEqual(other.scales[key], its, places=3)
            self.assertAlmostEqual(other.travels[key], one.travels[key], places=3)
        self.assertAlmostEqual(other.pitch, one.pitch, places=5)

    def test_a_bar_brings_less_roll_and_the_same_weight(self) -> None:
        load = (Extra(name="driver", mass=85.0, x=-900.0, y=320.0),)
        bare, barred = (stance(vehicle_of(project(car(bar=bar))), extra=load) for bar in (False, True))
        self.assertLess(abs(barred.roll), abs(bare.roll))
        self.assertAlmostEqual(sum(bare.scales.values()), sum(barred.scales.values()), places=6)
        self.assertGreater(
            barred.scales["Front left"] - barred.scales["Front right"],
            bare.scales["Front left"] - bare.scales["Front right"],
        )

    def test_on_three_wheels_each_stands_as_it_does_alone(self) -> None:
        vehicle = vehicle_of(
            check_project(json.loads((DEMO / "heron-three-wheeler.json").read_text("utf-8")))
        )
        found = stance(vehicle)
        for wheel in vehicle.wheels:
            ride = vehicle.supports[wheel.station].solved.ride
            assert ride is not None
            self.assertAlmostEqual(found.travels[wheel.key], ride.travel, places=4)
        self.assertIsNone(found.cross)

    def test_a_wheel_on_a_block_stands_where_an_independent_root_puts_it(self) -> None:
        vehicle = vehicle_of(project(car(bar=False)))
        blocks = {"Front left": 60.0}
        under = np.array([blocks.get(wheel.key, 0.0) for wheel in vehicle.wheels])
        x, y = (np.array([getattr(wheel, axis) for wheel in vehicle.wheels]) for axis in ("x", "y"))
        carried = np.array([wheel.carried(False) * GRAVITY_M_PER_S2 for wheel in vehicle.wheels])

        def pushes(body: np.ndarray) -> np.ndarray:
            travels = under - (body[0] - body[1] * x + body[2] * y)
            return np.array(
                [
                    float(vehicle.supports[wheel.station].solved.at(np.array([travel])).wheel_force[0])
                    for wheel, travel in zip(vehicle.wheels, travels, strict=True)
                ]
            )

        def gap(body: np.ndarray) -> np.ndarray:
            force = pushes(body)
            return np.array([force.sum(), force @ x, force @ y]) - np.array(
                [carried.sum(), carried @ x, carried @ y]
            )

        root = fsolve(gap, [10.0, 0.0, 0.0], xtol=1e-12)
        found = stance(vehicle, blocks=blocks)
        self.assertAlmostEqual(found.heave, root[0], delta=0.02)
        self.assertAlmostEqual(found.roll, math.degrees(root[2]), delta=1e-3)
        for wheel, push in zip(vehicle.wheels, pushes(root), strict=True):
            self.assertAlmostEqual(
                found.scales[wheel.key], push / GRAVITY_M_PER_S2 + wheel.unsprung, delta=0.2
            )
        # What stands on the block carries more, and so does the wheel across the diagonal.
        flat = stance(vehicle)
        for key, more in {
            "Front left": True,
            "Rear right": True,
            "Front right": False,
            "Rear left": False,
        }.items():
            self.assertEqual(found.scales[key] > flat.scales[key], more, key)

    def test_a_raised_floor_changes_no_weight_and_a_datum_is_read_from_the_floor(self) -> None:
        vehicle = vehicle_of(project(car(bar=True)))
        flat = stance(vehicle)
        everywhere = stance(vehicle, blocks={wheel.key: 80.0 for wheel in vehicle.wheels})
        ramp = stance(vehicle, blocks={wheel.key: 0.02 * (wheel.x + 3000.0) for wheel in vehicle.wheels})
        for key, its in flat.scales.items():
            self.assertAlmostEqual(everywhere.scales[key], its, places=4)
            self.assertAlmostEqual(ramp.scales[key], its, places=4)
            self.assertAlmostEqual(everywhere.travels[key], flat.travels[key], places=4)
            self.assertAlmostEqual(everywhere.heights[key], flat.heights[key] + 80.0, places=4)
        self.assertAlmostEqual(math.radians(ramp.pitch - flat.pitch), -0.02, places=6)

    def test_blocks_mirrored_are_the_mirrored_stance(self) -> None:
        vehicle = vehicle_of(project(car(bar=True)))
        one, two = (stance(vehicle, blocks={key: 70.0}) for key in ("Rear left", "Rear right"))
        self.assertAlmostEqual(one.roll, -two.roll, places=6)
        self.assertAlmostEqual(one.scales["Front left"], two.scales["Front right"], places=4)

    def test_an_axle_carries_its_lean_by_its_own_articulation(self) -> None:
        values = starting_project(layout_named("axle-four-link"))
        front = car()["stations"][0]
        axle = values["stations"][0]
        shift = 2600 + axle["points"][axle["wheels"][0]["centre"]][0]
        for spot in axle["points"].values():
            spot[0] -= shift
        for envelope in axle.get("envelopes", []):
            envelope.clear()
        axle["envelopes"] = []
        vehicle = vehicle_of(project(samples.document(front, axle)))
        found = stance(vehicle, extra=(Extra(name="load", mass=120.0, x=-2500.0, y=400.0),))
        left, right = (wheel for wheel in vehicle.wheels if wheel.station == 1)
        self.assertGreater(left.y, right.y)
        heave, apart = (
            (found.travels[left.key] + found.travels[right.key]) / 2,
            (found.travels[left.key] - found.travels[right.key]) / 2,
        )
        here = vehicle.supports[1].solved.across(np.array([apart]), heave)
        half = (found.scales[left.key] - found.scales[right.key]) / 2 * GRAVITY_M_PER_S2
        self.assertAlmostEqual(half, float(here.wheel_force[0]), delta=1.0)
        self.assertGreater(found.scales[left.key], found.scales[right.key])

    def test_a_wheel_in_the_air_carries_nothing(self) -> None:
        vehicle = vehicle_of(project(car()))
        found = stance(vehicle, extra=(Extra(name="crane", mass=900.0, x=200.0, y=4000.0),))
        self.assertTrue(found.lifted)
        for key in found.lifted:
            self.assertEqual(found.scales[key], 0.0)

    def test_finished_it_stands_lower(self) -> None:
        values = car()
        values["coming"] = [{"name": "tank", "mass": 60.0, "carried": {"Rear left": 1.0}}]
        vehicle = vehicle_of(project(values))
        now, finished = stance(vehicle), stance(vehicle, finished=True)
        self.assertAlmostEqual(sum(finished.scales.values()) - sum(now.scales.values()), 60.0, places=3)
        self.assertLess(finished.heights["Rear left"], now.heights["Rear left"])
        self.assertLess(finished.pitch, now.pitch)  # the nose comes up


if __name__ == "__main__":
    unittest.main()
