"""What a step would spoil that is done too early: money, hours and metal, worked out from the job.

Order   what is bought for springing, and how far the ratio as it is known lets the spring that suits it be another one.
Make    what is cut and may have to be cut again: its steel and the hours of cutting it.
Tack    every mount again, because the frame springs when it is cut without braces, or its parts are not there to hold it.
Weld    every mount cut out and welded again, where the wheel was never cycled.
"""

import math

from engine.document.schema import Coilover, SpringUnit, Station
from engine.facts import facts
from engine.ride.spread import spread_of
from engine.right.costs import costs_of
from engine.sentences import Quantity, Sentence, listed
from engine.steps.evidence import Evidence
from engine.steps.step import BY_KEY

GEOMETRIES, POSITIONS = 200, 9
MATTERS = 0.01  # share of a spring's rate that anybody would order by


@facts
class Spoilt:
    """What would be spoilt, in a sentence; money in the shop's currency, hours, and kg of metal."""

    say: Sentence
    money: float = 0.0
    hours: float = 0.0
    metal_kg: float = 0.0


def spoilt_by(step: str, evidence: Evidence, station: Station | None, open_needs: list[str]) -> Spoilt | None:
    """Return what doing a step of a station now would spoil, while some that it needs are open; None for nothing."""
    if station is None or evidence.parts is None:
        return None
    first = BY_KEY[open_needs[0]].name if open_needs else ""
    if step == "order":
        return _order(evidence, station, first)
    if step == "make":
        return _make(evidence, station, first)
    if step == "tack":
        return _tack(evidence, station, open_needs)
    if step == "weld":
        return _weld(evidence, station, first)
    return None


def _order(evidence: Evidence, station: Station, first: str) -> Spoilt | None:
    costs = costs_of(evidence.project.work)
    open_lines = [one.line for one in evidence.bought(station.name) if one.state == "open"]
    springs = sum(line.buy for line in open_lines if line.what in ("spring", "bag"))
    dampers = sum(line.buy for line in open_lines if line.what == "damper")
    if not springs + dampers:
        return None
    money = springs * costs.of["spring"].money + dampers * costs.of["damper"].money
    counted = ((springs, "spring"), (dampers, "damper"))
    what = listed([f"{n} {name}" if n == 1 else f"{n} {name}s" for n, name in counted if n])
    told = {}
    words = f"{what} might be the wrong {'one' if springs + dampers == 1 else 'ones'}: {first} is still open"
    rates = _rates(evidence, station)
    if rates is not None:
        low, now, high = rates
        told = {"low": Quantity(low, "rate"), "now": Quantity(now, "rate"), "high": Quantity(high, "rate")}
        words += "; as well as the ratio is known, the spring that suits it is anywhere from {low} to {high}, not just {now}"
    return Spoilt(say=Sentence(words + ".", told), money=money, hours=costs.of["spring"].hours * springs)


def _rates(evidence: Evidence, station: Station) -> tuple[float, float, float] | None:
    """Return the spring rate that would give the wheel rate of today, lowest and highest, N/mm, and the one that is drawn."""
    its = evidence.station(station.name)
    if its is None:
        return None
    solved = its.work.solved
    unit = next(
        (u for u in station.units if isinstance(u, Coilover | SpringUnit) and len(u.springs) == 1), None
    )
    if unit is None or unit.springs[0].rate is None or solved.at_ride is None:
        return None
    ratio = spread_of(solved, GEOMETRIES, POSITIONS).ratios.get(unit.name)
    now = float(solved.at_ride.units[unit.name].motion_ratio[0])
    if ratio is None or not now or min(abs(ratio.low), abs(ratio.high)) < 1e-3:
        return None
    low, high = sorted((now / end) ** 2 * unit.springs[0].rate for end in (ratio.low, ratio.high))
    if not math.isfinite(high) or high / low - 1 < MATTERS:
        return None
    return low, unit.springs[0].rate, high


def _make(evidence: Evidence, station: Station, first: str) -> Spoilt | None:
    parts = [part for part in evidence.parts_of(station.name) if not evidence.made(part.station, part.name)]
    if not parts:
        return None
    pieces = sum(part.many for part in parts)
    metal = sum(part.mass * part.many for part in parts)
    hours = BY_KEY["make"].hours[1] * pieces
    rods = [part.name for part in parts if part.kind == "rod"]
    told = {"metal": Quantity(metal, "mass")}
    words = f"{pieces} pieces, {{metal}} of steel, might be cut twice: {first} is still open"
    if rods:
        words += f"; leave {listed(rods)} long until the height stands"
    return Spoilt(say=Sentence(words + ".", told), hours=hours, metal_kg=round(metal, 2))


def _tack(evidence: Evidence, station: Station, open_needs: list[str]) -> Spoilt | None:
    many = len(evidence.mounts_of(station.name))
    if not many:
        return None
    hours = many * costs_of(evidence.project.work).of["moved_tacked"].hours
    if "guard" in open_needs:
        words = f"The frame springs when it is cut without braces: {many} mounts might be tacked where the frame no longer is."
    else:
        words = f"{many} mounts would be tacked to what may still move: {BY_KEY[open_needs[0]].name} is open."
    return Spoilt(say=Sentence(words), hours=hours)


def _weld(evidence: Evidence, station: Station, first: str) -> Spoilt | None:
    many = len(evidence.mounts_of(station.name))
    if not many:
        return None
    cost = costs_of(evidence.project.work).of["moved_welded"]
    words = (
        f"{many} mounts might have to be cut out again: {first} is still open, and a weld ends the turning."
    )
    return Spoilt(say=Sentence(words), money=cost.money * many, hours=cost.hours * many)
