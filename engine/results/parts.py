"""Each subject of a worked station as plain values: keys say what, the fixed units of the file hold."""

import math
from typing import Any

import numpy as np

from engine.budget import Budget
from engine.conventions import TOLERANCES
from engine.findings.finding import Finding, Rules
from engine.limits.clearance import Clearance
from engine.limits.rooms_by_point import rooms_by_point
from engine.linkage.grid import articulation_mm
from engine.remedies.remedy import remedy_for
from engine.results.whole import WorkedStation
from engine.ride.axle import axle_body, axle_motion, pinion_angle_deg
from engine.ride.contact import contact_of, roll_centre_mm
from engine.ride.roll import bars_of
from engine.ride.sensitivity import sensitivities
from engine.ride.spread import Spread, spread_of
from engine.ride.taped import Interval
from engine.station.rows import Rows, rows_of
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

Values = dict[str, Any]
MOST_SECONDS, A_REMEDY_S = 20.0, 8.0  # processor time for the remedies of one station, and for one of them


def number(value: Any) -> float | None:
    """Return a number, or None for what is not finite."""
    plain = float(value)
    return plain if math.isfinite(plain) else None


def finite(values: Any) -> Any:
    """Return plain values with null for every number that is not finite: it is not known."""
    if isinstance(values, dict):
        return {key: finite(value) for key, value in values.items()}
    if isinstance(values, list):
        return [finite(value) for value in values]
    return None if isinstance(values, float) and not math.isfinite(values) else values


def columns(rows: Rows) -> Values:
    """Return what positions say, each figure an array of as many: of units and wheels, at the wheel, and where points are.

    Numbers are (positions,), places (positions, 3). `row` picks one position; the screen takes them as they are.
    """
    place = rows.solution.motion.place.transpose(1, 2, 0)
    return {
        "units": {
            name: {"length": trace.length, "motion_ratio": trace.motion_ratio, "force": trace.force}
            | ({} if trace.pressure is None else {"pressure": trace.pressure})
            for name, trace in rows.units.items()
        },
        "wheel_force": rows.wheel_force,
        "wheel_rate": rows.wheel_rate,
        "wheels": {
            name: {"camber": trace.camber, "toe": trace.toe, "centre": trace.centre.T}
            for name, trace in rows.wheels.items()
        },
        "points": {name: place[k] for name, k in rows.linkage.index.items()},
    }


def row(told: Values, k: int) -> Values:
    """Return one position of `columns` as plain values, None for a number that is none."""

    def at(value: Any) -> Any:
        if isinstance(value, dict):
            return {key: at(its) for key, its in value.items()}
        return value[k].tolist() if value.ndim > 1 else number(value[k])

    return {key: at(value) for key, value in told.items()}


def ride(solved: SolvedStation) -> Values | None:
    """Return where it carries its weight: mm, N/mm, Hz; None where it does nowhere."""
    its = solved.ride
    if its is None:
        return None
    return {
        "travel": its.travel,
        "wheel_rate": its.wheel_rate,
        "wheel_rate_from_changing_ratio": its.rate_from_ratio,
        "frequency": its.frequency,
        "sag": its.sag,
        "preload_left": solved.preload_left,
    }


def limits(solved: SolvedStation) -> list[Values]:
    """Return what ends the travel, first met first: mm; a unit, or the body that falls short."""
    return [
        {
            "direction": limit.direction,
            "travel": limit.travel,
            "kind": limit.kind,
            "unit": limit.unit,
            **({} if limit.body is None else {"body": limit.body}),
        }
        for limit in solved.limits
    ]


def air(solved: SolvedStation) -> Values | None:
    """Return how the bags are filled; None without bags."""
    if not solved.springing.on_air:
        return None
    return {"filled_at_ride": solved.filled_at_ride, "pressure_wanted": solved.pressure_wanted_bar}


def dampers(work: WorkUp) -> Values:
    """Return how each damper is used: mm, shares, degrees."""
    return {
        use.name: {
            "stroke": use.stroke,
            "used": use.used,
            "left_in_bump": use.left_in_bump,
            "left_in_droop": use.left_in_droop,
            "split_bump": use.split_bump,
            "installed_angle": use.installed_angle,
            "path_share": use.path_share,
        }
        for use in work.dampers
    }


def stacks(work: WorkUp) -> Values:
    """Return where each stack of several springs crosses over."""
    laws = {law.name: law for law in work.solved.springing.laws}
    return {
        name: [
            {
                "spring": lock.spring,
                "compression": lock.compression,
                "length": laws[name].free_reference - lock.compression,
                "force": lock.force,
                "rate_before": lock.rate_before,
                "rate_after": lock.rate_after,
            }
            for lock in locks
        ]
        for name, locks in work.crossovers.items()
    }


def rockers(work: WorkUp) -> list[Values]:
    """Return each rocker's turn about ride, degrees, and where its joints stand square."""
    return [
        {
            "rocker": turn.rocker,
            "turn_to_bump": turn.bump,
            "turn_to_droop": turn.droop,
            "over_centre_margin": turn.over_centre,
            "square_at": turn.square_at,
        }
        for turn in work.rockers
    ]


def bags(work: WorkUp) -> list[Values]:
    """Return each bag's states."""
    return [
        {
            "bag": state.bag,
            "state": state.state,
            "travel": state.travel,
            "height": state.height,
            "pressure": state.pressure,
            "force": state.force,
        }
        for state in work.bags
    ]


def roll(work: WorkUp) -> Values | None:
    """Return the station's part in roll: N·m per degree, mm."""
    its = work.roll
    if its is None:
        return None
    values: Values = {"stiffness": its.stiffness, "track": its.track, "roll_centre": its.roll_centre}
    bars = bars_of(work.solved)
    if bars:
        values |= {"from_bars": its.bar, "bars": {bar.name: plain(bar, "name") for bar in bars}}
    if its.one_wheel is not None and bars:
        values["one_wheel_rate"] = its.one_wheel
    if its.spring_base is not None:
        values |= {"spring_base": its.spring_base, "stiffness_per_10mm_each_side": its.by_base}
    return values


def plain(record: Any, *but: str) -> Values:
    """Return a record of numbers as plain values, some of them left out."""
    return {key: value for key, value in vars(record).items() if key not in but}


def wheel_angles_of(work: WorkUp) -> Values:
    """Return bump steer, camber gain, the steering axis and full lock, where a station has them: degrees, mm."""
    found: Values = {
        "wheels": {its.wheel: plain(its, "wheel") for its in work.wheel_angles},
    }
    if work.steering_axis is not None:
        found["steering_axis"] = plain(work.steering_axis)
    if work.lock is not None:
        found["lock"] = plain(work.lock)
    return found if found["wheels"] or len(found) > 1 else {}


def wheel_moves(work: WorkUp) -> Values:
    """Return track and wheelbase change of every wheel over the reached sweep, mm, and a corner's roll centre."""
    travels, solution = work.reached_rows
    values: Values = {"travel": travels.tolist(), "wheels": {}}
    for wheel in work.station.wheels:
        contact = contact_of(work.linkage, wheel, solution)
        its: Values = {"track_change": contact.outward.tolist(), "wheelbase_change": contact.forward.tolist()}
        if work.station.kind == "corner":
            its["roll_centre"] = [number(height) for height in roll_centre_mm(contact)]
        values["wheels"][wheel.name] = its
    return values


def axle(work: WorkUp) -> Values | None:
    """Return how a live axle moves in heave over the reached sweep: mm, degrees."""
    body = axle_body(work.linkage)
    if body is None:
        return None
    travels, solution = work.reached_rows
    motion = axle_motion(work.linkage, body, solution.motion.place)
    return {
        "travel": travels.tolist(),
        "swing": motion.swing.tolist(),
        "side_shift": motion.side_shift.tolist(),
        "wind_up": motion.wind_up.tolist(),
        "pinion_angle": {
            shaft: angle.tolist()
            for shaft, angle in pinion_angle_deg(work.linkage, body, solution.motion.place).items()
        },
        "steer": motion.steer.tolist(),
    }


def articulation(work: WorkUp) -> list[Values] | None:
    """Return an axle with one wheel up and the other down, level to its most: lengths and forces of its units."""
    if work.linkage.articulation() is None:
        return None
    most = articulation_mm(work.linkage)
    amounts = np.linspace(-most, most, 9)
    path = work.linkage.articulate(amounts)
    rows = rows_of(work.linkage, work.solved.springing, amounts, path.solution)
    return [
        {
            "articulation": float(amount),
            "reached": bool(path.reached[k]),
            "units": {
                name: {"length": number(t.length[k]), "force": number(t.force[k])}
                for name, t in rows.units.items()
            }
            if path.reached[k]
            else {},
        }
        for k, amount in enumerate(amounts)
    ]


def joints(work: WorkUp) -> list[Values]:
    """Return the worst tilt of every rated bearing, degrees."""
    return [
        {
            "joint": " at ".join(t.subjects),
            "tilt": t.worst,
            "rated": t.rated,
            "travel": t.heave,
            "articulation": t.articulation,
        }
        for t in work.tilts
    ]


def shafts(work: WorkUp) -> list[Values]:
    """Return how each shaft is bent (degrees) and how long it gets (mm)."""
    return [
        {
            "shaft": s.name,
            "angles": list(s.bends),
            "rated": s.rated,
            "shortest": s.shortest,
            "longest": s.longest,
            "plunge": s.longest - s.shortest,
        }
        for s in work.shafts
    ]


def loads(work: WorkUp, rules: Rules) -> Values | None:
    """Return the forces at ride height, and the worst at the peak multiple of the static wheel load, N."""
    static, peak = work.loads, work.peak(rules.loading)
    if static is None or peak is None:
        return None
    return {
        "wheel_force": static.wheel_force,
        "joints": [
            {
                "point": joint.point,
                "on": joint.body or "chassis",
                "force": list(joint.force),
                "size": joint.size,
            }
            for joint in static.joints
        ],
        "links": static.links,
        "units": static.units,
        "peak": {
            "multiple": peak.loading.bump,
            "joints": {point: most.value for point, most in peak.joints.items()},
            "joint_cases": {point: most.case for point, most in peak.joints.items()},
            "links": {
                name: {
                    "push": peak.pushes[name].value,
                    "push_case": peak.pushes[name].case,
                    "pull": pull.value,
                    "pull_case": pull.case,
                }
                for name, pull in peak.pulls.items()
            },
            "open": list(peak.found.open),
        },
    }


def clearances(worked: WorkedStation) -> list[Values]:
    """Return the nearest approach of every pair that comes near, mm, the nearest first."""
    found = [_clearance(c) for c in worked.work.clearances]
    for near in worked.crossing:
        found.append(
            {
                "between": [near.one, f"other side: {near.other}"],
                "distance": near.distance,
                "travel": near.travel,
                "other_travel": near.other_travel,
            }
        )
    return sorted(found, key=lambda item: round(float(item["distance"]), TOLERANCES.alike_digits))


def _clearance(c: Clearance) -> Values:
    return {
        "between": [c.one, c.other],
        "distance": c.distance,
        "travel": c.heave,
        "articulation": c.articulation,
    }


def events(work: WorkUp) -> Values:
    """Return everything that happens each way in order, with mm from the wanted end of travel."""
    return {
        way: [
            {
                "travel": e.travel,
                "kind": e.kind.code,
                "subject": " | ".join(e.subjects) or None,
                "past_wanted": e.margin,
            }
            for e in (work.ledger.bump if way == "bump" else work.ledger.droop)
        ]
        for way in ("bump", "droop")
    }


def finding(its: Finding) -> Values:
    """Return one finding in plain words and numbers."""
    values: Values = {
        "code": its.code,
        "mark": its.mark,
        "subject": its.subject,
        "what": str(its.what),
        "why": its.why,
    }
    if its.value is not None:
        values |= {"value": its.value, "limit": its.limit, "measures": its.measures}
    if its.travel_mm is not None:
        values["travel"] = its.travel_mm
    if its.remedy is not None:
        values["advice"] = str(its.remedy)
    return values


def findings(worked: WorkedStation, remedies: bool) -> list[Values]:
    """Return every finding, with a remedy that was tried where one number clears it."""
    station, budget = worked.work.station, Budget(MOST_SECONDS)
    found = []
    for its in worked.findings:
        values = finding(its)
        if remedies and its.mark != "good":
            if budget.spent:
                values["remedy_not_tried"] = "There was no time left to try what would clear this."
            remedy = remedy_for(
                worked.work.solved, worked.findings, its, worked.rules, worked.beside, budget.part(A_REMEDY_S)
            )
            if remedy is not None:
                before = station.model_dump(mode="json", exclude_unset=True)
                values["remedy"] = {"what": str(remedy.what), "changes": differences(before, remedy.values)}
        found.append(values)
    return found


def differences(before: Any, after: Any, path: str = "") -> list[Values]:
    """Return each leaf that differs as a path and its two values."""
    if before == after:
        return []
    if isinstance(before, dict) and isinstance(after, dict):
        keys = dict.fromkeys([*before, *after])
        return [
            d
            for key in keys
            for d in differences(before.get(key), after.get(key), f"{path}.{key}" if path else str(key))
        ]
    if isinstance(before, list) and isinstance(after, list) and len(before) <= len(after) and _deep(after):
        padded = [*before, *[None] * (len(after) - len(before))]
        return [
            d
            for k, (one, other) in enumerate(zip(padded, after, strict=True))
            for d in differences(one, other, f"{path}[{k}]")
        ]
    return [{"path": path, "before": before, "after": after}]


def _deep(values: list[Any]) -> bool:
    return any(isinstance(value, dict | list) for value in values)


def sensitivity(worked: WorkedStation) -> list[Values]:
    """Return what a millimetre at each point does, the strongest on ride height first."""
    rooms = {
        (room.point, room.axis): {f"{one} | {other}": mm for (one, other), mm in room.rooms.items()}
        for room in rooms_by_point(worked.work.solved, worked.work.clearances)
    }
    return [
        {
            "point": s.point,
            "axis": "xyz"[s.axis],
            "ride": s.ride_mm,
            "wheel_rate": s.rate,
            "motion_ratios": s.ratios,
            **({"clearances": rooms[s.point, s.axis]} if (s.point, s.axis) in rooms else {}),
        }
        for s in sensitivities(worked.work.solved)
    ]


def spread(work: WorkUp) -> Values | None:
    """Return the intervals that tape errors leave, where the file gives the errors."""
    if work.station.uncertainty is None:
        return None
    return spread_values(spread_of(work.solved, clearances=work.clearances, ledger=work.ledger))


def spread_values(its: Spread) -> Values:
    """Return intervals as plain values: [5 %, middle, 95 %] by name."""

    def span(interval: Interval | None) -> list[float] | None:
        return None if interval is None else [interval.low, interval.middle, interval.high]

    return {
        "geometries": its.geometries,
        "standing": its.standing,
        "ride_travel": span(its.ride_travel),
        "wheel_rate": span(its.wheel_rate),
        "frequency": span(its.frequency),
        "motion_ratios": {name: span(interval) for name, interval in its.ratios.items()},
        "damper_left": {
            name: {"bump": span(bump), "droop": span(droop)}
            for name, (bump, droop) in its.damper_left.items()
        },
        "datum": span(its.datum),
        "wheel_angles": {
            name: {
                "bump_steer": span(wheel.bump_steer),
                "rim_mm": span(wheel.rim_mm),
                "camber_gain": span(wheel.camber_gain),
            }
            for name, wheel in its.wheels.items()
        },
        "steering_axis": None
        if its.axis is None
        else {name: span(getattr(its.axis, name)) for name in ("caster", "kingpin", "scrub", "trail")},
        "ends": [
            {"way": way, "kind": kind, "unit": unit, "travel": span(interval)}
            for (way, kind, unit), interval in its.ends.items()
        ],
        "hard_first": its.hard_first,
        "gaps": [
            {"one": one, "other": other, "distance": span(interval)}
            for (one, other), interval in its.gaps.items()
        ],
    }
