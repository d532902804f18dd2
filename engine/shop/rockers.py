"""A rocker's plates: the bores of the linkage in the tangent band of metal, checked under the loads of its joints."""

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from engine.document.make import GRADES, PlateChoice
from engine.document.schema import RockerPlate
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.loads.peak import Peak, sum_at
from engine.sentences import Sentence, length
from engine.shop.made import Figure, Flat, Hardware, Hole, Made, Remedy, Said
from engine.shop.outline import Circle, hull
from engine.shop.rocker_joints import BUSH_MM, RockerJoints, rocker_joints
from engine.shop.small import edge_left
from engine.shop.stock import Stock
from engine.shop.strength import Check, bearing, bolt_shear, tear_out, tube_bent, weakest
from engine.sizing.rocker.plate import Plate, metal_of
from engine.sizing.rocker.wheel_side import RockerHere


def thicker(joints: RockerJoints, sizes: RockerPlate) -> RockerJoints:
    """Return a rocker's joints with plates of other sizes."""
    return rocker_joints(
        joints.here, joints.drawn, sizes, joints.told, joints.rod, joints.eye, joints.pivot.bore
    )


@facts
class RockerLoads:
    """What comes to a rocker's holes in every case, (cases,) N, and the cases' names."""

    rod: Array
    damper: Array
    pivot: Array
    cases: tuple[str, ...]

    def at(self, what: str) -> Array:
        """Return what comes to one hole."""
        its: Array = {"rod": self.rod, "damper": self.damper, "pivot": self.pivot}[what]
        return its


NO_LOADS = RockerLoads(rod=np.zeros(1), damper=np.zeros(1), pivot=np.zeros(1), cases=("",))


def rocker_loads(here: RockerHere, peak: Peak | None, coaxial: Sequence[str] = ()) -> RockerLoads:
    """Return what comes to a rocker's holes; `coaxial` units stand on the damper's own eyes."""
    if peak is None:
        return NO_LOADS
    rod = np.array([case.links.get(here.rod, 0.0) for case in peak.cases])
    if here.rod in peak.bent:
        rod = np.array([np.linalg.norm(its) for its in peak.forces_at(here.rod_joint, here.rod)])
    damper = np.array(
        [sum(case.units.get(name, 0.0) for name in (here.unit, *coaxial)) for case in peak.cases]
    )
    pivots = dict.fromkeys(here.pivots)
    pivot = np.linalg.norm(sum_at(peak, list(pivots)), axis=1)
    return RockerLoads(rod=np.abs(rod), damper=np.abs(damper), pivot=pivot, cases=peak.words)


def rocker_made(
    station: str,
    joints: RockerJoints,
    proposed: bool,
    choice: PlateChoice | None,
    loads: RockerLoads,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return the plates of one rocker, with its bolts; raise NoThread where no bolt goes through them."""
    sizes, drawn, here = joints.sizes, joints.drawn, joints.here
    grade = choice.grade if choice else stock.plate_grade
    holes = _holes(drawn, sizes)
    outline = tuple(hull([Circle(hole.x, hole.y, hole.diameter / 2 + sizes.edge) for hole in holes]))
    if choice and choice.lighten:
        x, y = (sum(getattr(hole, axis) for hole in holes) / 3 for axis in ("x", "y"))
        holes.append(Hole(what="lightening", x=x, y=y, diameter=choice.lighten))
    flat = Flat(outline=outline, thickness=sizes.thickness, grade=grade, holes=tuple(holes))
    name = f"{here.rocker} plate"
    checks = rocker_checks(joints, grade, loads, stock)
    gap = joints.gap
    stacks = (joints.rod_stack(), joints.eye_stack())
    hardware, grips = [], []
    for what, stack in zip(("rod", "damper"), stacks, strict=True):
        hardware.append(Hardware(what=stack.bolt.what, size=stack.bolt.said))
        spacers = [layer.width for layer in stack.layers if layer.what == "spacer"]
        for wide in dict.fromkeys(spacers):
            size = f"for {stack.bolt.of.said}, {wide:.4g} mm long"
            hardware.append(Hardware(what="spacer", size=size, count=spacers.count(wide)))
        grips += [
            Figure(key=f"{what}_bolt", name=f"Bolt of the {what}", value=stack.bolt.said, measures="words"),
            Figure(key=f"{what}_grip", name=f"Bolt of the {what} grips", value=stack.bolt.grip),
            Figure(
                key=f"{what}_stack", name=f"On the bolt of the {what}", value=stack.words, measures="words"
            ),
        ]
    sleeve = joints.pivot.width
    outside = sizes.pivot_bore - 2 * BUSH_MM
    hardware.append(
        Hardware(
            what="pivot sleeve",
            size=f"{outside:.4g} outside, {joints.pivot.bore:.4g} bore, {sleeve:.4g} mm long",
        )
    )
    figures = [
        Figure(key="thickness", name="Plate", value=sizes.thickness),
        Figure(key="grade", name="Steel", value=grade, measures="words"),
        *([Figure(key="gap", name="Gap of the pair", value=gap)] if gap else []),
        Figure(key="rod_arm", name="Pivot to rod", value=drawn.rod_arm),
        Figure(key="damper_arm", name="Pivot to damper", value=drawn.damper_arm),
        Figure(key="included", name="Angle between the arms", value=drawn.included, measures="angle"),
        Figure(key="pivot_sleeve", name="Sleeve through the pivot, long", value=sleeve),
        Figure(key="pivot_bolt", name="Bolt of the pivot", value=joints.pivot.bore),
        Figure(key="middle", name="Middle of the plates from the rod's plane", value=joints.middle),
        *grips,
    ]
    return Made(
        station=station,
        name=name,
        kind="plate",
        subject=("plate", here.rocker),
        proposed=proposed,
        count=sizes.count,
        hands=hands,
        flat=flat,
        hardware=tuple(hardware),
        checks=tuple(checks),
        figures=tuple(figures),
        said=(*joints.said(name), *_said(name, joints, grade, flat, checks, loads, stock, factor, choice)),
        stacks=stacks,
        choice={"kind": "plate", "name": name, "body": here.rocker, "grade": grade,
                "lighten": choice.lighten if choice else 0.0},
    )  # fmt: skip


def _holes(drawn: Plate, sizes: RockerPlate) -> list[Hole]:
    """Return pivot, rod and damper."""
    turn = math.radians(drawn.included)
    x, y = drawn.damper_arm * math.cos(turn), drawn.damper_arm * math.sin(turn)
    return [
        Hole(what="pivot", x=0.0, y=0.0, diameter=sizes.pivot_bore),
        Hole(what="rod", x=drawn.rod_arm, y=0.0, diameter=sizes.rod_hole),
        Hole(what="damper", x=x, y=y, diameter=sizes.damper_hole),
    ]


def rocker_checks(joints: RockerJoints, grade: str, loads: RockerLoads, stock: Stock) -> list[Check]:
    """Return everything that a rocker's plates and bolts bear; the plate nearer to what pushes bears the more of it."""
    sizes, drawn, cases = joints.sizes, joints.drawn, loads.cases
    yields, every = GRADES[grade], sizes.count * sizes.thickness
    shares = {"pivot": 1.0, "rod": joints.share(0.0), "damper": joints.share(drawn.offset)}
    bolts = {"pivot": sizes.pivot_bore, "rod": joints.rod.bore, "damper": joints.eye.bore}
    found: list[Check | None] = []
    for hole in _holes(drawn, sizes):
        load = loads.at(hole.what) * shares[hole.what]
        edge, bears = hole.diameter / 2 + sizes.edge, min(hole.diameter, bolts[hole.what])
        its = [
            bearing(load, every, bears, yields, hole.what, cases),
            tear_out(load, every, hole.diameter, edge, yields, hole.what, cases),
        ]
        if hole.what != "pivot":
            stack = joints.rod_stack() if hole.what == "rod" else joints.eye_stack()
            bolt = stack.bolt
            its.append(
                bolt_shear(load, bolt.size, stack.planes, stock.bolt_yield, bolt.shank_in_shear, cases)
            )
        found += [None if check is None else _at(check, hole) for check in its]
    # The plates are bent most beside the pivot, by the rod's load on its arm.
    deep, bore = sizes.pivot_bore + 2 * sizes.edge, sizes.pivot_bore
    section = every * (deep**3 - bore**3) / (6 * deep)
    moments = np.maximum(
        loads.rod * drawn.rod_arm * shares["rod"], loads.damper * drawn.damper_arm * shares["damper"]
    )
    worst = int(moments.argmax())
    bent = tube_bent(float(moments[worst]), 0.0, section, 1.0, yields)
    if bent is not None:
        what, case = "plate bent beside the pivot", cases[worst]
        found.append(Check(what=what, factor=bent.factor, at=(0.0, 0.0), case=case))
    return [check for check in found if check is not None]


def _at(check: Check, hole: Hole) -> Check:
    return replace(check, at=(hole.x, hole.y))


def _said(
    name: str,
    joints: RockerJoints,
    grade: str,
    flat: Flat,
    checks: list[Check],
    loads: RockerLoads,
    stock: Stock,
    factor: float,
    choice: PlateChoice | None,
) -> list[Said]:
    drawn, sizes = joints.drawn, joints.sizes
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
            again = weakest(rocker_checks(thicker(joints, other), grade, loads, stock))
            if thick > sizes.thickness and again is not None and again.factor >= factor:
                remedy = Remedy(
                    say=Sentence("Make it {t} thick.", {"t": length(thick)}),
                    change={"thickness": thick},
                    into="plates",
                )
                break
        words = f"{{0}} bears {least.factor:.1f} times its peak load where {factor:g} are wanted: {least.what}, {least.case}."
        more = (
            ""
            if remedy
            else " No thicker plate helps: take a larger bolt, more metal about the hole, or a longer arm."
        )
        said.append(Said(mark="warning", say=Sentence(words + more, names=(name,)), remedy=remedy))
    return said
