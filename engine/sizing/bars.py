"""Which bar gives the roll stiffness that is wanted: stock bars and tubes, put in the place of the one that is drawn.

Wanted   N·m per degree that bars must give at this station, all of them together.
"""

from dataclasses import replace

from engine.document.schema import Bar
from engine.facts import facts
from engine.ride.roll import bars_of, roll_of
from engine.station.solved import SolvedStation, solve_again

STOCK_MM = (
    (12.0, 0.0), (14.0, 0.0), (16.0, 0.0), (18.0, 0.0), (20.0, 0.0), (22.0, 0.0), (25.0, 0.0), (28.0, 0.0),
    (32.0, 0.0), (25.0, 17.0), (28.0, 20.0), (32.0, 22.0), (38.0, 28.0),
)  # fmt: skip


@facts
class BarOption:
    """One stock bar: mm, N·m per degree of twist and of roll, N/mm at one wheel alone.

    enough : whether it gives what is wanted; None where nothing is
    """

    diameter: float
    bore: float
    twist_rate: float
    in_roll: float
    one_wheel: float
    enough: bool | None
    suits: bool = False
    now: bool = False


def bar_options(solved: SolvedStation, wanted_nm_per_deg: float | None) -> tuple[BarOption, ...]:
    """Return stock bars from softest to stiffest, the least that is enough marked; empty without a bar drawn."""
    bars = [unit for unit in solved.station.units if isinstance(unit, Bar)]
    if len(bars) != 1 or roll_of(solved) is None:
        return ()
    bar, found = bars[0], []
    for diameter, bore in STOCK_MM:
        stock = bar.model_copy(update={"diameter": diameter, "bore": bore, "rate": None})
        units = [stock if unit is bar else unit for unit in solved.station.units]
        tried = solve_again(solved, solved.station.model_copy(update={"units": units}))
        roll = roll_of(tried)
        if roll is None or roll.bar <= 0:
            return ()
        here = _bar(tried, stock)
        found.append(
            BarOption(
                diameter=diameter,
                bore=bore,
                twist_rate=here[0],
                in_roll=roll.bar,
                one_wheel=here[1],
                enough=None if wanted_nm_per_deg is None else roll.bar >= wanted_nm_per_deg,
                now=(diameter, bore) == (bar.diameter, bar.bore or 0.0),
            )
        )
    found.sort(key=lambda option: option.in_roll)
    first = next((k for k, option in enumerate(found) if option.enough), None)
    if first is not None and wanted_nm_per_deg:
        found[first] = replace(found[first], suits=True)
    return tuple(found)


def _bar(solved: SolvedStation, bar: Bar) -> tuple[float, float]:
    """Return a bar's twist rate and what one wheel alone is met by."""
    here = next(one for one in bars_of(solved) if one.name == bar.name)
    return here.twist_rate, here.one_wheel
