"""Geometry for drawing: projections, outlines, labels and notches, checked without a browser."""

import itertools
import math
import random
from itertools import pairwise
from typing import Any

from django.test import SimpleTestCase

from e2e.node import asked
from engine.limits.events import EVENTS
from engine.limits.solids import solids_of
from engine.tests import samples

PLANS = ("front", "side", "top")


def event(kind: str, travel: float, *subjects: str) -> dict[str, Any]:
    """Return an event as the server sends it."""
    its = EVENTS[kind]
    return {
        "kind": kind,
        "said": its.said,
        "short": its.short,
        "takes": its.takes,
        "spent": its.spent,
        "travel": travel,
        "subjects": list(subjects),
        "past_wanted": 0,
    }


class Projections(SimpleTestCase):
    def test_what_is_left_forward_and_up(self) -> None:
        forward, left, up = [1, 0, 0], [0, 1, 0], [0, 0, 1]
        questions = [
            ["project", plan, side, p] for plan in PLANS for side in (1, -1) for p in (forward, left, up)
        ]
        answers = iter(asked("views/projection.ts", questions))
        found = {(plan, side): [next(answers) for _ in range(3)] for plan in PLANS for side in (1, -1)}
        self.assertEqual(found["front", 1], [[0, 0], [1, 0], [0, 1]])
        self.assertEqual(found["side", 1], [[-1, 0], [0, 0], [0, 1]])
        self.assertEqual(found["side", -1], [[1, 0], [0, 0], [0, 1]])
        self.assertEqual(found["top", 1], [[0, -1], [1, 0], [0, 0]])

    def test_a_step_on_paper_goes_back_to_the_same_step_on_paper(self) -> None:
        steps = [[plan, side, u, v] for plan in PLANS for side in (1, -1) for u, v in ((3, -7), (0.5, 10))]
        world = asked("views/projection.ts", [["unproject", *step] for step in steps])
        back = asked(
            "views/projection.ts",
            [["project", plan, side, p] for (plan, side, _, _), p in zip(steps, world, strict=True)],
        )
        for (_, _, u, v), (bu, bv) in zip(steps, back, strict=True):
            self.assertAlmostEqual(u, bu)
            self.assertAlmostEqual(v, bv)

    def test_a_curve_of_travel_is_written_with_fewer_points_and_looks_the_same(self) -> None:
        """Ends stay; what is left out lies within a tenth of a pixel of the line that is drawn."""
        curve = [[100 * math.cos(k / 400), 100 * math.sin(k / 400)] for k in range(800)]
        thin, one, none = asked(
            "views/projection.ts", [["thinned", curve], ["thinned", curve[:1]], ["thinned", []]]
        )
        self.assertEqual((one, none), (curve[:1], []))
        self.assertEqual((thin[0], thin[-1]), (curve[0], curve[-1]))
        self.assertLess(len(thin), len(curve) / 8)
        for p in curve:
            away = min(self.off(a, b, p) for a, b in pairwise(thin))
            self.assertLess(away, 0.1)

    def off(self, a: list[float], b: list[float], p: list[float]) -> float:
        """Return how far a place is from the line between two."""
        (dx, dy), (px, py) = (b[0] - a[0], b[1] - a[1]), (p[0] - a[0], p[1] - a[1])
        share = min(1.0, max(0.0, (px * dx + py * dy) / (dx * dx + dy * dy)))
        return math.hypot(px - share * dx, py - share * dy)

    def test_paths_are_written_to_a_tenth_of_a_pixel(self) -> None:
        open_one, closed, nothing = asked(
            "views/projection.ts",
            [["path", [[1.04, -2.06], [3, 4.25]]], ["path", [[0, 0], [1, 1]], True], ["path", []]],
        )
        self.assertEqual(open_one, "M1 -2.1L3 4.3")
        self.assertEqual((closed, nothing), ("M0 0L1 1Z", ""))

    def test_the_outline_holds_every_point_and_is_convex(self) -> None:
        dice = random.Random(5)
        points = [[dice.uniform(-50, 50), dice.uniform(-50, 50)] for _ in range(40)]
        (outline,) = asked("views/projection.ts", [["hull", points]])
        self.assertGreater(len(outline), 4)
        for a, b in pairwise([*outline, outline[0]]):
            for x, y in points:
                side = (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])
                self.assertGreaterEqual(side, -1e-9)

    def test_a_tyre_seen_from_the_side_is_round_and_from_the_front_as_wide_as_it_is(self) -> None:
        centre, spindle = [0, 700, 300], [0, 800, 300]
        side, front = asked(
            "views/shapes.ts",
            [["tyreOutline", plan, 1, centre, spindle, 290, 165] for plan in ("side", "front")],
        )
        for u, v in side:
            self.assertAlmostEqual(math.hypot(u, v - 300), 290, delta=1e-6)
        self.assertAlmostEqual(max(u for u, _ in front) - min(u for u, _ in front), 165, delta=1e-6)
        self.assertAlmostEqual(max(v for _, v in front) - min(v for _, v in front), 580, delta=3)


class Rail(SimpleTestCase):
    def view(self, *limits: tuple[str, str, float], ride: float | None = None) -> dict[str, Any]:
        def events(way: str) -> list[dict[str, Any]]:
            return [event(k, t, "u") for k, d, t in limits if d == way]

        return {
            "ledger": {"bump": events("bump"), "droop": events("droop")},
            "ride": None if ride is None else {"travel": ride},
        }

    def test_notches_are_sorted_named_and_marked_inside_the_wanted_travel(self) -> None:
        view = self.view(
            ("damper_extended", "droop", -30.0),
            ("coil_solid", "bump", 55.0),
            ("linkage_reach", "bump", 60.2),
            ride=2.0,
        )
        (notches,) = asked("jack/notches.ts", [["notchesOf", view, 50, 40]])
        self.assertEqual(
            [(n["words"], n["mark"]) for n in notches],
            [("no reach", "stop"), ("coil bind", "stop"), ("ride", "ride"), ("tops out", "fault")],
        )

    def test_both_sides_of_an_axle_at_one_height_are_one_notch(self) -> None:
        view = self.view(("damper_extended", "droop", -30.01), ("damper_extended", "droop", -30.02))
        (notches,) = asked("jack/notches.ts", [["notchesOf", view, 50, 40]])
        self.assertEqual(len(notches), 1)

    def test_labels_keep_their_order_and_their_room(self) -> None:
        dice = random.Random(11)
        questions = []
        for _ in range(20):
            heights = sorted(dice.uniform(20, 400) for _ in range(dice.randint(1, 12)))
            questions.append(["spread", heights, 19, 14, 420])
        for (_, heights, room, _, bottom), placed in zip(
            questions, asked("jack/notches.ts", questions), strict=True
        ):
            self.assertEqual(len(placed), len(heights))
            for a, b in pairwise(placed):
                self.assertGreaterEqual(b - a, room - 1e-9)
            self.assertLessEqual(placed[-1], bottom + 1e-9)

    def test_between_two_rows_values_are_shared_out(self) -> None:
        travels = [-10.0, 0.0, 4.0, 10.0]
        places = asked("jack/travel.ts", [["placeOf", travels, at] for at in (-99.0, -10.0, 2.0, 10.0, 99.0)])
        values = asked("jack/travel.ts", [["valueAt", [1.0, 2.0, 6.0, 7.0], place] for place in places])
        self.assertEqual(values, [1.0, 1.0, 4.0, 7.0, 7.0])
        missing = asked("jack/travel.ts", [["valueAt", [1.0, None, 6.0, 7.0], places[2]]])
        self.assertEqual(missing, [None])

    def test_words_on_the_drawing_do_not_sit_on_one_another(self) -> None:
        labels = [
            {"key": f"k{n}", "text": "pushrod to arm 91.4°", "at": [200 + 3 * n, 150]} for n in range(6)
        ]
        (placed,) = asked("views/labels.ts", [["placeLabels", labels, [[200, 150]], 500, 320]])
        self.assertGreaterEqual(len(placed), 4)
        boxes = [(p["x"] - 3, p["y"] - 13, p["width"], 17) for p in placed]
        for n, (x, y, w, h) in enumerate(boxes):
            self.assertTrue(x > 0 and x + w < 500 and y > 0 and y + h < 320)
            for ox, oy, ow, oh in boxes[:n]:
                self.assertFalse(x < ox + ow and ox < x + w and y < oy + oh and oy < y + h)


class Editing(SimpleTestCase):
    STATION: dict[str, Any] = {
        "points": {"a": [0, 0, 0], "b": [3, 4, 0]},
        "bodies": {"rod": ["a", "b"]},
        "units": [{"name": "u", "preload": 1}, {"name": "v", "preload": 2}],
    }

    def test_edits_change_one_thing_and_leave_the_rest(self) -> None:
        moved, turned, back, unit = asked(
            "bench/edits.ts",
            [
                ["movePoint", self.STATION, "b", [1.00004, 2, 3]],
                ["setLink", self.STATION, "rod", 5.5, 5],
                ["setLink", {**self.STATION, "links": {"rod": {"length": 5.5}}}, "rod", 5, 5],
                ["setUnit", self.STATION, "v", {"preload": 7}],
            ],
        )
        self.assertEqual(moved, {**self.STATION, "points": {"a": [0, 0, 0], "b": [1, 2, 3]}})
        self.assertEqual(turned["links"], {"rod": {"length": 5.5}})
        self.assertEqual(back, self.STATION)
        self.assertEqual([u["preload"] for u in unit["units"]], [1, 7])


class Lanes(SimpleTestCase):
    def event(self, kind: str, travel: float, subject: str = "coilover") -> dict[str, Any]:
        return event(kind, travel, subject)

    def test_each_part_has_a_lane_from_its_lowest_event_to_its_highest(self) -> None:
        ledger = {
            "bump": [
                self.event("bump_stop_contact", 25, "bump_stop"),
                self.event("coil_solid", 52),
                self.event("bump_stop_solid", 55, "bump_stop"),
                self.event("damper_compressed", 58),
            ],
            "droop": [
                self.event("strap_taut", -28, "strap"),
                self.event("strap_end", -40, "strap"),
                self.event("damper_extended", -55),
            ],
        }
        (lanes,) = asked("stops/lanes.ts", [["lanesOf", ledger]])
        found = {lane["subject"]: lane for lane in lanes}
        self.assertEqual(set(found), {"bump stop", "coilover coil", "coilover", "strap"})
        self.assertEqual((found["coilover"]["low"]["travel"], found["coilover"]["high"]["travel"]), (-55, 58))
        self.assertEqual(found["bump stop"]["highEnd"]["travel"], 55)
        self.assertIsNone(found["bump stop"]["low"])
        self.assertEqual((found["strap"]["low"]["travel"], found["strap"]["lowEnd"]["travel"]), (-28, -40))


class Envelopes(SimpleTestCase):
    def station(self) -> dict[str, Any]:
        return {
            "points": {"a": [0, 0, 0], "b": [400, 0, 0], "c": [0, 300, 0], "d": [0, 0, 500]},
            "bodies": {"arm": ["a", "b", "c"], "rod": ["a", "d"]},
            "units": [],
        }

    def test_skins_reach_as_far_as_their_solids(self) -> None:
        shapes: list[dict[str, Any]] = [
            {"shape": "box", "centre": [10, 20, 30], "size": [100, 60, 40], "turn": [0, 0, 90]},
            {"shape": "capsule", "along": ["a", "b"], "radius": 25},
            {"shape": "cylinder", "along": ["a", "b"], "radius": 25},
            {"shape": "plate", "outline": ["a", "b", "c"]},
            {"shape": "half_space", "at": "a", "facing": [0, 0, 1]},
        ]
        station = self.station()
        skins = asked("views/envelopes.ts", [["skinOf", shape, station] for shape in shapes])

        def span(skin: list[list[float]], axis: int) -> tuple[float, float]:
            return min(p[axis] for p in skin), max(p[axis] for p in skin)

        # Turned by a quarter about the upright, long and wide change places.
        for axis, (low, high) in enumerate(((-20, 40), (-30, 70), (10, 50))):
            self.assertAlmostEqual(span(skins[0], axis)[0], low, delta=1e-9)
            self.assertAlmostEqual(span(skins[0], axis)[1], high, delta=1e-9)
        self.assertAlmostEqual(span(skins[1], 0)[0], -25, delta=0.01)
        self.assertAlmostEqual(span(skins[2], 0)[0], 0, delta=0.01)
        for skin in skins[1:3]:
            self.assertAlmostEqual(span(skin, 2)[1], 25, delta=0.4)
        self.assertEqual(skins[3], [[0, 0, 0], [400, 0, 0], [0, 300, 0]])
        self.assertEqual(skins[4], [])

    def test_the_browser_turns_a_box_as_the_engine_does(self) -> None:
        turn = [20, -35, 50]
        box = {"shape": "box", "centre": [0, 0, 0], "size": [200, 120, 80], "turn": turn}
        (skin,) = asked("views/envelopes.ts", [["skinOf", box, self.station()]])
        values = samples.arm() | {"envelopes": [{**box, "name": "box"}]}
        (solid,) = [s for s in solids_of(samples.station(values)) if s.name == "box"]
        corners = [
            [
                sum(
                    sign * half * axis[k]
                    for sign, half, axis in zip(signs, solid.half, solid.axes, strict=True)
                )
                for k in range(3)
            ]
            for signs in itertools.product((-1, 1), repeat=3)
        ]
        for mine, its in zip(sorted(map(tuple, skin)), sorted(map(tuple, corners)), strict=True):
            for a, b in zip(mine, its, strict=True):
                self.assertAlmostEqual(a, b, delta=1e-6)


class Limits(SimpleTestCase):
    def test_notches_of_ends_that_no_limit_lists(self) -> None:
        view = {
            "ledger": {
                "bump": [event("metal_contact", 20, "rail", "tyre")],
                "droop": [],
            },
            "ride": None,
        }
        (notches,) = asked("jack/notches.ts", [["notchesOf", view, 50, 40]])
        self.assertEqual([(n["words"], n["mark"]) for n in notches], [("touches", "fault")])
