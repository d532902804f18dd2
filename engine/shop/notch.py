"""A notch in a frame rail over an axle, and what closes it: a folded bridge and two fish plates.

Opening  the axle tube's path through travel and articulation, seen from the side, and a clearance all round it.
Cut      on both webs of the rail, from its lower face: up, a cut corner, across, a cut corner, down.
Bridge   a strip as wide as the rail, folded to that line; its outer face sits on the cut webs.
         Flat length = outer lengths − Σ(2·set-back − allowance), set-back = (r + t)·tan(θ/2), allowance = θ·(r + K·t).
Kept     of the rail's bending strength: section modulus over the notch, with bridge and fish plates, over the rail's own.
"""

import math
from itertools import pairwise

import numpy as np

from engine.document.make import NotchChoice
from engine.document.schema import Station
from engine.facts import facts
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.sentences import Sentence, length
from engine.shop.made import Figure, Flat, Fold, Made, Remedy, Said
from engine.shop.outline import sharp

K_FACTOR = 0.44  # where the neutral line of a bent plate lies, of its thickness from the inside
INSIDE = 1.0  # inside radius of a fold, of the thickness
FISH_REACH = 1.0  # of the rail's height, beyond the opening at each end
KEPT_SHARE = 0.9  # of the rail's bending strength: less is warned of
LEFT_MM = 20.0  # of rail above the notch, at least


class NoNotch(ValueError):
    """A notch that cannot be cut, in words."""


@facts
class Opening:
    """A notch's opening as seen from the left, mm: from `rear` to `front` along the vehicle, `high` above the rail's lower face."""

    rear: float
    front: float
    high: float
    corner: float

    @property
    def line(self) -> Array:
        """Return its cut line from the rear foot up, over and down to the front, (6, 2) mm: along, up."""
        r, f, h, c = self.rear, self.front, self.high, self.corner
        return np.array([(r, 0.0), (r, h - c), (r + c, h), (f - c, h), (f, h - c), (f, 0.0)])


def opening_of(linkage: Linkage, grid: Grid, choice: NotchChoice) -> Opening:
    """Return what an axle tube's path needs of a rail."""
    place = grid.place[:, linkage.index[choice.over], :]
    if not place.shape[1]:
        raise NoNotch(f"{choice.name}: the linkage reaches no position; put it right first.")
    around = choice.axle_tube / 2 + choice.clearance
    high = float(place[2].max()) + around - choice.rail_bottom
    rear, front = float(place[0].min()) - around, float(place[0].max()) + around
    return Opening(rear=rear, front=front, high=high, corner=min(around * 0.586, max(high, 0.0) / 2))


def flat_length(line: Array, thickness: float) -> tuple[float, list[tuple[float, float]]]:
    """Return a strip's length folded to an outer line (n, 2), and each fold: mm from its end to the fold's middle, degrees.

    A fold is + where the strip turns to the right.
    """
    inside = INSIDE * thickness
    runs = np.diff(line, axis=0)
    sizes = np.linalg.norm(runs, axis=1)
    angles = []
    for before, after in pairwise(runs):
        cross = before[0] * after[1] - before[1] * after[0]
        angles.append(-math.atan2(float(cross), float(before @ after)))
    back = [(inside + thickness) * math.tan(abs(angle) / 2) for angle in angles]
    allowance = [abs(angle) * (inside + K_FACTOR * thickness) for angle in angles]
    at, folds = 0.0, []
    for k, size in enumerate(sizes):
        straight = float(size) - (back[k - 1] if k else 0.0) - (back[k] if k < len(back) else 0.0)
        if straight < 0:
            raise NoNotch(
                "A side of the bridge is shorter than its folds take: use thinner plate or a larger clearance."
            )
        at += straight
        if k < len(back):
            folds.append((at + allowance[k] / 2, math.degrees(angles[k])))
            at += allowance[k]
    return at, folds


def section_kept(choice: NotchChoice, high: float) -> float:
    """Return the share of the rail's bending strength that is left over the notch, bridge and fish plates on."""
    rail, t = choice.rail, choice.thickness
    whole = _modulus(rail.width, rail.height, rail.wall, rail.wall, rail.wall)
    left = rail.height - high
    return _modulus(rail.width, left, rail.wall + t, rail.wall, t) / whole


def _modulus(width: float, height: float, web: float, top: float, bottom: float) -> float:
    """Return the least section modulus of a closed box, mm³."""
    if height <= top + bottom:
        return 0.0
    parts = (  # area, height of its middle, its own inertia
        (width * top, height - top / 2, width * top**3 / 12),
        (width * bottom, bottom / 2, width * bottom**3 / 12),
        (2 * web * (height - top - bottom), (height - top + bottom) / 2, 2 * web * (height - top - bottom) ** 3 / 12),
    )  # fmt: skip
    area = sum(a for a, _, _ in parts)
    middle = sum(a * y for a, y, _ in parts) / area
    inertia = sum(own + a * (y - middle) ** 2 for a, y, own in parts)
    return inertia / max(middle, height - middle)


def notch_made(station: Station, linkage: Linkage, grid: Grid, choice: NotchChoice, hands: int) -> list[Made]:
    """Return a notch's bridge and fish plates; raise NoNotch where the rail is too low for it."""
    opening = opening_of(linkage, grid, choice)
    rail, t, name = choice.rail, choice.thickness, choice.name
    if opening.high <= 0:
        words = "The axle never comes nearer to the rail than its clearance: no notch is needed."
        needless = (Said(mark="note", say=Sentence(words, names=(name,))),)
        return [Made(station=station.name, name=name, kind="notch", subject=("notch", name), proposed=False,
                     hands=hands, said=needless, choice=choice.model_dump(exclude_none=True))]  # fmt: skip
    left = rail.height - opening.high
    if left < LEFT_MM:
        raise NoNotch(
            f"{name}: the axle needs {opening.high:.0f} mm of a rail {rail.height:.0f} mm high; less than {LEFT_MM:.0f} mm would be left. "
            "Raise the rail over the axle with a tube hoop, or take less bump."
        )
    whole, folds = flat_length(opening.line, t)
    kept = section_kept(choice, opening.high)
    figures = (
        Figure(key="opening", name="Opening along the rail", value=opening.front - opening.rear),
        Figure(key="height", name="Opening above the rail's lower face", value=opening.high),
        Figure(key="rear", name="From the datum to its rear edge", value=opening.rear, measures="travel"),
        Figure(key="front", name="From the datum to its front edge", value=opening.front, measures="travel"),
        Figure(key="corner", name="Corners cut by", value=opening.corner),
        Figure(key="left", name="Rail left above it", value=left),
        Figure(key="kept", name="Bending strength kept, bridge and plates on", value=kept, measures="share"),
    )
    said: list[Said] = []
    if kept < KEPT_SHARE:
        said.append(_weaker(choice, opening.high, kept))
    width = rail.width
    bridge = Flat(
        outline=(sharp(0.0, 0.0), sharp(whole, 0.0), sharp(whole, width), sharp(0.0, width)),
        thickness=t,
        grade="S355",
        folds=tuple(Fold(one=(at, 0.0), other=(at, width), angle=angle) for at, angle in folds),
    )
    reach = FISH_REACH * rail.height
    line = [(opening.rear - reach, 0.0), *map(tuple, opening.line), (opening.front + reach, 0.0)]
    slope = min(reach, rail.height) / 2
    line += [(opening.front + reach - slope, rail.height), (opening.rear - reach + slope, rail.height)]
    middle = (opening.rear + opening.front) / 2
    fish = Flat(outline=tuple(sharp(x - middle, y) for x, y in line), thickness=t, grade="S355")
    main = Made(
        station=station.name,
        name=f"{name} bridge",
        kind="notch",
        subject=("notch", name),
        proposed=False,
        hands=hands,
        flat=bridge,
        figures=figures,
        said=tuple(said),
        choice=choice.model_dump(exclude_none=True),
    )
    plate = Made(
        station=station.name,
        name=f"{name} fish plate",
        kind="notch",
        subject=("notch", name, "fish plate"),
        proposed=False,
        count=2,
        hands=hands,
        flat=fish,
        figures=(Figure(key="thickness", name="Plate", value=t),),
    )
    return [main, plate]


def _weaker(choice: NotchChoice, high: float, kept: float) -> Said:
    words = f"Over {{0}} the rail keeps {kept:.0%} of its bending strength; {KEPT_SHARE:.0%} is wanted."
    for thicker in (6.0, 8.0, 10.0, 12.0):
        other = choice.model_copy(update={"thickness": thicker})
        if thicker > choice.thickness and section_kept(other, high) >= KEPT_SHARE:
            remedy = Remedy(
                say=Sentence("Make bridge and fish plates {t} thick.", {"t": length(thicker)}),
                change={"thickness": thicker},
            )
            return Said(mark="warning", say=Sentence(words, names=(choice.name,)), remedy=remedy)
    more = (
        " No plate makes up for it: carry the rail over the axle with a deeper bridge, and have it looked at."
    )
    return Said(mark="warning", say=Sentence(words + more, names=(choice.name,)))
