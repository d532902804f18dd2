"""Stickers, pictures, cameras and every other reading adjusted together: one bundle adjustment.

Unknown    places; how each sticker lies; where each picture was taken; each camera's focal length, middle and two radial terms
           where they are not given; one scale of all prints.
Scale      stickers are as large as they are said to be, to half a percent, all by the same share: light bleeds over a black edge.
Slip       a sticker in a picture that does not fit the others: read wrongly, moved between pictures, or curled. It is left out
           and named; where two or more pictures agree where it stood instead, by how much.
Drawn      where no other reading says where the whole of it stands, it is laid on the drawing as well as it goes.
"""

from collections.abc import Sequence

import numpy as np

from engine.document.survey import Sticker, Survey
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.network import Network, Seen
from engine.survey.stickers.seeing import CORNERS, Pictures, SeenSticker, crossing, projected, turned
from engine.telling import Tell, to_nobody

SIZE_SHARE = 0.005  # one standard error of how large all prints are
LEAST_PIXELS = 0.05  # nobody finds a corner finer than this
STEPS, ROUNDS, ROUGH_ROUNDS = 60, 6, 4
ENOUGH = 1e-6  # of the misfit that a step still wins
SLIP_W = 6.0  # times the corners' own error that a sticker's worst corner may be off
SLIP_PIXELS = 1.5
PULLS = 2.5  # times the corners' own error, beyond which a misfit pulls by its size alone
FOCAL_SIGMA, CENTRE_SHARE, RADIAL_SIGMA = 1.0, 0.05, 0.3  # loosely: what a camera may be
READING_W = 3.0  # beyond it a reading pulls no more than that
GAUGE = 1e-3  # mm that the places' mean may be off where it is laid on the drawing
LITTLE = 1e-4
NOTHING = 1e-6  # mm that a reading changes by, of a mm or a radian
STIFF_STEPS, SURELY = 25, 0.6
# As drawn, then by sixths of a turn round about upright, and a sixth of a turn about the other axes either way.
TURNED_FIRST = np.pi / 3 * np.array(
    [[0, 0, 0], [0, 0, 1], [0, 0, -1], [0, 0, 2], [0, 0, -2], [0, 0, 3], [1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0]],
    dtype=float,
)  # fmt: skip


@facts
class Start:
    """Where the adjustment begins: turns and shifts of the pictures, turns of the stickers, focal lengths by camera;
    places (n, 3) mm in the network's order, as drawn if nothing better is known."""

    turns: dict[int, Array]
    shifts: dict[int, Array]
    lie: dict[int, Array]
    focals: dict[str, float]
    spots: Array | None = None


@facts
class Stood:
    """A sticker that stood elsewhere, or was read wrongly: in which pictures; by mm, and where, (3,), where they agree."""

    number: int
    pictures: tuple[int, ...]
    by: float | None
    at: Array | None


@facts
class Bundle:
    """The answer. places (n, 3) mm in the network's order; lie by sticker (3, 3); pictures' turns and shifts by number.

    cameras : by name, focal, centre across and down, k1, k2 (5,), and the focal length's standard error
    rms     : by picture, pixels; pixel the corners' own error, pixels; scale of all prints over what they are said to be
    sigma   : by place of a sticker, (3,) mm, about the drawing where it is laid on it (`laid`)
    seen    : what goes into the survey's own equations
    """

    network: Network
    spots: Array
    lie: dict[int, Array]
    turns: dict[int, Array]
    shifts: dict[int, Array]
    cameras: dict[str, tuple[Array, float]]
    rms: dict[int, float]
    pixel: float
    scale: float
    scale_sigma: float
    sigma: dict[str, Array]
    laid: bool
    slips: tuple[Stood, ...]
    converged: bool
    seen: Seen
    used: tuple[SeenSticker, ...]


def sticker_of(survey: Survey, number: int) -> tuple[str, float, float]:
    """Return a sticker's place, its size and how far its middle stands off, mm."""
    its = survey.stickers.places[str(number)]
    if isinstance(its, Sticker):
        return its.place, its.size or survey.stickers.size, its.stands_off
    return its, survey.stickers.size, 0.0


class _System:
    """The unknowns laid end to end, and what they would show."""

    def __init__(self, survey: Survey, network: Network, pictures: Pictures, start: Start) -> None:
        self.survey, self.network, self.pictures = survey, network, pictures
        self.shots = [k for k in sorted(start.turns)]
        self.numbers = sorted(start.lie)
        self.names = sorted({pictures.cameras[k] for k in self.shots})
        self.stickers = {number: sticker_of(survey, number) for number in self.numbers}
        self.spots = network.start.copy() if start.spots is None else start.spots.copy()
        self.lie = dict(start.lie)
        self.turns, self.shifts = dict(start.turns), dict(start.shifts)
        self.cameras = {name: self._camera(name, start.focals[name]) for name in self.names}
        self.scale = 1.0
        n = 3 * len(network.names)
        self.places = n
        self.at_lie = {number: n + 3 * k for k, number in enumerate(self.numbers)}
        n += 3 * len(self.numbers)
        self.at_shot = {shot: n + 6 * k for k, shot in enumerate(self.shots)}
        n += 6 * len(self.shots)
        self.at_camera = {name: n + 5 * k for k, name in enumerate(self.names)}
        n += 5 * len(self.names)
        self.at_scale = n
        self.columns = n + 1

    def _camera(self, name: str, focal: float) -> Array:
        given, (wide, tall) = self.survey.cameras.get(name), self.pictures.sizes[name]
        if given is None:
            return np.array([focal, wide / 2, tall / 2, 0.0, 0.0])
        centre = given.centre or [wide / 2, tall / 2]
        return np.array([given.focal, *centre, *given.distortion])

    def images(self, seen: Sequence[SeenSticker]) -> tuple[Array, Array]:
        """Return what is seen less what would be, (stickers, 4, 2) pixels, and the slopes of the latter (8·stickers, columns)."""
        places, sizes, off = zip(*(self.stickers[one.number] for one in seen), strict=True)
        index = np.array([self.network.index[place] for place in places])
        lie = np.array([self.lie[one.number] for one in seen])
        turn = np.array([self.turns[one.picture] for one in seen])
        shift = np.array([self.shifts[one.picture] for one in seen])
        local = CORNERS[None] * np.array(sizes)[:, None, None] * self.scale
        lifted = local + np.array([0.0, 0.0, 1.0]) * np.array(off)[:, None, None]
        about = np.einsum("sij,skj->ski", lie, lifted)
        world = self.spots[index][:, None, :] + about
        inside = np.einsum("sij,skj->ski", turn, world) + shift[:, None, :]
        inside[..., 2] = np.maximum(inside[..., 2], 1.0)
        cameras = np.array([self.cameras[self.pictures.cameras[one.picture]] for one in seen])
        many = len(seen)
        would, by_point, by_camera = projected(inside.reshape(-1, 3), np.repeat(cameras, 4, axis=0))
        left = np.array([one.corners for one in seen]) - would.reshape(many, 4, 2)
        by_point = by_point.reshape(many, 4, 2, 3)
        by_world = by_point @ turn[:, None]
        slopes = np.zeros((many, 4, 2, self.columns))
        rows = np.arange(many)
        by_lie = by_world @ -crossing(about)
        by_turn = by_point @ -crossing(np.einsum("sij,skj->ski", turn, world))
        by_size = np.einsum("skij,skj->ski", by_world, np.einsum("sij,skj->ski", lie, local) / self.scale)
        at_lie = np.array([self.at_lie[one.number] for one in seen])
        at_shot = np.array([self.at_shot[one.picture] for one in seen])
        at_camera = np.array([self.at_camera[self.pictures.cameras[one.picture]] for one in seen])
        for axis in range(3):
            slopes[rows, :, :, 3 * index + axis] = by_world[..., axis]
            slopes[rows, :, :, at_lie + axis] = by_lie[..., axis]
            slopes[rows, :, :, at_shot + axis] = by_turn[..., axis]
            slopes[rows, :, :, at_shot + 3 + axis] = by_point[..., axis]
        for k in range(5):
            slopes[rows, :, :, at_camera + k] = by_camera.reshape(many, 4, 2, 5)[..., k]
        slopes[:, :, :, self.at_scale] = by_size
        return left, slopes.reshape(8 * many, self.columns)

    def besides(self) -> tuple[Array, Array]:
        """Return the rows of all that is not in a picture, weighted: readings, what a camera may be, how large prints are."""
        network = self.network
        unknowns = network.begin()
        unknowns[: self.places] = self.spots.ravel()
        left, slopes = network.left(unknowns)
        weight = 1 / network.sigma
        # Readings that do not fit pull no more than a little: what is wrong with them is looked for afterwards.
        w = np.abs(left) * weight
        weight = weight * np.sqrt(np.where(w > READING_W, READING_W / np.maximum(w, 1e-12), 1.0))
        taped = np.zeros((len(left), self.columns))
        taped[:, : self.places] = slopes[:, : self.places]
        rows, off = [taped * weight[:, None]], [left * weight]
        for name, at in self.at_camera.items():
            own, given, (wide, tall) = (
                self.cameras[name],
                self.survey.cameras.get(name),
                self.pictures.sizes[name],
            )
            size = max(wide, tall)
            sigma = np.array(
                [FOCAL_SIGMA * size, CENTRE_SHARE * size, CENTRE_SHARE * size, RADIAL_SIGMA, RADIAL_SIGMA]
            )
            wanted = np.array([own[0], wide / 2, tall / 2, 0.0, 0.0])
            if given is not None:
                sigma, wanted = np.full(5, 1e-6), own
            its = np.zeros((5, self.columns))
            its[np.arange(5), at + np.arange(5)] = 1 / sigma
            rows.append(its)
            off.append((wanted - own) / sigma)
        print_row = np.zeros((1, self.columns))
        print_row[0, self.at_scale] = 1 / SIZE_SHARE
        rows.append(print_row)
        off.append(np.array([(1.0 - self.scale) / SIZE_SHARE]))
        return np.concatenate(off), np.concatenate(rows)

    def moved(self, step: Array) -> "_System":
        """Return the system after a step."""
        its = object.__new__(_System)
        its.__dict__ = dict(self.__dict__)
        its.spots = self.spots + step[: self.places].reshape(-1, 3)
        its.lie = {n: turned(step[at : at + 3]) @ self.lie[n] for n, at in self.at_lie.items()}
        its.turns = {k: turned(step[at : at + 3]) @ self.turns[k] for k, at in self.at_shot.items()}
        its.shifts = {k: self.shifts[k] + step[at + 3 : at + 6] for k, at in self.at_shot.items()}
        its.cameras = {name: self.cameras[name] + step[at : at + 5] for name, at in self.at_camera.items()}
        its.scale = self.scale + float(step[self.at_scale])
        return its


def bundle(
    survey: Survey, network: Network, pictures: Pictures, start: Start, tell: Tell = to_nobody
) -> Bundle:
    """Return all of it adjusted. network : the survey's own, with the stickers' places among its names."""
    system = _System(survey, network, pictures, start)
    every = [one for one in pictures.seen if one.picture in start.turns and one.number in start.lie]
    gauge = _gauge(system)
    system = _stood_by_readings(system)
    for number in range(ROUGH_ROUNDS):
        # What is begun with is rough: misfits pull by their size, not its square, and the fit grows finer round by round.
        tell(0.6 * number / ROUGH_ROUNDS, "places, pictures and cameras together")
        left = np.linalg.norm(system.images(every)[0], axis=2)
        system, converged = _adjusted(system, every, gauge, _pixel(left, every, every), robust=True)
    used, out = list(every), list[SeenSticker]()
    for number in range(ROUNDS):
        tell(0.6 + 0.4 * number / ROUNDS, "what does not fit")
        left = np.linalg.norm(system.images(every)[0], axis=2)
        pixel = _pixel(left, every, used)
        limit = max(SLIP_W * pixel, SLIP_PIXELS)
        fits = left.max(axis=1) <= limit
        keep = [one for one, fit in zip(every, fits, strict=True) if fit]
        out = [one for one, fit in zip(every, fits, strict=True) if not fit]
        if number and [id(one) for one in keep] == [id(one) for one in used]:
            break
        used = keep
        system, converged = _adjusted(system, used, gauge, pixel, robust=False)
    return _told(system, used, out, gauge, converged)


def _stood_by_readings(system: _System) -> _System:
    """Return the whole turned and shifted, stiff as it is, to where most readings agree: a drawing may be turned far from it.

    Least sum of weighted residuals themselves (reweighted least squares), from as drawn; where twice as many readings as there are
    ways to move check it, also turned some ways about the middle, and taken if they agree far better.
    """
    if not system.network.rows:
        return system
    middle = system.spots.mean(axis=0)
    best, least = np.eye(4), np.inf
    for omega in TURNED_FIRST if system.network.rows >= 2 * 6 else TURNED_FIRST[:1]:
        motion = np.eye(4)
        motion[:3, :3] = turned(omega)
        motion[:3, 3] = middle - motion[:3, :3] @ middle
        for _ in range(STIFF_STEPS):
            left, slopes = _read_less_would(system, motion)
            share = np.sqrt(np.maximum(np.abs(left), 1.0))
            u, sizes, ways = np.linalg.svd(slopes / share[:, None], full_matrices=False)
            # Tapes between places say nothing of where the whole stands: what is left of that is rounding, and no way to go.
            tells = sizes > NOTHING / system.network.sigma.max()
            step = ways[tells].T @ ((u[:, tells].T @ (left / share)) / sizes[tells])
            more = np.eye(4)
            more[:3, :3] = turned(np.asarray(step[3:], dtype=float))
            more[:3, 3] = step[:3] + middle - more[:3, :3] @ middle
            motion = more @ motion
        misfit = float(np.abs(_read_less_would(system, motion)[0]).sum())
        if misfit < SURELY * least:
            best, least = motion, misfit
    turn, move = best[:3, :3], best[:3, 3]
    its = system.moved(np.zeros(system.columns))
    its.spots = system.spots @ turn.T + move
    its.lie = {n: turn @ lie for n, lie in system.lie.items()}
    its.turns = {k: way @ turn.T for k, way in system.turns.items()}
    its.shifts = {k: system.shifts[k] - its.turns[k] @ move for k in system.turns}
    return its


def _read_less_would(system: _System, motion: Array) -> tuple[Array, Array]:
    """Return the readings' weighted misfit after a stiff motion, (rows,), and its slopes by moving and turning it on, (rows, 6)."""
    network = system.network
    spots = system.spots @ motion[:3, :3].T + motion[:3, 3]
    unknowns = network.begin()
    unknowns[: system.places] = spots.ravel()
    left, slopes = network.left(unknowns)
    modes = np.zeros((system.places, 6))
    modes[:, :3] = np.tile(np.eye(3), (len(spots), 1))
    modes[:, 3:] = -crossing(spots - system.spots.mean(axis=0)).reshape(-1, 3)
    return left / network.sigma, (slopes[:, : system.places] @ modes) / network.sigma[:, None]


def _gauge(system: _System) -> Array:
    """Return rows that lay the whole on the drawing, (rows, columns), for the ways in which no reading holds it."""
    network, spots = system.network, system.network.start
    modes = np.zeros((3 * len(spots), 6))
    middle = spots.mean(axis=0)
    for axis in range(3):
        modes[axis::3, axis] = 1.0
        unit = np.zeros(3)
        unit[axis] = 1.0
        modes[:, 3 + axis] = np.cross(unit, spots - middle).ravel()
    modes /= np.linalg.norm(modes, axis=0)
    slopes = network.left(network.begin())[1][:, : system.places] / network.sigma[:, None]
    if len(slopes):
        # What pictures free of readings would leave: a reading that a rigid motion changes holds it.
        _, sizes, ways = np.linalg.svd(slopes @ modes, full_matrices=True)
        sizes = np.concatenate([sizes, np.zeros(6 - len(sizes))])[:6]
        free = modes @ ways[sizes < LITTLE * max(float(sizes.max()), 1e-12)].T
    else:
        free = modes
    rows = np.zeros((free.shape[1], system.columns))
    rows[:, : system.places] = free.T / GAUGE
    return rows


def _normal(
    system: _System, seen: Sequence[SeenSticker], gauge: Array, pixel: float, robust: bool
) -> tuple[Array, Array, float]:
    """Return the normal equations of all rows, and the weighted misfit."""
    left, slopes = system.images(seen)
    flat = left.reshape(-1) / pixel
    weight = np.ones(len(flat))
    if robust:
        off = np.repeat(np.linalg.norm(left, axis=2).max(axis=1), 8) / pixel
        weight = np.sqrt(1 / np.maximum(off / PULLS, 1.0))
    slopes = slopes * (weight / pixel)[:, None]
    flat = flat * weight
    other, rows = system.besides()
    start = system.network.start.ravel()
    held = gauge[:, : system.places] @ (start - system.spots.ravel())
    every = np.concatenate([rows, gauge])
    rest = np.concatenate([other, held])
    misfit = float(flat @ flat + rest @ rest)
    return slopes.T @ slopes + every.T @ every, slopes.T @ flat + every.T @ rest, misfit


def _adjusted(
    system: _System, seen: Sequence[SeenSticker], gauge: Array, pixel: float, robust: bool
) -> tuple[_System, bool]:
    """Return the system adjusted over some of what is seen, and whether it settled (Levenberg and Marquardt)."""
    damping = 1e-3
    normal, right, misfit = _normal(system, seen, gauge, pixel, robust)
    for _ in range(STEPS):
        scaled = normal + damping * np.diag(np.maximum(np.diag(normal), 1e-9))
        step: Array = np.asarray(np.linalg.solve(scaled, right), dtype=float)
        tried = system.moved(step)
        after = _normal(tried, seen, gauge, pixel, robust)
        if np.isfinite(after[2]) and after[2] < misfit:
            won = (misfit - after[2]) / misfit
            system, (normal, right, misfit) = tried, after
            damping = max(damping / 5, 1e-9)
            if won < ENOUGH:
                return system, True
        else:
            damping *= 4
            if damping > 1e8:
                return system, True
    return system, False


def _pixel(left: Array, every: Sequence[SeenSticker], used: Sequence[SeenSticker]) -> float:
    """Return the corners' own error, pixels of one coordinate, by the middle of what is used: slips count for nothing."""
    mine = {id(one) for one in used}
    its = left[[id(one) in mine for one in every]]
    # The median of the length of a two-dimensional error is 1.1774 of the error along each axis.
    return max(float(np.median(its)) / 1.1774, LEAST_PIXELS)


def _told(
    system: _System, used: Sequence[SeenSticker], out: Sequence[SeenSticker], gauge: Array, converged: bool
) -> Bundle:
    left = system.images(used)[0]
    freedom = max(left.size - system.columns + 6, 1)
    pixel = max(float(np.sqrt((left**2).sum() / freedom)), LEAST_PIXELS)
    normal = _normal(system, used, gauge, pixel, robust=False)[0]
    # What nothing shows any more, a picture whose stickers are all left out, is held by nothing.
    nothing = np.diag(normal) <= 0
    covariance = np.linalg.inv(normal + np.diag(np.where(nothing, 1.0, 1e-12 * np.diag(normal))))
    network = system.network
    places = list(dict.fromkeys(place for place, _, _ in (system.stickers[one.number] for one in used)))
    sigma = {
        place: np.sqrt(np.diag(covariance)[3 * network.index[place] : 3 * network.index[place] + 3])
        for place in places
    }
    rms = {
        shot: float(np.sqrt((left[[one.picture == shot for one in used]] ** 2).sum(axis=2).mean()))
        for shot in system.shots
        if any(one.picture == shot for one in used)
    }
    return Bundle(
        network=network,
        spots=system.spots,
        lie=system.lie,
        turns=system.turns,
        shifts=system.shifts,
        cameras={
            name: (system.cameras[name], float(np.sqrt(covariance[at, at])))
            for name, at in system.at_camera.items()
        },
        rms=rms,
        pixel=pixel,
        scale=system.scale,
        scale_sigma=float(np.sqrt(covariance[system.at_scale, system.at_scale])),
        sigma=sigma,
        laid=len(gauge) > 0,
        slips=_stood(system, out),
        converged=converged,
        seen=_seen(system, used, places, pixel),
        used=tuple(used),
    )


def _seen(system: _System, used: Sequence[SeenSticker], places: Sequence[str], pixel: float) -> Seen:
    """Return what the pictures alone say of the places, all else of them worked out of it (Schur complement)."""
    slopes = system.images(used)[1] / pixel
    size = np.zeros((1, system.columns))
    size[0, system.at_scale] = 1 / SIZE_SHARE
    network = system.network
    mine = np.concatenate([3 * network.index[place] + np.arange(3) for place in places])
    others = np.arange(system.places, system.columns)
    known = [
        at + k for name, at in system.at_camera.items() if name in system.survey.cameras for k in range(5)
    ]
    others = others[~np.isin(others, known)]
    whole = slopes.T @ slopes + size.T @ size
    a, b, c = whole[np.ix_(mine, mine)], whole[np.ix_(mine, others)], whole[np.ix_(others, others)]
    held = c + 1e-10 * np.diag(np.maximum(np.diag(c), 1e-12))
    reduced = a - b @ np.linalg.solve(held, b.T)
    sizes, ways = np.linalg.eigh((reduced + reduced.T) / 2)
    keep = sizes > 1e-9 * sizes.max()
    rows: Array = np.asarray(np.sqrt(sizes[keep])[:, None] * ways[:, keep].T, dtype=float)
    at = np.array([system.spots[network.index[place]] for place in places])
    return Seen(places=tuple(places), at=at, rows=rows)


def _stood(system: _System, out: Sequence[SeenSticker]) -> tuple[Stood, ...]:
    """Return what was left out, sticker by sticker: where it stood instead, if two pictures or more say so together."""
    found = []
    for number in sorted({one.number for one in out}):
        mine = [one for one in out if one.number == number]
        shots = tuple(sorted({one.picture for one in mine}))
        at = _elsewhere(system, mine) if len(shots) > 1 else None
        place = system.spots[system.network.index[system.stickers[number][0]]]
        by = None if at is None else float(np.linalg.norm(at - place))
        found.append(Stood(number=number, pictures=shots, by=by, at=at))
    return tuple(found)


def _elsewhere(system: _System, seen: Sequence[SeenSticker]) -> Array | None:
    """Return where the rays to a sticker's middle meet nearest, (3,) mm; None where they run too much alike."""
    rows, right = np.zeros((3, 3)), np.zeros(3)
    for one in seen:
        camera = system.cameras[system.pictures.cameras[one.picture]]
        ray = np.append((one.corners.mean(axis=0) - camera[1:3]) / camera[0], 1.0)
        turn, shift = system.turns[one.picture], system.shifts[one.picture]
        way = turn.T @ ray / np.linalg.norm(ray)
        across = np.eye(3) - np.outer(way, way)
        rows += across
        right += across @ (-turn.T @ shift)
    if np.linalg.cond(rows) > 1e4:
        return None
    return np.asarray(np.linalg.solve(rows, right), dtype=float)
