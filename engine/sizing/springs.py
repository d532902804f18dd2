"""Springs for a linkage: what each rate would do, preload set so that it stands where it is wanted.

Wanted   the travel at which it should stand (`travel.at`, as drawn if left out).
Rate     of the first spring of every coilover; the others of a stack keep their share of it.
Preload  such that the units together carry the weight there, every coilover with the same force.
"""

from dataclasses import dataclass

import numpy as np

from engine.document.schema import Coilover, Spring, Station
from engine.findings.finding import Rules
from engine.forces.stack import stack_of
from engine.forces.units import AnyUnit, adapter_mm
from engine.station import SolvedStation, solve_again

STEPS_N_PER_MM = ((40.0, 2.5), (100.0, 5.0), (300.0, 10.0), (float("inf"), 25.0))
EACH_SIDE = 4


@dataclass(frozen=True)
class SpringOption:
    """One rate and what it would do; None where it stands nowhere.

    rate N/mm; preload mm by coilover; ride mm; frequency Hz; coil_left mm before solid at full bump;
    seat_left mm of squeeze at full droop; inside : its frequency is among those wanted
    """

    rate: float
    preload: dict[str, float]
    ride: float | None
    wheel_rate: float | None
    frequency: float | None
    coil_left: float
    seat_left: float
    inside: bool | None
    now: bool


def spring_options(
    solved: SolvedStation, rules: Rules, rates: list[float] | None = None
) -> tuple[SpringOption, ...]:
    """Return what generic steps of rate would do, from softer to stiffer; none without a coilover of known rate."""
    coilovers = [unit for unit in solved.station.units if isinstance(unit, Coilover)]
    if (
        not coilovers
        or any(unit.springs[0].rate is None for unit in coilovers)
        or not solved.path.reached.any()
    ):
        return ()
    now = float(coilovers[0].springs[0].rate or 0.0)
    chosen = sorted({now, *(rates if rates is not None else _steps(solved, rules, now))})
    return tuple(_option(solved, rules, coilovers, rate, now) for rate in chosen)


def _steps(solved: SolvedStation, rules: Rules, now: float) -> list[float]:
    """Return generic rates about the one that gives the middle of the wanted frequencies, or about today's."""
    middle = now
    if rules.frequencies is not None and solved.ride is not None:
        low, high = rules.frequencies
        middle = now * (0.5 * (low + high) / solved.ride.frequency) ** 2
    step = next(step for most, step in STEPS_N_PER_MM if middle < most)
    first = max(round(middle / step) - EACH_SIDE, 1)
    return [step * (first + k) for k in range(2 * EACH_SIDE + 1)]


def _option(
    solved: SolvedStation, rules: Rules, coilovers: list[Coilover], rate: float, now: float
) -> SpringOption:
    station = with_rate(solved, coilovers, rate / now)
    tried = solve_again(solved, station)
    left, seat = [], []
    for law in tried.laws:
        if law.stack is not None:
            lengths = tried.sweep.units[law.name].length[tried.reached]
            squeeze = law.free_reference - lengths
            left.append(law.stack.solid_compression - float(squeeze.max()))
            seat.append(float(squeeze.min()))
    ride, band = tried.ride, rules.frequencies
    inside = None
    if ride is not None and band is not None:
        inside = band[0] <= ride.frequency <= band[1]
    return SpringOption(
        rate,
        {unit.name: unit.preload for unit in station.units if isinstance(unit, Coilover)},
        None if ride is None else ride.travel,
        None if ride is None else ride.wheel_rate,
        None if ride is None else ride.frequency,
        min(left),
        min(seat),
        inside,
        abs(rate - now) < 1e-9,
    )


def with_rate(solved: SolvedStation, coilovers: list[Coilover], share: float) -> Station:
    """Return the station with every coilover's springs at a share of their rate, preloaded to stand where wanted."""
    station = solved.station
    at = float(np.clip(station.travel.at or 0.0, *solved.search.travels[solved.path.reached][[0, -1]]))
    rows = solved.solver.at(solved.path, np.array([at]))
    names = {unit.name for unit in coilovers}
    others = sum(float(t.motion_ratio[0] * t.force[0]) for name, t in rows.units.items() if name not in names)
    ratio = sum(float(rows.units[name].motion_ratio[0]) for name in names)
    each = (solved.solver.weight_n * solved.solver.wheels - others) / ratio if ratio > 0 else 0.0
    units: list[AnyUnit] = []
    for unit in station.units:
        if isinstance(unit, Coilover) and unit.name in names:
            springs = [_scaled(spring, share) for spring in unit.springs]
            stack = stack_of(springs)
            law = next(law for law in solved.laws if law.name == unit.name)
            length = float(rows.units[unit.name].length[0])
            gas = 0.0 if law.gas is None else float(law.gas.at(np.array([length]))[0][0])
            squeeze = _squeeze(stack.compression, stack.force, each - gas)
            preload = round(squeeze - (unit.extended + adapter_mm(unit) - length), 2)
            units.append(unit.model_copy(update={"springs": springs, "preload": preload}))
        else:
            units.append(unit)
    return station.model_copy(update={"units": units})


def _squeeze(compression: np.ndarray, force: np.ndarray, wanted: float) -> float:
    """Return the compression at which a stack gives a force, mm; its last rate carried on beyond solid."""
    if wanted <= force[-1]:
        return float(np.interp(max(wanted, 0.0), force, compression))
    last = (compression[-1] - compression[-2]) / (force[-1] - force[-2])
    return float(compression[-1] + (wanted - force[-1]) * last)


def _scaled(spring: Spring, share: float) -> Spring:
    return (
        spring if spring.rate is None else spring.model_copy(update={"rate": round(spring.rate * share, 6)})
    )
