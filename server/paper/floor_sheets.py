"""Sheets that are filled in on the floor: a station's cycle, the weigh-in."""

from collections.abc import Iterator

import numpy as np
from reportlab.platypus import Flowable, Spacer

from engine.sentences import spoken
from engine.station.solved import SolvedStation
from engine.vehicle.wheels import Vehicle
from server.paper.setting import Paper

CYCLE_ROWS, SPARE_ROWS = 9, 4
GAUGED = ("coilover", "damper", "spring", "air_spring")
CYCLE_CAUTION = "Stands under the frame and chocks before anybody is under it. Springs out, tyre on; fingers out of the rocker."
WEIGH_CAUTION = (
    "Level pad, tyres at pressure, rolled and settled; the driver’s weight in it as it will be driven."
)


def cycle_sheet(solved: SolvedStation, name: str, paper: Paper) -> Iterator[Flowable]:
    """Yield the sheet that a station is cycled by."""
    station = solved.station
    units = [unit.name for unit in station.units if unit.kind in GAUGED]
    yield paper.say(f"Cycle sheet: {spoken(station.name)}", "title")
    yield paper.say(f"{name}. {CYCLE_CAUTION}", "small")
    yield paper.say(
        "Date ____________   Read by ____________   Springs out ☐   Tyre on ☐   Bushes torqued at ride ☐"
    )
    yield Spacer(1, 6)
    travels = np.linspace(-station.travel.droop, station.travel.bump, CYCLE_ROWS)
    at = solved.at(travels)
    head = ["Wheel, from as drawn", "Wheel, read"]
    for unit in units:
        head += [f"{spoken(unit)}, drawn", f"{spoken(unit)}, read"]
    rows = [[*head, "What touched, and the gap"]]
    for n, z in enumerate(travels):
        row = [paper.figure(float(z), "travel") if round(z) else "as drawn", ""]
        for unit in units:
            long = float(at.units[unit].length[n])
            row += [paper.figure(long, "length") if np.isfinite(long) else "out of reach", ""]
        rows.append([*row, ""])
    rows += [[""] * len(rows[0]) for _ in range(SPARE_ROWS)]
    each = (paper.wide - 40) / (len(rows[0]) - 1)
    yield paper.table(rows, [each] * (len(rows[0]) - 1) + [40], 10)


def weigh_sheet(vehicle: Vehicle, name: str, paper: Paper) -> Iterator[Flowable]:
    """Yield the sheet that a vehicle is weighed by: what each wheel is planned to carry, and the heights that are wanted."""
    yield paper.say("Weigh-in sheet", "title")
    yield paper.say(f"{name}. {WEIGH_CAUTION}", "small")
    yield paper.say("Date ____________   Read by ____________   In it ______________________________")
    yield Spacer(1, 6)
    apart = vehicle.apart()
    rows = [["Wheel", "Planned", "Scale", "Again", "Again"]]
    rows += [[spoken(wheel.key), paper.figure(wheel.mass, "mass"), "", "", ""] for wheel in apart.wheels]
    yield paper.table(
        [*rows, ["Total", paper.figure(sum(wheel.mass for wheel in apart.wheels), "mass"), "", "", ""]],
        [paper.wide / 5] * 5,
        11,
    )
    yield Spacer(1, 8)
    heights = [["Height", "Wanted", "Read", "Again", "Again"]]
    for number, support in enumerate(apart.supports):
        station = support.solved.station
        if station.datum is not None:
            key = station.name if station.kind == "axle" else apart.wheels[apart.of(number)[0]].key
            wanted = station.datum.height - (station.travel.at or 0.0)
            heights.append(
                [f"{spoken(key)}: {spoken(station.datum.name)}", paper.figure(wanted, "length"), "", "", ""]
            )
    if len(heights) > 1:
        yield paper.table(heights, [paper.wide / 5] * 5, 11)
