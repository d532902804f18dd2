"""Whether a bag's two plates stand parallel: an angled bag chafes, and pulls its bead sideways."""

import numpy as np

from engine.document.schema import AirSpring
from engine.facts import facts
from engine.limits.joints import angle_deg
from engine.linkage.grid import Grid
from engine.linkage.pose import host_of, pose_of
from engine.linkage.vectors import Array
from engine.station.solved import SolvedStation


@facts
class PlateTilt:
    """Angle between a bag's plates: at ride (None if it stands nowhere), and the worst with where, degrees, mm."""

    bag: str
    at_ride: float | None
    worst: float
    heave: float
    articulation: float


def plate_tilts(solved: SolvedStation, grid: Grid) -> tuple[PlateTilt, ...]:
    """Return the plate angles of every bag whose plates are given."""
    found = []
    for unit in solved.station.units:
        if isinstance(unit, AirSpring) and unit.plates is not None:
            angles = _angles(solved, unit, grid.place)
            at_ride = None
            if solved.at_ride is not None:
                at_ride = float(_angles(solved, unit, solved.at_ride.solution.motion.place)[0])
            worst = int(angles.argmax())
            found.append(
                PlateTilt(
                    bag=unit.name,
                    at_ride=at_ride,
                    worst=float(angles[worst]),
                    heave=float(grid.heave[worst]),
                    articulation=float(grid.articulation[worst]),
                )
            )
    return tuple(found)


def _angles(solved: SolvedStation, bag: AirSpring, place: Array) -> Array:
    assert bag.plates is not None
    ways = [
        pose_of(solved.linkage, host_of(solved.linkage, end), place).direction(np.array(normal))
        for end, normal in zip(bag.ends, (bag.plates.first, bag.plates.second), strict=True)
    ]
    angle = angle_deg(*ways)
    return np.minimum(angle, 180 - angle)  # a normal may be given either way round
