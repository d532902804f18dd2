"""The sheets for the floor as a PDF: to cycle each station by, to weigh by, and what is to be turned."""

from collections.abc import Iterator

import numpy as np
from reportlab.platypus import Flowable, PageBreak, Spacer

from engine.prove.proof import Proof
from engine.sentences import spoken
from engine.station.solved import SolvedStation
from server.jobs.models import Job
from server.paper.setting import Paper
from server.records.proved import proved

CYCLE_ROWS, SPARE_ROWS = 9, 4
GAUGED = ("coilover", "damper", "spring", "air_spring")
CYCLE_CAUTION = "Stands under the frame and chocks before anybody is under it. Springs out, tyre on; fingers out of the rocker."
WEIGH_CAUTION = (
    "Level pad, tyres at pressure, rolled and settled; the driver’s weight in it as it will be driven."
)


def floor_pdf(job: Job, paper: Paper) -> bytes:
    """Return the floor's sheets of the newest revision: a cycle sheet a station, a weigh-in sheet, the setting list."""
    proof = proved(job)
    name = f"{job.name}, revision {job.newest().number}"
    if proof is None:
        words = "No station is drawn yet: there is nothing to cycle or to weigh."
        return paper.build([paper.say(name, "title"), paper.say(words)], name)
    story: list[Flowable] = []
    for support in proof.vehicle.supports:
        story += [*_cycle_sheet(support.solved, name, paper), PageBreak()]
    story += [*_weigh_sheet(proof, name, paper), PageBreak(), *_setting_list(proof, name, paper)]
    return paper.build(story, f"{name}, floor sheets")


def _cycle_sheet(solved: SolvedStation, name: str, paper: Paper) -> Iterator[Flowable]:
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


def _weigh_sheet(proof: Proof, name: str, paper: Paper) -> Iterator[Flowable]:
    yield paper.say("Weigh-in sheet", "title")
    yield paper.say(f"{name}. {WEIGH_CAUTION}", "small")
    yield paper.say("Date ____________   Read by ____________   In it ______________________________")
    yield Spacer(1, 6)
    apart = proof.vehicle.apart()
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


def _setting_list(proof: Proof, name: str, paper: Paper) -> Iterator[Flowable]:
    yield paper.say("Turn, in this order", "title")
    yield paper.say(
        f"{name}. On stands and with the wheels hanging while rods are turned; lock nuts tight and paint across them after.",
        "small",
    )
    yield Spacer(1, 6)
    last = next((one for one in reversed(proof.weighs) if one.after is not None), None)
    turning = [] if last is None else [one for one in last.turns if abs(one.by) > 0.05]
    if not turning:
        yield paper.say(
            "Nothing is left to turn."
            if last is not None
            else "Weigh it first: then this page says what to turn."
        )
        return
    rows = [["", "Where", "What", "Turn", "That is", "Left that way", "Done"]]
    for number, one in enumerate(turning, start=1):
        pressure = one.turns is None
        by = (
            f"{'+' if one.by > 0 else ''}{paper.figure(one.by, 'pressure')}"
            if pressure
            else paper.figure(one.by, "travel")
        )
        left = (
            ""
            if one.left_after is None
            else paper.figure(one.left_after, "pressure" if pressure else "length")
        )
        rows.append(
            [
                str(number),
                spoken(one.station),
                f"{spoken(one.what)}. {one.way.told(paper.inches)}",
                "" if one.turns is None else f"{round(one.turns * 4) / 4:+.2f}",
                by,
                left,
                "",
            ]
        )
    yield paper.table(rows, [8, paper.wide - 166, 64, 24, 26, 28, 16], 12)
    assert last is not None
    if last.after is not None:
        heights = ", ".join(
            f"{spoken(key)} {paper.figure(height, 'length')}" for key, height in last.after.heights.items()
        )
        travels = ", ".join(
            f"{spoken(key)} {paper.figure(at, 'travel')}" for key, at in last.after.travels.items()
        )
        yield Spacer(1, 6)
        yield paper.say(
            (f"Then it stands {heights}" if heights else f"Then each wheel stands, from as drawn, {travels}")
            + ("." if last.after.cross is None else f", and crosses {100 * last.after.cross:.1f} %.")
        )
