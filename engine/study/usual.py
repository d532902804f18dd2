"""What a study would begin with for a job as it stands: its spring mounts and rocker pivots a little about where they are."""

from engine.document.schema import Project, Station
from engine.errors import EngineError
from engine.findings.finding import rules_of
from engine.sizing.rocker.wheel_side import rockers_here
from engine.station.solved import SolvedStation, solve_station
from engine.study.asked import Place, Vary, Wishes, coils_of

MOUNT_MM, PIVOT_MM = 15.0, 10.0
STEPS = 41
SOFTER_TO_STIFFER = (0.6, 0.7, 0.8, 0.9, 1.0, 1.15, 1.3, 1.5)
ROUND_N_PER_MM = 5.0


def usual(project: Project) -> tuple[list[Vary], Wishes]:
    """Return what to vary at first, and wishes as the job has them: the purpose's frequency, else as it is."""
    vary, frequency = [], {}
    by_name = {station.name: station for station in project.stations}
    alike: set[str] = set()
    for station in project.stations:
        if station.variant_of is not None:
            continue
        other = by_name.get(station.other_side or "")
        pair = other is not None and set(other.points) == set(station.points)
        try:
            solved = solve_station(station, steps=STEPS)
        except EngineError:
            continue
        if station.name not in alike:
            vary.append(_vary(solved, other.name if other is not None and pair else None))
            alike |= {other.name} if other is not None and pair else set()
        band = rules_of(project.judging, station.judging).frequencies
        if band is not None:
            frequency[station.name] = round((band[0] + band[1]) / 2, 2)
        elif solved.ride is not None:
            frequency[station.name] = round(solved.ride.frequency, 2)
    return vary, Wishes(frequency=frequency)


def _vary(solved: SolvedStation, alike: str | None) -> Vary:
    station = solved.station
    places = [
        Place(points=[end], box=(MOUNT_MM, MOUNT_MM, MOUNT_MM))
        for end in dict.fromkeys(
            end
            for law in solved.springing.laws
            if law.springs
            for end in law.ends
            if end in station.chassis and not _is_right_of_another(station, end)
        )
    ]
    for rocker in rockers_here(solved):
        pivots = list(dict.fromkeys(rocker.pivots))
        if not any(_is_right_of_another(station, pivot) for pivot in pivots):
            places.append(Place(points=pivots, box=(PIVOT_MM, PIVOT_MM, PIVOT_MM)))
    coils = coils_of(station)
    rate = next((s.rate for s in coils[0].springs if not s.helper and s.rate), None) if coils else None
    springs = (
        []
        if rate is None
        else sorted(
            {
                max(ROUND_N_PER_MM, ROUND_N_PER_MM * round(rate * k / ROUND_N_PER_MM))
                for k in SOFTER_TO_STIFFER
            }
        )
    )
    return Vary(station=station.name, alike=alike, places=places, springs=springs)


def _is_right_of_another(station: Station, point: str) -> bool:
    """Return whether a point is an axle's other side of one that is moved already: its image goes with it."""
    return station.kind == "axle" and station.points[point][1] < 0
