"""A joint as a stack along its bolt: head, washer, plate, spacer, what is held, spacer, plate, washers, nut.

Member   what stands in a joint: a rod end, an eye, a strap's end, a bush or sleeve, plates; mm of bore, width and outside.
Layer    one thing on the bolt, from `at` to `at` + width, mm along the bolt from the place as drawn.
Planes   where the bolt is cut: two for a pair of plates, one for a single one.
"""

from collections.abc import Sequence
from dataclasses import replace

from engine.document.threads import BoltSize
from engine.facts import facts
from engine.shop.stock import Bolt

CLEARANCE_MM = 0.3  # of a pair of plates, so that what it holds goes in
LOOSE_MM = 0.5  # a hole wider than its bolt by more than this is said
NONE_MM = 0.05


@facts
class Member:
    """What stands in a joint, mm: `outside` what turns about the bolt; `drawn` whether its middle stands in the place."""

    name: str
    what: str
    bore: float
    width: float
    outside: float

    @property
    def said(self) -> str:
        """Return it in words."""
        return f"{self.what} of {self.name}"


@facts
class Layer:
    """One thing on a bolt, mm: where it begins, how wide it is, its hole and its outside; bored 0 where nothing goes through."""

    what: str
    at: float
    width: float
    bore: float
    outside: float

    @property
    def end(self) -> float:
        """Return where it ends."""
        return self.at + self.width


@facts
class BoltStack:
    """All that stands on one bolt, from its head to its nut.

    planes : shear planes; offset : mm from the drawn place to the middle between the plates
    """

    layers: tuple[Layer, ...]
    bolt: Bolt
    planes: int
    offset: float = 0.0

    @property
    def grip(self) -> float:
        """Return how much stands between its head and its nut, mm, washers and play with it."""
        ends = [layer.width for layer in self.layers if layer.what in ("head", "lock nut")]
        span = max(layer.end for layer in self.layers) - min(layer.at for layer in self.layers)
        return span - sum(ends)

    @property
    def turned(self) -> "BoltStack":
        """Return the same along a bolt that runs the other way."""
        layers = tuple(replace(layer, at=-layer.end) for layer in self.layers)
        return replace(self, layers=layers, offset=-self.offset)

    @property
    def words(self) -> str:
        """Return it as one line: head, washer, tab 6, rod end 16, …"""
        return " · ".join(
            layer.what if layer.what in ("head", "lock nut") else f"{layer.what} {layer.width:.4g}"
            for layer in self.layers
        )


def line_of(members: Sequence[Member], washer: float) -> tuple[float, float]:
    """Return where members side by side begin and end, mm along the bolt from the middle of the first, a washer between."""
    width = members[0].width + sum(washer + one.width for one in members[1:])
    return -members[0].width / 2, width - members[0].width / 2


def standing(members: Sequence[Member], of: BoltSize) -> list[Layer]:
    """Return members side by side on a bolt, the first in the drawn place, a washer between each."""
    layers: list[Layer] = []
    at = -members[0].width / 2
    for k, one in enumerate(members):
        if k:
            layers.append(washer_at(at, of))
            at += of.washer
        layers.append(
            Layer(what=one.said, at=at, width=one.width, bore=max(one.bore, of.size), outside=one.outside)
        )
        at += one.width
    return layers


def washer_at(at: float, of: BoltSize, count: int = 1) -> Layer:
    """Return washers that begin at a place."""
    words = "washer" if count == 1 else f"{count} washers"
    return Layer(what=words, at=at, width=count * of.washer, bore=of.size, outside=of.washer_outside)


def spacer_at(at: float, width: float, of: BoltSize) -> list[Layer]:
    """Return a spacer that begins at a place, none where there is nothing to fill."""
    if width < NONE_MM:
        return []
    return [Layer(what="spacer", at=at, width=width, bore=of.size, outside=1.6 * of.size)]


def bolted(inside: Sequence[Layer], bolt: Bolt, planes: int, offset: float = 0.0) -> BoltStack:
    """Return a stack with its bolt: `inside` everything between head's and nut's washers, in order."""
    of, first, last = bolt.of, inside[0].at, inside[-1].end
    layers = [
        Layer(what="head", at=first - of.washer - of.head, width=of.head, bore=0.0, outside=of.corners),
        washer_at(first - of.washer, of),
        *inside,
        washer_at(last, of, bolt.washers),
        Layer(
            what="lock nut",
            at=last + bolt.washers * of.washer,
            width=of.nut,
            bore=of.size,
            outside=of.corners,
        ),
    ]
    return BoltStack(layers=tuple(layers), bolt=bolt, planes=planes, offset=offset)


def meet(one: BoltStack, other: BoltStack, apart: float, along: float) -> float:
    """Return how deep two stacks on parallel bolts run into one another along them, mm; 0 where they stand clear.

    apart : mm between both bolts' lines; along : mm from the one's place to the other's, along the one's bolt, which both
    run along
    """
    deepest = 0.0
    for a in one.layers:
        for b in other.layers:
            if apart < (a.outside + b.outside) / 2:
                deepest = max(deepest, min(a.end, b.end + along) - max(a.at, b.at + along))
    return deepest


def stack_values(stack: BoltStack) -> list[dict[str, object]]:
    """Return the layers as plain values, mm."""
    return [
        {
            "what": layer.what,
            "at": round(layer.at, 3),
            "width": round(layer.width, 3),
            "bore": round(layer.bore, 3),
            "outside": round(layer.outside, 3),
        }
        for layer in stack.layers
    ]
