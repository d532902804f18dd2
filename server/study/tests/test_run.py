"""Studies done, stopped, killed, filled up and taken up again: nothing that was found is lost."""

import errno
import io
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor, ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

import pyarrow.parquet as pq
from django.conf import settings
from django.core.management import call_command

from engine.study.chunk import VEHICLES, StudyRefused
from engine.tests import samples
from engine.tests.study.test_study import study, two
from server.study.executors import NoSuchPlace, executor_at, share_of
from server.study.folder import Busy, OtherStudy, StudyFolder, rows_of
from server.study.run import Ran, run
from server.study.waiting import _seat

PARTS = 4
ASKED = study(two(), ("Front left",), frequency={"Front left": 1.5}) | {"candidates": PARTS * VEHICLES}
TEXT = json.dumps(ASKED)


def at_once() -> Executor:
    return ThreadPoolExecutor(1)


class Dies(Executor):
    """An executor that is lost with the first work handed to it."""

    def submit(self, work: Any, /, *values: Any, **more: Any) -> Future[Any]:
        future: Future[Any] = Future()
        future.set_exception(BrokenExecutor("gone"))
        return future


class Studies(TestCase):
    def setUp(self) -> None:
        self.folder = StudyFolder(Path(self.enterContext(tempfile.TemporaryDirectory())) / "study")
        self.folder.begin(TEXT)
        self.addCleanup(lambda: None)

    def run_it(self, made: Any = at_once, tell: Any = lambda ran: None, workers: int = 1) -> Ran:
        return run(self.folder, TEXT, ASKED["candidates"], lambda: workers, lambda _: made(), tell)

    def test_it_is_done_part_by_part_and_kept_as_parquet(self) -> None:
        ran = self.run_it()
        self.assertEqual((ran.parts, ran.done, ran.lost, ran.said), (PARTS, PARTS, [], ""))
        self.assertEqual(self.folder.done(), set(range(PARTS)))
        table = pq.read_table(self.folder.parts / "part-000003.parquet")
        self.assertIn("Front left/frequency", table.column_names)
        front = self.folder.front()
        again = self.folder.grown({}, list(range(PARTS)))
        self.assertEqual(rows_of(front), rows_of(again))
        self.assertEqual(self.folder.state()["vehicles"], PARTS * VEHICLES)

    def test_another_share_of_the_cores_takes_another_pool_and_nothing_is_lost(
        self,
    ) -> None:
        shares = iter([1, 1, 2, 2])
        had: list[int] = []

        def made(many: int) -> Executor:
            had.append(many)
            return ThreadPoolExecutor(many)

        ran = run(self.folder, TEXT, ASKED["candidates"], lambda: next(shares, 2), made)
        self.assertEqual((ran.done, ran.lost), (PARTS, []))
        self.assertEqual(had, [1, 2])
        front = rows_of(self.folder.front())
        alone = StudyFolder(self.folder.path.parent / "alone")
        alone.begin(TEXT)
        run(alone, TEXT, ASKED["candidates"], lambda: 1, lambda _: at_once())
        self.assertEqual(front, rows_of(alone.front()))

    def test_its_share_is_all_while_it_is_alone_and_goes_by_who_works_or_waits(self) -> None:
        line = self.folder.path.parent / "line"
        self.assertEqual(share_of(None, 8), 8)
        self.assertEqual(share_of(line, 8), 8)
        line.mkdir()
        seats = [_seat(line)]
        self.assertEqual(share_of(line, 8), 8)  # its own
        seats.append(_seat(line))
        self.assertEqual((share_of(line, 8), share_of(line, 3), share_of(line, 1)), (4, 1, 1))
        for seat in seats:
            assert seat is not None
            os.close(seat)
        self.assertEqual(share_of(line, 8), 8)

    def test_stopped_and_taken_up_again_it_is_as_if_never_stopped(self) -> None:
        def stop(ran: Ran) -> None:
            self.folder.ask_to_stop()

        with mock.patch("server.study.run.FRONT_S", 0.0):
            first = self.run_it(tell=stop)
        self.assertIn("taken up again", first.said)
        self.assertLess(first.done, PARTS)
        self.folder.may_go_on()
        second = self.run_it()
        self.assertEqual(second.done, PARTS)
        whole = StudyFolder(self.folder.path.with_name("whole"))
        whole.begin(TEXT)
        run(whole, TEXT, ASKED["candidates"], lambda: 1, lambda _: at_once())
        scores = [row["score"] for row in rows_of(whole.front())]
        self.assertEqual([row["score"] for row in rows_of(self.folder.front())], scores)

    def test_a_worker_that_is_killed_is_replaced_and_its_parts_are_done(self) -> None:
        pools: list[ProcessPoolExecutor] = []

        def made() -> Executor:
            pools.append(ProcessPoolExecutor(1))
            if len(pools) == 1:
                pools[0].submit(os.getpid).result()
                threading.Timer(
                    0.3, lambda: [os.kill(pid, signal.SIGKILL) for pid in list(pools[0]._processes)]
                ).start()
            return pools[-1]

        ran = self.run_it(made)
        self.assertEqual((ran.done, ran.lost), (PARTS, []))
        self.assertGreaterEqual(len(pools), 2)

    def test_a_part_that_takes_everybody_down_with_it_is_left_out_and_named(self) -> None:
        made = [Dies(), Dies(), Dies()]
        ran = self.run_it(lambda: made.pop() if made else at_once())
        self.assertEqual(ran.lost, [0])
        self.assertEqual(self.folder.done(), {1, 2, 3})

    def test_a_full_disk_ends_it_in_a_sentence_and_what_was_found_stays(self) -> None:
        keep = StudyFolder.keep

        def full(its: StudyFolder, number: int, columns: Any) -> None:
            if number == 2:
                raise OSError(errno.ENOSPC, "No space left on device")
            keep(its, number, columns)

        with mock.patch.object(StudyFolder, "keep", full):
            ran = self.run_it()
        self.assertIn("The disk is full", ran.said)
        self.assertEqual(self.folder.done(), {0, 1})
        self.assertEqual(self.run_it().done, PARTS)

    def test_half_a_part_is_done_again(self) -> None:
        self.run_it()
        file = self.folder.parts / "part-000001.parquet"
        file.write_bytes(file.read_bytes()[:200])
        self.assertEqual(self.folder.done(), {0, 2, 3})
        self.assertEqual(self.run_it().done, PARTS)

    def test_two_do_not_work_on_one_study_and_a_folder_holds_one(self) -> None:
        with self.folder.held():
            self.assertTrue(self.folder.is_held)
            with self.assertRaises(Busy):
                self.run_it()
        self.assertFalse(self.folder.is_held)
        with self.assertRaisesRegex(OtherStudy, "another study"):
            self.folder.begin(json.dumps({**ASKED, "seed": 9}))

    def test_a_slip_in_the_programme_is_no_lost_worker(self) -> None:
        with (
            mock.patch("server.study.run.done", side_effect=IndexError("a slip")),
            self.assertRaises(IndexError),
        ):
            self.run_it()
        self.assertIn("a fault in the program", self.folder.state()["said"])

    def test_a_station_that_cannot_be_solved_is_said(self) -> None:
        loose = study(
            samples.document(samples.arm() | {"name": "corner"}), ("corner",), frequency={"corner": 1.5}
        )
        bodies = loose["job"]["stations"][0]["bodies"]
        arm = next(iter(bodies))
        bodies[arm] = bodies[arm][1:]
        folder = StudyFolder(self.folder.path.with_name("loose"))
        folder.begin(json.dumps(loose))
        with self.assertRaises(StudyRefused):
            run(folder, json.dumps(loose), VEHICLES, lambda: 1, ProcessPoolExecutor)
        self.assertIn("It cannot be done", folder.state()["said"])


class OnACluster(TestCase):
    """The same parts through dask, whose scheduler is then killed."""

    def setUp(self) -> None:
        self.folder = StudyFolder(Path(self.enterContext(tempfile.TemporaryDirectory())) / "study")
        self.folder.begin(TEXT)

    def test_a_local_cluster_finds_the_same(self) -> None:
        ran = run(self.folder, TEXT, 2 * VEHICLES, lambda: 1, partial(executor_at, "dask"))
        self.assertEqual((ran.done, ran.said), (2, ""))
        plain = StudyFolder(self.folder.path.with_name("plain"))
        plain.begin(TEXT)
        run(plain, TEXT, 2 * VEHICLES, lambda: 1, lambda _: at_once())
        self.assertEqual(rows_of(plain.front()), rows_of(self.folder.front()))

    def test_a_killed_scheduler_loses_nothing_that_was_found(self) -> None:
        scheduler = self._begun("dask_scheduler", "--port", "0", "--no-dashboard", "--host", "127.0.0.1")
        address = self._address(scheduler)
        self._begun(
            "dask_worker", address, "--nthreads", "1", "--nworkers", "1", "--no-dashboard", "--no-nanny"
        )

        def kill(ran: Ran) -> None:
            if ran.done == 1:
                scheduler.kill()

        with (
            mock.patch("server.study.run.FRONT_S", 0.0),
            mock.patch("server.study.executors.DaskExecutor.WAITS_S", 2),
        ):
            ran = run(self.folder, TEXT, ASKED["candidates"], lambda: 1, partial(executor_at, address), kill)
        self.assertIn("What was found is kept", ran.said)
        self.assertGreaterEqual(len(self.folder.done()), 1)
        self.assertEqual(
            run(self.folder, TEXT, ASKED["candidates"], lambda: 1, lambda _: at_once()).done, PARTS
        )

    def _begun(self, what: str, *more: str) -> "subprocess.Popen[str]":
        its = subprocess.Popen(
            [sys.executable, "-m", f"distributed.cli.{what}", *more],
            cwd=settings.ROOT,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE,
            text=True,
        )
        self.addCleanup(its.wait)
        self.addCleanup(its.kill)
        assert its.stderr is not None
        self.addCleanup(its.stderr.close)
        return its

    def _address(self, scheduler: "subprocess.Popen[str]") -> str:
        assert scheduler.stderr is not None
        for line in scheduler.stderr:
            if "Scheduler at:" in line:
                threading.Thread(target=scheduler.stderr.read, daemon=True).start()
                return line.split()[-1]
        raise AssertionError("no scheduler came up")

    def test_a_place_that_is_not_there_is_a_sentence(self) -> None:
        for where, words in (("cloud", "not on “cloud”"), ("tcp://127.0.0.1:9", "No scheduler answers")):
            with (
                mock.patch("server.study.executors.DaskExecutor.WAITS_S", 1),
                self.assertRaisesRegex(NoSuchPlace, words),
            ):
                executor_at(where, 1)


class Command(TestCase):
    def test_the_command_answers_the_front_with_its_best_proved(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "asked.json"
            file.write_text(json.dumps({**ASKED, "candidates": VEHICLES}))
            out = io.StringIO()
            with mock.patch(
                "server.study.management.commands.study.executor_at", lambda on, workers: at_once()
            ):
                call_command("study", str(file), "--quiet", "--proved", "1", stdout=out)
            answer = json.loads(out.getvalue())
            self.assertEqual((answer["format"], answer["done"]), ("jugatrix-front", 1))
            best = answer["front"][0]
            (proof,) = best["proved"]
            self.assertAlmostEqual(
                proof["frequency"], best["stations"]["Front left"]["frequency"], delta=2e-3
            )
            self.assertIn("top", best["changes"]["Front left"]["points"])
            file.write_text(json.dumps({**ASKED, "candidates": 2 * VEHICLES}))
            error = io.StringIO()
            with self.assertRaises(SystemExit) as ended:
                call_command("study", str(file), "--quiet", stdout=out, stderr=error)
            self.assertEqual(ended.exception.code, 2)
            self.assertIn("another study", error.getvalue())
