"""What people say and what is understood: the front end's own parser, run in Node."""

from django.test import SimpleTestCase

from e2e.node import asked

MODULE = "quantity/quantity.ts"
METRIC = {"length": "mm", "rate": "N/mm", "mass": "kg"}
INCH = {"length": "in16", "rate": "lb/in", "mass": "lb"}
DECIMAL = {"length": "in", "rate": "kgf/mm", "mass": "lb"}


class Quantities(SimpleTestCase):
    def test_what_people_say(self) -> None:
        cases = [
            ("365 mm", "length", METRIC, 365),
            ("365", "length", METRIC, 365),
            ("36.5cm", "length", METRIC, 365),
            ("36,5", "length", METRIC, 36.5),
            ("11 5/8", "length", METRIC, 11.625 * 25.4),
            ("11 5/8", "length", INCH, 11.625 * 25.4),
            ("11-5/8 in", "length", INCH, 11.625 * 25.4),
            ("5/8", "length", METRIC, 0.625 * 25.4),
            ("1' 2\"", "length", METRIC, 14 * 25.4),
            ("1' 2 1/2\"", "length", METRIC, 14.5 * 25.4),
            ("1' 2", "length", INCH, 14 * 25.4),
            ("12", "length", INCH, 12 * 25.4),
            ("−3.2", "travel", METRIC, -3.2),
            ("-1/2", "travel", INCH, -12.7),
            ("240 lb/in", "rate", METRIC, 42.03),
            ("9.2 kgf/mm", "rate", METRIC, 90.22),
            ("240", "rate", INCH, 42.03),
            ("42 N/mm", "rate", DECIMAL, 42),
            ("512 lb", "mass", METRIC, 232.24),
            ("232", "mass", METRIC, 232),
            ("35 psi", "pressure", METRIC, 2.413),
            ("90 kgf", "force", METRIC, 882.6),
            ("2°", "angle", METRIC, 2),
        ]
        answers = asked(MODULE, [["parseQuantity", text, what, units] for text, what, units, _ in cases])
        for (text, _, _, wanted), found in zip(cases, answers, strict=True):
            with self.subTest(text):
                self.assertIsInstance(found, dict)
                self.assertIn("value", found)  # type: ignore[arg-type]
                self.assertAlmostEqual(found["value"], wanted, delta=6e-3)  # type: ignore[index]

    def test_how_it_was_understood_is_said_with_its_sign(self) -> None:
        (found,) = asked(MODULE, [["parseQuantity", "-10 1/4", "length", METRIC]])
        self.assertEqual(found["said"], "−10 1/4 in")

    def test_what_is_refused(self) -> None:
        for text, what, words in (
            ("", "length", "Type a number"),
            ("abc", "length", "not a number"),
            ("12 kg", "length", "not a unit for this"),
            ("1/0", "length", "below the line"),
            ("1,250", "length", "1250 or 1.25"),
            ("12 mm 3 mm 4 mm", "length", "more than one number"),
            ("5 5", "mass", "more than one number"),
            ("NaN", "rate", "not a number"),
            ("1e5", "length", "not a unit"),
        ):
            (found,) = asked(MODULE, [["parseQuantity", text, what, METRIC]])
            with self.subTest(text):
                self.assertIn(words, found.get("fault", ""))  # type: ignore[attr-defined]

    def test_how_numbers_are_shown(self) -> None:
        cases = [
            (295.275, "length", INCH, "11 5/8″"),
            (295.275, "length", DECIMAL, "11.625″"),
            (295.275, "length", METRIC, "295.3 mm"),
            (-0.04, "travel", METRIC, "−0.04 mm"),
            (12.7, "travel", INCH, "+1/2″"),
            (-12.7, "travel", METRIC, "−12.7 mm"),
            (42.03, "rate", INCH, "240 lb/in"),
            (90.22, "rate", DECIMAL, "9.20 kgf/mm"),
            (2000, "force", INCH, "450 lbf"),
            (0.6362, "ratio", METRIC, "0.636"),
            (1.934, "frequency", METRIC, "1.93 Hz"),
            (91.42, "angle", METRIC, "91.42°"),
        ]
        answers = asked(MODULE, [["formatQuantity", value, what, units] for value, what, units, _ in cases])
        self.assertEqual(answers, [wanted for *_, wanted in cases])
