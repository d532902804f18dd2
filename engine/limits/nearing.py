"""Distances of convex cores, one pair after another, in the part of Python that numba compiles.

The closest points of two convex cores are found by the method of Gilbert, Johnson and Keerthi (1988): the point
of the Minkowski difference nearest to nothing is approached by simplices of support points. Where cores overlap,
the depth is the least shift that parts them, searched over directions.

A core is a centre (n, 3), three axes (n, 3, 3) with a half length along each (n, 3), a disc about the first (n,) and
corners (n, any, 3), all added up.
"""

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]

CLOSE_MM = 0.002  # the distance found is at most this much too long
STEPS = 60
FLAT_SHARE = 1e-9  # a triangle flatter than this is an edge
TOUCH_MM = 1e-6
FEWER_FIRST_MM2 = 1e-12  # of two as near, the one of fewer points
FIRST_STEP, NEXT_STEP = 0.12, 0.8
ENOUGH_MM = 0.0005  # positions that may be nearer by less are not worked out
MOST_TURNS = 240

inner = njit(error_model="numpy", cache=True, forceinline=True, _nrt=False)  # type: ignore[call-overload]
"""They make no arrays: nothing counts who holds which."""


@inner
def furthest(
    centre: Floats,
    axes: Floats,
    half: Floats,
    disc: Floats,
    corners: Floats,
    n: int,
    way: Floats,
    sign: float,
    out: Floats,
) -> None:
    """Add a core's furthest point along a direction, `sign` times it, to `out`, as often."""
    x, y, z = sign * way[0], sign * way[1], sign * way[2]
    along1 = axes[n, 1, 0] * x + axes[n, 1, 1] * y + axes[n, 1, 2] * z
    along2 = axes[n, 2, 0] * x + axes[n, 2, 1] * y + axes[n, 2, 2] * z
    along0 = axes[n, 0, 0] * x + axes[n, 0, 1] * y + axes[n, 0, 2] * z
    share0, share1, share2 = (
        half[n, 0] * np.sign(along0),
        half[n, 1] * np.sign(along1),
        half[n, 2] * np.sign(along2),
    )
    if disc[n] > 0.0:
        # In the disc's own axes, so that a direction along the axis cannot leave its plane.
        flat = disc[n] / max(math.sqrt(along1 * along1 + along2 * along2), 1e-12)
        share1 += flat * along1
        share2 += flat * along2
    best, most = -1, -math.inf
    for k in range(corners.shape[1]):
        reach = corners[n, k, 0] * x + corners[n, k, 1] * y + corners[n, k, 2] * z
        if reach > most:
            best, most = k, reach
    for a in range(3):
        point = centre[n, a] + share0 * axes[n, 0, a] + share1 * axes[n, 1, a] + share2 * axes[n, 2, a]
        if best >= 0:
            point += corners[n, best, a]
        out[a] += sign * point


@inner
def spare(simplex: Floats) -> int:
    """Return a place in the simplex that only repeats another; the last that does, or the last of all."""
    found = 3
    for place in range(1, 4):
        for other in range(place):
            if (
                simplex[place, 0] == simplex[other, 0]
                and simplex[place, 1] == simplex[other, 1]
                and simplex[place, 2] == simplex[other, 2]
            ):
                found = place
    return found


@inner
def kept(nearest: Floats, size: float, x: float, y: float, z: float, points: int) -> float:
    """Take a point if it is the nearest to nothing so far; return the least size, of `points` corners made heavier."""
    mine = x * x + y * y + z * z + FEWER_FIRST_MM2 * points
    if mine < size:
        nearest[0], nearest[1], nearest[2] = x, y, z
        return mine
    return size


@inner
def reduced(simplex: Floats, corner: Floats, nearest: Floats) -> None:
    """Find the point of a simplex nearest to nothing and keep of the simplex only what that point lies on."""
    size, one, two, three, number = math.inf, 0, 0, 0, 0
    for i in range(4):
        now = kept(nearest, size, simplex[i, 0], simplex[i, 1], simplex[i, 2], number)
        number += 1
        if now < size:
            size, one, two, three = now, i, i, i
    for i in range(4):
        for j in range(i + 1, 4):
            e0, e1, e2 = (
                simplex[j, 0] - simplex[i, 0],
                simplex[j, 1] - simplex[i, 1],
                simplex[j, 2] - simplex[i, 2],
            )
            length = e0 * e0 + e1 * e1 + e2 * e2
            share = -(simplex[i, 0] * e0 + simplex[i, 1] * e1 + simplex[i, 2] * e2) / max(length, 1e-30)
            if 0 <= share <= 1 and length > 1e-18:
                x, y, z = simplex[i, 0] + share * e0, simplex[i, 1] + share * e1, simplex[i, 2] + share * e2
                now = kept(nearest, size, x, y, z, number)
                if now < size:
                    size, one, two, three = now, i, j, i
            number += 1
    for i in range(2):
        for j in range(i + 1, 3):
            for k in range(j + 1, 4):
                e0, e1, e2 = (
                    simplex[j, 0] - simplex[i, 0],
                    simplex[j, 1] - simplex[i, 1],
                    simplex[j, 2] - simplex[i, 2],
                )
                f0, f1, f2 = (
                    simplex[k, 0] - simplex[i, 0],
                    simplex[k, 1] - simplex[i, 1],
                    simplex[k, 2] - simplex[i, 2],
                )
                d11, d12, d22 = (
                    e0 * e0 + e1 * e1 + e2 * e2,
                    e0 * f0 + e1 * f1 + e2 * f2,
                    f0 * f0 + f1 * f1 + f2 * f2,
                )
                r1 = -(simplex[i, 0] * e0 + simplex[i, 1] * e1 + simplex[i, 2] * e2)
                r2 = -(simplex[i, 0] * f0 + simplex[i, 1] * f1 + simplex[i, 2] * f2)
                area = d11 * d22 - d12 * d12
                if area > FLAT_SHARE * d11 * d22:
                    u, v = (r1 * d22 - r2 * d12) / area, (r2 * d11 - r1 * d12) / area
                    if u >= 0 and v >= 0 and u + v <= 1:
                        x = simplex[i, 0] + u * e0 + v * f0
                        y = simplex[i, 1] + u * e1 + v * f1
                        z = simplex[i, 2] + u * e2 + v * f2
                        now = kept(nearest, size, x, y, z, number)
                        if now < size:
                            size, one, two, three = now, i, j, k
                number += 1
    for a in range(3):
        corner[0], corner[1], corner[2] = simplex[one, a], simplex[two, a], simplex[three, a]
        simplex[0, a], simplex[1, a], simplex[2, a], simplex[3, a] = (
            corner[0],
            corner[1],
            corner[2],
            corner[0],
        )


@inner
def encloses(simplex: Floats) -> bool:
    """Return whether a tetrahedron holds nothing's place: it lies on the inner side of all four faces."""
    for face in range(4):
        i = 0 if face < 3 else 1
        j = 1 if face < 2 else 2
        k = 2 if face == 0 else 3
        apex = 3 - face
        e0, e1, e2 = (
            simplex[j, 0] - simplex[i, 0],
            simplex[j, 1] - simplex[i, 1],
            simplex[j, 2] - simplex[i, 2],
        )
        f0, f1, f2 = (
            simplex[k, 0] - simplex[i, 0],
            simplex[k, 1] - simplex[i, 1],
            simplex[k, 2] - simplex[i, 2],
        )
        n0, n1, n2 = e1 * f2 - e2 * f1, e2 * f0 - e0 * f2, e0 * f1 - e1 * f0
        here = -(n0 * simplex[i, 0] + n1 * simplex[i, 1] + n2 * simplex[i, 2])
        there = here + n0 * simplex[apex, 0] + n1 * simplex[apex, 1] + n2 * simplex[apex, 2]
        if here * there < 0 or (face == 0 and abs(there) <= 1e-9):
            return False
    return True


@inner
def between(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    n: int, way: Floats, point: Floats,
) -> None:  # fmt: skip
    """Write the point of the difference of two cores that is furthest against a direction."""
    point[:] = 0.0
    furthest(centre, axes, half, disc, corners, n, way, -1.0, point)
    furthest(centre2, axes2, half2, disc2, corners2, n, way, 1.0, point)
    for a in range(3):
        point[a] = -point[a]


@inner
def approached(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    n: int, simplex: Floats, corner: Floats, nearest: Floats, point: Floats,
) -> bool:  # fmt: skip
    """Write the point of the difference of two cores that is nearest to nothing; return whether they overlap."""
    apart = 0.0
    for a in range(3):
        nearest[a] = centre[n, a] - centre2[n, a]
        apart += abs(nearest[a])
    if apart <= 1e-9:
        nearest[0], nearest[1], nearest[2] = 1.0, 0.0, 0.0
    between(
        centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, n, nearest, point
    )  # fmt: skip
    for a in range(3):
        nearest[a] = point[a]
        for k in range(4):
            simplex[k, a] = point[a]
    for _ in range(STEPS):
        between(
            centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, n, nearest, point
        )  # fmt: skip
        size, gap = 0.0, 0.0
        for a in range(3):
            size += nearest[a] * nearest[a]
            gap += nearest[a] * (nearest[a] - point[a])
        size = math.sqrt(size)
        if size < TOUCH_MM:
            return True
        if gap <= CLOSE_MM * size:
            return False
        place = spare(simplex)
        for a in range(3):
            simplex[place, a] = point[a]
        inside = encloses(simplex)
        reduced(simplex, corner, nearest)
        if inside:
            return True
    return False


@inner
def deepest(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    n: int, ways: Floats, nudges: Floats, looks: int, middle: Floats, tried: Floats, point: Floats, best: Floats,
) -> float:  # fmt: skip
    """Return the least shift of the first core that parts two that overlap, mm; write its direction, `best`."""
    least, count = math.inf, ways.shape[0]
    for k in range(count + 12):
        for a in range(3):
            if k < count:
                tried[a] = ways[k, a]
            else:  # the cores' own axes, both ways
                side, axis = (1.0, -1.0)[(k - count) % 2], (k - count) // 2
                tried[a] = side * (axes[n, axis, a] if axis < 3 else axes2[n, axis - 3, a])
        between(
            centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, n, tried, point
        )  # fmt: skip
        depth = -(point[0] * tried[0] + point[1] * tried[1] + point[2] * tried[2])
        if depth < least:
            least, best[0], best[1], best[2] = depth, tried[0], tried[1], tried[2]
    # The depth has creases: look all round the best direction, ever more closely, rather than down a slope.
    step = FIRST_STEP
    for _ in range(looks):
        middle[0], middle[1], middle[2] = best[0], best[1], best[2]
        for k in range(nudges.shape[0]):
            for a in range(3):
                tried[a] = middle[a] + step * nudges[k, a]
            size = math.sqrt(tried[0] * tried[0] + tried[1] * tried[1] + tried[2] * tried[2])
            for a in range(3):
                tried[a] /= size
            between(
                centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, n, tried, point
            )  # fmt: skip
            depth = -(point[0] * tried[0] + point[1] * tried[1] + point[2] * tried[2])
            if depth < least:
                least, best[0], best[1], best[2] = depth, tried[0], tried[1], tried[2]
        step *= NEXT_STEP
    return max(least, 0.0)


@inner
def parted(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    n: int, ways: Floats, nudges: Floats, looks: int,
    simplex: Floats, corner: Floats, nearest: Floats, point: Floats, tried: Floats,
) -> float:  # fmt: skip
    """Return the distance between two cores, mm, and write the direction from the second to the first, `nearest`.

    Overlapping cores give minus the least shift that parts them.
    """
    inside = approached(
        centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, n, simplex, corner, nearest, point
    )  # fmt: skip
    if inside:
        deep: float = deepest(
            centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2,
            n, ways, nudges, looks, corner, tried, point, nearest,
        )  # fmt: skip
        return -deep
    size = math.sqrt(nearest[0] * nearest[0] + nearest[1] * nearest[1] + nearest[2] * nearest[2])
    for a in range(3):
        nearest[a] /= max(size, 1e-12)
    return size


def distances(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    ways: Floats, nudges: Floats, looks: int, distance: Floats, direction: Floats,
) -> None:  # fmt: skip
    """Write the distance between cores (n,) mm, and the direction from the second to the first (n, 3).

    Overlapping cores give minus the least shift that parts them, the more exactly the more `looks` round the best
    of the `ways`.
    """
    simplex, corner, nearest = np.empty((4, 3)), np.empty(3), np.empty(3)
    point, tried = np.empty(3), np.empty(3)
    for n in range(centre.shape[0]):
        distance[n] = parted(
            centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2,
            n, ways, nudges, looks, simplex, corner, nearest, point, tried,
        )  # fmt: skip
        for a in range(3):
            direction[n, a] = nearest[a]


def nearest_row(
    centre: Floats, axes: Floats, half: Floats, disc: Floats, corners: Floats,
    centre2: Floats, axes2: Floats, half2: Floats, disc2: Floats, corners2: Floats,
    skins: float, ways: Floats, nudges: Floats, bound: Floats, found: Floats,
) -> None:  # fmt: skip
    """Write the nearest of two solids' positions: its distance, mm, its number, and the direction, (5,).

    bound : (n,) mm that they are certainly no nearer than; those not above the least distance so far are worked out,
            the lowest first. The direction found there parts the two at every other position by a distance that is
            cheap to tell, and is a new bound. Written on.
    """
    simplex, corner, nearest = np.empty((4, 3)), np.empty(3), np.empty(3)
    point, tried = np.empty(3), np.empty(3)
    found[0] = math.inf
    for _ in range(MOST_TURNS):
        n = 0
        for k in range(1, bound.shape[0]):
            if bound[k] < bound[n]:
                n = k
        if not bound[n] < found[0] - ENOUGH_MM:
            break
        apart = parted(
            centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2,
            n, ways, nudges, 0, simplex, corner, nearest, point, tried,
        )  # fmt: skip
        if apart - skins < found[0]:
            found[0], found[1] = apart - skins, n
            found[2], found[3], found[4] = nearest[0], nearest[1], nearest[2]
        bound[n] = math.inf
        for k in range(bound.shape[0]):
            between(
                centre, axes, half, disc, corners, centre2, axes2, half2, disc2, corners2, k, nearest, point
            )  # fmt: skip
            along = point[0] * nearest[0] + point[1] * nearest[1] + point[2] * nearest[2] - skins
            bound[k] = max(bound[k], along)


LIST, GRID, CUBE = "f8[::1]", "f8[:,::1]", "f8[:,:,::1]"
CORE = (GRID, CUBE, GRID, LIST, CUBE)
SIGNATURES = {
    distances: (*CORE, *CORE, GRID, GRID, "i8", LIST, GRID),
    nearest_row: (*CORE, *CORE, "f8", GRID, GRID, LIST, LIST),
}
"""What is called from outside takes, in numba's words."""
