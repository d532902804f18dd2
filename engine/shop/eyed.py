"""A link with a damper's or strap's eye on it: a tube on bushes, for what pushes there bends it and would turn it over.

Sleeve   a short tube across each end, its bush pressed in; the link's tube is coped onto it.
Beside   how far an eye stands from the line between the joints, mm: nearer than the tube's skin it stands in the tube.
"""

from collections.abc import Iterator

import numpy as np

from engine.document.links import link_ends
from engine.document.make import RodChoice
from engine.document.threads import bolt_size
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.sentences import Sentence, length
from engine.shop.cope import set_back
from engine.shop.links import Eye
from engine.shop.made import Cut, Figure, Hardware, Made, Remedy, Said, TubeEnd
from engine.shop.rods import Borne, bears, column_n
from engine.shop.stacks import Member
from engine.shop.stock import Stock, Tube
from engine.shop.strength import CORE, Check, bolt_shear

EYE_RADIUS_MM = 18.0  # a damper's eye about its bolt
LEAST_BOLT_MM = 11.9
BUSH_MM = 5.0  # of bush between bolt and sleeve, each side
SLEEVE_WIDER_MM = 8.0  # than the tube that is welded to it


@facts(kw_only=False)
class Bush:
    """The joint at each end of a link on bushes: its bolt, its sleeve and how wide that is, mm."""

    bolt: float
    sleeve: Tube
    width: float

    def member(self, name: str) -> Member:
        """Return what it is in the joint."""
        return Member(
            name=name, what="bushed sleeve", bore=self.bolt, width=self.width, outside=self.sleeve.outside
        )


@facts
class Eyed:
    """A link on bushes: mm between its joints, what it bears, and what stands at its ends (N each)."""

    name: str
    long: float
    load: Borne
    tube: Tube
    bush: Bush

    @property
    def cut_mm(self) -> float:
        """Return how long its tube is cut, over all before it is coped, mm."""
        sleeve = self.bush.sleeve.outside / 2
        return self.long - 2 * set_back(self.tube.outside / 2, sleeve, 90.0)


def eyed_link(
    name: str, long: float, load: Borne, end_n: float, tube: Tube | None, stock: Stock, factor: float
) -> Eyed:
    """Return a link of a tube as chosen, or the lightest stock one that bears its load by a factor, else the strongest.

    end_n : the most that stands at one of its joints, N
    """
    bolt = next(
        (its for its in stock.bolts if its >= LEAST_BOLT_MM and _shears(its, end_n, stock) >= factor), None
    )
    size = bolt or stock.bolts[-1]
    every = [*stock.tubes, *stock.graded]
    strong = [its for its in stock.tubes if bears(its, long, load) >= factor]
    strong = strong or [its for its in every if bears(its, long, load) >= factor]
    strongest = max(every, key=lambda its: bears(its, long, load))
    taken = tube or min(strong, key=lambda its: its.area, default=strongest)
    fits = (its for its in stock.tubes if its.bore >= size + 2 * BUSH_MM and its.outside >= taken.outside)
    # A tube is coped onto what is no narrower: where stock has none, the sleeve is as wide as the tube and ordered.
    wide = max(taken.outside, stock.tubes[-1].outside)
    sleeve = next(fits, Tube(outside=wide, wall=stock.tubes[-1].wall, grade=stock.tubes[-1].grade))
    return Eyed(
        name=name, long=long, load=load, tube=taken, bush=Bush(size, sleeve, taken.outside + SLEEVE_WIDER_MM)
    )


def eyed_made(
    station: str,
    linkage: Linkage,
    its: Eyed,
    choice: RodChoice | None,
    stock: Stock,
    factor: float,
    hands: int,
) -> Made:
    """Return such a link as it is cut."""
    tube, bush, load = its.tube, its.bush, its.load
    extra = choice.cut_long if choice else 0.0
    sleeve = f"{bush.sleeve.said} × {bush.width:g} mm, bushed for {bolt_size(bush.bolt).said}"
    buckles = column_n(tube, its.long)
    factors = {"rod buckling": buckles / load.push if load.push > 0 else None, "bent at its eye": None}
    if load.moment > 0:
        factors["bent at its eye"] = bears(tube, its.long, load)
    figures = [
        Figure(key="tube_length", name="Cut the tube to, over all", value=its.cut_mm + extra),
        Figure(key="tube", name="Tube", value=tube.said, measures="words"),
        Figure(key="centre_to_centre", name="Between joint centres", value=its.long),
        Figure(key="sleeve", name="Coped onto a sleeve at each end", value=sleeve, measures="words"),
        Figure(key="change_per_turn", name="A turn of the tube", value=0.0, measures="pitch"),
        Figure(key="push", name="Greatest push", value=load.push, measures="force"),
        Figure(key="pull", name="Greatest pull", value=load.pull, measures="force"),
        Figure(key="across", name="Greatest push across, at an end", value=load.across, measures="force"),
        Figure(key="buckling_factor", name="Buckles at so many times its push", value=factors["rod buckling"], measures="factor"),
        Figure(key="bent_factor", name="Bears so many times what bends it", value=factors["bent at its eye"], measures="factor"),
    ]  # fmt: skip
    end = TubeEnd(met=bush.sleeve.outside / 2)
    return Made(
        station=station,
        name=choice.name if choice else its.name,
        kind="rod",
        subject=("rod", its.name),
        proposed=choice is None,
        hands=hands,
        cut=Cut(tube=tube, length=max(its.cut_mm + extra, 0.0), ends=(end, end)),
        hardware=(Hardware(what="bush sleeve", size=sleeve, count=2),),
        checks=tuple(
            Check(what=what, factor=value, case=load.bent_case)
            for what, value in factors.items()
            if value is not None
        ),
        figures=tuple(figures),
        said=tuple(_said(linkage, its, stock, factor)),
        choice={"kind": "rod", "name": choice.name if choice else its.name, "body": its.name, "cut_long": extra,
                "tube": {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}},
    )  # fmt: skip


def _said(linkage: Linkage, its: Eyed, stock: Stock, factor: float) -> Iterator[Said]:
    if bears(its.tube, its.long, its.load) < factor:
        words = f"{{0}}, bent where its eye is pushed, bears {bears(its.tube, its.long, its.load):.1f} times its load."
        every = stock.graded
        wanted = [one for one in stock.tubes if bears(one, its.long, its.load) >= factor]
        wanted = wanted or [one for one in every if bears(one, its.long, its.load) >= factor]
        remedy = None
        if wanted:
            tube = min(wanted, key=lambda one: (one.area, one.yields))
            size = {"outside": tube.outside, "wall": tube.wall, "grade": tube.grade}
            remedy = Remedy(say=Sentence("Take {0}.", names=(tube.said,)), change={"tube": size})
        else:
            words += (
                " No stock tube is strong enough: make it of two plates, or bring the eye nearer to a joint."
            )
        yield Said(mark="warning", say=Sentence(words, names=(its.name,)), remedy=remedy)
    if its.bush.sleeve not in stock.tubes:
        words = "No stock tube is as wide as that of {0}: the sleeves across its ends have to be ordered."
        yield Said(mark="note", say=Sentence(words, names=(its.name,)))
    yield from said_of_eyes(linkage, its.name, its.tube)


def said_of_eyes(linkage: Linkage, name: str, tube: Tube) -> Iterator[Said]:
    """Yield a warning for every eye of a link that stands in its tube."""
    ends = link_ends(linkage.station, name)
    assert ends is not None
    for eye in linkage.bodies[name]:
        if eye in ends:
            continue
        beside, wanted = beside_mm(linkage, eye, ends), tube.outside / 2 + EYE_RADIUS_MM
        if beside < wanted:
            words = (
                "{0} stands {beside} from the middle of {1}, inside its tube: stand it {wanted} beside it,"
                " or cut the tube there and let a plate on each side carry on."
            )
            told = {"beside": length(beside), "wanted": length(wanted)}
            yield Said(mark="warning", say=Sentence(words, told, (eye, name)))


def eyes_on(linkage: Linkage, name: str) -> tuple[Eye, ...]:
    """Return the eyes on a link, each to the side on which it stands as drawn, upward or outward."""
    ends = link_ends(linkage.station, name)
    assert ends is not None
    one, other = (linkage.points[linkage.index[end]] for end in ends)
    way = (other - one) / np.linalg.norm(other - one)
    found = []
    for point in linkage.bodies[name]:
        if point not in ends:
            arm = linkage.points[linkage.index[point]] - one
            off = arm - way * (arm @ way)
            sign = 1.0 if float(off @ np.array([0.0, 0.1, 1.0])) >= 0 else -1.0
            found.append(Eye(point, float(arm @ way), sign * float(np.linalg.norm(off))))
    return tuple(found)


def beside_mm(linkage: Linkage, point: str, ends: tuple[str, str]) -> float:
    """Return how far a point stands from the line through two others as drawn, mm."""
    spot, one, other = (linkage.points[linkage.index[its]] for its in (point, *ends))
    way = (other - one) / np.linalg.norm(other - one)
    return float(np.linalg.norm(np.cross(spot - one, way)))


def _shears(bolt: float, load: float, stock: Stock) -> float:
    check = bolt_shear(max(load, 1.0), CORE * bolt, 2, stock.bolt_yield)
    return np.inf if check is None else check.factor
