"""Advice that was tried: one brace more, the next tube of the rack, a member that carries next to nothing.

Each is put into the frame and the frame solved again under the same loads; what it does to the worst stress, to the mount
that moves most, and to the mass is told. A brace that what moves would reach is not advised.
"""

import itertools
from collections.abc import Iterator

import numpy as np

from engine.document.frame import Frame, FrameTube, Member
from engine.document.frame_sides import MIRROR, OTHER
from engine.document.schema import Project
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.frame.assembled import Assembled
from engine.frame.borne import Borne, borne
from engine.frame.judged import nearest_to
from engine.linkage.vectors import Array
from engine.sentences import Quantity, Sentence, length
from engine.shop.stock import INCH, METRIC, Tube

SHORTEST_MM, LONGEST_MM = 80.0, 2500.0
MOST_TRIED = 120
ADVISED = 2  # braces of either sort
HELPS = 0.05  # of the stress or the movement: less is no advice
IDLE_SHARE = 0.05
NO_WORSE, WELL_SHARE = (
    1.02,
    0.95,
)  # a brace for stiffness may raise the worst stress so much, or to what is still well
USUAL_BRACE = FrameTube(outside=30.0, wall=2.0)


@facts
class Advice:
    """One change tried: brace, thicker, thinner or idle; before and after of the worst share, the most movement mm, mass kg."""

    kind: str
    say: Sentence
    member: Member | None
    replaces: str | None
    share: tuple[float, float]
    moves: tuple[float, float]
    mass: tuple[float, float]


def advice(project: Project, its: Borne) -> list[Advice]:
    """Return what would help a frame, the braces first."""
    if project.frame is None or not its.members or not its.mounts or its.solved.loose:
        return []  # what is loose is held first
    return [
        *_braces(project, project.frame, its),
        *_tubes(project, project.frame, its),
        *_idle(project, project.frame, its),
    ]


def _worst(its: Borne) -> tuple[float, float]:
    """Return the worst share of what a metal allows, and the most that a mount moves, mm."""
    return (
        max((member.share for member in its.members), default=0.0),
        max((float(np.linalg.norm(mount.moves)) for mount in its.mounts), default=0.0),
    )


def _again(project: Project, frame: Frame, its: Borne) -> Borne:
    return borne(project.model_copy(update={"frame": frame}), buckling=False, given=its.loaded)


def _braces(project: Project, frame: Frame, its: Borne) -> Iterator[Advice]:
    before, mass = _worst(its), its.frame.mass
    tubes = [member.tube for member in frame.members if member.tube is not None]
    size = min(tubes, key=lambda tube: (tube.outside, tube.wall), default=USUAL_BRACE)
    tried: list[tuple[tuple[float, float], Member, Borne]] = []
    for one, other in _pairs(its.frame, frame)[:MOST_TRIED]:
        brace = Member(name=_free_name(frame, "brace"), ends=[one, other], tube=size)
        again = _again(project, frame.model_copy(update={"members": [*frame.members, brace]}), its)
        share, moves = _worst(again)
        more = max(again.frame.mass - mass, 1e-6)
        tried.append(((before[0] - share, (before[1] - moves) / more), brace, again))
    chosen: list[tuple[Member, Borne]] = []
    for by in (0, 1):
        best = sorted(tried, key=lambda one: (-one[0][by], one[1].ends))
        count = 0
        for _, brace, again in best:
            done = brace.ends in [member.ends for member, _ in chosen]
            after = _worst(again)
            helps = before[by] - after[by] > HELPS * before[by] and after[0] <= max(
                before[0] * NO_WORSE, WELL_SHARE
            )
            if count < ADVISED and helps and not done and _clear(project, its, brace):
                chosen.append((brace, again))
                count += 1
    for brace, again in chosen:
        words = (
            "A brace from {0} to {1}, {size}: the worst stress goes from {was} to {now} of what is allowed"
        )
        yield _told(
            "brace",
            words.replace("{size}", _size(brace)),
            (brace.ends[0], brace.ends[1]),
            before,
            mass,
            again,
            brace,
            None,
        )


def _pairs(its: Assembled, frame: Frame) -> list[tuple[str, str]]:
    """Return two nodes each that a tube could join and none does, the nearest to the mounts first."""
    names = [name for name in its.names if not name.startswith("under ") and name in frame.nodes]
    joined = {frozenset(member.ends) for member in its.members}
    at = {name: its.places[its.names.index(name)] for name in names}
    mounts = np.array([mount.at for mount in its.mounts])
    found: list[tuple[float, float, str, str]] = []
    seen: list[Array] = []
    for one, other in itertools.combinations(names, 2):
        long = float(np.linalg.norm(at[one] - at[other]))
        if frozenset((one, other)) in joined or not SHORTEST_MM <= long <= LONGEST_MM:
            continue
        middle = (at[one] + at[other]) / 2
        if frame.mirrored and any(np.linalg.norm(middle - m * MIRROR) < 1.0 for m in seen if abs(m[1]) > 1.0):
            continue  # the other side's comes with it
        seen.append(middle)
        near = min(float(np.linalg.norm(mounts - at[name], axis=1).min()) for name in (one, other))
        found.append((round(near, 3), round(long, 3), one, other))
    return [(one, other) for _, _, one, other in sorted(found)]


def _clear(project: Project, its: Borne, brace: Member) -> bool:
    ends = [its.frame.places[its.frame.names.index(end)] for end in brace.ends]
    assert brace.tube is not None
    near = nearest_to(its, ends[0], ends[1], brace.tube.outside / 2, set())
    return near is None or near.distance >= rules_of(project.judging).clear_mm[1]


def _tubes(project: Project, frame: Frame, its: Borne) -> Iterator[Advice]:
    """Yield the worst member one size heavier, and the least loaded one size lighter where that still does."""
    before, mass = _worst(its), its.frame.mass
    rack = sorted(_rack(project), key=lambda tube: (round(tube.area, 3), tube.outside))
    shares: dict[str, float] = {}
    for borne_ in its.members:
        name = borne_.name.removesuffix(OTHER)
        shares[name] = max(shares.get(name, 0.0), borne_.share)
    round_ = [member for member in frame.members if member.tube is not None]
    for kind, members in (
        ("thicker", sorted(round_, key=lambda m: (-shares[m.name], m.name))[:1]),
        ("thinner", sorted(round_, key=lambda m: (shares[m.name], m.name))[:3]),
    ):
        for member in members:
            tube = _next(rack, member, 1 if kind == "thicker" else -1)
            if tube is None or (kind == "thinner" and shares[member.name] > 0.3):
                continue
            changed = member.model_copy(update={"tube": FrameTube(outside=tube.outside, wall=tube.wall)})
            members_ = [changed if m.name == member.name else m for m in frame.members]
            again = _again(project, frame.model_copy(update={"members": members_}), its)
            after = _worst(again)
            helps = (
                before[0] - after[0] > HELPS * before[0]
                if kind == "thicker"
                else after[0] <= max(before[0] * 1.02, 0.5) and after[1] <= 1.05 * before[1]
            )
            if helps:
                words = f"{{0}} of {_size(changed)}: the worst stress goes from {{was}} to {{now}} of what is allowed"
                yield _told(kind, words, (member.name,), before, mass, again, changed, member.name)
                break


def _rack(project: Project) -> tuple[Tube, ...]:
    return (INCH if project.sizes == "inch" else METRIC).tubes


def _next(rack: list[Tube], member: Member, way: int) -> Tube | None:
    """Return the next tube of the rack: heavier and no narrower, or lighter and no wider."""
    assert member.tube is not None
    area = Tube(outside=member.tube.outside, wall=member.tube.wall).area
    if way > 0:
        return next(
            (t for t in rack if t.area > area * 1.02 and t.outside >= member.tube.outside - 0.5), None
        )
    return next(
        (t for t in reversed(rack) if t.area < area * 0.98 and t.outside <= member.tube.outside + 0.5), None
    )


def _idle(project: Project, frame: Frame, its: Borne) -> Iterator[Advice]:
    """Yield a member without which the frame bears and moves as well."""
    before, mass = _worst(its), its.frame.mass
    carriers = {mount.on for mount in its.mounts}
    for member in frame.members:
        shares = [b.share for b in its.members if b.name.removesuffix(OTHER) == member.name]
        if not shares or max(shares) > IDLE_SHARE or carriers & {member.name, member.name + OTHER}:
            continue
        rest = [m for m in frame.members if m.name != member.name]
        again = _again(project, frame.model_copy(update={"members": rest}), its)
        after = _worst(again)
        if not again.solved.loose and after[0] <= before[0] * 1.02 and after[1] <= before[1] * 1.02:
            words = "{0} carries next to nothing: without it the worst stress goes from {was} to {now} of what is allowed"
            yield _told("idle", words, (member.name,), before, mass, again, None, member.name)


def _told(
    kind: str, words: str, names: tuple[str, ...], before: tuple[float, float], mass: float, again: Borne,
    member: Member | None, replaces: str | None,
) -> Advice:  # fmt: skip
    after = _worst(again)
    told = {
        "was": Quantity(before[0], "share"),
        "now": Quantity(after[0], "share"),
        "moved": length(before[1]),
        "moves": length(after[1]),
        "mass": Quantity(abs(again.frame.mass - mass), "mass"),
    }
    more = "more" if again.frame.mass >= mass else "less"
    return Advice(
        kind=kind,
        say=Sentence(
            words + f", the most that a mount moves from {{moved}} to {{moves}}, for {{mass}} {more}.",
            told,
            names,
        ),
        member=member,
        replaces=replaces,
        share=(before[0], after[0]),
        moves=(before[1], after[1]),
        mass=(mass, again.frame.mass),
    )


def _size(member: Member) -> str:
    assert member.tube is not None
    return f"{member.tube.outside:g} × {member.tube.wall:g} mm"


def _free_name(frame: Frame, stem: str) -> str:
    taken = {member.name for member in frame.members}
    numbered = (f"{stem} {k}" for k in itertools.count(2))
    return next(name for name in itertools.chain([stem], numbered) if name not in taken)
