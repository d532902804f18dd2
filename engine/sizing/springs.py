"""Springs for a linkage: what each rate would do, preload set so that it stands where it is wanted.

Wanted   the travel at which it should stand (`travel.at`, as drawn if left out).
Rate     of the first spring of every coilover; the others of a stack keep their share of it.
Preload  such that the units together carry the weight there, every coilover with the same force.
"""

import numpy as np

from engine.document.schema import Coilover, Spring, Station
from engine.document.units import AnyUnit
from engine.facts import facts
from engine.findings.finding import Rules
from engine.findings.springs import unfit
from engine.forces.stack import stack_of
from engine.forces.units import adapter_mm
from engine.forces.unknown import wire_mm
from engine.ride.perch import seated
from engine.sentences import Sentence
from engine.sizing.tried import Stands, is_inside, stands
from engine.station.equilibrium import wheel_rate_for
from engine.station.solved import SolvedStation, solve_again

STEPS_N_PER_MM = ((40.0, 2.5), (100.0, 5.0), (300.0, 10.0), (float("inf"), 25.0))
EACH_SIDE = 4
STEP_MM = 5.0  # between the lengths that coils are had in
USUAL_HZ = (1.0, 2.0)  # where nobody has said what it is for


@facts
class ShelfCoil:
    """A coil that is there to be fitted: N/mm, mm; bore inside and outside over it, None where nobody has said."""

    name: str
    rate: float
    free_length: float
    solid_length: float
    bore: float | None = None
    outside: float | None = None

    @property
    def spring(self) -> Spring:
        """Return it as a spring of a stack."""
        its = Spring(rate=self.rate, free_length=self.free_length, solid_length=self.solid_length)
        return its if self.bore is None else its.model_copy(update={"bore": self.bore})

    @property
    def over(self) -> float | None:
        """Return mm over it: as said, else by the wire that its rate, bore and solid length ask for."""
        if self.outside is not None or self.bore is None:
            return self.outside
        wire = wire_mm(self.rate, self.bore, self.solid_length)
        return None if wire is None else round(self.bore + 2 * wire, 1)


@facts
class SpringOption(Stands):
    """One rate and what it would do; None where it stands nowhere.

    name : of a coil on the shelf; None for a generic rate in today's lengths
    fitted : the coilovers with it on them, preloaded, their perches wound to where that puts them
    unfit  : why it does not go on, None where it does as far as is known
    rate N/mm; coil_left mm before solid at full bump;
    seat_left mm of squeeze at full droop; coil_short : less is left than the shop wants; inside : its frequency is among those wanted
    """

    name: str | None
    rate: float
    fitted: tuple[Coilover, ...]
    unfit: Sentence | None
    coil_left: float
    coil_short: bool
    seat_left: float
    inside: bool | None
    now: bool


def spring_options(
    solved: SolvedStation,
    rules: Rules,
    rates: list[float] | None = None,
    shelf: tuple[ShelfCoil, ...] = (),
) -> tuple[SpringOption, ...]:
    """Return what generic steps of rate, and coils on the shelf, would do, from softer to stiffer.

    None without a coilover of known rate. A generic rate keeps today's length where the perch takes it, else it has one
    that does; a stack keeps its shares.
    """
    coilovers = [unit for unit in solved.station.units if isinstance(unit, Coilover)]
    if (
        not coilovers
        or any(unit.springs[0].rate is None for unit in coilovers)
        or not solved.path.reached.any()
    ):
        return ()
    now = float(coilovers[0].springs[0].rate or 0.0)
    chosen = sorted({now, *(rates if rates is not None else _steps(solved, rules, now))})
    options = [
        _option(solved, rules, coilovers, rate, None, _shares(coilovers, rate / now), abs(rate - now) < 1e-9)
        for rate in chosen
    ]
    for coil in shelf:
        fitted = {unit.name: [coil.spring] for unit in coilovers}
        same = all(list(unit.springs) == [coil.spring] for unit in coilovers)
        options.append(_option(solved, rules, coilovers, coil.rate, coil, fitted, same))
    return tuple(sorted(options, key=lambda option: (option.rate, option.name or "")))


def _shares(coilovers: list[Coilover], share: float) -> dict[str, list[Spring]]:
    return {unit.name: [_scaled(spring, share) for spring in unit.springs] for unit in coilovers}


def _steps(solved: SolvedStation, rules: Rules, now: float) -> list[float]:
    """Return generic rates about the one that gives the middle of the wanted frequencies, or about today's."""
    middle = now
    if rules.frequencies is not None or solved.ride is None:
        middle = rate_needed(solved, sum(rules.frequencies or USUAL_HZ) / 2) or now
    step = next(step for most, step in STEPS_N_PER_MM if middle < most)
    first = max(round(middle / step) - EACH_SIDE, 1)
    return [step * (first + k) for k in range(2 * EACH_SIDE + 1)]


def rate_needed(solved: SolvedStation, frequency_hz: float) -> float | None:
    """Return the coil rate that gives a frequency where it should stand, N/mm, by the ratio alone: K_w = MR²·k."""
    station = solved.station
    at = float(np.clip(station.travel.at or 0.0, *solved.search.travels[solved.path.reached][[0, -1]]))
    rows = solved.at(np.array([at]))
    names = [unit.name for unit in station.units if isinstance(unit, Coilover)]
    ratios = sum(float(rows.units[name].motion_ratio[0]) ** 2 for name in names)
    wheel_rate = wheel_rate_for(frequency_hz, station.mass.sprung)
    return float(wheel_rate * solved.springing.wheels / ratios) if ratios > 1e-6 else None


def _option(
    solved: SolvedStation,
    rules: Rules,
    coilovers: list[Coilover],
    rate: float,
    coil: ShelfCoil | None,
    springs: dict[str, list[Spring]],
    now: bool,
) -> SpringOption:
    station = with_springs(solved, coilovers, springs)
    if coil is not None and not now:
        station = _brought(station, coilovers, coil)
    elif not now:
        station = station.model_copy(
            update={"units": [_of_a_length_that_goes_on(unit) for unit in station.units]}
        )
    tried = solve_again(solved, station)
    left, seat = [], []
    for law in tried.springing.laws:
        if law.stack is not None:
            lengths = tried.taken.units[law.name].length
            squeeze = law.free_reference - lengths
            left.append(law.stack.solid_compression - float(squeeze.max()))
            seat.append(float(squeeze.min()))
    its = stands(tried)
    return SpringOption(
        **vars(its),
        name=None if coil is None else coil.name,
        rate=rate,
        fitted=(fitted := tuple(unit for unit in station.units if isinstance(unit, Coilover))),
        unfit=next((words for unit in fitted if (words := unfit(unit)) is not None), None),
        coil_left=min(left),
        coil_short=min(left) < rules.coil_left_mm,
        seat_left=min(seat),
        inside=is_inside(its.frequency, rules),
        now=now,
    )


def with_springs(
    solved: SolvedStation, coilovers: list[Coilover], springs: dict[str, list[Spring]]
) -> Station:
    """Return the station with other springs on its coilovers, preloaded to stand where it is wanted."""
    station = solved.station
    at = float(np.clip(station.travel.at or 0.0, *solved.search.travels[solved.path.reached][[0, -1]]))
    rows = solved.at(np.array([at]))
    names = {unit.name for unit in coilovers}
    others = sum(float(t.motion_ratio[0] * t.force[0]) for name, t in rows.units.items() if name not in names)
    ratio = sum(float(rows.units[name].motion_ratio[0]) for name in names)
    each = (solved.springing.weight_n * solved.springing.wheels - others) / ratio if ratio > 0 else 0.0
    units: list[AnyUnit] = []
    for unit in station.units:
        if isinstance(unit, Coilover) and unit.name in names:
            stack = stack_of(springs[unit.name])
            law = next(law for law in solved.springing.laws if law.name == unit.name)
            length = float(rows.units[unit.name].length[0])
            gas = 0.0 if law.gas is None else float(law.gas.at(np.array([length]))[0][0])
            squeeze = _squeeze(stack.compression, stack.force, each - gas)
            preload = round(squeeze - (unit.extended + adapter_mm(unit) - length), 2)
            units.append(unit.model_copy(update=seated(unit, springs[unit.name], preload)))
        else:
            units.append(unit)
    return station.model_copy(update={"units": units})


def _of_a_length_that_goes_on(unit: AnyUnit) -> AnyUnit:
    """Return a coilover whose perch would stand past its end with a coil so much longer or shorter that it stands midway.

    A coil that is still to be bought is had in every length, in steps of STEP_MM; of the same rate it is solid in proportion.
    """
    if not isinstance(unit, Coilover) or unit.perch is None or min(unit.perch.up, unit.perch.down) >= 0:
        return unit
    first, *others = unit.springs
    longer = STEP_MM * round((unit.perch.down - unit.perch.up) / 2 / STEP_MM)
    sizes = {
        "free_length": round(first.free_length + longer, 3),
        "solid_length": round(first.solid_length * (1 + longer / first.free_length), 3),
    }
    if sizes["free_length"] <= STEP_MM:
        return unit
    return unit.model_copy(update=seated(unit, [first.model_copy(update=sizes), *others]))


def _brought(station: Station, coilovers: list[Coilover], coil: ShelfCoil) -> Station:
    """Return the station with what else a coil brings: mm over it, and the seats that the one before it stood on."""
    names = {unit.name for unit in coilovers}

    def with_it(unit: AnyUnit) -> AnyUnit:
        if not isinstance(unit, Coilover) or unit.name not in names:
            return unit
        before = next(its for its in coilovers if its.name == unit.name)
        seat = unit.seat if unit.seat is not None else before.springs[0].bore
        brought = {"coil_diameter": coil.over, "seat": seat}
        return unit.model_copy(update={key: value for key, value in brought.items() if value is not None})

    return station.model_copy(update={"units": [with_it(unit) for unit in station.units]})


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
