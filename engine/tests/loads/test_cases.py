"""The load cases, by second routes: the whole vehicle's balance, virtual work, mirrored sides, and levers by hand."""

import copy
import json
import unittest
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.read import check_project
from engine.document.schema import Station
from engine.findings.finding import rules_of
from engine.linkage.pose import pose_of
from engine.linkage.vectors import Array
from engine.loads.cases import CaseAt, LoadCases, Loading, WheelPush, load_cases
from engine.loads.joints import loads_at
from engine.loads.peak import peak_loads
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples

ROOT = Path(__file__).parents[3]
FILES = [
    *sorted((ROOT / "docs/examples").glob("*.json")),
    *sorted((ROOT / "server/demo/files").glob("*.json")),
]


@cache
def every() -> list[tuple[str, SolvedStation, LoadCases]]:
    found = []
    for file in FILES:
        for station in check_project(json.loads(file.read_text("utf-8"))).stations:
            solved = solve_station(station)
            found.append((f"{file.stem}, {station.name}", solved, load_cases(solved, Loading())))
    return found


def of(values: dict[str, Any], loading: Loading | None = None) -> tuple[SolvedStation, LoadCases]:
    solved = solve_station(samples.station(values))
    return solved, load_cases(solved, loading or Loading())


def contact(solved: SolvedStation, found: LoadCases, case: CaseAt, wheel: int, at_contact: bool) -> Array:
    spot = case.place[solved.linkage.index[solved.station.wheels[wheel].centre]].copy()
    if at_contact:
        spot[2] -= found.contact_mm[wheel]
    return spot


def chassis_takes(solved: SolvedStation, case: CaseAt) -> tuple[Array, Array]:
    """Return force and moment on the chassis: from its joints, and from units bolted straight to it."""
    index, chassis = solved.linkage.index, set(solved.station.chassis)
    force, moment = np.zeros(3), np.zeros(3)
    joints = {point for point, _ in case.slots}
    for (point, body), its in zip(case.slots, case.forces, strict=True):
        if body is None:
            force, moment = force + its, moment + np.cross(case.place[index[point]], its)
    for unit in solved.station.units:
        one, other = unit.ends
        way = case.place[index[one]] - case.place[index[other]]
        push = way / np.linalg.norm(way) * case.units[unit.name]
        for end, its in ((one, push), (other, -push)):
            if end in chassis and end not in joints:
                force, moment = force + its, moment + np.cross(case.place[index[end]], its)
    return force, moment


class Balance(unittest.TestCase):
    def test_in_every_case_the_chassis_takes_what_the_floor_gives(self) -> None:
        for name, solved, found in every():
            self.assertEqual(found.open, (), name)
            names = {case.name for case in found.cases}
            self.assertLessEqual({"bump", "brake", "corner", "pothole"}, names, name)
            for case in found.cases:
                force, moment = chassis_takes(solved, case)
                for push in case.pushes:
                    spot = contact(solved, found, case, push.wheel, push.at_contact)
                    force = force - push.force
                    moment = moment - np.cross(spot, push.force)
                scale = max(float(np.abs(case.forces).max()), 1.0)
                self.assertLess(float(np.abs(force).max()) / scale, 1e-6, f"{name}, {case.words}")
                self.assertLess(float(np.abs(moment).max()) / scale / 100, 1e-5, f"{name}, {case.words}")

    def test_the_units_do_the_work_that_the_floor_does(self) -> None:
        # Moved a hair along its travel, what the units take up is what the forces at the tyre give: no joint does work.
        step = 0.01
        for name, solved, found in every():
            if solved.station.kind != "corner":
                continue
            index = solved.linkage.index
            for case in found.cases[::3]:
                rows = solved.at(np.array([case.travel - step, case.travel + step]))
                if not rows.solution.closed.all():
                    continue
                place = rows.solution.motion.place
                gave = sum(
                    case.units[unit] * float(trace.length[0] - trace.length[1])
                    for unit, trace in rows.units.items()
                )
                did = 0.0
                for push in case.pushes:
                    centre = solved.station.wheels[push.wheel].centre
                    spot = contact(solved, found, case, push.wheel, push.at_contact)
                    carrier = next(
                        body for body, its in solved.linkage.bodies.items() if centre in its and len(its) > 2
                    )
                    moved = self.moved(solved, carrier, case, spot, place)
                    did += float(np.array(push.force) @ moved)
                size = max(abs(did), 0.02 * float(np.abs(case.forces).max()) * step)
                self.assertLess(abs(gave - did) / size, 5e-3, f"{name}, {case.words} {index[centre]}")

    def moved(self, solved: SolvedStation, body: str, case: CaseAt, spot: Array, place: Array) -> Array:
        """Return how far a place on a body goes between two positions, (3,) mm."""
        here = np.ascontiguousarray(np.concatenate([case.place.T[:, :, None], place], axis=2))
        pose = pose_of(solved.linkage, body, here)
        drawn = pose.turn[0].T @ (spot - pose.origin[0]) + pose.drawn
        both = pose.point(drawn)
        moved: Array = both[2] - both[1]
        return moved


class WhatCounts(unittest.TestCase):
    def test_the_greater_of_the_multiple_and_what_the_stop_really_pushes(self) -> None:
        values = samples.arm()
        values["units"].append(samples.bump_stop("stop", "eye", "top", 280.0))
        values["units"][-1]["table"] = [[0, 0], [10, 9000], [20, 40000], [30, 90000]]
        solved, found = of(values)
        static = solved.station.mass.corner * GRAVITY_M_PER_S2
        pushed = max(float(force) for force in solved.taken.wheel_force)
        ups = [case.pushes[0].force[2] for case in found.cases if case.name == "bump"]
        self.assertGreater(pushed, 3 * static)
        self.assertGreaterEqual(max(ups), pushed - 1e-6)
        self.assertAlmostEqual(min(ups), 3 * static)
        worst = max(
            (case for case in found.cases if case.name == "bump"), key=lambda case: case.pushes[0].force[2]
        )
        # The springs are not scaled where they push more by themselves.
        rows = solved.at(np.array([worst.travel]))
        self.assertAlmostEqual(worst.units["stop"], float(rows.units["stop"].force[0]), delta=1.0)

    def test_static_is_the_finished_wheel_on_the_floor(self) -> None:
        values = samples.arm()
        values["mass"] = {"corner": 210, "unsprung": 25, "finished": 260}
        _, found = of(values)
        pothole = next(case for case in found.cases if case.name == "pothole")
        self.assertAlmostEqual(pothole.pushes[0].force[2], 2.5 * 260 * GRAVITY_M_PER_S2)
        self.assertAlmostEqual(pothole.pushes[0].force[0], -1.5 * 260 * GRAVITY_M_PER_S2)

    def test_a_brake_on_the_wheel_turns_what_carries_it_and_one_inboard_does_not(self) -> None:
        values = samples.pushrod_corner()
        on_wheel = of(values)[1].cases
        inboard = of({**values, "brakes": "inboard"})[1].cases
        one, other = (next(case for case in its if case.words == "braking") for its in (on_wheel, inboard))
        self.assertGreater(np.abs(one.forces - other.forces).max(), 500.0)

    def test_two_bushes_of_a_hinge_each_take_all_of_its_thrust(self) -> None:
        solved = solve_station(samples.station(samples.arm()))
        peak = peak_loads(solved, Loading())
        assert peak is not None
        way = np.array([0.0, 1.0, 0.0])
        both = peak.forces_at("hinge_in", None) + peak.forces_at("hinge_out", None)
        for point in ("hinge_in", "hinge_out"):
            np.testing.assert_allclose(peak.bush_forces(point) @ way, both @ way, atol=1e-6)
            radial = peak.forces_at(point, None) - np.outer(peak.forces_at(point, None) @ way, way)
            np.testing.assert_allclose(
                peak.bush_forces(point) - np.outer(peak.bush_forces(point) @ way, way), radial, atol=1e-6
            )

    def test_a_strap_stops_the_unsprung_mass(self) -> None:
        values = samples.arm()
        values["units"].append(
            {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": 330.0, "stretch": 0.03}
        )
        solved, found = of(values)
        (droop,) = [case for case in found.cases if case.name == "droop"]
        self.assertAlmostEqual(droop.travel, -60.0)
        ratio = float(solved.at(np.array([-60.0])).units["strap"].motion_ratio[0])
        self.assertLess(droop.units["strap"], -2 * 25 * GRAVITY_M_PER_S2 / ratio + 1e-6)
        self.assertLess(droop.pushes[0].force[2], 0.0)  # the wheel pulls down

    def test_a_shops_own_cases_stand_in_place_of_the_usual_ones(self) -> None:
        judging = check_project(
            {
                **samples.document(samples.arm()),
                "judging": {"purpose": "rough", "cases": {"drive": {"up": 1.0, "along": 2.0}}},
            }
        ).judging
        loading = rules_of(judging).loading
        self.assertEqual(loading.drive, WheelPush(1.0, 2.0))
        self.assertEqual(loading.pothole, WheelPush(2.5, 1.5).times(1.5))
        self.assertEqual(loading.bump, 5.0)
        self.assertEqual(rules_of(None).loading, Loading())

    def test_an_end_that_is_not_told_is_braked_as_both(self) -> None:
        values = samples.arm()
        ups = {round(c.pushes[0].force[2]) for c in of(values)[1].cases if c.name == "brake"}
        front = {
            round(c.pushes[0].force[2]) for c in of({**values, "end": "front"})[1].cases if c.name == "brake"
        }
        self.assertEqual(len(ups), 2)
        self.assertEqual(len(front), 1)
        self.assertLess(front, ups)
        self.assertFalse([c for c in of({**values, "driven": False})[1].cases if c.name == "drive"])


class Axles(unittest.TestCase):
    def station(self, file: str) -> Station:
        return check_project(json.loads((ROOT / "docs/examples" / file).read_text("utf-8"))).stations[0]

    def test_what_is_symmetrical_is_loaded_alike_on_both_sides(self) -> None:
        for file in ("axle-four-link.json", "axle-on-air.json", "axle-cantilever.json"):
            peak = peak_loads(solve_station(self.station(file)), Loading())
            assert peak is not None
            for name, most in peak.pulls.items():
                if name.endswith("_left"):
                    twin = name.removesuffix("_left") + "_right"
                    for its in (peak.pulls, peak.pushes):
                        self.assertAlmostEqual(
                            its[name].value, its[twin].value, delta=2.0 + 0.002 * most.value
                        )

    def test_one_link_too_many_makes_no_force_out_of_nothing(self) -> None:
        # Four parallel links and a lateral one: nothing tells the wheels apart but that the links hold the least.
        station = self.station("axle-four-link-lateral.json")
        solved = solve_station(station)
        self.assertTrue(solved.linkage.assembly.over_constrained)
        for row in np.flatnonzero(solved.reached)[::8]:
            loads = loads_at(solved, solved.sweep, int(row))
            for way in ("lower", "upper"):
                left, right = (loads.links[f"{way}_link_{side}"] for side in ("left", "right"))
                self.assertAlmostEqual(left, right, delta=0.01 * max(abs(left), 100.0))

    def test_a_mirrored_axle_bears_the_mirrored_loads(self) -> None:
        values = json.loads((ROOT / "docs/examples/axle-three-link.json").read_text("utf-8"))["stations"][0]
        other = copy.deepcopy(values)
        for spot in other["points"].values():
            spot[1] = -spot[1]
        one, two = (peak_loads(solve_station(samples.station(its)), Loading()) for its in (values, other))
        assert one is not None and two is not None
        for name, most in one.pulls.items():
            self.assertAlmostEqual(
                most.value, two.pulls[name].value, delta=2.0 + 0.003 * most.value, msg=name
            )
            self.assertAlmostEqual(
                one.pushes[name].value,
                two.pushes[name].value,
                delta=2.0 + 0.003 * one.pushes[name].value,
                msg=name,
            )


if __name__ == "__main__":
    unittest.main()
