"""Curves as they are printed: nothing on anything else, ticks round in the shop's units, the line where the figures are."""

from pathlib import Path
from unittest import TestCase

import numpy as np

from engine.document.read import read_project
from engine.drawing.crossing import collisions
from engine.drawing.curves import Axis, MarkAt, curve_drawing
from engine.station.solved import solve_station

EXAMPLES = Path(__file__).parents[3] / "docs" / "examples"
TRAVEL = "wheel travel"


class Curves(TestCase):
    def test_nothing_lies_on_a_text_for_any_arrangement_in_mm_and_in_inches(self) -> None:
        for path in sorted(EXAMPLES.glob("*.json")):
            (station, *_) = read_project(path.read_bytes()).stations
            solved = solve_station(station)
            rows = solved.taken
            trace = next(iter(rows.units.values()))
            marks = [MarkAt(float(rows.travels[0]), "strap taut"), MarkAt(0.0, "drawn"), MarkAt(3.0, "rides"),
                     MarkAt(float(rows.travels[-1]) - 2.0, "bump stop"), MarkAt(float(rows.travels[-1]), "bottoms")]  # fmt: skip
            for inches in (False, True):
                for words, measures, values in (
                    ("Motion ratio, damper ÷ wheel", "ratio", trace.motion_ratio),
                    ("Wheel rate", "rate", rows.at_wheel.rate),
                    ("Eye to eye", "length", trace.length),
                ):
                    drawing = curve_drawing(
                        Axis(TRAVEL, "travel", inches),
                        Axis(words, measures, inches),
                        rows.travels,
                        values,
                        marks,
                    )
                    lines = [
                        one for one in collisions(drawing) if "a line runs" not in one or "centre" in one
                    ]
                    self.assertEqual(lines, [], (path.name, words, inches))

    def test_the_line_stands_where_the_figures_are_and_ticks_are_round(self) -> None:
        travels = np.linspace(-60.0, 80.0, 29)
        values = 20.0 + 0.05 * travels
        drawing = curve_drawing(Axis(TRAVEL, "travel"), Axis("Wheel rate", "rate"), travels, values)
        (line,) = [one for one in drawing.lines if one.meaning == "outline"]
        ticks = {text.words: text.at for text in drawing.texts}
        # Two ticks of each axis make the scale; every place of the line is read off it.
        x0, x1 = ticks["0"][0], ticks["50"][0]
        y0, y1 = ticks["18"][1], ticks["22"][1]
        for (x, y), at, value in zip(line.through, travels, values, strict=True):
            self.assertAlmostEqual((x - x0) / (x1 - x0) * 50.0, at, places=6)
            shift = ticks["18"][1] - next(
                piece.through[0][1]
                for piece in drawing.lines
                if piece.meaning == "fine"
                and abs(piece.through[0][1] - ticks["18"][1]) < 2.0
                and piece.through[0][1] == piece.through[1][1]
            )
            self.assertAlmostEqual(18.0 + (y - y0 + shift) / (y1 - y0) * 4.0, value, places=6)
        for measures, step in (("rate", 175.1268 / 1000), ("length", 25.4)):
            told = Axis("x", measures, inches=True).ticks(10 * step, 40 * step, 6)
            self.assertGreater(len(told), 3)
            for at, words in told:
                self.assertAlmostEqual(at / Axis("x", measures, inches=True).factor, float(words), places=6)

    def test_a_level_curve_has_ticks_too_and_one_place_is_no_curve(self) -> None:
        flat = curve_drawing(
            Axis(TRAVEL, "travel"),
            Axis("Motion ratio", "ratio"),
            np.array([-10.0, 10.0]),
            np.array([1.0, 1.0]),
        )
        self.assertEqual(collisions(flat), [])
        with self.assertRaises(ValueError):
            curve_drawing(
                Axis(TRAVEL, "travel"), Axis("x", "ratio"), np.array([0.0, 1.0]), np.array([np.nan, 1.0])
            )
