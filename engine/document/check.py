"""What no single value can show: names that point nowhere, lengths the wrong way round, bodies adrift."""

import itertools
import math
from collections.abc import Iterator

from engine.conventions import TOLERANCES
from engine.document.check_fittings import fitting_faults, unknown_point
from engine.document.check_make import make_faults
from engine.document.schema import (
    AirSpring,
    BumpStop,
    Coilover,
    Damper,
    Project,
    Spring,
    SpringUnit,
    Station,
)
from engine.errors import Fault

LEAST_ACROSS_MM = 15.0
SHARE_SLACK = 1e-3  # thirds written with three decimals


def cross_faults(project: Project) -> list[Fault]:
    """Return every fault that needs more than one value to see."""
    faults = list(_repeated("stations", [station.name for station in project.stations]))
    for index, station in enumerate(project.stations):
        at = f"stations[{index}]"
        faults += station_faults(station, at)
        faults += _other_side_faults(project, index)
    faults += _coming_faults(project)
    return faults


def station_faults(station: Station, at: str) -> list[Fault]:
    """Return every fault that one station's values have with one another."""
    references = list(_reference_faults(station, at))
    faults = [*references, *_unit_faults(station, at), *_mass_faults(station, at)]
    if not references:
        faults += [
            *_size_faults(station, at),
            *_geometry_faults(station, at),
            *fitting_faults(station, at),
            *make_faults(station, at),
        ]
    return faults


def _coming_faults(project: Project) -> Iterator[Fault]:
    stands_for = {station.name: station.variant_of for station in project.stations}
    names = [name for name, other in stands_for.items() if other is None]
    for index, part in enumerate(project.coming):
        here = f"coming[{index}].carried"
        for name in part.carried:
            if stands_for.get(name) is not None:
                yield Fault(
                    f"{here}.{name}", f"a variant carries what {stands_for[name]} does; name that one"
                )
            elif name not in names:
                yield Fault(f"{here}.{name}", f"no station has this name; name one of: {', '.join(names)}")
        if sum(part.carried.values()) > 1 + SHARE_SLACK:
            whole = sum(part.carried.values())
            yield Fault(here, f"shares of {part.name} must not be more than 1 together, got {whole:g}")


def _other_side_faults(project: Project, index: int) -> Iterator[Fault]:
    station = project.stations[index]
    others = [other.name for other in project.stations if other.name != station.name]
    if station.other_side not in ("mirror", "alone", *others):
        yield Fault(
            f"stations[{index}].other_side",
            f'"{station.other_side}" is no other station of this job; give its name, "mirror" or "alone"',
        )
    if station.variant_of is not None and station.variant_of not in others:
        yield Fault(
            f"stations[{index}].variant_of",
            f'"{station.variant_of}" is no other station of this job; name the one that this is another way to build',
        )


def _repeated(at: str, names: list[str]) -> Iterator[Fault]:
    for index, name in enumerate(names):
        if name in names[:index]:
            yield Fault(f"{at}[{index}].name", f'"{name}" is used twice; give each its own name')


def _reference_faults(station: Station, at: str) -> Iterator[Fault]:
    points = station.points
    for index, name in enumerate(station.chassis):
        if name not in points:
            yield unknown_point(f"{at}.chassis[{index}]", name, points)
    for body, members in station.bodies.items():
        for index, name in enumerate(members):
            if name not in points:
                yield unknown_point(f"{at}.bodies.{body}[{index}]", name, points)
            elif name in members[:index]:
                yield Fault(f"{at}.bodies.{body}[{index}]", f'"{name}" is listed twice; name it once')
    for link in station.links:
        if link not in station.bodies:
            yield Fault(f"{at}.links.{link}", "no body has this name; name a body of two points")
        elif len(station.bodies[link]) != 2:
            yield Fault(
                f"{at}.links.{link}",
                f"only a body of two points can be set to a length; this one has {len(station.bodies[link])}",
            )
    yield from _wheel_faults(station, at)
    for index, unit in enumerate(station.units):
        for end, name in enumerate(unit.ends):
            if name not in points:
                yield unknown_point(f"{at}.units[{index}].ends[{end}]", name, points)
        if unit.ends[0] == unit.ends[1]:
            yield Fault(f"{at}.units[{index}].ends", f'both ends are "{unit.ends[0]}"; name two points')
    yield from _repeated(f"{at}.units", [unit.name for unit in station.units])
    yield from _repeated(f"{at}.wheels", [wheel.name for wheel in station.wheels])


def _wheel_faults(station: Station, at: str) -> Iterator[Fault]:
    wanted = 1 if station.kind == "corner" else 2
    if len(station.wheels) != wanted:
        noun = "one wheel" if wanted == 1 else "two wheels"
        yield Fault(f"{at}.wheels", f"a station of kind {station.kind} has {noun}, got {len(station.wheels)}")
    for index, wheel in enumerate(station.wheels):
        for key, name in (("centre", wheel.centre), ("spindle", wheel.spindle)):
            if name is not None and name not in station.points:
                yield unknown_point(f"{at}.wheels[{index}].{key}", name, station.points)
        if wheel.centre in station.chassis:
            yield Fault(
                f"{at}.wheels[{index}].centre",
                f'"{wheel.centre}" is on the chassis and cannot travel; put it on a body',
            )
        carriers = [members for members in station.bodies.values() if wheel.centre in members]
        if wheel.spindle and carriers and not any(wheel.spindle in members for members in carriers):
            yield Fault(
                f"{at}.wheels[{index}].spindle",
                f'"{wheel.spindle}" must be on the same body as the wheel centre',
            )


def _unit_faults(station: Station, at: str) -> Iterator[Fault]:
    for index, unit in enumerate(station.units):
        here = f"{at}.units[{index}]"
        if isinstance(unit, Coilover | Damper) and unit.compressed >= unit.extended:
            yield Fault(
                f"{here}.compressed",
                f"must be shorter than extended ({unit.extended:g} mm), got {unit.compressed:g}; were the two swapped?",
            )
        if isinstance(unit, Coilover | SpringUnit):
            for number, spring in enumerate(unit.springs):
                yield from _spring_faults(spring, f"{here}.springs[{number}]")
        if isinstance(unit, AirSpring):
            yield from _bag_faults(unit, here)
        if isinstance(unit, BumpStop):
            yield from _table_faults(unit.table, f"{here}.table")


def _size_faults(station: Station, at: str) -> Iterator[Fault]:
    """A car's linkage is some hundred millimetres across: one of a millimetre was drawn in another unit."""
    places = list(station.points.values())
    across = max(max(axis) - min(axis) for axis in zip(*places, strict=True))
    if 0 < across < LEAST_ACROSS_MM:
        said = f"the whole linkage is only {across:g} mm across; the file holds millimetres"
        yield Fault(f"{at}.points", f"{said}. If it was drawn in metres, multiply every length by 1000")


def _bag_faults(bag: AirSpring, here: str) -> Iterator[Fault]:
    if bag.min_height >= bag.max_height:
        yield Fault(
            f"{here}.min_height",
            f"must be less than max_height ({bag.max_height:g} mm), got {bag.min_height:g}",
        )
    rows = bag.height_table
    for number, (before, after) in enumerate(itertools.pairwise(rows), start=1):
        if after[0] <= before[0]:
            yield Fault(
                f"{here}.height_table[{number}]",
                f"heights must rise row by row, got {after[0]:g} mm after {before[0]:g} mm",
            )
    if len({len(row) for row in rows}) > 1:
        yield Fault(f"{here}.height_table", "give the volume in every row or in none")


def _spring_faults(spring: Spring, at: str) -> Iterator[Fault]:
    if spring.solid_length >= spring.free_length:
        yield Fault(
            f"{at}.solid_length",
            f"must be less than free_length ({spring.free_length:g} mm), got {spring.solid_length:g}",
        )
    given = [key for key in ("rate", "table", "wire", "two_loads") if getattr(spring, key) is not None]
    if len(given) != 1:
        also = f"; this has {' and '.join(given)}" if given else ""
        yield Fault(
            f"{at}.rate",
            "give one of a rate in N/mm, a force table, the wire it is made of, or its height under two loads"
            + also,
        )
    if spring.table is not None:
        yield from _table_faults(spring.table, f"{at}.table")
    if spring.wire is not None and spring.wire.diameter >= spring.wire.mean_diameter:
        yield Fault(
            f"{at}.wire.diameter",
            f"must be less than mean_diameter ({spring.wire.mean_diameter:g} mm), got {spring.wire.diameter:g}",
        )
    if spring.two_loads is not None:
        (one, high), (other, low) = spring.two_loads
        if (other - one) * (high - low) <= 0:
            yield Fault(
                f"{at}.two_loads",
                f"the heavier load must leave it lower, got {high:g} mm under {one:g} kg and {low:g} mm under {other:g} kg",
            )


def _table_faults(table: list[list[float]], at: str) -> Iterator[Fault]:
    if table[0][0] < 0:
        yield Fault(f"{at}[0][0]", f"deflection starts at 0 mm or more, got {table[0][0]:g}")
    if table[0][1] < 0:
        yield Fault(f"{at}[0][1]", f"force starts at 0 N or more, got {table[0][1]:g}")
    for row, (before, after) in enumerate(itertools.pairwise(table), start=1):
        for column, word in ((0, "deflection"), (1, "force")):
            if after[column] <= before[column]:
                yield Fault(
                    f"{at}[{row}][{column}]",
                    f"{word} must rise row by row, got {after[column]:g} after {before[column]:g}",
                )


def _mass_faults(station: Station, at: str) -> Iterator[Fault]:
    mass = station.mass
    if mass.unsprung >= mass.corner:
        yield Fault(
            f"{at}.mass.unsprung",
            f"must be less than the corner mass ({mass.corner:g} kg), got {mass.unsprung:g}; corner mass includes it",
        )
    if station.travel.bump + station.travel.droop <= 0:
        yield Fault(f"{at}.travel", "bump and droop are both 0 mm; give the travel that is wanted")


def _geometry_faults(station: Station, at: str) -> Iterator[Fault]:
    yield from _coincident_faults(station, at)
    yield from _adrift_faults(station, at)


def _coincident_faults(station: Station, at: str) -> Iterator[Fault]:
    pairs = [
        (f"{at}.bodies.{body}", one, other)
        for body, members in station.bodies.items()
        for index, one in enumerate(members)
        for other in members[index + 1 :]
    ]
    pairs += [
        (f"{at}.units[{index}].ends", unit.ends[0], unit.ends[1]) for index, unit in enumerate(station.units)
    ]
    for path, one, other in pairs:
        if math.dist(station.points[one], station.points[other]) < TOLERANCES.coincident_mm:
            yield Fault(
                path, f'"{one}" and "{other}" stand in the same place; move one, or use one name for both'
            )


def _adrift_faults(station: Station, at: str) -> Iterator[Fault]:
    """A body with no chain of bodies to the chassis, and a point on nothing."""
    held = set(station.chassis)
    waiting = dict(station.bodies)
    slid = {slider.body for slider in station.sliders.values()}
    while reached := [body for body, members in waiting.items() if held & set(members) or body in slid]:
        for body in reached:
            held |= set(waiting.pop(body))
    for body in waiting:
        yield Fault(
            f"{at}.bodies.{body}",
            "nothing holds it: no chain of joints leads to the chassis; share a point with a body that is held",
        )
    adrift = set(station.points) - held - {name for members in station.bodies.values() for name in members}
    for name in sorted(adrift):
        yield Fault(
            f"{at}.points.{name}",
            "is on no body and not on the chassis; add it to a body or to the chassis list",
        )
