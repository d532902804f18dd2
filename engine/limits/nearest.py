"""Where two solids come nearest: the two points between which a tape would be held.

The distance and its direction are known already; the points lie on the faces that look at one another along it.
Which two of those faces' points are nearest is a least-squares fit with weights that are not negative and add up
to one on either face.
"""

import numpy as np

from engine.facts import facts
from engine.limits.clearance import Clearance
from engine.limits.distance import Core, core_of
from engine.limits.solids import placed_all, solids_on
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array

LOOK = 1e-3  # how far a look leaves the direction, to see every corner of a face
LOOKS = 12
ADD_UP = 1e4  # how hard the weights are held to one


@facts(kw_only=False)
class Nearest:
    """A clearance and its two points, (3,) mm, on the surface of the first and of the other."""

    clearance: Clearance
    one: Array
    other: Array


def nearest_points(linkage: Linkage, grid: Grid, found: tuple[Clearance, ...]) -> tuple[Nearest, ...]:
    """Return the points of clearances, each at the position where it is nearest."""
    solids = {solid.name: solid for solid in solids_on(linkage)}
    told = []
    for clearance in found:
        row = int(
            (
                np.abs(grid.heave - clearance.heave) + np.abs(grid.articulation - clearance.articulation)
            ).argmin()
        )
        pair = [solids[name] for name in (clearance.one, clearance.other)]
        at = placed_all(linkage, pair, np.ascontiguousarray(grid.place[:, :, row : row + 1]))
        one, other = at[clearance.one], at[clearance.other]
        way = np.array(clearance.push)
        row_0 = np.zeros(1, dtype=int)
        if other.solid.facing is not None or one.solid.facing is not None:
            first = other.solid.facing is not None
            solid, sign = (one, 1.0) if first else (other, -1.0)
            core = core_of([(solid, row_0)])
            tip = core.support(-sign * way[None])[0] - sign * way * solid.solid.skin
            plane = tip - sign * way * clearance.distance
            ends = (tip, plane) if first else (plane, tip)
        else:
            a = _face(core_of([(one, row_0)]), -way)
            b = _face(core_of([(other, row_0)]), way)
            p, q = _between(a, b)
            ends = (p - way * one.solid.skin, q + way * other.solid.skin)
        told.append(Nearest(clearance, *ends))
    return tuple(told)


def _face(core: Core, way: Array) -> Array:
    """Return the points of a core that are furthest along a direction, (LOOKS + 1, 3), some of them the same."""
    side = np.cross(way, [1.0, 0.0, 0.0] if abs(way[0]) < 0.9 else [0.0, 1.0, 0.0])
    side = side / np.linalg.norm(side)
    third = np.cross(way, side)
    around = np.linspace(0, 2 * np.pi, LOOKS, endpoint=False)
    looks = np.array([way, *(way + LOOK * (np.cos(a) * side + np.sin(a) * third) for a in around)])
    return core.times(len(looks)).support(looks)


def _between(a: Array, b: Array) -> tuple[Array, Array]:
    """Return the nearest points of two faces, each within its own points."""
    from scipy.optimize import nnls  # a quarter of a second to load, and only a drawing asks for it

    middle = a.mean(axis=0)
    count = len(a)
    rows = np.hstack([(a - middle).T, -(b - middle).T])
    sums = np.zeros((2, 2 * count))
    sums[0, :count], sums[1, count:] = ADD_UP, ADD_UP
    weights, _ = nnls(np.vstack([rows, sums]), np.array([0.0, 0.0, 0.0, ADD_UP, ADD_UP]))
    first, other = weights[:count], weights[count:]
    return first @ a / first.sum(), other @ b / other.sum()
