"""Where something is bolted on: every end of a rod, strap or damper that needs a tab, and every pivot of an arm or rocker.

Bolt       as the document gives it (a damper's eyes, a joint), else square to the way the rod swings in.
Lean       how far the rod leans out of square to its bolt over heave and articulation, degrees.
Towards    from the hole to its foot: to the nearest structure on the same host, else away from what pulls and pushes.
Not here   a rocker's joints (its plates hold them), a corner's upright (bought or cast: never welded), bags (cups).
"""

from collections.abc import Mapping
from types import MappingProxyType

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.links import link_ends
from engine.document.schema import AirSpring, BumpStop, SpringUnit, Station
from engine.document.units import AnyUnit
from engine.facts import facts
from engine.limits.distance import core_distance, core_of
from engine.limits.joints import bearings_of
from engine.limits.solids import Solid, placed_all, solids_of
from engine.linkage.linkage import Linkage
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array
from engine.loads.joints import Peak
from engine.ride.angles import rocker_joints
from engine.workup import WorkUp

STILL_DEG = 0.2  # a rod that swings less gives its bolt no direction
REACH_MOST_MM = 90.0  # a structure further away than this is reached by a tower, not by a tab
STRUCTURE_MOST_MM = 450.0
NOBODY: Mapping[tuple[str, str], Array] = MappingProxyType({})


@facts
class Ground:
    """The structure nearest to a mount: mm away from its skin, the way there, and what it is.

    outside : mm over a round tube, 0 where it is flat; axis : (3,) of that tube as drawn
    """

    name: str
    away: float
    way: Array
    outside: float
    axis: Array


@facts
class Mount:
    """One end to be bolted on.

    holds   : the unit, rod or body; on : chassis or the body that carries it
    spot, bolt, towards : (3,) mm and directions as drawn
    way     : (3,) direction as drawn in which the load comes
    load    : N in the plane square to the bolt, at the peak multiple; sideways : N along the bolt; static : N at ride
    skew    : degrees between the load and the reach, at most
    kind    : rod, unit, strap, arm or rocker
    given   : whether the document says the bolt's direction; a pivot's follows from its body
    square, least_lean : the bolt (3,) that its rod swings square to, and what it then leans, degrees; None for a pivot
    """

    point: str
    holds: str
    on: str
    kind: str
    spot: Array
    bolt: Array
    towards: Array
    way: Array
    load: float
    sideways: float
    static: float
    skew: float
    lean: float
    given: bool
    ground: Ground | None
    square: Array | None = None
    least_lean: float = 0.0


def mounts_of(
    work: WorkUp, peak: Peak | None, bolts: Mapping[tuple[str, str], Array] = NOBODY
) -> list[Mount]:
    """Return every mount of a station that takes a tab or a pair of them.

    bolts : (3,) directions chosen, by point and what is held, for what the station says no bolt of
    """
    linkage, station = work.linkage, work.station
    finder = _Finder(work, peak)
    rockers = {joint.rocker for joint in rocker_joints(linkage)}
    found = []
    for name, one, other, kind in _ends(station):
        for point, far in ((one, other), (other, one)):
            host = _other_host(linkage, point, name)
            if host in rockers or host == name or not _weldable(station, host):
                continue
            found.append(finder.end(name, kind, point, far, host, chosen=bolts.get((point, name))))
    for body, members in station.bodies.items():
        held = [point for point in members if point in station.chassis]
        if held and link_ends(station, body) is None:
            found += finder.pivots(body, held, body in rockers)
    return found


def _ends(station: Station) -> list[tuple[str, str, str, str]]:
    links = [(body, ends) for body in station.bodies if (ends := link_ends(station, body)) is not None]
    rods = [(body, *ends, "rod") for body, ends in links]
    units = [
        (unit.name, unit.ends[0], unit.ends[1], "strap" if unit.kind == "strap" else "unit")
        for unit in station.units
        if not isinstance(unit, AirSpring | BumpStop | SpringUnit) and unit.kind != "bar"
    ]
    return rods + units


def turned(work: WorkUp, peak: Peak | None, mount: Mount, bolt: Array) -> Mount:
    """Return the mount of a rod's, damper's or strap's end with another bolt, (3,) unit."""
    ends = next(its for its in _ends(work.station) if its[0] == mount.holds)
    far = ends[2] if ends[1] == mount.point else ends[1]
    return _Finder(work, peak).end(mount.holds, mount.kind, mount.point, far, mount.on, bolt)


def _other_host(linkage: Linkage, point: str, name: str) -> str:
    """Return what carries a point besides the link that ends there; the link itself where nothing else does."""
    if point in linkage.station.chassis:
        return "chassis"
    others = [body for body, members in linkage.bodies.items() if point in members and body != name]
    return max(others, key=lambda body: len(linkage.bodies[body]), default=name)


def _weldable(station: Station, host: str) -> bool:
    """Return whether a mount is welded to a host: not to a link, nor to what carries a corner's wheel."""
    if host == "chassis":
        return True
    members = station.bodies[host]
    if len(members) < 3:
        return False
    carries = any(wheel.centre in members for wheel in station.wheels)
    held = any(point in station.chassis for point in members)
    return station.kind == "axle" or held or not carries


def unit_load(station: Station, peak: Peak, unit: AnyUnit) -> float:
    """Return what a unit pushes or pulls at the peak, N; a strap or a bare damper at least catches the hanging wheel."""
    load = peak.units.get(unit.name, 0.0)
    if unit.kind in ("strap", "damper"):
        load = max(load, peak.multiple * station.mass.unsprung * GRAVITY_M_PER_S2)
    return load


class _Finder:
    """What all mounts of one station are found from."""

    def __init__(self, work: WorkUp, peak: Peak | None) -> None:
        self.work, self.peak = work, peak
        self.linkage, self.station = work.linkage, work.station
        self.place = work.grid.place
        self.bearings = {(b.subjects[0], b.point): b for b in bearings_of(self.linkage)}
        for joint in self.station.joints:
            self.bearings[joint.rod, joint.point] = self.bearings[joint.name, joint.point]
        self.structures = [
            solid
            for solid in solids_of(self.station)
            if solid.what in ("structure", "link") and solid.facing is None
        ]

    def spot(self, point: str) -> Array:
        its: Array = self.linkage.points[self.linkage.index[point]]
        return its

    def end(
        self,
        name: str,
        kind: str,
        point: str,
        far: str,
        host: str,
        bolt: Array | None = None,
        chosen: Array | None = None,
    ) -> Mount:
        """Return the mount of one end of a rod, damper or strap.

        bolt, chosen : (3,) unit; the given one, else as the station has it, else the chosen one
        """
        spot = self.spot(point)
        ways = self._ways(point, far, host)
        drawn = _unit(self.spot(far) - spot)
        bearing = self.bearings.get((name, point))
        square = _swings_about(ways, drawn)
        if bolt is None:
            bolt = chosen if chosen is not None else square
            if bearing is not None:
                bolt = np.array(bearing.bolt)
        bolt = _unit(bolt)
        lean = _lean(ways, bolt)
        load = self._load(name, point)
        ground = self.ground(spot, host, bolt)
        towards = _square(-drawn if ground is None else ground.way, bolt)
        planar = ways - np.outer(ways @ bolt, bolt)
        planar /= np.maximum(np.linalg.norm(planar, axis=1, keepdims=True), 1e-9)
        skew = float(np.degrees(np.arccos(np.clip(np.abs(planar @ towards).min(), 0, 1))))
        return Mount(
            point=point,
            holds=name,
            on=host,
            kind=kind,
            spot=spot,
            bolt=bolt,
            towards=towards,
            way=drawn,
            load=load,
            sideways=load * float(np.sin(np.radians(lean))),
            static=self.static_of(name),
            skew=skew,
            lean=lean,
            given=bearing is not None,
            ground=ground,
            square=square,
            least_lean=_lean(ways, square),
        )

    def pivots(self, body: str, held: list[str], rocker: bool) -> list[Mount]:
        """Return the mounts of an arm's or rocker's pivots; a rocker's two stand on one bolt and make one."""
        members = [self.spot(point) for point in self.station.bodies[body]]
        bolt = _unit(self.spot(held[-1]) - self.spot(held[0])) if len(held) > 1 else np.array([0.0, 1.0, 0.0])
        spots = held[:1] if rocker else held
        found = []
        for point in spots:
            spot = self.spot(point)
            if rocker:
                spot = np.mean([self.spot(one) for one in held], axis=0)
            away = spot - np.mean(members, axis=0)
            ground = self.ground(spot, "chassis", bolt)
            towards = _square(away if ground is None else ground.way, bolt)
            forces = self._forces(held if rocker else [point])
            along = np.abs(forces @ bolt)
            across = forces - np.outer(forces @ bolt, bolt)
            load = np.linalg.norm(across, axis=1)
            reach = np.abs(across @ towards)
            skew = np.degrees(np.arctan2(np.sqrt(np.maximum(load**2 - reach**2, 0)), reach))
            worst = int(load.argmax()) if len(load) else 0
            way = forces[worst] if len(load) and load[worst] > 0 else towards
            found.append(
                Mount(
                    point=point,
                    holds=body,
                    on="chassis",
                    kind="rocker" if rocker else "arm",
                    spot=spot,
                    bolt=bolt,
                    towards=towards,
                    way=_unit(way),
                    load=float(load.max()) if len(load) else 0.0,
                    sideways=float(along.max()) if len(load) else 0.0,
                    static=self._static_at(held if rocker else [point]),
                    skew=float(skew[worst]) if len(load) else 0.0,
                    lean=0.0,
                    given=True,
                    ground=ground,
                )
            )
        return found

    def _ways(self, point: str, far: str, host: str) -> Array:
        """Return the directions from an end to the other one, in its host's drawn axes, (positions, 3)."""
        index = self.linkage.index
        if not self.place.shape[2]:
            return _unit(self.spot(far) - self.spot(point))[None]
        rod = (self.place[:, index[far]] - self.place[:, index[point]]).T
        turn = pose_of(self.linkage, host, self.place).turn
        own: Array = np.einsum("nji,nj->ni", turn, rod)
        own /= np.linalg.norm(own, axis=1, keepdims=True)
        return own

    def _load(self, name: str, point: str) -> float:
        if self.peak is None:
            return 0.0
        unit = next((unit for unit in self.station.units if unit.name == name), None)
        if unit is not None:
            return unit_load(self.station, self.peak, unit)
        if name in self.peak.bent:
            return self.peak.joints.get(point, 0.0)
        low, high = self.peak.links.get(name, (0.0, 0.0))
        return max(-low, high)

    def static_of(self, name: str) -> float:
        """Return what a unit or rod carries at ride, N; nothing where it stands nowhere."""
        loads = self.work.loads
        if loads is None:
            return 0.0
        bent = loads.bent.get(name)
        if bent is not None:
            return max(bent.push, bent.pull)
        return abs(loads.units.get(name, loads.links.get(name, 0.0)))

    def _static_at(self, points: list[str]) -> float:
        loads = self.work.loads
        if loads is None:
            return 0.0
        its = [
            np.array(joint.force) for joint in loads.joints if joint.body is None and joint.point in points
        ]
        return float(np.linalg.norm(np.sum(its, axis=0))) if its else 0.0

    def _forces(self, points: list[str]) -> Array:
        """Return the force on the chassis at some points together, case by case, (cases, 3) N."""
        known = {} if self.peak is None else self.peak.chassis
        its = [np.array(known[point], dtype=float) for point in points if point in known]
        if not its:
            return np.zeros((0, 3))
        total: Array = np.stack(its).sum(axis=0)
        return total

    def ground(self, spot: Array, host: str, bolt: Array) -> Ground | None:
        """Return the nearest structure of a host to a spot (3,) mm whose bolt is (3,) unit; None where none is drawn near."""
        its = [solid for solid in self.structures if solid.host == host]
        if not its:
            return None
        drawn = np.ascontiguousarray(self.linkage.points.T[:, :, None])
        dot = Solid(name="", what="structure", host="chassis", centre=spot)
        at, row = placed_all(self.linkage, [dot, *its], drawn), np.zeros(1, int)
        one = core_of([(at[dot.name], row)] * len(its))
        other = core_of([(at[solid.name], row) for solid in its])
        distance, ways = core_distance(one, other, looks=0)
        best: Ground | None = None
        for solid, apart, back in zip(its, distance, ways, strict=True):
            away, way = float(apart) - solid.skin, -back
            if away <= 0.5 or away > STRUCTURE_MOST_MM or (best is not None and away >= best.away):
                continue
            if np.linalg.norm(way - bolt * float(way @ bolt)) < 0.5:
                continue  # it lies beside the joint, along the bolt: no foot stands there
            round_tube = solid.corners is None and not solid.half[1]
            outside = 2 * max(solid.disc, solid.skin) if round_tube else 0.0
            best = Ground(name=solid.name, away=away, way=way, outside=outside, axis=solid.axes[0])
        return best


def _swings_about(ways: Array, drawn: Array) -> Array:
    """Return the direction that a rod's ways are square to; where it hardly swings, the levellest along the car."""
    middle = _unit(ways.mean(axis=0))
    spread = ways - np.outer(ways @ middle, middle)
    _, sizes, axes = np.linalg.svd(spread, full_matrices=False)
    if len(ways) > 2 and np.degrees(sizes[0] / np.sqrt(len(ways))) > STILL_DEG:
        bolt = _unit(np.cross(middle, axes[0]))
    else:
        fore = np.array([1.0, 0.0, 0.0])
        across = np.array([0.0, 1.0, 0.0])
        bolt = _square(fore if abs(float(drawn @ fore)) < 0.8 else across, drawn)
    return bolt if bolt[int(np.abs(bolt).argmax())] > 0 else -bolt


def _lean(ways: Array, bolt: Array) -> float:
    """Return how far a rod leans out of square to its bolt at the most, degrees."""
    return float(np.degrees(np.arcsin(np.clip(np.abs(ways @ bolt).max(), 0, 1))))


def _unit(vector: Array) -> Array:
    its: Array = vector / np.linalg.norm(vector)
    return its


def _square(vector: Array, bolt: Array) -> Array:
    """Return the part of a direction that is square to a bolt; any square one where nothing is left of it."""
    left = vector - bolt * float(vector @ bolt)
    if float(np.linalg.norm(left)) < 1e-6:
        left = np.cross(bolt, np.eye(3)[int(np.abs(bolt).argmin())])
    return _unit(left)


def grounds_of(work: WorkUp, bag: AirSpring, load: float) -> list[Mount]:
    """Return both ends of a bag, each with the structure beyond it; the load of a bag runs along it."""
    finder, found = _Finder(work, None), []
    for end, far in (tuple(bag.ends), tuple(reversed(bag.ends))):
        host = host_of(work.linkage, end)
        spot = finder.spot(end)
        away = _unit(spot - finder.spot(far))
        ground = finder.ground(spot, host, _square(np.array([1.0, 0.0, 0.0]), away))
        if ground is not None and float(ground.way @ away) < 0.5:
            ground = None  # what lies beside the bag carries no cup
        found.append(
            Mount(
                point=end,
                holds=bag.name,
                on=host,
                kind="bag",
                spot=spot,
                bolt=away,
                towards=away,
                way=away,
                load=load,
                sideways=0.0,
                static=finder.static_of(bag.name),
                skew=0.0,
                lean=0.0,
                given=True,
                ground=ground,
            )
        )
    return found
