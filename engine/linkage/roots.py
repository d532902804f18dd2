"""Roots along the travel: a fair first guess from two solved rows, and the exact place of a first crossing."""

from collections.abc import Callable
from math import isfinite

import numpy as np

from engine.compiled import loaded
from engine.linkage.vectors import Array

CLOSING = loaded("engine.linkage.closing")

MOST_STEPS = 60
ROOT_MM = 1e-6  # 0.01 mm is asked
SMALL_STEP_MM = 1e-4


def hermite_root(low: Array, high: Array, values: Array, slopes: Array) -> Array:
    """Return where the cubic through two values and slopes vanishes, by bisection.

    low, high : (n,) travels, mm
    values    : (2, n) of opposite sign
    slopes    : (2, n) per mm
    Over a millimetre or two of travel it is good to some 1e-6 mm: one exact step finishes it.
    """
    roots = np.empty(len(low))
    CLOSING.cubic_roots(
        *(np.ascontiguousarray(part, dtype=float) for part in (low, high, values, slopes)), roots
    )
    return roots


def newton_between(
    low: Array, high: Array, rising: np.ndarray, start: Array, look: Callable[[Array], tuple[Array, Array]]
) -> Array:
    """Return where values vanish: Newton for all at once, each kept in its bracket, halved where a step would leave it.

    low, high : (n,) travels, mm; rising (n,) whether the value is above nothing at `high`; start (n,) between them
    look      : the values (n,) and slopes (n,) per mm at travels (n,)
    """
    travel = start
    for _ in range(MOST_STEPS):
        gap, slope = look(travel)
        past = (gap > 0) == rising
        high, low = np.where(past, travel, high), np.where(past, low, travel)
        with np.errstate(all="ignore"):
            following = travel - gap / slope
        inside = (following >= low) & (following <= high)
        following = np.where(inside, following, (low + high) / 2)
        moved = np.abs(following - travel).max()
        travel = following
        # What a step of Newton's leaves goes as its square.
        if moved < (SMALL_STEP_MM if inside.all() else ROOT_MM):
            break
    return travel


def root_between(
    low: float, high: float, at_low: float, at_high: float, value: Callable[[float], float], enough: float
) -> float:
    """Return where a value of opposite sign at two places vanishes, to `enough`; false position, never stuck.

    Illinois' rule: an end that stays is halved in weight, so that both ends close in.
    """
    for _ in range(MOST_STEPS):
        if at_high == at_low:
            break
        middle = high - at_high * (high - low) / (at_high - at_low)
        here = value(middle)
        if not isfinite(here):  # past the end of reach: what is known is on the near side of it
            middle = (low + high) / 2
            here = value(middle)
            if not isfinite(here):
                break
        if here == 0 or abs(here) < 1e-9:
            return middle
        if (here > 0) == (at_high > 0):
            moved, high, at_high, at_low = abs(high - middle), middle, here, at_low / 2
        else:
            moved, low, at_low, at_high = abs(middle - low), middle, here, at_high / 2
        if moved < enough or abs(high - low) < enough:
            return middle
    return (low + high) / 2


def first_over(
    travels: Array, over: Array, value: Callable[[float], float], enough: float = 1e-4
) -> list[tuple[str, float]]:
    """Return where something is first more than nothing on the way up and down from nearest to drawn.

    travels : (n,) mm, sorted; over : (n,) its value there; `value` gives it at any travel between
    returns : ("bump" or "droop", mm of travel); where it is so as drawn, that travel both ways
    """
    if not len(travels):
        return []
    middle = int(np.abs(travels).argmin())
    found = []
    for direction, rows in (("bump", range(middle, len(travels))), ("droop", range(middle, -1, -1))):
        row = next((k for k in rows if over[k] > 0), None)
        if row is None:
            continue
        at = float(travels[row])
        if row != middle:
            before = row - rows.step
            ends = float(travels[before]), at, float(over[before]), float(over[row])
            at = root_between(*ends, value, enough)
        found.append((direction, at))
    return found
