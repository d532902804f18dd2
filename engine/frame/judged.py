"""What to think of a frame: stress, buckling, soft mounts, loose parts, mounts that nothing carries, tubes in the way."""

import numpy as np

from engine.document.frame_sides import OTHER
from engine.document.schema import Project
from engine.findings import kinds
from engine.findings.finding import Finding, Rules, rules_of
from engine.frame.assembled import NEAR_MM
from engine.frame.borne import Borne
from engine.frame.in_the_way import Near, nearest
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, force, length, listed

TAKES_SHARE = 0.05
SAID_SHARE = 0.005  # of the wheel rate: less is not worth a word
USUAL_FACTOR = 2.0
LIKE = 0.02  # of a figure: less is the same on both sides
LEAST_FORCE_SHARE = 0.02  # of the greatest at any mount: what bears less is not asked how far it moves
EVERY = 4  # ways to move: with more of them it is every way
WAYS = ("forward and back", "left and right", "up and down")


def judged(project: Project, its: Borne) -> list[Finding]:
    """Return every finding of a frame, faults first."""
    rules = rules_of(project.judging)
    factor = max([s.make.factor for s in project.stations if s.make is not None], default=USUAL_FACTOR)
    found = [
        *_loose(its),
        *_soft(its, rules),
        *_in_the_way(its, rules),
        *_stress(its, factor),
        *_buckling(its, factor),
        *_uncarried(its),
    ]
    return sorted(_once(found), key=lambda f: {"fault": 0, "warning": 1}.get(f.mark, 2))


def _once(found: list[Finding]) -> list[Finding]:
    """Return findings with those of the other side left out that say the same as this side's."""
    said = {(f.code, f.subjects): f for f in found}
    kept = []
    for one in found:
        mine = said.get((one.code, tuple(name.removesuffix(OTHER) for name in one.subjects)))
        if mine is None or mine is one or mine.mark != one.mark or not _like(mine.value, one.value):
            kept.append(one)
    return kept


def _like(one: float | None, other: float | None) -> bool:
    return one is not None and other is not None and abs(one - other) <= LIKE * abs(one)


def loose_parts(its: Borne) -> list[tuple[list[str], str]]:
    """Return every part that can move: its nodes, and the ways in which they move in words."""
    names = its.frame.names
    joined = _joined(its)
    found: dict[int, tuple[list[str], dict[str, None]]] = {}
    for way in its.solved.loose:
        moving = [k for k in range(len(names)) if np.abs(way[k]).max() > 0.05]
        for part in sorted({joined[k] for k in moving}):
            mine = [k for k in moving if joined[k] == part]
            nodes, words = found.setdefault(part, ([], {}))
            nodes += [names[k] for k in mine if names[k] not in nodes and not names[k].startswith("under ")]
            words[_said(way, mine, its.frame.places)] = None
    return [
        (nodes, listed(list(words)) if len(words) < EVERY else "every way")
        for nodes, words in found.values()
        if nodes
    ]


def _joined(its: Borne) -> list[int]:
    part = list(range(len(its.frame.names)))
    for element in its.frame.elements:
        one, other = (part[node] for node in element.nodes)
        part = [one if p == other else p for p in part]
    return part


def _said(way: Array, nodes: list[int], places: Array) -> str:
    moved = way[nodes]
    if len(nodes) == 1 or np.abs(moved - moved.mean(axis=0)).max() < 0.1 * np.abs(moved).max():
        return WAYS[int(np.abs(moved).max(axis=0).argmax())]
    most = int(np.linalg.norm(moved, axis=1).argmax())
    return f"swinging, most {WAYS[int(np.abs(moved[most]).argmax())]}"


def _loose(its: Borne) -> list[Finding]:
    return [
        Finding(
            kind=kinds.FRAME_LOOSE,
            mark="fault",
            subjects=tuple(nodes),
            what=Sentence("Nothing holds {0}: it can move, " + ways + ".", names=(listed(nodes),)),
            why="A part that can move carries nothing, and what it bears cannot be known.",
            remedy=Sentence("Weld a member from it to what is held, or say where it is held."),
        )
        for nodes, ways in loose_parts(its)
    ]


def _uncarried(its: Borne) -> list[Finding]:
    by_station: dict[str, list[str]] = {}
    for name in its.frame.uncarried:
        by_station.setdefault(name.split("/")[0], []).append(name)
    return [
        Finding(
            kind=kinds.FRAME_CARRIES,
            mark="warning",
            subjects=tuple(names),
            what=Sentence(
                "Nothing of the frame carries {0} of {1}: no member is within {near}.",
                {"near": length(NEAR_MM)},
                (listed([name.split("/", 1)[1] for name in names]), station),
            ),
            why="What comes there is in no figure here.",
            remedy=Sentence("Draw the tube that it is welded to, or say what carries it."),
        )
        for station, names in by_station.items()
    ]


def _stress(its: Borne, factor: float) -> list[Finding]:
    found = []
    for member in its.members:
        mark = "fault" if member.share > 1 else "warning" if member.share > 1 / factor else "good"
        words = "{0} comes to {share} of what its metal allows, {how} N/mm², in {1}."
        found.append(
            Finding(
                kind=kinds.FRAME_STRESS,
                mark=mark,
                subjects=(member.name,),
                what=Sentence(
                    words.replace("{how}", f"{member.stress:.0f}"),
                    {"share": Quantity(member.share, "share")},
                    (member.name, member.case),
                ),
                why="Beyond its yield it stays bent; beside a weld it yields sooner.",
                remedy=None
                if mark == "good"
                else Sentence("A thicker tube, or a brace to where it bends most."),
                value=member.share,
                limit=1 / factor,
                measures="share",
            )
        )
    return found


def _buckling(its: Borne, factor: float) -> list[Finding]:
    found = []
    for member in its.members:
        if member.buckling is not None and member.buckling < factor:
            found.append(
                _buckles(
                    member.name, member.buckling, factor, "{0} buckles at {times} times its greatest push."
                )
            )
    worst = min(((v, name) for name, v in its.buckles_at.items() if v is not None), default=None)
    if worst is not None and worst[0] < factor:
        found.append(
            _buckles(worst[1], worst[0], factor, "The whole frame buckles at {times} times the load of {0}.")
        )
    return found


def _buckles(name: str, times: float, factor: float, words: str) -> Finding:
    return Finding(
        kind=kinds.FRAME_BUCKLING,
        mark="fault" if times < 1 else "warning",
        subjects=(name,),
        what=Sentence(words, {"times": Quantity(times, "ratio")}, (name,)),
        why="A tube that buckles goes at once, without a warning.",
        remedy=Sentence("A wider tube, or a brace to its middle."),
        value=times,
        limit=factor,
        measures="ratio",
    )


def _soft(its: Borne, rules: Rules) -> list[Finding]:
    found = []
    most = max((mount.force for mount in its.mounts), default=0.0)
    for mount in its.mounts:
        moves = float(np.linalg.norm(mount.moves))
        takes = mount.takes or 0.0
        if mount.force < LEAST_FORCE_SHARE * most or (moves <= rules.mount_mm and takes <= TAKES_SHARE):
            continue
        words = "{0} moves {moves} under {force} in {1}"
        words += ", and takes {takes} of the wheel rate." if takes >= SAID_SHARE else "."
        told = {"moves": length(moves), "force": force(mount.force), "takes": Quantity(takes, "share")}
        found.append(
            Finding(
                kind=kinds.FRAME_SOFT,
                mark="warning",
                subjects=(mount.name,),
                what=Sentence(words, told, (mount.name.replace("/", ", "), mount.case)),
                why="A mount that moves takes travel, ratio and damping with it, and works at its weld.",
                remedy=Sentence("A brace along the load, or a stiffer tube."),
                value=moves,
                limit=rules.mount_mm,
                measures="length",
            )
        )
    return found


def _in_the_way(its: Borne, rules: Rules) -> list[Finding]:
    found = []
    for number, member in enumerate(its.frame.members):
        near = nearest_to_member(its, number)
        if near is None or near.distance >= rules.clear_mm[0]:
            continue
        words = (
            "{0} comes to {off} from the {1}, at {at} of travel."
            if near.distance > 0
            else "The {1} runs into {0}, {off} deep, at {at} of travel."
        )
        told = {"off": length(abs(near.distance)), "at": Quantity(near.travel, "travel")}
        found.append(
            Finding(
                kind=kinds.FRAME_IN_THE_WAY,
                mark="fault" if near.distance < rules.clear_mm[1] else "warning",
                subjects=(member.name,),
                what=Sentence(words, told, (member.name, near.what)),
                why="What moves and what stands still must not meet.",
                remedy=Sentence("Run it round, or set it further out."),
                travel_mm=near.travel,
                value=near.distance,
                limit=rules.clear_mm[0],
                measures="length",
            )
        )
    return found


def nearest_to_member(its: Borne, number: int) -> Near | None:
    """Return what comes nearest to a member of all that moves, the other sides of mirrored corners too."""
    member = its.frame.members[number]
    ends = [its.frame.places[its.frame.names.index(end)] for end in member.ends]
    return nearest_to(its, ends[0], ends[1], _half(its, number), {member.name})


def nearest_to(its: Borne, one: Array, other: Array, radius: float, on: set[str]) -> Near | None:
    """Return what of all that moves comes nearest to a tube between two places; `on` what carries the mounts it may touch."""
    nodes = {
        its.frame.names[k]
        for k, p in enumerate(its.frame.places)
        if min(np.linalg.norm(p - one), np.linalg.norm(p - other)) < 1.0
    }
    found = []
    for name, work in its.loaded.works.items():
        mine = [m for m in its.frame.mounts if m.station == name]
        for mirrored in {m.mirrored for m in mine}:
            mounts = {m.point for m in mine if m.mirrored == mirrored and (m.on in on or m.on in nodes)}
            near = nearest(work, one, other, radius, mounts, mirrored)
            if near is not None:
                found.append(near)
    return min(found, key=lambda one: one.distance, default=None)


def _half(its: Borne, number: int) -> float:
    member = its.frame.members[number]
    if member.tube is not None:
        return member.tube.outside / 2
    if member.box is not None:
        return max(member.box.height, member.box.width) / 2
    return max(member.flat.width, member.flat.thickness) / 2 if member.flat is not None else 0.0
