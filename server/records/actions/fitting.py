"""A survey beside a document that may have changed: readings whose places are gone are set aside, never lost."""

from typing import Any

from engine.document.survey import PLACE_FIELDS

Values = dict[str, Any]


def fitting(document: Values, survey: Values) -> Values:
    """Return the survey with readings, pictures' places and guards of places that are gone under `set_aside`."""
    known = {
        f"{station['name']}/{point}"
        for station in document.get("stations", [])
        for point in station["points"]
    }
    points = set(known)
    marks = {name: spot for name, spot in (survey.get("marks") or {}).items() if name not in points}
    known |= set(marks)
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
    if "photos" in survey:
        found["photos"] = [
            {
                **photo,
                "picked": {name: spot for name, spot in (photo.get("picked") or {}).items() if name in known},
            }
            for photo in survey["photos"]
        ]
    return {**found, **({"set_aside": aside} if aside else {})}


def named(item: Values) -> list[str]:
    """Return the places that a reading or a guard names."""
    places: list[str] = []
    for field in PLACE_FIELDS:
        value = item.get(field)
        places += [value] if isinstance(value, str) else list(value or [])
    return places
