"""The edge of a hole as it was traced, told as it is cut: a circle, or a slot by the middles of its two ends and its width.

Off   the most that a traced place lies off the shape that is told, mm.
"""

import math

import numpy as np
from scipy.optimize import least_squares

from engine.facts import facts
from engine.linkage.vectors import Array

LEAST_SLOT_MM = 1.5  # between the middles of its ends; a shorter one is a round hole, badly cut
SLOT_SHARE = 0.6  # of the circle's scatter that a slot must come under, or the simpler shape is told


@facts(kw_only=False)
class Circled:
    """A circle through traced places, mm: middle, diameter, the most that a place is off it; a slot's other end is `to`."""

    x: float
    y: float
    diameter: float
    off: float
    to: tuple[float, float] | None = None


def hole_of(trace: Array) -> Circled:
    """Return the hole nearest to a closed trace (n, 2) mm: a circle, or a slot where that is clearly nearer."""
    circle = circle_of(trace)
    slot, scatter = _slot(trace)
    assert slot.to is not None
    rms = float(
        np.sqrt(
            ((np.hypot(trace[:, 0] - circle.x, trace[:, 1] - circle.y) - circle.diameter / 2) ** 2).mean()
        )
    )
    if math.dist((slot.x, slot.y), slot.to) >= LEAST_SLOT_MM and scatter < SLOT_SHARE * rms:
        return slot
    return circle


def circle_of(trace: Array) -> Circled:
    """Return the circle nearest to places (n, 2), by true distance."""
    start = quick_circle(trace)
    found = least_squares(
        lambda p: np.hypot(trace[:, 0] - p[0], trace[:, 1] - p[1]) - p[2],
        [start.x, start.y, start.diameter / 2],
    )
    x, y, r = (float(one) for one in found.x)
    return Circled(x, y, 2 * abs(r), float(np.abs(found.fun).max()))


def quick_circle(trace: Array) -> Circled:
    """Return a circle near places (n, 2): the one whose algebraic misfit is least (Kåsa, 1976)."""
    middle = trace.mean(axis=0)
    u, v = (trace - middle).T
    a, *_ = np.linalg.lstsq(np.column_stack([u, v, np.ones(len(u))]), u * u + v * v, rcond=None)
    x, y = float(a[0]) / 2, float(a[1]) / 2
    r = math.sqrt(max(float(a[2]) + x * x + y * y, 1e-9))
    return Circled(
        float(middle[0]) + x, float(middle[1]) + y, 2 * r, float(np.abs(np.hypot(u - x, v - y) - r).max())
    )


def _slot(trace: Array) -> tuple[Circled, float]:
    """Return the slot nearest to places (n, 2), by true distance from the line between its ends, and the scatter (rms), mm."""
    middle = trace.mean(axis=0)
    _, _, axes = np.linalg.svd(trace - middle)
    along, across = ((trace - middle) @ axis for axis in axes)
    wide = float(np.ptp(across)) / 2
    reach = max(float(np.ptp(along)) / 2 - wide, 0.1)
    centre = middle + axes[0] * (along.max() + along.min()) / 2 + axes[1] * (across.max() + across.min()) / 2
    start = [*(centre - reach * axes[0]), *(centre + reach * axes[0]), wide]
    found = least_squares(lambda p: _from_line(trace, p[:2], p[2:4]) - p[4], start)
    x, y, u, v, r = (float(one) for one in found.x)
    off = np.abs(found.fun)
    return Circled(x, y, 2 * abs(r), float(off.max()), (u, v)), float(np.sqrt((off**2).mean()))


def _from_line(places: Array, one: Array, other: Array) -> Array:
    """Return how far places (n, 2) are from the line between two, mm (n,)."""
    way = other - one
    share = np.clip((places - one) @ way / max(float(way @ way), 1e-12), 0.0, 1.0)
    return np.asarray(np.linalg.norm(places - one - share[:, None] * way, axis=1))
