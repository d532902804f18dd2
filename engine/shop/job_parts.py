"""Everything that a job's stations take, worked out once for all papers."""

from dataclasses import dataclass

from engine.document.schema import Project
from engine.findings.finding import rules_of
from engine.shop.parts import StationParts, station_parts
from engine.shop.set_out import SetOut, set_out
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp

STEPS = 41


@dataclass(frozen=True, kw_only=True)
class JobParts:
    """A job's parts and mounts, station by station; a variant of a station is not made."""

    project: Project
    solved: tuple[SolvedStation, ...]
    stations: tuple[StationParts, ...]
    mounts: tuple[SetOut, ...]


def job_parts(project: Project) -> JobParts:
    """Return what a job takes; raise the engine's errors for a linkage that cannot move."""
    solved = [
        solve_station(station, f"stations[{number}]", STEPS)
        for number, station in enumerate(project.stations)
        if station.variant_of is None
    ]
    rules = [rules_of(project.judging, one.station.judging) for one in solved]
    return JobParts(
        project=project,
        solved=tuple(solved),
        stations=tuple(station_parts(WorkUp(one), its) for one, its in zip(solved, rules, strict=True)),
        mounts=tuple(mount for one in solved for mount in set_out(project, one)),
    )
