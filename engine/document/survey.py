"""What was read off the vehicle: tape, plumb line, level, angle finder, photographs, guards.

Place    STATION/POINT, or the name of a mark.
Reading  what a tool said between places; its value is the mean of its `values`.
Guard    a length written down before frame is cut, and read again after.
"""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import (
    MAX_COORDINATE_MM,
    Coordinate,
    Measures,
    Name,
    Pair,
    Point,
    Stated,
)

PlaceName = Annotated[str, Field(min_length=1, max_length=220, pattern=r"\S")]
TwoPlaces = Annotated[list[PlaceName], Field(min_length=2, max_length=2)]
StandardError = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=500)]
Taped = Annotated[
    float, Field(strict=True, allow_inf_nan=False, gt=0, le=2 * MAX_COORDINATE_MM), Measures("length")
]
Slope = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-90, le=90), Measures("angle")]
Between = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=180), Measures("angle")]
Several = Field(min_length=1, max_length=40)
Text = Annotated[str, Field(max_length=2000)]

PLACE_FIELDS = ("of", "at", "between", "along", "pair")
"""The fields of readings and guards that name places."""

USUAL_ERRORS = {  # of one reading: mm, or degrees for the angle finder
    "tape": 1.0,
    "plumb": 1.5,
    "level": 1.0,
    "angle": 0.3,
    "caliper": 0.2,
    "known": 0.2,
    "photo": 1.5,
    "mirror": 2.0,
}
USUAL_TOOL = {
    "distance": "tape",
    "height": "tape",
    "offset": "plumb",
    "fore_aft": "plumb",
    "floor_distance": "plumb",
    "rise": "level",
    "slope": "angle",
    "angle": "angle",
    "mirrored": "mirror",
}


class AnyReading(Stated):
    """What every reading may say. `sigma` is its own standard error, in place of its tool's."""

    tool: Name | None = None
    sigma: StandardError | None = None
    by: Text | None = None
    when: Text | None = None
    note: Text | None = None
    left_out: bool = False


class Distance(AnyReading):
    """Along the tape, place to place."""

    kind: Literal["distance"]
    between: TwoPlaces
    values: Annotated[list[Taped], Several]


class FloorDistance(AnyReading):
    """Between plumb marks on the floor."""

    kind: Literal["floor_distance"]
    between: TwoPlaces
    values: Annotated[list[Taped], Several]


class Rise(AnyReading):
    """How much higher the second is than the first."""

    kind: Literal["rise"]
    between: TwoPlaces
    values: Annotated[list[Annotated[Coordinate, Measures("length")]], Several]


class Single(AnyReading):
    """One coordinate: height above the floor, out from the centreline (left is +), ahead of the datum line (+)."""

    kind: Literal["height", "offset", "fore_aft"]
    of: PlaceName
    values: Annotated[list[Annotated[Coordinate, Measures("length")]], Several]


class SlopeReading(AnyReading):
    """Above level, from the first place to the second: along the piece, or as seen from the side or the front."""

    kind: Literal["slope"]
    along: TwoPlaces
    seen: Literal["line", "side", "front"] = "line"
    values: Annotated[list[Slope], Several]


class AngleReading(AnyReading):
    """Between the ways from one place to two others."""

    kind: Literal["angle"]
    at: PlaceName
    between: TwoPlaces
    values: Annotated[list[Between], Several]


class Mirrored(AnyReading):
    """Two places that ought to be mirror images in the centreline."""

    kind: Literal["mirrored"]
    pair: TwoPlaces


Reading = Annotated[
    Distance | FloorDistance | Rise | Single | SlopeReading | AngleReading | Mirrored,
    Field(discriminator="kind"),
]


class Reference(Stated):
    """A line of known length in the picture: its ends in pixels, and mm."""

    ends: Annotated[list[Pair], Field(min_length=2, max_length=2)]
    length: Taped


class Photo(Stated):
    """Places picked in a picture of one plane: u right and v down, in pixels of the straightened picture."""

    name: Name
    plane: Literal["side", "front", "top"]
    reference: Reference | None = None
    picked: Annotated[dict[PlaceName, Pair], Field(max_length=300)] = Field(default_factory=dict)
    left_out: bool = False


class Guard(Stated):
    """A length that must be the same after the cut: read and signed before, read again after."""

    name: Name
    between: TwoPlaces
    before: Annotated[list[Taped], Several]
    after: Annotated[list[Taped], Field(max_length=40)] = Field(default_factory=list)
    when_before: Text | None = None
    when_after: Text | None = None
    signed: Text | None = None


class Sticker(Stated):
    """A coded sticker that is not just stuck on its place: mm that its middle stands off it, along its face; its own size."""

    place: PlaceName
    stands_off: Annotated[Coordinate, Measures("length")] = 0.0
    size: Taped | None = Field(None, description="mm, side of its black square")


class Stickers(Stated):
    """Coded stickers by their number: the black square's side, mm, and the place of each."""

    size: Taped = 40.0
    places: Annotated[
        dict[Annotated[str, Field(pattern=r"^\d{1,3}$")], PlaceName | Sticker], Field(max_length=400)
    ] = Field(default_factory=dict)


class TakenPicture(Stated):
    """A picture taken of stickers: its file's name, and which camera took it."""

    file: Name
    camera: Name = "camera"


class Camera(Stated):
    """A camera as it is known: focal length and middle of the picture, pixels; two radial terms."""

    focal: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=10, le=1e6)]
    centre: Pair | None = None
    distortion: Pair = Field(default_factory=lambda: [0.0, 0.0])


class Survey(Stated):
    """Everything read off the vehicle."""

    marks: Annotated[dict[Name, Point], Field(max_length=400)] = Field(default_factory=dict)
    tools: Annotated[dict[Name, StandardError], Field(max_length=40)] = Field(default_factory=dict)
    readings: Annotated[list[Reading], Field(max_length=3000)] = Field(default_factory=list)
    photos: Annotated[list[Photo], Field(max_length=60)] = Field(default_factory=list)
    guards: Annotated[list[Guard], Field(max_length=200)] = Field(default_factory=list)
    stickers: Stickers = Field(default_factory=Stickers)
    pictures: Annotated[list[TakenPicture], Field(max_length=200)] = Field(default_factory=list)
    cameras: Annotated[dict[Name, Camera], Field(max_length=20)] = Field(default_factory=dict)


def places_of(reading: Reading) -> tuple[str, ...]:
    """Return the places that a reading names, in the order of its mathematics."""
    match reading:
        case Single(of=of):
            return (of,)
        case AngleReading(at=at, between=between):
            return (at, *between)
        case SlopeReading(along=along):
            return tuple(along)
        case Mirrored(pair=pair):
            return tuple(pair)
        case _:
            return tuple(reading.between)
