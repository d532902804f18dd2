"""Many rockers over the whole travel at once, in closed form: no search, no iteration.

In its own plane a rocker's joint lies on a circle about the pivot, and the rod's end is known at every row; so the
joint is where that circle meets a sphere of the rod's length (a triangle with three known sides). Which of the two
meetings is taken is fixed by the drawing and kept: where both become one, the rod and its arm are in line.
Rates follow from the rod keeping its length: (joint − end)·(joint rate − end rate) = 0.

Everything is (n,) for n rockers or (n, rows); lengths mm, angles by their cosines.
"""

from dataclasses import dataclass, fields

import numpy as np

from engine.linkage.vectors import Array


@dataclass(frozen=True, kw_only=True)
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
        """Return some of them."""
        return Rockers(**{part.name: getattr(self, part.name)[which] for part in fields(self)})

    def __len__(self) -> int:
        """Return how many there are."""
        return len(self.rod_arm)


@dataclass(frozen=True, kw_only=True)
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
    x, y, h = (_along(way, path, rockers.pivot) for way in (rockers.across, rockers.up, rockers.axis))
    xr, yr, hr = (way @ rate.T for way in (rockers.across, rockers.up, rockers.axis))
    arm = rockers.rod_arm[:, None]
    rod = rockers.rod[:, None]
    flat = np.sqrt(x * x + y * y)
    with np.errstate(invalid="ignore", divide="ignore"):
        cosine = (arm * arm + flat * flat + h * h - rod * rod) / (2 * arm * flat)
        sine = rockers.side[:, None] * np.sqrt(1 - cosine * cosine)
        ux, uy = x / flat, y / flat
        jx, jy = arm * (cosine * ux - sine * uy), arm * (cosine * uy + sine * ux)
        wx, wy = jx - x, jy - y
        turning = (wx * xr + wy * yr - h * hr) / (wy * jx - wx * jy)
        c, s = np.cos(rockers.turn)[:, None], np.sin(rockers.turn)[:, None]
        scale = (rockers.damper_arm / rockers.rod_arm)[:, None]
        kx, ky = scale * (c * jx - s * jy), scale * (s * jx + c * jy)
        dx, dy = kx - rockers.far[:, 0:1], ky - rockers.far[:, 1:2]
        length = np.sqrt(dx * dx + dy * dy + rockers.far[:, 2:3] ** 2)
        ratio = (dx * ky - dy * kx) * turning / length
        rod_along, damper_along = jx * wx + jy * wy, kx * dx + ky * dy
        reach = rockers.damper_arm[:, None]
        rod_cosine, damper_cosine = rod_along / (arm * rod), damper_along / (reach * length)
        rod_flat = rod_along / (arm * np.sqrt(rod * rod - h * h))
        damper_flat = damper_along / (reach * np.sqrt(dx * dx + dy * dy))
    return Moved(
        length=length,
        ratio=ratio,
        rod_cosine=rod_cosine,
        damper_cosine=damper_cosine,
        rod_flat=rod_flat,
        damper_flat=damper_flat,
        tilt=h / rod,
        joint=(jx, jy),
        eye=(kx, ky),
    )


def _along(way: Array, path: Array, pivot: Array) -> Array:
    """Return how far each row of a path lies from each pivot along a direction, (n, rows)."""
    found: Array = way @ path.T - np.einsum("nk,nk->n", way, pivot)[:, None]
    return found
