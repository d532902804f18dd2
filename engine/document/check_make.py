"""What no single value of `make.parts` can show: names that lead nowhere, holes wider than their plates, tubes all wall."""

from collections.abc import Iterator

import numpy as np

from engine.document.check_fittings import unknown_point
from engine.document.fittings import Place
from engine.document.links import link_ends
from engine.document.make import (
    AdapterChoice,
    CupChoice,
    GussetChoice,
    NotchChoice,
    PlateChoice,
    RodChoice,
    SleeveChoice,
    TabChoice,
    TemplateChoice,
    TowerChoice,
    TubeSize,
)
from engine.document.schema import Station
from engine.errors import Fault

Choice = (
    RodChoice | PlateChoice | TabChoice | TowerChoice | CupChoice | NotchChoice | AdapterChoice
    | SleeveChoice | GussetChoice | TemplateChoice
)  # fmt: skip
SAME_MM = 0.01
USUAL_RADIUS = 3.0  # tube diameters


def bend_radius(choice: TowerChoice) -> float:
    """Return the centre-line radius that a tube is bent to, mm."""
    return choice.radius or USUAL_RADIUS * choice.tube.outside


def make_faults(station: Station, at: str) -> Iterator[Fault]:
    """Yield every fault of a station's chosen parts; its points, bodies and units are known to be in order."""
    if station.make is None:
        return
    taken: dict[tuple[str, ...], int] = {}
    names: list[str] = []
    for number, part in enumerate(station.make.parts):
        here = f"{at}.make.parts[{number}]"
        if part.name in names:
            yield Fault(f"{here}.name", f'"{part.name}" is used twice; give each part its own name')
        names.append(part.name)
        yield from _own(station, part, here)
        thing = subject_of(part)
        if thing is not None and thing in taken:
            yield Fault(here, f"part {taken[thing] + 1} of the list is for the same thing; keep one of them")
        elif thing is not None:
            taken[thing] = number


def subject_of(part: Choice) -> tuple[str, ...] | None:
    """Return what a choice stands for instead of a proposal, None where nothing is proposed."""
    match part:
        case RodChoice() | PlateChoice():
            return ("rod" if isinstance(part, RodChoice) else "plate", part.body)
        case TabChoice():
            return ("tab", part.point, part.holds)
        case CupChoice() | AdapterChoice():
            return (part.kind, part.unit, part.end)
    return None


def _own(station: Station, part: Choice, here: str) -> Iterator[Fault]:
    match part:
        case RodChoice():
            if part.body not in station.bodies or link_ends(station, part.body) is None:
                yield Fault(f"{here}.body", f'"{part.body}" is no rod; name a body of two joints')
            yield from _tube(part.tube, f"{here}.tube")
        case PlateChoice():
            if part.body not in station.bodies:
                yield Fault(f"{here}.body", f'"{part.body}" is no rocker and no link; name a body')
        case TabChoice():
            yield from _tab(station, part, here)
        case TowerChoice():
            yield from _tower(station, part, here)
        case CupChoice() | AdapterChoice():
            yield from _unit_end(station, part, here)
            if isinstance(part, CupChoice):
                yield from _tube(part.tube, f"{here}.tube")
                if part.tube and part.plate and part.tube.outside > part.plate:
                    yield Fault(
                        f"{here}.plate",
                        f"is {part.plate:g} mm across and the tube {part.tube.outside:g} mm; take a larger plate",
                    )
        case NotchChoice():
            yield from _point(station, part.over, f"{here}.over")
            for key in ("width", "height"):
                if getattr(part.rail, key) <= 2 * part.rail.wall:
                    yield Fault(
                        f"{here}.rail.wall",
                        f"twice the wall ({part.rail.wall:g} mm) is more than the rail's {key}; measure it again",
                    )
        case SleeveChoice():
            yield from _point(station, part.point, f"{here}.point")
        case GussetChoice():
            yield from _point(station, part.point, f"{here}.point")
            if part.hole and part.hole >= min(part.legs):
                yield Fault(
                    f"{here}.hole",
                    f"of {part.hole:g} mm is as wide as the plate ({min(part.legs):g} mm); make it smaller",
                )
        case TemplateChoice():
            if part.point is not None:
                yield from _point(station, part.point, f"{here}.point")
            corners = np.array([corner.at for corner in part.outline])
            spread = corners.max(axis=0) - corners.min(axis=0)
            for number, hole in enumerate(part.holes):
                if hole.diameter >= float(spread.max()):
                    yield Fault(
                        f"{here}.holes[{number}].diameter",
                        f"of {hole.diameter:g} mm is larger than the plate; make it smaller",
                    )


def _tab(station: Station, part: TabChoice, here: str) -> Iterator[Fault]:
    yield from _point(station, part.point, f"{here}.point")
    ends: dict[str, list[str]] = {unit.name: list(unit.ends) for unit in station.units}
    ends = {**station.bodies, **ends}
    if part.holds not in ends:
        yield Fault(f"{here}.holds", f'"{part.holds}" is no rod, arm or unit; name what is bolted there')
    elif part.point not in ends[part.holds]:
        yield Fault(f"{here}.point", f'"{part.point}" is not on {part.holds}; name one of its points')
    if part.hole is not None and part.width is not None and part.hole >= part.width:
        yield Fault(
            f"{here}.hole",
            f"of {part.hole:g} mm is wider than the tab ({part.width:g} mm); drill smaller or cut wider",
        )
    if part.towards is not None and float(np.linalg.norm(part.towards)) < 1e-9:
        yield Fault(f"{here}.towards", "has no direction; give a vector that is not all noughts")
    if part.foot is not None and part.foot.on == "tube":
        if part.foot.outside is None:
            yield Fault(f"{here}.foot.outside", "is missing; say what tube it is welded to, mm over it")
        elif part.foot.angle > 90:
            yield Fault(f"{here}.foot.angle", f"is at most 90°, across the tube; got {part.foot.angle:g}")
        elif part.foot.angle > 0 and (part.foot_width or part.width or 0.0) > part.foot.outside:
            yield Fault(
                f"{here}.foot_width",
                f"a foot of {part.foot_width or part.width:g} mm is wider than its tube ({part.foot.outside:g} mm); "
                "make it narrower, or lay it along the tube (angle 0)",
            )


def _tower(station: Station, part: TowerChoice, here: str) -> Iterator[Fault]:
    yield from _tube(part.tube, f"{here}.tube")
    lost = False
    for number, place in enumerate(part.corners):
        if isinstance(place, str) and place not in station.points:
            lost = True
            yield unknown_point(f"{here}.corners[{number}]", place, station.points)
    if part.on != "chassis" and part.on not in station.bodies:
        yield Fault(f"{here}.on", f'"{part.on}" is no body; name one, or write chassis')
    if part.holds is not None:
        yield from _point(station, part.holds, f"{here}.holds")
    if part.least_radius is not None and bend_radius(part) < part.least_radius:
        yield Fault(
            f"{here}.radius",
            f"{bend_radius(part):g} mm is tighter than the bender makes ({part.least_radius:g} mm); bend wider",
        )
    for number, end in enumerate(part.ends):
        if end.on == "tube":
            for key in ("outside", "along"):
                if getattr(end, key) is None:
                    yield Fault(f"{here}.ends[{number}].{key}", "is missing; a cope needs the tube it meets")
            if end.along is not None and float(np.linalg.norm(end.along)) < 1e-9:
                yield Fault(
                    f"{here}.ends[{number}].along", "has no direction; give a vector that is not all noughts"
                )
    if not lost:
        spots = np.array([_place(station, place) for place in part.corners])
        if float(np.linalg.norm(np.diff(spots, axis=0), axis=1).min()) < SAME_MM:
            yield Fault(f"{here}.corners", "two corners in a row are one place; take one of them out")


def _place(station: Station, place: Place) -> list[float]:
    return station.points[place] if isinstance(place, str) else place


def _tube(tube: TubeSize | None, at: str) -> Iterator[Fault]:
    if tube is not None and 2 * tube.wall >= tube.outside:
        yield Fault(
            f"{at}.wall",
            f"twice {tube.wall:g} mm is as much as the tube's {tube.outside:g} mm; give the wall of one side",
        )


def _point(station: Station, point: str, at: str) -> Iterator[Fault]:
    if point not in station.points:
        yield unknown_point(at, point, station.points)


def _unit_end(station: Station, part: CupChoice | AdapterChoice, here: str) -> Iterator[Fault]:
    unit = next((unit for unit in station.units if unit.name == part.unit), None)
    if unit is None:
        yield Fault(f"{here}.unit", f'no unit is called "{part.unit}"; name one of the station\'s units')
        return
    if isinstance(part, CupChoice) and unit.kind != "air_spring":
        yield Fault(f"{here}.unit", f'"{part.unit}" is no air spring; only a bag stands on a cup')
    if part.end not in unit.ends:
        yield Fault(f"{here}.end", f'"{part.end}" is no end of {part.unit}; name one of its two ends')
