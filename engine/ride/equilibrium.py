"""Where the springs carry the weight.

Weight      (corner mass − unsprung mass)·g, per wheel, N.
Ride        the travel at which wheel force equals weight, and a push down meets more force.
Frequency   √(K_w / sprung mass)/2π, Hz.
Sag         travel from full droop to ride, mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from engine.linkage.path import Path

if TYPE_CHECKING:
    from engine.station import Rows, StationSolver

ROOT_STEPS = 30
ROOT_MM = 1e-9


@dataclass(frozen=True)
class Ride:
    """The ride position: mm, N/mm, Hz, mm.

    rate_from_ratio : the part of the wheel rate that the changing ratio makes, N/mm
    """

    travel: float
    wheel_rate: float
    rate_from_ratio: float
    frequency: float
    sag: float


@dataclass(frozen=True)
class FoundRide:
    """The ride position, or a sentence that says why there is none."""

    ride: Ride | None
    fault: str | None


def frequency_hz(wheel_rate_n_per_mm: float, sprung_mass_kg: float) -> float:
    """Return the natural frequency of a mass on its wheel rate, Hz."""
    return math.sqrt(wheel_rate_n_per_mm * 1000 / sprung_mass_kg) / (2 * math.pi)


def find_ride(solver: StationSolver, path: Path, rows: Rows) -> FoundRide:
    """Return the stable equilibrium within the wanted travel nearest the drawn position."""
    if not solver.laws:
        return FoundRide(None, "There is no spring at this wheel yet. Add a coilover or a spring.")
    if not all(law.computed for law in solver.laws):
        names = ", ".join(law.name.replace("_", " ") for law in solver.laws if not law.computed)
        return FoundRide(None, f"The force of the {names} is not computed yet, so the ride height is not known.")
    travel = solver.station.travel
    excess = rows.wheel_force - solver.weight_n
    brackets = _rising(rows.travels, excess)
    inside = [k for k in brackets if -travel.droop <= rows.travels[k] and rows.travels[k + 1] <= travel.bump]
    if not inside:
        return FoundRide(None, _fault(solver, rows, excess, brackets))
    k = min(inside, key=lambda k: abs(rows.travels[k]))
    ride = _root(solver, path, float(rows.travels[k]), float(rows.travels[k + 1]))
    at = solver.at(path, np.array([ride]))
    rate = float(at.wheel_rate[0])
    if rate <= 0:
        return FoundRide(
            None,
            f"At {ride:+.1f} mm the springs carry the weight, but the wheel rate there is {rate:.2f} N/mm: "
            "it would not stand. Make the ratio fall less, or fit a stiffer spring.",
        )
    sprung = solver.station.mass.corner - solver.station.mass.unsprung
    share = sum(float(t.force[0] * t.ratio_slope[0]) for t in at.units.values()) / solver.wheels
    return FoundRide(Ride(ride, rate, share, frequency_hz(rate, sprung), ride + travel.droop), None)


def _rising(travels: np.ndarray, excess: np.ndarray) -> list[int]:
    """Return the rows after which the force first reaches the weight from below."""
    return [
        k
        for k in range(len(travels) - 1)
        if np.isfinite(excess[k]) and np.isfinite(excess[k + 1]) and excess[k] <= 0 <= excess[k + 1]
        and excess[k] < excess[k + 1]
    ]


def _root(solver: StationSolver, path: Path, low: float, high: float) -> float:
    """Newton on the exact linkage, kept inside its bracket."""
    travel = (low + high) / 2
    for _ in range(ROOT_STEPS):
        at = solver.at(path, np.array([travel]))
        gap, rate = float(at.wheel_force[0]) - solver.weight_n, float(at.wheel_rate[0])
        low, high = (travel, high) if gap < 0 else (low, travel)
        following = travel - gap / rate if rate > 0 else (low + high) / 2
        if not low <= following <= high:
            following = (low + high) / 2
        if abs(following - travel) < ROOT_MM:
            return following
        travel = following
    return travel


def _fault(solver: StationSolver, rows: Rows, excess: np.ndarray, brackets: list[int]) -> str:
    travel = solver.station.travel
    weight = f"{solver.weight_n:.0f} N"
    if brackets:
        at = float(rows.travels[brackets[0]])
        end, past = ("full bump", at - travel.bump) if at >= travel.bump else ("full droop", -travel.droop - at)
        return (
            f"It would only carry its weight of {weight} about {max(past, 0.1):.0f} mm past {end}. "
            + ("Fit a stiffer spring or add preload." if end == "full bump" else "Fit a softer spring or take preload out.")
        )
    inside = np.isfinite(excess) & (rows.travels >= -travel.droop) & (rows.travels <= travel.bump)
    if not inside.any():
        return "The linkage cannot be put together anywhere in the wanted travel, so it carries nothing."
    forces = rows.wheel_force[inside]
    if forces.max() < solver.weight_n:
        return (
            f"The springs carry at most {forces.max():.0f} N at the wheel within the travel, and the weight is {weight}. "
            "Fit a stiffer spring, add preload, or raise the motion ratio."
        )
    return (
        f"The springs push with at least {forces.min():.0f} N at the wheel all through the travel, and the weight is only {weight}. "
        "Fit a softer spring or take preload out."
    )
