"""The inner loops of a linkage, one position after another, in the part of Python that numba compiles.

Nothing here knows a wishbone: points are put in their places by moves, held by conditions, and both come as the plain
arrays that `Program` writes. It is compiled once, at set-up (`engine/compiled.py`); nothing imports it to run.

A move is (how, point, from, from, from): TURNED from a turn's unknown, FREE from the first of three unknowns, on a
LINE from two points, on a TRIAD from three. Its shape is nine numbers: a circle's centre, radius and tangent; or a
carried point's shares along, across and out; on a line its share along, what it keeps beside it, one over the line's
length, and the direction beside it as drawn, which turns with the line and stays in the plane of both.

A condition is what must be nothing, mm: constant + Σ dot·(d·e) + triple·(d × e) + Σ share·(a point's height on one axis)
− target, where d and e run between two points each. Such a sum is its own second-order series, so slopes and both
derivatives by travel are exact.

Points are (n, 3) mm inside, (3, n, positions) outside; geometries are as many as positions, or one for all.
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]

TURNED, FREE, LINE, TRIAD = 0, 1, 2, 3
FLAT = 1e-11  # a matrix this near to singular is: what is free is not told by its conditions
FAIR_PIVOT = 1e-7  # of the largest entry; a matrix without a smaller pivot is far from flat
WELL_CLOSED = 0.01  # of a gap, left by one step
HALVINGS = 24  # to a ten-millionth of the bracket
FORESEEN_MM = 1e-4  # a wider gap is where things turn quickly, and wants its own slopes
FAIRLY_CLOSED = 100.0  # times the closure asked: rounding in a large linkage

inner = njit(error_model="numpy", cache=True, forceinline=True, _nrt=False)  # type: ignore[call-overload]
"""They make no arrays: nothing counts who holds which, which took a quarter of the time."""


@inner
def tilting(shapes: Floats, g: int, m: int, y: Floats, i: int, j: int) -> float:
    """Return how far a line, its speed or its bend goes the way of what a point keeps beside it, as a share of it."""
    total = 0.0
    for a in range(3):
        total += shapes[g, m, 3 + a] * (y[j, a] - y[i, a])
    return total * shapes[g, m, 2]  # type: ignore[no-any-return]


@inner
def tilted(shapes: Floats, g: int, m: int, x: Floats, i: int, j: int) -> tuple[float, float]:
    """Return the sine by which a line has leaned the way of what a point keeps beside it, and one over its cosine."""
    tilt = tilting(shapes, g, m, x, i, j)
    return tilt, 1 / math.sqrt(max(1 - tilt * tilt, FLAT))


@inner
def put(
    moves: Whole, first: int, last: int, shapes: Floats, g: int, unknowns: Floats, turned: Floats, x: Floats
) -> None:
    """Write where the moves' points stand, and each turn's cosine and sine."""
    turn = -1
    for m in range(first, last):
        how, p, i, j, k = moves[m, 0], moves[m, 1], moves[m, 2], moves[m, 3], moves[m, 4]
        if how == TRIAD:
            d0, d1, d2 = x[j, 0] - x[i, 0], x[j, 1] - x[i, 1], x[j, 2] - x[i, 2]
            e0, e1, e2 = x[k, 0] - x[i, 0], x[k, 1] - x[i, 1], x[k, 2] - x[i, 2]
            along, across, out = shapes[g, m, 0], shapes[g, m, 1], shapes[g, m, 2]
            x[p, 0] = x[i, 0] + along * d0 + across * e0 + out * (d1 * e2 - d2 * e1)
            x[p, 1] = x[i, 1] + along * d1 + across * e1 + out * (d2 * e0 - d0 * e2)
            x[p, 2] = x[i, 2] + along * d2 + across * e2 + out * (d0 * e1 - d1 * e0)
        elif how == TURNED:
            if i != turn:
                turn = i
                turned[i, 0], turned[i, 1] = math.cos(unknowns[i]), math.sin(unknowns[i])
            for a in range(3):
                x[p, a] = (
                    shapes[g, m, a] + shapes[g, m, 3 + a] * turned[i, 0] + shapes[g, m, 6 + a] * turned[i, 1]
                )
        elif how == FREE:
            for a in range(3):
                x[p, a] = unknowns[i + a]
        else:
            for a in range(3):
                x[p, a] = x[i, a] + shapes[g, m, 0] * (x[j, a] - x[i, a])
            if shapes[g, m, 1] > 0:
                tilt, grown = tilted(shapes, g, m, x, i, j)
                for a in range(3):
                    line = (x[j, a] - x[i, a]) * shapes[g, m, 2]
                    x[p, a] += shapes[g, m, 1] * grown * (shapes[g, m, 3 + a] - tilt * line)


@inner
def move(
    moves: Whole,
    first: int,
    last: int,
    shapes: Floats,
    g: int,
    turned: Floats,
    rates: Floats,
    bends: Floats,
    order: int,
    x: Floats,
    v: Floats,
    b: Floats,
) -> None:
    """Write the first derivatives of the moves' points, `v`, from those of the unknowns; or their second, `b`."""
    out = v if order == 1 else b
    for m in range(first, last):
        how, p, i, j, k = moves[m, 0], moves[m, 1], moves[m, 2], moves[m, 3], moves[m, 4]
        if how == TRIAD:
            d0, d1, d2 = x[j, 0] - x[i, 0], x[j, 1] - x[i, 1], x[j, 2] - x[i, 2]
            e0, e1, e2 = x[k, 0] - x[i, 0], x[k, 1] - x[i, 1], x[k, 2] - x[i, 2]
            f0, f1, f2 = out[j, 0] - out[i, 0], out[j, 1] - out[i, 1], out[j, 2] - out[i, 2]
            h0, h1, h2 = out[k, 0] - out[i, 0], out[k, 1] - out[i, 1], out[k, 2] - out[i, 2]
            n0 = f1 * e2 - f2 * e1 + d1 * h2 - d2 * h1
            n1 = f2 * e0 - f0 * e2 + d2 * h0 - d0 * h2
            n2 = f0 * e1 - f1 * e0 + d0 * h1 - d1 * h0
            if order == 2:
                d0, d1, d2 = v[j, 0] - v[i, 0], v[j, 1] - v[i, 1], v[j, 2] - v[i, 2]
                e0, e1, e2 = v[k, 0] - v[i, 0], v[k, 1] - v[i, 1], v[k, 2] - v[i, 2]
                n0 += 2 * (d1 * e2 - d2 * e1)
                n1 += 2 * (d2 * e0 - d0 * e2)
                n2 += 2 * (d0 * e1 - d1 * e0)
            along, across, away = shapes[g, m, 0], shapes[g, m, 1], shapes[g, m, 2]
            out[p, 0] = out[i, 0] + along * f0 + across * h0 + away * n0
            out[p, 1] = out[i, 1] + along * f1 + across * h1 + away * n1
            out[p, 2] = out[i, 2] + along * f2 + across * h2 + away * n2
        elif how == TURNED:
            cosine, sine, rate, bend = turned[i, 0], turned[i, 1], rates[i], bends[i]
            for a in range(3):
                radial, tangent = shapes[g, m, 3 + a], shapes[g, m, 6 + a]
                if order == 1:
                    v[p, a] = (tangent * cosine - radial * sine) * rate
                else:
                    b[p, a] = (tangent * cosine - radial * sine) * bend - (
                        radial * cosine + tangent * sine
                    ) * rate * rate
        elif how == FREE:
            for a in range(3):
                out[p, a] = rates[i + a] if order == 1 else bends[i + a]
        else:
            for a in range(3):
                out[p, a] = out[i, a] + shapes[g, m, 0] * (out[j, a] - out[i, a])
            if shapes[g, m, 1] > 0:
                tilt, grown = tilted(shapes, g, m, x, i, j)
                rate = tilting(shapes, g, m, v, i, j)
                grows = tilt * grown**3
                for a in range(3):
                    toward, per = shapes[g, m, 3 + a], shapes[g, m, 2]
                    line, turning = (x[j, a] - x[i, a]) * per, (v[j, a] - v[i, a]) * per
                    square, leaning = toward - tilt * line, -rate * line - tilt * turning
                    if order == 1:
                        by = grows * rate * square + grown * leaning
                    else:
                        bend = tilting(shapes, g, m, b, i, j)
                        curving = (b[j, a] - b[i, a]) * per
                        faster = grown**3 + 3 * tilt * tilt * grown**5
                        by = (faster * rate * rate + grows * bend) * square + 2 * grows * rate * leaning
                        by -= grown * (bend * line + 2 * rate * turning + tilt * curving)
                    out[p, a] += shapes[g, m, 1] * by


@inner
def reached(
    moves: Whole,
    first: int,
    last: int,
    shapes: Floats,
    g: int,
    turned: Floats,
    x: Floats,
    since: Whole,
    reach: Whole,
    slopes: Floats,
) -> None:
    """Write the slopes of the moves' points by each unknown that reaches them, (n, unknowns, 3).

    Entries that no unknown reaches are nothing and stay so.
    """
    for m in range(first, last):
        how, p, i, j, k = moves[m, 0], moves[m, 1], moves[m, 2], moves[m, 3], moves[m, 4]
        if how == TRIAD:
            d0, d1, d2 = x[j, 0] - x[i, 0], x[j, 1] - x[i, 1], x[j, 2] - x[i, 2]
            e0, e1, e2 = x[k, 0] - x[i, 0], x[k, 1] - x[i, 1], x[k, 2] - x[i, 2]
            along, across, out = shapes[g, m, 0], shapes[g, m, 1], shapes[g, m, 2]
            for at in range(since[p], since[p + 1]):
                c = reach[at]
                o0, o1, o2 = slopes[i, c, 0], slopes[i, c, 1], slopes[i, c, 2]
                f0, f1, f2 = slopes[j, c, 0] - o0, slopes[j, c, 1] - o1, slopes[j, c, 2] - o2
                h0, h1, h2 = slopes[k, c, 0] - o0, slopes[k, c, 1] - o1, slopes[k, c, 2] - o2
                n0 = f1 * e2 - f2 * e1 + d1 * h2 - d2 * h1
                n1 = f2 * e0 - f0 * e2 + d2 * h0 - d0 * h2
                n2 = f0 * e1 - f1 * e0 + d0 * h1 - d1 * h0
                slopes[p, c, 0] = o0 + along * f0 + across * h0 + out * n0
                slopes[p, c, 1] = o1 + along * f1 + across * h1 + out * n1
                slopes[p, c, 2] = o2 + along * f2 + across * h2 + out * n2
        elif how == TURNED:
            for a in range(3):
                slopes[p, i, a] = shapes[g, m, 6 + a] * turned[i, 0] - shapes[g, m, 3 + a] * turned[i, 1]
        elif how == FREE:
            for a in range(3):
                slopes[p, i + a, a] = 1.0
        else:
            for at in range(since[p], since[p + 1]):
                c = reach[at]
                for a in range(3):
                    slopes[p, c, a] = slopes[i, c, a] + shapes[g, m, 0] * (slopes[j, c, a] - slopes[i, c, a])
            if shapes[g, m, 1] > 0:
                tilt, grown = tilted(shapes, g, m, x, i, j)
                for at in range(since[p], since[p + 1]):
                    c, rate = reach[at], 0.0
                    for a in range(3):
                        rate += shapes[g, m, 3 + a] * (slopes[j, c, a] - slopes[i, c, a]) * shapes[g, m, 2]
                    for a in range(3):
                        line = (x[j, a] - x[i, a]) * shapes[g, m, 2]
                        turning = (slopes[j, c, a] - slopes[i, c, a]) * shapes[g, m, 2]
                        by = tilt * grown**3 * rate * (shapes[g, m, 3 + a] - tilt * line)
                        by -= grown * (rate * line + tilt * turning)
                        slopes[p, c, a] += shapes[g, m, 1] * by


@inner
def gaps(
    conditions: Whole,
    first: int,
    last: int,
    terms: Whole,
    heights: Whole,
    shares: Floats,
    weights: Floats,
    constants: Floats,
    g: int,
    goals: Floats,
    x: Floats,
    out: Floats,
) -> None:
    """Write how far each condition is from holding, mm; `goals` are the drivers' targets."""
    for r in range(first, last):
        total = constants[g, r]
        for t in range(conditions[r, 0], conditions[r, 1]):
            i, j, k, q = terms[t, 0], terms[t, 1], terms[t, 2], terms[t, 3]
            d0, d1, d2 = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
            if i == k and j == q:
                total += weights[g, t, 0] * (d0 * d0 + d1 * d1 + d2 * d2)
                continue
            e0, e1, e2 = x[k, 0] - x[q, 0], x[k, 1] - x[q, 1], x[k, 2] - x[q, 2]
            total += weights[g, t, 0] * (d0 * e0 + d1 * e1 + d2 * e2)
            total += weights[g, t, 1] * (d1 * e2 - d2 * e1)
            total += weights[g, t, 2] * (d2 * e0 - d0 * e2)
            total += weights[g, t, 3] * (d0 * e1 - d1 * e0)
        for h in range(conditions[r, 2], conditions[r, 3]):
            total += shares[h] * x[heights[h, 0], heights[h, 1]]
        if conditions[r, 4] >= 0:
            total -= goals[conditions[r, 4]]
        out[r - first] = total


@inner
def opening(
    conditions: Whole,
    first: int,
    last: int,
    terms: Whole,
    heights: Whole,
    shares: Floats,
    weights: Floats,
    g: int,
    rates: Floats,
    order: int,
    x: Floats,
    v: Floats,
    b: Floats,
    out: Floats,
) -> None:
    """Write how fast each condition opens: its first derivative from `v`, or its second from `v` and `b`."""
    y = v if order == 1 else b
    for r in range(first, last):
        total = 0.0
        for t in range(conditions[r, 0], conditions[r, 1]):
            i, j, k, q = terms[t, 0], terms[t, 1], terms[t, 2], terms[t, 3]
            d0, d1, d2 = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
            f0, f1, f2 = y[i, 0] - y[j, 0], y[i, 1] - y[j, 1], y[i, 2] - y[j, 2]
            w = weights[g, t, 0]
            if i == k and j == q:
                total += 2 * w * (d0 * f0 + d1 * f1 + d2 * f2)
                if order == 2:
                    f0, f1, f2 = v[i, 0] - v[j, 0], v[i, 1] - v[j, 1], v[i, 2] - v[j, 2]
                    total += 2 * w * (f0 * f0 + f1 * f1 + f2 * f2)
                continue
            s0, s1, s2 = weights[g, t, 1], weights[g, t, 2], weights[g, t, 3]
            e0, e1, e2 = x[k, 0] - x[q, 0], x[k, 1] - x[q, 1], x[k, 2] - x[q, 2]
            h0, h1, h2 = y[k, 0] - y[q, 0], y[k, 1] - y[q, 1], y[k, 2] - y[q, 2]
            total += w * (f0 * e0 + f1 * e1 + f2 * e2 + d0 * h0 + d1 * h1 + d2 * h2)
            total += s0 * (f1 * e2 - f2 * e1 + d1 * h2 - d2 * h1)
            total += s1 * (f2 * e0 - f0 * e2 + d2 * h0 - d0 * h2)
            total += s2 * (f0 * e1 - f1 * e0 + d0 * h1 - d1 * h0)
            if order == 2:
                f0, f1, f2 = v[i, 0] - v[j, 0], v[i, 1] - v[j, 1], v[i, 2] - v[j, 2]
                h0, h1, h2 = v[k, 0] - v[q, 0], v[k, 1] - v[q, 1], v[k, 2] - v[q, 2]
                total += 2 * w * (f0 * h0 + f1 * h1 + f2 * h2)
                total += 2 * s0 * (f1 * h2 - f2 * h1)
                total += 2 * s1 * (f2 * h0 - f0 * h2)
                total += 2 * s2 * (f0 * h1 - f1 * h0)
        for h in range(conditions[r, 2], conditions[r, 3]):
            total += shares[h] * y[heights[h, 0], heights[h, 1]]
        if order == 1 and conditions[r, 4] >= 0:
            total -= rates[conditions[r, 4]]
        out[r - first] = total


@inner
def matrix(
    conditions: Whole,
    first: int,
    last: int,
    wide: int,
    terms: Whole,
    heights: Whole,
    shares: Floats,
    weights: Floats,
    g: int,
    x: Floats,
    slopes: Floats,
    since: Whole,
    reach: Whole,
    local: Whole,
    home: Whole,
    block: int,
    out: Floats,
) -> None:
    """Write each condition's slope by each of the block's unknowns, the block's own matrix of `out`."""
    for r in range(first, last):
        for c in range(wide):
            out[block, r - first, c] = 0.0
        for t in range(conditions[r, 0], conditions[r, 1]):
            i, j, k, q = terms[t, 0], terms[t, 1], terms[t, 2], terms[t, 3]
            d0, d1, d2 = x[i, 0] - x[j, 0], x[i, 1] - x[j, 1], x[i, 2] - x[j, 2]
            w = weights[g, t, 0]
            if i == k and j == q:  # a length: d is e, and both change alike
                p0, p1, p2 = 2 * w * d0, 2 * w * d1, 2 * w * d2
            else:
                s0, s1, s2 = weights[g, t, 1], weights[g, t, 2], weights[g, t, 3]
                e0, e1, e2 = x[k, 0] - x[q, 0], x[k, 1] - x[q, 1], x[k, 2] - x[q, 2]
                p0, p1, p2 = (
                    w * e0 + e1 * s2 - e2 * s1,
                    w * e1 + e2 * s0 - e0 * s2,
                    w * e2 + e0 * s1 - e1 * s0,
                )
                q0, q1, q2 = (
                    w * d0 + s1 * d2 - s2 * d1,
                    w * d1 + s2 * d0 - s0 * d2,
                    w * d2 + s0 * d1 - s1 * d0,
                )
                for side in range(2):
                    p, sign = (k, 1.0) if side == 0 else (q, -1.0)
                    if home[p] == block:
                        for at in range(since[p], since[p + 1]):
                            c = reach[at]
                            out[block, r - first, local[c]] += sign * (
                                q0 * slopes[p, c, 0] + q1 * slopes[p, c, 1] + q2 * slopes[p, c, 2]
                            )
            for side in range(2):
                p, sign = (i, 1.0) if side == 0 else (j, -1.0)
                if home[p] == block:
                    for at in range(since[p], since[p + 1]):
                        c = reach[at]
                        out[block, r - first, local[c]] += sign * (
                            p0 * slopes[p, c, 0] + p1 * slopes[p, c, 1] + p2 * slopes[p, c, 2]
                        )
        for h in range(conditions[r, 2], conditions[r, 3]):
            p, axis = heights[h, 0], heights[h, 1]
            if home[p] == block:
                for at in range(since[p], since[p + 1]):
                    out[block, r - first, local[reach[at]]] += shares[h] * slopes[p, reach[at], axis]


@inner
def factored(m: Floats, k: int, size: int, order: Whole) -> tuple[float, float]:
    """Turn the k-th matrix into its triangles in place, the largest pivot first.

    Returns its determinant's sign and the least pivot, which is nothing where it is singular.
    """
    sign, least = 1.0, math.inf
    for a in range(size):
        best, most = a, abs(m[k, a, a])
        for r in range(a + 1, size):
            if abs(m[k, r, a]) > most:
                best, most = r, abs(m[k, r, a])
        order[k, a] = best
        least = min(least, most)
        if most == 0.0:
            return 0.0, 0.0
        if best != a:
            sign = -sign
            for c in range(size):
                m[k, a, c], m[k, best, c] = m[k, best, c], m[k, a, c]
        if m[k, a, a] < 0.0:
            sign = -sign
        one = 1.0 / m[k, a, a]
        for r in range(a + 1, size):
            share = m[k, r, a] * one
            m[k, r, a] = share
            if share != 0.0:
                for c in range(a + 1, size):
                    m[k, r, c] -= share * m[k, a, c]
    return sign, least


@inner
def substituted(m: Floats, k: int, size: int, order: Whole, b: Floats) -> None:
    """Solve a factored system in place."""
    for a in range(size):
        b[a], b[order[k, a]] = b[order[k, a]], b[a]
    for a in range(size):
        total = b[a]
        for c in range(a):
            total -= m[k, a, c] * b[c]
        b[a] = total
    for a in range(size - 1, -1, -1):
        total = b[a]
        for c in range(a + 1, size):
            total -= m[k, a, c] * b[c]
        b[a] = total / m[k, a, a]


@inner
def finite(m: Floats, k: int, size: int, copy: Floats) -> float:
    """Keep a copy of a matrix, nothing where it was not a number in both; return its largest entry."""
    large = 0.0
    for r in range(size):
        for c in range(size):
            if not math.isfinite(m[k, r, c]):
                m[k, r, c] = 0.0
            copy[r, c] = m[k, r, c]
            large = max(large, abs(m[k, r, c]))
    return large


@inner
def flat(m: Floats, k: int, size: int, order: Whole, large: float, least: float, column: Floats) -> bool:
    """Return whether a factored matrix is so near to singular that what is free is not told by its conditions."""
    if least > FAIR_PIVOT * large:
        return False
    grown = math.inf if least == 0.0 else 0.0
    for c in range(size if least > 0.0 else 0):
        for r in range(size):
            column[r] = 0.0
        column[c] = 1.0
        substituted(m, k, size, order, column)
        for r in range(size):
            grown = max(grown, abs(column[r]))
    return not grown * large <= 1 / FLAT


@inner
def answered(
    m: Floats, k: int, size: int, order: Whole, free: bool, best_fit: Floats, right: Floats, column: Floats
) -> None:
    """Write a factored system's answer to a right side; the best fit's where something is free."""
    if free:
        for r in range(size):
            column[r] = along(best_fit, r, size, right)
        return
    for r in range(size):
        column[r] = right[r]
    substituted(m, k, size, order, column)


@inner
def along(m: Floats, r: int, size: int, other: Floats) -> float:
    """Return the product of a matrix's row with a column."""
    total = 0.0
    for c in range(size):
        total += m[r, c] * other[c]
    return total


@inner
def foreseen(
    step: float,
    before: float,
    c: int,
    u: Floats,
    du: Floats,
    ddu: Floats,
    old: Floats,
    dold: Floats,
    ddold: Floats,
) -> float:
    """Return an unknown a step on from `u`: by the quintic through the last two positions, `before` apart.

    By the last one's parabola where they lie nearer together than half a step.
    """
    ahead: float = u[c] + step * (du[c] + step * ddu[c] / 2)
    if abs(step) >= 2 * abs(before):
        return ahead
    # What the last position's parabola misses at the one before, in value, slope and bend, is made up by s³ to s⁵.
    miss = old[c] - u[c] + before * (du[c] - before * ddu[c] / 2)
    slope = before * (dold[c] - du[c] + before * ddu[c])
    bend = before * before * (ddold[c] - ddu[c])
    third, fourth, fifth = (
        -10 * miss - 4 * slope - bend / 2,
        -15 * miss - 7 * slope - bend,
        -6 * miss - 3 * slope - bend / 2,
    )
    s = step / before
    further: float = ahead + s * s * s * (third + s * (fourth + s * fifth))
    return further


def close(  # noqa: PLR0915 - one function: what is handed on costs more than what is done
    blocks: Whole,
    moves: Whole,
    conditions: Whole,
    terms: Whole,
    heights: Whole,
    since: Whole,
    reach: Whole,
    columns: Whole,
    local: Whole,
    home: Whole,
    shares: Floats,
    shapes: Floats,
    weights: Floats,
    constants: Floats,
    drawn: Floats,
    targets: Floats,
    rates: Floats,
    caps: Floats,
    closure: float,
    steps: int,
    derive: bool,
    travels: Floats,
    rising: int,
    sizes: Floats,
    share_strayed: float,
    strayed: float,
    pairs: Whole,
    unknowns: Floats,
    first: Floats,
    second: Floats,
    place: Floats,
    speeds: Floats,
    bends: Floats,
    stuck: Whole,
    signs: Floats,
    spans: Floats,
    followed: Whole,
) -> None:
    """Close every position, block after block; then the derivatives by travel, if wanted.

    Or, where there are travels, march each position through them: outward from where it is closed first, and no
    further than it can be followed. Then lengths between pairs of points are all that is written.

    blocks   : (blocks, 7) first move, after those its conditions need, after all; first condition, after; first column, after
    unknowns : (unknowns, positions) where to begin, and where it ended
    travels  : (marches,) mm beyond the targets; `rising` of them go one way, the others the other way, outward both
    sizes    : (unknowns,) mm that a unit of each moves; corrected by more than `strayed` mm and a share of the step,
               a position may be put together another way
    pairs    : (pairs, 2) points
    spans    : (3, positions, marches, pairs) mm, mm/mm, 1/mm: lengths, and how they fall by travel, once and twice
    followed : (positions, marches) 1 where it got there
    the rest : as `Solution` has them; written where nothing marches
    """
    n, size, marches = place.shape[1], unknowns.shape[0], travels.shape[0]
    x, v, b = np.empty((n, 3)), np.zeros((n, 3)), np.zeros((n, 3))
    u, du, ddu = np.empty(size), np.zeros(size), np.zeros(size)
    old, dold, ddold = np.empty(size), np.empty(size), np.empty(size)
    begun, dbegun, ddbegun = np.empty(size), np.empty(size), np.empty(size)
    start, goals = np.empty(size), np.empty(targets.shape[0])
    turned, slopes = np.empty((size, 2)), np.zeros((n, size, 3))
    widest = 1
    for k in range(blocks.shape[0]):
        widest = max(widest, blocks[k, 6] - blocks[k, 5])
    m, copy, best_fit = (
        np.empty((blocks.shape[0], widest, widest)),
        np.empty((widest, widest)),
        np.empty((widest, widest)),
    )
    gap, column, order = (
        np.empty(widest),
        np.empty(widest),
        np.empty((blocks.shape[0], widest), dtype=np.int64),
    )
    known = np.zeros(
        blocks.shape[0], dtype=np.int64
    )  # blocks whose slopes at the position before are at hand
    for position in range(unknowns.shape[1]):
        g = position if drawn.shape[0] > 1 else 0
        w = position if weights.shape[0] > 1 else 0  # links may be set to many lengths on one geometry
        for p in range(n):
            for a in range(3):
                x[p, a] = drawn[g, p, a]
        for c in range(size):
            u[c] = unknowns[c, position]
        for k in range(blocks.shape[0]):
            known[k] = 0
        at, before, lost = 0.0, 0.0, False
        for march in range(-1, marches):
            if march == rising and march >= 0:  # now the other way, from where it began
                at, before, lost = 0.0, 0.0, False
                for c in range(size):
                    u[c], du[c], ddu[c] = begun[c], dbegun[c], ddbegun[c]
                for k in range(blocks.shape[0]):
                    known[k] = 0
            if lost:
                continue
            step = 0.0 if march < 0 else travels[march] - at
            if march >= 0:
                for c in range(size):
                    start[c] = foreseen(step, before, c, u, du, ddu, old, dold, ddold)
                for c in range(size):
                    old[c], dold[c], ddold[c] = u[c], du[c], ddu[c]
                    u[c] = start[c]
                at, before = travels[march], step
            for d in range(targets.shape[0]):
                goals[d] = targets[d, position] + rates[d] * at
            held = -1
            for k in range(blocks.shape[0]):
                m0, m1, m2 = blocks[k, 0], blocks[k, 1], blocks[k, 2]
                r0, r1, c0, c1 = blocks[k, 3], blocks[k, 4], blocks[k, 5], blocks[k, 6]
                best, singular = math.inf, known[k] == 0
                for newton in range(steps + 1):
                    put(moves, m0, m1, shapes, g, u, turned, x)
                    gaps(conditions, r0, r1, terms, heights, shares, weights, constants, w, goals, x, gap)
                    last, best = best, 0.0
                    for r in range(c1 - c0):
                        if not abs(gap[r]) <= best:
                            best = abs(gap[r])
                    if not math.isfinite(best):
                        best = math.inf
                    if newton == steps or best <= closure:
                        break
                    # Where the last slopes closed nearly all of a gap, the little that is left needs no new ones; nor
                    # does a gap that was foreseen so well.
                    if singular or not best < WELL_CLOSED * last or (newton == 0 and best > FORESEEN_MM):
                        reached(moves, m0, m1, shapes, g, turned, x, since, reach, slopes)
                        matrix(
                            conditions, r0, r1, c1 - c0, terms, heights, shares, weights, w, x, slopes, since, reach, local, home, k, m
                        )  # fmt: skip
                        finite(m, k, c1 - c0, copy)
                        singular = factored(m, k, c1 - c0, order)[1] == 0.0
                        if singular:
                            best_fit[: c1 - c0, : c1 - c0] = np.linalg.pinv(copy[: c1 - c0, : c1 - c0].copy())
                    answered(m, k, c1 - c0, order, singular, best_fit, gap, column)
                    for c in range(c0, c1):
                        if not math.isnan(column[c - c0]):
                            u[columns[c]] -= min(max(column[c - c0], -caps[columns[c]]), caps[columns[c]])
                if best > FAIRLY_CLOSED * closure and held < 0:
                    held = k
                put(moves, m1, m2, shapes, g, u, turned, x)
            if marches == 0:
                stuck[position] = held
                for c in range(size):
                    unknowns[c, position] = u[c]
                for p in range(n):
                    for a in range(3):
                        place[a, p, position] = x[p, a]
                if not derive:
                    continue
            else:
                lost = held >= 0
                if march >= 0:
                    off, moved = 0.0, 0.0
                    for c in range(size):
                        off = max(off, sizes[c] * abs(u[c] - start[c]))
                        moved = max(moved, sizes[c] * abs(start[c] - old[c]))
                    lost = lost or not off <= share_strayed * moved + strayed
                elif lost:
                    break
                if lost:
                    continue
            for k in range(blocks.shape[0]):
                m0, m1, m2 = blocks[k, 0], blocks[k, 1], blocks[k, 2]
                r0, r1, c0, c1 = blocks[k, 3], blocks[k, 4], blocks[k, 5], blocks[k, 6]
                reached(moves, m0, m1, shapes, g, turned, x, since, reach, slopes)
                matrix(
                    conditions, r0, r1, c1 - c0, terms, heights, shares, weights, w, x, slopes, since, reach, local, home, k, m
                )  # fmt: skip
                # Where something is free for a moment its own speed is not told: the least that goes with the rest is taken.
                large = finite(m, k, c1 - c0, copy)
                sign, least = factored(m, k, c1 - c0, order)
                known[k] = 1 if least > 0.0 else 0
                free = c1 - c0 > 1 and flat(m, k, c1 - c0, order, large, least, column)
                if free:
                    best_fit[: c1 - c0, : c1 - c0] = np.linalg.pinv(copy[: c1 - c0, : c1 - c0].copy(), FLAT)
                # With the block's own unknowns at rest, what is left is what earlier blocks and the wheel do to its conditions.
                for c in range(c0, c1):
                    du[columns[c]], ddu[columns[c]] = 0.0, 0.0
                move(moves, m0, m1, shapes, g, turned, du, ddu, 1, x, v, b)
                opening(conditions, r0, r1, terms, heights, shares, weights, w, rates, 1, x, v, b, gap)
                answered(m, k, c1 - c0, order, free, best_fit, gap, column)
                for c in range(c0, c1):
                    du[columns[c]] = -column[c - c0]
                move(moves, m0, m2, shapes, g, turned, du, ddu, 1, x, v, b)
                move(moves, m0, m1, shapes, g, turned, du, ddu, 2, x, v, b)
                opening(conditions, r0, r1, terms, heights, shares, weights, w, rates, 2, x, v, b, gap)
                answered(m, k, c1 - c0, order, free, best_fit, gap, column)
                for c in range(c0, c1):
                    ddu[columns[c]] = -column[c - c0]
                move(moves, m0, m2, shapes, g, turned, du, ddu, 2, x, v, b)
                if marches == 0:
                    signs[k, position] = sign
            if marches == 0:
                for c in range(size):
                    first[c, position], second[c, position] = du[c], ddu[c]
                for p in range(n):
                    for a in range(3):
                        speeds[a, p, position], bends[a, p, position] = v[p, a], b[p, a]
            elif march < 0:
                for c in range(size):
                    begun[c], dbegun[c], ddbegun[c] = u[c], du[c], ddu[c]
            else:
                followed[position, march] = 1
                for pair in range(pairs.shape[0]):
                    i, j = pairs[pair, 0], pairs[pair, 1]
                    squared, rise, bend = 0.0, 0.0, 0.0
                    for a in range(3):
                        d, f = x[i, a] - x[j, a], v[i, a] - v[j, a]
                        squared += d * d
                        rise += d * f
                        bend += f * f + d * (b[i, a] - b[j, a])
                    length = math.sqrt(squared)
                    rise /= length
                    spans[0, position, march, pair] = length
                    spans[1, position, march, pair] = -rise
                    spans[2, position, march, pair] = (rise * rise - bend) / length


def stand(moves: Whole, shapes: Floats, unknowns: Floats, points: Floats) -> None:
    """Put points (3, n, positions) where the unknowns (unknowns, positions) say; the others stay."""
    x, u, turned = (
        np.empty((points.shape[1], 3)),
        np.empty(unknowns.shape[0]),
        np.empty((unknowns.shape[0], 2)),
    )
    for position in range(points.shape[2]):
        for p in range(x.shape[0]):
            for a in range(3):
                x[p, a] = points[a, p, position]
        for c in range(u.shape[0]):
            u[c] = unknowns[c, position]
        put(moves, 0, moves.shape[0], shapes, position if shapes.shape[0] > 1 else 0, u, turned, x)
        for p in range(x.shape[0]):
            for a in range(3):
                points[a, p, position] = x[p, a]


def open_by(
    conditions: Whole,
    terms: Whole,
    heights: Whole,
    shares: Floats,
    weights: Floats,
    constants: Floats,
    targets: Floats,
    points: Floats,
    out: Floats,
) -> None:
    """Write how far conditions stand open, (conditions, positions) mm, at points (3, n, positions)."""
    x, gap, goals = np.empty((points.shape[1], 3)), np.empty(conditions.shape[0]), np.empty(targets.shape[0])
    for position in range(points.shape[2]):
        g = position if weights.shape[0] > 1 else 0
        for p in range(x.shape[0]):
            for a in range(3):
                x[p, a] = points[a, p, position]
        for d in range(targets.shape[0]):
            goals[d] = targets[d, position]
        gaps(conditions, 0, conditions.shape[0], terms, heights, shares, weights, constants, g, goals, x, gap)
        for r in range(conditions.shape[0]):
            out[r, position] = gap[r]


def slopes_at(
    moves: Whole,
    conditions: Whole,
    terms: Whole,
    heights: Whole,
    since: Whole,
    reach: Whole,
    local: Whole,
    home: Whole,
    shares: Floats,
    shapes: Floats,
    weights: Floats,
    unknowns: Floats,
    points: Floats,
    out: Floats,
) -> None:
    """Write every geometry's slopes of the one block's conditions by its unknowns.

    unknowns : (geometries, unknowns); points : (geometries, n, 3) mm; out : (geometries, conditions, unknowns)
    """
    slopes, turned = np.zeros((points.shape[1], unknowns.shape[1], 3)), np.empty((unknowns.shape[1], 2))
    for g in range(out.shape[0]):
        x = points[g]
        put(moves, 0, moves.shape[0], shapes, g, unknowns[g], turned, x)
        reached(moves, 0, moves.shape[0], shapes, g, turned, x, since, reach, slopes)
        matrix(
            conditions, 0, conditions.shape[0], out.shape[2], terms, heights, shares, weights, g, x, slopes, since, reach,
            local, home, 0, out[g : g + 1],
        )  # fmt: skip


def cubic_roots(low: Floats, high: Floats, values: Floats, slopes: Floats, out: Floats) -> None:
    """Write where each cubic through two values and slopes, (2, n), vanishes between low and high, by bisection."""
    for c in range(low.shape[0]):
        width, left, right = high[c] - low[c], 0.0, 1.0
        rising = values[1, c] > values[0, c]
        for _ in range(HALVINGS):
            t = (left + right) / 2
            s = 1 - t
            value = (1 + 2 * t) * s * s * values[0, c] + t * s * s * width * slopes[0, c]
            value += t * t * (3 - 2 * t) * values[1, c] - t * t * s * width * slopes[1, c]
            if (value > 0) == rising:
                right = t
            else:
                left = t
        out[c] = low[c] + width * (left + right) / 2


INTS, NUMBERS, LINE_OF, GRID, CUBE = "i8[:,::1]", "i8[::1]", "f8[::1]", "f8[:,::1]", "f8[:,:,::1]"
SIGNATURES = {
    close: (
        *(INTS,) * 5,
        *(NUMBERS,) * 5,
        *(LINE_OF, CUBE, CUBE, GRID, CUBE, GRID, LINE_OF, LINE_OF, "f8", "i8", "b1"),
        *(LINE_OF, "i8", LINE_OF, "f8", "f8", INTS),
        *(GRID,) * 3,
        *(CUBE,) * 3,
        *(NUMBERS, GRID, "f8[:,:,:,::1]", INTS),
    ),
    stand: (INTS, CUBE, GRID, CUBE),
    open_by: (INTS, INTS, INTS, LINE_OF, CUBE, GRID, GRID, CUBE, GRID),
    cubic_roots: (LINE_OF, LINE_OF, GRID, GRID, LINE_OF),
    slopes_at: (*(INTS,) * 4, *(NUMBERS,) * 4, LINE_OF, CUBE, CUBE, GRID, CUBE, CUBE),
}
"""What each function that is called from outside takes, in numba's words."""
