"""A station's parts: the same as the linkage, strong enough, counted a hand, and faults said with what to do."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.shop.parts import Maker, StationParts, station_parts
from engine.shop.set_out import set_out
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def parts(values: dict[str, Any]) -> StationParts:
    return station_parts(Maker(WorkUp(solve_station(samples.station(values))), RULES))


def started(name: str = "pushrod") -> dict[str, Any]:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0])


class Parts(unittest.TestCase):
    def test_rods_are_as_long_as_drawn_or_as_set_and_strong_enough(self) -> None:
        values = started()
        values.setdefault("links", {})["rod"] = {"length": 470.0}
        found = {one.name: one for one in parts(values).of("rod")}
        tie = values["points"], values["bodies"]["tie_rod"]
        drawn = float(np.linalg.norm(np.subtract(tie[0][tie[1][0]], tie[0][tie[1][1]])))
        self.assertAlmostEqual(found["tie_rod"].figure("centre_to_centre"), drawn)
        self.assertAlmostEqual(found["rod"].figure("centre_to_centre"), 470.0)
        for one in found.values():
            self.assertEqual((one.count, one.hands), (1, 2))  # the other side is its mirror image
            self.assertTrue(one.weakest is None or one.weakest.factor >= 2.0)

    def test_a_rocker_plate_has_the_holes_of_the_linkage(self) -> None:
        values = started()
        (plate,) = parts(values).of("plate")
        assert plate.flat is not None
        holes = {hole.what: hole for hole in plate.flat.holes}
        apart = np.hypot(holes["rod"].x - holes["damper"].x, holes["rod"].y - holes["damper"].y)
        members = values["bodies"]["rocker"]
        spots = {name: np.array(values["points"][name]) for name in members}
        drawn = [float(np.linalg.norm(spots[a] - spots[b])) for a in members for b in members if a < b]
        self.assertLess(min(abs(apart - far) for far in drawn), 1e-6)
        self.assertEqual((plate.count, plate.hands), (2, 2))
        self.assertGreater(plate.mass, 0.05)

    def test_a_rod_is_turned_on_its_thread_and_its_tube_stays_as_it_is_cut(self) -> None:
        values = started()
        cut = {}
        for turned in (0.0, 7.5, -7.5):  # three turns of two pitches
            station = samples.station(values)
            rod = station.rods["rod"].turned(turned)
            ends = (np.array(station.points[name]) for name in station.bodies["rod"])
            drawn = float(np.linalg.norm(next(ends) - next(ends)))
            its = values | {
                "rods": {"rod": rod.model_dump(exclude_unset=True)},
                "links": {"rod": {"length": drawn + turned}},
            }
            (made,) = (one for one in parts(its).of("rod") if one.name == "rod")
            cut[turned] = made.figure("tube_length")
            # One figure: what Make says is left is what the findings say.
            left = next(
                f
                for f in judge(solve_station(samples.station(its)))
                if f.kind.code == "adjustment_left" and f.subjects == ("rod",)
            )
            self.assertAlmostEqual(left.what.quantities["one"].value, made.figure("longer"))
            self.assertAlmostEqual(made.figure("longer"), 9.0 - turned)
            self.assertAlmostEqual(left.what.quantities["other"].value, made.figure("shorter"))
            self.assertAlmostEqual(rod.engagement, 22.5 - turned / 2)
        self.assertAlmostEqual(min(cut.values()), max(cut.values()))

    def test_a_rod_turned_past_its_thread_is_a_fault(self) -> None:
        values = started()
        values["rods"]["rod"] |= {"longer": -2.0, "shorter": 20.0, "engagement": 17.0}
        found = next(f for f in judge(solve_station(samples.station(values))) if f.mark == "fault")
        self.assertIn("2.0 mm longer than it goes", str(found.what))

    def test_what_is_wrong_with_a_rod_is_said_with_what_to_do(self) -> None:
        for rod, words in (
            ({"thread": 12, "engagement": 10}, "of thread: screw it in 8.0 mm more"),
            ({"thread": 12, "engagement": 50}, "no room for the jam nut"),
            ({"thread": 12, "engagement": 30, "hands": ["right", "right"]}, "Make one left-handed"),
        ):
            values = started()
            values["rods"] = {"rod": rod}
            told = next(one for one in parts(values).of("rod") if one.name == "rod")
            self.assertFalse(told.proposed)
            self.assertIn(words, " ".join(str(one.say) for one in told.said))

    def test_every_arrangement_with_links_gets_its_parts(self) -> None:
        for name in ("five-link", "axle-four-link", "axle-cantilever", "cantilever-arm"):
            found = parts(started(name))
            for one in found.of("rod"):
                self.assertGreater(one.figure("tube_length"), 0, f"{name} {one.name}")

    def test_setting_out_is_looser_where_the_linkage_cares_less(self) -> None:
        project = check_project(starting_project(layout_named("wishbones-lower")))
        mounts = set_out(project, solve_station(project.stations[0]))
        self.assertEqual({mount.point for mount in mounts}, set(project.stations[0].chassis))
        self.assertLess(min(min(mount.close_enough) for mount in mounts), 6.0)
        for mount in mounts:
            self.assertEqual(len({place for place, _ in mount.tapes}), 3)


if __name__ == "__main__":
    unittest.main()
