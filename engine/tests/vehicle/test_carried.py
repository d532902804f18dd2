"""Load cases, braking and cornering, and the raised end: against whole-vehicle statics and a body turned in space."""

import copy
import json
import math
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.prove.proof import proof_values, prove
from engine.tests.vehicle.test_stance import car
from engine.vehicle.carried import put_in, raised_cg_mm, thrown
from engine.vehicle.stance import Extra, stance
from engine.vehicle.wheels import Vehicle, vehicle_of

DEMO = Path(__file__).parents[3] / "server" / "demo" / "files"
CG = 430.0


def built(**more: Any) -> dict[str, Any]:
    return {**car(), "vehicle": {"cg_height": CG, "floor": 0.0}, **more}


def radii(vehicle: Vehicle) -> np.ndarray:
    return np.array(
        [
            vehicle.supports[wheel.station].solved.station.points[
                vehicle.supports[wheel.station].solved.station.wheels[0].centre
            ][2]
            for wheel in vehicle.wheels
        ]
    )


class Thrown(unittest.TestCase):
    def test_the_floor_bears_the_weight_and_the_moment_of_what_is_thrown(self) -> None:
        """Global statics: whatever the springs do, the contacts balance the weight and its throw about the floor."""
        driver = (Extra(name="driver", mass=85.0, x=-900.0, y=350.0, z=500.0),)
        for brake, corner, extra in ((0.6, 0.0, ()), (0.0, 0.4, ()), (0.3, -0.3, driver)):
            vehicle = vehicle_of(check_project(built()))
            level = stance(vehicle, extra=extra)
            leant = thrown(vehicle, CG, brake, corner, extra).stands
            more = np.array([leant.scales[w.key] - level.scales[w.key] for w in vehicle.wheels])
            self.assertFalse(leant.lifted)
            sprung = sum(w.carried(False) for w in vehicle.wheels)
            high = sprung * CG + float(np.array([w.unsprung for w in vehicle.wheels]) @ radii(vehicle))
            high += sum(one.mass * one.z for one in extra)
            self.assertAlmostEqual(float(more.sum()), 0.0, delta=0.02)
            along = float(more @ np.array([w.x for w in vehicle.wheels]))
            across = float(more @ np.array([w.y for w in vehicle.wheels]))
            self.assertAlmostEqual(along, brake * high, delta=0.002 * high)
            self.assertAlmostEqual(across, -corner * high, delta=0.002 * high)

    def test_braking_dives_cornering_leans_out_and_both_mirror(self) -> None:
        vehicle = vehicle_of(check_project(built()))
        self.assertGreater(thrown(vehicle, CG, brake=0.5).stands.pitch, stance(vehicle).pitch + 0.1)
        left, right = (thrown(vehicle, CG, corner=g).stands for g in (0.4, -0.4))
        self.assertGreater(left.roll, 0.1)  # turning left, the right side goes down
        self.assertAlmostEqual(left.roll, -right.roll, places=4)
        for one, other in (("Front left", "Front right"), ("Rear left", "Rear right")):
            self.assertAlmostEqual(left.scales[one], right.scales[other], delta=0.01)

    def test_a_wheel_that_leaves_the_floor_is_named(self) -> None:
        vehicle = vehicle_of(check_project(built()))
        hard = thrown(vehicle, 900.0, corner=1.6).stands
        self.assertIn("Front left", hard.lifted)
        self.assertEqual(hard.scales["Front left"], 0.0)

    def test_three_wheels_lean_on_two(self) -> None:
        values = json.loads((DEMO / "heron-three-wheeler.json").read_text("utf-8"))
        proof = prove(check_project({**values, "records": [], "vehicle": {"cg_height": 380, "floor": 0}}))
        self.assertEqual(len(proof.thrown), 3)
        for one in proof.thrown:
            total = sum(one.stands.scales.values())
            assert proof.now is not None
            self.assertAlmostEqual(
                total, sum(proof.now.scales.values()), delta=0.6 if one.stands.lifted else 0.05
            )


class LoadCases(unittest.TestCase):
    def loads(self) -> list[dict[str, Any]]:
        return [
            {"name": "empty", "masses": []},
            {"name": "two up", "masses": [
                {"name": "driver", "mass": 80, "at": [-900, 350, 400]},
                {"name": "passenger", "mass": 80, "at": [-900, -350, 400]},
            ]},
        ]  # fmt: skip

    def test_each_case_stands_by_itself(self) -> None:
        proof = prove(check_project(built(loads=self.loads())))
        cases = dict(proof.cases)
        assert proof.now is not None
        for key, its in cases["empty"].scales.items():
            self.assertAlmostEqual(its, proof.now.scales[key], places=6)
        self.assertAlmostEqual(
            sum(cases["two up"].scales.values()) - sum(cases["empty"].scales.values()), 160.0, delta=0.01
        )
        for key, height in cases["two up"].heights.items():
            self.assertLess(height, cases["empty"].heights[key])
        values = proof_values(proof)["vehicle"]
        self.assertEqual(set(values["cases"]), {"empty", "two up"})
        self.assertEqual([one["brake_g"] for one in values["thrown"]], [0.8, 0.0, 0.0])

    def test_a_weigh_in_of_a_case_is_held_against_its_plan(self) -> None:
        project = check_project(built(loads=self.loads()))
        scales = dict(prove(project).cases)["two up"].scales
        full = {"kind": "weigh", "when": "2026-05-01T09:00:00", "with": "two up", "wheels": {key: its * 1.32 for key, its in scales.items()}}  # fmt: skip
        said = prove(check_project(built(loads=self.loads(), records=[full]))).weighs[0].said
        bare = prove(check_project(built(records=[full]))).weighs[0].said
        self.assertFalse([one for one in said if "add up" in one.words])
        self.assertTrue([one for one in bare if "add up" in one.words])

    def test_what_cannot_be_put_in_is_refused_with_its_path(self) -> None:
        for masses in (
            [{"name": "ballast", "mass": -5, "at": [0, 0, 0]}],
            [{"name": "x", "mass": 5, "at": [0, 0]}],
        ):
            with self.assertRaisesRegex(DocumentRefused, r"loads\[0\]\.masses\[0\]"):
                check_project(built(loads=[{"name": "odd", "masses": masses}]))

    def test_put_in_keeps_the_places(self) -> None:
        project = check_project(built(loads=self.loads()))
        self.assertEqual(
            [(one.x, one.y, one.z) for one in put_in(project.loads[1])], [(-900, 350, 400), (-900, -350, 400)]
        )


class Raised(unittest.TestCase):
    def weighed(self, vehicle: Vehicle, high: float, end: str, by: float) -> tuple[np.ndarray, np.ndarray]:
        """Return the scales level and raised: one stiff body of all the mass, turned about the contacts that stay down."""
        x = np.array([wheel.x for wheel in vehicle.wheels])
        mass = np.array([wheel.mass for wheel in vehicle.wheels])
        front, rear = float(x.max()), float(x.min())
        total, middle = float(mass.sum()), float(mass @ x / mass.sum())
        radius = float(radii(vehicle).mean())
        down, up = (front, rear) if end == "rear" else (rear, front)
        angle = math.asin(by / (front - rear))
        # About the middle of the wheels that stay down; the others' middles rise by `by`.
        lever = (middle - down) * math.cos(angle) + (high - radius) * math.sin(angle) * (
            1 if end == "rear" else -1
        )
        share_up = lever / ((up - down) * math.cos(angle))
        raised = np.where(x == up, share_up * total / 2, (1 - share_up) * total / 2)
        return mass, raised

    def test_the_height_comes_back_from_a_body_turned_in_space(self) -> None:
        vehicle = vehicle_of(check_project(built())).apart()
        for end in ("rear", "front"):
            for by in (200.0, 500.0):
                level, raised = self.weighed(vehicle, 512.0, end, by)
                found = raised_cg_mm(vehicle, level, raised, end, by)
                assert found is not None
                self.assertAlmostEqual(found, 512.0, delta=0.01)

    def test_what_cannot_tell_says_so(self) -> None:
        vehicle = vehicle_of(check_project(built())).apart()
        level, raised = self.weighed(vehicle, 512.0, "rear", 300.0)
        for by in (0.0, -50.0, 5000.0):
            self.assertIsNone(raised_cg_mm(vehicle, level, raised, "rear", by))

    def record(self, when: int, scales: np.ndarray, vehicle: Vehicle, **more: Any) -> dict[str, Any]:
        wheels = {wheel.key: round(float(its), 2) for wheel, its in zip(vehicle.wheels, scales, strict=True)}
        return {"kind": "weigh", "when": f"2026-05-01T0{when}:00:00", "wheels": wheels, **more}

    def test_from_two_records(self) -> None:
        vehicle = vehicle_of(check_project(built())).apart()
        level, raised = self.weighed(vehicle, 512.0, "rear", 400.0)
        up = {"raised": {"end": "rear", "by": 400}}
        one = self.record(1, level, vehicle)
        proof = prove(check_project(built(records=[one, self.record(2, raised, vehicle, **up)])))
        last = proof.weighs[-1]
        assert last.cg_height is not None
        self.assertAlmostEqual(last.cg_height, 512.0, delta=1.5)
        self.assertEqual(last.turns, ())  # nothing is set by a vehicle that stands on a trestle
        for records, words in (
            ([self.record(2, raised, vehicle, **up)], "Weigh it level first"),
            ([one, self.record(2, raised * 1.1, vehicle, **up)], "the same things must be in it"),
            ([one, self.record(2, raised, vehicle, raised={"end": "front", "by": 400})], "cannot be"),
            ([one, self.record(2, raised, vehicle, raised={"end": "rear", "by": 2300})], "two thirds"),
        ):
            its = prove(check_project(built(records=records))).weighs[-1]
            self.assertIsNone(its.cg_height)
            self.assertTrue(any(words in str(said) for said in its.said), [str(said) for said in its.said])

    def test_more_than_two_axles_are_not_guessed(self) -> None:
        values = built()
        third = copy.deepcopy(values["stations"][1])
        third["name"] = "Tag left"
        for spot in third["points"].values():
            spot[0] -= 1300
        values["stations"].append(third)
        vehicle = vehicle_of(check_project(values)).apart()
        mass = np.array([wheel.mass for wheel in vehicle.wheels])
        self.assertIsNone(raised_cg_mm(vehicle, mass, mass, "rear", 300.0))


if __name__ == "__main__":
    unittest.main()
