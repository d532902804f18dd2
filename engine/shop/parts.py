"""What a station's rods and rockers are made of: proposed from stock, strong enough by the shop's factor, drawn and checked.

Proposed  what the job says nothing of: thread and tube of a rod by its greatest push, sizes of a rocker plate as usual.
Count     of one hand: a part that both sides of the car have is counted twice where it is its own mirror image.
"""

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from engine.document.coming import wheels_of
from engine.document.schema import RockerPlate, Rod
from engine.findings.finding import Rules
from engine.sentences import Quantity, Sentence, length
from engine.shop.outline import Arc, Circle, area_of, hull
from engine.shop.rods import (
    STEEL_KG_PER_MM3,
    STOCK_THREADS,
    STOCK_TUBES,
    RodEnd,
    RodMade,
    column_n,
    lightest,
    made,
    stock_end,
)
from engine.sizing.rocker.plate import metal_of, plate_of
from engine.sizing.rocker.wheel_side import NoRocker, rockers_here, wheel_side_of
from engine.workup import WorkUp

FACTOR = 2.0
LEAST_THREAD_MM = 10.0
THREAD_N_PER_MM2 = 120.0  # pull on a thread's core that a plain rod end bears for long


@dataclass(frozen=True, kw_only=True)
class Hole:
    """A hole of a plate: what it is for, its middle and its diameter, mm."""

    what: str
    x: float
    y: float
    diameter: float


@dataclass(frozen=True, kw_only=True)
class RodPart:
    """A rod of a station: how it is made, and what is said of it."""

    name: str
    count: int
    proposed: bool
    rod: RodMade
    pull: float
    push: float
    said: tuple[tuple[str, Sentence], ...] = field(default=())


@dataclass(frozen=True, kw_only=True)
class PlatePart:
    """A rocker's plate: its outline and holes about the pivot, the rod's joint along x, mm; and what is said of it."""

    name: str
    count: int
    proposed: bool
    thickness: float
    holes: tuple[Hole, ...]
    outline: tuple[Arc, ...]
    gap: float
    said: tuple[tuple[str, Sentence], ...] = field(default=())

    @property
    def mass(self) -> float:
        """Return the mass of one plate, kg."""
        holes = sum(math.pi / 4 * hole.diameter**2 for hole in self.holes)
        return (area_of(list(self.outline)) - holes) * self.thickness * STEEL_KG_PER_MM3


@dataclass(frozen=True, kw_only=True)
class StationParts:
    """Everything that one station's rods and rockers take."""

    station: str
    rods: tuple[RodPart, ...]
    plates: tuple[PlatePart, ...]

    @property
    def mass(self) -> float:
        """Return the mass of all of them, kg."""
        rods = sum(one.rod.mass * one.count for one in self.rods)
        return rods + sum(one.mass * one.count for one in self.plates)


def station_parts(work: WorkUp, rules: Rules) -> StationParts:
    """Return what a solved station's rods and rockers are made of."""
    station, linkage = work.station, work.linkage
    peak = work.peak(rules.peak)
    sides = wheels_of(station) if station.kind == "corner" else 1
    rods = []
    for name, members in linkage.bodies.items():
        if len(members) != 2:
            continue
        set_to = station.links[name].length if name in station.links else None
        one, other = (linkage.points[linkage.index[point]] for point in members)
        drawn = float(np.linalg.norm(one - other))
        low, high = (0.0, 0.0) if peak is None else peak.links.get(name, (0.0, 0.0))
        rods.append(_rod(name, set_to or drawn, station.rods.get(name), -low, high, sides))
    plates = []
    for here in rockers_here(work.solved):
        try:
            side = wheel_side_of(work.solved, here.rocker)
        except NoRocker:
            continue
        plates.append(_plate(here.rocker, plate_of(side), station.plates.get(here.rocker), sides))
    return StationParts(station=station.name, rods=tuple(rods), plates=tuple(plates))


def _rod(name: str, long: float, said: Rod | None, push: float, pull: float, sides: int) -> RodPart:
    ends = _ends(said, long, max(pull, push))
    rod = made(long, lightest(long, ends, push, FACTOR), ends, push)
    return RodPart(
        name=name,
        count=sides,
        proposed=said is None,
        rod=rod,
        pull=pull,
        push=push,
        said=tuple(_said_of(name, rod)),
    )


def _ends(said: Rod | None, long: float, load: float) -> tuple[RodEnd, RodEnd]:
    if said is not None:
        one, other = (
            stock_end(said.thread, hand, said.pitch, said.engagement or None) for hand in said.hands
        )
        return one, other
    wanted = math.sqrt(4 * load / (math.pi * THREAD_N_PER_MM2)) / 0.8
    thread = max(LEAST_THREAD_MM, wanted)
    fitting = [size[0] for size in STOCK_THREADS if size[0] >= thread] or [STOCK_THREADS[-1][0]]
    for size in fitting[:1]:
        one, other = stock_end(size, "right"), stock_end(size, "left")
        if made(long, STOCK_TUBES[0], (one, other)).tube_length > 0:
            return one, other
    return stock_end(LEAST_THREAD_MM, "right"), stock_end(LEAST_THREAD_MM, "left")


def _said_of(name: str, rod: RodMade) -> list[tuple[str, Sentence]]:
    said: list[tuple[str, Sentence]] = []
    if rod.tube_length <= 0:
        short = {"by": length(-rod.tube_length), "long": length(rod.centre_to_centre)}
        words = "{0} is {long} between its joints, and its two ends alone are {by} longer: take shorter ends."
        said.append(("fault", Sentence(words, short, (name,))))
    if rod.change_per_turn == 0:
        words = (
            "Both ends of {0} have threads of one hand: it cannot be adjusted in place. Make one left-handed."
        )
        said.append(("fault", Sentence(words, names=(name,))))
    for end in rod.ends:
        if end.out < -1e-9:
            told = {"held": length(end.engagement), "more": length(-end.out)}
            said.append(
                ("fault", Sentence("{0} holds {held} of thread: screw it in {more} more.", told, (name,)))
            )
        if end.into < -1e-9:
            told = {"more": length(-end.into)}
            words = "There is no room for the jam nut of {0}: screw its end out {more}."
            said.append(("fault", Sentence(words, told, (name,))))
    if rod.factor is not None and rod.factor < FACTOR:
        told = {"at": Quantity(rod.buckles_at, "force")}
        wanted = next(
            (
                tube
                for tube in sorted(STOCK_TUBES, key=lambda tube: tube.area)
                if column_n(tube, rod.centre_to_centre) >= FACTOR * rod.buckles_at / rod.factor
            ),
            None,
        )
        more = "No stock tube is strong enough: make the rod shorter." if wanted is None else "Take {1}."
        names = (name,) if wanted is None else (name, wanted.said)
        said.append(
            (
                "warning",
                Sentence(f"{{0}} buckles at {{at}}, {rod.factor:.1f} times its load. {more}", told, names),
            )
        )
    return said


def _plate(name: str, plate: Any, said: RockerPlate | None, sides: int) -> PlatePart:
    cut = said or RockerPlate()
    turn = math.radians(plate.included)
    holes = (
        Hole(what="pivot", x=0.0, y=0.0, diameter=cut.pivot_bore),
        Hole(what="rod", x=plate.rod_arm, y=0.0, diameter=cut.rod_hole),
        Hole(
            what="damper",
            x=plate.damper_arm * math.cos(turn),
            y=plate.damper_arm * math.sin(turn),
            diameter=cut.damper_hole,
        ),
    )
    outline = hull([Circle(hole.x, hole.y, hole.diameter / 2 + cut.edge) for hole in holes])
    thin = [metal for metal in metal_of(plate, cut) if not metal.good]
    told = tuple(
        (
            "warning",
            Sentence(
                "{0} has {left} of metal between {1} and {2}; {wanted} is wanted.",
                {"left": length(metal.metal), "wanted": length(metal.wanted)},
                (name, metal.one, metal.other),
            ),
        )
        for metal in thin
    )
    return PlatePart(
        name=name,
        count=cut.count * sides,
        proposed=said is None,
        thickness=cut.thickness,
        holes=holes,
        outline=tuple(outline),
        gap=cut.gap,
        said=told,
    )
