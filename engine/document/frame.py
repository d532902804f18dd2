"""The tubes behind the brackets: places, members between them, where the rest of the chassis holds them, what they carry.

Node     a place [x, y, z], or the name of a station's point (STATION/POINT) or of a mark of the survey.
Held     fixed holds a place and every turn of it; pinned the place alone.
Pinned   a member's end that turns: about `pin` where a bolt goes through a sleeve, about everything as a ball joint does.
Up       of a box, the direction of its height; of a flat bar, that of its thickness. Its width lies across.
"""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import Direction, Length, Name, Point, Stated
from engine.document.make import Grade

NodeName = Annotated[str, Field(min_length=1, max_length=220, pattern=r"\S")]
EndHeld = Literal["welded", "pinned"]
Two = Field(min_length=2, max_length=2)


class FrameTube(Stated):
    """A round tube, mm; a bar where the wall is half of what is over it."""

    outside: Length
    wall: Length


class FrameBox(Stated):
    """A rectangular tube, mm outside."""

    height: Length = Field(description="mm along `up`")
    width: Length
    wall: Length


class FrameFlat(Stated):
    """A flat bar, mm."""

    width: Length
    thickness: Length = Field(description="mm along `up`")


def _both_welded() -> list[EndHeld]:
    return ["welded", "welded"]


class Member(Stated):
    """One tube or bar between two nodes; one of tube, box and flat."""

    name: Name
    ends: Annotated[list[NodeName], Two]
    tube: FrameTube | None = None
    box: FrameBox | None = None
    flat: FrameFlat | None = None
    metal: Grade = "S235"
    up: Direction | None = Field(None, description="of a box's height or a flat's thickness; up if left out")
    ends_held: Annotated[list[EndHeld], Two] = Field(default_factory=_both_welded)
    pin: Direction | None = Field(None, description="line of the bolt that a pinned end turns about")


class Carried(Stated):
    """What a mount stands on: a member, or a node."""

    member: Name | None = None
    node: NodeName | None = None


class Frame(Stated):
    """A space frame and what it carries."""

    nodes: Annotated[dict[NodeName, Point | NodeName], Field(max_length=300)] = Field(default_factory=dict)
    members: Annotated[list[Member], Field(max_length=400)] = Field(default_factory=list)
    held: Annotated[dict[NodeName, Literal["fixed", "pinned"]], Field(max_length=300)] = Field(
        default_factory=dict
    )
    carries: Annotated[dict[NodeName, Carried], Field(max_length=300)] = Field(
        default_factory=dict, description="STATION/POINT to what it stands on; the nearest member if left out"
    )
    mirrored: bool = Field(
        False, description="every member with a place off the centreline stands on the other side too"
    )
    weld_share: Annotated[float, Field(strict=True, gt=0, le=1)] = Field(
        0.7, description="of its yield that a metal keeps beside a weld"
    )
