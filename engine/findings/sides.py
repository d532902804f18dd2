"""Left against right: a bracket copied instead of mirrored, or a side that was measured wrong."""

import numpy as np

from engine.document.schema import Coilover, SpringUnit, Station
from engine.document.sides import image_of_unit
from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.limits.across import CrossClearance
from engine.sentences import Quantity, Sentence, length, travel
from engine.station.solved import SolvedStation

UNLIKE = (0.1, 0.2)  # of the rate: good, and still allowed
LOWER_MM = (6.0, 15.0)  # that one side may stand lower
TURNED_MM = 1.0


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
    copied = mark != "good" and _copied(one, other, worst, good)
    if copied:
        words += " It stands where a bracket copied instead of mirrored would put it."
    names = (one.station.name, other.station.name)
    found = [
        Finding(
            kind=kinds.SIDES_DIFFER,
            mark=mark,
            subjects=(worst,),
            what=Sentence(words, {"off": length(value)}, (*names, worst)),
            why="A side copied instead of mirrored, or read from the wrong line, steers and sits crooked.",
            remedy=_side_remedy(mark, copied, worst, value),
            travel_mm=None,
            value=value,
            limit=good,
            measures="length",
        )
    ]
    return [*found, *_springs(one, other, names, rules), *_angles(one, other, names, rules)]


def _side_remedy(mark: str, copied: bool, worst: str, value: float) -> Sentence | None:
    if mark == "good":
        return None
    if copied:
        return Sentence("Make the bracket at {0} the mirror image of the other side's.", names=(worst,))
    return Sentence("Measure {off} again at {0}, on both sides.", {"off": length(value)}, (worst,))


def _copied(one: SolvedStation, other: SolvedStation, name: str, good: float) -> bool:
    """Return whether a point is off as a bracket is that was copied: one way alone, along or across the car.

    A bracket carries its hole off its own base: copied and turned round it puts it off the other way fore and aft,
    copied as it is the other way across.
    """
    here, there = (np.array(side.station.points[name]) for side in (one, other))
    off = np.abs(here - there * [1, -1, 1])
    return bool((off > good).sum() == 1 and off[2] <= good and np.sort(off)[1] <= good)


def _springs(one: SolvedStation, other: SolvedStation, names: tuple[str, str], rules: Rules) -> list[Finding]:
    """Compare how both sides stand and how stiff they are: two springs that look alike are not always."""
    if one.ride is None or other.ride is None:
        return []
    rates = one.ride.wheel_rate, other.ride.wheel_rate
    apart = 2 * abs(rates[0] - rates[1]) / max(abs(rates[0]) + abs(rates[1]), 1e-9)
    lower = abs(one.ride.travel - other.ride.travel)
    mark = "good" if apart <= UNLIKE[0] and lower <= LOWER_MM[0] else "warning"
    if apart > UNLIKE[1] or lower > LOWER_MM[1]:
        mark = "fault"
    if mark == "good":
        return []
    softer = names[int(rates[1] < rates[0])]
    words = "{0} and {1} are sprung {share} apart: one side stands {lower} lower. {2} is the softer."
    told = {"share": Quantity(apart, "share"), "lower": length(lower)}
    return [
        Finding(
            kind=kinds.SIDES_SPRINGS,
            mark=mark,
            subjects=names,
            what=Sentence(words, told, (*names, softer)),
            why="It stands crooked, leans more one way than the other, and carries its corners unevenly.",
            remedy=Sentence("Measure both springs, and fit two of one rate and one free length."),
            travel_mm=one.ride.travel,
            value=apart,
            limit=UNLIKE[0],
            measures="share",
        )
    ]


def judge_unlike(station: Station) -> list[Finding]:
    """Compare the springs of both sides of an axle: two that are mirror images ought to be alike."""
    found = []
    for unit in station.units:
        twin = image_of_unit(station, unit.name)
        if twin is None or unit.name >= twin or not isinstance(unit, Coilover | SpringUnit):
            continue
        other = station.unit(twin)
        assert isinstance(other, Coilover | SpringUnit)
        rates = [sum(1 / spring.rate for spring in its.springs if spring.rate) for its in (unit, other)]
        if not all(rates):
            continue
        apart = 2 * abs(rates[0] - rates[1]) / (rates[0] + rates[1])
        if apart <= UNLIKE[0]:
            continue
        found.append(
            Finding(
                kind=kinds.SPRINGS_UNLIKE,
                mark="fault" if apart > UNLIKE[1] else "warning",
                subjects=(unit.name, twin),
                what=Sentence(
                    "The springs of {0} and {1} are {share} apart in rate.",
                    {"share": Quantity(float(apart), "share")},
                    (unit.name, twin),
                ),
                why="It stands crooked, leans more one way than the other, and carries its corners unevenly.",
                remedy=Sentence("Measure both springs, and fit two of one rate and one free length."),
                value=float(apart),
                limit=UNLIKE[0],
                measures="share",
            )
        )
    return found


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
    if not only_units or not _turned_whole(one, other, name):
        return off
    return min(off, float(np.linalg.norm(here - turned)))


def _turned_whole(one: SolvedStation, other: SolvedStation, name: str) -> bool:
    """Return whether everything that hangs on a point is turned half round with it: a bracket alone is a copied one."""
    wheel = one.station.points[one.station.wheels[0].centre][0]
    for unit in one.station.units:
        if name not in unit.ends:
            continue
        for end in unit.ends:
            if end not in other.station.points:
                return False
            here, there = (np.array(side.station.points[end]) for side in (one, other))
            mirrored = float(np.linalg.norm(here - there * [1, -1, 1]))
            turned = float(np.linalg.norm(here - [2 * wheel - there[0], -there[1], there[2]]))
            if turned > mirrored + TURNED_MM:
                return False
    return True


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
