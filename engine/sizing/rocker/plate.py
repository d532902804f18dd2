"""The rocker as it is cut and set up: arms, angle between them, how its bolt leans, what is left between the holes.

Reading  what an angle finder laid on the pivot's bolt shows in a view: degrees from level (front and side view), and
         from straight ahead (top view); None where the bolt runs square to that view.
Offset   how far along the bolt the rod's and the damper's joints stand from one another, mm.
Metal    what is left between the edges of two holes, mm.
Heads    a bolt's head or nut is taken as HEAD times its hole across the corners.
Tilt     how far rod and damper lean out of the rocker's plane, degrees, at most over the travel.
"""

import math

import numpy as np

from engine.document.schema import RockerPlate
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import as_drawn
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.wheel_side import WheelSide

END_ON = 0.15  # a bolt that shows less than this of its length is seen end on: no angle finder reads it
HEAD = 1.9
SPARE_MM = 2.0


@facts
class Plate:
    """One rocker's sizes as drawn: mm and degrees.

    across, up, axis, pivot : the plane it is drawn in, (3,)
    front, side, top : readings of its bolt
    rod_tilt, damper_tilt : at most over the travel
    rod : centre to centre as drawn
    """

    rod_arm: float
    damper_arm: float
    included: float
    rod: float
    offset: float
    front: float | None
    side: float | None
    top: float | None
    rod_tilt: float
    damper_tilt: float
    pivot: Array
    across: Array
    up: Array
    axis: Array


def plate_of(side: WheelSide) -> Plate:
    """Return the sizes of the rocker that is drawn now."""
    rocker = as_drawn(side)
    moved = move(rocker, side.path, side.rate)
    axis, eye_off = side.axis, float((side.eye - side.pivot) @ side.axis)
    far_off = float((side.far - side.pivot) @ axis)
    included = math.degrees(float(rocker.turn[0])) % 360
    with np.errstate(invalid="ignore"):
        rod_tilt = np.degrees(np.arcsin(np.clip(np.abs(moved.tilt[0]), 0, 1)))
        damper_tilt = np.degrees(np.arcsin(np.clip(abs(far_off - eye_off) / moved.length[0], 0, 1)))
    return Plate(
        rod_arm=float(rocker.rod_arm[0]),
        damper_arm=float(rocker.damper_arm[0]),
        included=min(included, 360 - included),
        rod=float(rocker.rod[0]),
        offset=eye_off,
        front=_reading(axis, 1, 2),
        side=_reading(axis, 0, 2),
        top=_reading(axis, 0, 1),
        rod_tilt=float(np.nanmax(rod_tilt)),
        damper_tilt=float(np.nanmax(damper_tilt)),
        pivot=side.pivot,
        across=rocker.across[0],
        up=rocker.up[0],
        axis=axis,
    )


def _reading(axis: Array, level: int, up: int) -> float | None:
    """Return the bolt's angle in a view, -90 to 90 degrees from its level way; None where it is seen end on."""
    along, across = float(axis[level]), float(axis[up])
    if math.hypot(along, across) < END_ON:
        return None
    angle = math.degrees(math.atan2(across, along))
    return angle - 180 if angle > 90 else angle + 180 if angle < -90 else angle


@facts
class Metal:
    """Two holes of a plate: mm of metal between them, how much is wanted, mm between the heads of their bolts.

    wanted : as much metal as the smaller of the two holes is wide; good where it is there and the heads are clear
    """

    one: str
    other: str
    metal: float
    wanted: float
    heads: float

    @property
    def good(self) -> bool:
        """Return whether there is metal enough and a spanner's room for both bolts."""
        return self.metal >= self.wanted and self.heads >= SPARE_MM


def metal_of(plate: Plate, cut: RockerPlate) -> tuple[Metal, ...]:
    """Return what is left between the pivot's bore and both holes, and between the holes."""
    included = math.radians(plate.included)
    apart = math.sqrt(
        plate.rod_arm**2 + plate.damper_arm**2 - 2 * plate.rod_arm * plate.damper_arm * math.cos(included)
    )
    rod, damper, bore = cut.rod_hole, cut.damper_hole, cut.pivot_bore
    return (
        _metal("pivot", "rod", plate.rod_arm, bore, rod),
        _metal("pivot", "damper", plate.damper_arm, bore, damper),
        _metal("rod", "damper", apart, rod, damper),
    )


def _metal(one: str, other: str, apart: float, first: float, second: float) -> Metal:
    # A bearing's bore is as wide as what turns in it: its cap takes no more room than that.
    heads = apart - ((first if one == "pivot" else HEAD * first) + HEAD * second) / 2
    return Metal(
        one=one, other=other, metal=apart - (first + second) / 2, wanted=min(first, second), heads=heads
    )


def widths_of(cut: RockerPlate) -> tuple[float, float]:
    """Return a rocker's whole width over its plates, and the room between them for rod end and eye, mm."""
    gap = cut.gap if cut.count == 2 else 0.0
    return cut.count * cut.thickness + gap, gap
