"""A link of plates instead of a rod: two bores in the tangent band of metal, one plate or a pair beside the joints.

Buckles   sideways, each plate by itself, pinned at both bolts: Euler or Johnson on b·t³/12.
Cannot    be adjusted: it is drilled to its length, after the cycle has passed.
"""

import math

from engine.document.make import GRADES, PlateChoice
from engine.sentences import Sentence, length
from engine.shop.made import Figure, Flat, Hardware, Hole, Made, Remedy, Said
from engine.shop.outline import Circle, hull
from engine.shop.rods import section_column_n
from engine.shop.stock import Stock, bolt_for
from engine.shop.strength import Check, bearing, bolt_shear, net_section, tear_out, weakest

EDGE = 1.0  # of the hole, outside it
LEAST_BOLT_MM = 10.0
JOINT_WIDTH = 1.6  # of the bolt, between a pair


def link_made(
    station: str,
    long: float,
    choice: PlateChoice,
    push: float,
    pull: float,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return a link of plates for a body of two points: `long` mm between its bolts, pushed and pulled by so much, N."""
    count = 2 if choice.pair else 1
    bolts = (choice.hole,) if choice.hole else tuple(one for one in stock.bolts if one >= LEAST_BOLT_MM)
    thicks = (choice.thickness,) if choice.thickness else stock.plates
    sizes = [(thick, hole, choice.edge or EDGE * hole) for hole in bolts for thick in thicks]

    def least_of(size: tuple[float, float, float]) -> float:
        return _least(*size, count, long, push, pull, choice.grade, stock)

    thick, hole, edge = next((size for size in sizes if least_of(size) >= factor), sizes[-1])
    checks = _checks(thick, hole, edge, count, long, push, pull, choice.grade, stock)
    holes = (Hole(what="bolt", x=0.0, y=0.0, diameter=hole), Hole(what="bolt", x=long, y=0.0, diameter=hole))
    radius = hole / 2 + edge
    flat = Flat(
        outline=tuple(hull([Circle(0.0, 0.0, radius), Circle(long, 0.0, radius)])),
        thickness=thick,
        grade=choice.grade,
        holes=holes,
    )
    gap = round(JOINT_WIDTH * hole) if count == 2 else 0.0
    bolt = bolt_for(hole, count * thick + max(gap, JOINT_WIDTH * hole), thick)
    said = []
    least = weakest(checks)
    if least is not None and least.factor < factor:
        words = (
            f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}."
        )
        better = next(
            (
                one
                for one in stock.plates
                if one > thick
                and _least(one, hole, edge, count, long, push, pull, choice.grade, stock) >= factor
            ),
            None,
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
        hardware=(Hardware(what="bolt 8.8, washers, lock nut", size=bolt.said, count=2),),
        checks=tuple(checks),
        figures=(
            Figure(key="thickness", name="Plate", value=thick),
            Figure(key="grade", name="Steel", value=choice.grade, measures="words"),
            Figure(key="centre_to_centre", name="Between its bolts", value=long),
            Figure(key="hole", name="Bolts", value=hole),
            *([Figure(key="gap", name="Gap of the pair", value=gap)] if gap else []),
            Figure(key="push", name="Greatest push", value=push, measures="force"),
            Figure(key="pull", name="Greatest pull", value=pull, measures="force"),
        ),
        said=tuple(said),
        choice={**choice.model_dump(exclude_none=True), "thickness": thick, "hole": hole, "edge": edge},
    )


def _least(*sizes: object) -> float:
    found = weakest(_checks(*sizes))  # type: ignore[arg-type]
    return math.inf if found is None else found.factor


def _checks(
    thick: float,
    hole: float,
    edge: float,
    count: int,
    long: float,
    push: float,
    pull: float,
    grade: str,
    stock: Stock,
) -> list[Check]:
    yields, every, width = GRADES[grade], count * thick, hole + 2 * edge
    load = max(push, pull)
    found = [
        bearing(load, every, hole, yields),
        tear_out(load, every, hole, hole / 2 + edge, yields),
        net_section(load, every, hole, width, yields),
        bolt_shear(load, hole, count, stock.bolt_yield),
    ]
    if push > 0:
        bears = count * section_column_n(width * thick, width * thick**3 / 12, yields, long)
        found.append(Check(what="plates buckling sideways", factor=bears / push, at=(long / 2, 0.0)))
    return [check for check in found if check is not None]
