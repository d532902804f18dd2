"""How long everything takes: each arrangement, clearances, the headless command with its start.

    OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.everything

Each figure stands beside a plain way of doing the same in the same run, as a ratio: the machine's clock drifts.
"""

import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.linkage import best_of
from engine.document.read import check_project
from engine.document.write import project_text
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.limits.clearance import clearances
from engine.limits.distance import core_distance, core_of
from engine.limits.solids import placed_all, solids_of
from engine.linkage.batch import sweep_batch
from engine.linkage.grid import grid_of
from engine.linkage.linkage import Linkage
from engine.results.result_file import solve_project
from engine.station.solved import solve_station


def arrangements() -> str:
    """Print the solve of each arrangement: the station alone, and everything that the result says."""
    slowest = ("", 0.0)
    print(f"{'arrangement':26}{'station':>10}{'everything':>12}   station : everything")
    for layout in LAYOUTS:
        project = check_project(starting_project(layout))
        station = project.stations[0]
        alone = best_of(lambda station=station: solve_station(station), 5)  # type: ignore[misc]
        whole = best_of(lambda project=project: solve_project(project), 2)  # type: ignore[misc]
        print(f"{layout.name:26}{alone * 1e3:8.1f} ms{whole * 1e3:9.0f} ms   1 : {whole / alone:.0f}")
        slowest = max(slowest, (layout.name, whole), key=lambda item: item[1])
    return slowest[0]


def batch() -> None:
    """Print positions a second of many geometries of a wishbone pushrod corner, on one core."""
    linkage = Linkage(check_project(starting_project(layout_named("pushrod"))).stations[0])
    noise = np.random.default_rng(1).normal(size=(2000, *linkage.points.shape))
    travels = np.linspace(-55, 70, 41)
    pairs = [(linkage.index["eye"], linkage.index["top"])]
    spent = best_of(lambda: sweep_batch(linkage, linkage.points + noise, travels, pairs), 2)
    single = best_of(lambda: linkage.follow(travels), 3)
    ratio = single / 41 / (spent / 82_000)
    print(f"batch: {82_000 / spent:.0f} positions a second, {ratio:.0f} x one geometry at a time")


def rooms() -> None:
    """Print the clearances of thirty envelopes through heave by articulation."""
    values = starting_project(layout_named("axle-four-link"))["stations"][0]
    random, envelopes = np.random.default_rng(3), []
    for k in range(24):
        at = [
            float(random.uniform(-400, 600)),
            float(random.uniform(-700, 700)),
            float(random.uniform(420, 900)),
        ]
        end = [at[0] + 150, at[1] + 30, at[2]]
        shape = ("box", "cylinder", "capsule")[k % 3]
        envelopes.append(
            {
                "name": f"part {k}",
                "shape": shape,
                "centre": at,
                "size": [100, 80, 60],
                "along": [at, end],
                "radius": 30,
                "on": "chassis" if k % 2 else "axle",
            }
        )
    values = values | {"envelopes": envelopes}
    linkage = Linkage(
        check_project(
            {"format": "jugatrix-project", "version": 1, "name": "x", "stations": [values]}
        ).stations[0]
    )
    grid = grid_of(linkage, 41, 5)
    solids = solids_of(linkage.station)
    spent = best_of(lambda: clearances(linkage, grid), 3)
    at_all = placed_all(linkage, solids, grid.place)
    rows, parts = np.arange(grid.place.shape[2]), [at_all[s.name] for s in solids]

    def every_position() -> None:
        for i, one in enumerate(parts):
            for other in parts[:i]:
                core_distance(core_of([(one, rows)]), core_of([(other, rows)]), 0)

    plain = best_of(every_position, 1)
    print(
        f"clearances: {len(solids)} solids, {len(rows)} positions, {spent * 1e3:.0f} ms, {plain / spent:.0f} x faster than every pair everywhere"
    )


def command(name: str) -> None:
    """Print the headless command on the slowest example, start and all, beside a bare start of Python."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "project.json"
        file.write_text(project_text(starting_project(layout_named(name))))
        arguments = [
            sys.executable,
            "manage.py",
            "solve",
            str(file),
            "--out",
            str(Path(folder) / "out.json"),
        ]
        spent = best_of(lambda: subprocess.run(arguments, check=True), 3)
        bare = best_of(
            lambda: subprocess.run([sys.executable, "-c", "import numpy, pydantic"], check=True), 3
        )
    print(
        f"manage.py solve, {name}: {spent:.2f} s with its start; loading numpy and pydantic alone {bare:.2f} s"
    )


if __name__ == "__main__":
    began = time.perf_counter()
    slowest = arrangements()
    batch()
    rooms()
    command(slowest)
    print(f"(all of this took {time.perf_counter() - began:.0f} s)")
