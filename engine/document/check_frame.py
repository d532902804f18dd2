"""What no single value of a frame can show: nodes that are nowhere, members between nothing, tubes thicker than wide."""

from collections.abc import Iterator

import numpy as np

from engine.document.check_survey import drawn_places
from engine.document.frame import Frame, Member
from engine.document.schema import Project
from engine.errors import Fault

LEAST_LONG_MM = 1.0


def frame_faults(project: Project) -> list[Fault]:
    """Return every fault of the frame beside the job it belongs to."""
    frame = project.frame
    if frame is None:
        return []
    places = drawn_places(project)
    faults = [*_node_faults(frame, places), *_name_faults(frame)]
    if not faults:
        faults += [*_member_faults(frame, node_places(project)), *_carry_faults(project, frame)]
    return faults


def node_places(project: Project) -> dict[str, list[float]]:
    """Return where every node stands, mm."""
    frame, places = project.frame, drawn_places(project)
    nodes = {} if frame is None else frame.nodes
    return {name: list(places[at]) if isinstance(at, str) else list(at) for name, at in nodes.items()}


def _node_faults(frame: Frame, places: dict[str, list[float]]) -> Iterator[Fault]:
    for name, at in frame.nodes.items():
        if isinstance(at, str) and at not in places:
            yield Fault(
                f"frame.nodes.{name}",
                f'"{at}" is no point of a station (STATION/POINT) and no mark of the survey',
            )


def _name_faults(frame: Frame) -> Iterator[Fault]:
    names = [member.name for member in frame.members]
    for number, member in enumerate(frame.members):
        at = f"frame.members[{number}]"
        if names.index(member.name) < number:
            yield Fault(f"{at}.name", f'"{member.name}" is the name of another member; give each its own')
        for end in member.ends:
            if end not in frame.nodes:
                yield Fault(f"{at}.ends", f'"{end}" is no node of the frame')
        sizes = [size for size in (member.tube, member.box, member.flat) if size is not None]
        if len(sizes) != 1:
            yield Fault(at, f"give one of tube, box and flat, got {len(sizes)}")
    for name in frame.held:
        if name not in frame.nodes:
            yield Fault(f"frame.held.{name}", "is no node of the frame")


def _member_faults(frame: Frame, places: dict[str, list[float]]) -> Iterator[Fault]:
    for number, member in enumerate(frame.members):
        at = f"frame.members[{number}]"
        along = np.array(places[member.ends[1]]) - np.array(places[member.ends[0]])
        if np.linalg.norm(along) < LEAST_LONG_MM:
            yield Fault(f"{at}.ends", "both ends stand in one place; a member has a length")
            continue
        yield from _size_faults(at, member)
        if member.up is not None and np.linalg.norm(np.cross(along, member.up)) < 1e-6 * np.linalg.norm(
            along
        ):
            yield Fault(f"{at}.up", "lies along the member; give a direction across it")
        if member.pin is not None and np.linalg.norm(member.pin) < 1e-9:
            yield Fault(f"{at}.pin", "is no direction")
        if member.pin is not None and "pinned" not in member.ends_held:
            yield Fault(f"{at}.pin", "neither end is pinned; say so in ends_held, or take the pin out")


def _size_faults(at: str, member: Member) -> Iterator[Fault]:
    if member.tube is not None and 2 * member.tube.wall > member.tube.outside + 1e-9:
        yield Fault(
            f"{at}.tube.wall",
            f"a wall is at most half of {member.tube.outside:g} mm, got {member.tube.wall:g}",
        )
    if member.box is not None and 2 * member.box.wall >= min(member.box.height, member.box.width):
        yield Fault(f"{at}.box.wall", "a wall is less than half of the height and of the width")


def _carry_faults(project: Project, frame: Frame) -> Iterator[Fault]:
    mounts = {f"{station.name}/{point}" for station in project.stations for point in station.chassis}
    members = {member.name for member in frame.members}
    for name, carried in frame.carries.items():
        at = f"frame.carries.{name}"
        if name not in mounts:
            yield Fault(at, "is no chassis point of a station; write STATION/POINT")
        if (carried.member is None) == (carried.node is None):
            yield Fault(at, "give a member or a node, one of them")
        elif carried.member is not None and carried.member not in members:
            yield Fault(f"{at}.member", f'"{carried.member}" is no member of the frame')
        elif carried.node is not None and carried.node not in frame.nodes:
            yield Fault(f"{at}.node", f'"{carried.node}" is no node of the frame')
