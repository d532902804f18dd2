"""Instruments over HTTP: what they show now. A stand-in is told what it is held to, having no shop around it."""

import json
from functools import cache
from random import Random
from typing import Annotated, Any

import numpy as np
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Field, Router, Schema, Status

from engine.survey.kinds import READS
from engine.vehicle.stance import Extra
from server.answers import ActionRefused, Document, RecordValues, answer
from server.instruments.bench import NAMES, is_stand_in, line_of, there
from server.instruments.floor import NotThere, as_it_stands, curve_of, pressure_of, standing
from server.instruments.reader import Reading
from server.running.held_open import Feed

router = Router(tags=["instruments"])
WAIT_S = 0.5
HIDDEN = {
    "deg": 0.25,
    "mm": 1.2,
}  # how far what was built is off what is drawn: nobody has told the stand-in either


class ShownOut(Schema):
    """What an instrument shows: its figure (of its first head) and its figures in its unit, battery in percent, words."""

    name: str
    value: float | None
    values: list[float]
    unit: str
    steady: bool
    battery: float | None
    said: str
    stand_in: bool


class InstrumentOut(Schema):
    """An instrument of this shop."""

    key: str
    name: str


class HeldIn(Schema):
    """What a stand-in is held to: the kind of a reading, where its places are (mm), and their names."""

    kind: str
    seen: str = "line"
    spots: Annotated[list[Annotated[list[float], Field(min_length=3, max_length=3)]], Field(max_length=40)]
    at: str


@router.get("", response=list[InstrumentOut], operation_id="listInstruments")
def list_instruments(request: HttpRequest) -> list[dict[str, str]]:
    """Return the shop's instruments."""
    return [{"key": key, "name": name} for key, name in NAMES.items() if there(key)]


@router.get("/{key}", response=ShownOut, operation_id="readInstrument")
def read(request: HttpRequest, key: str) -> HttpResponse:
    """Return what an instrument shows now."""
    line = _line(key)
    return answer(_shown(key, line.look()))


@router.get("/{key}/live", response=None, operation_id="watchInstrument")
def live(request: HttpRequest, key: str) -> StreamingHttpResponse:
    """Return what an instrument shows as server-sent events, as often as it changes; the browser takes up an ended one."""
    _line(key)
    return _feed(key).hold(request, key)


@cache
def _feed(key: str) -> Feed:
    """Return what tells all who watch an instrument."""
    return Feed(lambda _: {key: json.dumps(_shown(key, _line(key).look()))}, lambda: _line(key).next(WAIT_S))


def _shown(key: str, reading: Reading) -> dict[str, Any]:
    return {
        "name": NAMES[key],
        "value": reading.value,
        "values": list(reading.values),
        "unit": reading.unit,
        "steady": reading.steady,
        "battery": reading.battery,
        "said": reading.said,
        "stand_in": is_stand_in(key),
    }


@router.post("/{key}/zero", response={204: None}, operation_id="zeroInstrument")
def zero(request: HttpRequest, key: str) -> Status[Any]:
    """Press an instrument's zero button: what it shows now is nothing from now on."""
    _line(key).say("zero")
    return Status(204, None)


class Put(Schema):
    """A mass put in, kg, and where, mm."""

    name: str = ""
    mass: float
    x: float
    y: float


class FloorIn(Schema):
    """The job on the floor, and what a stand-in is held to there.

    of    : a station for the travel pair and the air gauge, a datum's name for the distance meter
    unit  : whose length the travel pair reads; travel : where its jack holds the wheel, mm from as drawn
    """

    document: Document
    records: list[RecordValues] = []
    of: str = ""
    unit: str = ""
    travel: float = 0.0
    put_in: list[Put] = []


@router.post("/{key}/floor", response={204: None}, operation_id="holdInstrument")
def floor(request: HttpRequest, key: str, body: FloorIn) -> Status[Any]:
    """Hold a stand-in to the job as it was really built; a real instrument stands there by itself."""
    line = _line(key)
    if not is_stand_in(key):
        return Status(204, None)
    vehicle = as_it_stands(body.document, body.records)
    extra = tuple(Extra(name=one.name, mass=one.mass, x=one.x, y=one.y) for one in body.put_in)
    try:
        match key:
            case "travel-pair":
                pairs = curve_of(vehicle, body.of, body.unit)
                line.say("curve " + " ".join(f"{z:.2f}:{long:.3f}" for z, long in pairs))
                line.say(f"aim {body.travel:.2f}")
            case "corner-scales":
                scales = standing(vehicle, extra).scales
                line.say("aim " + " ".join(f"{kilograms:.2f}" for kilograms in scales.values()))
            case "distance-meter":
                heights = standing(vehicle, extra).heights
                if body.of not in heights:
                    raise NotThere(f"There is no datum of {body.of} to measure to.")
                line.say(f"aim {heights[body.of]:.2f}")
            case "air-gauge":
                line.say(f"aim {pressure_of(vehicle, body.of):.3f}")
    except NotThere as error:
        raise ActionRefused(422, "floor", str(error)) from error
    return Status(204, None)


@router.post("/{key}/aim", response={204: None}, operation_id="aimInstrument")
def aim(request: HttpRequest, key: str, body: HeldIn) -> Status[Any]:
    """Hold a stand-in to something: its truth is what is drawn and a little off, always the same little."""
    line = _line(key)
    if is_stand_in(key):
        unit = "deg" if key == "angle-finder" else "mm"
        kind = f"slope, {body.seen}" if body.kind == "slope" else body.kind
        spots = np.array(body.spots, dtype=float)
        if kind not in READS or spots.ndim != 2 or spots.shape[1] != 3:
            raise ActionRefused(422, "aim", "An instrument is held to a reading between places.")
        drawn = float(READS[kind](spots[None])[0][0, 0])
        off = Random(body.at).gauss(0.0, HIDDEN[unit])
        line.say(f"aim {drawn + off:.3f}")
    return Status(204, None)


def _line(key: str) -> Any:
    if key not in NAMES or not there(key):
        raise ActionRefused(404, "no_instrument", f"There is no instrument “{key[:40]}” here.")
    return line_of(key)
