"""What lies on, against or across a card in a picture, so that its outline is not the card's alone.

Board    the printed one, taken for a card or joined to it.
Against  along some of the edge the ground beside it has another colour than elsewhere: a hand, a rag, a second card.
Across   a long straight line inside the outline: where two cards touch, or a fold.
"""

import math

import cv2
import numpy as np

from engine.facts import facts
from engine.sentences import Sentence, length
from server.answers import ActionRefused

BESIDE_PX = 7.0  # outside the edge, clear of its blur
OTHER_COLOUR = 9.0  # of 255, in the two colours, from what lies beside the rest of the edge
SCATTER_TIMES = 4.0
LEAST_STRETCH_MM = 12.0
LINE_SHARE = 0.4  # of the card's shorter side
INSIDE_MM = 4.0
INNER_SHARE = 0.9  # of the board, clear of what lies just beside it


@facts
class Traced:
    """A card as it lies in a picture: RGB, mm a pixel; its mask, 255 or 0; its edge (n, 2) px; its holes' edges."""

    picture: np.ndarray
    scale: float
    mask: np.ndarray
    edge: np.ndarray
    holes: list[np.ndarray]


def refuse_board(board: np.ndarray | None, at: tuple[float, float], mask: np.ndarray | None = None) -> None:
    """Raise ActionRefused where a place is on the printed board, or what was taken for the card reaches into it.

    board : its corners (4, 2) px, or None where none is seen
    """
    if board is None:
        return
    if cv2.pointPolygonTest(board.astype(np.float32)[:, None], at, False) >= 0 and mask is None:
        raise ActionRefused(422, "no_card", "That is the printed board. Point at the card.")
    if mask is not None:
        inner = np.zeros_like(mask)
        middle = board.mean(axis=0)
        cv2.fillPoly(inner, [np.round(middle + INNER_SHARE * (board - middle)).astype(np.int32)], 255)
        if (mask & inner).any():
            raise ActionRefused(
                422,
                "no_card",
                "The card and the printed board are seen as one: part them, or lay the card on another ground.",
            )


def said_of(card: Traced) -> list[Sentence]:
    """Return what is to be looked at before the outline is believed."""
    return [*_against(card), *_across(card)]


def _against(card: Traced) -> list[Sentence]:
    ahead, behind = np.roll(card.edge, -6, axis=0), np.roll(card.edge, 6, axis=0)
    along = ahead - behind
    out = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(
        np.linalg.norm(along, axis=1, keepdims=True), 1e-9
    )
    middle = card.edge + 2.0 * out
    inside = (
        cv2.pointPolygonTest(card.edge.astype(np.float32)[:, None], tuple(map(float, middle[0])), False) > 0
    )
    places = card.edge + (-BESIDE_PX if inside else BESIDE_PX) * out
    colours = cv2.cvtColor(cv2.GaussianBlur(card.picture, (0, 0), 2.0), cv2.COLOR_RGB2LAB)
    high, wide = card.mask.shape
    x, y = np.round(places).astype(int).clip([0, 0], [wide - 1, high - 1]).T
    beside = colours[y, x, 1:].astype(float)
    usual = np.median(beside, axis=0)
    far = np.linalg.norm(beside - usual, axis=1)
    other = far > max(OTHER_COLOUR, SCATTER_TIMES * float(np.median(far)))
    steps = np.linalg.norm(np.roll(card.edge, -1, axis=0) - card.edge, axis=1) * card.scale
    long = max((float(steps[run].sum()) for run in _runs(other)), default=0.0)
    if long < LEAST_STRETCH_MM:
        return []
    words = (
        "Along {long} of its edge something else than the ground lies against the card: a hand, a rag, another card? "
        "Move it and take the picture again, or correct those corners."
    )
    return [Sentence(words, {"long": length(long)})]


def _runs(which: np.ndarray) -> list[np.ndarray]:
    """Return the places (indices) of each unbroken run, round the end."""
    if which.all():
        return [np.arange(len(which))]
    turned = np.flatnonzero(~which)[0]
    order = np.roll(np.arange(len(which)), -turned)
    breaks = np.flatnonzero(np.diff(which[order].astype(int))) + 1
    return [run for run in np.split(order, breaks) if which[run[0]]]


def _across(card: Traced) -> list[Sentence]:
    """Return that a line runs across the card, as far as its shorter side nearly."""
    reach = max(2, round(INSIDE_MM / card.scale))
    inner = card.mask.copy()
    for hole in card.holes:
        cv2.fillPoly(inner, [np.round(hole).astype(np.int32)], 0)
    inner = cv2.erode(inner, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1)))
    grey = cv2.GaussianBlur(cv2.cvtColor(card.picture, cv2.COLOR_RGB2GRAY), (0, 0), 2.0)
    edges = np.where(inner > 0, cv2.Canny(grey, 14, 30), 0).astype(np.uint8)
    (_, sides, _) = cv2.minAreaRect(card.edge.astype(np.float32))
    least = LINE_SHARE * min(sides)
    lines = cv2.HoughLinesP(edges, 1, math.pi / 360, 40, minLineLength=least, maxLineGap=0.12 * least)
    if lines is None:
        return []
    longest = max(float(np.hypot(u - x, v - y)) for x, y, u, v in lines.reshape(-1, 4)) * card.scale
    words = (
        "A line {long} long runs across the card. If two cards touch there, part them and take the picture again; "
        "a fold or a pencil line is nothing."
    )
    return [Sentence(words, {"long": length(longest)})]
