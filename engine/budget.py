"""How much thinking a question may cost: seconds of processor time, counted from when the question was put.

Processor time, not the clock on the wall: what else the machine does must not change an answer.
"""

import time


class Budget:
    """Seconds of this thread's processor time, shared by everything that is handed it."""

    def __init__(self, seconds: float) -> None:
        self.until = time.thread_time() + seconds

    @property
    def spent(self) -> bool:
        """Return whether nothing is left."""
        return time.thread_time() >= self.until

    def part(self, seconds: float) -> "Budget":
        """Return a budget of its own for one part, within what is left of the whole."""
        part = Budget(seconds)
        part.until = min(part.until, self.until)
        return part
