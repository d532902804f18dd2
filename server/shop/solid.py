"""The frame in space, for whoever has a modeller: every tube with its ends as they are cut, as STL in mm and as GLB in metres.

Ring   the outline of a member's section; each of its places runs from where one end stops it to where the other does.
"""

import math
from typing import Any, Literal

import numpy as np
import trimesh

from engine.document.schema import Project
from engine.linkage.vectors import Array
from engine.shop.frame_tubes import Placed, placed
from engine.shop.stock import Profile

ROUND = 96
TO_GLB = np.array([[0.0, 0.001, 0, 0], [0, 0, 0.001, 0], [0.001, 0, 0, 0], [0, 0, 0, 1]])  # left, up, ahead


class NoFrame(ValueError):
    """A job without a frame, in a sentence."""


def frame_solid(project: Project, form: Literal["stl", "glb"]) -> bytes:
    """Return the frame's tubes as a file; raise NoFrame."""
    solids = {one.name: mesh_of(one) for one in placed(project)}
    if not solids:
        raise NoFrame("This job has no frame to draw: draw its tubes on Frame first.")
    if form == "stl":
        whole: bytes = trimesh.util.concatenate(list(solids.values())).export(file_type="stl")
        return whole
    scene: Any = trimesh.Scene({name: solid for name, solid in solids.items()})
    scene.apply_transform(TO_GLB)
    data: bytes = scene.export(file_type="glb")
    return data


def mesh_of(member: Placed) -> Any:
    """Return one member as a closed mesh, mm."""
    outer, inner = _section(member)
    rings = [outer] if inner is None else [outer, inner]
    count = len(outer)
    spots = np.concatenate([_ends(member, ring) for ring in rings])
    k = np.arange(count)
    then = (k + 1) % count
    faces = [_strip(k, then, 0, count)]
    if inner is None:
        for side in (0, count):
            fan = np.stack([np.full(count - 2, side), side + k[1:-1], side + k[2:]], axis=1)
            faces.append(fan[:, ::-1] if side == 0 else fan)
    else:
        far = 2 * count
        faces.append(_strip(k, then, far, far + count)[:, ::-1])
        faces.append(_strip(k, then, far, 0))
        faces.append(_strip(k, then, count, far + count))
    solid = trimesh.Trimesh(vertices=spots, faces=np.concatenate(faces), process=False)
    return solid


def _strip(k: Any, then: Any, low: int, high: int) -> Any:
    """Return the triangles between two rings of one count, (n, 3)."""
    return np.concatenate(
        [
            np.stack([low + k, low + then, high + then], axis=1),
            np.stack([low + k, high + then, high + k], axis=1),
        ]
    )


def _section(member: Placed) -> tuple[Array, Array | None]:
    """Return the outlines of a member's section, (n, 2) mm across and up, anticlockwise as seen from its far end; inner None where it is solid."""
    tube = member.cut.tube
    if isinstance(tube, Profile):
        corners = np.array([[1.0, 1.0], [-1.0, 1.0], [-1.0, -1.0], [1.0, -1.0]])
        outer = corners * [tube.across / 2, tube.outside / 2]
        return outer, outer - corners * tube.wall if tube.hollow else None
    turn = np.arange(ROUND) * 2 * math.pi / ROUND
    way = np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return way * tube.outside / 2, way * tube.bore / 2 if tube.bore > 1e-6 else None


def _ends(member: Placed, ring: Array) -> Array:
    """Return where each place of a ring begins and ends in space, (2n, 3) mm: first all beginnings."""
    across = ring @ member.axes[1:]
    found = []
    for side, inward in ((0, member.axes[0]), (1, -member.axes[0])):
        found.append(member.corners[side] + across + _stops(member, side, across, inward)[:, None] * inward)
    return np.concatenate(found)


def _stops(member: Placed, side: int, across: Array, inward: Array) -> Array:
    """Return how far in from its corner the metal begins at each place across, (n,) mm."""
    kind, *its = member.ends[side]
    if kind == "plane":
        way = its[0]
        return member.over[side] - (across @ way) / float(inward @ way)
    if kind == "round":
        axis, radius = its
        axis = axis / np.linalg.norm(axis)
        flat = across - (across @ axis)[:, None] * axis
        run = inward - float(inward @ axis) * axis
        a, b = float(run @ run), 2 * flat @ run
        c = (flat**2).sum(axis=1) - radius**2
        found: Array = (-b + np.sqrt(np.maximum(b**2 - 4 * a * c, 0.0))) / (2 * a)
        return found
    return np.zeros(len(across))
