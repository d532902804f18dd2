"""A cycle against the drawn curve: how far off each length is, the ratio as it was built, and what was likely built.

Misfit    length read − length drawn at the same wheel travel; its error is the length's own and the wheel height's, by the ratio.
Likely    the most probable geometry: every place moved within its standard error, every rod and every reading's own offset
          within theirs, so as to explain the cycle (maximum a posteriori, Gauss–Newton on the linkage itself).
Cause     one of these alone, as far as it takes to explain most; `explains` the share of the misfit's χ² that it takes away.
Untold    causes that explain as much within χ² of NO_WORSE: this cycle cannot tell them apart; and, last, the mounts of the
          springing that may be off by FELT_MM along an axis without these lengths showing it.
"""

import math
from dataclasses import dataclass

import numpy as np

from engine.document.records import CycleRecord
from engine.document.schema import Coilover, Damper, Link, Project
from engine.forces.units import damper_ends_mm
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.ride.settled import settled, swept
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.rows import rows_of
from engine.station.solved import SolvedStation, solve_again

WHEEL_MM, LENGTH_MM = 1.0, 0.5
PLACE_MM = 2.0  # where nobody says how well a place is known
ROD_MM, EYES_MM = 2.0, 1.5
STEP_MM = 0.5
TURNS = 2
AXES = ("ahead", "out", "up")
MOST_CAUSES = 8
EXPLAINS = 0.5
NO_WORSE = 4.0
SEEN = 12.0  # of χ² that the best cause must take away before there is anything to explain
MOST_CAUSE_MM = 40.0
LEAST_ROWS = 3
FELT_MM, HIDDEN = 9.0, 6.0  # an error of so many mm that stays under so many standard errors is not felt
FEELS = 0.01  # mm of length for a mm of cause: less is not felt
PATH_STEPS = 6


@dataclass(frozen=True, kw_only=True)
class Built:
    """One unit at one row: what was read, what it is as built and as drawn, and the ratio as built with its standard error."""

    unit: str
    wheel: float
    length: float
    likely: float
    drawn: float
    ratio: float
    sigma: float


@dataclass(frozen=True, kw_only=True)
class Cause:
    """One thing that would explain the cycle: what, along which axis (or its length), mm, and the share that it explains."""

    what: str
    axis: str
    by: float
    explains: float


@dataclass(frozen=True, kw_only=True)
class Cycled:
    """A cycle worked out; lengths mm. ride : where it stands as built and the standard error of that; None where nowhere."""

    record: int
    station: str
    rms: float | None
    worst: tuple[float, float] | None
    built: tuple[Built, ...]
    causes: tuple[Cause, ...]
    cannot_tell: tuple[tuple[str, ...], ...]
    tell: Sentence | None
    ride: tuple[float, float] | None
    moved: dict[str, tuple[float, float, float]]
    reached: tuple[float, float] | None
    said: tuple[Sentence, ...]


@dataclass(frozen=True)
class _Read:
    """One length that counts: which unit, at what wheel travel, mm."""

    unit: str
    wheel: float
    length: float


def cycled(project: Project, solved: SolvedStation, number: int, record: CycleRecord) -> Cycled:
    """Return a cycle worked out against its station."""
    reads, said = _reads(project, solved, record)
    travels = [read.wheel for read in reads]
    reached = (min(travels), max(travels)) if travels else None
    if len(set(travels)) < LEAST_ROWS:
        if travels:
            said.append(
                Sentence(
                    f"Only {len(set(travels))} jack positions count: read {LEAST_ROWS} at least, better nine."
                )
            )
        return Cycled(record=number, station=record.station, rms=None, worst=None, built=(), causes=(), cannot_tell=(),
                      tell=None, ride=None, moved={}, reached=reached, said=tuple(said))  # fmt: skip
    its = _Fit(project, solved, reads)
    worst = int(np.abs(its.misfit).argmax())
    causes = its.causes()
    untold = (*its.untold(causes), *its.not_felt())
    return Cycled(
        record=number,
        station=record.station,
        rms=float(np.sqrt((its.misfit**2).mean())),
        worst=(reads[worst].wheel, float(its.misfit[worst])),
        built=its.built(),
        causes=tuple(cause for cause, _ in causes),
        cannot_tell=untold,
        tell=_tell(its.untold(causes)),
        ride=its.ride(),
        moved=its.moved(),
        reached=reached,
        said=tuple(said),
    )


def _reads(
    project: Project, solved: SolvedStation, record: CycleRecord
) -> tuple[list[_Read], list[Sentence]]:
    """Return the lengths that count, and what is said of those that cannot."""
    station, said = solved.station, []
    units = {unit.name: unit for unit in station.units}
    found: list[_Read] = []
    low, high = (
        float(solved.path.travels[solved.path.reached].min()),
        float(solved.path.travels[solved.path.reached].max()),
    )
    for row_number, row in enumerate(record.rows, start=1):
        wheel = row.wheel
        if wheel is None and row.height is not None:
            floor = 0.0 if project.vehicle is None else project.vehicle.floor
            wheel = row.height - (station.points[station.wheels[0].centre][2] - floor)
        if wheel is None:
            said.append(
                Sentence(
                    f"Row {row_number} says neither where the wheel stood nor its height: it is left out."
                )
            )
            continue
        if not low <= wheel <= high:
            words = f"Row {row_number}: the wheel at {{wheel}} is beyond what the drawn linkage reaches ({{low}} to {{high}}): read it again, or draw it as it is."
            said.append(Sentence(words, {"wheel": travel(wheel), "low": travel(low), "high": travel(high)}))
            continue
        for name, long in row.lengths.items():
            unit = units.get(name)
            if unit is None:
                said.append(
                    Sentence(f"Row {row_number}: {{0}} is no unit of {{1}}.", names=(name, station.name))
                )
                continue
            if long <= 0:
                said.append(
                    Sentence(
                        f"Row {row_number}: {{0}} cannot be {{it}} long; read it again.",
                        {"it": length(long)},
                        (name,),
                    )
                )
                continue
            if isinstance(unit, Coilover | Damper):
                extended, compressed = damper_ends_mm(unit)
                if not compressed - 3 <= long <= extended + 3:
                    words = f"Row {row_number}: {{0}} at {{it}} is outside what it can be, {{low}} to {{high}}: read it again. It is left out."
                    told = {"it": length(long), "low": length(compressed), "high": length(extended)}
                    said.append(Sentence(words, told, (name,)))
                    continue
            found.append(_Read(name, wheel, long))
    order = [row.wheel for row in record.rows if row.wheel is not None]
    if len(order) > 2 and order != sorted(order) and order != sorted(order, reverse=True):
        said.append(
            Sentence(
                "The rows are not in the order of the jack: nothing is lost by it, but look whether one was mistyped."
            )
        )
    return found, said


class _Fit:
    """A cycle against a linkage whose places, rods and eyes may all be a little off."""

    def __init__(self, project: Project, solved: SolvedStation, reads: list[_Read]) -> None:
        self.solved, self.reads = solved, reads
        self.points = solved.linkage.points
        self.names = list(solved.linkage.index)
        self.units = [law.name for law in solved.springing.laws]
        known = [read for read in reads if read.unit in self.units]
        self.reads = known or reads
        self.travels = np.unique([read.wheel for read in self.reads])
        self.at = np.array([int(np.searchsorted(self.travels, read.wheel)) for read in self.reads])
        self.unit = np.array([self.units.index(read.unit) for read in self.reads])
        self.rods = [name for name, members in solved.linkage.bodies.items() if len(members) == 2]
        self.eyes = sorted({read.unit for read in self.reads})
        self.prior = self._prior(project)
        count = self.free
        steps = (np.eye(count) * STEP_MM).reshape(count, len(self.names), 3)
        # As drawn, and every place a little each way, in one batch.
        long, ratio = self._lengths(
            np.concatenate([self.points[None], self.points + steps, self.points - steps])
        )
        self.drawn, self.ratio = long[0], ratio[0]
        self.sigma = np.sqrt(LENGTH_MM**2 + (self.ratio * WHEEL_MM) ** 2)
        self.misfit = np.array([read.length for read in self.reads]) - self.drawn
        self.slopes, self.ratio_slopes = self._slopes(long[1:], ratio[1:])
        self.best, self.cover = self._likely()

    @property
    def free(self) -> int:
        """Return how many places' co-ordinates may be off."""
        return 3 * len(self.names)

    def _prior(self, project: Project) -> Array:
        station = self.solved.station
        tape = None if station.uncertainty is None else station.uncertainty.tape
        own = {} if station.uncertainty is None else station.uncertainty.points
        places = [own.get(name, PLACE_MM if tape is None else tape) for name in self.names]
        return np.concatenate(
            [np.repeat(places, 3), np.full(len(self.rods), ROD_MM), np.full(len(self.eyes), EYES_MM)]
        )

    def _lengths(self, points: Array) -> tuple[Array, Array]:
        """Return length and ratio of every reading for a batch of geometries, (geometries, readings)."""
        sweep = swept(self.solved, points, self._path())
        place = np.searchsorted(self._path(), self.travels)[self.at]
        return sweep.squeezes.length[self.unit, :, place].T, sweep.squeezes.ratio[self.unit, :, place].T

    def _path(self) -> Array:
        """Return the travels read, with steps between so near together that the linkage is followed."""
        low, high = min(float(self.travels[0]), 0.0), max(float(self.travels[-1]), 0.0)
        return np.unique(np.concatenate([self.travels, np.linspace(low, high, PATH_STEPS)]))

    def _slopes(self, long: Array, ratio: Array) -> tuple[Array, Array]:
        """Return what a mm of each cause does to every length and ratio, (readings, causes).

        long, ratio : of every place a little further, then a little nearer, (2·places·3, readings)
        """
        count = self.free
        by_place = (long[:count] - long[count:]).T / (2 * STEP_MM)
        ratio_by = (ratio[:count] - ratio[count:]).T / (2 * STEP_MM)
        by_rod = np.zeros((len(self.reads), len(self.rods)))
        ratio_by_rod = np.zeros_like(by_rod)
        linkage, path = self.solved.linkage, self.solved.path
        near = linkage.at(path, self.travels)
        for k, rod in enumerate(self.rods):
            now = self._rod_now(rod)
            both = []
            for step in (STEP_MM, -STEP_MM):
                here = linkage.with_links(near, self.travels, {rod: np.full(len(self.travels), now + step)})
                both.append(self._units_at(here))
            by_rod[:, k] = ((both[0][0] - both[1][0]) / (2 * STEP_MM))[self.unit, self.at]
            ratio_by_rod[:, k] = ((both[0][1] - both[1][1]) / (2 * STEP_MM))[self.unit, self.at]
        by_eye = np.array([[1.0 if read.unit == eye else 0.0 for eye in self.eyes] for read in self.reads])
        none = np.zeros((len(self.reads), len(self.eyes)))
        slopes = np.nan_to_num(np.hstack([by_place, by_rod, by_eye]))
        return slopes, np.nan_to_num(np.hstack([ratio_by, ratio_by_rod, none]))

    def _rod_now(self, rod: str) -> float:
        linkage = self.solved.linkage
        one, other = (linkage.points[linkage.index[name]] for name in self.solved.station.bodies[rod])
        return float(linkage.set_lengths.get(rod, np.linalg.norm(one - other)))

    def _units_at(self, here: Solution) -> tuple[Array, Array]:
        rows = rows_of(self.solved.linkage, self.solved.springing, self.travels, here)
        return rows.squeezes.length, rows.squeezes.ratio

    def _moved_points(self, values: Array) -> Array:
        """Return the places with their part of the causes put in, (points, 3)."""
        return np.asarray(self.points + values[: self.free].reshape(-1, 3))

    def _expected(self, values: Array) -> tuple[Array, Array]:
        """Return every length and ratio with causes put in: places by the linkage, rods and eyes by their slopes."""
        long, ratio = self._lengths(self._moved_points(values)[None])
        more = values[self.free :]
        return (
            np.asarray(long[0] + self.slopes[:, self.free :] @ more),
            np.asarray(ratio[0] + self.ratio_slopes[:, self.free :] @ more),
        )

    def _likely(self) -> tuple[Array, Array]:
        """Return the most probable causes, and how well they are then known (their covariance)."""
        weight = 1 / self.sigma**2
        normal = (self.slopes.T * weight) @ self.slopes + np.diag(1 / np.maximum(self.prior, 1e-3) ** 2)
        cover = np.linalg.inv(normal)
        values = np.zeros(self.slopes.shape[1])
        long = np.array([read.length for read in self.reads])
        for _ in range(TURNS):
            left = long - self._expected(values)[0]
            if not np.isfinite(left).all():
                break
            step = cover @ ((self.slopes.T * weight) @ left - values / np.maximum(self.prior, 1e-3) ** 2)
            values = values + step
        return values, np.asarray(cover)

    def built(self) -> tuple[Built, ...]:
        """Return every reading with the ratio as built."""
        long, ratio = self._expected(self.best)
        sigma = np.sqrt(np.einsum("ij,jk,ik->i", self.ratio_slopes, self.cover, self.ratio_slopes))
        return tuple(
            Built(
                unit=read.unit,
                wheel=read.wheel,
                length=read.length,
                likely=float(likely),
                drawn=float(drawn),
                ratio=float(r),
                sigma=float(s),
            )
            for read, likely, drawn, r, s in zip(self.reads, long, self.drawn, ratio, sigma, strict=True)
        )

    def chi2(self, left: Array) -> float:
        """Return how large a misfit is for its errors."""
        return float(((left / self.sigma) ** 2).sum())

    def causes(self) -> list[tuple[Cause, float]]:
        """Return the single causes that explain most, each with the χ² that it leaves; none where nothing is to explain."""
        whole = self.chi2(self.misfit)
        weight = 1 / self.sigma**2
        felt = np.abs(self.slopes).max(axis=0) > FEELS
        power = (self.slopes**2 * weight[:, None]).sum(axis=0)
        by = np.where(
            felt, (self.slopes * (weight * self.misfit)[:, None]).sum(axis=0) / np.maximum(power, 1e-12), 0.0
        )
        left = np.array([self.chi2(self.misfit - self.slopes[:, k] * by[k]) for k in range(len(by))])
        if whole - float(left.min()) < SEEN:
            return []  # whatever is off here, the rows' own errors could have made it
        good = felt & (np.abs(by) <= MOST_CAUSE_MM) & (left < (1 - EXPLAINS) * whole)
        order = [int(k) for k in np.argsort(left) if good[k]][: 2 * MOST_CAUSES]
        exact = self._refined(order, by)
        found = []
        for k, (amount, remains) in zip(order, exact, strict=True):
            what, axis, sign = self._named(k)
            share = 1 - remains / whole
            if share >= EXPLAINS:
                found.append(
                    (Cause(what=what, axis=axis, by=sign * amount, explains=max(share, 0.0)), remains)
                )
        found.sort(key=lambda one: one[1])
        return found[:MOST_CAUSES]

    def _refined(self, order: list[int], by: Array) -> list[tuple[float, float]]:
        """Return each cause's amount and what it leaves, once more by the linkage itself."""
        weight, long = 1 / self.sigma**2, np.array([read.length for read in self.reads])
        amounts = {k: float(by[k]) for k in order}
        remains = {k: self.chi2(self.misfit - self.slopes[:, k] * by[k]) for k in order}
        places = [k for k in order if k < self.free]
        for _ in range(2):
            if not places:
                break
            moved = np.repeat(self.points[None], len(places), axis=0)
            for n, k in enumerate(places):
                moved[n, k // 3, k % 3] += amounts[k]
            lengths = self._lengths(moved)[0]
            for n, k in enumerate(places):
                left = long - lengths[n]
                if not np.isfinite(left).all():
                    continue
                remains[k] = self.chi2(left)
                slope = self.slopes[:, k]
                step = float((slope * weight) @ left) / float((slope**2) @ weight)
                after = self.chi2(left - slope * step)
                if after < remains[k]:
                    amounts[k], remains[k] = amounts[k] + step, after
        return [(amounts[k], remains[k]) for k in order]

    def _named(self, k: int) -> tuple[str, str, float]:
        """Return what a cause is called, along what, and the sign that `out` has on its side."""
        if k < self.free:
            name, axis = self.names[k // 3], k % 3
            sign = -1.0 if axis == 1 and self.points[k // 3][1] < 0 else 1.0
            return name, AXES[axis], sign
        if k < self.free + len(self.rods):
            return self.rods[k - self.free], "length", 1.0
        return self.eyes[k - self.free - len(self.rods)], "eyes", 1.0

    def untold(self, causes: list[tuple[Cause, float]]) -> tuple[tuple[str, ...], ...]:
        """Return the causes that this cycle cannot tell from the best one."""
        if len(causes) < 2:
            return ()
        best = causes[0][1]
        alike = [said_cause(cause) for cause, left in causes if left - best < NO_WORSE]
        return (tuple(alike),) if len(alike) > 1 else ()

    def not_felt(self) -> tuple[tuple[str, ...], ...]:
        """Return the places and rods of the springing that may be off by FELT_MM without these lengths showing it."""
        power = np.sqrt((self.slopes**2 / self.sigma[:, None] ** 2).sum(axis=0))
        hidden = np.flatnonzero(power * FELT_MM < HIDDEN)
        ends = {end for law in self.solved.springing.laws for end in law.ends}
        names = [
            said_cause(Cause(what=what, axis=axis, by=0.0, explains=0.0))
            for what, axis, _ in (self._named(int(k)) for k in hidden)
            if what in ends
        ]
        return (tuple(names),) if names else ()

    def moved(self) -> dict[str, tuple[float, float, float]]:
        """Return where the most probable geometry has its places, as far as they moved at all."""
        now = self._moved_points(self.best)
        off = np.linalg.norm(now - self.points, axis=1)
        return {
            name: (float(now[k, 0]), float(now[k, 1]), float(now[k, 2]))
            for k, name in enumerate(self.names)
            if off[k] > 0.05
        }

    def ride(self) -> tuple[float, float] | None:
        """Return where it stands as built, mm of travel, and the standard error of that."""
        ride = self.solved.ride
        if ride is None:
            return None
        low, high = min(ride.travel - 25, 0.0), max(ride.travel + 25, 0.0)
        travels = np.linspace(low, high, 9)
        count = self.free
        steps = (np.eye(count) * STEP_MM).reshape(count, len(self.names), 3)
        here = self._moved_points(self.best)
        stood = settled(
            self.solved, swept(self.solved, np.concatenate([here[None], here + steps, here - steps]), travels)
        ).travel
        if not math.isfinite(stood[0]):
            return None
        slope = np.concatenate(
            [
                (stood[1 : count + 1] - stood[count + 1 :]) / (2 * STEP_MM),
                self._ride_by_rods(),
                np.zeros(len(self.eyes)),
            ]
        )
        slope = np.nan_to_num(slope)
        by_rods = float(slope[count : count + len(self.rods)] @ self.best[count : count + len(self.rods)])
        return float(stood[0]) + by_rods, math.sqrt(max(float(slope @ self.cover @ slope), 0.0))

    def _ride_by_rods(self) -> Array:
        """Return mm of ride travel for a mm of each rod, by solving again; only for rods that the lengths feel."""
        found = np.zeros(len(self.rods))
        for k, rod in enumerate(self.rods):
            if np.abs(self.slopes[:, self.free + k]).max() < 0.05:
                continue
            stood = []
            for step in (STEP_MM, -STEP_MM):
                links = {**self.solved.station.links, rod: Link(length=self._rod_now(rod) + step)}
                again = solve_again(self.solved, self.solved.station.model_copy(update={"links": links}))
                stood.append(math.nan if again.ride is None else again.ride.travel)
            found[k] = (stood[0] - stood[1]) / (2 * STEP_MM)
        return np.nan_to_num(found)


def said_cause(cause: Cause) -> str:
    """Return a cause in a few words: `top, out` or `pushrod, length`."""
    return f"{cause.what}, {cause.axis}"


def cause_sentence(cause: Cause) -> Sentence:
    """Return a cause as a fabricator would check it."""
    told = {"by": length(abs(cause.by)), "share": Quantity(cause.explains, "share")}
    more = cause.by > 0
    words = {
        "ahead": "{0} {by} further " + ("ahead" if more else "back"),
        "out": "{0} {by} further " + ("out" if more else "in"),
        "up": "{0} {by} " + ("higher" if more else "lower"),
        "length": "{0} {by} " + ("longer" if more else "shorter") + " between its joints",
        "eyes": "{0}'s eyes {by} "
        + ("further apart" if more else "nearer together")
        + " than they were read",
    }[cause.axis]
    return Sentence(words + " explains {share} of it.", told, (cause.what,))


def _tell(untold: tuple[tuple[str, ...], ...]) -> Sentence | None:
    """Return the reading that would tell causes apart that the cycle cannot."""
    if not untold:
        return None
    what, axis = untold[0][0].rsplit(", ", 1)
    how = {
        "ahead": "Measure how far {0} stands ahead of the datum line",
        "out": "Measure how far {0} stands out from the centreline",
        "up": "Measure how high {0} stands above the floor",
        "length": "Measure {0} between its joints",
        "eyes": "Measure {0} from eye to eye again, at one jack position",
    }[axis]
    return Sentence(how + ": that tells.", names=(what,))
