"""What stands on the floor for the stand-ins: the job as it was really built, a little off in places nobody has told of.

Hidden   each station's upper damper eye is off by a few millimetres, each wheel's mass by a few parts in a hundred; always
         the same little for a station of a name. What has been turned since, by the records, has been turned here too.
"""

import json
from dataclasses import replace
from functools import lru_cache
from random import Random
from typing import Any

import numpy as np

from engine.document.read import check_project
from engine.document.records import SettingRecord
from engine.document.schema import AirSpring
from engine.errors import EngineError
from engine.prove.weighed import as_turned
from engine.vehicle.stance import Extra, Stance, stance
from engine.vehicle.wheels import Vehicle, vehicle_of

OFF_MM, OFF_MASS, OFF_BAR = 1.5, 0.02, 0.04
CURVE_ROWS = 33


class NotThere(ValueError):
    """Nothing like that stands on the floor, in words."""


def as_it_stands(document: dict[str, Any], records: list[dict[str, Any]]) -> Vehicle:
    """Return the vehicle as it was really built and has been set since; raise the engine's errors."""
    settings = [record for record in records if record.get("kind") == "setting"]
    return _built(json.dumps(document, sort_keys=True), json.dumps(settings, sort_keys=True))


@lru_cache(maxsize=8)
def _built(document: str, settings: str) -> Vehicle:
    values = json.loads(document)
    drawn = check_project({**values, "records": json.loads(settings)})
    for station in values["stations"]:
        _put_off(station)
    try:
        vehicle = vehicle_of(check_project(values))
    except EngineError:
        vehicle = vehicle_of(drawn)  # too close to an end to be built crooked
    vehicle = as_turned(vehicle.apart(), [one for one in drawn.records if isinstance(one, SettingRecord)])
    wheels = tuple(
        replace(wheel, mass=wheel.mass * (1 + Random(f"mass {wheel.key}").gauss(0.0, OFF_MASS)))
        for wheel in vehicle.wheels
    )
    return replace(vehicle, wheels=wheels)


def _put_off(station: dict[str, Any]) -> None:
    held = set(station.get("chassis", []))
    for unit in station.get("units", []):
        end = next((end for end in unit.get("ends", []) if end in held), None)
        if end is not None and unit.get("kind") in ("coilover", "damper", "spring", "air_spring"):
            chance = Random(f"{station.get('name')} {end}")
            station["points"][end] = [float(c) + chance.gauss(0.0, OFF_MM) for c in station["points"][end]]
            return


def standing(vehicle: Vehicle, extra: tuple[Extra, ...] = ()) -> Stance:
    """Return how it stands, with what is put in."""
    return stance(vehicle, extra=extra)


def curve_of(vehicle: Vehicle, station: str, unit: str) -> list[tuple[float, float]]:
    """Return a unit's length over its wheel's travel as built, mm; raise NotThere."""
    for support in vehicle.supports:
        its = support.solved.station
        if its.name == station and unit in support.solved.taken.units:
            travels = np.linspace(-its.travel.droop, its.travel.bump, CURVE_ROWS)
            lengths = support.solved.at(travels).units[unit].length
            return [
                (float(z), float(long)) for z, long in zip(travels, lengths, strict=True) if np.isfinite(long)
            ]
    raise NotThere(f"There is no {unit} at {station} to hold the travel pair to.")


def pressure_of(vehicle: Vehicle, station: str) -> float:
    """Return what is really in a station's bag, bar; raise NotThere."""
    for support in vehicle.supports:
        for unit in support.solved.station.units:
            if support.solved.station.name == station and isinstance(unit, AirSpring):
                return float(unit.pressure) + Random(f"pressure {station}").gauss(0.0, OFF_BAR)
    raise NotThere(f"There is no bag at {station} to hold the air gauge to.")
