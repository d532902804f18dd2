"""A solved project as the plain values of the result file, `jugatrix-result` version 1."""

import math
from typing import Any

import numpy as np

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
        "sweep": [_row(solved, row) for row in range(len(solved.sweep.travels))],
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


def _number(value: Any) -> float | None:
    number = float(value)
    return number if math.isfinite(number) else None


def _row(solved: SolvedStation, row: int) -> Values:
    rows, reached = solved.sweep, bool(solved.reached[row])
    values: Values = {"travel": float(rows.travels[row]), "reached": reached}
    if not reached:
        return {**values, **_unreached(solved, float(rows.travels[row]))}
    values["units"] = {
        name: {
            "length": float(trace.length[row]),
            "motion_ratio": float(trace.motion_ratio[row]),
            "force": _number(trace.force[row]),
        }
        for name, trace in rows.units.items()
    }
    for name, trace in rows.units.items():
        if trace.pressure is not None:
            values["units"][name]["pressure"] = _number(trace.pressure[row])
    values["wheel_force"] = _number(rows.wheel_force[row])
    values["wheel_rate"] = _number(rows.wheel_rate[row])
    values["wheels"] = {
        name: {
            "camber": _number(trace.camber[row]),
            "toe": _number(trace.toe[row]),
            "centre": [float(c) for c in trace.centre[:, row]],
        }
        for name, trace in rows.wheels.items()
    }
    place: np.ndarray = rows.solution.motion.place[:, :, row].T
    values["points"] = {name: place[k].tolist() for name, k in solved.linkage.index.items()}
    return values


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
