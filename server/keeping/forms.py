"""What backups and exports say of themselves, as it must be before anything of it is believed."""

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

Count = Annotated[int, Field(ge=0)]
Kind = Literal["reading", "photo", "guard", "mark", "tool", "record"]
Name = Annotated[str, Field(min_length=1, max_length=150)]
PICTURE = r"^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}\.jpg$"


class _Said(BaseModel):
    model_config = ConfigDict(extra="ignore", frozen=True)


class BackupSaid(_Said):
    """`backup.json`."""

    form: int
    made: datetime
    rows: dict[str, Count]
    pictures: list[Annotated[str, Field(pattern=PICTURE)]]


class ShopSaid(_Said):
    """`shop.json` of an export."""

    name: Annotated[str, Field(max_length=120)]
    address: Annotated[str, Field(max_length=400)]
    currency: Annotated[str, Field(max_length=6)]


class WeekSaid(_Said):
    """`week.json` of an export; what was said is read as the file of people is."""

    said: dict[str, Any]
    by: str | None
    at: datetime


class JobSaid(_Said):
    """`job.json` of an export."""

    id: UUID
    name: Annotated[str, Field(min_length=1)]
    owner: Name
    members: list[Name]
    created: datetime
    removed: datetime | None


class RevisionSaid(_Said):
    """A row of `log.csv`."""

    number: Annotated[int, Field(ge=1)]
    parent: str
    author: Name
    created: datetime
    reason: str


class ItemSaid(_Said):
    """One thing that was read, of `items.json`."""

    kind: Kind
    key: Annotated[str, Field(min_length=1, max_length=220)]
    body: Any
    place: int
    gone: bool
    by: str | None
    at: datetime


class PictureSaid(_Said):
    """One picture, of `photographs.json`."""

    id: UUID
    name: Annotated[str, Field(max_length=120)]
    width: Annotated[int, Field(ge=1)]
    height: Annotated[int, Field(ge=1)]
    straightened: UUID | None
    mm_per_pixel: Annotated[float, Field(gt=0)] | None
    ends: list[list[float]] | None
    length: float | None
    said: Annotated[str, Field(max_length=800)]
    shown: list[list[float]] | None = None
    errors: list[list[float]] | None = None
    by: str | None
    at: datetime
    gone: bool


ITEMS = TypeAdapter(list[ItemSaid])
PICTURES = TypeAdapter(list[PictureSaid])
