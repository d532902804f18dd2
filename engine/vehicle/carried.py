"""What is put in, and what braking and cornering throw over: how the vehicle then stands, and what each wheel carries.

Springs  carry the sprung mass's moment about the floor when it brakes (the linkages' own anti-dive is left out: it dives no
         more than this), and about the roll centres when it corners; the rest goes through the links to the wheels at once.
Unsprung masses throw their own weight over at the height of their wheels' middles. A wheel with none across from it
         leans on the body alone. All of it held still: neither dampers nor the swing past it are in this.
"""

from dataclasses import replace

import numpy as np

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.fittings import LoadCase
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.roll import roll_of
from engine.vehicle.stance import Blocks, Extra, Stance, balanced, cross_share, sprung
from engine.vehicle.wheels import Vehicle, WheelOn, newtons

SAME_AXLE_MM = 250.0


@facts
class Thrown:
    """Braking and cornering, in g: braking +, turning left +; how it then stands and what each wheel carries."""

    brake: float
    corner: float
    stands: Stance


def put_in(case: LoadCase) -> tuple[Extra, ...]:
    """Return a load case's masses."""
    return tuple(
        Extra(name=one.name, mass=one.mass, x=one.at[0], y=one.at[1], z=one.at[2]) for one in case.masses
    )


def thrown(
    vehicle: Vehicle,
    cg_height: float,
    brake: float = 0.0,
    corner: float = 0.0,
    extra: tuple[Extra, ...] = (),
    finished: bool = False,
    blocks: Blocks | None = None,
) -> Thrown:
    """Return how a vehicle stands while it brakes and corners.

    cg_height : mm, centre of gravity of the sprung mass above the floor
    brake, corner : g
    blocks : mm under wheels, small against the wheelbase: what they tip the weight over by is left out
    """
    wheels = vehicle.wheels
    floor = 0.0 if vehicle.project.vehicle is None else vehicle.project.vehicle.floor
    carried = np.array([newtons(wheel.carried(finished)) for wheel in wheels])
    unsprung = np.array([newtons(wheel.unsprung) for wheel in wheels])
    radius = np.array([middle_mm(vehicle, wheel) for wheel in wheels])
    high = sum(newtons(one.mass) * (one.z - floor) for one in extra)
    wanted = sprung(vehicle, finished, extra)
    wanted[1] += brake * (float(carried.sum()) * cg_height + high)
    straight = np.zeros(len(wheels))
    for k, wheel in enumerate(wheels):
        other = _across(vehicle, k)
        if other is None:
            wanted[2] -= corner * float(carried[k] * cg_height + unsprung[k] * radius[k])
            continue
        roll = roll_of(vehicle.supports[wheel.station].solved)
        centre = 0.0 if roll is None or roll.roll_centre is None else roll.roll_centre
        track = abs(wheel.y - wheels[other].y)
        wanted[2] -= corner * float(carried[k]) * (cg_height - centre)
        moment = corner * float(carried[k] * centre + unsprung[k] * radius[k])
        # Both wheels bear each one's moment: the outer more, the inner less.
        sign = 1.0 if wheel.y < wheels[other].y else -1.0
        straight[k] += sign * moment / track
        straight[other] -= sign * moment / track
    wanted[2] -= corner * high
    along = np.array([wheel.x for wheel in wheels])
    away = along - along.mean()
    if float(away @ away) > 1.0:
        straight += brake * float(unsprung @ radius) * away / float(away @ away)
    stands = balanced(vehicle, wanted, blocks=blocks)
    scales = {
        wheel.key: max(stands.scales[wheel.key] + float(more) / GRAVITY_M_PER_S2, 0.0)
        for wheel, more in zip(wheels, straight, strict=True)
    }
    hanging = tuple(key for key, its in scales.items() if its <= 0.0)
    lifted = tuple(dict.fromkeys((*stands.lifted, *hanging)))
    return Thrown(
        brake=brake,
        corner=corner,
        stands=replace(stands, scales=scales, lifted=lifted, cross=cross_share(vehicle, scales)),
    )


def middle_mm(vehicle: Vehicle, wheel: WheelOn) -> float:
    """Return the height of a wheel's middle above the floor as drawn, mm."""
    station = vehicle.supports[wheel.station].solved.station
    floor = 0.0 if vehicle.project.vehicle is None else vehicle.project.vehicle.floor
    return float(station.points[station.wheels[0].centre][2]) - floor


def _across(vehicle: Vehicle, k: int) -> int | None:
    """Return the number of the wheel across from one, None where there is none."""
    wheel = vehicle.wheels[k]
    found = [
        (abs(other.x - wheel.x), n)
        for n, other in enumerate(vehicle.wheels)
        if n != k and other.y * wheel.y < 0 and abs(other.x - wheel.x) < SAME_AXLE_MM
    ]
    return min(found)[1] if found else None


def raised_cg_mm(vehicle: Vehicle, level: Array, raised: Array, end: str, by: float) -> float | None:
    """Return the height of the centre of gravity above the floor, from a second weighing with one end's wheels raised.

    level, raised : kg by wheel, in the vehicle's order; end : front or rear, whose wheels stand `by` mm higher
    h = r + L·ΔW / (W·tan θ), sin θ = by / L: the moments about the contacts of the end that stays down; springs locked.
    None with less or more than two axles, or where nothing was raised.
    """
    x = np.array([wheel.x for wheel in vehicle.wheels])
    ahead = x > (x.min() + x.max()) / 2
    wheelbase = float(x[ahead].mean() - x[~ahead].mean()) if ahead.any() and not ahead.all() else 0.0
    two = all(np.ptp(x[its]) < SAME_AXLE_MM for its in (ahead, ~ahead) if its.any())
    if wheelbase < 100 or not two or not 0 < by < 0.7 * wheelbase:
        return None
    down = ahead if end == "rear" else ~ahead
    more = float(raised[down].sum() - level[down].sum())
    tangent = by / float(np.sqrt(wheelbase**2 - by**2))
    radius = float(np.mean([middle_mm(vehicle, wheel) for wheel in vehicle.wheels]))
    return radius + wheelbase * more / (float(level.sum()) * tangent)
