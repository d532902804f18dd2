"""Which bodies are links: rods between two joints, some with a damper's or bag's eye on them or close beside them."""

import math

from engine.document.schema import Station

BESIDE_SHARE = 0.25  # of a link's length: what stands further beside it makes an arm of it


def link_ends(station: Station, body: str) -> tuple[str, str] | None:
    """Return the two joints that a link runs between; None for a body that is none.

    A body of two points, or one that meets others at two and holds ends of units between them; nothing that carries a wheel.
    """
    members = station.bodies[body]
    if len(members) == 2:
        return members[0], members[1]
    others = {point for name, its in station.bodies.items() if name != body for point in its}
    others |= set(station.chassis) | {slider.through for slider in station.sliders.values()}
    joints = [point for point in members if point in others]
    eyes = {end for unit in station.units for end in unit.ends}
    wheels = {point for wheel in station.wheels for point in (wheel.centre, wheel.spindle)}
    held = [point for point in members if point not in joints]
    if len(joints) != 2 or not eyes.issuperset(held):
        return None
    if wheels & set(members) or any(slider.body == body for slider in station.sliders.values()):
        return None
    one, other = (station.points[point] for point in joints)
    if not all(_is_between(one, other, station.points[point]) for point in held):
        return None
    return joints[0], joints[1]


def _is_between(one: list[float], other: list[float], place: list[float]) -> bool:
    line = [b - a for a, b in zip(one, other, strict=True)]
    arm = [c - a for a, c in zip(one, place, strict=True)]
    long2 = sum(d * d for d in line)
    if long2 <= 0:
        return False
    share = sum(d * a for d, a in zip(line, arm, strict=True)) / long2
    beside = math.dist(arm, [share * d for d in line])
    return 0 < share < 1 and beside <= BESIDE_SHARE * math.sqrt(long2)
