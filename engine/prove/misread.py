"""Which row of a cycle was misread: it fits neither its neighbours nor any linkage like the one that is drawn.

Left out   what the other rows make of a row, every place, rod and eye being off by as much as a crooked tack may be.
Misread    a row farther from that than CRITICAL standard errors, the farthest first; then the rest are tried again.
Alike      rows of which leaving out one explains as much as leaving out the other: named together.

Deletion residuals of a linear Gaussian model, by the inverse of the misfit's own covariance (Hoaglin and Welsch 1978).
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

WIDE = 6.0  # times what a place is usually off: a crooked tack bends the curve, a misread row breaks it
CRITICAL = 3.5
ALIKE = 6.0  # of the sum of squares that leaving a row out takes away
LEAST_LEFT = 4  # rows that must be left to say what a row should have been
MOST_SHARE = 1 / 3  # of the rows; where more do not fit, no row is named


@facts
class Misread:
    """Rows of which one was misread, by their numbers among those handed in; by : mm that each is off the others, and its error."""

    rows: tuple[int, ...]
    by: tuple[float, ...]
    sigma: tuple[float, ...]


def misread(slopes: Array, sigma: Array, prior: Array, misfit: Array) -> tuple[Misread, ...] | None:
    """Return the rows that were misread, the clearest first; None where so many do not fit that none can be named.

    slopes : mm of reading for a mm of cause, (rows, causes); sigma : mm, (rows,); prior : mm, (causes,); misfit : mm, (rows,)
    """
    whole = (slopes * (WIDE * prior) ** 2) @ slopes.T + np.diag(sigma**2)
    kept = np.arange(len(misfit))
    found: list[Misread] = []
    while len(kept) > LEAST_LEFT:
        inverse = np.linalg.inv(whole[np.ix_(kept, kept)])
        spread = 1 / np.sqrt(np.diag(inverse))
        off = (inverse @ misfit[kept]) * spread**2
        squares = (off / spread) ** 2
        if squares.max() < CRITICAL**2:
            return tuple(found)
        alike = np.flatnonzero(squares > squares.max() - ALIKE)
        found.append(
            Misread(
                rows=tuple(int(kept[k]) for k in alike),
                by=tuple(float(off[k]) for k in alike),
                sigma=tuple(float(spread[k]) for k in alike),
            )
        )
        if sum(len(one.rows) for one in found) > MOST_SHARE * len(misfit) + 0.5:
            return None
        kept = np.delete(kept, alike)
    return tuple(found)
