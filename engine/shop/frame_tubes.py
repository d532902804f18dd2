"""The tubes of the frame as pieces to cut: which runs through where they meet, how the others' ends are cut to it, welds.

Runs through   at a node the widest member, of two alike the one that is drawn first; the others are cut to it.
Past           so much longer it stays there that whatever is coped on it sits on metal all round: r/sin β − R/tan β, with
               r of the coped one, R of its own and β between the two as they leave the node.
Middle         what meets its own image on the centreline is mitred to it: both hands are alike.
Face           a box is met on the face that the other tube's axis leaves it by; the cut is a mitre to that face.
Weld           once round a tube's end, along the curve that is cut.
"""

import math
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from engine.document.fittings import Envelope
from engine.document.frame import Frame, Member
from engine.document.frame_sides import OTHER, axes_of, both_sides
from engine.document.make import EndCut, TowerChoice, TubeSize
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import Sentence, listed
from engine.shop.cope import cope
from engine.shop.made import Cut, Figure, Made, Said, TubeEnd
from engine.shop.parts import StationParts
from engine.shop.stock import Profile, Tube
from engine.shop.tubes import NoTube, cope_figures, tube_cut

NEAR_MM = 400.0  # a member further than this from every mount of a station carries none of them
ALONG_DEG = 8.0  # two members that leave a node so nearly in one line are butted
USUAL_FACTOR = 2.0


@facts
class End:
    """How one end of a member is cut. cut : on another's axis; shift : mm that its corner is moved out along the member.

    mitre : degrees out of square to a face, which looks along `face`; words : what is said of it
    """

    cut: EndCut
    shift: float
    mitre: float
    words: str
    face: Array | None = None


def frame_station(project: Project) -> str:
    """Return the name under which the frame's pieces stand among the stations' own: one that no station has."""
    names = {station.name for station in project.stations}
    return next(name for name in ("Frame", "Frame tubes", "Tubes of the frame") if name not in names)


def frame_parts(project: Project) -> StationParts | None:
    """Return the pieces of a job's frame; None where it has none."""
    if project.frame is None or not project.frame.members:
        return None
    frame, places = both_sides(project)
    station = frame_station(project)
    factor = max([s.make.factor for s in project.stations if s.make is not None], default=USUAL_FACTOR)
    names = {member.name for member in frame.members}
    parts = [
        _made(frame, member, places, station, 2 if member.name + OTHER in names else 1)
        for member in project.frame.members
    ]
    return StationParts(station=station, parts=tuple(parts), factor=factor)


def with_tubes(project: Project, station: Station) -> Station:
    """Return a station with the members of the frame that are near its mounts as structures: tabs stand on them.

    One that a mount stands in is left out: what is bolted through a tube has a sleeve there, and no tab on it.
    """
    if project.frame is None or not station.chassis:
        return station
    frame, places = both_sides(project)
    mounts = np.array([station.points[point] for point in station.chassis], dtype=float)
    taken = {envelope.name for envelope in station.envelopes}
    near = []
    for member in frame.members:
        one, other = (places[end] for end in member.ends)
        along = other - one
        share = np.clip((mounts - one) @ along / float(along @ along), 0.0, 1.0)
        away = np.linalg.norm(mounts - one - share[:, None] * along, axis=1).min()
        name = member.name if member.name not in taken else f"{member.name} of the frame"
        if 0.5 < away - _half(member) < NEAR_MM and name not in taken:
            near.append(_envelope(member, name, one, other))
    return station.model_copy(update={"envelopes": [*station.envelopes, *near]}) if near else station


def _envelope(member: Member, name: str, one: Array, other: Array) -> Envelope:
    """Return the room that a member takes."""
    if member.tube is not None:
        ends = [[float(c) for c in place] for place in (one, other)]
        return Envelope(name=name, shape="cylinder", along=ends, radius=member.tube.outside / 2)
    axes = axes_of(other - one, None if member.up is None else np.array(member.up, dtype=float))
    if member.box is not None:
        across, high = member.box.width, member.box.height
    else:
        assert member.flat is not None
        across, high = member.flat.width, member.flat.thickness
    turn = Rotation.from_matrix(axes.T).as_euler("xyz", degrees=True)
    return Envelope(
        name=name,
        shape="box",
        centre=[float(c) for c in (one + other) / 2],
        size=[float(np.linalg.norm(other - one)), across, high],
        turn=[float(c) for c in turn],
    )


@facts
class Placed:
    """A member as it stands in space: its piece, its two corners (2, 3) mm on its middle line, and its axes as rows.

    ends : by end what its metal stops at: ("square",), ("plane", its way) through the corner less what the mitre is longer by,
           or ("round", axis, radius) about the corner
    """

    name: str
    cut: Cut
    corners: Array
    axes: Array
    ends: tuple[tuple[Any, ...], tuple[Any, ...]]
    over: tuple[float, float]


def placed(project: Project) -> list[Placed]:
    """Return every member of a job's frame in space, both sides; what cannot be cut is left out."""
    if project.frame is None:
        return []
    frame, places = both_sides(project)
    found = []
    for member in frame.members:
        ends = [_end(frame, member, places, side) for side in (0, 1)]
        try:
            cut = _cut(member, places, ends)
        except NoTube:
            continue
        one, other = (places[end] for end in member.ends)
        way = (other - one) / np.linalg.norm(other - one)
        corners = np.array([one - way * ends[0].shift, other + way * ends[1].shift])
        up = None if member.up is None else np.array(member.up, dtype=float)
        stops = [_stop(end) for end in ends]
        over = [_half(member) * math.tan(math.radians(end.mitre)) for end in ends]
        found.append(
            Placed(
                name=member.name,
                cut=cut,
                corners=corners,
                axes=axes_of(way, up),
                ends=(stops[0], stops[1]),
                over=(over[0], over[1]),
            )
        )
    return found


def _stop(end: End) -> tuple[Any, ...]:
    if end.face is not None and end.mitre:
        return ("plane", end.face)
    if end.cut.along is not None and end.cut.outside is not None:
        return ("round", np.array(end.cut.along), end.cut.outside / 2)
    return ("square",)


def _made(frame: Frame, member: Member, places: dict[str, Array], station: str, hands: int) -> Made:
    ends = [_end(frame, member, places, side) for side in (0, 1)]
    try:
        cut = _cut(member, places, ends)
    except NoTube as error:
        return _refused(member, station, hands, str(error))
    if cut.length <= 0:
        words = f"{member.name} is shorter than what its ends are cut away: move its places apart."
        return _refused(member, station, hands, words)
    figures = [
        Figure(key="tube", name="Stock", value=cut.stock, measures="words"),
        Figure(key="length", name="Cut to, over all", value=cut.length),
        Figure(key="centre_line", name="From place to place", value=_long(member, places)),
        *(
            Figure(key=f"stands_{k}", name=f"End {k}, at {member.ends[k - 1]}", value=end.words, measures="words")
            for k, end in enumerate(ends, start=1)
        ),
        *cope_figures(cut),
        *(
            Figure(
                key=f"mitre_{k}", name=f"End {k} is out of square by", value=end.mitre, measures="angle"
            )
            for k, end in enumerate(ends, start=1)
            if end.mitre
        ),
        Figure(key="weld", name="Weld, both ends together", value=sum(_weld(member, cut, ends, k) for k in (0, 1))),
    ]  # fmt: skip
    return replace(_piece(member, station, hands), cut=cut, figures=tuple(figures))


def _piece(member: Member, station: str, hands: int) -> Made:
    """Return a piece of the frame of which nothing is known yet but whose it is."""
    return Made(
        station=station,
        name=member.name,
        kind="frame",
        subject=("frame", member.name),
        proposed=False,
        hands=hands,
    )


def _refused(member: Member, station: str, hands: int, words: str) -> Made:
    text = words.replace("{", "{{").replace("}", "}}")
    said = Said(mark="fault", say=Sentence(f"{{0}} is not cut: {text}", names=(member.name,)))
    return _piece(member, station, hands).saying([said])


def _long(member: Member, places: dict[str, Array]) -> float:
    return float(np.linalg.norm(places[member.ends[1]] - places[member.ends[0]]))


def _away(member: Member, node: str, places: dict[str, Array]) -> Array:
    """Return the way a member leaves a node, (3,) unit."""
    far = member.ends[1] if member.ends[0] == node else member.ends[0]
    way = places[far] - places[node]
    found: Array = way / np.linalg.norm(way)
    return found


def _wide(member: Member) -> float:
    """Return how wide a member is where another meets it, mm; nothing on a flat bar."""
    if member.tube is not None:
        return member.tube.outside
    return max(member.box.height, member.box.width) if member.box is not None else 0.0


def _half(member: Member) -> float:
    if member.flat is not None:
        return max(member.flat.width, member.flat.thickness) / 2
    return _wide(member) / 2


def _square(words: str, shift: float = 0.0) -> End:
    return End(cut=EndCut(), shift=shift, mitre=0.0, words=words)


def _end(frame: Frame, member: Member, places: dict[str, Array], side: int) -> End:
    """Return how one end of a member is cut among whatever else stands at its node."""
    node = member.ends[side]
    if member.ends_held[side] == "pinned":
        return _square("pinned: cut square, less what its sleeve or rod end takes")
    own = [one.name.removesuffix(OTHER) for one in frame.members]
    order = {one.name: own.index(name) for one, name in zip(frame.members, own, strict=True)}
    others = [one for one in frame.members if node in one.ends and one is not member]
    if not others:
        held = node in frame.held
        return _square("square; stands on what holds it: fit it there" if held else "square")
    through = min([member, *others], key=lambda one: (-_wide(one), order[one.name]))
    mine = _away(member, node, places)
    image = next((one for one in others if one.name == member.name + OTHER), None)
    if image is not None and through in (member, image):
        return _in_the_middle(member, mine)
    if through is member:
        return _runs_through(member, node, places, others, mine)
    angle = math.degrees(math.acos(float(np.clip(mine @ _away(through, node, places), -1.0, 1.0))))
    more = [one.name for one in others if one is not through and _wide(one) > 0]
    fitted = f"; fit it to {listed(more)} too" if more else ""
    if not ALONG_DEG < angle < 180.0 - ALONG_DEG:
        return _square(f"square, butted on {through.name}{fitted}")
    return _cut_to(member, through, node, places, mine, fitted)


def _runs_through(
    member: Member, node: str, places: dict[str, Array], others: list[Member], mine: Array
) -> End:
    """Return the end of a member that the others are cut to: past its node by what the widest of them wants to sit on."""
    past, sits = 0.0, []
    for one in others:
        cosine = float(np.clip(mine @ _away(one, node, places), -1.0, 1.0))
        sine = math.sqrt(1 - cosine**2)
        if sine < math.sin(math.radians(ALONG_DEG)):
            if cosine < 0:
                return _square(f"square, butted on {one.name}")
            continue
        sits.append(one.name)
        past = max(past, _half(one) / sine - _half(member) * cosine / sine)
    past = math.ceil(past)
    words = f"square, {past:.0f} mm past the place, so that {listed(sits)} sits on it all round"
    return _square(words if past else "square, at the place", float(past))


def _in_the_middle(member: Member, mine: Array) -> End:
    """Return the end of a member that meets its own image: both are mitred to the vehicle's middle."""
    mitre = math.degrees(math.acos(min(abs(float(mine[1])), 1.0)))
    if mitre < 0.05:
        return _square("square, butted on the other side's in the vehicle's middle")
    over = _half(member) * math.tan(math.radians(mitre))
    words = "mitred to the other side's in the vehicle's middle"
    return End(cut=EndCut(), shift=over, mitre=mitre, words=words, face=np.array([0.0, 1.0, 0.0]))


def _cut_to(
    member: Member, through: Member, node: str, places: dict[str, Array], mine: Array, fitted: str
) -> End:
    """Return the end of a member that is cut to another: coped on a tube, mitred to a box's face."""
    axis = _away(through, node, places)
    if through.tube is not None and member.tube is not None:
        along = [float(c) for c in axis]
        cut = EndCut(on="tube", outside=through.tube.outside, along=along)
        return End(cut=cut, shift=0.0, mitre=0.0, words=f"coped on {through.name}{fitted}")
    if through.tube is not None:
        sine = math.sqrt(1 - float(mine @ axis) ** 2)
        words = f"square, against the round of {through.name}: grind it to fit{fitted}"
        return _square(words, -through.tube.outside / 2 / sine)
    assert through.box is not None
    up = None if through.up is None else np.array(through.up, dtype=float)
    own = axes_of(axis, up)
    faces = [
        (half / abs(float(mine @ way)), way, half)
        for way, half in ((own[1], through.box.width / 2), (own[2], through.box.height / 2))
        if abs(float(mine @ way)) > 1e-6
    ]
    away, face, _ = min(faces, key=lambda one: one[0])
    mitre = math.degrees(math.acos(min(abs(float(mine @ face)), 1.0)))
    over = _half(member) * math.tan(math.radians(mitre))
    return End(
        cut=EndCut(),
        shift=over - away,
        mitre=mitre if mitre > 0.05 else 0.0,
        words=f"cut to the face of {through.name}{fitted}",
        face=face,
    )


def _cut(member: Member, places: dict[str, Array], ends: list[End]) -> Cut:
    """Return a member as it is cut; raise NoTube where a cope cannot be."""
    one, other = (places[end] for end in member.ends)
    way = (other - one) / np.linalg.norm(other - one)
    if float((other - one) @ way) + ends[0].shift + ends[1].shift <= 0:
        raise NoTube(f"{member.name} is shorter than what its ends are cut away: move its places apart.")
    corners = np.array([one - way * ends[0].shift, other + way * ends[1].shift])
    if member.tube is None:
        spots = tuple((float(x), float(y), float(z)) for x, y, z in corners)
        cut = Cut(tube=_profile(member), length=float(np.linalg.norm(corners[1] - corners[0])), spots=spots)
    else:
        size = {"outside": member.tube.outside, "wall": member.tube.wall, "grade": member.metal}
        choice = TowerChoice(
            kind="crossbar",
            name=member.name,
            corners=[[float(c) for c in corner] for corner in corners],
            tube=TubeSize.model_validate(size),
            ends=[ends[0].cut, ends[1].cut],
        )
        cut = tube_cut(choice, corners)[0]
    mitred = [
        TubeEnd(mitre=end.mitre) if end.mitre and member.tube is not None else made
        for end, made in zip(ends, cut.ends, strict=True)
    ]
    return replace(cut, ends=(mitred[0], mitred[1]))


def _profile(member: Member) -> Tube:
    if member.box is not None:
        box = member.box
        return Profile(outside=box.height, across=box.width, wall=box.wall, grade=member.metal)
    assert member.flat is not None
    flat = member.flat
    return Profile(
        outside=flat.width, across=flat.thickness, wall=flat.thickness, grade=member.metal, hollow=False
    )


def _weld(member: Member, cut: Cut, ends: list[End], side: int) -> float:
    """Return how long the weld round one end is, mm; nothing where it is pinned."""
    if member.ends_held[side] == "pinned":
        return 0.0
    end, tube, slant = cut.ends[side], cut.tube, math.cos(math.radians(ends[side].mitre))
    if isinstance(tube, Profile):
        return 2 * (tube.across + tube.outside / slant)
    r = tube.outside / 2
    if end.met:
        round_it, along = cope(r, end.met, end.angle, end.offset)
        return float(np.hypot(np.diff(round_it), np.diff(along)).sum())
    # An ellipse of half axes r and r / cos: Ramanujan's first form (1914).
    a, b = r / slant, r
    return math.pi * (3 * (a + b) - math.sqrt((3 * a + b) * (a + 3 * b)))
