"""What steers, leans and nods otherwise: a tie rod's end, an arm's inner pivots, an upper link of another length."""

from collections.abc import Iterable

import numpy as np

from engine.document.schema import Station
from engine.findings.finding import Finding
from engine.findings.wheels import turns_of
from engine.remedies.knob import Knob, Say, either_way, with_points
from engine.ride.axle import axle_body
from engine.ride.wheel_angles import axis_points, tie_rod_of
from engine.sentences import Quantity, Sentence, length, listed
from engine.station.solved import SolvedStation

UP = np.array([0.0, 0.0, 1.0])


def tie_rod_ends(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the outer end of the tie rod shimmed up or down, then the rack raised or lowered."""
    wheel = solved.station.wheels[0]
    steered = tie_rod_of(solved.linkage, wheel)
    if steered is None:
        return []
    _, outer, inner = steered
    shim = either_way(
        "Shim {0} up by {by}.",
        "Shim {0} down by {by}.",
        outer,
    )
    rack = either_way("Raise {0} by {by}.", "Lower {0} by {by}.", inner)
    return [_lifted((outer,), shim, 40.0), _lifted((inner,), rack, 60.0)]


def upper_pivots(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the inner pivots of the upper arm lowered or raised together."""
    linkage = solved.linkage
    axis = axis_points(linkage, solved.station.wheels[0])
    if axis is None:
        return []
    chassis = set(solved.station.chassis)
    arm = next(
        (ends for ends in linkage.bodies.values() if axis[1] in ends and len(set(ends) & chassis) >= 2), None
    )
    if arm is None:
        return []
    pivots = tuple(end for end in arm if end in chassis)
    say = either_way("Raise {0} by {by}.", "Lower {0} by {by}.", listed(pivots))
    return [_lifted(pivots, say, 60.0)]


def upper_ball(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the upper ball joint moved fore and aft."""
    axis = axis_points(solved.linkage, solved.station.wheels[0])
    if axis is None:
        return []

    def turn(station: Station, x: float) -> Station:
        place = np.array(station.points[axis[1]], dtype=float)
        return with_points(station, {axis[1]: place + np.array([-x, 0.0, 0.0])})

    say = either_way("Move {0} rearward by {by}.", "Move {0} forward by {by}.", axis[1])
    return [Knob(turn=turn, say=say, step=2.0, most=60.0, fine=0.5)]


def upper_links(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the front mounts of an axle's upper links moved so that the links come longer or shorter."""
    station, body = solved.station, axle_body(solved.linkage)
    if body is None:
        return []
    members = set(station.bodies[body])
    links = [
        (name, ends)
        for name, ends in station.bodies.items()
        if len(ends) == 2 and len(set(ends) & members) == 1 and any(end in station.chassis for end in ends)
    ]
    fore_aft = [(name, ends) for name, ends in links if _runs_fore_and_aft(station, ends)]
    if len(fore_aft) < 2:
        return []
    heights = {name: float(np.mean([station.points[end][2] for end in ends])) for name, ends in fore_aft}
    middle = float(np.mean(list(heights.values())))
    upper = [(name, ends) for name, ends in fore_aft if heights[name] >= middle]

    def turn(station: Station, x: float) -> Station:
        moved: dict[str, Iterable[float]] = {}
        for _, ends in upper:
            fixed = next(end for end in ends if end in station.chassis)
            far = next(end for end in ends if end != fixed)
            place, other = (np.array(station.points[p], dtype=float) for p in (fixed, far))
            moved[fixed] = place + (place - other) / np.linalg.norm(place - other) * x
        links = {name: link for name, link in station.links.items() if name not in dict(upper)}
        return with_points(station, moved).model_copy(update={"links": links})

    names = listed([name for name, _ in upper])
    pitch = next((station.rods[name].pitch for name, _ in upper if name in station.rods), None)
    return [Knob(turn=turn, say=_say_links(names, pitch), step=5.0, most=250.0, fine=1.0)]


def _say_links(names: str, pitch: float | None) -> Say:
    def say(x: float) -> Sentence:
        words = f"Make the {{0}} {{by}} {'longer' if x > 0 else 'shorter'}, the front mounts moved with them"
        told = {"by": length(abs(x))}
        if pitch is not None:
            told["turns"] = Quantity(turns_of(abs(x), pitch), "ratio")
            words += " ({turns} turns)"
        return Sentence(words + ".", told, (names,))

    return say


def _runs_fore_and_aft(station: Station, ends: list[str]) -> bool:
    one, other = (np.array(station.points[end], dtype=float) for end in ends)
    return bool(abs(one[0] - other[0]) >= abs(one[1] - other[1]))


def _lifted(points: tuple[str, ...], say: Say, most: float) -> Knob:
    def turn(station: Station, x: float) -> Station:
        moved = {point: np.array(station.points[point], dtype=float) + UP * x for point in points}
        links = {
            name: link
            for name, link in station.links.items()
            if not set(points) & set(station.bodies.get(name, []))
        }
        return with_points(station, moved).model_copy(update={"links": links})

    return Knob(turn=turn, say=say, step=2.0, most=most, fine=0.5)
