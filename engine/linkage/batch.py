"""Many geometries of one linkage at once: every row is another set of drawn points.

Each row marches through the travel by itself, foreseen from its own last two positions (`Solver.march`), and only what
is asked of it is written down.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.geometry import geometry_of
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solver
from engine.linkage.vectors import Array

PLACE_STEPS = 5  # from drawn to one position; only the last one is looked at
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
        geometry = geometry_of(linkage.topology, points[chunk], linkage.set_lengths)
        solver = Solver(linkage.assembly, geometry)
        out[:, chunk], closed[chunk] = solver.march(linkage.heave(), travels, pairs)
    return BatchSweep(length=out[0], motion_ratio=out[1], ratio_slope=out[2], closed=closed)


def places_at(
    linkage: Linkage, points: Array, heave_mm: float, articulation_mm: float = 0.0
) -> tuple[Array, np.ndarray]:
    """Return where every geometry's points stand at one position, and which of them could be followed there.

    points  : (rows, n, 3) mm as drawn
    returns : (3, n, rows) mm, ghosts included, and (rows,) bool
    """
    solver = Solver(linkage.assembly, geometry_of(linkage.topology, points, linkage.set_lengths))
    across = linkage.articulation()
    direction = linkage.heave() * heave_mm + (0.0 if across is None else across * articulation_mm)
    zero = np.zeros((len(direction), solver.geometry.rows))
    here = solver.solve(solver.drawn_unknowns(), zero, direction)
    good = here.closed
    for step in range(1, PLACE_STEPS + 1):
        share = 1 / PLACE_STEPS
        start = here.unknowns + here.first * share + here.second * (share * share / 2)
        here = solver.solve(start, zero + direction[:, None] * (step * share), direction)
        good = good & here.closed
    return here.motion.place, good
