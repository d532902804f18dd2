"""Places where something is free for a moment: an axle goes straight on, a toggle ends."""

import unittest

import numpy as np

from engine.errors import LinkageRefused
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_station
from engine.tests import samples

TRAVELS = np.linspace(-80, 80, 81)


def parallel_axle(upper_up: float = 0.0, lower_down: float = 0.0, upper_down: float = 0.0) -> samples.Values:
    """Return a live axle on four links parallel in plan and a lateral link, its links level but for what is given."""
    points: samples.Values = {}
    for side, y in (("left", 1), ("right", -1)):
        points |= {
            f"wheel_{side}": [0, 750 * y, 320],
            f"spindle_{side}": [0, 850 * y, 320],
            f"low_{side}": [0, 480 * y, 250 - lower_down],
            f"low_front_{side}": [600, 480 * y, 250],
            f"up_{side}": [-20, 450 * y, 430 - upper_down],
            f"up_front_{side}": [500, 450 * y, 430 + upper_up],
        }
    points |= {"lateral_axle": [-100, 500, 330], "lateral_frame": [-100, -450, 330]}
    axle = [n for n in points if n.split("_")[0] in {"wheel", "spindle"}]
    bodies = {"axle": [*axle, "low_left", "low_right", "up_left", "up_right", "lateral_axle"]}
    for side in ("left", "right"):
        bodies[f"low_link_{side}"] = [f"low_front_{side}", f"low_{side}"]
        bodies[f"up_link_{side}"] = [f"up_front_{side}", f"up_{side}"]
    bodies["lateral_link"] = ["lateral_axle", "lateral_frame"]
    return {
        "name": "axle",
        "kind": "axle",
        "points": points,
        "chassis": [n for n in points if "front" in n] + ["lateral_frame"],
        "bodies": bodies,
        "wheels": [
            {"name": side, "centre": f"wheel_{side}", "spindle": f"spindle_{side}"}
            for side in ("left", "right")
        ],
        "units": [],
        "mass": {"corner": 300, "unsprung": 60},
        "travel": {"bump": 80, "droop": 80},
    }


class FlatPlaces(unittest.TestCase):
    def test_an_axle_whose_links_come_parallel_goes_straight_on(self) -> None:
        for values in (
            parallel_axle(1.0),
            parallel_axle(3.0),
            parallel_axle(10.0),
            parallel_axle(-4.0),
            parallel_axle(0.0, 20.0, 12.0),
            parallel_axle(0.0, -20.0, -12.0),
        ):
            linkage = Linkage(samples.station(values))
            path = linkage.follow(TRAVELS)
            with self.subTest(points=values["points"]):
                self.assertTrue(path.reached.all(), (path.below, path.above))
                place = path.solution.motion.place
                for body, members in values["bodies"].items():
                    if len(members) == 2:
                        one, other = (place[:, linkage.index[m]] for m in members)
                        drawn = np.linalg.norm(np.subtract(*(values["points"][m] for m in members)))
                        gap = np.abs(np.linalg.norm(one - other, axis=0) - drawn).max()
                        self.assertLess(float(gap), 1e-7, body)
                left, right = (place[2, linkage.index[f"wheel_{side}"]] for side in ("left", "right"))
                self.assertLess(float(np.abs(left - right).max()), 1e-5)

    def test_links_that_are_parallel_as_drawn_are_no_dead_centre(self) -> None:
        path = Linkage(samples.station(parallel_axle(0.0, 20.0, 20.0 * 520 / 600))).follow(TRAVELS)
        self.assertTrue(path.reached.all())

    def test_a_rod_in_line_with_its_arm_is_still_one(self) -> None:
        values = samples.pushrod_corner()
        solved = solve_station(samples.station(values), steps=3)
        place = solved.sweep.solution.motion.place[:, :, 1]
        index = solved.linkage.index
        axis_foot = solved.linkage.solver.geometry.turns
        self.assertTrue(axis_foot)
        top, low = place[:, index["push_top"]], place[:, index["push_low"]]
        middle = (np.array(values["points"]["rocker_front"]) + np.array(values["points"]["rocker_rear"])) / 2
        # The rod's foot is carried onto the line from the pivot through the joint: rod and arm in line.
        way = (top - middle) / np.linalg.norm(top - middle)
        values["points"]["push_top"] = [round(float(c), 9) for c in middle + way * 60]
        values["points"]["push_low"] = [
            round(float(c), 9) for c in middle + way * (60 + np.linalg.norm(top - low))
        ]
        with self.assertRaises(LinkageRefused):
            Linkage(samples.station(values))


class TheEndOfReach(unittest.TestCase):
    def test_what_happens_just_before_the_end_is_found(self) -> None:
        values = samples.pushrod_corner()
        for point in ("rocker_front", "rocker_rear"):
            values["points"][point][2] += 45
        plain = solve_station(samples.station(values), steps=9)
        ends = [reach for reach in (plain.path.below, plain.path.above) if reach is not None]
        self.assertTrue(ends, "the corner was meant to end within its travel")
        for reach in ends:
            self.assertIn(reach.travel, plain.search.travels)
            inward = -np.sign(reach.travel) * 0.05
            length = float(plain.at(np.array([reach.travel + inward])).units["coilover"].length[0])
            toward = float(plain.search.units["coilover"].length[plain.search.travels == reach.travel][0])
            unit = values["units"][0]
            key, kind = (
                ("compressed", "damper_compressed") if toward < length else ("extended", "damper_extended")
            )
            tried = samples.station(values | {"units": [unit | {key: length}]})
            found = [limit for limit in solve_station(tried, steps=9).limits if limit.kind == kind]
            self.assertTrue(found, f"{kind} before {reach.travel}")
            near = min(found, key=lambda limit: abs(limit.travel - reach.travel))
            self.assertAlmostEqual(near.travel, reach.travel + inward, delta=1e-3)


if __name__ == "__main__":
    unittest.main()
