"""Surveys made up from places that are known: what the tests measure."""

import itertools
from typing import Any

import numpy as np

from engine.document.survey import (
    USUAL_ERRORS,
    USUAL_TOOL,
    AngleReading,
    Reading,
    SlopeReading,
    Survey,
    places_of,
)
from engine.linkage.vectors import Array
from engine.survey.kinds import READS, kind_of
from engine.survey.network import Network

Values = dict[str, Any]


def true_places(rng: np.random.Generator, many: int) -> dict[str, Array]:
    """Return places of a bare frame, mm."""
    spots = rng.uniform([-1500, -700, 80], [1500, 700, 900], (many, 3))
    return {f"p{k}": spots[k] for k in range(many)}


def held_readings(rng: np.random.Generator, names: list[str], more: int) -> list[Values]:
    """Return readings, without values, that hold every place; `more` tapes and angles beside."""
    found: list[Values] = []
    for name in names:
        found += [{"kind": kind, "of": name} for kind in ("height", "offset", "fore_aft")]
    for _ in range(more):
        one, other, third = (str(name) for name in rng.choice(names, 3, replace=False))
        kind = rng.choice(["distance", "distance", "distance", "floor_distance", "rise", "slope", "angle"])
        if kind == "angle":
            found.append({"kind": "angle", "at": one, "between": [other, third]})
        elif kind == "slope":
            found.append(
                {"kind": "slope", "along": [one, other], "seen": str(rng.choice(["line", "side", "front"]))}
            )
        else:
            found.append({"kind": str(kind), "between": [one, other]})
    return found


def well_checked(names: list[str]) -> list[Values]:
    """Return readings, without values, that check one another well: every place plumbed, every pair taped both ways."""
    pairs = list(itertools.combinations(names, 2))
    found: list[Values] = [
        {"kind": kind, "of": name} for name in names for kind in ("height", "offset", "fore_aft")
    ]
    found += [
        {"kind": kind, "between": list(pair)} for kind in ("distance", "floor_distance") for pair in pairs
    ]
    return found + [{"kind": "rise", "between": list(pair)} for pair in pairs[: len(names) + 1]]


def survey_of(
    places: dict[str, Array], readings: list[Values], rng: np.random.Generator | None = None
) -> Values:
    """Return a survey whose readings have the values of the places, with the tools' own errors where `rng` is given."""
    told = []
    for reading in readings:
        blank = reading if reading["kind"] == "mirrored" else {**reading, "values": [1.0]}
        model = Survey.model_validate({"readings": [blank]}).readings[0]
        spots = np.array([[places[name] for name in places_of(model)]])
        if not _worth_taking(model, spots[0]):
            continue
        value = float(READS[kind_of(model)](spots)[0][0, 0])
        if rng is not None:
            value += USUAL_ERRORS[USUAL_TOOL[reading["kind"]]] * rng.normal()
        told.append(reading if reading["kind"] == "mirrored" else {**reading, "values": [value]})
    return {"readings": told}


def network_of(
    survey: Values, places: dict[str, Array], rng: np.random.Generator, off_mm: float = 15.0
) -> Network:
    """Return the network of a survey, drawn where its places nearly are."""
    drawn = {name: (spot + rng.normal(0, off_mm, 3)).tolist() for name, spot in places.items()}
    return Network(Survey.model_validate(survey), drawn)


def _worth_taking(reading: Reading, spots: Array) -> bool:
    """Return whether anybody would take it: no slope of what stands on end, no angle nearly straight."""
    if isinstance(reading, SlopeReading):
        seen = {"line": [1, 1, 0], "side": [1, 0, 0], "front": [0, 1, 0]}[reading.seen]
        return float(np.linalg.norm((spots[1] - spots[0]) * seen)) > 250
    if isinstance(reading, AngleReading):
        return 25 < float(READS["angle"](spots[None])[0][0, 0]) < 155
    return True
