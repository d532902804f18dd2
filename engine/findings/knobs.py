"""What can be turned at the bench to clear a finding: one number each, applied to the station's own values.

Direct  a change that is worked out in one go, with nothing to search.
"""

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from engine.findings.finding import Finding
from engine.findings.knob import (
    Knob,
    Say,
    Values,
    add_to,
    both_sides,
    either_way,
    get_number,
    number_knob,
    unit_knob,
    unit_number,
    with_value,
)
from engine.findings.knobs_adjusting import larger_bag, recentred
from engine.sentences import Quantity, Sentence, spoken
from engine.station import SolvedStation


def knobs_for(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return the knobs that may clear a finding, the one a fabricator would reach for first."""
    maker = MAKERS.get(finding.code)
    return maker(finding, values, solved) if maker else []


# -- straps and stops ---------------------------------------------------------------------------


def _strap(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    number = _named_or_first(values, finding.subject, "strap")
    if number is None:
        return []
    name = spoken(values["units"][number]["name"])
    words = (f"Lengthen the {name} by {{by}}.", f"Shorten the {name} by {{by}}.")
    return [
        unit_knob(values, number, ("length",), words, 0.5 * get_number(values, ("units", number, "length")))
    ]


def _bump_stop(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    number = _named_or_first(values, finding.subject, "bump_stop")
    if number is None:
        return []
    name = spoken(values["units"][number]["name"])
    words = (f"Pack the {name} out by {{by}}.", f"Take {{by}} out of the {name}.")
    return [unit_knob(values, number, ("contact",), words, 80.0)]


def _named_or_first(values: Values, name: str | None, kind: str) -> int | None:
    found = [k for k, unit in enumerate(values["units"]) if unit["kind"] == kind]
    named = unit_number(values, name)
    return named if named in found else found[0] if found else None


# -- dampers and coils --------------------------------------------------------------------------


def _move_eye(values: Values, number: int) -> list[Knob]:
    """The chassis end of a unit moved along its own line, with what shares that mount."""
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
    return [Knob(turn, say, 2.0, 120.0, 0.5)]


def _damper_end(end: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
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
        return [*_move_eye(values, number), other]

    return make


def _keeping_coils(knob: Knob, numbers: list[int]) -> Knob:
    """A longer damper squeezes its coil more: the perch goes back by as much, so that it stands as it stood."""

    def turn(values: Values, x: float) -> Values:
        for number in numbers:
            values = add_to(("units", number, "preload"))(values, -x)
        return knob.turn(values, x)

    return replace(knob, turn=turn)


def _preload(values: Values, name: str | None) -> list[Knob]:
    number = unit_number(values, name)
    if number is None:
        coils = [k for k, unit in enumerate(values["units"]) if unit["kind"] == "coilover"]
        number = coils[0] if coils else None
    if number is None or values["units"][number]["kind"] != "coilover":
        return []
    name = spoken(values["units"][number]["name"])
    more, less = f"Add {{by}} of preload on the {name}.", f"Take {{by}} of preload out of the {name}."
    return [unit_knob(values, number, ("preload",), (more, less), 80.0)]


def _coil_solid(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    number = unit_number(values, finding.subject)
    if number is None:
        return []
    springs = values["units"][number]["springs"]
    words = "Fit a spring of the same rate that closes {by} further."
    most = max(springs[0]["solid_length"] - 1.0, 1.0)
    closer = unit_knob(values, number, ("springs", 0, "solid_length"), (words, words), most, (-1,))
    return [*_preload(values, finding.subject), closer]


def _coil_loose(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    number = unit_number(values, finding.subject)
    if number is not None and values["units"][number]["kind"] == "spring":
        words = "Fit a spring {by} longer."
        return [unit_knob(values, number, ("springs", 0, "free_length"), (words, words), 150.0, (1,))]
    return _preload(values, finding.subject)


def _standing(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """What makes it stand elsewhere: preload, pressure, or another spring."""
    return [*_preload(values, None), *_pressure(values), *_rate(values, solved, hold=False)]


def _pressure(values: Values) -> list[Knob]:
    bags = [k for k, unit in enumerate(values["units"]) if unit["kind"] == "air_spring"]
    if not bags:
        return []
    before = values["units"][bags[0]]["pressure"]

    def turn(values: Values, x: float) -> Values:
        for k in bags:
            values = with_value(values, ("units", k, "pressure"), round(max(before + x, 0.0), 4))
        return values

    def say(x: float) -> Sentence:
        both = {"new": Quantity(before + x, "pressure"), "old": Quantity(before, "pressure")}
        return Sentence("Set {new} instead of {old}.", both)

    return [Knob(turn, say, 0.1, 8.0, 0.05)]


def _rate(values: Values, solved: SolvedStation, hold: bool = True) -> list[Knob]:
    """Another spring on every coil unit; with `hold` the preload is reset so that it stands where it stood."""
    coils = [
        k
        for k, unit in enumerate(values["units"])
        if unit["kind"] in ("coilover", "spring") and "rate" in unit["springs"][0]
    ]
    if not coils:
        return []
    first = values["units"][coils[0]]
    before = float(first["springs"][0]["rate"])

    def turn(values: Values, x: float) -> Values:
        share = (before + x) / before
        for k in coils:
            unit = values["units"][k]
            for n, spring in enumerate(unit["springs"]):
                if "rate" in spring:
                    values = with_value(
                        values, ("units", k, "springs", n, "rate"), round(spring["rate"] * share, 6)
                    )
            if hold and unit["kind"] == "coilover" and solved.at_ride is not None:
                law = next(law for law in solved.laws if law.name == unit["name"])
                squeeze = law.free_reference - float(solved.at_ride.units[unit["name"]].length[0])
                reset = unit.get("preload", 0.0) + squeeze / share - squeeze
                values = with_value(values, ("units", k, "preload"), round(reset, 4))
        return values

    def say(x: float) -> Sentence:
        words = "Fit a spring of {new} instead of {old}"
        words += ", preload reset to stand where it stands." if hold else "."
        return Sentence(words, {"new": Quantity(before + x, "rate"), "old": Quantity(before, "rate")})

    return [Knob(turn, say, 0.02 * before, 2.0 * before, 0.1)]


# -- linkages ------------------------------------------------------------------------------------


def _rod(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    rod = finding.subject
    if rod is None or rod not in values["bodies"] or len(values["bodies"][rod]) != 2:
        return []
    one, other = (np.array(values["points"][p], dtype=float) for p in values["bodies"][rod])
    now = float(values.get("links", {}).get(rod, {}).get("length") or np.linalg.norm(one - other))

    def turn(values: Values, x: float) -> Values:
        return with_value(values, ("links", rod, "length"), round(now + x, 4))

    name = spoken(rod)
    say = either_way(f"Make the {name} {{by}} longer.", f"Make the {name} {{by}} shorter.")
    return [Knob(turn, say, 1.0, 30.0, 0.1), *_pivot(finding, values, solved)]


def _pivot(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """The rocker's pivot raised or lowered, all of its chassis points together."""
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
            turn,
            either_way(f"Raise the {name}'s pivot {{by}}.", f"Lower the {name}'s pivot {{by}}."),
            1.0,
            60.0,
            0.5,
        )
    ]


def _less_travel(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    way = "bump" if (finding.travel_mm or 0.0) > 0 else "droop"
    path = ("travel", way)
    words = f"Want {{by}} less {way}."
    return [number_knob(path, words, words, get_number(values, path), (-1,))]


# -- room ----------------------------------------------------------------------------------------


def _shift_envelope(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
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

    return Knob(turn, either_way(words, words), 2.0, 150.0, 0.5, (1,))


def _way_said(axis: int, sign: float) -> str:
    return [("rearward", "forward"), ("to the right", "to the left"), ("down", "up")][axis][sign > 0]


# -- joints --------------------------------------------------------------------------------------


def _rated(kind: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
    def make(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
        for number, part in enumerate(values.get(kind, [])):
            if part["name"] == finding.subject:
                return [
                    Knob(
                        add_to((kind, number, "rated")),
                        _say_rated(float(part["rated"])),
                        1.0,
                        60.0,
                        0.5,
                        (1,),
                    )
                ]
        return []

    return make


def _say_rated(before: float) -> Say:
    return lambda x: Sentence("Fit one rated {new}.", {"new": Quantity(before + x, "angle")})


def _plunge(key: str) -> Callable[[Finding, Values, SolvedStation], list[Knob]]:
    def make(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
        for number, part in enumerate(values.get("shafts", [])):
            if part["name"] == finding.subject and "length" in part:
                words = "Fit a joint with {by} more plunge " + ("inward." if key == "least" else "outward.")
                way = -1 if key == "least" else 1
                return [number_knob(("shafts", number, "length", key), words, words, 100.0, (way,))]
        return []

    return make


def _thread(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    words = f"Screw each end of the {spoken(finding.subject or '')} in {{by}} further."
    return [number_knob(("rods", finding.subject or "", "engagement"), words, words, 60.0, (1,))]


def _cup(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    number = unit_number(values, finding.subject)
    return [] if number is None else _move_eye(values, number)


def _split(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    return [*_preload(values, finding.subject), *_pressure(values)]


def _frequency(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    return _rate(values, solved)


MAKERS: dict[str, Callable[[Finding, Values, SolvedStation], list[Knob]]] = {
    "strap_before_damper": _strap,
    "strap_never_taut": _strap,
    "first_in_droop": _strap,
    "bump_stop_before_damper": _bump_stop,
    "bump_stop_never_touched": _bump_stop,
    "first_in_bump": _bump_stop,
    "bump_stop_at_ride": _standing,
    "no_equilibrium": _standing,
    "damper_extended": _damper_end("extended"),
    "damper_extended_left": _damper_end("extended"),
    "damper_compressed": _damper_end("compressed"),
    "damper_compressed_left": _damper_end("compressed"),
    "coil_solid": _coil_solid,
    "coil_left": _coil_solid,
    "coil_loose": _coil_loose,
    "coil_seat": _coil_loose,
    "ride_frequency": _frequency,
    "stroke_split": _split,
    "rod_square_at_ride": _rod,
    "rod_near_centre": _pivot,
    "linkage_reach": _less_travel,
    "tyre_to_structure": _shift_envelope,
    "tyre_to_spring": _shift_envelope,
    "parts_to_one_another": _shift_envelope,
    "bag_to_anything": _shift_envelope,
    "bag_min_height": _cup,
    "bag_max_height": _cup,
    "bag_filling": lambda finding, values, solved: _pressure(values),
    "joint_tilt": _rated("joints"),
    "shaft_angle": _rated("shafts"),
    "shaft_short": _plunge("least"),
    "shaft_long": _plunge("most"),
    "thread_engagement": _thread,
    "adjustment_left": recentred,
    "finished_mass": recentred,
    "height_adjuster": recentred,
    "bag_pressure": larger_bag,
}
