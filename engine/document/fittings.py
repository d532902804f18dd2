"""What stands around a linkage and is judged with it: envelopes, joints, shafts, rods, tanks, the shop's limits."""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import (
    Angle,
    AngleOrNone,
    Direction,
    Ends,
    Frequency,
    Length,
    LengthOrNone,
    Mass,
    Measures,
    Multiple,
    Name,
    Point,
    PointName,
    Share,
    SignedLength,
    Stated,
    Travel,
    Turn,
    Volume,
)
from engine.document.threads import LEAST_ENGAGEMENT

Place = PointName | Point
"""A named point, or x, y, z as drawn."""


class Envelope(Stated):
    """Room that something takes: a solid tied to the chassis, a body, or a unit.

    capsule, cylinder : `along` two places and a `radius`; the capsule has round ends
    box               : `centre`, `size` [x, y, z], turned by `turn` degrees about x, y, z
    half_space        : everything beyond `at`, on the side that `facing` points away from
    plate             : a flat convex outline of three or more places in `outline`, `thickness` about it
    """

    name: Name
    shape: Literal["capsule", "cylinder", "box", "half_space", "plate"]
    on: PointName = Field("chassis", description="chassis, or the name of a body or unit")
    what: Literal["structure", "bodywork", "floor", "tyre", "spring", "bag", "link"] = "structure"
    along: Annotated[list[Place], Field(min_length=2, max_length=2)] | None = None
    radius: Length | None = None
    centre: Place | None = None
    size: Annotated[list[Length], Field(min_length=3, max_length=3)] | None = None
    turn: Turn | None = Field(None, description="degrees about x, then y, then z")
    at: Place | None = None
    facing: Direction | None = None
    outline: Annotated[list[Place], Field(min_length=3, max_length=24)] | None = None
    thickness: LengthOrNone = 0.0
    ignore: list[str] = Field(default_factory=list, description="envelopes that may touch this one")


class Joint(Stated):
    """A rod end or spherical bearing: a bolt on one body, and a rod that may lean only so far from square to it."""

    name: Name
    point: PointName
    rod: PointName = Field(description="the two-point body or unit that leans")
    bolt: Direction = Field(description="direction of the bolt as drawn")
    on: PointName = Field(description="chassis, or the body that the bolt goes through")
    rated: Angle = Field(description="degrees from square that it allows")


class ShaftLength(Stated):
    """How short and how long a plunging shaft may get between its joint centres, mm."""

    least: Length
    most: Length


class Shaft(Stated):
    """A half shaft or propshaft between two joints; each joint's other side has an axis of its own."""

    name: Name
    ends: Ends
    axes: Annotated[list[Direction], Field(min_length=2, max_length=2)] = Field(
        description="axis of what each end is fixed to, as drawn; carried by the body that the end is on"
    )
    rated: Angle = Field(description="degrees that each joint allows")
    length: ShaftLength | None = None
    radius: Length | None = Field(None, description="mm; makes it an envelope")


def _both_hands() -> list[Literal["right", "left"]]:
    return ["right", "left"]


class Rod(Stated):
    """How a two-point body is made: threads at both ends, and what is left to adjust, mm."""

    thread: Length = Field(description="mm, thread diameter")
    pitch: Length = Field(1.25, description="mm a turn at each end")
    engagement: SignedLength = Field(
        description="mm of thread held at each end, as set; negative where an end has come out of it"
    )
    hands: Annotated[list[Literal["right", "left"]], Field(min_length=2, max_length=2)] = Field(
        default_factory=_both_hands
    )
    longer: SignedLength | None = Field(
        None, description="mm it can still be made longer as set; negative past its end"
    )
    shorter: SignedLength | None = Field(
        None, description="mm it can still be made shorter as set; negative past its end"
    )

    @property
    def left_longer(self) -> float | None:
        """Return how far it can still be made longer, mm: as said, or till its ends hold too little thread if that comes first."""
        if self.longer is None or not self.engagement:
            return self.longer
        return min(self.longer, 2 * (self.engagement - LEAST_ENGAGEMENT * self.thread))

    def turned(self, by: float) -> "Rod":
        """Return it made longer by so many mm at its ends: what is left goes down, and each holds half of it less."""

        def after(left: float | None, more: float) -> float | None:
            return None if left is None else round(left + more, 3)

        held = round(self.engagement - by / 2, 3) if self.engagement else 0.0
        left = {"longer": after(self.longer, -by), "shorter": after(self.shorter, by)}
        return self.model_copy(update={"engagement": held, **left})


class Slider(Stated):
    """A body held so that the line through two of its points always runs through a third, as a strut is."""

    body: PointName
    line: Ends
    through: PointName


class Steering(Stated):
    """How a corner is steered: which link turns the wheel, and how far the rack goes each way from straight."""

    tie_rod: PointName = Field(description="the two-point body from the upright to the rack")
    travel: Travel = Field(description="mm of rack each way")
    wheelbase: LengthOrNone | None = Field(None, description="mm; for Ackermann")


class Tank(Stated):
    """Bags joined by pipe, with or without a reservoir: one pressure in all of them."""

    name: Name
    bags: Annotated[list[Name], Field(min_length=1, max_length=8)]
    volume: Volume = Field(0.0, description="mm³ of tank and pipe; 1 litre is 1 000 000")


class Holes(Stated):
    """A pattern of bolt holes for one mount: places it may stand in, as drawn; the point stands in one of them."""

    places: Annotated[list[Point], Field(min_length=2, max_length=12)]


class RockerPlate(Stated):
    """How a rocker is cut: one plate or a pair with a gap, its bores and holes, and the metal about them, mm."""

    thickness: Length = 6.0
    count: Annotated[int, Field(ge=1, le=2)] = 2
    gap: LengthOrNone = Field(
        0.0, description="between a pair of plates, where rod end and eye stand; 0 for what those need"
    )
    pivot_bore: Length = Field(22.0, description="over the bearing or bush")
    rod_hole: Length = 10.0
    damper_hole: Length = 12.0
    edge: Length = Field(12.0, description="metal left outside every hole")


class Datum(Stated):
    """A place on the body that the ride height is measured at, and its height as drawn."""

    name: Name = Field(description="what the shop calls it: sill, jacking point, frame behind the wheel")
    height: Length = Field(description="mm above the floor, with the wheel where it is drawn")


class Adjusting(Stated):
    """How ride height is to be set once it stands, and how far each way at the wheel."""

    by: Literal["perch", "rod", "pressure"]
    reach: Travel = Field(description="mm at the wheel, each way")


class ComingPart(Stated):
    """A part that is still to be fitted, and which stations carry it."""

    name: Name
    mass: Mass = Field(description="kg, the whole part")
    carried: dict[
        Name, Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1), Measures("share")]
    ] = Field(default_factory=dict, description="station to its share of the mass, all its wheels together")


class PutIn(Stated):
    """A mass that is put in: a driver, fuel, tools, a load; where its middle is, mm as drawn."""

    name: Name
    mass: Mass
    at: Point


class LoadCase(Stated):
    """What is in the vehicle besides its own weight, so that it can be looked at and weighed like that."""

    name: Name
    masses: Annotated[list[PutIn], Field(max_length=30)] = Field(default_factory=list)


class Uncertainty(Stated):
    """How well the tape was read: the standard error of every co-ordinate, mm."""

    tape: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=20), Measures("length")] = 1.0
    points: dict[PointName, LengthOrNone] = Field(default_factory=dict)


LengthSpan = Annotated[list[SignedLength], Field(min_length=2, max_length=2)]
SignedAngle = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-90, le=90), Measures("angle")]
SignedShare = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-5, le=5), Measures("share")]
SignedAngleSpan = Annotated[list[SignedAngle], Field(min_length=2, max_length=2)]
SignedShareSpan = Annotated[list[SignedShare], Field(min_length=2, max_length=2)]
AngleSpan = Annotated[list[AngleOrNone], Field(min_length=2, max_length=2)]
ShareSpan = Annotated[list[Share], Field(min_length=2, max_length=2)]
FrequencySpan = Annotated[list[Frequency], Field(min_length=2, max_length=2)]


CaseForce = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=30), Measures("ratio")]


class WheelForces(Stated):
    """What comes to a tyre in a load case, in multiples of the wheel's static load: up, along the vehicle, across it."""

    up: CaseForce
    along: CaseForce = 0.0
    across: CaseForce = 0.0


class LoadingCases(Stated):
    """The shop's own load cases in place of the usual ones; every key may be left out."""

    brake_front: WheelForces | None = None
    brake_rear: WheelForces | None = None
    drive: WheelForces | None = None
    corner_outer: WheelForces | None = None
    corner_inner: WheelForces | None = None
    pothole: WheelForces | None = None
    droop: Multiple | None = Field(None, description="times the unsprung weight that the straps stop")


class Judging(Stated):
    """The shop's own limits in place of the usual ones; every key may be left out."""

    purpose: Literal["road", "sport", "circuit", "rough"] | None = None
    rod_square_good_deg: AngleOrNone | None = None
    rod_square_warn_deg: AngleOrNone | None = None
    rod_anywhere_good_deg: AngleSpan | None = None
    rod_anywhere_warn_deg: AngleSpan | None = None
    stroke_split_bump: Share | None = None
    stroke_split_slack: Share | None = None
    damper_left_mm: LengthOrNone | None = None
    loose_preload_mm: LengthOrNone | None = None
    coil_left_share: Share | None = None
    coil_left_mm: LengthOrNone | None = None
    strap_before_damper_mm: LengthOrNone | None = None
    frequency_hz: FrequencySpan | None = None
    adjustment_share: Share | None = None
    tyre_structure_mm: LengthSpan | None = None
    tyre_spring_mm: LengthSpan | None = None
    clear_mm: LengthSpan | None = None
    bag_clear_mm: LengthSpan | None = None
    bag_plate_ride_deg: AngleSpan | None = None
    bag_plate_travel_deg: AngleSpan | None = None
    bag_pressure_share: ShareSpan | None = None
    joint_spare_deg: AngleOrNone | None = None
    thread_good_d: Multiple | None = None
    thread_warn_d: Multiple | None = None
    eye_square_deg: AngleSpan | None = None
    sides_mm: LengthSpan | None = None
    sides_deg: AngleSpan | None = None
    strap_pull_deg: AngleOrNone | None = None
    roll_gradient_deg_per_g: Angle | None = None
    bump_steer_deg: AngleSpan | None = None
    camber_gain_deg: SignedAngleSpan | None = None
    caster_deg: SignedAngleSpan | None = None
    scrub_mm: LengthSpan | None = None
    ackermann_share: SignedShareSpan | None = None
    pinion_deg: AngleSpan | None = None
    mount_mm: Length | None = Field(
        None, description="mm that a mount may move on its frame at its peak load"
    )
    peak_multiple: Multiple | None = None
    cases: LoadingCases | None = None
    school: Literal["full_bump_first", "full_droop_first", "ride_first"] | None = Field(
        None, description="in which order mounts are placed and read back"
    )


class Vehicle(Stated):
    """The whole vehicle, for roll: masses come from the stations."""

    cg_height: Length = Field(description="mm, centre of gravity of the sprung mass above the floor")
    floor: SignedLength = Field(0.0, description="mm, height of the floor in the drawing's axes")
