"""The whole vehicle on its wheels: a stiff body that heaves, pitches and rolls until every wheel's force holds it.

Body     heave mm at the drawing's origin, up +; pitch degrees, nose down +; roll degrees, right side down +. Small angles:
         the body rises by heave − pitch·x + roll·y at a wheel, and the wheel's travel is less by as much; what stands
         under a wheel, a block or a jack, raises its travel again.
Balance  Σ F = the sprung weight, Σ F·x and Σ F·y its moments, by Newton on the wheels' own rates.
Lifted   a wheel that its springs would have to pull down by more than its own weight hangs in the air.
The centre of gravity's own shift as the body leans is left out (thousandths of its height).
"""

import math

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.datum import height_at_mm
from engine.vehicle.wheels import Vehicle, newtons

TURNS = 60
EXACT_TURNS = 4
ENOUGH_MM = 1e-7
STRIDE_MM = 40.0


Blocks = dict[str, float]
"""What stands under wheels, mm by wheel: a block, a jack, a kerb."""


@facts
class Extra:
    """A mass that is put in: kg, and where, mm as drawn."""

    name: str
    mass: float
    x: float
    y: float
    z: float = 0.0


@facts
class Stance:
    """How a vehicle stands. heave mm, pitch and roll degrees; travels mm and scales kg by wheel; heights mm by datum."""

    heave: float
    pitch: float
    roll: float
    travels: dict[str, float]
    scales: dict[str, float]
    heights: dict[str, float]
    cross: float | None
    lifted: tuple[str, ...]
    settled: bool


def stance(
    vehicle: Vehicle, finished: bool = False, extra: tuple[Extra, ...] = (), blocks: Blocks | None = None
) -> Stance:
    """Return how a vehicle stands, with masses put in besides, on a flat floor or with blocks under its wheels."""
    return balanced(vehicle, sprung(vehicle, finished, extra), blocks=blocks)


def sprung(vehicle: Vehicle, finished: bool = False, extra: tuple[Extra, ...] = ()) -> Array:
    """Return the sprung weight and its moments, (3,): N, N·mm along, N·mm across."""
    wheels = vehicle.wheels
    x, y = (np.array([getattr(wheel, axis) for wheel in wheels]) for axis in ("x", "y"))
    carried = np.array([newtons(wheel.carried(finished)) for wheel in wheels])
    wanted = np.array([carried.sum(), carried @ x, carried @ y])
    for one in extra:
        wanted += newtons(one.mass) * np.array([1.0, one.x, one.y])
    return wanted


def balanced(
    vehicle: Vehicle, wanted: Array, start: Array | None = None, blocks: Blocks | None = None
) -> Stance:
    """Return how a vehicle stands under a sprung weight: (3,) N, N·mm along, N·mm across."""
    wheels = vehicle.wheels
    under = np.array([(blocks or {}).get(wheel.key, 0.0) for wheel in wheels])
    x, y = (np.array([getattr(wheel, axis) for wheel in wheels]) for axis in ("x", "y"))
    span = max(float(np.ptp(x)), float(np.ptp(y)), 1.0)
    lift = np.column_stack([np.ones(len(wheels)), -x / span, y / span])  # the body's rise at each wheel
    level = np.array([wanted[0], -wanted[1] / span, wanted[2] / span])
    body = _guess(vehicle, lift, under) if start is None else start
    settled = False
    for turn in range(TURNS + EXACT_TURNS):
        exact = turn >= TURNS or settled
        force, slope, _ = _forces(vehicle, under - lift @ body, exact)
        gap = lift.T @ force - level
        stiff = -lift.T @ slope @ lift
        step = np.linalg.lstsq(stiff, -gap, rcond=1e-12)[0]
        step *= min(1.0, STRIDE_MM / max(float(np.abs(lift @ step).max()), 1e-12))
        body = body + step
        small = float(np.abs(lift @ step).max()) < (1e-4 if not settled else ENOUGH_MM)
        if settled and small:
            break
        settled = settled or small
    travels = under - lift @ body
    force, _, lifted = _forces(vehicle, travels, exact=True)
    scales = {
        w.key: max(float(f) / newtons(1.0) + w.unsprung, 0.0) for w, f in zip(wheels, force, strict=True)
    }
    return Stance(
        heave=float(body[0]),
        pitch=math.degrees(float(body[1]) / span),
        roll=math.degrees(float(body[2]) / span),
        travels={wheel.key: float(z) for wheel, z in zip(wheels, travels, strict=True)},
        scales=scales,
        # Above the floor, whatever a wheel stands on.
        heights=heights_at(vehicle, {w.key: float(z) for w, z in zip(wheels, travels - under, strict=True)}),
        cross=cross_share(vehicle, scales),
        lifted=lifted,
        settled=settled and not math.isnan(float(body[0])),
    )


def _guess(vehicle: Vehicle, lift: Array, under: Array) -> Array:
    """Return the body's place that lets every wheel stand nearest to where its own station stands alone."""
    alone = []
    for wheel in vehicle.wheels:
        ride = vehicle.supports[wheel.station].solved.ride
        alone.append(0.0 if ride is None else ride.travel)
    guess: Array = np.linalg.lstsq(lift, under - np.array(alone), rcond=None)[0]
    return guess


def _forces(vehicle: Vehicle, travels: Array, exact: bool) -> tuple[Array, Array, tuple[str, ...]]:
    """Return what every wheel's springs push, N, how it changes, N/mm, and the wheels that hang in the air."""
    count = len(vehicle.wheels)
    force, slope = np.zeros(count), np.zeros((count, count))
    for number, support in enumerate(vehicle.supports):
        its = vehicle.of(number)
        own, own_slope = support.forces(travels[its], exact)
        force[its] = own
        slope[np.ix_(its, its)] = own_slope
    for k, n, rate in vehicle.pairs:
        push = rate * float(travels[k] - travels[n]) / 2
        force[k] += push
        force[n] -= push
        slope[np.ix_([k, n], [k, n])] += rate / 2 * np.array([[1.0, -1.0], [-1.0, 1.0]])
    lifted = []
    for k, wheel in enumerate(vehicle.wheels):
        hangs = -newtons(wheel.unsprung)
        if force[k] < hangs:
            force[k] = hangs
            slope[k] = 0.0
            slope[k, k] = 1e-3  # so that a body on too few wheels still says which way it falls
            lifted.append(wheel.key)
    return force, slope, tuple(lifted)


def heights_at(vehicle: Vehicle, travels: dict[str, float]) -> dict[str, float]:
    """Return every datum's height above the floor, mm: a corner's by its wheel, an axle's by both."""
    found = {}
    for number, support in enumerate(vehicle.supports):
        station = support.solved.station
        its = [vehicle.wheels[k] for k in vehicle.of(number)]
        if station.kind == "axle":
            height = height_at_mm(station, sum(travels[wheel.key] for wheel in its) / len(its))
            if height is not None:
                found[station.name] = height
            continue
        for wheel in its:
            height = height_at_mm(station, travels[wheel.key])
            if height is not None:
                found[wheel.key] = height
    return found


def cross_share(vehicle: Vehicle, scales: dict[str, float]) -> float | None:
    """Return (front left + rear right) over all; None where there are not both of each."""
    total = sum(scales.values())
    if total <= 0 or len(vehicle.wheels) < 4 or any(wheel.key not in scales for wheel in vehicle.wheels):
        return None
    middle = (min(w.x for w in vehicle.wheels) + max(w.x for w in vehicle.wheels)) / 2
    diagonal = [w for w in vehicle.wheels if (w.x > middle) == (w.y > 0)]
    if not diagonal or len(diagonal) == len(vehicle.wheels):
        return None
    return sum(scales[wheel.key] for wheel in diagonal) / total
