"""What no single value of the fittings can show: names that lead nowhere, and shapes left half described."""

import difflib
import itertools
import math
from collections.abc import Iterable, Iterator

import numpy as np

from engine.conventions import TOLERANCES
from engine.document.fittings import Envelope, Place
from engine.document.links import link_ends
from engine.document.schema import Bar, Coilover, Damper, Station
from engine.errors import Fault

NEEDED = {
    "capsule": ("along", "radius"),
    "cylinder": ("along", "radius"),
    "box": ("centre", "size"),
    "half_space": ("at", "facing"),
    "plate": ("outline",),
}
LEAST_ARM_MM = 20.0
FLAT_MM = 0.5  # how far an outline's places may stand off one plane


def unknown_point(at: str, name: str, points: Iterable[str]) -> Fault:
    """Return the fault of a name that is no point, with the nearest that is."""
    return _unknown(at, name, points, "point", "add it to points, or name one that is there")


def _unknown(at: str, name: str, known: Iterable[str], noun: str, remedy: str) -> Fault:
    near = difflib.get_close_matches(name, list(known), n=1)
    hint = f'did you mean "{near[0]}"?' if near else remedy
    return Fault(at, f'no {noun} is called "{name}"; {hint}')


def fitting_faults(station: Station, at: str) -> Iterator[Fault]:
    """Yield every fault of a station's fittings; its points, bodies and units are known to be in order."""
    yield from _envelope_faults(station, at)
    yield from _joint_faults(station, at)
    yield from _shaft_faults(station, at)
    yield from _slider_faults(station, at)
    yield from _rod_faults(station, at)
    yield from _tank_faults(station, at)
    yield from _eye_faults(station, at)
    yield from _hole_faults(station, at)
    yield from _bar_faults(station, at)
    rod = None if station.steering is None else station.steering.tie_rod
    if rod is not None and len(station.bodies.get(rod, [])) != 2:
        yield Fault(f"{at}.steering.tie_rod", f'"{rod}" is no link of two points; name the tie rod')
    elif rod is not None and len(set(station.bodies[rod]) & set(station.chassis)) != 1:
        yield Fault(f"{at}.steering.tie_rod", f'"{rod}" must have one end on the chassis, where the rack is')
    for name in station.plates:
        if name not in station.bodies:
            yield _unknown(f"{at}.plates.{name}", name, station.bodies, "body", "name a rocker")
    if station.uncertainty is not None:
        for name in station.uncertainty.points:
            if name not in station.points:
                yield unknown_point(f"{at}.uncertainty.points.{name}", name, station.points)


def _bar_faults(station: Station, at: str) -> Iterator[Fault]:
    for index, bar in enumerate(station.units):
        if not isinstance(bar, Bar):
            continue
        here = f"{at}.units[{index}]"
        if (bar.diameter is None) == (bar.rate is None):
            yield Fault(here, "give either the bar's diameter or its rate against twist")
        if bar.diameter is not None and (bar.bore or 0.0) >= bar.diameter:
            yield Fault(
                f"{here}.bore", f"must be less than the diameter ({bar.diameter:g} mm), got {bar.bore:g}"
            )
        if bar.ends[1] not in station.chassis:
            yield Fault(
                f"{here}.ends[1]", f'"{bar.ends[1]}" must stand on the chassis: there the bar is held'
            )
        if _zero(bar.axis):
            yield Fault(f"{here}.axis", "has no direction")
            continue
        axis = np.array(bar.axis) / np.linalg.norm(bar.axis)
        arm = np.array(bar.tip) - np.array(station.points[bar.ends[1]])
        if np.linalg.norm(arm - axis * (arm @ axis)) < LEAST_ARM_MM:
            yield Fault(
                f"{here}.tip", "stands on the bar itself, so there is no arm; give the place of the arm's end"
            )


def _zero(direction: list[float]) -> bool:
    return float(np.linalg.norm(direction)) < 1e-9


def _hosts(station: Station) -> list[str]:
    return ["chassis", *station.bodies, *(unit.name for unit in station.units)]


def _envelope_faults(station: Station, at: str) -> Iterator[Fault]:
    names = [envelope.name for envelope in station.envelopes]
    for index, envelope in enumerate(station.envelopes):
        here = f"{at}.envelopes[{index}]"
        if envelope.name in names[:index]:
            yield Fault(f"{here}.name", f'"{envelope.name}" is used twice; give each its own name')
        if envelope.on not in _hosts(station):
            yield _unknown(f"{here}.on", envelope.on, _hosts(station), "body or unit", "or write chassis")
        for key in NEEDED[envelope.shape]:
            if getattr(envelope, key) is None:
                yield Fault(f"{here}.{key}", f"is missing; a {envelope.shape.replace('_', ' ')} needs it")
        if envelope.facing is not None and _zero(envelope.facing):
            yield Fault(f"{here}.facing", "has no direction; give a vector that is not all noughts")
        lost = list(_place_faults(station, envelope, here))
        yield from lost
        if not lost:
            yield from _shape_faults(station, envelope, here)


def _places(envelope: Envelope) -> Iterator[tuple[str, Place]]:
    for key in ("along", "outline"):
        for number, place in enumerate(getattr(envelope, key) or []):
            yield f"{key}[{number}]", place
    for key in ("centre", "at"):
        if getattr(envelope, key) is not None:
            yield key, getattr(envelope, key)


def _place_faults(station: Station, envelope: Envelope, here: str) -> Iterator[Fault]:
    for key, place in _places(envelope):
        if isinstance(place, str) and place not in station.points:
            yield unknown_point(f"{here}.{key}", place, station.points)


def _shape_faults(station: Station, envelope: Envelope, here: str) -> Iterator[Fault]:
    def at(place: Place) -> np.ndarray:
        return np.array(station.points[place] if isinstance(place, str) else place, dtype=float)

    if (
        envelope.along is not None
        and float(np.linalg.norm(at(envelope.along[0]) - at(envelope.along[1]))) < 0.01
    ):
        yield Fault(f"{here}.along", "both places are the same; give it a length")
    if envelope.outline is not None:
        corners = np.array([at(place) for place in envelope.outline])
        spread = corners - corners.mean(axis=0)
        sizes = np.linalg.svd(spread, compute_uv=False)
        normal = np.linalg.svd(spread)[2][2]
        if sizes[1] < 0.01:
            yield Fault(f"{here}.outline", "its places lie on one line; give it an area")
        elif float(np.abs(spread @ normal).max()) > FLAT_MM:
            off = float(np.abs(spread @ normal).max())
            yield Fault(
                f"{here}.outline", f"is not flat: a place stands {off:.1f} mm off; split it in two plates"
            )


def _joint_faults(station: Station, at: str) -> Iterator[Fault]:
    rods = {body: members for body, members in station.bodies.items() if len(members) == 2}
    rods |= {unit.name: list(unit.ends) for unit in station.units}
    for index, joint in enumerate(station.joints):
        here = f"{at}.joints[{index}]"
        if joint.point not in station.points:
            yield unknown_point(f"{here}.point", joint.point, station.points)
        if joint.rod not in rods:
            yield _unknown(
                f"{here}.rod", joint.rod, rods, "rod or unit", "name a body of two points, or a unit"
            )
        elif joint.point not in rods[joint.rod]:
            yield Fault(
                f"{here}.point", f'"{joint.point}" is no end of {joint.rod}; name one of its two ends'
            )
        if joint.on != "chassis" and joint.on not in station.bodies:
            yield _unknown(f"{here}.on", joint.on, station.bodies, "body", "or write chassis")
        if _zero(joint.bolt):
            yield Fault(f"{here}.bolt", "has no direction; give a vector that is not all noughts")


def _shaft_faults(station: Station, at: str) -> Iterator[Fault]:
    for index, shaft in enumerate(station.shafts):
        here = f"{at}.shafts[{index}]"
        for end, name in enumerate(shaft.ends):
            if name not in station.points:
                yield unknown_point(f"{here}.ends[{end}]", name, station.points)
        for end, axis in enumerate(shaft.axes):
            if _zero(axis):
                yield Fault(f"{here}.axes[{end}]", "has no direction; give a vector that is not all noughts")
        if shaft.length is not None and shaft.length.least >= shaft.length.most:
            yield Fault(f"{here}.length.least", f"must be less than most ({shaft.length.most:g} mm)")


def _slider_faults(station: Station, at: str) -> Iterator[Fault]:
    for name, slider in station.sliders.items():
        here = f"{at}.sliders.{name}"
        if slider.body not in station.bodies:
            yield _unknown(f"{here}.body", slider.body, station.bodies, "body", "name one that slides")
            continue
        for end, point in enumerate(slider.line):
            if point not in station.bodies[slider.body]:
                yield Fault(
                    f"{here}.line[{end}]", f'"{point}" is not on {slider.body}; name two of its points'
                )
        if slider.through not in station.points:
            yield unknown_point(f"{here}.through", slider.through, station.points)
        elif slider.through in station.bodies[slider.body]:
            yield Fault(
                f"{here}.through", f'"{slider.through}" is on the sliding body itself; name what it slides in'
            )


def _rod_faults(station: Station, at: str) -> Iterator[Fault]:
    links = [body for body in station.bodies if link_ends(station, body) is not None]
    for name in station.rods:
        if name not in links:
            yield _unknown(f"{at}.rods.{name}", name, links, "rod", "name a body of two joints")


def _tank_faults(station: Station, at: str) -> Iterator[Fault]:
    bags = {unit.name: unit for unit in station.units if unit.kind == "air_spring"}
    joined: set[str] = set()
    for index, tank in enumerate(station.tanks):
        for number, name in enumerate(tank.bags):
            here = f"{at}.tanks[{index}].bags[{number}]"
            if name not in bags:
                yield _unknown(here, name, bags, "air spring", "name one of the units")
            elif name in joined:
                yield Fault(here, f'"{name}" is on two tanks; one bag has one pressure')
            joined.add(name)
        known = [bags[name] for name in tank.bags if name in bags]
        for one, other in itertools.pairwise(known):
            if (one.pressure, one.law) != (other.pressure, other.law):
                yield Fault(
                    f"{at}.tanks[{index}]",
                    f"{one.name} and {other.name} share their air, so give them the same pressure and law",
                )


def _hole_faults(station: Station, at: str) -> Iterator[Fault]:
    for name, holes in station.holes.items():
        if name not in station.points:
            yield unknown_point(f"{at}.holes.{name}", name, station.points)
            continue
        for number, place in enumerate(holes.places):
            for other in range(number):
                if math.dist(place, holes.places[other]) < TOLERANCES.coincident_mm:
                    yield Fault(
                        f"{at}.holes.{name}.places[{number}]",
                        f"is the same place as hole {other + 1}; take one of them out",
                    )


def _eye_faults(station: Station, at: str) -> Iterator[Fault]:
    for index, unit in enumerate(station.units):
        here = f"{at}.units[{index}]"
        if isinstance(unit, Coilover | Damper):
            for number, eye in enumerate(unit.eyes):
                if eye.end not in unit.ends:
                    yield Fault(f"{here}.eyes[{number}].end", f'"{eye.end}" is no end of {unit.name}')
                if _zero(eye.bolt):
                    yield Fault(
                        f"{here}.eyes[{number}].bolt",
                        "has no direction; give a vector that is not all noughts",
                    )
        plates = getattr(unit, "plates", None)
        if plates is not None:
            for key in ("first", "second"):
                if _zero(getattr(plates, key)):
                    yield Fault(
                        f"{here}.plates.{key}", "has no direction; give a vector that is not all noughts"
                    )
