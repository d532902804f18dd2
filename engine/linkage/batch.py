"""Many geometries of one linkage at once: every row is another set of drawn points.

Each row marches through the travel by itself, foreseen from its own last two positions (`Solver.march`), and only what
is asked of it is written down.
"""

import math
from dataclasses import replace

import numpy as np

from engine.facts import facts
from engine.linkage.freedom import sharing_anew
from engine.linkage.geometry import geometry_of
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solution, Solver
from engine.linkage.vectors import Array

STEP_MM = 20.0  # from one position to the next; only those that are asked for are looked at
CHUNK_ROWS = 4000  # long enough to hide the cost of each call; at 8,000 nothing more is won


@facts
class BatchSweep:
    """Lengths between pairs of points over the travel, for every geometry.

    length, motion_ratio, ratio_slope : (rows, travels, pairs) mm, mm/mm, 1/mm; NaN where not closed
    closed                            : (rows, travels) bool
    """

    length: Array
    motion_ratio: Array
    ratio_slope: Array
    closed: np.ndarray


def sweep_batch(linkage: Linkage, points: Array, travels: Array, pairs: list[tuple[int, int]]) -> BatchSweep:
    """Sweep a batch of drawn geometries in heave.

    points  : (rows, n, 3) mm, real points in the station's order
    travels : (m,) mm, sorted
    pairs   : point numbers whose distance is wanted
    """
    rows, count = len(points), len(travels)
    out = np.full((3, rows, count, len(pairs)), np.nan)
    closed = np.zeros((rows, count), dtype=bool)
    for first in range(0, rows, CHUNK_ROWS):
        chunk = slice(first, min(first + CHUNK_ROWS, rows))
        out[:, chunk], closed[chunk] = _solver(linkage, points[chunk]).march(linkage.heave(), travels, pairs)
    return BatchSweep(length=out[0], motion_ratio=out[1], ratio_slope=out[2], closed=closed)


def places_at(
    linkage: Linkage, points: Array, heave_mm: float, articulation_mm: float = 0.0
) -> tuple[Array, np.ndarray]:
    """Return where every geometry's points stand at one position, and which of them could be followed there.

    points  : (rows, n, 3) mm as drawn
    returns : (3, n, rows) mm, ghosts included, and (rows,) bool
    """
    across = linkage.articulation()
    wanted = linkage.heave() * heave_mm + (0.0 if across is None else across * articulation_mm)
    (there,) = _through(linkage, points, wanted, [np.ones(len(points))])
    return there.motion.place, there.closed


def articulating(linkage: Linkage, points: Array, heave_mm: float) -> Solution:
    """Return every geometry at one heave, its slopes by articulation: one wheel up and the other down.

    points : (rows, n, 3) mm as drawn; closed are those that got there
    """
    across = linkage.articulation()
    assert across is not None, "only an axle with two free wheels articulates"
    (level,) = _through(linkage, points, linkage.heave(), [np.full(len(points), heave_mm)])
    solver = _solver(linkage, points)
    at = linkage.heave()[:, None] * np.full(len(points), heave_mm)
    turned = solver.solve(level.unknowns, at, across)
    return replace(turned, closed=turned.closed & level.closed)


def risen(linkage: Linkage, points: Array, heaves: list[Array]) -> list[Solution]:
    """Return every geometry at heaves of its own, each reached from the one before; closed are those that got there.

    points : (rows, n, 3) mm as drawn
    heaves : each (rows,) mm from drawn
    """
    return _through(linkage, points, linkage.heave(), heaves)


def _solver(linkage: Linkage, points: Array) -> Solver:
    """Return a solver of drawn geometries, (rows, n, 3) mm; what the bushings of one share is by its own drawing."""
    geometry = geometry_of(linkage.topology, points, linkage.set_lengths)
    return Solver(sharing_anew(linkage.assembly, geometry), geometry)


def _through(linkage: Linkage, points: Array, way: Array, stops: list[Array]) -> list[Solution]:
    """Return every geometry at stops of its own, one after another: how often (rows,) a way (drivers,) mm is gone.

    Slopes are those by the way.
    """
    solver = _solver(linkage, points)
    at = np.zeros(len(points))
    here = solver.solve(solver.drawn_unknowns(), way[:, None] * at, way)
    good, found = here.closed, []
    for stop in stops:
        far = float(np.abs(stop - at).max(initial=0.0) * np.abs(way).max())
        steps = max(math.ceil(far / STEP_MM), 1)
        step = (stop - at) / steps
        for _ in range(steps):
            at = at + step
            start = here.unknowns + here.first * step + here.second * (step * step / 2)
            here = solver.solve(start, way[:, None] * at, way)
            good = good & here.closed
        found.append(replace(here, closed=good))
    return found
