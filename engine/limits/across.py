"""How near what moves on one side of the car comes to what moves on the other, each at any height of its own."""

import numpy as np

from engine.facts import facts
from engine.limits.clearance import CARE_MM, bounded, capsules_of, nearest_of
from engine.limits.solids import Placed, placed_all, solids_on
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array


@facts
class CrossClearance:
    """The nearest that something of one side comes to something of the other, mm, and both sides' travels."""

    one: str
    other: str
    kinds: tuple[str, str]
    distance: float
    travel: float
    other_travel: float


def across_the_car(
    linkage: Linkage, grid: Grid, other: Linkage, other_grid: Grid, mirror: bool
) -> tuple[CrossClearance, ...]:
    """Return how near moving parts of two sides come through all combinations of their travel.

    mirror : the other side is this one's mirror image in the centreline
    """
    here = _moving(linkage, grid)
    there = _mirror_images(here) if mirror else _moving(other, other_grid)
    # Most of a car's two sides never come near one another: their boxes tell, before every height is combined with every other.
    close = [(a.part, b.part) for a in here for b in there if _boxes_apart(a.box, b.box) < CARE_MM]
    left = np.repeat(np.arange(len(grid.heave)), len(other_grid.heave))
    right = np.tile(np.arange(len(other_grid.heave)), len(grid.heave))
    every = {id(part): _rows_of(part, left) for part, _ in close}
    every |= {id(part): _rows_of(part, right) for _, part in close}
    pairs = bounded([(every[id(a)], every[id(b)]) for a, b in close])
    both = Grid(np.zeros((3, 0, len(left))), grid.heave[left], other_grid.heave[right])
    near = nearest_of([pair for pair in pairs if pair.bound.min() < CARE_MM], both)
    return tuple(
        CrossClearance(
            one=c.one,
            other=c.other,
            kinds=c.kinds,
            distance=c.distance,
            travel=c.heave,
            other_travel=c.articulation,
        )
        for c in near
    )


@facts(kw_only=False)
class _Moving:
    """A moving solid at its side's heights, and a box that holds it at all of them."""

    part: Placed
    box: tuple[Array, Array]


def _moving(linkage: Linkage, grid: Grid) -> list[_Moving]:
    """Return a side's moving solids, placed once: it stays as it is while the other one is moved."""
    key = ("moving across the car", grid.heave.tobytes())
    if key not in linkage.kept:
        solids = [s for s in solids_on(linkage) if s.host != "chassis" and s.facing is None]
        reached = solids if grid.place.shape[2] else []
        linkage.kept[key] = _boxed(list(placed_all(linkage, reached, grid.place).values()))
    found: list[_Moving] = linkage.kept[key]
    return found


def _mirror_images(parts: list[_Moving]) -> list[_Moving]:
    return _boxed([_mirrored(its.part) for its in parts])


def _boxed(parts: list[Placed]) -> list[_Moving]:
    """Return solids with the lowest and the highest corner, (3,) mm, of a box that holds each at all its positions."""
    if not parts:
        return []
    one, other, radius = capsules_of(parts)
    low = (np.minimum(one, other) - radius[:, :, None]).min(axis=1)
    high = (np.maximum(one, other) + radius[:, :, None]).max(axis=1)
    return [_Moving(part, box) for part, box in zip(parts, zip(low, high, strict=True), strict=True)]


def _boxes_apart(one: tuple[Array, Array], other: tuple[Array, Array]) -> float:
    """Return how far two boxes are apart, mm; nothing where they meet."""
    return float(np.linalg.norm(np.maximum(np.maximum(one[0] - other[1], other[0] - one[1]), 0.0)))


def _rows_of(part: Placed, rows: np.ndarray) -> Placed:
    corners = None if part.corners is None else part.corners[rows]
    return Placed(
        solid=part.solid,
        centre=part.centre[rows],
        axes=part.axes[rows],
        half=part.half[rows],
        corners=corners,
    )


def _mirrored(part: Placed) -> Placed:
    """Return the mirror image in the centreline: every solid here is its own image about each of its axes."""
    flip = np.array([1.0, -1.0, 1.0])
    corners = None if part.corners is None else part.corners * flip
    return Placed(
        solid=part.solid, centre=part.centre * flip, axes=part.axes * flip, half=part.half, corners=corners
    )
