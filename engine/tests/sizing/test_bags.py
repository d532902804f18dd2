"""Each bag of a shelf checked by solving the station that it stands for."""

import unittest

from engine.document.schema import AirSpring
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.bags import BagOption, ShelfBag, bag_options
from engine.station.solved import SolvedStation, solve_station
from engine.tests import samples


def solved(name: str, **bag: object) -> SolvedStation:
    values = starting_project(layout_named(name))["stations"][0]
    values["units"] = [unit | bag if unit["kind"] == "air_spring" else unit for unit in values["units"]]
    return solve_station(samples.station(values))


def bag_of(its: SolvedStation) -> AirSpring:
    return next(unit for unit in its.station.units if isinstance(unit, AirSpring))


SQUAT = ShelfBag(name="Squat", least=75, greatest=255, widest=185, rated=8)
TALL = ShelfBag(
    name="Tall", least=90, greatest=300, widest=160, rated=10, area_least=14_000, area_greatest=9_000
)


class Bags(unittest.TestCase):
    def test_each_is_the_station_solved_with_it(self) -> None:
        for name in ("arm-on-air", "axle-on-air"):
            its = solved(name)
            for option in bag_options(its, RULES, (SQUAT, TALL)):
                with self.subTest(f"{name}, {option.name}"):
                    self.assertStands(its, option)

    def assertStands(self, its: SolvedStation, option: BagOption) -> None:
        fitted = {bag.name: bag for bag in option.fitted}
        units = [fitted.get(unit.name, unit) for unit in its.station.units]
        again = solve_station(its.station.model_copy(update={"units": units}))
        assert again.ride is not None and option.height is not None and option.pressure is not None
        self.assertAlmostEqual(again.ride.travel, 0.0, delta=0.2)  # where it is wanted
        self.assertAlmostEqual(again.ride.frequency, option.frequency, places=6)
        bag = option.fitted[0]
        self.assertAlmostEqual(bag.pressure, option.pressure, places=4)
        lengths = again.taken.units[bag.name].length
        self.assertAlmostEqual(option.left_in_bump, float(lengths.min()) - bag.min_height)
        self.assertAlmostEqual(option.left_in_droop, bag.max_height - float(lengths.max()))

    def test_it_brings_all_of_itself(self) -> None:
        squat, tall = bag_options(solved("arm-on-air"), RULES, (SQUAT, TALL))
        (bag,) = squat.fitted
        self.assertEqual(
            (bag.min_height, bag.max_height, bag.max_diameter, bag.max_pressure), (75, 255, 185, 8)
        )
        self.assertTrue(squat.scaled)
        self.assertFalse(tall.scaled)
        self.assertEqual(tall.fitted[0].height_table, [[90, 14_000], [300, 9_000]])

    def test_an_unmeasured_one_has_the_fitted_ones_curve_by_its_width_and_heights(self) -> None:
        its = solved("arm-on-air")
        before = bag_of(its)
        assert before.max_diameter is not None
        (option,) = bag_options(its, RULES, (SQUAT,))
        first, last = option.fitted[0].height_table[0], option.fitted[0].height_table[-1]
        # The same share of the way from least to greatest height, and as much more area as it is wider each way.
        for row, old in ((first, before.height_table[0]), (last, before.height_table[-1])):
            way = (old[0] - before.min_height) / (before.max_height - before.min_height)
            self.assertAlmostEqual((row[0] - 75) / (255 - 75), way, places=3)
            self.assertAlmostEqual(row[1] / old[1], (185 / before.max_diameter) ** 2, places=3)

    def test_a_bag_that_nobody_rated_has_no_rating_left_of_the_one_before(self) -> None:
        (option,) = bag_options(solved("arm-on-air"), RULES, (ShelfBag(name="Old", least=80, greatest=250),))
        self.assertEqual((option.fitted[0].max_pressure, option.share), (None, None))

    def test_none_without_a_bag(self) -> None:
        self.assertEqual(bag_options(solved("pushrod"), RULES, (SQUAT,)), ())


if __name__ == "__main__":
    unittest.main()
