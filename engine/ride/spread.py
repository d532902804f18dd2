"""What tape errors leave of every result: many geometries, each as it might truly be, solved as one batch.

Error     of each co-ordinate, independent and normal, with the standard error given for its point.
Interval  the middle nine tenths of the results: from the 5th to the 95th in a hundred.
"""

from dataclasses import dataclass

import numpy as np

from engine.conventions import SEARCH_BEYOND
from engine.document.schema import Coilover, Damper
from engine.forces.units import damper_ends_mm
from engine.linkage.batch import BatchSweep, sweep_batch
from engine.linkage.vectors import Array
from engine.station import SolvedStation

GEOMETRIES = 2000
POSITIONS = 41
SEED = 1  # the same file gives the same interval
LOW, HIGH = 5.0, 95.0


@dataclass(frozen=True)
class Interval:
    """The middle nine tenths of a result, in the unit of the result itself."""

    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class Spread:
    """Intervals by name; `standing` is the share of geometries that stand somewhere in the travel.

    ride_travel mm, wheel_rate N/mm, frequency Hz; ratios by unit at ride; damper_left by damper (bump, droop) mm
    """

    geometries: int
    standing: float
    ride_travel: Interval | None
    wheel_rate: Interval | None
    frequency: Interval | None
    ratios: dict[str, Interval]
    damper_left: dict[str, tuple[Interval, Interval]]


def spread_of(solved: SolvedStation, geometries: int = GEOMETRIES, positions: int = POSITIONS) -> Spread:
    """Return what the tape errors of a station leave of its results."""
    station, linkage = solved.station, solved.linkage
    tape = 1.0 if station.uncertainty is None else station.uncertainty.tape
    own = {} if station.uncertainty is None else station.uncertainty.points
    error = np.array([own.get(name, tape) for name in linkage.index])
    noise = np.random.default_rng(SEED).normal(size=(geometries, len(error), 3)) * error[:, None]
    pairs = [(linkage.index[law.ends[0]], linkage.index[law.ends[1]]) for law in solved.laws]
    travel = station.travel
    travels = np.linspace(-travel.droop, travel.bump, positions)
    if solved.ride is not None and not -travel.droop <= solved.ride.travel <= travel.bump:
        travels = travels * SEARCH_BEYOND
    sweep = sweep_batch(linkage, linkage.points + noise, travels, pairs)
    force, rate = _at_the_wheel(solved, sweep)
    weight = solved.solver.weight_n
    ride, found = _crossings(travels, force, weight)
    sprung = station.mass.corner - station.mass.unsprung
    rates = _between(travels, rate, ride, found)
    ratios = {
        law.name: _interval(_between(travels, sweep.motion_ratio[:, :, n], ride, found)[found])
        for n, law in enumerate(solved.laws)
    }
    with np.errstate(invalid="ignore"):
        frequency = np.sqrt(rates * 1000 / sprung) / (2 * np.pi)
    return Spread(
        geometries,
        float(found.mean()),
        _interval(ride[found]),
        _interval(rates[found]),
        _interval(frequency[found]),
        {name: value for name, value in ratios.items() if value is not None},
        _damper_left(solved, sweep),
    )


def _at_the_wheel(solved: SolvedStation, sweep: BatchSweep) -> tuple[Array, Array]:
    """Return wheel force and rate, (geometries, positions), per wheel, valves shut where they are now."""
    shape = sweep.length.shape[:2]
    force, rate = np.zeros(shape), np.zeros(shape)
    for n, law in enumerate(solved.laws):
        its_force, its_rate = law.at(sweep.length[:, :, n])
        ratio = sweep.motion_ratio[:, :, n]
        force += ratio * its_force
        rate += ratio**2 * its_rate + its_force * sweep.ratio_slope[:, :, n]
    wheels = len(solved.station.wheels)
    return force / wheels, rate / wheels


def _crossings(travels: Array, force: Array, weight: float) -> tuple[Array, np.ndarray]:
    """Return where each row's force first reaches the weight from below (mm), and whether it does."""
    with np.errstate(invalid="ignore"):
        rising = (force[:, :-1] <= weight) & (force[:, 1:] >= weight) & (force[:, 1:] > force[:, :-1])
    found = np.asarray(rising.any(axis=1))
    k = rising.argmax(axis=1)
    rows = np.arange(len(force))
    with np.errstate(invalid="ignore", divide="ignore"):
        share = (weight - force[rows, k]) / (force[rows, k + 1] - force[rows, k])
    return travels[k] + share * (travels[k + 1] - travels[k]), found


def _between(travels: Array, values: Array, at: Array, found: np.ndarray) -> Array:
    """Return each row's value at its own travel, on a straight line between positions; NaN where not found."""
    at = np.where(found, at, travels[0])
    k = np.clip(np.searchsorted(travels, at) - 1, 0, len(travels) - 2)
    rows = np.arange(len(values))
    share = (at - travels[k]) / (travels[k + 1] - travels[k])
    value = values[rows, k] + share * (values[rows, k + 1] - values[rows, k])
    return np.where(found, value, np.nan)


def _interval(values: Array) -> Interval | None:
    known = values[np.isfinite(values)]
    if not len(known):
        return None
    low, middle, high = np.percentile(known, [LOW, 50.0, HIGH])
    return Interval(float(low), float(middle), float(high))


def _damper_left(solved: SolvedStation, sweep: BatchSweep) -> dict[str, tuple[Interval, Interval]]:
    found = {}
    for n, law in enumerate(solved.laws):
        unit = next(unit for unit in solved.station.units if unit.name == law.name)
        if isinstance(unit, Coilover | Damper):
            extended, compressed = damper_ends_mm(unit)
            lengths = sweep.length[:, :, n][sweep.closed.all(axis=1)]
            if len(lengths):
                bump = _interval(lengths.min(axis=1) - compressed)
                droop = _interval(extended - lengths.max(axis=1))
                if bump is not None and droop is not None:
                    found[law.name] = (bump, droop)
    return found
