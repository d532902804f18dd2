"""A vehicle of a study put into the job, and what the general solver says of it."""

import copy
import math
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Project
from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import rules_of
from engine.findings.judge import judge
from engine.ride.installed import damper_uses
from engine.station.solved import SolvedStation, solve_station
from engine.study.asked import StudyAsked, Vary, varied
from engine.study.options import geometries, ready
from engine.workup import WorkUp

PLACE_MM = 4


@facts
class Proved:
    """One station of a vehicle by the general solver: ride mm, Hz, N·m, mm; how many faults it raises; or why it does not."""

    station: str
    ride: float | None = None
    frequency: float | None = None
    ratio: float | None = None
    left: float | None = None
    faults: int = 0
    refused: str = ""


def put_in(asked: StudyAsked, project: Project, row: dict[str, float]) -> dict[str, Any]:
    """Return the job as a document with one vehicle's places, springs and perches in it."""
    document = copy.deepcopy(asked.job)
    vary = varied(asked)
    for number, station in enumerate(project.stations):
        if f"{station.name}/spring" not in row:
            continue
        varies = vary.get(station.name, Vary(station=station.name))
        its = ready(station.model_dump_json(exclude_unset=True), varies.model_dump_json())
        shares = np.array([[row[f"{station.name}/share/{k}"] for k in range(its.choices)]])
        points = geometries(its, shares.reshape(1, its.choices))[0]
        values = document["stations"][number]
        for name, k in its.solved.linkage.index.items():
            if name in values["points"] and np.abs(points[k] - its.solved.linkage.points[k]).max() > 0:
                values["points"][name] = [round(float(c), PLACE_MM) for c in points[k]]
        rate, perch = row[f"{station.name}/spring"], row[f"{station.name}/perch"]
        for unit in values.get("units", []):
            touch = row.get(f"{station.name}/stop/{unit['name']}")
            if touch is not None:
                unit["contact"] = round(touch, 2)
            if unit["kind"] not in ("coilover", "spring"):
                continue
            if not math.isnan(rate):
                _set_rate(unit["springs"], rate)
            if unit["kind"] == "coilover":
                unit["preload"] = round(float(unit.get("preload", 0.0)) + perch, 3)
                left = unit.get("perch")
                if left is not None:
                    # What is wound up is no longer there to be wound up, and may be wound down again.
                    unit["perch"] = {
                        **left,
                        "up": round(left["up"] - perch, 3),
                        "down": round(left["down"] + perch, 3),
                    }
    return document


def _set_rate(springs: list[dict[str, Any]], rate: float) -> None:
    main = next((spring for spring in springs if not spring.get("helper")), springs[0])
    for key in ("table", "wire", "two_loads"):
        main.pop(key, None)
    main["rate"] = rate


def proved(document: dict[str, Any], names: list[str]) -> list[Proved]:
    """Return what the general solver says of the stations of a document; raise DocumentRefused."""
    project = check_project(document)
    found = []
    for station in project.stations:
        if station.name not in names:
            continue
        try:
            solved = solve_station(station)
        except EngineError as error:
            found.append(Proved(station=station.name, refused=str(error)))
            continue
        if solved.ride is None or solved.at_ride is None:
            found.append(Proved(station=station.name, refused=str(solved.ride_fault)))
            continue
        carries = next((law.name for law in solved.springing.laws if law.springs), None)
        findings = judge(solved, rules_of(project.judging, station.judging), WorkUp(solved))
        found.append(
            Proved(
                station=station.name,
                ride=solved.ride.travel,
                frequency=solved.ride.frequency,
                ratio=None if carries is None else float(solved.at_ride.units[carries].motion_ratio[0]),
                left=_least_left(solved),
                faults=sum(finding.mark == "fault" for finding in findings),
            )
        )
    return found


def _least_left(solved: SolvedStation) -> float | None:
    """Return the least that any damper has left over the wanted travel, mm."""
    uses = damper_uses(solved)
    return min((left for use in uses for left in (use.left_in_bump, use.left_in_droop)), default=None)
