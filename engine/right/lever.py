"""One thing that can be changed, with the settings that a person can give it."""

from collections.abc import Callable
from typing import Any

from engine.document.schema import Station
from engine.facts import facts
from engine.remedies.knob import Knob
from engine.sentences import Sentence

PARTS, PLACES, TURNS = 0, 1, 2  # in which order changes are made


@facts
class Lever:
    """A change and its settings.

    name   : its own within the station, the same for the same thing of the other side
    key    : of its cost
    change : a station and a setting to the station with it; `say` a setting to the sentence that tells it
    values : the settings in an order in which neighbours do about the same; as it stands is none of them
    of     : points, bodies, units and "travel" that it changes: with one of them held it is no lever
    slot   : of the levers of one slot only one is set at a time
    sides  : how many sides it is done on
    gives_up : how much of a wish a setting gives up, as a share of it
    now    : what stands today, where settings are told as they then are and not as how much they change
    """

    name: str
    key: str
    change: Callable[[Station, Any], Station]
    say: Callable[[Any], Sentence]
    values: tuple[Any, ...]
    of: frozenset[str]
    slot: str
    sides: int = 1
    order: int = PLACES
    gives_up: Callable[[Any], float] | None = None
    now: float = 0.0

    @property
    def numbers(self) -> bool:
        """Return whether its settings are sizes of one number, so that the way between two can be halved."""
        return len(self.values) > 1 and all(isinstance(value, float | int) for value in self.values)


def steps(most: float, step: float, ways: tuple[int, ...] = (1, -1), least: float = 0.0) -> tuple[float, ...]:
    """Return sizes up to the most each way, nothing left out of it, in their order."""
    sizes = [round(step * k, 4) for k in range(1, int(most / step + 1e-9) + 1) if step * k > least]
    down = [-size for size in reversed(sizes)] if -1 in ways else []
    return (*down, *(sizes if 1 in ways else ()))


def of_knob(
    knob: Knob, name: str, key: str, of: frozenset[str], sides: int, *, slot: str = "", step: float | None = None,
    most: float | None = None, order: int = PLACES,
) -> Lever:  # fmt: skip
    """Return a remedy's knob as a lever, in steps that a person can set."""
    fine = step if step is not None else max(1.0, knob.fine)
    return Lever(
        name=name,
        key=key,
        change=knob.turn,
        say=knob.say,
        values=steps(min(knob.most, knob.most if most is None else most), fine, knob.ways),
        of=of,
        slot=slot or name,
        sides=sides,
        order=order,
    )
