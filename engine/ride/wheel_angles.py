"""A wheel's own angles: how it steers and leans as it rises, and the axis that it steers about.

Bump steer   how much toe changes as the wheel goes up and down 25 mm from where it stands, degrees: the most of both.
At the rim   the same as the change of the distance between front and back of the tyre's middle, mm.
Camber gain  change of camber a 25 mm rise brings, degrees; top going in is negative, as camber is.
Steering axis  from the lower ball joint to the upper one, or to where a strut is held.
Caster       its lean rearward at the top seen from the side; kingpin its lean inward seen from the front, degrees.
Scrub, trail how far outside, and how far behind, the place where the axis meets the floor the tyre stands, mm.
Ackermann    how much more the inner wheel turns than the outer, as a share of what rolls without scrub (Jeantaud).
"""

import math

import numpy as np

from engine.document.schema import Link, Steering, Wheel
from engine.errors import EngineError
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array
from engine.ride.contact import contact_of
from engine.station.rows import Rows
from engine.station.solved import SolvedStation

RISE_MM = 25.0
LOCK_STEPS = 9


@facts
class WheelAngles:
    """One wheel about where it stands.

    bump_steer, camber_gain : degrees in 25 mm; rim_mm the bump steer over the tyre's diameter, None without a tyre
    toe, camber : degrees where it stands
    """

    wheel: str
    toe: float
    camber: float
    bump_steer: float
    rim_mm: float | None
    camber_gain: float


@facts
class SteeringAxis:
    """The axis that a corner's wheel steers about, where it stands: degrees and mm; and the points it runs through."""

    lower: str
    upper: str
    caster: float
    kingpin: float
    scrub: float
    trail: float


@facts
class Lock:
    """Both wheels at full lock: degrees of the inner and the outer, and the share of Ackermann; None without a wheelbase."""

    inner: float
    outer: float
    ackermann: float | None


def standing_mm(solved: SolvedStation) -> float | None:
    """Return the travel at which a station is looked at: where it stands, else the nearest to drawn."""
    return solved.nearest_drawn if solved.ride is None else solved.ride.travel


def wheel_angles(solved: SolvedStation) -> tuple[WheelAngles, ...]:
    """Return every wheel's angles; none of a wheel without a spindle point, or of one that cannot rise so far."""
    at = standing_mm(solved)
    if at is None:
        return ()
    rows = solved.at(np.array([at - RISE_MM, at, at + RISE_MM]))
    found = []
    for wheel in solved.station.wheels:
        trace = rows.wheels[wheel.name]
        if not np.isfinite(trace.toe).all():
            continue
        steer, gain = rising(trace.toe, trace.camber)
        rim = at_the_rim(wheel, steer)
        found.append(
            WheelAngles(
                wheel=wheel.name,
                toe=float(trace.toe[1]),
                camber=float(trace.camber[1]),
                bump_steer=float(steer),
                rim_mm=None if rim is None else float(rim),
                camber_gain=float(gain),
            )
        )
    return tuple(found)


def rising(toe: Array, camber: Array) -> tuple[Array, Array]:
    """Return bump steer and camber gain, degrees, from toe and camber (3, ...) below, at and above where it stands."""
    change = toe - toe[1]
    most = np.abs(change).argmax(axis=0)
    steer = np.take_along_axis(change, most[None], axis=0)[0]
    return steer, (camber[2] - camber[0]) / 2


def at_the_rim(wheel: Wheel, steer: Array) -> Array | None:
    """Return bump steer over the tyre's diameter, mm; None without a tyre."""
    return None if wheel.tyre_radius is None else 2 * wheel.tyre_radius * np.sin(np.radians(steer))


def upright_of(linkage: Linkage, wheel: Wheel) -> str | None:
    """Return the body that carries a wheel and is itself carried by others; None where an arm carries it directly."""
    chassis = set(linkage.station.chassis)
    carriers = [body for body, members in linkage.bodies.items() if wheel.centre in members]
    if not carriers:
        return None
    upright = max(carriers, key=lambda body: len(linkage.bodies[body]))
    return None if set(linkage.bodies[upright]) & chassis else upright


def tie_rod_of(linkage: Linkage, wheel: Wheel) -> tuple[str, str, str] | None:
    """Return the link that steers a corner's wheel, its outer end and its inner one; None where there is none.

    The link from the upright to the chassis that stands furthest from the steering axis.
    """
    upright, axis = upright_of(linkage, wheel), axis_points(linkage, wheel)
    if upright is None or axis is None:
        return None
    chassis, members = set(linkage.station.chassis), set(linkage.bodies[upright])
    low, high = (linkage.points[linkage.index[name]] for name in axis)
    way = (high - low) / np.linalg.norm(high - low)
    found = []
    for body, ends in linkage.bodies.items():
        outer = [end for end in ends if end in members]
        inner = [end for end in ends if end in chassis]
        if len(ends) == 2 and len(outer) == 1 and len(inner) == 1:
            arm = float(np.linalg.norm(np.cross(linkage.points[linkage.index[outer[0]]] - low, way)))
            found.append((arm, (body, outer[0], inner[0])))
    return max(found)[1] if found else None


def axis_points(linkage: Linkage, wheel: Wheel) -> tuple[str, str] | None:
    """Return the points that the steering axis runs through, lower first; None where two ball joints do not make it."""
    upright = upright_of(linkage, wheel)
    if upright is None:
        return None
    station, members = linkage.station, linkage.bodies[upright]
    chassis = set(station.chassis)
    arms = [body for body, ends in linkage.bodies.items() if len(ends) > 2 and len(set(ends) & chassis) >= 2]
    balls = {ball for arm in arms for ball in linkage.bodies[arm] if ball in members}
    strut = next((slider.through for slider in station.sliders.values() if slider.body == upright), None)
    joints = [*balls, *([strut] if strut is not None else [])]
    if len(joints) != 2:
        return None
    low, high = sorted(joints, key=lambda name: station.points[name][2])
    return low, high


def steering_axis(solved: SolvedStation) -> SteeringAxis | None:
    """Return the axis that a corner's wheel steers about where it stands; None where there is none."""
    at, linkage = standing_mm(solved), solved.linkage
    if solved.station.kind != "corner" or at is None:
        return None
    wheel = solved.station.wheels[0]
    points = axis_points(linkage, wheel)
    if points is None:
        return None
    rows = solved.at(np.array([at]))
    found = axis_of(linkage, wheel, points, rows.solution)
    caster, kingpin, scrub, trail = (float(values[0]) for values in found)
    return SteeringAxis(
        lower=points[0], upper=points[1], caster=caster, kingpin=kingpin, scrub=scrub, trail=trail
    )


def axis_of(linkage: Linkage, wheel: Wheel, points: tuple[str, str], solution: Solution) -> Array:
    """Return caster, kingpin (degrees), scrub and trail (mm) of the axis through two points over solved rows, (4, rows)."""
    low, high = (solution.motion.place[:, linkage.index[name]] for name in points)
    contact = contact_of(linkage, wheel, solution).place
    side = np.where(contact[1] >= 0, 1.0, -1.0)
    x, y, z = high - low
    with np.errstate(divide="ignore", invalid="ignore"):
        floor = low + (high - low) * (contact[2] - low[2]) / z
    return np.array(
        [
            np.degrees(np.arctan2(-x, z)),
            np.degrees(np.arctan2(-side * y, z)),
            side * (contact[1] - floor[1]),
            floor[0] - contact[0],
        ]
    )


def lock_of(solved: SolvedStation, steering: Steering) -> Lock | None:
    """Return both wheels at full lock where the station stands; None where the rack cannot go so far."""
    at = standing_mm(solved)
    if at is None:
        return None
    one, other = (_steered(solved, steering, at, way * steering.travel) for way in (1.0, -1.0))
    if one is None or other is None:
        return None
    inner, outer = max(abs(one), abs(other)), min(abs(one), abs(other))
    share = None
    if steering.wheelbase is not None and outer > 0.1:
        track = 2 * abs(solved.station.points[solved.station.wheels[0].centre][1])
        ideal = math.degrees(math.atan(1 / (1 / math.tan(math.radians(outer)) - track / steering.wheelbase)))
        share = (inner - outer) / (ideal - outer)
    return Lock(inner=inner, outer=outer, ackermann=share)


def _steered(solved: SolvedStation, steering: Steering, at_mm: float, rack_mm: float) -> float | None:
    """Return how far the wheel turns from straight with the rack moved across by so much, degrees."""
    station, rod = solved.station, steering.tie_rod
    inner = next(end for end in station.bodies[rod] if end in station.chassis)
    x, y, z = station.points[inner]
    one, other = (solved.linkage.points[solved.linkage.index[end]] for end in station.bodies[rod])
    length = solved.linkage.set_lengths.get(rod, float(np.linalg.norm(one - other)))
    moved = station.model_copy(
        update={
            "points": {**station.points, inner: [x, y + rack_mm, z]},
            "links": {**station.links, rod: Link(length=length)},
        }
    )
    try:
        linkage = Linkage(moved, solved.linkage.where)
        path = linkage.follow(np.array([at_mm]))
    except EngineError:
        return None
    if not path.reached[0]:
        return None
    wheel = station.wheels[0]
    place = path.solution.motion.place[:, :, 0]
    return _heading(linkage, wheel, place) - _heading(
        solved.linkage, wheel, _place(solved.at(np.array([at_mm])))
    )


def _place(rows: Rows) -> Array:
    place: Array = rows.solution.motion.place[:, :, 0]
    return place


def _heading(linkage: Linkage, wheel: Wheel, place: Array) -> float:
    """Return which way a wheel points, degrees from straight ahead, to the left positive."""
    assert wheel.spindle is not None
    axis = place[:, linkage.index[wheel.spindle]] - place[:, linkage.index[wheel.centre]]
    side = 1.0 if linkage.points[linkage.index[wheel.centre]][1] >= 0 else -1.0
    return math.degrees(math.atan2(-side * axis[0], side * axis[1]))
