"""A frame with its other side written out.

Other side   of a mirrored frame: what is mirrored carries its name with OTHER behind it; what lies on the centreline, or
             mirrors onto something that is there already, stands once.
"""

import numpy as np
from numpy.typing import NDArray

from engine.document.check_frame import node_places
from engine.document.frame import Frame
from engine.document.schema import Project

OTHER = ", other side"
SAME_MM = 0.5  # two places nearer than this are one
MIRROR = np.array([1.0, -1.0, 1.0])
UP, AHEAD = np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0])
UPRIGHT = 0.999  # a member so near to up has no height of its own: ahead stands for it


def both_sides(project: Project) -> tuple[Frame, dict[str, NDArray[np.float64]]]:
    """Return the frame with what is mirrored written out, and where every node stands, mm."""
    frame = project.frame or Frame()
    places = {name: np.array(at, dtype=float) for name, at in node_places(project).items()}
    if not frame.mirrored:
        return frame, places
    image: dict[str, str] = {}
    for name, at in list(places.items()):
        across = at * MIRROR
        there = next((n for n, p in places.items() if np.linalg.norm(p - across) < SAME_MM), None)
        image[name] = there or name + OTHER
        places.setdefault(image[name], across)
    members = list(frame.members)
    pairs = {frozenset(member.ends) for member in members}
    carries = dict(frame.carries)
    for member in frame.members:
        ends = [image[end] for end in member.ends]
        if frozenset(ends) in pairs:
            continue
        turned = {
            key: [c * w for c, w in zip(value, MIRROR, strict=True)]
            for key in ("up", "pin")
            if (value := getattr(member, key)) is not None
        }
        members.append(member.model_copy(update={"name": member.name + OTHER, "ends": ends, **turned}))
    names = {member.name for member in members}
    for name, its in frame.carries.items():
        node = None if its.node is None else image[its.node]
        on = (
            None
            if its.member is None
            else (its.member + OTHER if its.member + OTHER in names else its.member)
        )
        carries.setdefault(name + OTHER, its.model_copy(update={"node": node, "member": on}))
    held = dict(frame.held) | {image[name]: how for name, how in frame.held.items()}
    written = frame.model_copy(update={"members": members, "carries": carries, "held": held})
    return written, places


def axes_of(along: NDArray[np.float64], up: NDArray[np.float64] | None) -> NDArray[np.float64]:
    """Return a member's own axes as rows, (3, 3): along it, across, and the way of its height."""
    x = along / np.linalg.norm(along)
    if up is None:
        up = AHEAD if abs(float(x @ UP)) > UPRIGHT else UP
    z = np.asarray(up, dtype=float) - x * float(x @ np.asarray(up, dtype=float))
    z = z / np.linalg.norm(z)
    return np.array([x, np.cross(z, x), z])


def tube_lines(project: Project) -> list[tuple[list[float], list[float]]]:
    """Return the middle line of every member, both sides: its two places, mm."""
    frame, places = both_sides(project)
    return [(places[m.ends[0]].tolist(), places[m.ends[1]].tolist()) for m in frame.members]
