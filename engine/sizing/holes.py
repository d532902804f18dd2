"""Bolt holes at either end: every pair of them solved, and what the choice is between.

Pattern   places that one mount may be bolted in; patterns that mirror one another on an axle change together.
Pair      one hole of every pattern.
"""

from dataclasses import replace
from itertools import product

import numpy as np

from engine.document.schema import Coilover, Damper, Station
from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import Rules
from engine.findings.judge import judge
from engine.limits.events import HARD
from engine.sentences import Quantity, Sentence
from engine.sizing.tried import Place, Tried, moved, tried
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

SAME_MM = 1.0  # a point this near to a hole stands in it; a mirrored pattern may be off by as much
MOST_PAIRS = 72
STEPS = 41


@facts
class Pair(Tried):
    """One choice of holes and what it does; None where it stands nowhere.

    holes  : for each pattern, the number of its hole from 0
    points : where every point of the patterns stands
    ratio  : damper per wheel at ride
    bump, droop : mm of wheel travel from ride to the first thing that ends it
    seat   : mm of coil squeeze at full droop; clear mm to the nearest thing, None with nothing near
    marks  : how many faults and warnings it raises
    """

    holes: tuple[int, ...]
    points: dict[str, Place]
    ratio: float | None = None
    bump: float | None = None
    droop: float | None = None
    seat: float | None = None
    clear: float | None = None
    faults: int = 0
    warnings: int = 0
    now: bool = False


@facts
class Pairs:
    """Every pair, the names of the patterns, and which two make the widest choice.

    patterns : one tuple of points for each pattern (two where both sides of an axle go together)
    soft_high, firm_low : numbers of pairs; None where fewer than two stand
    chassis_only : what moving only chassis ends does to the rate, in words; None without such pairs
    """

    patterns: tuple[tuple[str, ...], ...]
    pairs: tuple[Pair, ...]
    soft_high: int | None
    firm_low: int | None
    chassis_only: Sentence | None


def pairs_of(solved: SolvedStation, rules: Rules, rooms: bool = True) -> Pairs:
    """Return every pair of a station's holes, solved; `rooms` asks for clearances too, the slowest part."""
    station = solved.station
    patterns = _patterns(station)
    counts = [len(station.holes[points[0]].places) for points in patterns]
    choices = list(product(*(range(count) for count in counts)))[:MOST_PAIRS] if patterns else []
    pairs = tuple(_pair(solved, rules, patterns, holes, rooms) for holes in choices)
    soft, firm = _widest(pairs)
    return Pairs(
        patterns=patterns,
        pairs=pairs,
        soft_high=soft,
        firm_low=firm,
        chassis_only=_chassis_only(station, patterns, pairs),
    )


def _patterns(station: Station) -> tuple[tuple[str, ...], ...]:
    """Return the patterns, those of an axle that mirror one another together."""
    found: list[tuple[str, ...]] = []
    taken: set[str] = set()
    for name, holes in station.holes.items():
        if name in taken:
            continue
        its = np.array(holes.places)
        group = [name]
        for other, others in station.holes.items():
            if station.kind != "axle" or other == name or other in taken:
                continue
            across = np.array(others.places) * [1, -1, 1]
            if across.shape == its.shape and np.abs(across - its).max() < SAME_MM:
                group.append(other)
                break
        taken |= set(group)
        found.append(tuple(group))
    return tuple(found)


def _pair(
    solved: SolvedStation,
    rules: Rules,
    patterns: tuple[tuple[str, ...], ...],
    holes: tuple[int, ...],
    rooms: bool,
) -> Pair:
    station = solved.station
    there = {
        point: [float(c) for c in station.holes[point].places[hole]]
        for points, hole in zip(patterns, holes, strict=True)
        for point in points
    }
    now = all(np.abs(np.array(station.points[p]) - place).max() < SAME_MM for p, place in there.items())
    try:
        again = moved(solved, there, STEPS)
    except EngineError as error:
        return Pair(holes=holes, points=there, fault=str(error).splitlines()[0], now=now)
    return _pair_tried(again, rules, holes, there, now, rooms)


def _pair_tried(
    again: SolvedStation,
    rules: Rules,
    holes: tuple[int, ...],
    there: dict[str, Place],
    now: bool,
    rooms: bool,
) -> Pair:
    work = WorkUp(again, rooms)
    findings = judge(again, rules, work)
    pair = Pair(
        **vars(tried(again)),
        holes=holes,
        points=there,
        seat=min(again.preload_left.values(), default=None),
        clear=min((one.distance for one in work.clearances), default=None) if rooms else None,
        faults=sum(f.mark == "fault" for f in findings),
        warnings=sum(f.mark == "warning" for f in findings),
        now=now,
    )
    if pair.ride is None or again.at_ride is None:
        return pair
    main = next((u.name for u in again.station.units if isinstance(u, Coilover | Damper)), None)
    return replace(
        pair,
        ratio=None if main is None else float(again.at_ride.units[main].motion_ratio[0]),
        bump=_way_left(again, "bump", pair.ride),
        droop=_way_left(again, "droop", pair.ride),
    )


def _way_left(again: SolvedStation, way: str, ride_mm: float) -> float | None:
    """Return how far the wheel goes from ride to the first thing that ends its travel, mm."""
    ends = (
        abs(x.travel - ride_mm)
        for x in again.limits
        if x.direction == way and (x.kind in HARD or x.kind == "strap_taut")
    )
    return min(ends, default=None)


def _widest(pairs: tuple[Pair, ...]) -> tuple[int | None, int | None]:
    """Return the softest that stands high and the firmest that stands low, among those with the fewest faults."""
    least = min((pair.faults for pair in pairs if pair.ride is not None), default=0)
    stand = [k for k, pair in enumerate(pairs) if pair.ride is not None and pair.faults == least]
    if len(stand) < 2:
        return None, None
    rate = np.array([pairs[k].wheel_rate for k in stand], dtype=float)
    ride = np.array([pairs[k].ride for k in stand], dtype=float)
    # Travel counts upward at the wheel: a body that stands low has its wheel high.
    score = _share(rate) + _share(ride)
    return stand[int(score.argmin())], stand[int(score.argmax())]


def _share(values: np.ndarray) -> np.ndarray:
    spread = np.ptp(values)
    return (values - values.min()) / spread if spread > 0 else np.zeros_like(values)


def _chassis_only(
    station: Station, patterns: tuple[tuple[str, ...], ...], pairs: tuple[Pair, ...]
) -> Sentence | None:
    """Return what moving only the chassis end does: the widest change of rate among pairs that share the moving holes."""
    fixed = [k for k, points in enumerate(patterns) if points[0] in station.chassis]
    if not fixed:
        return None
    widest: tuple[float, float, float] | None = None
    groups: dict[tuple[int, ...], list[Pair]] = {}
    for pair in pairs:
        if pair.wheel_rate is not None:
            key = tuple(hole for k, hole in enumerate(pair.holes) if k not in fixed)
            groups.setdefault(key, []).append(pair)
    for group in groups.values():
        rates = [pair.wheel_rate for pair in group if pair.wheel_rate is not None]
        heights = [pair.ride for pair in group if pair.ride is not None]
        if len(rates) > 1:
            change = max(rates) / min(rates) - 1
            if widest is None or change > widest[0]:
                widest = (change, max(heights) - min(heights), min(rates))
    if widest is None:
        return None
    words = (
        "Moving only the chassis end changes the height by up to {height}, and the wheel rate by {change} too: "
        "the lean of the damper changes with it."
    )
    return Sentence(words, {"height": Quantity(widest[1], "length"), "change": Quantity(widest[0], "share")})
