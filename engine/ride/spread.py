"""What tape errors leave of every result: many geometries, each as it might truly be, solved as one batch.

Gaps   are looked at where each is nearest as drawn. Envelopes stay where they were drawn on what carries them: it is
       the joints that were measured wrong.
Wheels turn and lean about where each geometry stands.
Ends   of units: where each geometry has a unit as long as it is, as drawn, where the event comes.
"""

import numpy as np

from engine.document.schema import Coilover, Damper
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.limits.clearance import Clearance, distances_at
from engine.limits.events import EventKind
from engine.limits.ledger import Ledger
from engine.limits.rooms_by_point import WATCHED
from engine.linkage.batch import places_at, risen
from engine.linkage.vectors import Array
from engine.ride.datum import height_at_mm
from engine.ride.settled import Swept, settled, swept
from engine.ride.taped import Interval, interval_of, taped
from engine.ride.wheel_angles import RISE_MM, at_the_rim, axis_of, axis_points, rising
from engine.station.equilibrium import frequencies_hz
from engine.station.solved import SolvedStation
from engine.station.traces import wheel_trace
from engine.telling import Tell, to_nobody

GEOMETRIES = 2000
PART = 400  # geometries between one word of how far it is and the next
POSITIONS = (
    17  # between them lengths are quintics: with four times as many an interval differs in its fifth figure
)


@facts
class WheelSpread:
    """A wheel's own angles: degrees in 25 mm, and mm over the tyre, None without one."""

    bump_steer: Interval
    rim_mm: Interval | None
    camber_gain: Interval


@facts
class AxisSpread:
    """The steering axis: degrees and mm."""

    caster: Interval
    kingpin: Interval
    scrub: Interval
    trail: Interval


@facts
class Spread:
    """Intervals by name; `standing` is the share of geometries that stand somewhere in the travel.

    ride_travel mm, wheel_rate N/mm, frequency Hz; datum the height of the datum at ride, mm
    ratios by unit at ride; damper_left by damper (bump, droop) mm
    wheels by wheel, axis of a corner's steering, each about where it stands
    gaps   the nearest few clearances, by the two that are near, mm
    ends   mm of travel at which units' events come, by way, kind and unit
    hard_first by way, the share of geometries in which a hard end comes before every soft one, where there are both
    """

    geometries: int
    standing: float
    ride_travel: Interval | None
    wheel_rate: Interval | None
    frequency: Interval | None
    datum: Interval | None
    ratios: dict[str, Interval]
    damper_left: dict[str, tuple[Interval, Interval]]
    wheels: dict[str, WheelSpread]
    axis: AxisSpread | None
    gaps: dict[tuple[str, str], Interval]
    ends: dict[tuple[str, str, str], Interval]
    hard_first: dict[str, float]


@facts
class _End:
    """An event of a unit: its way, its kind, the unit's number, mm of travel and mm of the unit there as drawn."""

    way: str
    kind: EventKind
    unit: int
    travel: float
    length: float


@facts
class _Tried:
    """Some of the geometries. travel mm, rate N/mm : (geometries,), NaN where one stands nowhere; ratio (units, geometries)

    left   : by damper, mm left at full bump and at full droop, each (geometries that close all through,)
    wheels : by wheel, degrees of bump steer and of camber gain, (2, geometries), NaN where it cannot rise so far
    axis   : caster, kingpin, scrub and trail, (4, geometries) degrees and mm
    gaps   : (clearances, geometries) mm
    ends   : (events, geometries) mm of travel
    """

    travel: Array
    rate: Array
    ratio: Array
    left: dict[str, tuple[Array, Array]]
    wheels: dict[str, Array]
    axis: Array
    gaps: Array
    ends: Array


def spread_of(
    solved: SolvedStation,
    geometries: int = GEOMETRIES,
    positions: int = POSITIONS,
    tell: Tell = to_nobody,
    clearances: tuple[Clearance, ...] = (),
    ledger: Ledger | None = None,
) -> Spread:
    """Return what the tape errors of a station leave of its results; of clearances and events, those that are handed in."""
    station, watched = solved.station, clearances[:WATCHED]
    ends = _ends(solved, ledger)
    points = taped(solved, geometries)
    travels = np.linspace(-station.travel.droop, station.travel.bump, positions)
    tried = []
    for first in range(0, geometries, PART):
        tell(first / geometries, "places as they may truly be")
        tried.append(_tried(solved, points[first : first + PART], travels, watched, ends))
    travel, rate = (np.concatenate([getattr(part, name) for part in tried]) for name in ("travel", "rate"))
    ratio, axis, gaps, met = (
        np.concatenate([getattr(part, name) for part in tried], axis=1)
        for name in ("ratio", "axis", "gaps", "ends")
    )
    ratios = {law.name: interval_of(ratio[n]) for n, law in enumerate(solved.springing.laws)}
    near = {(c.one, c.other): interval_of(gaps[n]) for n, c in enumerate(watched)}
    return Spread(
        geometries=geometries,
        standing=float(np.isfinite(travel).mean()),
        ride_travel=interval_of(travel),
        wheel_rate=interval_of(rate),
        frequency=interval_of(frequencies_hz(rate, station.mass.sprung)),
        datum=_datum(solved, travel),
        ratios={name: value for name, value in ratios.items() if value is not None},
        damper_left=_damper_left(tried),
        wheels=_wheels(solved, tried),
        axis=_axis(axis),
        gaps={names: value for names, value in near.items() if value is not None},
        ends=_ends_within(solved, ends, met),
        hard_first={
            way: share for way in ("bump", "droop") if (share := _hard_first(way, ends, met)) is not None
        },
    )


def _tried(
    solved: SolvedStation,
    points: Array,
    travels: Array,
    watched: tuple[Clearance, ...],
    ends: tuple[_End, ...],
) -> _Tried:
    sweep = swept(solved, points, travels)
    stood = settled(solved, sweep)
    wheels, axis = turned_wheels(solved, points, stood.travel)
    return _Tried(
        travel=stood.travel,
        rate=stood.at.rate[:, 0],
        ratio=stood.units.ratio[:, :, 0],
        left=_left(solved, sweep),
        wheels=wheels,
        axis=axis,
        gaps=_gaps(solved, points, watched),
        ends=_met(solved, points, ends),
    )


def turned_wheels(solved: SolvedStation, points: Array, travel: Array) -> tuple[dict[str, Array], Array]:
    """Return every wheel's bump steer and camber gain, (2, geometries), and the steering axis, (4, geometries).

    travel : where each stands, mm; a station that stands nowhere is looked at as it is drawn, each geometry alike
    """
    linkage, wheels = solved.linkage, solved.station.wheels
    if solved.ride is None and solved.nearest_drawn is not None:
        travel = np.full(len(travel), solved.nearest_drawn)
    stands = np.isfinite(travel)
    turning = [wheel for wheel in wheels if wheel.spindle is not None]
    axis = np.full((4, len(travel)), np.nan)
    ends = axis_points(linkage, wheels[0]) if solved.station.kind == "corner" else None
    found = {wheel.name: np.full((2, len(travel)), np.nan) for wheel in turning}
    if not stands.any() or not (turning or ends):
        return found, axis
    at = travel[stands]
    middle, low, high = risen(linkage, points[stands], [at, at - RISE_MM, at + RISE_MM])
    solutions = [low, middle, high]
    for wheel in turning:
        traces = [
            wheel_trace(linkage.index[wheel.centre], linkage.index[str(wheel.spindle)], solution)
            for solution in solutions
        ]
        toe, camber = (np.array([getattr(its, name) for its in traces]) for name in ("toe", "camber"))
        found[wheel.name][:, stands] = np.where(high.closed, rising(toe, camber), np.nan)
    if ends:
        axis[:, stands] = np.where(middle.closed, axis_of(linkage, wheels[0], ends, middle), np.nan)
    return found, axis


def _gaps(solved: SolvedStation, points: Array, watched: tuple[Clearance, ...]) -> Array:
    """Return how far apart solids stand where they are nearest as drawn, (clearances, geometries) mm.

    NaN where a geometry does not get there
    """
    linkage, drawn = solved.linkage, np.ascontiguousarray(points.T)
    found = np.full((len(watched), len(points)), np.nan)
    for heave, articulation in dict.fromkeys((its.heave, its.articulation) for its in watched):
        place, good = places_at(linkage, points, heave, articulation)
        for n, its in enumerate(watched):
            if (its.heave, its.articulation) == (heave, articulation):
                found[n, good] = distances_at(linkage, its, place, drawn)[good]
    return found


def _ends(solved: SolvedStation, ledger: Ledger | None) -> tuple[_End, ...]:
    """Return the events that come where a unit has a length."""
    number = {law.name: n for n, law in enumerate(solved.springing.laws)}
    found = []
    for way in ("bump", "droop"):
        for event in () if ledger is None else ledger.on(way):
            if len(event.subjects) == 1 and event.subjects[0] in number:
                trace = solved.at(np.array([event.travel])).units[event.subjects[0]]
                unit, length = number[event.subjects[0]], float(trace.length[0])
                found.append(_End(way=way, kind=event.kind, unit=unit, travel=event.travel, length=length))
    return tuple(found)


def _met(solved: SolvedStation, points: Array, ends: tuple[_End, ...]) -> Array:
    """Return at what travel each geometry meets each event, (events, geometries) mm; NaN where it does not get there."""
    found = np.full((len(ends), len(points)), np.nan)
    if not ends:
        return found
    travels = np.unique([end.travel for end in ends])
    units = swept(solved, points, travels).squeezes
    for n, end in enumerate(ends):
        at = int(np.searchsorted(travels, end.travel))
        longer = units.length[end.unit, :, at] - end.length
        with np.errstate(divide="ignore", invalid="ignore"):
            found[n] = end.travel + longer / units.ratio[end.unit, :, at]
    return np.where(np.isfinite(found), found, np.nan)


def _ends_within(
    solved: SolvedStation, ends: tuple[_End, ...], met: Array
) -> dict[tuple[str, str, str], Interval]:
    found = {}
    for n, end in enumerate(ends):
        its = interval_of(met[n])
        if its is not None:
            found[end.way, end.kind.code, solved.springing.laws[end.unit].name] = its
    return found


def _hard_first(way: str, ends: tuple[_End, ...], met: Array) -> float | None:
    """Return the share of geometries in which a hard end comes before every soft one; None where one of them is not there."""
    far = met if way == "bump" else -met
    firsts = []
    for takes in ("hard", "soft"):
        its = [n for n, end in enumerate(ends) if end.way == way and end.kind.takes == takes]
        if not its:
            return None
        firsts.append(np.where(np.isnan(far[its]), np.inf, far[its]).min(axis=0))
    hard, soft = firsts
    known = np.isfinite(hard) & np.isfinite(soft)
    return float((hard < soft)[known].mean()) if known.any() else None


def _datum(solved: SolvedStation, travel: Array) -> Interval | None:
    heights = [height_at_mm(solved.station, float(at)) for at in travel[np.isfinite(travel)]]
    return interval_of(np.array([height for height in heights if height is not None]))


def _wheels(solved: SolvedStation, tried: list[_Tried]) -> dict[str, WheelSpread]:
    found = {}
    for wheel in solved.station.wheels:
        if wheel.name not in tried[0].wheels:
            continue
        steer, gain = np.concatenate([part.wheels[wheel.name] for part in tried], axis=1)
        rim = at_the_rim(wheel, steer)
        turning, leaning = interval_of(steer), interval_of(gain)
        if turning is not None and leaning is not None:
            found[wheel.name] = WheelSpread(
                bump_steer=turning,
                rim_mm=None if rim is None else interval_of(rim),
                camber_gain=leaning,
            )
    return found


def _axis(axis: Array) -> AxisSpread | None:
    caster, kingpin, scrub, trail = (interval_of(values) for values in axis)
    if caster is None or kingpin is None or scrub is None or trail is None:
        return None
    return AxisSpread(caster=caster, kingpin=kingpin, scrub=scrub, trail=trail)


def _left(solved: SolvedStation, sweep: Swept) -> dict[str, tuple[Array, Array]]:
    found = {}
    whole = sweep.closed.all(axis=1)
    for n, unit in enumerate(solved.station.units):
        if isinstance(unit, Coilover | Damper):
            extended, compressed = damper_ends_mm(unit)
            lengths = sweep.squeezes.length[n, whole]
            found[unit.name] = (lengths.min(axis=1) - compressed, extended - lengths.max(axis=1))
    return found


def _damper_left(tried: list[_Tried]) -> dict[str, tuple[Interval, Interval]]:
    found = {}
    for name in tried[0].left:
        bump, droop = (
            interval_of(np.concatenate([part.left[name][end] for part in tried])) for end in (0, 1)
        )
        if bump is not None and droop is not None:
            found[name] = (bump, droop)
    return found
