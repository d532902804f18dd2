"""Corners drawn on both sides that do not name each other: one pair, asked about, never two wheels in one place."""

import copy
import unittest
from typing import Any

from engine.document.coming import as_given, with_finished_masses
from engine.document.mirror import mirrored_station
from engine.document.pairs import lying_across, paired
from engine.document.read import check_project
from engine.results.whole import work_project
from engine.shop.job_parts import job_parts
from engine.tests import samples
from engine.vehicle.wheels import vehicle_of


def both(**sides: str) -> dict[str, Any]:
    left = samples.pushrod_corner() | {"name": "Front left"}
    right = mirrored_station(copy.deepcopy(left), "Front right")
    for station in (left, right):
        station.pop("other_side", None)
    for station in (left, right):
        if station["name"] in sides:
            station["other_side"] = sides[station["name"]]
    return samples.document(left, right)


class Pairs(unittest.TestCase):
    def test_two_sides_in_one_file_are_two_wheels_and_their_mass_counts_once(self) -> None:
        project = check_project(both())
        vehicle = vehicle_of(project)
        self.assertEqual(len(vehicle.wheels), 2)
        self.assertEqual(sum(wheel.mass for wheel in vehicle.wheels), 2 * project.stations[0].mass.corner)
        parts = job_parts(project, fitted=False).parts
        self.assertEqual({part.hands for part in parts}, {1})

    def test_it_is_asked_in_words_and_named_by_the_press(self) -> None:
        worked = work_project(check_project(both()), steps=9)
        asked = [finding for finding in worked.findings if finding.code == "pair_not_named"]
        self.assertEqual(len(asked), 1)
        self.assertIn("counted as a pair", str(asked[0].what))
        named = both(**{"Front left": "Front right", "Front right": "Front left"})
        again = work_project(check_project(named), steps=9)
        self.assertFalse([finding for finding in again.findings if finding.code == "pair_not_named"])

    def test_one_that_names_the_other_is_enough_to_be_a_pair(self) -> None:
        for sides in (
            {"Front left": "Front right"},
            {"Front left": "alone"},
            {"Front left": "mirror", "Front right": "mirror"},
        ):
            project = check_project(both(**sides))
            self.assertEqual(len(lying_across(project)), 1)
            self.assertEqual(len(vehicle_of(project).wheels), 2)
            self.assertEqual({s.other_side for s in paired(project).stations}, {"Front left", "Front right"})

    def test_corners_that_are_no_pair_stay_as_they_are(self) -> None:
        apart = both()
        for spot in apart["stations"][1]["points"].values():
            spot[0] -= 2400
        self.assertEqual(lying_across(check_project(apart)), [])
        variant = both()
        variant["stations"][1]["variant_of"] = "Front left"
        self.assertEqual(lying_across(check_project(variant)), [])

    def test_what_goes_back_to_the_file_says_nothing_that_nobody_said(self) -> None:
        given = both()
        filled = with_finished_masses(check_project(given))
        self.assertEqual(filled.stations[0].other_side, "Front right")
        self.assertNotIn("other_side", as_given(filled.stations[0], given["stations"][0]))


if __name__ == "__main__":
    unittest.main()
