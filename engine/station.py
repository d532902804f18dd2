"""One station solved: swept over its travel, set on its weight, searched for what ends it."""

import copy
from dataclasses import dataclass

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2, SEARCH_BEYOND
from engine.document.schema import Station
from engine.errors import LinkageRefused
from engine.forces.air import NEWTON_PER_BAR_MM2
from engine.forces.tank import SharedAir
from engine.forces.units import UnitLaw, law_of
from engine.limits.search import Limit, find_limits
from engine.linkage.linkage import Linkage
from engine.linkage.path import Path
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.ride.equilibrium import Ride, find_open_valve_ride, find_ride
from engine.ride.trace import (
    UnitTrace,
    WheelTrace,
    unit_trace,
    wheel_force_n,
    wheel_rate_n_per_mm,
    wheel_trace,
    with_shared_air,
)
from engine.sentences import Sentence, spoken

SEARCH_ROWS = 61
HELD_MISMATCH_MM = 0.05  # a corner whose doubled joints open further than this would bind


@dataclass(frozen=True)
class Rows:
    """Everything at a set of positions; arrays are (rows,)."""

    travels: Array
    solution: Solution
    units: dict[str, UnitTrace]
    wheels: dict[str, WheelTrace]
    wheel_force: Array
    wheel_rate: Array


@dataclass(frozen=True)
class SolvedStation:
    """A station with everything worked out.

    sweep       rows asked for; `reached` says which of them the linkage can take
    ride        where it carries its weight, or None with `ride_fault` in words
    limits      what ends the travel, first met first
    laws          how each unit behaves by its length
    preload_left  mm of stack compression left at full droop, or where the damper tops out first
    pressure_wanted_bar  gauge pressure, the same in every bag, that would carry the weight where it is wanted
    filled_at_ride         whether the bags' stated pressure holds the weight somewhere; else shut as drawn
    mismatch_mm   what the bushings of an over-constrained axle must absorb in heave
    """

    station: Station
    solver: "StationSolver"
    linkage: Linkage
    path: Path
    search: Rows
    sweep: Rows
    reached: np.ndarray
    ride: Ride | None
    ride_fault: Sentence | None
    at_ride: Rows | None
    limits: tuple[Limit, ...]
    laws: tuple[UnitLaw, ...]
    preload_left: dict[str, float]
    pressure_wanted_bar: float | None
    filled_at_ride: bool
    mismatch_mm: float
    mismatch_body: str


class StationSolver:
    """A station's linkage and units, to be asked for rows at any travel."""

    def __init__(self, station: Station, path: str = "", linkage: Linkage | None = None) -> None:
        self.station = station
        self.linkage = Linkage(station, path) if linkage is None else linkage
        self.laws = [law_of(unit) for unit in station.units]
        self.tanks = [SharedAir(tuple(tank.bags), tank.volume) for tank in station.tanks]
        self.wheels = len(station.wheels)
        self.filled_at_ride = True
        self.weight_n = (station.mass.corner - station.mass.unsprung) * GRAVITY_M_PER_S2

    def rows(self, travels: Array, solution: Solution) -> Rows:
        """Return units and wheels at solved rows."""
        index = self.linkage.index
        units = {
            law.name: unit_trace(law, index[law.ends[0]], index[law.ends[1]], solution) for law in self.laws
        }
        wheels = {
            wheel.name: wheel_trace(
                index[wheel.centre], None if wheel.spindle is None else index[wheel.spindle], solution
            )
            for wheel in self.station.wheels
        }
        bags = {law.name: law.bag for law in self.laws if law.bag is not None}
        for tank in self.tanks:
            units |= with_shared_air(tank, bags, units)
        traces = [units[law.name] for law in self.laws]
        force = wheel_force_n(traces, self.wheels) + np.zeros(len(travels))
        rate = wheel_rate_n_per_mm(traces, self.wheels) + np.zeros(len(travels))
        return Rows(travels, solution, units, wheels, force, rate)

    def at(self, path: Path, travels: Array) -> Rows:
        """Return exact rows at travels between those of a path."""
        return self.rows(travels, self.linkage.at(path, travels))

    def solve(self, steps: int = 41, search_rows: int = SEARCH_ROWS) -> SolvedStation:
        """Sweep, set on its weight and search; raise LinkageRefused or LinkageDidNotClose."""
        self.laws = [law_of(unit) for unit in self.station.units]
        self.filled_at_ride = True
        travel = self.station.travel
        wanted = np.linspace(-travel.droop, travel.bump, steps)
        wider = np.linspace(-SEARCH_BEYOND * travel.droop, SEARCH_BEYOND * travel.bump, search_rows)
        places = np.unique(np.concatenate([wanted, wider, [0.0]]))
        return self._along(self.linkage.follow(places), wanted)

    def _along(self, path: Path, wanted: Array) -> SolvedStation:
        """Solve along a path that is known already; `wanted` are the sweep's travels, all on the path."""
        wanted_at = self.station.travel.at or 0.0
        search = self.rows(path.travels, path.solution)
        pick = np.searchsorted(path.travels, wanted)
        mismatch, body = self.linkage.mismatch_mm(path)
        self._refuse_fighting(mismatch, body)
        search = self._with_valves_shut(path, search)
        found = find_ride(self, path, search)
        sweep = _picked(search, pick)
        return SolvedStation(
            station=self.station,
            solver=self,
            linkage=self.linkage,
            path=path,
            search=search,
            sweep=sweep,
            reached=path.reached[pick],
            ride=found.ride,
            ride_fault=found.fault,
            at_ride=found.at,
            limits=find_limits(self, path, search),
            laws=tuple(self.laws),
            preload_left=self._preload_left(sweep, path.reached[pick]),
            pressure_wanted_bar=self.pressure_for(path, wanted_at) if path.reached.any() else None,
            filled_at_ride=self.filled_at_ride,
            mismatch_mm=mismatch,
            mismatch_body=body,
        )

    def _preload_left(self, sweep: Rows, reached: np.ndarray) -> dict[str, float]:
        """Return how far each coil stack is still squeezed at its longest, mm; negative is loose."""
        left = {}
        for law in self.laws:
            lengths = sweep.units[law.name].length[reached]
            if law.stack is not None and len(lengths):
                topped = [event.length_mm for event in law.events if event.kind == "damper_extended"]
                left[law.name] = law.free_reference - min([float(lengths.max()), *topped])
        return left

    def _with_valves_shut(self, path: Path, search: Rows) -> Rows:
        """Shut every bag's valve where its stated pressure holds the weight, and solve the rows again.

        If no height does, they are shut at the drawn height: the forces are then those of a vehicle held there.
        """
        if not any(law.bag for law in self.laws):
            return search
        open_ride = find_open_valve_ride(self, path, search)
        reached = np.flatnonzero(path.reached)
        at = open_ride
        if at is None and len(reached):
            nearest = search.travels[reached[np.abs(search.travels[reached]).argmin()]]
            at = self.at(path, np.array([nearest]))
        if at is None:
            return search
        self.filled_at_ride = open_ride is not None
        self.laws = [law.shut_at(float(at.units[law.name].length[0])) for law in self.laws]
        return self.rows(search.travels, path.solution)

    def pressure_for(self, path: Path, travel_mm: float, weight_n: float | None = None) -> float | None:
        """Return the gauge pressure (bar, the same in every bag) that carries a weight at a travel, else today's.

        None without bags, out of reach, or where no pressure can: bag force is proportional to gauge pressure.
        """
        bags = [law.name for law in self.laws if law.bag is not None]
        if not bags or not path.reached.any():
            return None
        at = self.at(path, np.array([travel_mm]))
        if not at.solution.closed[0]:
            return None
        per_bar, others = 0.0, 0.0
        for law in self.laws:
            trace = at.units[law.name]
            if law.bag is None:
                others += float(trace.motion_ratio[0] * trace.force[0])
            else:
                area = float(law.bag.area(trace.length)[0][0])
                per_bar += float(trace.motion_ratio[0]) * NEWTON_PER_BAR_MM2 * area
        weight = self.weight_n if weight_n is None else weight_n
        needed = (weight * self.wheels - others) / per_bar if per_bar > 0 else -1.0
        return needed if needed >= 0 else None

    def _refuse_fighting(self, mismatch: float, body: str) -> None:
        if self.station.kind == "corner" and mismatch > HELD_MISMATCH_MM:
            raise LinkageRefused(
                "linkage_held",
                f"The {spoken(body)} is doubly held: through the travel its joints would open "
                f"{mismatch:.2f} mm. Take one joint or hinge out, or bring its axes parallel.",
                (body,),
                self.linkage.path,
            )


def solve_station(
    station: Station, path: str = "", steps: int = 41, search_rows: int = SEARCH_ROWS
) -> SolvedStation:
    """Return a station solved at `steps` positions from full droop to full bump, searched at more beyond."""
    return StationSolver(station, path).solve(steps, search_rows)


def solve_again(solved: SolvedStation, station: Station) -> SolvedStation:
    """Return a changed station solved, its linkage taken over where nothing in the change moves it."""
    before = solved.station
    still = all(
        getattr(station, key) == getattr(before, key)
        for key in ("kind", "points", "chassis", "bodies", "links", "wheels", "travel", "sliders")
    )
    if not still:
        return solve_station(station, solved.linkage.path, len(solved.sweep.travels))
    linkage = copy.copy(solved.linkage)
    linkage.station = station
    return StationSolver(station, linkage.path, linkage)._along(solved.path, solved.sweep.travels)


def picked_solution(solution: Solution, pick: np.ndarray) -> Solution:
    """Return some rows of a solution."""
    motion = type(solution.motion)(
        solution.motion.place[..., pick], solution.motion.first[..., pick], solution.motion.second[..., pick]
    )
    return Solution(
        solution.unknowns[:, pick],
        solution.first[:, pick],
        solution.second[:, pick],
        motion,
        solution.closed[pick],
        solution.stuck[pick],
        solution.signs[:, pick],
    )


def _picked(rows: Rows, pick: np.ndarray) -> Rows:
    part = picked_solution(rows.solution, pick)
    units = {
        name: UnitTrace(
            t.length[pick],
            t.motion_ratio[pick],
            t.ratio_slope[pick],
            t.force[pick],
            t.rate[pick],
            t.force_slope[pick],
            None if t.pressure is None else t.pressure[pick],
        )
        for name, t in rows.units.items()
    }
    wheels = {
        name: WheelTrace(w.camber[pick], w.toe[pick], w.centre[:, pick]) for name, w in rows.wheels.items()
    }
    return Rows(rows.travels[pick], part, units, wheels, rows.wheel_force[pick], rows.wheel_rate[pick])
