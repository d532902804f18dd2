"""Of readings that explain one slip as well as each other: the tape that would tell which of them is misread.

Each is believed in turn, all others of its group left out: where the places then stand apart, a reading between them
differs. The one that differs most by its own standard error is asked for.
"""

import numpy as np

from engine.document.survey import USUAL_TOOL, places_of
from engine.facts import facts
from engine.sentences import Sentence, length
from engine.survey.adjust import Adjusted, Fit, fitted, labels_of
from engine.survey.kinds import READS
from engine.survey.loose import said
from engine.survey.network import tool_error
from engine.survey.worth import could_be

TELLS = 4.0  # standard errors by which a reading must differ to tell
MOST = 4  # readings of a group that are looked at


@facts
class Tells:
    """A reading that tells: its kind, its places, what it reads where each of two is the misread one, mm or degrees."""

    kind: str
    places: tuple[str, ...]
    reads: tuple[float, float]


def telling_reading(adjusted: Adjusted, group: tuple[int, ...]) -> Tells | None:
    """Return the reading that best parts the first two of a group, None where none that is not taken already does."""
    network = adjusted.network
    label = labels_of(network)
    gone = {one.number for one in adjusted.suspects}
    fits: list[Fit] = []
    for wrong in group[:2]:
        out = [*(gone - set(group)), wrong]
        fits.append(fitted(network, ~np.isin(label, out), adjusted.fit.unknowns))
    best: Tells | None = None
    most = TELLS
    loose = fits[0].free_to_move | fits[1].free_to_move
    for kind, places in could_be(adjusted):
        known = places[~loose[places].any(axis=1)]
        if not len(known):
            continue
        one, other = (READS[kind](fit.spots[known])[0][:, 0] for fit in fits)
        apart = np.abs(one - other) / tool_error(USUAL_TOOL[kind], network.survey)
        k = int(apart.argmax())
        if apart[k] > most:
            most = float(apart[k])
            names = tuple(network.names[n] for n in known[k])
            best = Tells(kind=kind, places=names, reads=(float(one[k]), float(other[k])))
    return best


def tie_words(adjusted: Adjusted, number: int, group: tuple[int, ...]) -> Sentence:
    """Return what is said of a reading that others explain as well: which they are, and what would tell."""
    survey = adjusted.network.survey
    others = [its for its in group if its != number and its >= 0]
    if not others:
        return Sentence(
            "A place picked in a picture explains it as well: read it again, and pick that again."
        )
    named = [" to ".join(said(place) for place in places_of(survey.readings[its])) for its in others[:MOST]]
    holes = " and ".join(
        f"the {survey.readings[its].kind.replace('_', '-')} of {{{k}}}" for k, its in enumerate(others[:MOST])
    )
    words = f"Either it or {holes} is misread: one explains it as well as the other, so both are left out."
    tells = telling_reading(adjusted, (number, *others))
    if tells is None:
        return Sentence(f"{words} Read both again.", names=tuple(named))
    where = " to ".join(said(place) for place in tells.places)
    noun = {"height": "The height of", "offset": "The plumb mark of", "fore_aft": "The plumb mark of"}.get(
        tells.kind, "A tape from"
    )
    words += f" {noun} {{{len(named)}}} tells: {{one}} if this is the one, {{other}} if not."
    told = {"one": length(tells.reads[0]), "other": length(tells.reads[1])}
    return Sentence(words, told, (*named, where))
