"""A worked survey as the screen shows it."""

from typing import Any

import numpy as np
from ninja import Schema

from engine.sentences import Sentence
from engine.survey.worked import WorkedSurvey
from server.records.actions.fitting import named
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

Values = dict[str, Any]


class PlaceOut(Schema):
    """A place: where it is drawn and adjusted, mm; standard errors, null where loose; the ways it can still move."""

    name: str
    drawn: list[float]
    at: list[float]
    sigma: list[float] | None
    ellipsoid: list[list[float]] | None
    ways: list[list[float]]
    loose: SentenceOut | None
    mark: bool


class ReadingOut(Schema):
    """A reading beside all others, mm or degrees; null where it is set aside or nothing checks it."""

    residual: float | None
    redundancy: float | None
    w: float | None
    suspect: bool
    would_be: float | None
    sigma: float | None
    slip: SentenceOut | None
    mended: float | None
    asked: SentenceOut | None
    aside: bool


class SquareOut(Schema):
    """One thing that ought to be nothing."""

    what: str
    places: list[str]
    out: float
    within: float
    measures: str
    mark: str
    say: SentenceOut


class SideOut(Schema):
    """Left beside right, mm: fore–aft, out, up; `within` is half of each interval."""

    left: str
    right: str
    apart: list[float]
    within: list[float]
    mark: str
    say: SentenceOut


class GuardOut(Schema):
    """One guard: open, held or moved; mm."""

    name: str
    state: str
    by: float | None
    within: float
    say: SentenceOut


class PhotoOut(Schema):
    """One picture: mm a pixel, degrees turned, mm left of each place (right, up)."""

    name: str
    mm_per_pixel: float
    turned: float
    left: dict[str, list[float]]
    fits: bool
    suspects: list[str]


class PlannedOut(Schema):
    """A reading to take, where to put the tape and why; `marks` it names that are to be made, mm as drawn."""

    kind: str
    places: list[str]
    hint: str
    why: str
    drawn: float
    redundancy: float
    extra: bool
    marks: dict[str, list[float]]


class SurveyOut(Schema):
    """A survey worked out; `readings` in the order in which they were sent."""

    mark: str
    verdict: SentenceOut
    places: list[PlaceOut]
    readings: list[ReadingOut]
    squares: list[SquareOut]
    sides: list[SideOut]
    guards: list[GuardOut]
    photos: list[PhotoOut]
    scale: float | None
    freedom: int


def survey_view(worked: WorkedSurvey, sent: Values) -> Values:
    """Return everything that the sheet shows; `sent` is the survey with what had to be set aside still in it."""
    mark, verdict = worked.verdict
    return {
        "mark": mark,
        "verdict": sentence_values(verdict),
        "places": _places(worked),
        "readings": _readings(worked, sent),
        "squares": [
            {
                "what": one.what,
                "places": one.places,
                "out": one.out,
                "within": one.within,
                "measures": one.measures,
                "mark": one.mark,
                "say": sentence_values(one.say),
            }
            for one in worked.squares
        ],
        "sides": [
            {
                "left": one.left,
                "right": one.right,
                "apart": one.apart.tolist(),
                "within": one.within.tolist(),
                "mark": one.mark,
                "say": sentence_values(one.say),
            }
            for one in worked.sides
        ],
        "guards": [
            {
                "name": one.name,
                "state": one.state,
                "by": one.by,
                "within": one.within,
                "say": sentence_values(one.say),
            }
            for one in worked.guards
        ],
        "photos": [
            {
                "name": one.name,
                "mm_per_pixel": one.mm_per_pixel,
                "turned": one.turned,
                "left": one.left,
                "fits": one.fits,
                "suspects": list(one.suspects),
            }
            for one in worked.pictures
        ],
        "scale": worked.adjusted.fit.scale,
        "freedom": worked.adjusted.fit.freedom,
    }


def _places(worked: WorkedSurvey) -> list[Values]:
    fit, names = worked.adjusted.fit, worked.network.names
    loose = {one.place: one for one in worked.loose}
    sigma = fit.sigma
    found = []
    for k, name in enumerate(names):
        free = loose.get(name)
        found.append(
            {
                "name": name,
                "drawn": worked.drawn[name],
                "at": fit.spots[k].tolist(),
                "sigma": None if free else sigma[k].tolist(),
                "ellipsoid": None if free else fit.block(np.arange(3 * k, 3 * k + 3)).tolist(),
                "ways": [] if free is None else free.ways.T.tolist(),
                "loose": None if free is None else sentence_values(free.say),
                "mark": name in worked.survey.marks,
            }
        )
    for name in worked.survey.marks:
        if name not in worked.network.index:
            spot = worked.drawn[name]
            say = Sentence("{0} has not been read yet.", names=(name,))
            found.append(
                {
                    "name": name,
                    "drawn": spot,
                    "at": spot,
                    "sigma": None,
                    "ellipsoid": None,
                    "ways": np.eye(3).tolist(),
                    "loose": sentence_values(say),
                    "mark": True,
                }
            )
    return found


ASIDE: Values = {**dict.fromkeys(ReadingOut.model_fields), "suspect": False, "aside": True}


def _readings(worked: WorkedSurvey, sent: Values) -> list[Values]:
    """Return one answer for each reading that was sent, those set aside among them."""
    told = iter(zip(worked.readings, worked.sigmas, strict=True))
    aside = fitting_aside(worked, sent)
    found: list[Values] = []
    for reading in sent.get("readings") or []:
        if any(reading is one for one in aside):
            found.append(ASIDE)
            continue
        its, sigma = next(told)
        found.append(
            {
                "residual": its.residual,
                "redundancy": its.redundancy,
                "w": its.w,
                "suspect": its.suspect,
                "would_be": its.would_be,
                "sigma": sigma,
                "slip": None if its.slip is None else sentence_values(its.slip.say),
                "mended": None if its.slip is None else its.slip.mended,
                "asked": None if its.asked is None else sentence_values(its.asked),
                "aside": False,
            }
        )
    return found


def fitting_aside(worked: WorkedSurvey, sent: Values) -> list[Values]:
    """Return the readings sent whose places are gone."""
    return [
        one for one in sent.get("readings") or [] if any(place not in worked.drawn for place in named(one))
    ]
