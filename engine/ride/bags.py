"""A bag's heights and pressures in the states that a driver brings it to.

Bump, droop  the wanted ends of travel, valve shut at ride height.
Ride         where the stated pressure carries the weight.
Lift         valve open at the bags' rated pressure: as high as it will stand, full droop at most.
Aired out    no gauge pressure: down on whatever else carries, full bump at most.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from engine.document.schema import AirSpring

if TYPE_CHECKING:
    from engine.forces.air import Bag
    from engine.ride.trace import UnitTrace
    from engine.station import SolvedStation


@dataclass(frozen=True)
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
    rows = solved.solver.at(solved.path, np.array([at for _, at, _ in asked]))
    return tuple(
        _state(law.name, law.bag, rows.units[law.name], k, *one)
        for k, one in enumerate(asked)
        for law in solved.solver.laws
        if law.bag is not None
    )


def _standing(solved: SolvedStation, pressure_bar: float) -> float:
    """Return the travel at which the units carry the weight with the valves open at a pressure, mm.

    Clamped to the reached part of the wanted travel: past its ends something else carries.
    """
    solver, rows = solved.solver, solved.search
    inside = np.flatnonzero(
        solved.path.reached
        & (rows.travels >= -solved.station.travel.droop)
        & (rows.travels <= solved.station.travel.bump)
    )
    force = np.zeros(len(inside))
    for law in solver.laws:
        trace = rows.units[law.name]
        lengths, ratio = trace.length[inside], trace.motion_ratio[inside]
        its = (
            law
            if law.bag is None
            else replace(law, bag=replace(law.bag, pressure_bar=pressure_bar, filled_mm=None))
        )
        force += ratio * its.at(lengths)[0] / solver.wheels
    enough = force >= solver.weight_n
    travels = rows.travels[inside]
    if enough.all():
        return float(travels[0])
    if not enough.any():
        return float(travels[-1])
    crossing = np.flatnonzero(enough[1:] != enough[:-1])
    k = int(crossing[np.abs(travels[crossing]).argmin()])
    share = (solver.weight_n - force[k]) / (force[k + 1] - force[k])
    return float(travels[k] + share * (travels[k + 1] - travels[k]))


def _state(
    name: str, bag: Bag, trace: UnitTrace, row: int, state: str, travel: float, pressure_bar: float | None
) -> BagState:
    """Return a bag in one state: a row of its trace, or, with the valve open, at a pressure."""
    length = trace.length[[row]]
    if pressure_bar is None:
        assert trace.pressure is not None
        pressure, force = float(trace.pressure[row]), float(trace.force[row])
    else:
        open_bag = replace(bag, pressure_bar=pressure_bar, filled_mm=None)
        pressure, force = pressure_bar, float(open_bag.at(length)[0][0])
    return BagState(name, state, travel, float(length[0]), pressure, force)
