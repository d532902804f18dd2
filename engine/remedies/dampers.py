"""A damper of another size, or its mount moved along its line."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from engine.document.schema import Coilover, Damper, Station
from engine.findings.finding import Finding
from engine.remedies.knob import (
    Knob,
    added,
    both_sides,
    either_way,
    unit_knob,
    unit_of,
    with_points,
    with_units,
)
from engine.sentences import listed
from engine.station.solved import SolvedStation


def move_eye(station: Station, name: str) -> list[Knob]:
    """Return the chassis end of a unit moved along its own line, with what shares that mount."""
    aways: dict[str, np.ndarray] = {}
    for other in both_sides(station, name):
        unit = station.unit(other)
        fixed = [end for end in unit.ends if end in station.chassis]
        if len(fixed) != 1 or any(fixed[0] in members for members in station.bodies.values()):
            return []
        far = next(end for end in unit.ends if end != fixed[0])
        away = np.array(station.points[fixed[0]], dtype=float) - np.array(station.points[far], dtype=float)
        aways[fixed[0]] = away / np.linalg.norm(away)

    def turn(station: Station, x: float) -> Station:
        return with_points(
            station, {point: np.array(station.points[point]) + away * x for point, away in aways.items()}
        )

    say = either_way(
        "Move {0} {by} along the line, away from the other eye.",
        "Move {0} {by} along the line, toward the other eye.",
        listed(list(aways)),
    )
    return [Knob(turn=turn, say=say, step=2.0, most=120.0, fine=0.5)]


def damper_end(end: str) -> Callable[[Finding, SolvedStation], list[Knob]]:
    """Return a maker of knobs: the mount moved along the line, then a damper longer or closing further."""

    def make(finding: Finding, solved: SolvedStation) -> list[Knob]:
        station = solved.station
        unit = unit_of(station, finding.subjects[0] if finding.subjects else None)
        if not isinstance(unit, Coilover | Damper):
            return []
        words = {
            "extended": "Fit a damper {by} longer when extended as {0}.",
            "compressed": "Fit a damper that closes {by} further as {0}.",
        }[end]

        def changed(unit: Coilover | Damper, x: float) -> dict[str, Any]:
            return {end: added(getattr(unit, end), x)}

        way = 1 if end == "extended" else -1
        other = unit_knob(station, unit.name, changed, (words, words), 200.0, (way,))
        if end == "extended" and isinstance(unit, Coilover):
            other = _keeping_coils(other, both_sides(station, unit.name))
        return [*move_eye(station, unit.name), other]

    return make


def _keeping_coils(knob: Knob, names: tuple[str, ...]) -> Knob:
    """A longer damper squeezes its coil more: the perch goes back by as much, so that it stands as it stood."""

    def turn(station: Station, x: float) -> Station:
        back = with_units(station, names, lambda unit: {"preload": added(unit.preload, -x)})
        return knob.turn(back, x)

    return replace(knob, turn=turn)


def cup(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a bag's chassis cup moved along the bag's line."""
    return [] if not finding.subjects else move_eye(solved.station, finding.subjects[0])
