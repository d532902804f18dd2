"""A worked survey as `manage.py survey` prints it: plain values, sentences in the file's own units."""

from typing import Any

import numpy as np

from engine.document.schema import Project
from engine.survey.network import Seen
from engine.survey.plan import survey_plan
from engine.survey.square import Side, Square
from engine.survey.wanted import FIGURES, Aim, aims_of, wanted_of
from engine.survey.worked import ReadingTold, WorkedSurvey
from engine.survey.worth import Worth, worth_reading

Values = dict[str, Any]
PLACES = 4  # decimals of a millimetre


def survey_result(project: Project, seen: Seen | None = None) -> Values:
    """Return everything there is to say of a project's survey; raise nothing that its checks have not."""
    worked = WorkedSurvey(project, seen)
    fit, network = worked.adjusted.fit, worked.network
    sigma, loose = fit.sigma, fit.loose
    return {
        "format": "jugatrix-survey",
        "version": 1,
        "points": {
            name: {
                "at": _rounded(fit.spots[k]),
                "sigma": None if loose[k] else _rounded(sigma[k]),
            }
            for k, name in enumerate(network.names)
        },
        "loose": [{"point": one.place, "say": str(one.say)} for one in worked.loose],
        "readings": [reading_values(told) for told in worked.readings],
        "suspects": [suspect.number for suspect in worked.adjusted.suspects],
        "scale": None if fit.scale is None else round(fit.scale, 6),
        "freedom": fit.freedom,
        "next": next_values(worked, _usual_aims(worked)),
        "square": [square_values(one) for one in worked.squares],
        "sides": [side_values(one) for one in worked.sides],
        "guards": [
            {
                "name": one.name,
                "state": one.state,
                "by": None if one.by is None else round(one.by, PLACES),
                "within": round(one.within, PLACES),
                "say": str(one.say),
            }
            for one in worked.guards
        ],
        "photos": [
            {
                "name": one.name,
                "mm_per_pixel": one.mm_per_pixel,
                "turned": one.turned,
                "residuals": {name: list(left) for name, left in one.left.items()},
                "suspects": list(one.suspects),
            }
            for one in worked.pictures
        ],
    }


def _usual_aims(worked: WorkedSurvey) -> list[Aim]:
    """Return the ride height of every station that is surveyed, or everything where there is none."""
    aims = [aim for aim in aims_of(worked.project, worked.adjusted) if aim.figure == FIGURES[0]]
    return [*aims, Aim(figure="every place")]


def next_values(worked: WorkedSurvey, aims: list[Aim]) -> list[Values]:
    """Return what to read next for each aim, the best first."""
    found = []
    for aim in aims:
        wanted = wanted_of(worked.project, worked.adjusted, aim)
        if wanted is not None:
            found += [
                {
                    "reading": worth_values(one),
                    "for": aim.said,
                    "now": one.now,
                    "then": one.then,
                    "would_be": one.would_be,
                }
                for one in worth_reading(worked.adjusted, wanted)
            ]
    return found


def worth_values(one: Worth) -> Values:
    """Return a reading that could be taken as the file would have it, without its values."""
    if len(one.places) == 1:
        return {"kind": one.kind, "of": one.places[0]}
    return {"kind": one.kind, "between": list(one.places)}


def list_result(project: Project) -> Values:
    """Return the list to read of a whole project, designed for what is drawn: each station's, in the order of reading."""
    marks = {} if project.survey is None else dict(project.survey.marks)
    asked: dict[str, list[float]] = {}
    readings: list[Values] = []
    known: set[tuple[str, tuple[str, ...]]] = set()
    for station in project.stations:
        if station.variant_of is not None:
            continue
        plan = survey_plan(station)
        named = {its: _mark_name(its, station.name, len(project.stations)) for its in plan.marks}
        asked |= {named[name]: list(spot) for name, spot in plan.marks.items()}
        for one in plan.readings:
            places = tuple(named.get(place, place) for place in one.places)
            if (one.kind, places) in known:
                continue
            known.add((one.kind, places))
            where = {"of": places[0]} if len(places) == 1 else {"between": list(places)}
            readings.append(
                {
                    "kind": one.kind,
                    **where,
                    "drawn": round(one.drawn, 2),
                    "redundancy": round(one.redundancy, 4),
                    "extra": one.extra,
                    "why": one.why,
                    "where": one.hint,
                }
            )
    return {
        "format": "jugatrix-survey-list",
        "version": 1,
        "marks": {name: list(spot) for name, spot in marks.items()} | asked,
        "readings": readings,
    }


def _mark_name(mark: str, station: str, many: int) -> str:
    return mark if many == 1 else f"{mark}, {station}"


def reading_values(told: ReadingTold) -> Values:
    """Return what is said of a reading."""
    values: Values = {
        "residual": round(told.residual, PLACES),
        "redundancy": round(told.redundancy, 6),
        "w": None if told.w is None else round(told.w, 4),
        "suspect": told.suspect,
        "would_be": None if told.would_be is None else round(told.would_be, PLACES),
    }
    if told.slip is not None:
        values["looks_like"] = str(told.slip.say)
    if told.tied:
        values["tied"] = list(told.tied)
    if told.asked is not None:
        values["asked"] = str(told.asked)
    return values


def square_values(one: Square) -> Values:
    """Return one thing that ought to be square."""
    return {
        "what": one.what,
        "places": list(one.places),
        "out": round(one.out, PLACES),
        "within": round(one.within, PLACES),
        "measures": one.measures,
        "mark": one.mark,
        "say": str(one.say),
    }


def side_values(one: Side) -> Values:
    """Return two places that ought to be mirror images."""
    return {
        "left": one.left,
        "right": one.right,
        "apart": _rounded(one.apart),
        "sigma": _rounded(one.sigma),
        "mark": one.mark,
        "say": str(one.say),
    }


def _rounded(values: np.ndarray) -> list[float]:
    return [round(float(value), PLACES) for value in values]
