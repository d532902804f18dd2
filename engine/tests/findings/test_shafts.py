"""Half shafts: what is said of their joints and of their plunge, and that doing as told ends it."""

import math
import unittest

from engine.findings.finding import Finding
from engine.findings.judge import judge
from engine.limits.joints import ShaftUse
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


def with_shaft(rated: float = 40.0, least: float = 0.1, most: float = 2000.0) -> samples.Values:
    values = samples.pushrod_corner()
    wheel = values["points"]["wheel"]
    values["points"]["flange"] = [wheel[0] + 30, 180, wheel[2] + 25]
    values["chassis"].append("flange")
    shaft = {"name": "half shaft", "ends": ["flange", "wheel"], "axes": [[0, 1, 0], [0, 1, 0]]}
    values["shafts"] = [shaft | {"rated": rated, "length": {"least": least, "most": most}}]
    return values


def asked(values: samples.Values) -> tuple[ShaftUse, dict[str, Finding]]:
    work = WorkUp(solve_station(samples.station(values)))
    (shaft,) = work.shafts
    return shaft, {f.code: f for f in judge(work.solved, None, work) if f.code.startswith("shaft_")}


class Plunge(unittest.TestCase):
    def test_a_shaft_with_room_both_ways_is_well(self) -> None:
        shaft, found = asked(with_shaft())
        self.assertEqual({f.mark for f in found.values()}, {"good"})
        self.assertEqual(set(found), {"shaft_angle", "shaft_short", "shaft_long"})
        self.assertAlmostEqual(found["shaft_short"].value or 0.0, shaft.shortest - 0.1)
        self.assertAlmostEqual(found["shaft_long"].value or 0.0, 2000 - shaft.longest)

    def test_one_that_bottoms_is_made_as_much_shorter_as_it_says(self) -> None:
        shaft, _ = asked(with_shaft())
        values = with_shaft(least=shaft.shortest + 2.5, most=shaft.longest + 20)
        finding = asked(values)[1]["shaft_short"]
        self.assertEqual(finding.mark, "fault")
        self.assertIn("past where it bottoms", str(finding.what))
        self.assertAlmostEqual(finding.value or 0.0, -2.5)
        self.assertIn("2.5", str(finding.remedy))
        _, found = asked(with_shaft(least=shaft.shortest, most=shaft.longest + 17.5))
        self.assertEqual({f.mark for f in found.values()}, {"good"})

    def test_one_that_pulls_out_is_said_where_it_is_longest(self) -> None:
        shaft, _ = asked(with_shaft())
        finding = asked(with_shaft(most=shaft.longest - 4))[1]["shaft_long"]
        self.assertEqual(finding.mark, "fault")
        self.assertIn("past where it pulls out", str(finding.what))
        self.assertEqual(finding.travel_mm, shaft.longest_at[0])

    def test_without_a_length_nothing_is_said_of_plunge(self) -> None:
        values = with_shaft()
        del values["shafts"][0]["length"]
        self.assertEqual(set(asked(values)[1]), {"shaft_angle"})


class Bend(unittest.TestCase):
    def test_three_degrees_are_to_be_left(self) -> None:
        worst = max(asked(with_shaft())[0].bends)
        for rated, mark in ((worst + 3.1, "good"), (worst + 1, "warning"), (worst - 1, "fault")):
            finding = asked(with_shaft(rated=rated))[1]["shaft_angle"]
            self.assertEqual(finding.mark, mark)
            self.assertAlmostEqual(finding.value or 0.0, rated - worst)
            self.assertEqual(finding.remedy is None, mark == "good")

    def test_the_flange_bends_as_a_triangle_says(self) -> None:
        shaft, _ = asked(with_shaft())
        values = with_shaft()
        # No less than as drawn: 30 mm and 25 mm off a square shaft.
        across = values["points"]["wheel"][1] - 180
        drawn = math.degrees(math.atan(math.hypot(30, 25) / across))
        self.assertGreaterEqual(shaft.bends[0], drawn - 1e-6)
        self.assertGreaterEqual(shaft.longest, math.hypot(across, 30, 25) - 1e-6)


if __name__ == "__main__":
    unittest.main()
