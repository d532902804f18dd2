"""A frame put together: members mirrored and cut into elements where mounts stand on them, mounts on their stiff arms.

Arm          from the place that carries a mount to the mount itself; it does not give.
"""

import itertools
from collections.abc import Iterator, Mapping

import numpy as np

from engine.document.frame import Frame, Member
from engine.document.frame_sides import MIRROR, OTHER, axes_of, both_sides
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.frame.section import KG_PER_MM3, Section, section_of
from engine.linkage.vectors import Array

NEAR_MM = 150.0  # a member further from a mount than this does not carry it
CUT_MM = 1.0  # a mount so near to a member's end stands on the end
TURNS = np.eye(3)


@facts
class Element:
    """A straight piece of a member between two nodes, by number; from and to are shares of the member's length.

    free : of each end the turns that its joint lets go, (n, 3) in the element's axes; None where it is welded
    """

    member: int
    nodes: tuple[int, int]
    axes: Array
    long: float
    start: float
    end: float
    free: tuple[Array | None, Array | None]


@facts
class Mount:
    """A mount on what carries it: the node's number, its arm from there (mm), and where it stands."""

    name: str
    station: str
    point: str
    node: int
    arm: Array
    at: Array
    on: str
    mirrored: bool


@facts
class Assembled:
    """Everything that is solved: nodes (n, 3) mm, members with their sections, elements, holds by node's number.

    loose_mounts : mounts that nothing carries; welded : by node, whether two members are welded together there
    """

    names: list[str]
    places: Array
    members: list[Member]
    sections: list[Section]
    elements: list[Element]
    held: dict[int, str]
    mounts: list[Mount]
    uncarried: list[str]
    welded: dict[int, bool]

    @property
    def mass(self) -> float:
        """Return its mass, kg."""
        return sum(KG_PER_MM3 * self.sections[e.member].area * e.long for e in self.elements)


def mount_places(project: Project) -> dict[str, tuple[Station, str, Array, bool]]:
    """Return every chassis point that a station stands on, by STATION/POINT; those of a mirrored corner on both sides."""
    mirrored = project.frame is not None and project.frame.mirrored
    found = {}
    for station in project.stations:
        if station.variant_of is not None:
            continue
        twice = (
            mirrored and station.kind == "corner" and station.other_side == "mirror" and not station.single
        )
        for point in station.chassis:
            at = np.array(station.points[point], dtype=float)
            found[f"{station.name}/{point}"] = (station, point, at, False)
            if twice:
                found[f"{station.name}/{point}{OTHER}"] = (station, point, at * MIRROR, True)
    return found


def assembled(project: Project, loaded: set[str] | None = None) -> Assembled:
    """Return a job's frame put together; `loaded` the mounts to which anything comes, all if left out."""
    frame, places = both_sides(project)
    used = [name for name in places if any(name in m.ends for m in frame.members) or name in frame.held]
    names = list(dict.fromkeys([*used, *(c.node for c in frame.carries.values() if c.node is not None)]))
    spots = [places[name] for name in names]
    number = {name: k for k, name in enumerate(names)}
    cuts: dict[int, list[tuple[float, int]]] = {
        k: [(0.0, number[m.ends[0]]), (1.0, number[m.ends[1]])] for k, m in enumerate(frame.members)
    }
    mounts, uncarried = [], []
    for name, (station, point, at, mirrored) in mount_places(project).items():
        if loaded is not None and f"{station.name}/{point}" not in loaded:
            continue
        on = _carrier(frame, places, name, at)
        if on is None:
            uncarried.append(name)
            continue
        kind, its = on
        if kind == "node":
            node = number.setdefault(its, len(names))
            if node == len(names):
                names.append(its)
                spots.append(places[its])
        else:
            k = next(k for k, m in enumerate(frame.members) if m.name == its)
            node = _cut(cuts[k], frame.members[k], places, at, names, spots, name)
        mounts.append(
            Mount(
                name=name,
                station=station.name,
                point=point,
                node=node,
                arm=at - spots[node],
                at=at,
                on=its,
                mirrored=mirrored,
            )
        )
    places_all = np.array(spots, dtype=float).reshape(-1, 3)
    elements = list(_elements(frame, cuts, places_all))
    return Assembled(
        names=names,
        places=places_all,
        members=list(frame.members),
        sections=[section_of(member) for member in frame.members],
        elements=elements,
        held={number[name]: how for name, how in frame.held.items() if name in number},
        mounts=mounts,
        uncarried=uncarried,
        welded=_welded(frame, number),
    )


def _carrier(frame: Frame, places: Mapping[str, Array], name: str, at: Array) -> tuple[str, str] | None:
    """Return what a mount stands on, ("node" | "member", its name), as said or the nearest member."""
    said = frame.carries.get(name)
    if said is not None and said.node is not None:
        return ("node", said.node)
    if said is not None and said.member is not None:
        return ("member", said.member)
    near = [
        (round(_nearest(places[m.ends[0]], places[m.ends[1]], at)[1], 6), k, m.name)
        for k, m in enumerate(frame.members)
    ]
    best = min(near, default=None)
    return None if best is None or best[0] > NEAR_MM else ("member", best[2])


def _nearest(one: Array, other: Array, at: Array) -> tuple[float, float]:
    """Return the share of the way from one to another that is nearest to a place, and how far that is."""
    along = other - one
    share = float(np.clip((at - one) @ along / (along @ along), 0.0, 1.0))
    return share, float(np.linalg.norm(at - one - share * along))


def _cut(
    cut: list[tuple[float, int]],
    member: Member,
    places: Mapping[str, Array],
    at: Array,
    names: list[str],
    spots: list[Array],
    name: str,
) -> int:
    """Return the node at which a mount stands on a member, a new one where there is none so near."""
    one, other = (places[end] for end in member.ends)
    long = float(np.linalg.norm(other - one))
    share = _nearest(one, other, at)[0]
    there = next((node for s, node in cut if abs(s - share) * long < CUT_MM), None)
    if there is not None:
        return there
    names.append(f"under {name}")
    spots.append(one + share * (other - one))
    cut.append((share, len(names) - 1))
    cut.sort()
    return len(names) - 1


def _elements(frame: Frame, cuts: dict[int, list[tuple[float, int]]], places: Array) -> Iterator[Element]:
    for k, member in enumerate(frame.members):
        cut = cuts[k]
        for (start, one), (end, other) in itertools.pairwise(cut):
            along = places[other] - places[one]
            axes = axes_of(along, None if member.up is None else np.array(member.up, dtype=float))
            frees = [
                _free(member, side, axes) if share in (0.0, 1.0) and share == side else None
                for side, share in ((0, start), (1, end))
            ]
            yield Element(
                member=k,
                nodes=(one, other),
                axes=axes,
                long=float(np.linalg.norm(along)),
                start=start,
                end=end,
                free=(frees[0], frees[1]),
            )


def _free(member: Member, side: int, axes: Array) -> Array | None:
    """Return the turns that a member's end lets go, (n, 3) in its own axes; None where it is welded."""
    if member.ends_held[side] == "welded":
        return None
    if member.pin is None:
        return TURNS
    way = axes @ np.array(member.pin, dtype=float)
    free: Array = (way / np.linalg.norm(way))[None]
    return free


def _welded(frame: Frame, number: Mapping[str, int]) -> dict[int, bool]:
    count: dict[int, int] = {}
    for member in frame.members:
        for end, how in zip(member.ends, member.ends_held, strict=True):
            if how == "welded":
                count[number[end]] = count.get(number[end], 0) + 1
    return {node: many > 1 for node, many in count.items()}
