"""Straps and bump stops: fitted where there is none, or longer, shorter, packed out."""

import copy
import math

import numpy as np

from engine.findings.finding import Finding
from engine.remedies.knob import (
    Knob,
    Remedy,
    Values,
    both_sides,
    get_number,
    unit_knob,
    unit_number,
    with_value,
)
from engine.sentences import Quantity, Sentence, spoken
from engine.station.solved import SolvedStation

STRAP_STRETCH, STRAP_SPARE_MM = 0.03, 6.0
STOP_SPARE_MM = 6.0


def strap(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return a strap made longer or shorter."""
    number = _named_or_first(values, finding.subject, "strap")
    if number is None:
        return []
    name = spoken(values["units"][number]["name"])
    words = (f"Lengthen the {name} by {{by}}.", f"Shorten the {name} by {{by}}.")
    return [
        unit_knob(values, number, ("length",), words, 0.5 * get_number(values, ("units", number, "length")))
    ]


def bump_stop(finding: Finding, values: Values, solved: SolvedStation) -> list[Knob]:
    """Return a bump stop packed out, or made shorter."""
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


def _damper_numbers(finding: Finding, values: Values, kind: str) -> list[int]:
    """Return the dampers beside which a stop of a kind may be fitted: none if there is one already."""
    if any(unit["kind"] == kind for unit in values["units"]):
        return []
    dampers = [k for k, unit in enumerate(values["units"]) if unit["kind"] in ("coilover", "damper")]
    named = unit_number(values, finding.subject)
    first = named if named in dampers else dampers[0] if dampers else None
    return [] if first is None else both_sides(values, first)


def _fit(values: Values, made: list[Values]) -> Values:
    changed = copy.deepcopy(values)
    for number, unit in enumerate(made):
        unit["name"] += "" if len(made) == 1 else f" {number + 1}"
    changed["units"] += made
    return changed


def fit_strap(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """A strap beside each damper, that has given all its stretch at full droop, before the damper tops out."""
    numbers = _damper_numbers(finding, values, "strap")
    if not numbers or not solved.reached.any():
        return None
    made, long = [], 0.0
    for number in numbers:
        unit = values["units"][number]
        topped = unit["extended"] + sum(unit.get("adapter", {}).values())
        lengths = solved.sweep.units[unit["name"]].length[solved.reached]
        end = min(float(lengths.max()), topped - STRAP_SPARE_MM)
        long = math.floor(end / (1 + STRAP_STRETCH) * 2) / 2
        made.append(
            {
                "name": "strap",
                "kind": "strap",
                "ends": list(unit["ends"]),
                "length": long,
                "stretch": STRAP_STRETCH,
            }
        )
    words = f"Fit a strap of {{long}} between the mounts of the {spoken(values['units'][numbers[0]]['name'])}"
    words += ", and on the other side." if len(numbers) > 1 else "."
    return Remedy(Sentence(words, {"long": Quantity(long, "length")}), _fit(values, made))


def strap_in_line(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """The strap between the mounts of the damper it saves, taut after its stretch just before that tops out."""
    number = unit_number(values, finding.subject)
    dampers = [k for k, unit in enumerate(values["units"]) if unit["kind"] in ("coilover", "damper")]
    if number is None or not dampers or not solved.reached.any():
        return None
    strap = values["units"][number]
    damper = values["units"][_nearest_damper(values, strap, dampers)]
    topped = damper["extended"] + sum(damper.get("adapter", {}).values())
    longest = float(solved.sweep.units[damper["name"]].length[solved.reached].max())
    end = min(longest, topped - STRAP_SPARE_MM)
    long = math.floor(end / (1 + strap.get("stretch", 0.0)) * 2) / 2
    changed = with_value(values, ("units", number, "ends"), list(damper["ends"]))
    changed = with_value(changed, ("units", number, "length"), long)
    words = (
        f"Bolt the {spoken(strap['name'])} between the mounts of the {spoken(damper['name'])}, {{long}} long."
    )
    return Remedy(Sentence(words, {"long": Quantity(long, "length")}), changed)


def _nearest_damper(values: Values, strap: Values, dampers: list[int]) -> int:
    def middle(unit: Values) -> np.ndarray:
        places = np.array([values["points"][end] for end in unit["ends"]], dtype=float)
        between: np.ndarray = places.mean(axis=0)
        return between

    return min(dampers, key=lambda k: float(np.linalg.norm(middle(values["units"][k]) - middle(strap))))


def fit_stop(finding: Finding, values: Values, solved: SolvedStation) -> Remedy | None:
    """A bump stop on each damper, flat before the damper bottoms and touching before full bump."""
    numbers = _damper_numbers(finding, values, "bump_stop")
    if not numbers or not solved.reached.any():
        return None
    made, contact = [], 0.0
    for number in numbers:
        unit = values["units"][number]
        bottomed = unit["compressed"] + sum(unit.get("adapter", {}).values())
        lengths = solved.sweep.units[unit["name"]].length[solved.reached]
        depth = max(12.0, 0.25 * (unit["extended"] - unit["compressed"]))
        flat = max(float(lengths.min()) - depth / 2, bottomed + STOP_SPARE_MM)
        law = next(law for law in solved.springing.laws if law.name == unit["name"])
        if law.stack is not None:
            flat = max(flat, law.free_reference - law.stack.solid_compression + STOP_SPARE_MM)
        contact = math.ceil((flat + depth) * 2) / 2
        push = 2.0 * solved.springing.weight_n
        table = [[0, 0], [depth / 3, push * 0.15], [2 * depth / 3, push * 0.5], [depth, push * 1.5]]
        stop = {"name": "bump stop", "kind": "bump_stop", "ends": list(unit["ends"]), "contact": contact}
        made.append(stop | {"table": table, "solid": depth})
    words = f"Fit a bump stop on the {spoken(values['units'][numbers[0]]['name'])} that touches at {{at}} between its mounts"
    words += ", and on the other side." if len(numbers) > 1 else "."
    return Remedy(Sentence(words, {"at": Quantity(contact, "length")}), _fit(values, made))
