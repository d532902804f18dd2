"""A fair first guess for a root between two solved rows, from values and slopes at both."""

import numpy as np

from engine.linkage.vectors import Array

GUESS_STEPS = 20  # a millionth of the bracket; the exact step that follows does the rest


def hermite_root(low: Array, high: Array, values: Array, slopes: Array) -> Array:
    """Return where the cubic through two values and slopes vanishes, by bisection.

    low, high : (n,) travels, mm
    values    : (2, n) of opposite sign
    slopes    : (2, n) per mm
    Over a millimetre or two of travel it is good to some 1e-6 mm: one exact step finishes it.
    """
    width = high - low
    left, right = np.zeros_like(width), np.ones_like(width)
    rising = values[1] > values[0]
    for _ in range(GUESS_STEPS):
        t = (left + right) / 2
        s = 1 - t
        value = (
            (1 + 2 * t) * s * s * values[0]
            + t * s * s * width * slopes[0]
            + t * t * (3 - 2 * t) * values[1]
            - t * t * s * width * slopes[1]
        )
        past = (value > 0) == rising
        right, left = np.where(past, t, right), np.where(past, left, t)
    return low + width * (left + right) / 2
