"""A bent tube as the bender's table: where to mark, how far to bend, how far to turn the tube between bends.

Corners  the places that straight runs would meet in; the tube cuts each corner by an arc of the bend's centre-line radius.
Mark     mm from the tube's end to where a bend begins.
Bend     degrees, the shop's spring-back added by itself.
Turn     degrees that the tube is turned about its own axis before a bend, from the plane of the bend before.
"""

import math
from itertools import pairwise

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

STRAIGHT_DEG = 0.05


class NoBend(ValueError):
    """A run that the bender cannot make."""


@facts
class Bend:
    """One bend: mark mm, angle and turn degrees, and the angle to set with spring-back."""

    mark: float
    angle: float
    turn: float
    set_to: float


@facts
class BentTube:
    """A tube through corners: its bends, how long it is cut, mm, and the centre-line radius."""

    bends: tuple[Bend, ...]
    length: float
    radius: float


def bent(corners: list[list[float]], radius: float, springback: float = 0.0) -> BentTube:
    """Return a tube through corners (n, 3) mm; `springback` is the share that is bent too far; raise NoBend."""
    spots = np.array(corners, dtype=float)
    if len(spots) < 2:
        raise NoBend("A tube goes between two places at least.")
    runs = np.diff(spots, axis=0)
    lengths = np.linalg.norm(runs, axis=1)
    if (lengths < 1e-6).any():
        raise NoBend("Two corners are one place; take one out.")
    ways = runs / lengths[:, None]
    angles = [math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b)) for a, b in pairwise(ways)]
    cut = [radius * math.tan(angle / 2) for angle in angles]
    bends: list[Bend] = []
    at, before = 0.0, None
    for k, angle in enumerate(angles):
        straight = float(lengths[k]) - (cut[k - 1] if k else 0.0) - cut[k]
        if straight < -1e-9 or math.degrees(angle) > 175:
            raise NoBend(
                f"Between corners {k + 1} and {k + 2} there is no room for bends of {radius:g} mm: "
                "move them apart, or bend tighter."
            )
        at += straight
        degrees = math.degrees(angle)
        if degrees > STRAIGHT_DEG:
            normal = np.cross(ways[k], ways[k + 1])
            normal /= np.linalg.norm(normal)
            turn = 0.0 if before is None else _turned(before, normal, ways[k])
            bends.append(Bend(mark=at, angle=degrees, turn=turn, set_to=degrees * (1 + springback)))
            before = normal
        at += radius * angle
    last = float(lengths[-1]) - (cut[-1] if cut else 0.0)
    if last < -1e-9:
        raise NoBend(
            f"The last run has no room for a bend of {radius:g} mm: make it longer, or bend tighter."
        )
    return BentTube(bends=tuple(bends), length=at + last, radius=radius)


def _turned(before: Array, after: Array, about: Array) -> float:
    """Return how far one plane is turned from another about an axis, degrees, −180 to 180."""
    return math.degrees(math.atan2(float(np.cross(before, after) @ about), float(before @ after)))
