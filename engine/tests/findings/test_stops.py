"""Straps and bump stops: first in their direction or not, with the margin that is left, and cleared by the remedy."""

import unittest

from engine.findings.finding import Finding
from engine.findings.judge import judge
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def with_strap(length: float, stretch: float = 0.0, **changes: object) -> SolvedStation:
    values = samples.arm()
    values["units"].append(
        {"name": "strap", "kind": "strap", "ends": ["eye", "top"], "length": length, "stretch": stretch}
        | changes
    )
    return solve_station(samples.station(values), steps=41)


def with_stop(contact: float) -> SolvedStation:
    values = samples.arm()
    values["units"].append(samples.bump_stop("stop", "eye", "top", contact))
    return solve_station(samples.station(values), steps=41)


def finding(solved: SolvedStation, code: str) -> Finding:
    return next(f for f in judge(solved) if f.code == code)


class Straps(unittest.TestCase):
    # The strap shares the coilover's eyes, so what is left of the damper is the difference of their lengths.
    def test_margin_to_the_damper(self) -> None:
        for length, mark in ((330.0, "good"), (342.0, "warning"), (347.0, "fault")):
            found = finding(with_strap(length), "strap_before_damper")
            self.assertEqual(found.mark, mark)
            self.assertAlmostEqual(found.what.quantities["left"].value, abs(345 - length), delta=0.02)

    def test_stretch_is_allowed_for(self) -> None:
        self.assertEqual(finding(with_strap(335), "strap_before_damper").mark, "good")
        stretched = finding(with_strap(335, stretch=0.02), "strap_before_damper")
        self.assertEqual(stretched.mark, "warning")
        self.assertAlmostEqual(stretched.what.quantities["left"].value, 345 - 335 * 1.02, delta=0.02)

    def test_the_remedy_clears_it(self) -> None:
        for length, stretch in ((342.0, 0.0), (347.0, 0.0), (340.0, 0.03)):
            remedy = finding(with_strap(length, stretch), "strap_before_damper").remedy
            assert remedy
            shorter = remedy.quantities["shorter"].value
            cleared = finding(with_strap(length - shorter - 0.05, stretch), "strap_before_damper")
            self.assertEqual(cleared.mark, "good")

    def test_taut_is_a_limit_and_a_strap_pushes_nothing(self) -> None:
        solved, plain = with_strap(330), solve_station(samples.station(samples.arm()), steps=41)
        limit = next(x for x in solved.limits if x.kind == "strap_taut")
        self.assertEqual(limit.direction, "droop")
        assert solved.ride and plain.ride
        self.assertAlmostEqual(solved.ride.travel, plain.ride.travel, delta=1e-9)

    def test_a_strap_that_never_comes_taut_is_told(self) -> None:
        self.assertEqual(finding(with_strap(420), "strap_never_taut").mark, "warning")


class BumpStops(unittest.TestCase):
    def test_margin_when_squashed_flat(self) -> None:
        # Flat at contact − 30: what is left of the damper then is that length less its compressed 240.
        for contact, mark in ((280.0, "good"), (273.0, "warning"), (268.0, "fault")):
            found = finding(with_stop(contact), "bump_stop_before_damper")
            self.assertEqual(found.mark, mark)
            self.assertAlmostEqual(found.what.quantities["left"].value, abs(contact - 30 - 240), delta=0.02)

    def test_the_remedy_clears_it(self) -> None:
        remedy = finding(with_stop(273), "bump_stop_before_damper").remedy
        assert remedy
        cleared = finding(with_stop(273 + remedy.quantities["more"].value + 0.05), "bump_stop_before_damper")
        self.assertEqual(cleared.mark, "good")

    def test_it_stiffens_the_wheel_once_it_touches(self) -> None:
        solved, plain = with_stop(290), solve_station(samples.station(samples.arm()), steps=41)
        touch = next(x for x in solved.limits if x.kind == "bump_stop_contact").travel
        after = solved.sweep.travels > touch + 1
        self.assertTrue((solved.sweep.wheel_rate[after] > plain.sweep.wheel_rate[after] + 5).all())
        self.assertTrue((solved.sweep.wheel_rate[~after][:-2] == plain.sweep.wheel_rate[~after][:-2]).all())

    def test_one_that_is_never_touched_is_told(self) -> None:
        self.assertEqual(finding(with_stop(200), "bump_stop_never_touched").mark, "warning")

    def test_standing_on_it_is_a_fault(self) -> None:
        found = finding(with_stop(330), "bump_stop_at_ride")
        self.assertEqual(found.mark, "fault")
        self.assertNotIn("bump_stop_at_ride", [f.code for f in judge(with_stop(280))])
