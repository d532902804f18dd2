"""What is said of a survey: what is loose, which slip, what to read next, square, sides, guards, pictures."""

import unittest
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.errors import DocumentRefused
from engine.survey.guards import guarded
from engine.survey.survey_file import survey_result
from engine.survey.taking import effects_of, moves_of, taken_in
from engine.survey.wanted import Aim, wanted_of
from engine.survey.worked import WorkedSurvey
from engine.survey.worth import DRAWN_MM, worth_reading
from engine.tests import samples
from engine.tests.survey.networks import survey_of

Values = dict[str, Any]
MARKS = {
    "A": [900.0, 410.0, 300.0],
    "B": [900.0, -410.0, 300.0],
    "C": [-900.0, 410.0, 310.0],
    "D": [-900.0, -410.0, 310.0],
}
SINGLES = ("height", "offset", "fore_aft")


def job(readings: list[Values], marks: Values | None = None, **more: Any) -> Values:
    return {
        **samples.document(samples.arm()),
        "survey": {"marks": MARKS if marks is None else marks, "readings": readings, **more},
    }


def worked(values: Values) -> WorkedSurvey:
    return WorkedSurvey(check_project(values))


def plumbed(names: str = "ABCD") -> list[Values]:
    places = {name: np.array(MARKS[name]) for name in names}
    blank = [{"kind": kind, "of": name} for name in names for kind in SINGLES]
    blank += [{"kind": "distance", "between": [a, b]} for a in names for b in names if a < b]
    return survey_of(places, blank)["readings"]


class Loose(unittest.TestCase):
    def test_a_place_is_loose_just_the_way_that_nothing_was_read(self) -> None:
        for kind, way in (("fore_aft", "fore and aft"), ("offset", "in and out"), ("height", "up and down")):
            readings = [{"kind": one, "of": "A", "values": [400]} for one in SINGLES if one != kind]
            told = worked(job(readings))
            (loose,) = told.loose
            self.assertEqual(loose.place, "A")
            self.assertIn(way, str(loose.say))
            self.assertEqual(loose.ways.shape, (3, 1))

    def test_only_what_is_loose_is_named(self) -> None:
        readings = [*plumbed("AB"), {"kind": "distance", "between": ["A", "C"], "values": [1800]}]
        told = worked(job(readings))
        self.assertEqual([one.place for one in told.loose], ["C"])
        result = survey_result(check_project(job(readings)))
        self.assertIsNone(result["points"]["C"]["sigma"])
        self.assertTrue(all(error > 0 for error in result["points"]["A"]["sigma"]))

    def test_distances_alone_leave_everything_free_to_move_together(self) -> None:
        blank = [{"kind": "distance", "between": [a, b]} for a in "ABCD" for b in "ABCD" if a < b]
        places = {name: np.array(spot) for name, spot in MARKS.items()}
        told = worked(job(survey_of(places, blank)["readings"]))
        self.assertEqual({one.place for one in told.loose}, set("ABCD"))
        self.assertEqual(
            told.adjusted.fit.free.shape[1], 12 - np.linalg.matrix_rank(told.adjusted.fit.slopes)
        )

    def test_the_suggested_reading_holds_it(self) -> None:
        readings = plumbed("ABC")[:-3]
        told = worked(job([*readings, {"kind": "height", "of": "D", "values": [310]}]))
        self.assertEqual([one.place for one in told.loose], ["D"])
        wanted = wanted_of(told.project, told.adjusted, Aim(figure="place", of="D"))
        assert wanted is not None
        best = worth_reading(told.adjusted, wanted)[0]
        self.assertIn("D", best.places)
        self.assertIsNone(best.now)


class Slips(unittest.TestCase):
    def looks(self, number: int, read: float) -> str:
        readings = plumbed()
        readings[number]["values"] = [read]
        told = worked(job(readings))
        self.assertEqual([one.number for one in told.adjusted.suspects], [number])
        said = told.readings[number]
        return "" if said.slip is None else str(said.slip.say)

    def test_which_slip_it_looks_like(self) -> None:
        readings = plumbed()
        long = readings[12]["values"][0]
        self.assertIn("100.0 mm misread", self.looks(12, long + 100))
        self.assertIn("one inch", self.looks(12, long - 25.4))
        self.assertIn("sign", self.looks(1, -readings[1]["values"][0]))
        self.assertIn("inches written down", self.looks(12, long / 25.4))
        self.assertIn("a figure too many", self.looks(12, long * 10))

    def test_the_edge_of_a_bolt(self) -> None:
        again = [{"kind": "height", "of": "A", "values": [300.0], "sigma": 0.3} for _ in range(3)]
        told = worked(job([*again, {"kind": "height", "of": "A", "values": [306.5]}]))
        said = told.readings[3]
        assert said.slip is not None
        self.assertIn("edge of a bolt", str(said.slip.say))
        self.assertIsNone(said.slip.mended)

    def test_what_it_should_have_been_is_what_all_others_say(self) -> None:
        readings = plumbed()
        true = readings[13]["values"][0]
        readings[13]["values"] = [true + 60]
        said = worked(job(readings)).readings[13]
        self.assertAlmostEqual(said.would_be or 0.0, true, places=3)
        self.assertAlmostEqual(said.residual, 60.0, places=3)
        self.assertGreater(said.w or 0.0, 3.29)

    def test_a_reading_far_from_the_drawing_is_asked_about(self) -> None:
        asked = {
            24.6: "Inches?",
            0.625: "Metres?",
            62.0: "a figure left out?",
        }
        for read, words in asked.items():
            told = worked(job([{"kind": "distance", "between": ["A", "B"], "values": [read / 625 * 820]}]))
            self.assertIn(words, str(told.readings[0].asked))
        self.assertIsNone(worked(job(plumbed())).readings[12].asked)

    def test_a_reading_left_out_by_hand_says_nothing_and_does_nothing(self) -> None:
        readings = plumbed()
        readings[12] |= {"values": [5.0], "left_out": True}
        told = worked(job(readings))
        self.assertEqual(told.adjusted.suspects, ())
        self.assertIsNone(told.readings[12].w)


class Next(unittest.TestCase):
    def test_the_gain_is_what_adjusting_again_gives(self) -> None:
        values = job(plumbed()[:12])
        told = worked(values)
        wanted = wanted_of(told.project, told.adjusted, Aim(figure="every place"))
        assert wanted is not None
        best = worth_reading(told.adjusted, wanted)
        self.assertTrue(best)
        for one in best:
            reading = {"kind": one.kind, "values": [one.would_be]}
            reading |= {"of": one.places[0]} if len(one.places) == 1 else {"between": list(one.places)}
            again = worked(job([*plumbed()[:12], reading])).adjusted.fit
            then = np.sqrt((again.sigma**2).mean())
            self.assertAlmostEqual(then, one.then or 0.0, places=6)
            self.assertLess(then, one.now or 0.0)

    def test_ride_height_is_weighed_by_the_engines_own_slopes(self) -> None:
        station = samples.arm()
        names = [f"{station['name']}/{point}" for point in station["points"]]
        places = {
            f"{station['name']}/{point}": np.array(spot, dtype=float)
            for point, spot in station["points"].items()
        }
        readings = survey_of(places, [{"kind": kind, "of": name} for name in names for kind in SINGLES])[
            "readings"
        ]
        told = worked(job(readings))
        wanted = wanted_of(told.project, told.adjusted, Aim(figure="ride height", of=station["name"]))
        assert wanted is not None
        now = worth_reading(told.adjusted, wanted)[0].now
        slopes = wanted.slopes.reshape(1, -1)
        sigma = told.adjusted.fit.sigma.ravel()
        self.assertAlmostEqual(now or 0.0, float(np.sqrt((slopes**2 * sigma**2).sum())), places=6)

    def test_what_is_loose_is_wanted_first_and_told_as_not_known(self) -> None:
        told = worked(job([*plumbed("ABC"), {"kind": "height", "of": "D", "values": [310]}]))
        wanted = wanted_of(told.project, told.adjusted, Aim(figure="every place"))
        assert wanted is not None
        best = worth_reading(told.adjusted, wanted)[0]
        self.assertIsNone(best.now)
        self.assertIn("D", best.places)
        self.assertGreater(DRAWN_MM, 50)


class Square(unittest.TestCase):
    def test_a_frame_out_of_square_by_what_was_built_in(self) -> None:
        marks = {name: list(spot) for name, spot in MARKS.items()}
        marks["A"][0] += 8
        places = {name: np.array(spot) for name, spot in marks.items()}
        blank = [{"kind": kind, "of": name} for name in "ABCD" for kind in SINGLES]
        readings = survey_of(places, blank)["readings"]
        readings += [
            {"kind": "mirrored", "pair": ["A", "B"], "left_out": True},
            {"kind": "mirrored", "pair": ["C", "D"], "left_out": True},
        ]
        told = worked(job(readings))
        (frame,) = told.squares
        out = np.linalg.norm(places["A"] - places["D"]) - np.linalg.norm(places["B"] - places["C"])
        self.assertAlmostEqual(frame.out, float(out), places=3)
        self.assertIn("from A to D", str(frame.say))
        self.assertEqual(frame.mark, "fault")
        side = told.sides[0]
        self.assertEqual((side.left, side.right), ("A", "B"))
        np.testing.assert_allclose(side.apart, [8, 0, 0], atol=1e-6)

    def test_within_the_tapes_error_it_is_square_as_far_as_can_be_told(self) -> None:
        readings = [
            *plumbed(),
            {"kind": "mirrored", "pair": ["A", "B"]},
            {"kind": "mirrored", "pair": ["C", "D"]},
        ]
        told = worked(job(readings))
        self.assertTrue(all(one.mark == "good" for one in [*told.squares, *told.sides]))


class Guards(unittest.TestCase):
    def guard(self, before: list[float], after: list[float]) -> Any:
        guard = {"name": "rear", "between": ["C", "B"], "before": before, "after": after}
        (told,) = guarded(check_project(job([], guards=[guard])).survey)  # type: ignore[arg-type]
        return told

    def test_a_frame_that_has_sprung_stops_the_job(self) -> None:
        told = self.guard([1210.5], [1207.0])
        self.assertEqual((told.state, told.by), ("moved", -3.5))
        self.assertIn("3.5 mm shorter than before the cut: stop, and pull it back", str(told.say))
        self.assertEqual(self.guard([1210.5], [1210.0]).state, "held")
        self.assertEqual(self.guard([1210.5], []).state, "open")

    def test_reading_more_often_tells_less(self) -> None:
        self.assertEqual(self.guard([1210.0], [1212.2]).state, "held")
        self.assertEqual(self.guard([1210.0] * 4, [1212.2] * 4).state, "moved")


class Pictures(unittest.TestCase):
    def test_places_picked_in_a_turned_picture_are_found(self) -> None:
        spots = {
            "A": [0.0, 400.0, 300.0],
            "B": [600.0, 400.0, 320.0],
            "C": [300.0, 400.0, 700.0],
            "D": [120.0, 400.0, 520.0],
        }
        turn, scale = np.radians(3.0), 0.5  # mm a pixel
        picked = {}
        for name, (x, _, z) in spots.items():
            right, up = -x, z
            u = (np.cos(turn) * right + np.sin(turn) * up) / scale + 2000
            w = (-np.sin(turn) * right + np.cos(turn) * up) / scale
            picked[name] = [float(u), float(1800 - w)]
        length = float(np.hypot(600, 20))
        photo = {
            "name": "left",
            "plane": "side",
            "picked": picked,
            "reference": {"ends": [picked["A"], picked["B"]], "length": length},
        }
        readings = [
            {"kind": kind, "of": name, "values": [spots[name][axis]]}
            for name in "AB"
            for axis, kind in ((0, "fore_aft"), (2, "height"))
        ]
        readings += [{"kind": "offset", "of": name, "values": [400]} for name in "ABCD"]
        marks = {name: [x + 12, y, z - 9] for name, (x, y, z) in spots.items()}
        told = worked(job(readings, marks, photos=[photo]))
        self.assertEqual(told.loose, [])
        for name in "CD":
            np.testing.assert_allclose(
                told.adjusted.fit.spots[told.network.index[name]], spots[name], atol=1e-3
            )
        (picture,) = told.pictures
        self.assertAlmostEqual(picture.mm_per_pixel, scale, places=5)
        self.assertAlmostEqual(abs(picture.turned), 3.0, places=4)


class WrongPicks(unittest.TestCase):
    def test_a_place_picked_wrong_is_named_and_no_tape_is_accused(self) -> None:
        names = "ABCD"
        picked = {name: [2000.0 - 2 * MARKS[name][0], 1800.0 - 2 * MARKS[name][2]] for name in names}
        picked["D"][1] += 90
        reference = {"ends": [picked["A"], picked["C"]], "length": float(np.hypot(1800, 10))}
        photo = {"name": "left", "plane": "side", "picked": picked, "reference": reference}
        told = worked(job(plumbed(), photos=[photo]))
        # The height of the same place would explain it as well: named with it, and never alone.
        self.assertFalse([one for one in told.adjusted.suspects if one.alone])
        (picture,) = told.pictures
        self.assertIn("D", picture.suspects)
        self.assertFalse(picture.fits)
        self.assertIn("not fit", str(told.verdict[1]))


class Taken(unittest.TestCase):
    def test_places_and_their_errors_go_into_the_job(self) -> None:
        station = samples.arm()
        moved = {
            point: np.array(spot, dtype=float) + np.array([2.0, 0, -3.0])
            for point, spot in station["points"].items()
        }
        places = {f"{station['name']}/{point}": spot for point, spot in moved.items()}
        readings = survey_of(places, [{"kind": kind, "of": name} for name in places for kind in SINGLES])[
            "readings"
        ]
        values = job(readings)
        told = worked(values)
        moves = moves_of(told)
        after = taken_in(values, moves)
        for point, spot in moved.items():
            np.testing.assert_allclose(after["stations"][0]["points"][point], spot, atol=0.01)
            self.assertGreater(after["stations"][0]["uncertainty"]["points"][point], 0.9)
        (effect,) = effects_of(told.project, moves)
        assert effect.before is not None and effect.after is not None
        self.assertAlmostEqual(effect.before["wheel_rate"], effect.after["wheel_rate"], places=2)
        self.assertEqual(values["stations"][0]["points"], station["points"])
        check_project(after)

    def test_sides_made_alike(self) -> None:
        left, right = samples.arm(), samples.arm()
        left["name"], right["name"] = "Left", "Right"
        left["other_side"], right["other_side"] = "Right", "Left"
        right["points"] = {point: [x + 6, -y, z] for point, (x, y, z) in right["points"].items()}
        places = {
            f"{s['name']}/{p}": np.array(spot, dtype=float)
            for s in (left, right)
            for p, spot in s["points"].items()
        }
        readings = survey_of(places, [{"kind": kind, "of": name} for name in places for kind in SINGLES])[
            "readings"
        ]
        told = worked({**samples.document(left, right), "survey": {"readings": readings}})
        for alike, x in (("own", 6.0), ("mean", 0.0), ("left", 0.0), ("right", 0.0)):
            moves = {(m.station, m.point): m.after for m in moves_of(told, alike)}  # type: ignore[arg-type]
            one, other = moves["Left", "top"], moves["Right", "top"]
            self.assertAlmostEqual(other[0] - one[0], x, places=2)
            if alike == "left":
                np.testing.assert_allclose(one, left["points"]["top"], atol=0.01)


class Refused(unittest.TestCase):
    def refused(self, readings: list[Values], **more: Any) -> str:
        with self.assertRaises(DocumentRefused) as caught:
            check_project(job(readings, **more))
        return str(caught.exception)

    def test_bad_readings_are_sentences_with_their_path(self) -> None:
        tape = {"kind": "distance", "between": ["A", "B"], "values": [600]}
        for reading, words in (
            ({**tape, "between": ["A", "E"]}, 'survey.readings[0]: there is no place "E"'),
            ({**tape, "between": ["A", "A"]}, 'names "A" twice'),
            ({**tape, "values": [-600]}, "must be greater than 0, got -600"),
            ({**tape, "values": []}, "needs at least 1 entries"),
            ({**tape, "tool": "laser"}, '"laser" is no tool of this survey'),
            (
                {"kind": "angle", "at": "A", "between": ["B", "C"], "values": [400]},
                "must be 180 or less, got 400",
            ),
            ({"kind": "slope", "along": ["A", "B"], "values": [95]}, "must be 90 or less"),
            (
                {"kind": "guess", "values": [1]},
                "has the kind guess, which is not known; give one of distance",
            ),
            ({"values": [1]}, "survey.readings[0]: is missing its `kind`"),
        ):
            self.assertIn(words, self.refused([reading]))
        self.assertIn(
            "is a point of a station already",
            self.refused([], marks={f"{samples.arm()['name']}/top": [0, 0, 0]}),
        )
        guard = {"name": "g", "between": ["A", "A"], "before": [10]}
        self.assertIn("a guard goes between two places", self.refused([], guards=[guard]))

    def test_a_near_miss_is_hinted_at(self) -> None:
        name = samples.arm()["name"]
        self.assertIn(
            f'did you mean "{name}/top"?',
            self.refused([{"kind": "height", "of": f"{name}/tpo", "values": [1]}]),
        )

    def test_nothing_read_and_one_reading_are_no_faults(self) -> None:
        empty = survey_result(check_project(job([])))
        self.assertEqual((empty["points"], empty["suspects"], empty["freedom"]), ({}, [], 0))
        one = survey_result(check_project(job([{"kind": "height", "of": "A", "values": [300]}])))
        self.assertEqual([loose["point"] for loose in one["loose"]], ["A"])
        self.assertIsNone(one["scale"])


if __name__ == "__main__":
    unittest.main()
