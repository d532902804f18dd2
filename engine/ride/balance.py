"""The whole vehicle in roll: how far it leans, how the ends share it, and whether it wants a bar.

Roll gradient  degrees of body roll for each g of cornering: m·h/(Σ Kφ − m·g·h) with h the height of the centre
               of gravity above the roll axis under it (textbook steady state, tyres taken as stiff).
Share          of the springs' roll stiffness at each end.
"""

import math

from engine.conventions import GRAVITY_M_PER_S2
from engine.document.schema import Project
from engine.facts import facts
from engine.ride.roll import Roll
from engine.station.solved import SolvedStation


@facts
class Balance:
    """The vehicle in roll.

    gradient       degrees per g; None where it would not stand up against its own lean
    front_share    of the roll stiffness, or None with one end only
    arm            mm of the centre of gravity above the roll axis
    sprung_mass    kg, both ends
    wanted_bar     N·m per degree that would bring it to the gradient wanted; 0 where none is needed
    spare          N·m per degree that it has beyond what is wanted; negative where it is short
    """

    gradient: float | None
    front_share: float | None
    arm: float
    sprung_mass: float
    wanted_bar: float
    spare: float


def balance_of(
    project: Project, solved: list[SolvedStation], rolls: list[Roll | None], wanted_deg_per_g: float
) -> Balance | None:
    """Return the vehicle's balance, or None without a centre of gravity or an end that stands."""
    if project.vehicle is None:
        return None
    ends: dict[str, list[tuple[SolvedStation, Roll]]] = {}
    built = [station for station in solved if station.station.variant_of is None]
    for station, roll in zip(solved, rolls, strict=True):
        if roll is not None and station.station.variant_of is None:
            ends.setdefault(_end_of(station, built), []).append((station, roll))
    if not ends:
        return None
    stiffness = {end: sum(_stiffness(s, r) for s, r in parts) for end, parts in ends.items()}
    mass = sum(_sprung(s) for parts in ends.values() for s, _ in parts)
    axis = sum(_sprung(s) * (r.roll_centre or 0.0) for parts in ends.values() for s, r in parts) / mass
    arm = project.vehicle.cg_height - axis
    tilting = mass * GRAVITY_M_PER_S2 * arm / 1000  # N·m per g, and N·m per radian of lean
    per_radian = sum(stiffness.values()) * 180 / math.pi
    standing = per_radian - tilting
    gradient = tilting / standing * 180 / math.pi if standing > 0 else None
    wanted = tilting / wanted_deg_per_g + tilting * math.pi / 180
    spare = sum(stiffness.values()) - wanted
    share = stiffness["front"] / sum(stiffness.values()) if len(stiffness) == 2 else None
    return Balance(
        gradient=gradient,
        front_share=share,
        arm=arm,
        sprung_mass=mass,
        wanted_bar=max(0.0, -spare),
        spare=spare,
    )


def _end_of(solved: SolvedStation, everyone: list[SolvedStation]) -> str:
    """Return the end a station was given, or by its place: ahead of the middle of all wheels is the front."""
    if solved.station.end is not None:
        return solved.station.end
    places = [_fore_aft(other) for other in everyone]
    return "front" if _fore_aft(solved) >= (max(places) + min(places)) / 2 else "rear"


def _fore_aft(solved: SolvedStation) -> float:
    wheels = solved.station.wheels
    return sum(solved.station.points[wheel.centre][0] for wheel in wheels) / len(wheels)


def _copies(solved: SolvedStation) -> int:
    """Return how many wheels the station stands for: a mirrored corner is two."""
    station = solved.station
    return 2 if station.kind == "axle" or (station.other_side == "mirror" and not station.single) else 1


def _stiffness(solved: SolvedStation, roll: Roll) -> float:
    # A corner whose other side is a station of its own brings half of the pair's stiffness.
    return roll.stiffness if _copies(solved) == 2 else roll.stiffness / 2


def _sprung(solved: SolvedStation) -> float:
    mass = solved.station.mass
    return mass.sprung * _copies(solved)
