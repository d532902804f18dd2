"""How far a rocker is from what is asked of it, each target by itself.

Miss   how far off a target is, over what a fabricator would let pass: 1 is just about acceptable, 0 is met.
Score  the squares of all misses together; a rocker that cannot take the travel has none.
"""

import math

import numpy as np

from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import far_places, in_space
from engine.sizing.rocker.moving import Moved, Rockers
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide

RATIO_SHARE, RATE_SHARE, STROKE_MM = 0.004, 0.01, 0.8
BOW_SHARE = 0.03  # the ends' rise is asked for; between them the ratio should run straight
CHANGE_SHARE, SQUARE_DEG, DAMPER_DEG = 0.012, 1.0, 5.0
OVER_CENTRE_DEG, PAST_DEG = 45.0, 25.0
ROOM_MM, ARM_MM, LEFT_MM = 1.5, 1.0, 0.8
ROD_RADIUS, ARM_RADIUS, DAMPER_RADIUS = 9.0, 10.0, 38.0
ALONG = np.linspace(0.0, 1.0, 7)
WORST = 60.0
MET = 1.0  # a miss of no more counts as met


def misses_of(rockers: Rockers, moved: Moved, side: WheelSide, targets: Targets) -> dict[str, Array]:
    """Return each target's miss, (n,); signed where it is off one way or the other."""
    ride = side.ride
    found: dict[str, Array] = {}
    at_ride = moved.ratio[:, ride]
    if targets.ratio is not None:
        found["ratio"] = (at_ride / targets.ratio - 1) / RATIO_SHARE
    elif targets.stroke is not None:
        found["stroke"] = (np.ptp(moved.length, axis=1) - targets.stroke) / STROKE_MM
    elif targets.wheel_rate is not None:
        found["wheel_rate"] = (wheel_rates(moved, side) / targets.wheel_rate - 1) / RATE_SHARE
    if targets.change is not None:
        found["change"] = (changes(moved) - targets.change) / CHANGE_SHARE
    rod = np.degrees(np.arccos(np.clip(moved.rod_cosine, -1, 1)))
    off = rod[:, ride] - 90 if targets.school == "square" else (rod[:, 0] + rod[:, -1]) / 2 - 90
    found["rod_angle"] = off / SQUARE_DEG
    if targets.damper_angle is not None:
        damper = np.degrees(np.arccos(np.clip(moved.damper_cosine[:, ride], -1, 1)))
        found["damper_angle"] = (damper - targets.damper_angle) / DAMPER_DEG
    flattest = np.maximum(np.abs(moved.rod_flat).max(axis=1), np.abs(moved.damper_flat).max(axis=1))
    least = np.degrees(np.arccos(np.clip(flattest, -1, 1)))
    found["over_centre"] = np.maximum(OVER_CENTRE_DEG - least, 0) / 5
    if side.extended is not None and side.compressed is not None:
        bump = moved.length.min(axis=1) - side.compressed
        droop = side.extended - moved.length.max(axis=1)
        found["damper_left"] = np.maximum(targets.left - np.minimum(bump, droop), 0) / LEFT_MM
    found |= standing_misses(rockers, targets)
    apart = np.hypot(
        moved.joint[0][:, ride] - moved.eye[0][:, ride], moved.joint[1][:, ride] - moved.eye[1][:, ride]
    )
    found["joints"] = np.maximum(targets.joints_apart - apart, 0) / ROOM_MM
    if targets.straight:
        found["bow"] = bows(moved, side.travels) / BOW_SHARE
    if targets.keep_outs:
        found["keep_outs"] = keep_out_misses(rockers, moved, side, targets)
    return found


def standing_misses(rockers: Rockers, targets: Targets) -> dict[str, Array]:
    """Return the misses that tell themselves before anything moves, (n,): where the far end lies, how long the arm is."""
    far = far_places(rockers)
    outside = np.maximum(np.maximum(targets.far_low - far, far - targets.far_high), 0)
    low, high = targets.damper_arm
    arm = rockers.damper_arm
    return {
        "far_room": np.linalg.norm(outside, axis=1) / ROOM_MM,
        "damper_arm": np.maximum(np.maximum(low - arm, arm - high), 0) / ARM_MM,
    }


def wheel_rates(moved: Moved, side: WheelSide) -> Array:
    """Return the wheel rates where it stands, (n,) N/mm: K_w = MR²·k + F·dMR/dz, the force that carries the weight."""
    if side.spring_n_per_mm is None:
        return np.full(len(moved.ratio), np.nan)
    ride = side.ride
    around = slice(max(ride - 1, 0), ride + 2)
    slope = (moved.ratio[:, around][:, -1] - moved.ratio[:, around][:, 0]) / np.ptp(side.travels[around])
    ratio = moved.ratio[:, ride]
    return np.asarray(ratio**2 * side.spring_n_per_mm + side.weight_n / ratio * slope)


def changes(moved: Moved) -> Array:
    """Return how much the ratio rises from full droop to full bump, (n,), a share of it at droop."""
    return np.asarray(moved.ratio[:, -1] / moved.ratio[:, 0] - 1)


def bows(moved: Moved, travels: Array) -> Array:
    """Return how far the ratio over travels (rows,) mm leaves the line between its ends at most, (n,), as a signed share."""
    share = (travels - travels[0]) / (travels[-1] - travels[0])
    first, last = moved.ratio[:, :1], moved.ratio[:, -1:]
    off = moved.ratio / (first + (last - first) * share) - 1
    most = np.nan_to_num(np.abs(off)).argmax(axis=1)
    return np.asarray(np.take_along_axis(off, most[:, None], axis=1)[:, 0])


def keep_out_misses(rockers: Rockers, moved: Moved, side: WheelSide, targets: Targets) -> Array:
    """Return how deep rod, arms and damper stand in what must be kept free, (n,), looked at in droop, ride and bump."""
    far = far_places(rockers)
    ones, others, radii = [], [], []
    for row in {0, side.ride, len(side.travels) - 1}:
        joint = in_space(rockers, moved.joint[0][:, row], moved.joint[1][:, row])
        eye = in_space(rockers, moved.eye[0][:, row], moved.eye[1][:, row])
        end = np.broadcast_to(side.path[row], joint.shape)
        ones += [end, rockers.pivot, rockers.pivot, eye]
        others += [joint, joint, eye, far]
        radii += [ROD_RADIUS, ARM_RADIUS, ARM_RADIUS, DAMPER_RADIUS]
    one, other = np.concatenate(ones), np.concatenate(others)
    worst = np.zeros(len(rockers))
    for keep_out in targets.keep_outs:
        near = keep_out.near(one, other, ALONG).reshape(len(radii), -1) - np.array(radii)[:, None]
        worst = np.maximum(worst, (targets.clear - near.min(axis=0)) / ROOM_MM)
    return worst


def scores_of(misses: dict[str, Array], reached: np.ndarray, past: np.ndarray) -> Array:
    """Return the scores (n,): infinite where the travel is not taken, or a joint goes past its centre."""
    return np.where(reached & ~past, squares_of(misses), np.inf)


def squares_of(misses: dict[str, Array]) -> Array:
    """Return the squares of misses together, (n,): of some of them, no more than the score can come to."""
    total: Array = np.asarray(0.0)
    for miss in misses.values():
        size = np.abs(miss)
        total = total + np.where(size < WORST, size, WORST) ** 2
    return total


def past_centre(moved: Moved) -> np.ndarray:
    """Return which rockers come nearer to being in line with their rod or damper than can be allowed, (n,) bool."""
    edge = math.cos(math.radians(PAST_DEG))
    with np.errstate(invalid="ignore"):
        rod = np.abs(moved.rod_flat).max(axis=1) > edge
        damper = np.abs(moved.damper_flat).max(axis=1) > edge
    wrong = ~(moved.ratio > 0).all(axis=1)
    return np.asarray(rod | damper | wrong)


def traits_of(rockers: Rockers, moved: Moved, side: WheelSide) -> dict[str, Array]:
    """Return what a choice is made by, each (n,): shares, mm and degrees."""
    rod = np.degrees(np.arccos(np.clip(moved.rod_cosine, -1, 1)))
    left = np.full(len(rockers), np.nan)
    if side.extended is not None and side.compressed is not None:
        left = np.minimum(
            moved.length.min(axis=1) - side.compressed, side.extended - moved.length.max(axis=1)
        )
    return {
        "ratio": moved.ratio[:, side.ride],
        "change": changes(moved),
        "bow": bows(moved, side.travels),
        "stroke": np.ptp(moved.length, axis=1),
        "rod_swing": np.abs(rod - 90).max(axis=1),
        "rod_at_ride": rod[:, side.ride],
        "damper_at_ride": np.degrees(np.arccos(np.clip(moved.damper_cosine[:, side.ride], -1, 1))),
        "size": rockers.rod_arm + rockers.damper_arm,
        "damper_left": left,
        "tilt": np.degrees(np.arcsin(np.clip(np.abs(moved.tilt).max(axis=1), 0, 1))),
        "turn": np.degrees(np.abs(_turned(moved))),
        "rod": rockers.rod,
    }


def _turned(moved: Moved) -> Array:
    """Return the rocker's whole turn over the travel, radians."""
    angle = np.unwrap(np.arctan2(moved.joint[1], moved.joint[0]), axis=1)
    return np.asarray(np.ptp(angle, axis=1))
