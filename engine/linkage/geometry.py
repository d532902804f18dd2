"""The lengths and shapes that a topology needs, worked out from drawn points, for a batch at once.

Arrays are laid out with the batch last, so that every operation runs along contiguous memory:
points are (3, n, rows), where rows is 1 for a single geometry and broadcasts.
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from engine.facts import facts
from engine.linkage.topology import Carrier, Topology, Turn
from engine.linkage.vectors import Array, cross, dot

ROUNDING_MM = 1e-9  # a point that is no further off its line is on it


@facts
class TurnShape:
    """A turning body's points as circles: centre + radial·cos + tangent·sin, each (3, m, rows), mm.

    axis : (3, 1, rows), the hinge's unit direction
    """

    axis: Array
    centre: Array
    radial: Array
    tangent: Array


@facts(kw_only=False)
class CarrierShape:
    """How a body's points hang on its basis: a + along·e1 + across·e2 + out·(e1×e2), each (m, rows).

    Off its body's line a point keeps what it stands beside it as drawn (decision 0030); elsewhere these are nothing:

    beside  : (m, rows) mm
    toward  : (3, m, rows) unit direction as drawn, square to the line
    per_line : (m, rows) 1/mm, one over the line's length
    """

    along: Array
    across: Array
    out: Array
    beside: Array
    toward: Array
    per_line: Array


@facts(kw_only=False)
class Geometry:
    """Numbers for one topology and a batch of geometries.

    drawn     : (3, n, rows) mm, ghosts included
    turns     : one shape a turn
    carriers  : one shape a carrier
    lengths   : per equation, (rows,) mm for a distance, None for the others
    """

    drawn: Array
    turns: tuple[TurnShape, ...]
    carriers: tuple[CarrierShape, ...]
    lengths: tuple[Array | None, ...]

    @property
    def rows(self) -> int:
        """Number of geometries in the batch."""
        return int(self.drawn.shape[2])

    def length(self, equation: int) -> Array | None:
        """Return what a numbered equation keeps, (rows,) mm; None but for distances. Drivers come after all others."""
        return self.lengths[equation] if equation < len(self.lengths) else None

    def relinked(self, topology: Topology, lengths: Mapping[str, float | Array]) -> "Geometry":
        """Return the same drawing with some links at other lengths, mm: one or (lengths,) each.

        What they do not set stays the very same array.
        """
        set_anew = [equation.keeps_one_of(lengths) for equation in topology.equations]
        return replace(
            self,
            lengths=tuple(
                equation.length_in(self.drawn, lengths) if anew else length
                for equation, anew, length in zip(topology.equations, set_anew, self.lengths, strict=True)
            ),
        )

    @property
    def scale_mm(self) -> float:
        """A size to judge rounding by: the largest extent, at least a metre."""
        spread = self.drawn.max(axis=(1, 2)) - self.drawn.min(axis=(1, 2))
        return max(1000.0, float(spread.max()))


def geometry_of(
    topology: Topology, points: Array, link_lengths: Mapping[str, float | Array] | None = None
) -> Geometry:
    """Return the shapes of a batch of drawn geometries.

    points       : (rows, n, 3) mm, real points in the topology's order
    link_lengths : mm, for links set to a length other than as drawn; a number or (rows,)
    """
    drawn = np.ascontiguousarray(np.asarray(points, dtype=float).T[:, list(topology.source)])
    given = link_lengths or {}
    return Geometry(
        drawn=drawn,
        turns=tuple(_turn_shape(turn, drawn) for turn in topology.turns),
        carriers=tuple(_carrier_shape(carrier, drawn) for carrier in topology.carriers),
        lengths=tuple(equation.length_in(drawn, given) for equation in topology.equations),
    )


def drawn_unknowns(topology: Topology, geometry: Geometry) -> Array:
    """Return the unknowns as drawn, (unknowns, rows): turns at zero, free points where they stand, mm."""
    free = np.swapaxes(geometry.drawn[:, list(topology.free)], 0, 1).reshape(-1, geometry.rows)
    return np.concatenate([np.zeros((len(topology.turns), geometry.rows)), free])


def _turn_shape(turn: Turn, drawn: Array) -> TurnShape:
    origin = drawn[:, [turn.origin]]
    axis = drawn[:, [turn.tip]] - origin
    axis = axis / np.sqrt(dot(axis, axis))
    arms = drawn[:, list(turn.members)] - origin
    axial = axis * dot(arms, axis)
    radial = arms - axial
    return TurnShape(axis=axis, centre=origin + axial, radial=radial, tangent=cross(axis, radial))


def _carrier_shape(carrier: Carrier, drawn: Array) -> CarrierShape:
    """Solve each carried point for its shares of the body's edges."""
    a = drawn[:, [carrier.basis[0]]]
    e1 = drawn[:, [carrier.basis[1]]] - a
    arms = drawn[:, list(carrier.members)] - a
    if len(carrier.basis) == 2:
        along = dot(arms, e1) / dot(e1, e1)
        none, off = np.zeros_like(along), arms - along * e1
        far = np.sqrt(dot(off, off))
        beside = np.where(far > ROUNDING_MM, far, 0.0)
        toward = np.where(beside > 0, off, 0.0) / np.where(beside > 0, beside, 1.0)
        per_line = np.broadcast_to(1 / np.sqrt(dot(e1, e1)), along.shape)
        return CarrierShape(along, none, none, beside, toward, per_line)
    e2 = drawn[:, [carrier.basis[2]]] - a
    normal = cross(e1, e2)
    area = dot(normal, normal)
    none = np.zeros(arms.shape[1:])
    return CarrierShape(
        along=dot(cross(arms, e2), normal) / area,
        across=dot(cross(e1, arms), normal) / area,
        out=dot(arms, normal) / area,
        beside=none,
        toward=np.zeros_like(arms),
        per_line=none,
    )
