"""Pressures side by side: where each would hold the vehicle, and what is left of the bag."""

import numpy as np

from engine.document.schema import AirSpring
from engine.facts import facts
from engine.findings.finding import Rules
from engine.sizing.tried import Stands, is_inside, stands
from engine.station.solved import SolvedStation, solve_again

STEP_BAR = 0.5
EACH_SIDE = 3


@facts
class PressureOption(Stands):
    """One pressure in every bag, and what it would do; None where it holds the vehicle nowhere in its travel.

    pressure bar gauge; height mm of the first bag
    share : of what the bag is rated; None where it is not rated
    inside : whether the frequency is among those wanted; None where none are
    """

    pressure: float
    height: float | None
    share: float | None
    inside: bool | None
    now: bool
    wanted: bool


def pressure_options(solved: SolvedStation, rules: Rules) -> tuple[PressureOption, ...]:
    """Return half-bar steps about the pressure that holds it where it is wanted; empty without bags."""
    bags = [unit for unit in solved.station.units if isinstance(unit, AirSpring)]
    if not bags:
        return ()
    now, wanted = bags[0].pressure, solved.pressure_wanted_bar
    middle = round((now if wanted is None else wanted) / STEP_BAR) * STEP_BAR
    steps = {round(middle + k * STEP_BAR, 3) for k in range(-EACH_SIDE, EACH_SIDE + 1)}
    exact = set() if wanted is None else {round(wanted, 2)}
    chosen = sorted({round(now, 4), *(p for p in steps | exact if p > 0 and abs(p - now) > 0.02)})
    return tuple(_option(solved, rules, bags, pressure, now, wanted) for pressure in chosen)


def _option(
    solved: SolvedStation,
    rules: Rules,
    bags: list[AirSpring],
    pressure: float,
    now: float,
    wanted: float | None,
) -> PressureOption:
    names = {bag.name for bag in bags}
    units = [
        unit.model_copy(update={"pressure": pressure}) if unit.name in names else unit
        for unit in solved.station.units
    ]
    tried = solve_again(solved, solved.station.model_copy(update={"units": units}))
    its, height, rated = Stands(), None, bags[0].max_pressure
    if tried.at_ride is not None and tried.filled_at_ride:
        its, height = stands(tried), float(np.asarray(tried.at_ride.units[bags[0].name].length)[0])
    return PressureOption(
        **vars(its),
        pressure=pressure,
        height=height,
        share=None if rated is None else pressure / rated,
        inside=is_inside(its.frequency, rules),
        now=abs(pressure - now) < 1e-6,
        wanted=wanted is not None and abs(pressure - wanted) < 0.006,
    )
