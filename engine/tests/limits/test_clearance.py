"""Clearances through heave and articulation against working out every position, and their findings."""

import unittest
from itertools import product

import numpy as np

from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.limits.across import across_the_car
from engine.limits.clearance import CARE_MM, clearances, distances_at
from engine.limits.distance import core_distance, core_of
from engine.limits.nearest import nearest_points
from engine.limits.rooms_by_point import rooms_by_point
from engine.limits.solids import placed_all, solids_of
from engine.linkage.grid import grid_of
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def axle() -> samples.Values:
    values = samples.axle()
    for wheel in values["wheels"]:
        wheel |= {"tyre_radius": 330, "tyre_width": 220}
    for unit in values["units"]:
        unit["coil_diameter"] = 90
    values["envelopes"] = [
        {"name": "rail", "shape": "box", "centre": [100, 470, 560], "size": [1800, 60, 120]},
        {
            "name": "tube",
            "shape": "capsule",
            "on": "axle",
            "along": [[0, 100, 320], "wheel_left"],
            "radius": 38,
        },
        {
            "name": "arch",
            "shape": "plate",
            "outline": [[-400, 600, 712], [400, 600, 712], [400, 900, 712], [-400, 900, 712]],
            "thickness": 2,
        },
        {
            "name": "drum",
            "shape": "cylinder",
            "on": "axle",
            "along": [[-120, 0, 320], [120, 0, 320]],
            "radius": 130,
        },
        {"name": "skid", "shape": "half_space", "what": "floor", "at": [0, 0, 100], "facing": [0, 0, 1]},
    ]
    return values


class NearestPoints(unittest.TestCase):
    def test_a_tape_between_them_reads_the_distance_along_the_push(self) -> None:
        linkage = Linkage(samples.station(axle()))
        grid = grid_of(linkage, 15, 5)
        found = clearances(linkage, grid)
        told = nearest_points(linkage, grid, found)
        self.assertEqual(len(told), len(found))
        for near in told:
            apart = near.one - near.other
            with self.subTest(f"{near.clearance.one} to {near.clearance.other}"):
                self.assertAlmostEqual(
                    float(apart @ near.clearance.push), near.clearance.distance, delta=0.05
                )
                if near.clearance.distance > 0:
                    self.assertAlmostEqual(float(np.linalg.norm(apart)), near.clearance.distance, delta=0.3)

    def test_two_boxes_face_to_face(self) -> None:
        values = samples.arm()
        values["envelopes"] = [
            {"name": "block", "shape": "box", "on": "arm", "centre": [-300, 900, 250], "size": [40, 40, 40]},
            {"name": "post", "shape": "box", "centre": [-300, 990, 250], "size": [600, 40, 900]},
        ]
        work = WorkUp(solve_station(samples.station(values)))
        (near,) = work.nearest
        self.assertAlmostEqual(near.clearance.distance, 50, delta=0.01)
        self.assertAlmostEqual(near.one[1], 920, delta=0.01)
        self.assertAlmostEqual(near.other[1], 970, delta=0.01)


class Clearances(unittest.TestCase):
    def test_the_nearest_is_the_nearest_of_all_positions(self) -> None:
        linkage = Linkage(samples.station(axle()))
        grid = grid_of(linkage, 15, 5)
        found = clearances(linkage, grid)
        solids = [solid for solid in solids_of(linkage.station) if solid.facing is None]
        at = placed_all(linkage, solids, grid.place)
        every = np.arange(grid.place.shape[2])
        self.assertGreater(len(found), 4)
        for near in found:
            if "skid" in (near.one, near.other):
                continue
            one, other = at[near.one], at[near.other]
            skins = one.solid.skin + other.solid.skin
            distance = core_distance(core_of([(one, every)]), core_of([(other, every)]))[0] - skins
            self.assertAlmostEqual(near.distance, float(distance.min()), delta=0.02, msg=f"{near}")

    def test_a_half_space_is_measured_to_the_lowest_point(self) -> None:
        linkage = Linkage(samples.station(axle()))
        grid = grid_of(linkage, 15, 5)
        near = next(c for c in clearances(linkage, grid) if {c.one, c.other} == {"skid", "drum"})
        ends = [placed_all(linkage, solids_of(linkage.station), grid.place)["drum"]]
        lowest = (ends[0].centre[:, 2] - 130 - 120 * np.abs(ends[0].axes[:, 0, 2])).min()
        self.assertAlmostEqual(near.distance, lowest - 100, delta=2.0)

    def test_what_is_joined_and_touches_as_drawn_is_left_out(self) -> None:
        values = samples.pushrod_corner()
        values["envelopes"] = [
            {
                "name": "rod tube",
                "shape": "capsule",
                "on": "pushrod",
                "along": ["push_low", "push_top"],
                "radius": 11,
            },
            {
                "name": "arm tube",
                "shape": "capsule",
                "on": "lower_arm",
                "along": ["lower_front", "lower_ball"],
                "radius": 11,
            },
        ]
        linkage = Linkage(samples.station(values))
        names = [{c.one, c.other} for c in clearances(linkage, grid_of(linkage, 9))]
        self.assertIn({"rod tube", "tyre"}, names)
        touching = [
            c
            for c in clearances(linkage, grid_of(linkage, 9))
            if {c.one, c.other} == {"rod tube", "arm tube"}
        ]
        self.assertTrue(not touching or touching[0].distance > 0)

    def test_ignored_pairs(self) -> None:
        values = axle()
        before = Linkage(samples.station(values))
        self.assertTrue(
            any({c.one, c.other} == {"rail", "tyre left"} for c in clearances(before, grid_of(before, 9)))
        )
        values["envelopes"][0]["ignore"] = ["tyre left"]
        after = Linkage(samples.station(values))
        self.assertFalse(
            any({c.one, c.other} == {"rail", "tyre left"} for c in clearances(after, grid_of(after, 9)))
        )

    def test_findings_name_the_pair_the_gap_and_where(self) -> None:
        finding = next(
            f
            for f in judge(solve_station(samples.station(axle())))
            if f.code == "tyre_to_structure" and "arch" in f.subject
        )
        self.assertEqual(finding.mark, "fault")
        self.assertIn("one wheel", str(finding.what))


class Touching(unittest.TestCase):
    def arm(self, height: float) -> samples.Values:
        """The arm with a flat panel above its tyre: the tyre's top rises with the wheel."""
        values = samples.arm()
        values["wheels"][0] |= {"tyre_radius": 250, "tyre_width": 150}
        corners = [[-900, 500], [100, 500], [100, 900], [-900, 900]]
        values["envelopes"] = [
            {"name": "panel", "shape": "plate", "outline": [[x, y, height] for x, y in corners]}
        ]
        return values

    def test_metal_is_an_event_where_the_closed_form_has_it(self) -> None:
        # Tyre centre at 250, radius 250: its top meets 540 when the wheel has risen by 40.
        work = WorkUp(solve_station(samples.station(self.arm(540))))
        (event,) = [e for e in work.ledger.bump if e.kind.code == "metal_contact"]
        self.assertAlmostEqual(event.travel, 40, delta=0.3)
        self.assertEqual(event.subjects, ("panel", "tyre"))

    def test_metal_before_the_bump_stop_is_a_fault_and_after_it_is_not(self) -> None:
        for height, mark in ((540, "fault"), (700, "good")):
            values = self.arm(height)
            values["units"].append(samples.bump_stop("stop", "eye", "top", 272))
            finding = next(
                f for f in judge(solve_station(samples.station(values))) if f.code == "first_in_bump"
            )
            self.assertEqual(finding.mark, mark)
            if mark == "fault":
                self.assertIn("panel and tyre touch", str(finding.what))


class Sensitivity(unittest.TestCase):
    def test_a_point_moved_by_hand_changes_the_clearance_as_it_says(self) -> None:
        values = axle()
        solved = solve_station(samples.station(values))
        near = WorkUp(solved).clearances
        rooms = rooms_by_point(solved, near)
        self.assertTrue(rooms)
        moved = max(rooms, key=lambda room: max(abs(v) for v in room.rooms.values()))
        name, slope = max(moved.rooms.items(), key=lambda item: abs(item[1]))
        watched = next(c for c in near if (c.one, c.other) == name)

        def distance(by: float) -> float:
            points = solved.linkage.points.copy()
            points[solved.linkage.index[moved.point], moved.axis] += by
            names = dict(zip(solved.linkage.index, points.tolist(), strict=True))
            linkage = Linkage(samples.station({**values, "points": names}))
            place = linkage.follow(np.array([watched.heave]), watched.articulation).solution.motion.place
            return float(distances_at(linkage, watched, place, linkage.points.T[:, :, None])[0])

        self.assertAlmostEqual(slope, (distance(1) - distance(-1)) / 2, delta=0.02 + 0.02 * abs(slope))


class AcrossTheCar(unittest.TestCase):
    def test_every_combination_of_heights_is_looked_at(self) -> None:
        stations = starting_project(layout_named("crossed-coilovers"))["stations"]
        left, right = (Linkage(samples.station(values | {"other_side": "alone"})) for values in stations)
        mine, its = grid_of(left, 7), grid_of(right, 7)
        found = across_the_car(left, mine, right, its, mirror=False)
        told = {(c.one, c.other): c.distance for c in found}
        self.assertIn(("coilover body", "coilover body"), told)
        here, there = (
            {
                name: part
                for name, part in placed_all(k, solids_of(k.station), g.place).items()
                if part.solid.host != "chassis" and part.solid.facing is None
            }
            for k, g in ((left, mine), (right, its))
        )
        far = 0
        for one, other in product(here, there):
            skins = here[one].solid.skin + there[other].solid.skin
            least = min(
                float(core_distance(core_of([(here[one], rows)]), core_of([(there[other], others)]))[0][0])
                for rows, others in product([np.array([k]) for k in range(7)], repeat=2)
            )
            if least - skins < CARE_MM:
                self.assertAlmostEqual(told[one, other], least - skins, delta=0.01)
            else:
                far += 1
                self.assertNotIn((one, other), told)
        self.assertGreater(far, 0, "somewhere the two sides must be out of one another's way")

    def test_a_mirrored_side_is_the_same_as_one_written_out(self) -> None:
        values = samples.pushrod_corner()
        values["units"][0]["coil_diameter"] = 80
        shift = (0.0, -180.0, 0.0)  # so narrow that the dampers meet in the middle
        one = Linkage(samples.station(samples.moved(values, shift)))
        other = Linkage(samples.station(samples.mirrored(samples.moved(values, shift))))
        mirrored = across_the_car(one, grid_of(one, 5), one, grid_of(one, 5), mirror=True)
        written = across_the_car(one, grid_of(one, 5), other, grid_of(other, 5), mirror=False)
        self.assertTrue(mirrored)
        for a, b in zip(mirrored, written, strict=True):
            self.assertAlmostEqual(a.distance, b.distance, delta=0.02)


if __name__ == "__main__":
    unittest.main()
