"""From the best few of a search to rockers that meet their targets, each proved by the general solver.

Refined by least squares on the misses (`tuning`), the side of the rod arm kept. What a
target cannot be brought to by any of them is said, with the nearest that can.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from engine.budget import Budget
from engine.document.mirror import images_of
from engine.document.schema import Station
from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import Finding, Rules
from engine.findings.judge import judge
from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import Choice, rockers_from
from engine.sizing.rocker.moving import Rockers, move
from engine.sizing.rocker.scores import MET
from engine.sizing.rocker.search import Found, different, looked_at
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.tuning import tune
from engine.sizing.rocker.wheel_side import WheelSide, rockers_here
from engine.station.solved import SolvedStation, solve_station
from engine.workup import WorkUp

REFINED = 16
SHORT_LIST = 6
STEPS = 41


Beside = Callable[[WorkUp], list[Finding]]
"""What there is to say of a station, changed, beside its other side."""


def nothing_beside(work: WorkUp) -> list[Finding]:
    """Say nothing: there is no other side."""
    return []


@facts(kw_only=False)
class Proved:
    """One rocker of the short list, proved.

    station  : the station with it; `points` what of it stands elsewhere, mm
    travels, ratio : (rows,) from the general solver; `apart` how far the search's own ratio is from it, at most
    misses, traits : by name; `robust` how much of the ratio at ride 1 mm of error anywhere takes or gives, share
    """

    station: Station
    points: dict[str, list[float]]
    travels: Array
    ratio: Array
    apart: float
    misses: dict[str, float]
    traits: dict[str, float]
    robust: float
    findings: tuple[Finding, ...]

    @property
    def faults(self) -> int:
        """Return how many faults it raises."""
        return sum(finding.mark == "fault" for finding in self.findings)


@facts(kw_only=False)
class Unmet:
    """A target that cannot be met beside the others.

    nearest : its value, as in the traits, of the rocker that comes nearest; None where nothing tells it
    gives   : the other targets that this one misses for it
    """

    target: str
    nearest: float | None
    gives: tuple[str, ...] = ()


def refine(
    solved: SolvedStation,
    side: WheelSide,
    targets: Targets,
    choices: Array,
    rules: Rules,
    budget: Budget | None = None,
    beside: Beside = nothing_beside,
) -> tuple[list[Proved], int]:
    """Return a short list of really different rockers from rows of choices (n, 9), the best first, each proved.

    beside : judges a rocker beside the car's other side
    budget : at least one is proved; the second answer is how many more there was no time for
    """
    start = looked_at(np.asarray(choices, dtype=float).reshape(-1, len(Choice)), side, targets)
    if not len(start.score):
        return [], 0
    tuned = tune(different(start, REFINED).choices, side, targets)
    found = different(looked_at(tuned, side, targets), SHORT_LIST)
    kept: list[Proved] = []
    tried = 0
    for k in range(len(found.score)):
        if budget is not None and budget.spent and kept:
            break
        one = proved(solved, side, targets, found, k, rules, beside)
        tried += 1
        if one is not None:
            kept.append(one)
    kept.sort(key=lambda one: (one.faults, sum(min(miss**2, 99.0) for miss in one.misses.values())))
    return kept, len(found.score) - tried


def proved(
    solved: SolvedStation,
    side: WheelSide,
    targets: Targets,
    found: Found,
    k: int,
    rules: Rules,
    beside: Beside = nothing_beside,
) -> Proved | None:
    """Return one found rocker put into the station and solved by the general solver; None where that refuses it."""
    rockers = rockers_from(found.choices[k : k + 1], side, targets)
    try:
        station, points = station_with(solved, side, rockers)
        again = solve_station(station, solved.linkage.where, STEPS)
    except EngineError:
        return None
    if not again.reached.all():
        return None
    work = WorkUp(again)
    moved = move(rockers, side.path, side.rate)
    trace = again.at(side.travels).units[side.here.unit]
    return Proved(
        station,
        points,
        side.travels,
        trace.motion_ratio,
        float(np.abs(trace.motion_ratio - moved.ratio[0]).max()),
        {name: float(values[k]) for name, values in found.misses.items()},
        {name: float(values[k]) for name, values in found.traits.items()},
        robustness(rockers, side),
        (*judge(again, rules, work), *beside(work)),
    )


def station_with(
    solved: SolvedStation, side: WheelSide, rockers: Rockers
) -> tuple[Station, dict[str, list[float]]]:
    """Return the station with the first of some rockers in place of its own, drawn where the wheel is drawn.

    On an axle the rocker's mirror image is put on the other side too.
    """
    here, station = side.here, solved.station
    moved = move(rockers, side.path[side.drawn][None], side.rate[side.drawn][None])
    x, y = (float(moved.joint[axis][0, 0]) for axis in (0, 1))
    kx, ky = (float(moved.eye[axis][0, 0]) for axis in (0, 1))
    pivot, across, up, axis = (getattr(rockers, name)[0] for name in ("pivot", "across", "up", "axis"))

    def place(u: float, v: float, h: float = 0.0) -> Array:
        return np.asarray(pivot + u * across + v * up + h * axis)

    drawn = solved.linkage.points
    index = solved.linkage.index
    spread = [float((drawn[index[name]] - side.pivot) @ side.axis) for name in here.pivots]
    eye_off = float((side.eye - side.pivot) @ side.axis)
    far = rockers.far[0]
    points = {
        here.pivots[0]: place(0, 0, spread[0]),
        here.pivots[1]: place(0, 0, spread[1]),
        here.rod_joint: place(x, y),
        here.eye: place(kx, ky, eye_off),
        here.far: place(float(far[0]), float(far[1]), float(far[2]) + eye_off),
    }
    points |= _other_members(solved, side, points, place, (x, y))
    links = {name: link for name, link in station.links.items() if name not in _rods(solved)}
    rounded = {name: [round(float(c), 4) for c in spot] for name, spot in points.items()}
    rounded |= images_of(station, rounded)
    changed = station.model_copy(update={"points": {**station.points, **rounded}, "links": links})
    return changed, rounded


def _rods(solved: SolvedStation) -> set[str]:
    return {one.rod for one in rockers_here(solved)}


def _other_members(
    solved: SolvedStation,
    side: WheelSide,
    points: Mapping[str, Array],
    place: Callable[[float, float, float], Array],
    joint: tuple[float, float],
) -> dict[str, Array]:
    """Return where whatever else sits on the rocker goes: as far round and as far off as it was from the rod's arm."""
    here, linkage = side.here, solved.linkage
    found = {}
    old = side.joint - side.pivot
    old = old - side.axis * float(old @ side.axis)
    size = float(np.linalg.norm(old))
    along, across = old / size, np.cross(side.axis, old / size)
    new = np.array(joint) / np.hypot(*joint)
    for name in solved.station.bodies[here.rocker]:
        if name in points or name in here.pivots:
            continue
        arm = linkage.points[linkage.index[name]] - side.pivot
        u, v, h = float(arm @ along), float(arm @ across), float(arm @ side.axis)
        found[name] = place(u * new[0] - v * new[1], u * new[1] + v * new[0], h)
    return found


def robustness(rockers: Rockers, side: WheelSide) -> float:
    """Return how much of the ratio at ride one millimetre of error at one place changes, at most, as a share."""
    row = slice(side.ride, side.ride + 1)
    path, rate = side.path[row], side.rate[row]
    still = float(move(rockers, path, rate).ratio[0, 0])
    tried = [
        replace(rockers, pivot=rockers.pivot + way, far=rockers.far - shift)
        for way, shift in (
            (rockers.across, np.array([1.0, 0, 0])),
            (rockers.up, np.array([0, 1.0, 0])),
        )
    ]
    tried += [replace(rockers, far=rockers.far + np.eye(3)[k]) for k in range(2)]
    tried += [
        replace(rockers, rod_arm=rockers.rod_arm + 1),
        replace(rockers, damper_arm=rockers.damper_arm + 1),
        replace(rockers, turn=rockers.turn + 1 / rockers.damper_arm),
        replace(rockers, rod=rockers.rod + 1),
    ]
    changed = [float(move(one, path, rate).ratio[0, 0]) / still - 1 for one in tried]
    return float(np.nanmax(np.abs(changed)))


TRAIT_OF = {
    "ratio": "ratio",
    "stroke": "stroke",
    "change": "change",
    "rod_angle": "rod_at_ride",
    "damper_angle": "damper_at_ride",
    "damper_left": "damper_left",
    "damper_arm": "size",
    "bow": "bow",
}


def unmet(side: WheelSide, targets: Targets, choices: Array, best: list[Proved]) -> list[Unmet]:
    """Return the targets that the best of the short list misses, each with the nearest that choices (n, 9) can come to."""
    missed = [name for name, miss in best[0].misses.items() if abs(miss) > MET] if best else ["reach"]
    found = []
    for name in missed:
        nearest: float | None = None
        gives: tuple[str, ...] = ()
        if name in TRAIT_OF and len(choices):
            tuned = tune(np.asarray(choices, dtype=float)[:4], side, targets, heavy=name)
            look = looked_at(tuned, side, targets)
            if len(look.score):
                least = int(np.abs(look.misses[name]).argmin())
                nearest = float(look.traits[TRAIT_OF[name]][least])
                others = {
                    other: float(values[least]) for other, values in look.misses.items() if other != name
                }
                gives = tuple(other for other, miss in others.items() if abs(miss) > MET)
        found.append(Unmet(name, nearest, gives))
    return found
