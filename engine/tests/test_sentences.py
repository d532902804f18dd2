"""Sentences keep their numbers, and numbers say their unit."""

import unittest

from engine.sentences import Quantity, Sentence, force, length, listed, spoken, travel


class Sentences(unittest.TestCase):
    def test_quantities_say_their_unit(self) -> None:
        for quantity, text in (
            (length(12.345), "12.3 mm"),
            (travel(12.345), "+12.3 mm"),
            (travel(-0.04), "0.0 mm"),
            (travel(-7.25), "-7.2 mm"),
            (force(1971.3), "1971 N"),
            (Quantity(29.993, "rate"), "29.99 N/mm"),
            (Quantity(91.04, "angle"), "91.0°"),
            (Quantity(1.934, "frequency"), "1.93 Hz"),
        ):
            self.assertEqual(str(quantity), text)

    def test_an_inch_shop_reads_inches_and_pounds(self) -> None:
        for quantity, text in (
            (length(254.0), "10.00 in"),
            (travel(-25.4), "-1.00 in"),
            (travel(-0.04), "0.00 in"),
            (force(444.822), "100 lbf"),
            (Quantity(17.51268, "rate"), "100.0 lb/in"),
            (Quantity(45.359237, "mass"), "100 lb"),
            (Quantity(6.894757, "pressure"), "100.0 psi"),
            (Quantity(91.04, "angle"), "91.0°"),
        ):
            self.assertEqual(quantity.told(inches=True), text)
        self.assertEqual(
            Sentence("{0} moved {by}.", {"by": travel(12.7)}, ("top_eye",)).told(True),
            "Top eye moved +0.50 in.",
        )

    def test_a_sentence_fills_its_places(self) -> None:
        sentence = Sentence(
            "The strap stops droop {gap} before {end}.", {"gap": length(7), "end": travel(-40)}
        )
        self.assertEqual(str(sentence), "The strap stops droop 7.0 mm before -40.0 mm.")

    def test_names_are_said_as_words(self) -> None:
        self.assertEqual(spoken("lower_arm"), "lower arm")
        self.assertEqual(listed(["tie_rod"]), "tie rod")
        self.assertEqual(listed(("lower_arm", "upright", "tie_rod")), "lower arm, upright and tie rod")
