"""How fast parts are made, a vehicle is stood on its wheels, and a cycle is worked out.

    OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.floor

Beside each, in the same run, one solve of the station by itself: what everything else is told in.
"""

import copy
import json
from pathlib import Path

import numpy as np
from scipy.optimize import fsolve

from bench.linkage import best_of
from engine.conventions import GRAVITY_M_PER_S2
from engine.document.make import Make
from engine.document.read import check_project
from engine.findings.finding import rules_of
from engine.prove.proof import prove
from engine.shop.parts import Maker, station_parts
from engine.shop.room import roomy
from engine.shop.stock import METRIC
from engine.station.solved import solve_station
from engine.vehicle.stance import stance
from engine.vehicle.wheels import vehicle_of
from engine.workup import WorkUp

FILES = Path(__file__).parents[1] / "server" / "demo" / "files"


def main() -> None:
    """Print the figures."""
    tender = check_project(json.loads((FILES / "hollin-fell-fire-tender.json").read_text()))
    heron = check_project(json.loads((FILES / "heron-three-wheeler.json").read_text()))
    station = tender.stations[0]
    one = best_of(lambda: solve_station(station), 5)
    work = WorkUp(solve_station(station))
    maker = Maker(work, rules_of(tender.judging, station.judging), METRIC, station.make or Make())
    its = station_parts(maker)
    print(f"one solve of the tender's axle               {one * 1e3:8.1f} ms")
    for name, seconds in (
        (f"its {len(its.parts)} parts proposed and checked", best_of(lambda: station_parts(maker), 5)),
        ("whether they fit, bolts and all", best_of(lambda: roomy(maker, its), 3)),
    ):
        print(f"{name:<44} {seconds * 1e3:8.1f} ms  {seconds / one:6.1f} solves")
    vehicle = vehicle_of(tender)
    stance(vehicle)
    ours = best_of(lambda: stance(vehicle), 5)

    def plain() -> np.ndarray:
        x, y = (np.array([getattr(wheel, axis) for wheel in vehicle.wheels]) for axis in ("x", "y"))
        carried = np.array([wheel.carried(False) * GRAVITY_M_PER_S2 for wheel in vehicle.wheels])

        def gap(body: np.ndarray) -> np.ndarray:
            force = [
                float(
                    vehicle.supports[w.station]
                    .solved.at(np.array([-(body[0] - body[1] * w.x + body[2] * w.y)]))
                    .wheel_force[0]
                )
                for w in vehicle.wheels
            ]
            off = np.array(force) - carried
            return np.array([off.sum(), off @ x, off @ y])

        return np.asarray(fsolve(gap, np.zeros(3)))

    theirs = best_of(plain, 1)
    print(
        f"the tender on its four wheels                {ours * 1e3:8.1f} ms  {theirs / ours:6.1f} x fsolve on the linkage"
    )
    document = json.loads((FILES / "heron-three-wheeler.json").read_text())
    cycles = [record for record in document["records"] if record["kind"] == "cycle"]
    lone = check_project({**copy.deepcopy(document), "records": cycles[:1]})
    bare = check_project({**copy.deepcopy(document), "records": []})
    car = vehicle_of(heron)
    empty = best_of(lambda: prove(bare, car), 3)
    whole, single = best_of(lambda: prove(heron, car), 2), best_of(lambda: prove(lone, car), 2)
    print(f"a cycle of nine rows worked out              {(single - empty) * 1e3:8.1f} ms")
    print(f"everything of the Heron's days on the floor  {whole * 1e3:8.1f} ms")


if __name__ == "__main__":
    main()
