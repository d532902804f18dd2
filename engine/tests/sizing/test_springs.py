"""Each spring option checked by solving the station that it stands for."""

import unittest
from dataclasses import replace

from engine.document.schema import Coilover
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.springs import ShelfCoil, spring_options, with_springs
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
        fitted = {name: springs for name, (springs, _) in option.fitted.items()}
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
        (spring,), preload = named["Grey 60"].fitted["coilover"]
        self.assertEqual((spring.rate, spring.free_length, spring.solid_length), (60, 240, 95))
        # Both stand alike; the short one is solid long before full bump.
        self.assertAlmostEqual(named["Stub"].fitted["coilover"][1], preload, delta=0.02)
        self.assertLess(named["Stub"].coil_left, 0)
        self.assertAlmostEqual(named["Grey 60"].coil_left - named["Stub"].coil_left, 120, delta=0.05)

    def test_no_coilover_no_options(self) -> None:
        self.assertEqual(spring_options(solved("arm-on-air"), RULES), ())


if __name__ == "__main__":
    unittest.main()
