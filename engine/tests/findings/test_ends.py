"""What comes first each way, and what is thought of it: every order of strap, stop, damper, coil and linkage."""

import copy
import unittest

from engine.findings.finding import Finding
from engine.findings.judge import judge
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import solve_station
from engine.tests import samples


def arm() -> samples.Values:
    return copy.deepcopy(starting_project(layout_named("trailing-arm"))["stations"][0])


def unit(values: samples.Values, kind: str) -> samples.Values:
    return next(each for each in values["units"] if each["kind"] == kind)


def found(values: samples.Values) -> dict[str, Finding]:
    return {f.code: f for f in judge(solve_station(samples.station(values)))}


class Bump(unittest.TestCase):
    def test_a_stop_that_touches_first_and_gives_all_it_can_is_well(self) -> None:
        finding = found(arm())["first_in_bump"]
        self.assertEqual(finding.mark, "good")
        self.assertIn("the bump stop comes first", str(finding.what))

    def test_a_coil_that_is_solid_before_the_stop_is_flat_is_a_fault(self) -> None:
        values = arm()
        unit(values, "coilover")["springs"][0]["solid_length"] += 36
        finding = found(values)["first_in_bump"]
        self.assertEqual(finding.mark, "fault")
        self.assertIn("coil bind", str(finding.what))

    def test_a_damper_that_bottoms_before_the_stop_is_flat_is_said_once(self) -> None:
        values = arm()
        stop = unit(values, "bump_stop")
        # Touching as before, but so deep that the damper ends first.
        stop["solid"] += 14
        stop["table"].append([stop["solid"], stop["table"][-1][1] * 1.6])
        codes = found(values)
        self.assertNotIn("first_in_bump", codes)
        self.assertEqual(codes["bump_stop_before_damper"].mark, "fault")

    def test_without_a_stop_it_warns_beyond_the_wanted_travel_and_faults_within(self) -> None:
        values = arm()
        values["units"] = [unit(values, "coilover")]
        self.assertEqual(found(values)["first_in_bump"].mark, "warning")
        unit(values, "coilover")["compressed"] += 26
        self.assertEqual(found(values)["first_in_bump"].mark, "fault")

    def test_nothing_at_all_is_said_where_nothing_could_be_hurt(self) -> None:
        values = arm()
        values["units"] = []
        self.assertNotIn("first_in_bump", found(values))


class Droop(unittest.TestCase):
    def test_a_strap_that_has_given_all_its_stretch_first_is_well(self) -> None:
        finding = found(arm())["first_in_droop"]
        self.assertEqual(finding.mark, "good")
        self.assertGreaterEqual(finding.what.quantities["later"].value, 0)

    def test_taut_before_but_stretched_past_the_damper_is_not_called_well(self) -> None:
        values = arm()
        unit(values, "strap")["stretch"] = 0.07
        codes = found(values)
        self.assertNotIn("first_in_droop", codes)
        self.assertEqual(codes["strap_before_damper"].mark, "fault")

    def test_a_strap_too_long_leaves_the_damper_to_it(self) -> None:
        values = arm()
        unit(values, "strap")["length"] = unit(values, "coilover")["extended"] + 4
        codes = found(values)
        self.assertEqual(codes["first_in_droop"].mark, "fault")
        self.assertIn("tops out first", str(codes["first_in_droop"].what))

    def test_the_linkage_itself_may_end_droop(self) -> None:
        # An arm 400 mm long hangs straight down at -400 mm, and its damper is never pulled out.
        values = samples.arm(60, 390)
        values["units"] = [samples.coilover("coilover", "eye", "top", 700, 240, 58)]
        finding = found(values)["first_in_droop"]
        self.assertEqual(finding.mark, "good")
        self.assertIn("the linkage itself ends", str(finding.what))
        self.assertAlmostEqual(finding.travel_mm or 0.0, -400, delta=0.5)

    def test_a_bag_is_no_droop_stop(self) -> None:
        values = copy.deepcopy(starting_project(layout_named("arm-on-air"))["stations"][0])
        values["units"] = [each for each in values["units"] if each["kind"] != "strap"]
        finding = found(values)["first_in_droop"]
        self.assertIn(finding.mark, {"warning", "fault"})
        self.assertTrue(finding.remedy)


class BothSides(unittest.TestCase):
    def axle(self) -> samples.Values:
        values = copy.deepcopy(starting_project(layout_named("axle-three-link"))["stations"][0])
        values["units"] = [u for u in values["units"] if u["kind"] not in ("bump_stop", "strap")]
        return values

    def test_what_comes_first_on_both_sides_is_said_of_both(self) -> None:
        for code in ("first_in_bump", "first_in_droop"):
            finding = found(self.axle())[code]
            self.assertIn("coilover (both sides)", str(finding.what), code)
            self.assertEqual(len(finding.subjects), 1)

    def test_sides_that_differ_keep_their_own_name(self) -> None:
        values = self.axle()
        one = next(u for u in values["units"] if u["name"] == "coilover_right")
        one["extended"] -= 12
        self.assertIn("coilover right", str(found(values)["first_in_droop"].what))

    def test_a_corner_has_no_other_side_to_be_said_with(self) -> None:
        finding = found(arm())["first_in_bump"]
        self.assertNotIn("both sides", str(finding.what))


if __name__ == "__main__":
    unittest.main()
