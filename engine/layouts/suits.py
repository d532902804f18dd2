"""Whether an arrangement suits a job: what it would need and do at that size, measured on its own solved start.

Room    what the user says is free, mm; None where he says nothing.
Facts   what the starting geometry needs and does; worked out once for a brief.
Beside  room between the tyre's inner face and the frame that the spring or damper takes.
"""

from functools import lru_cache

import numpy as np

from engine.document.read import check_project
from engine.document.schema import AirSpring, Coilover, Damper, SpringUnit, Station
from engine.errors import EngineError
from engine.facts import facts
from engine.layouts.catalogue import layout_named, starting_project
from engine.layouts.layout import Brief
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.ride.angles import rocker_joints
from engine.sentences import Quantity, Sentence, length

CARRIES = (Coilover, SpringUnit, AirSpring)
SPARE_MM = 12.0  # beside a coil or a bag
LEANING_MM = 250.0  # a unit whose ends lie further apart across the car passes over the frame
INBOARD_MM = 350.0  # a unit that begins so far from the tyre stands inside the frame
ROWS = 21
DIRECT, INDIRECT = 0.8, 0.55  # damper per wheel
RISES = 0.03
DEFAULT_COIL_MM = 80.0


@facts
class Room:
    """What is free at the vehicle, mm, and what it is for.

    beside : between the tyre's inner face and the frame; above : over the hub's middle, to body or bonnet
    under  : ground clearance wanted under spring, damper and rocker; bag : width free for a bag
    """

    beside: float | None = None
    above: float | None = None
    under: float | None = None
    bag: float | None = None
    purpose: str | None = None


@facts
class Facts:
    """What an arrangement needs (mm) and does at the size of a brief.

    beside  : None where nothing but a rod, or nothing at all, stands beside the tyre
    ratio   : damper (or spring, or bag) per wheel as drawn; change : its rise to full bump from full droop, share
    stroke mm of damper; twist mm that bushes absorb in heave; refused : why it cannot be drawn at that size
    """

    refused: str | None = None
    beside: float | None = None
    crosses: bool = False
    above: float = 0.0
    under: float = 0.0
    bag: float | None = None
    rocker: bool = False
    ratio: float = 1.0
    change: float = 0.0
    stroke: float | None = None
    rate: float | None = None
    forced: bool = False
    centreline: bool = False
    axle: bool = False


@facts
class Suited:
    """An arrangement for a job: whether it fits the room, why to take it and why not."""

    layout: str
    fits: bool
    why: tuple[Sentence, ...]
    why_not: tuple[Sentence, ...]


def leaves_free_beside(name: str, brief: Brief) -> bool:
    """Return whether nothing wider than a rod stands beside the tyre or passes from there over the frame."""
    facts = facts_of(name, brief)
    return facts.refused is None and facts.beside is None and not facts.crosses


def suited(name: str, brief: Brief, room: Room) -> Suited:
    """Return what speaks for and against an arrangement; raise NoSuchLayout."""
    facts = facts_of(name, brief)
    if facts.refused is not None:
        return Suited(
            layout=name,
            fits=False,
            why=(),
            why_not=(Sentence(facts.refused.replace("{", "(").replace("}", ")")),),
        )
    fits, misses = _for_the_room(facts, room)
    good, bad = _manners(facts, room)
    return Suited(layout=name, fits=not misses, why=(*fits, *good), why_not=(*misses, *bad))


@lru_cache(maxsize=400)
def facts_of(name: str, brief: Brief) -> Facts:
    """Return the facts of an arrangement at the size of a brief."""
    layout = layout_named(name)
    try:
        station = check_project(starting_project(layout, brief)).stations[0]
        linkage, wanted = Linkage(station), station.travel
        path = linkage.follow(np.linspace(-wanted.droop, wanted.bump, ROWS))
        return _measured(linkage, path.travels[path.reached], path.solution.motion.place[:, :, path.reached])
    except EngineError as error:
        return Facts(refused=str(error).splitlines()[0])


def _measured(linkage: Linkage, travels: Array, place: Array) -> Facts:
    """Return what a start needs and does; `place` (3, points, rows) mm over `travels` (rows,), all reached."""
    station = linkage.station
    wheel = station.wheels[0]
    hub = np.array(station.points[wheel.centre], dtype=float)
    centreline = station.single
    inner = abs(hub[1]) - (wheel.tyre_width or 0.0) / 2
    rockers = rocker_joints(linkage)
    middle = int(np.abs(travels).argmin())
    points = _springing_points(linkage, place, middle, {joint.rocker for joint in rockers})
    carrier = next(unit for unit in station.units if isinstance(unit, CARRIES))
    one, other = (place[:, linkage.index[end]] for end in carrier.ends)
    ratio = -np.gradient(np.linalg.norm(one - other, axis=0), travels, edge_order=2)
    driven = {joint.rod for joint in rockers if joint.is_unit}
    beside, crosses = _beside(station, inner, driven) if not centreline else (None, False)
    bag = next((unit for unit in station.units if isinstance(unit, AirSpring)), None)
    damper = next((unit for unit in station.units if isinstance(unit, Coilover | Damper)), None)
    springs = carrier.springs if isinstance(carrier, Coilover | SpringUnit) else []
    return Facts(
        beside=beside,
        crosses=crosses,
        above=float(points[:, 2].max() - hub[2]),
        under=float(points[:, 2].min() - hub[2] + (wheel.tyre_radius or 0.0)),
        bag=None if bag is None else bag.max_diameter,
        rocker=bool(rockers),
        ratio=float(ratio[middle]),
        change=float(ratio[-1] / ratio[0] - 1),
        stroke=None if damper is None else damper.extended - damper.compressed,
        rate=springs[0].rate if springs else None,
        forced=linkage.assembly.over_constrained,
        centreline=centreline,
        axle=station.kind == "axle",
    )


def _springing_points(linkage: Linkage, place: Array, middle: int, rockers: set[str]) -> Array:
    """Return where spring, damper and rocker reach as drawn and turned, (n, 3) mm; the wheel's own rise is left out."""
    station = linkage.station
    names = {end for unit in station.units for end in unit.ends}
    names |= {point for body in rockers for point in station.bodies[body]}
    turning = {point for body in rockers for point in station.bodies[body]}
    found = [place[:, linkage.index[name], middle] for name in sorted(names)]
    for name in sorted(turning):
        found += list(place[:, linkage.index[name]].T)
    return np.array(found)


def _beside(station: Station, inner: float, driven: set[str]) -> tuple[float | None, bool]:
    """Return the room that stands between tyre and frame, and whether a unit passes over the frame instead."""
    widest, crosses = None, False
    for unit in station.units:
        if not isinstance(unit, (*CARRIES, Damper)) or unit.name in driven:
            continue
        y = [float(station.points[end][1]) for end in unit.ends]
        if abs(y[0] - y[1]) > LEANING_MM:
            crosses = True
            continue
        if inner - max(abs(c) for c in y) > INBOARD_MM:
            continue
        need = float(inner - min(abs(c) for c in y) + _width(unit) / 2)
        widest = need if widest is None else max(widest, need)
    return widest, crosses


def _width(unit: Coilover | SpringUnit | AirSpring | Damper) -> float:
    if isinstance(unit, AirSpring):
        return unit.max_diameter or 2 * DEFAULT_COIL_MM
    if isinstance(unit, Damper):
        return unit.body_diameter or DEFAULT_COIL_MM / 2
    return unit.coil_diameter or DEFAULT_COIL_MM


def _for_the_room(facts: Facts, room: Room) -> tuple[list[Sentence], list[Sentence]]:
    """Return what fits into the room that is there, and what does not."""
    fits: list[Sentence] = []
    misses: list[Sentence] = []

    def weigh(need: float, there: float | None, what: str) -> None:
        if there is None:
            return
        enough = need <= there
        words = (
            f"{what}: {{need}} of {{there}}." if enough else f"{what}: it needs {{need}}, there is {{there}}."
        )
        (fits if enough else misses).append(Sentence(words, {"need": length(need), "there": length(there)}))

    if facts.beside is not None:
        weigh(facts.beside + SPARE_MM, room.beside, "Between tyre and frame")
    weigh(facts.above + SPARE_MM, room.above, "Above the hub")
    if room.under is not None:
        enough = facts.under >= room.under
        words = "{low} above the floor under it; {wanted} is wanted."
        sentence = Sentence(words, {"low": length(facts.under), "wanted": length(room.under)})
        (fits if enough else misses).append(sentence)
    if facts.bag is not None:
        weigh(facts.bag + 2 * SPARE_MM, room.bag, "Width for the bag at its largest")
    return fits, misses


def _manners(facts: Facts, room: Room) -> tuple[list[Sentence], list[Sentence]]:
    """Return what it does well, and what it costs."""
    good: list[Sentence] = []
    bad: list[Sentence] = []
    if facts.rocker:
        good.append(Sentence("Only a rod reaches the wheel: nothing wide stands beside the tyre."))
        if room.purpose in ("sport", "circuit"):
            good.append(Sentence("The ratio is cut into the rocker and can be changed there."))
        if room.purpose == "rough":
            bad.append(Sentence("Rod ends and a rocker's bearings stand in the dirt."))
        bad.append(Sentence("More parts to make: rod, rocker, pivot, and their play adds up."))
    elif facts.beside is None and not facts.crosses and not facts.centreline:
        good.append(Sentence("It stands inside the frame: nothing wide beside the tyre."))
    elif facts.crosses:
        good.append(Sentence("It lies across the car, so nothing wide stands beside the tyre."))
        bad.append(Sentence("Both sides and the drive train want the same space across the car."))
    told = {"ratio": Quantity(facts.ratio, "ratio")}
    if facts.rate is not None:
        told["rate"] = Quantity(facts.rate, "rate")
    spring = ", a coil of {rate}" if facts.rate is not None else ""
    if facts.ratio >= DIRECT:
        good.append(
            Sentence(
                f"Motion ratio {{ratio}} (damper ÷ wheel){spring}: the damper sees nearly all of the travel.",
                told,
            )
        )
    elif facts.ratio < INDIRECT:
        words = f"Motion ratio only {{ratio}} (damper ÷ wheel){spring}: stiff spring, higher mount loads."
        bad.append(Sentence(words, told))
    else:
        good.append(Sentence(f"Motion ratio {{ratio}} (damper ÷ wheel){spring}.", told))
    change = {"change": Quantity(abs(facts.change), "share")}
    if facts.change > RISES:
        good.append(Sentence("It stiffens toward bump: the ratio rises {change} from droop.", change))
    elif facts.change < -RISES:
        bad.append(Sentence("It goes soft toward bump: the ratio falls {change} from droop.", change))
    if facts.bag is not None:
        good.append(Sentence("Height is set by pressure, load or no load."))
        bad.append(Sentence("Wants air, lines and a separate damper that must never be left off."))
    if facts.forced:
        bad.append(Sentence("It twists its bushes when one wheel rises alone."))
    return good, bad
