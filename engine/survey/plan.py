"""The list to read for one station, in the order one walks: every place by tape and plumb line, then what lies between.

A place needs three readings to stand; the lengths of links and units between them are what shows a slip.
"""

import itertools

from engine.document.schema import Station
from engine.facts import facts


@facts
class Planned:
    """A reading to take: its kind, its places, and where to put the tape."""

    kind: str
    places: tuple[str, ...]
    hint: str


def plan_of(station: Station) -> list[Planned]:
    """Return every reading that a whole survey of a station takes, place by place and then along the links."""
    found: list[Planned] = []
    for point in _in_order(station):
        place = f"{station.name}/{point}"
        hint = hint_of(station, point)
        found += [
            Planned(kind="height", places=(place,), hint=f"{hint}: up from the floor"),
            Planned(kind="offset", places=(place,), hint=f"{hint}: plumb mark to the centre string"),
            Planned(kind="fore_aft", places=(place,), hint=f"{hint}: plumb mark to the datum line"),
        ]
    for one, other in _lengths(station):
        both = f"{hint_of(station, one)} to {hint_of(station, other)}"
        places = (f"{station.name}/{one}", f"{station.name}/{other}")
        found.append(Planned(kind="distance", places=places, hint=both))
    return found


def hint_of(station: Station, point: str) -> str:
    """Return in plain words where a point of a station is found on the metal."""
    name = point.replace("_", " ")
    wheels = {wheel.centre for wheel in station.wheels}
    spindles = {wheel.spindle for wheel in station.wheels}
    ends = {end for unit in station.units for end in unit.ends}
    carriers = [body for body, members in station.bodies.items() if point in members]
    if point in wheels:
        return "middle of the hub, where the wheel's middle plane is"
    if point in spindles:
        return "middle of the hub face, further out on its axis"
    if point in station.chassis:
        return f"middle of the bolt on the frame, {name}"
    if len(carriers) > 1:
        return f"middle of the joint, {name}"
    return f"middle of the bolt, {name}" if point in ends else f"middle of the {name}"


def _in_order(station: Station) -> list[str]:
    """Return the points as one walks: the frame's first, then what moves, each from front to rear, low to high."""
    spots = station.points

    def walked(point: str) -> tuple[bool, float, float]:
        x, _, z = spots[point]
        return (point not in station.chassis, -round(x, -2), z)

    return sorted(spots, key=walked)


def _lengths(station: Station) -> list[tuple[str, str]]:
    """Return the pairs that a tape goes between: along links, along units, and over the longest way of each body."""
    found: list[tuple[str, str]] = []
    for members in station.bodies.values():
        found += list(itertools.pairwise(members))
    found += [(unit.ends[0], unit.ends[1]) for unit in station.units]
    unique: dict[frozenset[str], tuple[str, str]] = {}
    for one, other in found:
        if one != other:
            unique.setdefault(frozenset((one, other)), (one, other))
    return list(unique.values())
