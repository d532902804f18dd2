"""How stiff a station stands against roll, and what moving its springs does.

Roll stiffness  N·m per degree of body roll, springs alone. Independent: K_w·t²/2. Live axle: from the
                articulation solve, K_a·t²/4 with K_a the stiffness against articulation; with upright springs
                that is K·s²/2 on the spring base s. (Textbook; follows from virtual work.)
Spring base     distance across the car between the two springs' moving ends, mm.
"""

import math

import numpy as np

from engine.document.schema import Bar, Station
from engine.facts import facts
from engine.linkage.forced import forced_articulation
from engine.ride.axle import axle_body, axle_roll_centre_mm
from engine.ride.bar import BarAtWheel, bar_at_wheel
from engine.ride.contact import contact_of, roll_centre_mm
from engine.station.at_wheel import Squeezes
from engine.station.solved import SolvedStation, solve_station

NM_PER_DEG = math.pi / 180 / 1000  # N·mm per radian into N·m per degree
MOVED_MM = 10.0
FORCED_STEP_MM = 4.0


@facts
class Roll:
    """A station's part in roll at ride height.

    stiffness      N·m per degree, both wheels together
    track          mm between contacts
    roll_centre    mm above the contacts, or None where the linkage does not say
    spring_base    mm, for an axle; None for a corner
    bar            N·m per degree of `stiffness` that its anti-roll bar makes
    one_wheel      N/mm at a wheel that rises alone, its other side held; None for an axle
    by_base        N·m per degree more with each spring 10 mm further out at both ends; None for a corner
    """

    stiffness: float
    track: float
    roll_centre: float | None
    spring_base: float | None = None
    by_base: float | None = None
    bar: float = 0.0
    one_wheel: float | None = None


def roll_of(solved: SolvedStation) -> Roll | None:
    """Return a station's part in roll, or None where it stands nowhere or has no other side."""
    if solved.ride is None or solved.at_ride is None:
        return None
    station, solution = solved.station, solved.at_ride.solution
    contacts = [contact_of(solved.linkage, wheel, solution) for wheel in station.wheels]
    if station.kind == "corner":
        half = abs(float(contacts[0].place[1, 0]))
        if station.single:
            return None
        springs = solved.ride.wheel_rate * (2 * half) ** 2 / 2 * NM_PER_DEG
        bars = bars_of(solved)
        bar = sum(one.in_roll for one in bars) * (2 * half) ** 2 / 2 * NM_PER_DEG
        return Roll(
            stiffness=springs + bar,
            track=2 * half,
            roll_centre=_finite(roll_centre_mm(contacts[0])[0]),
            bar=bar,
            one_wheel=solved.ride.wheel_rate + sum(one.one_wheel for one in bars),
        )
    track = abs(float(contacts[0].place[1, 0] - contacts[1].place[1, 0]))
    stiff = articulation_stiffness(solved) * track**2 / 4 * NM_PER_DEG
    base = spring_base_mm(solved)
    bar = sum(one.in_roll for one in bars_of(solved)) * track**2 / 2 * NM_PER_DEG
    return Roll(
        stiffness=stiff + bar,
        bar=bar,
        track=track,
        roll_centre=_axle_roll_centre(solved),
        spring_base=base,
        by_base=_by_base(solved, stiff, track),
    )


def bars_of(solved: SolvedStation) -> tuple[BarAtWheel, ...]:
    """Return what every anti-roll bar does where the station stands; those that cannot follow are left out."""
    bars = [unit for unit in solved.station.units if isinstance(unit, Bar)]
    if not bars or solved.ride is None or solved.at_ride is None:
        return ()
    rows = solved.at_ride
    if solved.station.kind == "axle":
        if solved.linkage.articulation() is None:
            return ()
        rows = solved.across(np.array([0.0]), solved.ride.travel)
    found = (bar_at_wheel(solved.station, bar, rows, solved.linkage.index) for bar in bars)
    return tuple(one for one in found if one is not None)


def articulation_stiffness(solved: SolvedStation) -> float:
    """Return the stiffness against articulation at ride height, N/mm: generalised force by wheel rise."""
    assert solved.ride is not None
    if solved.linkage.articulation() is None:
        return _forced_stiffness(solved)
    rows = solved.across(np.array([0.0]), solved.ride.travel)
    return float(rows.wheel_rate[0]) * solved.springing.wheels


def _forced_stiffness(solved: SolvedStation) -> float:
    """Return the same for an axle whose bushings must give: from lengths a little each way."""
    assert solved.ride is not None
    step, index, laws = FORCED_STEP_MM, solved.linkage.index, solved.springing.laws
    places = [forced_articulation(solved.linkage, a, solved.ride.travel).place for a in (-step, 0.0, step)]
    low, middle, high = (
        np.array([np.linalg.norm(place[:, index[one]] - place[:, index[other]]) for one, other in ends])
        for place, ends in zip(places, [[law.ends for law in laws]] * 3, strict=True)
    )
    squeezes = Squeezes(
        length=middle, ratio=-(high - low) / (2 * step), slope=-(high - 2 * middle + low) / step**2
    )
    return float(solved.springing.at_wheel(squeezes).rate) * solved.springing.wheels


def spring_base_mm(solved: SolvedStation) -> float | None:
    """Return the distance across the car between the springs' moving ends as drawn, mm."""
    moving = [_moving_end(solved.station, law.ends) for law in solved.springing.laws if law.springs]
    sides = [solved.station.points[end][1] for end in moving if end is not None]
    return max(sides) - min(sides) if len(sides) >= 2 else None


def _moving_end(station: Station, ends: tuple[str, str]) -> str | None:
    return next((end for end in ends if end not in station.chassis), None)


def with_wider_base(station: Station, by_mm: float) -> Station:
    """Return the station with every end of its springs moved outward (mm), points that only they use."""
    ends = {
        end
        for unit in station.units
        if unit.kind in ("coilover", "spring", "air_spring")
        for end in unit.ends
    }
    wheels = {wheel.centre for wheel in station.wheels}
    shared = {
        name
        for name in ends
        if sum(name in members for members in station.bodies.values()) > 1 or name in wheels
    }
    points = {
        name: [p[0], p[1] + math.copysign(by_mm, p[1]), p[2]] if name in ends - shared and p[1] else p
        for name, p in station.points.items()
    }
    return station.model_copy(update={"points": points})


def _by_base(solved: SolvedStation, stiffness: float, track: float) -> float | None:
    moved = solve_station(with_wider_base(solved.station, MOVED_MM), solved.linkage.where, steps=9)
    if moved.ride is None:
        return None
    return articulation_stiffness(moved) * track**2 / 4 * NM_PER_DEG - stiffness


def _axle_roll_centre(solved: SolvedStation) -> float | None:
    body = axle_body(solved.linkage)
    if body is None or solved.ride is None:
        return None
    return _finite(axle_roll_centre_mm(solved.linkage, body, solved.ride.travel))


def _finite(value: float) -> float | None:
    return float(value) if math.isfinite(value) else None
