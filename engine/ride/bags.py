"""A bag's heights and pressures in the states that a driver brings it to.

Bump, droop  the wanted ends of travel, valve shut at ride height.
Ride         where the stated pressure carries the weight.
Lift         valve open at the bags' rated pressure: as high as it will stand, full droop at most.
Aired out    no gauge pressure: down on whatever else carries, full bump at most.
"""

import numpy as np

from engine.document.schema import AirSpring
from engine.facts import facts
from engine.station.solved import SolvedStation


@facts
class BagState:
    """One bag in one state: wheel travel and height mm, gauge pressure bar, force N."""

    bag: str
    state: str
    travel: float
    height: float
    pressure: float
    force: float


def bag_states(solved: SolvedStation) -> tuple[BagState, ...]:
    """Return every bag's states, as far as the linkage reaches them."""
    reached = solved.search.travels[solved.path.reached]
    if not len(reached):
        return ()
    travel = solved.station.travel
    shut = {
        "bump": travel.bump,
        "ride": None if solved.ride is None else solved.ride.travel,
        "droop": -travel.droop,
    }
    asked: list[tuple[str, float, float | None]] = [
        (state, float(np.clip(at, reached[0], reached[-1])), None)
        for state, at in shut.items()
        if at is not None
    ]
    rated = [
        unit.max_pressure
        for unit in solved.station.units
        if isinstance(unit, AirSpring) and unit.max_pressure
    ]
    if rated:
        asked.append(("lift", _standing(solved, min(rated)), min(rated)))
    asked.append(("aired_out", _standing(solved, 0.0), 0.0))
    found = []
    for state, at, pressure in asked:
        rows = solved.at(np.array([at]))
        springing = solved.springing if pressure is None else solved.springing.open_at(pressure)
        wheel = springing.at_wheel(rows.squeezes)
        for k, law in enumerate(springing.laws):
            bar = wheel.units[k].pressure
            if law.bag is not None and bar is not None:
                length, force = rows.units[law.name].length, wheel.units[k].force
                found.append(
                    BagState(
                        bag=law.name,
                        state=state,
                        travel=at,
                        height=float(length[0]),
                        pressure=float(bar[0]),
                        force=float(force[0]),
                    )
                )
    return tuple(found)


def _standing(solved: SolvedStation, pressure_bar: float) -> float:
    """Return the travel at which the units carry the weight with the valves open at a pressure, mm.

    Clamped to the reached part of the wanted travel: past its ends something else carries.
    """
    rows = solved.taken
    travels, weight = rows.travels, solved.springing.weight_n
    force = solved.springing.open_at(pressure_bar).at_wheel(rows.squeezes).force
    enough = force >= weight
    if enough.all():
        return float(travels[0])
    if not enough.any():
        return float(travels[-1])
    crossing = np.flatnonzero(enough[1:] != enough[:-1])
    k = int(crossing[np.abs(travels[crossing]).argmin()])
    share = (weight - force[k]) / (force[k + 1] - force[k])
    return float(travels[k] + share * (travels[k + 1] - travels[k]))
