"""What the job asks for, given up a little: travel each way, and where it should stand."""

from collections.abc import Iterator

from engine.document.schema import Station
from engine.document.work import TRAVEL
from engine.remedies.knob import added
from engine.right.lever import PARTS, Lever, steps
from engine.sentences import Quantity, Sentence, length

MOST_SHARE = 0.6  # of a travel that is wanted: with less it is another job
AT_MM = 40.0


def wish_levers(station: Station) -> Iterator[Lever]:
    """Yield what could be given up of a station's wishes."""
    for way in ("bump", "droop"):
        now = getattr(station.travel, way)
        sizes = steps(MOST_SHARE * now, 1.0, (-1,))
        if sizes:
            yield Lever(
                name=f"travel.{way}",
                key="wish",
                change=lambda its, x, way=way: _less(its, way, x),  # type: ignore[misc]
                say=lambda x, way=way, now=now: Sentence(  # type: ignore[misc]
                    f"Reduce the {way} target by {{by}}, to {{to}}.",
                    {"by": length(-x), "to": length(now + x)},
                ),
                values=tuple(reversed(sizes)),
                of=frozenset({TRAVEL}),
                slot=f"travel.{way}",
                order=PARTS,
                gives_up=lambda x, now=now: -x / now,  # type: ignore[misc]
            )
    at = station.travel.at or 0.0
    inside = tuple(x for x in steps(AT_MM, 1.0) if -station.travel.droop < at + x < station.travel.bump)
    whole = station.travel.bump + station.travel.droop
    yield Lever(
        name="travel.at",
        key="wish",
        change=lambda its, x: its.model_copy(
            update={"travel": its.travel.model_copy(update={"at": added(at, x)})}
        ),
        say=lambda x: Sentence(
            "Let it stand {by} "
            + ("higher in its travel" if x > 0 else "lower in its travel")
            + ", at {at}.",
            {"by": length(abs(x)), "at": Quantity(at + x, "travel")},
        ),
        values=inside,
        of=frozenset({TRAVEL}),
        slot="travel.at",
        order=PARTS,
        gives_up=lambda x: abs(x) / whole,
    )


def _less(station: Station, way: str, x: float) -> Station:
    changed = station.travel.model_copy(update={way: added(getattr(station.travel, way), x)})
    return station.model_copy(update={"travel": changed})
