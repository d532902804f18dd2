"""Bags of the shelf in the place of those that are fitted, each filled so that it stands where it is wanted.

Curve   its area over height: as somebody measured it at both ends, else the fitted bag's, brought to the other's
        heights and by the square of its width.
"""

import numpy as np

from engine.document.schema import AirSpring, Station
from engine.facts import facts
from engine.findings.finding import Rules
from engine.sizing.tried import Stands, is_inside, stands
from engine.station.solved import SolvedStation, solve_again


@facts
class ShelfBag:
    """A bag that is there to be fitted: least and greatest height mm, widest mm, rated bar gauge; areas mm² at both heights."""

    name: str
    least: float
    greatest: float
    widest: float | None = None
    rated: float | None = None
    area_least: float | None = None
    area_greatest: float | None = None

    @property
    def measured(self) -> bool:
        """Return whether its own area is known."""
        return self.area_least is not None and self.area_greatest is not None


@facts
class BagOption(Stands):
    """A bag in every place of one, and what it would do; None where no pressure holds the vehicle there.

    fitted : the bags as they would be
    pressure bar gauge, share of what it is rated; height mm at ride; left_in_bump, left_in_droop mm of its heights
    scaled : its area is the fitted bag's, scaled
    """

    name: str
    fitted: tuple[AirSpring, ...]
    pressure: float | None
    share: float | None
    height: float | None
    left_in_bump: float
    left_in_droop: float
    inside: bool | None
    scaled: bool
    now: bool


def bag_options(solved: SolvedStation, rules: Rules, shelf: tuple[ShelfBag, ...]) -> tuple[BagOption, ...]:
    """Return what every bag of a shelf would do; none without a bag to take the place of."""
    bags = [unit for unit in solved.station.units if isinstance(unit, AirSpring)]
    if not bags or not solved.path.reached.any():
        return ()
    return tuple(_option(solved, rules, bags, one) for one in shelf)


def _option(solved: SolvedStation, rules: Rules, bags: list[AirSpring], one: ShelfBag) -> BagOption:
    fitted = {bag.name: _in_place_of(bag, one) for bag in bags}
    empty = solve_again(solved, _with(solved.station, fitted))
    pressure = empty.pressure_wanted_bar
    if pressure is not None:
        filled = {"pressure": round(max(pressure, 0.0), 4)}
        fitted = {name: bag.model_copy(update=filled) for name, bag in fitted.items()}
    tried = solve_again(solved, _with(solved.station, fitted))
    lengths = tried.taken.units[bags[0].name].length
    its, height = Stands(), None
    if tried.at_ride is not None and tried.filled_at_ride:
        its, height = stands(tried), float(np.asarray(tried.at_ride.units[bags[0].name].length)[0])
    return BagOption(
        **vars(its),
        name=one.name,
        fitted=tuple(fitted.values()),
        pressure=pressure,
        share=None if pressure is None or one.rated is None else pressure / one.rated,
        height=height,
        left_in_bump=float(lengths.min()) - one.least,
        left_in_droop=one.greatest - float(lengths.max()),
        inside=is_inside(its.frequency, rules),
        scaled=not one.measured,
        now=all(_is(bag, one) for bag in bags),
    )


def _is(bag: AirSpring, one: ShelfBag) -> bool:
    return (bag.min_height, bag.max_height, bag.max_diameter, bag.max_pressure) == (
        one.least,
        one.greatest,
        one.widest,
        one.rated,
    )


def _with(station: Station, bags: dict[str, AirSpring]) -> Station:
    return station.model_copy(update={"units": [bags.get(unit.name, unit) for unit in station.units]})


def _in_place_of(bag: AirSpring, one: ShelfBag) -> AirSpring:
    """Return a bag of the shelf between a bag's mounts: all of itself, and no more of what was there."""
    return bag.model_copy(
        update={
            "min_height": one.least,
            "max_height": one.greatest,
            "max_pressure": one.rated,
            "max_diameter": one.widest,
            "height_table": _curve(bag, one),
        }
    )


def _curve(bag: AirSpring, one: ShelfBag) -> list[list[float]]:
    if one.area_least is not None and one.area_greatest is not None:
        return [[one.least, one.area_least], [one.greatest, one.area_greatest]]
    wide, wide_before = one.widest, bag.max_diameter
    wider = 1.0 if wide is None or wide_before is None else (wide / wide_before) ** 2
    taller = (one.greatest - one.least) / (bag.max_height - bag.min_height)
    rows = []
    for height, area, *volume in bag.height_table:
        its = one.least + (height - bag.min_height) * taller
        rows.append([round(its, 2), round(area * wider, 1), *(round(v * wider * taller, 1) for v in volume)])
    return rows
