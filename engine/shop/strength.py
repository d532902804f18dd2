"""A first structural check: what a part bears, as a factor of its yield over the stress of its peak load.

Shear      a metal yields in shear at 1/√3 of its yield (von Mises, 1913).
Bolt       load over its shear planes, on the shank where that stands in them, else on the thread's core.
Bearing    load over thickness × diameter of the hole, against yield.
Tear-out   two shear planes from the hole to the edge, taken as long as the metal beyond the hole.
Bending    σ = M/W with W = t·b²/6 in a plate's plane, b·t²/6 across it (Euler–Bernoulli).
Weld       fillets as lines: throat × length, bending over length²/6 a side; resultant against shear yield of the parent.
Nothing here is a certificate: no fatigue, no heat-affected zone, no impact beyond the peak multiple.
"""

import math
from collections.abc import Iterable, Sequence

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.shop.stock import SHEAR

CORE = 0.84  # of a thread's diameter, between its flanks' roots
THROAT = 0.5  # of the plate's thickness: a fillet of 0.7 × thickness
NO_LOAD_N = 1e-6


Loads = float | Array
"""A load, or one a case, (cases,): a check is of the one that is worst for it."""


@facts
class Check:
    """One way in which a part may fail: factor of yield over stress, where, mm on its drawing, and in which load case."""

    what: str
    factor: float
    at: tuple[float, float] | None = None
    case: str = ""


def weakest(checks: Iterable[Check]) -> Check | None:
    """Return the check with the least factor, None where nothing is loaded."""
    return min(checks, key=lambda check: check.factor, default=None)


def bolt_shear(
    load: Loads, size: float, planes: int, yields: float, shank: bool = True, cases: Sequence[str] = ()
) -> Check | None:
    """Return a bolt in shear: load N, size mm, yield N/mm²."""
    across = size if shank else CORE * size
    area = planes * math.pi / 4 * across**2
    words = "bolt in double shear" if planes == 2 else "bolt in single shear"
    return _check(words, load, area * SHEAR * yields, cases)


def bearing(
    load: Loads, thickness: float, hole: float, yields: float, what: str = "", cases: Sequence[str] = ()
) -> Check | None:
    """Return the metal under a bolt: thickness of all plates together, mm."""
    return _check(_of("bearing of the hole", what), load, thickness * hole * yields, cases)


def tear_out(
    load: Loads,
    thickness: float,
    hole: float,
    edge: float,
    yields: float,
    what: str = "",
    cases: Sequence[str] = (),
) -> Check | None:
    """Return the metal between a hole and the edge: `edge` from the hole's middle, mm."""
    beyond = max(edge - hole / 2, 0.0)
    return _check(_of("hole tearing out", what), load, 2 * thickness * beyond * SHEAR * yields, cases)


def net_section(
    load: Loads, thickness: float, hole: float, width: float, yields: float, cases: Sequence[str] = ()
) -> Check | None:
    """Return the metal either side of a hole in tension."""
    return _check("metal either side of the hole", load, thickness * max(width - hole, 0.0) * yields, cases)


@facts
class FootLoad:
    """What comes to a tab's foot, N and mm: along its reach, across in its plane, along the bolt; the hole's reach."""

    along: Loads
    across: Loads
    sideways: Loads
    reach: float


def tab_foot(
    load: FootLoad, plates: int, thickness: float, width: float, yields: float, cases: Sequence[str] = ()
) -> list[Check]:
    """Return a tab at its foot: bent in its plane and sideways together, named by what is the most of it."""
    area = plates * thickness * width
    pulled = load.along / area
    bent = load.across * load.reach / (plates * thickness * width**2 / 6)
    leaned = load.sideways * load.reach / (plates * width * thickness**2 / 6)
    whole = np.atleast_1d(pulled + bent + leaned)
    k = int(whole.argmax())
    words = (
        "tab bent sideways" if np.atleast_1d(leaned)[k] > np.atleast_1d(bent)[k] else "tab bent at its foot"
    )
    found = _check(words, whole, yields, cases)
    return [] if found is None else [found]


def weld(
    load: FootLoad, plates: int, thickness: float, width: float, yields: float, cases: Sequence[str] = ()
) -> Check | None:
    """Return the fillets along both sides of a foot."""
    throat = THROAT * thickness
    lines = 2 * plates * throat
    square = (
        load.along / (lines * width)
        + load.across * load.reach / (lines * width**2 / 6)
        + load.sideways * load.reach / (plates * throat * width * thickness)
    )
    along = load.across / (lines * width)
    return _check("weld along the foot", np.hypot(square, along), SHEAR * yields, cases)


def tube_bent(moment: float, push: float, section: float, area: float, yields: float) -> Check | None:
    """Return a tube in bending: moment N·mm, push N along it, section modulus mm³, area mm²."""
    return _check("tube in bending", moment / section + push / area, yields)


def _check(what: str, load: Loads, bears: float, cases: Sequence[str] = ()) -> Check | None:
    every = np.atleast_1d(load)
    k = int(every.argmax())
    worst = float(every[k])
    if worst < NO_LOAD_N:
        return None
    return Check(what=what, factor=bears / worst, case=cases[k] if k < len(cases) else "")


def _of(words: str, what: str) -> str:
    return f"{words} ({what})" if what else words
