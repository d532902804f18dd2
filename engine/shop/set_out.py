"""Where each mount comes on the frame: height, plumb mark, tapes to places that exist, and how close is close enough.

Tapes   three that cross well: the places whose ways to the mount span space best (largest least singular value).
Close   along each axis what moves ride height by RIDE_MM or a motion ratio by a RATIO_SHARE, whichever is less.
"""

from functools import lru_cache
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from engine.document.schema import Project, Station
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.sensitivity import sensitivities
from engine.station.solved import SolvedStation

RIDE_MM = 2.0
RATIO_SHARE = 0.01
CLOSE_MM = (0.5, 10.0)
NEAR_MM, FAR_MM = 120.0, 3000.0
CANDIDATES = 14
TAPES = 3


@facts
class SetOut:
    """One mount, mm: up from the floor, out from the centreline (left is +), ahead of the datum line.

    tapes : place and length, the longest last; close_enough : along fore–aft, out, up
    """

    station: str
    point: str
    up: float
    out: float
    ahead: float
    tapes: tuple[tuple[str, float], ...]
    close_enough: tuple[float, float, float]


Closeness = dict[str, tuple[float, float, float]]


def set_out(project: Project, solved: SolvedStation, close: Closeness | None = None) -> list[SetOut]:
    """Return every mount of a station on the chassis, from front to rear; `close` as `close_enough` has it, if known."""
    station = solved.station
    marks = {} if project.survey is None else project.survey.marks
    close = close_enough(solved) if close is None else close
    places = {name: np.array(spot, dtype=float) for name, spot in marks.items()}
    for other in project.stations:
        for point in other.chassis:
            places[f"{other.name}/{point}"] = np.array(other.points[point], dtype=float)
    found = []
    for point in sorted(station.chassis, key=lambda name: -station.points[name][0]):
        spot = np.array(station.points[point], dtype=float)
        found.append(
            SetOut(
                station=station.name,
                point=point,
                up=float(spot[2]),
                out=float(spot[1]),
                ahead=float(spot[0]),
                tapes=_tapes(station, point, spot, places, set(marks)),
                close_enough=close.get(point, (CLOSE_MM[1],) * 3),
            )
        )
    return found


def _tapes(
    station: Station, point: str, spot: Array, places: dict[str, Array], marks: set[str]
) -> tuple[tuple[str, float], ...]:
    """Return the tapes that cross best; marks before mounts, which may not be there yet."""
    away = {name: float(np.linalg.norm(place - spot)) for name, place in places.items()}
    fair = [
        name for name, far in away.items() if NEAR_MM <= far <= FAR_MM and name != f"{station.name}/{point}"
    ]
    fair.sort(key=lambda name: (name not in marks, away[name]))
    near = fair[:CANDIDATES]
    threes = _threes(len(near))
    best = near[:TAPES]
    if len(threes):
        ways = np.array([(places[name] - spot) / away[name] for name in near])
        there = np.array([name in marks for name in near])
        cross = crossing(ways[threes])
        # A mark that is there is worth a little worse a crossing than a mount that still has to be made.
        worth = cross * (1 + 0.5 * there[threes].sum(axis=1))
        best = [near[k] for k in threes[int(worth.argmax())]]
    return tuple(sorted(((name, away[name]) for name in best), key=lambda tape: tape[1]))


@lru_cache(maxsize=CANDIDATES + 1)
def _threes(count: int) -> NDArray[np.int64]:
    """Return every three of so many, (n, 3)."""
    return np.array(list(combinations(range(count), TAPES)), dtype=np.int64).reshape(-1, TAPES)


def crossing(ways: Array) -> Array:
    """Return how well threes of unit ways cross, (n,) of (n, 3, 3): their least singular value, 1 where square, 0 in a plane.

    Its square is the least eigenvalue of their dot products: 1 + 2·√p·cos(φ + 2π/3), p the mean square of the three
    dots and cos 3φ their product over p√p.
    """
    dots = np.einsum("nij,nij->in", ways, np.roll(ways, 1, axis=1))
    mean = (dots**2).sum(axis=0) / 3
    turned = np.arccos(np.clip(dots.prod(axis=0) / np.maximum(mean, 1e-30) ** 1.5, -1.0, 1.0)) / 3
    least: Array = np.sqrt(np.maximum(1 + 2 * np.sqrt(mean) * np.cos(turned + 2 * np.pi / 3), 0.0))
    return least


def close_enough(solved: SolvedStation) -> Closeness:
    """Return mm along each axis that each point may be off."""
    found: dict[str, list[float]] = {}
    ratios = (
        {}
        if solved.at_ride is None
        else {name: float(trace.motion_ratio[0]) for name, trace in solved.at_ride.units.items()}
    )
    for one in sensitivities(solved):
        room = RIDE_MM / max(abs(one.ride_mm), 1e-9)
        for unit, slope in one.ratios.items():
            ratio = ratios.get(unit, 0.0)
            if ratio and slope:
                room = min(room, RATIO_SHARE * abs(ratio) / abs(slope))
        found.setdefault(one.point, [CLOSE_MM[1]] * 3)[one.axis] = float(np.clip(room, *CLOSE_MM))
    return {point: (its[0], its[1], its[2]) for point, its in found.items()}
