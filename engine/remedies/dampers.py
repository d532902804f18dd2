"""A damper of another size, or its mount moved along its line."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from engine.findings.finding import Finding
from engine.remedies.knob import (
    Knob,
    Values,
    add_to,
    both_sides,
    either_way,
    unit_knob,
    unit_number,
    with_value,
)
from engine.sentences import spoken
from engine.station.solved import SolvedStation


def move_eye(values: Values, number: int) -> list[Knob]:
    """Return the chassis end of a unit moved along its own line, with what shares that mount."""
    aways: dict[str, Any] = {}
    for k in both_sides(values, number):
        unit = values["units"][k]
        fixed = [end for end in unit["ends"] if end in values["chassis"]]
        if len(fixed) != 1 or any(fixed[0] in members for members in values["bodies"].values()):
            return []
        far = next(end for end in unit["ends"] if end != fixed[0])
        away = np.array(values["points"][fixed[0]], dtype=float) - np.array(
            values["points"][far], dtype=float
        )
        aways[fixed[0]] = away / np.linalg.norm(away)

    def turn(values: Values, x: float) -> Values:
        for point, away in aways.items():
            place = np.array(values["points"][point], dtype=float) + away * x
            values = with_value(values, ("points", point), [round(float(c), 4) for c in place])
        return values

    name = " and ".join(spoken(point) for point in aways)
    say = either_way(
        f"Move {name} {{by}} along the line, away from the other eye.",
        f"Move {name} {{by}} along the line, toward the other eye.",
    )
    return [Knob(turn=turn, say=say, step=2.0, most=120.0, fine=0.5)]


def damper_end(end: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
    """Return a maker of knobs: the mount moved along the line, then a damper longer or closing further."""

    def make(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
        number = unit_number(values, finding.subject)
        if number is None:
            return []
        name = spoken(values["units"][number]["name"])
        words = {
            "extended": f"Fit a damper {{by}} longer when extended as {name}.",
            "compressed": f"Fit a damper that closes {{by}} further as {name}.",
        }[end]
        way = 1 if end == "extended" else -1
        other = unit_knob(values, number, (end,), (words, words), 200.0, (way,))
        if end == "extended" and "springs" in values["units"][number]:
            other = _keeping_coils(other, both_sides(values, number))
        return [*move_eye(values, number), other]

    return make


def _keeping_coils(knob: Knob, numbers: list[int]) -> Knob:
    """A longer damper squeezes its coil more: the perch goes back by as much, so that it stands as it stood."""

    def turn(values: Values, x: float) -> Values:
        for number in numbers:
            values = add_to(("units", number, "preload"))(values, -x)
        return knob.turn(values, x)

    return replace(knob, turn=turn)


def cup(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return a bag's chassis cup moved along the bag's line."""
    number = unit_number(values, finding.subject)
    return [] if number is None else move_eye(values, number)
