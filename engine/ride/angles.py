"""Angles as an angle finder reads them at a rocker's joints.

Rocker    a body on a chassis hinge that carries no wheel but does carry a unit or a rod.
Arm       from the hinge's line, square out, to the joint.
Angle     between the arm and the rod (or damper) at their joint, 0–180°; square is 90°.
Past      the same seen along the hinge and counted on through the travel: at 0° and 180° arm and rod are in line,
          and beyond it they have gone over centre. A rod that leans out of the plane hides that from the angle.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.solver import Solution
from engine.linkage.vectors import Array, cross, dot


@facts
class RockerJoint:
    """One joint of a rocker: which rod or unit meets it there, and the point at the rod's other end."""

    rocker: str
    rod: str
    is_unit: bool
    point: str
    far: str
    turn: int
    member: int


def rocker_joints(linkage: Linkage) -> tuple[RockerJoint, ...]:
    """Return every joint at which a rod or unit meets a rocker."""
    station, topology = linkage.station, linkage.topology
    wheels = set(topology.wheels)
    ends = [(body, m[0], m[1], False) for body, m in station.bodies.items() if len(m) == 2]
    ends += [
        (unit.name, unit.ends[0], unit.ends[1], True)
        for unit in station.units
        if unit.kind not in ("strap", "bump_stop", "bar")  # a stop needs no square angle; a bar says its own
    ]
    joints = []
    for number, turn in enumerate(topology.turns):
        members = {topology.names[p]: k for k, p in enumerate(turn.members)}
        if wheels & set(turn.members) or not any(
            is_unit and {a, b} & set(members) for _, a, b, is_unit in ends
        ):
            continue
        for name, one, other, is_unit in ends:
            for point, far in ((one, other), (other, one)):
                if point in members and far not in members:
                    joints.append(
                        RockerJoint(
                            rocker=turn.body,
                            rod=name,
                            is_unit=is_unit,
                            point=point,
                            far=far,
                            turn=number,
                            member=members[point],
                        )
                    )
    rods = {joint.turn for joint in joints if not joint.is_unit}
    return tuple(joint for joint in joints if joint.turn in rods)


def joint_angle(linkage: Linkage, joint: RockerJoint, solution: Solution) -> Array:
    """Return the angle at a joint over solved rows, (rows,) degrees."""
    place = solution.motion.place
    centre = linkage.solver.geometry.turns[joint.turn].centre[:, joint.member]
    arm = centre - place[:, linkage.index[joint.point]]
    rod = place[:, linkage.index[joint.far]] - place[:, linkage.index[joint.point]]
    with np.errstate(invalid="ignore"):
        cosine = dot(arm, rod) / np.sqrt(dot(arm, arm) * dot(rod, rod))
    return np.degrees(np.arccos(np.clip(cosine, -1, 1)))


def flat_angle(linkage: Linkage, joint: RockerJoint, solution: Solution) -> Array:
    """Return the angle at a joint in its rocker's plane over solved rows in order, (rows,) degrees.

    From 0 to 180 on the side it stands on at the first row, and counted on past 0 or 180 where it goes over centre.
    """
    place = solution.motion.place
    shape = linkage.solver.geometry.turns[joint.turn]
    axis = np.broadcast_to(shape.axis[:, 0], place[:, 0].shape)
    arm = shape.centre[:, joint.member] - place[:, linkage.index[joint.point]]
    rod = place[:, linkage.index[joint.far]] - place[:, linkage.index[joint.point]]
    angle = np.unwrap(np.arctan2(dot(axis, cross(arm, rod)), dot(arm, rod)))
    if len(angle) and angle[0] < 0:
        angle = -angle
    return np.degrees(angle)


def over_centre_margin_deg(angles: Array) -> float:
    """Return the least angle left to being in line, of flat angles (rows,) over the travel; 0 where one has gone over."""
    return max(0.0, float(np.minimum(angles, 180 - angles).min()))


@facts
class RockerTurn:
    """How far a rocker turns over the travel, degrees.

    bump, droop  : turn from ride (or drawn) to full bump and full droop; positive is right-handed about the hinge
                   from the first of its points that the body names toward the last
    over_centre  : per joint, the least angle left to 0° or 180° in the rocker's plane anywhere in the travel
    square_at    : per joint, mm of travel at which it stands square, None where it never does
    """

    rocker: str
    bump: float
    droop: float
    over_centre: dict[str, float]
    square_at: dict[str, float | None]


def rocker_turns(
    linkage: Linkage, travels: Array, solution: Solution, ride_mm: float
) -> tuple[RockerTurn, ...]:
    """Return each rocker's turn over reached rows (travels sorted, mm) about a ride position."""
    joints = rocker_joints(linkage)
    found = []
    for number in dict.fromkeys(joint.turn for joint in joints):
        mine = [joint for joint in joints if joint.turn == number]
        angle = np.degrees(solution.unknowns[number])
        at_ride = float(np.interp(ride_mm, travels, angle))
        angles = {joint.rod: joint_angle(linkage, joint, solution) for joint in mine}
        found.append(
            RockerTurn(
                rocker=mine[0].rocker,
                bump=float(angle[-1]) - at_ride,
                droop=float(angle[0]) - at_ride,
                over_centre={
                    joint.rod: over_centre_margin_deg(flat_angle(linkage, joint, solution)) for joint in mine
                },
                square_at={rod: _square_at(travels, a) for rod, a in angles.items()},
            )
        )
    return tuple(found)


def _square_at(travels: Array, angles: Array) -> float | None:
    off = angles - 90
    crossings = np.flatnonzero(off[:-1] * off[1:] <= 0)
    if not len(crossings):
        return None
    k = int(crossings[0])
    span = off[k] - off[k + 1]
    share = off[k] / span if span else 0.0
    return float(travels[k] + share * (travels[k + 1] - travels[k]))
