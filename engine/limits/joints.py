"""Rod ends, bearings and shaft joints: how far each leans or bends through heave and articulation.

Tilt      of a rod from square to its bolt, degrees: what a spherical bearing must allow.
Bend      between a shaft and the axis of what it is fixed to at one end, degrees.
Plunge    change of a shaft's length between its joint centres, mm.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from engine.document.schema import Coilover, Damper, Joint, Shaft
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array


@dataclass(frozen=True, kw_only=True)
class Tilt:
    """The worst of one bearing: degrees, what is rated, and where (heave and articulation, mm)."""

    name: str
    worst: float
    rated: float
    heave: float
    articulation: float


@dataclass(frozen=True, kw_only=True)
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


def joint_tilts(linkage: Linkage, grid: Grid) -> tuple[Tilt, ...]:
    """Return the worst tilt of every rated joint, and of every rated eye of a damper."""
    found = [_joint_tilt(linkage, grid, joint) for joint in linkage.station.joints]
    for unit in linkage.station.units:
        if isinstance(unit, Coilover | Damper):
            for eye in unit.eyes:
                if eye.rated is not None:
                    host = host_of(linkage, eye.end)
                    far = next(end for end in unit.ends if end != eye.end)
                    name = f"{unit.name} at {eye.end}"
                    found.append(_tilt(linkage, grid, name, eye.end, far, eye.bolt, host, eye.rated))
    return tuple(found)


def _joint_tilt(linkage: Linkage, grid: Grid, joint: Joint) -> Tilt:
    members = linkage.bodies.get(joint.rod)
    if members is None:
        members = list(next(unit.ends for unit in linkage.station.units if unit.name == joint.rod))
    far = next(name for name in members if name != joint.point)
    return _tilt(linkage, grid, joint.name, joint.point, far, joint.bolt, joint.on, joint.rated)


def _tilt(
    linkage: Linkage, grid: Grid, name: str, point: str, far: str, bolt: list[float], host: str, rated: float
) -> Tilt:
    along = pose_of(linkage, host, grid.place).direction(_unit(bolt))
    rod = (grid.place[:, linkage.index[far]] - grid.place[:, linkage.index[point]]).T
    lean = np.abs(90 - angle_deg(along, rod))
    worst = int(lean.argmax())
    return Tilt(
        name=name,
        worst=float(lean[worst]),
        rated=rated,
        heave=float(grid.heave[worst]),
        articulation=float(grid.articulation[worst]),
    )


def shaft_uses(linkage: Linkage, grid: Grid) -> tuple[ShaftUse, ...]:
    """Return how every shaft is bent and stretched."""
    return tuple(_shaft_use(linkage, grid, shaft) for shaft in linkage.station.shafts)


def _shaft_use(linkage: Linkage, grid: Grid, shaft: Shaft) -> ShaftUse:
    one, other = (grid.place[:, linkage.index[end]].T for end in shaft.ends)
    line, bends = other - one, []
    for end, axis in zip(shaft.ends, shaft.axes, strict=True):
        along = pose_of(linkage, host_of(linkage, end), grid.place).direction(_unit(axis))
        bend = angle_deg(along, line)
        bends.append(np.minimum(bend, 180 - bend))  # an axis may be given either way round
    lengths = np.linalg.norm(line, axis=1)
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


@dataclass(frozen=True)
class EyeSide:
    """How far a unit's own axis of motion leans from square to its bolt, degrees, at the drawn position."""

    unit: str
    end: str
    off_square: float


def eyes_square(linkage: Linkage, grid: Grid) -> tuple[EyeSide, ...]:
    """Return, for every eye with a bolt, the worst angle by which the unit leans out of square to it."""
    found = []
    for unit in linkage.station.units:
        if isinstance(unit, Coilover | Damper):
            for eye in unit.eyes:
                far = next(end for end in unit.ends if end != eye.end)
                host = host_of(linkage, eye.end)
                tilt = _tilt(linkage, grid, unit.name, eye.end, far, eye.bolt, host, 90.0)
                found.append(EyeSide(unit.name, eye.end, tilt.worst))
    return tuple(found)


def angle_deg(one: Array, other: Array) -> Array:
    """Return the angle between rows of vectors (rows, 3), degrees, well-behaved near 0° and 180°."""
    across = np.linalg.norm(np.cross(one, other), axis=1)
    angle: Array = np.degrees(np.arctan2(across, (one * other).sum(axis=1)))
    return angle


def _unit(vector: list[float]) -> Array:
    array = np.array(vector, dtype=float)
    unit: Array = array / np.linalg.norm(array)
    return unit
