"""Each spring option checked by solving the station that it stands for."""

import unittest
from dataclasses import replace

from engine.document.schema import Coilover
from engine.findings.finding import RULES
from engine.findings.judge import judge
from engine.forces.unknown import wire_rate_n_per_mm
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.springs import ShelfCoil, SpringOption, spring_options, with_springs
from engine.station.solved import solve_station
from engine.tests import samples


def solved(name: str = "wishbones-lower", **more: object):  # type: ignore[no-untyped-def]
    values = starting_project(layout_named(name))["stations"][0] | more
    return solve_station(samples.station(values))


class Options(unittest.TestCase):
    def test_every_rate_stands_where_it_is_wanted(self) -> None:
        for name in ("wishbones-lower", "axle-four-link"):
            for option in spring_options(solved(name), RULES):
                if option.seat_left > 0 and option.coil_left > 0:
                    assert option.ride is not None
                    self.assertAlmostEqual(option.ride, 0, delta=0.1)

    def test_an_option_is_the_station_solved_with_it(self) -> None:
        station = solved()
        option = spring_options(station, RULES, [52.5])[0]
        coilovers = [unit for unit in station.station.units if isinstance(unit, Coilover)]
        fitted = {unit.name: list(unit.springs) for unit in option.fitted}
        again = solve_station(with_springs(station, coilovers, fitted))
        assert again.ride is not None
        self.assertAlmostEqual(again.ride.frequency, option.frequency, places=9)
        self.assertAlmostEqual(again.preload_left["coilover"], option.seat_left, delta=9)

    def test_stiffer_is_quicker_and_sits_looser_in_droop(self) -> None:
        options = spring_options(solved(), RULES)
        self.assertEqual([o.rate for o in options], sorted(o.rate for o in options))
        self.assertEqual(sum(o.now for o in options), 1)
        seats = [o.seat_left for o in options]
        self.assertEqual(seats, sorted(seats, reverse=True))

    def test_the_steps_stand_about_the_wanted_frequency(self) -> None:
        options = spring_options(solved(), replace(RULES, purpose="sport"))
        self.assertTrue(any(o.inside for o in options))
        self.assertTrue(any(o.inside is False for o in options))

    def test_a_weight_that_nothing_carries_yet_is_offered_springs_that_do(self) -> None:
        heavy = solved(mass={"corner": 900.0, "unsprung": 60.0})
        options = spring_options(heavy, replace(RULES, purpose="road"))
        self.assertTrue(any(o.inside for o in options))

    def test_another_height_is_met_too(self) -> None:
        station = solved(travel={"bump": 70, "droop": 55, "at": 12.0})
        for option in spring_options(station, RULES):
            if option.seat_left > 0 and option.ride is not None:
                self.assertAlmostEqual(option.ride, 12.0, delta=0.1)

    def test_a_coil_from_the_shelf_brings_its_own_lengths(self) -> None:
        station = solved()
        options = spring_options(
            station,
            RULES,
            [],
            (
                ShelfCoil(name="Grey 60", rate=60, free_length=240, solid_length=95),
                ShelfCoil(name="Stub", rate=60, free_length=120, solid_length=95),
            ),
        )
        named = {option.name: option for option in options if option.name}
        (grey,), (stub,) = named["Grey 60"].fitted, named["Stub"].fitted
        (spring,) = grey.springs
        self.assertEqual((spring.rate, spring.free_length, spring.solid_length), (60, 240, 95))
        # Both stand alike; the short one is solid long before full bump.
        self.assertAlmostEqual(stub.preload, grey.preload, delta=0.02)
        self.assertLess(named["Stub"].coil_left, 0)
        self.assertAlmostEqual(named["Grey 60"].coil_left - named["Stub"].coil_left, 120, delta=0.05)

    def fitted_with(self, coil: ShelfCoil, **unit: object) -> tuple[SpringOption, Coilover, Coilover]:
        """Return the option of a coil, and the coilover without and with it."""
        values = starting_project(layout_named("wishbones-lower"))["stations"][0]
        number = next(k for k, its in enumerate(values["units"]) if its["kind"] == "coilover")
        values["units"][number] |= unit
        its = solve_station(samples.station(values))
        before = its.station.units[number]
        option = next(one for one in spring_options(its, RULES, [], (coil,)) if one.name)
        (after,) = option.fitted
        assert isinstance(before, Coilover)
        return option, before, after

    def test_a_coil_brings_its_bore_and_what_is_over_it(self) -> None:
        coil = ShelfCoil(name="Slate 35", rate=35, free_length=300, solid_length=110, bore=70)
        option, before, after = self.fitted_with(coil, perch={"up": 12, "down": 12}, seat=57.0)
        (spring,) = after.springs
        self.assertEqual((spring.bore, after.seat), (70, 57.0))
        # Second route: a coil of the wire that is told has the rate and the solid length of the shelf's.
        assert after.coil_diameter is not None
        wire = (after.coil_diameter - 70) / 2
        self.assertAlmostEqual(wire_rate_n_per_mm(wire, 70 + wire, 110 / wire - 1.5, 78_500), 35, delta=0.5)
        # Second route for the perch: how far apart the two seats stand with the damper topped out.
        apart = [sum(s.free_length for s in unit.springs) - unit.preload for unit in (before, after)]
        assert before.perch is not None and after.perch is not None
        self.assertAlmostEqual(after.perch.down, before.perch.down - (apart[1] - apart[0]), places=2)
        self.assertAlmostEqual(after.perch.up + after.perch.down, 24, places=2)
        self.assertLess(after.perch.down, -50)
        self.assertIn("70.0 mm inside; its seats are made for 57.0 mm", str(option.unfit))

    def test_a_coil_that_does_not_go_on_is_found_once_it_is_taken(self) -> None:
        coil = ShelfCoil(name="Slate 35", rate=35, free_length=300, solid_length=110, bore=70)
        for unit, kind, mark in (
            ({"seat": 57.0}, "coil_fit", "fault"),
            ({"seat": 70.0}, "coil_fit", "good"),
            ({"seat": 70.0, "body_diameter": 69.0}, "coil_fit", "fault"),
            ({}, "coil_fit", "warning"),
            ({"perch": {"up": 12, "down": 12}}, "adjustment_left", "fault"),
            ({"perch": {"up": 12, "down": 300}}, "adjustment_left", "good"),
        ):
            _, _, after = self.fitted_with(coil, **unit)
            values = starting_project(layout_named("wishbones-lower"))["stations"][0]
            values["units"] = [
                after.model_dump(exclude_unset=True) if one["kind"] == "coilover" else one
                for one in values["units"]
            ]
            marks = {f.kind.code: f.mark for f in judge(solve_station(samples.station(values)))}
            with self.subTest(unit):
                self.assertEqual(marks[kind], mark)

    def test_a_rate_that_the_perch_cannot_take_in_todays_length_has_one_that_it_can(self) -> None:
        values = starting_project(layout_named("wishbones-lower"))["stations"][0]
        number = next(k for k, its in enumerate(values["units"]) if its["kind"] == "coilover")
        values["units"][number]["perch"] = {"up": 4.0, "down": 4.0}
        its = solve_station(samples.station(values))
        before = its.station.units[number]
        assert isinstance(before, Coilover)
        longer = 0
        for option in spring_options(its, RULES):
            (after,) = option.fitted
            assert after.perch is not None
            self.assertGreaterEqual(min(after.perch.up, after.perch.down), 0.0)
            self.assertIsNone(option.unfit)
            apart = [sum(s.free_length for s in unit.springs) - unit.preload for unit in (before, after)]
            self.assertAlmostEqual(after.perch.down, 4.0 - (apart[1] - apart[0]), places=2)
            by = after.springs[0].free_length - before.springs[0].free_length
            self.assertAlmostEqual(by % 5.0, 0.0)
            longer += by != 0
        self.assertGreater(longer, 2)

    def test_no_coilover_no_options(self) -> None:
        self.assertEqual(spring_options(solved("arm-on-air"), RULES), ())


if __name__ == "__main__":
    unittest.main()
