"""The Brief's one sentence: sums made by hand, and what is missing said."""

import unittest

from engine.document.read import check_project
from engine.findings.brief import brief_of
from engine.tests import samples


def said(values: samples.Values) -> tuple[str, str]:
    mark, sentence = brief_of(check_project(values))
    return mark, str(sentence)


class Brief(unittest.TestCase):
    def test_wheels_and_masses_are_counted_as_they_stand(self) -> None:
        left, axle = samples.arm(), samples.axle()
        left["name"], axle["name"] = "Front", "Rear"
        values = samples.document(left, axle) | {"judging": {"purpose": "sport"}}
        whole = 2 * left["mass"]["corner"] + 2 * axle["mass"]["corner"]
        mark, words = said(values)
        self.assertEqual(mark, "good")
        self.assertIn(f"Its 4 wheels carry {whole:.1f} kg; 1.60 Hz to 2.20 Hz is usual for sport.", words)
        left["other_side"] = "alone"
        self.assertIn("Its 3 wheels", said(values)[1])

    def test_a_variant_does_not_count_and_what_is_to_come_does(self) -> None:
        arm = samples.arm() | {"name": "Rear", "other_side": "alone"}
        lighter = samples.arm() | {"name": "Rear, lighter", "other_side": "alone", "variant_of": "Rear"}
        values = samples.document(arm, lighter)
        values["coming"] = [{"name": "tank", "mass": 30, "carried": {"Rear": 0.5}}]
        values["judging"] = {"frequency_hz": [1.1, 1.3]}
        corner = arm["mass"]["corner"]
        words = said(values)[1]
        self.assertIn(f"Its one wheel carries {corner:.1f} kg, {corner + 15:.1f} kg when finished", words)
        self.assertTrue(words.endswith("1.10 Hz to 1.30 Hz is wanted."), words)

    def test_what_is_missing_is_asked_for(self) -> None:
        mark, words = said(samples.document(samples.arm()))
        self.assertEqual(mark, "warning")
        self.assertIn("Say what it is for", words)
        mark, words = said(samples.document() | {"stations": []})
        self.assertEqual((mark, words), ("warning", "Nothing is carried yet: add a station."))
