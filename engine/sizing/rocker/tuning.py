"""Many rockers brought to where their misses are least, all at once.

Levenberg (1944) and Marquardt (1963), each rocker with its own damping, within the limits of what may be chosen: a choice that
stands at a limit and wants beyond it stays there for the step. `moving` takes a thousand rockers as easily as one, so that
all rockers with all their slopes go through it together.
"""

from collections.abc import Callable

import numpy as np

from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import PLACES, Choice, limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.scores import misses_of
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide

TRIES = 40
HEAVY = 30.0
MOST_MISS, NO_MISS_MM = 200.0, 60.0  # a miss counts up to the first; the second where there is none to tell
SLOPE_STEP = 1e-5  # share of a choice's span
FIRST, LESS, MORE, STEEPEST = 1e-3, 0.2, 6.0, 1e6  # damping, as a share of the steepest slope's square
TINY = 1e-9
WON = 1e-6  # share of the squares that a step must win, else it is the last


def tune(rows: Array, side: WheelSide, targets: Targets, heavy: str = "", *, tries: int = TRIES) -> Array:
    """Return rows of choices (n, 9) moved to where the misses are least; one target may weigh more than all others.

    The rod arm keeps its length unless a target weighs heavy: else all of a short list would become one rocker.
    """
    low, high = limits_of(targets)
    still = {choice for choice in PLACES if np.abs(targets.edges[choice]).max() == 0} | {Choice.SIDE}
    free = np.array([k for k in Choice if k not in still and high[k] > low[k]], dtype=int)
    free = free if heavy else free[free != Choice.ROD_ARM]
    span = (high - low)[free]

    def whole(shares: Array, which: np.ndarray) -> Array:
        found = rows[which].copy()
        found[:, free] = low[free] + shares * span
        return np.asarray(found)

    def misses(shares: Array, which: np.ndarray) -> Array:
        rockers = rockers_from(whole(shares, which), side, targets)
        named = misses_of(rockers, move(rockers, side.path, side.rate), side, targets)
        columns = [
            np.nan_to_num(miss, nan=NO_MISS_MM) * (HEAVY if name == heavy else 1.0)
            for name, miss in named.items()
        ]
        return np.asarray(np.clip(np.stack(columns, axis=1), -MOST_MISS * HEAVY, MOST_MISS * HEAVY))

    start = np.clip((rows[:, free] - low[free]) / span, 1e-6, 1 - 1e-6)
    return whole(_least(misses, start, tries), np.arange(len(rows)))


def _least(misses: Callable[[Array, np.ndarray], Array], start: Array, tries: int) -> Array:
    """Return the shares (n, choices) in 0 to 1 at which each row's squares are least, as far as so many steps bring them.

    misses : of shares (m, choices) that belong to rows `which` (m,), (m, targets)
    """
    count, many = start.shape
    shares, damping = start.copy(), np.full(count, FIRST)
    going, moved = np.arange(count), np.ones(count, dtype=bool)
    here = misses(shares, going)
    slopes = np.zeros((count, here.shape[1], many))
    for _ in range(tries):
        anew = going[moved[going]]
        if len(anew):
            slopes[anew] = _slopes(misses, shares[anew], here[anew], anew)
        at, now = shares[going], here[going]
        pull = np.einsum("ntc,nt->nc", slopes[going], now)
        held = ((at <= 0.0) & (pull > 0)) | ((at >= 1.0) & (pull < 0))
        free = np.where(held[:, None, :], 0.0, slopes[going])
        normal = np.einsum("ntc,ntd->ncd", free, free)
        least = damping[going] * np.maximum(np.einsum("ncc->nc", normal).max(axis=1), TINY)
        step = -np.linalg.solve(
            normal + np.eye(many) * (least[:, None] + held)[:, None, :],
            np.where(held, 0.0, pull)[..., None],
        )
        there = np.clip(at + step[..., 0], 0.0, 1.0)
        after = misses(there, going)
        before_squares, after_squares = (now**2).sum(axis=1), (after**2).sum(axis=1)
        better = after_squares < before_squares
        moved[going] = better
        shares[going[better]], here[going[better]] = there[better], after[better]
        damping[going] *= np.where(better, LESS, MORE)
        won_little = better & (before_squares - after_squares < WON * before_squares)
        going = going[~(won_little | (damping[going] > STEEPEST))]
        if not len(going):
            break
    return shares


def _slopes(misses: Callable[[Array, np.ndarray], Array], at: Array, now: Array, which: np.ndarray) -> Array:
    """Return the slopes of misses by shares, (n, targets, choices), each stepped to the side where there is room."""
    count, many = at.shape
    step = np.where(at > 0.5, -SLOPE_STEP, SLOPE_STEP)
    stepped = at[:, None, :] + step[:, :, None] * np.eye(many)
    moved = misses(stepped.reshape(-1, many), np.repeat(which, many)).reshape(count, many, -1)
    return np.asarray(((moved - now[:, None, :]) / step[:, :, None]).transpose(0, 2, 1))
