"""How a rocker goes together: what stands between its plates, how far they stand apart, and each of its bolts as a stack.

Middle   of the plates, mm along the pivot's bolt from the plane of the rod's joint, where rod end and eye leave room for it.
Gap      between a pair of plates: the wider of rod end and eye, or both beside one another where they lie in two planes.
Sleeve   through the pivot, longer than the rocker by its play: the pair of tabs stands as far apart as it is long.
Told     a size that the document says: it stands, and is judged; every other follows from what is there.
"""

import math
from collections.abc import Iterator

from engine.document.schema import RockerPlate
from engine.document.threads import BoltSize, bolt_size
from engine.facts import facts
from engine.sentences import Sentence, length
from engine.shop.made import Remedy, Said
from engine.shop.stacks import (
    CLEARANCE_MM,
    LOOSE_MM,
    NONE_MM,
    BoltStack,
    Layer,
    Member,
    bolted,
    spacer_at,
    standing,
)
from engine.shop.stock import bolt_for
from engine.sizing.rocker.plate import Plate
from engine.sizing.rocker.wheel_side import RockerHere

PLAY_MM = 2.0  # the sleeve is longer than the rocker by this, for the bearing's own play
SLEEVE_MM, BUSH_MM = 3.0, 2.0  # of sleeve and of bush about the pivot's bolt
IN_PLANE_MM = 5.0  # rod and eye further out of one plane than this are said
SIDE_MM = 0.5
LEAST_SPACER_MM = 0.5


@facts
class RockerJoints:
    """One rocker's joints, mm: sizes as cut, its gap, the middle of its plates, what stands at each bolt.

    rod, eye : what stands in its two joints; pivot : the sleeve that its tabs hold
    """

    here: RockerHere
    drawn: Plate
    sizes: RockerPlate
    told: frozenset[str]
    rod: Member
    eye: Member
    pivot: Member
    gap: float
    needs: float
    middle: float

    @property
    def width(self) -> float:
        """Return its whole width over the plates."""
        return self.sizes.count * self.sizes.thickness + (self.gap if self.sizes.count == 2 else 0.0)

    @property
    def apart(self) -> float:
        """Return how far the middles of its plates stand apart, at least one plate's thickness."""
        return max(self.gap + self.sizes.thickness, self.sizes.thickness)

    def share(self, off: float) -> float:
        """Return how many times its half the nearer plate bears of what pushes in a plane, mm from the rod's joint."""
        if self.sizes.count == 1:
            return 1.0
        return 1.0 + 2 * abs(off - self.middle) / self.apart

    def rod_stack(self) -> BoltStack:
        """Return the rod's bolt."""
        return self._stack(self.rod, bolt_size(self.rod.bore), self.sizes.rod_hole, 0.0)

    def eye_stack(self) -> BoltStack:
        """Return the damper's bolt."""
        return self._stack(self.eye, bolt_size(self.eye.bore), self.sizes.damper_hole, self.drawn.offset)

    def _stack(self, member: Member, of: BoltSize, hole: float, plane: float) -> BoltStack:
        """Return what stands on a bolt: `plane` is where the member's middle stands, mm from the plane of the rod's joint."""
        thick = self.sizes.thickness
        (held,) = standing([member], of)
        plate = 2 * self.sizes.edge + hole
        if self.sizes.count == 1:
            # Beside the plate, on the side where it is drawn; a spacer takes what is left.
            side = self.side(plane)
            near = self.middle + side * thick / 2
            left = max(side * (plane - near) - member.width / 2, 0.0)
            at = near - plane
            layers = [
                Layer(what="plate", at=min(at, at - side * thick), width=thick, bore=hole, outside=plate)
            ]
            spacer = spacer_at(min(at, at + side * left), left, of)
            inside = [*layers, *spacer, held] if side > 0 else [held, *spacer, *layers]
            return bolted(inside, bolt_for(of, inside[-1].end - inside[0].at, thick), 1, self.middle - plane)
        low = self.middle - self.gap / 2 - plane
        high = low + self.gap
        inside = [
            Layer(what="plate", at=low - thick, width=thick, bore=hole, outside=plate),
            *spacer_at(low, fills(held.at - low), of),
            held,
            *spacer_at(held.end, fills(high - held.end), of),
            Layer(what="plate", at=high, width=thick, bore=hole, outside=plate),
        ]
        grip = self.gap + 2 * thick
        return bolted(inside, bolt_for(of, grip, thick), 2, self.middle - plane)

    def side(self, plane: float) -> float:
        """Return the side of a single plate on which a member stands, +1 along the pivot's bolt."""
        return 1.0 if plane >= self.middle else -1.0

    def said(self, name: str) -> Iterator[Said]:
        """Yield what does not go together."""
        for what, member, hole, key in (
            ("rod", self.rod, self.sizes.rod_hole, "rod_hole"),
            ("damper", self.eye, self.sizes.damper_hole, "damper_hole"),
        ):
            told = {"hole": length(hole), "bolt": length(member.bore)}
            fit = Remedy(
                say=Sentence("Drill it {bolt}.", {"bolt": told["bolt"]}),
                change={key: member.bore},
                into="plates",
            )
            if hole < member.bore - NONE_MM:
                words = "{0}: the hole of the {1} is {hole}, and the {2} takes a bolt of {bolt}: it does not go in."
                yield Said(mark="fault", say=Sentence(words, told, (name, what, member.said)), remedy=fit)
            elif hole > member.bore + LOOSE_MM:
                words = "{0}: the hole of the {1} is {hole} for a bolt of {bolt}: the bolt is loose in it, and bears on its own width alone."
                yield Said(mark="warning", say=Sentence(words, told, (name, what)), remedy=fit)
        yield from self._said_of_neighbours(name)
        offset = abs(self.drawn.offset)
        if self.sizes.count == 2 and self.gap < self.needs - NONE_MM:
            sizes = {"gap": length(self.gap), "needs": length(self.needs)}
            words = "{0}: the plates stand {gap} apart, and what stands between them takes {needs}."
            change = Remedy(
                say=Sentence("Stand them {needs} apart.", {"needs": sizes["needs"]}),
                change={"gap": round(self.needs, 2)},
                into="plates",
            )
            yield Said(mark="fault", say=Sentence(words, sizes, (name,)), remedy=change)
        if self.sizes.count == 2 and offset > IN_PLANE_MM:
            sizes = {"off": length(offset), "gap": length(self.gap)}
            words = "{0}: rod and damper are drawn {off} out of one plane along the pivot: the plates stand {gap} apart, and spacers take the rest."
            yield Said(mark="note", say=Sentence(words, sizes, (name,)))
        if self.sizes.count == 1:
            yield from self._said_of_one(name)

    def _said_of_neighbours(self, name: str) -> Iterator[Said]:
        """Yield a fault where rod end and eye turn in one another: they stand between the plates side by side."""
        turn = math.radians(self.drawn.included)
        one, other = self.drawn.rod_arm, self.drawn.damper_arm
        apart = math.sqrt(one**2 + other**2 - 2 * one * other * math.cos(turn))
        needs = (self.rod.outside + self.eye.outside) / 2
        beside = abs(self.drawn.offset) >= (self.rod.width + self.eye.width) / 2 - NONE_MM
        if apart >= needs or beside:
            return
        told = {"apart": length(apart), "needs": length(needs), "more": length(needs - apart)}
        words = "{0}: its two bolts stand {apart} apart, and {1} and {2} between the plates take {needs}: they run into one another. Draw them {more} further apart, or beside one another along the pivot."
        yield Said(mark="fault", say=Sentence(words, told, (name, self.rod.said, self.eye.said)))

    def _said_of_one(self, name: str) -> Iterator[Said]:
        sides = {self.side(0.0), self.side(self.drawn.offset)}
        least = min(
            self.side(plane) * (plane - self.middle) - self.sizes.thickness / 2 - member.width / 2
            for plane, member in ((0.0, self.rod), (self.drawn.offset, self.eye))
        )
        if least < -SIDE_MM:
            words = "{0} is one plate, and rod and damper stand beside it: as drawn they run {by} into it. Draw them {more} further apart along the pivot, or take two plates."
            told = {"by": length(-least), "more": length(-2 * least if len(sides) == 2 else -least)}
            remedy = Remedy(say=Sentence("Take two plates."), change={"count": 2, "gap": 0.0}, into="plates")
            yield Said(mark="fault", say=Sentence(words, told, (name,)), remedy=remedy)


def rocker_joints(
    here: RockerHere,
    drawn: Plate,
    sizes: RockerPlate,
    told: frozenset[str],
    rod: Member,
    eye: Member,
    pivot_bolt: float,
) -> RockerJoints:
    """Return how a rocker of some sizes goes together; `told` the sizes that the document says."""
    rod_half, eye_half, off = rod.width / 2, eye.width / 2, drawn.offset
    between = max(rod.width, eye.width, rod_half + eye_half + abs(off))
    needs = between + CLEARANCE_MM
    count = sizes.count
    gap = sizes.gap if sizes.gap > 0 and "gap" in told else needs
    if count == 1:
        gap = 0.0
        # A single plate stands between rod and eye where they are drawn apart, else beside both.
        room = abs(off) - rod_half - eye_half
        middle = (
            off / abs(off) * (rod_half + room / 2)
            if room > 0
            else -(max(rod_half, eye_half - off) + sizes.thickness / 2)
        )
    else:
        low = max(-(gap - rod.width) / 2, off - (gap - eye.width) / 2)
        high = min((gap - rod.width) / 2, off + (gap - eye.width) / 2)
        middle = (low + high) / 2
    whole = count * sizes.thickness + gap
    sleeve = Member(
        name=here.rocker,
        what="pivot sleeve",
        bore=pivot_bolt,
        width=whole + PLAY_MM,
        outside=sizes.pivot_bore + 2 * sizes.edge,
    )
    return RockerJoints(
        here=here,
        drawn=drawn,
        sizes=sizes,
        told=told,
        rod=rod,
        eye=eye,
        pivot=sleeve,
        gap=gap,
        needs=needs,
        middle=middle,
    )


def fills(left: float) -> float:
    """Return how long a spacer is turned for what is left beside a member, mm: to a tenth, its share of the clearance left."""
    long = math.floor((left - CLEARANCE_MM / 2) * 10 + 1e-6) / 10
    return long if long >= LEAST_SPACER_MM else 0.0


def pivot_bolt_within(bore: float, sizes: tuple[float, ...]) -> float:
    """Return the largest of some bolts that a pivot's bore takes with its bush and sleeve about it, else the least of them."""
    most = bore - 2 * (SLEEVE_MM + BUSH_MM)
    return max((one for one in sizes if one <= most + 1e-9), default=min(sizes))


def bore_about(bolt: float) -> float:
    """Return the pivot's bore about a bolt."""
    return bolt + 2 * (SLEEVE_MM + BUSH_MM)
