"""Intervals from few positions are those from many, and those that errors add up to by their squares; how far it is is told."""

import unittest
from math import hypot
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Coilover
from engine.layouts.catalogue import LAYOUTS, Layout, starting_project
from engine.limits.ledger import ledger_of
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import PART, spread_of
from engine.ride.taped import Interval, interval_of, taped
from engine.ride.wheel_angles import steering_axis, wheel_angles
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp


def apart(one: Interval | None, other: Interval | None) -> float:
    if one is None or other is None:
        return 0.0 if one is other else float("inf")
    return max(abs(one.low - other.low), abs(one.middle - other.middle), abs(one.high - other.high))


class FewPositions(unittest.TestCase):
    def test_four_times_as_many_positions_change_no_figure_that_is_shown(self) -> None:
        for layout in LAYOUTS:
            with self.subTest(layout.name):
                solved = solve_station(check_project(starting_project(layout)).stations[0])
                few, many = spread_of(solved, 60), spread_of(solved, 60, 65)
                self.assertEqual(few.standing, many.standing)
                self.assertLess(apart(few.ride_travel, many.ride_travel), 1e-3)
                self.assertLess(apart(few.wheel_rate, many.wheel_rate), 1e-3)
                self.assertLess(apart(few.frequency, many.frequency), 1e-4)
                for name, ratio in few.ratios.items():
                    self.assertLess(apart(ratio, many.ratios[name]), 1e-5)
                for name, left in few.damper_left.items():
                    for one, other in zip(left, many.damper_left[name], strict=True):
                        self.assertLess(apart(one, other), 0.02)


class SmallErrors(unittest.TestCase):
    """A second route: of small independent errors the squares of what each does add up; nine tenths lie within 1.645."""

    def test_a_tenth_of_a_millimetre_everywhere_spreads_as_the_squares_of_what_each_place_does(self) -> None:
        for layout in LAYOUTS:
            values = starting_project(layout)
            values["stations"][0]["uncertainty"] = {"tape": 0.1}
            solved = solve_station(check_project(values).stations[0])
            each = sensitivities(solved)
            wanted = 0.1 * 1.645 * hypot(*(one.ride_mm for one in each))
            with self.subTest(layout.name):
                found = spread_of(solved).ride_travel
                assert found is not None
                # Two thousand throws of a normal die: the half width is known to some three hundredths.
                self.assertAlmostEqual((found.high - found.low) / 2 / wanted, 1.0, delta=0.08)
                assert solved.ride is not None
                self.assertAlmostEqual(found.middle, solved.ride.travel, delta=0.1 * wanted)


class SolvedOneByOne(unittest.TestCase):
    """A second route: each geometry drawn as a station of its own, solved whole, looked at as any other is."""

    GEOMETRIES = 9

    def drawn(self, layout: Layout, **more: Any) -> SolvedStation:
        values = starting_project(layout)
        values["stations"][0] |= {
            "uncertainty": {"tape": 0.7},
            "datum": {"name": "sill", "height": 250.0},
        } | more
        return solve_station(check_project(values).stations[0])

    def each(self, solved: SolvedStation) -> list[SolvedStation]:
        names = list(solved.linkage.index)
        return [
            solve_station(
                solved.station.model_copy(
                    update={"points": {name: [float(v) for v in places[n]] for n, name in enumerate(names)}}
                )
            )
            for places in taped(solved, self.GEOMETRIES)
        ]

    def assertSame(self, found: Interval | None, values: list[float], delta: float = 1e-4) -> None:
        self.assertLess(apart(found, interval_of(np.array(values))), delta)

    def test_it_stands_as_high_and_as_stiff(self) -> None:
        for layout in LAYOUTS:
            with self.subTest(layout.name):
                self.assertStandsAsEach(self.drawn(layout))

    def test_bushings_of_a_crooked_axle_share_by_each_drawing_of_its_own(self) -> None:
        # Four links and a rod across are one too many; the shares of the drawing alone made it 1 in 1000 at worst.
        layout = next(its for its in LAYOUTS if its.name == "axle-four-link-lateral")
        throw = np.random.default_rng(5)
        for crooked_mm in (5.0, 20.0, 40.0):
            values = starting_project(layout)["stations"][0]
            points = {
                name: (np.array(at) + throw.normal(size=3) * crooked_mm).tolist()
                for name, at in values["points"].items()
            }
            with self.subTest(crooked_mm):
                solved = self.drawn(layout, points=points)
                self.assertGreater(solved.mismatch_mm, 0.1)
                self.assertStandsAsEach(solved)

    def assertStandsAsEach(self, solved: SolvedStation) -> None:
        rides = [its.ride for its in self.each(solved) if its.ride is not None]
        found = spread_of(solved, self.GEOMETRIES)
        self.assertEqual(len(rides), round(found.standing * self.GEOMETRIES))
        self.assertSame(found.ride_travel, [ride.travel for ride in rides], 1e-5)
        self.assertSame(found.wheel_rate, [ride.wheel_rate for ride in rides], 2e-5)
        self.assertSame(found.frequency, [ride.frequency for ride in rides], 1e-5)

    def test_wheels_turn_and_lean_alike_and_the_datum_stands_as_high(self) -> None:
        looked = 0
        for layout in LAYOUTS:
            solved = self.drawn(layout)
            each, found = self.each(solved), spread_of(solved, self.GEOMETRIES)
            with self.subTest(layout.name):
                self.assertSame(
                    found.datum, [250.0 - its.ride.travel for its in each if its.ride is not None], 1e-3
                )
                angles = [wheel_angles(its) for its in each]
                for n, one in enumerate(wheel_angles(solved)):
                    wheel = found.wheels[one.wheel]
                    self.assertSame(wheel.bump_steer, [its[n].bump_steer for its in angles])
                    self.assertSame(wheel.camber_gain, [its[n].camber_gain for its in angles])
                    if wheel.rim_mm is not None:
                        self.assertSame(wheel.rim_mm, [its[n].rim_mm or 0.0 for its in angles], 1e-3)
                    looked += 1
                axes = [axis for its in each if (axis := steering_axis(its)) is not None]
                self.assertEqual(found.axis is None, not axes)
                for name in ("caster", "kingpin", "scrub", "trail") if found.axis else ():
                    self.assertSame(getattr(found.axis, name), [getattr(its, name) for its in axes], 1e-3)
                    looked += 1
        self.assertGreater(looked, 12)

    def test_a_coil_stays_as_far_from_a_tube_on_the_chassis(self) -> None:
        plain = self.drawn(LAYOUTS[0]).station
        unit = next(unit for unit in plain.units if isinstance(unit, Coilover))
        one, other = (np.array(plain.points[end]) for end in unit.ends)
        middle = (one + other) / 2 + [90.0, 0.0, 0.0]
        across = np.array([0.0, 40.0, 0.0])
        tube = {
            "name": "tube", "shape": "capsule", "on": "chassis", "what": "structure", "radius": 15.0,
            "along": [(middle - across).tolist(), (middle + across).tolist()],
        }  # fmt: skip
        values = [
            its.model_dump() | {"coil_diameter": 62.0} if its is unit else its.model_dump()
            for its in plain.units
        ]
        solved = self.drawn(LAYOUTS[0], envelopes=[tube], units=values)
        work = WorkUp(solved, rooms=True)
        pair = ("tube", unit.name)
        found = spread_of(solved, self.GEOMETRIES, clearances=work.clearances).gaps[pair]
        apart_now = [
            next(c.distance for c in WorkUp(its, rooms=True).clearances if (c.one, c.other) == pair)
            for its in self.each(solved)
        ]
        self.assertSame(found, apart_now, 0.02)
        self.assertGreater(found.high - found.low, 0.5)

    def test_ends_come_where_the_stations_drawn_so_have_them(self) -> None:
        solved = self.drawn(LAYOUTS[0])
        ledger = ledger_of(solved)
        found = spread_of(solved, self.GEOMETRIES, ledger=ledger)
        each = [ledger_of(its) for its in self.each(solved)]
        looked = 0
        for way in ("bump", "droop"):
            for event in ledger.on(way):
                met = [
                    next(
                        e.travel for e in its.on(way) if (e.kind, e.subjects) == (event.kind, event.subjects)
                    )
                    for its in each
                ]
                self.assertSame(found.ends[way, event.kind.code, event.subjects[0]], met, 0.02)
                looked += 1
        self.assertGreater(looked, 3)

    def test_how_many_meet_metal_before_the_stop_is_counted(self) -> None:
        values = starting_project(LAYOUTS[0])
        station = values["stations"][0]
        station["uncertainty"] = {"tape": 0.7}
        solved = solve_station(check_project(values).stations[0])
        ledger = ledger_of(solved)
        stop = next(unit for unit in station["units"] if unit["kind"] == "bump_stop")
        bottoms = next(e for e in ledger.bump if e.kind.code == "damper_compressed")
        touches = next(e for e in ledger.bump if e.kind.code == "bump_stop_contact")
        self.assertLess(touches.travel, bottoms.travel - 10)
        self.assertEqual(spread_of(solved, 200, ledger=ledger).hard_first["bump"], 0.0)
        # A stop on the very same eyes that touches where the damper bottoms moves with it; one on others does not.
        points = station["points"]
        for name, by in (("stop_low", 60.0), ("stop_top", 60.0)):
            end = stop["ends"][0 if name == "stop_low" else 1]
            points[name] = [points[end][0] + by, *points[end][1:]]
        host = next(body for body, members in station["bodies"].items() if stop["ends"][0] in members)
        station["bodies"][host].append("stop_low")
        station["chassis"].append("stop_top")
        stop["ends"] = ["stop_low", "stop_top"]
        there = solve_station(check_project(values).stations[0]).at(np.array([bottoms.travel]))
        stop["contact"] = float(there.units[stop["name"]].length[0])
        beside = solve_station(check_project(values).stations[0])
        share = spread_of(beside, 2000, ledger=ledger_of(beside)).hard_first["bump"]
        self.assertAlmostEqual(share, 0.5, delta=0.06)

    def test_a_station_that_stands_nowhere_is_looked_at_as_drawn(self) -> None:
        values = starting_project(LAYOUTS[0])
        values["stations"][0]["mass"]["corner"] = 9000.0
        solved = solve_station(check_project(values).stations[0])
        self.assertIsNone(solved.ride)
        found = spread_of(solved, 50)
        self.assertIsNone(found.ride_travel)
        self.assertIsNone(found.datum)
        self.assertEqual(len(found.wheels), len(wheel_angles(solved)))


class Told(unittest.TestCase):
    def setUp(self) -> None:
        self.solved = solve_station(check_project(starting_project(LAYOUTS[0])).stations[0])

    def test_how_far_it_is_is_told_part_by_part(self) -> None:
        told: list[float] = []
        spread_of(self.solved, 3 * PART + 1, tell=lambda share, what: told.append(share))
        self.assertEqual(len(told), 4)
        self.assertEqual(told, sorted(told))
        self.assertEqual(told[0], 0.0)
        self.assertLess(told[-1], 1.0)

    def test_who_waits_can_stop_it(self) -> None:
        told: list[float] = []

        def stop(share: float, what: str) -> None:
            told.append(share)
            if len(told) == 2:
                raise InterruptedError

        with self.assertRaises(InterruptedError):
            spread_of(self.solved, 3 * PART, tell=stop)
        self.assertEqual(len(told), 2)
