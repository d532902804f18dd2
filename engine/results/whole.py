"""A whole project solved: its stations, how the sides go together, and the vehicle in roll."""

from collections.abc import Callable
from dataclasses import field

from engine.document.coming import with_finished_masses
from engine.document.schema import Project
from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import Finding, Rules, rules_of
from engine.findings.judge import RANK, judge
from engine.findings.pairs import judge_pairs
from engine.findings.roll import judge_roll
from engine.findings.sides import judge_crossing, judge_sides
from engine.limits.across import CrossClearance, across_the_car
from engine.ride.balance import Balance, balance_of
from engine.station.solved import solve_station
from engine.workup import WorkUp


@facts
class WorkedStation:
    """One station with its answers and judgements.

    crossing : how near the other side comes; `beside` judges the station, changed, beside it
    """

    work: WorkUp
    rules: Rules
    findings: tuple[Finding, ...]
    beside: Callable[[WorkUp], list[Finding]]
    crossing: tuple[CrossClearance, ...] = ()


@facts
class WorkedProject:
    """Every station, and the vehicle as one."""

    project: Project
    stations: list[WorkedStation]
    balance: Balance | None
    findings: tuple[Finding, ...] = field(default=())


def work_project(project: Project, steps: int = 41) -> WorkedProject:
    """Return a project with everything worked out; raise the engine's errors for a linkage that cannot move."""
    asked = judge_pairs(project)
    project = with_finished_masses(project)
    works = [
        WorkUp(solve_station(station, f"stations[{number}]", steps))
        for number, station in enumerate(project.stations)
    ]
    stations = [_worked(project, works, number) for number in range(len(works))]
    rules = rules_of(project.judging)
    balance = balance_of(
        project, [work.solved for work in works], [work.roll for work in works], rules.roll_gradient_deg_per_g
    )
    return WorkedProject(
        project=project, stations=stations, balance=balance, findings=(*asked, *judge_roll(balance, rules))
    )


def _worked(project: Project, works: list[WorkUp], number: int) -> WorkedStation:
    work = works[number]
    rules = rules_of(project.judging, work.station.judging)
    other = _other_side(works, number)
    said = says_sides(project, number)
    found, crossing = across(work, other, rules, said)
    found = sorted([*judge(work.solved, rules, work), *found], key=lambda f: RANK[f.mark])
    return WorkedStation(
        work=work,
        rules=rules,
        findings=tuple(found),
        beside=beside_of(work, other, rules, said),
        crossing=crossing,
    )


def says_sides(project: Project, number: int) -> bool:
    """Return whether a station is the one of two sides that says what they differ in: the first in the file."""
    names = [station.name for station in project.stations]
    side = project.stations[number].other_side
    return side not in names or number <= names.index(side)


def across(
    work: WorkUp, other: WorkUp | None, rules: Rules, said: bool = True
) -> tuple[list[Finding], tuple[CrossClearance, ...]]:
    """Return what there is to say of a station beside its other side, and how near the two come.

    other : the station itself where it is its own mirror image, None where it stands alone
    said  : whether what both sides differ in is said here, and not at the other one
    """
    found: list[Finding] = []
    crossing = _crossing(work, other)
    if crossing:
        found += judge_crossing(crossing, rules)
    if said and other is not None and other is not work:
        found += judge_sides(work.solved, other.solved, rules)
    return found, crossing


def beside_of(
    work: WorkUp, other: WorkUp | None, rules: Rules, said: bool = True
) -> Callable[[WorkUp], list[Finding]]:
    """Return what judges the station with something of it changed, beside its other side: changed alike if mirrored."""
    return lambda changed: across(changed, changed if other is work else other, rules, said)[0]


def worked_up(project: Project, number: int, steps: int) -> WorkUp:
    """Return one station of a job worked up."""
    return WorkUp(solve_station(project.stations[number], f"stations[{number}]", steps))


def other_side_of(
    project: Project, number: int, work: WorkUp, work_up: Callable[[Project, int, int], WorkUp] = worked_up
) -> WorkUp | None:
    """Return the other side of one station, solved for it; None where it stands alone or cannot be solved.

    work_up : how a station of the job is worked up, for who has it at hand
    """
    station = project.stations[number]
    if station.kind == "axle" or station.single:
        return None
    if station.other_side == "mirror":
        return work
    at = next(k for k, other in enumerate(project.stations) if other.name == station.other_side)
    try:
        return work_up(project, at, len(work.solved.sweep.travels))
    except EngineError:
        return None


def _other_side(works: list[WorkUp], number: int) -> WorkUp | None:
    """Return the other side's answers: the station itself where it is its own mirror image, None where alone."""
    station = works[number].station
    if station.kind == "axle" or station.single:
        return None
    if station.other_side == "mirror":
        return works[number]
    return next(work for work in works if work.station.name == station.other_side)


def _crossing(work: WorkUp, other: WorkUp | None) -> tuple[CrossClearance, ...]:
    if other is None:
        return ()
    return across_the_car(
        work.linkage, work.cross_grid, other.linkage, other.cross_grid, mirror=other is work
    )
