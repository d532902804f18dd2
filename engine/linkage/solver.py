"""Newton on each block in turn, with first and second derivatives by travel: rows are independent."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from engine.conventions import TOLERANCES
from engine.linkage.blocks import Block
from engine.linkage.freedom import Assembly
from engine.linkage.geometry import Geometry
from engine.linkage.kernel import Kernel, Motion
from engine.linkage.vectors import Array

MAX_TURN_STEP = 0.6  # rad a Newton step; more would leave the neighbourhood of the start
MAX_POINT_STEP_MM = 400.0
FLAT = 1e-11  # a matrix this near to singular is: what is free is not told by its rows


@dataclass(frozen=True)
class Solution:
    """Solved rows.

    unknowns : (unknowns, rows) rad, mm
    first, second : their derivatives by travel
    motion   : the points and their derivatives, (3, n, rows)
    closed   : (rows,) bool, every block converged
    stuck    : (rows,) int, the first block that did not, or -1
    signs    : (blocks, rows) sign of each block's determinant: constant along one way of assembling
    """

    unknowns: Array
    first: Array
    second: Array
    motion: Motion
    closed: np.ndarray
    stuck: np.ndarray
    signs: Array

    def pick(self, which: "np.ndarray | slice | list[int]") -> "Solution":
        """Return some of the rows, by their numbers or a mask."""
        return Solution(
            self.unknowns[:, which],
            self.first[:, which],
            self.second[:, which],
            self.motion.pick(which),
            self.closed[which],
            self.stuck[which],
            self.signs[:, which],
        )


def joined(parts: Sequence[Solution]) -> Solution:
    """Return the rows of several solutions of one assembly, one after another."""

    def along(read: Callable[[Solution], Array]) -> Array:
        return np.concatenate([read(part) for part in parts], axis=-1)

    motion = Motion(
        along(lambda s: s.motion.place), along(lambda s: s.motion.first), along(lambda s: s.motion.second)
    )
    return Solution(
        along(lambda s: s.unknowns),
        along(lambda s: s.first),
        along(lambda s: s.second),
        motion,
        along(lambda s: s.closed),
        along(lambda s: s.stuck),
        along(lambda s: s.signs),
    )


def unreached(like: Solution) -> Solution:
    """Return one row that was not reached, shaped like a solution's: NaN throughout."""
    one = like.pick([0])

    def nothing(values: Array) -> Array:
        return np.full_like(values, np.nan)

    motion = Motion(nothing(one.motion.place), nothing(one.motion.first), nothing(one.motion.second))
    return Solution(
        nothing(one.unknowns),
        nothing(one.first),
        nothing(one.second),
        motion,
        np.zeros(1, dtype=bool),
        np.zeros(1, dtype=int),
        nothing(one.signs),
    )


class Solver:
    """Solves rows of one assembly over one geometry, or over a batch of them."""

    def __init__(self, assembly: Assembly, geometry: Geometry) -> None:
        self.assembly, self.geometry = assembly, geometry
        self.topology = assembly.topology
        self.blocks: tuple[Block, ...] = assembly.blocks
        self.kernels = [Kernel(self.topology, assembly.equations, geometry, block) for block in self.blocks]
        size = 1e3 if self.geometry.scale_mm <= 1e4 else self.geometry.scale_mm
        self.closure_mm = TOLERANCES.closure_mm * size / 1e3
        first = len(self.topology.turns)
        self.step_caps = np.full(self.topology.unknowns, MAX_POINT_STEP_MM)
        self.step_caps[:first] = MAX_TURN_STEP

    def drawn_unknowns(self) -> Array:
        """Return the unknowns as drawn: turns at zero, free points where they stand."""
        places = self.geometry.drawn[:, list(self.topology.free)]
        free = np.swapaxes(places, 0, 1).reshape(-1, self.geometry.rows)
        return np.concatenate([np.zeros((len(self.topology.turns), self.geometry.rows)), free])

    def solve(self, start: Array, targets: Array, rates: Array, slopes: bool = True) -> Solution:
        """Close every row from `start`.

        start   : (unknowns, rows)
        targets : (drivers, rows) mm of wheel travel
        rates   : (drivers,) which direction `first` and `second` are taken in
        slopes  : without them only the places and `closed` are of use
        """
        unknowns = start.copy()
        rows = start.shape[1]
        points = np.empty((3, len(self.topology.names), rows))
        fixed = list(self.topology.fixed)
        points[:, fixed] = self.geometry.drawn[:, fixed]
        stuck = np.full(rows, -1)
        with np.errstate(all="ignore"):
            for number, kernel in enumerate(self.kernels):
                closed = self._newton(kernel, unknowns, points, targets)
                stuck = np.where((stuck < 0) & ~closed, number, stuck)
                kernel.place(unknowns, points, everything=True)
            empty = np.zeros_like(points) if slopes else points
            motion = Motion(points, empty, np.zeros_like(points) if slopes else points)
            first, second = np.zeros_like(unknowns), np.zeros_like(unknowns)
            signs = np.ones((len(self.kernels), rows))
            if slopes:
                for number, kernel in enumerate(self.kernels):
                    signs[number] = self._derive(kernel, motion, rates, first, second)
        return Solution(unknowns, first, second, motion, stuck < 0, stuck, signs)

    def _newton(self, kernel: Kernel, unknowns: Array, points: Array, targets: Array) -> np.ndarray:
        columns = list(kernel.block.columns)
        caps = self.step_caps[columns][:, None]
        best = np.full(points.shape[2], np.inf)
        for step in range(TOLERANCES.newton_steps + 1):
            kernel.place(unknowns, points)
            gaps = kernel.residual(points, targets)
            worst = np.abs(gaps).max(axis=0)
            best = np.where(np.isfinite(worst), worst, np.inf)
            if step == TOLERANCES.newton_steps or not (best > self.closure_mm).any():
                break
            change = _solved(kernel.jacobian(points), gaps)
            change = np.where(best > self.closure_mm, change, 0.0)
            unknowns[columns] -= np.clip(np.nan_to_num(change), -caps, caps)
        closed: np.ndarray = best <= 100 * self.closure_mm
        return closed

    def _derive(self, kernel: Kernel, motion: Motion, rates: Array, first: Array, second: Array) -> Array:
        """Fill in the block's first and second derivatives; return its determinant's sign."""
        columns = list(kernel.block.columns)
        slopes = kernel.jacobian(motion.place)
        inverse, sign = _inverted(slopes)
        first[columns] = -_times(inverse, kernel.row_rates(motion, rates, 1))
        kernel.move(first[columns], motion, 1, first)
        # With the block's own second derivatives at zero, what is left is the bias of the rows.
        kernel.move(np.zeros((kernel.size, first.shape[1])), motion, 2, first)
        second[columns] = -_times(inverse, kernel.row_rates(motion, rates, 2))
        kernel.move(second[columns], motion, 2, first)
        return sign

    def __repr__(self) -> str:
        return (
            f"Solver({self.topology.unknowns} unknowns in blocks of {[len(b.columns) for b in self.blocks]})"
        )


def _times(matrices: Array, vectors: Array) -> Array:
    product: Array = np.matmul(matrices, vectors.T[:, :, None])[:, :, 0].T
    return product


def _solved(matrices: Array, right: Array) -> Array:
    """Return (size, rows): the solution of each row's system; a singular one gives a large step."""
    if matrices.shape[1] == 1:
        return right / matrices[:, 0, 0]
    try:
        return np.asarray(np.linalg.solve(matrices, right.T[:, :, None])[:, :, 0].T)
    except np.linalg.LinAlgError:
        return _times(np.linalg.pinv(np.nan_to_num(matrices)), right)


def _inverted(matrices: Array) -> tuple[Array, Array]:
    if matrices.shape[1] == 1:
        return 1 / matrices, np.sign(matrices[:, 0, 0])
    matrices = np.nan_to_num(matrices)
    sign: Array = np.linalg.slogdet(matrices)[0]
    try:
        inverse = np.asarray(np.linalg.inv(matrices))
    except np.linalg.LinAlgError:
        return np.asarray(np.linalg.pinv(matrices, rcond=FLAT)), sign
    # Where something is free for a moment its own speed is not told: the least that goes with the rest is taken.
    flat = np.abs(inverse).max(axis=(1, 2)) * np.abs(matrices).max(axis=(1, 2)) > 1 / FLAT
    if flat.any():
        inverse[flat] = np.linalg.pinv(matrices[flat], rcond=FLAT)
    return inverse, sign
