"""What stands in the way, moved out of it."""

import math
from typing import Any

import numpy as np

from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Values, either_way, with_value
from engine.station.solved import SolvedStation


def shift_envelope(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return each solid on the chassis moved along the axis that frees it soonest."""
    names = (finding.subject or "").split(" | ")
    knobs = []
    for number, envelope in enumerate(values.get("envelopes", [])):
        if envelope["name"] not in names or envelope.get("on", "chassis") != "chassis":
            continue
        way = finding.push if envelope["name"] == names[0] else tuple(-c for c in finding.push or (0, 0, 0))
        if way is None or not any(way):
            continue
        axis = int(np.abs(way).argmax())
        sign = math.copysign(1.0, way[axis])
        knobs.append(_shift(number, envelope["name"], axis, sign))
    return knobs


def _shift(number: int, name: str, axis: int, sign: float) -> Knob:
    words = f"Move {name} {{by}} {_way_said(axis, sign)}."

    def turn(values: Values, x: float) -> Values:
        def moved(place: Any) -> list[float]:
            at = list(values["points"][place]) if isinstance(place, str) else list(place)
            at[axis] = round(at[axis] + sign * x, 4)
            return at

        for key in ("centre", "at", "along", "outline"):
            given = values["envelopes"][number].get(key)
            if given is not None:
                many = key in ("along", "outline")
                new = [moved(place) for place in given] if many else moved(given)
                values = with_value(values, ("envelopes", number, key), new)
        return values

    return Knob(turn=turn, say=either_way(words, words), step=2.0, most=150.0, fine=0.5, ways=(1,))


def _way_said(axis: int, sign: float) -> str:
    return [("rearward", "forward"), ("to the right", "to the left"), ("down", "up")][axis][sign > 0]
