"""Places, slopes and curvatures of one block, for a batch of rows at once.

place       points from unknowns
residual    how far each row is from holding, mm
jacobian    the rows' slopes by the unknowns
first/second  the points' first and second derivatives by travel

Everything is exact: a distance row is (|d|² − L²)/2L, which is the gap in mm to first order and
whose derivatives are polynomials of the points' own.
"""

from dataclasses import dataclass

import numpy as np

from engine.linkage.blocks import Block
from engine.linkage.equations import Equation, Weight
from engine.linkage.geometry import Geometry
from engine.linkage.topology import Topology
from engine.linkage.vectors import Array, cross, dot

Columns = tuple[int, ...]
Slope = tuple[Columns, Array]
"""A point's derivative by some of the block's unknowns: their places in the block, (3, k, rows)."""

IDENTITY = np.eye(3)[:, :, None]


@dataclass(frozen=True)
class Motion:
    """Points and their derivatives by travel: each (3, n, rows), in mm, mm/mm and mm/mm²."""

    place: Array
    first: Array
    second: Array

    def pick(self, which: "np.ndarray | slice | list[int]") -> "Motion":
        """Return some of the rows."""
        return Motion(self.place[..., which], self.first[..., which], self.second[..., which])


def _half_skew(e: Array) -> Array:
    """Return the matrix of e × ·, (3, 3, rows)."""
    zero = np.zeros_like(e[0])
    return np.array([[zero, -e[2], e[1]], [e[2], zero, -e[0]], [-e[1], e[0], zero]])


class Kernel:
    """The arithmetic of one block over one batch of geometries."""

    def __init__(
        self, topology: Topology, equations: tuple[Equation, ...], geometry: Geometry, block: Block
    ) -> None:
        self.topology, self.equations = topology, equations
        self.geometry, self.block = geometry, block
        self.size = len(block.columns)
        self.column_of = {column: place for place, column in enumerate(block.columns)}
        first = len(topology.turns)
        self.free_columns = {
            number: tuple(self.column_of[first + 3 * number + axis] for axis in range(3))
            for number in block.free
        }
        self.row_groups = self._row_groups()
        self.members = {n: list(topology.turns[n].members) for n in block.turns}
        self.carried = {n: list(topology.carriers[n].members) for n in block.carriers}
        self.sloped = self._sloped()

    def _row_groups(self) -> list[tuple[Equation, int, dict[int, int]]]:
        """Return each equation of the block once, with the block's row of each of its own that is used."""
        groups: dict[int, dict[int, int]] = {}
        for row, (number, component) in enumerate(self.block.rows):
            groups.setdefault(number, {})[component] = row
        return [(self.equations[number], number, rows) for number, rows in groups.items()]

    def _sloped(self) -> dict[int, list[tuple[int, int]]]:
        """Return, for each carrier that rows need, the members whose slopes are used: (place, point)."""
        wanted = {point for number, _ in self.block.rows for point in self.equations[number].points}
        wanted |= {p for n in self.block.needed for p in self.topology.carriers[n].basis}
        return {
            number: [(k, m) for k, m in enumerate(self.topology.carriers[number].members) if m in wanted]
            for number in self.block.needed
        }

    # -- places -----------------------------------------------------------------------------

    def place(self, unknowns: Array, points: Array, everything: bool = False) -> None:
        """Write the block's points; only those its rows need unless `everything`.

        unknowns : (all unknowns, rows) rad or mm
        points   : (3, n, rows) mm, earlier blocks already in place
        """
        for number in self.block.turns:
            shape, angle = self.geometry.turns[number], unknowns[number]
            points[:, self.members[number]] = (
                shape.centre + shape.radial * np.cos(angle) + shape.tangent * np.sin(angle)
            )
        first = len(self.topology.turns)
        for number in self.block.free:
            at = first + 3 * number
            points[:, self.topology.free[number]] = unknowns[at : at + 3]
        for number in self.block.carriers if everything else self.block.needed:
            self._carry(number, points)

    def _carry(self, number: int, points: Array) -> None:
        carrier, shape = self.topology.carriers[number], self.geometry.carriers[number]
        a = points[:, carrier.basis[0]]
        e1 = points[:, carrier.basis[1]] - a
        moved = a[:, None] + shape.along * e1[:, None]
        if len(carrier.basis) == 3:
            e2 = points[:, carrier.basis[2]] - a
            moved += shape.across * e2[:, None]
            moved += shape.out * cross(e1, e2)[:, None]
        points[:, self.carried[number]] = moved

    # -- rows -------------------------------------------------------------------------------

    def residual(self, points: Array, targets: Array) -> Array:
        """Return (rows of the block, rows) how far each row is from holding, mm."""
        out, geometry = np.empty((len(self.block.rows), points.shape[2])), self.geometry
        for equation, number, row_of in self.row_groups:
            values = equation.value(points, geometry.drawn, geometry.length(number), targets)
            for component, row in row_of.items():
                out[row] = values[component]
        return out

    # -- slopes -----------------------------------------------------------------------------

    def jacobian(self, points: Array) -> Array:
        """Return (batch, rows, size): each row's derivative by each unknown of the block."""
        slopes = self._slopes(points)
        out, geometry = np.zeros((len(self.block.rows), self.size, points.shape[2])), self.geometry
        for equation, number, row_of in self.row_groups:
            for component, point, weight in equation.weights(points, geometry.drawn, geometry.length(number)):
                if component in row_of and point in slopes:
                    _add(out, row_of[component], slopes[point], weight)
        return np.ascontiguousarray(np.moveaxis(out, 2, 0))

    def _slopes(self, points: Array) -> dict[int, Slope]:
        slopes: dict[int, Slope] = {}
        for number in self.block.turns:
            shape, members = self.geometry.turns[number], self.members[number]
            tangents = cross(shape.axis, points[:, members] - shape.centre)
            for place, member in enumerate(members):
                slopes[member] = ((self.column_of[number],), tangents[:, place, None, :])
        for number in self.block.free:
            slopes[self.topology.free[number]] = (self.free_columns[number], IDENTITY)
        for number in self.block.needed:
            self._carry_slopes(number, points, slopes)
        return slopes

    def _carry_slopes(self, number: int, points: Array, slopes: dict[int, Slope]) -> None:
        carrier, shape = self.topology.carriers[number], self.geometry.carriers[number]
        moving = [point for point in carrier.basis if point in slopes]
        columns = tuple(sorted({column for point in moving for column in slopes[point][0]}))
        a = points[:, carrier.basis[0]]
        edges = [points[:, point] - a for point in carrier.basis[1:]]
        for place, member in self.sloped[number]:
            along, across, out = shape.along[place], shape.across[place], shape.out[place]
            total = np.zeros((3, len(columns), points.shape[2]))
            if len(edges) == 1:
                weights = [(1 - along, None), (along, None)]
            else:
                e1, e2 = edges
                weights = [
                    (1 - along - across, out * (e2 - e1)),
                    (along, -out * e2),
                    (across, out * e1),
                ]
            for point, (share, spin) in zip(carrier.basis, weights, strict=True):
                if point in slopes:
                    its, slope = slopes[point]
                    at = [columns.index(column) for column in its]
                    total[:, at] += share * slope
                    if spin is not None:
                        total[:, at] += _half_skew(spin) if slope is IDENTITY else cross(spin[:, None], slope)
            slopes[member] = (columns, total)

    # -- derivatives by travel ----------------------------------------------------------------

    def row_rates(self, motion: Motion, rates: Array, order: int) -> Array:
        """Return how fast each row would open if the block's own unknowns stood still.

        order 1: first derivatives from earlier blocks and the drivers (`rates` per target).
        order 2: second derivatives with the block's own second derivatives zero.
        """
        out, geometry = np.empty((self.size, motion.place.shape[2])), self.geometry
        x, v = motion.place, motion.first
        change = v if order == 1 else motion.second
        for equation, number, row_of in self.row_groups:
            values = equation.rate(x, v, change, geometry.drawn, geometry.length(number), rates)
            for component, row in row_of.items():
                out[row] = values[component]
        return out

    def move(self, own: Array, motion: Motion, order: int, spins: Array) -> None:
        """Write the first (or second) derivatives of the block's points.

        own   : (size, rows) derivatives of that order of the block's unknowns
        spins : (unknowns, rows) first derivatives of all unknowns; read for the turns at order 2
        """
        out = motion.first if order == 1 else motion.second
        for number in self.block.turns:
            shape, members = self.geometry.turns[number], self.members[number]
            tangent = cross(shape.axis, motion.place[:, members] - shape.centre)
            change = tangent * own[self.column_of[number]]
            if order == 2:
                change += cross(shape.axis, motion.first[:, members]) * spins[number]
            out[:, members] = change
        for number in self.block.free:
            out[:, self.topology.free[number]] = own[list(self.free_columns[number])]
        for number in self.block.carriers:
            self._carry_motion(number, motion, order)

    def _carry_motion(self, number: int, motion: Motion, order: int) -> None:
        carrier, shape = self.topology.carriers[number], self.geometry.carriers[number]
        x, v = motion.place, motion.first
        out = v if order == 1 else motion.second
        one, two = carrier.basis[:2]
        a, d1 = out[:, one], out[:, two] - out[:, one]
        moved = a[:, None] + shape.along * d1[:, None]
        if len(carrier.basis) == 3:
            three = carrier.basis[2]
            d2 = out[:, three] - a
            e1, e2 = x[:, two] - x[:, one], x[:, three] - x[:, one]
            turned = cross(d1, e2) + cross(e1, d2)
            if order == 2:
                turned += 2 * cross(v[:, two] - v[:, one], v[:, three] - v[:, one])
            moved += shape.across * d2[:, None]
            moved += shape.out * turned[:, None]
        out[:, self.carried[number]] = moved


def _add(out: Array, row: int, slope: Slope, weight: Weight) -> None:
    """Add weight · slope to a row."""
    columns, values = slope
    if isinstance(weight, tuple):
        axis, share = weight
        out[row, list(columns)] += share * values[axis]
    elif values is IDENTITY:
        out[row, list(columns)] += weight
    else:
        out[row, list(columns)] += dot(weight[:, None, :], values)
