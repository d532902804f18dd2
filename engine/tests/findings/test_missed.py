"""What was missed once: straps that give nothing, threads that nobody makes, standing far off, a strap that comes too late."""

import unittest
from typing import Any

from engine.findings.finding import RULES, Finding
from engine.findings.judge import judge
from engine.remedies.remedy import remedy_for
from engine.station.solved import solve_station
from engine.tests import samples

Values = dict[str, Any]


def judged(values: Values) -> dict[str, Finding]:
    return {finding.code: finding for finding in judge(solve_station(samples.station(values)))}


def strapped(length: float, stretch: float = 0.03) -> Values:
    values = samples.arm()
    strap = {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": length, "stretch": stretch}
    values["units"].append(strap)
    return values


class Straps(unittest.TestCase):
    def test_one_that_is_taken_to_give_nothing_is_said(self) -> None:
        self.assertIn("about 3 %", str(judged(strapped(330.0, 0.0))["strap_stretch"].what))
        self.assertNotIn("strap_stretch", judged(strapped(330.0, 0.03)))

    def test_one_too_long_is_there_and_its_remedy_raises_no_other(self) -> None:
        values = strapped(330.0 + 170.0)
        values["travel"] = {"bump": 70, "droop": 90}
        solved = solve_station(samples.station(values))
        findings = judge(solved)
        first = next(finding for finding in findings if finding.code == "first_in_droop")
        self.assertNotIn("there is no strap", str(first.what))
        self.assertIn("the strap is not taut by then", str(first.what))
        found = remedy_for(solved, findings, first, RULES)
        assert found is not None
        after = judge(solve_station(found.station))
        self.assertEqual(next(f for f in after if f.code == "first_in_droop").mark, "good")
        before = {f.code for f in findings if f.mark == "fault"}
        self.assertLessEqual({f.code for f in after if f.mark == "fault"}, before)


class Threads(unittest.TestCase):
    def test_a_pitch_that_nobody_makes_is_a_fault(self) -> None:
        values = samples.pushrod_corner()
        for pitch, made in ((12.5, False), (1.25, True), (1.75, True)):
            values["rods"] = {"pushrod": {"thread": 12, "pitch": pitch, "engagement": 20}}
            found = judged(values)
            self.assertEqual("thread_not_made" not in found, made, pitch)
        values["rods"] = {
            "pushrod": {"thread": 20, "engagement": 32}
        }  # nobody said a pitch: the usual one is meant
        self.assertNotIn("thread_not_made", judged(values))


class Standing(unittest.TestCase):
    def test_far_into_bump_is_said_with_what_is_left(self) -> None:
        values = samples.arm()
        values["units"][0]["springs"][0]["rate"] = 40.0
        values["mass"] = {"corner": 260, "unsprung": 25}
        solved = solve_station(samples.station(values))
        assert solved.ride is not None
        self.assertGreater(solved.ride.travel, 20.0)
        found = judged(values)["stands_off"]
        self.assertIn(found.mark, ("warning", "fault"))
        self.assertAlmostEqual(found.what.quantities["left"].value, 70.0 - solved.ride.travel, places=6)
        remedy = remedy_for(
            solved, judge(solved), next(f for f in judge(solved) if f.code == "stands_off"), RULES
        )
        assert remedy is not None
        again = solve_station(remedy.station).ride
        assert again is not None
        self.assertLess(abs(again.travel), 0.5 * solved.ride.travel)
        self.assertEqual(
            judged(remedy.station.model_dump(mode="json", exclude_unset=True))["stands_off"].mark, "good"
        )


if __name__ == "__main__":
    unittest.main()
