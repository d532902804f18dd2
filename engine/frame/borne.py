"""What a frame bears: stress, buckling and movement of every member and mount, in the case that is worst for each.

Share       of what its metal allows: its yield, less beside a weld.
Stiffness   of a mount along its load: the load over how far it moves along itself, that mount loaded alone, N/mm.
Takes       of the wheel rate, a mount in series with its unit: k/(k + stiffness), k the unit's own rate along its line, as
            far as the unit carries the wheel.
"""

import numpy as np

from engine.document.frame_sides import OTHER
from engine.document.make import GRADES
from engine.document.schema import Project
from engine.facts import facts
from engine.frame.assembled import Assembled, Mount, assembled
from engine.frame.cases import LoadCase, Loaded, loaded
from engine.frame.element import euler_johnson
from engine.frame.solve import Solved
from engine.linkage.vectors import Array
from engine.workup import WorkUp

HELD_AS = {0: 1.0, 1: 0.7, 2: 0.5}  # effective length, by how many of its ends are welded
STEP_MM = 0.5  # of wheel, about ride, for a unit's own rate


@facts
class MemberBorne:
    """One member: the case and the place (share of its length) of its greatest stress, N, N·mm, N/mm².

    share : the most of what its metal allows anywhere in it; buckling how many times its greatest push it bears, None unpushed
    """

    name: str
    case: str
    stress: float
    at: float
    axial: float
    bending: tuple[float, float]
    torsion: float
    share: float
    buckling: float | None


@facts
class MountBorne:
    """One mount: the case of its greatest force, how it moves there (mm), and what gives.

    stiffness : None where it stands on what the chassis holds; takes None where no unit is on it
    """

    name: str
    on: str
    case: str
    force: float
    moves: Array
    stiffness: float | None
    takes: float | None


@facts
class Borne:
    """A frame under all of its cases. buckles_at by case; unheld the cases that push along a loose way."""

    frame: Assembled
    solved: Solved
    loaded: Loaded
    members: list[MemberBorne]
    mounts: list[MountBorne]
    buckles_at: dict[str, float | None]
    unheld: list[str]
    displacements: Array


def borne(project: Project, buckling: bool = True, given: Loaded | None = None) -> Borne:
    """Return what a job's frame bears; raise the engine's errors for a linkage that cannot move.

    buckling : whether each case's lowest load factor of the whole is looked for; given : loads that are known already
    """
    its = loaded(project) if given is None else given
    with_load = {mount.removesuffix(OTHER) for case in its.cases for mount in case.loads}
    frame = assembled(project, with_load)
    solved = Solved(frame)
    loads = np.array([_on_nodes(frame, case) for case in its.cases]).T.reshape(6 * len(frame.names), -1)
    moved, held = solved.moves(loads)
    carried = solved.carried(moved) if frame.elements else np.zeros((0, 12, len(its.cases)))
    kept = [k for k in range(len(its.cases)) if held[k]]
    return Borne(
        frame=frame,
        solved=solved,
        loaded=its,
        members=_members(project, frame, its.cases, carried, kept),
        mounts=_mounts(frame, solved, its, moved, kept),
        buckles_at={
            case.name: solved.buckles_at(carried[:, 6, k]) if buckling and k in kept else None
            for k, case in enumerate(its.cases)
        },
        unheld=[case.name for k, case in enumerate(its.cases) if not held[k]],
        displacements=moved,
    )


def _on_nodes(frame: Assembled, case: LoadCase) -> Array:
    found = np.zeros(6 * len(frame.names))
    for mount in frame.mounts:
        force = case.loads.get(mount.name)
        if force is not None:
            found[6 * mount.node : 6 * mount.node + 3] += force
            found[6 * mount.node + 3 : 6 * mount.node + 6] += np.cross(mount.arm, force)
    return found


def _members(
    project: Project, frame: Assembled, cases: list[LoadCase], carried: Array, kept: list[int]
) -> list[MemberBorne]:
    if not kept:
        return []
    weld = 1.0 if project.frame is None else project.frame.weld_share
    found = []
    for number, member in enumerate(frame.members):
        mine = [k for k, e in enumerate(frame.elements) if e.member == number]
        section, yields = frame.sections[number], GRADES[member.metal]
        worst, share, push = None, 0.0, 0.0
        for k in mine:
            element = frame.elements[k]
            for side, at in ((0, element.start), (1, element.end)):
                force = carried[k][6 * side : 6 * side + 6][:, kept] * (1 if side else -1)
                stress = section.stress(force[0], force[4], force[5], force[3])
                which = int(stress.argmax())
                near_weld = (
                    at in (0.0, 1.0)
                    and member.ends_held[int(at)] == "welded"
                    and frame.welded.get(element.nodes[side], False)
                )
                share = max(share, float(stress[which]) / (yields * (weld if near_weld else 1.0)))
                if worst is None or stress[which] > worst[0] * (1 + 1e-9):
                    worst = (float(stress[which]), which, at, force[:, which])
            push = max(push, float(-carried[k][6][kept].min()))
        assert worst is not None
        stress_, which, at, force = worst
        long = sum(frame.elements[k].long for k in mine)
        welded = sum(how == "welded" for how in member.ends_held)
        found.append(
            MemberBorne(
                name=member.name,
                case=cases[kept[which]].name,
                stress=stress_,
                at=at,
                axial=float(force[0]),
                bending=(float(force[4]), float(force[5])),
                torsion=float(force[3]),
                share=share,
                buckling=None
                if push < 1e-6
                else euler_johnson(section, long, HELD_AS[welded], yields) / push,
            )
        )
    return found


def _mounts(frame: Assembled, solved: Solved, its: Loaded, moved: Array, kept: list[int]) -> list[MountBorne]:
    found = []
    for mount in frame.mounts:
        forces = [
            (float(np.linalg.norm(f)), k)
            for k in kept
            if (f := its.cases[k].loads.get(mount.name)) is not None
        ]
        if not forces:
            continue
        force, k = max(forces, key=lambda one: one[0] + 1e-9 * -one[1])
        way = its.cases[k].loads[mount.name] / force
        own, holds = solved.moves(_alone(frame, mount, way)[:, None])
        gives = float(_at(own[:, 0], mount) @ way)
        stiff = None if gives <= 1e-15 else 1 / gives
        found.append(
            MountBorne(
                name=mount.name,
                on=mount.on,
                case=its.cases[k].name,
                force=force,
                moves=_at(moved[:, k], mount),
                stiffness=stiff if holds[0] else 0.0,
                takes=_takes(its.works[mount.station], mount, frame, solved),
            )
        )
    return found


def _alone(frame: Assembled, mount: Mount, force: Array) -> Array:
    found = np.zeros(6 * len(frame.names))
    found[6 * mount.node : 6 * mount.node + 3] = force
    found[6 * mount.node + 3 : 6 * mount.node + 6] = np.cross(mount.arm, force)
    return found


def _at(moved: Array, mount: Mount) -> Array:
    """Return how a mount moves, its arm turned with what carries it, mm."""
    node = moved[6 * mount.node : 6 * mount.node + 6]
    found: Array = node[:3] + np.cross(node[3:], mount.arm)
    return found


def _takes(work: WorkUp, mount: Mount, frame: Assembled, solved: Solved) -> float | None:
    """Return the share of the wheel rate that the mount's give takes away; None where no unit stands on it."""
    units = [unit for unit in work.station.units if mount.point in unit.ends]
    ride = work.solved.ride
    if not units or ride is None or ride.wheel_rate <= 0:
        return None
    travels = np.array([ride.travel - STEP_MM, ride.travel, ride.travel + STEP_MM])
    rows = work.solved.mover.at(travels)
    index = work.linkage.index
    lost = 0.0
    for unit in units:
        its = rows.units[unit.name]
        if unit.kind in ("strap", "bump_stop") and abs(float(its.force[1])) < 1e-9:
            continue
        shorter = float(its.length[0] - its.length[2])
        rate = float(its.force[2] - its.force[0]) / shorter if abs(shorter) > 1e-9 else 0.0
        if rate <= 0:
            continue
        place = rows.solution.motion.place[:, :, 1]
        far = unit.ends[1] if unit.ends[0] == mount.point else unit.ends[0]
        way = place[:, index[mount.point]] - place[:, index[far]]
        way = way / np.linalg.norm(way) * (np.array([1.0, -1.0, 1.0]) if mount.mirrored else 1.0)
        gives = float(_at(solved.moves(_alone(frame, mount, way)[:, None])[0][:, 0], mount) @ way)
        carries = rate * float(its.motion_ratio[1]) ** 2 / (ride.wheel_rate * len(work.station.wheels))
        lost += min(carries, 1.0) * rate * gives / (1 + rate * gives)
    return lost
