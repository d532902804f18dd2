"""What gives more to turn: another spring length under the perch, another tube between the rod's ends, another bag."""

import math
from typing import Any

from engine.document.schema import AirSpring, Coilover, Station
from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Say, either_way, with_rods, with_spring, with_units
from engine.ride.perch import seated
from engine.ride.setting import means_of
from engine.sentences import Quantity, Sentence, listed
from engine.station.solved import SolvedStation

MOST_AREA_SHARE = 0.4  # a bag of half or twice the size is another job, not another bag


def recentred(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return knobs that bring a perch or an adjuster off its end while it goes on standing where it stands."""
    knobs = []
    for means in means_of(solved):
        if finding.subjects and not set(finding.subjects) & set(means.subjects):
            continue
        if means.by == "perch" and means.most is not None:
            knobs.append(_longer_spring(solved.station, means.subjects))
        elif means.by == "rod" and means.most is not None:
            knobs.append(_longer_tube(means.subjects))
    if not knobs and finding.subjects and finding.subjects[0] in solved.station.rods:
        knobs.append(_longer_tube(finding.subjects[:1]))
    return knobs


def _longer_spring(station: Station, names: tuple[str, ...]) -> Knob:
    """A longer spring wants its perch lower by as much: the squeeze stays, and more is left to wind up."""

    def changed(unit: Coilover, x: float) -> dict[str, Any]:
        spring = unit.springs[0]
        share = spring.solid_length / spring.free_length
        longer = with_spring(
            unit,
            0,
            free_length=round(spring.free_length + x, 3),
            solid_length=round(spring.solid_length + x * share, 3),
        )
        return seated(unit, longer["springs"])

    def turn(station: Station, x: float) -> Station:
        return with_units(station, names, lambda unit: changed(unit, x))

    say = either_way(
        "Fit a spring {by} longer of the same rate, its perch {by} lower.",
        "Fit a spring {by} shorter of the same rate, its perch {by} higher.",
    )
    first = station.unit(names[0])
    assert isinstance(first, Coilover)
    return Knob(turn=turn, say=say, step=1.0, most=max(first.springs[0].free_length * 0.4, 1.0), fine=1.0)


def _longer_tube(names: tuple[str, ...]) -> Knob:
    """A rod's tube cut longer, its ends screwed in by as much: as long as before, and more is left to unscrew."""

    def changed(rod: Any, x: float) -> dict[str, Any]:
        return {
            "longer": round(rod.longer + x, 3),
            "shorter": round(rod.shorter - x, 3),
            "engagement": round(rod.engagement + x / 2, 3),
        }

    def turn(station: Station, x: float) -> Station:
        return with_rods(station, names, lambda rod: changed(rod, x))

    say = either_way(
        "Cut the tube of the {0} {by} longer and screw its ends in.",
        "Cut the tube of the {0} {by} shorter and screw its ends out.",
        listed(names),
    )
    return Knob(turn=turn, say=say, step=1.0, most=60.0, fine=0.5)


def larger_bag(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a knob that scales every bag's area, its pressure set so that it carries what it carries."""
    bags = [unit for unit in solved.station.units if isinstance(unit, AirSpring)]
    if not bags or solved.ride is None:
        return []  # what holds nothing is told its pressure first

    def changed(bag: AirSpring, grown: float) -> dict[str, Any]:
        rows = [[row[0], *(round(column * grown, 2) for column in row[1:])] for row in bag.height_table]
        wide = None if bag.max_diameter is None else round(bag.max_diameter * math.sqrt(grown), 1)
        fields = {"height_table": rows, "pressure": round(bag.pressure / grown, 4)}
        return fields if wide is None else {**fields, "max_diameter": wide}

    def turn(station: Station, x: float) -> Station:
        return with_units(station, [bag.name for bag in bags], lambda bag: changed(bag, 1.0 + x / 100.0))

    most = 100.0 * MOST_AREA_SHARE
    return [Knob(turn=turn, say=_say_bag(bags[0].pressure), step=5.0, most=most, fine=1.0)]


def _say_bag(before: float) -> Say:
    def say(x: float) -> Sentence:
        told = {"by": Quantity(abs(x) / 100, "share"), "new": Quantity(before / (1 + x / 100), "pressure")}
        return Sentence(
            f"Fit a bag with {{by}} {'more' if x > 0 else 'less'} area, standing at {{new}}.", told
        )

    return say
