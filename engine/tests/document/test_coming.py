"""Parts still to come, their shares, and holes: what the document takes and what it refuses."""

import unittest

from engine.document.coming import as_given, coming_kg, finished_kg, with_finished_masses
from engine.document.mirror import mirrored_station
from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.results.result_file import solve_project
from engine.tests import samples


def job(**more: object) -> samples.Values:
    front, rear = samples.arm(), samples.arm()
    front["name"], rear["name"] = "Front", "Rear"
    return {**samples.document(front, rear), **more}


ENGINE = {"name": "engine", "mass": 120, "carried": {"Front": 0.6, "Rear": 0.4}}


class Coming(unittest.TestCase):
    def test_each_wheel_of_a_mirrored_station_carries_half_of_its_share(self) -> None:
        project = check_project(job(coming=[ENGINE, {"name": "fuel", "mass": 30, "carried": {"Rear": 1}}]))
        front, rear = with_finished_masses(project).stations
        self.assertAlmostEqual(coming_kg(project, front), 36)
        self.assertAlmostEqual(front.mass.finished or 0, 210 + 36)
        self.assertAlmostEqual(rear.mass.finished or 0, 210 + 24 + 15)

    def test_a_mass_that_was_filled_in_is_not_handed_back(self) -> None:
        values = job(coming=[ENGINE])
        project = check_project(values)
        filled = with_finished_masses(project).stations[0]
        self.assertIsNotNone(filled.mass.finished)
        self.assertEqual(finished_kg(project, project.stations[0]), filled.mass.finished)
        self.assertNotIn("finished", as_given(filled, values["stations"][0])["mass"])
        own = {"mass": {"finished": 300}}
        self.assertEqual(as_given(filled, own)["mass"]["finished"], filled.mass.finished)

    def test_a_lone_wheel_carries_all_of_it(self) -> None:
        values = job(coming=[ENGINE])
        values["stations"][1]["other_side"] = "alone"
        project = check_project(values)
        self.assertAlmostEqual(coming_kg(project, project.stations[1]), 48)

    def test_a_mass_given_by_hand_stands(self) -> None:
        values = job(coming=[ENGINE])
        values["stations"][0]["mass"]["finished"] = 222
        self.assertEqual(with_finished_masses(check_project(values)).stations[0].mass.finished, 222)

    def test_it_is_judged_as_the_same_mass_given_by_hand(self) -> None:
        listed = solve_project(check_project(job(coming=[ENGINE])), 9, remedies=False)
        by_hand = job()
        by_hand["stations"][0]["mass"]["finished"] = 246
        said = solve_project(check_project(by_hand), 9, remedies=False)
        one, other = (
            next(f for f in result["stations"][0]["findings"] if f["code"] == "finished_mass")
            for result in (listed, said)
        )
        self.assertEqual(one, other)

    def test_a_variant_carries_what_it_stands_for_does_and_is_not_named_itself(self) -> None:
        values = job()
        values["stations"].append(samples.arm() | {"name": "Rear, lighter", "variant_of": "Rear"})
        project = with_finished_masses(check_project(values | {"coming": [ENGINE]}))
        self.assertEqual(project.stations[2].mass.finished, project.stations[1].mass.finished)
        named = ENGINE | {"carried": {"Rear, lighter": 0.4}}
        with self.assertRaises(DocumentRefused) as refused:
            check_project(values | {"coming": [named]})
        self.assertIn("a variant carries what Rear does; name that one", str(refused.exception))

    def test_shares_and_names_that_cannot_be(self) -> None:
        for carried, words in (
            ({"Front": 0.8, "Rear": 0.4}, "must not be more than 1"),
            ({"Middle": 1}, "no station has this name"),
            ({"Front": 1.4}, "must be 1 or less"),
        ):
            with self.assertRaises(DocumentRefused) as refused:
                check_project(job(coming=[{"name": "engine", "mass": 120, "carried": carried}]))
            self.assertIn(words, str(refused.exception))
            self.assertIn("coming[0].carried", str(refused.exception))


class Variants(unittest.TestCase):
    def test_a_variant_is_solved_but_not_counted_in_the_vehicle(self) -> None:
        alone = job(vehicle={"cg_height": 500})
        both = job(vehicle={"cg_height": 500})
        both["stations"].append(both["stations"][0] | {"name": "Front, other way", "variant_of": "Front"})
        one, other = (solve_project(check_project(values), 9, remedies=False) for values in (alone, both))
        self.assertEqual(len(other["stations"]), 3)
        for key in ("roll_gradient", "sprung_mass", "roll_arm"):
            self.assertEqual(one["vehicle"][key], other["vehicle"][key])

    def test_it_carries_what_the_station_it_stands_for_carries(self) -> None:
        values = job(coming=[ENGINE])
        values["stations"].append(values["stations"][0] | {"name": "Front, other way", "variant_of": "Front"})
        project = check_project(values)
        self.assertAlmostEqual(coming_kg(project, project.stations[2]), 36)

    def test_it_must_name_another_station(self) -> None:
        values = job()
        values["stations"][0]["variant_of"] = "Middle"
        with self.assertRaises(DocumentRefused) as refused:
            check_project(values)
        self.assertIn("stations[0].variant_of", str(refused.exception))


class Holes(unittest.TestCase):
    def test_holes_must_belong_to_a_point_and_differ(self) -> None:
        for holes, words in (
            ({"topp": {"places": [[0, 0, 0], [1, 0, 0]]}}, 'did you mean "top"'),
            ({"top": {"places": [[0, 0, 0], [0, 0, 0]]}}, "same place as hole 1"),
        ):
            values = job()
            values["stations"][0]["holes"] = holes
            with self.assertRaises(DocumentRefused) as refused:
                check_project(values)
            self.assertIn(words, str(refused.exception))

    def test_the_other_side_has_them_mirrored(self) -> None:
        values = samples.arm() | {"holes": {"top": {"places": [[-220, 450, 560], [-220, 450, 580]]}}}
        other = mirrored_station(values, "other")
        self.assertEqual(other["holes"]["top"]["places"][1], [-220, -450, 580])


if __name__ == "__main__":
    unittest.main()
