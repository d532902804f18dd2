"""Gussets across a tab's back: a three-cornered plate that keeps it from bending sideways, and what it leaves to bear.

Up     along the tab, from its foot to below the bolt's washer.
Out    along the foot, the way of the bolt.
Root   tab and gusset together at the foot, a T; above the gusset the tab is alone again.
"""

import math
from collections.abc import Iterable, Iterator

from engine.facts import facts
from engine.shop.made import Figure, Flat, Made
from engine.shop.outline import sharp

OUT_SHARE = 6.0  # of the plate
BELOW_WASHER_MM = 2.0
LEAST_UP_MM = 10.0
WELD_CORNER_MM = 6.0  # cut off its corner, to clear the weld that runs into it
ROUND_DEG = 45.0  # nearer to along a tube than this, a foot has the tube's round beside it


@facts
class Gusset:
    """One gusset, mm."""

    up: float
    out: float
    thickness: float


def gusset_for(thickness: float, reach: float, washer: float, tube_angle: float | None) -> Gusset | None:
    """Return the gusset that a tab has room for; None where it has none, or no ground to stand on.

    reach : mm from hole to foot; washer : mm over what lies on the tab at its bolt
    tube_angle : degrees between the foot and the tube that it stands on; None on a flat
    """
    up = reach - washer / 2 - BELOW_WASHER_MM
    if up < LEAST_UP_MM or (tube_angle is not None and tube_angle < ROUND_DEG):
        return None
    return Gusset(up=math.floor(up), out=math.ceil(OUT_SHARE * thickness), thickness=thickness)


def sideways_share(its: Gusset, width: float, foot_width: float, reach: float) -> float:
    """Return what of a push along the bolt bends the foot as it would without a gusset, at the worst place.

    That is the root's T against the plate alone, about its weaker side, or the plate alone above the gusset.
    """
    t, b, out = its.thickness, foot_width, its.out
    plate, rib = b * t, out * t
    middle = (plate * t / 2 + rib * (t + out / 2)) / (plate + rib)
    inertia = (
        b * t**3 / 12 + plate * (middle - t / 2) ** 2 + t * out**3 / 12 + rib * (t + out / 2 - middle) ** 2
    )
    root = inertia / max(middle, t + out - middle)
    alone = b * t**2 / 6
    above = (reach - its.up) / reach * foot_width / width
    return min(1.0, max(alone / root, above))


def gusset_flat(up: float, out: float, thickness: float, grade: str) -> Flat:
    """Return a gusset's outline: its inner corner at nothing, out along x, up along y."""
    c = min(WELD_CORNER_MM, up / 3, out / 3)
    outline = (sharp(c, 0.0), sharp(out, 0.0), sharp(0.0, up), sharp(0.0, c))
    return Flat(outline=outline, thickness=thickness, grade=grade)


def with_gussets(parts: Iterable[Made]) -> Iterator[Made]:
    """Yield parts, each tab that has them followed by its gussets: one for each of its plates, on the outer face."""
    for part in parts:
        yield part
        up = next((one.value for one in part.figures if one.key == "gusset_up"), None)
        if part.kind == "tab" and up is not None and part.flat is not None:
            out = float(part.figure("gusset_out"))
            yield Made(
                station=part.station,
                name=f"{part.name} gusset",
                kind="gusset",
                subject=("tab gusset", *part.subject[1:]),
                proposed=part.proposed,
                count=part.count,
                hands=part.hands,
                flat=gusset_flat(float(up), out, part.flat.thickness, part.flat.grade),
                figures=(
                    Figure(key="thickness", name="Plate", value=part.flat.thickness),
                    Figure(key="leg_1", name="Along the foot, away from the joint", value=out),
                    Figure(key="leg_2", name="Up the tab", value=float(up)),
                    Figure(key="on", name="Welded across the back of", value=part.name, measures="words"),
                ),
            )


def is_of_a_tab(part: Made) -> bool:
    """Return whether a part is the gusset of a tab: made and changed with it."""
    return part.kind == "gusset" and part.subject[0] == "tab gusset"


def tabs_gussets_kept(before: Iterable[Made], after: Iterable[Made]) -> Iterator[Made]:
    """Yield parts with their gussets, those of tabs that are still the same being the very same."""
    kept: dict[int, Made] = {}
    tab: Made | None = None
    for part in before:
        if is_of_a_tab(part) and tab is not None:
            kept[id(tab)] = part
        tab = part
    last: Made | None = None
    for part in with_gussets(part for part in after if not is_of_a_tab(part)):
        yield kept.get(id(last), part) if is_of_a_tab(part) else part
        last = part
