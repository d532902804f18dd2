"""Coded stickers found in pictures, and roughly where each picture was taken: what the adjustment begins with.

Roughly    from where places are drawn, by OpenCV's solutions of the perspective of points and of squares; which of the two ways
           a small square may lean is settled by all pictures of it together.
"""

from collections.abc import Sequence
from pathlib import Path

import cv2
import numpy as np
from PIL import ExifTags, Image

from engine.document.survey import Survey
from engine.errors import DocumentRefused, Fault
from engine.linkage.vectors import Array
from engine.survey.network import laid_on
from engine.survey.stickers.bundle import Bundle, Start, sticker_of
from engine.survey.stickers.seeing import CORNERS, Pictures, SeenSticker
from engine.telling import Tell, to_nobody

FOCALS = (0.6, 0.75, 0.95, 1.2, 1.5, 1.9, 2.4)  # of a picture's longer side
LEAST_SEEN = 4
ENDINGS = (".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".bmp")
LEAST_KNOWN = 2  # stickers whose places are known already
ALIKE = 0.9  # cosine between two faces that are one
NEAR_SHARE = 0.01  # of the longer side that a corner may be off
ROUGH_SHARE = 0.06  # of the longer side that a place may be off where it is drawn
FILM_MM = 36.0
MOST_PIXELS = 120_000_000
SHORTEST, MOST_MOVED, TWICE = (
    14.0,
    4.0,
    2,
)  # pixels of a side; that a corner may be off at first; how often it is looked for


def family() -> "cv2.aruco.Dictionary":
    """Return the markers of the april36h11 family."""
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_APRILTAG_36h11)


def pictures_in(folder: Path, survey: Survey, tell: Tell = to_nobody) -> Pictures:
    """Return the stickers of every picture of a folder; raise DocumentRefused where one is missing or is no picture.

    Where the survey lists none, every picture that is there is taken by one camera.
    """
    listed = {one.file: one.camera for one in survey.pictures}
    if not folder.is_dir():
        raise DocumentRefused([Fault(str(folder), "is no folder of pictures.")])
    names = list(listed) or sorted(p.name for p in folder.iterdir() if p.suffix.lower() in ENDINGS)
    if not names:
        raise DocumentRefused([Fault(str(folder), f"holds no pictures ({', '.join(ENDINGS)}).")])
    faults: list[Fault] = []
    seen: list[SeenSticker] = []
    sizes: dict[str, tuple[int, int]] = {}
    focals: dict[str, float | None] = {}
    detector = _detector()
    for number, name in enumerate(names):
        tell(number / len(names), f"stickers in picture {number + 1} of {len(names)}")
        camera = listed.get(name, "camera")
        try:
            with Image.open(folder / name) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    faults.append(
                        Fault(name, f"has {opened.width} × {opened.height} pixels, more than is read")
                    )
                    continue
                focal = _focal(opened)
                grey = np.asarray(opened.convert("L"))
        except FileNotFoundError:
            faults.append(Fault(name, f"is not in {folder}; put it there, or take it out of survey.pictures"))
            continue
        except (OSError, ValueError, Image.DecompressionBombError):
            faults.append(Fault(name, "is no picture that can be read; save it again as JPEG or PNG"))
            continue
        size = (grey.shape[1], grey.shape[0])
        if sizes.setdefault(camera, size) != size:
            faults.append(
                Fault(name, f"is {size[0]} × {size[1]} pixels, and others of the camera “{camera}” are {sizes[camera][0]} × {sizes[camera][1]}: name another camera for it")
            )  # fmt: skip
            continue
        if focals.get(camera) is None:
            focals[camera] = focal
        corners, numbers, _ = detector.detectMarkers(grey)
        level = grey.astype(np.float32)
        for its, found in zip(numbers if numbers is not None else [], corners, strict=True):
            fine = edges_crossed(level, found.reshape(4, 2).astype(float))
            if fine is not None:
                seen.append(SeenSticker(picture=number, number=int(np.ravel(its)[0]), corners=fine))
    if faults:
        raise DocumentRefused(faults)
    return Pictures(
        files=tuple(names),
        cameras=tuple(listed.get(name, "camera") for name in names),
        sizes=sizes,
        focals=focals,
        seen=tuple(seen),
    )


def _detector() -> "cv2.aruco.ArucoDetector":
    asked = cv2.aruco.DetectorParameters()
    asked.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_NONE
    asked.minMarkerPerimeterRate = 0.008
    asked.adaptiveThreshWinSizeMin, asked.adaptiveThreshWinSizeMax, asked.adaptiveThreshWinSizeStep = (
        5,
        45,
        20,
    )
    return cv2.aruco.ArucoDetector(family(), asked)


def edges_crossed(level: np.ndarray, corners: Array) -> Array | None:
    """Return the corners (4, 2) of a black square by where the lines along its edges cross, to a tenth of a pixel; None where they do not.

    A corner itself is rounded by every lens; along an edge its place is where the light changes, whatever the blur.
    level : the picture's grey
    """
    fine = corners
    for _ in range(TWICE):
        lines = [_edge_line(level, fine, k) for k in range(4)]
        if any(line is None for line in lines):
            return None
        fine = np.array([_crossing(lines[k - 1], lines[k]) for k in range(4)])  # type: ignore[arg-type]
        if not np.isfinite(fine).all() or np.abs(fine - corners).max() > MOST_MOVED:
            return None
    return fine


def _edge_line(level: np.ndarray, corners: Array, k: int) -> tuple[Array, Array] | None:
    """Return the line along one side: a place on it and its way; None where too little of an edge is there."""
    one, other = corners[k], corners[(k + 1) % 4]
    long = float(np.linalg.norm(other - one))
    if long < SHORTEST:
        return None
    way = (other - one) / long
    out = np.array([way[1], -way[0]])  # corners go clockwise on a screen: this is away from the middle
    if out @ (corners.mean(axis=0) - one) > 0:
        out = -out
    reach = float(np.clip(long / 12, 1.5, 4.0))  # the black border is an eighth of the side
    along = np.linspace(0.12, 0.88, max(12, min(60, int(long * 0.8))))
    across = np.arange(-reach, reach + 1e-9, 0.25)
    at = one + (along * long)[:, None, None] * way + across[None, :, None] * out
    light = cv2.remap(level, at[..., 0].astype(np.float32), at[..., 1].astype(np.float32), cv2.INTER_CUBIC)
    rise = np.maximum(np.diff(light, axis=1), 0.0)
    middle = (across[:-1] + across[1:]) / 2
    rise = np.where(rise > 0.25 * rise.max(axis=1, keepdims=True), rise, 0.0)
    total = rise.sum(axis=1)
    strong = total > 0.3 * np.median(total)
    if strong.sum() < 8:
        return None
    off = (rise * middle).sum(axis=1) / np.maximum(total, 1e-9)
    x, y = (along * long)[strong], off[strong]
    for _ in range(3):
        slope, height = np.polyfit(x, y, 1)
        left = np.abs(y - slope * x - height)
        keep = left <= max(2.5 * float(np.median(left)), 0.05)
        if keep.all() or keep.sum() < 8:
            break
        x, y = x[keep], y[keep]
    return one + height * out, way + slope * out


def _crossing(one: tuple[Array, Array], other: tuple[Array, Array]) -> Array:
    """Return where two lines cross."""
    (p, u), (q, v) = one, other
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 1e-6:
        return np.array([np.nan, np.nan])
    share = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    return np.asarray(p + share * u, dtype=float)


def _focal(picture: Image.Image) -> float | None:
    """Return a picture's focal length by its EXIF, pixels; None where it does not say."""
    exif = picture.getexif().get_ifd(ExifTags.IFD.Exif)
    film = exif.get(ExifTags.Base.FocalLengthIn35mmFilm)
    try:
        value = float(film) if film else 0.0
    except (TypeError, ValueError):
        value = 0.0
    return value / FILM_MM * max(picture.size) if value > 5 else None


def start_of(survey: Survey, drawn: dict[str, list[float]], pictures: Pictures) -> Start:
    """Return roughly where every picture was taken and how every sticker lies; those that nothing tells are left out."""
    known = survey.stickers.places
    seen = [one for one in pictures.seen if str(one.number) in known]
    focals: dict[str, float] = {}
    poses: dict[int, tuple[Array, Array]] = {}
    for camera, size in pictures.sizes.items():
        mine = [k for k, name in enumerate(pictures.cameras) if name == camera]
        given = survey.cameras.get(camera)
        said = given.focal if given is not None else pictures.focals.get(camera)
        tries = [said] if said else [share * max(size) for share in FOCALS]
        best, least = {}, np.inf
        for focal in tries:
            found = {
                k: pose for k in mine if (pose := _pose(survey, drawn, seen, k, focal, size)) is not None
            }
            misfit = sum(min(off, 1.0) for _, _, off in found.values()) + len(mine) - len(found)
            if misfit < least:
                best, least, focals[camera] = found, misfit, focal
        poses |= {k: (turn, shift) for k, (turn, shift, _) in best.items()}
    lie = {
        number: turn
        for number in sorted({one.number for one in seen})
        if (turn := _lie(survey, drawn, [one for one in seen if one.number == number and one.picture in poses], poses, pictures, focals)) is not None
    }  # fmt: skip
    return Start(
        turns={k: turn for k, (turn, _) in poses.items()},
        shifts={k: shift for k, (_, shift) in poses.items()},
        lie=lie,
        focals=focals,
    )


def start_by_chain(
    survey: Survey, drawn: dict[str, list[float]], names: Sequence[str], pictures: Pictures
) -> Start | None:
    """Return a beginning from the stickers alone, where the drawing is too rough to begin with; None where they do not hang together.

    From the picture that shows most: its stickers by their squares, then picture after picture by those known already; the
    whole is then laid on the drawing as well as it goes.
    """
    known = [one for one in pictures.seen if str(one.number) in survey.stickers.places]
    if not known:
        return None
    best: tuple[int, float, Start] | None = None
    for share in FOCALS:
        focals = {}
        for name, size in pictures.sizes.items():
            given = survey.cameras.get(name)
            focals[name] = (given.focal if given is not None else pictures.focals.get(name)) or share * max(
                size
            )
        found = _chained(survey, known, pictures, focals)
        if found is not None:
            turns, shifts, lie, spots, misfit = found
            start = _laid(survey, drawn, names, turns, shifts, lie, spots, focals)
            if best is None or (len(turns), -misfit) > (best[0], -best[1]):
                best = (len(turns), misfit, start)
    return None if best is None else best[2]


Chain = tuple[dict[int, Array], dict[int, Array], dict[int, Array], dict[int, Array], float]


def _chained(
    survey: Survey, seen: Sequence[SeenSticker], pictures: Pictures, focals: dict[str, float]
) -> Chain | None:
    """Return turns and shifts of pictures, ways and middles of stickers, in the first picture's own axes; the median misfit, pixels."""
    shots = sorted({one.picture for one in seen})
    first = max(shots, key=lambda k: sum(one.picture == k for one in seen))
    turns, shifts = {first: np.eye(3)}, {first: np.zeros(3)}
    lie: dict[int, Array] = {}
    spots: dict[int, Array] = {}
    off: list[float] = []

    def learn(picture: int) -> None:
        name = pictures.cameras[picture]
        matrix = _matrix(focals[name], pictures.sizes[name])
        for one in seen:
            if one.picture != picture or one.number in spots:
                continue
            side = sticker_of(survey, one.number)[1]
            _, omegas, moves, errors = cv2.solvePnPGeneric(
                CORNERS * side, one.corners, matrix, None, flags=cv2.SOLVEPNP_IPPE_SQUARE
            )
            least = int(np.argmin([float(np.ravel(error)[0]) for error in errors]))
            turn = np.asarray(cv2.Rodrigues(omegas[least])[0], dtype=float)
            lie[one.number] = turns[picture].T @ turn
            spots[one.number] = turns[picture].T @ (
                np.asarray(moves[least], dtype=float).ravel() - shifts[picture]
            )

    learn(first)
    while len(turns) < len(shots):
        could = {
            k: [one for one in seen if one.picture == k and one.number in spots]
            for k in shots
            if k not in turns
        }
        following = max(could, key=lambda k: len(could[k]))
        mine = could[following]
        if len(mine) < LEAST_KNOWN:
            break
        name = pictures.cameras[following]
        corners = [
            CORNERS * sticker_of(survey, one.number)[1] @ lie[one.number].T + spots[one.number]
            for one in mine
        ]
        pixels = np.concatenate([one.corners for one in mine])
        ok, omega, shift, _ = cv2.solvePnPRansac(
            np.concatenate(corners), pixels, _matrix(focals[name], pictures.sizes[name]), None,
            flags=cv2.SOLVEPNP_SQPNP, reprojectionError=NEAR_SHARE * max(pictures.sizes[name]), iterationsCount=200,
        )  # fmt: skip
        if not ok:
            shots.remove(following)
            continue
        turns[following] = np.asarray(cv2.Rodrigues(omega)[0], dtype=float)
        shifts[following] = np.asarray(shift, dtype=float).ravel()
        would = np.concatenate(corners) @ turns[following].T + shifts[following]
        flat = (
            would[:, :2] / np.maximum(would[:, 2:], 1.0) * focals[name] + np.array(pictures.sizes[name]) / 2
        )
        off += list(np.linalg.norm(flat - pixels, axis=1))
        learn(following)
    return (turns, shifts, lie, spots, float(np.median(off)) if off else 0.0) if len(turns) > 1 else None


def _laid(
    survey: Survey,
    drawn: dict[str, list[float]],
    names: Sequence[str],
    turns: dict[int, Array],
    shifts: dict[int, Array],
    lie: dict[int, Array],
    spots: dict[int, Array],
    focals: dict[str, float],
) -> Start:
    """Return a chain turned and shifted onto the drawing as well as it goes ."""
    numbers = sorted(spots)
    mine = np.array([spots[number] for number in numbers])
    there = np.array([drawn[sticker_of(survey, number)[0]] for number in numbers], dtype=float)
    about, to = np.median(mine, axis=0), np.median(there, axis=0)
    turn = laid_on(mine - about, there - to)
    move = to - turn @ about
    at = {name: np.array(drawn[name], dtype=float) for name in names}
    for number in numbers:
        place, _, off = sticker_of(survey, number)
        at[place] = turn @ spots[number] + move - off * (turn @ lie[number])[:, 2]
    return Start(
        turns={k: its @ turn.T for k, its in turns.items()},
        shifts={k: shifts[k] - turns[k] @ turn.T @ move for k in turns},
        lie={number: turn @ its for number, its in lie.items()},
        focals=focals,
        spots=np.array([at[name] for name in names]),
    )


def start_again(survey: Survey, found: Bundle, pictures: Pictures) -> Start:
    """Return a better beginning, from an adjustment: pictures that show two known stickers or more, and each sticker the way
    round that all pictures like best."""
    network = found.network
    spots = {name: list(found.spots[k]) for k, name in enumerate(network.names)}
    known = survey.stickers.places
    seen = [one for one in pictures.seen if str(one.number) in known]
    focals = {name: float(camera[0]) for name, (camera, _) in found.cameras.items()}
    poses = {k: (found.turns[k], found.shifts[k]) for k in found.rms}
    for picture, name in enumerate(pictures.cameras):
        mine = [one for one in seen if one.picture == picture and one.number in found.lie]
        if picture not in poses and len(mine) >= LEAST_KNOWN and name in focals:
            pose = _pose_by_corners(survey, found, mine, focals[name], pictures.sizes[name])
            if pose is not None:
                poses[picture] = pose
    lie = {}
    for number in sorted({one.number for one in seen}):
        mine = [one for one in seen if one.number == number and one.picture in poses]
        turn = _lie(survey, spots, mine, poses, pictures, focals)
        if turn is not None:
            own = found.lie.get(number)
            lie[number] = own if own is not None and own[:, 2] @ turn[:, 2] > ALIKE else turn
    return Start(
        turns={k: turn for k, (turn, _) in poses.items()},
        shifts={k: shift for k, (_, shift) in poses.items()},
        lie=lie,
        focals=focals,
        spots=np.array([spots[name] for name in network.names]),
    )


def _pose_by_corners(
    survey: Survey, found: Bundle, mine: Sequence[SeenSticker], focal: float, size: tuple[int, int]
) -> tuple[Array, Array] | None:
    """Return where a picture was taken from the corners of stickers whose places and ways are known; None where it does not fit."""
    corners, pixels = [], []
    for one in mine:
        place, side, off = sticker_of(survey, one.number)
        local = CORNERS * side + np.array([0.0, 0.0, off])
        corners.append(local @ found.lie[one.number].T + found.spots[found.network.index[place]])
        pixels.append(one.corners)
    try:
        ok, omega, shift, held = cv2.solvePnPRansac(
            np.concatenate(corners), np.concatenate(pixels), _matrix(focal, size), None,
            flags=cv2.SOLVEPNP_SQPNP, reprojectionError=NEAR_SHARE * max(size), iterationsCount=200,
        )  # fmt: skip
    except cv2.error:
        return None
    if not ok or held is None or len(held) < 4 * LEAST_KNOWN:
        return None
    return np.asarray(cv2.Rodrigues(omega)[0], dtype=float), np.asarray(shift, dtype=float).ravel()


def _pose(
    survey: Survey,
    drawn: dict[str, list[float]],
    seen: Sequence[SeenSticker],
    picture: int,
    focal: float,
    size: tuple[int, int],
) -> tuple[Array, Array, float] | None:
    mine = [one for one in seen if one.picture == picture]
    if len(mine) < LEAST_SEEN:
        return None
    spots = np.array([drawn[sticker_of(survey, one.number)[0]] for one in mine], dtype=float)
    middles = np.array([one.corners.mean(axis=0) for one in mine])
    matrix = np.array([[focal, 0, size[0] / 2], [0, focal, size[1] / 2], [0, 0, 1]])
    cv2.setRNGSeed(picture + 1)
    try:
        ok, omega, shift, _ = cv2.solvePnPRansac(
            spots,
            middles,
            matrix,
            None,
            flags=cv2.SOLVEPNP_SQPNP,
            reprojectionError=ROUGH_SHARE * max(size),
            iterationsCount=300,
        )
        if not ok:
            return None
        omega, shift = cv2.solvePnPRefineLM(spots, middles, matrix, None, omega, shift)
    except cv2.error:
        return None
    turn: Array = np.asarray(cv2.Rodrigues(omega)[0], dtype=float)
    at = spots @ turn.T + shift.ravel()
    if (at[:, 2] <= 0).any():
        return None
    off = np.linalg.norm(at[:, :2] / at[:, 2:] * focal + np.array(size) / 2 - middles, axis=1)
    return turn, np.asarray(shift, dtype=float).ravel(), float(np.median(off)) / (ROUGH_SHARE * max(size))


def _lie(
    survey: Survey,
    drawn: dict[str, list[float]],
    seen: Sequence[SeenSticker],
    poses: dict[int, tuple[Array, Array]],
    pictures: Pictures,
    focals: dict[str, float],
) -> Array | None:
    """Return how a sticker lies: of the two ways that each picture leaves, the one that all of them like best."""
    if not seen:
        return None
    place, side, _ = sticker_of(survey, seen[0].number)
    could: list[Array] = []
    for one in seen:
        name = pictures.cameras[one.picture]
        matrix = _matrix(focals[name], pictures.sizes[name])
        _, omegas, _, _ = cv2.solvePnPGeneric(
            CORNERS * side, one.corners, matrix, None, flags=cv2.SOLVEPNP_IPPE_SQUARE
        )
        could += [poses[one.picture][0].T @ cv2.Rodrigues(omega)[0] for omega in omegas]

    def misfit(lie: Array) -> float:
        total = 0.0
        for one in seen:
            turn, shift = poses[one.picture]
            name = pictures.cameras[one.picture]
            at = (CORNERS * side @ lie.T + np.array(drawn[place])) @ turn.T + shift
            would = at[:, :2] / np.maximum(at[:, 2:], 1.0) * focals[name]
            # Each about its own middle: where the sticker is, is only roughly known.
            off = (would - would.mean(axis=0)) - (one.corners - one.corners.mean(axis=0))
            total += min(float(np.abs(off).max()), 20.0)
        return total

    return min(could, key=misfit)


def _matrix(focal: float, size: tuple[int, int]) -> Array:
    return np.array([[focal, 0, size[0] / 2], [0, focal, size[1] / 2], [0, 0, 1]])
