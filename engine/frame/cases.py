"""What comes to the mounts: every load case of every station, alone and with its other side alike, N on the frame.

A load of the Brief makes the same cases heavier at the stations that carry it.

Factor   how many times its static load a wheel is pushed up with in the case; in droop, the strap's pull over the unsprung weight.
"""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.coming import with_finished_masses
from engine.document.frame_sides import MIRROR, OTHER
from engine.document.schema import Project, Station
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.linkage.vectors import Array
from engine.loads.peak import Peak
from engine.sentences import spoken
from engine.station.solved import solve_station
from engine.vehicle.loaded import corner_masses
from engine.workup import WorkUp

NO_LOAD_N = 0.5
SAME_TRAVEL_MM = 3.0  # two sides' cases so near in their travel are met together


@facts
class LoadCase:
    """What comes to every mount at once, N in the vehicle's axes, by STATION/POINT; travel mm at which its station stands."""

    name: str
    loads: dict[str, Array]
    factor: float
    travel: float


@facts
class Loaded:
    """Every case, the stations worked up, and those whose loads nobody can say, with why."""

    cases: list[LoadCase]
    works: dict[str, WorkUp]
    unknown: dict[str, str]


def loaded(project: Project) -> Loaded:
    """Return what comes to the mounts of a job; raise the engine's errors for a linkage that cannot move."""
    project = with_finished_masses(project)
    works, peaks, unknown = {}, {}, {}
    for number, station in enumerate(project.stations):
        if station.variant_of is not None:
            continue
        work = WorkUp(solve_station(station, f"stations[{number}]"))
        works[station.name] = work
        peak = work.peak(rules_of(project.judging, station.judging).loading)
        if peak is None:
            unknown[station.name] = "it stands nowhere in its travel"
        else:
            peaks[station.name] = peak
    mirrored = project.frame is not None and project.frame.mirrored
    cases = [
        case
        for station in project.stations
        if station.name in peaks
        for case in _of_station(project, station, peaks, mirrored)
    ]
    for load in project.loads:
        heavier = _with_load(project, load.name, works)
        cases += [
            replace(case, name=f"{load.name}, {case.name}")
            for station in project.stations
            if station.name in heavier
            for case in _of_station(project, station, heavier, mirrored)
        ]
    return Loaded(cases=_named_once(cases), works=works, unknown=unknown)


def _with_load(project: Project, load: str, works: dict[str, WorkUp]) -> dict[str, Peak]:
    """Return each station's cases with a load of the Brief in the vehicle; none of a station that it makes no heavier."""
    found = {}
    for number, station in enumerate(project.stations):
        mass = corner_masses(project, station.name).get(load) if station.name in works else None
        if mass is None or mass <= (station.mass.finished or station.mass.corner):
            continue
        laden = station.model_copy(
            update={"mass": station.mass.model_copy(update={"corner": mass, "finished": None})}
        )
        peak = WorkUp(solve_station(laden, f"stations[{number}]")).peak(
            rules_of(project.judging, station.judging).loading
        )
        if peak is not None:
            found[station.name] = peak
    return found


def _named_once(cases: list[LoadCase]) -> list[LoadCase]:
    """Return cases under names of their own: the same one at several places of the travel is numbered by where it is."""
    taken: dict[str, int] = {}
    found = []
    for case in cases:
        count = taken.get(case.name, 0)
        taken[case.name] = count + 1
        name = case.name if count == 0 else f"{case.name} ({count + 1})"
        found.append(replace(case, name=name))
    return found


def _of_station(
    project: Project, station: Station, peaks: dict[str, Peak], mirrored: bool
) -> Iterator[LoadCase]:
    peak = peaks[station.name]
    other = next(
        (one for one in project.stations if one.name == station.other_side and one.name in peaks), None
    )
    names = [one.name for one in project.stations]
    for k, case in enumerate(peak.cases):
        its = forces_on_frame(peak, station, k)
        where = f", at {case.travel:+.0f} mm of travel".replace("-", "−")
        name = f"{spoken(station.name)}: {case.words}{where}"
        factor = _factor(peak, station, k)
        yield LoadCase(name=name, loads=its, factor=factor, travel=case.travel)
        both = f"{spoken(station.name)}, both sides: {case.words}{where}"
        if station.kind == "corner" and station.other_side == "mirror" and not station.single and mirrored:
            across = {mount + OTHER: force * MIRROR for mount, force in its.items()}
            yield LoadCase(name=both, loads={**its, **across}, factor=factor, travel=case.travel)
        elif other is not None and names.index(station.name) < names.index(other.name):
            there = next(
                (n for n, one in enumerate(peaks[other.name].cases) if _alike(case.words, one.words)), None
            )
            if there is not None:
                theirs = forces_on_frame(peaks[other.name], other, there)
                yield LoadCase(name=both, loads={**its, **theirs}, factor=factor, travel=case.travel)


def _alike(one: str, other: str) -> bool:
    """Return whether two sides' cases are the same one seen in the mirror."""
    swapped = other.replace("left", "§").replace("right", "left").replace("§", "right")
    return one in (swapped, other)


def _factor(peak: Peak, station: Station, number: int) -> float:
    case = peak.cases[number]
    mass = peak.linkage.station.mass
    static = (mass.finished or mass.corner) * GRAVITY_M_PER_S2 * len(station.wheels)
    up = sum(push.force[2] for push in case.pushes)
    if up > 0 or not mass.unsprung:
        return float(up / static)
    return float(-up / (mass.unsprung * GRAVITY_M_PER_S2 * len(station.wheels)))


def forces_on_frame(peak: Peak, station: Station, number: int) -> dict[str, Array]:
    """Return what a station's case puts on the chassis at each of its points, N, by STATION/POINT."""
    found: dict[str, Array] = {}
    slots = set(peak.cases[number].slots)
    for point in station.chassis:
        force = np.zeros(3)
        if (point, None) in slots:
            force = force + peak.forces_at(point, None)[number]
        else:
            for unit in station.units:
                if point in unit.ends:
                    force = force + peak.unit_forces(unit.name, point)[number]
        if np.linalg.norm(force) > NO_LOAD_N:
            found[f"{station.name}/{point}"] = force
    return found
