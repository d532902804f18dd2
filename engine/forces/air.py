"""Air springs: a bag's force by its height, from a height–area(–volume) table and the closed valve.

Height      distance between the bag's ends, mm.
Area        effective area A_e, mm²: gauge pressure times it is the force, F = 0.1·p·A_e (bar, mm², N).
Filled      the height at which the valve was last shut at the stated gauge pressure.
Law         the gas exponent n: 1 for slow heaving, 1.38 for quick.

With the valve shut p_abs·Vⁿ stays what it was (Boyle; Poisson's adiabatic law for n = 1.4). Differentiated,
the rate is K = 0.1·(n·p_abs·A_e·V′/V − p·A_e′) with V′ = dV/dh; where V is integrated from the area, V′ = A_e and
this is the textbook n·p_abs·A²/V − p·dA/dh. Areas and volumes between rows are on straight lines, and past the
ends of the table the last line goes on: the events `bag_min_height` and `bag_max_height` say where that begins.
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from engine.document.schema import AirSpring
from engine.forces.polyline import Polyline
from engine.linkage.vectors import Array

ATMOSPHERE_BAR = 1.01325  # standard atmosphere
NEWTON_PER_BAR_MM2 = 0.1


@dataclass(frozen=True, kw_only=True)
class Bag:
    """One bag at one filling.

    heights, areas : table rows, mm and mm²
    volumes        : (rows,) mm³, or None to integrate the area from the floor up
    pressure_bar   : gauge, at the filled height
    filled_mm      : height at which the valve was shut, one or of a shape that goes with the heights asked;
                     None while it is open and holds the pressure
    """

    heights: Array
    areas: Array
    volumes: Array | None
    pressure_bar: float
    law: float
    filled_mm: Array | float | None = None

    def shut_at(self, height_mm: Array | float) -> "Bag":
        """Return the bag with its valve shut at a height, mm."""
        return replace(self, filled_mm=height_mm)

    def open_at(self, pressure_bar: float | None = None) -> "Bag":
        """Return the bag with its valve open at a gauge pressure, bar; at its stated one if left out."""
        pressure = self.pressure_bar if pressure_bar is None else pressure_bar
        return replace(self, pressure_bar=pressure, filled_mm=None)

    @cached_property
    def _area(self) -> Polyline:
        return Polyline(self.heights, self.areas)

    def area(self, height: Array) -> tuple[Array, Array]:
        """Return area (mm²) and its slope (mm²/mm); past the table never less than nothing."""
        area, slope = self._area.on(height)
        gone = area < 0
        return np.where(gone, 0.0, area), np.where(gone, 0.0, slope)

    @cached_property
    def _filled_between(self) -> tuple[float, float]:
        """Return the heights past the table's ends at which the area is down to nothing, mm."""
        first, last = float(self._area.slopes[0]), float(self._area.slopes[-1])
        low = self.heights[0] - self.areas[0] / first if first > 0 else -np.inf
        high = self.heights[-1] - self.areas[-1] / last if last < 0 else np.inf
        return float(low), float(high)

    def volume(self, height: Array) -> tuple[Array, Array]:
        """Return volume (mm³) and its slope (mm²)."""
        if self.volumes is not None:
            return Polyline(self.heights, self.volumes).on(height)
        whole = np.clip(height, *self._filled_between)
        piece = self._area.piece(whole)
        steps = np.diff(self.heights)
        # Below the first row the area is taken as that row's, so the bag is empty at no height.
        at_rows = self.areas[0] * self.heights[0] + np.concatenate(
            [[0.0], np.cumsum(steps * (self.areas[1:] + self.areas[:-1]) / 2)]
        )
        area, _ = self.area(whole)
        above = whole - self.heights[piece]
        return at_rows[piece] + above * (self.areas[piece] + area) / 2, area

    def pressure(self, height: Array) -> tuple[Array, Array]:
        """Return gauge pressure (bar) and its slope (bar/mm)."""
        if self.filled_mm is None:
            return np.full_like(height, self.pressure_bar), np.zeros_like(height)
        volume, slope = self.volume(height)
        filled, _ = self.volume(np.asarray(self.filled_mm))
        with np.errstate(invalid="ignore", divide="ignore"):
            absolute = (self.pressure_bar + ATMOSPHERE_BAR) * (filled / volume) ** self.law
            return absolute - ATMOSPHERE_BAR, -self.law * absolute * slope / volume

    def at(self, height: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm, rising as the bag shortens)."""
        area, area_slope = self.area(height)
        pressure, pressure_slope = self.pressure(height)
        slope = NEWTON_PER_BAR_MM2 * (pressure_slope * area + pressure * area_slope)
        force, slope = pushing(NEWTON_PER_BAR_MM2 * pressure * area, slope)
        return force, -slope


def pushing(force: Array, slope: Array) -> tuple[Array, Array]:
    """Return a bag's force (N) and slope, nothing where it would pull: it folds."""
    folded = force < 0
    return np.where(folded, 0.0, force), np.where(folded, 0.0, slope)


def bag_of(unit: AirSpring) -> Bag:
    """Return a bag with its valve open at the stated pressure."""
    table = np.array([row[:2] for row in unit.height_table], dtype=float)
    volumes = None
    if len(unit.height_table[0]) == 3:
        volumes = np.array([row[2] for row in unit.height_table], dtype=float)
    return Bag(
        heights=table[:, 0], areas=table[:, 1], volumes=volumes, pressure_bar=unit.pressure, law=unit.law
    )
