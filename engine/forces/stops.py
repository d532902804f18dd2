"""Bump stops: nothing until they touch, then a force table.

Deflection  contact length − length, mm.
"""

from dataclasses import dataclass

import numpy as np

from engine.document.schema import BumpStop
from engine.linkage.vectors import Array


@dataclass(frozen=True)
class Stop:
    """A bump stop's force over its deflection; both rise. Past the table its last line goes on."""

    contact_mm: float
    deflection: Array
    force: Array

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at a length between the ends (mm)."""
        squash = self.contact_mm - length
        slopes = np.diff(self.force) / np.diff(self.deflection)
        piece = np.clip(np.searchsorted(self.deflection, squash, side="right") - 1, 0, len(slopes) - 1)
        force = self.force[piece] + slopes[piece] * (squash - self.deflection[piece])
        clear = squash <= 0
        return np.where(clear, 0.0, force), np.where(clear, 0.0, slopes[piece])


def stop_of(unit: BumpStop) -> Stop:
    """Return a bump stop; a table that starts past nothing is led in from nothing."""
    table = np.array(unit.table, dtype=float)
    if table[0, 0] > 0:
        table = np.vstack([[0.0, 0.0], table])
    return Stop(unit.contact, table[:, 0], table[:, 1])
