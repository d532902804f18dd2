"""Where the springs carry the weight, and with which air.

Weight      (corner mass − unsprung mass)·g, per wheel, N.
Ride        the travel at which wheel force equals weight, and a push down meets more force.
Frequency   √(K_w / sprung mass)/2π, Hz.
Sag         travel from full droop to ride, mm.
Filled      bags' valves are shut where their stated pressure carries the weight.
"""

import math
from typing import TypeVar

import numpy as np

from engine.facts import facts
from engine.linkage.roots import hermite_root, newton_between
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, force, length
from engine.sentences import travel as travel_of
from engine.station.rows import Mover, Rows

Hz = TypeVar("Hz", float, Array)
ROOT_MM = 1e-7  # far below the 0.01 mm asked; force then agrees with weight to a few µN


@facts
class Ride:
    """The ride position: mm, N/mm, Hz, mm.

    rate_from_ratio : the part of the wheel rate that the changing ratio makes, N/mm
    """

    travel: float
    wheel_rate: float
    rate_from_ratio: float
    frequency: float
    sag: float


@facts(kw_only=False)
class FoundRide:
    """The ride position and everything there, or a sentence that says why there is none."""

    ride: Ride | None
    fault: Sentence | None
    at: Rows | None = None


def frequency_hz(wheel_rate_n_per_mm: float, sprung_mass_kg: float) -> float:
    """Return the natural frequency of a mass on its wheel rate, Hz."""
    return float(frequencies_hz(np.asarray(wheel_rate_n_per_mm), sprung_mass_kg))


def frequencies_hz(wheel_rates_n_per_mm: Array, sprung_mass_kg: float) -> Array:
    """Return the natural frequencies of a mass on wheel rates (…,), Hz; NaN on a rate that falls."""
    with np.errstate(invalid="ignore"):
        found: Array = np.sqrt(wheel_rates_n_per_mm * 1000 / sprung_mass_kg) / (2 * math.pi)
    return found


def wheel_rate_for(frequency_hz: Hz, sprung_mass_kg: float) -> Hz:
    """Return the wheel rate on which a mass has a natural frequency, N/mm; rates for frequencies (…,)."""
    return (2 * math.pi * frequency_hz) ** 2 * sprung_mass_kg / 1000


def filled(mover: Mover) -> tuple[Mover, bool]:
    """Return the mover with every bag's valve shut, and whether its stated pressure holds the weight there.

    Where no height does they are shut at the drawn one: the forces are then those of a vehicle held there.
    """
    if not mover.springing.on_air or not mover.path.reached.any():
        return mover, True
    open_ride = _open_valve_ride(mover)
    at = open_ride
    if at is None:
        reached = mover.path.travels[mover.path.reached]
        at = mover.at(reached[[np.abs(reached).argmin()]])
    return mover.under(mover.springing.shut_at(at.squeezes.length[:, 0])), open_ride is not None


def find_ride(mover: Mover) -> FoundRide:
    """Return the stable equilibrium within the wanted travel nearest the drawn position."""
    if not mover.springing.laws:
        return FoundRide(None, Sentence("There is no spring at this wheel yet. Add a coilover or a spring."))
    station, rows = mover.station, mover.along
    excess = rows.wheel_force - mover.springing.weight_n
    brackets = _rising(excess)
    inside = brackets[_inside(mover, brackets)]
    if not len(inside):
        return FoundRide(None, _fault(mover, excess, brackets))
    at = _root(mover, int(inside[np.abs(rows.travels[inside]).argmin()]))
    ride, rate = float(at.travels[0]), float(at.wheel_rate[0])
    if not math.isfinite(rate):
        words = "The linkage is too near to flat at {ride} to say what it carries there."
        return FoundRide(None, Sentence(words, {"ride": travel_of(ride)}))
    if not rate > 0:
        words = (
            "At {ride} the springs carry the weight, but the wheel rate there is {rate}: it would not stand. "
            "Make the ratio fall less, or fit a stiffer spring."
        )
        return FoundRide(None, Sentence(words, {"ride": travel_of(ride), "rate": Quantity(rate, "rate")}))
    found = Ride(
        travel=ride,
        wheel_rate=rate,
        rate_from_ratio=float(at.rate_from_ratio[0]),
        frequency=frequency_hz(rate, station.mass.sprung),
        sag=ride + station.travel.droop,
    )
    return FoundRide(found, None, at)


def _open_valve_ride(mover: Mover) -> Rows | None:
    """Return the row where bags at their stated pressure carry the weight, or None.

    With the valve open force may fall in bump; shut, it will rise. So either slope is taken.
    """
    excess = mover.along.wheel_force - mover.springing.weight_n
    here, there = excess[:-1], excess[1:]
    known = np.isfinite(here) & np.isfinite(there)
    found = np.flatnonzero(known & (here * there <= 0) & (here != there))
    found = found[_inside(mover, found)]
    if not len(found):
        return None
    return _root(mover, int(found[np.abs(mover.path.travels[found]).argmin()]))


def _rising(excess: Array) -> np.ndarray:
    """Return the rows after which the force first reaches the weight from below."""
    here, there = excess[:-1], excess[1:]
    known = np.isfinite(here) & np.isfinite(there)
    return np.flatnonzero(known & (here <= 0) & (there >= 0) & (here < there))


def _inside(mover: Mover, brackets: np.ndarray) -> np.ndarray:
    """Return which brackets lie within the wanted travel."""
    travel, travels = mover.station.travel, mover.path.travels
    inside: np.ndarray = (travels[brackets] >= -travel.droop) & (travels[brackets + 1] <= travel.bump)
    return inside


def _root(mover: Mover, k: int) -> Rows:
    """Return the exact row where force equals weight: Newton, kept inside its bracket."""
    rows, weight = mover.along, mover.springing.weight_n
    low, high = rows.travels[[k]], rows.travels[[k + 1]]
    pair = slice(k, k + 2)
    gaps = (rows.wheel_force[pair] - weight)[:, None]

    last = rows

    def look(travel: Array) -> tuple[Array, Array]:
        nonlocal last
        last = mover.at(travel)
        return last.wheel_force - weight, last.wheel_rate

    start = hermite_root(low, high, gaps, rows.wheel_rate[pair][:, None])
    found = newton_between(low, high, gaps[1] > gaps[0], start, look)
    # The first guess is usually so good that the step from it was none.
    return last if abs(float(found[0] - last.travels[0])) < ROOT_MM else mover.at(found)


def _ways(mover: Mover) -> tuple[str, str]:
    """Return what makes a station carry less and more: air where it stands on air, else springs."""
    if mover.springing.on_air and not any(law.stack for law in mover.springing.laws):
        return "Let air out, or fit a smaller bag.", "Put more air in, or fit a larger bag."
    return "Fit a softer spring or take preload out.", "Fit a stiffer spring or add preload."


def _fault(mover: Mover, excess: Array, brackets: np.ndarray) -> Sentence:
    """Say why nothing within the wanted travel carries the weight, and which way to go."""
    rows, weight_n = mover.along, mover.springing.weight_n
    travel = mover.station.travel
    weight = force(weight_n)
    softer, stiffer = _ways(mover)
    if len(brackets):
        k = int(brackets[0])
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
    if forces.max() < weight_n:
        words = (
            "The springs carry at most {most} at the wheel within the travel, and the weight is {weight}. "
            f"{stiffer[:-1]}, or raise the motion ratio."
        )
        return Sentence(words, {"most": force(float(forces.max())), "weight": weight})
    words = (
        "The springs push with at least {least} at the wheel all through the travel, and the weight is only "
        "{weight}. " + softer
    )
    return Sentence(words, {"least": force(float(forces.min())), "weight": weight})
