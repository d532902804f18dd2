"""What sets the ride height, and how far it must be turned for today's mass and for the finished one.

Means    one way to set it: the spring perch, the rod to the rocker, the pressure in the bags, or, with nothing to
         turn, the free length of a spring on its own (or a shim under it).
Setting  what a means is set to: mm of preload, of rod or of spring, or gauge pressure in bar.
"""

from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import AirSpring, Coilover, Link, SpringUnit, Station
from engine.errors import EngineError
from engine.ride.angles import rocker_joints
from engine.station import SolvedStation, StationSolver

MOST_PERCH_MM = 400.0
MOST_ROD_MM = 80.0
ROD_TURNS = 8  # Newton from a fair start needs three or four
ROD_STEP_MM = 0.25
ENOUGH_N = 1e-4


@dataclass(frozen=True)
class Means:
    """One way to set the ride height.

    by     : perch, rod, pressure or spring; `subjects` the units or rods that are set together
    now    : mm of preload, mm centre to centre, bar gauge, or mm free length
    least, most : what it can be set to; None where the job does not say
    """

    by: str
    subjects: tuple[str, ...]
    now: float
    least: float | None
    most: float | None


@dataclass(frozen=True)
class Standing:
    """A means, and what it must be set to so that the wheel stands where it is wanted; None where nothing does it.

    today, finished : for today's mass and the finished one (None too where no finished mass is known)
    higher, lower   : for today's mass, as far up and down as the job wants to be able to set it
    """

    means: Means
    today: float | None
    finished: float | None
    higher: float | None
    lower: float | None

    def there(self, setting: float | None) -> bool | None:
        """Return whether a setting is within what can be set; None where the job does not say how far that is."""
        if setting is None:
            return False
        if self.means.least is None or self.means.most is None:
            return None
        return self.means.least - 1e-6 <= setting <= self.means.most + 1e-6


def means_of(solved: SolvedStation, pressure_share: float = 1.0) -> tuple[Means, ...]:
    """Return every means that a station has; bags may be used up to a share of what they are rated."""
    station, found = solved.station, []
    coilovers = [unit for unit in station.units if isinstance(unit, Coilover)]
    if coilovers:
        perches = [unit.perch for unit in coilovers if unit.perch is not None]
        least = most = None
        if len(perches) == len(coilovers):
            least = coilovers[0].preload - min(perch.down for perch in perches)
            most = coilovers[0].preload + min(perch.up for perch in perches)
        names = tuple(unit.name for unit in coilovers)
        found.append(Means("perch", names, coilovers[0].preload, least, most))
    bags = [unit for unit in station.units if isinstance(unit, AirSpring)]
    if not bags:
        found += _rods(solved, station)
    else:
        rated = [bag.max_pressure for bag in bags if bag.max_pressure is not None]
        most = min(rated) * pressure_share if len(rated) == len(bags) else None
        found.append(Means("pressure", tuple(bag.name for bag in bags), bags[0].pressure, 0.0, most))
    springs = [unit for unit in station.units if isinstance(unit, SpringUnit)]
    if springs and not found:
        names = tuple(unit.name for unit in springs)
        found.append(Means("spring", names, springs[0].springs[0].free_length, None, None))
    return tuple(found)


def _rods(solved: SolvedStation, station: Station) -> list[Means]:
    linkage = solved.linkage
    rods = tuple(
        dict.fromkeys(
            joint.rod
            for joint in rocker_joints(linkage)
            if not joint.is_unit and joint.far not in station.chassis
        )
    )
    if not rods:
        return []
    one, other = (linkage.points[linkage.index[name]] for name in station.bodies[rods[0]])
    now = float(linkage.set_lengths.get(rods[0], np.linalg.norm(one - other)))
    made = [station.rods.get(rod) for rod in rods]
    longer = [rod.longer for rod in made if rod is not None and rod.longer is not None]
    shorter = [rod.shorter for rod in made if rod is not None and rod.shorter is not None]
    known = len(longer) == len(shorter) == len(rods)
    return [
        Means("rod", rods, now, now - min(shorter) if known else None, now + min(longer) if known else None)
    ]


def weight_n(station: Station, corner_kg: float) -> float:
    """Return the weight that a wheel's springs carry for a corner mass, N."""
    return (corner_kg - station.mass.unsprung) * GRAVITY_M_PER_S2


def setting_for(solved: SolvedStation, means: Means, at_mm: float, carried_n: float) -> float | None:
    """Return what a means must be set to so that a wheel stands at a travel under a weight; None where nothing does."""
    travels = solved.search.travels[solved.path.reached]
    if not len(travels) or not travels[0] <= at_mm <= travels[-1]:
        return None
    match means.by:
        case "perch" | "spring":
            turned = _perch(solved, means, at_mm, carried_n)
        case "rod":
            turned = _rod(solved, means, at_mm, carried_n)
        case _:
            return solved.solver.pressure_for(solved.path, at_mm, carried_n)
    return None if turned is None else means.now + turned


def standings(solved: SolvedStation, pressure_share: float = 1.0, rods: bool = True) -> tuple[Standing, ...]:
    """Return every means with what it must be set to; without `rods` those are left out, the slow ones."""
    station, found = solved.station, []
    at = station.travel.at or 0.0
    today = weight_n(station, station.mass.corner)
    for means in means_of(solved, pressure_share):
        if means.by == "rod" and not rods:
            continue
        finished = higher = lower = None
        if station.mass.finished is not None:
            finished = setting_for(solved, means, at, weight_n(station, station.mass.finished))
        wanted = station.adjusting
        if wanted is not None and wanted.by == means.by and wanted.reach > 0:
            # The body higher is the wheel further down.
            higher = setting_for(solved, means, at - wanted.reach, today)
            lower = setting_for(solved, means, at + wanted.reach, today)
        found.append(Standing(means, setting_for(solved, means, at, today), finished, higher, lower))
    return tuple(found)


def _perch(solved: SolvedStation, means: Means, at_mm: float, carried_n: float) -> float | None:
    rows = solved.solver.at(solved.path, np.array([at_mm]))
    laws = [law for law in solved.laws if law.name in means.subjects and law.stack is not None]
    missing = carried_n * solved.solver.wheels - solved.solver.wheels * float(rows.wheel_force[0])

    def gap(turned: float) -> float:
        total = -missing
        for law in laws:
            trace = rows.units[law.name]
            squeeze = law.free_reference - trace.length
            assert law.stack is not None
            more = law.stack.at(squeeze + turned)[0] - law.stack.at(squeeze)[0]
            total += float(trace.motion_ratio[0] * more[0])
        return total

    if not np.isfinite(missing) or gap(-MOST_PERCH_MM) * gap(MOST_PERCH_MM) > 0:
        return None
    return float(brentq(gap, -MOST_PERCH_MM, MOST_PERCH_MM, xtol=1e-6))


def _rod(solved: SolvedStation, means: Means, at_mm: float, carried_n: float) -> float | None:
    """Newton on the rods' length; every try puts the linkage together anew."""
    turned = 0.0
    for _ in range(ROD_TURNS):
        gap = _rod_gap(solved, means, turned, at_mm, carried_n)
        beside = _rod_gap(solved, means, turned + ROD_STEP_MM, at_mm, carried_n)
        if gap is None or beside is None or abs(beside - gap) < 1e-12:
            return None
        if abs(gap) < ENOUGH_N:
            return turned
        step = -gap * ROD_STEP_MM / (beside - gap)
        turned += float(np.clip(step, -0.4 * MOST_ROD_MM, 0.4 * MOST_ROD_MM))
        if abs(turned) > MOST_ROD_MM:
            return None
    return None


def _rod_gap(
    solved: SolvedStation, means: Means, turned: float, at_mm: float, carried_n: float
) -> float | None:
    station, linkage = solved.station, solved.linkage
    links = dict(station.links)
    for rod in means.subjects:
        one, other = (linkage.points[linkage.index[name]] for name in station.bodies[rod])
        now = float(linkage.set_lengths.get(rod, np.linalg.norm(one - other)))
        if now + turned <= 0:
            return None
        links[rod] = Link(length=now + turned)
    try:
        solver = StationSolver(station.model_copy(update={"links": links}), linkage.path)
        places = np.unique(np.array([0.0, at_mm]))
        path = solver.linkage.follow(places)
    except EngineError:
        return None
    force = solver.rows(places, path.solution).wheel_force[int(np.searchsorted(places, at_mm))]
    return float(force) - carried_n if np.isfinite(force) else None
