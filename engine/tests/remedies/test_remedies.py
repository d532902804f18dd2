"""Every finding raised where it must be, and cleared by the remedy that was computed for it.

The remedy is checked from outside: its values are read back through the document's own door, solved afresh, and
judged again.
"""

import copy
import unittest
from dataclasses import replace

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Judging
from engine.findings.finding import RULES, Finding, Rules, rules_of
from engine.findings.judge import judge
from engine.findings.kinds import KINDS
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.remedies.knob import Remedy
from engine.remedies.remedy import remedy_for
from engine.results.parts import differences
from engine.results.whole import work_project
from engine.station.solved import solve_station
from engine.tests import samples


def good_arm() -> samples.Values:
    """A trailing arm with nothing wrong: each test spoils one thing of it."""
    return copy.deepcopy(starting_project(layout_named("trailing-arm"))["stations"][0])


def good(name: str) -> samples.Values:
    return copy.deepcopy(starting_project(layout_named(name))["stations"][0]) | {"other_side": "alone"}


def unit(values: samples.Values, kind: str) -> samples.Values:
    return next(unit for unit in values["units"] if unit["kind"] == kind)


def out_of_line() -> samples.Values:
    """Return the arm with its strap led far off to a bracket of its own, taut where it was."""
    values = good_arm()
    eye = values["points"]["eye"]
    values["points"]["strap_top"] = [eye[0] - 320, eye[1], eye[2] + 120]
    values["chassis"].append("strap_top")
    solved = solve_station(samples.station(values))
    place = solved.sweep.solution.motion.place[:, :, 0]
    index = solved.linkage.index
    long = float(np.linalg.norm(place[:, index["eye"]] - place[:, index["strap_top"]]))
    unit(values, "strap").update({"ends": ["eye", "strap_top"], "length": long - 2})
    return values


def judged(values: samples.Values, rules: Rules) -> tuple[Finding, ...]:
    return judge(solve_station(samples.station(values)), rules)


class Cleared(unittest.TestCase):
    def raise_and_clear(
        self, values: samples.Values, code: str, marks: set[str], rules: Rules = RULES
    ) -> Remedy:
        station = samples.station(values)
        solved = solve_station(station)
        findings = judge(solved, rules)
        finding = next((f for f in findings if f.code == code and f.mark != "good"), None)
        assert finding is not None, f"{code} was not raised: {[(f.code, f.mark) for f in findings]}"
        self.assertIn(finding.mark, marks)
        self.assertTrue(finding.why)
        remedy = remedy_for(solved, findings, finding, rules)
        assert remedy is not None, f"nothing clears {finding.what}"
        again = check_project(samples.document(remedy.values)).stations[0]
        left = judge(solve_station(again), rules)
        family = {kind.code for kind in KINDS.values() if kind.family == KINDS[code].family}
        worse = [
            str(f.what)
            for f in left
            if f.code in family and f.subject == finding.subject and f.mark != "good"
        ]
        self.assertEqual(worse, [], str(remedy.what))
        before = {(f.code, f.subject) for f in findings if f.mark == "fault"}
        new = {(f.code, f.subject) for f in left if f.mark == "fault"} - before
        judged_anew = ("no_equilibrium", "rate_in_other_unit")
        self.assertEqual(new if code not in judged_anew else set(), set(), str(remedy.what))
        self.assertTrue(differences(values, remedy.values))
        return remedy

    def test_the_arm_that_each_of_these_spoils_is_sound(self) -> None:
        self.assertEqual([f.code for f in judged(good_arm(), RULES) if f.mark != "good"], [])

    def test_strap_too_long(self) -> None:
        values = good_arm()
        unit(values, "strap")["length"] += 12
        remedy = self.raise_and_clear(values, "strap_before_damper", {"fault", "warning"})
        self.assertIn("Shorten the strap by", str(remedy.what))

    def test_no_strap_and_no_bump_stop(self) -> None:
        values = good_arm()
        values["units"] = [unit(values, "coilover")]
        self.assertIn("Fit a strap", str(self.raise_and_clear(values, "first_in_droop", {"warning"}).what))
        self.assertIn("Fit a bump stop", str(self.raise_and_clear(values, "first_in_bump", {"warning"}).what))

    def test_damper_before_the_bump_stop(self) -> None:
        values = good_arm()
        unit(values, "bump_stop")["contact"] = unit(values, "coilover")["compressed"] - 3
        self.raise_and_clear(values, "first_in_bump", {"fault"})

    def test_bump_stop_packed_too_little(self) -> None:
        values = good_arm()
        unit(values, "bump_stop")["contact"] -= 9
        remedy = self.raise_and_clear(values, "bump_stop_before_damper", {"fault", "warning"})
        self.assertIn("Pack", str(remedy.what))

    def test_damper_too_short_and_too_long(self) -> None:
        for key, by, code in (("extended", -22, "damper_extended"), ("compressed", 18, "damper_compressed")):
            values = good_arm()
            unit(values, "coilover")[key] += by
            if key == "extended":
                unit(values, "coilover")["preload"] += 22
            self.raise_and_clear(values, code, {"fault"})

    def test_coil_solid_and_coil_loose(self) -> None:
        values = good_arm()
        unit(values, "coilover")["springs"][0]["solid_length"] += 36
        self.raise_and_clear(values, "coil_solid", {"fault"})
        values = good_arm()
        unit(values, "coilover")["preload"] = -9
        self.raise_and_clear(values, "coil_loose", {"fault"})
        values = good_arm()
        # Held by a millimetre at the strap's end: a warning.
        lengths = solve_station(samples.station(values)).sweep.units["coilover"].length
        coilover = unit(values, "coilover")
        coilover["preload"] = 1.0 - (coilover["extended"] - float(lengths.max()))
        self.raise_and_clear(values, "coil_seat", {"warning"})

    def test_frequency_for_its_purpose(self) -> None:
        for purpose in ("sport", "rough"):
            remedy = self.raise_and_clear(
                good_arm(), "ride_frequency", {"warning"}, replace(RULES, purpose=purpose)
            )
            self.assertIn("preload reset", str(remedy.what))

    def test_stroke_split(self) -> None:
        values = good_arm()
        unit(values, "coilover")["preload"] -= 6
        self.raise_and_clear(values, "stroke_split", {"warning"})

    def test_a_spring_on_its_own_is_made_longer_or_shorter(self) -> None:
        for code, by, said in (
            ("coil_loose", -45, "longer"),
            ("stroke_split", -25, "longer"),
            ("stroke_split", 20, "shorter"),
            ("no_equilibrium", 50, "shorter"),
        ):
            values = good("swing-beam")
            unit(values, "spring")["springs"][0]["free_length"] += by
            remedy = self.raise_and_clear(values, code, {"fault", "warning"})
            self.assertIn(said, str(remedy.what), code)

    def test_no_remedy_is_a_spring_shorter_than_it_is_solid(self) -> None:
        # Three times too heavy: a shorter spring is tried too, to its most.
        values = good("swing-beam")
        values["mass"]["corner"], values["travel"]["bump"] = 840.0, 7.0
        station = samples.station(values)
        solved = solve_station(station)
        findings = judge(solved, RULES)
        for finding in findings:
            remedy = remedy_for(solved, findings, finding, RULES)
            if remedy is not None:
                check_project(samples.document(remedy.values))

    def test_another_rate_of_a_spring_on_its_own_stands_where_it_stood(self) -> None:
        values = good("swing-beam")
        spring = unit(values, "spring")["springs"][0]
        before = solve_station(samples.station(values)).ride
        remedy = self.raise_and_clear(values, "ride_frequency", {"warning"}, replace(RULES, purpose="sport"))
        self.assertIn("shorter, to stand where it stands", str(remedy.what))
        after = solve_station(samples.station(remedy.values)).ride
        assert before is not None and after is not None
        self.assertAlmostEqual(after.travel, before.travel, delta=0.01)
        new = unit(remedy.values, "spring")["springs"][0]
        # The same push at ride height, from a squeeze that is shorter as the rate is higher.
        length = solve_station(samples.station(values)).at_ride.units["spring"].length[0]
        push = spring["rate"] * (spring["free_length"] - length)
        self.assertAlmostEqual(new["rate"] * (new["free_length"] - length), push, delta=1e-3 * push)

    def test_no_equilibrium(self) -> None:
        values = good_arm()
        values["units"] = [unit(values, "coilover")]
        values["mass"]["corner"] *= 2.0
        remedy = self.raise_and_clear(values, "no_equilibrium", {"fault"})
        again = solve_station(check_project(samples.document(remedy.values)).stations[0])
        assert again.ride is not None
        self.assertLess(again.ride.travel, 0.35 * again.station.travel.bump, str(remedy.what))

    def test_every_rate_of_a_stack_read_in_another_unit_is_named(self) -> None:
        values = good_arm()
        coil = unit(values, "coilover")
        spring = coil["springs"][0]
        free, solid = spring["free_length"] / 2, spring["solid_length"] / 2
        coil["springs"] = [
            {"rate": round(spring["rate"] * share / 0.1751268, 3), "free_length": free, "solid_length": solid}
            for share in (1.5, 3.0)
        ]
        remedy = self.raise_and_clear(values, "rate_in_other_unit", {"warning"})
        rates = [one["rate"] for one in unit(remedy.values, "coilover")["springs"]]
        np.testing.assert_allclose(rates, [spring["rate"] * 1.5, spring["rate"] * 3.0], atol=0.02)
        for rate in rates:
            self.assertIn(f"{rate:.2f} N/mm", str(remedy.what).replace("\xa0", " "))

    def test_a_rate_read_in_another_unit(self) -> None:
        for factor, said in ((1 / 9.80665, "kgf/mm"), (1 / 0.1751268, "lb/in")):
            values = good_arm()
            spring = unit(values, "coilover")["springs"][0]
            right = spring["rate"]
            spring["rate"] = round(right * factor, 3)
            remedy = self.raise_and_clear(values, "rate_in_other_unit", {"warning"})
            self.assertIn(said, str(remedy.what))
            self.assertAlmostEqual(unit(remedy.values, "coilover")["springs"][0]["rate"], right, delta=0.01)

    def test_no_arrangement_is_asked_about_its_units(self) -> None:
        for layout in LAYOUTS:
            for station in starting_project(layout)["stations"]:
                codes = [f.code for f in judged(station | {"other_side": "alone"}, RULES)]
                self.assertNotIn("rate_in_other_unit", codes, layout.name)

    def test_standing_on_the_bump_stop(self) -> None:
        values = good_arm()
        unit(values, "coilover")["preload"] -= 40
        self.raise_and_clear(values, "bump_stop_at_ride", {"fault"})

    def test_rod_out_of_square(self) -> None:
        values = good("pushrod")
        for point in ("pivot_front", "pivot_rear"):
            values["points"][point][2] -= 36
        self.raise_and_clear(values, "rod_square_at_ride", {"warning"})

    def test_linkage_that_cannot_reach(self) -> None:
        values = good_arm()
        values["travel"]["bump"] = 480
        unit(values, "coilover")["compressed"] = 20
        values["units"] = [unit(values, "coilover")]
        remedy = self.raise_and_clear(values, "linkage_reach", {"fault"})
        self.assertIn("Reduce the bump target", str(remedy.what))

    def test_joint_tilt_and_thread(self) -> None:
        values = good("pushrod")
        values["joints"][0]["bolt"] = [1.0, 0.0, 0.42]
        remedy = self.raise_and_clear(values, "joint_tilt", {"fault", "warning"})
        self.assertIn("Fit one rated", str(remedy.what))
        values = good("pushrod")
        values["rods"]["rod"]["engagement"] = 13
        self.raise_and_clear(values, "thread_engagement", {"warning"})
        values["rods"]["rod"]["engagement"] = 9
        self.raise_and_clear(values, "thread_engagement", {"fault"})
        values = good("pushrod")
        values["rods"]["rod"]["hands"] = ["right", "right"]
        self.raise_and_clear(values, "same_hand_threads", {"warning"})

    def test_shaft_angle_and_plunge(self) -> None:
        values = good("five-link")
        values["shafts"][0]["rated"] = 7
        self.raise_and_clear(values, "shaft_angle", {"fault", "warning"})
        for key, by, code in (("least", 25, "shaft_short"), ("most", -29, "shaft_long")):
            values = good("five-link")
            values["shafts"][0]["length"][key] += by
            self.raise_and_clear(values, code, {"fault"})

    def test_eye_out_of_square(self) -> None:
        values = good_arm()
        unit(values, "coilover")["eyes"] = [{"end": "eye", "bolt": [0.12, 1.0, 0.05]}]
        remedy = self.raise_and_clear(values, "eye_square", {"warning", "fault"})
        self.assertIn("Turn the tab", str(remedy.what))

    def test_tyre_to_structure(self) -> None:
        values = good_arm()
        wheel = values["points"]["wheel"]
        values["envelopes"] = [
            {"name": "rail", "shape": "box", "centre": [wheel[0], wheel[1] - 150, 620], "size": [900, 60, 80]}
        ]
        remedy = self.raise_and_clear(values, "tyre_to_structure", {"warning", "fault"})
        self.assertIn("Move rail", str(remedy.what))

    def test_parts_to_one_another(self) -> None:
        values = good_arm()
        seat = values["points"]["eye"]
        values["envelopes"] = [
            {
                "name": "arm plate",
                "shape": "capsule",
                "on": "arm",
                "along": ["hinge_in", [seat[0] + 90, seat[1], seat[2]]],
                "radius": 20,
            },
            {
                "name": "cross tube",
                "shape": "capsule",
                "along": [
                    [seat[0] + 90, seat[1] - 200, seat[2] + 68],
                    [seat[0] + 90, seat[1] + 90, seat[2] + 68],
                ],
                "radius": 20,
                "ignore": ["coilover", "coilover body"],
            },
        ]
        self.raise_and_clear(values, "parts_to_one_another", {"warning", "fault"})

    def test_bags(self) -> None:
        values = good("arm-on-air")
        unit(values, "air_spring")["min_height"] += 20
        self.raise_and_clear(values, "bag_min_height", {"fault"})
        values = good("arm-on-air")
        unit(values, "air_spring")["max_height"] -= 20
        self.raise_and_clear(values, "bag_max_height", {"fault"})
        values = good("arm-on-air")
        unit(values, "air_spring")["pressure"] = 9.0
        remedy = self.raise_and_clear(values, "bag_filling", {"warning"})
        self.assertIn("bar", str(remedy.what))
        values = good("arm-on-air")
        unit(values, "air_spring")["plates"] = {"first": [0.0, 0.0, 1.0], "second": [0.16, 0.0, 1.0]}
        self.raise_and_clear(values, "bag_plates_at_ride", {"warning", "fault"})

    def test_a_bag_against_a_rail(self) -> None:
        values = good("arm-on-air")
        low = values["points"]["bag_low"]
        radius = unit(values, "air_spring")["max_diameter"] / 2
        values["envelopes"] = [
            {
                "name": "rail",
                "shape": "box",
                "centre": [low[0], low[1] - radius - 36, low[2] + 90],
                "size": [800, 60, 70],
            }
        ]
        self.raise_and_clear(values, "bag_to_anything", {"warning", "fault"})

    def test_adjustment_at_its_end(self) -> None:
        values = good_arm()
        unit(values, "coilover")["perch"] = {"up": 1, "down": 23}
        before = solve_station(samples.station(values)).ride
        remedy = self.raise_and_clear(values, "adjustment_left", {"warning"})
        self.assertIn("longer of the same rate", str(remedy.what))
        after = solve_station(samples.station(remedy.values)).ride
        assert before is not None and after is not None
        self.assertAlmostEqual(after.travel, before.travel, places=6)
        values = good("pushrod")
        values["rods"]["rod"] |= {"longer": 0.0, "shorter": 18.0}
        remedy = self.raise_and_clear(values, "adjustment_left", {"fault"})
        self.assertIn("Cut the tube", str(remedy.what))

    def test_perch_left_for_the_finished_mass_and_for_the_heights_wanted(self) -> None:
        values = good_arm()
        values["mass"]["finished"] = values["mass"]["corner"] + 60
        unit(values, "coilover")["perch"] = {"up": 12, "down": 30}
        self.raise_and_clear(values, "finished_mass", {"warning"})
        values = good_arm() | {"adjusting": {"by": "perch", "reach": 12.0}}
        unit(values, "coilover")["perch"] = {"up": 3, "down": 30}
        self.raise_and_clear(values, "height_adjuster", {"warning"})

    def test_a_bag_of_the_wrong_size(self) -> None:
        for rated in (4.6, 20.0):
            values = good("arm-on-air")
            unit(values, "air_spring")["max_pressure"] = rated
            remedy = self.raise_and_clear(values, "bag_pressure", {"warning", "fault"})
            self.assertIn("area", str(remedy.what))

    def test_a_strap_that_pulls_out_of_line(self) -> None:
        values = out_of_line()
        remedy = self.raise_and_clear(values, "strap_pull", {"warning"})
        self.assertIn("between the mounts", str(remedy.what))

    def test_both_sides_of_an_axle_are_changed_together(self) -> None:
        values = good("axle-four-link")
        for each in values["units"]:
            if each["kind"] == "coilover":
                each["compressed"] += 14
        remedy = self.raise_and_clear(values, "damper_compressed", {"fault"})
        changed = {d["path"].split(".")[0] for d in differences(values, remedy.values)}
        self.assertTrue(changed)
        left, right = (
            next(u for u in remedy.values["units"] if u["name"] == f"coilover_{side}")
            for side in ("left", "right")
        )
        self.assertEqual(left["compressed"], right["compressed"])


class RaisedOnly(unittest.TestCase):
    """Findings that no one number clears."""

    def mark(self, values: samples.Values, code: str, rules: Rules = RULES) -> str:
        return next(f.mark for f in judged(values, rules) if f.code == code)

    def test_adjustment_left(self) -> None:
        for up, down, mark in ((12, 12, "good"), (22, 2, "warning"), (24, 0, "fault")):
            values = good_arm()
            unit(values, "coilover")["perch"] = {"up": up, "down": down}
            self.assertEqual(self.mark(values, "adjustment_left"), mark)

    def test_finished_mass(self) -> None:
        values = good_arm()
        values["mass"]["finished"] = values["mass"]["corner"] + 12
        self.assertEqual(self.mark(values, "finished_mass"), "good")
        values["mass"]["finished"] = values["mass"]["corner"] + 60
        self.assertEqual(self.mark(values, "finished_mass"), "warning")
        values["units"] = [unit(values, "coilover")]
        values["mass"]["finished"] = values["mass"]["corner"] * 4
        self.assertEqual(self.mark(values, "finished_mass"), "fault")

    def test_what_the_finished_mass_needs_of_the_perch_brings_it_back(self) -> None:
        values = good_arm()
        values["mass"]["finished"] = values["mass"]["corner"] + 20
        finding = next(f for f in judged(values, RULES) if f.code == "finished_mass")
        before = solve_station(samples.station(values)).ride
        assert before is not None and finding.limit is not None
        heavier = copy.deepcopy(values)
        heavier["mass"]["corner"] += 20
        unit(heavier, "coilover")["preload"] += finding.limit
        after = solve_station(samples.station(heavier)).ride
        assert after is not None
        self.assertAlmostEqual(after.travel, before.travel, delta=0.6)

    def test_bag_without_damper_and_bag_pressure(self) -> None:
        values = good("arm-on-air")
        values["units"] = [unit(values, "air_spring")]
        self.assertEqual(self.mark(values, "bag_without_damper"), "fault")
        values["units"][0]["max_pressure"] = 5.0
        self.assertEqual(self.mark(values, "bag_pressure"), "warning")

    def test_rod_near_centre(self) -> None:
        values = good("pushrod")
        values["travel"] |= {"bump": 130, "droop": 150}
        marks = {f.mark for f in judged(values, RULES) if f.code == "rod_near_centre"}
        self.assertTrue(marks & {"warning", "fault"})

    def test_sides(self) -> None:
        left = good("wishbones-lower") | {"name": "left", "other_side": "right"}
        right = samples.mirrored(left) | {"name": "right", "other_side": "left"}
        for by, mark in ((0.0, "good"), (3.0, "warning"), (6.0, "fault")):
            other = copy.deepcopy(right)
            other["points"]["rack"][2] += by
            worked = work_project(check_project(samples.document(left, other)))
            finding = next(f for f in worked.stations[0].findings if f.code == "sides_differ")
            self.assertEqual((finding.mark, finding.value), (mark, by))

    def test_a_side_copied_instead_of_mirrored(self) -> None:
        left = good("wishbones-lower") | {"name": "left", "other_side": "right"}
        worked = work_project(
            check_project(
                samples.document(left, copy.deepcopy(left) | {"name": "right", "other_side": "left"})
            )
        )
        self.assertEqual([f.mark for f in worked.stations[0].findings if f.code == "sides_differ"], ["fault"])


class TheShopsOwnLimits(unittest.TestCase):
    def test_they_stand_in_place_of_the_usual_ones(self) -> None:
        rules = rules_of(Judging(damper_left_mm=12), Judging(purpose="sport", frequency_hz=[1.2, 1.4]))
        self.assertEqual(
            (rules.damper_left_mm, rules.frequencies, rules.coil_left_mm),
            (12, (1.2, 1.4), RULES.coil_left_mm),
        )
        self.assertEqual(rules_of(Judging(purpose="rough")).peak, 5.0)

    def test_a_station_says_what_it_is_judged_by(self) -> None:
        values = good_arm() | {"judging": {"damper_left_mm": 40}}
        marks = {
            f.mark for f in judge(solve_station(samples.station(values))) if f.code == "damper_extended_left"
        }
        self.assertEqual(marks, {"warning"})

    def test_remedies_reach_the_shops_limit(self) -> None:
        values = good_arm() | {"judging": {"damper_left_mm": 12}}
        station = samples.station(values)
        solved = solve_station(station)
        rules = rules_of(station.judging)
        findings = judge(solved, rules)
        finding = next(f for f in findings if f.code == "damper_compressed_left")
        remedy = remedy_for(solved, findings, finding, rules)
        assert remedy is not None
        marks = [f.mark for f in judged(remedy.values, rules) if f.code == "damper_compressed_left"]
        self.assertEqual(marks, ["good"])


if __name__ == "__main__":
    unittest.main()
