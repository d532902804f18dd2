"""What a rocker is to do, and the room it may take.

Ratio    damper per wheel where the wheel should stand, or the wheel rate there, or the stroke to be used up: one of them.
Change   rise of the ratio from full droop to full bump, as a share; falling is negative.
School   `square`: rod square to its arm where the wheel stands; `even`: as far off square at bump as at droop.
Box      the pivot's room: a corner and three edges (3, 3) mm; an edge of nothing leaves that way alone, so a
         tube is a box with one edge.
"""

from dataclasses import field
from typing import Any

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

ARMS_MM = (45.0, 140.0)


@facts
class KeepOut:
    """Room on the chassis that rod, arms and damper must stay out of: a box rounded by a radius, mm.

    centre (3,), axes (3, 3) rows, half (3,): a capsule is a box with one half length and its radius
    """

    name: str
    centre: Array
    axes: Array
    half: Array
    radius: float

    def distance(self, place: Array) -> Array:
        """Return how far places (…, 3) lie outside, mm; negative inside."""
        return self._outside(np.moveaxis((place - self.centre) @ self.axes.T, -1, 0))

    def near(self, one: Array, other: Array, along: Array) -> Array:
        """Return how far straight members from one place (n, 3) to another lie outside at least, (n,) mm.

        along : shares of their length at which they are looked at
        """
        begin = self.axes @ (one - self.centre).T
        way = self.axes @ (other - one).T
        places: Array = begin[..., None] + way[..., None] * along
        return np.asarray(self._outside(places).min(axis=-1))

    def _outside(self, local: Array) -> Array:
        """Return how far places lie outside, told along the solid's own axes (3, …)."""
        x, y, z = (np.abs(part) - half for part, half in zip(local, self.half, strict=True))
        inside = np.minimum(np.maximum(np.maximum(x, y), z), 0.0)
        x, y, z = (np.maximum(part, 0.0) for part in (x, y, z))
        return np.asarray(np.sqrt(x * x + y * y + z * z) + inside - self.radius)


@facts
class Targets:
    """Targets and room; None leaves a target out.

    ratio, wheel_rate N/mm, stroke mm : one of the three
    change share; straight : the ratio runs straight between its ends; school; damper_angle degrees at ride
    corner (3,), edges (3, 3) : the pivot's room; far_low, far_high (3,) : where the damper's far end may lie
    rod_arm, damper_arm : (least, most) mm
    in_line : the rocker's plane turned to hold the rod, instead of kept as drawn
    left    : mm of damper to keep at either end; split : share of the used stroke in bump
    keep_outs : on the chassis, with `clear` mm about them
    joints_apart : mm between the rod's bolt and the damper's, for their heads, spacers and metal between the holes
    """

    corner: Array
    edges: Array
    far_low: Array
    far_high: Array
    ratio: float | None = None
    wheel_rate: float | None = None
    stroke: float | None = None
    change: float | None = 0.0
    straight: bool = True
    school: str = "square"
    damper_angle: float | None = 90.0
    rod_arm: tuple[float, float] = ARMS_MM
    damper_arm: tuple[float, float] = ARMS_MM
    in_line: bool = False
    left: float = 5.0
    clear: float = 6.0
    joints_apart: float = 36.0
    keep_outs: tuple[KeepOut, ...] = field(default=())

    def replaced(self, **values: Any) -> "Targets":
        """Return targets with some of them changed."""
        return Targets(**{name: getattr(self, name) for name in self.__dataclass_fields__} | values)
