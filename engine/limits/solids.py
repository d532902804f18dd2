"""Solids for clearances: convex, each tied to something that moves.

Core   a box of three half sizes about a centre, with a disc square to its first axis, or a list of corners;
       whichever of these are not nothing are added up (Minkowski). A cylinder is a half size and a disc.
Skin   a radius all round the core: a capsule is a line with a skin.
Host   "chassis", a body or a unit.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import field
from typing import Any

import numpy as np

from engine.compiled import loaded
from engine.document.fittings import Envelope, Place
from engine.document.schema import AirSpring, Bar, BumpStop, Coilover, Damper, SpringUnit, Station, Strap
from engine.facts import facts
from engine.forces.units import law_of
from engine.linkage.linkage import Linkage
from engine.linkage.pose import host_of, poses_of
from engine.linkage.vectors import Array

POSING = loaded("engine.linkage.posing")

MAX_CORNERS = 24


@facts
class Solid:
    """One solid as drawn.

    centre (3,), axes (3, 3) rows, half (3,), disc, skin: mm; corners (k, 3) about the centre or None
    facing : for a half space, its outward direction; its core is the point `centre`
    spans   : it fills the way between its host's two ends, whatever their distance
    coil    : for a coil, its free length and the length between its unit's ends at which it is free
    ignore  : names of solids that may touch this one
    """

    name: str
    what: str
    host: str
    centre: Array
    axes: Array = field(default_factory=lambda: np.eye(3))
    half: Array = field(default_factory=lambda: np.zeros(3))
    disc: float = 0.0
    skin: float = 0.0
    corners: Array | None = None
    facing: Array | None = None
    spans: bool = False
    coil: tuple[float, float] | None = None
    ignore: frozenset[str] = frozenset()


@facts
class Placed:
    """A solid at many positions: centre (rows, 3), axes (rows, 3, 3), half (rows, 3), corners (rows, k, 3)."""

    solid: Solid
    centre: Array
    axes: Array
    half: Array
    corners: Array | None

    def reach(self) -> Array:
        """Return the radius of a ball about the centre that holds the solid, (rows,) mm."""
        if self.corners is not None:
            return np.asarray(np.linalg.norm(self.corners, axis=2).max(axis=1) + self.solid.skin)
        across = np.hypot(np.linalg.norm(self.half, axis=1), self.solid.disc)
        return np.asarray(across + self.solid.skin)


def solids_on(linkage: Linkage) -> list[Solid]:
    """Return the solids of a linkage's station, made once."""
    if "solids" not in linkage.kept:
        linkage.kept["solids"] = solids_of(linkage.station)
    found: list[Solid] = linkage.kept["solids"]
    return found


def solids_of(station: Station) -> list[Solid]:
    """Return the station's envelopes, and the tyres, coils, bags and dampers whose sizes are known."""
    solids = [_enveloped(station, envelope) for envelope in station.envelopes]
    solids += _tyres(station)
    for unit in station.units:
        if isinstance(unit, BumpStop | Strap | Bar):
            continue
        coil, bag = getattr(unit, "coil_diameter", None), getattr(unit, "max_diameter", None)
        body = getattr(unit, "body_diameter", None)
        if coil or bag:
            solids.append(
                _between(station, unit, "bag" if bag else "spring", float(coil or bag or 0.0) / 2, unit.name)
            )
        if body:
            name = f"{unit.name} body" if coil else unit.name
            solids.append(_between(station, unit, "damper", body / 2, name))
    solids += _shafts(station)
    return solids


def _at(station: Station, place: Place) -> Array:
    return np.array(station.points[place] if isinstance(place, str) else place, dtype=float)


def _enveloped(station: Station, envelope: Envelope) -> Solid:
    shared: dict[str, Any] = {
        "name": envelope.name,
        "what": envelope.what,
        "host": envelope.on,
        "ignore": frozenset(envelope.ignore),
    }
    match envelope.shape:
        case "capsule" | "cylinder":
            assert envelope.along is not None and envelope.radius is not None
            one, other = (_at(station, place) for place in envelope.along)
            round_ends = envelope.shape == "capsule"
            return Solid(
                **shared,
                centre=(one + other) / 2,
                axes=axes_along(other - one),
                half=np.array([float(np.linalg.norm(other - one)) / 2, 0.0, 0.0]),
                disc=0.0 if round_ends else envelope.radius,
                skin=envelope.radius if round_ends else 0.0,
            )
        case "box":
            assert envelope.centre is not None and envelope.size is not None
            axes = _turned(envelope.turn or [0.0, 0.0, 0.0])
            return Solid(
                **shared, centre=_at(station, envelope.centre), axes=axes, half=np.array(envelope.size) / 2
            )
        case "half_space":
            assert envelope.at is not None and envelope.facing is not None
            facing = np.array(envelope.facing, dtype=float)
            return Solid(**shared, centre=_at(station, envelope.at), facing=facing / np.linalg.norm(facing))
        case _:
            assert envelope.outline is not None
            corners = np.array([_at(station, place) for place in envelope.outline])
            centre = corners.mean(axis=0)
            return Solid(**shared, centre=centre, corners=corners - centre, skin=envelope.thickness / 2)


def _turned(degrees: list[float]) -> Array:
    """Return axes turned about x, then y, then z, as rows."""
    turn = np.eye(3)
    for axis, angle in enumerate(np.radians(degrees)):
        c, s = np.cos(angle), np.sin(angle)
        one = np.eye(3)
        i, j = (axis + 1) % 3, (axis + 2) % 3
        one[[i, i, j, j], [i, j, i, j]] = [c, -s, s, c]
        turn = one @ turn
    return turn.T


def axes_along(direction: Array) -> Array:
    """Return three square axes (rows) of which the first lies along a direction."""
    # In plain numbers: hundreds of single bolts and spanners are turned so, and an array a vector is ten times slower.
    along = math.hypot(*direction)
    a, b, c = (float(part) / along for part in direction)
    least = min(abs(a), abs(b), abs(c))
    x, y, z = (0.0, c, -b) if abs(a) == least else (-c, 0.0, a) if abs(b) == least else (b, -a, 0.0)
    across = math.hypot(x, y, z)
    x, y, z = x / across, y / across, z / across
    return np.array([[a, b, c], [x, y, z], [b * z - c * y, c * x - a * z, a * y - b * x]])


def _tyres(station: Station) -> list[Solid]:
    found = []
    for wheel in station.wheels:
        if wheel.spindle is None or wheel.tyre_radius is None or wheel.tyre_width is None:
            continue
        centre = np.array(station.points[wheel.centre], dtype=float)
        axis = np.array(station.points[wheel.spindle], dtype=float) - centre
        host = max(
            (body for body, members in station.bodies.items() if wheel.centre in members),
            key=lambda body: len(station.bodies[body]),
        )
        name = "tyre" if len(station.wheels) == 1 else f"tyre {wheel.name}"
        half = np.array([wheel.tyre_width / 2, 0.0, 0.0])
        found.append(
            Solid(
                name=name,
                what="tyre",
                host=host,
                centre=centre,
                axes=axes_along(axis),
                half=half,
                disc=wheel.tyre_radius,
            )
        )
    return found


def _between(
    station: Station, unit: Coilover | SpringUnit | AirSpring | Damper, what: str, radius: float, name: str
) -> Solid:
    """Return the solid that stands between a unit's ends; a coil only as long as it is squeezed."""
    coil = None
    if what == "spring" and isinstance(unit, Coilover | SpringUnit):
        law = law_of(unit)
        assert law.stack is not None
        coil = (law.stack.free_length, law.free_reference)
    one, other = (np.array(station.points[end], dtype=float) for end in unit.ends)
    return Solid(
        name=name,
        what=what,
        host=unit.name,
        centre=(one + other) / 2,
        axes=axes_along(other - one),
        disc=radius,
        spans=True,
        coil=coil,
    )


def _shafts(station: Station) -> list[Solid]:
    found = []
    for shaft in station.shafts:
        if shaft.radius is not None:
            one, other = (np.array(station.points[end], dtype=float) for end in shaft.ends)
            found.append(
                Solid(
                    name=shaft.name,
                    what="shaft",
                    host=f"shaft:{shaft.name}",
                    centre=(one + other) / 2,
                    axes=axes_along(other - one),
                    half=np.zeros(3),
                    skin=shaft.radius,
                    spans=True,
                )
            )
    return found


def members_of(station: Station, host: str) -> set[str]:
    """Return the points that belong to a host."""
    if host in station.bodies:
        return set(station.bodies[host])
    return set(_ends_of(station, host))


def _ends_of(station: Station, host: str) -> list[str]:
    """Return the two points that a shaft or a unit goes between; none for what is neither."""
    if host.startswith("shaft:"):
        return next(shaft.ends for shaft in station.shafts if f"shaft:{shaft.name}" == host)
    return next((unit.ends for unit in station.units if unit.name == host), [])


def placed_all(
    linkage: Linkage, solids: Sequence[Solid], place: Array, drawn_places: Array | None = None
) -> dict[str, Placed]:
    """Return every solid at solved places (3, n, rows), by name.

    drawn_places : where each row has a drawing of its own
    """
    place = np.ascontiguousarray(place)
    carried = _carried(linkage, [solid for solid in solids if not solid.spans], place, drawn_places)
    stretched = _stretched(linkage, [solid for solid in solids if solid.spans], place)
    return {its.solid.name: its for its in (*carried, *stretched)}


def _carried(
    linkage: Linkage, solids: Sequence[Solid], place: Array, drawn_places: Array | None
) -> Iterator[Placed]:
    """Return solids that go where their hosts go."""
    rows = place.shape[2]
    poses = poses_of(linkage, dict.fromkeys(solid.host for solid in solids), place, drawn_places)
    for solid in solids:
        pose = poses[solid.host]
        centre, axes = np.empty((rows, 3)), np.empty((rows, 3, 3))
        arm = np.atleast_2d(solid.centre - pose.drawn)
        POSING.carried(pose.turn, pose.origin, arm, np.ascontiguousarray(solid.axes), centre, axes)
        yield Placed(
            solid=solid,
            centre=centre,
            axes=axes,
            half=np.broadcast_to(solid.half, (rows, 3)),
            corners=None if solid.corners is None else solid.corners @ np.swapaxes(pose.turn, 1, 2),
        )


def _stretched(linkage: Linkage, solids: Sequence[Solid], place: Array) -> Iterator[Placed]:
    """Return solids that fill the way between two points, whatever its length."""
    rows = place.shape[2]
    for solid in solids:
        one, other = (linkage.index[end] for end in _ends_of(linkage.station, solid.host))
        centre, axes, length = np.empty((rows, 3)), np.empty((rows, 3, 3)), np.empty(rows)
        POSING.stretched(place, one, other, centre, axes, length)
        if solid.coil is not None:
            free, reference = solid.coil
            length = np.minimum(length, free - np.maximum(reference - length, 0.0))
        half = np.zeros((rows, 3))
        half[:, 0] = np.maximum(length, 1.0) / 2
        yield Placed(solid=solid, centre=centre, axes=axes, half=half, corners=None)


def host_bodies(linkage: Linkage, solid: Solid) -> set[str]:
    """Return the bodies that a solid is tied to: its own host, or both hosts of a unit's ends."""
    ends = _ends_of(linkage.station, solid.host)
    return {host_of(linkage, end) for end in ends} if ends else {solid.host}
