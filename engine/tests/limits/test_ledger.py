"""Events each way: straps that come taut both ways, eyes that bind, metal that touches as drawn."""

import copy
import json
import math
import unittest
from pathlib import Path

import numpy as np

from engine.document.read import check_project
from engine.findings.judge import judge
from engine.forces.air import Bag
from engine.loads.cases import Loading
from engine.loads.joints import loads_at
from engine.loads.peak import peak_loads
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp

DEMO = Path(__file__).parents[3] / "server" / "demo" / "files"
RADIUS = 400.0


def arm_with(**more: object) -> samples.Values:
    return copy.deepcopy(samples.arm()) | more


def pivot_and_wheel(values: samples.Values) -> tuple[np.ndarray, np.ndarray]:
    chassis = [
        np.array(values["points"][p], dtype=float) for p in values["bodies"]["arm"] if p in values["chassis"]
    ]
    return (chassis[0] + chassis[1]) / 2, np.array(values["points"]["wheel"], dtype=float)


class Straps(unittest.TestCase):
    def test_taut_both_ways_is_told_both_ways_with_both_ends(self) -> None:
        # The strap's frame end stands straight out from the pivot beyond the wheel: shortest as drawn.
        values = arm_with()
        pivot, wheel = pivot_and_wheel(values)
        pivot[1] = wheel[1]
        out = wheel + (wheel - pivot) / np.linalg.norm(wheel - pivot) * 100
        values["points"]["strap_top"] = [float(c) for c in out]
        values["chassis"] = [*values["chassis"], "strap_top"]
        strap = {
            "name": "strap",
            "kind": "strap",
            "ends": ["wheel", "strap_top"],
            "length": 101.0,
            "stretch": 0.03,
        }
        values["units"] = [*values["units"], strap]
        values["travel"] = {"bump": 60, "droop": 60}
        work = WorkUp(solve_station(samples.station(values), steps=9))
        radius = float(np.linalg.norm((wheel - pivot)[[0, 2]]))
        for way, sign in (("bump", 1), ("droop", -1)):
            for code, length in (("strap_taut", 101.0), ("strap_end", 101.0 * 1.03)):
                event = next(e for e in work.ledger.on(way) if e.kind.code == code)
                at = np.array([event.travel])
                reached = float(work.solved.at(at).units["strap"].length[0])
                self.assertAlmostEqual(reached, length, delta=1e-3)
                # Cosine rule about the pivot: the angle turned tells the length by itself.
                cosine = (radius**2 + (radius + 100) ** 2 - length**2) / (2 * radius * (radius + 100))
                turned = math.acos(cosine)
                start = math.atan2(*(wheel - pivot)[[2, 0]])
                rise = radius * (
                    math.sin(start - sign * turned * math.copysign(1, pivot[0] - wheel[0])) - math.sin(start)
                )
                self.assertAlmostEqual(abs(event.travel), abs(rise), delta=1.5)
                self.assertGreater(event.travel * sign, 0)

    def test_a_hanging_wheel_is_not_multiplied(self) -> None:
        values = arm_with()
        solved = solve_station(samples.station(values), steps=21)
        length = float(solved.at(np.array([-20.0])).units["coilover"].length[0])
        values["units"] = [
            *values["units"],
            {
                "name": "strap",
                "kind": "strap",
                "ends": values["units"][0]["ends"],
                "length": length,
                "stretch": 0.02,
                "load": 6000,
            },
        ]
        solved = solve_station(samples.station(values), steps=21)
        self.assertLess(float(solved.taken.wheel_force.min()), -solved.station.mass.unsprung * 9.80665)
        peak = peak_loads(solved, Loading())
        assert peak is not None
        hung = loads_at(solved, solved.at(np.array([_hangs(solved)])))
        for joint in hung.joints:
            self.assertGreaterEqual(peak.joints[joint.point].value + 1e-6, joint.size)


def _hangs(solved: object) -> float:
    rows = solved.taken  # type: ignore[attr-defined]
    weight = -solved.station.mass.unsprung * 9.80665  # type: ignore[attr-defined]
    k = int(np.flatnonzero(rows.wheel_force <= weight)[-1])
    low, high = float(rows.travels[k]), float(rows.travels[k + 1])
    for _ in range(60):
        middle = (low + high) / 2
        below = float(solved.at(np.array([middle])).wheel_force[0]) <= weight  # type: ignore[attr-defined]
        low, high = (middle, high) if below else (low, middle)
    return (low + high) / 2


class Eyes(unittest.TestCase):
    def test_a_rated_eye_that_binds_is_an_event_at_its_own_angle(self) -> None:
        values = arm_with()
        unit = values["units"][0]
        eye = unit["ends"][0]
        unit["eyes"] = [{"end": eye, "bolt": [1, 0, 0], "rated": 4.0}]
        work = WorkUp(solve_station(samples.station(values), steps=9))
        binds = [e for e in (*work.ledger.bump, *work.ledger.droop) if e.kind.code == "joint_bind"]
        self.assertTrue(binds)
        self.assertEqual(binds[0].subjects, (unit["name"], eye))


class AsDrawn(unittest.TestCase):
    def tyred(self, gap: float) -> samples.Values:
        """Return an arm whose tyre stands `gap` from a rail's face; negative is into it."""
        values = arm_with()
        values["wheels"][0] |= {"tyre_radius": 300, "tyre_width": 200}
        wheel, spindle = (np.array(values["points"][p], dtype=float) for p in ("wheel", "spindle"))
        side = math.copysign(1.0, spindle[1] - wheel[1])
        inner = wheel[1] - side * 100
        centre = [float(wheel[0]), float(inner - side * (gap + 20)), float(wheel[2])]
        values["envelopes"] = [
            {"name": "rail", "shape": "box", "on": "chassis", "centre": centre, "size": [400, 40, 60]}
        ]
        return values

    def told(self, values: samples.Values) -> list[tuple[str, str, str]]:
        found = judge(solve_station(samples.station(values), steps=9))
        return [(f.code, f.mark, str(f.what)) for f in found if set(f.subjects) & {"rail"} and f.kind.rooms]

    def test_into_the_tyre_is_as_bad_as_one_millimetre_off_it(self) -> None:
        near, into, deep = (self.told(self.tyred(gap)) for gap in (1.0, -2.0, -30.0))
        for told in (near, into, deep):
            self.assertIn(("tyre_to_structure", "fault"), [(code, mark) for code, mark, _ in told])
        self.assertTrue(any("as drawn already" in words and "2.0 mm" in words for _, _, words in into), into)
        self.assertTrue(any("as drawn already" in words and "30.0 mm" in words for _, _, words in deep), deep)

    def test_what_touches_as_drawn_touches_at_nought_both_ways(self) -> None:
        work = WorkUp(solve_station(samples.station(self.tyred(-2.0)), steps=9))
        for way in ("bump", "droop"):
            event = next(e for e in work.ledger.on(way) if e.kind.code == "metal_contact")
            self.assertAlmostEqual(event.travel, 0.0, delta=1e-9)

    def test_a_coil_in_a_rail_is_said_and_one_bolted_to_its_tower_is_not(self) -> None:
        values = arm_with()
        unit = values["units"][0] | {"coil_diameter": 90}
        values["units"] = [unit]
        eye, top = (np.array(values["points"][end], dtype=float) for end in unit["ends"])
        middle = (eye + top) / 2
        axis = (top - eye) / np.linalg.norm(top - eye)
        across = np.cross(axis, [0, 1, 0])
        across /= np.linalg.norm(across)
        for depth, name in ((1.7, "rail"), (40.0, "rail")):
            off = middle + across * (45 + 20 - depth)
            ends = [[float(c) for c in off + np.array([0, s * 300, 0])] for s in (-1, 1)]
            values["envelopes"] = [
                {"name": name, "shape": "capsule", "on": "chassis", "along": ends, "radius": 20}
            ]
            self.assertIn("fault", [mark for _, mark, _ in self.told(values)], depth)
        tower = unit["ends"][1] if unit["ends"][1] in values["chassis"] else unit["ends"][0]
        at = [float(c) for c in values["points"][tower]]
        values["envelopes"] = [
            {"name": "rail", "shape": "box", "on": "chassis", "centre": at, "size": [80, 80, 30]}
        ]
        self.assertNotIn("fault", [mark for _, mark, _ in self.told(values)])


class LikeSides(unittest.TestCase):
    def test_an_axles_like_sides_are_said_once_and_unlike_ones_apart(self) -> None:
        project = json.loads((DEMO / "hollin-fell-fire-tender.json").read_text())
        station = check_project(project).stations[0]
        codes = [(f.code, f.what.names) for f in judge(solve_station(station))]
        once = [names for code, names in codes if code == "damper_compressed_left"]
        self.assertEqual(len(once), 1)
        self.assertIn("(both sides)", once[0][0])
        right = next(u for u in project["stations"][0]["units"] if u["name"] == "coilover right")
        right["compressed"] -= 9
        station = check_project(project).stations[0]
        apart = [f for f in judge(solve_station(station)) if f.code == "damper_compressed_left"]
        self.assertEqual([len(f.subjects) for f in apart], [1, 1])

    def test_a_stop_is_never_held_against_the_other_sides_damper(self) -> None:
        for file in sorted(DEMO.glob("*.json")):
            for station in check_project(json.loads(file.read_text())).stations:
                for finding in judge(solve_station(station)):
                    said = " ".join(finding.what.names).lower()
                    self.assertFalse(
                        "left" in said and "right" in said and finding.kind.family in ("strap", "bump stop")
                    )


class Bags(unittest.TestCase):
    def test_past_its_table_a_bag_never_pulls(self) -> None:
        bag = Bag(
            heights=np.array([100.0, 200.0]),
            areas=np.array([20_000.0, 8_000.0]),
            volumes=None,
            pressure_bar=3.0,
            law=1.38,
        )
        for filled in (bag, bag.shut_at(150.0)):
            force, rate = filled.at(np.linspace(60, 900, 200))
            self.assertGreaterEqual(float(force.min()), 0.0)
            self.assertTrue(np.isfinite(rate).all())

    def test_a_volume_that_falls_with_height_is_said(self) -> None:
        for volumes, mark in (((2e6, 1e6), "fault"), ((1e6, 5e6), "warning"), ((1e6, 2.4e6), None)):
            table = [[100, 14_000, volumes[0]], [200, 14_000, volumes[1]]]
            values = samples.arm()
            values["units"] = [
                {
                    "name": "bag",
                    "kind": "air_spring",
                    "ends": values["units"][0]["ends"],
                    "pressure": 3.0,
                    "height_table": table,
                    "min_height": 90,
                    "max_height": 400,
                }
            ]
            found = [f.mark for f in judge(solve_station(samples.station(values))) if f.code == "bag_table"]
            self.assertEqual(found, [] if mark is None else [mark])


if __name__ == "__main__":
    unittest.main()
