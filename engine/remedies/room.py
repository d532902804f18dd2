"""What stands in the way, moved out of it."""

import math

import numpy as np

from engine.document.fittings import Place
from engine.document.schema import Envelope, Station
from engine.findings.finding import Finding
from engine.remedies.knob import Knob, said, with_listed
from engine.station.solved import SolvedStation

WAYS = (("rearward", "forward"), ("to the right", "to the left"), ("down", "up"))


def shift_envelope(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return each solid on the chassis moved along the axis that frees it soonest."""
    knobs = []
    push = np.array(finding.push or (0.0, 0.0, 0.0))
    for envelope in solved.station.envelopes:
        if envelope.name in finding.subjects and envelope.on == "chassis" and push.any():
            way = push if envelope.name == finding.subjects[0] else -push
            axis = int(np.abs(way).argmax())
            knobs.append(_shift(envelope.name, axis, math.copysign(1.0, way[axis])))
    return knobs


def _shift(name: str, axis: int, sign: float) -> Knob:
    def turn(station: Station, x: float) -> Station:
        def moved(place: Place) -> list[float]:
            at = list(station.points[place]) if isinstance(place, str) else list(place)
            at[axis] = round(at[axis] + sign * x, 4)
            return at

        def change(envelope: Envelope) -> dict[str, object]:
            single = {key: getattr(envelope, key) for key in ("centre", "at")}
            many = {key: getattr(envelope, key) for key in ("along", "outline")}
            found: dict[str, object] = {key: moved(p) for key, p in single.items() if p is not None}
            return found | {key: [moved(p) for p in ps] for key, ps in many.items() if ps is not None}

        return with_listed(station, "envelopes", name, change)

    say = said(f"Move {{0}} {{by}} {WAYS[axis][sign > 0]}.", name)
    return Knob(turn=turn, say=say, step=2.0, most=150.0, fine=0.5, ways=(1,))
