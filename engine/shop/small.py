"""The small things: adapters, crush sleeves, gussets, doublers, strap kits, and plates taken from a card template."""

import math

from engine.document.make import AdapterChoice, GussetChoice, SleeveChoice, TemplateChoice
from engine.document.schema import Coilover, Damper, Station, Strap
from engine.loads.peak import Most
from engine.sentences import Quantity, Sentence, length
from engine.shop.gussets import WELD_CORNER_MM
from engine.shop.made import Cut, Figure, Flat, Hardware, Hole, Made, Said
from engine.shop.outline import Arc, Circle, area_of, bulged, hull, inside, sharp
from engine.shop.rods import column_n
from engine.shop.stock import Tube
from engine.shop.strength import Check

ROUND_MM = 8.0
STRAP_LOOP_MM = 60.0  # sewn back at each end
LEAST_METAL = 1.0  # of a hole's diameter, from its edge to the outline


def adapter_made(
    station: Station, choice: AdapterChoice | None, unit: Coilover | Damper, end: str, most: Most, hands: int
) -> Made | None:
    """Return what makes up the length at a damper's end; None where the job has no adapter there."""
    given = unit.adapter
    first = end == unit.ends[0]
    # `top` is the end that stands higher as drawn.
    heights = [station.points[name][2] for name in unit.ends]
    top = (heights[0] >= heights[1]) == first
    long = 0.0 if given is None else (given.top if top else given.bottom)
    if long <= 0:
        return None
    across = choice.diameter if choice else 30.0
    bar, load = Tube(outside=across, wall=across / 2 - 1e-9), most.value
    bears = min(column_n(bar, long), bar.area * bar.yields)
    name = choice.name if choice else f"{unit.name} {end} adapter"
    return Made(
        station=station.name,
        name=name,
        kind="adapter",
        subject=("adapter", unit.name, end),
        proposed=choice is None,
        hands=hands,
        cut=Cut(tube=bar, length=long),
        checks=(Check(what="adapter squashed", factor=bears / load, case=most.case),) if load > 0 else (),
        figures=(
            Figure(key="length", name="Mount to the damper's eye", value=long),
            Figure(key="diameter", name="Round bar across", value=across),
            Figure(key="load", name="Peak load", value=load, measures="force"),
        ),
        choice={"kind": "adapter", "name": name, "unit": unit.name, "end": end, "diameter": across},
    )


def sleeve_made(station: Station, choice: SleeveChoice, hands: int) -> Made:
    """Return a crush tube through a box rail: as long as the rail is wide, its bore over the bolt."""
    tube = Tube(outside=choice.bolt + 0.5 + 2 * choice.wall, wall=choice.wall)
    return Made(
        station=station.name,
        name=choice.name,
        kind="sleeve",
        subject=("sleeve", choice.name),
        proposed=False,
        hands=hands,
        cut=Cut(tube=tube, length=choice.rail),
        hardware=(Hardware(what="bolt 8.8, 2 washers, lock nut", size=f"M{choice.bolt:g}, grip {choice.rail:g} mm and what it holds"),),
        figures=(
            Figure(key="length", name="Cut to", value=choice.rail),
            Figure(key="outside", name="Hole through the rail", value=tube.outside),
            Figure(key="bore", name="Bore", value=tube.bore),
        ),
        choice=choice.model_dump(exclude_none=True),
    )  # fmt: skip


def gusset_made(station: Station, choice: GussetChoice, hands: int) -> Made:
    """Return a three-cornered plate, its inner corner cut off for the weld; or a doubler with rounded corners."""
    a, b = choice.legs
    if choice.kind == "doubler":
        r = min(ROUND_MM, a / 4, b / 4)
        spots = [(r, r), (a - r, r), (a - r, b - r), (r, b - r)]
        outline = hull([Circle(x, y, r) for x, y in spots])
        holes = [Hole(what="hole", x=a / 2, y=b / 2, diameter=choice.hole)] if choice.hole else []
    else:
        turn = math.radians(choice.angle)
        c = min(WELD_CORNER_MM, a / 3, b / 3)
        along = (math.cos(turn), math.sin(turn))
        outline = [
            sharp(c, 0.0),
            sharp(a, 0.0),
            sharp(b * along[0], b * along[1]),
            sharp(c * along[0], c * along[1]),
        ]
        x, y = (a + b * along[0]) / 3, b * along[1] / 3
        holes = [Hole(what="hole", x=x, y=y, diameter=choice.hole)] if choice.hole else []
    flat = Flat(outline=tuple(outline), thickness=choice.thickness, grade=choice.grade, holes=tuple(holes))
    return Made(
        station=station.name,
        name=choice.name,
        kind=choice.kind,
        subject=(choice.kind, choice.name),
        proposed=False,
        count=choice.count,
        hands=hands,
        flat=flat,
        figures=(
            Figure(key="thickness", name="Plate", value=choice.thickness),
            Figure(key="leg_1", name="One side", value=a),
            Figure(key="leg_2", name="Other side", value=b),
            *([Figure(key="angle", name="Angle between them", value=choice.angle, measures="angle")] if choice.kind == "gusset" else []),
        ),
        said=tuple(_thin(choice.name, flat)),
        choice=choice.model_dump(exclude_none=True),
    )  # fmt: skip


def strap_made(station: Station, strap: Strap, load: float, hands: int) -> Made:
    """Return a limit strap: what to have sewn or cut, its stretch and its adjuster."""
    taut = strap.length
    figures = [
        Figure(key="length", name="Taut, hole to hole", value=taut),
        Figure(key="webbing", name="Webbing to cut, loops sewn", value=taut + 2 * STRAP_LOOP_MM),
        Figure(key="stretched", name="At full load", value=taut * (1 + strap.stretch)),
        Figure(key="adjust", name="Its adjuster takes in", value=strap.adjust),
        Figure(key="load", name="Peak load", value=load, measures="force"),
    ]
    said = []
    if strap.adjust is None:
        words = "{0} has no adjuster: make it with one, or with a row of holes, so that droop can be set on the floor."
        said.append(Said(mark="note", say=Sentence(words, names=(strap.name,))))
    return Made(
        station=station.name,
        name=f"{strap.name} kit",
        kind="strap",
        subject=("strap", strap.name),
        proposed=True,
        hands=hands,
        hardware=(
            Hardware(what="webbing 50 mm wide, rated", size=f"{taut + 2 * STRAP_LOOP_MM:.0f} mm"),
            Hardware(what="strap end plate", size="for 50 mm webbing", count=2),
        ),
        figures=tuple(figures),
        said=tuple(said),
    )


def template_made(station: Station, choice: TemplateChoice, hands: int) -> Made:
    """Return a plate by its own outline; faults where a hole runs out of it."""
    corners = [(corner.at[0], corner.at[1], corner.bulge) for corner in choice.outline]
    outline = tuple(bulged(corners))
    holes = tuple(
        Hole(
            what=hole.what,
            x=hole.at[0],
            y=hole.at[1],
            diameter=hole.diameter,
            to=None if hole.to is None else (hole.to[0], hole.to[1]),
        )
        for hole in choice.holes
    )
    flat = Flat(outline=outline, thickness=choice.thickness, grade=choice.grade, holes=holes)
    area = abs(area_of(list(outline)))
    return Made(
        station=station.name,
        name=choice.name,
        kind="template",
        subject=("template", choice.name),
        proposed=False,
        count=choice.count,
        hands=hands if choice.both_hands else 1,
        flat=flat,
        figures=(
            Figure(key="thickness", name="Plate", value=choice.thickness),
            Figure(key="area", name="Area", value=area, measures="area"),
            *(Figure(key=f"hole_{n}", name=f"Hole {n}, {hole.what}", value=hole.diameter) for n, hole in enumerate(holes, 1)),
        ),
        said=tuple(_thin(choice.name, flat)),
        choice=choice.model_dump(exclude_none=True),
    )  # fmt: skip


def edge_left(flat: Flat, hole: Hole) -> float:
    """Return the least metal between a hole's edge and the outline, mm; negative where it runs out of it."""
    outline = list(flat.outline)
    return min(-outline_distance(outline, x, y) for x, y in _along(hole)) - hole.diameter / 2


def _along(hole: Hole) -> list[tuple[float, float]]:
    """Return the middle of a round hole, or places a millimetre apart along that of a slot."""
    if hole.to is None:
        return hole.places
    (x, y), (u, v) = hole.places
    steps = math.ceil(math.hypot(u - x, v - y)) or 1
    return [(x + (u - x) * n / steps, y + (v - y) * n / steps) for n in range(steps + 1)]


def outline_distance(outline: list[Arc], x: float, y: float) -> float:
    """Return how far a place is from an outline, mm, outside of it +."""
    least = math.inf
    for arc, after in zip(outline, [*outline[1:], *outline[:1]], strict=True):
        least = min(least, _to_arc(arc, x, y), _to_line(arc.last, after.first, x, y))
    return -least if inside(outline, x, y) else least


def _to_arc(arc: Arc, x: float, y: float) -> float:
    its = arc.circle
    angle = math.atan2(y - its.y, x - its.x)
    off = (angle - arc.start) % (2 * math.pi) if arc.turn >= 0 else (arc.start - angle) % (2 * math.pi)
    if off <= abs(arc.turn):
        return abs(math.hypot(x - its.x, y - its.y) - its.radius)
    return min(math.dist((x, y), arc.first), math.dist((x, y), arc.last))


def _to_line(one: tuple[float, float], other: tuple[float, float], x: float, y: float) -> float:
    dx, dy = other[0] - one[0], other[1] - one[1]
    size = dx * dx + dy * dy
    along = 0.0 if size < 1e-18 else min(max(((x - one[0]) * dx + (y - one[1]) * dy) / size, 0.0), 1.0)
    return math.hypot(one[0] + along * dx - x, one[1] + along * dy - y)


def _thin(name: str, flat: Flat) -> list[Said]:
    said = []
    for hole in flat.holes:
        left = edge_left(flat, hole)
        told: dict[str, Quantity] = {"left": length(left), "size": length(hole.diameter)}
        if left <= 0:
            words = "{0}: the hole of {size} runs out of the plate. Move it in, or drill smaller."
            said.append(Said(mark="fault", say=Sentence(words, told, (name,))))
        elif left < LEAST_METAL * hole.diameter / 2:
            words = "{0} has {left} of metal beside its hole of {size}: move it in, or leave a wider edge."
            said.append(Said(mark="warning", say=Sentence(words, told, (name,))))
    return said
