"""The gas in a damper pushes its shaft out, and harder the further in it is.

Gas force   pressure times shaft area, N: `gas_force` at full extension, `gas_force_compressed` bottomed.
Law         slow, p·V constant (Boyle). The shaft takes its own area times the stroke from the gas, so
            F(x) = F₀ / (1 − c·x) with c from the two forces; only F₀ is known where one was given.
"""

from dataclasses import dataclass

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.linkage.vectors import Array

FULLEST_SHARE = 0.98  # past its stroke the gas is not pressed to nothing


@dataclass(frozen=True)
class Gas:
    """A damper's gas spring: force at full extension (N), length there (mm between mounts), 1/mm."""

    force_n: float
    extended_mm: float
    closing_per_mm: float = 0.0

    def at(self, length: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm) at lengths (…,) mm between the mounts; constant past topping out."""
        if not self.closing_per_mm:
            return np.full_like(length, self.force_n), np.zeros_like(length)
        share = self.closing_per_mm * (self.extended_mm - length)
        inside = (share > 0) & (share < FULLEST_SHARE)
        room = 1 - np.clip(share, 0, FULLEST_SHARE)
        force = self.force_n / room
        return force, np.where(inside, self.closing_per_mm * force / room, 0.0)


def gas_of(unit: Coilover | Damper, adapter_mm: float) -> Gas:
    """Return a damper's gas spring; one that falls over the stroke is taken as constant."""
    extended = unit.extended + adapter_mm
    full = unit.gas_force_compressed
    if full is None or full <= unit.gas_force or unit.gas_force == 0:
        return Gas(unit.gas_force, extended)
    stroke = unit.extended - unit.compressed
    return Gas(unit.gas_force, extended, (1 - unit.gas_force / full) / stroke)
