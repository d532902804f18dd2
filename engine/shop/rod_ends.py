"""The threaded ends of a rod: which are proposed, and what is said of those that bear too little.

Thread   bears a pull or push on its core so many times.
Shank    is bent by what pushes across the joint of a link with an eye on it.
"""

import math
from collections.abc import Iterator

from engine.document.schema import Rod
from engine.document.threads import NoThread, screw
from engine.sentences import Sentence
from engine.shop.made import Remedy, Said
from engine.shop.rods import Borne, RodEnd, RodMade, made, stock_end
from engine.shop.stock import Stock, Thread
from engine.shop.strength import CORE

LEAST_THREAD_MM = 9.5
ROD_END_YIELD = 500.0  # N/mm²

Ends = tuple[RodEnd, RodEnd]


def ends_of(stock: Stock, said: Rod | None, long: float, load: float, factor: float) -> Ends:
    """Return a rod's ends as the station says them (raise NoThread), else the largest useful ones that leave a tube between.

    long : mm between its joints; load : the most that it is pushed or pulled, N, borne `factor` times
    """
    if said is not None:
        pitch = pitch_of(said)
        one, other = (
            stock_end(stock, said.thread, hand, pitch, said.engagement or None) for hand in said.hands
        )
        return one, other
    wanted = math.sqrt(4 * factor * load / (math.pi * ROD_END_YIELD)) / CORE
    most = stock.thread(max(LEAST_THREAD_MM, wanted)).size
    sizes = [its.size for its in stock.threads if LEAST_THREAD_MM - 1e-9 <= its.size <= most] or [most]
    pairs = [_pair(stock, size) for size in reversed(sizes)]
    return next((pair for pair in pairs if _leaves_tube(stock, long, pair)), pairs[-1])


def pitch_of(said: Rod) -> float | None:
    """Return the pitch of a rod's threads, mm; None where the document leaves it out and the usual one is not made so."""
    if "pitch" in said.model_fields_set:
        return said.pitch
    try:
        screw(said.thread, said.pitch)
    except NoThread:
        return None
    return said.pitch


def thread_factor(ends: Ends, load: float) -> float:
    """Return how many times a pull or push (N) the core of the smaller end's thread bears."""
    least = min(end.thread for end in ends)
    return math.pi / 4 * (CORE * least) ** 2 * ROD_END_YIELD / load


def shank_factor(ends: Ends, across: float) -> float:
    """Return how many times a force across a joint (N) the shanks bear."""
    return ROD_END_YIELD / max(end.bends_at(across) for end in ends)


def said_of_threads(name: str, rod: RodMade, load: Borne, stock: Stock, factor: float) -> Iterator[Said]:
    """Yield a warning where the thread of a rod's ends bears its load too few times."""
    most = max(load.push, load.pull)
    if most <= 0 or thread_factor(rod.ends, most) >= factor:
        return
    words = f"The threads of {{0}} bear {thread_factor(rod.ends, most):.1f} times its load where {factor:g} are wanted."
    pairs = [(its, _pair(stock, its.size)) for its in stock.threads]
    larger = next(
        (
            its
            for its, pair in pairs
            if thread_factor(pair, most) >= factor and _leaves_tube(stock, rod.centre_to_centre, pair)
        ),
        None,
    )
    if larger is None:
        words += " Larger ends leave no tube between them: make it of two plates."
    yield Said(mark="warning", say=Sentence(words, names=(name,)), remedy=_taking(stock, larger))


def said_of_shanks(name: str, rod: RodMade, load: Borne, stock: Stock, factor: float) -> Iterator[Said]:
    """Yield what threaded ends on a link with eyes ask for: it must not turn over, and its shanks are bent."""
    words = (
        "{0} carries an eye: give it a bush at one end at least, or it turns over under what pushes there."
    )
    yield Said(mark="note", say=Sentence(words, names=(name,)))
    if load.across <= 0 or shank_factor(rod.ends, load.across) >= factor:
        return
    bears = shank_factor(rod.ends, load.across)
    words = f"What pushes on {{0}} bends the shanks of its ends: they bear {bears:.1f} times that."
    larger = next(
        (
            its
            for its in stock.threads
            if shank_factor(_pair(stock, its.size), load.across) >= factor
            and _leaves_tube(stock, rod.centre_to_centre, _pair(stock, its.size))
        ),
        None,
    )
    if larger is None:
        words += " Weld a bush across each end instead."
    yield Said(mark="warning", say=Sentence(words, names=(name,)), remedy=_taking(stock, larger))


def _taking(stock: Stock, thread: Thread | None) -> Remedy | None:
    """Return the remedy of other ends, set in the middle of what they adjust."""
    if thread is None:
        return None
    end = stock_end(stock, thread.size, "right")
    return Remedy(
        say=Sentence("Take ends of {0}.", names=(end.said,)),
        change={"thread": end.thread, "pitch": end.pitch, "engagement": round(end.engagement, 1)},
        into="rods",
    )


def _pair(stock: Stock, thread: float) -> Ends:
    return stock_end(stock, thread, "right"), stock_end(stock, thread, "left")


def _leaves_tube(stock: Stock, long: float, ends: Ends) -> bool:
    return made(long, stock.tubes[0], ends).tube_length > 0
