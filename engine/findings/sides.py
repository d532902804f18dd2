"""Left against right: a bracket copied instead of mirrored, or a side that was measured wrong."""

import numpy as np

from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.limits.across import CrossClearance
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.solved import SolvedStation


def judge_sides(one: SolvedStation, other: SolvedStation, rules: Rules) -> list[Finding]:
    """Compare points of the same name on two sides, and camber and toe as drawn."""
    shared = [name for name in one.station.points if name in other.station.points]
    if not shared:
        return []
    off = {name: _off(one, other, name) for name in shared}
    worst = max(off, key=lambda name: off[name])
    good, allowed = rules.sides_mm
    value = off[worst]
    mark = "good" if value <= good else "warning" if value <= allowed else "fault"
    words = "{0} and {1} differ most at {2}: {off} from being mirror images."
    names = (one.station.name, other.station.name)
    found = [
        Finding(
            kind=kinds.SIDES_DIFFER,
            mark=mark,
            subjects=(worst,),
            what=Sentence(words, {"off": length(value)}, (*names, worst)),
            why="A side copied instead of mirrored, or read from the wrong line, steers and sits crooked.",
            remedy=None
            if mark == "good"
            else Sentence("Measure {off} again at {0}, on both sides.", {"off": length(value)}, (worst,)),
            travel_mm=None,
            value=value,
            limit=good,
            measures="length",
        )
    ]
    return found + _angles(one, other, names, rules)


def as_the_other_side(one: SolvedStation, other: SolvedStation, rules: Rules) -> dict[str, list[float]]:
    """Return the points of a side that stand too far from the other's mirror image, put where that is, mm."""
    good = rules.sides_mm[0]
    return {
        name: [float(x), -float(y), float(z)]
        for name, (x, y, z) in other.station.points.items()
        if name in one.station.points and _off(one, other, name) > good
    }


def _off(one: SolvedStation, other: SolvedStation, name: str) -> float:
    """Return how far a point is from being its other side's mirror image, mm.

    A unit laid across the car may pass the other one fore or aft: its own ends may be turned half round instead.
    """
    here, there = (np.array(side.station.points[name]) for side in (one, other))
    off = float(np.linalg.norm(here - there * [1, -1, 1]))
    wheel = one.station.points[one.station.wheels[0].centre][0]
    turned = np.array([2 * wheel - there[0], -there[1], there[2]])
    only_units = not any(name in members and _shared(one, name) for members in one.station.bodies.values())
    return min(off, float(np.linalg.norm(here - turned))) if only_units else off


def _shared(side: SolvedStation, name: str) -> bool:
    """Return whether a point joins bodies or carries the wheel, and not only a unit."""
    station = side.station
    bodies = sum(name in members for members in station.bodies.values())
    ends = {end for unit in station.units for end in unit.ends}
    return bodies > 1 or name not in ends


def _angles(one: SolvedStation, other: SolvedStation, names: tuple[str, str], rules: Rules) -> list[Finding]:
    good, allowed = rules.sides_deg
    found = []
    for what, kind in (("camber", kinds.SIDES_CAMBER), ("toe", kinds.SIDES_TOE)):
        values = [_drawn(side, what) for side in (one, other)]
        if values[0] is None or values[1] is None:
            continue
        off = abs(values[0] - values[1])
        mark = "good" if off <= good else "warning" if off <= allowed else "fault"
        if mark != "good":
            found.append(
                Finding(
                    kind=kind,
                    mark=mark,
                    what=Sentence(
                        f"The {what} of {{0}} and {{1}} differs by {{off}} as drawn.",
                        {"off": Quantity(off, "angle")},
                        names,
                    ),
                    why="Sides that differ pull, and wear one tyre.",
                    remedy=Sentence("Measure both again, and set them alike."),
                    travel_mm=0.0,
                    value=off,
                    limit=good,
                    measures="angle",
                )
            )
    return found


def _drawn(side: SolvedStation, what: str) -> float | None:
    trace = next(iter(side.search.wheels.values()))
    row = int(np.abs(side.search.travels).argmin())
    value = float(getattr(trace, what)[row])
    return value if np.isfinite(value) else None


def judge_crossing(clearances: tuple[CrossClearance, ...], rules: Rules) -> list[Finding]:
    """Judge how near moving parts of both sides come to one another."""
    good, allowed = rules.clear_mm
    found = []
    for near in clearances[:1] + tuple(c for c in clearances[1:] if c.distance < good):
        mark = "good" if near.distance >= good else "warning" if near.distance >= allowed else "fault"
        words = "{0} of this side and {1} of the other come within {gap}"
        if near.distance < 0:
            words = "{0} of this side and {1} of the other run {gap} into one another"
        words += ", at {here} here and {there} there."
        found.append(
            Finding(
                kind=kinds.ACROSS_THE_CAR,
                mark=mark,
                subjects=(near.one, near.other),
                what=Sentence(
                    words,
                    {
                        "gap": length(abs(near.distance)),
                        "here": travel(near.travel),
                        "there": travel(near.other_travel),
                    },
                    (near.one, near.other),
                ),
                why="Both wheels do not move together: every combination of heights must be clear.",
                remedy=None
                if mark == "good"
                else Sentence("Move one set fore or aft by {more}.", {"more": length(good - near.distance)}),
                travel_mm=near.travel,
                value=near.distance,
                limit=good,
                measures="length",
            )
        )
    return found
