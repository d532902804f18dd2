"""What tape errors leave of every result: many geometries, each as it might truly be, solved as one batch.

Error     of each co-ordinate, independent and normal, with the standard error given for its point.
Interval  the middle nine tenths of the results: from the 5th to the 95th in a hundred.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.linkage.vectors import Array
from engine.ride.settled import Swept, settled, swept
from engine.station.equilibrium import frequencies_hz
from engine.station.solved import SolvedStation

GEOMETRIES = 2000
POSITIONS = (
    17  # between them lengths are quintics: with four times as many an interval differs in its fifth figure
)
SEED = 1  # the same file gives the same interval
LOW, HIGH = 5.0, 95.0


@facts(kw_only=False)
class Interval:
    """The middle nine tenths of a result, in the unit of the result itself."""

    low: float
    middle: float
    high: float


@facts
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
    travels = np.linspace(-station.travel.droop, station.travel.bump, positions)
    sweep = swept(solved, linkage.points + noise, travels)
    stood = settled(solved, sweep)
    rates = stood.at.rate[:, 0]
    frequency = frequencies_hz(rates, station.mass.sprung)
    ratios = {law.name: _interval(stood.units.ratio[n, :, 0]) for n, law in enumerate(solved.springing.laws)}
    return Spread(
        geometries=geometries,
        standing=float(stood.stands.mean()),
        ride_travel=_interval(stood.travel),
        wheel_rate=_interval(rates),
        frequency=_interval(frequency),
        ratios={name: value for name, value in ratios.items() if value is not None},
        damper_left=_damper_left(solved, sweep),
    )


def _interval(values: Array) -> Interval | None:
    known = values[np.isfinite(values)]
    if not len(known):
        return None
    low, middle, high = np.percentile(known, [LOW, 50.0, HIGH])
    return Interval(float(low), float(middle), float(high))


def _damper_left(solved: SolvedStation, sweep: Swept) -> dict[str, tuple[Interval, Interval]]:
    found = {}
    whole = sweep.closed.all(axis=1)
    for n, unit in enumerate(solved.station.units):
        if isinstance(unit, Coilover | Damper) and whole.any():
            extended, compressed = damper_ends_mm(unit)
            lengths = sweep.squeezes.length[n, whole]
            bump = _interval(lengths.min(axis=1) - compressed)
            droop = _interval(extended - lengths.max(axis=1))
            if bump is not None and droop is not None:
                found[unit.name] = (bump, droop)
    return found
