"""What to read next: of all readings that could be taken, those that say most of what is wanted.

Wanted   a figure's slopes g by the places (ride height, a motion ratio, a clearance), or one place itself.
Gain     √(g·C·g) before and after: a reading more changes C by −(C a)(C a)ᵀ / (1 + aᵀ C a), a its weighted slopes
         (Sherman & Morrison 1950), so that all that could be read are weighed at once.
Loose    what is not held counts as DRAWN_MM unsure: enough to want it held first, and told as not known.
"""

from collections.abc import Iterator

import numpy as np

from engine.document.survey import USUAL_TOOL, places_of
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.adjust import LOOSE, Adjusted
from engine.survey.kinds import READS
from engine.survey.network import tool_error

DRAWN_MM = 100.0
SHORT_LIST = 5
LEAST_GAIN = 0.02  # of what is unsure now: less is not worth bending down for
SINGLES = ("height", "offset", "fore_aft")


@facts
class Wanted:
    """What the user wants to know better: its name, and its slopes (k, places, 3) per mm; k rows count together."""

    name: str
    slopes: Array


@facts
class Worth:
    """A reading that could be taken, and the standard error of what is wanted before and after; None while loose."""

    kind: str
    places: tuple[str, ...]
    would_be: float
    now: float | None
    then: float | None


def one_place(adjusted: Adjusted, place: str) -> Wanted:
    """Return one place as what is wanted, all three ways together."""
    network = adjusted.network
    slopes = np.zeros((3, len(network.names), 3))
    slopes[:, network.index[place]] = np.eye(3)
    return Wanted(name=place, slopes=slopes)


def every_place(adjusted: Adjusted) -> Wanted:
    """Return all places together as what is wanted: the root mean square of their standard errors."""
    many = 3 * len(adjusted.network.names)
    slopes = np.eye(many) / np.sqrt(max(many, 1))
    return Wanted(name="every place", slopes=slopes.reshape(many, len(adjusted.network.names), 3))


def worth_reading(adjusted: Adjusted, wanted: Wanted, most: int = SHORT_LIST) -> list[Worth]:
    """Return the readings that help most with what is wanted, the best first; none where there is nothing to gain.

    Each is told with what it does alone; none of them says again what one before it says already.
    """
    network, fit = adjusted.network, adjusted.fit
    many = 3 * len(network.names)
    if not many:
        return []
    goal = np.zeros((len(wanted.slopes), network.columns))
    goal[:, :many] = wanted.slopes.reshape(len(wanted.slopes), -1)[:, :many]
    could = [_Could(adjusted, kind, places) for kind, places in could_be(adjusted)]
    whole = fit.covariance + DRAWN_MM**2 * fit.free @ fit.free.T
    before = float(np.einsum("kc,kc->", goal @ whole, goal))
    unknown = _loose(goal, fit.free)
    covariance, left = whole, before
    found: list[Worth] = []
    while len(found) < most and left > 0 and could:
        # Each is chosen as if those before it had been read, so that five do not all say the same.
        gains = [some.gains(covariance, goal) for some in could]
        group = int(np.argmax([float(gain.max()) for gain in gains]))
        number = int(gains[group].argmax())
        if gains[group][number] < LEAST_GAIN * left:
            break
        some, row = could[group], could[group].rows[number]
        alone = before - float(some.gains(whole, goal)[number])
        found.append(
            Worth(
                kind=some.kind,
                places=tuple(network.names[k] for k in some.places[number]),
                would_be=float(some.would_be[number]),
                now=None if unknown else float(np.sqrt(before)),
                then=None if _loose(goal, _held(fit.free, row)) else float(np.sqrt(max(alone, 0.0))),
            )
        )
        left -= float(gains[group][number])
        moved = covariance @ row
        covariance = covariance - np.outer(moved, moved) / (1 + float(row @ moved))
    return found


class _Could:
    """Readings of one kind that could be taken: places (m, k), what they would read (m,), weighted slopes (m, columns)."""

    def __init__(self, adjusted: Adjusted, kind: str, places: np.ndarray) -> None:
        network = adjusted.network
        would, slopes = READS[kind](adjusted.fit.spots[places])
        rows = np.zeros((len(places), network.columns))
        every = np.arange(len(places))
        for position in range(places.shape[1]):
            for axis in range(3):
                rows[every, 3 * places[:, position] + axis] += slopes[:, 0, position, axis]
        self.kind, self.places, self.would_be = kind, places, would[:, 0]
        self.rows: Array = rows / tool_error(USUAL_TOOL[kind], network.survey)

    def gains(self, covariance: Array, goal: Array) -> Array:
        """Return what each takes off g·C·g, (m,), by covariance (unknowns, unknowns) mm² and goals (goals, unknowns)."""
        moved = self.rows @ covariance
        room = 1 + np.einsum("mc,mc->m", moved, self.rows)
        gains: Array = ((moved @ goal.T) ** 2).sum(axis=1) / room
        return gains


def _loose(goal: Array, free: Array) -> bool:
    return bool(free.size) and float(np.abs(goal @ free).max()) > LOOSE


def _held(free: Array, row: Array) -> Array:
    """Return the ways that stay free when one row more is held."""
    if not free.size:
        return free
    along = row @ free
    size = float(np.linalg.norm(along))
    if size < LOOSE:
        return free
    u = np.linalg.svd((along / size)[:, None], full_matrices=True)[0]
    return np.asarray(free @ u[:, 1:])


def could_be(adjusted: Adjusted) -> Iterator[tuple[str, np.ndarray]]:
    """Yield each kind with the places (m, k) that could be read so and have not been."""
    network = adjusted.network
    taken = {
        (reading.kind, frozenset(places_of(reading)))
        for number, reading in enumerate(network.survey.readings)
        if network.row_of[number] >= 0
    }
    many = len(network.names)
    for kind in SINGLES:
        free = [k for k in range(many) if (kind, frozenset({network.names[k]})) not in taken]
        if free:
            yield kind, np.array(free)[:, None]
    pairs = np.array(
        [
            (one, other)
            for one in range(many)
            for other in range(one + 1, many)
            if ("distance", frozenset({network.names[one], network.names[other]})) not in taken
        ]
    )
    if len(pairs):
        yield "distance", pairs
