"""One number that can be turned at the bench, and how a station's own values are changed by it.

Knob    a change of one size x (mm, degrees, bar, N/mm); x is 0 as it stands, and its sign may matter.
"""

import copy
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from engine.sentences import Sentence, length

MIRROR_MM = 25.0  # two units of an axle that stand this nearly opposite are a pair

Values = dict[str, Any]
Path = tuple[str | int, ...]
Say = Callable[[float], Sentence]


@dataclass(frozen=True, kw_only=True)
class Knob:
    """One number to turn.

    turn   : values and x to new values; must not change what it is given
    say    : x to the sentence that tells it
    step   : a first small x; `most` the largest that makes sense; `fine` what it is rounded to
    ways   : which signs of x may be tried
    """

    turn: Callable[[Values, float], Values]
    say: Say
    step: float
    most: float
    fine: float
    ways: tuple[int, ...] = (1, -1)


@dataclass(frozen=True)
class Remedy:
    """A change that was tried and clears: what to say, and the station's values with it made."""

    what: Sentence
    values: Values


def unit_number(values: Values, name: str | None) -> int | None:
    """Return which of the units has a name."""
    return next((k for k, unit in enumerate(values.get("units", [])) if unit["name"] == name), None)


def both_sides(values: Values, number: int) -> list[int]:
    """Return a unit's number, and that of its mirror image on an axle."""
    unit = values["units"][number]

    def places(of: Values) -> list[list[float]]:
        return [values["points"][end] for end in of["ends"]]

    numbers = [number]
    for other, its in enumerate(values["units"]):
        if values["kind"] == "axle" and other != number and its["kind"] == unit["kind"]:
            apart = np.array(places(its), dtype=float) * [1, -1, 1] - np.array(places(unit), dtype=float)
            if float(np.abs(apart).max()) < MIRROR_MM:
                numbers.append(other)
    return numbers


def with_value(values: Values, path: Path, value: Any) -> Values:
    """Return a copy of the values with one of them changed."""
    changed = copy.deepcopy(values)
    place: Any = changed
    for part in path[:-1]:
        place = place.setdefault(part, {}) if isinstance(place, dict) else place[part]
    place[path[-1]] = value
    return changed


def get_number(values: Values, path: Path, default: float = 0.0) -> float:
    """Return a number of the values by its path, or a default where it is not there."""
    place: Any = values
    for part in path:
        if isinstance(place, dict) and part not in place:
            return default
        place = place[part]
    return float(place)


def add_to(path: Path) -> Callable[[Values, float], Values]:
    """Return a turn that adds x to one number of the values."""
    return lambda values, x: with_value(values, path, round(get_number(values, path) + x, 6))


def either_way(more: str, less: str) -> Say:
    """Return a sentence by the sign of x, with {by} its size in mm."""
    return lambda x: Sentence(more if x > 0 else less, {"by": length(abs(x))})


def number_knob(path: Path, more: str, less: str, most: float, ways: tuple[int, ...] = (1, -1)) -> Knob:
    """Return a knob that adds to one number, said by its sign."""
    return Knob(turn=add_to(path), say=either_way(more, less), step=1.0, most=most, fine=0.1, ways=ways)


def unit_knob(
    values: Values,
    number: int,
    keys: Path,
    words: tuple[str, str],
    most: float,
    ways: tuple[int, ...] = (1, -1),
) -> Knob:
    """A number of a unit, and of its mirror image on an axle."""
    numbers = both_sides(values, number)
    more, less = (w[:-1] + ", on both sides." if len(numbers) > 1 else w for w in words)

    def turn(values: Values, x: float) -> Values:
        for k in numbers:
            values = add_to(("units", k, *keys))(values, x)
        return values

    return Knob(turn=turn, say=either_way(more, less), step=1.0, most=most, fine=0.1, ways=ways)
