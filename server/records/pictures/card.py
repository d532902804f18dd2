"""A card template found in a straightened picture: its edge and its holes, traced to parts of a pixel, mm.

Seed      a place on the card, pointed at by a person; what is like it in colour and lightness, and joined to it, is the card.
Shadow    lightness may fall off slowly over the card: each colour is told against a picture of the light alone (a wide blur).
Edge      every place of the coarse edge is moved along its own normal to where the picture is halfway from card to ground.
"""

import io
import math

import cv2
import numpy as np
from PIL import Image

from engine.facts import facts
from engine.sentences import Sentence
from server.answers import ActionRefused
from server.records.pictures.about_card import Traced, refuse_board, said_of
from server.records.pictures.board import board_in

SEED_MM = 6.0
LEAST_CARD_MM2 = 400.0
LEAST_HOLE_MM = 3.0
MOST_SIDE = 2400  # pixels worked on; finer than this nothing is gained
PROBES = 9
PROBE_PIXELS = 4.0
CUTS = 4
RIM = 0.01  # of the picture's shorter side
CUT_PIXELS = 6
LEAST_CLEAR = 0.6  # of an edge that must be seen as one
GRAINS = (1.0, 0.6, 0.35)
LIKE = (75.0, 14.0, 14.0)  # how unlike the seed the card may be in lightness and in both colours, of 255


@facts(kw_only=False)
class CardSeen:
    """A card: its edge and the edges of its holes, (n, 2) mm, x to the right and y up, from the picture's lower left.

    said    : what is to be looked at before it is believed
    good_to : what its worst place is good to by the picture's own errors, mm; None where they are not known
    """

    edge: np.ndarray
    holes: list[np.ndarray]
    said: list[Sentence]
    good_to: float | None


def find_card(
    jpeg: bytes,
    mm_per_pixel: float,
    seed: tuple[float, float],
    shown: list[list[float]] | None = None,
    errors: list[list[float]] | None = None,
) -> CardSeen:
    """Return the card at a place (pixels) of a straightened picture; raise ActionRefused in one sentence.

    shown, errors : what the picture shows and what it is good to, as Straight has them
    """
    picture = np.asarray(Image.open(io.BytesIO(jpeg)).convert("RGB"))
    high, wide = picture.shape[:2]
    if not (0 <= seed[0] < wide and 0 <= seed[1] < high):
        raise ActionRefused(422, "seed", "Point at the card itself, inside the picture.")
    shrink = min(1.0, MOST_SIDE / max(high, wide))
    if shrink < 1.0:
        picture = cv2.resize(picture, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    scale = mm_per_pixel / shrink
    at = (seed[0] * shrink, seed[1] * shrink)
    beyond = _beyond(picture.shape[:2], None if shown is None else np.array(shown) * shrink)
    if beyond[round(at[1]), round(at[0])]:
        raise ActionRefused(422, "seed", "Point at the card itself, inside the picture.")
    board = board_in(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY))
    refuse_board(board, at)
    seen = _seen(picture, at, SEED_MM / scale, beyond)
    mask, alike = None, False
    for share in GRAINS:
        like = _grown(seen, share)
        # Where all is alike, or with less allowed nothing is, nothing can be cut apart; trying would take longest of all.
        all_of_it = all(_rims(like))
        alike = alike or all_of_it
        if all_of_it or (alike and cv2.countNonZero(like) < cv2.countNonZero(seen.disc) / 2):
            continue
        mask = _mask(picture, seen, like)
        if not _meets(mask, beyond, 2):
            break
    if mask is None:
        raise _too_like()
    outlines, levels = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    outer = [k for k in range(len(outlines)) if levels[0][k][3] < 0]
    mine = next((k for k in outer if cv2.pointPolygonTest(outlines[k], at, False) >= 0), None)
    if mine is None or cv2.contourArea(outlines[mine]) * scale**2 < LEAST_CARD_MM2:
        raise ActionRefused(
            422,
            "no_card",
            "No card is seen there: point at a plain part of it, on a ground of another colour or lightness.",
        )
    if _meets(mask, beyond, _rim(mask.shape) + CUT_PIXELS):
        raise _too_like()
    refuse_board(board, at, mask)
    smooth = cv2.GaussianBlur(picture, (0, 0), 1.0).astype(np.float32)
    edge, clear = _sharpened(smooth, outlines[mine][:, 0, :].astype(float))
    if clear < LEAST_CLEAR:
        raise ActionRefused(
            422, "no_card", "The card is too like what it lies on: lay it on another ground, in even light."
        )
    holes = []
    for k in range(len(outlines)):
        if (
            levels[0][k][3] == mine
            and 2 * math.sqrt(cv2.contourArea(outlines[k]) / math.pi) * scale >= LEAST_HOLE_MM
        ):
            hole, clear = _sharpened(smooth, outlines[k][:, 0, :].astype(float))
            if clear >= LEAST_CLEAR:
                holes.append(hole)
    traced = Traced(picture=picture, scale=scale, mask=mask, edge=edge, holes=holes)
    tall = picture.shape[0]

    def flat(trace: np.ndarray) -> np.ndarray:
        return np.column_stack([(trace[:, 0] + 0.5) * scale, (tall - trace[:, 1] - 0.5) * scale])

    good_to = None if errors is None else _worst(np.array(errors), edge / [wide * shrink, high * shrink])
    return CardSeen(flat(edge), [flat(hole) for hole in holes], said_of(traced), good_to)


def _worst(errors: np.ndarray, shares: np.ndarray) -> float:
    """Return the largest of errors given evenly over a picture (rows, columns), mm, at shares (n, 2) of its width and height."""
    rows, columns = errors.shape
    x, y = (shares * [columns - 1, rows - 1]).astype(np.float32).T
    laid = cv2.remap(
        errors.astype(np.float32), x[None], y[None], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    return float(laid.max())


def _beyond(shape: tuple[int, ...], shown: np.ndarray | None) -> np.ndarray:
    """Return where a picture shows nothing, 255 or 0."""
    if shown is None:
        return np.zeros(shape, np.uint8)
    beyond = np.full(shape, 255, np.uint8)
    cv2.fillPoly(beyond, [np.round(shown).astype(np.int32)], 0)
    return beyond


def _meets(mask: np.ndarray, beyond: np.ndarray, reach: int) -> bool:
    """Return whether a mask comes within so many pixels of the picture's frame, or of where it shows nothing."""
    if any(_rims(mask, reach)):
        return True
    wide = cv2.dilate(beyond, np.ones((2 * reach + 1, 2 * reach + 1), np.uint8))
    return bool((mask & wide).any())


def _too_like() -> ActionRefused:
    return ActionRefused(
        422,
        "no_card",
        "The card runs out of the picture, or is too like what it lies on: lay it on another ground, whole in the picture.",
    )


def _rims(mask: np.ndarray, rim: int = 2) -> list[bool]:
    """Return whether each of a picture's four edges is reached: what comes within `rim` pixels of it."""
    return [bool(edge.any()) for edge in (mask[:rim], mask[-rim:], mask[:, :rim], mask[:, -rim:])]


def _rim(shape: tuple[int, ...]) -> int:
    """Return how wide the rim is that is ground whatever it looks like, px: a card that meets it may go on beyond."""
    return max(2, round(min(shape[:2]) * RIM))


@facts
class _Seen:
    """A picture as small as is worked on, its colours, and the place pointed at: pixels, and a disc of the card, 255 or 0.

    ground : its rim, and what it does not show, 255 or 0
    """

    lab: np.ndarray
    at: tuple[int, int]
    disc: np.ndarray
    ground: np.ndarray


def _seen(picture: np.ndarray, seed: tuple[float, float], radius: float, beyond: np.ndarray) -> _Seen:
    work = min(1.0, 900 / max(picture.shape[:2]))
    small = cv2.resize(picture, None, fx=work, fy=work, interpolation=cv2.INTER_AREA)
    at = (round(seed[0] * work), round(seed[1] * work))
    disc = np.zeros(small.shape[:2], np.uint8)
    cv2.circle(disc, at, max(3, round(radius * work)), 255, -1)
    rim = _rim(disc.shape)
    ground = cv2.resize(beyond, disc.shape[::-1], interpolation=cv2.INTER_NEAREST)
    ground = cv2.dilate(ground, np.ones((2 * rim + 1, 2 * rim + 1), np.uint8))
    ground[:rim], ground[-rim:], ground[:, :rim], ground[:, -rim:] = (255,) * 4
    lab = cv2.cvtColor(cv2.medianBlur(small, 5), cv2.COLOR_RGB2LAB)
    return _Seen(lab=lab, at=at, disc=disc, ground=ground)


def _mask(picture: np.ndarray, seen: _Seen, like: np.ndarray) -> np.ndarray:
    """Return what belongs to the card, 255 or 0, by cutting colours apart (GrabCut), each against the light there.

    like : what probably does, as grown from the seed
    """
    shape, lab, at, disc = picture.shape[:2], seen.lab, seen.at, seen.disc
    marks = np.full(disc.shape, cv2.GC_PR_BGD, np.uint8)
    marks[like > 0] = cv2.GC_PR_FGD
    marks[seen.ground > 0] = cv2.GC_BGD
    marks[disc > 0] = cv2.GC_FGD
    cv2.setRNGSeed(1)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(
        cv2.cvtColor(lab, cv2.COLOR_LAB2BGR), marks, (0, 0, 1, 1), *models, CUTS, cv2.GC_INIT_WITH_MASK
    )
    card: np.ndarray = np.where((marks == cv2.GC_FGD) | (marks == cv2.GC_PR_FGD), 255, 0).astype(np.uint8)
    card = cv2.morphologyEx(card, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, parts = cv2.connectedComponents(card)
    if count > 1 and parts[at[1], at[0]] > 0:
        card = np.where(parts == parts[at[1], at[0]], 255, 0).astype(np.uint8)
    return np.where(cv2.resize(card, shape[::-1], interpolation=cv2.INTER_LINEAR) > 127, 255, 0).astype(
        np.uint8
    )


def _grown(seen: _Seen, share: float) -> np.ndarray:
    """Return what is joined to the seed step by step, each no more unlike its neighbour than the card's own grain.

    share : of that grain, for a card that is much like its ground
    """
    lab = seen.lab
    inside = lab[seen.disc > 0].astype(float)
    grain = np.clip(inside.std(axis=0) * 1.5 + 1.5, 2.0, 8.0) * share
    flooded = np.zeros((lab.shape[0] + 2, lab.shape[1] + 2), np.uint8)
    low = high = tuple(float(one) for one in grain)
    cv2.floodFill(lab.copy(), flooded, seen.at, 0, low, high, 4 | (255 << 8) | cv2.FLOODFILL_MASK_ONLY)
    far = np.abs(lab.astype(float) - inside.mean(axis=0)) <= LIKE
    joined = np.where(far.all(axis=2), flooded[1:-1, 1:-1], 0).astype(np.uint8)
    return cv2.morphologyEx(joined, cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8))


def _sharpened(picture: np.ndarray, edge: np.ndarray) -> tuple[np.ndarray, float]:
    """Return an edge (n, 2) px moved along its normals to where the picture is halfway between both its sides.

    And the share of it at which the two sides differ at all.
    """
    if len(edge) < 12:
        return edge, 0.0
    ahead, behind = np.roll(edge, -4, axis=0), np.roll(edge, 4, axis=0)
    along = ahead - behind
    normal = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(
        np.linalg.norm(along, axis=1, keepdims=True), 1e-9
    )
    steps = np.linspace(-PROBE_PIXELS, PROBE_PIXELS, 4 * PROBES + 1)
    places = edge[:, None] + steps[None, :, None] * normal[:, None]
    seen = cv2.remap(
        picture,
        places[..., 0].astype(np.float32),
        places[..., 1].astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    one, other = seen[:, :3].mean(axis=1), seen[:, -3:].mean(axis=1)
    way = other - one
    size = (way * way).sum(axis=1)
    share = ((seen - one[:, None]) * way[:, None]).sum(axis=2) / np.maximum(size[:, None], 1e-6)
    crossed = share >= 0.5
    first = crossed.argmax(axis=1)
    rows = np.arange(len(edge))
    before = np.maximum(first - 1, 0)
    low, top = share[rows, before], share[rows, first]
    part = np.where(top > low, (0.5 - low) / np.maximum(top - low, 1e-9), 0.0)
    at = steps[before] + part * (steps[1] - steps[0])
    good = (size > 100.0) & crossed.any(axis=1) & (first > 0)
    if good.sum() < 8:
        return edge, float(good.mean())
    # Where the edge is blurred by a shadow or a fleck, its neighbours say where it runs.
    at = np.interp(rows, rows[good], at[good])
    at = _running_median(at, 7)
    return np.asarray(edge + at[:, None] * normal), float(good.mean())


def _running_median(values: np.ndarray, wide: int) -> np.ndarray:
    half = wide // 2
    round_it = np.concatenate([values[-half:], values, values[:half]])
    return np.asarray(np.median(np.lib.stride_tricks.sliding_window_view(round_it, wide), axis=1))
