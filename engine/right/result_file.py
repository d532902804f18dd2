"""What `manage.py right` writes: plans, what each leaves, and what cannot be had together, as plain values."""

from typing import Any

from engine.document.schema import Project
from engine.findings.finding import Finding
from engine.results.whole import WorkedProject
from engine.right.cannot import cannot_of
from engine.right.plans import Change, Plan, Righted, every_finding
from engine.station.solved import SolvedStation

Values = dict[str, Any]


def right_values(project: Project, righted: Righted) -> Values:
    """Return the whole answer."""
    cannot = cannot_of(project, righted)
    return {
        "format": "jugatrix-right",
        "version": 1,
        "before": counted(righted.before),
        "plans": [plan_values(number + 1, plan, righted) for number, plan in enumerate(righted.plans)],
        "cannot": None if cannot is None else {"say": cannot.say, "wishes": list(cannot.wishes)},
    }


def counted(worked: WorkedProject) -> Values:
    """Return how many faults and warnings there are."""
    found = every_finding(worked)
    return {mark: sum(f.mark == mark for f in found) for mark in ("fault", "warning")}


def plan_values(number: int, plan: Plan, righted: Righted) -> Values:
    """Return one plan."""
    return {
        "number": number,
        "why": plan.why,
        "changes": [change_values(change) for change in plan.changes],
        "hours": round(plan.cost.hours, 2),
        "money": round(plan.cost.money, 2),
        "days": plan.cost.days,
        "cost": round(plan.total, 2),
        "gives_up": round(plan.gives_up, 4),
        "after": counted(plan.after),
        "left": left(plan.after),
        "figures": figures_of(plan, righted),
        "holds_in": None if plan.holds_in is None else round(plan.holds_in, 3),
    }


def figures_of(plan: Plan, righted: Righted) -> Values:
    """Return where each changed station stands and how it carries, before and after, by its name."""
    changed = {line["station"] for change in plan.changes for line in change.differences}
    return {
        name: _figures(one.work.solved, other.work.solved)
        for one, other in zip(righted.before.stations, plan.after.stations, strict=True)
        if (name := one.work.station.name) in changed
    }


def change_values(change: Change) -> Values:
    """Return one change: its first value by path, the others of it under `also`."""
    first, *others = change.differences
    return {
        "station": change.station,
        "key": change.key,
        "say": change.say,
        "path": first["path"],
        "before": first["before"],
        "after": first["after"],
        "also": others,
        "hours": round(change.cost.hours, 2),
        "money": round(change.cost.money, 2),
        "days": change.cost.days,
    }


def left(worked: WorkedProject) -> list[Values]:
    """Return what is still found, by station; None is the whole vehicle."""
    of: list[tuple[str | None, tuple[Finding, ...]]] = [
        (s.work.station.name, s.findings) for s in worked.stations
    ]
    of.append((None, worked.findings))
    return [
        {"code": f.code, "station": name, "mark": f.mark, "say": str(f.what)}
        for name, findings in of
        for f in findings
        if f.mark != "good"
    ]


def _figures(before: SolvedStation, after: SolvedStation) -> Values:
    """Return where it stands (mm), wheel rate (N/mm), frequency (Hz), and the first unit's ratio, before and after."""
    told = [_at_ride(one) for one in (before, after)]
    return {key: [one[key] for one in told] for key in ("ride", "wheel_rate", "frequency", "ratio")}


def _at_ride(solved: SolvedStation) -> Values:
    ride, rows = solved.ride, solved.at_ride
    if ride is None or rows is None:
        return dict.fromkeys(("ride", "wheel_rate", "frequency", "ratio"))
    first = next(iter(solved.station.units), None)
    ratio = None if first is None else float(rows.units[first.name].motion_ratio[0])
    return {
        "ride": round(ride.travel, 2),
        "wheel_rate": round(ride.wheel_rate, 3),
        "frequency": round(ride.frequency, 3),
        "ratio": None if ratio is None else round(ratio, 4),
    }
