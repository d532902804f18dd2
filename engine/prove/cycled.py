"""A cycle against the drawn curve: how far off each length is, the ratio as it was built, and what was likely built.

Misfit    length read − length drawn at the same wheel travel; its error is the length's own and the wheel height's, by the ratio.
"""

import numpy as np

from engine.document.records import CycleRecord
from engine.document.schema import Coilover, Damper, Project
from engine.facts import facts
from engine.forces.units import damper_ends_mm
from engine.prove.causes import Cause, causes_of, not_felt, untold_of, what_tells
from engine.prove.likely import Built, Likely, Read
from engine.prove.misread import misread
from engine.sentences import Sentence, length, travel
from engine.station.solved import SolvedStation

LEAST_ROWS = 3
FITS = 4.0  # mean square of misfits in their standard errors, beyond which it does not move as it is drawn


@facts
class MisreadRow:
    """A row that was misread, from 1, or one of several of which one was: what was read, and what the others make of it, mm."""

    row: int
    unit: str
    wheel: float
    length: float
    others: float
    sigma: float
    alone: bool

    @property
    def say(self) -> Sentence:
        """Return what is wrong with it, and what to do."""
        told = {"read": length(self.length), "others": length(self.others), "wheel": travel(self.wheel)}
        words = f"Row {self.row}: {{0}} was read {{read}} with the wheel at {{wheel}}, and the other rows say {{others}}. "
        words += (
            "Read it again; it is not counted."
            if self.alone
            else "It or another one named here is misread: read both again; neither is counted."
        )
        return Sentence(words, told, (self.unit,))


@facts
class Cycled:
    """A cycle worked out; lengths mm. ride : where it stands as built and the standard error of that; None where nowhere.

    misread : rows that do not fit the others; nothing else here counts them
    fits    : whether it moves as drawn within what tape and rule can tell
    """

    record: int
    station: str
    rms: float | None
    worst: tuple[float, float] | None
    built: tuple[Built, ...]
    causes: tuple[Cause, ...]
    cannot_tell: tuple[tuple[str, ...], ...]
    tell: Sentence | None
    ride: tuple[float, float] | None
    moved: dict[str, tuple[float, float, float]]
    reached: tuple[float, float] | None
    said: tuple[Sentence, ...]
    misread: tuple[MisreadRow, ...] = ()
    fits: bool = True


def cycled(project: Project, solved: SolvedStation, number: int, record: CycleRecord) -> Cycled:
    """Return a cycle worked out against its station."""
    reads, said = _reads(project, solved, record)
    travels = [read.wheel for read in reads]
    reached = (min(travels), max(travels)) if travels else None
    if len(set(travels)) < LEAST_ROWS:
        if travels:
            said.append(
                Sentence(
                    f"Only {len(set(travels))} jack positions count: read {LEAST_ROWS} at least, better nine."
                )
            )
        return Cycled(record=number, station=record.station, rms=None, worst=None, built=(), causes=(), cannot_tell=(),
                      tell=None, ride=None, moved={}, reached=reached, said=tuple(said))  # fmt: skip
    its = Likely(project, solved, reads)
    rows, said_of_rows = _misread(its)
    if rows:
        out = {(row.row, row.unit) for row in rows}
        its = Likely(project, solved, [read for read in its.reads if (read.row, read.unit) not in out])
    said += said_of_rows
    worst = int(np.abs(its.misfit).argmax())
    causes = causes_of(its)
    alike = untold_of(causes)
    fits = float(((its.misfit / its.sigma) ** 2).mean()) < FITS
    if not fits and not causes and not said_of_rows:
        said.append(
            Sentence(
                "It is {rms} off the drawn curve, more than tape and rule make, and nothing that is looked for explains it by "
                "itself: cycle it again.",
                {"rms": length(float(np.sqrt((its.misfit**2).mean())))},
            )
        )
    return Cycled(
        record=number,
        station=record.station,
        rms=float(np.sqrt((its.misfit**2).mean())),
        worst=(its.reads[worst].wheel, float(its.misfit[worst])),
        built=its.built(),
        causes=tuple(cause for cause, _ in causes),
        cannot_tell=(*alike, *not_felt(its)),
        tell=what_tells(alike),
        ride=its.ride(),
        moved=its.moved(),
        reached=reached,
        said=tuple(said),
        misread=rows,
        fits=fits,
    )


def _misread(its: Likely) -> tuple[tuple[MisreadRow, ...], list[Sentence]]:
    """Return the rows of a cycle that were misread, and what is said of them."""
    found = misread(its.slopes, its.sigma, its.prior, its.misfit)
    if found is None:
        words = "So many rows do not fit one another that none can be named: cycle it again."
        return (), [Sentence(words)]
    rows = []
    for one in found:
        for k, by, sigma in zip(one.rows, one.by, one.sigma, strict=True):
            read = its.reads[k]
            rows.append(
                MisreadRow(
                    row=read.row,
                    unit=read.unit,
                    wheel=read.wheel,
                    length=read.length,
                    others=read.length - by,
                    sigma=sigma,
                    alone=len(one.rows) == 1,
                )
            )
    return tuple(rows), [row.say for row in rows]


def _reads(project: Project, solved: SolvedStation, record: CycleRecord) -> tuple[list[Read], list[Sentence]]:
    """Return the lengths that count, and what is said of those that cannot."""
    station, said = solved.station, []
    units = {unit.name: unit for unit in station.units}
    found: list[Read] = []
    low, high = (
        float(solved.path.travels[solved.path.reached].min()),
        float(solved.path.travels[solved.path.reached].max()),
    )
    for row_number, row in enumerate(record.rows, start=1):
        wheel = row.wheel
        if wheel is None and row.height is not None:
            floor = 0.0 if project.vehicle is None else project.vehicle.floor
            wheel = row.height - (station.points[station.wheels[0].centre][2] - floor)
        if wheel is None:
            said.append(
                Sentence(
                    f"Row {row_number} says neither where the wheel stood nor its height: it is left out."
                )
            )
            continue
        if not low <= wheel <= high:
            words = f"Row {row_number}: the wheel at {{wheel}} is beyond what the drawn linkage reaches ({{low}} to {{high}}): read it again, or draw it as it is."
            said.append(Sentence(words, {"wheel": travel(wheel), "low": travel(low), "high": travel(high)}))
            continue
        for name, long in row.lengths.items():
            unit = units.get(name)
            if unit is None:
                said.append(
                    Sentence(f"Row {row_number}: {{0}} is no unit of {{1}}.", names=(name, station.name))
                )
                continue
            if long <= 0:
                said.append(
                    Sentence(
                        f"Row {row_number}: {{0}} cannot be {{it}} long; read it again.",
                        {"it": length(long)},
                        (name,),
                    )
                )
                continue
            if isinstance(unit, Coilover | Damper):
                extended, compressed = damper_ends_mm(unit)
                if not compressed - 3 <= long <= extended + 3:
                    words = f"Row {row_number}: {{0}} at {{it}} is outside what it can be, {{low}} to {{high}}: read it again. It is left out."
                    told = {"it": length(long), "low": length(compressed), "high": length(extended)}
                    said.append(Sentence(words, told, (name,)))
                    continue
            found.append(Read(name, wheel, long, row_number))
    order = [row.wheel for row in record.rows if row.wheel is not None]
    if len(order) > 2 and order != sorted(order) and order != sorted(order, reverse=True):
        said.append(
            Sentence(
                "The rows are not in the order of the jack: nothing is lost by it, but look whether one was mistyped."
            )
        )
    return found, said
