"""A survey beside a document that may have changed: readings whose places are gone are set aside, never lost."""

from typing import Any

from pydantic import TypeAdapter, ValidationError

from engine.document.read import in_sentences
from engine.document.survey import PLACE_FIELDS, Survey
from engine.errors import DocumentRefused, Fault

Values = dict[str, Any]
FORM: TypeAdapter[Survey] = TypeAdapter(Survey)


def fitting(document: Values, survey: Values) -> Values:
    """Return the survey with readings, pictures' places and guards of places that are gone under `set_aside`.

    Raise DocumentRefused for a survey that is not of its form: nothing of it is worked on before. A document that is not
    of its form has no places, and says so itself when it is checked.
    """
    try:
        FORM.validate_python(survey)
    except ValidationError as error:
        raise DocumentRefused(
            [Fault(f"survey.{fault.path}", fault.message) for fault in in_sentences(error)]
        ) from error
    points = _points(document)
    marks = {name: spot for name, spot in (survey.get("marks") or {}).items() if name not in points}
    known = points | set(marks)
    aside: Values = {}
    found: Values = {**survey}
    if "marks" in survey:
        found["marks"] = marks
    for name in ("readings", "guards"):
        some = survey.get(name) or []
        kept = [one for one in some if all(place in known for place in named(one))]
        lost = [one for one in some if one not in kept]
        if name in survey:
            found[name] = kept
        if lost:
            aside[name] = lost
    if survey.get("stickers"):
        stuck = survey["stickers"]["places"]
        here = {
            n: its for n, its in stuck.items() if (its if isinstance(its, str) else its["place"]) in known
        }
        found["stickers"] = {**survey["stickers"], "places": here}
        if len(here) < len(stuck):
            aside["stickers"] = {n: its for n, its in stuck.items() if n not in here}
    if "photos" in survey:
        found["photos"] = [
            {
                **photo,
                "picked": {name: spot for name, spot in (photo.get("picked") or {}).items() if name in known},
            }
            for photo in survey["photos"]
        ]
    return {**found, **({"set_aside": aside} if aside else {})}


def _points(document: Values) -> set[str]:
    """Return the places of a document's stations, by station and name."""
    stations = document.get("stations")
    return {
        f"{station.get('name')}/{point}"
        for station in (stations if isinstance(stations, list) else ())
        if isinstance(station, dict) and isinstance(station.get("points"), dict)
        for point in station["points"]
    }


def named(item: Values) -> list[str]:
    """Return the places that a reading or a guard names."""
    places: list[str] = []
    for field in PLACE_FIELDS:
        value = item.get(field)
        places += [value] if isinstance(value, str) else list(value or [])
    return places
