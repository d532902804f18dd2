"""Lines held open: told what is new, each once, one thread for all, and gone when nobody is there."""

import queue
import socket
import threading
import time
from typing import Any
from unittest import TestCase

from django.http import HttpRequest, StreamingHttpResponse

from server.running import held_open
from server.running.held_open import GIVEN_AWAY, Feed, HandedOver


class Told(TestCase):
    def setUp(self) -> None:
        self.now = {"a": "1", "b": "7"}
        self.looked: queue.SimpleQueue[set[str]] = queue.SimpleQueue()
        self.turn = threading.Semaphore(0)
        self.feed = Feed(self.look, self.turn.acquire)

    def look(self, keys: set[str]) -> dict[str, str]:
        self.looked.put(keys)
        return {key: value for key, value in self.now.items() if key in keys}

    def pair(self, key: str) -> socket.socket:
        """Return the far end of a line that the feed holds."""
        ours, theirs = socket.socketpair()
        theirs.settimeout(5.0)
        self.addCleanup(theirs.close)
        HandedOver(self.feed, key).take(ours, ours.close)
        return theirs

    def heard(self, line: socket.socket, until: bytes) -> bytes:
        seen = b""
        while not seen.endswith(until):
            more = line.recv(4096)
            if not more:
                break
            seen += more
        return seen

    def on(self) -> None:
        """Have the feed look once more."""
        while not self.looked.empty():
            self.looked.get()
        self.turn.release()
        self.looked.get(timeout=5.0)

    def test_each_is_told_what_is_so_and_then_only_what_is_new_of_its_own(self) -> None:
        one = self.pair("a")
        first = self.heard(one, b"data: 1\n\n")
        self.assertTrue(first.startswith(b"HTTP/1.1 200 OK\r\n"))
        self.assertIn(b"text/event-stream", first)
        self.assertIn(b"\r\n\r\nretry: ", first)
        other = self.pair("b")
        self.on()
        self.heard(other, b"data: 7\n\n")
        self.on()
        self.now["a"] = "2"
        self.on()
        self.assertEqual(self.heard(one, b"data: 2\n\n"), b"data: 2\n\n")
        other.setblocking(False)
        with self.assertRaises(BlockingIOError):
            other.recv(1)

    def test_who_is_gone_is_let_go_of_and_with_the_last_the_thread_ends(self) -> None:
        lines = [self.pair("a") for _ in range(5)]
        for line in lines:
            self.on()
            self.heard(line, b"data: 1\n\n")
        self.assertEqual(self.feed.held(), 5)
        self.on()
        with self.assertRaises(queue.Empty):
            self.looked.get(timeout=0.3)  # one look is for all of them
        for line in lines[:4]:
            line.close()
        self.on()
        self.on()
        self.assertEqual(self.feed.held(), 1)
        lines[4].close()
        self.turn.release(3)
        self.ended()
        # Who comes after that is told as well.
        self.assertIn(b"data: 1", self.heard(self.pair("a"), b"data: 1\n\n"))

    def ended(self) -> None:
        """Wait till nobody is held; then nothing is looked at any more."""
        for _ in range(200):
            if not self.feed.held():
                break
            time.sleep(0.02)
        else:
            self.fail("somebody is held yet")
        self.turn.release()
        time.sleep(0.1)
        while not self.looked.empty():
            self.looked.get()
        self.turn.release()
        with self.assertRaises(queue.Empty):
            self.looked.get(timeout=0.2)

    def test_what_is_not_there_any_more_and_what_cannot_be_looked_at_closes_the_lines(self) -> None:
        line = self.pair("a")
        self.heard(line, b"data: 1\n\n")
        del self.now["a"]
        self.turn.release(2)
        self.assertEqual(self.heard(line, b"never"), b"")
        self.ended()
        self.now = None  # type: ignore[assignment]
        with self.assertLogs("server.running.held_open", "ERROR"):
            line = self.pair("b")
            self.assertNotIn(b"data", self.heard(line, b"never"))
        self.now = {"b": "8"}
        self.assertIn(b"data: 8", self.heard(self.pair("b"), b"data: 8\n\n"))

    def test_who_does_not_read_holds_nobody_up(self) -> None:
        line, other = self.pair("a"), self.pair("b")
        for count in range(6):
            self.now = {"a": "x" * 200_000 + str(count), "b": str(count)}
            self.on()
        self.heard(other, b"data: 5\n\n")
        self.on()
        self.assertEqual(self.feed.held(), 1)
        line.close()

    def asked(self, **meta: Any) -> StreamingHttpResponse:
        request = HttpRequest()
        request.META.update(meta)
        return self.feed.hold(request, "a")

    def test_a_socket_is_given_away_where_it_can_be_and_else_a_thread_stays(self) -> None:
        with self.assertRaises(HandedOver):
            next(iter(self.asked(**{GIVEN_AWAY: object()})))
        answer = self.asked()
        told = iter(answer)
        self.assertEqual(next(told), b"retry: 500\n\n")
        self.assertEqual(next(told), b"data: 1\n\n")
        answer.close()
        self.turn.release(2)
        self.ended()

    def test_beyond_what_is_held_each_is_told_once_and_comes_again(self) -> None:
        self.addCleanup(setattr, held_open, "MOST", held_open.MOST)
        held_open.MOST = 0
        self.assertEqual(list(self.asked()), [b"retry: 3000\n\n", b"data: 1\n\n"])
