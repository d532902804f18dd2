"""The search: rockers spread evenly over everything that may be chosen, the really different ones of the best kept.

A search is cut in parts that do not depend on one another, so that it can be shown as it runs, stopped, and go on.
Each part looks at all its rockers in a few positions of the wheel, and at the best of them in all.
Places are those of a Sobol' sequence (1967): every part alone is spread over the whole, and they interleave.
"""

from dataclasses import replace

import numpy as np

from engine.compiled import loaded
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import Choice, far_places, in_space, limits_of, rockers_from
from engine.sizing.rocker.moving import Moved, Rockers, move
from engine.sizing.rocker.scores import (
    MET,
    misses_of,
    past_centre,
    scores_of,
    squares_of,
    standing_misses,
    traits_of,
)
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide

TURNING = loaded("engine.sizing.rocker.turning")

PART = 16_384
SEED = 20
GLANCED = 7  # positions in which every rocker is looked at
BLOCK = 1_024  # rockers moved at once: what is worked out on the way stays in the processor's own memory
STEPS = {"rod_swing": 5.0, "size": 24.0, "turn": 8.0, "tilt": 4.0, "rod": 45.0, "change": 0.02}
ELSEWHERE_MM = 110.0
KEPT, SHOWN = 24, 160
CLOSE_LOOK = 1_200  # of a part, looked at in every position, their room too


@facts
class Found:
    """Rockers found, the best first.

    choices (n, 9), score (n,), misses and traits by name (n,), spots (n, 12) mm: pivot, joint, eye, far end at ride
    """

    choices: Array
    score: Array
    misses: dict[str, Array]
    traits: dict[str, Array]
    spots: Array

    def pick(self, which: np.ndarray) -> "Found":
        """Return some of them, by their numbers (k,)."""
        return Found(
            choices=self.choices[which],
            score=self.score[which],
            misses={name: values[which] for name, values in self.misses.items()},
            traits={name: values[which] for name, values in self.traits.items()},
            spots=self.spots[which],
        )


def search_part(side: WheelSide, targets: Targets, part: int, count: int = PART) -> tuple[Found, int]:
    """Return the best of one part of the search, really different from one another, and how many fit.

    Fit : those with arm and far end where they may be, that take the whole travel; told by GLANCED positions
    """
    low, high = limits_of(targets)
    from scipy.stats import qmc  # half a second, which only who searches pays

    sequence = qmc.Sobol(len(Choice), scramble=True, rng=SEED)
    if part:
        sequence.fast_forward(part * count)
    choices = low + sequence.random(count) * (high - low)
    order, fit = glanced_at(choices, side, targets)
    return different(looked_at(choices[order], side, targets), SHOWN), fit


def glanced_at(choices: Array, side: WheelSide, targets: Targets) -> tuple[np.ndarray, int]:
    """Return which rows of choices (n, 9) to look at closely, the best first, and how many fit.

    Told by a few positions and without what must be kept free. What arm and far end miss is known before anything moves, and
    a score is no less: those that miss most by it alone are never moved.
    """
    few, bare = in_few(side, GLANCED), targets.replaced(keep_outs=())
    rockers = rockers_from(choices, few, bare)
    standing = standing_misses(rockers, bare)
    least = squares_of(standing)
    within = np.all([miss <= MET for miss in standing.values()], axis=0)
    all_within = float(least[within].max(initial=0.0))
    looked: list[np.ndarray] = []
    scores = np.empty(0)
    for which in _blocks(np.argsort(least, kind="stable")):
        enough = len(scores) >= CLOSE_LOOK and np.partition(scores, CLOSE_LOOK - 1)[CLOSE_LOOK - 1]
        if enough and least[which[0]] > max(enough, all_within):
            break
        some = rockers.pick(which)
        moved = move(some, few.path, few.rate)
        score = scores_of(misses_of(some, moved, few, bare), moved.reached, past_centre(moved))
        looked.append(which)
        scores = np.concatenate([scores, score])
    seen = np.concatenate(looked)
    order = np.argsort(scores, kind="stable")[:CLOSE_LOOK]
    order = order[np.isfinite(scores[order])]
    return seen[order], int((np.isfinite(scores) & within[seen]).sum())


def _blocks(rows: np.ndarray) -> list[np.ndarray]:
    return [rows[start : start + BLOCK] for start in range(0, len(rows), BLOCK)]


def in_few(side: WheelSide, many: int) -> WheelSide:
    """Return a wheel side in about so many of its positions, both ends and ride among them."""
    rows = np.unique([*np.linspace(0, len(side.travels) - 1, many).round().astype(int), side.ride])
    return replace(
        side,
        travels=side.travels[rows],
        ride=int(np.searchsorted(rows, side.ride)),
        drawn=int(np.abs(side.travels[rows]).argmin()),
        path=side.path[rows],
        rate=side.rate[rows],
    )


def looked_at(choices: Array, side: WheelSide, targets: Targets) -> Found:
    """Return rows of choices (n, 9) judged by everything, the best first."""
    rockers = rockers_from(choices, side, targets)
    moved = move(rockers, side.path, side.rate)
    misses = misses_of(rockers, moved, side, targets)
    score = scores_of(misses, moved.reached, past_centre(moved))
    order = np.argsort(score, kind="stable")
    order = order[np.isfinite(score[order])]
    found = Found(
        choices=choices,
        score=score,
        misses=misses,
        traits=traits_of(rockers, moved, side),
        spots=spots_of(rockers, moved, side),
    )
    return found.pick(order)


def spots_of(rockers: Rockers, moved: Moved, side: WheelSide) -> Array:
    """Return where pivot, joint, eye and far end stand at ride, (n, 12) mm."""
    ride = side.ride
    return np.concatenate(
        [
            rockers.pivot,
            in_space(rockers, moved.joint[0][:, ride], moved.joint[1][:, ride]),
            in_space(rockers, moved.eye[0][:, ride], moved.eye[1][:, ride]),
            far_places(rockers),
        ],
        axis=1,
    )


def different(found: Found, most: int) -> Found:
    """Return those that are really different from every better one.

    Different is what a fabricator would call so: a trait that differs by more than its step, or a damper elsewhere.
    Where along its own bolt a rocker stands, or how far its damper is turned about the pivot, is no difference alone.
    """
    steps = np.array(list(STEPS.values()))
    traits = np.stack([np.nan_to_num(found.traits[name]) for name in STEPS], axis=1) / steps
    kept = _apart(traits, most, [])
    # Those that differ in what they do come first; only then those with their damper elsewhere.
    kept = _apart(np.hstack([traits, found.spots[:, 9:] / ELSEWHERE_MM]), most, kept)
    return found.pick(np.array(kept, dtype=int))


def _apart(marks: Array, most: int, kept: list[int]) -> list[int]:
    """Return rows, in order, that stand more than one from every row kept before, on top of some that are kept."""
    if not len(marks):
        return []
    rows, count = np.zeros(max(most, len(kept)), dtype=np.int64), np.array([len(kept)])
    rows[: len(kept)] = kept
    TURNING.apart(np.ascontiguousarray(marks), rows, count)
    found: list[int] = rows[: count[0]].tolist()
    return found
