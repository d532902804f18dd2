"""The open project file as typed models. Unknown keys are kept; wrong values are refused.

Fixed units in the file: mm, N, N/mm, kg, degrees, bar (gauge). Axes: x forward, y left, z up.
"""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import (
    Length,
    MassOrNone,
    Name,
    Point,
    PointName,
    SignedTravel,
    Stated,
    Still,
    Travel,
)
from engine.document.fields import Mass as Kilograms
from engine.document.fittings import (
    Adjusting,
    ComingPart,
    Datum,
    Envelope,
    Holes,
    Joint,
    Judging,
    LoadCase,
    RockerPlate,
    Rod,
    Shaft,
    Slider,
    Steering,
    Tank,
    Uncertainty,
    Vehicle,
)
from engine.document.frame import Frame
from engine.document.make import Make
from engine.document.records import Record
from engine.document.survey import Survey
from engine.document.units import (
    AirSpring,
    AnyUnit,
    Bar,
    BumpStop,
    Coilover,
    Damper,
    Spring,
    SpringUnit,
    Strap,
    Unit,
)
from engine.document.work import Work

__all__ = [
    "Adjusting",
    "AirSpring",
    "Bar",
    "BumpStop",
    "Coilover",
    "ComingPart",
    "Damper",
    "Datum",
    "Envelope",
    "Frame",
    "Holes",
    "Joint",
    "Judging",
    "Link",
    "Make",
    "Mass",
    "Project",
    "RockerPlate",
    "Rod",
    "Shaft",
    "Slider",
    "Spring",
    "SpringUnit",
    "Stated",
    "Station",
    "Steering",
    "Strap",
    "Survey",
    "Tank",
    "Uncertainty",
    "Unit",
    "Vehicle",
    "WantedTravel",
    "Wheel",
    "Work",
]  # fmt: skip


CENTRELINE_MM = 20.0  # a wheel nearer to the centreline than this has no other side


class Link(Stated):
    """A two-point body set to a length other than as drawn."""

    length: Length | None = Field(None, description="mm, centre to centre")


class Wheel(Stated):
    """A wheel on a body: its centre, and a point outboard of it on the spin axis."""

    name: Name
    centre: PointName
    spindle: PointName | None = None
    tyre_radius: Length | None = None
    tyre_width: Length | None = None


class Mass(Stated):
    """Per wheel, kg."""

    corner: Kilograms
    unsprung: MassOrNone
    finished: Kilograms | None = Field(None, description="the corner's mass with all parts fitted")

    @property
    def sprung(self) -> float:
        """Return what the springs carry at each wheel today, kg."""
        return self.corner - self.unsprung


class WantedTravel(Stated):
    """Wanted wheel travel, both positive, mm from the drawn position."""

    bump: Travel
    droop: Travel
    articulation: Travel | None = Field(
        None, description="an axle's: mm that one wheel rises and the other falls; half of both if left out"
    )
    at: SignedTravel | None = Field(
        None, description="mm of travel at which it should stand; as drawn if left out"
    )


class Station(Stated):
    """One corner, or one axle with two wheels."""

    name: Annotated[Name, Still()]
    kind: Literal["corner", "axle"]
    points: Annotated[dict[PointName, Point], Field(min_length=2, max_length=200)]
    chassis: list[PointName]
    bodies: Annotated[
        dict[PointName, Annotated[list[PointName], Field(min_length=2, max_length=60)]],
        Field(min_length=1, max_length=60),
    ]
    links: dict[PointName, Link] = Field(default_factory=dict)
    wheels: Annotated[list[Wheel], Field(min_length=1, max_length=2)]
    units: Annotated[list[Unit], Field(max_length=40), Still()] = Field(default_factory=list)
    mass: Annotated[Mass, Still()]
    travel: WantedTravel
    end: Annotated[Literal["front", "rear"] | None, Still()] = None
    driven: Annotated[bool | None, Still()] = Field(
        None,
        description="whether its wheels are driven; if left out, where it has half shafts or is no front end",
    )
    brakes: Annotated[Literal["wheel", "inboard"], Still()] = "wheel"
    other_side: Annotated[Name, Still()] = Field(
        "mirror", description="mirror, alone, or the name of the station on the other side"
    )
    variant_of: Annotated[Name | None, Still()] = Field(
        None, description="another way to build that station: compared with it, not counted in the vehicle"
    )
    sliders: dict[PointName, Slider] = Field(default_factory=dict)
    rods: Annotated[dict[PointName, Rod], Still()] = Field(default_factory=dict)
    tanks: Annotated[list[Tank], Field(max_length=8), Still()] = Field(default_factory=list)
    envelopes: Annotated[list[Envelope], Field(max_length=60), Still()] = Field(default_factory=list)
    joints: Annotated[list[Joint], Field(max_length=60), Still()] = Field(default_factory=list)
    shafts: Annotated[list[Shaft], Field(max_length=8), Still()] = Field(default_factory=list)
    uncertainty: Annotated[Uncertainty | None, Still()] = None
    judging: Annotated[Judging | None, Still()] = None
    holes: Annotated[dict[PointName, Holes], Still()] = Field(default_factory=dict)
    adjusting: Annotated[Adjusting | None, Still()] = None
    datum: Annotated[Datum | None, Still()] = None
    steering: Annotated[Steering | None, Still()] = None
    plates: Annotated[dict[PointName, RockerPlate], Still()] = Field(default_factory=dict)
    make: Annotated[Make | None, Still()] = None

    @property
    def motion(self) -> tuple[object, ...]:
        """Return everything that the linkage's path depends on: all fields but those marked `Still`."""
        moving = (name for name, field in type(self).model_fields.items() if not _still(field.metadata))
        return tuple(getattr(self, name) for name in moving)

    def unit(self, name: str) -> AnyUnit:
        """Return a unit by its name; raises StopIteration where there is none."""
        return next(unit for unit in self.units if unit.name == name)

    @property
    def single(self) -> bool:
        """Return whether this corner has no other side: said so, or its wheel stands on the centreline."""
        if self.kind == "axle":
            return False
        return self.other_side == "alone" or abs(self.points[self.wheels[0].centre][1]) < CENTRELINE_MM


def _still(metadata: list[object]) -> bool:
    return any(isinstance(mark, Still) for mark in metadata)


class Project(Stated):
    """A whole job in one file."""

    format: Literal["jugatrix-project"]
    version: Literal[1]
    name: Name
    stations: Annotated[list[Station], Field(max_length=40)]
    vehicle: Vehicle | None = None
    judging: Judging | None = None
    sizes: Literal["metric", "inch"] = Field("metric", description="what stock parts are proposed from")
    coming: Annotated[list[ComingPart], Field(max_length=60)] = Field(default_factory=list)
    loads: Annotated[list[LoadCase], Field(max_length=20)] = Field(default_factory=list)
    survey: Survey | None = None
    records: Annotated[list[Record], Field(max_length=2000)] = Field(default_factory=list)
    work: Work | None = None
    frame: Frame | None = None
