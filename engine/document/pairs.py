"""Corners that lie across from one another and do not say so: two readings of a file, of which only one can be meant.

Such a file draws the left front corner and the right one, and says of neither that the other is its other side. Each would
then stand for both sides, and the vehicle would have four front wheels, two in each place. They are counted as the pair
that they are, and it is said and asked: two wheels are never in one place.
"""

from engine.document.schema import CENTRELINE_MM, Project, Station

SAME_WHEEL_MM = 150.0  # a wheel's middle nearer to another's mirror image than this is the other side's


def lying_across(project: Project) -> list[tuple[Station, Station]]:
    """Return the pairs of corners that lie across from one another without naming each other both ways, left first."""
    corners = [
        station
        for station in project.stations
        if station.kind == "corner" and station.variant_of is None and abs(_wheel(station)[1]) > CENTRELINE_MM
    ]
    found, taken = [], set()
    for k, one in enumerate(corners):
        for other in corners[k + 1 :]:
            if one.name in taken or other.name in taken or _settled(one, other):
                continue
            if _apart(one, other) < SAME_WHEEL_MM:
                taken |= {one.name, other.name}
                found.append((one, other) if _wheel(one)[1] > 0 else (other, one))
    return found


def paired(project: Project) -> Project:
    """Return a project with corners that lie across from one another named each other's other side."""
    sides: dict[str, str] = {}
    for one, other in lying_across(project):
        sides |= {one.name: other.name, other.name: one.name}
    if not sides:
        return project
    stations = [
        station.model_copy(update={"other_side": sides[station.name]}) if station.name in sides else station
        for station in project.stations
    ]
    return project.model_copy(update={"stations": stations})


def _settled(one: Station, other: Station) -> bool:
    """Return whether two corners say of one another, or of a third, what they are."""
    if one.other_side == other.name and other.other_side == one.name:
        return True
    own = ("mirror", "alone")
    return any(
        its.other_side not in own and its.other_side != that.name
        for its, that in ((one, other), (other, one))
    )


def _apart(one: Station, other: Station) -> float:
    (x, y, z), (u, v, w) = _wheel(one), _wheel(other)
    return float(((x - u) ** 2 + (y + v) ** 2 + (z - w) ** 2) ** 0.5)


def _wheel(station: Station) -> tuple[float, float, float]:
    x, y, z = station.points[station.wheels[0].centre]
    return x, y, z
