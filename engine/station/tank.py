"""Bags joined by a pipe, with or without a tank: one pressure, and one volume that they share.

With the valve shut p_abs·(V_tank + ΣV)ⁿ stays what it was when they were filled. Pressing one bag raises the
pressure in all of them; pressing one while another extends by as much leaves it as it was.
"""

from collections.abc import Sequence

import numpy as np

from engine.facts import facts
from engine.forces.air import ATMOSPHERE_BAR, NEWTON_PER_BAR_MM2, Bag, pushing
from engine.linkage.vectors import Array


@facts
class InBag:
    """What shared air does in one bag: N, N/mm as it alone is shortened, N per mm of travel."""

    force: Array
    rate: Array
    slope: Array


@facts
class Shared:
    """What shared air does: gauge pressure in bar, and what it does in each bag, all of the heights' shape."""

    pressure: Array
    bags: tuple[InBag, ...]


@facts(kw_only=False)
class SharedAir:
    """Which bags share their air, and the volume of tank and pipe, mm³."""

    bags: tuple[str, ...]
    volume_mm3: float

    def at(self, bags: Sequence[Bag], heights: Array, speeds: Array) -> Shared:
        """Return pressure and forces at heights that change by `speeds` (mm per mm of travel); both (bags, …) mm."""
        volumes = [bag.volume(height) for bag, height in zip(bags, heights, strict=True)]
        areas = [bag.area(height) for bag, height in zip(bags, heights, strict=True)]
        nothing = np.zeros_like(heights[0])
        total = self.volume_mm3 + sum((volume for volume, _ in volumes), start=nothing)
        growth = sum(
            (slope * speed for (_, slope), speed in zip(volumes, speeds, strict=True)), start=nothing
        )
        law, filled = bags[0].law, self._filled(bags)
        if filled is None:
            pressure, by_volume = np.full_like(total, bags[0].pressure_bar), np.zeros_like(total)
        else:
            with np.errstate(invalid="ignore", divide="ignore"):
                absolute = (bags[0].pressure_bar + ATMOSPHERE_BAR) * (filled / total) ** law
                pressure, by_volume = absolute - ATMOSPHERE_BAR, -law * absolute / total
        found = []
        for (area, area_slope), (_, volume_slope), speed in zip(areas, volumes, speeds, strict=True):
            alone = NEWTON_PER_BAR_MM2 * (by_volume * volume_slope * area + pressure * area_slope)
            slope = NEWTON_PER_BAR_MM2 * (by_volume * growth * area + pressure * area_slope * speed)
            push = NEWTON_PER_BAR_MM2 * pressure * area
            force, slope = pushing(push, slope)
            found.append(InBag(force=force, rate=-pushing(push, alone)[1], slope=slope))
        return Shared(pressure=pressure, bags=tuple(found))

    def _filled(self, bags: Sequence[Bag]) -> Array | None:
        """Return the whole volume at which the valves were shut, mm³; None while they are open."""
        total: Array = np.asarray(self.volume_mm3)
        for bag in bags:
            if bag.filled_mm is None:
                return None
            total = total + bag.volume(np.asarray(bag.filled_mm))[0]
        return total
