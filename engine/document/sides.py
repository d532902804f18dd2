"""Left and right on one axle: what is whose mirror image, and what stands on which side.

Image   two things that stand within IMAGE_MM of being mirror images in the centreline, the nearest first.
Side    +1 left, −1 right, 0 where something reaches across the centreline.
"""

from collections.abc import Callable

import numpy as np

from engine.document.schema import CENTRELINE_MM, Station
from engine.document.units import AnyUnit

IMAGE_MM = 25.0


def image_of_point(station: Station, name: str) -> str | None:
    """Return an axle's point that stands where the mirror image of another does; itself on the centreline."""
    if station.kind != "axle":
        return None
    wanted = np.array(station.points[name]) * [1, -1, 1]
    return _nearest({other: np.abs(np.array(its) - wanted) for other, its in station.points.items()})


def image_of_unit(station: Station, name: str) -> str | None:
    """Return an axle's unit of the same kind that stands where the mirror image of another does."""
    if station.kind != "axle":
        return None
    unit = station.unit(name)
    wanted = _ends(station, unit) * [1, -1, 1]
    others = (other for other in station.units if other.kind == unit.kind and other.name != name)
    return _nearest({other.name: np.abs(_ends(station, other) - wanted) for other in others})


def side_of(station: Station, unit: AnyUnit) -> int:
    """Return which side of an axle a unit stands on; 0 for a corner's, which have one side only."""
    if station.kind != "axle":
        return 0
    y = _ends(station, unit)[:, 1]
    if (np.abs(y) > CENTRELINE_MM).all() and y[0] * y[1] > 0:
        return 1 if y[0] > 0 else -1
    return 0


def beside(station: Station, one: AnyUnit) -> Callable[[AnyUnit], bool]:
    """Return whether another unit works on the same side as one: it never saves, or hurts, the other side's."""
    mine = side_of(station, one)
    return lambda other: mine == 0 or side_of(station, other) in (0, mine)


def _ends(station: Station, unit: AnyUnit) -> np.ndarray:
    ends: np.ndarray = np.array([station.points[end] for end in unit.ends], dtype=float)
    return ends


def _nearest(off: dict[str, np.ndarray]) -> str | None:
    """Return which of several stands nearest, if it is near enough."""
    near = {name: float(apart.max()) for name, apart in off.items() if apart.max() < IMAGE_MM}
    return min(near, key=lambda name: near[name]) if near else None
