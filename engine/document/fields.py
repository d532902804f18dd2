"""The kinds of value that the project file is made of; what a number measures is said here, at its kind.

Measures  what a number is a number of: a key of sentences.PLAIN, by which it is shown in everybody's own units.
Columns   the same for the columns of a table.
Spatial   whether three numbers are a place, a direction or a turn: what becomes of them on the other side.
Still     a station's field that moves nothing.
Limits    what no fabricator's number passes: beyond them a value is a slip of the key or of the unit.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

MAX_COORDINATE_MM = 20_000.0
MAX_TRAVEL_MM = 1_000.0
MAX_LENGTH_MM = 5_000.0
MAX_FORCE_N = 1e6
MAX_RATE_N_PER_MM = 20_000.0
MAX_MASS_KG = 50_000.0
MAX_PRESSURE_BAR = 100.0
MAX_AREA_MM2 = 1e6
MAX_VOLUME_MM3 = 1e10


@dataclass(frozen=True)
class Measures:
    """What a number measures; published with the schema as `x-measures`."""

    what: str

    def __get_pydantic_json_schema__(
        self, core_schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        """Return the schema of the value with what it measures."""
        return {**handler(core_schema), "x-measures": self.what}


@dataclass(frozen=True)
class Spatial:
    """What three numbers are: a place in mm, a direction, or a turn in degrees about x, y, z."""

    kind: Literal["place", "direction", "turn"]


@dataclass(frozen=True)
class Columns:
    """What each column of a table measures; published with the schema as `x-columns`."""

    what: tuple[str, ...]

    def __get_pydantic_json_schema__(
        self, core_schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        """Return the schema of the table with what its columns measure."""
        return {**handler(core_schema), "x-columns": list(self.what)}


class Still:
    """A mark for a field of a station that moves nothing: a change of it leaves the linkage's path as it was."""


# Something that can be seen: a name of blanks or of joiners alone could not be pressed.
VISIBLE = r"[^\s\u200b-\u200f\u2028-\u202e\u2060-\u2064\ufeff]"
Name = Annotated[str, Field(min_length=1, max_length=120, pattern=VISIBLE)]
PointName = Annotated[str, Field(min_length=1, max_length=80, pattern=VISIBLE)]
Real = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-1e9, le=1e9)]
Coordinate = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=-MAX_COORDINATE_MM, le=MAX_COORDINATE_MM)
]
Triple = Annotated[list[Real], Field(min_length=3, max_length=3)]
Point = Annotated[list[Coordinate], Field(min_length=3, max_length=3), Spatial("place"), Measures("length")]
Direction = Annotated[Triple, Spatial("direction"), Measures("direction")]
Turn = Annotated[Triple, Spatial("turn"), Measures("angle")]

Length = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_LENGTH_MM), Measures("length")]
LengthOrNone = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_LENGTH_MM), Measures("length")
]
"""A length that may be nothing, mm."""
SignedLength = Annotated[
    float,
    Field(strict=True, allow_inf_nan=False, ge=-MAX_LENGTH_MM, le=MAX_LENGTH_MM),
    Measures("length"),
]
Travel = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_TRAVEL_MM), Measures("length")]
SignedTravel = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=-MAX_TRAVEL_MM, le=MAX_TRAVEL_MM), Measures("travel")
]
Force = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_FORCE_N), Measures("force")]
SomeForce = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_FORCE_N), Measures("force")]
Rate = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_RATE_N_PER_MM), Measures("rate")]
Mass = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_MASS_KG), Measures("mass")]
MassOrNone = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_MASS_KG), Measures("mass")]
Pressure = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_PRESSURE_BAR), Measures("pressure")
]
SomePressure = Annotated[
    float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_PRESSURE_BAR), Measures("pressure")
]
Volume = Annotated[
    float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_VOLUME_MM3), Measures("volume")
]
Angle = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=90), Measures("angle")]
AngleOrNone = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=180), Measures("angle")]
Share = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1), Measures("share")]
Frequency = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=100), Measures("frequency")]
Multiple = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1000), Measures("ratio")]
TwistRate = Annotated[
    float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e5), Measures("roll_stiffness")
]
Positive = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e9)]
NotNegative = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e9)]
Pair = Annotated[list[Real], Field(min_length=2, max_length=2)]
Ends = Annotated[list[PointName], Field(min_length=2, max_length=2)]


class Stated(BaseModel):
    """Base of every model: unknown keys stay, values do not change."""

    model_config = ConfigDict(extra="allow", frozen=True, defer_build=True)
