"""A rocker in its own plane from full droop to full bump: its plate where it stands, and behind it where it goes.

Plane   seen along the pivot's bolt, up on the paper as near to the vehicle's up as the plane allows.
Behind  the plate at both ends of the travel, and the rod and the damper there, in fine lines.
"""

import math
from collections.abc import Callable, Sequence

import numpy as np

from engine.drawing.crossing import ways_of
from engine.drawing.flat import Said, millimetres, sized, unit_of
from engine.drawing.labels import labelled
from engine.drawing.model import Drawing, Edge, Line, Spot, Text, placed, scale_for, scale_said
from engine.drawing.running import APART
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import spoken
from engine.shop.made import Flat
from engine.shop.outline import Circle, hull
from engine.sizing.rocker.wheel_side import RockerHere
from engine.station.solved import SolvedStation

MARGIN = 3.0
REACH_MM = 70.0  # mm of the rod and the damper that are drawn
LEVEL = 1e-3
WAYS = 24


@facts
class Standing:
    """A rocker's places in its plane at one travel, mm: pivot at nought; rod's and damper's joints, and where those go."""

    travel: float
    rod: Spot
    damper: Spot
    rod_far: Spot
    damper_far: Spot

    @property
    def turn(self) -> float:
        """Return the rod arm's angle in the plane, radians."""
        return math.atan2(self.rod[1], self.rod[0])


def standings(solved: SolvedStation, here: RockerHere, travels: Sequence[float]) -> list[Standing]:
    """Return a rocker's places at travels that are reached, mm from as drawn."""
    at = solved.at(np.array(travels, dtype=float))
    place = at.solution.motion.place
    drawn = {name: np.array(spot, dtype=float) for name, spot in solved.station.points.items()}
    index = solved.linkage.index
    axis = drawn[here.pivots[1]] - drawn[here.pivots[0]]
    axis = axis / np.linalg.norm(axis)
    across, up = _plane(axis)
    found = []
    for k in range(len(travels)):

        def flat(name: str, row: int = k) -> Spot:
            spot = place[:, index[name], row] if name in index else drawn[name]
            arm = spot - drawn[here.pivots[0]]
            return float(arm @ across), float(arm @ up)

        found.append(
            Standing(
                travel=float(travels[k]),
                rod=flat(here.rod_joint),
                damper=flat(here.eye),
                rod_far=flat(here.rod_end),
                damper_far=flat(here.far),
            )
        )
    return found


def _plane(axis: Array) -> tuple[Array, Array]:
    """Return two square directions of the plane that an axis stands on: to the right, and up."""
    up = np.array([0.0, 0.0, 1.0]) - axis * axis[2]
    if float(np.linalg.norm(up)) < LEVEL:  # its bolt stands upright: ahead is up
        up = np.array([1.0, 0.0, 0.0]) - axis * axis[0]
    up = up / np.linalg.norm(up)
    across = np.cross(up, axis)
    return across, up


def rocker_drawing(
    solved: SolvedStation,
    here: RockerHere,
    plate: Flat,
    room: Spot = (120.0, 90.0),
    said: Said = millimetres,
) -> Drawing | None:
    """Return a rocker with its sweep over the wanted travel, as far as it goes; None where it goes nowhere."""
    station, said = solved.station, sized(said)
    stands = station.travel.at or 0.0 if solved.ride is None else solved.ride.travel
    goes = solved.taken.travels
    if len(goes) < 2:
        return None
    low_mm, high_mm = float(goes[0]), float(goes[-1])
    rows = standings(solved, here, (low_mm, min(max(stands, low_mm), high_mm), high_mm))
    droop, ride, bump = rows
    circles = [_circles(one, plate) for one in rows]
    ends = [_towards(one.rod, one.rod_far) for one in rows] + [_towards(one.damper, one.damper_far) for one in rows]  # fmt: skip
    spots = [(c.x + i * c.radius, c.y + j * c.radius) for its in circles for c in its for i in (-1, 1) for j in (-1, 1)]  # fmt: skip
    low = [min(spot[k] for spot in (*spots, *ends)) for k in (0, 1)]
    high = [max(spot[k] for spot in (*spots, *ends)) for k in (0, 1)]
    scale = min(scale_for(high[0] - low[0], high[1] - low[1], room), 1.0)
    head = APART * 4 + 2.0
    beside = 26.0
    origin = (MARGIN + beside - low[0] * scale, MARGIN + APART - low[1] * scale)

    def on_paper(spot: Spot) -> Spot:
        return origin[0] + spot[0] * scale, origin[1] + spot[1] * scale

    edges: list[Edge] = []
    lines: list[Line] = []
    for one, its, meaning in ((droop, circles[0], "fine"), (bump, circles[2], "fine"), (ride, circles[1], "outline")):  # fmt: skip
        arcs = tuple(placed(arc, scale, origin) for arc in hull(its))
        edges.append(Edge(arcs=arcs, meaning=meaning))  # type: ignore[arg-type]
        for joint, far in ((one.rod, one.rod_far), (one.damper, one.damper_far)):
            lines.append(
                Line(
                    through=(on_paper(joint), on_paper(_towards(joint, far))),
                    meaning="frame" if one is ride else "fine",
                )
            )
    for (x, y), bore in zip(((0.0, 0.0), ride.rod, ride.damper), _bores(plate), strict=True):
        arcs = tuple(placed(arc, scale, origin) for arc in hull([Circle(x, y, bore / 2)]))
        edges.append(Edge(arcs=arcs))
    for arm in (ride.rod, ride.damper):
        lines.append(Line(through=(on_paper((0.0, 0.0)), on_paper(arm)), meaning="centre"))
    lines += [_path([one.rod for one in rows], on_paper), _path([one.damper for one in rows], on_paper)]
    wide = MARGIN * 2 + 2 * beside + (high[0] - low[0]) * scale
    top = MARGIN + APART + (high[1] - low[1]) * scale + 2.0
    wanted = [
        (f"rod arm {said(math.hypot(*ride.rod))}", on_paper(_middle(ride.rod))),
        (f"damper arm {said(math.hypot(*ride.damper))}", on_paper(_middle(ride.damper))),
        ("pivot", on_paper((0.0, 0.0))),
        (spoken(here.rod), on_paper(_towards(ride.rod, ride.rod_far))),
        (spoken(here.unit), on_paper(_towards(ride.damper, ride.damper_far))),
        ("full droop", on_paper(droop.rod)),
        ("full bump", on_paper(bump.rod)),
    ]
    bare = Drawing(name="", wide=wide, tall=top, scale=scale, origin=origin, edges=tuple(edges), lines=tuple(lines))  # fmt: skip
    ways = list(ways_of(bare))
    texts, leaders = labelled(wanted, ways, [], (MARGIN, MARGIN, wide - MARGIN, top))
    without = [words for words, _ in wanted if words not in {text.words for text in texts}]
    told = _told(here, droop, ride, bump, scale, said)
    told += [f"no room for: {', '.join(without)}"] if without else []
    tall = top + head
    texts += [
        Text(words=words, at=(MARGIN, tall - APART * (row + 1)), bold=row == 0)
        for row, words in enumerate(told)
    ]
    wide = max(wide, *(text.box[2] + MARGIN for text in texts))
    return Drawing(
        name=told[0],
        wide=wide,
        tall=tall,
        scale=scale,
        origin=origin,
        edges=tuple(edges),
        lines=(*lines, *leaders),
        texts=tuple(texts),
    )


def _bores(plate: Flat) -> tuple[float, float, float]:
    """Return the holes of a rocker's plate, mm: pivot, rod, damper."""
    size = {hole.what: hole.diameter for hole in plate.holes}
    return size["pivot"], size["rod"], size["damper"]


def _circles(one: Standing, plate: Flat) -> list[Circle]:
    """Return the metal about a rocker's holes where it stands."""
    at = ((0.0, 0.0), one.rod, one.damper)
    edge = next(
        arc.circle.radius - hole.diameter / 2
        for hole in plate.holes
        for arc in plate.outline
        if math.dist((hole.x, hole.y), (arc.circle.x, arc.circle.y)) < LEVEL
    )
    return [Circle(x, y, bore / 2 + edge) for (x, y), bore in zip(at, _bores(plate), strict=True)]


def _middle(arm: Spot) -> Spot:
    return arm[0] / 2, arm[1] / 2


def _towards(one: Spot, other: Spot) -> Spot:
    """Return the place that is drawn of a rod from a joint to its far end: no further than is of use."""
    far = math.dist(one, other)
    share = 1.0 if far <= REACH_MM else REACH_MM / far
    return one[0] + (other[0] - one[0]) * share, one[1] + (other[1] - one[1]) * share


def _path(joint: Sequence[Spot], on_paper: Callable[[Spot], Spot]) -> Line:
    """Return the arc that a joint goes on, from its first place to its last."""
    radius = math.hypot(*joint[0])
    first, last = (math.atan2(y, x) for x, y in (joint[0], joint[-1]))
    turn = (last - first + math.pi) % (2 * math.pi) - math.pi
    angles = [first + turn * k / WAYS for k in range(WAYS + 1)]
    through = tuple(on_paper((radius * math.cos(a), radius * math.sin(a))) for a in angles)
    return Line(through=through, meaning="tape")


def _told(
    here: RockerHere, droop: Standing, ride: Standing, bump: Standing, scale: float, said: Said
) -> list[str]:
    """Return the lines over the drawing."""

    def turned(one: Standing, other: Standing) -> float:
        return math.degrees((other.turn - one.turn + math.pi) % (2 * math.pi) - math.pi)

    ways = [
        f"{abs(turned(ride, one)):.1f}° to full {name} ({said(abs(one.travel - ride.travel))} {unit_of(said)} at the wheel)"
        for name, one in (("droop", droop), ("bump", bump))
    ]
    included = abs(math.degrees(math.atan2(*reversed(ride.damper)) - ride.turn)) % 360
    return [
        f"{spoken(here.rocker)}, along its bolt, {scale_said(scale)}",
        f"turns {ways[0]}, {ways[1]}",
        f"{min(included, 360 - included):.1f}° between the arms; drawn where it stands, fine at both ends",
    ]
