"""Whether what is made fits: its own shapes among everything else through travel and articulation, bolts that come out.

Shape    a rod is its tube, a tab pair the box about it, a tower its tube, a rocker its plates; each on its own host.
Bolt     drawn out either way along itself: its own cylinder, and a socket's depth beyond the head; at droop, ride and bump.
Spanner  at head and nut, lying square to the bolt, free to swing 30° somewhere round it, at ride.
Left out what a part is bolted or welded to: pairs that share a point, and the structure that a tab's foot stands on.
"""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from engine.document.fittings import Envelope
from engine.document.links import link_ends
from engine.document.schema import Station
from engine.facts import facts
from engine.limits.clearance import CARE_MM, Clearance, clearances
from engine.limits.distance import core_distance, core_of
from engine.limits.solids import Placed, Solid, axes_along, placed_all, solids_of, solids_on
from engine.linkage.grid import Grid
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.shop.gussets import is_of_a_tab
from engine.shop.made import Made
from engine.shop.mounts import Mount
from engine.workup import WorkUp

HEAD_MM = 8.0  # of a bolt's head and a socket's depth beyond its own length
SKIN_MM = 0.5
BORE_MM = 8.0  # a bolt nearer to what carries it goes through it
SWINGS = 24  # directions looked at round a bolt
FREE = 3  # so many side by side are the 30° that a spanner swings in
TURNS = 2 * np.pi * np.arange(SWINGS) / SWINGS
ROD_MM = 5.0  # half of what a bolt or a spanner's shaft is thick
SPANNER_MM = (15.0, 130.0)  # from the bolt's middle
MADE = "made: "


@facts
class Stuck:
    """A bolt that comes out neither way: at which travels (mm), and what stands in its way on each side."""

    mount: Mount
    at: tuple[float, ...]
    by: tuple[str, ...]


def bolts_stuck(
    work: WorkUp, mounts: list[Mount], lengths: dict[tuple[str, str], float], share: float = 1.0
) -> list[Stuck]:
    """Return the bolts that cannot be drawn out at droop, ride or bump; `lengths` by point and what is held, mm.

    share : of its whole length, how far it is drawn
    """
    grid = work.grid
    level = np.flatnonzero(grid.articulation == 0)
    if not len(level):
        return []
    heaves = grid.heave[level]
    ride = 0.0 if work.solved.ride is None else work.solved.ride.travel
    picked = level[sorted({int(heaves.argmin()), int(np.abs(heaves - ride).argmin()), int(heaves.argmax())})]
    place = np.ascontiguousarray(grid.place[:, :, picked])
    others = [solid for solid in solids_on(work.linkage) if solid.facing is None]
    bolts: list[tuple[Mount, int, Solid]] = []
    for mount in mounts:
        long = lengths.get((mount.point, mount.holds))
        if long is None:
            continue
        for way in (1, -1):
            near, far = (
                mount.bolt * way * (long / 2),
                mount.bolt * way * (long / 2 + share * (long + HEAD_MM)),
            )
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
        if _in_question(work, mount, other) and _may_meet(at[bolts[k][2].name], at[other.name])
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


@facts
class NoSpanner:
    """A bolt's end that no spanner swings at: which side of the vehicle it looks to, what is most in the way."""

    mount: Mount
    side: str
    by: str


def no_spanner(work: WorkUp, mounts: list[Mount], lengths: dict[tuple[str, str], float]) -> list[NoSpanner]:
    """Return the ends of bolts where a spanner finds no 30° to swing in; `lengths` as for `bolts_stuck`."""
    grid = work.grid
    level = np.flatnonzero(grid.articulation == 0)
    others = [solid for solid in solids_on(work.linkage) if solid.facing is None]
    asked = [mount for mount in mounts if (mount.point, mount.holds) in lengths]
    if not len(level) or not others or not asked:
        return []
    ride = 0.0 if work.solved.ride is None else work.solved.ride.travel
    row = level[int(np.abs(grid.heave[level] - ride).argmin())]
    place = np.ascontiguousarray(grid.place[:, :, [row]])
    about = placed_all(work.linkage, others, place)
    arms: list[tuple[int, int, int, Solid]] = []
    pairs: list[tuple[int, Solid]] = []
    for k, mount in enumerate(asked):
        along = mount.way - mount.bolt * float(mount.way @ mount.bolt)
        first = along / max(float(np.linalg.norm(along)), 1e-9)
        second = np.cross(mount.bolt, first)
        for way in (1, -1):
            head = mount.spot + mount.bolt * way * (lengths[mount.point, mount.holds] / 2)
            ball = replace(_rod("swing", mount.on, head, head + mount.bolt * 1e-3), skin=SPANNER_MM[1] + 6.0)
            swing = placed_all(work.linkage, [ball], place)["swing"]
            near = [
                other
                for other in others
                if _may_meet(swing, about[other.name]) and _in_question(work, mount, other)
            ]
            if not near:
                continue
            outs = np.outer(np.cos(TURNS), first) + np.outer(np.sin(TURNS), second)
            # Where the middle of the spanner's shaft then is, by the ball's own axes: most steps come near nothing.
            middles = swing.centre[0] + outs @ ball.axes.T @ swing.axes[0] * (sum(SPANNER_MM) / 2)
            away = np.array([_at_least(middles, about[other.name]) for other in near]).T
            meet = away < (SPANNER_MM[1] - SPANNER_MM[0]) / 2 + ROD_MM
            for step in map(int, np.flatnonzero(meet.any(axis=1))):
                out = outs[step]
                name = f"spanner {k} {way} {step}"
                solid = _rod(name, mount.on, head + out * SPANNER_MM[0], head + out * SPANNER_MM[1])
                pairs += [(len(arms), near[n]) for n in np.flatnonzero(meet[step])]
                arms.append((k, way, step, solid))
    if not pairs:
        return []
    at = placed_all(work.linkage, [arm for *_, arm in arms], place)
    rows = np.arange(1)
    one = core_of([(at[arms[n][3].name], rows) for n, _ in pairs])
    other_side = core_of([(about[solid.name], rows) for _, solid in pairs])
    apart, _ = core_distance(one, other_side, looks=0)
    gaps = apart.reshape(len(pairs)) - np.array([arms[n][3].skin + solid.skin for n, solid in pairs])
    hit: dict[tuple[int, int], dict[int, list[str]]] = {}
    for (n, solid), gap in zip(pairs, gaps, strict=True):
        if gap < -SKIN_MM:
            k, way, step, _ = arms[n]
            hit.setdefault((k, way), {}).setdefault(step, []).append(solid.name)
    found = []
    for (k, way), steps in hit.items():
        if any(all((n + k) % SWINGS not in steps for k in range(FREE)) for n in range(SWINGS)):
            continue
        names = [name for its in steps.values() for name in its]
        worst = max(sorted(set(names)), key=names.count)
        found.append(NoSpanner(mount=asked[k], side=_side(asked[k].bolt * way), by=worst))
    return found


def _side(way: Array) -> str:
    """Return the word for the way that a bolt's end looks to."""
    axis = int(np.abs(way).argmax())
    return (("rear", "front"), ("right", "left"), ("lower", "upper"))[axis][int(way[axis] > 0)]


def _may_meet(one: Placed, other: Placed) -> bool:
    """Return whether the balls that hold two solids meet anywhere."""
    apart = np.linalg.norm(one.centre - other.centre, axis=1)
    return bool((apart < one.reach() + other.reach()).any())


def _at_least(spots: Array, other: Placed) -> Array:
    """Return how far places (n, 3) are from a solid at its first row at the least, (n,) mm: by its box, else its ball."""
    away = spots - other.centre[0]
    if other.corners is not None:
        return np.asarray(np.linalg.norm(away, axis=1) - other.reach()[0])
    box = other.half[0] + np.array([0.0, other.solid.disc, other.solid.disc])
    out = np.maximum(np.abs(away @ other.axes[0].T) - box, 0.0)
    return np.asarray(np.linalg.norm(out, axis=1) - other.solid.skin)


def _in_question(work: WorkUp, mount: Mount, other: Solid) -> bool:
    """Return whether a solid may stand in a bolt's way: not the unit it holds, nor the tube that its tab stands on."""
    if mount.holds in (other.host, other.name):
        return False
    if other.what == "tyre" and _in_hollow(other, mount.spot):
        return False
    ends = next((unit.ends for unit in work.station.units if unit.name == other.host), None)
    if ends is not None and mount.point in ends:
        return False
    # A bolt that goes through what carries it, by a sleeve, is in it at both ends.
    return mount.ground is None or other.name != mount.ground.name or mount.ground.away > BORE_MM


def _in_hollow(tyre: Solid, spot: Array) -> bool:
    """Return whether a place as drawn stands in the hollow of a wheel."""
    along = (spot - tyre.centre) @ tyre.axes[0]
    out = float(np.linalg.norm(spot - tyre.centre - along * tyre.axes[0]))
    return bool(abs(along) < tyre.half[0] and out < tyre.disc)


def _spots(envelope: Envelope) -> list[Array]:
    """Return the places that a made part's own shape is drawn by."""
    return [
        np.array(place) for place in envelope.along or envelope.outline or [] if not isinstance(place, str)
    ]


def _rod(name: str, host: str, one: Array, other: Array, radius: float = ROD_MM) -> Solid:
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
            members = link_ends(station, part.subject[1]) or ()
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
        elif is_of_a_tab(part):
            mount = by_subject.get((part.subject[1], part.subject[2]))
            tab = next((one for one in parts if one.subject == ("tab", *part.subject[1:])), None)
            if mount is not None and tab is not None:
                found += _gussets(part, tab, mount)
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
            "name": f"{MADE}{name}",
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
    ignore += [mount.holds, f"{MADE}{mount.holds}", f"{mount.holds} body"]
    return _plate(part.name, mount.on, corners, deep, ignore)


def _plate(name: str, on: str, corners: Sequence[Array], thick: float, ignore: Sequence[str]) -> Envelope:
    """Return a plate of what is made, its outline in space (n, 3) mm."""
    return Envelope.model_validate(
        {
            "name": f"{MADE}{name}",
            "shape": "plate",
            "on": on,
            "what": "structure",
            "outline": [[float(c) for c in corner] for corner in corners],
            "thickness": thick,
            "ignore": list(ignore),
        }
    )


def _gussets(part: Made, tab: Made, mount: Mount) -> Iterator[Envelope]:
    """Yield the gussets on a tab's or a pair's outer faces: three corners in the plane of bolt and reach."""
    thick = float(tab.figure("thickness"))
    half = thick / 2 if tab.count == 1 else float(tab.figure("gap")) / 2 + thick
    base = mount.spot + mount.towards * float(tab.figure("reach"))
    out, up = float(part.figure("leg_1")), float(part.figure("leg_2"))
    for number, way in enumerate((1.0, -1.0)[: tab.count], 1):
        foot = base + mount.bolt * (way * half)
        corners = [foot, foot + mount.bolt * (way * out), foot - mount.towards * up]
        ignore = [] if mount.ground is None else [mount.ground.name]
        yield _plate(f"{part.name}, run {number}", mount.on, corners, thick, ignore)


def runs_into(
    work: WorkUp, parts: list[Made], mounts: list[Mount], only: str = "", care: float = CARE_MM
) -> list[Clearance]:
    """Return what the parts' own shapes come nearest to through travel and articulation, the nearest first.

    only : the one part that is asked about, by its name; all of them if left out
    care : mm; what certainly stays further away is left out
    """
    station = work.station
    own = _own(station, parts, mounts)
    if not own:
        return []
    names = {envelope.name for envelope in own if not only or part_of(envelope.name, parts, only)}
    if not names:
        return []
    shown = [*station.envelopes, *_bolted_left_out(station, own, parts)]
    linkage: Linkage = work.linkage.carrying(station.model_copy(update={"envelopes": shown}))
    grid: Grid = work.grid
    found = clearances(linkage, grid, frozenset(names), care)
    # What stands inside the tyre's cylinder as drawn stands in the hollow of its wheel.
    return [c for c in found if not ("tyre" in c.kinds and c.drawn < 0)]


def _bolted_left_out(station: Station, own: list[Envelope], parts: list[Made]) -> list[Envelope]:
    """Return the parts' own shapes, each let off what holds a point that it holds: it is bolted there."""
    shares = {envelope.name: _points(station, envelope.name, parts) for envelope in own}
    solids = solids_of(station)
    others = {solid.name: _of(station, solid.name) for solid in solids} | shares
    tyres = [solid for solid in solids if solid.what == "tyre"]
    return [
        envelope.model_copy(
            update={
                "ignore": [
                    *envelope.ignore,
                    *(name for name, its in others.items() if its & shares[envelope.name]),
                    *(
                        tyre.name
                        for tyre in tyres
                        if any(_in_hollow(tyre, spot) for spot in _spots(envelope))
                    ),
                ]
            }
        )
        for envelope in own
    ]


def still_near(
    work: WorkUp,
    parts: list[Made],
    mounts: list[Mount],
    only: str,
    before: tuple[Clearance, ...],
    least: float,
) -> bool:
    """Return whether a part made otherwise comes as near as before somewhere: asked at the worst places only."""
    grid = work.grid
    own = _own(work.station, parts, mounts)
    station = work.station.model_copy(update={"envelopes": [*work.station.envelopes, *own]})
    solids = {solid.name: solid for solid in solids_of(station)}
    mine = [solid for name, solid in solids.items() if part_of(name, parts, only)]
    for clearance in before:
        other = solids.get(clearance.other if part_of(clearance.one, parts, only) else clearance.one)
        rows = np.flatnonzero(grid.articulation == clearance.articulation)
        if other is None or not len(rows):
            continue
        row = rows[int(np.abs(grid.heave[rows] - clearance.heave).argmin())]
        at = placed_all(work.linkage, [other, *mine], np.ascontiguousarray(grid.place[:, :, [row]]))
        first = np.arange(1)
        one = core_of([(at[solid.name], first) for solid in mine])
        apart, _ = core_distance(one, core_of([(at[other.name], first)] * len(mine)), looks=0)
        if (apart.reshape(-1) - np.array([solid.skin + other.skin for solid in mine])).min() < least:
            return True
    return False


def _own(station: Station, parts: list[Made], mounts: list[Mount]) -> list[Envelope]:
    """Return the parts' own shapes, but for those that the station says already."""
    taken = {envelope.name for envelope in station.envelopes}
    return [one for one in part_envelopes(station, parts, mounts) if one.name not in taken]


def part_of(name: str, parts: list[Made], only: str = "") -> Made | None:
    """Return the part whose own shape an envelope is, None where it is nobody's, or not the one asked about."""
    its = name.removeprefix(MADE)
    if its == name:
        return None
    found = next((one for one in parts if its == one.name or its.startswith(f"{one.name}, run ")), None)
    return None if found is None or (only and found.name != only) else found


def _points(station: Station, name: str, parts: list[Made]) -> frozenset[str]:
    """Return the points that a made part holds."""
    part = part_of(name, parts)
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
