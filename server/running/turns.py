"""Who asks at once is answered one after another, and by the process that is free.

Threads of one process share its core: side by side each of several hands would wait for all of them. And a hand whose
question waited behind others' is let go after its answer, so that its next one comes in where somebody is idle
(`serve.Shared`): a browser would keep to one process for as long as it asks.
"""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

TURN = threading.Lock()
PATIENCE_S = 1.5  # behind somebody's job that takes long nobody queues
CROWDED_S = 0.02  # who waited longer stood in a queue
_here = threading.local()


@dataclass
class Question:
    """One question, and how long it waited for its turn, s."""

    waited: float = 0.0

    @property
    def crowded(self) -> bool:
        """Return whether it stood in a queue."""
        return self.waited > CROWDED_S


@contextmanager
def turn() -> Iterator[None]:
    """Let those who ask at once be answered one after another."""
    began = time.monotonic()
    mine = TURN.acquire(timeout=PATIENCE_S)
    begun().waited = time.monotonic() - began
    try:
        yield
    finally:
        if mine:
            TURN.release()


def busy() -> bool:
    """Return whether somebody's answer is being worked out in this process."""
    return TURN.locked()


def begin() -> Question:
    """Begin a question in this thread, and return it."""
    _here.question = question = Question()
    return question


def begun() -> Question:
    """Return this thread's question."""
    found: Question | None = getattr(_here, "question", None)
    return found or begin()
