"""From cardboard to a part, over HTTP: a card found in a straightened picture as an outline to be cut; a cut part compared."""

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.document.read import check_project
from engine.sentences import Quantity, Sentence, length
from engine.shop.fitting import compared, corners_of, same_on_both_sides
from engine.shop.job_parts import job_parts
from engine.shop.traced_holes import hole_of
from server.answers import ActionRefused, Document, answer
from server.jobs.actions.open_job import open_job
from server.records.actions.photographs import open_photograph
from server.records.pictures.card import CardSeen, find_card
from server.shop.rack import shelf_of, stock_of
from server.solving.shapes import SentenceOut
from server.solving.view import sentence_values

router = Router(tags=["make"])
ROUND_SHARE = 0.08  # of a hole's diameter that its edge may be off a circle
GOOD_MM = 0.8
POOR_MM = 1.5


class AboutCard(Schema):
    """Where the card is pointed at, px; whether it ought to be the same on both sides."""

    at: Annotated[list[float], Field(min_length=2, max_length=2)]
    symmetric: bool = False


class CornerOut(Schema):
    """A corner, mm from the picture's lower left, y up, and how the edge to the next one bulges."""

    at: list[float]
    bulge: float


class CardHoleOut(Schema):
    """A hole, mm; `off` the most that its edge is off its shape. A slot as wide as its diameter has its other end at `to`."""

    at: list[float]
    to: list[float] | None
    diameter: float
    off: float


class CardOut(Schema):
    """A card as lines and arcs, mm from the picture's lower left; its holes; what is to be said of it."""

    outline: list[CornerOut]
    holes: list[CardHoleOut]
    said: list[SentenceOut]


@router.post(
    "/jobs/{job_id}/photographs/{photograph_id}/card",
    response=CardOut,
    operation_id="findCard",
)
def find(request: HttpRequest, job_id: UUID, photograph_id: UUID, body: AboutCard) -> HttpResponse:
    """Return the card at a place of a straightened picture."""
    seen = _seen(request, job_id, photograph_id, body)
    edge = same_on_both_sides(seen.edge) if body.symmetric else seen.edge
    shapes = [hole_of(hole) for hole in seen.holes]
    odd = [
        Sentence(
            "A hole of about {across} is neither round nor a slot, by {off}: look at it, or leave it out.",
            {"across": length(one.diameter), "off": length(one.off)},
        )
        for one in shapes
        if one.off > max(0.6, ROUND_SHARE * one.diameter)
    ]
    said = [*_good_to(seen), *seen.said, *odd]
    return answer(
        {
            "outline": [{"at": [x, y], "bulge": bulge} for x, y, bulge in corners_of(edge)],
            "holes": [
                {"at": [one.x, one.y], "to": one.to, "diameter": one.diameter, "off": one.off}
                for one in shapes
            ],
            "said": [sentence_values(one) for one in said],
        }
    )


def _good_to(seen: CardSeen) -> list[Sentence]:
    if seen.good_to is None:
        words = "What this picture is good to was not kept: straighten it again, and it is told."
        return [Sentence(words)]
    words = "Over the card the picture is good to {error}."
    if seen.good_to > POOR_MM:
        words += " Lay the card nearer to the board, or stand more squarely to it."
    return [Sentence(words, {"error": length(seen.good_to)})]


class AboutCut(AboutCard):
    """A cut plate in the picture, and the part of the document in hand that it ought to be."""

    document: Document
    station: str
    name: str


class ComparedOut(Schema):
    """How a cut plate differs from its drawing."""

    mark: str
    say: SentenceOut
    most: float
    x: float
    y: float
    holes: list[SentenceOut]
    said: list[SentenceOut]


@router.post(
    "/jobs/{job_id}/photographs/{photograph_id}/compare",
    response=ComparedOut,
    operation_id="comparePart",
)
def compare(request: HttpRequest, job_id: UUID, photograph_id: UUID, body: AboutCut) -> HttpResponse:
    """Return the largest difference between a cut plate in a picture and its drawing."""
    seen = _seen(request, job_id, photograph_id, body)
    parts = job_parts(check_project(body.document), stock_of(shelf_of(request.user)))
    part = next((one for one in parts.parts if (one.station, one.name) == (body.station, body.name)), None)
    if part is None or part.flat is None:
        raise ActionRefused(404, "no_part", "There is no such plate any more; look at the list again.")
    found = compared(part.flat, seen.edge, [hole_of(hole) for hole in seen.holes])
    words = (
        "{0} is {most} "
        + ("larger" if found.most > 0 else "smaller")
        + " than drawn at worst; {rms} on the whole."
    )
    if found.turned_over:
        words += " It lies turned over: the other hand."
    say = Sentence(words, {"most": length(abs(found.most)), "rms": length(found.rms)}, (part.name,))
    worst = max([abs(found.most), *(off for _, off, _ in found.holes)])
    return answer(
        {
            "mark": "good" if worst <= GOOD_MM else "warning",
            "say": sentence_values(say),
            "most": found.most,
            "x": found.at[0],
            "y": found.at[1],
            "holes": [sentence_values(_hole(*hole)) for hole in found.holes],
            "said": [sentence_values(one) for one in (*_good_to(seen), *seen.said)],
        }
    )


def _hole(what: str, off: float, wider: float) -> Sentence:
    if off == float("inf"):
        return Sentence("The hole for the {0} is not there.", names=(what,))
    told: dict[str, Quantity] = {"off": length(off), "by": length(abs(wider))}
    return Sentence(
        "Hole for the {0}: {off} from where it is drawn, {by} " + ("wider." if wider > 0 else "narrower."),
        told,
        (what,),
    )


def _seen(request: HttpRequest, job_id: UUID, photograph_id: UUID, body: AboutCard) -> CardSeen:
    photograph = open_photograph(open_job(request.user, job_id), photograph_id)
    if photograph.mm_per_pixel is None:
        raise ActionRefused(
            422, "not_straight", "Straighten the picture first: by the board in it, or by four corners."
        )
    jpeg, at = photograph.path.read_bytes(), (body.at[0], body.at[1])
    return find_card(jpeg, photograph.mm_per_pixel, at, photograph.shown, photograph.errors)
