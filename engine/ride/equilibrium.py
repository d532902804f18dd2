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
from engine.linkage.roots import hermite_root
from engine.sentences import Quantity, Sentence, force, length
from engine.sentences import travel as travel_of

if TYPE_CHECKING:
    from engine.station import Rows, StationSolver

ROOT_STEPS = 30
ROOT_MM = 1e-7  # far below the 0.01 mm asked; force then agrees with weight to a few µN


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
    """The ride position and everything there, or a sentence that says why there is none."""

    ride: Ride | None
    fault: Sentence | None
    at: Rows | None = None


def frequency_hz(wheel_rate_n_per_mm: float, sprung_mass_kg: float) -> float:
    """Return the natural frequency of a mass on its wheel rate, Hz."""
    return math.sqrt(wheel_rate_n_per_mm * 1000 / sprung_mass_kg) / (2 * math.pi)


def find_ride(solver: StationSolver, path: Path, rows: Rows) -> FoundRide:
    """Return the stable equilibrium within the wanted travel nearest the drawn position."""
    if not solver.laws:
        return FoundRide(None, Sentence("There is no spring at this wheel yet. Add a coilover or a spring."))
    travel = solver.station.travel
    excess = rows.wheel_force - solver.weight_n
    brackets = _rising(rows.travels, excess)
    inside = [k for k in brackets if -travel.droop <= rows.travels[k] and rows.travels[k + 1] <= travel.bump]
    if not inside:
        return FoundRide(None, _fault(solver, rows, excess, brackets))
    k = min(inside, key=lambda k: abs(rows.travels[k]))
    at = _root(solver, path, rows, k)
    ride, rate = float(at.travels[0]), float(at.wheel_rate[0])
    if rate <= 0:
        words = (
            "At {ride} the springs carry the weight, but the wheel rate there is {rate}: it would not stand. "
            "Make the ratio fall less, or fit a stiffer spring."
        )
        return FoundRide(None, Sentence(words, {"ride": travel_of(ride), "rate": Quantity(rate, "rate")}))
    sprung = solver.station.mass.corner - solver.station.mass.unsprung
    share = sum(float(t.force[0] * t.ratio_slope[0]) for t in at.units.values()) / solver.wheels
    found = Ride(ride, rate, share, frequency_hz(rate, sprung), ride + travel.droop)
    return FoundRide(found, None, at)


def find_open_valve_ride(solver: StationSolver, path: Path, rows: Rows) -> Rows | None:
    """Return the row where bags at their stated pressure carry the weight, or None.

    With the valve open force may fall in bump; shut, it will rise. So either slope is taken.
    """
    travel = solver.station.travel
    excess = rows.wheel_force - solver.weight_n
    found = [
        k
        for k in range(len(rows.travels) - 1)
        if np.isfinite(excess[k : k + 2]).all()
        and excess[k] * excess[k + 1] <= 0
        and excess[k] != excess[k + 1]
        and -travel.droop <= rows.travels[k]
        and rows.travels[k + 1] <= travel.bump
    ]
    if not found:
        return None
    return _root(solver, path, rows, min(found, key=lambda k: abs(rows.travels[k])))


def _rising(travels: np.ndarray, excess: np.ndarray) -> list[int]:
    """Return the rows after which the force first reaches the weight from below."""
    return [
        k
        for k in range(len(travels) - 1)
        if np.isfinite(excess[k])
        and np.isfinite(excess[k + 1])
        and excess[k] <= 0 <= excess[k + 1]
        and excess[k] < excess[k + 1]
    ]


def _root(solver: StationSolver, path: Path, rows: Rows, k: int) -> Rows:
    """Return the exact row where force equals weight: Newton, kept inside its bracket."""
    low, high = float(rows.travels[k]), float(rows.travels[k + 1])
    pair = slice(k, k + 2)
    gaps = (rows.wheel_force[pair] - solver.weight_n)[:, None]
    way = 1.0 if gaps[1] > gaps[0] else -1.0
    travel = hermite_root(np.array([low]), np.array([high]), gaps, rows.wheel_rate[pair][:, None])
    at = solver.at(path, travel)
    for _ in range(ROOT_STEPS):
        gap = way * (float(at.wheel_force[0]) - solver.weight_n)
        rate, here = way * float(at.wheel_rate[0]), float(travel[0])
        low, high = (here, high) if gap < 0 else (low, here)
        following = here - gap / rate if rate > 0 else (low + high) / 2
        if not low <= following <= high:
            following = (low + high) / 2
        if abs(following - here) < ROOT_MM:
            break
        travel = np.array([following])
        at = solver.at(path, travel)
    return at


def _fault(solver: StationSolver, rows: Rows, excess: np.ndarray, brackets: list[int]) -> Sentence:
    """Say why nothing within the wanted travel carries the weight, and which way to go."""
    travel = solver.station.travel
    weight = force(solver.weight_n)
    softer, stiffer = "Fit a softer spring or take preload out.", "Fit a stiffer spring or add preload."
    if brackets:
        k = brackets[0]
        share = excess[k] / (excess[k] - excess[k + 1])
        at = float(rows.travels[k] + share * (rows.travels[k + 1] - rows.travels[k]))
        high = at >= travel.bump
        past = at - travel.bump if high else -travel.droop - at
        end, remedy = ("bump", stiffer) if high else ("droop", softer)
        words = f"It would only carry its weight of {{weight}} about {{past}} past full {end}. {remedy}"
        return Sentence(words, {"weight": weight, "past": length(past)})
    inside = np.isfinite(excess) & (rows.travels >= -travel.droop) & (rows.travels <= travel.bump)
    if not inside.any():
        return Sentence(
            "The linkage cannot be put together anywhere in the wanted travel, so it carries nothing."
        )
    forces = rows.wheel_force[inside]
    if forces.max() <= 0:
        return Sentence(
            "The units pull the wheel up instead of pushing it down: they grow longer in bump. "
            "Move a moving eye to the other side of its pivot, or the chassis end to the other side of it."
        )
    if forces.max() < solver.weight_n:
        words = (
            "The springs carry at most {most} at the wheel within the travel, and the weight is {weight}. "
            "Fit a stiffer spring, add preload, or raise the motion ratio."
        )
        return Sentence(words, {"most": force(float(forces.max())), "weight": weight})
    words = (
        "The springs push with at least {least} at the wheel all through the travel, and the weight is only "
        "{weight}. " + softer
    )
    return Sentence(words, {"least": force(float(forces.min())), "weight": weight})
