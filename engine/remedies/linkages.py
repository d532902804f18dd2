"""A rod of another length, a rocker's pivot elsewhere, less travel."""

import numpy as np

from engine.document.schema import Link, Station
from engine.findings.finding import Finding
from engine.remedies.knob import Knob, added, either_way, said, with_points
from engine.ride.angles import rocker_joints
from engine.station.solved import SolvedStation


def rod(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the rod's length, then its rocker's pivot."""
    station, body = solved.station, finding.subjects[0] if finding.subjects else ""
    if len(station.bodies.get(body, [])) != 2:
        return []
    one, other = (np.array(station.points[p], dtype=float) for p in station.bodies[body])
    link = station.links.get(body, Link())
    now = float(link.length or np.linalg.norm(one - other))

    def turn(station: Station, x: float) -> Station:
        changed = station.links.get(body, Link()).model_copy(update={"length": round(now + x, 4)})
        return station.model_copy(update={"links": {**station.links, body: changed}})

    say = either_way("Make the {0} {by} longer.", "Make the {0} {by} shorter.", body)
    return [Knob(turn=turn, say=say, step=1.0, most=30.0, fine=0.1), *pivot(finding, solved)]


def pivot(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the rocker's pivot raised or lowered, all of its chassis points together."""
    station, rods = solved.station, finding.subjects
    rocker = next((joint.rocker for joint in rocker_joints(solved.linkage) if joint.rod in rods), None)
    if rocker is None:
        return []
    pivots = [point for point in station.bodies[rocker] if point in station.chassis]

    def turn(station: Station, x: float) -> Station:
        places = {point: station.points[point] for point in pivots}
        return with_points(station, {point: (p[0], p[1], p[2] + x) for point, p in places.items()})

    say = either_way("Raise the pivot of the {0} {by}.", "Lower the pivot of the {0} {by}.", rocker)
    return [Knob(turn=turn, say=say, step=1.0, most=60.0, fine=0.5)]


def less_travel(finding: Finding, solved: SolvedStation) -> list[Knob]:
    """Return the wanted travel, made less on the side that fails."""
    way = "bump" if (finding.travel_mm or 0.0) > 0 else "droop"

    def turn(station: Station, x: float) -> Station:
        changed = station.travel.model_copy(update={way: added(getattr(station.travel, way), x)})
        return station.model_copy(update={"travel": changed})

    most = getattr(solved.station.travel, way)
    say = said(f"Reduce the {way} target by {{by}}.")
    return [Knob(turn=turn, say=say, step=1.0, most=most, fine=0.1, ways=(-1,))]
