"""The search: rockers spread evenly over everything that may be chosen, the really different ones of the best kept.

A search is cut in parts that do not depend on one another, so that it can be shown as it runs, stopped, and go on.
Places are those of a Sobol' sequence (1967): every part alone is spread over the whole, and they interleave.
"""

from dataclasses import dataclass

import numpy as np
from scipy.stats import qmc

from engine.linkage.vectors import Array
from engine.sizing.rocker.candidates import Choice, far_places, in_space, limits_of, rockers_from
from engine.sizing.rocker.kernel import Moved, Rockers, move
from engine.sizing.rocker.scores import misses_of, past_centre, scores_of, traits_of
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import WheelSide

PART = 16_384
SEED = 20
STEPS = {"rod_swing": 5.0, "size": 24.0, "turn": 8.0, "tilt": 4.0, "rod": 45.0, "change": 0.02}
ELSEWHERE_MM = 110.0
KEPT, SHOWN = 24, 160
CLOSE_LOOK = 1_500  # of a part, whose room is looked at too: the slowest


@dataclass(frozen=True, kw_only=True)
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
        """Return some of them."""
        return Found(
            choices=self.choices[which],
            score=self.score[which],
            misses={name: values[which] for name, values in self.misses.items()},
            traits={name: values[which] for name, values in self.traits.items()},
            spots=self.spots[which],
        )


def search_part(side: WheelSide, targets: Targets, part: int, count: int = PART) -> tuple[Found, int]:
    """Return the best of one part of the search, really different from one another, and how many took the travel."""
    low, high = limits_of(targets)
    sequence = qmc.Sobol(len(Choice), scramble=True, rng=SEED)
    if part:
        sequence.fast_forward(part * count)
    choices = low + sequence.random(count) * (high - low)
    rockers = rockers_from(choices, side, targets)
    moved = move(rockers, side.path, side.rate)
    reached, past = moved.reached, past_centre(moved)
    score = scores_of(misses_of(rockers, moved, side, targets.replaced(keep_outs=())), reached, past)
    order = np.argsort(score)[:CLOSE_LOOK]
    order = order[np.isfinite(score[order])]
    found = looked_at(choices[order], side, targets)
    return different(found, SHOWN), int((reached & ~past).sum())


def looked_at(choices: Array, side: WheelSide, targets: Targets) -> Found:
    """Return rows of choices judged by everything, the best first."""
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
    kept = list(kept)
    for k in range(len(marks)):
        if len(kept) >= most:
            break
        if k not in kept and (not kept or (np.abs(marks[kept] - marks[k]).max(axis=1) > 1.0).all()):
            kept.append(k)
    return kept
