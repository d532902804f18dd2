"""Where something is bolted on: every end of a rod, strap or damper that needs a tab, and every pivot of an arm or rocker.

Bolt       as the document gives it (a damper's eyes, a joint), else square to the way the rod swings in.
Lean       how far the rod leans out of square to its bolt over heave and articulation, degrees.
Towards    from the hole to its foot: to the nearest structure on the same host, else away from what pulls and pushes.
Forces     of every load case on what the tab stands on, in its drawn axes; things on one bolt push together, and each alone.
Shared     things whose ends stand in one place on one host are held by one bolt: the first is the one that says it.
Not here   a rocker's joints (its plates hold them), a corner's upright (bought or cast: never welded), bags (cups).
"""

from collections.abc import Mapping
from dataclasses import replace
from functools import cached_property
from types import MappingProxyType
from typing import Any

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
from engine.loads.peak import Peak
from engine.ride.angles import rocker_joints
from engine.workup import WorkUp

STILL_DEG = 0.2  # a rod that swings less gives its bolt no direction
REACH_MOST_MM = 90.0  # a structure further away than this is reached by a tower, not by a tab
STRUCTURE_MOST_MM = 450.0
ONE_PLACE_MM = 1.0  # ends nearer to one another than this are drawn in one place
KINDS = ("unit", "arm", "rocker", "rod", "strap")  # whose bolt it is, where several share one
NOBODY: Mapping[tuple[str, str], Array] = MappingProxyType({})
NOWHERE: Mapping[str, Array] = MappingProxyType({})


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
    also    : what else stands on the same bolt: its point, and the unit or rod
    spot, bolt, towards : (3,) mm and directions as drawn
    way     : (3,) direction as drawn from the hole to the other end; of a pivot, of its greatest force
    forces  : (cases, 3) N on what carries it, in its drawn axes; `cases` names each
    couples : (cases,) N·mm square to the bolt, by which one tab of a pair bears more than the other
    load    : N in the plane square to the bolt, at most; sideways : N along the bolt; static : N at ride
    lean    : degrees that what it holds leans out of square to the bolt, at most
    kind    : rod, unit, strap, arm or rocker
    given   : whether the document says the bolt's direction; a pivot's follows from its body
    square, least_lean : the bolt (3,) that its rod swings square to, and what it then leans, degrees; None for a pivot
    crossed : degrees between the bolts that two things in this place are given, where they are given two
    """

    point: str
    holds: str
    on: str
    kind: str
    spot: Array
    bolt: Array
    towards: Array
    way: Array
    forces: Array
    cases: tuple[str, ...]
    couples: Array
    static: float
    lean: float
    given: bool
    ground: Ground | None
    square: Array | None = None
    least_lean: float = 0.0
    also: tuple[tuple[str, str], ...] = ()
    crossed: float = 0.0

    @cached_property
    def along(self) -> Array:
        """Return the force along the bolt, case by case, (cases,) N."""
        its: Array = np.abs(self.forces @ self.bolt)
        return its

    @cached_property
    def planar(self) -> Array:
        """Return the force square to the bolt, case by case, (cases, 3) N."""
        its: Array = self.forces - np.outer(self.forces @ self.bolt, self.bolt)
        return its

    @cached_property
    def loads(self) -> Array:
        """Return its size, (cases,) N."""
        its: Array = np.linalg.norm(self.planar, axis=1)
        return its

    @property
    def load(self) -> float:
        """Return the greatest load square to the bolt, N."""
        return float(self.loads.max()) if len(self.loads) else 0.0

    @property
    def sideways(self) -> float:
        """Return the greatest force along the bolt, N."""
        return float(self.along.max()) if len(self.along) else 0.0

    @property
    def case(self) -> str:
        """Return the case of the greatest load."""
        return self.cases[int(self.loads.argmax())] if self.load > 0 else ""

    @property
    def all_held(self) -> tuple[tuple[str, str], ...]:
        """Return every point and what is held there, the one that the mount goes by first."""
        return ((self.point, self.holds), *self.also)


def mounts_of(
    work: WorkUp,
    peak: Peak | None,
    bolts: Mapping[tuple[str, str], Array] = NOBODY,
    centres: Mapping[str, Array] = NOWHERE,
) -> list[Mount]:
    """Return every mount of a station that takes a tab or a pair of them; what stands in one place shares one.

    bolts   : (3,) directions chosen, by point and what is held, for what the station says no bolt of
    centres : (3,) mm, the middle between a rocker's plates on its pivot's line, by rocker; between its pivots if left out
    """
    linkage, station = work.linkage, work.station
    finder = _Finder(work, peak, centres)
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
    return _shared(finder, found)


def _shared(finder: "_Finder", found: list[Mount]) -> list[Mount]:
    """Return mounts with those in one place made one, in the order of the first of each."""
    groups: list[list[Mount]] = []
    for mount in found:
        mine = next(
            (
                its
                for its in groups
                if its[0].on == mount.on and float(np.linalg.norm(its[0].spot - mount.spot)) < ONE_PLACE_MM
            ),
            None,
        )
        if mine is None:
            groups.append([mount])
        else:
            mine.append(mount)
    return [its[0] if len(its) == 1 else finder.together(its) for its in groups]


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
    finder = _Finder(work, peak)
    found = [
        finder.end(name, kind, point, two if point == one else one, mount.on, bolt)
        for point, holds in mount.all_held
        for name, one, two, kind in _ends(work.station)
        if name == holds
    ]
    return replace(found[0], **finder.pushing(found), also=mount.also)


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
    """Return what a unit pushes or pulls at the most, N; a strap or a bare damper at least catches the hanging wheel."""
    most = peak.units.get(unit.name)
    load = 0.0 if most is None else most.value
    if unit.kind in ("strap", "damper"):
        load = max(load, peak.loading.droop * station.mass.unsprung * GRAVITY_M_PER_S2)
    return load


class _Finder:
    """What all mounts of one station are found from."""

    def __init__(self, work: WorkUp, peak: Peak | None, centres: Mapping[str, Array] = NOWHERE) -> None:
        self.work, self.peak, self.centres = work, peak, centres
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
        ground = self.ground(spot, host, bolt)
        towards = _square(-drawn if ground is None else ground.way, bolt)
        forces, cases = self._pushes(name, point, host)
        return Mount(
            point=point,
            holds=name,
            on=host,
            kind=kind,
            spot=spot,
            bolt=bolt,
            towards=towards,
            way=drawn,
            forces=forces,
            cases=cases,
            couples=np.zeros(len(forces)),
            static=self.static_of(name),
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
                spot = self.centres.get(body, np.mean([self.spot(one) for one in held], axis=0))
            away = spot - np.mean(members, axis=0)
            ground = self.ground(spot, "chassis", bolt)
            towards = _square(away if ground is None else ground.way, bolt)
            forces, couples = self._on_pivot(held if rocker else [point], spot, bolt)
            loads = np.linalg.norm(forces - np.outer(forces @ bolt, bolt), axis=1)
            worst = int(loads.argmax()) if len(loads) else 0
            way = forces[worst] if len(loads) and loads[worst] > 0 else towards
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
                    forces=forces,
                    cases=() if self.peak is None else self.peak.words,
                    couples=couples,
                    static=self._static_at(held if rocker else [point]),
                    lean=0.0,
                    given=True,
                    ground=ground,
                )
            )
        return found

    def _on_pivot(self, points: list[str], spot: Array, bolt: Array) -> tuple[Array, Array]:
        """Return the force at pivots together, (cases, 3) N, and its moment about a spot square to the bolt, (cases,) N·mm."""
        if self.peak is None:
            return np.zeros((0, 3)), np.zeros(0)
        if len(points) == 1:
            forces = self.peak.bush_forces(points[0])
            return forces, np.zeros(len(forces))
        each = [self.peak.forces_at(point, None) for point in points]
        moments = sum(
            (np.cross(self.spot(point) - spot, its) for point, its in zip(points, each, strict=True)),
            np.zeros((len(each[0]), 3)),
        )
        moments = moments - np.outer(moments @ bolt, bolt)
        return np.sum(each, axis=0), np.linalg.norm(moments, axis=1)

    def together(self, its: list[Mount]) -> Mount:
        """Return mounts in one place as one: by the first of unit, arm, rocker, rod, strap, and a bolt that is given."""
        first, *others = sorted(its, key=lambda one: (KINDS.index(one.kind), not one.given))
        crossed = max(
            (
                float(np.degrees(np.arccos(min(abs(float(first.bolt @ one.bolt)), 1.0))))
                for one in others
                if first.given and one.given
            ),
            default=0.0,
        )
        lean = max([first.lean, *(self._leaning(one, first.bolt) for one in others if one.kind == "rod")])
        also = tuple((one.point, one.holds) for one in others)
        return replace(first, **self.pushing([first, *others]), also=also, crossed=crossed, lean=lean)

    def pushing(self, its: list[Mount]) -> dict[str, Any]:
        """Return the forces of things on one bolt: all together in every case, and each alone."""
        if len(its) == 1:
            return {"forces": its[0].forces, "cases": its[0].cases, "couples": its[0].couples}
        count = 0 if self.peak is None else len(self.peak.cases)
        total = sum((one.forces[:count] for one in its), np.zeros((count, 3)))
        every = [total, *(one.forces for one in its)]
        couples = [np.zeros(count), *(one.couples for one in its)]
        words = () if self.peak is None else self.peak.words
        cases = (*words, *(case for one in its for case in one.cases))
        static = sum(one.static for one in its)
        return {
            "forces": np.concatenate(every),
            "cases": cases,
            "couples": np.concatenate(couples),
            "static": static,
        }

    def _leaning(self, mount: Mount, bolt: Array) -> float:
        ends = next(its for its in _ends(self.station) if its[0] == mount.holds)
        far = ends[2] if ends[1] == mount.point else ends[1]
        return _lean(self._ways(mount.point, far, mount.on), bolt)

    def _pushes(self, name: str, point: str, host: str) -> tuple[Array, tuple[str, ...]]:
        """Return what an end pushes its host with in every case, in the host's drawn axes, (cases, 3) N, and their names."""
        peak = self.peak
        if peak is None:
            return np.zeros((0, 3)), ()
        unit = next((unit for unit in self.station.units if unit.name == name), None)
        if unit is None:
            return peak.in_host(-peak.forces_at(point, name), host), peak.words
        forces = peak.unit_forces(name, point)
        for other in self.station.units:
            # A stop or a coil about the damper stands on its eyes.
            if isinstance(other, BumpStop | SpringUnit) and self._carries(unit, other):
                at = min(other.ends, key=lambda end: float(np.linalg.norm(self.spot(end) - self.spot(point))))
                forces = forces + peak.unit_forces(other.name, at)
        cases = peak.words
        catches = unit_load(self.station, peak, unit)
        if catches > (np.linalg.norm(forces, axis=1).max() if len(forces) else 0.0):
            far = unit.ends[1] if point == unit.ends[0] else unit.ends[0]
            pull = _unit(self.spot(far) - self.spot(point)) * catches
            return np.vstack([peak.in_host(forces, host), pull]), (*cases, "droop, caught")
        return peak.in_host(forces, host), cases

    def _carries(self, unit: AnyUnit, other: AnyUnit) -> bool:
        """Return whether a damper is the one that a stop or coil stands on: the first between the same two places."""
        dampers = [
            one
            for one in self.station.units
            if one.kind in ("coilover", "damper") and self._same_ends(one, other)
        ]
        return bool(dampers) and dampers[0].name == unit.name

    def _same_ends(self, one: AnyUnit, other: AnyUnit) -> bool:
        return all(
            any(float(np.linalg.norm(self.spot(end) - self.spot(its))) < ONE_PLACE_MM for its in other.ends)
            for end in one.ends
        )

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


def grounds_of(work: WorkUp, bag: AirSpring, load: float, case: str | None = None) -> list[Mount]:
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
                bolt=_square(np.array([1.0, 0.0, 0.0]), away),
                towards=away,
                way=away,
                forces=np.array([away * load]),
                cases=("bump" if case is None else case,),
                couples=np.zeros(1),
                static=finder.static_of(bag.name),
                lean=0.0,
                given=True,
                ground=ground,
            )
        )
    return found
