"""How far long work is, said by who does it to whoever waits; he may answer by stopping it.

A teller is handed the share that is done, 0 to 1, and what comes next in a few words. What it raises ends the work.
"""

from collections.abc import Callable

Tell = Callable[[float, str], None]


def to_nobody(share: float, what: str) -> None:
    """Tell nobody."""


def within(tell: Tell, low: float, high: float) -> Tell:
    """Return a teller for a part of the work, from one share of the whole to another."""
    return lambda share, what: tell(low + (high - low) * share, what)
