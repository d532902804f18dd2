"""Where a mount may go: places, a slide along a line, holes; for a document that is still being worked on."""

from dataclasses import asdict
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.budget import Budget
from engine.conventions import SEARCH_BEYOND
from engine.sizing.best_places import best_places
from engine.sizing.holes import pairs_of
from engine.sizing.places import AXES, grid_about, places_at_length, places_of
from engine.sizing.slide import slide
from server.answers import ActionRefused, answer
from server.sizing.shapes import TriedOut
from server.solving.asked import MOST_SECONDS, solved_station
from server.solving.shapes import SentenceOut, SolveIn
from server.solving.view import sentence_values

router = Router(tags=["sizing"])


class PlacesIn(SolveIn):
    """Which end of which unit is to be placed, and the plan to look at; mm each way, places each way."""

    unit: str
    end: str
    plan: Literal["front", "side", "top"]
    half: float = Field(120.0, gt=0, le=1000)
    count: int = Field(41, ge=5, le=101)


class PlacesOut(Schema):
    """A square of places in a plan, row by row from the lowest: mm, mm/mm, mm, mm, mm, share.

    across, up : mm, the places' own two co-ordinates; left_… null for what is no damper
    """

    across: list[float]
    up: list[float]
    ratio: list[float]
    change: list[float]
    used: list[float]
    left_in_bump: list[float] | None
    left_in_droop: list[float] | None
    in_line: list[float]


@router.post("/places", response=PlacesOut, operation_id="listPlaces")
def places(request: HttpRequest, body: PlacesIn) -> HttpResponse:
    """Return what a unit would do with one end at every place of a square in a plan."""
    solved, _ = solved_station(body)
    _known_end(solved.station.points, body.end)
    point = np.array(solved.station.points[body.end], dtype=float)
    found = places_of(solved, body.unit, body.end, grid_about(point, body.plan, body.half, body.count))
    across, up = AXES[body.plan]

    def column(values: np.ndarray | None, digits: int) -> list[float] | None:
        return None if values is None else np.round(values, digits).tolist()

    return answer(
        {
            "across": np.round(found.place[: body.count, across], 3).tolist(),
            "up": np.round(found.place[:: body.count, up], 3).tolist(),
            "ratio": column(found.ratio, 4),
            "change": column(found.slope, 4),
            "used": column(found.used, 2),
            "left_in_bump": column(found.left_in_bump, 2),
            "left_in_droop": column(found.left_in_droop, 2),
            "in_line": column(found.in_line, 4),
        }
    )


class BestOut(Schema):
    """One of the best places: why it is named, mm as drawn, ratio per wheel, mm of damper, share lost, mm, faults."""

    wish: str
    place: list[float]
    ratio: float
    left: float | None
    lost: float
    clear: float | None
    faults: int


@router.post("/places/best", response=list[BestOut], operation_id="listBestPlaces")
def best(request: HttpRequest, body: PlacesIn) -> HttpResponse:
    """Return the best few places of a square in a plan, each put in and solved with its clearances."""
    solved, rules = solved_station(body)
    _known_end(solved.station.points, body.end)
    point = np.array(solved.station.points[body.end], dtype=float)
    places = places_of(solved, body.unit, body.end, grid_about(point, body.plan, body.half, body.count))
    return answer([asdict(one) for one in best_places(solved, body.unit, body.end, places, rules)])


def _known_end(points: dict[str, Any], end: str) -> None:
    if end not in points:
        raise ActionRefused(422, "no_point", f'No point is called "{end}" in this station.')


class PlaceIn(SolveIn):
    """Slide one end of a unit along a line until it is so long at a travel: mm; way is a direction as drawn."""

    unit: str
    end: str
    start: list[float] = Field(min_length=3, max_length=3)
    way: list[float] = Field(min_length=3, max_length=3)
    travel: float
    length: float = Field(gt=0, le=5000)


class PlacedOut(Schema):
    """One place on the line: mm as drawn, mm slid from the start, and what the unit does there."""

    place: list[float]
    slid: float
    ratio: float
    used: float
    left_in_bump: float | None
    left_in_droop: float | None
    in_line: float


@router.post("/place", response=list[PlacedOut], operation_id="placeUnit")
def place(request: HttpRequest, body: PlaceIn) -> HttpResponse:
    """Return the places on a line at which a unit has a length at a travel, the nearest first; empty if none."""
    solved, _ = solved_station(body)
    wanted = solved.station.travel
    if not -SEARCH_BEYOND * wanted.droop <= body.travel <= SEARCH_BEYOND * wanted.bump:
        raise ActionRefused(422, "travel_outside", "Hold it somewhere within the wanted travel.")
    start, way = np.array(body.start, dtype=float), np.array(body.way, dtype=float)
    found = places_at_length(solved, body.unit, body.end, start, way, body.travel, body.length)
    if not found:
        return answer([])
    told = places_of(solved, body.unit, body.end, np.array(found))
    size = float(np.linalg.norm(way))
    return answer(
        [
            {
                "place": np.round(spot, 4).tolist(),
                "slid": round(float((spot - start) @ way / size), 4),
                "ratio": round(float(told.ratio[k]), 5),
                "used": round(float(told.used[k]), 3),
                "left_in_bump": None if told.left_in_bump is None else round(float(told.left_in_bump[k]), 3),
                "left_in_droop": None
                if told.left_in_droop is None
                else round(float(told.left_in_droop[k]), 3),
                "in_line": round(float(told.in_line[k]), 5),
            }
            for k, spot in enumerate(found)
        ]
    )


class SlideIn(SolveIn):
    """Which end is to be moved along which direction (as drawn), by how much each way (mm); both ends or one."""

    unit: str
    end: str
    way: list[float] = Field(min_length=3, max_length=3)
    step: float = Field(10.0, gt=0, le=200)
    both: bool = False


class StepOut(TriedOut):
    """A mount moved by so much, mm; null where it cannot be put together or stands nowhere; N·m per degree."""

    by: float
    place: list[float]
    ratio: float | None
    roll: float | None


@router.post("/slide", response=list[StepOut], operation_id="slideMount")
def slide_mount(request: HttpRequest, body: SlideIn) -> HttpResponse:
    """Return what a mount does moved three steps each way along a line."""
    solved, _ = solved_station(body)
    distances = [body.step * k for k in range(-3, 4)]
    steps = slide(
        solved,
        body.unit,
        body.end,
        np.array(body.way, dtype=float),
        distances,
        body.both,
        Budget(MOST_SECONDS),
    )
    return answer([asdict(step) for step in steps])


class PairOut(TriedOut):
    """One choice of holes: numbers from 0, where the points stand, and what it does; null where it stands nowhere.

    damper per wheel, mm of wheel from ride to what ends it, mm of coil, mm to the nearest
    """

    holes: list[int]
    points: dict[str, list[float]]
    ratio: float | None
    bump: float | None
    droop: float | None
    seat: float | None
    clear: float | None
    faults: int
    warnings: int
    now: bool


class PairsOut(Schema):
    """Every pair of holes, the points of each pattern, and which two pairs make the widest choice."""

    patterns: list[list[str]]
    pairs: list[PairOut]
    soft_high: int | None
    firm_low: int | None
    chassis_only: SentenceOut | None


@router.post("/holes", response=PairsOut, operation_id="listHolePairs")
def holes(request: HttpRequest, body: SolveIn) -> HttpResponse:
    """Return every pair of a station's bolt holes, solved."""
    found = pairs_of(*solved_station(body))
    said = found.chassis_only
    return answer({**asdict(found), "chassis_only": None if said is None else sentence_values(said)})
