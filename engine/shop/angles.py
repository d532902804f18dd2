"""What an angle finder reads of a bolt and its tab, each with its side, so that the readings hold that direction and no other.

Level    degrees that the bolt is out of level, and which of its ends is the higher.
Turn     degrees in plan from straight across or from fore–aft, whichever is nearer, and which end is further which way.
Plumb    degrees that the tab is out of plumb, whether its foot is below or above its hole, and which way the foot is set off.
Plan     for a bolt that stands upright: degrees in plan from fore–aft of the way from the hole to the foot.
Ends     outer and inner, front and rear; left and right on the centreline, where nothing is outer.
"""

import math

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

CENTRE_MM = 20.0
UPRIGHT_DEG = 80.0  # a bolt steeper than this is set by its foot's way in plan
NOTHING_DEG = 0.05


@facts
class Angles:
    """Readings, degrees, with their sides in words; a side is empty where there is nothing to read."""

    level: float
    high: str
    turn: float
    turn_from: str
    turn_end: str
    turn_way: str
    plumb: float
    foot: str
    foot_way: str
    foot_plan: float | None = None

    @property
    def level_words(self) -> str:
        """Return which end is higher."""
        return f"{self.high} end higher" if self.high else "level"

    @property
    def turn_words(self) -> str:
        """Return from what the bolt is turned, and which end is further which way."""
        if not self.turn_way:
            return f"from {self.turn_from}"
        return f"from {self.turn_from}, {self.turn_end} end further {self.turn_way}"

    @property
    def plumb_words(self) -> str:
        """Return where the foot is."""
        return f"foot {self.foot} the hole" + (f", set off {self.foot_way}" if self.foot_way else "")


def angles_of(bolt: Array, towards: Array, spot: Array) -> Angles:
    """Return the readings of a bolt and of the way from its hole to the foot, (3,) unit each, at a place (3,) mm."""
    y = float(spot[1])
    side = 1.0 if y >= 0 else -1.0
    outward, inward = ("outer", "inner") if abs(y) > CENTRE_MM else ("left", "right")
    out_way, in_way = ("out", "in") if abs(y) > CENTRE_MM else ("left", "right")
    x, out, z = float(bolt[0]), side * float(bolt[1]), float(bolt[2])
    level = math.degrees(math.asin(min(abs(z), 1.0)))
    across = abs(out) >= abs(x)
    sign = 1.0 if (out if across else x) >= 0 else -1.0
    x, out, z = sign * x, sign * out, sign * z
    named, other = (outward, inward) if across else ("front", "rear")
    turn = math.degrees(math.atan2(abs(x), abs(out)) if across else math.atan2(abs(out), abs(x)))
    way = ("ahead" if x > 0 else "back") if across else (out_way if out > 0 else in_way)
    tx, tout, tz = float(towards[0]), side * float(towards[1]), float(towards[2])
    plumb = math.degrees(math.acos(min(abs(tz), 1.0)))
    flat = np.array(
        [-float(bolt[1]), float(bolt[0])]
    )  # level and square to the bolt: the way that a foot is set off
    fore = abs(flat[0]) >= abs(flat[1])
    set_off = ("ahead" if tx > 0 else "back") if fore else (out_way if tout > 0 else in_way)
    if level > UPRIGHT_DEG:
        set_off = ("ahead" if tx > 0 else "back") + f" and {out_way if tout > 0 else in_way}"
    return Angles(
        level=level,
        high="" if level < NOTHING_DEG else (named if z > 0 else other),
        turn=turn,
        turn_from="straight across" if across else "fore–aft",
        turn_end=named,
        turn_way="" if turn < NOTHING_DEG else way,
        plumb=plumb,
        foot="below" if tz <= 0 else "above",
        foot_way="" if plumb < NOTHING_DEG else set_off,
        foot_plan=math.degrees(math.atan2(abs(tout), abs(tx))) if level > UPRIGHT_DEG else None,
    )


def way_words(way: Array, spot: Array) -> str:
    """Return a direction (3,) at a place (3,) mm in the words of the floor: ahead, or out and 20° toward ahead."""
    y = float(spot[1])
    side = 1.0 if y >= 0 else -1.0
    out_way, in_way = ("out", "in") if abs(y) > CENTRE_MM else ("left", "right")
    parts = sorted(
        (
            (abs(float(way[0])), "ahead" if way[0] > 0 else "back"),
            (abs(float(way[1])), out_way if side * way[1] > 0 else in_way),
            (abs(float(way[2])), "up" if way[2] > 0 else "down"),
        ),
        reverse=True,
    )
    (most, first), (less, second), _ = parts
    turned = math.degrees(math.atan2(less, most))
    return first if turned < 2.0 else f"{first}, {turned:.0f}° toward {second}"
