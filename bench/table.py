"""The figures that speed is judged by, from one run, beside those before the work on them and what is wanted.

OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.table
"""

import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

import numpy as np
from django.conf import settings
from django.test import RequestFactory

from bench.linkage import best_of, plain_solver
from bench.nudge import nudged
from engine.document.read import check_project
from engine.findings.finding import RULES
from engine.layouts.catalogue import layout_named, starting_project
from engine.linkage.batch import sweep_batch
from engine.linkage.linkage import Linkage
from engine.ride.spread import spread_of
from engine.sizing.rocker.refine import refine
from engine.sizing.rocker.room import usual_room
from engine.sizing.rocker.search import search_part
from engine.sizing.rocker.sketch import glance
from engine.sizing.rocker.targets import Targets
from engine.sizing.rocker.wheel_side import wheel_side_of
from engine.station.solved import solve_again, solve_station
from engine.tests import samples
from engine.workup import WorkUp
from server.sizing import mounts
from server.solving import api

FILES = settings.ROOT / "server" / "demo" / "files"
PARTS = 8


def main() -> None:
    """Print the table."""
    corner = samples.station(samples.pushrod_corner())
    solved = solve_station(corner, steps=81)
    linkage = Linkage(corner)
    travels = np.linspace(-40, 40, 81)
    plain = best_of(lambda: plain_solver(linkage)(travels), 2)
    noise = linkage.points + np.random.default_rng(7).normal(0, 1, (2000, *linkage.points.shape))
    pair = [(linkage.index["damper_eye"], linkage.index["damper_anchor"])]
    batch = best_of(lambda: sweep_batch(linkage, noise, np.linspace(-40, 40, 41), pair), 2)
    told("positions in batch, wishbone pushrod corner", 82_000 / batch, "a second", 107_000, 400_000)
    told("plain fsolve, the same corner", 81 / plain, "a second")
    told(
        "full sweep of a corner, 81 positions",
        1e3 * best_of(lambda: solve_again(solved, corner)),
        "ms",
        11.5,
        3,
    )
    biggest = max(nudges().items(), key=lambda item: item[1])
    told(f"a nudge with findings, clearances, loads: {biggest[0]}", 1e3 * biggest[1], "ms", 500, 60)
    pushrod = solve_station(check_project(starting_project(layout_named("pushrod"))).stations[0])
    side = wheel_side_of(pushrod)
    room: dict[str, Any] = usual_room(side.pivot, side.far, side.shared)
    targets = Targets(**room, ratio=0.6, change=0.03)
    search_part(side, targets, 0)  # warm, as the process that searches is
    began = time.perf_counter()
    parts = [search_part(side, targets, part)[0] for part in range(PARTS)]
    told("rocker search, 131,072 x 42", time.perf_counter() - began, "s", 2.4, 0.4)
    best = min(parts, key=lambda found: float(found.score[0])).choices[:40]
    told("refined and proved", best_of(lambda: refine(pushrod, side, targets, best, RULES), 2), "s", 1.9, 0.4)
    told("a search that follows the hand", 1e3 * best_of(lambda: glance(pushrod, side, targets), 3), "ms")
    work = WorkUp(pushrod, True)
    clearances, ledger = work.clearances, work.ledger
    told(
        "intervals of 2,000 geometries, with angles, gaps, stops",
        best_of(lambda: spread_of(work.solved, clearances=clearances, ledger=ledger), 2),
        "s",
        1.2,
        0.3,
    )
    told("map of 1,681 mount places, one end moved", 1e3 * best_of(places_map(), 5), "ms", None, 150)
    told("manage.py solve, an ordinary corner, cold", cold(), "s", 1.0, 0.5)


def told(what: str, now: float, unit: str, before: float | None = None, wanted: float | None = None) -> None:
    """Print one line of the table."""

    def figure(value: float | None) -> str:
        return "" if value is None else f"{value:,.0f}" if value >= 20 else f"{value:.2f}"

    print(f"{what:60.60}{figure(now):>10} {unit:9}{figure(before):>9}{figure(wanted):>9}")


def nudges() -> dict[str, float]:
    """Return seconds of processor for a nudge, by demo station."""
    request, found = RequestFactory().post("/"), {}
    for file in sorted(FILES.glob("*.json")):
        document = json.loads(file.read_text("utf-8"))
        document = {key: value for key, value in document.items() if key not in ("survey", "records")}
        for number, station in enumerate(document["stations"]):
            if not station.get("variant_of"):
                api.solve(request, nudged(document, number))
                found[station["name"]] = best_of(
                    lambda document=document, number=number: api.solve(request, nudged(document, number)),  # type: ignore[misc]
                    4,
                )
    return found


def places_map() -> Callable[[], object]:
    """Return what asks for the map of the Heron's damper anchor, moved a little each time."""
    document = json.loads((FILES / "heron-three-wheeler.json").read_text("utf-8"))
    document = {key: value for key, value in document.items() if key not in ("survey", "records")}
    request = RequestFactory().post("/")

    def ask() -> object:
        document["stations"][0]["points"]["damper_anchor"][2] += 0.1
        body = mounts.PlacesIn(
            document=document,
            station=0,
            unit="coilover",
            end="damper_anchor",
            plan="front",
            half=120.0,
            count=41,
        )
        return mounts.places(request, body)

    ask()
    return ask


def cold() -> float:
    """Return seconds of the headless command with its start."""
    file = settings.ROOT / "docs" / "examples" / "wishbones-lower.json"
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "manage.py", "solve", str(file), "--out", str(Path(folder) / "out.json")]
        # As in a shop, where Python keeps what it compiled of these files.
        env = {key: value for key, value in os.environ.items() if key != "PYTHONDONTWRITEBYTECODE"}
        return best_of(lambda: subprocess.run(command, check=True, cwd=settings.ROOT, env=env), 3)


if __name__ == "__main__":
    main()
