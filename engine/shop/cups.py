"""A bag's cups: a plate and a tube, mitred so that the bag's two plates are parallel, square to its line, at ride.

Base    what a cup stands on is drawn square to the bag's line as drawn, or as the document's `plates` say, and goes
        with its host; at ride it has turned away from the bag's line by the mitre.
Height  along the tube's middle; its long side is longer by half the tube times the tangent of the mitre.
"""

import math

import numpy as np

from engine.document.make import GRADES, CupChoice
from engine.document.schema import AirSpring
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array
from engine.sentences import Sentence, length
from engine.shop.angles import way_words
from engine.shop.made import Cut, Figure, Flat, Hardware, Hole, Made, Remedy, Said, TubeEnd
from engine.shop.mounts import REACH_MOST_MM, Mount
from engine.shop.outline import Arc, Circle
from engine.shop.stock import Stock, Tube
from engine.shop.strength import THROAT, Check
from engine.shop.tubes import tube_of
from engine.workup import WorkUp

PLATE_SHARE = 0.72  # of the bag's largest diameter
PLATE_MM = 110.0  # where that is not known
USUAL_HEIGHT_MM = 40.0
MITRE_MOST_DEG = 25.0
BOLT_MM = 10.0
SQUARE_DEG = 0.05


def mitre_deg(work: WorkUp, bag: AirSpring, end: str) -> float:
    """Return how far the base of a cup has turned out of square to the bag's line at ride, degrees."""
    base, line = _base_at_ride(work, bag, end)
    along = abs(float(base @ line))
    return math.degrees(math.acos(min(along, 1.0)))


def long_side(work: WorkUp, bag: AirSpring, end: str) -> Array | None:
    """Return the way to which a cup's tube is longest, (3,) unit square to the bag's line at ride; None where it is square.

    The tube runs from its base to the bag: beside its middle it is longer by as much as the base falls away there.
    """
    base, line = _base_at_ride(work, bag, end)
    into = line if end == bag.ends[0] else -line
    if base @ into < 0:
        base = -base
    way = base - into * float(base @ into)
    size = float(np.linalg.norm(way))
    return None if size < 1e-6 else np.asarray(way / size)


def _base_at_ride(work: WorkUp, bag: AirSpring, end: str) -> tuple[Array, Array]:
    """Return what a cup's base is square to at ride, and the bag's line from its first end to its second, (3,) unit each."""
    linkage, at_ride = work.linkage, work.solved.at_ride
    one, other = bag.ends
    drawn = linkage.points[linkage.index[other]] - linkage.points[linkage.index[one]]
    square = drawn if end == one else -drawn
    if bag.plates is not None:
        square = np.array(bag.plates.first if end == one else bag.plates.second, dtype=float)
    if at_ride is None:
        place = np.ascontiguousarray(linkage.points.T[:, :, None])
    else:
        place = at_ride.solution.motion.place[:, :, :1]
    turned = pose_of(linkage, host_of(linkage, end), place).direction(square)[0]
    line = place[:, linkage.index[other], 0] - place[:, linkage.index[one], 0]
    return turned / np.linalg.norm(turned), line / np.linalg.norm(line)


def cups_made(
    work: WorkUp,
    bag: AirSpring,
    end: str,
    choice: CupChoice | None,
    mount: Mount,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return the cup at one end of a bag: its plate as a flat, its tube as a cut."""
    mitre = mitre_deg(work, bag, end)
    load = mount.load
    across = (
        choice.plate
        if choice and choice.plate
        else PLATE_SHARE * (bag.max_diameter or PLATE_MM / PLATE_SHARE)
    )
    thick = choice.thickness if choice else 6.0
    tube = tube_of(choice.tube) if choice and choice.tube else _tube(stock, across, load, factor)
    near = mount.ground is not None and mount.ground.away <= 2 * REACH_MOST_MM
    height = USUAL_HEIGHT_MM
    if choice and choice.height:
        height = choice.height
    elif near and mount.ground is not None:
        height = mount.ground.away
    longest = height + math.tan(math.radians(mitre)) * tube.outside / 2
    bolts, circle = (choice.bolts if choice else 2), (choice.bolt_circle if choice else None)
    circle = circle or 0.45 * across
    holes = tuple(
        Hole(what="bolt", x=circle / 2 * math.cos(turn), y=circle / 2 * math.sin(turn), diameter=BOLT_MM + 1.0)
        for turn in (2 * math.pi * k / bolts for k in range(bolts))
    ) if bolts > 1 else (Hole(what="bolt", x=0.0, y=0.0, diameter=BOLT_MM + 1.0),)  # fmt: skip
    name = choice.name if choice else f"{bag.name} {end} cup"
    checks = cup_checks(tube, load, mount.case)
    figures = (
        Figure(key="plate", name="Plate across", value=across),
        Figure(key="thickness", name="Plate thick", value=thick),
        Figure(key="tube", name="Tube", value=tube.said, measures="words"),
        Figure(key="height", name="Height along its middle", value=height),
        Figure(key="length", name="Cut to, long side", value=longest),
        Figure(key="mitre", name="Mitre", value=mitre, measures="angle"),
        *(
            [
                Figure(
                    key="long_side",
                    name="Its long side looks",
                    value=way_words(side, mount.spot),
                    measures="words",
                )
            ]
            if mitre > SQUARE_DEG and (side := long_side(work, bag, end)) is not None
            else []
        ),
        Figure(key="clear", name="Clear all round the bag", value=bag.max_diameter or across),
        Figure(key="load", name="Peak load", value=load, measures="force"),
    )
    return Made(
        station=work.station.name,
        name=name,
        kind="cup",
        subject=("cup", bag.name, end),
        proposed=choice is None,
        hands=hands,
        flat=Flat(
            outline=(Arc(Circle(0.0, 0.0, across / 2), 0.0, 2 * math.pi),),
            thickness=thick,
            grade="S355",
            holes=holes,
        ),
        cut=Cut(tube=tube, length=longest, ends=(TubeEnd(mitre=mitre), TubeEnd())),
        hardware=(Hardware(what="bolt 8.8, washer", size=f"M{BOLT_MM:g} × 25 mm", count=max(bolts, 1)),),
        checks=tuple(checks),
        figures=figures,
        said=tuple(_said(name, bag, across, height, mitre, checks, factor, load, stock)),
        choice=_as_choice(name, bag, end, choice, across, thick, tube, height),
    )  # fmt: skip


def _as_choice(
    name: str,
    bag: AirSpring,
    end: str,
    choice: CupChoice | None,
    across: float,
    thick: float,
    tube: Tube,
    height: float,
) -> dict[str, object]:
    """Return what the document says once this cup is taken."""
    return {
        "kind": "cup",
        "name": name,
        "unit": bag.name,
        "end": end,
        "plate": round(across, 1),
        "thickness": thick,
        "tube": {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade},
        "height": round(height, 1),
        **(choice.model_dump(exclude_none=True) if choice else {}),
    }


def _tube(stock: Stock, across: float, load: float, factor: float) -> Tube:
    """Return the widest stock tube that stands inside the plate and bears the load."""
    fits = [tube for tube in stock.tubes if tube.outside <= 0.7 * across] or [stock.tubes[0]]
    strong = [tube for tube in fits if cup_factor(tube, load) >= factor]
    return (
        max(strong, key=lambda tube: tube.outside)
        if strong
        else max(fits, key=lambda tube: cup_factor(tube, load))
    )


def cup_checks(tube: Tube, load: float, case: str = "") -> list[Check]:
    """Return what a cup's tube and the weld round it bear of a load, N."""
    if load <= 0:
        return []
    throat = math.pi * tube.outside * THROAT * tube.wall
    return [
        Check(what="tube squashed", factor=tube.area * tube.yields / load, case=case),
        Check(what="weld round the tube", factor=throat * GRADES["S235"] / math.sqrt(3) / load, case=case),
    ]


def cup_factor(tube: Tube, load: float) -> float:
    """Return how many times a load a cup's tube bears at its weakest."""
    return min((check.factor for check in cup_checks(tube, load)), default=math.inf)


def _said(
    name: str,
    bag: AirSpring,
    across: float,
    height: float,
    mitre: float,
    checks: list[Check],
    factor: float,
    load: float,
    stock: Stock,
) -> list[Said]:
    said = []
    if bag.max_diameter is not None and across > bag.max_diameter:
        words = "{0} has a plate of {plate}, wider than the bag ever is ({bag}): it does no harm, but it is in the way."
        told = {"plate": length(across), "bag": length(bag.max_diameter)}
        said.append(Said(mark="note", say=Sentence(words, told, (name,))))
    if mitre > MITRE_MOST_DEG:
        words = f"{{0}} would be mitred {mitre:.0f}°, and the bag's plates stand crooked on either side of ride: turn the bag's ends."
        said.append(Said(mark="warning", say=Sentence(words, names=(name,))))
    low = [check for check in checks if check.factor < factor]
    if low:
        wanted = next(
            (
                one
                for one in sorted(stock.tubes, key=lambda one: one.area)
                if cup_factor(one, load) >= factor and one.outside < across
            ),
            None,
        )
        remedy = None
        if wanted is not None:
            size = {"outside": wanted.outside, "wall": wanted.wall, "grade": wanted.grade}
            remedy = Remedy(say=Sentence("Take {0}.", names=(wanted.said,)), change={"tube": size})
        words = (
            f"{{0}} bears {low[0].factor:.1f} times its peak load where {factor:g} are wanted: {low[0].what}."
        )
        if remedy is None:
            words += " No stock tube is strong enough under this plate: take a thicker wall, or two tubes side by side."
        said.append(Said(mark="warning", say=Sentence(words, names=(name,)), remedy=remedy))
    if height < 1.0:
        words = "{0} has no height: the bag bolts to the frame by itself there."
        said.append(Said(mark="note", say=Sentence(words, names=(name,))))
    return said
