"""A study takes only what is left where a shop is served; what a person waits for has its share, behind those who answer."""

import os
import subprocess
import sys
import unittest

SAID = """
import os
from server.running.giving_way import give_way, leave_all
{}()
print(os.sched_getscheduler(0), os.nice(0))
"""


@unittest.skipUnless(hasattr(os, "SCHED_IDLE"), "this system knows no idle class")
class GivingWay(unittest.TestCase):
    def told(self, how: str, served: str) -> list[int]:
        env = {**os.environ, "JUGATRIX_SERVED": served}
        done = subprocess.run(
            [sys.executable, "-c", SAID.format(how)], env=env, capture_output=True, text=True, check=True
        )
        return [int(word) for word in done.stdout.split()]

    def test_a_study_is_of_the_idle_class_where_a_shop_is_served(self) -> None:
        self.assertEqual(self.told("leave_all", "1")[0], os.SCHED_IDLE)
        scheduler, nice = self.told("leave_all", "")
        self.assertEqual(scheduler, os.SCHED_OTHER)
        self.assertGreater(nice, 5)

    def test_what_a_person_waits_for_is_nicer_and_never_idle(self) -> None:
        for served in ("", "1"):
            scheduler, nice = self.told("give_way", served)
            self.assertEqual(scheduler, os.SCHED_BATCH)
            self.assertGreater(nice, 5)
