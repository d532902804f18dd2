"""Many rockers over the whole travel at once, in closed form: no search, no iteration.

In its own plane a rocker's joint lies on a circle about the pivot, and the rod's end is known at every row; so the
joint is where that circle meets a sphere of the rod's length (a triangle with three known sides). Which of the two
meetings is taken is fixed by the drawing and kept: where both become one, the rod and its arm are in line.
Rates follow from the rod keeping its length: (joint − end)·(joint rate − end rate) = 0.

Everything is (n,) for n rockers or (n, rows); lengths mm, angles by their cosines.
"""

from dataclasses import fields

import numpy as np

from engine.compiled import loaded
from engine.facts import facts
from engine.linkage.vectors import Array

TURNING = loaded("engine.sizing.rocker.turning")
MOVED = (
    "length", "ratio", "rod_cosine", "damper_cosine", "rod_flat", "damper_flat", "tilt",
    "joint_x", "joint_y", "eye_x", "eye_y",
)  # fmt: skip
"""What `turning.moved` writes, in its order."""


@facts
class Rockers:
    """Rockers to be moved, as drawn.

    pivot   : (n, 3) mm, the pivot in the plane of the joints
    across, up, axis : (n, 3) unit, the rocker's plane and its bolt; across × up = axis
    rod_arm, damper_arm : (n,) mm from the pivot to the joints
    turn    : (n,) radians about the axis from the rod's arm to the damper's
    rod     : (n,) mm centre to centre
    side    : (n,) ±1, which way the joint stands from the line of pivot and rod end
    far     : (n, 3) mm of the damper's other end: along across, up, axis from the pivot
    """

    pivot: Array
    across: Array
    up: Array
    axis: Array
    rod_arm: Array
    damper_arm: Array
    turn: Array
    rod: Array
    side: Array
    far: Array

    def pick(self, which: np.ndarray) -> "Rockers":
        """Return some of them, by their numbers (k,)."""
        return Rockers(**{part.name: getattr(self, part.name)[which] for part in fields(self)})

    def __len__(self) -> int:
        """Return how many there are."""
        return len(self.rod_arm)


@facts
class Moved:
    """Rockers over the rows, all (n, rows); NaN where a rod cannot reach.

    length  : mm of the unit; ratio its compression per wheel travel
    rod_cosine, damper_cosine : of the angles between the arms and what meets them, as an angle finder reads them
    rod_flat, damper_flat : the same seen along the bolt, in the rocker's plane: what goes over centre
    tilt    : sine of the rod's lean out of the rocker's plane
    joint, eye : in the plane, (2, n, rows) mm from the pivot
    """

    length: Array
    ratio: Array
    rod_cosine: Array
    damper_cosine: Array
    rod_flat: Array
    damper_flat: Array
    tilt: Array
    joint: tuple[Array, Array]
    eye: tuple[Array, Array]

    @property
    def reached(self) -> np.ndarray:
        """Return which rockers take the whole travel, (n,) bool."""
        whole: np.ndarray = np.asarray(np.isfinite(self.length).all(axis=1))
        return whole


def move(rockers: Rockers, path: Array, rate: Array) -> Moved:
    """Return rockers moved along the path of the rod's end (rows, 3) mm with its rate (rows, 3) by travel."""
    out = np.empty((len(MOVED), len(rockers), len(path)))
    TURNING.moved(
        *(np.ascontiguousarray(getattr(rockers, part.name), dtype=float) for part in fields(rockers)),
        *(np.ascontiguousarray(part, dtype=float) for part in (path, rate)),
        out,
    )
    told = dict(zip(MOVED, out, strict=True))
    joint, eye = ((told.pop(f"{what}_x"), told.pop(f"{what}_y")) for what in ("joint", "eye"))
    return Moved(**told, joint=joint, eye=eye)
