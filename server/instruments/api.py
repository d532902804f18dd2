"""Instruments over HTTP: what they show now. A stand-in is told what it is held to, having no shop around it."""

from dataclasses import asdict
from random import Random
from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status

from engine.survey.kinds import READS
from server.answers import ActionRefused, Refusal, answer
from server.instruments.bench import NAMES, is_stand_in, line_of

router = Router(tags=["instruments"])
HIDDEN = {
    "deg": 0.25,
    "mm": 1.2,
}  # how far what was built is off what is drawn: nobody has told the stand-in either


class ShownOut(Schema):
    """What an instrument shows: its figure in its unit, whether it is steady, battery in percent, what it says."""

    name: str
    value: float | None
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
    spots: list[list[float]]
    at: str


@router.get("", response=list[InstrumentOut], operation_id="listInstruments")
def list_instruments(request: HttpRequest) -> list[dict[str, str]]:
    """Return the shop's instruments."""
    return [{"key": key, "name": name} for key, name in NAMES.items()]


@router.get("/{key}", response={200: ShownOut, 404: Refusal}, operation_id="readInstrument")
def read(request: HttpRequest, key: str) -> HttpResponse:
    """Return what an instrument shows now."""
    line = _line(key)
    return answer({"name": line.name, **asdict(line.look()), "stand_in": is_stand_in(key)})


@router.post("/{key}/aim", response={204: None, 404: Refusal, 422: Refusal}, operation_id="aimInstrument")
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
    if key not in NAMES:
        raise ActionRefused(404, "no_instrument", f"There is no instrument “{key[:40]}” here.")
    return line_of(key)
