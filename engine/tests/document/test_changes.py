"""What differs between two documents, in the words of the job."""

import copy
import unittest

from engine.document.changes import changes_between
from engine.tests import samples


class Changes(unittest.TestCase):
    def setUp(self) -> None:
        self.before = samples.document(samples.pushrod_corner(), samples.arm())
        self.after = copy.deepcopy(self.before)
        self.corner = self.after["stations"][0]

    def found(self) -> list[tuple[str, str, object, object, object]]:
        return [
            (c["what"], c["subject"], c["before"], c["after"], c["measures"])
            for c in changes_between(self.before, self.after)
        ]

    def test_nothing(self) -> None:
        self.assertEqual(self.found(), [])

    def test_a_moved_point_comes_with_both_places(self) -> None:
        self.corner["points"]["push_top"] = [4, 352, 457]
        self.assertEqual(self.found(), [("point", "push_top", [4, 352, 452], [4, 352, 457], "length")])

    def test_points_added_and_removed(self) -> None:
        self.corner["points"]["clip"] = [1, 2, 3]
        del self.corner["points"]["rack"]
        self.assertEqual(
            self.found(),
            [
                ("point", "rack", [-92, 262, 186], None, "length"),
                ("point", "clip", None, [1, 2, 3], "length"),
            ],
        )

    def test_values_deep_inside_carry_what_they_measure(self) -> None:
        self.corner["units"][0]["springs"][0]["rate"] = 80
        self.corner["units"][0]["gas_force"] = 120
        self.corner["mass"]["unsprung"] = 31
        self.corner["travel"]["bump"] = 45
        self.corner["links"] = {"pushrod": {"length": 386.5}}
        measured = {(what, subject): measures for what, subject, _, _, measures in self.found()}
        self.assertEqual(
            measured,
            {
                ("rate", "units · coilover · springs · [1]"): "rate",
                ("gas_force", "units · coilover"): "force",
                ("unsprung", "mass"): "mass",
                ("bump", "travel"): "length",
                ("length", "links · pushrod"): "length",
            },
        )

    def test_words_and_lists_are_shown_as_they_are(self) -> None:
        self.after["name"] = "Another name"
        self.corner["chassis"] = self.corner["chassis"][1:]
        self.corner["note"] = "bench"
        kinds = {what: measures for what, _, _, _, measures in self.found()}
        self.assertEqual(kinds, {"name": None, "chassis": None, "note": None})

    def test_units_are_matched_by_name_not_by_place(self) -> None:
        extra = samples.coilover("second", "damper_eye", "damper_anchor", 300, 200, 10)
        self.corner["units"].insert(0, extra)
        subjects = {subject for _, subject, _, _, _ in self.found()}
        self.assertTrue(all("second" in subject for subject in subjects), subjects)

    def test_stations_added_and_removed(self) -> None:
        self.after["stations"] = [self.corner, samples.axle()]
        self.assertEqual(
            [(what, subject) for what, subject, *_ in self.found()],
            [("station removed", "arm"), ("station added", "axle")],
        )

    def test_it_reads_the_same_backwards(self) -> None:
        self.corner["points"]["push_top"] = [4, 352, 457]
        self.corner["mass"]["corner"] = 240
        there, back = changes_between(self.before, self.after), changes_between(self.after, self.before)
        self.assertEqual(
            [(c["before"], c["after"]) for c in there], [(c["after"], c["before"]) for c in back]
        )
