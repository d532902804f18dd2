"""A solved station as the browser draws it: columns over the searched travel, rounded to sense.

Columns are arrays, written as they are by `answer`, null where nothing was reached.
"""

from math import isnan
from typing import Any

import numpy as np

from engine.conventions import SEARCH_BEYOND
from engine.document.schema import Coilover, SpringUnit, Station
from engine.findings.alike import events_once
from engine.findings.finding import Finding, Rules
from engine.findings.judge import RANK, judge
from engine.findings.verdict import verdict
from engine.forces.unknown import rate_n_per_mm
from engine.limits.ledger import LedgerEvent
from engine.limits.solids import solids_on
from engine.linkage.grid import articulation_mm
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array
from engine.results.parts import air, bags, columns, dampers, limits, ride, stacks, wheel_angles_of
from engine.ride.angles import joint_angle, rocker_joints
from engine.ride.datum import height_at_mm
from engine.sentences import Sentence
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

Values = dict[str, Any]
ARTICULATED_ROWS = 41
DIGITS = {
    "length": 5, "motion_ratio": 7, "force": 3, "pressure": 4,
    "wheel_force": 3, "wheel_rate": 5, "camber": 5, "toe": 5,
}  # fmt: skip


def _points(linkage: Linkage, place: Array, reached: np.ndarray) -> dict[str, Array]:
    """Return each point's places in the reached rows, (rows, 3) mm, of all points' (3, n, rows)."""
    rows = np.ascontiguousarray(np.round(place[:, :, reached], 4).transpose(1, 2, 0))
    return {name: rows[k] for name, k in linkage.index.items()}


def _rounded(value: float, digits: int) -> float | None:
    return None if isnan(value) else round(float(value), digits)


def station_view(work: WorkUp, rules: Rules, beside: list[Finding] | None = None) -> Values:
    """Return everything that the sheets show of one station.

    beside : findings about its other side; None where they, like its clearances, are still to come
    """
    solved, rooms = work.solved, work.rooms
    rows, told = solved.search, columns(solved.search)
    findings = sorted([*judge(solved, rules, work), *(beside or [])], key=lambda finding: RANK[finding.mark])
    mass = solved.station.mass
    return {
        "travels": np.round(rows.travels, 6),
        "reached": solved.path.reached,
        "points": _points(solved.linkage, rows.solution.motion.place, solved.path.reached),
        "units": {
            name: {"pressure": None} | {key: np.round(its[key], DIGITS[key]) for key in its}
            for name, its in told["units"].items()
        },
        **{key: np.round(told[key], DIGITS[key]) for key in ("wheel_force", "wheel_rate")},
        "rate_from_ratio": np.round(rows.rate_from_ratio, 5),
        "wheels": {
            name: {key: np.round(its[key], DIGITS[key]) for key in ("camber", "toe")}
            for name, its in told["wheels"].items()
        },
        "angles": _angles(solved),
        "ride": _ride(solved),
        "ride_fault": None if solved.ride_fault is None else sentence_values(solved.ride_fault),
        "weight": round(solved.springing.weight_n, 3),
        "limits": [
            {"body": None} | limit | {"travel": round(limit["travel"], 4)} for limit in limits(solved)
        ],
        "wheel_angles": {"wheels": {}, "steering_axis": None, "lock": None} | wheel_angles_of(work),
        "strokes": {
            name: {
                key: None if use[key] is None else round(use[key], 4)
                for key in (
                    "stroke",
                    "used",
                    "left_in_bump",
                    "left_in_droop",
                    "installed_angle",
                    "path_share",
                )
            }
            for name, use in dampers(work).items()
        },
        "preload_left": {name: round(left, 3) for name, left in solved.preload_left.items()},
        "findings": [finding_values(finding) for finding in findings],
        "ledger": {
            way: [_event(event) for event in events_once(solved.station, work.ledger.on(way), rules)]
            for way in ("bump", "droop")
        },
        "spring_rates": _spring_rates(solved),
        "nearest": [
            {
                "one": near.clearance.one,
                "other": near.clearance.other,
                "distance": round(near.clearance.distance, 3),
                "travel": round(near.clearance.heave, 3),
                "articulation": round(near.clearance.articulation, 3),
                "places": [np.round(place, 2).tolist() for place in (near.one, near.other)],
            }
            for near in work.nearest
        ],
        "crossovers": {
            name: [
                {key: lock[key] for key in ("spring", "length", "force", "rate_before", "rate_after")}
                for lock in locks
            ]
            for name, locks in stacks(work).items()
        },
        "finished": mass.finished,
        "datum": _datum(solved),
        "complete": rooms or not (len(solids_on(solved.linkage)) > 1 or _has_other_side(solved.station)),
        "articulation": None if solved.linkage.articulation() is None else articulation_mm(solved.linkage),
        "bags": None if (filling := air(solved)) is None else {**filling, "states": bags(work)},
        "verdict": sentence_values(verdict(solved, tuple(findings))),
        "links": _links(solved),
    }


def articulated_view(linkage: Linkage, amount_mm: float) -> Values:
    """Return an axle's points and its units' lengths through heave, articulated by so much throughout."""
    travel = linkage.station.travel
    travels = np.linspace(-SEARCH_BEYOND * travel.droop, SEARCH_BEYOND * travel.bump, ARTICULATED_ROWS)
    path = linkage.follow(travels, amount_mm)
    place = path.solution.motion.place
    index = linkage.index
    ends = {unit.name: [index[end] for end in unit.ends] for unit in linkage.station.units}
    return {
        "articulation": amount_mm,
        "travels": np.round(travels, 6),
        "reached": path.reached,
        "points": _points(linkage, place, path.reached),
        "lengths": {
            name: np.round(np.linalg.norm(place[:, one] - place[:, other], axis=0), 4)
            for name, (one, other) in ends.items()
        },
    }


def _event(event: LedgerEvent) -> Values:
    kind = event.kind
    return {
        "travel": event.travel,
        "kind": kind.code,
        "said": kind.said,
        "short": kind.short,
        "takes": kind.takes,
        "spent": kind.spent,
        "subjects": list(event.subjects),
        "past_wanted": event.margin,
    }


def _datum(solved: SolvedStation) -> Values | None:
    station = solved.station
    if station.datum is None:
        return None
    return {
        "name": station.datum.name,
        "drawn": station.datum.height,
        "wanted": height_at_mm(station, station.travel.at or 0.0),
        "stands": None if solved.ride is None else height_at_mm(station, solved.ride.travel),
    }


def _has_other_side(station: Station) -> bool:
    return station.kind == "corner" and station.other_side not in ("mirror", "alone")


def _angles(solved: SolvedStation) -> list[Values]:
    found = []
    for joint in rocker_joints(solved.linkage):
        at_ride = None
        if solved.at_ride is not None:
            at_ride = _rounded(joint_angle(solved.linkage, joint, solved.at_ride.solution)[0], 3)
        found.append(
            {
                "rod": joint.rod,
                "rocker": joint.rocker,
                "is_unit": joint.is_unit,
                "point": joint.point,
                "angle": np.round(joint_angle(solved.linkage, joint, solved.search.solution), 3),
                "at_ride": at_ride,
            }
        )
    return found


def _ride(solved: SolvedStation) -> Values | None:
    its, rows = ride(solved), solved.at_ride
    if its is None or rows is None:
        return None
    return {
        **{key: round(its[key], 5) for key in ("travel", "wheel_rate", "frequency", "sag")},
        "rate_from_ratio": round(its["wheel_rate_from_changing_ratio"], 5),
        "units": {
            name: {
                "length": _rounded(trace.length[0], 4),
                "motion_ratio": _rounded(trace.motion_ratio[0], 6),
                "force": _rounded(trace.force[0], 2),
            }
            for name, trace in rows.units.items()
        },
        "wheels": {
            name: {"camber": _rounded(trace.camber[0], 4), "toe": _rounded(trace.toe[0], 4)}
            for name, trace in rows.wheels.items()
        },
    }


def _spring_rates(solved: SolvedStation) -> dict[str, list[float | None]]:
    """Return each spring's rate however it was given, N/mm; a force table has none of its own."""
    return {
        unit.name: [None if spring.table else round(rate_n_per_mm(spring), 4) for spring in unit.springs]
        for unit in solved.station.units
        if isinstance(unit, Coilover | SpringUnit)
    }


def _links(solved: SolvedStation) -> dict[str, Values]:
    """Return each two-point body's drawn and set length, mm, and whether it can be turned."""
    linkage = solved.linkage
    found = {}
    for body, members in solved.station.bodies.items():
        if len(members) == 2:
            one, other = (linkage.points[linkage.index[name]] for name in members)
            drawn = float(np.linalg.norm(one - other))
            found[body] = {"drawn": round(drawn, 4), "length": round(linkage.set_lengths.get(body, drawn), 4)}
    return found


def sentence_values(sentence: Sentence) -> Values:
    """Return words and quantities, for the browser to show in the user's units."""
    return {
        "words": sentence.words,
        "quantities": {
            name: {"value": quantity.value, "measures": quantity.measures}
            for name, quantity in sentence.quantities.items()
        },
        "names": list(sentence.names),
    }


def finding_values(finding: Finding) -> Values:
    """Return one finding as plain values."""
    return {
        "code": finding.code,
        "mark": finding.mark,
        "subjects": list(finding.subjects),
        "sheets": list(finding.kind.sheets),
        "rooms": finding.kind.rooms,
        "end": finding.kind.end,
        "leads": finding.kind.leads,
        "what": sentence_values(finding.what),
        "why": finding.why,
        "remedy": None if finding.remedy is None else sentence_values(finding.remedy),
        "travel": finding.travel_mm,
    }
