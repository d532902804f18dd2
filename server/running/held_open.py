"""Lines that are held open, by which many are told what is new: each costs a socket, and one thread tells all.

A view answers with `Feed.hold`. Who serves (`keeping.serve.Shared`) gives the socket away to the feed, and its thread
goes on to the next caller. Where a socket cannot be given away (Django's own server, a test's client) a thread stays.
"""

import logging
import queue
import socket
import threading
import time
from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import Any

from django.db import connections
from django.http import HttpRequest, StreamingHttpResponse

MOST = 400  # that one feed holds, as a process opens a thousand files; who comes then is told once, and comes again
HELD_S = 300.0  # then the browser comes anew, and is asked who it is
BEAT_S = 0.05  # from one look to the next at least
STILL_S = 15.0  # between two signs of life: a line that is gone is noticed by them
AGAIN_MS, CROWD_MS = 500, 3000
GIVEN_AWAY = "gunicorn.socket"
HEAD = (
    b"HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\nCache-Control: no-store\r\n"
    b"X-Accel-Buffering: no\r\nX-Content-Type-Options: nosniff\r\nConnection: close\r\n\r\n"
)


class _Watcher(ABC):
    """Somebody who is told what is new of one thing."""

    def __init__(self, key: str) -> None:
        self.key = key
        self._told: str | None = None
        self._until = time.monotonic() + HELD_S
        self._last = time.monotonic()

    def tell(self, now: str | None) -> bool:
        """Say what is so now, if it is not what was said last; return whether anybody is still there."""
        moment = time.monotonic()
        if now is None or moment > self._until or not self.there():
            return False
        if now != self._told:
            words, self._told = f"data: {now}\n\n", now
        elif moment - self._last > STILL_S:
            words = ":\n\n"
        else:
            return True
        self._last = moment
        return self.put(words.encode())

    @abstractmethod
    def there(self) -> bool:
        """Return whether the line is open, as far as is known without saying anything."""

    @abstractmethod
    def put(self, words: bytes) -> bool:
        """Send words; return whether they went."""

    @abstractmethod
    def end(self) -> None:
        """Close the line."""


class _OnSocket(_Watcher):
    """One whose socket was given away."""

    def __init__(self, key: str, line: socket.socket, close: Callable[[], None]) -> None:
        super().__init__(key)
        self._line, self._close = line, close
        line.setblocking(False)

    def there(self) -> bool:
        try:
            return self._line.recv(1, socket.MSG_PEEK) != b""
        except BlockingIOError:
            return True
        except ValueError:
            return True  # TLS looks at nothing ahead: a lost one is noticed when it is told something
        except OSError:
            return False

    def put(self, words: bytes) -> bool:
        try:
            return self._line.send(words) == len(words)
        except OSError:
            return False  # gone, or has not read for so long that nothing more goes in

    def end(self) -> None:
        with suppress(OSError):
            self._close()


class _OnThread(_Watcher):
    """One with whom a thread stays."""

    def __init__(self, key: str) -> None:
        super().__init__(key)
        self._words: queue.SimpleQueue[bytes | None] = queue.SimpleQueue()
        self._gone = threading.Event()

    def there(self) -> bool:
        return not self._gone.is_set()

    def put(self, words: bytes) -> bool:
        self._words.put(words)
        return True

    def end(self) -> None:
        self._words.put(None)

    def words(self) -> Iterator[bytes]:
        """Yield what it is told till the line is closed."""
        try:
            while (words := self._words.get()) is not None:
                yield words
        finally:
            self._gone.set()


class HandedOver(OSError):
    """Raised instead of an answer: who serves gives the socket away, and writes nothing more on it."""

    def __init__(self, feed: "Feed", key: str) -> None:
        super().__init__("given to a feed")
        self._feed, self._key = feed, key

    def take(self, line: socket.socket, close: Callable[[], None]) -> None:
        """Have the line held by the feed, which closes it by what is given for that."""
        watcher = _OnSocket(self._key, line, close)
        if watcher.put(HEAD + _again(AGAIN_MS)):
            self._feed.watch(watcher)
        else:
            watcher.end()


class Feed:
    """What many watch: a thread looks for all of them while there are any.

    look : from the keys that are watched to what is so of each; a key that is not there any more is left out
    wait : returns when it is worth looking again
    """

    def __init__(self, look: Callable[[set[str]], dict[str, str]], wait: Callable[[], Any]) -> None:
        self._look, self._wait = look, wait
        self._watching: list[_Watcher] = []
        self._lock = threading.Lock()
        self._runs = False

    def hold(self, request: HttpRequest, key: str) -> StreamingHttpResponse:
        """Return the answer that tells what is so of a key now, and whatever is new of it as server-sent events."""
        response = StreamingHttpResponse(self._answer(request, key), content_type="text/event-stream")
        response["Cache-Control"] = "no-store"
        response["X-Accel-Buffering"] = "no"
        return response

    def held(self) -> int:
        """Return how many watch."""
        with self._lock:
            return len(self._watching)

    def watch(self, watcher: _Watcher) -> None:
        """Tell somebody what is new from now on."""
        with self._lock:
            self._watching.append(watcher)
            begin, self._runs = not self._runs, True
        if begin:
            threading.Thread(target=self._tell, daemon=True, name="held open").start()

    def _answer(self, request: HttpRequest, key: str) -> Iterator[bytes]:
        if self.held() >= MOST:
            yield _again(CROWD_MS)
            yield from (f"data: {now}\n\n".encode() for now in self._look({key}).values())
            return
        if GIVEN_AWAY in request.META:
            raise HandedOver(self, key)
        yield _again(AGAIN_MS)
        watcher = _OnThread(key)
        self.watch(watcher)
        yield from watcher.words()

    def _tell(self) -> None:
        """Tell all, till nobody watches; where it cannot be looked all lines are closed, and the browsers come again."""
        try:
            while watching := self._watched():
                now = self._look({one.key for one in watching})
                lost = [one for one in watching if not one.tell(now.get(one.key))]
                self._let_go(lost)
                looked = time.monotonic()
                self._wait()
                time.sleep(max(BEAT_S - (time.monotonic() - looked), 0.0))
        except Exception:
            logging.getLogger(__name__).exception("What is watched could not be looked at.")
            with self._lock:
                self._runs = False
                lost, self._watching = self._watching, []
            for one in lost:
                one.end()
        finally:
            connections.close_all()

    def _watched(self) -> list[_Watcher]:
        with self._lock:
            self._runs = bool(self._watching)
            return list(self._watching)

    def _let_go(self, lost: list[_Watcher]) -> None:
        if not lost:
            return
        with self._lock:
            self._watching = [one for one in self._watching if one not in lost]
        for one in lost:
            one.end()


def _again(milliseconds: int) -> bytes:
    """Return after how long a browser whose line was closed comes again."""
    return f"retry: {milliseconds}\n\n".encode()
