"""Every wheel of a vehicle: where it stands, what its springs push at any travel, and what they push across.

Key      the station's name; an axle's wheel as `station/wheel`; the mirror image of a corner by the other side's name.
Force    what the springs carry at a wheel, N: along the station's own path, its bags shut; an axle's also across, from its
         articulation; anti-roll bars by how far the two wheels of a pair part.
Between rows of the path a force is the cubic through force and rate at both; `exact` asks the linkage itself.
"""

from dataclasses import replace
from functools import cached_property

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.coming import finished_kg
from engine.document.mirror import other_sides_name
from engine.document.pairs import paired
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.roll import articulation_stiffness, bars_of
from engine.station.solved import SolvedStation, solve_station

STEPS = 41
METAL_N_PER_MM = 2000.0


@facts
class WheelOn:
    """One wheel: mm from the drawing's origin, kg now and finished (the finished one is None where nothing says it)."""

    key: str
    station: int
    side: int  # which of the station's wheels it is; a mirror image is 1
    x: float
    y: float
    mass: float
    unsprung: float
    finished: float | None

    def carried(self, finished: bool) -> float:
        """Return what its springs carry, kg."""
        whole = self.finished if finished and self.finished is not None else self.mass
        return whole - self.unsprung


@facts
class Support:
    """One station under the body: what it pushes up at each of its wheels, at travels of their own."""

    solved: SolvedStation
    count: int  # wheels that it stands for

    @cached_property
    def rows(self) -> tuple[Array, Array, Array]:
        """Return travels (mm), force (N) and rate (N/mm) at one wheel along the path, (rows,) each, as far as it reaches."""
        along = self.solved.search
        good = self.solved.path.reached & np.isfinite(along.wheel_force)
        return along.travels[good], along.wheel_force[good], along.wheel_rate[good]

    @cached_property
    def across(self) -> tuple[float, float]:
        """Return an axle's force across at level (N at the left wheel, less at the right), and N/mm of articulation."""
        solved = self.solved
        if solved.station.kind != "axle" or solved.ride is None:
            return 0.0, 0.0
        if solved.linkage.articulation() is None:
            return 0.0, float(articulation_stiffness(solved) or 0.0)
        here = solved.across(np.array([0.0]), solved.ride.travel)
        level, stiff = float(here.wheel_force[0]), float(here.wheel_rate[0])
        return (level, stiff) if np.isfinite(level) and np.isfinite(stiff) else (0.0, 0.0)

    @cached_property
    def bar(self) -> float:
        """Return what a pair's anti-roll bars add at each wheel for each mm that the two part from their mean, N/mm."""
        return float(sum(one.in_roll for one in bars_of(self.solved)))

    def mean(self, travel: float) -> tuple[float, float]:
        """Return force and rate at one wheel in heave, N and N/mm; beyond the searched travel it is metal on metal."""
        travels, force, rate = self.rows
        if travel <= travels[0]:
            return float(force[0] + METAL_N_PER_MM * (travel - travels[0])), METAL_N_PER_MM
        if travel >= travels[-1]:
            return float(force[-1] + METAL_N_PER_MM * (travel - travels[-1])), METAL_N_PER_MM
        k = int(np.searchsorted(travels, travel, side="right")) - 1
        h = travels[k + 1] - travels[k]
        s = (travel - travels[k]) / h
        a, b, m, n = force[k], force[k + 1], rate[k] * h, rate[k + 1] * h
        value = (
            (2 * s**3 - 3 * s**2 + 1) * a
            + (s**3 - 2 * s**2 + s) * m
            + (3 * s**2 - 2 * s**3) * b
            + (s**3 - s**2) * n
        )
        slope = (
            (6 * s**2 - 6 * s) * a
            + (3 * s**2 - 4 * s + 1) * m
            + (6 * s - 6 * s**2) * b
            + (3 * s**2 - 2 * s) * n
        )
        return float(value), float(slope / h)

    def exact(self, travel: float) -> tuple[float, float]:
        """Return force and rate at one wheel in heave by solving the linkage there; the table's where it does not reach."""
        travels = self.rows[0]
        if not travels[0] <= travel <= travels[-1]:
            return self.mean(travel)
        at = self.solved.at(np.array([travel]))
        if not at.solution.closed[0]:
            return self.mean(travel)
        return float(at.wheel_force[0]), float(at.wheel_rate[0])

    def forces(self, travels: Array, exact: bool = False) -> tuple[Array, Array]:
        """Return forces (wheels,) N and their slopes (wheels, wheels) N/mm at travels (wheels,) mm."""
        ask = self.exact if exact else self.mean
        if self.count == 1:
            force, rate = ask(float(travels[0]))
            return np.array([force]), np.array([[rate]])
        if self.solved.station.kind == "axle":
            heave, apart = float(travels.mean()), float(travels[0] - travels[1]) / 2
            force, rate = ask(heave)
            level, stiff = self.across
            half = level + stiff * apart
            if exact and self.solved.linkage.articulation() is not None and np.isfinite(level):
                here = self.solved.across(np.array([apart]), heave)
                if here.solution.closed[0] and np.isfinite(here.wheel_force[0]):
                    half, stiff = float(here.wheel_force[0]), float(here.wheel_rate[0])
            half, stiff = half + self.bar * apart, stiff + self.bar
            own = np.array([force + half, force - half])
            return own, np.array([[rate + stiff, rate - stiff], [rate - stiff, rate + stiff]]) / 2
        found = [ask(float(travel)) for travel in travels]
        return np.array([one[0] for one in found]), np.diag([one[1] for one in found])


@facts
class Vehicle:
    """A job's stations under one stiff body, in the file's order; variants are left out."""

    project: Project
    supports: tuple[Support, ...]
    wheels: tuple[WheelOn, ...]

    @cached_property
    def pairs(self) -> tuple[tuple[int, int, float], ...]:
        """Return corners' wheels across from one another that a bar joins: both numbers, and N/mm as they part."""
        found = []
        names = {self.supports[k].solved.station.name: k for k in range(len(self.supports))}
        for k, one in enumerate(self.wheels):
            support = self.supports[one.station]
            station = support.solved.station
            if station.kind != "corner" or support.bar <= 0:
                continue
            for n, other in enumerate(self.wheels):
                across = (
                    other.station == one.station or names.get(station.other_side) == other.station
                    or other.key == other_sides_name(one.key)
                )  # fmt: skip
                if n > k and across and other.y * one.y < 0:
                    found.append((k, n, (support.bar + self.supports[other.station].bar) / 2))
        return tuple(found)

    def apart(self) -> "Vehicle":
        """Return the vehicle with every corner's wheel on a support of its own, so that each can be set by itself."""
        supports: list[Support] = []
        wheels: list[WheelOn] = []
        for number, support in enumerate(self.supports):
            its = [self.wheels[k] for k in self.of(number)]
            if support.solved.station.kind == "axle":
                wheels += [replace(wheel, station=len(supports)) for wheel in its]
                supports.append(support)
                continue
            for wheel in its:
                wheels.append(replace(wheel, station=len(supports), side=0))
                supports.append(Support(solved=support.solved, count=1))
        return Vehicle(project=self.project, supports=tuple(supports), wheels=tuple(wheels))

    def of(self, station: int) -> list[int]:
        """Return the numbers of a station's wheels."""
        return [k for k, wheel in enumerate(self.wheels) if wheel.station == station]

    def with_support(self, station: int, solved: SolvedStation) -> "Vehicle":
        """Return the vehicle with one station solved otherwise."""
        supports = list(self.supports)
        supports[station] = Support(solved=solved, count=supports[station].count)
        return Vehicle(project=self.project, supports=tuple(supports), wheels=self.wheels)


def vehicle_of(project: Project, solved: tuple[SolvedStation, ...] | None = None) -> Vehicle:
    """Return a job's vehicle; raise the engine's errors for a linkage that cannot move."""
    project = paired(project)
    if solved is None:
        solved = tuple(
            solve_station(station, f"stations[{number}]", STEPS)
            for number, station in enumerate(project.stations)
            if station.variant_of is None
        )
    supports, wheels = [], []
    for number, one in enumerate(solved):
        its = _wheels(project, one, number)
        wheels += its
        supports.append(Support(solved=one, count=len(its)))
    return Vehicle(project=project, supports=tuple(supports), wheels=tuple(wheels))


def _wheels(project: Project, solved: SolvedStation, number: int) -> list[WheelOn]:
    station = solved.station
    finished = finished_kg(project, station)
    found = []
    for side, wheel in enumerate(station.wheels):
        x, y, _ = station.points[wheel.centre]
        key = station.name if station.kind == "corner" else f"{station.name}/{wheel.name}"
        found.append(_wheel(station, number, side, key, x, y, finished))
    if station.kind == "axle" and found[0].y < found[1].y:
        # The first of an axle's two is the left one here, whatever the order in the file.
        found = [replace(one, side=side) for side, one in enumerate(reversed(found))]
    if station.kind == "corner" and station.other_side == "mirror" and not station.single:
        one = found[0]
        found.append(_wheel(station, number, 1, other_sides_name(station.name), one.x, -one.y, finished))
    return found


def _wheel(
    station: Station, number: int, side: int, key: str, x: float, y: float, finished: float | None
) -> WheelOn:
    return WheelOn(
        key=key,
        station=number,
        side=side,
        x=float(x),
        y=float(y),
        mass=station.mass.corner,
        unsprung=station.mass.unsprung,
        finished=finished,
    )


def newtons(kilograms: float) -> float:
    """Return a weight, N."""
    return kilograms * GRAVITY_M_PER_S2
