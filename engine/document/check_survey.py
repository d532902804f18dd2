"""What no single value of a survey can show: places that are nowhere, a place taped to itself, tools nobody has."""

import difflib
from collections.abc import Iterable, Iterator

from engine.document.schema import Project
from engine.document.survey import USUAL_ERRORS, Survey, places_of
from engine.errors import Fault


def drawn_places(project: Project) -> dict[str, list[float]]:
    """Return where every place that a survey may name is drawn, mm: STATION/POINT, and its marks."""
    places = {
        f"{station.name}/{point}": spot
        for station in project.stations
        for point, spot in station.points.items()
    }
    return {**places, **(project.survey.marks if project.survey is not None else {})}


def survey_faults(project: Project) -> list[Fault]:
    """Return every fault of the survey beside the job it belongs to."""
    survey = project.survey
    if survey is None:
        return []
    places = drawn_places(project)
    return [
        *_mark_faults(project, survey),
        *_reading_faults(survey, places),
        *_other_faults(survey, places),
        *_sticker_faults(survey, places),
    ]


def _mark_faults(project: Project, survey: Survey) -> Iterator[Fault]:
    points = {f"{station.name}/{point}" for station in project.stations for point in station.points}
    for name in survey.marks:
        if name in points:
            yield Fault(f"survey.marks.{name}", "is a point of a station already; give the mark another name")


def _reading_faults(survey: Survey, places: Iterable[str]) -> Iterator[Fault]:
    for number, reading in enumerate(survey.readings):
        at = f"survey.readings[{number}]"
        named = places_of(reading)
        yield from _unknown(at, named, places)
        if len(set(named)) < len(named):
            yield Fault(at, f'names "{_twice(named)}" twice; a reading goes between different places')
        if reading.tool is not None and reading.tool not in {*USUAL_ERRORS, *survey.tools}:
            known = ", ".join(sorted({*USUAL_ERRORS, *survey.tools}))
            yield Fault(f"{at}.tool", f'"{reading.tool}" is no tool of this survey; name one of: {known}')


MOST_STICKERS = 587  # markers of the april36h11 family


def _sticker_faults(survey: Survey, places: Iterable[str]) -> Iterator[Fault]:
    stood: dict[str, str] = {}
    for number, its in survey.stickers.places.items():
        at = f"survey.stickers.places.{number}"
        place = its if isinstance(its, str) else its.place
        yield from _unknown(at, (place,), places)
        if int(number) >= MOST_STICKERS:
            yield Fault(at, f"there are {MOST_STICKERS} stickers, numbered from 0; {number} is none of them")
        if str(int(number)) != number:
            yield Fault(at, f'write the number as it is printed: "{int(number)}"')
        if place in stood and isinstance(its, str):
            yield Fault(
                at, f'"{place}" has sticker {stood[place]} already; say how far this one stands off it'
            )
        stood[place] = number
    files = [picture.file for picture in survey.pictures]
    for k, file in enumerate(files):
        if files.index(file) < k:
            yield Fault(f"survey.pictures[{k}].file", f'"{file}" stands twice; take one out')


def _other_faults(survey: Survey, places: Iterable[str]) -> Iterator[Fault]:
    for number, photo in enumerate(survey.photos):
        at = f"survey.photos[{number}]"
        yield from _unknown(f"{at}.picked", tuple(photo.picked), places)
        ends = None if photo.reference is None else photo.reference.ends
        if ends is not None and ends[0] == ends[1]:
            yield Fault(f"{at}.reference.ends", "are one spot; pick both ends of the known line")
    for number, guard in enumerate(survey.guards):
        at = f"survey.guards[{number}]"
        yield from _unknown(f"{at}.between", tuple(guard.between), places)
        if guard.between[0] == guard.between[1]:
            yield Fault(
                f"{at}.between", f'is "{guard.between[0]}" to itself; a guard goes between two places'
            )


def _unknown(at: str, named: tuple[str, ...], places: Iterable[str]) -> Iterator[Fault]:
    known = list(places)
    for name in named:
        if name not in known:
            near = difflib.get_close_matches(name, known, n=1)
            hint = f'; did you mean "{near[0]}"?' if near else "; name a STATION/POINT or a mark"
            yield Fault(at, f'there is no place "{name}"{hint}')


def _twice(named: tuple[str, ...]) -> str:
    return next(name for number, name in enumerate(named) if name in named[:number])
