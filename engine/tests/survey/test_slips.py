"""Slips by name, one after another, and what is asked of a reading as it is entered."""

import unittest
from typing import Any

import numpy as np

from engine.document.survey import Survey
from engine.survey.adjust import adjust
from engine.survey.network import Network
from engine.survey.slips import asked_about, slip_of

Values = dict[str, Any]
A, B = [0.0, 400.0, 300.0], [812.0, 400.0, 500.0]


def named(reading: Values, would_be: float, more: list[Values] | None = None) -> tuple[str, float | None]:
    """Return what a reading looks like when all others say it should be otherwise."""
    marks = {"A": A, "B": B, "C": [100.0, -300.0, 200.0]}
    survey = Survey.model_validate({"marks": marks, "readings": [reading, *(more or [])]})
    slip = slip_of(adjust(Network(survey, marks)), 0, would_be)
    return ("", None) if slip is None else (str(slip.say), slip.mended)


def tape(value: float) -> Values:
    return {"kind": "distance", "between": ["A", "B"], "values": [value]}


class Named(unittest.TestCase):
    def test_the_slips_of_a_tape(self) -> None:
        for read, would_be, words, mended in (
            (646.0, 636.3, "10.0 mm misread", 636.0),
            (686.4, 636.3, "50.0 mm misread", 636.4),
            (536.0, 636.3, "100.0 mm misread", 636.0),
            (661.9, 636.3, "one inch", 636.5),
            (25.05, 636.3, "inches written down as millimetres", 636.27),
            (63.6, 636.3, "a figure is missing", 636.0),
            (6363.0, 636.3, "a figure too many", 636.3),
            (663.0, 636.3, "two figures were written the wrong way round", 636.0),
        ):
            said, to = named(tape(read), would_be)
            self.assertIn(words, said, f"{read} for {would_be}")
            assert to is not None
            self.assertAlmostEqual(to, mended, delta=0.6)

    def test_what_looks_like_nothing_is_not_guessed_at(self) -> None:
        self.assertEqual(named(tape(671.0), 636.3), ("", None))

    def test_signs_of_what_has_a_side(self) -> None:
        for kind in ("offset", "fore_aft"):
            said, to = named({"kind": kind, "of": "A", "values": [-402.0]}, 401.5)
            self.assertIn("sign is the wrong way round", said)
            self.assertEqual(to, 402.0)
        self.assertIn("sign", named({"kind": "rise", "between": ["A", "B"], "values": [-200]}, 200.2)[0])
        self.assertNotIn("sign", named(tape(636.0), 690.0)[0])

    def test_angles_read_from_the_other_side(self) -> None:
        slope = {"kind": "slope", "along": ["A", "B"], "values": [76.2]}
        said, to = named(slope, 13.9)
        self.assertIn("from the other side", said)
        self.assertAlmostEqual(to or 0, 13.8)
        self.assertIn("ten degrees", named({**slope, "values": [23.8]}, 13.9)[0])

    def test_the_other_place_where_just_one_fits(self) -> None:
        spots = {"A": A, "B": B, "C": [100.0, -300.0, 200.0]}
        held = [
            {"kind": kind, "of": name, "values": [spots[name][axis]]}
            for name in spots
            for axis, kind in ((0, "fore_aft"), (1, "offset"), (2, "height"))
        ]
        apart = float(np.linalg.norm(np.subtract(spots["A"], spots["C"])))
        said, to = named(tape(apart), float(np.linalg.norm(np.subtract(A, B))), held * 3)
        self.assertIn("It fits C instead of B", said)
        self.assertIsNone(to)

    def test_mirror_images_have_no_slips(self) -> None:
        self.assertEqual(named({"kind": "mirrored", "pair": ["A", "B"]}, 0.0), ("", None))


class Asked(unittest.TestCase):
    def asked(self, value: float, drawn: float, kind: str = "distance") -> str:
        reading: Values = {"kind": kind, "values": [value]}
        reading |= (
            {"between": ["A", "B"]}
            if kind in ("distance", "rise")
            else {"along": ["A", "B"]}
            if kind == "slope"
            else {"of": "A"}
        )
        model = Survey.model_validate({"readings": [reading]}).readings[0]
        said = asked_about(model, drawn)
        return "" if said is None else str(said)

    def test_far_readings_are_asked_about_and_near_ones_are_not(self) -> None:
        self.assertEqual(self.asked(640, 612), "")
        self.assertIn("reads 6.0 mm where 612.0 mm is drawn", self.asked(6, 612))
        self.assertIn("Inches?", self.asked(24.1, 612))
        self.assertIn("Metres?", self.asked(0.612, 612))
        self.assertIn("a figure left out?", self.asked(61.2, 612))
        self.assertIn("A figure too many?", self.asked(6120, 612))
        self.assertIn("Feet?", self.asked(2.01, 612))
        self.assertIn("The other side?", self.asked(-410, 402, "offset"))
        self.assertIn("Is it the right place?", self.asked(300, 612))

    def test_angles(self) -> None:
        self.assertEqual(self.asked(20, 13, "slope"), "")
        self.assertIn("From the other end, or the other side?", self.asked(-70, 13, "slope"))


if __name__ == "__main__":
    unittest.main()
