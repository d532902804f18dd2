"""The engine's tests. Random examples are few and the same in every run, unless JUGATRIX_WILD is set."""

import os

from hypothesis import settings

WILD = bool(os.environ.get("JUGATRIX_WILD"))
settings.register_profile("same", derandomize=True)
settings.register_profile("wild")
settings.load_profile("wild" if WILD else "same")


def some(count: int) -> int:
    """Return how many examples of a slow test to try: all of them when looking for new ones, else a third."""
    return count if WILD else max(count // 3, 1)
