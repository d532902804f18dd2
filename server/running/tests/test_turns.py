"""Who asks at once is answered one after another, by whoever is free, and is let go of where he stood in a queue."""

import threading
import time
from types import SimpleNamespace
from typing import Any
from unittest import mock

from django.test import SimpleTestCase
from gunicorn.workers.gthread import ThreadWorker

from server.keeping.serve import Shared
from server.running import turns
from server.running.turns import TURN, turn


def waited(seconds: float) -> None:
    """Take a turn that somebody else has for so long."""
    TURN.acquire()
    threading.Timer(seconds, TURN.release).start()
    with turn():
        pass


def one_of(workers: int) -> Shared:
    worker = Shared.__new__(Shared)
    worker.cfg = SimpleNamespace(workers=workers)
    return worker


class Turns(SimpleTestCase):
    def test_nobody_waits_long_behind_a_job_that_takes_long(self) -> None:
        began = time.monotonic()
        with mock.patch("server.running.turns.PATIENCE_S", 0.1), TURN, turn():  # somebody else's
            self.assertLess(time.monotonic() - began, 1.0)
            self.assertTrue(turns.busy())
        self.assertFalse(turns.busy())

    def test_only_a_question_that_waited_stood_in_a_queue_and_only_that_question(self) -> None:
        question = turns.begin()
        with turn():
            pass
        self.assertFalse(question.crowded)
        waited(0.1)
        self.assertTrue(question.crowded)
        self.assertFalse(turns.begin().crowded)

    def test_the_line_of_a_question_that_stood_in_a_queue_is_closed_after_it(self) -> None:
        worker = one_of(2)
        for seconds, wanted, closed in ((0.1, False, True), (0.0, False, False), (0.0, True, True)):
            request = SimpleNamespace(should_close=lambda wanted=wanted: wanted)

            def answered(_: Any, req: Any, conn: Any, seconds: float = seconds) -> bool:
                if seconds:
                    waited(seconds)
                return not req.should_close()

            with mock.patch.object(ThreadWorker, "handle_request", answered):
                self.assertIs(worker.handle_request(request, None), not closed)
        # What the thread answers later says nothing of the request that it answered before.
        self.assertTrue(request.should_close())
        request = SimpleNamespace(should_close=lambda: False)
        with mock.patch.object(ThreadWorker, "handle_request", lambda *_: True):
            worker.handle_request(request, None)
        turns.begin()
        waited(0.1)
        self.assertFalse(request.should_close())

    def test_who_works_leaves_a_caller_to_the_others_for_a_moment(self) -> None:
        worker = one_of(2)
        with (
            mock.patch.object(ThreadWorker, "accept") as taken,
            mock.patch("server.keeping.serve.time.sleep") as slept,
        ):
            worker.accept(mock.sentinel.listener)
            slept.assert_not_called()
            with TURN:
                worker.accept(mock.sentinel.listener)
            slept.assert_called_once()
            with TURN:  # alone there is nobody to leave him to
                one_of(1).accept(mock.sentinel.listener)
            slept.assert_called_once()
        self.assertEqual(taken.call_args_list, [mock.call(mock.sentinel.listener)] * 3)

    def test_who_answers_alone_keeps_every_line(self) -> None:
        request = SimpleNamespace(should_close=lambda: False)

        def answered(_: Any, req: Any, conn: Any) -> bool:
            waited(0.1)
            return not req.should_close()

        with mock.patch.object(ThreadWorker, "handle_request", answered):
            self.assertTrue(one_of(1).handle_request(request, None))
