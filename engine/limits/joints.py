"""Rod ends, bearings and shaft joints: how far each leans or bends through heave and articulation.

Tilt      of a rod from square to its bolt, degrees: what a spherical bearing must allow.
Bend      between a shaft and the axis of what it is fixed to at one end, degrees.
Plunge    change of a shaft's length between its joint centres, mm.
"""

from collections.abc import Sequence

import numpy as np

from engine.document.schema import Coilover, Damper, Joint, Shaft
from engine.document.units import Eye
from engine.facts import facts
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array, cross_rows


@facts
class Tilt:
    """The worst of one bearing: degrees, what is rated, and where (heave and articulation, mm)."""

    subjects: tuple[str, ...]
    worst: float
    rated: float
    heave: float
    articulation: float


@facts
class ShaftUse:
    """One shaft over the grid: worst bend at each end (degrees), shortest and longest (mm), and where."""

    name: str
    bends: tuple[float, float]
    rated: float
    shortest: float
    longest: float
    least: float | None
    most: float | None
    worst_at: tuple[float, float]
    shortest_at: tuple[float, float]
    longest_at: tuple[float, float]


@facts
class Bearing:
    """A bolt on one host through a bearing at `point`, and the way from there to `far` that leans on it.

    subjects : what it belongs to, as a finding names it
    rated    : degrees from square that it allows, None where nobody has said
    """

    subjects: tuple[str, ...]
    point: str
    far: str
    host: str
    bolt: tuple[float, ...]
    rated: float | None


def bearings_of(linkage: Linkage) -> tuple[Bearing, ...]:
    """Return every rod end that the file gives a bolt to, and every eye of a damper."""
    found = [_of_joint(linkage, joint) for joint in linkage.station.joints]
    for unit in linkage.station.units:
        if isinstance(unit, Coilover | Damper):
            found += [_of_eye(linkage, unit, eye) for eye in unit.eyes]
    return tuple(found)


def _of_joint(linkage: Linkage, joint: Joint) -> Bearing:
    members = linkage.bodies.get(joint.rod)
    if members is None:
        members = list(next(unit.ends for unit in linkage.station.units if unit.name == joint.rod))
    far = next(name for name in members if name != joint.point)
    return Bearing(
        subjects=(joint.name,),
        point=joint.point,
        far=far,
        host=joint.on,
        bolt=tuple(joint.bolt),
        rated=joint.rated,
    )


def _of_eye(linkage: Linkage, unit: Coilover | Damper, eye: Eye) -> Bearing:
    return Bearing(
        subjects=(unit.name, eye.end),
        point=eye.end,
        far=next(end for end in unit.ends if end != eye.end),
        host=host_of(linkage, eye.end),
        bolt=tuple(eye.bolt),
        rated=eye.rated,
    )


def lean_deg(linkage: Linkage, bearing: Bearing, place: Array) -> Array:
    """Return how far a bearing leans from square to its bolt, (positions,) degrees; `place` (3, n, positions) mm."""
    along = pose_of(linkage, bearing.host, place).direction(_unit(bearing.bolt))
    rod = (place[:, linkage.index[bearing.far]] - place[:, linkage.index[bearing.point]]).T
    lean: Array = np.abs(90 - angle_deg(along, rod))
    return lean


def joint_tilts(linkage: Linkage, grid: Grid) -> tuple[Tilt, ...]:
    """Return the worst tilt of every rated bearing."""
    found = []
    for bearing in bearings_of(linkage):
        if bearing.rated is not None:
            lean = lean_deg(linkage, bearing, grid.place)
            worst = int(lean.argmax())
            found.append(
                Tilt(
                    subjects=bearing.subjects,
                    worst=float(lean[worst]),
                    rated=bearing.rated,
                    heave=float(grid.heave[worst]),
                    articulation=float(grid.articulation[worst]),
                )
            )
    return tuple(found)


def bend_deg(linkage: Linkage, shaft: Shaft, place: Array) -> tuple[Array, Array]:
    """Return how far a shaft bends the joint at each of its ends, (positions,) degrees."""
    one, other = (place[:, linkage.index[end]].T for end in shaft.ends)
    bends = []
    for end, axis in zip(shaft.ends, shaft.axes, strict=True):
        along = pose_of(linkage, host_of(linkage, end), place).direction(_unit(axis))
        bend = angle_deg(along, other - one)
        bends.append(np.minimum(bend, 180 - bend))  # an axis may be given either way round
    return bends[0], bends[1]


def shaft_length_mm(linkage: Linkage, shaft: Shaft, place: Array) -> Array:
    """Return a shaft's length between its joint centres, (positions,) mm."""
    one, other = (place[:, linkage.index[end]] for end in shaft.ends)
    length: Array = np.linalg.norm(other - one, axis=0)
    return length


def shaft_uses(linkage: Linkage, grid: Grid) -> tuple[ShaftUse, ...]:
    """Return how every shaft is bent and stretched."""
    return tuple(_shaft_use(linkage, grid, shaft) for shaft in linkage.station.shafts)


def _shaft_use(linkage: Linkage, grid: Grid, shaft: Shaft) -> ShaftUse:
    bends = bend_deg(linkage, shaft, grid.place)
    lengths = shaft_length_mm(linkage, shaft, grid.place)
    worst, short, long = int(np.max(bends, axis=0).argmax()), int(lengths.argmin()), int(lengths.argmax())

    def where(row: int) -> tuple[float, float]:
        return float(grid.heave[row]), float(grid.articulation[row])

    return ShaftUse(
        name=shaft.name,
        bends=(float(bends[0].max()), float(bends[1].max())),
        rated=shaft.rated,
        shortest=float(lengths[short]),
        longest=float(lengths[long]),
        least=None if shaft.length is None else shaft.length.least,
        most=None if shaft.length is None else shaft.length.most,
        worst_at=where(worst),
        shortest_at=where(short),
        longest_at=where(long),
    )


@facts(kw_only=False)
class EyeSide:
    """How far a unit's own axis of motion leans from square to its bolt, degrees, at the drawn position."""

    unit: str
    end: str
    off_square: float


def eyes_square(linkage: Linkage, grid: Grid) -> tuple[EyeSide, ...]:
    """Return, for every eye with a bolt, the worst angle by which the unit leans out of square to it."""
    return tuple(
        EyeSide(bearing.subjects[0], bearing.point, float(lean_deg(linkage, bearing, grid.place).max()))
        for bearing in bearings_of(linkage)
        if len(bearing.subjects) > 1
    )


def angle_deg(one: Array, other: Array) -> Array:
    """Return the angle between rows of vectors (rows, 3), degrees, well-behaved near 0° and 180°."""
    across = np.linalg.norm(cross_rows(one, other), axis=1)
    angle: Array = np.degrees(np.arctan2(across, (one * other).sum(axis=1)))
    return angle


def _unit(vector: Sequence[float]) -> Array:
    array = np.array(vector, dtype=float)
    unit: Array = array / np.linalg.norm(array)
    return unit
