"""Towers, hoops and crossbars: tubes between places, bent where they turn a corner, their ends cut to what they meet.

Place     an end that meets a tube stands on that tube's axis; the cut length is what is left once the cope is in.
Clock     degrees round the tube, clockwise as it is seen from end 1: from the line scribed along the inside of the first
          bend (of a straight tube, along end 1's own witness line) to where each cope's own witness line comes.
Witness   a cope's own line, from which its template is wrapped: on the side where the two tubes' axes are square to both.
Bending   a tower as a cantilever from its first corner, a hoop or crossbar as a beam on its two ends (pinned).
"""

import itertools
import math
from dataclasses import replace

import numpy as np

from engine.document.check_make import bend_radius
from engine.document.make import EndCut, TowerChoice, TubeSize
from engine.document.schema import Station
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence
from engine.shop.bends import BentTube, NoBend, bent
from engine.shop.cope import NoCope, set_back
from engine.shop.made import Cut, Figure, Made, Remedy, Said, TubeEnd
from engine.shop.mounts import REACH_MOST_MM, Mount
from engine.shop.stock import Stock, Tube
from engine.shop.strength import Check, tube_bent

TAB_ROOM_MM = 40.0  # of a proposed tower, for the tab that stands on it


class NoTube(ValueError):
    """A tube that cannot be made, in words."""


def tube_of(size: TubeSize) -> Tube:
    """Return a chosen tube."""
    return Tube(outside=size.outside, wall=size.wall, grade=size.grade)


def tower_for(mount: Mount, stock: Stock, factor: float) -> TowerChoice | None:
    """Return the tower from the nearest structure to a mount out of a tab's reach; None where none is called for, or none bears it."""
    ground = mount.ground
    if ground is None or ground.away <= REACH_MOST_MM or mount.on != "chassis" or mount.kind == "arm":
        return None
    foot = mount.spot + ground.way * (ground.away + ground.outside / 2)
    tip = mount.spot + ground.way * TAB_ROOM_MM
    end = EndCut()
    if ground.outside > 0:
        along = [float(c) for c in ground.axis]
        end = EndCut(on="tube", outside=ground.outside, along=along)
    sizes = sorted(stock.tubes, key=lambda tube: tube.area)
    sizes = [tube for tube in sizes if ground.outside <= 0 or tube.outside <= ground.outside] or sizes[:1]
    for tube in sizes:
        check = bent_check("tower", np.array([foot, tip]), mount, tube)
        if check is None or check.factor >= factor:
            break
    else:
        return None  # one leg of stock does not carry it there: what it stands on is for a person to say
    return TowerChoice(
        kind="tower",
        name=f"{mount.holds} tower",
        corners=[[round(float(c), 3) for c in place] for place in (foot, tip)],
        tube=TubeSize.model_validate({"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}),
        ends=[end, EndCut()],
        holds=mount.point,
    )


def bent_check(kind: str, corners: Array, mount: Mount, tube: Tube) -> Check | None:
    """Return a tube in bending through its corners (n, 3) mm under its mount's peak load."""
    forces = mount.forces
    if not len(forces):
        return None
    if kind == "tower":
        arm = mount.spot - corners[0]
        moments = np.linalg.norm(np.cross(arm, forces), axis=1) + mount.couples
        axis = corners[1] - corners[0]
        pushes = np.abs(forces @ axis) / float(np.linalg.norm(axis))
    else:
        chord = corners[-1] - corners[0]
        span = float(np.linalg.norm(chord))
        axis = chord / span
        a = float(np.clip((mount.spot - corners[0]) @ axis, 0.0, span))
        off = mount.spot - corners[0] - axis * ((mount.spot - corners[0]) @ axis)
        pushes = np.abs(forces @ axis)
        across = np.linalg.norm(forces - np.outer(forces @ axis, axis), axis=1)
        moments = across * a * (span - a) / span + pushes * float(np.linalg.norm(off)) + mount.couples
    section = 2 * tube.inertia / tube.outside
    worst = int((moments / section + pushes / tube.area).argmax())
    found = tube_bent(float(moments[worst]), float(pushes[worst]), section, tube.area, tube.yields)
    return None if found is None else replace(found, case=mount.cases[worst])


def tower_made(
    station: Station,
    choice: TowerChoice,
    proposed: bool,
    mount: Mount | None,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return a tube between places; raise NoTube where it cannot be bent or coped."""
    corners = np.array(
        [station.points[place] if isinstance(place, str) else place for place in choice.corners], dtype=float
    )
    cut, backs = tube_cut(choice, corners)
    tube, run = cut.tube, cut.bent
    assert run is not None
    check = bent_check(choice.kind, corners, mount, tube) if mount is not None else None
    figures = [
        Figure(key="tube", name="Tube", value=tube.said, measures="words"),
        Figure(key="length", name="Cut to, over all", value=cut.length),
        Figure(key="centre_line", name="Centre line", value=run.length),
    ]
    for number, bend in enumerate(run.bends, start=1):
        start = bend.mark - backs[0]
        figures += [
            Figure(key=f"bend_{number}_mark", name=f"Bend {number} begins at", value=start),
            Figure(key=f"bend_{number}_angle", name=f"Bend {number}", value=bend.angle, measures="angle"),
            Figure(key=f"bend_{number}_set", name=f"Bend {number}, bender set to", value=bend.set_to, measures="angle"),
            Figure(key=f"bend_{number}_turn", name=f"Tube turned before bend {number}", value=bend.turn, measures="angle"),
        ]  # fmt: skip
    if run.bends:
        figures.append(Figure(key="radius", name="Bent about a centre line of", value=run.radius))
    figures += cope_figures(cut)
    checks = () if check is None else (check,)
    return Made(
        station=station.name,
        name=choice.name,
        kind=choice.kind,
        subject=(choice.kind, choice.name),
        proposed=proposed,
        hands=hands,
        cut=cut,
        checks=checks,
        figures=tuple(figures),
        said=tuple(_said(choice, corners, mount, check, stock, factor)),
        choice=choice.model_dump(exclude_none=True),
    )


def tube_cut(choice: TowerChoice, corners: Array) -> tuple[Cut, tuple[float, float]]:
    """Return a tube cut to stand between its corners (n, 3) mm, and how far each end stays from its place; raise NoTube."""
    tube = tube_of(choice.tube)
    try:
        run = bent(corners.tolist(), bend_radius(choice), choice.springback)
        ends, backs = _ends(choice, corners, run, tube)
    except (NoBend, NoCope) as error:
        raise NoTube(f"{choice.name}: {error}") from error
    length = run.length - sum(backs)
    if length <= 0:
        raise NoTube(f"{choice.name} is shorter than what its ends are cut away: move its places apart.")
    spots = tuple((float(x), float(y), float(z)) for x, y, z in corners)
    return Cut(tube=tube, length=length, ends=ends, bent=run, spots=spots), backs


def cope_figures(cut: Cut) -> list[Figure]:
    """Return what is said of each coped end: what it sits on, its angle, and where its template is wrapped from."""
    figures: list[Figure] = []
    for number, end in enumerate(cut.ends, start=1):
        if end.met:
            figures += [
                Figure(key=f"cope_{number}_met", name=f"End {number} is coped on a tube of", value=2 * end.met),
                Figure(key=f"cope_{number}_angle", name=f"End {number} meets it at", value=end.angle, measures="angle"),
                Figure(key=f"cope_{number}_clock", name=f"End {number}'s witness line turned", value=end.clock, measures="angle"),
                Figure(key=f"cope_{number}_witness", name=f"Wrap end {number} from its", value=witness_words(cut, number), measures="words"),
            ]  # fmt: skip
    return figures


def _ends(
    choice: TowerChoice, corners: Array, run: BentTube, tube: Tube
) -> tuple[tuple[TubeEnd, TubeEnd], tuple[float, float]]:
    """Return both ends' cuts, and how far each stays from its place."""
    ways = (corners[1] - corners[0], corners[-1] - corners[-2])
    ways = tuple(way / np.linalg.norm(way) for way in ways)
    lines: list[Array | None] = []
    ends: list[TubeEnd] = []
    backs: list[float] = []
    for cut, away in zip(choice.ends, (ways[0], -ways[1]), strict=True):
        if cut.on == "square" or cut.outside is None or cut.along is None:
            lines.append(None)
            ends.append(TubeEnd())
            backs.append(0.0)
            continue
        met = np.array(cut.along, dtype=float) / np.linalg.norm(cut.along)
        if met @ away < 0:
            met = -met
        angle = math.degrees(math.acos(min(float(met @ away), 1.0)))
        backs.append(set_back(tube.outside / 2, cut.outside / 2, angle, cut.offset))
        lines.append(np.cross(met, away))
        ends.append(TubeEnd(met=cut.outside / 2, angle=angle, offset=cut.offset))
    clocks = _clocks(lines, corners, ways)
    turned = tuple(
        TubeEnd(met=end.met, angle=end.angle, offset=end.offset, clock=clock)
        for end, clock in zip(ends, clocks, strict=True)
    )
    return (turned[0], turned[1]), (backs[0], backs[1])


def _clocks(lines: list[Array | None], corners: Array, ways: tuple[Array, ...]) -> tuple[float, float]:
    """Return how far each end's own line is turned about the tube from the line along the inside of its first bend.

    Positive is clockwise as it is seen from end 1: right-handed about the way from there.
    """
    runs = np.diff(corners, axis=0)
    runs = runs / np.linalg.norm(runs, axis=1, keepdims=True)
    inside = inside_of_first_bend(runs)
    first = lines[0] if inside is None else inside
    if first is None:
        return 0.0, 0.0
    reference = first / np.linalg.norm(first)
    one = _turned(reference, lines[0], ways[0])
    for before, after in itertools.pairwise(runs):
        axis = np.cross(before, after)
        size = float(np.linalg.norm(axis))
        if size > 1e-9:
            # The tube's own mark goes round the corner with it (Rodrigues).
            angle, axis = math.atan2(size, float(before @ after)), axis / size
            reference = (
                reference * math.cos(angle)
                + np.cross(axis, reference) * math.sin(angle)
                + axis * float(axis @ reference) * (1 - math.cos(angle))
            )
    return one, _turned(reference, lines[1], ways[1])


def inside_of_first_bend(runs: Array) -> Array | None:
    """Return the way from the tube's middle to the inside of its first bend, square to its first run, carried back to it.

    runs : (n, 3) unit directions of the straight runs; None for a tube that is straight
    """
    for before, after in itertools.pairwise(runs):
        across = after - before * float(after @ before)
        size = float(np.linalg.norm(across))
        if size > 1e-9:
            its: Array = across / size
            return its
    return None


def _turned(reference: Array, line: Array | None, about: Array) -> float:
    if line is None or np.linalg.norm(line) < 1e-9:
        return 0.0
    return math.degrees(math.atan2(float(np.cross(reference, line) @ about), float(reference @ line)))


def _said(
    choice: TowerChoice, corners: Array, mount: Mount | None, check: Check | None, stock: Stock, factor: float
) -> list[Said]:
    if check is None or mount is None or check.factor >= factor:
        return []
    remedy = None
    for tube in sorted(stock.tubes, key=lambda one: one.area):
        other = bent_check(choice.kind, corners, mount, tube)
        if other is not None and other.factor >= factor:
            size = {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}
            remedy = Remedy(say=Sentence("Take {0}.", names=(tube.said,)), change={"tube": size})
            break
    words = (
        f"{{0}} bears {check.factor:.1f} times the {{load}} that comes to it, where {factor:g} are wanted."
    )
    if remedy is None:
        words += " No stock tube is strong enough: brace it with a second leg, or shorten it."
    told = {"load": Quantity(mount.load, "force")}
    return [Said(mark="warning", say=Sentence(words, told, (choice.name,)), remedy=remedy)]


def witness_words(cut: Cut, number: int) -> str:
    """Return where an end's witness line comes, so that it is found with the tube in the hand."""
    end = cut.ends[number - 1]
    if end.mitre:
        return "witness line where the tube stays longest"
    way = "clockwise" if end.clock >= 0 else "anticlockwise"
    if cut.bent is not None and cut.bent.bends:
        if abs(end.clock) < 0.5:
            return "witness line along the inside of the first bend"
        return (
            f"witness line {abs(end.clock):.0f}° {way} from the inside of the first bend, looking from end 1"
        )
    if number == 1 or not cut.ends[0].met:
        return "witness line along the tube, anywhere round it"
    if abs(end.clock) < 0.5:
        return "witness line in line with end 1's"
    return f"witness line {abs(end.clock):.0f}° {way} from end 1's, looking from end 1"
