"""A link of plates instead of a rod: two bores in the tangent band of metal, one plate or a pair beside the joints.

Buckles   sideways, each plate by itself, pinned at both bolts: Euler or Johnson on b·t³/12.
Eyes      between its bolts bend it in its plane: b·h³ less the hole's, at the eye; the plates are cut as deep as that takes.
Cannot    be adjusted: it is drilled to its length, after the cycle has passed.
"""

import math

from engine.document.make import GRADES, PlateChoice
from engine.document.threads import BoltSize, bolt_within
from engine.facts import facts
from engine.sentences import Sentence, length
from engine.shop.made import Figure, Flat, Hardware, Hole, Made, Remedy, Said
from engine.shop.outline import Circle, hull
from engine.shop.rods import Borne, section_column_n
from engine.shop.stacks import LOOSE_MM, BoltStack, Layer, Member, bolted, spacer_at, standing
from engine.shop.stock import Stock, bolt_for
from engine.shop.strength import CORE, Check, bearing, bolt_shear, net_section, tear_out, weakest

EDGE = 1.0  # of the hole, outside it
LEAST_BOLT_MM = 9.5
DEEPER = (1.0, 1.5, 2.0, 3.0, 4.0, 5.0)  # times the edge, where an eye bends it
JOINT_WIDTH = 1.6  # of the bolt, between a pair


@facts(kw_only=False)
class Eye:
    """An eye on a link: its point, how far along from the first joint and how far beside the line between both, mm."""

    point: str
    along: float
    beside: float


@facts
class _Link:
    """What a link has to do: mm between its bolts, its eyes, what it bears, of what; `count` plates."""

    long: float
    eyes: tuple[Eye, ...]
    load: Borne
    grade: str
    count: int
    stock: Stock

    def least(self, size: tuple[float, float, float]) -> float:
        """Return how many times its load it bears at its weakest, made of a thickness, a hole and an edge, mm."""
        found = weakest(self.checks(*size))
        return math.inf if found is None else found.factor

    def checks(self, thick: float, hole: float, edge: float) -> list[Check]:
        """Return what is looked at."""
        load, yields, every, width = self.load, GRADES[self.grade], self.count * thick, hole + 2 * edge
        bolt = bolt_within(hole).size
        most = math.hypot(max(load.push, load.pull), load.across)
        found = [
            bearing(most, every, bolt, yields),
            tear_out(most, every, hole, hole / 2 + edge, yields),
            net_section(max(load.push, load.pull), every, hole, width, yields),
            bolt_shear(most, CORE * bolt, 2, self.stock.bolt_yield),
        ]
        if load.push > 0:
            bears = self.count * section_column_n(width * thick, width * thick**3 / 12, yields, self.long)
            at = (self.long / 2, 0.0)
            found.append(Check(what="plates buckling sideways", factor=bears / load.push, at=at))
        if load.moment > 0:
            section = every * (width**3 - hole**3) / (6 * width)
            stress = load.moment / section + max(load.push, load.pull) / (every * (width - hole))
            at = (self.eyes[0].along, self.eyes[0].beside) if self.eyes else (self.long / 2, 0.0)
            found.append(Check(what="plates bent at its eye", factor=yields / stress, at=at))
        return [check for check in found if check is not None]


def link_member(name: str, made: Made) -> Member:
    """Return what a link of plates is in the joint at its end: its plates and the sleeve between them."""
    assert made.flat is not None
    hole = made.flat.holes[0].diameter
    gap = next(
        (
            float(figure.value or 0.0)
            for figure in made.figures
            if figure.key == "gap" and not isinstance(figure.value, str)
        ),
        0.0,
    )
    edge = float((made.choice or {})["edge"])
    return Member(
        name=name,
        what="plates and sleeve" if made.count == 2 else "plate",
        bore=bolt_within(hole).size,
        width=made.count * made.flat.thickness + gap,
        outside=hole + 2 * edge,
    )


def _stack(of: BoltSize, hole: float, thick: float, across: float, gap: float, held: Member) -> BoltStack:
    """Return what stands on the bolt of an eye on a link: between its plates, or beside the one."""
    if not gap:
        (eye,) = standing([held], of)
        plate = Layer(what="plate", at=eye.at - thick, width=thick, bore=hole, outside=across)
        return bolted([plate, eye], bolt_for(of, held.width + thick, thick), 1)
    (eye,) = standing([held], of)
    left = (gap - held.width) / 2
    inside = [
        Layer(what="plate", at=-gap / 2 - thick, width=thick, bore=hole, outside=across),
        *spacer_at(-gap / 2, left, of),
        eye,
        *spacer_at(eye.end, left, of),
        Layer(what="plate", at=gap / 2, width=thick, bore=hole, outside=across),
    ]
    return bolted(inside, bolt_for(of, gap + 2 * thick, thick), 2)


def link_made(
    station: str,
    long: float,
    choice: PlateChoice,
    load: Borne,
    stock: Stock,
    factor: float,
    hands: int,
    eyes: tuple[Eye, ...] = (),
) -> Made:
    """Return a link of plates for a body of two joints: `long` mm between its bolts, for what it bears."""
    count = 2 if choice.pair else 1
    its = _Link(long=long, eyes=eyes, load=load, grade=choice.grade, count=count, stock=stock)
    bolts = (choice.hole,) if choice.hole else tuple(one for one in stock.bolts if one >= LEAST_BOLT_MM)
    thicks = (choice.thickness,) if choice.thickness else stock.plates
    deeper = DEEPER if load.moment > 0 else (1.0,)
    sizes = [
        (thick, hole, choice.edge or EDGE * hole * deep)
        for hole in bolts
        for deep in deeper
        for thick in thicks
    ]
    size = next((one for one in sizes if its.least(one) >= factor), max(sizes, key=its.least))
    thick, hole, edge = size
    checks = its.checks(*size)
    radius = hole / 2 + edge
    spots = [(0.0, 0.0), (long, 0.0), *((eye.along, eye.beside) for eye in eyes)]
    whats = ["bolt", "bolt", *(f"bolt of {eye.point}" for eye in eyes)]
    flat = Flat(
        outline=tuple(hull([Circle(x, y, radius) for x, y in spots])),
        thickness=thick,
        grade=choice.grade,
        holes=tuple(
            Hole(what=what, x=x, y=y, diameter=hole) for what, (x, y) in zip(whats, spots, strict=True)
        ),
    )
    gap = round(JOINT_WIDTH * hole) if count == 2 else 0.0
    of = bolt_within(hole)
    held = Member(
        name="", what="eye", bore=of.size, width=round(JOINT_WIDTH * of.size), outside=2.6 * of.size
    )
    stack = _stack(of, hole, thick, hole + 2 * edge, gap, held)
    sleeve = f"{of.size:g} bore, {gap:g} mm long"
    said = []
    if hole > of.size + LOOSE_MM:
        words = "{0} has holes of {hole} for bolts of {bolt}: the bolts are loose in them, and bear on their own width alone."
        told = {"hole": length(hole), "bolt": length(of.size)}
        said.append(Said(mark="warning", say=Sentence(words, told, (choice.name,))))
    least = weakest(checks)
    if least is not None and least.factor < factor:
        words = (
            f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}."
        )
        better = next(
            (one for one in stock.plates if one > thick and its.least((one, hole, edge)) >= factor), None
        )
        remedy = None
        if better is not None:
            say = Sentence("Make it {t} thick.", {"t": length(better)})
            remedy = Remedy(say=say, change={"thickness": better})
        said.append(Said(mark="warning", say=Sentence(words, names=(choice.name,)), remedy=remedy))
    return Made(
        station=station,
        name=choice.name,
        kind="plate",
        subject=("plate", choice.body),
        proposed=False,
        count=count,
        hands=hands,
        flat=flat,
        hardware=tuple(
            [
                *([Hardware(what="sleeve between the plates", size=sleeve, count=2)] if gap else []),
                *([Hardware(what=stack.bolt.what, size=stack.bolt.said, count=len(eyes))] if eyes else []),
            ]
        ),
        stacks=(stack,) if eyes else (),
        checks=tuple(checks),
        figures=(
            Figure(key="thickness", name="Plate", value=thick),
            Figure(key="grade", name="Steel", value=choice.grade, measures="words"),
            Figure(key="centre_to_centre", name="Between its bolts", value=long),
            Figure(key="hole", name="Bolts", value=hole),
            *([Figure(key="gap", name="Gap of the pair", value=gap)] if gap else []),
            Figure(key="push", name="Greatest push", value=load.push, measures="force"),
            Figure(key="pull", name="Greatest pull", value=load.pull, measures="force"),
        ),
        said=tuple(said),
        choice={**choice.model_dump(exclude_none=True), "thickness": thick, "hole": hole, "edge": edge},
    )
