"""Findings asked twice, without clearances and then with them: the same as asked at once, and nothing found twice."""

import unittest
from dataclasses import replace
from unittest import mock

from engine.findings import judge as judging
from engine.findings.finding import rules_of
from engine.findings.judge import judge
from engine.station.solved import solve_station
from engine.tests import samples
from engine.workup import WorkUp


class Second(unittest.TestCase):
    def test_the_same_as_asked_at_once_whatever_came_first(self) -> None:
        for name, values in samples.every_linkage().items():
            with self.subTest(station=name):
                solved = solve_station(samples.station(values))
                at_once = judge(solved, work=WorkUp(solved))
                quick = WorkUp(solved, rooms=False)
                without = judge(solved, work=quick)
                self.assertEqual(judge(solved, work=quick.with_rooms()), at_once)
                self.assertEqual(judge(solved, work=quick), without)

    def test_what_clearances_do_not_change_is_found_once_by_each_set_of_rules(self) -> None:
        solved = solve_station(samples.station(samples.pushrod_corner()))
        quick = WorkUp(solved, rooms=False)
        strict = replace(rules_of(), purpose="circuit")
        with mock.patch.object(judging, "judge_wheels", wraps=judging.judge_wheels) as asked:
            for work in (quick, quick.with_rooms(), quick.with_rooms().with_rooms()):
                judge(solved, work=work)
                judge(solved, strict, work)
        self.assertEqual(asked.call_count, 2)
        self.assertIsNot(quick.with_rooms().ledger, quick.ledger)


if __name__ == "__main__":
    unittest.main()
