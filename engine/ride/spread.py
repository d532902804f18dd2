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
from engine.telling import Tell, to_nobody

GEOMETRIES = 2000
PART = 400  # geometries between one word of how far it is and the next
POSITIONS = (
    17  # between them lengths are quintics: with four times as many an interval differs in its fifth figure
)
SEED = 1  # the same file gives the same interval
USUAL_TAPE_MM = 1.0  # one standard error of a co-ordinate that nobody has said more of
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


@facts
class _Tried:
    """Some of the geometries. travel mm, rate N/mm : (geometries,), NaN where one stands nowhere; ratio (units, geometries)

    left : by damper, mm left at full bump and at full droop, each (geometries that close all through,)
    """

    travel: Array
    rate: Array
    ratio: Array
    left: dict[str, tuple[Array, Array]]


def spread_of(
    solved: SolvedStation,
    geometries: int = GEOMETRIES,
    positions: int = POSITIONS,
    tell: Tell = to_nobody,
) -> Spread:
    """Return what the tape errors of a station leave of its results."""
    station, linkage = solved.station, solved.linkage
    tape = USUAL_TAPE_MM if station.uncertainty is None else station.uncertainty.tape
    own = {} if station.uncertainty is None else station.uncertainty.points
    error = np.array([own.get(name, tape) for name in linkage.index])
    noise = np.random.default_rng(SEED).normal(size=(geometries, len(error), 3)) * error[:, None]
    travels = np.linspace(-station.travel.droop, station.travel.bump, positions)
    tried = []
    for first in range(0, geometries, PART):
        tell(first / geometries, "places as they may truly be")
        tried.append(_tried(solved, linkage.points + noise[first : first + PART], travels))
    travel = np.concatenate([part.travel for part in tried])
    rate = np.concatenate([part.rate for part in tried])
    ratio = np.concatenate([part.ratio for part in tried], axis=1)
    ratios = {law.name: _interval(ratio[n]) for n, law in enumerate(solved.springing.laws)}
    return Spread(
        geometries=geometries,
        standing=float(np.isfinite(travel).mean()),
        ride_travel=_interval(travel),
        wheel_rate=_interval(rate),
        frequency=_interval(frequencies_hz(rate, station.mass.sprung)),
        ratios={name: value for name, value in ratios.items() if value is not None},
        damper_left=_damper_left(tried),
    )


def _tried(solved: SolvedStation, points: Array, travels: Array) -> _Tried:
    sweep = swept(solved, points, travels)
    stood = settled(solved, sweep)
    return _Tried(
        travel=stood.travel,
        rate=stood.at.rate[:, 0],
        ratio=stood.units.ratio[:, :, 0],
        left=_left(solved, sweep),
    )


def _interval(values: Array) -> Interval | None:
    known = values[np.isfinite(values)]
    if not len(known):
        return None
    low, middle, high = np.percentile(known, [LOW, 50.0, HIGH])
    return Interval(float(low), float(middle), float(high))


def _left(solved: SolvedStation, sweep: Swept) -> dict[str, tuple[Array, Array]]:
    found = {}
    whole = sweep.closed.all(axis=1)
    for n, unit in enumerate(solved.station.units):
        if isinstance(unit, Coilover | Damper):
            extended, compressed = damper_ends_mm(unit)
            lengths = sweep.squeezes.length[n, whole]
            found[unit.name] = (lengths.min(axis=1) - compressed, extended - lengths.max(axis=1))
    return found


def _damper_left(tried: list[_Tried]) -> dict[str, tuple[Interval, Interval]]:
    found = {}
    for name in tried[0].left:
        bump, droop = (_interval(np.concatenate([part.left[name][end] for part in tried])) for end in (0, 1))
        if bump is not None and droop is not None:
            found[name] = (bump, droop)
    return found
