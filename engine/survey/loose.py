"""What the readings do not hold, in words, and the reading that would hold it.

A place is loose where it takes part in a way in which everything may still move together with no reading noticing.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sentences import Sentence
from engine.survey.adjust import LOOSE, Adjusted

SAME_SHARE = 0.05  # of its largest free movement: ways with less are not said
WAYS = ("fore and aft", "in and out", "up and down")
HOLD = (
    "tape it to anything well ahead or behind, or read it from the datum line",
    "tape it to anything well to the side, or read it from the centreline",
    "read its height, or tape it to anything well above or below",
)


@facts
class Loose:
    """A place that can still move: along which ways (3, k) unit columns, the freest first, and how that is said."""

    place: str
    ways: Array
    say: Sentence


def loose_places(adjusted: Adjusted) -> list[Loose]:
    """Return every place that can still move, in the survey's order."""
    fit, names = adjusted.fit, adjusted.network.names
    found = []
    for k in np.flatnonzero(fit.loose):
        if not fit.free_to_move[k]:
            found.append(
                Loose(place=names[k], ways=fit.flat[k][:, None], say=_in_plane(names[k], fit.flat[k]))
            )
            continue
        moves = fit.free[3 * k : 3 * k + 3]
        u, sizes, _ = np.linalg.svd(moves, full_matrices=False)
        ways = u[:, sizes > max(LOOSE, SAME_SHARE * sizes[0])]
        found.append(Loose(place=names[k], ways=ways, say=_said(names[k], ways)))
    return found


def _in_plane(place: str, way: Array) -> Sentence:
    axis = int(np.abs(way).argmax())
    words = f"{{0}} stands nearly in one plane with all that it is taped to, and may be on either side of it, {WAYS[axis]}: {HOLD[axis]}."
    return Sentence(words, names=(said(place),))


def said(place: str) -> str:
    """Return a place as it is said: the point of its station, or the mark."""
    station, slash, point = place.rpartition("/")
    return f"{point} of {station}" if slash else place


def _said(place: str, ways: Array) -> Sentence:
    sway = np.linalg.norm(ways, axis=1)
    axes = [axis for axis in np.argsort(-sway) if sway[axis] > 0.35]
    if ways.shape[1] == 3:
        words = "{0} can still move every way: " + "tape it to three places that are known."
        return Sentence(words, names=(said(place),))
    along = sorted(axes[: max(ways.shape[1], 1)] if ways.shape[1] > 1 else axes)
    how = " and ".join(WAYS[axis] for axis in along)
    mixed = ways.shape[1] == 1 and len(axes) > 1
    hold = HOLD[axes[0]] if ways.shape[1] == 1 else "; ".join(HOLD[axis] for axis in along)
    together = ", both at once" if mixed else ""
    return Sentence(f"{{0}} can still move {how}{together}: {hold}.", names=(said(place),))
