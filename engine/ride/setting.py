"""What sets the ride height, and how far it must be turned for today's mass and for the finished one.

Means    one way to set it: the spring perch, the rod to the rocker, the pressure in the bags, or, with nothing to
         turn, the free length of a spring on its own (or a shim under it).
Setting  what a means is set to: mm of preload, of rod or of spring, or gauge pressure in bar.
"""

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import AirSpring, Coilover, Link, SpringUnit, Station
from engine.document.units import AnyUnit
from engine.facts import facts
from engine.ride.angles import rocker_joints
from engine.ride.perch import seated
from engine.station.rows import rows_of
from engine.station.solved import SolvedStation

MOST_PERCH_MM = 400.0
MOST_ROD_MM = 80.0
ROD_TURNS = 16  # Newton from a fair start needs three or four, a far one its strides before
ROD_STRIDE_MM = 12.0  # so short that the linkage cannot be put together another way
ROD_STEP_MM = 0.25
ENOUGH_N = 1e-4
SMALL_STEP_MM = 1e-3


@facts
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

    def holds(self, setting: float | None) -> bool | None:
        """Return whether a setting is within what can be set; None where the job does not say how far that is."""
        if setting is None:
            return False
        if self.least is None or self.most is None:
            return None
        return self.least - 1e-6 <= setting <= self.most + 1e-6


@facts
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
    cases: dict[str, float | None]


def with_setting(station: Station, means: Means, setting: float) -> Station:
    """Return the station with a means set; what is left to turn is counted down with it.

    setting : mm of preload, of rod or of free length, or bar gauge
    """
    by = round(setting - means.now, 3)
    if means.by == "rod":
        links = {name: Link(length=round(setting, 3)) for name in means.subjects}
        rods = {name: station.rods[name].turned(by) for name in means.subjects if name in station.rods}
        return station.model_copy(
            update={"links": {**station.links, **links}, "rods": {**station.rods, **rods}}
        )
    units = [
        _unit_set(unit, means, setting, by) if unit.name in means.subjects else unit for unit in station.units
    ]
    return station.model_copy(update={"units": units})


def _unit_set(unit: AnyUnit, means: Means, setting: float, by: float) -> AnyUnit:
    if isinstance(unit, AirSpring):
        return unit.model_copy(update={"pressure": round(setting, 4)})
    if isinstance(unit, SpringUnit):
        first, *others = unit.springs
        longer = first.model_copy(update={"free_length": round(first.free_length + by, 3)})
        return unit.model_copy(update={"springs": [longer, *others]})
    if not isinstance(unit, Coilover):
        return unit
    return unit.model_copy(update=seated(unit, preload=round(unit.preload + by, 3)))


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
        found.append(Means(by="perch", subjects=names, now=coilovers[0].preload, least=least, most=most))
    bags = [unit for unit in station.units if isinstance(unit, AirSpring)]
    if not bags:
        found += _rods(solved, station)
    else:
        rated = [bag.max_pressure for bag in bags if bag.max_pressure is not None]
        most = min(rated) * pressure_share if len(rated) == len(bags) else None
        found.append(
            Means(
                by="pressure",
                subjects=tuple(bag.name for bag in bags),
                now=bags[0].pressure,
                least=0.0,
                most=most,
            )
        )
    springs = [unit for unit in station.units if isinstance(unit, SpringUnit)]
    if springs and not found:
        names = tuple(unit.name for unit in springs)
        found.append(
            Means(by="spring", subjects=names, now=springs[0].springs[0].free_length, least=None, most=None)
        )
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
    now = _length_now(solved, rods[0])
    made = [station.rods.get(rod) for rod in rods]
    longer = [rod.left_longer for rod in made if rod is not None and rod.left_longer is not None]
    shorter = [rod.shorter for rod in made if rod is not None and rod.shorter is not None]
    known = len(longer) == len(shorter) == len(rods)
    return [
        Means(
            by="rod",
            subjects=rods,
            now=now,
            least=now - min(shorter) if known else None,
            most=now + min(longer) if known else None,
        )
    ]


def weight_n(station: Station, corner_kg: float) -> float:
    """Return the weight that a wheel's springs carry for a corner mass, N."""
    return (corner_kg - station.mass.unsprung) * GRAVITY_M_PER_S2


def settings_for(
    solved: SolvedStation, means: Means, asked: Sequence[tuple[float, float]]
) -> list[float | None]:
    """Return what a means must be set to so that a wheel stands where it is asked.

    asked   : travel (mm) and the weight carried there (N), as often as wanted
    returns : a setting each; None where nothing does it
    """
    travels = solved.search.travels[solved.path.reached]
    inside = [k for k, (at, _) in enumerate(asked) if len(travels) and travels[0] <= at <= travels[-1]]
    found: list[float | None] = [None] * len(asked)
    if means.by == "pressure":
        for k in inside:
            found[k] = solved.pressure_for(*asked[k])
        return found
    pairs = [asked[k] for k in inside]
    turned = (
        _rods_turned(solved, means, pairs)
        if means.by == "rod"
        else [_perch(solved, means, *pair) for pair in pairs]
    )
    for k, by in zip(inside, turned, strict=True):
        found[k] = None if by is None else means.now + by
    return found


def standings(
    solved: SolvedStation, pressure_share: float = 1.0, cases: Mapping[str, float] = MappingProxyType({})
) -> tuple[Standing, ...]:
    """Return every means with what it must be set to; `cases` are masses at the wheel (kg) by load cases' names."""
    station, found = solved.station, []
    at, wanted = station.travel.at or 0.0, station.adjusting
    today = weight_n(station, station.mass.corner)
    finished = station.mass.finished
    for means in means_of(solved, pressure_share):
        asked = {"today": (at, today)}
        if finished is not None:
            asked["finished"] = (at, weight_n(station, finished))
        if wanted is not None and wanted.by == means.by and wanted.reach > 0:
            asked |= reach_asked(at, wanted.reach, today)
        loaded = [(at, weight_n(station, mass)) for mass in cases.values()]
        every = settings_for(solved, means, [*asked.values(), *loaded])
        settings = dict(zip(asked, every, strict=False))
        found.append(
            Standing(
                means=means,
                today=settings.get("today"),
                finished=settings.get("finished"),
                higher=settings.get("higher"),
                lower=settings.get("lower"),
                cases=dict(zip(cases, every[len(asked) :], strict=True)),
            )
        )
    return tuple(found)


def reach_asked(at_mm: float, reach_mm: float, carried_n: float) -> dict[str, tuple[float, float]]:
    """Return where the wheel stands with the body set higher and lower; a body higher is a wheel further down."""
    return {"higher": (at_mm - reach_mm, carried_n), "lower": (at_mm + reach_mm, carried_n)}


def _perch(solved: SolvedStation, means: Means, at_mm: float, carried_n: float) -> float | None:
    from scipy.optimize import brentq  # a tenth of a second to load, and rarely needed

    rows = solved.at(np.array([at_mm]))
    laws = [law for law in solved.springing.laws if law.name in means.subjects and law.stack is not None]
    missing = carried_n * solved.springing.wheels - solved.springing.wheels * float(rows.wheel_force[0])

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


def _rods_turned(
    solved: SolvedStation, means: Means, asked: Sequence[tuple[float, float]]
) -> list[float | None]:
    """Newton on the rods' length, a row each way it is asked, the linkage followed from the length that is set.

    None where it does not come to stand, or only past a flat joint.
    """
    count = len(asked)
    if not count:
        return []
    rods = {rod: _length_now(solved, rod) for rod in means.subjects}
    at, carried = (np.array([pair[k] for pair in asked]) for k in (0, 1))
    here = solved.linkage.at(solved.path, at).pick(np.tile(np.arange(count), 2))
    places, signs, good = np.tile(at, 2), here.signs, here.closed[:count]
    turned, done = np.zeros(count), np.zeros(count, dtype=bool)
    for _ in range(ROD_TURNS):
        both = np.concatenate([turned, turned + ROD_STEP_MM])
        here = solved.linkage.with_links(here, places, {rod: now + both for rod, now in rods.items()})
        whole = here.closed & (here.signs == signs).all(axis=0)
        good = good & whole[:count] & whole[count:]
        force = rows_of(solved.linkage, solved.springing, places, here).wheel_force
        gap, slope = force[:count] - carried, (force[count:] - force[:count]) / ROD_STEP_MM
        with np.errstate(all="ignore"):
            step = np.nan_to_num(-gap / slope, nan=0.0, posinf=0.0, neginf=0.0)
        turned = turned + np.clip(step, -ROD_STRIDE_MM, ROD_STRIDE_MM)
        # A step so small is off by far less than itself.
        done = (np.abs(gap) < ENOUGH_N) | (np.isfinite(gap) & (np.abs(step) < SMALL_STEP_MM) & (step != 0.0))
        if (done | ~good).all():
            break
        good = good & (np.abs(turned) <= MOST_ROD_MM) & (min(rods.values()) + turned > 0)
        turned = np.where(good, turned, 0.0)
    return [float(by) if its else None for by, its in zip(turned, good & done, strict=True)]


def _length_now(solved: SolvedStation, rod: str) -> float:
    linkage = solved.linkage
    one, other = (linkage.points[linkage.index[name]] for name in solved.station.bodies[rod])
    return float(linkage.set_lengths.get(rod, np.linalg.norm(one - other)))
