"""Many geometries of one station, each set on its weight with its own air: what intervals and millimetres stand on.

Swept      every geometry's units over travels about the ride position.
Settled    where each carries its weight, its bags filled there, as one station alone is solved.
Between two travels a length is the quintic through length, ratio and slope at both: good to far below a micron.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.batch import BatchSweep, sweep_batch
from engine.linkage.vectors import Array
from engine.station.at_wheel import AtWheel, Springing, Squeezes
from engine.station.solved import SolvedStation

ROOT_STEPS = 60
ROOT_MM = 1e-9


@facts
class Swept:
    """Many geometries over the same travels.

    travels  : (positions,) mm, sorted
    squeezes : each (units, geometries, positions)
    closed   : (geometries, positions) bool
    """

    travels: Array
    squeezes: Squeezes
    closed: np.ndarray

    def at(self, travel: Array) -> Squeezes:
        """Return every geometry's units at a travel of its own (geometries,) mm, as one position: (units, geometries, 1)."""
        travel = np.clip(travel, self.travels[0], self.travels[-1])
        k = np.clip(np.searchsorted(self.travels, travel, side="right") - 1, 0, len(self.travels) - 2)
        width = self.travels[k + 1] - self.travels[k]
        share = (travel - self.travels[k]) / width

        def ends(values: Array) -> tuple[Array, Array]:
            pick = k[None, :, None]
            first = np.take_along_axis(values, pick, axis=2)[:, :, 0]
            return first, np.take_along_axis(values, pick + 1, axis=2)[:, :, 0]

        length, ratio, slope = (
            ends(v) for v in (self.squeezes.length, self.squeezes.ratio, self.squeezes.slope)
        )
        first, second = ([-v for v in pair] for pair in (ratio, slope))
        value, by_share, twice = _quintic(
            share, length, [v * width for v in first], [v * width**2 for v in second]
        )
        return Squeezes(
            length=value[:, :, None],
            ratio=-(by_share / width)[:, :, None],
            slope=-(twice / width**2)[:, :, None],
        )


@facts
class Settled:
    """Every geometry where it stands; values of those that stand nowhere are NaN.

    travel : (geometries,) mm; stands : (geometries,) bool
    units  : each (units, geometries, 1), and what they do at the wheel (geometries, 1)
    springing : with every geometry's own filling
    """

    travel: Array
    stands: np.ndarray
    units: Squeezes
    at: AtWheel
    springing: Springing


def swept(solved: SolvedStation, points: Array, travels: Array) -> Swept:
    """Return a station's units for a batch of drawn geometries, (geometries, points, 3) mm, over sorted travels."""
    index = solved.linkage.index
    pairs = [(index[law.ends[0]], index[law.ends[1]]) for law in solved.springing.laws]
    sweep: BatchSweep = sweep_batch(solved.linkage, points, travels, pairs)
    parts = [np.moveaxis(part, 2, 0) for part in (sweep.length, sweep.motion_ratio, sweep.ratio_slope)]
    return Swept(
        travels=travels,
        squeezes=Squeezes(length=parts[0], ratio=parts[1], slope=parts[2]),
        closed=sweep.closed,
    )


def settled(solved: SolvedStation, sweep: Swept) -> Settled:
    """Return every geometry set on its weight, nearest to where the station as drawn stands."""
    near = 0.0 if solved.ride is None else solved.ride.travel
    springing = _filled(solved, sweep, near)
    travel, stands = _crossing(springing, sweep, near, either=False)
    units = sweep.at(np.where(stands, travel, np.nan))
    return Settled(
        travel=np.where(stands, travel, np.nan),
        stands=stands,
        units=units,
        at=springing.at_wheel(units),
        springing=springing,
    )


def _filled(solved: SolvedStation, sweep: Swept, near: float) -> Springing:
    """Return the springing with every geometry's own filling, as `equilibrium.filled` does for one."""
    opened = solved.springing.open_at()
    if not opened.on_air:
        return opened
    drawn = np.full(sweep.closed.shape[0], 0.0 if solved.nearest_drawn is None else solved.nearest_drawn)
    if not solved.filled_at_ride:
        return opened.shut_at(sweep.at(drawn).length)
    travel, stands = _crossing(opened, sweep, near, either=True)
    return opened.shut_at(sweep.at(np.where(stands, travel, drawn)).length)


def _crossing(springing: Springing, sweep: Swept, near: float, either: bool) -> tuple[Array, np.ndarray]:
    """Return where each geometry's force is the weight (mm), rising or on `either` slope, and whether it is anywhere."""
    travels, weight = sweep.travels, springing.weight_n
    excess = springing.at_wheel(sweep.squeezes).force - weight
    here, there = excess[:, :-1], excess[:, 1:]
    with np.errstate(invalid="ignore"):
        met = (here <= 0) & (there >= 0) & (there > here)
        if either:
            met |= (here >= 0) & (there <= 0) & (there < here)
    found = np.asarray(met.any(axis=1))
    off = np.abs((travels[:-1] + travels[1:]) / 2 - near)
    k = np.where(met, off, np.inf).argmin(axis=1)
    low, high = travels[k].copy(), travels[k + 1].copy()
    rising = excess[np.arange(len(k)), k + 1] > excess[np.arange(len(k)), k]
    at = (low + high) / 2
    for _ in range(ROOT_STEPS):
        wheel = springing.at_wheel(sweep.at(at))
        gap, rate = wheel.force[:, 0] - weight, wheel.rate[:, 0]
        past = (gap > 0) == rising
        high, low = np.where(past, at, high), np.where(past, low, at)
        with np.errstate(all="ignore"):
            following = at - gap / rate
        following = np.where((following >= low) & (following <= high), following, (low + high) / 2)
        moved = np.abs(following - at)[found].max(initial=0.0)
        at = following
        if moved < ROOT_MM:
            break
    return at, found


def _quintic(
    share: Array, values: tuple[Array, Array], slopes: list[Array], bends: list[Array]
) -> tuple[Array, Array, Array]:
    """Return value, slope and curvature by `share` (0 to 1) of the quintic through both ends' own."""
    s = share
    (p0, p1), (v0, v1), (a0, a1) = values, slopes, bends
    rise, one, two = p1 - p0 - v0 - a0 / 2, v1 - v0 - a0, a1 - a0
    c3, c4, c5 = 10 * rise - 4 * one + two / 2, -15 * rise + 7 * one - two, 6 * rise - 3 * one + two / 2
    value = p0 + s * (v0 + s * (a0 / 2 + s * (c3 + s * (c4 + s * c5))))
    slope = v0 + s * (a0 + s * (3 * c3 + s * (4 * c4 + s * 5 * c5)))
    bend = a0 + s * (6 * c3 + s * (12 * c4 + s * 20 * c5))
    return value, slope, bend
