"""A linkage's blocks over one geometry or a batch, as the plain arrays that the compiled inner loops read.

What each array holds is told where it is read, in `closing.py`.
"""

import copy
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from engine.linkage.blocks import Block, dependencies
from engine.linkage.equations import Equation, Sum
from engine.linkage.geometry import Geometry
from engine.linkage.topology import Topology
from engine.linkage.vectors import Array

Whole = NDArray[np.int64]
TURNED, FREE, LINE, TRIAD = 0, 1, 2, 3  # as in `closing.py`, which only set-up imports
SHAPE = 9  # numbers a move
NO_SHAPE = np.empty((0, 1))
_Move = tuple[int, int, int, int]
"""How, which turn, free point or carrier, which of its members, and that point."""


class Program:
    """Moves and conditions of some blocks, and what a batch of geometries puts in them.

    blocks, moves, conditions, terms, heights       (…, …) whole numbers
    since, reach, columns, local, home        (…,) whole numbers
    shares    : (heights,)
    shapes    : (geometries, moves, 9)
    weights   : (geometries, products, 4); on one geometry as many as its links are set to lengths
    constants : (as many, conditions) mm
    drawn     : (geometries, n, 3) mm
    """

    def __init__(
        self, topology: Topology, equations: Sequence[Equation], geometry: Geometry, blocks: Sequence[Block]
    ) -> None:
        self._topology, self._geometry = topology, geometry
        self._moves: list[tuple[int, int, int, int, int]] = []
        self._shapes: list[Array] = []
        written = _Written()
        bounds: list[tuple[int, ...]] = []
        self._of_conditions: list[tuple[int, int]] = []
        columns: list[int] = []
        home = np.full(len(topology.names), -1)
        local = np.zeros(topology.unknowns, dtype=np.int64)
        reaching: list[tuple[int, ...]] = [()] * len(topology.names)
        depends = dependencies(topology)
        for number, block in enumerate(blocks):
            first, condition, column = len(self._moves), len(written.conditions), len(columns)
            needed, rest = self._split(block, equations)
            for move in needed:
                self._add(*move)
            ready = len(self._moves)
            for move in rest:
                self._add(*move)
            conditions: dict[int, tuple[Sum, ...]] = {}
            for equation, component in block.conditions:
                if equation not in conditions:
                    conditions[equation] = equations[equation].written(
                        geometry.drawn, geometry.length(equation)
                    )
                written.add(conditions[equation][component])
                self._of_conditions.append((equation, component))
            columns += block.columns
            local[list(block.columns)] = range(len(block.columns))
            own = set(block.columns)
            for _, point, *_ in self._moves[first:]:
                home[point], reaching[point] = number, tuple(sorted(depends[point] & own))
            bounds.append(
                (first, ready, len(self._moves), condition, len(written.conditions), column, len(columns))
            )
        self.blocks: Whole = _whole(bounds, 7)
        self.moves: Whole = _whole(self._moves, 5)
        self.conditions: Whole = _whole(written.conditions, 5)
        self.terms: Whole = _whole(written.terms, 4)
        self.heights: Whole = _whole(written.heights, 2)
        self.since: Whole = np.cumsum([0, *(len(its) for its in reaching)], dtype=np.int64)
        self.reach: Whole = np.array([unknown for its in reaching for unknown in its], dtype=np.int64)
        self.columns: Whole = np.array(columns, dtype=np.int64)
        self.local, self.home = local, home
        self.shares = np.array(written.shares, dtype=float)
        self.shapes = np.zeros((geometry.rows, len(self._shapes), SHAPE))
        for number, shape in enumerate(self._shapes):
            self.shapes[:, number, : len(shape)] = shape.T
        lengths = _most(geometry)
        self.weights = _stacked(written.weights, lengths, 4)
        self.constants = _stacked([(its,) for its in written.constants], lengths, 1)[:, :, 0].copy()
        self.drawn = np.ascontiguousarray(geometry.drawn.T)

    def relinked(self, equations: Sequence[Equation], geometry: Geometry) -> "Program":
        """Return the same with the conditions written anew whose lengths a geometry of the same drawing has set otherwise."""
        before = self._geometry
        changed = [k for k, its in enumerate(geometry.lengths) if its is not before.lengths[k]]
        lengths = _most(geometry)
        its = copy.copy(self)
        its._geometry = geometry
        its.weights, its.constants = (
            np.repeat(part, lengths, axis=0) if len(part) < lengths else part.copy()
            for part in (self.weights, self.constants)
        )
        for condition, (equation, component) in enumerate(self._of_conditions):
            if equation not in changed:
                continue
            anew = equations[equation].written(geometry.drawn, geometry.length(equation))[component]
            its.constants[:, condition] = anew.constant
            for term, product in enumerate(anew.products, self.conditions[condition, 0]):
                for place, weight in enumerate((product.dot, *product.triple)):
                    its.weights[:, term, place] = weight
        return its

    def _split(self, block: Block, equations: Sequence[Equation]) -> tuple[list[_Move], list[_Move]]:
        """Return the moves that the block's own conditions need, in order, and those that can wait till it is solved."""
        carriers = self._topology.carriers
        wanted = {point for number, _ in block.conditions for point in equations[number].points}
        wanted |= {point for number in block.needed for point in carriers[number].basis}
        needed: list[_Move] = []
        rest: list[_Move] = []
        for number in block.turns:
            for place, point in enumerate(self._topology.turns[number].members):
                (needed if point in wanted else rest).append((TURNED, number, place, point))
        needed += [(FREE, number, 0, self._topology.free[number]) for number in block.free]
        for number in block.carriers:
            kind = TRIAD if len(carriers[number].basis) == 3 else LINE
            for place, point in enumerate(carriers[number].members):
                soon = number in block.needed and point in wanted
                (needed if soon else rest).append((kind, number, place, point))
        return needed, rest

    def _add(self, how: int, number: int, place: int, point: int) -> None:
        """Add one move of a turn, a free point or a carrier."""
        if how == TURNED:
            turn = self._geometry.turns[number]
            self._moves.append((how, point, number, -1, -1))
            self._shapes.append(
                np.concatenate([part[:, place] for part in (turn.centre, turn.radial, turn.tangent)])
            )
        elif how == FREE:
            self._moves.append((how, point, len(self._topology.turns) + 3 * number, -1, -1))
            self._shapes.append(NO_SHAPE)
        else:
            shape, basis = self._geometry.carriers[number], self._topology.carriers[number].basis
            self._moves.append((how, point, basis[0], basis[1], basis[2] if how == TRIAD else -1))
            shares = [shape.along[place], shape.across[place], shape.out[place]]
            if how == LINE:
                shares = [shape.along[place], shape.beside[place], shape.per_line[place]]
            self._shapes.append(np.concatenate([shares, shape.toward[:, place]]))


class _Written:
    """Conditions taken apart into lists."""

    def __init__(self) -> None:
        self.conditions: list[tuple[int, int, int, int, int]] = []
        self.terms: list[tuple[int, int, int, int]] = []
        self.weights: list[tuple[float | Array, ...]] = []
        self.heights: list[tuple[int, int]] = []
        self.shares: list[float] = []
        self.constants: list[float | Array] = []

    def add(self, condition: Sum) -> None:
        term, height = len(self.terms), len(self.heights)
        for product in condition.products:
            self.terms.append((*product.d, *product.e))
            self.weights.append((product.dot, *product.triple))
        for point, axis, share in condition.heights:
            self.heights.append((point, axis))
            self.shares.append(share)
        self.constants.append(condition.constant)
        self.conditions.append((term, len(self.terms), height, len(self.heights), condition.target))


def _most(geometry: Geometry) -> int:
    """Return how many geometries there are, or lengths that one's links are set to."""
    lengths = (int(length.shape[-1]) for length in geometry.lengths if length is not None)
    return max([geometry.rows, *lengths])


def _whole(lines: Sequence[tuple[int, ...]], width: int) -> Whole:
    return np.array(lines, dtype=np.int64).reshape(len(lines), width)


def _stacked(lines: Sequence[tuple[float | Array, ...]], geometries: int, width: int) -> Array:
    """Return lines of numbers, each one or (geometries,), as (geometries, lines, width)."""
    out = np.zeros((geometries, len(lines), width))
    if geometries == 1 and lines:
        out[0] = [[value if isinstance(value, float) else value.item() for value in line] for line in lines]
        return out
    for number, line in enumerate(lines):
        for place, value in enumerate(line):
            out[:, number, place] = value
    return out
