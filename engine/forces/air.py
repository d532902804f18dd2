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

from dataclasses import replace
from functools import cached_property

import numpy as np

from engine.document.schema import AirSpring
from engine.facts import facts
from engine.forces.polyline import Polyline
from engine.linkage.vectors import Array

ATMOSPHERE_BAR = 1.01325  # standard atmosphere
NEWTON_PER_BAR_MM2 = 0.1


@facts
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
        """Return the bag with its valve shut at a height, mm; () or the shape of whatever it is asked at."""
        return self._filled_otherwise(self.pressure_bar, height_mm)

    def open_at(self, pressure_bar: float | None = None) -> "Bag":
        """Return the bag with its valve open at a gauge pressure, bar; at its stated one if left out."""
        pressure = self.pressure_bar if pressure_bar is None else pressure_bar
        return self._filled_otherwise(pressure, None)

    @cached_property
    def _table(self) -> "_Table":
        return _Table(self.heights, self.areas, self.volumes)

    def _filled_otherwise(self, pressure_bar: float, filled_mm: Array | float | None) -> "Bag":
        """Return the bag at another filling; what is known of its table goes with it."""
        other = replace(self, pressure_bar=pressure_bar, filled_mm=filled_mm)
        other.__dict__["_table"] = self._table
        return other

    def area(self, height: Array) -> tuple[Array, Array]:
        """Return area (mm²) and its slope (mm²/mm) at heights (…,) mm; past the table never less than nothing."""
        return self._table.area(height)

    def volume(self, height: Array) -> tuple[Array, Array]:
        """Return volume (mm³) and its slope (mm²) at heights (…,) mm."""
        return self._table.volume(height)

    def pressure(self, height: Array) -> tuple[Array, Array]:
        """Return gauge pressure (bar) and its slope (bar/mm) at heights (…,) mm."""
        if self.filled_mm is None:
            return np.full_like(height, self.pressure_bar), np.zeros_like(height)
        volume, slope = self.volume(height)
        filled, _ = self.volume(np.asarray(self.filled_mm))
        with np.errstate(invalid="ignore", divide="ignore"):
            absolute = (self.pressure_bar + ATMOSPHERE_BAR) * (filled / volume) ** self.law
            return absolute - ATMOSPHERE_BAR, -self.law * absolute * slope / volume

    def at(self, height: Array) -> tuple[Array, Array]:
        """Return force (N) and rate (N/mm, rising as the bag shortens) at heights (…,) mm."""
        force, rate, _ = self.all_at(height)
        return force, rate

    def all_at(self, height: Array) -> tuple[Array, Array, Array]:
        """Return force (N), rate (N/mm, rising as the bag shortens) and gauge pressure (bar) at heights (…,) mm."""
        area, area_slope = self.area(height)
        pressure, pressure_slope = self.pressure(height)
        slope = NEWTON_PER_BAR_MM2 * (pressure_slope * area + pressure * area_slope)
        force, slope = pushing(NEWTON_PER_BAR_MM2 * pressure * area, slope)
        return force, -slope, pressure


class _Table:
    """A bag's measured table, whatever its filling: heights, areas and volumes, (rows,) mm, mm², mm³ or None."""

    def __init__(self, heights: Array, areas: Array, volumes: Array | None) -> None:
        self.heights, self.areas = heights, areas
        self._area = Polyline(heights, areas)
        self._volume = None if volumes is None else Polyline(heights, volumes)
        # Below the first row the area is taken as that row's, so the bag is empty at no height.
        steps = np.diff(heights) * (areas[1:] + areas[:-1]) / 2
        self._at_rows = areas[0] * heights[0] + np.concatenate([[0.0], np.cumsum(steps)])
        first, last = float(self._area.slopes[0]), float(self._area.slopes[-1])
        # Past the table's ends the area goes down to nothing at these heights.
        self._low = float(heights[0] - areas[0] / first) if first > 0 else -np.inf
        self._high = float(heights[-1] - areas[-1] / last) if last < 0 else np.inf

    def area(self, height: Array) -> tuple[Array, Array]:
        area, slope = self._area.on(height)
        gone = area < 0
        return np.where(gone, 0.0, area), np.where(gone, 0.0, slope)

    def volume(self, height: Array) -> tuple[Array, Array]:
        if self._volume is not None:
            return self._volume.on(height)
        whole = np.minimum(np.maximum(height, self._low), self._high)
        piece = self._area.piece(whole)
        area, _ = self.area(whole)
        above = whole - self.heights[piece]
        return self._at_rows[piece] + above * (self.areas[piece] + area) / 2, area


def pushing(force: Array, slope: Array) -> tuple[Array, Array]:
    """Return a bag's forces (…,) N and their slopes, nothing where it would pull: it folds."""
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
