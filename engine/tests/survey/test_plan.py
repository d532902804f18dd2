"""The list to read: whoever reads all of it has every place of every arrangement, and is told where to put the tape."""

import unittest

import numpy as np

from engine.document.check_survey import drawn_places
from engine.document.read import check_project
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.survey.plan import hint_of, plan_of, survey_plan
from engine.survey.worked import WorkedSurvey
from engine.tests.survey.networks import survey_of

KINDS = {"height", "offset", "fore_aft", "distance", "rise", "floor_distance"}


class Plans(unittest.TestCase):
    def test_the_list_read_whole_holds_every_place_of_every_arrangement(self) -> None:
        rng = np.random.default_rng(11)
        for layout in LAYOUTS:
            with self.subTest(layout.name):
                project = starting_project(layout)
                checked = check_project(project)
                marks = survey_plan(checked.stations[0]).marks
                drawn = {**drawn_places(checked), **{name: list(spot) for name, spot in marks.items()}}
                true = {name: np.array(spot) + rng.normal(0, 4, 3) for name, spot in drawn.items()}
                blank = [
                    {"kind": one.kind, "of": one.places[0]}
                    if len(one.places) == 1
                    else {"kind": one.kind, "between": list(one.places)}
                    for station in checked.stations
                    for one in plan_of(station)
                ]
                survey = survey_of(true, blank) | {
                    "marks": {name: list(spot) for name, spot in marks.items()}
                }
                worked = WorkedSurvey(check_project({**project, "survey": survey}))
                self.assertEqual(worked.loose, [])
                self.assertEqual(worked.adjusted.suspects, ())
                for name, spot in true.items():
                    at = worked.adjusted.fit.spots[worked.network.index[name]]
                    np.testing.assert_allclose(at, spot, atol=0.01)

    def test_each_reading_is_listed_once_and_says_where(self) -> None:
        for layout in LAYOUTS[:8]:
            for station in check_project(starting_project(layout)).stations:
                plan = plan_of(station)
                keys = [(one.kind, frozenset(one.places)) for one in plan]
                self.assertEqual(len(set(keys)), len(keys))
                self.assertLessEqual({one.kind for one in plan}, KINDS)
                self.assertTrue(all("_" not in one.hint and len(one.hint) > 8 for one in plan))

    def test_the_frame_comes_first_from_front_to_rear(self) -> None:
        station = check_project(starting_project(layout_named("wishbones-lower"))).stations[0]
        points = list(
            dict.fromkeys(one.places[0].split("/")[1] for one in plan_of(station) if len(one.places) == 1)
        )
        frame = [point in station.chassis for point in points]
        self.assertEqual(frame, sorted(frame, reverse=True))
        forward = [station.points[point][0] for point in points if point in station.chassis]
        self.assertGreaterEqual(forward[0], forward[-1])

    def test_a_point_is_said_by_what_it_is_on_the_metal(self) -> None:
        station = check_project(starting_project(layout_named("wishbones-lower"))).stations[0]
        wheel = station.wheels[0]
        self.assertIn("middle of the hub", hint_of(station, wheel.centre))
        self.assertIn("further out on its axis", hint_of(station, str(wheel.spindle)))
        self.assertIn("bolt on the frame", hint_of(station, station.chassis[0]))
        joint = next(
            point
            for point in station.points
            if sum(point in members for members in station.bodies.values()) > 1
        )
        self.assertIn("middle of the joint", hint_of(station, joint))


if __name__ == "__main__":
    unittest.main()
