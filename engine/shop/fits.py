"""Whether what is made fits: its own shapes among everything else through travel and articulation, bolts that come out.

Shape    a rod is its tube, a tab pair the box about it, a tower its tube, a rocker its plates; each on its own host.
Bolt     drawn out either way along itself: its own cylinder, and a spanner's room beyond the head; at droop, ride and bump.
Left out what a part is bolted or welded to: pairs that share a point, and the structure that a tab's foot stands on.
"""

import copy
import itertools
from dataclasses import dataclass

import numpy as np

from engine.document.fittings import Envelope
from engine.document.schema import Station
from engine.limits.clearance import Clearance, clearances
from engine.limits.distance import core_distance, core_of
from engine.limits.solids import Solid, axes_along, placed_all, solids_of
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.sentences import Sentence, length, travel
from engine.shop.made import Made, Said
from engine.shop.mounts import Mount
from engine.workup import WorkUp

HEAD_MM = 8.0  # of a bolt's head and a socket's depth beyond its own length
SKIN_MM = 0.5


@dataclass(frozen=True, kw_only=True)
class Stuck:
    """A bolt that comes out neither way: at which travels (mm), and what stands in its way on each side."""

    mount: Mount
    at: tuple[float, ...]
    by: tuple[str, ...]


def bolts_stuck(work: WorkUp, mounts: list[Mount], lengths: dict[tuple[str, str], float]) -> list[Stuck]:
    """Return the bolts that cannot be drawn out at droop, ride or bump; `lengths` by point and what is held, mm."""
    grid = work.grid
    level = np.flatnonzero(grid.articulation == 0)
    if not len(level):
        return []
    heaves = grid.heave[level]
    ride = 0.0 if work.solved.ride is None else work.solved.ride.travel
    picked = level[sorted({int(heaves.argmin()), int(np.abs(heaves - ride).argmin()), int(heaves.argmax())})]
    place = np.ascontiguousarray(grid.place[:, :, picked])
    others = [solid for solid in solids_of(work.station) if solid.facing is None]
    bolts: list[tuple[Mount, int, Solid]] = []
    for mount in mounts:
        long = lengths.get((mount.point, mount.holds))
        if long is None:
            continue
        for way in (1, -1):
            near, far = mount.bolt * way * (long / 2), mount.bolt * way * (1.5 * long + HEAD_MM)
            bolts.append(
                (mount, way, _rod(f"{mount.point} {way}", mount.on, mount.spot + near, mount.spot + far))
            )
    if not bolts or not others:
        return []
    at = placed_all(work.linkage, [*others, *(solid for _, _, solid in bolts)], place)
    rows = np.arange(len(picked))
    pairs = [
        (k, other)
        for k, (mount, _, _) in enumerate(bolts)
        for other in others
        if _in_question(work, mount, other)
    ]
    if not pairs:
        return []
    one = core_of([(at[bolts[k][2].name], rows) for k, _ in pairs])
    other_side = core_of([(at[solid.name], rows) for _, solid in pairs])
    apart, _ = core_distance(one, other_side, looks=0)
    gaps = apart.reshape(len(pairs), -1) - np.array([[bolts[k][2].skin + solid.skin] for k, solid in pairs])
    held: dict[tuple[int, int], list[str]] = {}
    for (k, solid), gap in zip(pairs, gaps, strict=True):
        for row in np.flatnonzero(gap < -SKIN_MM):
            held.setdefault((k, int(row)), []).append(solid.name)
    found = []
    for k in range(0, len(bolts), 2):
        rows_stuck = [row for row in range(len(picked)) if (k, row) in held and (k + 1, row) in held]
        if rows_stuck:
            first = rows_stuck[0]
            travels = tuple(float(grid.heave[picked[n]]) for n in rows_stuck)
            found.append(Stuck(mount=bolts[k][0], at=travels, by=(held[k, first][0], held[k + 1, first][0])))
    return found


def _in_question(work: WorkUp, mount: Mount, other: Solid) -> bool:
    """Return whether a solid may stand in a bolt's way: not the unit it holds, nor the tube that its tab stands on."""
    if mount.holds in (other.host, other.name):
        return False
    if other.what == "tyre":
        along = (mount.spot - other.centre) @ other.axes[0]
        out = float(np.linalg.norm(mount.spot - other.centre - along * other.axes[0]))
        if abs(along) < other.half[0] and out < other.disc:
            return False  # it stands in the hollow of the wheel
    ends = next((unit.ends for unit in work.station.units if unit.name == other.host), None)
    if ends is not None and mount.point in ends:
        return False
    return mount.ground is None or other.name != mount.ground.name


def _rod(name: str, host: str, one: Array, other: Array, radius: float = 5.0) -> Solid:
    return Solid(
        name=name,
        what="bolt",
        host=host,
        centre=(one + other) / 2,
        axes=axes_along(other - one),
        half=np.array([float(np.linalg.norm(other - one)) / 2, 0.0, 0.0]),
        skin=radius,
    )


def part_envelopes(station: Station, parts: list[Made], mounts: list[Mount]) -> list[Envelope]:
    """Return the room that rods, tabs and towers take, each tied to what it is on; names are the parts' own."""
    by_subject = {(mount.point, mount.holds): mount for mount in mounts}
    found = []
    for part in parts:
        if part.kind == "rod" and part.cut is not None and part.cut.length > 1:
            if any(envelope.on == part.subject[1] for envelope in station.envelopes):
                continue  # the job says itself what room it takes
            members = station.bodies[part.subject[1]]
            found.append(
                _capsule(
                    part.name,
                    part.subject[1],
                    [list(station.points[m]) for m in members],
                    part.cut.tube.outside,
                    (),
                )
            )
        elif part.kind == "tab" and part.flat is not None:
            mount = by_subject.get((part.subject[1], part.subject[2]))
            if mount is not None:
                found.append(_tab(part, mount))
        elif part.kind in ("tower", "hoop", "crossbar") and part.cut is not None:
            spots = [list(spot) for spot in part.cut.spots]
            for number, (one, other) in enumerate(itertools.pairwise(spots)):
                name = part.name if len(spots) == 2 else f"{part.name}, run {number + 1}"
                found.append(_capsule(name, "chassis", [one, other], part.cut.tube.outside, ()))
    return found


def _capsule(
    name: str, on: str, along: list[list[float]], outside: float, ignore: tuple[str, ...]
) -> Envelope:
    return Envelope.model_validate(
        {
            "name": f"made: {name}",
            "shape": "cylinder",
            "on": on,
            "what": "structure",
            "along": [[float(c) for c in spot] for spot in along],
            "radius": outside / 2,
            "ignore": list(ignore),
        }
    )


def _tab(part: Made, mount: Mount) -> Envelope:
    """Return the plate about a tab or pair: as wide as its foot, from its round end to its foot."""
    across = np.cross(mount.bolt, mount.towards)
    width, reach = float(part.figure("width")), float(part.figure("reach"))
    foot = float(part.figure("foot_width"))
    thick = float(part.figure("thickness"))
    deep = thick if part.count == 1 else float(part.figure("gap")) + 2 * thick
    head, base = mount.spot - mount.towards * (width / 2), mount.spot + mount.towards * reach
    corners = [
        head - across * width / 2,
        head + across * width / 2,
        base + across * foot / 2,
        base - across * foot / 2,
    ]
    ignore = [] if mount.ground is None else [mount.ground.name]
    return Envelope.model_validate(
        {
            "name": f"made: {part.name}",
            "shape": "plate",
            "on": mount.on,
            "what": "structure",
            "outline": [[float(c) for c in corner] for corner in corners],
            "thickness": deep,
            "ignore": [*ignore, mount.holds, f"made: {mount.holds}", f"{mount.holds} body"],
        }
    )


def runs_into(work: WorkUp, parts: list[Made], mounts: list[Mount]) -> list[Clearance]:
    """Return what the parts' own shapes come nearest to through travel and articulation, the nearest first."""
    station = work.station
    own = part_envelopes(station, parts, mounts)
    taken = {envelope.name for envelope in station.envelopes}
    own = [envelope for envelope in own if envelope.name not in taken]
    if not own:
        return []
    names = {envelope.name for envelope in own}
    linkage: Linkage = copy.copy(work.linkage)
    linkage.station = station.model_copy(update={"envelopes": [*station.envelopes, *own]})
    grid: Grid = work.grid
    shares = {envelope.name: _points(station, envelope.name, parts) for envelope in own}
    found = clearances(linkage, grid, frozenset(names))
    return [
        c
        for c in found
        # What stands inside the tyre's cylinder as drawn stands in the hollow of its wheel.
        if not ("tyre" in c.kinds and c.drawn < 0)
        and not (shares.get(c.one, _of(station, c.one)) & shares.get(c.other, _of(station, c.other)))
    ]


def _points(station: Station, name: str, parts: list[Made]) -> frozenset[str]:
    """Return the points that a made part holds."""
    part = next((one for one in parts if name.startswith(f"made: {one.name}")), None)
    if part is None:
        return frozenset()
    if part.kind == "rod":
        return frozenset(station.bodies[part.subject[1]])
    return frozenset(part.subject[1:2])


def _of(station: Station, name: str) -> frozenset[str]:
    """Return the points that a solid of the document holds by itself: its unit's ends, or its link's."""
    for unit in station.units:
        if name in (unit.name, f"{unit.name} body"):
            return frozenset(unit.ends)
    envelope = next((one for one in station.envelopes if one.name == name), None)
    if envelope is not None and len(station.bodies.get(envelope.on, [])) == 2:
        return frozenset(station.bodies[envelope.on])
    return frozenset()


def said_of_fit(
    parts: list[Made], stuck: list[Stuck], near: list[Clearance], least: float
) -> dict[str, list[Said]]:
    """Return what is to be said of parts that foul, or whose bolts do not come out, by the part's name."""
    said: dict[str, list[Said]] = {}
    tabs = {(part.subject[1], part.subject[2]): part.name for part in parts if part.kind == "tab"}
    for one in stuck:
        name = tabs.get((one.mount.point, one.mount.holds))
        if name is None:
            continue
        ways = "{1} on both sides" if one.by[0] == one.by[1] else "{1} on one side, {2} on the other"
        words = f"The bolt of {{0}} cannot be drawn out at {{at}}: in its way stands {ways}. "
        words += "Turn the bolt, move the mount along it, or fit it before the other."
        told = {"at": travel(one.at[0])}
        said.setdefault(name, []).append(Said(mark="warning", say=Sentence(words, told, (name, *one.by))))
    for c in near:
        for name, other in ((c.one, c.other), (c.other, c.one)):
            if not name.startswith("made: ") or c.distance >= least:
                continue
            part = next((one for one in parts if name.startswith(f"made: {one.name}")), None)
            if part is None:
                continue
            shown = other.removeprefix("made: ")
            if c.distance < 0:
                words, mark = "{0} runs {by} into {1} at {at}: shorten it, or move its mount.", "fault"
                told = {"by": length(-c.distance), "at": travel(c.heave)}
            else:
                words, mark = "{0} passes {1} by {by} at {at}; {least} is the least.", "warning"
                told = {"by": length(c.distance), "at": travel(c.heave), "least": length(least)}
            said.setdefault(part.name, []).append(
                Said(mark=mark, say=Sentence(words, told, (part.name, shown)))
            )
            break
    return said
