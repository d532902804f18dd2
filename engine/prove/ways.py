"""Which way a thing is turned, as somebody with a spanner says it.

A tube with a right-hand thread at one end and a left-hand one at the other grows longer as it is turned clockwise, seen
from its right-hand end: there its end stands still and comes out of it.
"""

from engine.document.schema import Station
from engine.ride.setting import Means
from engine.sentences import Sentence


def way_of(station: Station, means: Means, by: float) -> Sentence:
    """Return the way of a turn: `by` mm of preload, rod or spring, or bar, more or less."""
    more = by > 0
    if means.by == "perch":
        return Sentence("toward the spring: more preload" if more else "away from the spring: less preload")
    if means.by == "pressure":
        return Sentence("put air in" if more else "let air out")
    if means.by == "spring":
        return Sentence("a spring longer by it" if more else "a spring shorter by it")
    words = "longer" if more else "shorter"
    rod = next((station.rods[name] for name in means.subjects if name in station.rods), None)
    if rod is None or rod.hands[0] == rod.hands[1]:
        return Sentence(words)
    name = next(name for name in means.subjects if name in station.rods)
    end = station.bodies[name][rod.hands.index("right")]
    return Sentence(
        f"{words}: turn its tube {'clockwise' if more else 'anticlockwise'}, seen from {{0}}, its right-hand end",
        names=(end,),
    )
