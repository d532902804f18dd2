"""Long work in a process of its own: it takes a core, never the time of somebody who nudges a bracket.

A function of a module is called with plain values and answers plain values. What it refuses is refused here; a process that
is lost is started again and the work tried once more, then it is a sentence. Where nothing is served, as in the headless
commands and most tests, it is worked out on the spot.
"""

import logging
import multiprocessing
import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from typing import Any

from django.conf import settings

from engine.errors import EngineError
from server.answers import ActionRefused
from server.running.following import followed, forget, told
from server.running.giving_way import give_way

LOOKS_S = 1.0
LONGEST_S = 240.0
LONGEST_LINE = 24  # each holds a thread of those who answer
TOO_SLOW = (
    f"This has taken {LONGEST_S / 60:.0f} minutes and is not done: the machine is busy with other work. "
    "It was stopped, and nothing was changed. Try again when the machine is quieter."
)
log = logging.getLogger("jugatrix.workers")
_lock = threading.Lock()
_pools: list[ProcessPoolExecutor] = []
_line: list[object] = []


def away(work: Callable[..., Any], *values: Any, key: str = "") -> Any:
    """Return what a module's function answers to plain values, worked out in another process where there are some.

    key : what it is followed and stopped by, see `following.py`; while it waits for others' work, its place is told
    """
    if not settings.LONG_WORK_APART:
        with followed(key):
            return work(*values)
    with _in_line(key) as place:
        for again in (True, False):
            pool = _pool()
            try:
                done: Future[Any] = pool.submit(_guarded, work, values, key)
                answer, refusal = _waited_for(done, place)
            except _TooSlow:
                _kill(pool)
                raise ActionRefused(503, "too_slow", TOO_SLOW) from None
            except BrokenProcessPool:
                _drop(pool)
                log.warning("a worker was lost at %s%s", work.__name__, "; once more" if again else "")
                continue
            if refusal is not None:
                raise _unpacked(*refusal)
            return answer
    raise ActionRefused(
        503,
        "worker_lost",
        "The process that works this out was lost twice. Is there enough memory? Try again.",
    )


@contextmanager
def _in_line(key: str) -> Iterator[Callable[[], None]]:
    """Stand in the line of those who wait here, and tell one's place in it by calling what is yielded; raise ActionRefused."""
    mine = object()
    with _lock:
        if len(_line) >= LONGEST_LINE:
            raise ActionRefused(
                503, "busy", f"{len(_line)} others wait for long work already. Try again in a little while."
            )
        _line.append(mine)

    def tell_place() -> None:
        with _lock:
            before = _line.index(mine)
        if key and before:
            told(key, 0.0, f"waiting for {before} before it" if before > 1 else "waiting for one before it")

    try:
        tell_place()
        yield tell_place
    finally:
        with _lock:
            _line.remove(mine)
        forget(key)


class _TooSlow(Exception):
    """Work was not done in the time that is given to it."""


def _waited_for(done: Future[Any], place: Callable[[], None]) -> Any:
    """Return an answer; raise _TooSlow where it is not there in the time that is given to it."""
    until = time.monotonic() + LONGEST_S
    while not wait([done], timeout=min(LOOKS_S, LONGEST_S)).done:
        if time.monotonic() > until:
            raise _TooSlow
        if not done.running():
            place()
    return done.result()


def _kill(pool: ProcessPoolExecutor) -> None:
    """End a process that does not come to an end; whoever else waits for it is worked for by the next."""
    processes = list((pool._processes or {}).values())
    _drop(pool)
    for process in processes:
        process.kill()


def begin(ready: Callable[[], object]) -> None:
    """Start the process before it is asked for, and have it load what it will need: its first work then waits for nothing."""
    if settings.LONG_WORK_APART:
        _pool().submit(ready)


def end() -> None:
    """End the processes."""
    with _lock:
        for pool in _pools:
            pool.shutdown(wait=False, cancel_futures=True)
        _pools.clear()


def _pool() -> ProcessPoolExecutor:
    with _lock:
        if not _pools:
            # Begun anew and not copied: a copy would hold this process's threads and locks half done.
            context = multiprocessing.get_context("spawn")
            _pools.append(
                ProcessPoolExecutor(
                    max_workers=1, mp_context=context, initializer=_begun, initargs=(os.getpid(),)
                )
            )
        return _pools[0]


def _drop(pool: ProcessPoolExecutor) -> None:
    with _lock:
        if pool in _pools:
            _pools.remove(pool)
    pool.shutdown(wait=False, cancel_futures=True)


def _begun(parent: int) -> None:
    """Make a fresh process one of ours, of the process `parent`, which may be gone by now."""
    threading.Thread(target=_not_without, args=(parent,), daemon=True).start()
    import django

    give_way()
    os.environ["JUGATRIX_LONG_WORK_HERE"] = "1"
    django.setup()


def _not_without(parent: int) -> None:
    """End this process when the one that asks it is gone, before this began too: killed, it could not say so."""
    while os.getppid() == parent:
        time.sleep(LOOKS_S)
    os._exit(0)


def _guarded(work: Callable[..., Any], values: tuple[Any, ...], key: str) -> tuple[Any, Any]:
    try:
        with followed(key):
            return work(*values), None
    except (EngineError, ActionRefused) as error:
        return None, (type(error), str(error), vars(error))


def _unpacked(kind: type[Exception], said: str, held: dict[str, Any]) -> Exception:
    """Return a refusal as it was: made without its own beginning, which wants what it was made of."""
    error = kind.__new__(kind)
    Exception.__init__(error, said)
    error.__dict__.update(held)
    return error
