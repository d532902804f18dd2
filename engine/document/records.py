"""What was found and done on the floor, in order of time: cycles, weigh-ins, settings, readings, drives, initials, cautions
seen to; parts made, ordered and come; a person's word.

A record is kept as it was typed: figures that cannot be are marked when they are worked out, not refused here.
"""

from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from engine.document.fields import Measures, Name, PointName, Stated

Figure = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-1e6, le=1e6)]
Millimetres = Annotated[Figure, Measures("length")]
Kilograms = Annotated[Figure, Measures("mass")]
Degrees = Annotated[Figure, Measures("angle")]


class Recorded(Stated):
    """What every record says: when, by whom, on which revision, with which photographs."""

    # `with` and `from` are the file's own names, and words of the language that this is written in.
    model_config = ConfigDict(
        extra="allow", frozen=True, populate_by_name=True, serialize_by_alias=True, defer_build=True
    )

    when: str = Field(min_length=4, max_length=40, description="ISO 8601")
    by: str | None = Field(None, max_length=120)
    note: str | None = Field(None, max_length=4000)
    photos: list[str] = Field(default_factory=list, max_length=40)
    revision: Annotated[int, Field(ge=1)] | None = None
    hours: Annotated[Figure, Field(ge=0, le=1000)] | None = Field(None, description="how long it took")


class CycleRow(Stated):
    """One jack position: the wheel's travel from as drawn, or its middle above the floor; lengths eye to eye, mm."""

    wheel: Millimetres | None = None
    height: Millimetres | None = None
    lengths: dict[Name, Millimetres] = Field(default_factory=dict)
    camber: Degrees | None = None


class Contact(Stated):
    """Something that touched, or nearly: where the wheel stood, what, and the gap that was left, mm."""

    what: str = Field(min_length=1, max_length=200)
    wheel: Millimetres | None = None
    gap: Millimetres | None = None


class CycleRecord(Recorded):
    """The wheel jacked through its travel."""

    kind: Literal["cycle"]
    station: Name
    springs_out: bool = False
    tyre_on: bool = False
    torqued: bool = False
    rows: Annotated[list[CycleRow], Field(max_length=400)] = Field(default_factory=list)
    contacts: Annotated[list[Contact], Field(max_length=100)] = Field(default_factory=list)


class Raised(Stated):
    """One end's wheels stood higher, with the springs locked: what finds the height of the centre of gravity."""

    end: Literal["front", "rear"]
    by: Millimetres


class WeighRecord(Recorded):
    """Every wheel on a scale, kg; heights of the stations' datums above the floor, mm."""

    kind: Literal["weigh"]
    loaded: str | None = Field(None, alias="with", max_length=400)
    wheels: dict[str, Kilograms] = Field(default_factory=dict, max_length=40)
    heights: dict[str, Millimetres] = Field(default_factory=dict, max_length=40)
    raised: Raised | None = None


class SettingRecord(Recorded):
    """Something turned: mm of perch, rod, strap or stop, bar of pressure, or another hole."""

    kind: Literal["setting"]
    station: Name
    what: Literal["pushrod", "rod", "perch", "pressure", "strap", "stop", "hole", "spring"]
    unit: PointName | None = None
    was: Figure | None = Field(None, alias="from")
    to: Figure | None = None
    turns: Figure | None = None


class ReadingRecord(Recorded):
    """A single figure: a bag's pressure, a gap."""

    kind: Literal["reading"]
    of: str = Field(min_length=1, max_length=200)
    station: Name | None = None
    value: Figure
    unit: str = Field("", max_length=20)


class DriveRecord(Recorded):
    """A drive: what was remarked, and how much travel the rings on the shafts say was used, mm."""

    kind: Literal["drive"]
    used_bump: Millimetres | None = None
    used_droop: Millimetres | None = None
    station: Name | None = None
    good: bool = Field(False, description="the settings of that day are worth finding again")


class GateRecord(Recorded):
    """A person's initials beside a gate."""

    kind: Literal["gate"]
    name: str = Field(min_length=1, max_length=60)
    station: Name | None = None
    initials: str = Field(min_length=1, max_length=12)


class CautionRecord(Recorded):
    """A caution that a person has said is seen to, before the work that wants it."""

    kind: Literal["caution"]
    what: str = Field(min_length=1, max_length=400)
    station: Name | None = None


class MadeRecord(Recorded):
    """A part that was made, and what it was made to: a drawing changed since is then seen."""

    kind: Literal["made"]
    station: Name
    part: str = Field(min_length=1, max_length=200)
    count: Annotated[int, Field(ge=1, le=1000)] | None = Field(None, description="pieces; left out: all")
    figures: dict[str, Figure] = Field(
        default_factory=dict,
        max_length=60,
        description="its figures as they then were, by their keys in parts.json",
    )


class OrderedRecord(Recorded):
    """Something of To buy that was ordered: `what` as its line says, or `everything`; when it should come."""

    kind: Literal["ordered"]
    what: str = Field(min_length=1, max_length=300)
    station: Name | None = None
    due: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")] | None = Field(
        None, description="ISO 8601, a day"
    )


class CameRecord(Recorded):
    """Something ordered that has come: `what` as its line says, or `everything`."""

    kind: Literal["came"]
    what: str = Field(min_length=1, max_length=300)
    station: Name | None = None


class ConfirmedRecord(Recorded):
    """A person's word that a step is done as it should be, where nothing else can show it: the braces are on."""

    kind: Literal["confirmed"]
    step: str = Field(min_length=1, max_length=60)
    station: Name | None = None
    initials: str = Field(min_length=1, max_length=12)


RECORD_KINDS = (
    "cycle", "weigh", "setting", "reading", "drive", "gate", "caution", "made", "ordered", "came", "confirmed",
)  # fmt: skip
Record = Annotated[
    CycleRecord
    | WeighRecord
    | SettingRecord
    | ReadingRecord
    | DriveRecord
    | GateRecord
    | CautionRecord
    | MadeRecord
    | OrderedRecord
    | CameRecord
    | ConfirmedRecord,
    Field(discriminator="kind"),
]
