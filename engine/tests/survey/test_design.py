"""The list designed: every reading of it checked by others, and a misread one found by nothing but the list itself."""

import copy
import unittest
from collections import Counter
from functools import cache

import numpy as np

from engine.document.check_survey import drawn_places
from engine.document.read import check_project
from engine.document.schema import Station
from engine.document.survey import USUAL_ERRORS, USUAL_TOOL, Survey
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.survey.adjust import SLIP, Adjusted, adjust, fitted, slip_beyond
from engine.survey.kinds import READS
from engine.survey.network import Network
from engine.survey.plan import LEAST, Plan, survey_plan
from engine.survey.taking import moves_of
from engine.survey.worked import WorkedSurvey

SIGNED = ("offset", "fore_aft", "rise")


@cache
def stations() -> list[tuple[str, Station, Plan]]:
    found = []
    for layout in LAYOUTS:
        station = check_project(starting_project(layout)).stations[0]
        found.append((layout.name, station, survey_plan(station)))
    return found


def readings_of(
    plan: Plan, spots: dict[str, np.ndarray], rng: np.random.Generator | None
) -> list[dict[str, object]]:
    found: list[dict[str, object]] = []
    for one in plan.readings:
        value = float(READS[one.kind](np.array([[spots[name] for name in one.places]]))[0][0, 0])
        if rng is not None:
            value += USUAL_ERRORS[USUAL_TOOL[one.kind]] * rng.normal()
        where = {"of": one.places[0]} if len(one.places) == 1 else {"between": list(one.places)}
        found.append({"kind": one.kind, **where, "values": [value]})
    return found


def drawn_of(station: Station, plan: Plan) -> dict[str, list[float]]:
    return {f"{station.name}/{point}": list(spot) for point, spot in station.points.items()} | {
        name: list(spot) for name, spot in plan.marks.items()
    }


def misread(value: float, signed: bool, rng: np.random.Generator) -> float:
    """Return what somebody writes down instead: 20 to 200 mm off, a digit turned, an inch for a centimetre."""
    kind = rng.integers(3)
    figures = f"{abs(value):.0f}"
    wrong = value + float(rng.uniform(20, 200)) * float(rng.choice([-1, 1]))
    if kind == 1 and len(figures) > 1:
        k = int(rng.integers(len(figures) - 1))
        turned = figures[:k] + figures[k + 1] + figures[k] + figures[k + 2 :]
        if abs(float(turned) - abs(value)) > 15:
            wrong = float(turned) * (1 if value >= 0 else -1)
    elif kind == 2 and abs(value) > 60:
        wrong = value / 2.54
    return wrong if signed or wrong > 0 else value + abs(wrong - value)


class Designed(unittest.TestCase):
    def test_every_reading_is_checked_by_others_and_the_list_is_no_longer_than_it_has_to_be(self) -> None:
        for name, station, plan in stations():
            rows = readings_of(plan, {k: np.array(v) for k, v in drawn_of(station, plan).items()}, None)
            network = Network(Survey.model_validate({"readings": rows}), drawn_of(station, plan))
            # By the adjustment itself, not by the list's own sums.
            fit = fitted(network, np.ones(network.rows, dtype=bool))
            self.assertFalse(fit.loose.any(), name)
            told = [fit.redundancy[network.row_of[k]] for k in range(len(rows))]
            self.assertGreaterEqual(min(told), LEAST, name)
            for one, share in zip(plan.readings, told, strict=True):
                self.assertAlmostEqual(one.redundancy, share, places=4)
                self.assertTrue(one.why and one.hint)
            # So many readings have to spare three tenths of themselves each: fewer than these no list can have.
            fewest = network.columns / (1 - LEAST)
            self.assertLess(len(rows), 1.6 * fewest, name)

    def test_a_misread_one_is_named_alone_or_tied_and_never_a_good_one_alone(self) -> None:
        rng = np.random.default_rng(20)
        ends: Counter[str] = Counter()
        for _, station, plan in stations():
            drawn = drawn_of(station, plan)
            for _ in range(4):
                spots = {name: np.array(spot) + rng.normal(0, 5, 3) for name, spot in drawn.items()}
                rows = readings_of(plan, spots, rng)
                wrong = int(rng.integers(len(rows)))
                right = float(rows[wrong]["values"][0])  # type: ignore[index]
                rows[wrong]["values"] = [misread(right, rows[wrong]["kind"] in SIGNED, rng)]
                adjusted = adjust(Network(Survey.model_validate({"readings": rows}), drawn))
                ends[self.ended(adjusted, wrong)] += 1
        self.assertGreaterEqual(ends["right"], 0.95 * ends.total(), ends)
        self.assertLessEqual(ends["good alone"], 0.013 * ends.total(), ends)

    def ended(self, adjusted: Adjusted, wrong: int) -> str:
        if any(one.alone and one.number != wrong for one in adjusted.suspects):
            return "good alone"
        return "right" if wrong in {one.number for one in adjusted.suspects} else "not found"

    def test_slips_of_6_to_60_mm_are_never_blamed_on_what_hardly_anything_checks(self) -> None:
        rng = np.random.default_rng(8)
        seen = 0
        for name in ("wishbones-lower", "five-link"):
            station = check_project(starting_project(layout_named(name))).stations[0]
            plan = survey_plan(station)
            drawn = drawn_of(station, plan)
            # Half of what checks is left out: some readings are now weak.
            kept = [k for k, one in enumerate(plan.readings) if not one.extra or rng.random() < 0.4]
            for _ in range(10):
                spots = {place: np.array(spot) + rng.normal(0, 5, 3) for place, spot in drawn.items()}
                rows = [readings_of(plan, spots, rng)[k] for k in kept]
                wrong = int(rng.integers(len(rows)))
                off = float(rng.uniform(6, 60)) * float(rng.choice([-1, 1]))
                rows[wrong]["values"] = [float(rows[wrong]["values"][0]) + off]  # type: ignore[index]
                if rows[wrong]["values"][0] <= 0 and rows[wrong]["kind"] not in SIGNED:  # type: ignore[index]
                    continue
                network = Network(Survey.model_validate({"readings": rows}), drawn)
                adjusted = adjust(network)
                before = fitted(network, np.ones(network.rows, dtype=bool))
                share = float(before.redundancy[network.row_of[wrong]])
                for one in adjusted.suspects:
                    self.assertTrue(one.number == wrong or not one.alone, f"{one} {wrong}")
                    self.assertTrue(one.redundancy >= 0.1 or not one.alone)
                shows = abs(off) * np.sqrt(share) / float(network.sigma[network.row_of[wrong]])
                if share > 0.15 and shows > 2 * slip_beyond(len(rows)):
                    seen += 1
                    self.assertIn(wrong, [one.number for one in adjusted.suspects])
        self.assertGreater(seen, 6)

    def test_of_many_readings_one_survey_in_a_hundred_has_a_false_alarm(self) -> None:
        self.assertEqual(slip_beyond(5), SLIP)
        rng = np.random.default_rng(2)
        draws = np.abs(rng.normal(size=(4000, 90))).max(axis=1)
        self.assertAlmostEqual(float((draws > slip_beyond(90)).mean()), 0.01, delta=0.005)


class Told(unittest.TestCase):
    def project(self, readings: list[dict[str, object]]) -> WorkedSurvey:
        values = copy.deepcopy(starting_project(layout_named("wishbones-lower")))
        return WorkedSurvey(check_project({**values, "survey": {"readings": readings}}))

    def test_nothing_is_accused_and_no_others_are_quoted_before_there_are_any(self) -> None:
        name = check_project(starting_project(layout_named("wishbones-lower"))).stations[0].name
        first = self.project(
            [{"kind": "distance", "between": [f"{name}/top", f"{name}/lower_front"], "values": [640.0]}]
        )
        (told,) = first.readings
        self.assertFalse(told.suspect)
        self.assertIsNone(told.would_be)

    def test_two_that_explain_one_another_are_named_together_without_a_press_to_mend(self) -> None:
        name = check_project(starting_project(layout_named("wishbones-lower"))).stations[0].name
        place = f"{name}/top"
        rows: list[dict[str, object]] = [
            {"kind": "height", "of": place, "values": [500.0]},
            {"kind": "height", "of": place, "values": [540.0]},
            {"kind": "offset", "of": place, "values": [300.0]},
            {"kind": "fore_aft", "of": place, "values": [0.0]},
        ]
        worked = self.project(rows)
        told = worked.readings
        self.assertEqual([one.suspect for one in told], [True, True, False, False])
        self.assertEqual((told[0].tied, told[1].tied), ((1,), (0,)))
        for one in told[:2]:
            assert one.slip is not None
            self.assertIsNone(one.slip.mended)
            self.assertIn("explains it as well", str(one.slip.say))
        self.assertTrue(worked.adjusted.fit.loose[worked.network.index[place]])

    def test_a_place_on_tapes_that_nothing_checks_says_so_as_it_is_taken_in(self) -> None:
        station = check_project(starting_project(layout_named("wishbones-lower"))).stations[0]
        spots = {f"{station.name}/{point}": spot for point, spot in station.points.items()}
        place = f"{station.name}/top"
        rows: list[dict[str, object]] = [
            {"kind": kind, "of": place, "values": [spots[place][axis]]}
            for axis, kind in enumerate(("fore_aft", "offset", "height"))
        ]
        worked = self.project(rows)
        (move,) = moves_of(worked)
        self.assertIn("that nothing checks", str(move.rests))
        again = self.project([*rows, *copy.deepcopy(rows)])
        (checked,) = moves_of(again)
        self.assertIsNone(checked.rests)

    def test_a_place_nearly_in_one_plane_with_its_marks_is_loose(self) -> None:
        marks = {"A": [0, 0, 0], "B": [1000, 0, 0], "C": [0, 1000, 0], "D": [1000, 1000, 0]}
        rows: list[dict[str, object]] = [
            {"kind": kind, "of": mark, "values": [marks[mark][axis]]}
            for mark in marks
            for axis, kind in ((0, "fore_aft"), (1, "offset"))
        ]
        rows += [{"kind": "rise", "between": ["A", other], "values": [0]} for other in "BCD"]
        for high, loose in ((8.0, True), (300.0, False)):
            spot = np.array([400.0, 450.0, high])
            taped: list[dict[str, object]] = [
                {"kind": "distance", "between": [mark, "P"], "values": [float(np.linalg.norm(spot - its))]}
                for mark, its in marks.items()
            ]
            taped.append({"kind": "height", "of": "A", "values": [0.5]})
            survey = {"marks": {**marks, "P": spot.tolist()}, "readings": [*rows, *taped]}
            values = copy.deepcopy(starting_project(layout_named("wishbones-lower")))
            worked = WorkedSurvey(check_project({**values, "survey": survey}))
            self.assertEqual(bool(worked.adjusted.fit.loose[worked.network.index["P"]]), loose, high)
            if loose:
                self.assertIn("one plane", str(worked.loose[0].say))
                self.assertTrue(np.isnan(worked.adjusted.fit.sigma[worked.network.index["P"]]).all())

    def test_the_drawn_places_of_the_list_are_those_of_the_job(self) -> None:
        project = check_project(starting_project(layout_named("pushrod")))
        drawn = drawn_places(project)
        for one in survey_plan(project.stations[0]).readings:
            spots = np.array([[drawn[name] for name in one.places]])
            self.assertAlmostEqual(one.drawn, float(READS[one.kind](spots)[0][0, 0]), places=6)


if __name__ == "__main__":
    unittest.main()
