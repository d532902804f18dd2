"""From nine plain numbers, the choices, to a rocker that stands as it should where the wheel stands.

Place   where in its room the pivot lies (three shares of the edges)
Lean    rod to rod arm less a right angle, at ride
Arm     the rod arm's length
Turn    from the rod's arm to the damper's, about the bolt
Aside   damper to its arm less a right angle, at ride
Scale   of the ratio asked for; 1 where the ratio itself is the target
Side    which of the two ways the rod arm stands: below a half one, else the other

The damper's arm is then as long as the ratio wants it, and its far end lies where its length at ride puts it, on
the side to which the arm moves in bump: so it is always pressed, and stands within its stroke.
"""

import math
from enum import IntEnum

import numpy as np

from engine.linkage.vectors import Array, cross_rows
from engine.sizing.rocker.kernel import Rockers
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide


class Choice(IntEnum):
    """The columns of a row of choices, as the search and the proof pass them on."""

    PLACE_1 = 0
    PLACE_2 = 1
    PLACE_3 = 2
    LEAN = 3
    ROD_ARM = 4
    TURN = 5
    ASIDE = 6
    SCALE = 7
    SIDE = 8


PLACES = [Choice.PLACE_1, Choice.PLACE_2, Choice.PLACE_3]
LEAN = math.radians(14)
ASIDE = math.radians(22)
SCALE = 0.25
FREE_LENGTH_MM = 300.0  # of a unit that says no lengths


def limits_of(targets: Targets) -> tuple[Array, Array]:
    """Return the least and the most of each choice, (9,) each."""
    free = targets.ratio is None
    scale = SCALE if free else 0.0
    edges = {
        Choice.PLACE_1: (0.0, 1.0),
        Choice.PLACE_2: (0.0, 1.0),
        Choice.PLACE_3: (0.0, 1.0),
        Choice.LEAN: (-LEAN, LEAN),
        Choice.ROD_ARM: targets.rod_arm,
        Choice.TURN: (-math.pi, math.pi),
        Choice.ASIDE: (-ASIDE, ASIDE),
        Choice.SCALE: (1 - scale, 1 + scale),
        Choice.SIDE: (0.0, 1.0),
    }
    low, high = np.array([edges[choice] for choice in Choice], dtype=float).T
    return low, high


def ratio_guess(side: WheelSide, targets: Targets) -> float:
    """Return the ratio at ride that a target comes to when it changes little: K_w = MR²·k, stroke = MR·travel."""
    if targets.ratio is not None:
        return targets.ratio
    if targets.stroke is not None:
        return targets.stroke / float(side.travels[-1] - side.travels[0])
    if targets.wheel_rate is not None and side.spring_n_per_mm:
        return math.sqrt(targets.wheel_rate / side.spring_n_per_mm)
    return 0.7


def rockers_from(choices: Array, side: WheelSide, targets: Targets) -> Rockers:
    """Return the rockers of rows of choices (n, 9); NaN in those that cannot be drawn."""
    end, speed = side.path[side.ride], side.rate[side.ride]
    pivot = targets.corner + choices[:, PLACES] @ targets.edges
    out = end - pivot
    axis = _axes(side.axis, out, targets.in_line)
    across = out - axis * np.einsum("nk,nk->n", out, axis)[:, None]
    flat = np.linalg.norm(across, axis=1)
    across = across / np.maximum(flat, 1e-9)[:, None]
    up = cross_rows(axis, across)
    high = np.einsum("nk,nk->n", out, axis)
    whole = np.hypot(flat, high)
    arm, lean = choices[:, Choice.ROD_ARM], choices[:, Choice.LEAN] + math.pi / 2
    way = np.where(choices[:, Choice.SIDE] < 0.5, -1.0, 1.0)
    with np.errstate(invalid="ignore", divide="ignore"):
        rod = arm * np.cos(lean) + np.sqrt(whole**2 - (arm * np.sin(lean)) ** 2)
        cosine = (arm**2 + whole**2 - rod**2) / (2 * arm * flat)
        sine = way * np.sqrt(1 - cosine**2)
    jx, jy = arm * cosine, arm * sine
    wx, wy = jx - flat, jy
    along = [np.einsum("nk,k->n", axes, speed) for axes in (across, up, axis)]
    with np.errstate(invalid="ignore", divide="ignore"):
        turning = (wx * along[0] + wy * along[1] - high * along[2]) / (wy * jx - wx * jy)
    ratio = ratio_guess(side, targets) * choices[:, Choice.SCALE]
    aside, turn = choices[:, Choice.ASIDE], choices[:, Choice.TURN]
    with np.errstate(invalid="ignore", divide="ignore"):
        damper_arm = ratio / (np.abs(turning) * np.cos(aside))
        c, s = np.cos(turn), np.sin(turn)
        kx, ky = (c * jx - s * jy) / arm, (s * jx + c * jy) / arm
    sense = np.sign(turning)
    mx, my = -sense * ky, sense * kx  # the way the damper's eye moves in bump
    fx = np.cos(aside) * mx + np.sin(aside) * kx
    fy = np.cos(aside) * my + np.sin(aside) * ky
    long = _length_at_ride(side, ratio)
    far = np.stack([damper_arm * kx + long * fx, damper_arm * ky + long * fy, np.zeros(len(kx))], axis=1)
    return Rockers(
        pivot=pivot,
        across=across,
        up=up,
        axis=axis,
        rod_arm=arm,
        damper_arm=damper_arm,
        turn=turn,
        rod=rod,
        side=way,
        far=far,
    )


def _axes(drawn: Array, out: Array, in_line: bool) -> Array:
    """Return each rocker's bolt: as drawn, or turned as little as holds the rod's end in its plane."""
    axes = np.broadcast_to(drawn, out.shape)
    if not in_line:
        return axes
    unit = out / np.linalg.norm(out, axis=1, keepdims=True)
    turned = axes - unit * np.einsum("nk,nk->n", axes, unit)[:, None]
    tilted: Array = turned / np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-9)
    return tilted


def _length_at_ride(side: WheelSide, ratio: Array) -> Array:
    """Return the unit's length at ride so that what is not used of its stroke is left in equal parts at both ends."""
    if side.extended is None or side.compressed is None:
        return np.full(len(ratio), FREE_LENGTH_MM)
    up = side.travels[-1] - side.travels[side.ride]
    used = ratio * (side.travels[-1] - side.travels[0])
    spare = (side.extended - side.compressed - used) / 2
    return np.asarray(side.compressed + spare + ratio * up)


def far_places(rockers: Rockers) -> Array:
    """Return where each unit's far end stands, (n, 3) mm."""
    return in_space(rockers, rockers.far[:, 0], rockers.far[:, 1], rockers.far[:, 2])


def in_space(rockers: Rockers, x: Array, y: Array, h: Array | float = 0.0) -> Array:
    """Return places of the rockers' planes in space: x, y (n,) or (n, rows) mm from the pivots to (…, 3)."""
    x, y, h = np.asarray(x), np.asarray(y), np.asarray(h)
    if x.ndim == 2:
        shaped = [way[:, None, :] for way in (rockers.pivot, rockers.across, rockers.up, rockers.axis)]
    else:
        shaped = [rockers.pivot, rockers.across, rockers.up, rockers.axis]
    pivot, across, up, axis = shaped
    place: Array = pivot + x[..., None] * across + y[..., None] * up
    return place + h[..., None] * axis if h.ndim else place + float(h) * axis


def as_drawn(side: WheelSide) -> Rockers:
    """Return the rocker that is drawn now, alone; the rod's length that of the drawing."""
    axis = side.axis[None]
    end = side.path[side.drawn]
    out = end - side.pivot
    across = out - side.axis * float(out @ side.axis)
    across = (across / np.linalg.norm(across))[None]
    up = cross_rows(axis, across)

    def flat(place: Array) -> tuple[float, float, float]:
        arm = place - side.pivot
        return float(arm @ across[0]), float(arm @ up[0]), float(arm @ side.axis)

    (jx, jy, _), (kx, ky, kh), far = flat(side.joint), flat(side.eye), flat(side.far)
    turn = math.atan2(ky, kx) - math.atan2(jy, jx)
    return Rockers(
        pivot=side.pivot[None],
        across=across,
        up=up,
        axis=axis,
        rod_arm=np.array([math.hypot(jx, jy)]),
        damper_arm=np.array([math.hypot(kx, ky)]),
        turn=np.array([turn]),
        rod=np.array([float(np.linalg.norm(side.joint - end))]),
        side=np.array([1.0 if jy >= 0 else -1.0]),
        far=np.array([[far[0], far[1], far[2] - kh]]),
    )
