"""How fast rockers are searched, beside the general solver taking the same candidates one by one.

OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.rockers
"""

import time
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.errors import EngineError
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.sizing.rocker.candidates import limits_of, rockers_from
from engine.sizing.rocker.moving import move
from engine.sizing.rocker.refine import refine, station_with
from engine.sizing.rocker.room import usual_room
from engine.sizing.rocker.search import PART, search_part
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import wheel_side_of
from engine.station.solved import mover_of, solve_station

PARTS = 8
ONE_BY_ONE = 40


def main() -> None:
    """Print the search of each arrangement with a rocker, and the ratio to the general solver."""
    print(f"{'arrangement':24}{'search':>9}{'a second':>12}{'refined':>10}   one by one, the same   ratio")
    for name in ("pushrod", "pullrod", "five-link", "single-rear-drop-link", "axle-cantilever"):
        solved = solve_station(check_project(starting_project(layout_named(name))).stations[0])
        side = wheel_side_of(solved)
        room: dict[str, Any] = usual_room(side.pivot, side.far, side.shared)
        targets = Targets(**room, ratio=0.6, change=0.03)
        start = time.perf_counter()
        parts = [search_part(side, targets, part)[0] for part in range(PARTS)]
        whole = time.perf_counter() - start
        best = min(parts, key=lambda found: float(found.score[0]))
        start = time.perf_counter()
        refine(solved, side, targets, best.choices[:40], RULES)
        refined = time.perf_counter() - start
        each = _one_by_one(solved, side, targets)
        rate = PARTS * PART / whole
        print(
            f"{name:24}{whole:7.2f} s{rate:12,.0f}{refined:8.2f} s"
            f"{each * PARTS * PART:18,.0f} s{each * rate:12,.0f} x"
        )
    print(
        f"each search {PARTS * PART:,} rockers x {len(side.travels)} positions, over-centre and room looked at"
    )


def _one_by_one(solved, side, targets) -> float:  # type: ignore[no-untyped-def]
    """Return seconds for one candidate by the general solver: its linkage put together and followed, its ratio taken."""
    low, high = limits_of(targets)
    numbers = np.random.default_rng(1).uniform(low, high, (4 * ONE_BY_ONE, len(low)))
    rockers = rockers_from(numbers, side, targets)
    whole = np.flatnonzero(move(rockers, side.path, side.rate).reached)[:ONE_BY_ONE]
    start = time.perf_counter()
    for k in whole:
        try:
            station, _ = station_with(solved, side, rockers.pick(np.array([k])))
            mover_of(station, travels=side.travels).along  # noqa: B018
        except EngineError:
            continue
    return (time.perf_counter() - start) / max(len(whole), 1)


if __name__ == "__main__":
    main()
