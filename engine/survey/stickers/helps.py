"""Which picture would help most: tried where one could stand, by what it would show, in the adjustment's own equations.

Could stand   before each of the stickers that are known least, on the side it faces, straight before it or a little beside, near
              enough for its code to be read.
Would show    stickers that face it within its frame, each with the corners' own error; its own pose is as unknown as any other's.
Helps         by the mean variance that all places are left with.
"""

import itertools

import numpy as np

from engine.document.survey import Survey
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.stickers.bundle import Bundle, Start, _gauge, _normal, _System
from engine.survey.stickers.seeing import CORNERS, Pictures, SeenSticker, projected

LEAST_KNOWN = 6  # stickers before which one could stand
LEAST_SHOWN = 4
READ_PIXELS, USUAL_PIXELS = 30.0, 45.0  # of a sticker's side, for its code to be read, and to be aimed for
FURTHEST_MM, LOWEST_MM = 2500.0, 150.0
FACING = 0.35  # cosine, beyond which a sticker is seen too flat
MARGIN = 0.02  # of the frame
BESIDE = (-0.6, 0.0, 0.6)
NOTHING = 1e-9  # beside what any sticker says of a pose
WORTH = 0.9  # of the standard error that is left: less is not worth the walk
SIDES = (("ahead of it", "behind it"), ("its left", "its right"), ("above", "below"))


@facts
class Helps:
    """A picture to take: from where (3,) mm, towards which sticker, what it shows, and all places' rms standard error before and after, mm."""

    at: Array
    towards: int
    shows: tuple[int, ...]
    now: float
    then: float


def next_picture(survey: Survey, pictures: Pictures, found: Bundle) -> Helps | None:
    """Return the picture that would help most; None where none that could be taken is worth it."""
    shot, camera = len(pictures.files), pictures.cameras[next(iter(found.rms))]
    system = _with_one_more(survey, pictures, found, shot, camera)
    gauge = _gauge(system)
    places = np.concatenate([3 * system.network.index[name] + np.arange(3) for name in found.sigma])
    # The pose of a picture that shows nothing yet is held by nothing: a little on the diagonal, and it says nothing.
    normal = _normal(system, found.used, gauge, found.pixel, robust=False)[0]
    normal = normal + np.diag(np.where(np.diag(normal) > 0, 1e-12 * np.diag(normal), NOTHING))

    def left(more: Array) -> float:
        return float(np.sqrt(np.diag(np.linalg.inv(normal + more))[places].mean()))

    now = left(np.zeros_like(normal))
    best: Helps | None = None
    for towards, eye, (turn, shift) in _could_stand(system, found, camera):
        system.turns[shot], system.shifts[shot] = turn, shift
        shown = _shown(system, found, shot, eye)
        if len(shown) < LEAST_SHOWN:
            continue
        slopes = system.images(shown)[1] / found.pixel
        then = left(slopes.T @ slopes)
        if best is None or then < best.then:
            numbers = tuple(sorted(one.number for one in shown))
            best = Helps(at=eye, towards=towards, shows=numbers, now=now, then=then)
    return best if best is not None and best.then < WORTH * now else None


def said_of(helps: Helps, at: Array) -> str:
    """Return it in words; `at` : where the sticker is that it looks at, (3,) mm."""
    off = helps.at - at
    # What is a third of the way or more is said.
    ways = [
        SIDES[axis][0 if off[axis] > 0 else 1]
        for axis in range(3)
        if abs(off[axis]) > np.linalg.norm(off) / 3
    ]
    shows = ", ".join(map(str, helps.shows[:-1])) + f" and {helps.shows[-1]}"
    return (
        f"One more picture would help most from {' and '.join(ways)}, {np.linalg.norm(off) / 1000:.1f} m from sticker {helps.towards}: "
        f"it shows {shows}, and leaves the places {helps.then:.2f} mm of standard error where they have {helps.now:.2f} mm."
    )


def _with_one_more(survey: Survey, pictures: Pictures, found: Bundle, shot: int, camera: str) -> _System:
    """Return the system as it was adjusted, with a picture more that shows nothing yet."""
    more = Pictures(
        files=(*pictures.files, ""),
        cameras=(*pictures.cameras, camera),
        sizes=pictures.sizes,
        focals=pictures.focals,
        seen=pictures.seen,
    )
    system = _System(
        survey,
        found.network,
        more,
        Start(
            turns={**found.turns, shot: np.eye(3)},
            shifts={**found.shifts, shot: np.array([0.0, 0.0, 1000.0])},
            lie=found.lie,
            focals={name: float(own[0]) for name, (own, _) in found.cameras.items()},
            spots=found.spots,
        ),
    )
    system.cameras = {name: own for name, (own, _) in found.cameras.items()}
    system.scale = found.scale
    return system


def _could_stand(system: _System, found: Bundle, camera: str) -> list[tuple[int, Array, tuple[Array, Array]]]:
    """Return where one could stand: the sticker that is looked at, the eye (3,), and the picture's turn and shift."""
    focal = float(system.cameras[camera][0])
    worst = {
        number: float(np.linalg.norm(found.sigma[place]))
        for number, (place, _, _) in system.stickers.items()
        if place in found.sigma
    }
    stands = []
    for number in sorted(worst, key=lambda one: -worst[one])[:LEAST_KNOWN]:
        place, size, _ = system.stickers[number]
        spot, lie = system.spots[system.network.index[place]], system.lie[number]
        far = min(focal * size / USUAL_PIXELS, FURTHEST_MM)
        for across, up in itertools.product(BESIDE, BESIDE):
            way = lie @ np.array([across, up, 1.0])
            eye = spot + far * way / np.linalg.norm(way)
            if eye[2] >= LOWEST_MM:
                stands.append((number, eye, _looking(eye, spot)))
    return stands


def _looking(eye: Array, at: Array) -> tuple[Array, Array]:
    """Return the turn and shift of a camera that is held upright and looks from one place at another."""
    way = (at - eye) / np.linalg.norm(at - eye)
    right = np.cross(way, [0.0, 0.0, 1.0])
    if np.linalg.norm(right) < 1e-3:  # straight down: its upper edge ahead
        right = np.cross(way, [1.0, 0.0, 0.0])
    right = right / np.linalg.norm(right)
    turn = np.array([right, np.cross(way, right), way])
    return turn, -turn @ eye


def _shown(system: _System, found: Bundle, shot: int, eye: Array) -> list[SeenSticker]:
    """Return what a picture would show of the stickers that are known, each corner where it would be."""
    turn, shift = system.turns[shot], system.shifts[shot]
    name = system.pictures.cameras[shot]
    camera, frame = system.cameras[name], np.array(system.pictures.sizes[name], dtype=float)
    shown = []
    for number, (place, size, off) in system.stickers.items():
        if place not in found.sigma:
            continue
        lie = system.lie[number]
        middle = system.spots[system.network.index[place]] + off * lie[:, 2]
        towards = (eye - middle) / np.linalg.norm(eye - middle)
        inside = (CORNERS * size @ lie.T + middle) @ turn.T + shift
        if lie[:, 2] @ towards < FACING or (inside[:, 2] < size).any():
            continue
        pixels = projected(inside, np.repeat(camera[None], 4, axis=0))[0]
        side = float(np.linalg.norm(pixels - np.roll(pixels, 1, axis=0), axis=1).min())
        within = (pixels > MARGIN * frame).all() and (pixels < (1 - MARGIN) * frame).all()
        if within and side >= READ_PIXELS:
            shown.append(SeenSticker(picture=shot, number=number, corners=pixels))
    return shown
