"""The kinds of value that the project file is made of."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

MAX_COORDINATE_MM = 20_000.0
MAX_TRAVEL_MM = 1_000.0
MAX_LENGTH_MM = 5_000.0

Name = Annotated[str, Field(min_length=1, max_length=120, pattern=r"\S")]
PointName = Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
Real = Annotated[float, Field(strict=True, allow_inf_nan=False)]
Coordinate = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=-MAX_COORDINATE_MM, le=MAX_COORDINATE_MM)
]
Point = Annotated[list[Coordinate], Field(min_length=3, max_length=3)]
Direction = Annotated[list[Real], Field(min_length=3, max_length=3)]
Length = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_LENGTH_MM)]
NotNegative = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0)]
Positive = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0)]
Travel = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_TRAVEL_MM)]
Angle = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=90)]
Pair = Annotated[list[Real], Field(min_length=2, max_length=2)]
Ends = Annotated[list[PointName], Field(min_length=2, max_length=2)]


class Still:
    """A mark for a field of a station that moves nothing: a change of it leaves the linkage's path as it was."""


class Part(BaseModel):
    """Base of every model: unknown keys stay, values do not change."""

    model_config = ConfigDict(extra="allow", frozen=True)
