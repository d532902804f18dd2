"""The inner loops that put bodies, and what is tied to them, where they have gone: one position after another.

In the part of Python that numba compiles, once, at set-up (`engine/compiled.py`); nothing imports it to run. Points
are (3, n, positions) mm; turns (positions, 3, 3); what is tied to a body (positions, …).
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]

LEAST = 1e-9  # of one plus the cosine: a direction turned right round has no smallest turn

inner = njit(error_model="numpy", cache=True, forceinline=True, _nrt=False)  # type: ignore[call-overload]


@inner
def frame(a: Floats, b: Floats, c: Floats, out: Floats) -> None:
    """Write the frame of three points, (3, 3): its columns along a–b, in the plane, and square to it."""
    x, y, z = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    long = math.sqrt(x * x + y * y + z * z)
    x, y, z = x / long, y / long, z / long
    p, q, r = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    u, v, w = y * r - z * q, z * p - x * r, x * q - y * p
    long = math.sqrt(u * u + v * v + w * w)
    u, v, w = u / long, v / long, w / long
    out[0, 0], out[1, 0], out[2, 0] = x, y, z
    out[0, 1], out[1, 1], out[2, 1] = v * z - w * y, w * x - u * z, u * y - v * x
    out[0, 2], out[1, 2], out[2, 2] = u, v, w


def framed(place: Floats, trios: Whole, before: Floats, turns: Floats, origins: Floats) -> None:
    """Write bodies' turns (bodies, positions, 3, 3) and first points (bodies, positions, 3).

    trios  : (bodies, 3) points that each is aimed by
    before : (bodies, positions or 1, 3, 3) the frames that they are turned from
    """
    a, b, c, now = np.empty(3), np.empty(3), np.empty(3), np.empty((3, 3))
    for body in range(trios.shape[0]):
        i, j, k = trios[body, 0], trios[body, 1], trios[body, 2]
        for position in range(place.shape[2]):
            own = position if before.shape[1] > 1 else 0
            for axis in range(3):
                a[axis] = place[axis, i, position]
                b[axis] = place[axis, j, position]
                c[axis] = place[axis, k, position]
                origins[body, position, axis] = a[axis]
            frame(a, b, c, now)
            for row in range(3):
                for column in range(3):
                    turns[body, position, row, column] = (
                        now[row, 0] * before[body, own, column, 0]
                        + now[row, 1] * before[body, own, column, 1]
                        + now[row, 2] * before[body, own, column, 2]
                    )


def aimed(place: Floats, pairs: Whole, before: Floats, turns: Floats, origins: Floats) -> None:
    """Write the smallest turns of links, as `framed` does; Rodrigues' formula.

    pairs  : (links, 2) points that each goes between; before (links, 3) from one to the other as drawn, mm
    """
    for link in range(pairs.shape[0]):
        i, j = pairs[link, 0], pairs[link, 1]
        a0, a1, a2 = before[link, 0], before[link, 1], before[link, 2]
        long = math.sqrt(a0 * a0 + a1 * a1 + a2 * a2)
        a0, a1, a2 = a0 / long, a1 / long, a2 / long
        for position in range(place.shape[2]):
            for axis in range(3):
                origins[link, position, axis] = place[axis, i, position]
            b0 = place[0, j, position] - place[0, i, position]
            b1 = place[1, j, position] - place[1, i, position]
            b2 = place[2, j, position] - place[2, i, position]
            long = math.sqrt(b0 * b0 + b1 * b1 + b2 * b2)
            b0, b1, b2 = b0 / long, b1 / long, b2 / long
            x, y, z = a1 * b2 - a2 * b1, a2 * b0 - a0 * b2, a0 * b1 - a1 * b0
            cosine = a0 * b0 + a1 * b1 + a2 * b2
            share, round_ = 1.0 / max(1.0 + cosine, LEAST), x * x + y * y + z * z
            its = turns[link, position]
            its[0, 0], its[0, 1], its[0, 2] = (
                1.0 + (x * x - round_) * share,
                x * y * share - z,
                x * z * share + y,
            )
            its[1, 0], its[1, 1], its[1, 2] = (
                x * y * share + z,
                1.0 + (y * y - round_) * share,
                y * z * share - x,
            )
            its[2, 0], its[2, 1], its[2, 2] = (
                x * z * share - y,
                y * z * share + x,
                1.0 + (z * z - round_) * share,
            )


def carried(turn: Floats, origin: Floats, arm: Floats, axes: Floats, centre: Floats, turned: Floats) -> None:
    """Write where a solid tied to a body stands, (positions, 3), and its axes, rows of (positions, 3, 3).

    turn, origin : the body's, (positions, 3, 3) and (positions, 3)
    arm          : (positions or 1, 3) mm from the body's first point as drawn; axes (3, 3) as drawn
    """
    for position in range(turn.shape[0]):
        own = position if arm.shape[0] > 1 else 0
        for row in range(3):
            t0, t1, t2 = turn[position, row, 0], turn[position, row, 1], turn[position, row, 2]
            centre[position, row] = origin[position, row] + (
                t0 * arm[own, 0] + t1 * arm[own, 1] + t2 * arm[own, 2]
            )
            for axis in range(3):
                turned[position, axis, row] = axes[axis, 0] * t0 + axes[axis, 1] * t1 + axes[axis, 2] * t2


def stretched(place: Floats, i: int, j: int, centre: Floats, axes: Floats, length: Floats) -> None:
    """Write the middle of two points (positions, 3), axes with the first from one to the other, and how far apart they are."""
    helper = 0
    for position in range(place.shape[2]):
        d0 = place[0, j, position] - place[0, i, position]
        d1 = place[1, j, position] - place[1, i, position]
        d2 = place[2, j, position] - place[2, i, position]
        long = math.sqrt(d0 * d0 + d1 * d1 + d2 * d2)
        length[position] = long
        x, y, z = d0 / long, d1 / long, d2 / long
        if position == 0:  # any direction far from the first one's: the same one all along
            helper = 0 if abs(x) <= abs(y) and abs(x) <= abs(z) else 1 if abs(y) <= abs(z) else 2
        if helper == 0:
            u, v, w = 0.0, z, -y
        elif helper == 1:
            u, v, w = -z, 0.0, x
        else:
            u, v, w = y, -x, 0.0
        long = math.sqrt(u * u + v * v + w * w)
        u, v, w = u / long, v / long, w / long
        its = axes[position]
        its[0, 0], its[0, 1], its[0, 2] = x, y, z
        its[1, 0], its[1, 1], its[1, 2] = u, v, w
        its[2, 0], its[2, 1], its[2, 2] = y * w - z * v, z * u - x * w, x * v - y * u
        for axis in range(3):
            centre[position, axis] = (place[axis, i, position] + place[axis, j, position]) / 2


INTS, LINE_OF, GRID, CUBE, FOUR = "i8[:,::1]", "f8[::1]", "f8[:,::1]", "f8[:,:,::1]", "f8[:,:,:,::1]"
SIGNATURES = {
    framed: (CUBE, INTS, FOUR, FOUR, CUBE),
    aimed: (CUBE, INTS, GRID, FOUR, CUBE),
    carried: (CUBE, GRID, GRID, GRID, GRID, CUBE),
    stretched: (CUBE, "i8", "i8", GRID, CUBE, LINE_OF),
}
"""What each function that is called from outside takes, in numba's words."""
