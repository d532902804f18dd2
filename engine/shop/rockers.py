"""A rocker's plates: the bores of the linkage in the tangent band of metal, checked under the loads of its joints."""

import math

from engine.document.make import GRADES, PlateChoice
from engine.document.schema import RockerPlate
from engine.loads.joints import Peak
from engine.sentences import Sentence, length
from engine.shop.made import Figure, Flat, Hardware, Hole, Made, Remedy, Said
from engine.shop.outline import Circle, hull
from engine.shop.small import edge_left
from engine.shop.stock import Stock, bolt_for
from engine.shop.strength import Check, bearing, bolt_shear, tear_out, tube_bent, weakest
from engine.sizing.rocker.plate import Plate, metal_of
from engine.sizing.rocker.wheel_side import RockerHere

PIVOT_SLEEVE = 2.0  # mm longer than the rocker, for the bearing's own play


def rocker_made(
    station: str,
    here: RockerHere,
    drawn: Plate,
    cut: RockerPlate | None,
    choice: PlateChoice | None,
    peak: Peak | None,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return the plates of one rocker, with its bolts."""
    sizes = cut or _proposed(here, drawn, peak, stock, factor)
    grade = choice.grade if choice else stock.plate_grade
    holes = _holes(drawn, sizes)
    outline = tuple(hull([Circle(hole.x, hole.y, hole.diameter / 2 + sizes.edge) for hole in holes]))
    if choice and choice.lighten:
        x, y = (sum(getattr(hole, axis) for hole in holes) / 3 for axis in ("x", "y"))
        holes.append(Hole(what="lightening", x=x, y=y, diameter=choice.lighten))
    flat = Flat(outline=outline, thickness=sizes.thickness, grade=grade, holes=tuple(holes))
    loads = _loads(here, peak)
    name = f"{here.rocker} plate"
    checks = _checks(holes, sizes, grade, loads, stock, drawn)
    gap = sizes.gap if sizes.count == 2 else 0.0
    hardware, grips = [], []
    for hole in holes[1:3]:
        bolt = bolt_for(hole.diameter, sizes.count * sizes.thickness + gap, sizes.thickness)
        hardware.append(Hardware(what="bolt 8.8, washers, lock nut", size=bolt.said))
        grips.append(
            Figure(
                key=f"{hole.what}_bolt", name=f"Bolt of the {hole.what}", value=bolt.said, measures="words"
            )
        )
    sleeve = sizes.count * sizes.thickness + gap + PIVOT_SLEEVE
    figures = [
        Figure(key="thickness", name="Plate", value=sizes.thickness),
        Figure(key="grade", name="Steel", value=grade, measures="words"),
        *([Figure(key="gap", name="Gap of the pair", value=gap)] if gap else []),
        Figure(key="rod_arm", name="Pivot to rod", value=drawn.rod_arm),
        Figure(key="damper_arm", name="Pivot to damper", value=drawn.damper_arm),
        Figure(key="included", name="Angle between the arms", value=drawn.included, measures="angle"),
        Figure(key="pivot_sleeve", name="Sleeve through the pivot, long", value=sleeve),
        *grips,
    ]
    return Made(
        station=station,
        name=name,
        kind="plate",
        subject=("plate", here.rocker),
        proposed=cut is None and choice is None,
        count=sizes.count,
        hands=hands,
        flat=flat,
        hardware=tuple(hardware),
        checks=tuple(checks),
        figures=tuple(figures),
        said=tuple(_said(name, drawn, sizes, grade, flat, checks, loads, stock, factor, choice)),
        choice={"kind": "plate", "name": name, "body": here.rocker, "grade": grade,
                "lighten": choice.lighten if choice else 0.0},
    )  # fmt: skip


def _proposed(here: RockerHere, drawn: Plate, peak: Peak | None, stock: Stock, factor: float) -> RockerPlate:
    """Return the thinnest plates with the least metal about their holes that bear their loads."""
    usual, loads = RockerPlate(), _loads(here, peak)
    for edge in (usual.edge, 1.5 * usual.edge, 2 * usual.edge):
        for thick in (one for one in stock.plates if one >= min(usual.thickness, stock.plates[-1])):
            sizes = usual.model_copy(update={"thickness": thick, "edge": edge})
            least = weakest(_checks(_holes(drawn, sizes), sizes, stock.plate_grade, loads, stock, drawn))
            if least is None or least.factor >= factor:
                return sizes
    return sizes


def _holes(drawn: Plate, sizes: RockerPlate) -> list[Hole]:
    """Return pivot, rod and damper."""
    turn = math.radians(drawn.included)
    x, y = drawn.damper_arm * math.cos(turn), drawn.damper_arm * math.sin(turn)
    return [
        Hole(what="pivot", x=0.0, y=0.0, diameter=sizes.pivot_bore),
        Hole(what="rod", x=drawn.rod_arm, y=0.0, diameter=sizes.rod_hole),
        Hole(what="damper", x=x, y=y, diameter=sizes.damper_hole),
    ]


def _loads(here: RockerHere, peak: Peak | None) -> dict[str, float]:
    """Return the peak load at each hole, N."""
    if peak is None:
        return {}
    low, high = peak.links.get(here.rod, (0.0, 0.0))
    pivots = [peak.joints.get(point, 0.0) for point in here.pivots]
    return {"rod": max(-low, high), "damper": peak.units.get(here.unit, 0.0), "pivot": sum(pivots)}


def _checks(
    holes: list[Hole],
    sizes: RockerPlate,
    grade: str,
    loads: dict[str, float],
    stock: Stock,
    drawn: Plate,
) -> list[Check]:
    yields, every = GRADES[grade], sizes.count * sizes.thickness
    found: list[Check | None] = []
    for hole in holes[:3]:
        load = loads.get(hole.what, 0.0)
        edge = hole.diameter / 2 + sizes.edge
        its = [
            bearing(load, every, hole.diameter, yields, hole.what),
            tear_out(load, every, hole.diameter, edge, yields, hole.what),
        ]
        if hole.what != "pivot":
            its.append(bolt_shear(load, hole.diameter, sizes.count, stock.bolt_yield))
        found += [None if check is None else _at(check, hole) for check in its]
    # The plates are bent most beside the pivot, by the rod's load on its arm.
    deep, bore = sizes.pivot_bore + 2 * sizes.edge, sizes.pivot_bore
    section = every * (deep**3 - bore**3) / (6 * deep)
    bent = tube_bent(loads.get("rod", 0.0) * drawn.rod_arm, 0.0, section, 1.0, yields)
    if bent is not None:
        found.append(Check(what="plate bent beside the pivot", factor=bent.factor, at=(0.0, 0.0)))
    return [check for check in found if check is not None]


def _at(check: Check, hole: Hole) -> Check:
    return Check(what=check.what, factor=check.factor, at=(hole.x, hole.y))


def _said(
    name: str,
    drawn: Plate,
    sizes: RockerPlate,
    grade: str,
    flat: Flat,
    checks: list[Check],
    loads: dict[str, float],
    stock: Stock,
    factor: float,
    choice: PlateChoice | None,
) -> list[Said]:
    said = []
    for metal in metal_of(drawn, sizes):
        if not metal.good:
            words = "{0} has {left} of metal between {1} and {2}; {wanted} is wanted."
            told = {"left": length(metal.metal), "wanted": length(metal.wanted)}
            said.append(Said(mark="warning", say=Sentence(words, told, (name, metal.one, metal.other))))
    if choice and choice.lighten:
        hole = flat.holes[-1]
        between = [
            math.hypot(hole.x - other.x, hole.y - other.y) - (hole.diameter + other.diameter) / 2
            for other in flat.holes[:3]
        ]
        left = min(edge_left(flat, hole), *between)
        if left < sizes.edge / 2:
            words = "{0}: the lightening hole leaves {left} of metal; {wanted} is the least here. Make it smaller."
            told = {"left": length(left), "wanted": length(sizes.edge / 2)}
            mark = "fault" if left <= 0 else "warning"
            said.append(Said(mark=mark, say=Sentence(words, told, (name,))))
    least = weakest(checks)
    if least is not None and least.factor < factor:
        remedy = None
        for thick in stock.plates:
            other = sizes.model_copy(update={"thickness": thick})
            again = weakest(_checks(list(flat.holes), other, grade, loads, stock, drawn))
            if thick > sizes.thickness and again is not None and again.factor >= factor:
                remedy = Remedy(
                    say=Sentence("Make it {t} thick.", {"t": length(thick)}),
                    change={"thickness": thick},
                    into="plates",
                )
                break
        words = (
            f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}."
        )
        more = (
            ""
            if remedy
            else " No thicker plate helps: take a larger bolt, more metal about the hole, or a longer arm."
        )
        said.append(Said(mark="warning", say=Sentence(words + more, names=(name,)), remedy=remedy))
    return said
