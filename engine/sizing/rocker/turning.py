"""The inner loops of the rocker search, in the part of Python that numba compiles: one rocker after another.

What is worked out is told in `candidates.py` and `moving.py`; this is compiled once, at set-up (`engine/compiled.py`),
and nothing imports it to run. A rocker that cannot be drawn, or cannot follow, is NaN.
"""

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]

LEAN, ROD_ARM, TURN, ASIDE, SCALE, SIDE = range(
    3, 9
)  # columns of choices after the place, as `Choice` has them
LEAST = 1e-9  # mm that a direction is divided by at least


def drawn(
    choices: Floats,
    corner: Floats,
    edges: Floats,
    bolt: Floats,
    in_line: bool,
    end: Floats,
    speed: Floats,
    guess: float,
    long: Floats,
    pivot: Floats,
    across: Floats,
    up: Floats,
    axis: Floats,
    damper_arm: Floats,
    rod: Floats,
    side: Floats,
    far: Floats,
) -> None:
    """Write the rockers of choices (n, 9), as `Rockers` has them.

    corner, edges : (3,), (3, 3) mm, the pivot's room; bolt (3,) unit, as drawn
    end, speed    : (3,) the rod's end at ride, mm, and how it moves by travel
    guess         : the ratio at ride, before it is scaled; long (2,) the unit's length at ride, mm, and by ratio
    """
    for n in range(choices.shape[0]):
        for a in range(3):
            pivot[n, a] = corner[a]
            for b in range(3):
                pivot[n, a] += choices[n, b] * edges[b, a]
        lean, arm = choices[n, LEAN] + math.pi / 2, choices[n, ROD_ARM]
        turn, aside = choices[n, TURN], choices[n, ASIDE]
        o0, o1, o2 = end[0] - pivot[n, 0], end[1] - pivot[n, 1], end[2] - pivot[n, 2]
        a0, a1, a2 = bolt[0], bolt[1], bolt[2]
        if in_line:  # turned as little as holds the rod's end in the rocker's plane
            out2 = o0 * o0 + o1 * o1 + o2 * o2
            share = (a0 * o0 + a1 * o1 + a2 * o2) / out2
            a0, a1, a2 = a0 - share * o0, a1 - share * o1, a2 - share * o2
            size = max(np.sqrt(a0 * a0 + a1 * a1 + a2 * a2), LEAST)
            a0, a1, a2 = a0 / size, a1 / size, a2 / size
        high = o0 * a0 + o1 * a1 + o2 * a2
        x0, x1, x2 = o0 - high * a0, o1 - high * a1, o2 - high * a2
        flat = np.sqrt(x0 * x0 + x1 * x1 + x2 * x2)
        size = max(flat, LEAST)
        x0, x1, x2 = x0 / size, x1 / size, x2 / size
        y0, y1, y2 = a1 * x2 - a2 * x1, a2 * x0 - a0 * x2, a0 * x1 - a1 * x0
        whole2 = flat * flat + high * high
        way = -1.0 if choices[n, SIDE] < 0.5 else 1.0
        stretch = arm * np.cos(lean) + np.sqrt(whole2 - (arm * np.sin(lean)) ** 2)
        cosine = (arm * arm + whole2 - stretch * stretch) / (2 * arm * flat)
        jx, jy = arm * cosine, arm * way * np.sqrt(1 - cosine * cosine)
        wx, wy = jx - flat, jy
        moving = wx * (x0 * speed[0] + x1 * speed[1] + x2 * speed[2])
        moving += wy * (y0 * speed[0] + y1 * speed[1] + y2 * speed[2])
        moving -= high * (a0 * speed[0] + a1 * speed[1] + a2 * speed[2])
        turning = moving / (wy * jx - wx * jy)
        ratio = guess * choices[n, SCALE]
        reach = ratio / (abs(turning) * np.cos(aside))
        c, s = np.cos(turn), np.sin(turn)
        kx, ky = (c * jx - s * jy) / arm, (s * jx + c * jy) / arm
        sense = 1.0 if turning > 0 else -1.0 if turning < 0 else turning
        mx, my = -sense * ky, sense * kx  # the way the damper's eye moves in bump
        length = long[0] + long[1] * ratio
        far[n, 0] = reach * kx + length * (np.cos(aside) * mx + np.sin(aside) * kx)
        far[n, 1] = reach * ky + length * (np.cos(aside) * my + np.sin(aside) * ky)
        far[n, 2] = 0.0
        across[n, 0], across[n, 1], across[n, 2] = x0, x1, x2
        up[n, 0], up[n, 1], up[n, 2] = y0, y1, y2
        axis[n, 0], axis[n, 1], axis[n, 2] = a0, a1, a2
        damper_arm[n], rod[n], side[n] = reach, stretch, way


def moved(
    pivot: Floats,
    across: Floats,
    up: Floats,
    axis: Floats,
    rod_arm: Floats,
    damper_arm: Floats,
    turn: Floats,
    rods: Floats,
    side: Floats,
    far: Floats,
    path: Floats,
    rate: Floats,
    out: Floats,
) -> None:
    """Write rockers along the path of the rod's end (rows, 3) mm, its rate (rows, 3): (11, n, rows) in the order of `Moved`."""
    for n in range(rod_arm.shape[0]):
        arm, reach, rod = rod_arm[n], damper_arm[n], rods[n]
        c, s, scale = np.cos(turn[n]), np.sin(turn[n]), reach / arm
        for r in range(path.shape[0]):
            d0, d1, d2 = path[r, 0] - pivot[n, 0], path[r, 1] - pivot[n, 1], path[r, 2] - pivot[n, 2]
            x = across[n, 0] * d0 + across[n, 1] * d1 + across[n, 2] * d2
            y = up[n, 0] * d0 + up[n, 1] * d1 + up[n, 2] * d2
            h = axis[n, 0] * d0 + axis[n, 1] * d1 + axis[n, 2] * d2
            xr = across[n, 0] * rate[r, 0] + across[n, 1] * rate[r, 1] + across[n, 2] * rate[r, 2]
            yr = up[n, 0] * rate[r, 0] + up[n, 1] * rate[r, 1] + up[n, 2] * rate[r, 2]
            hr = axis[n, 0] * rate[r, 0] + axis[n, 1] * rate[r, 1] + axis[n, 2] * rate[r, 2]
            flat = np.sqrt(x * x + y * y)
            cosine = (arm * arm + flat * flat + h * h - rod * rod) / (2 * arm * flat)
            sine = side[n] * np.sqrt(1 - cosine * cosine)
            ux, uy = x / flat, y / flat
            jx, jy = arm * (cosine * ux - sine * uy), arm * (cosine * uy + sine * ux)
            wx, wy = jx - x, jy - y
            turning = (wx * xr + wy * yr - h * hr) / (wy * jx - wx * jy)
            kx, ky = scale * (c * jx - s * jy), scale * (s * jx + c * jy)
            dx, dy = kx - far[n, 0], ky - far[n, 1]
            across2 = dx * dx + dy * dy
            length = np.sqrt(across2 + far[n, 2] * far[n, 2])
            rod_along, damper_along = jx * wx + jy * wy, kx * dx + ky * dy
            out[0, n, r], out[1, n, r] = length, (dx * ky - dy * kx) * turning / length
            out[2, n, r], out[3, n, r] = rod_along / (arm * rod), damper_along / (reach * length)
            out[4, n, r] = rod_along / (arm * np.sqrt(rod * rod - h * h))
            out[5, n, r] = damper_along / (reach * np.sqrt(across2))
            out[6, n, r] = h / rod
            out[7, n, r], out[8, n, r], out[9, n, r], out[10, n, r] = jx, jy, kx, ky


def apart(marks: Floats, kept: Whole, count: Whole) -> None:
    """Keep rows of marks (n, marks), in order, that stand more than one from every row kept before.

    kept  : (most,) numbers of rows, those kept already first; written on
    count : (1,) how many they are; written on
    """
    for k in range(marks.shape[0]):
        if count[0] >= kept.shape[0]:
            break
        near = False
        for q in range(count[0]):
            within = True
            for a in range(marks.shape[1]):
                if not abs(marks[k, a] - marks[kept[q], a]) <= 1.0:
                    within = False
                    break
            if within:
                near = True
                break
        if not near:
            kept[count[0]] = k
            count[0] += 1


LIST, GRID, CUBE, NUMBERS = "f8[::1]", "f8[:,::1]", "f8[:,:,::1]", "i8[::1]"
SIGNATURES = {
    drawn: (GRID, LIST, GRID, LIST, "b1", LIST, LIST, "f8", LIST, *(GRID,) * 4, *(LIST,) * 3, GRID),
    moved: (*(GRID,) * 4, *(LIST,) * 5, GRID, GRID, GRID, CUBE),
    apart: (GRID, NUMBERS, NUMBERS),
}
"""What is called from outside takes, in numba's words."""
