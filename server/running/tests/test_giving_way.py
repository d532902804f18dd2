"""Long work takes only what is left where a shop is served, and its share anywhere else."""

import os
import subprocess
import sys
import unittest

SAID = """
import os
from server.running.giving_way import give_way
give_way()
print(os.sched_getscheduler(0), os.nice(0))
"""


@unittest.skipUnless(hasattr(os, "SCHED_IDLE"), "this system knows no idle class")
class GivingWay(unittest.TestCase):
    def told(self, served: str) -> list[int]:
        env = {**os.environ, "JUGATRIX_SERVED": served}
        done = subprocess.run(
            [sys.executable, "-c", SAID], env=env, capture_output=True, text=True, check=True
        )
        return [int(word) for word in done.stdout.split()]

    def test_served_it_is_of_the_idle_class(self) -> None:
        self.assertEqual(self.told("1")[0], os.SCHED_IDLE)

    def test_by_itself_it_is_nicer_and_has_its_share(self) -> None:
        scheduler, nice = self.told("")
        self.assertEqual(scheduler, os.SCHED_OTHER)
        self.assertGreater(nice, 5)
