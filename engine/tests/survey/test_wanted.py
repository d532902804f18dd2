"""What is wanted: slopes of each figure by the places of the survey, against the job solved again with a place moved."""

import copy
import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.layouts.catalogue import layout_named, starting_project
from engine.station.solved import solve_station
from engine.survey.wanted import FIGURES, Aim, aims_of, wanted_of
from engine.survey.worked import WorkedSurvey
from engine.survey.worth import every_place, one_place, worth_reading
from engine.tests.survey.networks import survey_of

Values = dict[str, Any]
SINGLES = ("height", "offset", "fore_aft")


def surveyed(name: str = "wishbones-lower") -> tuple[Values, WorkedSurvey]:
    project = starting_project(layout_named(name))
    station = project["stations"][0]
    places = {f"{station['name']}/{p}": np.array(spot, dtype=float) for p, spot in station["points"].items()}
    blank = [{"kind": kind, "of": place} for place in places for kind in SINGLES]
    values = {**project, "survey": survey_of(places, blank)}
    return values, WorkedSurvey(check_project(values))


class Figures(unittest.TestCase):
    def test_ride_height_and_ratio_move_as_the_slopes_say(self) -> None:
        values, worked = surveyed()
        name = values["stations"][0]["name"]
        for figure in FIGURES[:2]:
            wanted = wanted_of(worked.project, worked.adjusted, Aim(figure=figure, of=name))
            assert wanted is not None
            point = max(
                values["stations"][0]["points"],
                key=lambda p: float(np.abs(wanted.slopes[0, worked.network.index[f"{name}/{p}"]]).max()),
            )
            slopes = wanted.slopes[0, worked.network.index[f"{name}/{point}"]]
            axis = int(np.abs(slopes).argmax())
            found = [self.figure(values, point, axis, by, figure) for by in (-0.5, 0.5)]
            self.assertAlmostEqual(
                found[1] - found[0], float(slopes[axis]), delta=0.02 * abs(slopes[axis]) + 1e-5
            )

    def figure(self, values: Values, point: str, axis: int, by: float, figure: str) -> float:
        moved = copy.deepcopy(values)
        moved["stations"][0]["points"][point][axis] += by
        solved = solve_station(check_project(moved).stations[0])
        assert solved.ride is not None and solved.at_ride is not None
        if figure == "ride height":
            return solved.ride.travel
        drawn = solve_station(check_project(values).stations[0])
        assert drawn.ride is not None
        trace = solved.at(np.array([drawn.ride.travel])).units
        return float(next(iter(trace.values())).motion_ratio[0])

    def test_every_aim_can_be_worked_out_or_says_nothing(self) -> None:
        for layout in ("wishbones-lower", "axle-on-air", "pushrod"):
            _, worked = surveyed(layout)
            aims = aims_of(worked.project, worked.adjusted)
            self.assertEqual(len({aim.said for aim in aims}), len(aims))
            for aim in aims[:5]:
                wanted = wanted_of(worked.project, worked.adjusted, aim)
                if wanted is not None:
                    self.assertTrue(np.isfinite(wanted.slopes).all())

    def test_what_is_no_aim_is_none(self) -> None:
        _, worked = surveyed()
        for aim in (
            Aim(figure="colour"),
            Aim(figure="ride height", of="nobody"),
            Aim(figure="place", of="nowhere"),
        ):
            self.assertIsNone(wanted_of(worked.project, worked.adjusted, aim))


class Worth(unittest.TestCase):
    def test_one_place_is_helped_by_readings_of_it_or_of_what_it_is_taped_to(self) -> None:
        _, worked = surveyed()
        place = worked.network.names[3]
        best = worth_reading(worked.adjusted, one_place(worked.adjusted, place))
        self.assertTrue(best)
        self.assertTrue(all(place in one.places for one in best[:2]))

    def test_five_that_help_are_five_different_readings_and_none_taken_already(self) -> None:
        _, worked = surveyed()
        best = worth_reading(worked.adjusted, every_place(worked.adjusted))
        keys = {(one.kind, frozenset(one.places)) for one in best}
        self.assertEqual(len(keys), len(best))
        taken = {(r.kind, frozenset((r.of,))) for r in worked.survey.readings if hasattr(r, "of")}
        self.assertFalse(keys & taken)

    def test_a_better_tape_makes_it_worth_more(self) -> None:
        values, worked = surveyed()
        fine = copy.deepcopy(values)
        fine["survey"]["tools"] = {"tape": 0.2}
        for reading in fine["survey"]["readings"]:
            reading["sigma"] = {"height": 1.0}.get(reading["kind"], 1.5)
        better = WorkedSurvey(check_project(fine))
        plain = worth_reading(worked.adjusted, every_place(worked.adjusted))[0]
        more = worth_reading(better.adjusted, every_place(better.adjusted))[0]
        self.assertAlmostEqual(plain.now or 0, more.now or 0, places=6)
        self.assertLess(more.then or 0, plain.then or 0)


if __name__ == "__main__":
    unittest.main()
