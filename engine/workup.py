"""A solved station and everything that can be asked of it; each answer is worked out when it is first asked for."""

import copy
from collections.abc import Hashable
from functools import cached_property
from typing import Any

import numpy as np

from engine.document.schema import AirSpring, Coilover, SpringUnit
from engine.forces.stack import Crossover, crossovers
from engine.limits.clearance import Clearance, clearances, touches
from engine.limits.joints import EyeSide, ShaftUse, Tilt, eyes_square, joint_tilts, shaft_uses
from engine.limits.ledger import Ledger, ledger_of
from engine.limits.nearest import Nearest, nearest_points
from engine.limits.solids import solids_on
from engine.linkage.forced import Forced, forced_articulation
from engine.linkage.grid import Grid, articulation_mm, grid_of
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.loads.cases import Loading
from engine.loads.joints import Loads, loads_at
from engine.loads.peak import Peak, peak_loads
from engine.ride.angles import RockerTurn, rocker_turns
from engine.ride.bags import BagState, bag_states
from engine.ride.installed import DamperUse, damper_uses
from engine.ride.plates import PlateTilt, plate_tilts
from engine.ride.roll import Roll, roll_of
from engine.ride.wheel_angles import Lock, SteeringAxis, WheelAngles, lock_of, steering_axis, wheel_angles
from engine.station.solved import SolvedStation

GRID_STEPS = 41
GRID_CROSSINGS = 5
CROSS_STEPS = 15  # heights of each side when both are combined
DRAWN, DRAWN_MM = 8, 60.0  # so many clearances are drawn, if they are so near


class WorkUp:
    """One solved station's answers."""

    def __init__(self, solved: SolvedStation, rooms: bool = True) -> None:
        """Take a solved station; without `rooms` nothing is asked of its clearances, the slowest of all."""
        self.solved, self.rooms = solved, rooms
        self.station = solved.station
        self.linkage = solved.linkage
        self.kept: dict[Hashable, Any] = {}
        """What others make of these answers and may want again: the clearances change none of it."""

    def with_rooms(self) -> "WorkUp":
        """Return the same with clearances too; what is known already is not worked out again."""
        if self.rooms:
            return self
        its = copy.copy(self)
        its.rooms = True
        for name in ("ledger", "nearest"):
            its.__dict__.pop(name, None)
        return its

    @cached_property
    def grid(self) -> Grid:
        """Return positions through heave and articulation; a sweep fine enough is taken as it is where there is no other."""
        taken = self.solved.taken
        if self.linkage.articulation() is None and len(taken.travels) >= GRID_STEPS:
            level = np.zeros(len(taken.travels))
            return Grid(taken.solution.motion.place, taken.travels, level)
        return grid_of(self.linkage, GRID_STEPS, GRID_CROSSINGS)

    @cached_property
    def cross_grid(self) -> Grid:
        """Return the fewer heights that are combined with those of the other side."""
        return grid_of(self.linkage, CROSS_STEPS)

    @cached_property
    def dampers(self) -> tuple[DamperUse, ...]:
        """Return how each damper is used."""
        return damper_uses(self.solved)

    @cached_property
    def rockers(self) -> tuple[RockerTurn, ...]:
        """Return how each rocker turns about ride height."""
        ride = 0.0 if self.solved.ride is None else self.solved.ride.travel
        taken = self.solved.taken
        return rocker_turns(self.linkage, taken.travels, taken.solution, ride) if len(taken.travels) else ()

    @cached_property
    def reached_rows(self) -> tuple[Array, Solution]:
        """Return the sweep's reached travels, (rows,) mm, and the solution at them."""
        reached = np.flatnonzero(self.solved.reached)
        return self.solved.sweep.travels[reached], self.solved.sweep.solution.pick(reached)

    @cached_property
    def roll(self) -> Roll | None:
        """Return the station's part in roll."""
        return roll_of(self.solved)

    @cached_property
    def wheel_angles(self) -> tuple[WheelAngles, ...]:
        """Return every wheel's angles about where the station is looked at."""
        return wheel_angles(self.solved)

    @cached_property
    def steering_axis(self) -> SteeringAxis | None:
        """Return how the steering axis stands, where there is one."""
        return steering_axis(self.solved)

    @cached_property
    def lock(self) -> Lock | None:
        """Return both wheels at full lock, where it steers."""
        return None if self.station.steering is None else lock_of(self.solved, self.station.steering)

    @cached_property
    def tilts(self) -> tuple[Tilt, ...]:
        """Return the worst tilt of every rated bearing."""
        eyes = [eye for unit in self.station.units for eye in getattr(unit, "eyes", []) if eye.rated]
        if not (self.station.joints or eyes) or not self.grid.place.shape[2]:
            return ()
        return joint_tilts(self.linkage, self.grid)

    @cached_property
    def shafts(self) -> tuple[ShaftUse, ...]:
        """Return how each shaft bends and plunges."""
        if not self.station.shafts or not self.grid.place.shape[2]:
            return ()
        return shaft_uses(self.linkage, self.grid)

    @cached_property
    def eyes(self) -> tuple[EyeSide, ...]:
        """Return how far each damper leans out of square to its bolts."""
        if not any(getattr(unit, "eyes", []) for unit in self.station.units) or not self.grid.place.shape[2]:
            return ()
        return eyes_square(self.linkage, self.grid)

    @cached_property
    def clearances(self) -> tuple[Clearance, ...]:
        """Return the nearest approach of every pair of solids."""
        return clearances(self.linkage, self.grid) if len(solids_on(self.linkage)) > 1 else ()

    @cached_property
    def ledger(self) -> Ledger:
        """Return every event each way in order."""
        return ledger_of(self.solved, touches(self.solved, self.clearances) if self.rooms else ())

    @cached_property
    def nearest(self) -> tuple[Nearest, ...]:
        """Return the two points of each of the nearest clearances, for a drawing."""
        if not self.rooms:
            return ()
        near = tuple(c for c in self.clearances if c.distance < DRAWN_MM)[:DRAWN]
        return nearest_points(self.linkage, self.grid, near)

    @cached_property
    def loads(self) -> Loads | None:
        """Return the forces at ride height."""
        return None if self.solved.at_ride is None else loads_at(self.solved, self.solved.at_ride)

    def peak(self, loading: Loading) -> Peak | None:
        """Return the worst that comes to every joint in the cases that a shop builds for."""
        key = ("peak", loading)
        if key not in self.kept:
            self.kept[key] = peak_loads(self.solved, loading)
        found: Peak | None = self.kept[key]
        return found

    @cached_property
    def crossovers(self) -> dict[str, tuple[Crossover, ...]]:
        """Return where springs of each stack of several lock."""
        return {
            unit.name: crossovers(list(unit.springs))
            for unit in self.station.units
            if isinstance(unit, Coilover | SpringUnit) and len(unit.springs) > 1
        }

    @cached_property
    def bags(self) -> tuple[BagState, ...]:
        """Return heights and pressures of every bag in the states that matter."""
        if not any(isinstance(unit, AirSpring) for unit in self.station.units):
            return ()
        return bag_states(self.solved)

    @cached_property
    def plates(self) -> tuple[PlateTilt, ...]:
        """Return how far each bag's plates are from parallel."""
        if (
            not any(getattr(unit, "plates", None) for unit in self.station.units)
            or not self.grid.place.shape[2]
        ):
            return ()
        return plate_tilts(self.solved, self.grid)

    @cached_property
    def forced(self) -> Forced | None:
        """Return what an axle's bushings give when it must articulate on too many links, as near as drawn as it reaches."""
        travels = self.reached_rows[0]
        if not self.linkage.assembly.over_constrained or not len(travels):
            return None
        level = float(travels[np.abs(travels).argmin()])
        return forced_articulation(self.linkage, articulation_mm(self.linkage), level)
