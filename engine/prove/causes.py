"""The single causes that explain a cycle, and which of them it cannot tell apart.

Cause     one thing alone, as far as it takes to explain most; `explains` the share of the misfit's χ² that it takes away.
Untold    causes that explain as much within χ² of NO_WORSE: this cycle cannot tell them apart; and, last, the mounts of the
          springing that may be off by FELT_MM along an axis without these lengths showing it.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.prove.likely import Likely
from engine.sentences import Quantity, Sentence, length

AXES = ("ahead", "out", "up")
MOST_CAUSES = 8
EXPLAINS = 0.5
NO_WORSE = 4.0
SEEN = 12.0  # of χ² that the best cause must take away before there is anything to explain
MOST_CAUSE_MM = 40.0
FELT_MM, HIDDEN = 9.0, 6.0  # an error of so many mm that stays under so many standard errors is not felt
FEELS = 0.01  # mm of length for a mm of cause: less is not felt


@facts
class Cause:
    """One thing that would explain the cycle: what, along which axis (or its length), mm, and the share that it explains."""

    what: str
    axis: str
    by: float
    explains: float


def chi2(its: Likely, left: Array) -> float:
    """Return how large a misfit (readings,) is for its errors, χ²."""
    return float(((left / its.sigma) ** 2).sum())


def causes_of(its: Likely) -> list[tuple[Cause, float]]:
    """Return the single causes that explain most, each with the χ² that it leaves; none where nothing is to explain."""
    whole = chi2(its, its.misfit)
    weight = 1 / its.sigma**2
    felt = np.abs(its.slopes).max(axis=0) > FEELS
    power = (its.slopes**2 * weight[:, None]).sum(axis=0)
    by = np.where(
        felt, (its.slopes * (weight * its.misfit)[:, None]).sum(axis=0) / np.maximum(power, 1e-12), 0.0
    )
    left = np.array([chi2(its, its.misfit - its.slopes[:, k] * by[k]) for k in range(len(by))])
    if whole - float(left.min()) < SEEN:
        return []  # whatever is off here, the rows' own errors could have made it
    good = felt & (np.abs(by) <= MOST_CAUSE_MM) & (left < (1 - EXPLAINS) * whole)
    order = [int(k) for k in np.argsort(left) if good[k]][: 2 * MOST_CAUSES]
    exact = _refined(its, order, by)
    found = []
    for k, (amount, remains) in zip(order, exact, strict=True):
        what, axis, sign = _named(its, k)
        share = 1 - remains / whole
        if share >= EXPLAINS:
            found.append((Cause(what=what, axis=axis, by=sign * amount, explains=max(share, 0.0)), remains))
    found.sort(key=lambda one: one[1])
    return found[:MOST_CAUSES]


def _refined(its: Likely, order: list[int], by: Array) -> list[tuple[float, float]]:
    """Return each cause's amount and what it leaves, once more by the linkage itits."""
    weight, long = 1 / its.sigma**2, np.array([read.length for read in its.reads])
    amounts = {k: float(by[k]) for k in order}
    remains = {k: chi2(its, its.misfit - its.slopes[:, k] * by[k]) for k in order}
    places = [k for k in order if k < its.free]
    for _ in range(2):
        if not places:
            break
        moved = np.repeat(its.points[None], len(places), axis=0)
        for n, k in enumerate(places):
            moved[n, k // 3, k % 3] += amounts[k]
        lengths = its.lengths(moved)[0]
        for n, k in enumerate(places):
            left = long - lengths[n]
            if not np.isfinite(left).all():
                continue
            remains[k] = chi2(its, left)
            slope = its.slopes[:, k]
            step = float((slope * weight) @ left) / float((slope**2) @ weight)
            after = chi2(its, left - slope * step)
            if after < remains[k]:
                amounts[k], remains[k] = amounts[k] + step, after
    return [(amounts[k], remains[k]) for k in order]


def _named(its: Likely, k: int) -> tuple[str, str, float]:
    """Return what a cause is called, along what, and the sign that `out` has on its side."""
    if k < its.free:
        name, axis = its.names[k // 3], k % 3
        sign = -1.0 if axis == 1 and its.points[k // 3][1] < 0 else 1.0
        return name, AXES[axis], sign
    if k < its.free + len(its.rods):
        return its.rods[k - its.free], "length", 1.0
    return its.eyes[k - its.free - len(its.rods)], "eyes", 1.0


def untold_of(causes: list[tuple[Cause, float]]) -> tuple[tuple[str, ...], ...]:
    """Return the causes that this cycle cannot tell from the best one."""
    if len(causes) < 2:
        return ()
    best = causes[0][1]
    alike = [said_cause(cause) for cause, left in causes if left - best < NO_WORSE]
    return (tuple(alike),) if len(alike) > 1 else ()


def not_felt(its: Likely) -> tuple[tuple[str, ...], ...]:
    """Return the places and rods of the springing that may be off by FELT_MM without these lengths showing it."""
    power = np.sqrt((its.slopes**2 / its.sigma[:, None] ** 2).sum(axis=0))
    hidden = np.flatnonzero(power * FELT_MM < HIDDEN)
    ends = {end for law in its.solved.springing.laws for end in law.ends}
    names = [
        said_cause(Cause(what=what, axis=axis, by=0.0, explains=0.0))
        for what, axis, _ in (_named(its, int(k)) for k in hidden)
        if what in ends
    ]
    return (tuple(names),) if names else ()


def said_cause(cause: Cause) -> str:
    """Return a cause in a few words: `top, out` or `pushrod, length`."""
    return f"{cause.what}, {cause.axis}"


def cause_sentence(cause: Cause) -> Sentence:
    """Return a cause as a fabricator would check it."""
    told = {"by": length(abs(cause.by)), "share": Quantity(cause.explains, "share")}
    more = cause.by > 0
    words = {
        "ahead": "{0} {by} further " + ("ahead" if more else "back"),
        "out": "{0} {by} further " + ("out" if more else "in"),
        "up": "{0} {by} " + ("higher" if more else "lower"),
        "length": "{0} {by} " + ("longer" if more else "shorter") + " between its joints",
        "eyes": "{0}'s eyes {by} "
        + ("further apart" if more else "nearer together")
        + " than they were read",
    }[cause.axis]
    return Sentence(words + " explains {share} of it.", told, (cause.what,))


def what_tells(untold: tuple[tuple[str, ...], ...]) -> Sentence | None:
    """Return the reading that would tell causes apart that the cycle cannot."""
    if not untold:
        return None
    what, axis = untold[0][0].rsplit(", ", 1)
    how = {
        "ahead": "Measure how far {0} stands ahead of the datum line",
        "out": "Measure how far {0} stands out from the centreline",
        "up": "Measure how high {0} stands above the floor",
        "length": "Measure {0} between its joints",
        "eyes": "Measure {0} from eye to eye again, at one jack position",
    }[axis]
    return Sentence(how + ": that tells.", names=(what,))
