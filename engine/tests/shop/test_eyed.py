"""Links with a damper's eye on them: which bodies are, what bends them, how they are cut, and what they ask for."""

import copy
import math
import unittest
from functools import cache
from typing import Any

import numpy as np

from engine.document.links import link_ends
from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, starting_project
from engine.shop.cope import set_back
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Made
from engine.shop.rods import Borne, bears, bent_factor
from engine.shop.stock import METRIC, Tube
from engine.station.solved import solve_station
from engine.workup import WorkUp

LINK = "lower_link_left"


def three_link(eye_up: float = 0.0, **more: Any) -> dict[str, Any]:
    """Return the three-link axle, its coilovers lifted off their links by so much, mm."""
    values = copy.deepcopy(starting_project(next(its for its in LAYOUTS if its.name == "axle-three-link")))
    station = values["stations"][0]
    for side in ("left", "right"):
        for end in ("eye", "top"):
            station["points"][f"{end}_{side}"][2] += eye_up
    station |= more
    return values


@cache
def made_of(
    eye_up: float = 0.0, rods: str = "", tube: tuple[float, float] | None = None, grade: str = "S235"
) -> JobParts:
    more: dict[str, Any] = {}
    if rods:
        more["rods"] = {
            LINK: {"thread": float(rods), "hands": ["right", "left"], "pitch": 2.0, "engagement": 30.0}
        }
    if tube:
        chosen = {
            "kind": "rod",
            "name": "arm",
            "body": LINK,
            "tube": {"outside": tube[0], "wall": tube[1], "grade": grade},
        }
        more["make"] = {"parts": [chosen]}
    return job_parts(check_project(three_link(eye_up, **more)), fitted=False)


@cache
def plated(eye_up: float) -> JobParts:
    chosen = {"kind": "plate", "name": "arm plates", "body": LINK}
    return job_parts(check_project(three_link(eye_up, make={"parts": [chosen]})), fitted=False)


def link_of(parts: JobParts) -> Made:
    return next(part for part in parts.parts if part.subject == ("rod", LINK))


def words_of(part: Made) -> str:
    return " ".join(str(said.say.words) for said in part.said)


class WhichAreLinks(unittest.TestCase):
    def test_two_joints_and_what_pushes_between_them(self) -> None:
        station = check_project(three_link()).stations[0]
        self.assertEqual(link_ends(station, LINK), ("lower_front_left", "lower_rear_left"))
        self.assertEqual(link_ends(station, "upper_link"), ("upper_front", "upper_rear"))
        self.assertIsNone(link_ends(station, "axle"))
        beside = check_project(three_link(eye_up=40.0)).stations[0]
        self.assertIsNotNone(link_ends(beside, LINK))
        self.assertIsNone(link_ends(check_project(three_link(eye_up=200.0)).stations[0], LINK))

    def test_arms_rockers_and_what_carries_a_wheel_are_none(self) -> None:
        for layout in LAYOUTS:
            for station in check_project(starting_project(layout)).stations:
                for body, members in station.bodies.items():
                    with self.subTest(layout.name, body=body):
                        found = link_ends(station, body)
                        self.assertEqual(
                            found is not None, len(members) == 2 or body.startswith("lower_link")
                        )


class WhatBendsThem(unittest.TestCase):
    def test_a_push_between_two_joints_bends_by_its_levers(self) -> None:
        """Closed form of a beam on two supports: M = F·a·b / L, F what of the push stands square to the link."""
        work = WorkUp(solve_station(check_project(three_link()).stations[0]), False)
        loads, linkage = work.loads, work.linkage
        assert loads is not None
        place = work.solved.at(np.array([loads.travel])).solution.motion.place[:, :, 0]
        one, other, eye, top = (
            place[:, linkage.index[name]]
            for name in ("lower_front_left", "lower_rear_left", "eye_left", "top_left")
        )
        push = (eye - top) / np.linalg.norm(eye - top)
        push = push * sum(loads.units[name] for name in ("coilover_left", "bump_stop_left", "strap_left"))
        way = (other - one) / np.linalg.norm(other - one)
        square = np.linalg.norm(push - way * (push @ way))
        a, b = np.linalg.norm(eye - one), np.linalg.norm(other - eye)
        bent = loads.bent[LINK]
        self.assertAlmostEqual(bent.moment / (square * a * b / (a + b)), 1.0, places=6)
        self.assertAlmostEqual(bent.across / (square * max(a, b) / (a + b)), 1.0, places=6)

    def test_an_eye_beside_the_line_adds_its_own_lever(self) -> None:
        work = WorkUp(solve_station(check_project(three_link(eye_up=50.0)).stations[0]), False)
        loads, linkage = work.loads, work.linkage
        assert loads is not None
        place = work.solved.at(np.array([loads.travel])).solution.motion.place[:, :, 0]
        one, other, eye = (
            place[:, linkage.index[name]] for name in ("lower_front_left", "lower_rear_left", "eye_left")
        )
        way = (other - one) / np.linalg.norm(other - one)
        foot = one + way * ((eye - one) @ way)
        sides = []
        for point, end in (("lower_front_left", one), ("lower_rear_left", other)):
            force = next(np.array(j.force) for j in loads.joints if (j.point, j.body) == (point, LINK))
            moment = np.cross(end - foot, force)
            sides.append(float(np.linalg.norm(moment - way * (moment @ way))))
        self.assertGreater(abs(sides[0] - sides[1]), 0.02 * max(sides))
        self.assertAlmostEqual(loads.bent[LINK].moment / max(sides), 1.0, places=6)

    def test_along_and_across_together_are_their_shares_together(self) -> None:
        tube = Tube(outside=48.3, wall=4.0)
        along, across = Borne(push=20_000), Borne(moment=600_000)
        both = bent_factor(tube, 500, Borne(push=20_000, moment=600_000))
        shares = 1 / bent_factor(tube, 500, along) + 1 / bent_factor(tube, 500, across)
        self.assertAlmostEqual(1 / both, shares)
        section = math.pi / 32 * (48.3**4 - 40.3**4) / 48.3
        self.assertAlmostEqual(bent_factor(tube, 500, across), section * tube.yields / 600_000)


class Threads(unittest.TestCase):
    def test_a_thread_too_small_is_said_and_the_one_advised_bears(self) -> None:
        values = starting_project(next(its for its in LAYOUTS if its.name == "single-rear-drop-link"))
        project = check_project(values)
        weak = next(part for part in job_parts(project, fitted=False).parts if part.name == "drop_link")
        said = next(its for its in weak.said if "threads of {0} bear" in str(its.say.words))
        assert said.remedy
        self.assertEqual(said.remedy.into, "rods")
        rods = values["stations"][0].setdefault("rods", {})
        rods["drop_link"] = {**rods["drop_link"], **said.remedy.change}
        better = next(
            part for part in job_parts(check_project(values), fitted=False).parts if part.name == "drop_link"
        )
        self.assertGreaterEqual(min(check.factor for check in better.checks), 2.0)
        self.assertFalse([its for its in better.said if its.mark in ("fault", "warning")])


class Cut(unittest.TestCase):
    def test_it_is_proposed_on_bushes_strong_enough_and_cut_between_their_sleeves(self) -> None:
        parts = made_of()
        link = link_of(parts)
        assert link.cut
        self.assertTrue(link.proposed)
        self.assertGreaterEqual(min(check.factor for check in link.checks), parts.stations[0].factor)
        self.assertEqual({check.what for check in link.checks}, {"rod buckling", "bent at its eye"})
        met = link.cut.ends[0].met
        self.assertGreaterEqual(2 * met, link.cut.tube.outside)
        long = float(link.figure("centre_to_centre"))
        self.assertAlmostEqual(link.cut.length, long - 2 * set_back(link.cut.tube.outside / 2, met, 90.0))
        self.assertLessEqual(link.cut.length, long)
        self.assertEqual(link.hardware[0].count, 2)

    def test_its_brackets_stand_on_frame_and_axle_and_take_its_bush(self) -> None:
        parts = made_of()
        tabs = {part.subject[1:]: part for part in parts.parts if part.kind == "tab"}
        sleeve = link_of(parts).cut
        assert sleeve
        for point in ("lower_front_left", "lower_rear_left"):
            gap = float(tabs[point, LINK].figure("gap"))
            self.assertGreater(gap, sleeve.tube.outside)

    def test_a_tube_chosen_too_weak_is_said_and_the_one_advised_bears(self) -> None:
        parts = made_of(tube=(25.0, 2.0))
        link = link_of(parts)
        self.assertEqual(link.name, "arm")
        self.assertIn("bent where its eye is pushed", words_of(link))
        remedy = next(said.remedy for said in link.said if said.remedy)
        size = remedy.change["tube"]
        better = link_of(made_of(tube=(size["outside"], size["wall"]), grade=size["grade"]))
        self.assertNotIn("bent where its eye is pushed", words_of(better))

    def test_a_tube_wider_than_any_in_stock_gets_sleeves_as_wide_which_are_ordered(self) -> None:
        link = link_of(made_of(tube=(90.0, 5.0)))
        assert link.cut
        self.assertEqual(2 * link.cut.ends[0].met, 90.0)
        self.assertIn("have to be ordered", words_of(link))
        self.assertNotIn("have to be ordered", words_of(link_of(made_of())))
        tiny = link_of(made_of(tube=(6.0, 1.0)))
        self.assertIn("bent where its eye is pushed", words_of(tiny))

    def test_an_eye_in_the_tube_is_said_with_how_far_it_has_to_stand_beside_it(self) -> None:
        inside = link_of(made_of())
        self.assertIn("inside its tube", words_of(inside))
        wanted = next(
            said.say.quantities["wanted"].value for said in inside.said if "wanted" in said.say.quantities
        )
        self.assertNotIn("inside its tube", words_of(link_of(made_of(eye_up=wanted + 8.0))))

    def test_threaded_ends_are_bent_by_what_pushes_on_its_eye(self) -> None:
        parts = made_of(rods="16")
        link = link_of(parts)
        self.assertIn("turns over", words_of(link))
        self.assertIn("bends the shanks of its ends", words_of(link))
        bent = next(check.factor for check in link.checks if check.what == "shank of its end, bent")
        peak = parts.makers[0].peak
        assert peak
        lever = METRIC.thread(16).shank - 30.0
        stress = 32 * peak.bent[LINK].across * lever / (math.pi * (0.84 * 16) ** 3)
        self.assertAlmostEqual(bent, 500 / stress, delta=0.01 * bent)

    def test_of_two_plates_the_eyes_bolt_goes_through_them(self) -> None:
        for up in (0.0, 30.0):
            parts = plated(up)
            link = next(part for part in parts.parts if part.name == "arm plates")
            assert link.flat
            with self.subTest(up):
                self.assertEqual(link.count, 2)
                self.assertGreaterEqual(min(check.factor for check in link.checks), parts.stations[0].factor)
                linkage = parts.works[0].linkage
                one, other, eye = (
                    linkage.points[linkage.index[name]]
                    for name in ("lower_front_left", "lower_rear_left", "eye_left")
                )
                spots = np.array([[hole.x, hole.y] for hole in link.flat.holes])
                apart = [np.linalg.norm(a - b) for a, b in ((one, other), (one, eye), (other, eye))]
                drawn = [np.linalg.norm(spots[a] - spots[b]) for a, b in ((0, 1), (0, 2), (1, 2))]
                np.testing.assert_allclose(drawn, apart, atol=1e-6)
                self.assertFalse([part for part in parts.parts if part.subject[:2] == ("tab", "eye_left")])
                self.assertTrue([part for part in parts.parts if part.subject[:2] == ("tab", "eye_right")])
                # M / W with W of a strip less its hole, closed form.
                peak = parts.makers[0].peak
                assert peak
                bent, thick = peak.bent[LINK], 2 * link.flat.thickness
                hole = link.flat.holes[0].diameter
                deep = hole + 2 * float((link.choice or {})["edge"])
                stress = bent.moment * 6 * deep / (thick * (deep**3 - hole**3))
                stress += max(bent.push, bent.pull) / (thick * (deep - hole))
                found = next(check.factor for check in link.checks if check.what == "plates bent at its eye")
                self.assertAlmostEqual(found, 355 / stress, places=6)

    def test_the_strongest_tube_is_taken_where_none_bears(self) -> None:
        strongest = max(METRIC.tubes, key=lambda tube: bears(tube, 400, Borne(moment=1e9)))
        self.assertEqual(strongest, METRIC.tubes[-1])


if __name__ == "__main__":
    unittest.main()
