"""Bump stops: nothing until they touch, then a force table. Straps: nothing until taut, then a pull.

Deflection  contact length − length, mm.
Hydraulic   a stop with gas behind its piston pushes with that force as soon as it touches.
Pull        a strap stretches by its fraction under its load, in proportion before it (Hooke's law).
"""

import numpy as np

from engine.document.schema import BumpStop, Strap
from engine.facts import facts
from engine.forces.polyline import Polyline
from engine.linkage.vectors import Array


@facts
class Stop:
    """A bump stop's force over its deflection; both rise. Past the table its last line goes on."""

    contact_mm: float
    deflection: Array
    force: Array
    gas_force: float = 0.0

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at lengths (…,) mm between the ends."""
        squash = self.contact_mm - length
        force, slope = Polyline(self.deflection, self.force).on(squash)
        clear = squash <= 0
        return np.where(clear, 0.0, force + self.gas_force), np.where(clear, 0.0, slope)


def stop_of(unit: BumpStop) -> Stop:
    """Return a bump stop; a table that starts past nothing is led in from nothing."""
    table = np.array(unit.table, dtype=float)
    if table[0, 0] > 0:
        table = np.vstack([[0.0, 0.0], table])
    return Stop(contact_mm=unit.contact, deflection=table[:, 0], force=table[:, 1], gas_force=unit.gas_force)


@facts(kw_only=False)
class Pull:
    """A strap that pulls beyond its length: N and N/mm."""

    length_mm: float
    rate_n_per_mm: float

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N, negative: it pulls) and rate (N/mm) at a length between the ends (mm)."""
        taut = length > self.length_mm
        force = -self.rate_n_per_mm * (length - self.length_mm)
        return np.where(taut, force, 0.0), np.where(taut, self.rate_n_per_mm, 0.0)


def pull_of(unit: Strap) -> Pull | None:
    """Return how a strap pulls, or None where its load or stretch is not known."""
    if unit.load is None or unit.stretch == 0:
        return None
    return Pull(unit.length, unit.load / (unit.length * unit.stretch))
