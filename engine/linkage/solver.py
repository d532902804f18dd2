"""Newton on each block in turn, with first and second derivatives by travel: rows are independent.

The loops themselves are in `closing.py`, compiled.
"""

import copy
from collections.abc import Callable, Mapping, Sequence

import numpy as np

from engine.compiled import loaded
from engine.conventions import TOLERANCES
from engine.facts import facts
from engine.linkage.blocks import Block
from engine.linkage.freedom import Assembly
from engine.linkage.geometry import Geometry, drawn_unknowns
from engine.linkage.kernel import Kernel, Motion
from engine.linkage.program import Program
from engine.linkage.vectors import Array

CLOSING = loaded("engine.linkage.closing")

MAX_TURN_STEP = 0.6  # rad a Newton step; more would leave the neighbourhood of the start
MAX_POINT_STEP_MM = 400.0
NO_TRAVELS, NO_PAIRS, NO_SPANS = np.zeros(0), np.zeros((0, 2), dtype=np.int64), np.zeros((3, 0, 0, 0))
NOTHING, NOWHERE = np.zeros((0, 0)), np.zeros(0, dtype=np.int64)


@facts(kw_only=False)
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
        """Return some of the rows, by their numbers or a mask (rows,)."""
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
        self.program = Program(self.topology, assembly.equations, geometry, self.blocks)
        size = 1e3 if self.geometry.scale_mm <= 1e4 else self.geometry.scale_mm
        self.closure_mm = TOLERANCES.closure_mm * size / 1e3
        first = len(self.topology.turns)
        self.step_caps = np.full(self.topology.unknowns, MAX_POINT_STEP_MM)
        self.step_caps[:first] = MAX_TURN_STEP
        self.sizes = np.ones(self.topology.unknowns)
        self.sizes[:first] = TOLERANCES.turn_weight_mm

    def relinked(self, lengths: Mapping[str, float | Array]) -> "Solver":
        """Return a solver of the same drawing with some links at other lengths, mm: one for all rows or (rows,)."""
        its = copy.copy(self)
        its.geometry = self.geometry.relinked(self.topology, lengths)
        its.program = self.program.relinked(self.assembly.equations, its.geometry)
        return its

    def kernel(self, block: int) -> Kernel:
        """Return one block by itself."""
        return Kernel(self.topology, self.assembly.equations, self.geometry, self.blocks[block])

    def drawn_unknowns(self) -> Array:
        """Return the unknowns as drawn, (unknowns, rows)."""
        return drawn_unknowns(self.topology, self.geometry)

    def solve(self, start: Array, targets: Array, rates: Array, slopes: bool = True) -> Solution:
        """Close every row from `start`.

        start   : (unknowns, rows)
        targets : (drivers, rows) mm of wheel travel
        rates   : (drivers,) which direction `first` and `second` are taken in
        slopes  : without them only the places and `closed` are of use
        """
        its, rows = self.program, start.shape[1]
        unknowns = np.array(start, dtype=float, order="C")
        first, second = np.zeros_like(unknowns), np.zeros_like(unknowns)
        place = np.empty((3, len(self.topology.names), rows))
        speeds, bends = (np.empty_like(place), np.empty_like(place)) if slopes else (place, place)
        stuck, signs = np.empty(rows, dtype=np.int64), np.ones((len(self.blocks), rows))
        CLOSING.close(
            its.blocks, its.moves, its.conditions, its.terms, its.heights,
            its.since, its.reach, its.columns, its.local, its.home,
            its.shares, its.shapes, its.weights, its.constants, its.drawn,
            np.ascontiguousarray(targets, dtype=float), np.ascontiguousarray(rates, dtype=float), self.step_caps,
            self.closure_mm, TOLERANCES.newton_steps, slopes,
            NO_TRAVELS, 0, self.sizes, 0.0, 0.0, NO_PAIRS,
            unknowns, first, second, place, speeds, bends, stuck, signs, NO_SPANS, NO_PAIRS,
        )  # fmt: skip
        return Solution(unknowns, first, second, Motion(place, speeds, bends), stuck < 0, stuck, signs)

    def march(
        self, rates: Array, travels: Array, pairs: Sequence[tuple[int, int]]
    ) -> tuple[Array, np.ndarray]:
        """Follow every geometry from its drawn position through sorted travels (m,) mm, up and down.

        rates   : (drivers,) how the wheels move by each mm of travel
        pairs   : point numbers whose distance is wanted
        returns : (3, rows, m, pairs) lengths, motion ratios and their slopes, mm, mm/mm, 1/mm, NaN where a row did not
                  get; and where it did, (rows, m) bool
        """
        its, unknowns = self.program, self.drawn_unknowns()
        rows, middle = unknowns.shape[1], int(np.searchsorted(travels, 0.0))
        outward = np.array([*range(middle, len(travels)), *range(middle - 1, -1, -1)])
        place = np.empty((3, len(self.topology.names), 0))
        spans = np.full((3, rows, len(travels), len(pairs)), np.nan)
        followed = np.zeros((rows, len(travels)), dtype=np.int64)
        CLOSING.close(
            its.blocks, its.moves, its.conditions, its.terms, its.heights,
            its.since, its.reach, its.columns, its.local, its.home,
            its.shares, its.shapes, its.weights, its.constants, its.drawn,
            np.zeros((len(rates), rows)), np.ascontiguousarray(rates, dtype=float), self.step_caps,
            self.closure_mm, TOLERANCES.newton_steps, True,
            travels[outward].astype(float), len(travels) - middle, self.sizes,
            TOLERANCES.branch_share, TOLERANCES.branch_mm, np.array(pairs, dtype=np.int64).reshape(-1, 2),
            np.array(unknowns, order="C"), NOTHING, NOTHING, place, place, place, NOWHERE, NOTHING,
            spans, followed,
        )  # fmt: skip
        back = np.argsort(outward)
        return spans[:, :, back], followed[:, back] == 1

    def __repr__(self) -> str:
        return (
            f"Solver({self.topology.unknowns} unknowns in blocks of {[len(b.columns) for b in self.blocks]})"
        )
