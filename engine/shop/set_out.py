"""Where each mount comes on the frame: height, plumb mark, tapes to places that exist, and how close is close enough.

Tapes   three that cross well: the places whose ways to the mount span space best (largest least singular value). Where what
        is there does not cross well, the other side's mounts and marks to be made on the floor are offered too.
Loose   where even those do not: mm of place for a millimetre of tape, and which way.
Close   along each axis what moves ride height, a motion ratio, bump steer, camber or caster by as much as anybody minds.
"""

from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from engine.document.coming import wheels_of
from engine.document.schema import Project
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import turned_wheels
from engine.station.solved import SolvedStation

RIDE_MM = 2.0
RATIO_SHARE = 0.01
BUMP_STEER_DEG = 0.05  # in 25 mm, a third of what is good
CAMBER_GAIN_DEG = 0.1  # in 25 mm
CASTER_DEG = 0.25
STEP_MM = 0.5
CLOSE_MM = (0.5, 10.0)
NODE_CLOSE_MM = 2.0  # of a node of the frame: what a saw and a weld leave
CROSS_WELL = 0.4  # least singular value: a millimetre of tape is then 2.5 of place
LOOSE_MM = 3.0  # of place for a millimetre of tape: beyond this it is said
FLOOR_STEP_MM, FLOOR_REACH_MM = 300.0, 900.0
NEAR_MM, FAR_MM = 120.0, 3000.0
CANDIDATES = 14
TAPES = 3


@facts
class SetOut:
    """One mount, mm: up from the floor, out from the centreline (left is +), ahead of the datum line.

    point : of the station; or the name of a rocker's pivot, where one bolt runs through two of its points: the middle
            between its tabs
    tabs  : the points by which its tabs go
    on    : the pivot whose bolt it lies on, which has the tabs, and how far ahead of its middle, mm; None elsewhere
    tapes : place and length, the longest last; spots : where each of those places is, mm as drawn; close_enough : along fore–aft, out, up
    tape_mm : of place for a millimetre of tape; loose : which way, where that is much, else nothing
    """

    station: str
    point: str
    up: float
    out: float
    ahead: float
    tapes: tuple[tuple[str, float], ...]
    close_enough: tuple[float, float, float]
    tape_mm: float
    loose: str
    spots: tuple[tuple[float, float, float], ...] = ()
    tabs: tuple[str, ...] = ()
    on: tuple[str, float] | None = None


@facts(kw_only=False)
class OneBolt:
    """A rocker's pivot: what it is called, the middle between its tabs (3,) mm as drawn, and the points on its line."""

    name: str
    middle: Array
    points: tuple[str, ...]


Closeness = dict[str, tuple[float, float, float]]


def set_out(
    project: Project,
    solved: SolvedStation,
    close: Closeness | None = None,
    bolts: Sequence[OneBolt] = (),
) -> list[SetOut]:
    """Return every mount of a station on the chassis, from front to rear; `close` as `close_enough` has it, if known.

    bolts : of its rockers that turn about two points; each has its tabs in the middle, none at its points
    """
    station = solved.station
    places, marks, others = _there(project)
    close = close_enough(solved) if close is None else close
    floor = 0.0 if project.vehicle is None else project.vehicle.floor
    on = {point: bolt for bolt in bolts for point in bolt.points}
    for point in on:  # no tab stands there: nothing to hook a tape to
        places.pop(f"{station.name}/{point}", None)
        others.pop(f"{station.name}/{point}, other side", None)
    spots = {point: np.array(station.points[point], dtype=float) for point in station.chassis}
    spots |= {bolt.name: bolt.middle for bolt in bolts}
    found = []
    for point, spot in sorted(spots.items(), key=lambda one: -one[1][0]):
        taped = _taped(f"{station.name}/{point}", spot, places, marks, others, floor)
        found.append(
            SetOut(
                station=station.name,
                point=point,
                up=float(spot[2]) - floor,
                out=float(spot[1]),
                ahead=float(spot[0]),
                tapes=taped.tapes,
                close_enough=_closest(
                    close, next((one.points for one in bolts if one.name == point), (point,))
                ),
                spots=taped.spots,
                tape_mm=taped.mm,
                loose=taped.loose,
                tabs=next(
                    (one.points for one in bolts if one.name == point), () if point in on else (point,)
                ),
                on=None if point not in on else (on[point].name, float(spot[0] - on[point].middle[0])),
            )
        )
    return found


def nodes_set_out(project: Project, station: str) -> list[SetOut]:
    """Return every node of the frame that is no mount and no mark, where its tubes' middle lines meet; front to rear."""
    frame = project.frame
    if frame is None:
        return []
    places, marks, others = _there(project)
    own = {name: np.array(at, dtype=float) for name, at in frame.nodes.items() if not isinstance(at, str)}
    floor = 0.0 if project.vehicle is None else project.vehicle.floor
    found = []
    for name, spot in sorted(own.items(), key=lambda one: -one[1][0]):
        taped = _taped(f"{station}/{name}", spot, places, marks, others, floor)
        found.append(
            SetOut(
                station=station,
                point=name,
                up=float(spot[2]) - floor,
                out=float(spot[1]),
                ahead=float(spot[0]),
                tapes=taped.tapes,
                close_enough=(NODE_CLOSE_MM,) * 3,
                spots=taped.spots,
                tape_mm=taped.mm,
                loose=taped.loose,
            )
        )
    return found


def _there(project: Project) -> tuple[dict[str, Array], set[str], dict[str, Array]]:
    """Return the marks and mounts that a tape is hooked to, which of them are marks, and the other side's mounts."""
    marks = {} if project.survey is None else project.survey.marks
    places = {name: np.array(spot, dtype=float) for name, spot in marks.items()}
    for other in project.stations:
        for point in other.chassis:
            places[f"{other.name}/{point}"] = np.array(other.points[point], dtype=float)
    return places, set(marks), _other_side(project)


@facts
class _Taped:
    """Three tapes, the longest last, where they go, and how they cross."""

    tapes: tuple[tuple[str, float], ...]
    spots: tuple[tuple[float, float, float], ...]
    mm: float
    loose: str


def _taped(
    own: str,
    spot: Array,
    places: dict[str, Array],
    marks: set[str],
    others: dict[str, Array],
    floor: float,
) -> _Taped:
    tapes = _tapes(own, spot, places, marks, others, floor)
    ways = np.array([place - spot for _, place in tapes])
    mm, loose = (
        _loose(ways / np.linalg.norm(ways, axis=1, keepdims=True)) if len(tapes) else (np.inf, "every way")
    )
    tapes = sorted(tapes, key=lambda tape: float(np.linalg.norm(tape[1] - spot)))
    return _Taped(
        tapes=tuple((name, float(np.linalg.norm(place - spot))) for name, place in tapes),
        spots=tuple((float(p[0]), float(p[1]), float(p[2])) for _, p in tapes),
        mm=mm,
        loose=loose,
    )


def _closest(close: Closeness, points: Sequence[str]) -> tuple[float, float, float]:
    """Return what of several points asks for the most, along fore–aft, out and up, mm."""
    x, y, z = (
        min(room) for room in zip(*(close.get(one, (CLOSE_MM[1],) * 3) for one in points), strict=True)
    )
    return x, y, z


def _other_side(project: Project) -> dict[str, Array]:
    """Return the mounts of the mirror images, which stand in no station of their own."""
    return {
        f"{station.name}/{point}, other side": np.array(station.points[point], dtype=float) * [1.0, -1.0, 1.0]
        for station in project.stations
        if station.kind == "corner" and wheels_of(station) == 2 and station.variant_of is None
        for point in station.chassis
    }


def _on_floor(spot: Array, floor: float) -> dict[str, Array]:
    """Return marks that may be made on the floor about a mount, by how far ahead of the datum and out from the centreline."""
    steps = np.arange(-FLOOR_REACH_MM, FLOOR_REACH_MM + 1, FLOOR_STEP_MM)
    middle = np.round(spot[:2] / FLOOR_STEP_MM) * FLOOR_STEP_MM
    return {
        f"mark on the floor, {x:.0f} ahead and {y:.0f} out": np.array([x, y, floor])
        for x in middle[0] + steps
        for y in middle[1] + steps
    }


def _tapes(
    own: str,
    spot: Array,
    places: dict[str, Array],
    marks: set[str],
    others: dict[str, Array],
    floor: float,
) -> list[tuple[str, Array]]:
    """Return the places of three tapes that cross well: marks before mounts, what is there before what is to be made."""
    found: list[tuple[str, Array]] = []
    cross = 0.0
    for more in ({}, others, _on_floor(spot, floor)):
        names = {name: place for name, place in {**places, **more}.items() if name != own}
        tried, crossed = _best(spot, names, marks, set(more))
        if tried and (not found or crossed > cross):
            found, cross = tried, crossed
        if len(found) == TAPES and cross >= CROSS_WELL:
            break
    return found


def _best(
    spot: Array, places: dict[str, Array], marks: set[str], more: set[str]
) -> tuple[list[tuple[str, Array]], float]:
    """Return the best three of some places, and how well they cross: fewer where there are not so many in reach."""
    away = {name: float(np.linalg.norm(place - spot)) for name, place in places.items()}
    fair = [name for name, far in away.items() if NEAR_MM <= far <= FAR_MM]
    fair.sort(key=lambda name: (name in more, name not in marks, away[name]))
    near = _spread(fair, more)
    threes = _threes(len(near))
    if not len(threes):
        return [(name, places[name]) for name in near], 0.0
    ways = np.array([(places[name] - spot) / away[name] for name in near])
    there = np.array([name in marks for name in near])
    new = np.array([name in more for name in near])
    cross = crossing(ways[threes])
    # Among those that cross well, marks come first and what is to be made last; else the best crossing alone counts.
    well = np.minimum(cross, CROSS_WELL) / CROSS_WELL
    worth = np.where(
        cross >= CROSS_WELL,
        1 + 0.5 * there[threes].sum(axis=1) - 0.4 * new[threes].sum(axis=1) + 0.3 * cross,
        well,
    )
    k = int(worth.argmax())
    return [(near[n], places[near[n]]) for n in threes[k]], float(cross[k])


def _spread(names: list[str], more: set[str]) -> list[str]:
    """Return so many of the names as are tried: the first that are there, and as many of those that could be."""
    there = [name for name in names if name not in more][:CANDIDATES]
    return [*there, *[name for name in names if name in more][:CANDIDATES]]


def _loose(ways: Array) -> tuple[float, str]:
    """Return mm of place for a millimetre of tape, and which way it is loose where that is much; ways (n, 3) unit."""
    _, sizes, axes = np.linalg.svd(ways)
    least = float(sizes[2]) if len(sizes) > 2 else 0.0
    much = 1 / least if least > 1e-6 else np.inf
    way = ("fore and aft", "out and in", "up and down")[int(np.abs(axes[2]).argmax())]
    return much, way if much > LOOSE_MM else ""


@lru_cache(maxsize=2 * CANDIDATES + 1)
def _threes(count: int) -> NDArray[np.int64]:
    """Return every three of so many, (n, 3)."""
    return np.array(list(combinations(range(count), TAPES)), dtype=np.int64).reshape(-1, TAPES)


def crossing(ways: Array) -> Array:
    """Return how well threes of unit ways cross, (n,) of (n, 3, 3): their least singular value, 1 where square, 0 in a plane.

    Its square is the least eigenvalue of their dot products: 1 + 2·√p·cos(φ + 2π/3), p the mean square of the three
    dots and cos 3φ their product over p√p.
    """
    dots = np.einsum("nij,nij->in", ways, np.roll(ways, 1, axis=1))
    mean = (dots**2).sum(axis=0) / 3
    turned = np.arccos(np.clip(dots.prod(axis=0) / np.maximum(mean, 1e-30) ** 1.5, -1.0, 1.0)) / 3
    least: Array = np.sqrt(np.maximum(1 + 2 * np.sqrt(mean) * np.cos(turned + 2 * np.pi / 3), 0.0))
    return least


def close_enough(solved: SolvedStation) -> Closeness:
    """Return mm along each axis that each point may be off."""
    found: dict[str, list[float]] = {}
    ratios = (
        {}
        if solved.at_ride is None
        else {name: float(trace.motion_ratio[0]) for name, trace in solved.at_ride.units.items()}
    )
    for one in sensitivities(solved):
        room = RIDE_MM / max(abs(one.ride_mm), 1e-9)
        for unit, slope in one.ratios.items():
            ratio = ratios.get(unit, 0.0)
            if ratio and slope:
                room = min(room, RATIO_SHARE * abs(ratio) / abs(slope))
        found.setdefault(one.point, [CLOSE_MM[1]] * 3)[one.axis] = room
    for point, rooms in _wheel_rooms(solved).items():
        its = found.setdefault(point, [CLOSE_MM[1]] * 3)
        found[point] = [min(one, other) for one, other in zip(its, rooms, strict=True)]
    return {
        point: (float(its[0]), float(its[1]), float(its[2]))
        for point, its in ((point, np.clip(its, *CLOSE_MM)) for point, its in found.items())
    }


def _wheel_rooms(solved: SolvedStation) -> dict[str, list[float]]:
    """Return mm along each axis that each chassis point may be off before bump steer, camber gain or caster minds it."""
    linkage, points = solved.linkage, solved.station.chassis
    ride = solved.nearest_drawn if solved.ride is None else solved.ride.travel
    if ride is None or not points:
        return {}
    moves = np.zeros((3 * len(points), len(linkage.index), 3))
    for k, point in enumerate(points):
        for axis in range(3):
            moves[3 * k + axis, linkage.index[point], axis] = STEP_MM
    geometries = linkage.points + np.concatenate([moves, -moves])
    wheels, axis_angles = turned_wheels(solved, geometries, np.full(len(geometries), ride))
    limits: list[tuple[Array, float]] = [(axis_angles[0], CASTER_DEG)]
    for steer, gain in wheels.values():
        limits += [(steer, BUMP_STEER_DEG), (gain, CAMBER_GAIN_DEG)]
    count = len(moves)
    rooms = np.full(count, np.inf)
    for values, most in limits:
        slope = np.abs(values[:count] - values[count:]) / (2 * STEP_MM)
        rooms = np.fmin(rooms, most / np.maximum(slope, 1e-9))
    return {point: [float(room) for room in rooms[3 * k : 3 * k + 3]] for k, point in enumerate(points)}
