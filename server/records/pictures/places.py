"""Places from the stickers in a folder of pictures, joined with all other readings, and what there is to say of them."""

from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from engine.document.check_survey import drawn_places
from engine.document.schema import Project
from engine.document.survey import Survey
from engine.errors import DocumentRefused, Fault
from engine.survey.network import Network, Seen
from engine.survey.stickers.bundle import SIZE_SHARE, Bundle, Start, bundle, sticker_of
from engine.survey.stickers.helps import next_picture, said_of
from engine.survey.stickers.seeing import Pictures
from engine.telling import Tell, to_nobody, within
from server.records.pictures.stickers import LEAST_SEEN, pictures_in, start_again, start_by_chain, start_of

Values = dict[str, Any]
SCALE_W = 3.0
FITS, FINE_PIXELS = (
    0.85,
    1.0,
)  # of the sightings that ought to fit, and how well, else another beginning is tried
FAR_PIXELS = 10.0  # what does not fit is off by
COARSE_PIXELS = 3.0  # corners off by more than this are no good fit, whatever else is
AGAIN = 2


def places_in(project: Project, folder: Path, tell: Tell = to_nobody) -> tuple[Bundle, Pictures]:
    """Return the places of a project's stickers by the pictures in a folder, and what is seen in those; raise DocumentRefused."""
    survey = project.survey
    if survey is None or not survey.stickers.places:
        raise DocumentRefused([Fault("survey.stickers", "is missing; say which sticker is on which place")])
    pictures = pictures_in(folder, survey, within(tell, 0.0, 0.7))
    drawn = drawn_places(project)
    places = list(
        dict.fromkeys(
            sticker_of(survey, one.number)[0]
            for one in pictures.seen
            if str(one.number) in survey.stickers.places
        )
    )
    nothing = Seen(
        places=tuple(places),
        at=np.array([drawn[place] for place in places], dtype=float),
        rows=np.zeros((0, 3 * len(places))),
    )
    network = Network(survey, drawn, nothing)
    # The stickers alone know nothing of how rough the drawing is; the drawing, where they hang together nowhere.
    starts = (
        lambda: start_by_chain(survey, drawn, network.names, pictures),
        lambda: start_of(survey, drawn, pictures),
    )
    found = _best(survey, network, pictures, starts, within(tell, 0.7, 1.0))
    if found is None:
        raise DocumentRefused(
            [
                Fault(
                    "survey.pictures",
                    "no picture shows four of the survey's stickers: come nearer, or put up more of them",
                )
            ]
        )
    return found, pictures


def _best(
    survey: Survey,
    network: Network,
    pictures: Pictures,
    starts: Sequence[Callable[[], Start | None]],
    tell: Tell,
) -> Bundle | None:
    """Return the adjustment with the least misfit over some beginnings; the first that fits nearly all it sees is enough."""
    could = _could_be_used(survey, pictures)
    best: Bundle | None = None
    for k, begin in enumerate(starts):
        start = begin()
        if start is None or not start.turns:
            continue
        found = _settled(
            survey, network, pictures, start, within(tell, k / len(starts), (k + 1) / len(starts))
        )
        if best is None or _misfit(found, could) < _misfit(best, could):
            best = found
        if len(best.used) >= FITS * could and best.pixel <= FINE_PIXELS:
            break
    return best


def _misfit(found: Bundle, could: int) -> float:
    """Return pixels that all sightings are off together: those left out as far as counts."""
    return sum(found.rms[one.picture] for one in found.used) + FAR_PIXELS * max(could - len(found.used), 0)


def _settled(survey: Survey, network: Network, pictures: Pictures, start: Start, tell: Tell) -> Bundle:
    """Return the adjustment, begun anew from itself: what it left out at first may fit, and small stickers lie the other way round."""
    found = bundle(survey, network, pictures, start, tell)
    for _ in range(AGAIN):
        again = start_again(survey, found, pictures)
        if set(again.turns) == set(found.rms) and all(
            turn is found.lie.get(n) for n, turn in again.lie.items()
        ):
            break
        found = bundle(survey, network, pictures, again, tell)
    return found


def _could_be_used(survey: Survey, pictures: Pictures) -> int:
    """Return how many sightings of known stickers there are in pictures that show enough of them."""
    known = [one for one in pictures.seen if str(one.number) in survey.stickers.places]
    many = Counter(one.picture for one in known)
    return sum(count for count in many.values() if count >= LEAST_SEEN)


def bundle_values(survey: Survey, found: Bundle, pictures: Pictures) -> Values:
    """Return pictures, cameras and stickers as the contract has them, and what there is to say of them."""
    network = found.network
    numbers = sorted({one.number for one in found.used})
    return {
        "pictures": [
            {
                "file": pictures.files[k],
                "stickers": sorted({one.number for one in pictures.seen if one.picture == k}),
                "rms": None if k not in found.rms else round(found.rms[k], 4),
                "at": _rounded(-found.turns[k].T @ found.shifts[k], 3) if k in found.rms else None,
                "looks": _rounded(found.turns[k][2], 6) if k in found.rms else None,
            }
            for k in range(len(pictures.files))
        ],
        "cameras": {
            name: {
                "focal": round(float(camera[0]), 3),
                "centre": _rounded(camera[1:3], 3),
                "distortion": _rounded(camera[3:5], 6),
                "sigma": {"focal": round(sigma, 3)},
            }
            for name, (camera, sigma) in found.cameras.items()
        },
        "stickers": {
            str(number): {
                "place": sticker_of(survey, number)[0],
                "at": _rounded(found.spots[network.index[sticker_of(survey, number)[0]]], 4),
                "sigma": _rounded(found.sigma[sticker_of(survey, number)[0]], 4),
                "face": _rounded(found.lie[number][:, 2], 6),
                "seen": len({one.picture for one in found.used if one.number == number}),
            }
            for number in numbers
        },
        "print_scale": {"value": round(found.scale, 6), "sigma": round(found.scale_sigma, 6)},
        "slips": [
            {
                "sticker": one.number,
                "pictures": [pictures.files[k] for k in one.pictures],
                "by": None if one.by is None else round(one.by, 2),
                "at": None if one.at is None else _rounded(one.at, 2),
            }
            for one in found.slips
        ],
        "helps": _helps(survey, found, pictures),
        "said": list(_said(survey, found, pictures)),
    }


def _helps(survey: Survey, found: Bundle, pictures: Pictures) -> Values | None:
    """Return the picture that would help most; None where none is worth the walk."""
    helps = next_picture(survey, pictures, found)
    if helps is None:
        return None
    spot = found.spots[found.network.index[sticker_of(survey, helps.towards)[0]]]
    return {
        "from": _rounded(helps.at, 1),
        "towards": helps.towards,
        "shows": list(helps.shows),
        "sigma": _rounded([helps.now, helps.then], 3),
        "say": said_of(helps, spot),
    }


def _said(survey: Survey, found: Bundle, pictures: Pictures) -> Sequence[str]:
    said = []
    for one in found.slips:
        files = " and ".join(pictures.files[k] for k in one.pictures)
        where = "" if one.by is None else f", by {one.by:.0f} mm"
        words = f"Sticker {one.number} stood elsewhere in {files}{where}: left out there."
        said.append(words if len(one.pictures) > 1 else f"Sticker {one.number} does not fit in {files}: moved, curled or read wrongly; left out there.")  # fmt: skip
    known = set(survey.stickers.places)
    strangers = sorted({one.number for one in pictures.seen if str(one.number) not in known})
    if strangers:
        said.append(
            f"Seen in pictures and not in survey.stickers: {', '.join(map(str, strangers))}. Nothing is made of them."
        )
    unseen = sorted((known - {str(one.number) for one in found.used}), key=int)
    if unseen:
        said.append(f"In no picture that could be used: sticker {', '.join(unseen)}.")
    lost = [name for k, name in enumerate(pictures.files) if k not in found.rms]
    if lost:
        said.append(f"Fewer than four known stickers are seen in {', '.join(lost)}: nothing is made of it.")
    off = found.scale - 1.0
    if abs(off) > SCALE_W * float(np.hypot(SIZE_SHARE, found.scale_sigma)):
        said.append(f"The stickers are {abs(off):.1%} {'larger' if off > 0 else 'smaller'} than survey.stickers says: print at 100 %, or give their measured size.")  # fmt: skip
    if found.laid:
        said.append("No reading says where the whole of it stands: it is laid on the drawing. Read three heights, two offsets and one place ahead of the datum.")  # fmt: skip
    if found.pixel > COARSE_PIXELS or len(found.used) < FITS * _could_be_used(survey, pictures):
        said.append(f"The pictures do not fit together: corners are {found.pixel:.1f} pixels off, and {len(found.used)} of {_could_be_used(survey, pictures)} sightings could be used. Do not build on these places: take more pictures, each with four stickers that another shows too.")  # fmt: skip
    if not found.converged:
        said.append("The adjustment did not settle: look at the pictures with the largest misfit.")
    return said


def _rounded(values: Any, digits: int) -> list[float]:
    return [round(float(value), digits) + 0.0 for value in values]
