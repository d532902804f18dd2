"""Places, gaps and slopes of one block by itself, square or not.

place       points from unknowns
residual    how far each condition is from holding, mm
jacobian    the conditions' slopes by the unknowns

What a distance is from holding is (|d|² − L²)/2L, which is the gap in mm to first order.
"""

from collections.abc import Sequence

import numpy as np

from engine.compiled import loaded
from engine.facts import facts
from engine.linkage.blocks import Block
from engine.linkage.equations import Equation
from engine.linkage.geometry import Geometry
from engine.linkage.program import Program
from engine.linkage.topology import Topology
from engine.linkage.vectors import Array

CLOSING = loaded("engine.linkage.closing")


@facts(kw_only=False)
class Motion:
    """Points and their derivatives by travel: each (3, n, positions), in mm, mm/mm and mm/mm²."""

    place: Array
    first: Array
    second: Array

    def pick(self, which: "np.ndarray | slice | list[int]") -> "Motion":
        """Return some of the positions, by their numbers or a mask (positions,)."""
        return Motion(self.place[..., which], self.first[..., which], self.second[..., which])


class Kernel:
    """The arithmetic of one block over a geometry or a batch of them."""

    def __init__(
        self, topology: Topology, equations: Sequence[Equation], geometry: Geometry, block: Block
    ) -> None:
        self.block = block
        self.program = Program(topology, equations, geometry, (block,))

    def place(self, unknowns: Array, points: Array) -> None:
        """Write the block's points.

        unknowns : (all unknowns, positions) rad or mm
        points   : (3, n, positions) mm, earlier blocks already in place
        """
        CLOSING.stand(self.program.moves, self.program.shapes, np.ascontiguousarray(unknowns), points)

    def residual(self, points: Array, targets: Array) -> Array:
        """Return (conditions of the block, positions) how far each condition is from holding, mm.

        points  : (3, n, positions) mm
        targets : (drivers, positions) mm
        """
        its, out = self.program, np.empty((len(self.block.conditions), points.shape[2]))
        points, targets = (np.ascontiguousarray(part, dtype=float) for part in (points, targets))
        CLOSING.open_by(
            its.conditions,
            its.terms,
            its.heights,
            its.shares,
            its.weights,
            its.constants,
            targets,
            points,
            out,
        )
        return out

    def jacobian(self, unknowns: Array, points: Array) -> Array:
        """Return (geometries, conditions of the block, its unknowns): each condition's slope by each.

        unknowns : (all unknowns, geometries) rad or mm
        points   : (3, n, geometries) mm, where they stand then
        """
        its = self.program
        out = np.zeros((points.shape[2], len(self.block.conditions), len(self.block.columns)))
        CLOSING.slopes_at(
            its.moves, its.conditions, its.terms, its.heights, its.since, its.reach, its.local, its.home, its.shares,
            its.shapes, its.weights, np.array(unknowns.T, order="C"), np.array(points.T, order="C"), out,
        )  # fmt: skip
        return out
