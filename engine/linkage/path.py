"""Following the linkage over its travel, from the drawn position outward, without changing branch.

Node      the last accepted position on one side; the next rows are predicted from it.
Accepted  a row that closed, whose determinants kept their signs, and whose correction was a small
          share of the step. Rows are accepted outward only, so the chain is never broken.
Reach     where the linkage ends: no smaller step can be accepted.
"""

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from engine.conventions import TOLERANCES
from engine.facts import facts
from engine.linkage.solver import Solution, Solver, joined, unreached
from engine.linkage.vectors import Array

CREEP_ROWS = 16
MOST_CREEPS = 60  # a linkage so near to flat that it needs more goes nowhere useful


@facts
class Node:
    """One solved position, to predict from: unknowns and derivatives (unknowns, 1)."""

    travel: float
    unknowns: Array
    first: Array
    second: Array
    signs: Array


@facts
class Nodes:
    """What rows are predicted from: one position for all of them, or one each, on the last axis.

    travels  : (1,) or (rows,) mm
    the rest : (unknowns, …), signs (blocks, …)
    """

    travels: Array
    unknowns: Array
    first: Array
    second: Array
    signs: Array

    @classmethod
    def of(cls, path: "Path", rows: np.ndarray) -> "Nodes":
        """Return rows (k,) of a path, by their numbers."""
        its = path.solution
        return cls(
            travels=path.travels[rows],
            unknowns=its.unknowns[:, rows],
            first=its.first[:, rows],
            second=its.second[:, rows],
            signs=its.signs[:, rows],
        )

    @classmethod
    def each(cls, nodes: Sequence[Node], counts: Sequence[int]) -> "Nodes":
        """Return each of several nodes as often as it has rows to predict; one alone once for all."""

        def along(parts: list[Array]) -> Array:
            if len(parts) == 1:
                return parts[0]
            return np.repeat(np.concatenate(parts, axis=-1), counts, axis=-1)

        return cls(
            travels=along([np.array([node.travel]) for node in nodes]),
            unknowns=along([node.unknowns for node in nodes]),
            first=along([node.first for node in nodes]),
            second=along([node.second for node in nodes]),
            signs=along([node.signs for node in nodes]),
        )


@facts
class Reach:
    """Where the linkage ends on one side: the travel, and the block that could not follow.

    solution : the last position that it takes, one row; None where that is the row it was followed from
    """

    travel: float
    node: Node
    block: int
    solution: Solution | None = None


@facts
class Path:
    """A linkage followed over sorted travels.

    travels  : (n,) mm
    reached  : (n,) bool
    solution : rows for every travel; rows not reached hold NaN
    below, above : the ends of reach, None where all travels were reached
    """

    travels: Array
    reached: np.ndarray
    solution: Solution
    below: Reach | None
    above: Reach | None

    @cached_property
    def inside(self) -> np.ndarray:
        """Return the numbers of the reached rows, (k,); without the ends of reach where there are others."""
        rows = np.flatnonzero(self.reached)
        ends = [end.travel for end in (self.below, self.above) if end is not None]
        within = rows[~np.isin(self.travels[rows], ends)]
        return within if len(within) else rows

    def to_the_end(self) -> "Path":
        """Return the path with the ends of its reach among the rows: a toggle moves most just before it."""
        ends = [end for end in (self.below, self.above) if end is not None and end.solution is not None]
        ends = [end for end in ends if np.abs(self.travels - end.travel).min() > TOLERANCES.reach_mm]
        if not ends:
            return self
        travels = np.concatenate([self.travels, [end.travel for end in ends]])
        order = np.argsort(travels)
        reached = np.concatenate([self.reached, np.ones(len(ends), dtype=bool)])
        solution = joined([self.solution, *(end.solution for end in ends if end.solution is not None)])
        return Path(
            travels=travels[order],
            reached=reached[order],
            solution=solution.pick(order),
            below=self.below,
            above=self.above,
        )


class Follower:
    """Follows one solver along one direction of its drivers.

    direction : (drivers,) how the wheels move by each mm of travel
    base      : (drivers,) mm, where they stand at zero travel
    """

    def __init__(self, solver: Solver, direction: Array, base: Array | None = None) -> None:
        self.solver, self.direction = solver, direction
        self.base = np.zeros_like(direction) if base is None else base
        self.weights = solver.sizes[:, None]

    def node(self, solution: Solution, row: int, travel: float) -> Node:
        """Return one row of a solution as a node."""
        pick = slice(row, row + 1)
        return Node(
            travel=travel,
            unknowns=solution.unknowns[:, pick],
            first=solution.first[:, pick],
            second=solution.second[:, pick],
            signs=solution.signs[:, pick],
        )

    def predict(self, nodes: Nodes, travels: Array) -> tuple[Array, Array]:
        """Return (unknowns, rows) predicted to second order, and the steps taken from the nodes."""
        step = travels - nodes.travels
        move = nodes.first * step + nodes.second * (step * step / 2)
        return nodes.unknowns + move, move

    def attempt(self, nodes: Nodes, travels: Array, slopes: bool = True) -> tuple[Solution, np.ndarray]:
        """Solve rows at travels (rows,) mm predicted from their nodes; return the solution and which are accepted, (rows,).

        Without `slopes` the determinants are not known and only the corrections are judged.
        """
        predicted, move = self.predict(nodes, travels)
        targets = self.base[:, None] + self.direction[:, None] * travels
        solution = self.solver.solve(predicted, targets, self.direction, slopes)
        size = (np.abs(move) * self.weights).max(axis=0)
        correction = (np.abs(solution.unknowns - predicted) * self.weights).max(axis=0)
        accepted = (
            solution.closed
            & (correction <= TOLERANCES.branch_share * size + TOLERANCES.branch_mm)
            & np.isfinite(solution.second).all(axis=0)
        )
        return solution, accepted & self._same_way(nodes, travels, solution) if slopes else accepted

    def _same_way(self, nodes: Nodes, travels: Array, solution: Solution) -> np.ndarray:
        """Return which rows are put together as their nodes are, (rows,) bool.

        A determinant that has kept its sign says so. One that has changed it says only that a flat place lies between:
        at an end of reach the other way of assembling comes back with its speeds turned round, while an axle whose
        links come parallel, free to roll for a moment, goes straight on with the speeds it had.
        """
        same: np.ndarray = np.asarray(solution.signs == nodes.signs)
        if same.all():
            return np.ones(same.shape[1], dtype=bool)
        step = travels - nodes.travels
        off = np.abs(solution.first - nodes.first - nodes.second * step) * self.weights
        size = np.abs(solution.first) * self.weights
        for number, block in enumerate(self.solver.blocks):
            columns = list(block.columns)
            turned = off[columns].max(axis=0) > TOLERANCES.straight_share * size[columns].max(axis=0)
            # One unknown has nowhere to pass a flat place but by turning round.
            straight = ~turned if len(columns) > 1 else np.zeros(len(step), dtype=bool)
            same[number] |= straight
        return np.asarray(same.all(axis=0))

    def follow(self, start: Node, travels: Array) -> Path:
        """Follow outward from a node through sorted travels (rows,) mm on both sides of it."""
        gathered = _Gathered(travels)
        sides = [
            _Side(start, [k for k in range(len(travels)) if travels[k] >= start.travel]),
            _Side(start, [k for k in range(len(travels)) if travels[k] < start.travel][::-1]),
        ]
        while any(side.pending for side in sides):
            live = [side for side in sides if side.pending]
            nodes = Nodes.each([side.node for side in live], [len(side.pending) for side in live])
            rows = [k for side in live for k in side.pending]
            solution, accepted = self.attempt(nodes, travels[rows])
            done = 0
            for side in live:
                count = len(side.pending)
                good = accepted[done : done + count]
                run = count if good.all() else int(np.argmin(good))
                gathered.take(solution, range(done, done + run), side.pending[:run])
                if run:
                    side.node = self.node(solution, done + run - 1, float(travels[side.pending[run - 1]]))
                    side.pending, side.last = side.pending[run:], None
                elif not self._creep(side, float(travels[side.pending[0]])):
                    side.pending = []
                done += count
        return gathered.path(sides[1].reach, sides[0].reach)

    def _creep(self, side: "_Side", target: float) -> bool:
        """Step toward a travel that could not be taken at once; note the reach if it ends first."""
        progress = np.inf
        while abs(progress) > TOLERANCES.reach_mm and side.creeps < MOST_CREEPS:
            before = side.node.travel
            side.creeps += 1
            self._close_in(side, target)
            if side.node.travel == target:
                return True
            progress = side.node.travel - before
        block = self._failing_block(side.node, side.stuck)
        side.reach = Reach(travel=side.node.travel, node=side.node, block=block, solution=side.last)
        return False

    def _close_in(self, side: "_Side", bad: float) -> None:
        """Move the node as far toward `bad` as rows are accepted, sixteen finer steps at a time."""
        while abs(bad - side.node.travel) > TOLERANCES.reach_mm / 4:
            travels = np.linspace(side.node.travel, bad, CREEP_ROWS + 1)[1:]
            solution, accepted = self.attempt(Nodes.each([side.node], [CREEP_ROWS]), travels)
            run = CREEP_ROWS if accepted.all() else int(np.argmin(accepted))
            if run < CREEP_ROWS:
                side.stuck = int(solution.stuck[run])
                bad = float(travels[run])
            if run:
                side.node = self.node(solution, run - 1, float(travels[run - 1]))
                side.last = solution.pick([run - 1])

    def _failing_block(self, node: Node, stuck: int) -> int:
        """Return the block whose slopes are closest to singular: its unknowns run away at the end."""
        speeds = [
            float((np.abs(node.first) * self.weights)[list(block.columns)].max())
            for block in self.solver.blocks
        ]
        return int(np.argmax(speeds)) if max(speeds) > TOLERANCES.runs_away else max(stuck, 0)


class _Side:
    """One side of the travel while it is followed."""

    def __init__(self, node: Node, pending: list[int]) -> None:
        self.node, self.pending = node, pending
        self.reach: Reach | None = None
        self.last: Solution | None = None
        self.stuck = -1
        self.creeps = 0


class _Gathered:
    """Rows accepted so far, in the order of the travels."""

    def __init__(self, travels: Array) -> None:
        self.travels = travels
        self.sample: Solution | None = None
        self.parts: list[tuple[Solution, slice, list[int]]] = []

    def take(self, solution: Solution, rows: range, places: list[int]) -> None:
        self.sample = solution
        if places:
            self.parts.append((solution, slice(rows.start, rows.stop), places))

    def path(self, below: Reach | None, above: Reach | None) -> Path:
        """Put the rows in order."""
        count = len(self.travels)
        reached = np.zeros(count, dtype=bool)
        for _, _, places in self.parts:
            reached[places] = True
        assert self.sample is not None
        every = joined([*(part.pick(rows) for part, rows, _ in self.parts), unreached(self.sample)])
        # A travel that nothing was taken for points at the row of nothing, the last.
        order = np.full(count, every.closed.size - 1)
        order[[place for _, _, places in self.parts for place in places]] = np.arange(every.closed.size - 1)
        return Path(
            travels=self.travels, reached=reached, solution=every.pick(order), below=below, above=above
        )
