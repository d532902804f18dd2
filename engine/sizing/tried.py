"""A change tried: the station solved with it, and the same figures told of each."""

from collections.abc import Mapping

from engine.document.check import station_faults
from engine.errors import DocumentRefused, Fault
from engine.facts import facts
from engine.findings.finding import Rules
from engine.ride.installed import damper_uses
from engine.station.solved import SolvedStation, solve_station

Place = list[float]


@facts
class Stands:
    """Where a station comes to stand: ride mm of travel, wheel_rate N/mm, frequency Hz; None where it stands nowhere."""

    ride: float | None = None
    wheel_rate: float | None = None
    frequency: float | None = None


@facts
class Tried(Stands):
    """The same, and mm of damper left over the wanted travel; None without a damper. fault : why it stands nowhere."""

    left_in_bump: float | None = None
    left_in_droop: float | None = None
    fault: str | None = None


def stands(solved: SolvedStation) -> Stands:
    """Return where a solved station stands."""
    ride = solved.ride
    if ride is None or solved.at_ride is None:
        return Stands()
    return Stands(ride=ride.travel, wheel_rate=ride.wheel_rate, frequency=ride.frequency)


def tried(solved: SolvedStation, unit: str | None = None) -> Tried:
    """Return what a solved station comes to; of one damper, or of whichever has least left."""
    uses = [use for use in damper_uses(solved) if unit in (None, use.name)]
    its = stands(solved)
    return Tried(
        **vars(its),
        left_in_bump=min((use.left_in_bump for use in uses), default=None),
        left_in_droop=min((use.left_in_droop for use in uses), default=None),
        fault=str(solved.ride_fault) if its.ride is None else None,
    )


def moved(solved: SolvedStation, points: Mapping[str, Place], steps: int) -> SolvedStation:
    """Return the station solved with some points elsewhere, mm; raise the engine's refusals.

    A place that a file could not have, as on top of another joint of the same part, is refused as a file's would be.
    """
    station = solved.station.model_copy(update={"points": {**solved.station.points, **points}})
    faults = station_faults(station, "")
    if faults:
        raise DocumentRefused([Fault("", fault.message) for fault in faults])
    return solve_station(station, solved.linkage.where, steps)


def is_inside(frequency_hz: float | None, rules: Rules) -> bool | None:
    """Return whether a frequency is among those wanted; None where it stands nowhere or none are."""
    band = rules.frequencies
    return None if frequency_hz is None or band is None else band[0] <= frequency_hz <= band[1]
