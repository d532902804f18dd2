"""A rod of another length, a rocker's pivot elsewhere, less travel."""

import numpy as np

from engine.findings.finding import Finding
from engine.remedies.knob import Knob, Values, either_way, get_number, number_knob, with_value
from engine.sentences import spoken
from engine.station.solved import SolvedStation


def rod(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the rod's length, then its rocker's pivot."""
    body = finding.subject
    if body is None or body not in values["bodies"] or len(values["bodies"][body]) != 2:
        return []
    one, other = (np.array(values["points"][p], dtype=float) for p in values["bodies"][body])
    now = float(values.get("links", {}).get(body, {}).get("length") or np.linalg.norm(one - other))

    def turn(values: Values, x: float) -> Values:
        return with_value(values, ("links", body, "length"), round(now + x, 4))

    say = either_way(f"Make the {spoken(body)} {{by}} longer.", f"Make the {spoken(body)} {{by}} shorter.")
    return [Knob(turn=turn, say=say, step=1.0, most=30.0, fine=0.1), *pivot(finding, values, solved)]


def pivot(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the rocker's pivot raised or lowered, all of its chassis points together."""
    rod = values["bodies"].get(finding.subject or "", [])
    rocker = next(
        (
            body
            for body, members in values["bodies"].items()
            if len(members) > 2
            and set(members) & set(rod)
            and len(set(members) & set(values["chassis"])) >= 2
            and not {wheel["centre"] for wheel in values["wheels"]} & set(members)
        ),
        None,
    )
    if rocker is None:
        return []
    pivots = [point for point in values["bodies"][rocker] if point in values["chassis"]]

    def turn(values: Values, x: float) -> Values:
        for point in pivots:
            place = values["points"][point]
            values = with_value(values, ("points", point), [place[0], place[1], round(place[2] + x, 4)])
        return values

    name = spoken(rocker)
    return [
        Knob(
            turn=turn,
            say=either_way(f"Raise the {name}'s pivot {{by}}.", f"Lower the {name}'s pivot {{by}}."),
            step=1.0,
            most=60.0,
            fine=0.5,
        )
    ]


def less_travel(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the wanted travel, made less on the side that fails."""
    way = "bump" if (finding.travel_mm or 0.0) > 0 else "droop"
    path = ("travel", way)
    words = f"Want {{by}} less {way}."
    return [number_knob(path, words, words, get_number(values, path), (-1,))]
