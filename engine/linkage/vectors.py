"""Vectors with their three components on the first axis; whatever follows is a batch."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def cross(a: Array, b: Array) -> Array:
    """Return a × b over the first axis of length 3; the rest broadcasts."""
    a0, a1, a2 = a
    b0, b1, b2 = b
    x = a1 * b2
    x -= a2 * b1
    out = np.empty((3, *x.shape))
    out[0] = x
    np.subtract(a2 * b0, a0 * b2, out=out[1])
    np.subtract(a0 * b1, a1 * b0, out=out[2])
    return out


def cross_rows(a: Array, b: Array) -> Array:
    """Return a × b of rows (n, 3); numpy's own takes ten times as long for a few."""
    return np.ascontiguousarray(cross(a.T, b.T).T)


def distinct(values: Array) -> Array:
    """Return the different ones of some values, sorted; numpy's own loads its masked arrays for it, which takes longer."""
    ordered = np.sort(values)
    its: Array = ordered[np.append(True, ordered[1:] != ordered[:-1])[: len(ordered)]]
    return its


def lengths(rows: Array) -> Array:
    """Return the lengths of rows (n, 3), (n,); numpy's own asks more than it works out for a few."""
    its: Array = np.sqrt(np.einsum("ni,ni->n", rows, rows))
    return its


def dot(a: Array, b: Array) -> Array:
    """Return a · b over the first axis of length 3."""
    product = a * b
    total: Array = product[0] + product[1] + product[2]
    return total
