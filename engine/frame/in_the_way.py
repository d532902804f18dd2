"""How near a straight tube comes to what moves: links, units and tyres through the whole travel.

Nearest   from the tube's skin to a link's line or a tyre's outline, mm; a link is taken as thick as LINK_MM each side.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.workup import WorkUp

LINK_MM = 10.0
SAMPLES = 41
USUAL_WIDTH_MM = 180.0
ROOT_MM = 70.0  # of a link whose mount the tube carries: so much of it stands on the tube


@facts
class Near:
    """What comes nearest, mm from skin to skin, and at which travel."""

    what: str
    distance: float
    travel: float


def nearest(
    work: WorkUp, one: Array, other: Array, radius: float, mounts: set[str], mirrored: bool
) -> Near | None:
    """Return what of a station comes nearest to a tube between two places, mm; None where nothing moves.

    mounts : the station's points that stand on the tube: what is bolted there is looked at further out
    mirrored : the tube as the station's other side sees it
    """
    grid = work.grid
    place = grid.place  # (3, points, rows)
    if not place.shape[2]:
        return None
    flip = np.array([1.0, -1.0, 1.0]) if mirrored else np.ones(3)
    tube = (one + np.linspace(0, 1, SAMPLES)[:, None] * (other - one)) * flip
    found: list[Near] = []
    for name, ends in _links(work).items():
        at = [place[:, work.linkage.index[end]].T for end in ends]
        distance, row = _to_line(tube, at[0], at[1], [end in mounts for end in ends])
        found.append(Near(what=name, distance=distance - radius - LINK_MM, travel=float(grid.heave[row])))
    for wheel in work.station.wheels:
        if wheel.tyre_radius is None or wheel.spindle is None:
            continue
        centre, out = (place[:, work.linkage.index[p]].T for p in (wheel.centre, wheel.spindle))
        half = (wheel.tyre_width or USUAL_WIDTH_MM) / 2
        distance, row = _to_tyre(tube, centre, out - centre, wheel.tyre_radius, half)
        found.append(
            Near(what=f"tyre of {wheel.name}", distance=distance - radius, travel=float(grid.heave[row]))
        )
    return min(found, key=lambda one: one.distance, default=None)


def _links(work: WorkUp) -> dict[str, tuple[str, str]]:
    found = {}
    for name, points in work.linkage.bodies.items():
        for k, point in enumerate(points):
            for far in points[:k]:
                if not {point, far} <= set(work.station.chassis):
                    found[f"{name} from {far} to {point}" if len(points) > 2 else name] = (far, point)
    return found | {unit.name: (unit.ends[0], unit.ends[1]) for unit in work.station.units}


def _to_line(tube: Array, one: Array, other: Array, rooted: list[bool]) -> tuple[float, int]:
    """Return the least distance of a tube's samples (n, 3) from a line's rows (rows, 3), and the row."""
    along = other - one
    long = np.linalg.norm(along, axis=1)
    low = np.where(rooted[0], ROOT_MM / np.maximum(long, 1e-9), 0.0)
    high = np.where(rooted[1], 1 - ROOT_MM / np.maximum(long, 1e-9), 1.0)
    off = tube[None, :, :] - one[:, None, :]
    share = np.einsum("rsk,rk->rs", off, along) / np.maximum(long**2, 1e-9)[:, None]
    share = np.clip(share, np.minimum(low, high)[:, None], np.maximum(low, high)[:, None])
    apart = np.linalg.norm(off - share[:, :, None] * along[:, None, :], axis=2).min(axis=1)
    row = int(apart.argmin())
    return float(apart[row]), row


def _to_tyre(tube: Array, centre: Array, axis: Array, radius: float, half: float) -> tuple[float, int]:
    axis = axis / np.linalg.norm(axis, axis=1, keepdims=True)
    off = tube[None, :, :] - centre[:, None, :]
    beside = np.einsum("rsk,rk->rs", off, axis)
    out = np.linalg.norm(off - beside[:, :, None] * axis[:, None, :], axis=2) - radius
    over = np.abs(beside) - half
    apart = np.where((out > 0) & (over > 0), np.hypot(out, over), np.maximum(out, over)).min(axis=1)
    row = int(apart.argmin())
    return float(apart[row]), row
