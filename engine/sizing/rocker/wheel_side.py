"""What a rocker hangs between: the rod's moving end, solved once, and the points that a new rocker takes over.

Rod end   the end of the rod away from the rocker; its path over the travel does not depend on the rocker.
Rows      travels from full droop to full bump, where the wheel should stand among them.
"""

import numpy as np

from engine.document.schema import Coilover, Damper, Station
from engine.errors import EngineError
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.ride.angles import RockerJoint, rocker_joints
from engine.station.solved import SolvedStation

ROWS = 41


class NoRocker(EngineError, ValueError):
    """A station without a rocker that can be sized, and why."""

    code = "no_rocker"

    def __init__(self, station: str, why: str) -> None:
        self.station, self.why = station, why
        super().__init__(f"{station} has no rocker to size: {why}")


@facts
class RockerHere:
    """The names of one rocker's parts: its body, pivots, rod with both ends, and the unit that it presses."""

    rocker: str
    pivots: tuple[str, str]
    rod: str
    rod_end: str
    rod_joint: str
    unit: str
    eye: str
    far: str


@facts
class WheelSide:
    """Everything that stays while the rocker is changed.

    here    : the names of its parts
    travels : (rows,) mm; `ride` the row where the wheel should stand, `drawn` that of the drawing
    path, rate : (rows, 3) mm and mm/mm, where the rod's end goes
    drawn points (3,) mm: pivot (middle of both), axis (unit), joint, eye, far
    extended, compressed : mm between the unit's mounts; None for what is no damper
    shared  : the pivot's bolt carries another body too, so that it stays where it is
    weight_n, spring_n_per_mm : what one wheel's spring carries, and the stack's rate there; None without a coil
    """

    here: RockerHere
    travels: Array
    ride: int
    drawn: int
    path: Array
    rate: Array
    pivot: Array
    axis: Array
    joint: Array
    eye: Array
    far: Array
    extended: float | None
    compressed: float | None
    weight_n: float
    spring_n_per_mm: float | None
    shared: bool


def rockers_here(solved: SolvedStation) -> tuple[RockerHere, ...]:
    """Return every rocker that a rod turns and that presses a unit on the chassis."""
    station, joints = solved.station, rocker_joints(solved.linkage)
    found = []
    for turn in dict.fromkeys(joint.turn for joint in joints):
        mine = [joint for joint in joints if joint.turn == turn]
        rods = [joint for joint in mine if not joint.is_unit and joint.far not in station.chassis]
        units = [joint for joint in mine if joint.is_unit and joint.far in station.chassis]
        if rods and units:
            found.append(_as_it_stands(solved, rods[0], units[0]))
    return tuple(found)


def _as_it_stands(solved: SolvedStation, rod: RockerJoint, unit: RockerJoint) -> RockerHere:
    station = solved.station
    pivots = [point for point in station.bodies[rod.rocker] if point in station.chassis]
    return RockerHere(
        rocker=rod.rocker,
        pivots=(pivots[0], pivots[-1]),
        rod=rod.rod,
        rod_end=rod.far,
        rod_joint=rod.point,
        unit=unit.rod,
        eye=unit.point,
        far=unit.far,
    )


def wheel_side_of(solved: SolvedStation, rocker: str | None = None, rows: int = ROWS) -> WheelSide:
    """Return the wheel side of a rocker, the first if none is named; raise NoRocker."""
    station, linkage = solved.station, solved.linkage
    known = rockers_here(solved)
    here = next((one for one in known if rocker in (None, one.rocker)), None)
    if here is None:
        why = "no rod from a moving part turns a rocker that presses a spring or damper on the chassis."
        raise NoRocker(station.name, why if rocker is None else f'none of its rockers is called "{rocker}".')
    wanted, at = station.travel, station.travel.at or 0.0
    places = np.unique(np.concatenate([np.linspace(-wanted.droop, wanted.bump, rows), [0.0, at]]))
    wheel = Linkage(_alone(solved), linkage.where)
    path = wheel.follow(places)
    reached = path.reached
    if not reached.all():
        low, high = (float(path.travels[reached][k]) for k in (0, -1)) if reached.any() else (0.0, 0.0)
        raise NoRocker(
            station.name,
            f"the wheel side itself only reaches {low:+.1f} to {high:+.1f} mm; bring the wanted travel within that.",
        )
    motion, end = path.solution.motion, wheel.index[here.rod_end]
    unit = next(one for one in station.units if one.name == here.unit)
    ends = damper_ends_mm(unit) if isinstance(unit, Coilover | Damper) else (None, None)
    law = next(law for law in solved.springing.laws if law.name == here.unit)
    drawn = {name: linkage.points[linkage.index[name]] for name in linkage.index}
    one, other = (drawn[name] for name in here.pivots)
    axis = (other - one) / np.linalg.norm(other - one)
    # The pivot's place along its own bolt is taken where the rod's joint stands.
    pivot = one + axis * float((drawn[here.rod_joint] - one) @ axis)
    return WheelSide(
        here=here,
        travels=path.travels,
        ride=int(np.abs(path.travels - at).argmin()),
        drawn=int(np.abs(path.travels).argmin()),
        path=motion.place[:, end].T.copy(),
        rate=motion.first[:, end].T.copy(),
        pivot=pivot,
        axis=axis,
        joint=drawn[here.rod_joint],
        eye=drawn[here.eye],
        far=drawn[here.far],
        extended=ends[0],
        compressed=ends[1],
        weight_n=solved.springing.weight_n,
        spring_n_per_mm=None
        if law.stack is None
        else float(law.stack.at(np.array([0.5 * law.stack.solid_compression]))[1][0]),
        shared=any(
            set(here.pivots) & set(points) for body, points in station.bodies.items() if body != here.rocker
        ),
    )


def _alone(solved: SolvedStation) -> Station:
    """Return the station without its rockers, their rods and what hangs on them."""
    station, known = solved.station, rockers_here(solved)
    gone = {one.rocker for one in known} | {one.rod for one in known}
    bodies = {name: points for name, points in station.bodies.items() if name not in gone}
    kept = {point for points in bodies.values() for point in points}
    points = kept | {point for point in station.chassis if point in kept}
    return station.model_copy(
        update={
            "bodies": bodies,
            "points": {name: place for name, place in station.points.items() if name in points},
            "chassis": [name for name in station.chassis if name in points],
            "units": [],
            "links": {name: link for name, link in station.links.items() if name in bodies},
            "joints": [],
            "rods": {},
            "envelopes": [],
            "holes": {},
            "shafts": [],
            "tanks": [],
        }
    )
