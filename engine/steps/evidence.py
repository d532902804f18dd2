"""What a job shows of its own work: everything that a step is judged by, worked out once.

Built    a station that is not a variant of another one: variants are compared, not made.
Bought   a line of To buy for one station; `state` there, come, ordered (and when it is due) or open.
"""

from dataclasses import field
from functools import cached_property
from typing import Literal

from engine.document.records import (
    CameRecord,
    ConfirmedRecord,
    CycleRecord,
    DriveRecord,
    MadeRecord,
    OrderedRecord,
    Record,
    SettingRecord,
    WeighRecord,
)
from engine.document.schema import Project, Station
from engine.errors import EngineError
from engine.facts import facts
from engine.frame.assembled import assembled
from engine.prove.gates import Gate
from engine.prove.proof import Proof, prove
from engine.results.whole import WorkedProject, WorkedStation, work_project
from engine.sentences import Sentence
from engine.shop.buying import Line, OnShelf, to_buy
from engine.shop.job_parts import JobParts, job_parts
from engine.shop.made import Made
from engine.shop.set_out import SetOut
from engine.shop.stock import METRIC, Stock
from engine.survey.worked import WorkedSurvey

EVERYTHING = "everything"


@facts
class Bought:
    """One thing that a station takes and that is bought."""

    line: Line
    state: Literal["there", "come", "ordered", "open"]
    due: str | None = None

    @property
    def said(self) -> str:
        """Return it as its line of To buy says it."""
        return f"{self.line.what} {self.line.size}"


@facts
class Evidence:
    """A job and all that it shows.

    worked, parts, proof : None where the linkage cannot move; `failed` then says why
    before : the revision before this one, where it is known
    """

    project: Project
    survey: WorkedSurvey
    worked: WorkedProject | None
    parts: JobParts | None
    proof: Proof | None
    failed: Sentence | None = None
    before: WorkedProject | None = None
    shelf: tuple[OnShelf, ...] = ()
    _bought: dict[str, tuple[Bought, ...]] = field(default_factory=dict)

    @property
    def built(self) -> list[Station]:
        """Return the stations that are built."""
        return [station for station in self.project.stations if station.variant_of is None]

    @property
    def records(self) -> list[Record]:
        """Return the records, in the file's order."""
        return list(self.project.records)

    def station(self, name: str) -> WorkedStation | None:
        """Return one station worked up; None where the job cannot be."""
        if self.worked is None:
            return None
        return next(one for one in self.worked.stations if one.work.station.name == name)

    def parts_of(self, name: str) -> list[Made]:
        """Return the parts of one station; the frame's tubes with the first station that stands on them."""
        if self.parts is None:
            return []
        mine = {name, *([self.parts.frame.station] if self.parts.frame and name == self.on_frame else [])}
        return [part for part in self.parts.parts if part.station in mine]

    @cached_property
    def on_frame(self) -> str:
        """Return the first station that has a mount on the frame; the first of all where none has."""
        stand = {mount.station for mount in assembled(self.project).mounts}
        return next((one.name for one in self.built if one.name in stand), self.built[0].name)

    def mounts_of(self, name: str) -> list[SetOut]:
        """Return the mounts of one station that are set out by themselves."""
        return (
            []
            if self.parts is None
            else [one for one in self.parts.mounts if one.station == name and one.tabs]
        )

    def gates_of(self, name: str) -> list[Gate]:
        """Return the gates of one station."""
        return [] if self.proof is None else [gate for gate in self.proof.gates if gate.station == name]

    def bought(self, name: str) -> tuple[Bought, ...]:
        """Return everything that is bought for one station, and how far each is."""
        if name not in self._bought:
            self._bought[name] = tuple(self._bought_for(name))
        return self._bought[name]

    def _bought_for(self, name: str) -> list[Bought]:
        if self.parts is None:
            return []
        lines = [
            line for line in to_buy(self.parts.only(name, name == self.on_frame), self.shelf) if line.needed
        ]
        return [self._state_of(line, name) for line in lines]

    def _state_of(self, line: Line, station: str) -> Bought:
        if line.buy == 0:
            return Bought(line=line, state="there")
        ordered: OrderedRecord | None = None
        for record in self.records:
            if isinstance(record, OrderedRecord | CameRecord) and _is_of(record, line, station):
                if isinstance(record, CameRecord):
                    return Bought(line=line, state="come")
                ordered = record
        if ordered is not None:
            return Bought(line=line, state="ordered", due=ordered.due)
        return Bought(line=line, state="open")

    @cached_property
    def cycles(self) -> list[CycleRecord]:
        """Return the cycles."""
        return [one for one in self.records if isinstance(one, CycleRecord)]

    def weighs(self) -> list[tuple[int, WeighRecord]]:
        """Return the weigh-ins on the level with their numbers."""
        return [
            (n, one)
            for n, one in enumerate(self.records)
            if isinstance(one, WeighRecord) and one.raised is None
        ]

    def drives(self) -> list[tuple[int, DriveRecord]]:
        """Return the drives with their numbers."""
        return [(n, one) for n, one in enumerate(self.records) if isinstance(one, DriveRecord)]

    def settings_after(self, number: int) -> list[SettingRecord]:
        """Return what was turned after a record."""
        return [one for n, one in enumerate(self.records) if isinstance(one, SettingRecord) and n > number]

    def made(self, station: str, part: str) -> list[MadeRecord]:
        """Return what was said to be made of one part."""
        return [
            one
            for one in self.records
            if isinstance(one, MadeRecord) and one.station == station and one.part == part
        ]

    def confirmed(self, step: str, station: str | None) -> ConfirmedRecord | None:
        """Return the last word that a step is done; None where nobody gave it."""
        its = [
            one
            for one in self.records
            if isinstance(one, ConfirmedRecord) and one.step == step and one.station in (None, station)
        ]
        return its[-1] if its else None


def _is_of(record: OrderedRecord | CameRecord, line: Line, station: str) -> bool:
    said = record.what.strip()
    return record.station in (None, station) and said in (EVERYTHING, f"{line.what} {line.size}", line.size)


def evidence_of(
    project: Project,
    stock: Stock = METRIC,
    shelf: tuple[OnShelf, ...] = (),
    before: Project | None = None,
) -> Evidence:
    """Return what a job shows. A linkage that cannot move is told by its first step, and refuses nothing."""
    worked: WorkedProject | None = None
    parts: JobParts | None = None
    proof: Proof | None = None
    failed = None
    try:
        worked = work_project(project)
        # What is made otherwise to find room is made in as many pieces: it need not be tried here.
        parts = job_parts(project, stock, fitted=False)
        proof = prove(project, throws=())
    except EngineError as error:
        failed = Sentence("{0}", names=(str(error),))
    return Evidence(
        project=project,
        survey=WorkedSurvey(project),
        worked=worked,
        parts=parts,
        proof=proof,
        failed=failed,
        before=None if before is None else _worked(before),
        shelf=shelf,
    )


def _worked(project: Project) -> WorkedProject | None:
    try:
        return work_project(project)
    except EngineError:
        return None
