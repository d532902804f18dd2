"""What sits between two points: coilovers, springs, dampers, bags, stops, straps."""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import (
    Angle,
    Columns,
    Direction,
    Ends,
    Force,
    Length,
    LengthOrNone,
    Measures,
    Name,
    Pair,
    Point,
    PointName,
    Positive,
    Pressure,
    Rate,
    SignedLength,
    SomeForce,
    SomePressure,
    Stated,
    TwistRate,
)


class Wire(Stated):
    """A coil whose rate is not known, measured: k = G·d⁴ / (8·D³·n)."""

    diameter: Length = Field(description="mm, of the wire")
    mean_diameter: Length = Field(description="mm, across the coil between wire centres")
    active_coils: Positive = Field(description="coils that are free to move")
    shear_modulus: Positive = Field(78_500.0, description="N/mm²; 78 500 for spring steel")


class Spring(Stated):
    """One spring of a series stack: its rate (or what tells it), and the lengths that end it."""

    rate: Rate | None = Field(None, description="N/mm; or give `table`, `wire` or `two_loads`")
    table: Annotated[list[Pair], Field(min_length=2), Columns(("length", "force"))] | None = Field(
        None, description="[[deflection mm, force N], …] from free, instead of `rate`"
    )
    wire: Wire | None = Field(None, description="an unknown coil, measured with a caliper, instead of `rate`")
    two_loads: (
        Annotated[list[Pair], Field(min_length=2, max_length=2), Columns(("mass", "length"))] | None
    ) = Field(
        None, description="an unknown coil under two loads: [[load kg, height mm], …], instead of `rate`"
    )
    free_length: Length = Field(description="mm, standing free")
    solid_length: LengthOrNone = Field(description="mm, coils touching")
    bore: Length | None = Field(None, description="mm, inside the coil")
    stop: Length | None = Field(None, description="mm of deflection at which a crossover ring locks it")
    helper: bool = Field(False, description="a flat helper that only keeps the main coil seated")


Springs = Annotated[list[Spring], Field(min_length=1, max_length=3)]


class Adapter(Stated):
    """Lengths made up between a mount and a unit's own eye, mm: a replaced strut stands on them."""

    top: LengthOrNone = 0.0
    bottom: LengthOrNone = 0.0


class Perch(Stated):
    """How far the spring perch can still be wound each way, mm: up adds preload, down takes it out.

    Negative where it would have to stand past its end.
    """

    up: SignedLength
    down: SignedLength


class Eye(Stated):
    """The bolt through one end of a unit."""

    end: PointName = Field(description="which of the unit's two ends")
    bolt: Direction = Field(description="direction of the bolt as drawn; carried by the body it goes through")
    rated: Angle | None = Field(
        None, description="degrees the eye's bearing may tilt from square to the bolt"
    )
    bore: Length | None = Field(None, description="mm, of the bolt that goes through it")
    width: Length | None = Field(None, description="mm over the eye with its cones, along the bolt")


class Stroke(Stated):
    """What every damper is, with a coil on it or without."""

    extended: Length = Field(description="mm, eye to eye, topped out")
    compressed: Length = Field(description="mm, eye to eye, bottomed")
    gas_force: Force = Field(0.0, description="N, pushes out; at full extension")
    gas_force_compressed: Force | None = Field(None, description="N, bottomed; as `gas_force` if left out")
    adapter: Adapter | None = None
    eyes: list[Eye] = Field(default_factory=list, max_length=2)
    body_diameter: Length | None = Field(
        None, description="mm over the damper; with it it takes room from eye to eye"
    )


class Coilover(Stroke):
    """A damper carrying its own coil stack. Stack compression = preload + extended − length."""

    name: Name
    kind: Literal["coilover"]
    ends: Ends
    preload: SignedLength = Field(
        0.0, description="mm of stack compression at full extension; negative is a loose spring"
    )
    springs: Springs
    perch: Perch | None = None
    seat: Length | None = Field(
        None, description="mm, inside diameter of the coils that its seats are made for"
    )
    coil_diameter: Length | None = Field(None, description="mm over the coil; with it it takes room")


class SpringUnit(Stated):
    """A spring standing by itself. Compression = Σ free_length − length."""

    name: Name
    kind: Literal["spring"]
    ends: Ends
    springs: Springs
    seat: Length | None = Field(
        None, description="mm, inside diameter of the coils that its seats are made for"
    )
    coil_diameter: Length | None = Field(None, description="mm over the coil; with it it takes room")


class Damper(Stroke):
    """A damper with no spring on it."""

    name: Name
    kind: Literal["damper"]
    ends: Ends


class Plates(Stated):
    """Which way a bag's two end plates face as drawn; each is carried by the body at its end."""

    first: Direction = Field(description="square to the plate at ends[0]")
    second: Direction = Field(description="square to the plate at ends[1]")


class AirSpring(Stated):
    """A bag. F = 0.1·p·A(height), p from the closed valve, filled at ride height."""

    name: Name
    kind: Literal["air_spring"]
    ends: Ends
    pressure: Pressure = Field(description="bar gauge at ride height")
    law: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=1, le=1.7), Measures("ratio")] = Field(
        1.38, description="gas exponent n: 1 slow, 1.38 fast"
    )
    height_table: Annotated[
        list[Annotated[list[Positive], Field(min_length=2, max_length=3)]],
        Field(min_length=2),
        Columns(("length", "area", "volume")),
    ] = Field(description="[[height mm, area mm²] or [height, area, volume mm³], …]")
    min_height: Length
    max_height: Length
    max_pressure: SomePressure | None = Field(None, description="bar gauge")
    max_diameter: Length | None = Field(None, description="mm at its largest; with it it takes room")
    plates: Plates | None = None


class BumpStop(Stated):
    """A stop that touches at a given length between its ends."""

    name: Name
    kind: Literal["bump_stop"]
    ends: Ends
    contact: LengthOrNone = Field(description="mm between the ends when it touches")
    table: Annotated[list[Pair], Field(min_length=2), Columns(("length", "force"))] = Field(
        description="[[deflection mm, force N], …]"
    )
    solid: Length = Field(description="mm, greatest deflection")
    type: Literal["foam", "hydraulic"] = "foam"
    gas_force: Force = Field(0.0, description="N with which a hydraulic stop pushes as soon as it touches")


class Strap(Stated):
    """A limit strap, slack below its length."""

    name: Name
    kind: Literal["strap"]
    ends: Ends
    length: Length = Field(description="mm, taut and unloaded")
    stretch: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, lt=1), Measures("share")] = Field(
        0.0, description="fraction of its length at full load"
    )
    load: SomeForce | None = Field(
        None, description="N at which it has stretched by `stretch`; then it pulls"
    )
    adjust: LengthOrNone | None = Field(None, description="mm that its adjuster can take it in")


class Bar(Stated):
    """An anti-roll bar: held on the frame, linked to the wheel's side; its other half is the mirror image."""

    name: Name
    kind: Literal["bar"]
    ends: Ends = Field(
        description="where the drop link meets the moving part, then where the bar is held on the frame"
    )
    tip: Point = Field(description="mm, the end of the arm, where the drop link hangs, as drawn")
    axis: Direction = Field(
        default_factory=lambda: [0.0, 1.0, 0.0], description="direction of the bar as drawn"
    )
    length: Length = Field(description="mm between the arms, the part that twists")
    diameter: Length | None = Field(None, description="mm; or give `rate`")
    bore: LengthOrNone | None = Field(None, description="mm, of a tube")
    rate: TwistRate | None = Field(None, description="N·m per degree between the arms, instead of `diameter`")
    shear_modulus: Positive = Field(78_500.0, description="N/mm²; 78 500 for spring steel")


AnyUnit = Coilover | SpringUnit | Damper | AirSpring | BumpStop | Strap | Bar
Unit = Annotated[
    Coilover | SpringUnit | Damper | AirSpring | BumpStop | Strap | Bar, Field(discriminator="kind")
]
