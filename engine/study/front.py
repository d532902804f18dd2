"""The vehicles that nothing else beats: no other is at least as good in every wish and better in one.

Where there are more than can be walked along, those whose misses are least together stay. (Pareto 1906.)
"""

import numpy as np

from engine.linkage.vectors import Array

NO_MATTER = 1e-6
MET = 0.05  # a miss below this is none: nobody can measure it


def score_of(misses: dict[str, Array]) -> Array:
    """Return the squares of all misses (vehicles,) together, (vehicles,)."""
    total: Array = np.sum([miss**2 for miss in misses.values()], axis=0)
    return total


def unbeaten(misses: dict[str, Array], most: int) -> np.ndarray:
    """Return which vehicles nothing else beats by misses (vehicles,), (kept,) numbers, the least first, at most so many."""
    table = np.stack([np.where(miss < MET, 0.0, miss) for miss in misses.values()], axis=1)
    order = np.argsort(score_of(misses), kind="stable")
    kept: list[int] = []
    for k in order:
        if len(kept) == most:
            break
        # Whoever beats this one misses less together, and came before.
        if not kept or not (table[kept] <= table[k] + NO_MATTER).all(axis=1).any():
            kept.append(int(k))
    return np.array(kept, dtype=int)


def merged(fronts: list[dict[str, Array]], names: tuple[str, ...], most: int) -> dict[str, Array]:
    """Return the front of several tables with the same columns (vehicles,); `names` are the columns of the misses."""
    whole = [front for front in fronts if front and len(front["score"])]
    if not whole:
        return {}
    columns = {name: np.concatenate([front[name] for front in whole]) for name in whole[0]}
    kept = unbeaten({name: columns[name] for name in names}, most)
    return {name: values[kept] for name, values in columns.items()}
