"""What parts, mounts, stock and what to buy look like over HTTP."""

from collections.abc import Iterable
from typing import Any, Literal

from ninja import Schema

from engine.drawing.tube import unrolled
from engine.shop.made import Cut, Flat, Made, Said
from engine.shop.outline import box_of
from engine.shop.stacks import stack_values
from engine.shop.strength import Check
from engine.shop.tubes import witness_words
from server.shop.drawings import svg_path
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values


class PartRemedy(Schema):
    """What clears a judgement: a change of the part's own choice, of the station's `rods` or `plates`, or of its subject's bolt."""

    say: SentenceOut
    change: dict[str, Any]
    into: Literal["make", "rods", "plates", "eyes"]


class SaidOut(Schema):
    """A judgement of one part."""

    mark: str
    say: SentenceOut
    remedy: PartRemedy | None


class FigureOut(Schema):
    """A number of a part, or words; what it measures: as in sentences, or `pitch` mm, `factor`, `words`."""

    key: str
    name: str
    value: float | None
    text: str
    measures: str


class CheckOut(Schema):
    """One way in which a part may fail: factor over its peak load, in which load case, and where on its drawing, mm."""

    what: str
    factor: float
    case: str
    x: float | None
    y: float | None


class PlateHoleOut(Schema):
    """A hole, mm on its plate's drawing."""

    what: str
    x: float
    y: float
    diameter: float
    to: list[float] | None


class FoldOut(Schema):
    """A line to fold along, mm on its plate's drawing, y up turned down; degrees, down +."""

    path: str
    angle: float


class FlatOut(Schema):
    """A plate: mm. `path` is its outline as an SVG path, y up turned down; `box` what it fills: x, y, wide, high."""

    thickness: float
    grade: str
    holes: list[PlateHoleOut]
    folds: list[FoldOut]
    path: str
    box: list[float]


class WrapOut(Schema):
    """A tube's end unrolled, mm: SVG path, y down; `box` x, y, wide, high; where its witness line comes."""

    path: str
    box: list[float]
    words: str


class TubeOut(Schema):
    """A tube: mm; `spots` its corners as drawn where it runs between places."""

    outside: float
    wall: float
    length: float
    spots: list[list[float]]
    wraps: list[WrapOut]


class HardwareOut(Schema):
    """Something bought for one of a part."""

    what: str
    size: str
    count: int


class LayerOut(Schema):
    """One thing on a bolt, mm: where it begins along it, how wide, its hole, its outside."""

    what: str
    at: float
    width: float
    bore: float
    outside: float


class StackOut(Schema):
    """All that stands on one bolt, from its head to its nut; the bolt as it is ordered, and how often it is cut."""

    bolt: str
    planes: int
    layers: list[LayerOut]


class PartMade(Schema):
    """One part. `choice` is what the document would say to have this very part, null where it has no choice of its own."""

    station: str
    name: str
    kind: str
    subject: list[str]
    proposed: bool
    count: int
    hands: int
    mass: float
    mark: str
    weakest: CheckOut | None
    figures: list[FigureOut]
    checks: list[CheckOut]
    said: list[SaidOut]
    hardware: list[HardwareOut]
    stacks: list[StackOut]
    also: list[list[str]]
    flat: FlatOut | None
    tube: TubeOut | None
    choice: dict[str, Any] | None


class TapeOut(Schema):
    """A tape to a place that exists, mm."""

    to: str
    length: float


class MountOut(Schema):
    """Where a mount comes, mm, and how close is close enough: fore–aft, out, up.

    tape_mm : of place for a millimetre of tape; loose : which way, where that is much, else empty
    tabs : the points by which its tabs go; on, ahead_of_it : the pivot whose bolt it lies on, and mm ahead of its middle
    """

    station: str
    point: str
    up: float
    out: float
    ahead: float
    tapes: list[TapeOut]
    close_enough: list[float]
    tape_mm: float | None
    loose: str
    tabs: list[str]
    on: str | None
    ahead_of_it: float | None


class MakeOut(Schema):
    """Everything that has to be made, and every mount to set out."""

    mark: str
    verdict: SentenceOut
    parts: list[PartMade]
    mounts: list[MountOut]


class FitsOut(Schema):
    """Every part of which something else is to be said, or which is made otherwise, once all are tried together; and what that says of it all."""

    mark: str
    verdict: SentenceOut
    fits: list[PartMade]


class Sawn(Schema):
    """One piece of a bar, mm."""

    station: str
    part: str
    long: float


class LaidOut(Sawn):
    """One piece on a sheet: its box's corner as it lies, mm from the sheet's lower left; its edge and holes as an SVG path, y down."""

    wide: float
    x: float
    y: float
    turn: float
    path: str


class StockBar(Schema):
    """A bar and what is cut from it, mm; `rack` where it is there already."""

    number: int
    stock: str
    long: float
    left: float
    rack: bool
    pieces: list[Sawn]


class StockSheet(Schema):
    """A sheet of plate and what is cut from it, mm; the share that becomes pieces, and how far along it they reach."""

    number: int
    stock: str
    wide: float
    high: float
    filled: float
    used: float
    pieces: list[LaidOut]


class LineOut(Schema):
    """One thing to buy, less what is on the shelf."""

    what: str
    size: str
    needed: int
    there: int
    buy: int
    price: str
    lead_days: float | None
    note: SentenceOut | None


class StockOut(Schema):
    """What is cut from which bar and sheet, and what is to buy."""

    kerf: float
    bars: list[StockBar]
    sheets: list[StockSheet]
    lines: list[LineOut]


def _said(said: Iterable[Said]) -> list[dict[str, Any]]:
    return [
        {
            "mark": one.mark,
            "say": sentence_values(one.say),
            "remedy": None
            if one.remedy is None
            else {
                "say": sentence_values(one.remedy.say),
                "change": one.remedy.change,
                "into": one.remedy.into,
            },
        }
        for one in said
    ]


def _check(check: Check | None) -> dict[str, Any] | None:
    if check is None:
        return None
    x, y = check.at or (None, None)
    return {"what": check.what, "factor": check.factor, "case": check.case, "x": x, "y": y}


def part_values(part: Made) -> dict[str, Any]:
    """Return a part as the browser has it."""
    return {
        "station": part.station,
        "name": part.name,
        "kind": part.kind,
        "subject": list(part.subject),
        "proposed": part.proposed,
        "count": part.count,
        "hands": part.hands,
        "mass": part.mass,
        "mark": part.mark,
        "weakest": _check(part.weakest),
        "figures": [
            {
                "key": one.key,
                "name": one.name,
                "value": None if isinstance(one.value, str) else one.value,
                "text": one.value if isinstance(one.value, str) else "",
                "measures": one.measures,
            }
            for one in part.figures
        ],
        "checks": [_check(check) for check in sorted(part.checks, key=lambda check: check.factor)],
        "said": _said(part.said),
        "hardware": [vars(one) for one in part.hardware],
        "stacks": [
            {"bolt": stack.bolt.said, "planes": stack.planes, "layers": stack_values(stack)}
            for stack in part.stacks
        ],
        "also": [list(one) for one in part.also],
        "flat": None if part.flat is None else _flat(part.flat),
        "tube": None if part.cut is None else _tube(part.cut),
        "choice": part.choice,
    }


def _flat(flat: Flat) -> dict[str, Any]:
    low, bottom, high, top = box_of(list(flat.outline))
    return {
        "thickness": flat.thickness,
        "grade": flat.grade,
        "holes": [vars(hole) for hole in flat.holes],
        "folds": [
            {
                "path": f"M{fold.one[0]:.3f} {-fold.one[1]:.3f}L{fold.other[0]:.3f} {-fold.other[1]:.3f}",
                "angle": fold.angle,
            }
            for fold in flat.folds
        ],
        "path": svg_path(list(flat.outline)),
        "box": [low, -top, high - low, top - bottom],
    }


def _tube(cut: Cut) -> dict[str, Any]:
    wraps = []
    for number, end in enumerate(cut.ends, start=1):
        if end.met or end.mitre:
            round_it, along = unrolled(cut.tube.outside / 2, end, 73)
            tall = float(along.max()) + 20.0
            line = "L".join(f"{x:.2f} {tall - y:.2f}" for x, y in zip(round_it, along, strict=True))
            wraps.append(
                {
                    "path": f"M{line}L{round_it[-1]:.2f} 0L0 0Z",
                    "box": [0.0, 0.0, float(round_it[-1]), tall],
                    "words": witness_words(cut, number),
                }
            )
    return {
        "outside": cut.tube.outside,
        "wall": cut.tube.wall,
        "length": cut.length,
        "spots": [list(spot) for spot in cut.spots],
        "wraps": wraps,
    }
