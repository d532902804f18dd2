"""Limits: found where the unit is exactly at its length, in order, and only where they belong."""

import unittest

from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def solved_with(**changes: object) -> SolvedStation:
    values = samples.arm()
    values["units"][0] |= changes
    return solve_station(samples.station(values), steps=9)


class Limits(unittest.TestCase):
    def kinds(self, solved: SolvedStation) -> list[tuple[str, str]]:
        return [(limit.direction, limit.kind) for limit in solved.limits]

    def test_the_unit_stands_at_its_length_at_the_limit(self) -> None:
        solved = solved_with(extended=330, compressed=280, preload=-4)
        wanted = {"damper_extended": 330, "damper_compressed": 280, "coil_loose": 326}
        self.assertEqual({limit.kind for limit in solved.limits}, set(wanted))
        arm = samples.arm()
        for limit in solved.limits:
            # Closed form: the eye and the wheel turn by the same angle about the hinge.
            import math

            angle = math.asin(limit.travel / 400)
            eye = (
                -250 * math.cos(angle) + 10 * math.sin(angle),
                250 * math.sin(angle) + 10 * math.cos(angle),
            )
            length = math.hypot(eye[0] + 220, eye[1] + 250 - arm["points"]["top"][2])
            self.assertAlmostEqual(length, wanted[limit.kind], delta=1e-5)

    def test_first_met_first(self) -> None:
        solved = solved_with(extended=330, compressed=280, preload=-4)
        self.assertEqual(
            [limit.kind for limit in solved.limits],
            sorted(
                (limit.kind for limit in solved.limits),
                key=lambda kind: min(abs(x.travel) for x in solved.limits if x.kind == kind),
            ),
        )

    def test_a_seated_coil_cannot_come_loose_before_its_damper_ends(self) -> None:
        self.assertNotIn("coil_loose", {kind for _, kind in self.kinds(solved_with(preload=2))})

    def test_coil_solid_before_the_damper_ends(self) -> None:
        spring = {"rate": 30, "free_length": 160, "solid_length": 110}
        solved = solved_with(springs=[spring])
        self.assertIn(("bump", "coil_solid"), self.kinds(solved))

    def test_a_long_stroke_leaves_only_the_loose_coil(self) -> None:
        solved = solved_with(extended=400, compressed=150, preload=-60)
        self.assertEqual(self.kinds(solved), [("droop", "coil_loose")])

    def test_a_damper_too_long_everywhere_was_met_before_the_search(self) -> None:
        solved = solved_with(extended=900, compressed=800)
        self.assertEqual(self.kinds(solved), [("bump", "damper_compressed")])
        self.assertAlmostEqual(solved.limits[0].travel, -1.5 * 60)

    def test_a_damper_already_out_at_the_drawn_height_is_met_on_the_way_down(self) -> None:
        solved = solved_with(extended=290, compressed=200)
        first = solved.limits[0]
        self.assertEqual((first.direction, first.kind), ("droop", "damper_extended"))
        self.assertGreater(first.travel, 0)

    def test_a_standing_spring_has_both_ends(self) -> None:
        spring = {"name": "s", "kind": "spring", "ends": ["eye", "top"]}
        spring["springs"] = [{"rate": 30, "free_length": 320, "solid_length": 280}]
        values = samples.arm() | {"units": [spring]}
        solved = solve_station(samples.station(values), steps=9)
        self.assertEqual(self.kinds(solved), [("droop", "coil_loose"), ("bump", "coil_solid")])
