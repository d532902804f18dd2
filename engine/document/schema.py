"""The open project file as typed models. Unknown keys are kept; wrong values are refused.

Fixed units in the file: mm, N, N/mm, kg, degrees, bar (gauge). Axes: x forward, y left, z up.
"""

from typing import Annotated, Literal

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
Length = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=MAX_LENGTH_MM)]
NotNegative = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0)]
Positive = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0)]
Travel = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=MAX_TRAVEL_MM)]
Pair = Annotated[list[Real], Field(min_length=2, max_length=2)]
Ends = Annotated[list[PointName], Field(min_length=2, max_length=2)]


class Part(BaseModel):
    """Base of every model: unknown keys stay, values do not change."""

    model_config = ConfigDict(extra="allow", frozen=True)


class Spring(Part):
    """One spring of a series stack: a rate or a force table, and the lengths that end it."""

    rate: Positive | None = Field(None, description="N/mm; or give `table`")
    table: Annotated[list[Pair], Field(min_length=2)] | None = Field(
        None, description="[[deflection mm, force N], …] from free, instead of `rate`"
    )
    free_length: Length = Field(description="mm, standing free")
    solid_length: NotNegative = Field(description="mm, coils touching")
    stop: Positive | None = Field(None, description="mm of deflection at which a crossover ring locks it")


Springs = Annotated[list[Spring], Field(min_length=1, max_length=3)]


class Coilover(Part):
    """A damper carrying its own coil stack. Stack compression = preload + extended − length."""

    name: Name
    kind: Literal["coilover"]
    ends: Ends
    extended: Length = Field(description="mm, eye to eye, topped out")
    compressed: Length = Field(description="mm, eye to eye, bottomed")
    gas_force: NotNegative = Field(0.0, description="N, pushes out")
    preload: Real = Field(
        0.0, description="mm of stack compression at full extension; negative is a loose spring"
    )
    springs: Springs


class SpringUnit(Part):
    """A spring standing by itself. Compression = Σ free_length − length."""

    name: Name
    kind: Literal["spring"]
    ends: Ends
    springs: Springs


class Damper(Part):
    """A damper with no spring on it."""

    name: Name
    kind: Literal["damper"]
    ends: Ends
    extended: Length = Field(description="mm, eye to eye, topped out")
    compressed: Length = Field(description="mm, eye to eye, bottomed")
    gas_force: NotNegative = Field(0.0, description="N, pushes out")


class AirSpring(Part):
    """A bag. F = 0.1·p·A(height), p from the closed valve, filled at ride height."""

    name: Name
    kind: Literal["air_spring"]
    ends: Ends
    pressure: NotNegative = Field(description="bar gauge at ride height")
    law: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=1, le=1.7)] = Field(
        1.38, description="gas exponent n: 1 slow, 1.38 fast"
    )
    height_table: Annotated[
        list[Annotated[list[Positive], Field(min_length=2, max_length=3)]], Field(min_length=2)
    ] = Field(description="[[height mm, area mm²] or [height, area, volume mm³], …]")
    min_height: Length
    max_height: Length
    max_pressure: Positive | None = Field(None, description="bar gauge")
    max_diameter: Positive | None = Field(None, description="mm")


class BumpStop(Part):
    """A stop that touches at a given length between its ends."""

    name: Name
    kind: Literal["bump_stop"]
    ends: Ends
    contact: NotNegative = Field(description="mm between the ends when it touches")
    table: Annotated[list[Pair], Field(min_length=2)] = Field(description="[[deflection mm, force N], …]")
    solid: Positive = Field(description="mm, greatest deflection")


class Strap(Part):
    """A limit strap, slack below its length."""

    name: Name
    kind: Literal["strap"]
    ends: Ends
    length: Length = Field(description="mm, taut and unloaded")
    stretch: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, lt=1)] = Field(
        0.0, description="fraction of its length at full load"
    )


Unit = Annotated[Coilover | SpringUnit | Damper | AirSpring | BumpStop | Strap, Field(discriminator="kind")]


class Link(Part):
    """A two-point body set to a length other than as drawn."""

    length: Length | None = Field(None, description="mm, centre to centre")


class Wheel(Part):
    """A wheel on a body: its centre, and a point outboard of it on the spin axis."""

    name: Name
    centre: PointName
    spindle: PointName | None = None
    tyre_radius: Length | None = None
    tyre_width: Length | None = None


class Mass(Part):
    """Per wheel, kg."""

    corner: Positive
    unsprung: NotNegative


class WantedTravel(Part):
    """Wanted wheel travel, both positive, mm from the drawn position."""

    bump: Travel
    droop: Travel


class Station(Part):
    """One corner, or one axle with two wheels."""

    name: Name
    kind: Literal["corner", "axle"]
    points: Annotated[dict[PointName, Point], Field(min_length=2, max_length=200)]
    chassis: list[PointName]
    bodies: Annotated[
        dict[PointName, Annotated[list[PointName], Field(min_length=2, max_length=60)]],
        Field(min_length=1, max_length=60),
    ]
    links: dict[PointName, Link] = Field(default_factory=dict)
    wheels: Annotated[list[Wheel], Field(min_length=1, max_length=2)]
    units: Annotated[list[Unit], Field(max_length=40)] = Field(default_factory=list)
    mass: Mass
    travel: WantedTravel


class Project(Part):
    """A whole job in one file."""

    format: Literal["jugatrix-project"]
    version: Literal[1]
    name: Name
    stations: Annotated[list[Station], Field(max_length=40)]
