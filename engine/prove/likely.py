"""What was likely built, from a cycle: the most probable geometry, its ratio, and where it then stands.

Likely    every place moved within its standard error, every rod and every unit's eyes within theirs, or one of them by a slip, so
          as to explain the cycle (`beliefs`, Gauss–Newton on the linkage itself).
"""

import math

import numpy as np

from engine.document.schema import Link, Project
from engine.facts import facts
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.prove.beliefs import believed
from engine.ride.settled import settled, swept
from engine.station.rows import rows_of
from engine.station.solved import SolvedStation, solve_again

WHEEL_MM, LENGTH_MM = 1.0, 0.5
PLACE_MM = 2.0  # where nobody says how well a place is known
ROD_MM, EYES_MM = 2.0, 1.5
STEP_MM = 0.5
TURNS = 2
PATH_STEPS = 6


@facts
class Built:
    """One unit at one row: what was read, what it is as built and as drawn, and the ratio as built with its standard error."""

    unit: str
    wheel: float
    length: float
    likely: float
    drawn: float
    ratio: float
    sigma: float


@facts(kw_only=False)
class Read:
    """One length that counts: which unit, at what wheel travel, mm; in which row of the record, from 1."""

    unit: str
    wheel: float
    length: float
    row: int = 0


class Likely:
    """A cycle against a linkage whose places, rods and eyes may all be a little off."""

    def __init__(self, project: Project, solved: SolvedStation, reads: list[Read]) -> None:
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
        long, ratio = self.lengths(
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

    def lengths(self, points: Array) -> tuple[Array, Array]:
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

    def expected(self, values: Array) -> tuple[Array, Array]:
        """Return every length and ratio, (readings,) each, with causes (causes,) put in.

        Places by the linkage, rods and eyes by their slopes.
        """
        long, ratio = self.lengths(self._moved_points(values)[None])
        more = values[self.free :]
        return (
            np.asarray(long[0] + self.slopes[:, self.free :] @ more),
            np.asarray(ratio[0] + self.ratio_slopes[:, self.free :] @ more),
        )

    def _likely(self) -> tuple[Array, Array]:
        """Return the most probable causes, and how well they are then known (their covariance)."""
        prior = np.maximum(self.prior, 1e-3)
        misfit = self.misfit
        values, cover = believed(self.slopes, self.sigma, prior, misfit)
        for _ in range(TURNS):
            bent = self.expected(values)[0] - self.drawn - self.slopes @ values
            if not np.isfinite(bent).all():
                break
            misfit = self.misfit - bent
            values, cover = believed(self.slopes, self.sigma, prior, misfit)
        return values, cover

    def built(self) -> tuple[Built, ...]:
        """Return every reading with the ratio as built."""
        long, ratio = self.expected(self.best)
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
