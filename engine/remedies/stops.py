"""Straps and bump stops: fitted where there is none, or longer, shorter, packed out."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from engine.document.schema import BumpStop, Coilover, Damper, Station, Strap
from engine.document.units import AnyUnit
from engine.findings.finding import Finding
from engine.forces.units import damper_ends_mm
from engine.remedies.knob import (
    Knob,
    Remedy,
    added,
    both_sides,
    dampers_of,
    unit_knob,
    unit_of,
    with_units,
)
from engine.sentences import Quantity, Sentence
from engine.station.solved import SolvedStation

STRAP_STRETCH, STRAP_SPARE_MM = 0.03, 6.0
STOP_SPARE_MM = 6.0


def strap(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a strap made longer or shorter."""
    found = _named_or_first(solved.station, finding, Strap)
    if not isinstance(found, Strap):
        return []

    def changed(unit: Strap, x: float) -> dict[str, Any]:
        return {"length": added(unit.length, x)}

    words = ("Lengthen the {0} by {by}.", "Shorten the {0} by {by}.")
    return [unit_knob(solved.station, found.name, changed, words, 0.5 * found.length)]


def bump_stop(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return a bump stop packed out, or made shorter."""
    found = _named_or_first(solved.station, finding, BumpStop)
    if not isinstance(found, BumpStop):
        return []

    def changed(unit: BumpStop, x: float) -> dict[str, Any]:
        return {"contact": added(unit.contact, x)}

    words = ("Pack the {0} out by {by}.", "Take {by} out of the {0}.")
    return [unit_knob(solved.station, found.name, changed, words, 80.0)]


def _named_or_first(station: Station, finding: Finding, kind: type[AnyUnit]) -> AnyUnit | None:
    found = [unit for unit in station.units if isinstance(unit, kind)]
    named = [unit for unit in found if unit.name in finding.subjects]
    return next(iter(named or found), None)


def _dampers_without(finding: Finding, station: Station, kind: type[AnyUnit]) -> list[Coilover | Damper]:
    """Return the dampers beside which a stop of a kind may be fitted: none if there is one already."""
    dampers = dampers_of(station)
    if any(isinstance(unit, kind) for unit in station.units) or not dampers:
        return []
    named = next((damper for damper in dampers if damper.name in finding.subjects), dampers[0])
    names = both_sides(station, named.name)
    return [damper for name in names for damper in dampers if damper.name == name]


def _fitted(station: Station, made: Sequence[Strap | BumpStop]) -> Station:
    several = len(made) > 1
    named = [
        unit.model_copy(update={"name": f"{unit.name} {number + 1}" if several else unit.name})
        for number, unit in enumerate(made)
    ]
    return station.model_copy(update={"units": [*station.units, *named]})


def _fit_words(words: str, made: int) -> str:
    return words + (", and on the other side." if made > 1 else ".")


def fit_strap(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """A strap beside each damper, that has given all its stretch at full droop, before the damper tops out."""
    dampers = _dampers_without(finding, solved.station, Strap)
    if not dampers or not len(solved.taken.travels):
        return None
    made, long = [], 0.0
    for damper in dampers:
        longest = float(solved.taken.units[damper.name].length.max())
        end = min(longest, damper_ends_mm(damper)[0] - STRAP_SPARE_MM)
        long = math.floor(end / (1 + STRAP_STRETCH) * 2) / 2
        ends = list(damper.ends)
        made.append(Strap(name="strap", kind="strap", ends=ends, length=long, stretch=STRAP_STRETCH))
    words = _fit_words("Fit a strap of {long} between the mounts of the {0}", len(made))
    return Remedy(
        what=Sentence(words, {"long": Quantity(long, "length")}, (dampers[0].name,)),
        station=_fitted(solved.station, made),
    )


def strap_in_line(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """The strap between the mounts of the damper it saves, taut after its stretch just before that tops out."""
    station = solved.station
    strap = unit_of(station, finding.subjects[0])
    dampers = dampers_of(station)
    if not isinstance(strap, Strap) or not dampers or not len(solved.taken.travels):
        return None
    damper = _nearest_damper(station, strap, dampers)
    longest = float(solved.taken.units[damper.name].length.max())
    end = min(longest, damper_ends_mm(damper)[0] - STRAP_SPARE_MM)
    long = math.floor(end / (1 + strap.stretch) * 2) / 2
    words = "Bolt the {0} between the mounts of the {1}, {long} long."
    return Remedy(
        what=Sentence(words, {"long": Quantity(long, "length")}, (strap.name, damper.name)),
        station=with_units(station, [strap.name], lambda _: {"ends": list(damper.ends), "length": long}),
    )


def _nearest_damper(
    station: Station, strap: Strap, dampers: tuple[Coilover | Damper, ...]
) -> Coilover | Damper:
    def middle(unit: AnyUnit) -> np.ndarray:
        places = np.array([station.points[end] for end in unit.ends], dtype=float)
        between: np.ndarray = places.mean(axis=0)
        return between

    return min(dampers, key=lambda damper: float(np.linalg.norm(middle(damper) - middle(strap))))


def fit_stop(finding: Finding, solved: SolvedStation) -> Remedy | None:
    """A bump stop on each damper, flat before the damper bottoms and touching before full bump."""
    dampers = _dampers_without(finding, solved.station, BumpStop)
    if not dampers or not len(solved.taken.travels):
        return None
    made, contact = [], 0.0
    for damper in dampers:
        shortest = float(solved.taken.units[damper.name].length.min())
        depth = max(12.0, 0.25 * (damper.extended - damper.compressed))
        flat = max(shortest - depth / 2, damper_ends_mm(damper)[1] + STOP_SPARE_MM)
        law = solved.springing.law(damper.name)
        if law.stack is not None:
            flat = max(flat, law.free_reference - law.stack.solid_compression + STOP_SPARE_MM)
        contact = math.ceil((flat + depth) * 2) / 2
        push = 2.0 * solved.springing.weight_n
        table = [[0.0, 0.0], [depth / 3, push * 0.15], [2 * depth / 3, push * 0.5], [depth, push * 1.5]]
        made.append(
            BumpStop(
                name="bump stop",
                kind="bump_stop",
                ends=list(damper.ends),
                contact=contact,
                table=table,
                solid=depth,
            )
        )
    words = _fit_words("Fit a bump stop on the {0} that touches at {at} between its mounts", len(made))
    return Remedy(
        what=Sentence(words, {"at": Quantity(contact, "length")}, (dampers[0].name,)),
        station=_fitted(solved.station, made),
    )
