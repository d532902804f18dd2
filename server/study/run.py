"""A study done part by part, wherever its executor is, and kept as it grows: stopped, lost or full, what was found stays."""

import errno
import logging
import time
from collections.abc import Callable
from concurrent.futures import FIRST_COMPLETED, Executor, Future, wait
from dataclasses import dataclass, field
from typing import Any

from engine.errors import EngineError
from engine.linkage.vectors import Array
from engine.study.chunk import VEHICLES, done, parts_of
from server.study.executors import NoSuchPlace, lost_by
from server.study.folder import StudyFolder
from server.study.waiting import STOPPED

AHEAD = 2  # parts handed out for each process
TRIES = 3  # of one part, when whoever did it is lost
FRONT_S = 1.0
LOOKS_S = 1.0
FULL = (errno.ENOSPC, errno.EDQUOT, errno.EROFS)
log = logging.getLogger("jugatrix.study")


class Gone(RuntimeError):
    """Whoever did the parts is no more."""


@dataclass
class Ran:
    """How a study stands. lost : parts that took whoever did them down with it; said : why it ended before its end."""

    parts: int
    done: int
    lost: list[int] = field(default_factory=list)
    seconds: float = 0.0
    said: str = ""

    @property
    def vehicles(self) -> int:
        """Return how many vehicles were looked at."""
        return self.done * VEHICLES

    def values(self) -> dict[str, Any]:
        """Return it as plain values."""
        return {
            "parts": self.parts,
            "done": self.done,
            "vehicles": self.vehicles,
            "lost": self.lost,
            "seconds": round(self.seconds, 2),
            "said": self.said,
        }


def run(
    folder: StudyFolder,
    study: str,
    candidates: int,
    share: Callable[[], int],
    made: Callable[[int], Executor],
    tell: Callable[[Ran], None] = lambda ran: None,
) -> Ran:
    """Do what is still to be done of a study; raise Busy, NoSuchPlace, EngineError.

    share : how many processes it may have now; asked again and again, as another study may begin beside it or end
    made  : makes the executor with so many; once more where one is lost, or its share is another
    """
    with folder.held():
        its = _Running(folder, study, candidates, share, made, tell)
        try:
            return its.ran()
        except EngineError as refused:
            folder.say({**its.its.values(), "said": f"It cannot be done: {refused}"})
            raise
        except Exception:
            folder.say(
                {
                    **its.its.values(),
                    "said": "It ended because of a fault in the program; log.txt beside it says where.",
                }
            )
            raise


class _Running:
    def __init__(
        self,
        folder: StudyFolder,
        study: str,
        candidates: int,
        share: Callable[[], int],
        made: Callable[[int], Executor],
        tell: Callable[[Ran], None],
    ) -> None:
        self.folder, self.study, self.share, self.made, self.tell = folder, study, share, made, tell
        self.workers = 0
        known = folder.done()
        whole = parts_of(candidates)
        self.open = [number for number in range(whole) if number not in known]
        self.tried = dict.fromkeys(self.open, 0)
        self.its = Ran(parts=whole, done=len(known))
        self.before = float(folder.state().get("seconds", 0.0)) if known else 0.0
        self.began = time.monotonic()
        self.front: dict[str, Array] = folder.grown({}, sorted(known))
        self.fresh: list[int] = []
        self.shown = 0.0

    def ran(self) -> Ran:
        """Do parts until there are none, or somebody or something says stop."""
        executor = self._begun() if self.open else None
        running: dict[Future[Any], int] = {}
        try:
            while executor is not None and (self.open or running):
                if self.folder.asked_to_stop():
                    self.its.said = STOPPED
                    break
                try:
                    if self.share() == self.workers:
                        self._hand_out(executor, running)
                    elif not running:
                        executor.shutdown(wait=False)
                        executor = self._begun()
                        continue
                    finished, _ = wait(running, timeout=LOOKS_S, return_when=FIRST_COMPLETED)
                    for future in finished:
                        self._take(executor, future, running[future])
                        del running[future]
                except OSError as full:
                    if full.errno not in FULL:
                        raise
                    self.its.said = (
                        "The disk is full: what was found is kept. Make room, then take it up again."
                    )
                    break
                except Gone as gone:
                    log.warning("whoever did parts of a study is gone: %r", gone.__cause__)
                    executor = self._anew(executor, running)
                self._show()
        except NoSuchPlace as gone:
            self.its.said = f"The processes that did the parts were lost and could not be restarted: {gone} What was found is kept."
        finally:
            if executor is not None:
                executor.shutdown(wait=False, cancel_futures=True)
            self.folder.may_go_on()
        self._show(last=True)
        return self.its

    def _begun(self) -> Executor:
        self.workers = self.share()
        return self.made(self.workers)

    def _hand_out(self, executor: Executor, running: dict[Future[Any], int]) -> None:
        """Hand parts out, some ahead; one by one while any is open that was in hand when its place was lost."""
        careful = any(self.tried[number] for number in (*self.open, *running.values()))
        while self.open and len(running) < (1 if careful else AHEAD * self.workers):
            try:
                running[executor.submit(done, self.study, self.open[0])] = self.open[0]
            except lost_by(executor) as lost:
                raise Gone from lost
            self.open.pop(0)

    def _take(self, executor: Executor, future: Future[Any], number: int) -> None:
        """Keep what a part found; raise Gone where whoever did it is no more."""
        try:
            columns = future.result()
        except lost_by(executor) as lost:
            raise Gone from lost
        self._keep(number, columns)

    def _keep(self, number: int, columns: dict[str, list[float]]) -> None:
        self.folder.keep(number, columns)
        self.its.done += 1
        if columns:
            self.fresh.append(number)

    def _anew(self, executor: Executor, running: dict[Future[Any], int]) -> Executor:
        """Return another executor; the parts in hand are done again, one that loses its place TRIES times is left out."""
        executor.shutdown(wait=False, cancel_futures=True)
        for number in running.values():
            self.tried[number] += 1
        again = sorted(running.values())
        running.clear()
        self.its.lost += [number for number in again if self.tried[number] >= TRIES]
        self.open = [number for number in again if self.tried[number] < TRIES] + self.open
        return self._begun()

    def _cannot_keep(self, full: OSError, last: bool) -> None:
        """Say so at the end; before it, the next part that finds no room ends the study, and with room again all goes on."""
        if full.errno not in FULL:
            raise full
        if last:
            self.its.said = self.its.said or f"The disk is full ({full.strerror}): the parts found are kept."

    def _show(self, last: bool = False) -> None:
        now = time.monotonic()
        if not last and now - self.shown < FRONT_S:
            return
        self.shown = now
        self.its.seconds = self.before + now - self.began
        say = self.folder.say_at_last if last else self.folder.say
        try:
            if self.fresh:
                self.front, self.fresh = self.folder.grown(self.front, self.fresh), []
            if self.front:
                self.folder.keep_front(self.front)
        except OSError as full:
            self._cannot_keep(full, last)
        try:
            say(self.its.values())
        except OSError as full:
            self._cannot_keep(full, last)
        self.tell(self.its)
