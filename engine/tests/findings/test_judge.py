"""Every finding raised where it must be, and cleared by the remedy that it names."""

import copy
import re
import unittest

from engine.findings.finding import RULES, Finding
from engine.findings.judge import judge
from engine.findings.verdict import verdict
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def solved(values: samples.Values) -> SolvedStation:
    return solve_station(samples.station(values), steps=41)


def found(values: samples.Values, code: str) -> Finding | None:
    return next((f for f in judge(solved(values)) if f.code == code), None)


def arm(**unit: object) -> samples.Values:
    values = samples.arm()
    values["units"][0] |= unit
    return values


class Dampers(unittest.TestCase):
    def test_topping_out_before_droop_is_a_fault_cleared_by_what_it_is_short(self) -> None:
        finding = found(arm(extended=330), "damper_extended")
        assert finding and finding.remedy and finding.travel_mm is not None
        self.assertEqual(finding.mark, "fault")
        self.assertGreater(finding.travel_mm, -60)
        short = finding.remedy.quantities["short"].value
        self.assertIsNone(found(arm(extended=330 + short + 1e-6), "damper_extended"))
        self.assertIsNotNone(found(arm(extended=330 + short - 1e-3), "damper_extended"))

    def test_bottoming_before_bump_is_a_fault_cleared_by_what_it_is_short(self) -> None:
        finding = found(arm(compressed=270), "damper_compressed")
        assert finding and finding.remedy
        short = finding.remedy.quantities["short"].value
        self.assertIsNone(found(arm(compressed=270 - short - 1e-6), "damper_compressed"))
        self.assertIsNotNone(found(arm(compressed=270 - short + 1e-3), "damper_compressed"))

    def test_little_left_at_an_end_is_a_warning_that_says_how_much_more(self) -> None:
        longest = float(solved(samples.arm()).sweep.units["coilover"].length.max())
        finding = found(arm(extended=longest + 3), "damper_extended_left")
        assert finding and finding.remedy
        self.assertEqual(finding.mark, "warning")
        self.assertAlmostEqual(finding.what.quantities["left"].value, 3, delta=1e-6)
        more = finding.remedy.quantities["more"].value
        self.assertAlmostEqual(more, RULES.damper_left_mm - 3, delta=1e-6)
        cleared = found(arm(extended=longest + 3 + more), "damper_extended_left")
        assert cleared
        self.assertEqual(cleared.mark, "good")

    def test_the_travel_it_names_is_where_the_damper_is_at_its_end(self) -> None:
        values = arm(compressed=270)
        finding = found(values, "damper_compressed")
        assert finding and finding.travel_mm is not None
        stopped = copy.deepcopy(values)
        stopped["travel"]["bump"] = finding.travel_mm - 0.01
        self.assertIsNone(found(stopped, "damper_compressed"))


class Coils(unittest.TestCase):
    def test_solid_before_bump_is_a_fault(self) -> None:
        spring = {"rate": 58, "free_length": 170, "solid_length": 90}
        finding = found(arm(springs=[spring]), "coil_solid")
        assert finding and finding.remedy
        self.assertEqual(finding.mark, "fault")
        more = finding.remedy.quantities["more"].value
        longer = [spring | {"solid_length": 90 - more}]
        self.assertIsNone(found(arm(springs=longer), "coil_solid"))
        left = found(arm(springs=longer), "coil_left")
        assert left
        self.assertAlmostEqual(left.what.quantities["left"].value, RULES.coil_left_mm, delta=1e-6)

    def test_close_to_solid_is_a_warning_and_closer_a_fault(self) -> None:
        squeeze = 5 + 345 - float(solved(samples.arm()).sweep.units["coilover"].length.min())
        for left, mark in ((20.0, "good"), (6.0, "warning"), (1.0, "fault")):
            spring = {"rate": 58, "free_length": 90 + squeeze + left, "solid_length": 90}
            finding = found(arm(springs=[spring]), "coil_left")
            assert finding
            self.assertEqual(finding.mark, mark)
            self.assertAlmostEqual(finding.what.quantities["left"].value, left, delta=1e-6)

    def test_a_loose_coil_is_a_fault_cleared_by_the_preload_it_names(self) -> None:
        finding = found(arm(preload=-14), "coil_loose")
        assert finding and finding.remedy
        self.assertEqual(finding.mark, "fault")
        more = finding.remedy.quantities["more"].value
        self.assertIsNone(found(arm(preload=-14 + more), "coil_loose"))
        self.assertIsNone(found(arm(preload=-14 + more), "coil_seat"))

    def test_a_barely_seated_coil_is_a_warning(self) -> None:
        longest = float(solved(samples.arm()).sweep.units["coilover"].length.max())
        finding = found(arm(extended=longest, preload=0.5), "coil_seat")
        assert finding and finding.remedy
        self.assertEqual(finding.mark, "warning")
        more = finding.remedy.quantities["more"].value
        self.assertIsNone(found(arm(extended=longest, preload=0.5 + more), "coil_seat"))

    def test_a_coil_is_not_blamed_for_its_dampers_end(self) -> None:
        # The damper bottoms first: the coil would be solid only beyond that.
        spring = {"rate": 58, "free_length": 170, "solid_length": 90}
        values = arm(compressed=285, springs=[spring])
        self.assertIsNotNone(found(values, "damper_compressed"))
        self.assertIsNone(found(values, "coil_solid"))


class Linkages(unittest.TestCase):
    def test_a_rod_out_of_reach_within_the_wanted_travel(self) -> None:
        values = samples.pushrod_corner() | {"travel": {"bump": 160, "droop": 40}}
        finding = found(values, "linkage_reach")
        assert finding and finding.remedy
        self.assertEqual((finding.mark, finding.subject), ("fault", "pushrod"))
        less = finding.remedy.quantities["less"].value
        values["travel"]["bump"] = 160 - less - 0.01
        self.assertIsNone(found(values, "linkage_reach"))

    def test_a_rocker_near_centre(self) -> None:
        values = samples.pushrod_corner() | {"travel": {"bump": 140, "droop": 40}}
        finding = found(values, "rod_near_centre")
        assert finding
        self.assertEqual(finding.mark, "fault")
        self.assertIsNone(found(samples.pushrod_corner(), "rod_near_centre"))

    def test_off_square_at_ride(self) -> None:
        finding = found(samples.pushrod_corner(), "rod_square_at_ride")
        assert finding
        self.assertEqual(finding.mark, "good")
        far = found(dict(samples.case("mono-rocker")["stations"][0]), "rod_square_at_ride")
        assert far and far.remedy
        self.assertEqual(far.mark, "warning")
        angle, off = (far.what.quantities[name].value for name in ("angle", "off"))
        self.assertAlmostEqual(off, abs(angle - 90))

    def test_no_place_to_stand(self) -> None:
        spring = {"rate": 3, "free_length": 220, "solid_length": 90}
        finding = found(arm(springs=[spring]), "no_equilibrium")
        assert finding
        self.assertEqual(finding.mark, "fault")
        self.assertIsNone(found(samples.arm(), "no_equilibrium"))

    def test_over_constrained(self) -> None:
        self.assertIsNotNone(found(samples.axle(triangulated=False), "over_constrained"))
        self.assertIsNone(found(samples.axle(), "over_constrained"))


class Wording(unittest.TestCase):
    def every_finding(self) -> list[Finding]:
        values = [*samples.every_linkage().values(), arm(extended=330), arm(compressed=270), arm(preload=-14)]
        values.append(samples.pushrod_corner() | {"travel": {"bump": 200, "droop": 90}})
        return [finding for each in values for finding in judge(solved(each))]

    def test_every_number_has_its_unit_and_every_fault_its_reason(self) -> None:
        for finding in self.every_finding():
            for sentence in (finding.what, finding.remedy):
                if sentence is not None:
                    text = str(sentence)
                    self.assertNotIn("{", text)
                    self.assertNotIn("nan", text)
                    for number in re.findall(r"[+-]?\d+\.\d+(.{1,3})", text):
                        self.assertRegex(number, r"^( mm| N| Hz| ba|°)", text)
            if finding.mark != "good":
                self.assertTrue(finding.why, finding.code)

    def test_worst_first(self) -> None:
        marks = [f.mark for f in judge(solved(arm(extended=330, preload=-4, compressed=262)))]
        self.assertEqual(marks, sorted(marks, key=["fault", "warning", "good"].index))

    def test_the_verdict_is_the_worst_finding_or_what_was_settled(self) -> None:
        good = solved(starting_project(layout_named("pushrod"))["stations"][0])
        self.assertRegex(
            str(verdict(good, judge(good))),
            r"^The mounts fit 70\.0 mm up and 55\.0 mm down, and it stands at \S+ mm on 21\.\d+ N/mm\.$",
        )
        bad = solved(arm(extended=330, compressed=270))
        self.assertRegex(
            str(verdict(bad, judge(bad))),
            r"^The coilover tops out at .* before full droop .* 3 more faults below\.$",
        )
        warned = solved(samples.pushrod_corner())
        self.assertTrue(str(verdict(warned, judge(warned))).endswith("3 warnings to look at."))
