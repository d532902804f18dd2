"""What a reading that does not fit looks like: the slips people make with a tape.

The nearest of: 10, 50 or 100 mm, an inch, a turned sign, two figures the wrong way round, inches for millimetres, a digit
too many or too few, the edge of a bolt for its middle, another place than the one written down.
"""

import itertools
from collections.abc import Iterator

import numpy as np

from engine.document.survey import Mirrored, Reading, places_of
from engine.facts import facts
from engine.sentences import Quantity, Sentence, length
from engine.survey.adjust import Adjusted
from engine.survey.kinds import READS, in_degrees, is_signed, kind_of
from engine.survey.loose import said
from engine.survey.network import sigma_of, value_of

INCH_MM = 25.4
ROUND_MM = (10.0, 50.0, 100.0, 20.0, 200.0, 500.0, 1000.0)
EDGES_MM = (4.0, 13.0)  # half a bolt to half a nut
FAR_SHARE = 0.35  # of what is drawn: a reading further off is asked about as it is entered
FAR_MM = 60.0
FAR_DEGREES = 35.0


@facts
class Slip:
    """What a suspect looks like, and what it would be mended to, mm or degrees; None where only reading again helps."""

    say: Sentence
    mended: float | None


def slip_of(adjusted: Adjusted, number: int, would_be: float) -> Slip | None:
    """Return the slip that a suspect reading most looks like; None where it looks like none."""
    reading = adjusted.network.survey.readings[number]
    if isinstance(reading, Mirrored):
        return None
    near = 3 * sigma_of(reading, adjusted.network.survey)
    read = value_of(reading)
    fitting = [guess for guess in _guesses(reading, read, would_be) if abs(guess[0] - would_be) <= near]
    if fitting:
        mended, say = min(fitting, key=lambda guess: abs(guess[0] - would_be))
        return Slip(say=say, mended=mended)
    other = _other_place(adjusted, reading, read, near)
    if other is not None:
        return Slip(say=other, mended=None)
    apart = abs(read - would_be)
    if not in_degrees(reading) and EDGES_MM[0] <= apart <= EDGES_MM[1]:
        edge = "It looks like a reading to the edge of a bolt or hole instead of its middle."
        return Slip(say=Sentence(edge), mended=None)
    return None


def _guesses(reading: Reading, read: float, would_be: float) -> Iterator[tuple[float, Sentence]]:
    if is_signed(reading) and read != 0:
        yield -read, Sentence("It looks as if its sign is the wrong way round.")
    swapped = _figures_swapped(read, would_be)
    if swapped is not None:
        yield swapped, Sentence("It looks as if two figures were written the wrong way round.")
    if in_degrees(reading):
        for whole in (90.0 - read, 180.0 - read):
            yield whole, Sentence("It looks as if the angle was read from the other side.")
        yield read - 10 * np.sign(read - would_be), Sentence("It looks like ten degrees misread.")
        return
    way = float(np.sign(read - would_be))
    for step in ROUND_MM:
        yield read - way * step, Sentence("It looks like {by} misread on the tape.", {"by": length(step)})
    yield read - way * INCH_MM, Sentence("It looks like one inch misread on the tape.")
    yield read * INCH_MM, Sentence("It looks like inches written down as millimetres.")
    yield read / INCH_MM, Sentence("It looks like millimetres taken for inches.")
    yield read * 10, Sentence("It looks as if a figure is missing.")
    yield read / 10, Sentence("It looks as if it has a figure too many.")


def _figures_swapped(read: float, would_be: float) -> float | None:
    """Return the reading with two neighbouring figures the other way round that comes nearest, or None."""
    text = f"{abs(read):.1f}"
    figures = [k for k, sign in enumerate(text) if sign.isdigit()]
    tries = []
    for one, other in itertools.pairwise(figures):
        if text[one] != text[other]:
            swapped = list(text)
            swapped[one], swapped[other] = swapped[other], swapped[one]
            tries.append(float("".join(swapped)) * (1 if read >= 0 else -1))
    return min(tries, key=lambda value: abs(value - would_be), default=None)


def _other_place(adjusted: Adjusted, reading: Reading, read: float, near: float) -> Sentence | None:
    """Return how it is said that the reading fits another place, where just one does."""
    network, spots = adjusted.network, adjusted.fit.spots
    named = places_of(reading)
    known = [k for k in range(len(network.names)) if not adjusted.fit.loose[k]]
    found: list[tuple[float, str, str]] = []
    for position, name in enumerate(named):
        others = [k for k in known if network.names[k] not in named]
        if not others:
            continue
        places = np.tile([network.index[its] for its in named], (len(others), 1))
        places[:, position] = others
        would = READS[kind_of(reading)](spots[places])[0][:, 0]
        found += [
            (abs(float(value) - read), name, network.names[k]) for value, k in zip(would, others, strict=True)
        ]
    fitting = sorted(one for one in found if one[0] <= near / 2)
    if len(fitting) != 1:
        return None
    _, name, other = fitting[0]
    return Sentence(
        "It fits {1} instead of {0}: perhaps another place was read.", names=(said(name), said(other))
    )


def asked_about(reading: Reading, drawn: float) -> Sentence | None:
    """Return what to ask of a reading as it is entered, where it is far from what is drawn (mm or degrees)."""
    if isinstance(reading, Mirrored):
        return None
    read = value_of(reading)
    off = abs(read - drawn)
    if in_degrees(reading):
        told = {"read": Quantity(read, "angle"), "drawn": Quantity(drawn, "angle")}
        if off <= FAR_DEGREES:
            return None
        return Sentence(
            "It reads {read} where {drawn} is drawn. From the other end, or the other side?", told
        )
    told = {"read": length(read), "drawn": length(drawn)}
    if off <= max(FAR_MM, FAR_SHARE * abs(drawn)):
        return None
    guesses = (
        (INCH_MM, "Inches?"),
        (1000.0, "Metres?"),
        (10.0, "Centimetres, or a figure left out?"),
        (1 / INCH_MM, "Is the drawing in inches?"),
        (0.1, "A figure too many?"),
        (-1.0, "The other side?"),
        (304.8, "Feet?"),
    )
    asked = min(guesses, key=lambda guess: abs(read * guess[0] - drawn))
    fits = abs(read * asked[0] - drawn) <= max(FAR_MM, 0.15 * abs(drawn))
    more = asked[1] if fits else "Is it the right place?"
    return Sentence("It reads {read} where {drawn} is drawn. " + more, told)
