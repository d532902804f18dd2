"""What the fabricator chose for the parts of a station, in the project file: `make.parts`.

A choice takes the place of what is proposed for the same thing (the same point and unit, the same rod, the same bag's
end); whatever it leaves out stays proposed. Towers, notches, sleeves, gussets and cut plates are made only where chosen.
"""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import (
    Angle,
    AngleOrNone,
    Direction,
    Length,
    LengthOrNone,
    Measures,
    Name,
    PointName,
    Positive,
    SignedLength,
    Stated,
)
from engine.document.fittings import Place

GRADES = {"S235": 235.0, "S275": 275.0, "S355": 355.0, "E235": 235.0, "E355": 355.0, "25CrMo4": 450.0}
"""Yield of the usual steels, N/mm² (the grades' own standards, up to 16 mm thick)."""
Grade = Literal["S235", "S275", "S355", "E235", "E355", "25CrMo4"]
SignedAngle = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-89, le=89), Measures("angle")]
CopeAngle = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=5, le=175), Measures("angle")]
Count = Annotated[int, Field(ge=1, le=20)]


class TubeSize(Stated):
    """A round tube, mm."""

    outside: Length
    wall: Length
    grade: Grade = "S235"


class BoxSize(Stated):
    """A rectangular tube as a frame rail is, mm outside."""

    width: Length = Field(description="mm across the vehicle")
    height: Length
    wall: Length


class Foot(Stated):
    """What a tab is welded to."""

    on: Literal["flat", "tube"] = "flat"
    slope: SignedAngle = Field(0.0, description="flat: degrees that the face runs out of square to the tab")
    outside: Length | None = Field(None, description="tube: mm over it")
    angle: AngleOrNone = Field(90.0, description="tube: degrees between its axis and the tab's plane")


class RodChoice(Stated):
    """A rod's tube; its threads are the station's `rods`."""

    kind: Literal["rod"]
    name: Name
    body: PointName
    tube: TubeSize | None = None
    cut_long: LengthOrNone = Field(0.0, description="mm left on until the cycle has passed")


class PlateChoice(Stated):
    """A rocker's plate, its sizes in the station's `plates`; or a drop link of plates instead of a rod."""

    kind: Literal["plate"]
    name: Name
    body: PointName
    grade: Grade = "S355"
    lighten: LengthOrNone = Field(0.0, description="mm across a hole in the middle; none if nothing")
    thickness: Length | None = Field(None, description="a link's: mm of each plate")
    hole: Length | None = Field(None, description="a link's: mm of its bolts")
    edge: Length | None = Field(None, description="a link's: mm of metal outside its holes")
    pair: bool = Field(True, description="a link's: two plates, one each side of the joints")


class TabChoice(Stated):
    """A tab, or a pair of them, at one end of a rod or unit, or under an arm's pivot."""

    kind: Literal["tab"]
    name: Name
    point: PointName
    holds: PointName = Field(description="the unit, rod or arm that is bolted there")
    pair: bool | None = None
    thickness: Length | None = None
    width: Length | None = Field(None, description="mm across the round end")
    foot_width: Length | None = None
    reach: Length | None = Field(None, description="mm from the hole to the foot")
    hole: Length | None = None
    joint_width: Length | None = Field(None, description="mm over the eye or rod end that it takes")
    spacer: LengthOrNone | None = Field(None, description="mm each side of the joint")
    clearance: LengthOrNone = 0.3
    grade: Grade = "S355"
    towards: Direction | None = Field(None, description="from the hole to its foot, as drawn")
    bolt: Direction | None = Field(
        None, description="of its bolt as drawn, where no eye or joint of the station says it"
    )
    foot: Foot | None = None
    gusset: bool = Field(False, description="a plate across its back, against sideways pull")


class EndCut(Stated):
    """What a tube's end is cut to sit on."""

    on: Literal["square", "tube"] = "square"
    outside: Length | None = Field(None, description="tube: mm over the tube that it meets")
    along: Direction | None = Field(None, description="tube: direction of the tube that it meets, as drawn")
    offset: SignedLength = Field(
        0.0,
        description="mm by which the axes pass one another: the met one stands toward its way × the way into the tube,"
        " its way taken so that both look the same way",
    )


def _square_ends() -> list[EndCut]:
    return [EndCut(), EndCut()]


class TowerChoice(Stated):
    """A tube between places, straight or bent: a tower, a hoop, a crossbar."""

    kind: Literal["tower", "hoop", "crossbar"]
    name: Name
    corners: Annotated[list[Place], Field(min_length=2, max_length=12)]
    on: PointName = "chassis"
    tube: TubeSize
    radius: Length | None = Field(None, description="mm, the bender's centre-line radius; three diameters")
    least_radius: Length | None = Field(None, description="mm, the tightest the shop's bender makes")
    springback: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=0.3), Measures("share")] = (
        0.03
    )
    ends: Annotated[list[EndCut], Field(min_length=2, max_length=2)] = Field(default_factory=_square_ends)
    holds: PointName | None = Field(None, description="the mount that it carries")


class CupChoice(Stated):
    """A bag's cup: a plate, and a tube cut so that the bag's plates are parallel at ride."""

    kind: Literal["cup"]
    name: Name
    unit: Name
    end: PointName
    plate: Length | None = Field(None, description="mm across the plate")
    thickness: Length = 6.0
    tube: TubeSize | None = None
    height: Length | None = Field(None, description="mm of tube along its middle")
    bolt_circle: Length | None = None
    bolts: Count = 2


class NotchChoice(Stated):
    """A notch in a frame rail over an axle's tube, and the bridge that closes it."""

    kind: Literal["notch"]
    name: Name
    over: PointName = Field(description="the point of the axle whose path it clears")
    rail: BoxSize
    rail_bottom: SignedLength = Field(description="mm, height of the rail's lower face in the drawing's axes")
    axle_tube: Length = Field(description="mm over the axle's tube")
    clearance: Length = 20.0
    thickness: Length = Field(5.0, description="mm of the bridge and of its fish plates")


class AdapterChoice(Stated):
    """What makes up the length between a mount and a unit's eye."""

    kind: Literal["adapter"]
    name: Name
    unit: Name
    end: PointName
    diameter: Length = 30.0


class SleeveChoice(Stated):
    """A crush tube through a box rail."""

    kind: Literal["sleeve"]
    name: Name
    point: PointName
    rail: Length = Field(description="mm over the rail that it goes through")
    bolt: Length
    wall: Length = 3.0


class GussetChoice(Stated):
    """A three-cornered plate in the corner of two parts."""

    kind: Literal["gusset", "doubler"]
    name: Name
    point: PointName
    legs: Annotated[list[Length], Field(min_length=2, max_length=2)]
    angle: Angle = Field(90.0, description="degrees between the legs")
    thickness: Length = 4.0
    grade: Grade = "S355"
    hole: LengthOrNone = 0.0
    count: Count = 1


class Corner(Stated):
    """A corner of an outline, and how the edge to the next one bulges: the tangent of a quarter of its arc, left +."""

    at: Annotated[list[SignedLength], Field(min_length=2, max_length=2)]
    bulge: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-4, le=4)] = 0.0


class CutHole(Stated):
    """A hole of a cut plate, mm; a slot of that width runs from the middle of one end, `at`, to that of the other, `to`."""

    at: Annotated[list[SignedLength], Field(min_length=2, max_length=2)]
    to: Annotated[list[SignedLength], Field(min_length=2, max_length=2)] | None = None
    diameter: Length
    what: str = Field("hole", max_length=60)


class TemplateChoice(Stated):
    """A plate by its own outline, as it was taken from a card template."""

    kind: Literal["template"]
    name: Name
    point: PointName | None = None
    outline: Annotated[list[Corner], Field(min_length=2, max_length=400)]
    holes: Annotated[list[CutHole], Field(max_length=60)] = Field(default_factory=list)
    thickness: Length = 5.0
    grade: Grade = "S355"
    count: Count = 1
    both_hands: bool = True


PartChoice = Annotated[
    RodChoice
    | PlateChoice
    | TabChoice
    | TowerChoice
    | CupChoice
    | NotchChoice
    | AdapterChoice
    | SleeveChoice
    | GussetChoice
    | TemplateChoice,
    Field(discriminator="kind"),
]
PART_KINDS = ("rod", "plate", "tab", "tower", "hoop", "crossbar", "cup", "notch", "adapter", "sleeve", "gusset", "doubler", "template")  # fmt: skip


class Make(Stated):
    """What is chosen of a station's parts, and the shop's factor for all of them."""

    parts: Annotated[list[PartChoice], Field(max_length=200)] = Field(default_factory=list)
    factor: Positive = Field(2.0, description="how many times its peak load each part must bear")
