"""Adjusted places taken into the job: what moves, how well it is known, and what that does to each station.

Sides  `own`: each side as measured; `mean`: both the mean of left and the right's mirror image; `left` or `right`: that
       one, mirrored to the other. Only pairs that are both held are made alike.
"""

from collections.abc import Mapping
from typing import Any, Literal

import numpy as np

from engine.document.schema import Project, Station
from engine.errors import EngineError
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import Sentence
from engine.station.solved import SolvedStation, solve_station
from engine.survey.square import pairs_of
from engine.survey.worked import WorkedSurvey

Values = dict[str, Any]
Alike = Literal["own", "mean", "left", "right"]
DECIMALS = 2
MIRROR = np.array([1.0, -1.0, 1.0])
STEPS = 9


@facts
class Move:
    """One place of a station taken in: where it was drawn and where it goes, mm, and its standard error.

    rests : what is said where it stands on readings that nothing checks
    """

    station: str
    point: str
    before: list[float]
    after: list[float]
    by: float
    sigma: float
    rests: Sentence | None


@facts
class Effect:
    """What that does to a station: ride travel mm, wheel rate N/mm, motion ratios by unit; None where it does not stand."""

    station: str
    before: Values | None
    after: Values | None
    fault: str | None


def moves_of(worked: WorkedSurvey, alike: Alike = "own") -> list[Move]:
    """Return every station's held place with where it goes, those that move most first."""
    spots = _alike(worked, alike)
    fit, network = worked.adjusted.fit, worked.network
    sigma, found = fit.sigma, []
    for station in worked.project.stations:
        for point, before in station.points.items():
            k = network.index.get(f"{station.name}/{point}")
            if k is None or fit.loose[k]:
                continue
            after = [round(float(c), DECIMALS) for c in spots[k]]
            by = float(np.linalg.norm(np.array(after) - before))
            error = float(np.sqrt((sigma[k] ** 2).mean()))
            found.append(
                Move(
                    station=station.name,
                    point=point,
                    before=list(before),
                    after=after,
                    by=by,
                    sigma=round(error, 3),
                    rests=_rests(worked, f"{station.name}/{point}"),
                )
            )
    return sorted(found, key=lambda move: -move.by)


def _rests(worked: WorkedSurvey, place: str) -> Sentence | None:
    """Return on what a place rests that nothing checks: a slip in it would move the place, and nobody would know."""
    its = worked.unchecked(place)
    if not its:
        return None
    kinds = {"distance": "tape", "height": "height", "offset": "plumb mark", "fore_aft": "plumb mark"}
    nouns = [kinds.get(worked.survey.readings[number].kind, "reading") for number in its]
    if len(its) == 1:
        return Sentence(f"It rests on one {nouns[0]} that nothing checks.")
    many = nouns[0] + "s" if len(set(nouns)) == 1 else "readings"
    return Sentence(f"It rests on {len(its)} {many} that nothing checks.")


def taken_in(values: Values, moves: list[Move]) -> Values:
    """Return a document with moves made and their standard errors kept; all else as it was."""
    stations = []
    for station in values["stations"]:
        mine = [move for move in moves if move.station == station["name"]]
        if not mine:
            stations.append(station)
            continue
        uncertainty = dict(station.get("uncertainty") or {})
        known = {move.point: move.sigma for move in mine}
        stations.append(
            {
                **station,
                "points": {**station["points"], **{move.point: move.after for move in mine}},
                "uncertainty": {**uncertainty, "points": {**(uncertainty.get("points") or {}), **known}},
            }
        )
    return {**values, "stations": stations}


def effects_of(project: Project, moves: list[Move]) -> list[Effect]:
    """Return what taking them in does to each station that it moves."""
    found = []
    for number, station in enumerate(project.stations):
        mine = {move.point: move.after for move in moves if move.station == station.name}
        if not mine:
            continue
        moved = station.model_copy(update={"points": {**station.points, **mine}})
        before, _ = _figures(station, number)
        after, fault = _figures(moved, number)
        found.append(Effect(station=station.name, before=before, after=after, fault=fault))
    return found


def _figures(station: Station, number: int) -> tuple[Values | None, str | None]:
    try:
        solved: SolvedStation = solve_station(station, f"stations[{number}]", STEPS)
    except EngineError as error:
        return None, str(error)
    if solved.ride is None or solved.at_ride is None:
        return None, str(solved.ride_fault)
    ratios: Mapping[str, float] = {
        name: float(trace.motion_ratio[0]) for name, trace in solved.at_ride.units.items()
    }
    return {
        "ride_travel": solved.ride.travel,
        "wheel_rate": solved.ride.wheel_rate,
        "ratios": {law.name: ratios[law.name] for law in solved.springing.laws if law.springs},
    }, None


def _alike(worked: WorkedSurvey, alike: Alike) -> Array:
    """Return all places, pairs made alike."""
    spots = worked.adjusted.fit.spots.copy()
    if alike == "own":
        return spots
    index = worked.network.index
    for left, right in pairs_of(worked.project, worked.adjusted):
        one, other = index[left], index[right]
        here, there = spots[one], spots[other] * MIRROR
        both = {"mean": (here + there) / 2, "left": here, "right": there}[alike]
        spots[one], spots[other] = both, both * MIRROR
    return spots
