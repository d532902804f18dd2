"""Long work in a process of its own: answered, refused, lost and tried once more."""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.test import SimpleTestCase, override_settings

from engine.errors import DocumentRefused, Fault, LinkageDidNotClose, LinkageRefused
from server.answers import ActionRefused
from server.running import workers
from server.running.workers import away, end


def doubled(value: float) -> dict[str, float]:
    return {"twice": 2 * value, "process": os.getpid()}


def refused(kind: str) -> None:
    if kind == "linkage":
        raise LinkageRefused("linkage_loose", "The upright is loose.", ("upright",), "stations[0]")
    if kind == "open":
        raise LinkageDidNotClose(12.0, "lower_arm", 3.0, "stations[1]")
    if kind == "document":
        raise DocumentRefused([Fault("stations[0].name", "must not be empty")])
    raise ActionRefused(422, "not_a_candidate", "These are no candidates.", many=3)


def lost_once(marker: str) -> str:
    if not Path(marker).exists():
        Path(marker).write_text("x")
        os._exit(9)
    return "done"


def slow(seconds: float) -> None:
    time.sleep(seconds)


def lost() -> None:
    os._exit(9)


@override_settings(LONG_WORK_APART=True)
class Workers(SimpleTestCase):
    @classmethod
    def tearDownClass(cls) -> None:
        end()
        super().tearDownClass()

    def test_it_is_worked_out_elsewhere(self) -> None:
        answer = away(doubled, 2.5)
        self.assertEqual(answer["twice"], 5.0)
        self.assertNotEqual(answer["process"], os.getpid())
        with override_settings(LONG_WORK_APART=False):
            self.assertEqual(away(doubled, 1.0)["process"], os.getpid())

    def test_what_is_refused_there_is_refused_here_with_all_that_it_says(self) -> None:
        for kind, error, code in (
            ("linkage", LinkageRefused, "linkage_loose"),
            ("open", LinkageDidNotClose, "linkage_did_not_close"),
            ("document", DocumentRefused, "document_refused"),
            ("action", ActionRefused, "not_a_candidate"),
        ):
            with self.assertRaises(error) as here:
                away(refused, kind)
            with self.assertRaises(error) as there:
                refused(kind)
            self.assertEqual(str(here.exception), str(there.exception))
            self.assertEqual(vars(here.exception), vars(there.exception))
            self.assertEqual(here.exception.code, code)

    def test_a_lost_process_is_begun_again_and_lost_twice_is_a_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            self.assertEqual(away(lost_once, str(Path(folder) / "marker")), "done")
        with self.assertLogs("jugatrix.workers", "WARNING"), self.assertRaises(ActionRefused) as refusal:
            away(lost)
        self.assertEqual((refusal.exception.status, refusal.exception.code), (503, "worker_lost"))
        self.assertEqual(away(doubled, 4.0)["twice"], 8.0)

    def test_what_does_not_end_is_given_up_in_a_sentence_and_the_next_is_worked_out(self) -> None:
        first = away(doubled, 1.0)["process"]
        with patch.object(workers, "LONGEST_S", 0.3), self.assertRaises(ActionRefused) as refusal:
            away(slow, 60.0)
        self.assertEqual((refusal.exception.status, refusal.exception.code), (503, "too_slow"))
        after = away(doubled, 2.0)
        self.assertEqual(after["twice"], 4.0)
        self.assertNotEqual(after["process"], first)

    def test_killed_who_asks_leaves_no_process_behind(self) -> None:
        code = (
            "import os, sys; os.environ['JUGATRIX_SERVED'] = '1'\n"
            "import django; django.setup()\n"
            "del os.environ['JUGATRIX_SERVED']\n"  # of the idle class it would wait for all the tests beside it
            "from server.running.tests.test_workers import doubled\n"
            "from server.running.workers import away\n"
            "if __name__ == '__main__':\n"
            "    print(away(doubled, 1.0)['process'], flush=True); sys.stdin.read()\n"
        )
        with tempfile.TemporaryDirectory() as folder:
            script = Path(folder) / "asks.py"
            script.write_text(code)
            env = {**os.environ, "PYTHONPATH": str(settings.ROOT), "JUGATRIX_DATA": folder}
            asks = subprocess.Popen(
                [sys.executable, str(script)],
                env=env,
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                text=True,
            )
            assert asks.stdout is not None
            worker = int(asks.stdout.readline())
            asks.kill()
            asks.communicate()
            for _ in range(50):
                if not Path(f"/proc/{worker}").exists():
                    return
                time.sleep(0.1)
        self.fail("the worker is still there")

    def test_killed_at_any_moment_of_its_start_nothing_is_left(self) -> None:
        code = (
            "import django, sys\n"
            "if __name__ == '__main__':\n"
            "    django.setup()\n"
            "    from server.running.workers import begin\n"
            "    from server.keeping.warm import warm\n"
            "    begin(warm); print('begun', flush=True); sys.stdin.read()\n"
        )
        for after in (0.0, 0.15, 0.5, 1.2):
            with tempfile.TemporaryDirectory() as folder, self.subTest(after=after):
                script = Path(folder) / "asks.py"
                script.write_text(code)
                env = {**os.environ, "PYTHONPATH": str(settings.ROOT), "JUGATRIX_DATA": folder}
                env |= {"JUGATRIX_SERVED": "1", "DJANGO_SETTINGS_MODULE": "server.config.settings"}
                env.pop("JUGATRIX_LONG_WORK_HERE", None)
                asks = subprocess.Popen(
                    [sys.executable, str(script)],
                    env=env,
                    stdin=subprocess.PIPE,
                    stdout=subprocess.PIPE,
                    text=True,
                )
                assert asks.stdout is not None
                self.assertEqual(asks.stdout.readline(), "begun\n")
                time.sleep(after)
                self.assertTrue(left(folder))
                asks.kill()
                asks.communicate()
                until = time.monotonic() + 20
                while left(folder) and time.monotonic() < until:
                    time.sleep(0.2)
                self.assertEqual(left(folder), [])


def left(folder: str) -> list[int]:
    """Return the processes that were started with a data folder."""
    found = []
    for process in Path("/proc").glob("[0-9]*"):
        try:
            if f"JUGATRIX_DATA={folder}".encode() in (process / "environ").read_bytes().split(b"\0"):
                found.append(int(process.name))
        except OSError:
            continue
    return found
