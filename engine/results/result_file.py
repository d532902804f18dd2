"""A solved project as the plain values of the result file, `jugatrix-result` version 1."""

from typing import Any

from engine.conventions import TOLERANCES
from engine.document.schema import Project
from engine.results import parts
from engine.results.whole import WorkedStation, work_project
from engine.ride.datum import height_at_mm
from engine.sentences import spoken
from engine.station.solved import SolvedStation

Values = dict[str, Any]


def solve_project(project: Project, steps: int = 41, remedies: bool = True) -> Values:
    """Return the result file's values; raise the engine's errors for a linkage that cannot move.

    remedies : without them findings carry advice only; trying remedies solves each a few times over
    """
    worked = work_project(project, steps)
    values: Values = {
        "format": "jugatrix-result",
        "version": 1,
        "name": project.name,
        "stations": [
            station_values(station.work.solved) | worked_values(station, remedies)
            for station in worked.stations
        ],
    }
    if worked.balance is not None:
        balance = worked.balance
        values["vehicle"] = {
            "roll_gradient": balance.gradient,
            "front_share": balance.front_share,
            "roll_arm": balance.arm,
            "sprung_mass": balance.sprung_mass,
            "wanted_bar": balance.wanted_bar,
            "findings": [parts.finding(finding) for finding in worked.findings],
        }
    return values


def worked_values(worked: WorkedStation, remedies: bool) -> Values:
    """Return everything beyond the sweep, the ride position and the limits; subjects it has none of are left out."""
    work = worked.work
    found: Values = {
        "dampers": parts.dampers(work),
        "stacks": parts.stacks(work),
        "rockers": parts.rockers(work),
        "bag_states": parts.bags(work),
        "wheel_moves": parts.wheel_moves(work),
        "wheel_angles": parts.wheel_angles_of(work),
        "axle": parts.axle(work),
        "articulation": parts.articulation(work),
        "roll": parts.roll(work),
        "joints": parts.joints(work),
        "shafts": parts.shafts(work),
        "clearances": parts.clearances(worked),
        "loads": parts.loads(work, worked.rules),
        "events": parts.events(work),
        "sensitivity": parts.sensitivity(worked),
        "spread": parts.spread(work),
    }
    if work.forced is not None:
        found["forced_articulation"] = work.forced.gives
    kept = {key: value for key, value in found.items() if value not in (None, [], {})}
    values: Values = parts.finite(kept | {"findings": parts.findings(worked, remedies)})
    return values


def station_values(solved: SolvedStation) -> Values:
    """Return one station's part of the result file."""
    values: Values = {
        "name": solved.station.name,
        "sweep": _sweep(solved),
        "ride": parts.ride(solved),
        "limits": parts.limits(solved),
    }
    if values["ride"] is None:
        values["ride_fault"] = str(solved.ride_fault)
    elif solved.station.datum is not None:
        values["ride"]["height"] = {
            "datum": solved.station.datum.name,
            "above_floor": height_at_mm(solved.station, values["ride"]["travel"]),
        }
    filling = parts.air(solved)
    if filling is not None:
        values["bags"] = filling
    if solved.linkage.assembly.over_constrained or solved.mismatch_mm > TOLERANCES.redundant_closure_mm:
        values["over_constrained"] = {"mismatch": solved.mismatch_mm, "body": solved.mismatch_body or None}
    return values


def _sweep(solved: SolvedStation) -> list[Values]:
    told, travels = parts.columns(solved.sweep), solved.sweep.travels.tolist()
    return [
        {"travel": travel, "reached": reached}
        | (parts.row(told, k) if reached else _unreached(solved, travel))
        for k, (travel, reached) in enumerate(zip(travels, solved.reached.tolist(), strict=True))
    ]


def _unreached(solved: SolvedStation, travel: float) -> Values:
    """Say which body falls short; nothing else is known at a position the linkage cannot take."""
    direction = "bump" if travel > 0 else "droop"
    ends = [limit for limit in solved.limits if limit.kind == "linkage_reach"]
    end = next((limit for limit in ends if limit.direction == direction), ends[0])
    body = spoken(end.body or "linkage")
    return {
        "units": {},
        "wheel_force": None,
        "wheel_rate": None,
        "wheels": {},
        "points": {},
        "body": end.body,
        "detail": f"The {body} cannot reach past {end.travel:+.1f} mm.",
    }
