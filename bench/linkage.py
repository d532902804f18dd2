"""Linkage speed, as ratios measured side by side in one run.

    OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.linkage

The plain solve is what one would write first: the same distances, one position at a time, with
scipy.optimize.fsolve from the position before.
"""

import time
from collections.abc import Callable
from itertools import combinations

import numpy as np
from scipy.optimize import fsolve

from engine.linkage.batch import sweep_batch
from engine.linkage.linkage import Linkage
from engine.station.solved import solve_again, solve_station
from engine.tests import samples

MOVING = ("lower_ball", "upper_ball", "steer_ball", "wheel", "push_low", "push_top")


def best_of(work: Callable[[], object], times: int = 15) -> float:
    """Return the shortest of several runs, seconds."""
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spent.append(time.perf_counter() - start)
    return min(spent)


def plain_solver(linkage: Linkage) -> Callable[[np.ndarray], list[np.ndarray]]:
    """Return a function that solves the corner's wheel side and rocker one position at a time."""
    index, drawn, bodies = linkage.index, linkage.points, linkage.bodies
    moving = [index[name] for name in MOVING]
    wheel = index["wheel"]
    pairs = {
        tuple(sorted((index[a], index[b])))
        for members in bodies.values()
        for a, b in combinations(members, 2)
        if {index[a], index[b]} & set(moving) and "spindle" not in (a, b) and "damper_eye" not in (a, b)
    }
    i, j = np.array(sorted(pairs)).T
    lengths = np.linalg.norm(drawn[i] - drawn[j], axis=1)
    unknowns = 3 * len(moving)

    def gaps(values: np.ndarray, travel: float) -> np.ndarray:
        place = drawn.copy()
        place[moving] = values.reshape(-1, 3)
        apart = place[i] - place[j]
        out = np.zeros(unknowns)
        out[: len(lengths)] = np.sqrt((apart * apart).sum(axis=1)) - lengths
        out[unknowns - 1] = place[wheel, 2] - drawn[wheel, 2] - travel
        return out

    assert len(lengths) + 1 == unknowns, "the distances must be as many as the unknowns"

    def solve(travels: np.ndarray) -> list[np.ndarray]:
        found = []
        for side in (travels[travels >= 0], travels[travels < 0][::-1]):
            values = drawn[moving].ravel()
            for travel in side:
                values, _, good, _ = fsolve(gaps, values, args=(travel,), full_output=True, xtol=1e-12)
                assert good == 1
                found.append(values)
        return found

    return solve


def main() -> None:
    """Print counts, times and ratios."""
    station = samples.station(samples.pushrod_corner())
    linkage = Linkage(station)
    travels = np.linspace(-40, 40, 81)
    plain = plain_solver(linkage)
    ours = linkage.follow(travels).solution.motion.place
    theirs = plain(travels)[40].reshape(-1, 3)
    apart = np.abs(theirs - ours[:, [linkage.index[n] for n in MOVING], 80].T).max()
    print(f"both agree within {apart:.1e} mm at full bump")

    plain_s = best_of(lambda: plain(travels), 3)
    places_s = best_of(lambda: linkage.places(travels))
    follow_s = best_of(lambda: linkage.follow(travels))
    solved = solve_station(station, steps=81)
    full_s = best_of(lambda: solve_again(solved, station))
    cold_s = best_of(lambda: solve_station(station, steps=81))
    print(f"plain solve, 81 positions                     {plain_s * 1e3:8.1f} ms")
    print(
        f"positions alone, 81                           {places_s * 1e3:8.1f} ms   {plain_s / places_s:6.1f} x"
    )
    print(
        f"positions with both derivatives, 81           {follow_s * 1e3:8.1f} ms   {plain_s / follow_s:6.1f} x"
    )
    print(
        f"everything: forces, ride, limits, wider search {full_s * 1e3:7.1f} ms   {plain_s / full_s:6.1f} x"
    )
    print(f"the same from the document's values           {cold_s * 1e3:8.1f} ms   {plain_s / cold_s:6.1f} x")

    geometries = linkage.points + np.random.default_rng(7).normal(0, 1, (2000, *linkage.points.shape))
    pair = [(linkage.index["damper_eye"], linkage.index["damper_anchor"])]
    wide = np.linspace(-40, 40, 41)
    batch_s = best_of(lambda: sweep_batch(linkage, geometries, wide, pair), 3)
    count = len(geometries) * len(wide)
    closed = int(sweep_batch(linkage, geometries, wide, pair).closed.sum())
    each, plain_each = batch_s / count, plain_s / 81
    print(
        f"batch, {count} positions, {closed} closed         {batch_s * 1e3:8.1f} ms   {plain_each / each:6.1f} x per position"
    )
    print(f"batch                                         {1 / each:8.0f} positions a second")


if __name__ == "__main__":
    main()
