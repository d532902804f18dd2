"""Arrangements to start from: what each is, how it moves, and a station of it in the right size."""

from functools import lru_cache
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.budget import Budget
from engine.document.mirror import mirrored_station, other_sides_name
from engine.document.read import check_project
from engine.document.schema import Project, Station
from engine.findings.finding import rules_of
from engine.layouts.catalogue import LAYOUTS, layout_named, starting_project
from engine.layouts.fit import first_unit
from engine.layouts.layout import Brief, Layout
from engine.layouts.rail import with_rail
from engine.layouts.suits import Room, Suited, leaves_free_beside, suited
from engine.linkage.linkage import Linkage
from engine.sentences import Sentence, spoken
from engine.sizing.springs import USUAL_HZ
from server.answers import ActionRefused, Document, StationValues, answer
from server.solving.asked import MOST_SECONDS
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["starting"])
SHOWN_TRAVELS = (-45.0, 0.0, 55.0)


class LayoutOut(Schema):
    """One arrangement: words, and its points at droop, as drawn and at bump for a small drawing (mm)."""

    name: str
    title: str
    moves: str
    room: str
    kind: str
    air: bool
    inboard: bool
    wheels: list[str]
    tyre_radius: float
    bodies: dict[str, list[str]]
    units: list[list[str]]
    chassis: list[str]
    points: dict[str, list[list[float]]]


class BriefIn(Schema):
    """What the starting geometry is scaled from: mm, kg at each wheel, Hz."""

    wheel_radius: float = Field(310.0, ge=50, le=1000)
    tyre_width: float = Field(205.0, ge=20, le=1000)
    track: float = Field(1480.0, ge=300, le=4000)
    bump: float = Field(70.0, ge=5, le=500)
    droop: float = Field(55.0, ge=5, le=500)
    corner_mass: float = Field(280.0, ge=5, le=20000)
    unsprung_mass: float = Field(38.0, ge=0, le=5000)
    frequency: float = Field(1.5, ge=0.4, le=6)


class StartIn(BriefIn):
    """The same, and the room from the tyre's inner face to the rail, mm: it is drawn as a rail."""

    beside: float | None = Field(None, ge=0, le=2000)


class StartOut(Schema):
    """The stations that an arrangement starts with."""

    stations: list[StationValues]


@router.get("", response=list[LayoutOut], operation_id="listLayouts")
def layouts(request: HttpRequest) -> HttpResponse:
    """Return every arrangement with a small drawing of how it moves."""
    return answer(_described())


@router.post("/{name}/start", response=StartOut, operation_id="startLayout")
def start(request: HttpRequest, name: str, body: StartIn) -> HttpResponse:
    """Return the stations of an arrangement, scaled to a brief and sprung to stand as drawn, beside the rail there is."""
    values = body.dict()
    beside = values.pop("beside")
    stations = starting_project(layout_named(name), Brief(**values))["stations"]
    if beside is not None:
        stations = [with_rail(station, beside) for station in stations]
    return answer({"stations": stations})


class RoomIn(Schema):
    """What is free at the vehicle, mm, null where nothing is said; and what it is for."""

    beside: float | None = Field(None, ge=0, le=3000)
    above: float | None = Field(None, ge=0, le=3000)
    under: float | None = Field(None, ge=0, le=2000)
    bag: float | None = Field(None, ge=0, le=2000)
    purpose: Literal["road", "sport", "circuit", "rough"] | None = None


class SuitedIn(Schema):
    """A brief and the room for it."""

    brief: BriefIn
    room: RoomIn


class SuitedOut(Schema):
    """One arrangement for this job: whether the room is there, why to take it and why not."""

    name: str
    fits: bool
    why: list[SentenceOut]
    why_not: list[SentenceOut]


@router.post("/suited", response=list[SuitedOut], operation_id="listSuited")
def weigh(request: HttpRequest, body: SuitedIn) -> HttpResponse:
    """Return what speaks for and against each arrangement at the size and in the room of this job."""
    brief, room = Brief(**body.brief.dict()), Room(**body.room.dict())
    budget = Budget(MOST_SECONDS)
    found = [_late(layout.name) if budget.spent else suited(layout.name, brief, room) for layout in LAYOUTS]
    return answer(
        [
            {
                "name": one.layout,
                "fits": one.fits,
                "why": [sentence_values(sentence) for sentence in one.why],
                "why_not": [sentence_values(sentence) for sentence in one.why_not],
            }
            for one in found
        ]
    )


class ApartIn(Schema):
    """A document, and which of its stations is to have its other side as a station of its own."""

    document: Document
    station: int


class ApartOut(Schema):
    """The document with the other side beside it, each naming the other."""

    document: Document


class UnitIn(Schema):
    """A kind of part to fit at a station, and the two places between which it goes."""

    document: Document
    station: int
    kind: Literal["coilover", "spring", "damper", "air_spring", "bump_stop", "strap"]
    ends: list[str]


class UnitMade(Schema):
    """The part, as in the project file."""

    unit: dict[str, Any]


def _asked_about(body: "UnitIn | ApartIn") -> tuple[Project, Station]:
    """Return the job and the station that are asked about; raise the engine's refusals, or ActionRefused."""
    project = check_project(body.document)
    if not 0 <= body.station < len(project.stations):
        raise ActionRefused(422, "no_station", f"This job has no station number {body.station + 1}.")
    return project, project.stations[body.station]


@router.post("/unit", response=UnitMade, operation_id="firstUnit")
def unit(request: HttpRequest, body: UnitIn) -> HttpResponse:
    """Return a part between two places, sized for the travel and to carry the wheel by itself."""
    project, station = _asked_about(body)
    if len(body.ends) != 2 or body.ends[0] == body.ends[1] or not set(body.ends) <= set(station.points):
        raise ActionRefused(422, "no_ends", "Choose two different places of this station.")
    taken = {spoken(one.name) for one in station.units}
    words = {"air_spring": "bag"}.get(body.kind, body.kind.replace("_", " "))
    names = (words, *(f"{words} {number}" for number in range(2, len(taken) + 3)))
    name = next(one for one in names if one not in taken)
    band = rules_of(project.judging, station.judging).frequencies or USUAL_HZ
    made = first_unit(station, body.kind, (body.ends[0], body.ends[1]), name, sum(band) / 2)
    return answer({"unit": made})


@router.post("/apart", response=ApartOut, operation_id="setSidesApart")
def apart(request: HttpRequest, body: ApartIn) -> HttpResponse:
    """Write a mirrored corner's other side out, so that each side can be changed by itself."""
    project, station = _asked_about(body)
    if station.single or station.kind == "axle" or station.other_side != "mirror":
        raise ActionRefused(
            422, "no_mirror", f"{station.name} does not stand for two sides; there is nothing to part."
        )
    names = {its.name for its in project.stations}
    name = other_sides_name(station.name)
    if name in names:
        raise ActionRefused(
            422, "name_taken", f"A station is called {name} already; rename one of them first."
        )
    stations = [dict(values) for values in body.document["stations"]]
    other = mirrored_station(stations[body.station], name) | {"other_side": station.name}
    stations[body.station]["other_side"] = name
    stations.insert(body.station + 1, other)
    return answer({"document": {**body.document, "stations": stations}})


@router.post("/mirrored", response=ApartOut, operation_id="mirrorOtherSide")
def mirrored(request: HttpRequest, body: ApartIn) -> HttpResponse:
    """Make the station on the other side the mirror image of this one; its name and masses stay its own."""
    project, station = _asked_about(body)
    names = [its.name for its in project.stations]
    if station.other_side not in names:
        raise ActionRefused(
            422, "no_other_side", f"{station.name} has no station of its own on the other side."
        )
    at = names.index(station.other_side)
    stations = [dict(values) for values in body.document["stations"]]
    image = mirrored_station(stations[body.station], station.other_side)
    stations[at] = image | {"other_side": station.name, "mass": stations[at]["mass"]}
    return answer({"document": {**body.document, "stations": stations}})


def _late(name: str) -> Suited:
    """An arrangement that there was no time for; what was weighed is kept, so asking again comes further."""
    words = "Not weighed in the time there is, as so much travel takes long to follow. Ask again."
    return Suited(layout=name, fits=True, why=(), why_not=(Sentence(words),))


@lru_cache(maxsize=1)
def _described() -> list[dict[str, Any]]:
    return [_layout_values(layout) for layout in LAYOUTS]


def _layout_values(layout: Layout) -> dict[str, Any]:
    values = starting_project(layout)["stations"][0]
    station = check_project(starting_project(layout)).stations[0]
    linkage = Linkage(station)
    place = linkage.follow(np.array(SHOWN_TRAVELS)).solution.motion.place
    index = linkage.index
    return {
        "name": layout.name,
        "title": layout.title,
        "moves": layout.moves,
        "room": layout.room,
        "kind": station.kind,
        "air": any(unit.kind == "air_spring" for unit in station.units),
        "inboard": leaves_free_beside(layout.name, Brief()),
        "wheels": [wheel.centre for wheel in station.wheels],
        "tyre_radius": station.wheels[0].tyre_radius,
        "bodies": values["bodies"],
        "units": [
            [unit.kind, *unit.ends]
            for unit in station.units
            if unit.kind not in ("strap", "bump_stop", "bar")
        ],
        "chassis": station.chassis,
        "points": {name: np.round(place[:, k].T, 1).tolist() for name, k in index.items()},
    }
