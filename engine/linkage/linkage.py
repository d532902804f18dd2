"""A station's linkage, ready to be moved: the one door into this package.

    linkage = Linkage(station, "stations[0]")
    path = linkage.follow(np.linspace(-40, 40, 81))

Heave       every wheel centre moves up by the travel.
Articulate  the left wheel of an axle moves up by the travel, the right one down by as much.
"""

import copy
from collections.abc import Hashable, Mapping
from dataclasses import replace
from functools import cached_property
from typing import Any

import numpy as np

from engine.conventions import TOLERANCES
from engine.document.schema import Station
from engine.errors import LinkageDidNotClose
from engine.facts import facts
from engine.linkage.blocks import Block
from engine.linkage.equations import Distance, Driver, Equation, Shared
from engine.linkage.freedom import Assembly, assembly_of
from engine.linkage.geometry import Geometry, geometry_of
from engine.linkage.kernel import Kernel
from engine.linkage.path import Follower, Node, Nodes, Path, Reach
from engine.linkage.solver import Solution, Solver, joined
from engine.linkage.topology import Topology, topology_of
from engine.linkage.vectors import Array

ADJUST_STEPS = 32  # how finely a changed link length is approached when it cannot be set at once


@facts(kw_only=False)
class Shortfall:
    """Which body ends the travel, and by how much it falls short at a travel beyond, mm."""

    body: str
    gap_mm: float


class Linkage:
    """One station's linkage in its drawn geometry, with its links at their set lengths."""

    def __init__(self, station: Station, where: str = "") -> None:
        self.station, self.where = station, where
        topology = topology_of(station)
        names = list(station.points)
        self.points: Array = np.array([station.points[name] for name in names], dtype=float)
        self.index = {name: number for number, name in enumerate(names)}
        self.bodies = {body: list(members) for body, members in station.bodies.items()}
        drawn = geometry_of(topology, self.points[None])
        self.assembly: Assembly = assembly_of(topology, drawn, self.bodies, where)
        self.topology: Topology = self.assembly.topology
        if self.topology is not topology:
            drawn = geometry_of(self.topology, self.points[None])
        self.set_lengths = _set_lengths(station)
        self._drawn = drawn
        self.kept: dict[Hashable, Any] = {}  # what others make of the drawing and want again
        self._shortfalls: dict[tuple[float, float], Shortfall] = {}
        self.solver = Solver(self.assembly, self._geometry(self.set_lengths))

    def carrying(self, station: Station) -> "Linkage":
        """Return the same linkage under a station that moves alike."""
        its = copy.copy(self)
        its.station, its.kept = station, {}
        return its

    def _geometry(self, lengths: Mapping[str, float | Array]) -> Geometry:
        if not lengths:
            return self._drawn
        return geometry_of(self.topology, self.points[None], lengths)

    def heave(self) -> Array:
        """Return the direction (drivers,) in which all wheels rise together, mm of each by mm of travel."""
        return np.ones(self.assembly.drivers)

    def articulation(self) -> Array | None:
        """Return the direction (drivers,) in which the wheels of an axle part, or None where there is none."""
        free = self.assembly.drivers == 2 and not self.assembly.over_constrained
        return np.array([1.0, -1.0]) if free else None

    @cached_property
    def start(self) -> Node:
        """Return the linkage put together at (or near) the drawn position; raise if it cannot be."""
        drawn = Solver(self.assembly, self._drawn) if self.set_lengths else self.solver
        follower = Follower(drawn, self.heave())
        zero = np.zeros((self.assembly.drivers, 1))
        node = follower.node(drawn.solve(drawn.drawn_unknowns(), zero, self.heave()), 0, 0.0)
        if not self.set_lengths:
            return node
        adjusted = self._adjusted(node)
        if adjusted is None:
            adjusted = self._adjusted_elsewhere(follower, node)
        return adjusted

    def _adjusted(self, node: Node) -> Node | None:
        """Bring the links from their drawn to their set lengths at one travel, without jumping."""
        drawn = {name: self._drawn_length(name) for name in self.set_lengths}
        done, step = 0.0, 1.0
        while done < 1:
            share = min(1.0, done + step)
            lengths = {n: drawn[n] + share * (self.set_lengths[n] - drawn[n]) for n in drawn}
            solver = self.solver.relinked(lengths)
            follower = Follower(solver, self.heave())
            targets = np.full((self.assembly.drivers, 1), node.travel)
            solution = solver.solve(node.unknowns, targets, self.heave())
            moved = np.abs(solution.unknowns - node.unknowns) * follower.weights
            size = max(abs(self.set_lengths[n] - drawn[n]) for n in drawn) * step
            near = moved.max() <= max(TOLERANCES.adjusted_times * size, TOLERANCES.branch_mm)
            if solution.closed[0] and near and (solution.signs == node.signs).all():
                node, done = follower.node(solution, 0, node.travel), share
            else:
                step /= 2
                if step < 1 / ADJUST_STEPS:
                    return None
        return node

    def _adjusted_elsewhere(self, follower: Follower, node: Node) -> Node:
        """The set lengths cannot be reached as drawn: try along the travel, nearest first."""
        travel = self.station.travel
        places = np.linspace(-travel.droop, travel.bump, 9)
        path = follower.follow(node, places)
        for row in sorted(np.flatnonzero(path.reached), key=lambda k: abs(places[k])):
            found = self._adjusted(follower.node(path.solution, int(row), float(places[row])))
            if found is not None:
                return found
        shortfall = self.shortfall(node, 0.0, self._last_block_of_links())
        raise LinkageDidNotClose(0.0, shortfall.body, shortfall.gap_mm, f"{self.where}.links")

    def _last_block_of_links(self) -> int:
        for number, block in enumerate(self.assembly.blocks):
            for equation, _ in block.conditions:
                its = self.assembly.equations[equation]
                links = its.links if isinstance(its, Shared) else (its,)
                if any(isinstance(one, Distance) and one.link in self.set_lengths for one in links):
                    return number
        return 0

    def _drawn_length(self, link: str) -> float:
        one, other = self.bodies[link]
        return float(np.linalg.norm(self.points[self.index[one]] - self.points[self.index[other]]))

    def follow(self, travels: Array, articulation_mm: float = 0.0) -> Path:
        """Follow the linkage in heave through sorted travels (rows,) mm, an axle articulated by so much throughout."""
        travels = np.asarray(travels, dtype=float)
        if not articulation_mm:
            return Follower(self.solver, self.heave()).follow(self.start, travels)
        direction = self.articulation()
        assert direction is not None, "only an axle with two free wheels articulates"
        middle = float(travels[np.abs(travels).argmin()])
        across = self.articulate(np.array([articulation_mm]), middle)
        base = direction * articulation_mm
        if not across.reached[0]:
            return _nowhere(across, travels)
        follower = Follower(self.solver, self.heave(), base)
        targets = (base + self.heave() * middle)[:, None]
        solution = self.solver.solve(across.solution.unknowns, targets, self.heave())
        return follower.follow(follower.node(solution, 0, middle), travels)

    def follow_to_the_end(self, travels: Array) -> Path:
        """Follow the linkage in heave through sorted travels (rows,) mm and, where it ends among them, to its very end."""
        return self.follow(travels).to_the_end()

    def places(self, travels: Array) -> Array:
        """Return only where the points are at sorted travels, (3, n, rows) mm; NaN out of reach."""
        follower = Follower(self.solver, self.heave())
        solution, accepted = follower.attempt(Nodes.each([self.start], [1]), travels, slopes=False)
        return (solution if accepted.all() else self.follow(travels).solution).motion.place

    def articulate(self, travels: Array, heave_mm: float = 0.0) -> Path:
        """Follow an axle's articulation through sorted travels (rows,) mm: left wheel up, right one down, about a heave."""
        direction = self.articulation()
        assert direction is not None, "only an axle with two free wheels articulates"
        level = self.follow(np.array([heave_mm]))
        base = self.heave() * heave_mm
        follower = Follower(self.solver, direction, base)
        solution = self.solver.solve(level.solution.unknowns, base[:, None], direction)
        return follower.follow(follower.node(solution, 0, 0.0), np.asarray(travels, dtype=float))

    def at(self, path: Path, travels: Array) -> Solution:
        """Solve at travels (rows,) mm of a heave path, each predicted from its nearest reached row.

        Near the end of reach, where no prediction is near enough, they are followed from the nearest row inside.
        """
        follower = Follower(self.solver, self.heave())
        inside = path.inside
        nearest = inside[np.abs(path.travels[inside][:, None] - travels).argmin(axis=0)]
        solution, accepted = follower.attempt(Nodes.of(path, nearest), travels)
        if accepted.all():
            return solution
        order = np.arange(len(travels))
        followed: list[Solution] = []
        for k in np.flatnonzero(~accepted):
            near = int(nearest[k])
            found = follower.follow(
                follower.node(path.solution, near, float(path.travels[near])), travels[[k]]
            )
            if found.reached[0] or not solution.closed[k]:
                order[k] = len(travels) + len(followed)
                followed.append(found.solution)
        return joined([solution, *followed]).pick(order) if followed else solution

    def with_links(self, near: Solution, heave_mm: Array, lengths: Mapping[str, Array]) -> Solution:
        """Return rows in heave with links at other lengths, (rows,) mm each, closed from near rows."""
        solver = self.solver.relinked(lengths)
        targets = np.tile(heave_mm, (self.assembly.drivers, 1))
        return solver.solve(near.unknowns, targets, self.heave())

    def shortfall(self, node: Node, travel: float, block_number: int) -> Shortfall:
        """Return which body of a block cannot follow to a travel, by the gap that a best fit leaves there."""
        from scipy.optimize import least_squares  # a fifth of a second to load, and rarely needed

        kernel = self.solver.kernel(block_number)
        columns = list(kernel.block.columns)
        targets = np.full((self.assembly.drivers, 1), travel)
        # The blocks before it can follow, or they would be the ones that fall short.
        before = self.solver.solve(node.unknowns, targets, self.heave(), slopes=False)
        unknowns, points = before.unknowns.copy(), before.motion.place.copy()
        unknowns[columns] = node.unknowns[columns]
        equations = [self.assembly.equations[number] for number, _ in kernel.block.conditions]
        driven = np.array([isinstance(equation, Driver) for equation in equations])
        # The wheel is put where it is wanted and the joints give; a lone arm has only its wheel to give.
        weights = np.where(driven & ~driven.all(), 1e3, 1.0)

        def gaps(values: Array) -> Array:
            unknowns[columns, 0] = values
            kernel.place(unknowns, points)
            return kernel.residual(points, targets)[:, 0]

        def slopes(values: Array) -> Array:
            gaps(values)
            weighted: Array = kernel.jacobian(unknowns, points)[0] * weights[:, None]
            return weighted

        start = unknowns[columns, 0].copy()
        with np.errstate(all="ignore"):
            fit = least_squares(lambda values: gaps(values) * weights, start, jac=slopes, max_nfev=60)
        left = np.where(driven & ~driven.all(), 0.0, np.abs(gaps(fit.x)))
        worst = int(np.argmax(left))
        return Shortfall(self._blamed(equations[worst], kernel.block.turns), float(left[worst]))

    def _blamed(self, equation: Equation, turns: tuple[int, ...]) -> str:
        if isinstance(equation, Driver):
            wheel = self.topology.names[equation.wheels[0]]
            carriers = [body for body, members in self.bodies.items() if wheel in members]
            return self.topology.turns[turns[0]].body if turns else carriers[0]
        return equation.body

    def shortfall_beyond(self, reach: Reach, travel: float) -> Shortfall:
        """Return what falls short at a travel beyond the reach."""
        key = (reach.travel, travel)
        if key not in self._shortfalls:
            self._shortfalls[key] = self.shortfall(reach.node, travel, reach.block)
        return self._shortfalls[key]

    def _spare_gaps(self, place: Array) -> Array:
        """Return how far the dropped conditions stand open at points (3, n, positions), (dropped conditions, positions) mm."""
        if not self.assembly.spare:
            return np.zeros((0, place.shape[2]))
        spare = Block(columns=(), conditions=self.assembly.spare, turns=(), free=(), carriers=(), needed=())
        kernel = Kernel(self.topology, self.assembly.equations, self.solver.geometry, spare)
        return kernel.residual(place, np.zeros((self.assembly.drivers, place.shape[2])))

    def mismatch_mm(self, path: Path) -> tuple[float, str]:
        """Return how far dropped conditions open over the travel, and the body they belong to.

        A hinge written twice stays at nothing; two links that fight one another do not.
        """
        worst, body = 0.0, ""
        place, geometry = path.solution.motion.place[:, :, path.reached], self.solver.geometry
        if not place.shape[2]:
            return worst, body
        for (number, _), gaps in zip(self.assembly.spare, self._spare_gaps(place), strict=True):
            equation, length = self.assembly.equations[number], geometry.length(number)
            exact = (
                equation.gap(place, length) if isinstance(equation, Distance) and length is not None else gaps
            )
            gap = float(np.abs(exact).max())
            if gap > worst:
                worst, body = gap, equation.body
        for link in self.topology.gives:
            its = link.gap(place, link.length_in(geometry.drawn, self.set_lengths))
            gap = float(np.abs(its).max())
            if gap > worst:
                worst, body = gap, link.body
        return worst, body


def _nowhere(path: Path, travels: Array) -> Path:
    """Return a path of which no row is reached, shaped as a path of one row that was not."""
    solution = replace(
        path.solution.pick(np.zeros(len(travels), dtype=int)), closed=np.zeros(len(travels), dtype=bool)
    )
    return Path(
        travels=travels, reached=solution.closed, solution=solution, below=path.below, above=path.above
    )


def _set_lengths(station: Station) -> dict[str, float]:
    return {name: link.length for name, link in station.links.items() if link.length is not None}
