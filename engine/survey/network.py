"""A survey as equations: places to be found, and what was read between them.

Unknowns  x, y, z of every place that a reading or a picture names, mm; then four of each picture (scale, turn, shifts).
Rows      one for each reading (three of a `mirrored`), two for each place picked in a picture, one for its known line.
Weighted  divided by the row's standard error: what is then left over has a standard deviation of one.

A picture's four unknowns are linear: (right, up) = a·(u, w) + b·(−w, u) + shift, with w = −v, and u, w taken from the
middle of what is picked and in lengths of the picture, so that a and b are mm like all other unknowns.
"""

import warnings
from collections.abc import Collection, Mapping
from functools import cached_property

import numpy as np
from scipy.spatial.transform import Rotation

from engine.document.survey import USUAL_ERRORS, USUAL_TOOL, Mirrored, Photo, Reading, Survey, places_of
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.kinds import READS, kind_of

LEAST_SHARE = 0.5  # of a tool's error that reading again and again leaves
IN_PICTURE = {  # which axes are to the right and up in a picture, and which way they run
    "side": ((0, -1.0), (2, 1.0)),
    "front": ((1, 1.0), (2, 1.0)),
    "top": ((1, -1.0), (0, 1.0)),
}


def sigma_of(reading: Reading, survey: Survey) -> float:
    """Return the standard error of a reading's mean, mm or degrees."""
    if reading.sigma is not None:
        return reading.sigma
    one = tool_error(reading.tool or USUAL_TOOL[reading.kind], survey)
    count = 1 if isinstance(reading, Mirrored) else len(reading.values)
    return one * max(LEAST_SHARE, 1 / float(np.sqrt(count)))


def tool_error(tool: str, survey: Survey) -> float:
    """Return the standard error of one reading with a tool: the shop's own, else the usual one."""
    return survey.tools.get(tool, USUAL_ERRORS.get(tool, USUAL_ERRORS["tape"]))


def value_of(reading: Reading) -> float:
    """Return the mean of what was read; nothing for a pair that ought to be mirrored."""
    return 0.0 if isinstance(reading, Mirrored) else sum(reading.values) / len(reading.values)


@facts
class Group:
    """Readings of one kind: their numbers in the file, their places (m, k), values and errors (m,), first rows (m,)."""

    kind: str
    numbers: np.ndarray
    places: np.ndarray
    value: Array
    sigma: Array
    row: np.ndarray


@facts
class Picture:
    """One photograph: its places (m,), where they are picked (m, 2) in lengths of the picture, its first row and column.

    size : pixels that the picture's own length is; line : the known line's length in such lengths, and in mm; None without
    """

    name: str
    plane: str
    places: np.ndarray
    picked: Array
    size: float
    line: tuple[float, float] | None
    sigma: float
    row: int
    column: int

    @property
    def rows(self) -> int:
        """Return how many rows it has."""
        return 2 * len(self.places) + (self.line is not None)


@facts
class Seen:
    """What pictures of stickers say of their places: rows (rows, 3·places) of weight one about where they are, (places, 3) mm.

    They hold the places among themselves; where the whole of them stands is for the other readings to say, and it is turned there.
    """

    places: tuple[str, ...]
    at: Array
    rows: Array

    def only(self, known: Collection[str]) -> "Seen":
        """Return what is said of the known places alone, whatever was said of the others worked into it (orthogonal elimination)."""
        gone = [k for k, place in enumerate(self.places) if place not in known]
        if not gone:
            return self
        kept = [k for k in range(len(self.places)) if k not in gone]
        columns = np.concatenate([3 * k + np.arange(3) for k in [*gone, *kept]])
        upper = np.asarray(np.linalg.qr(self.rows[:, columns], mode="r"))
        rows: Array = upper[3 * len(gone) :, 3 * len(gone) :]
        return Seen(places=tuple(self.places[k] for k in kept), at=self.at[kept], rows=rows)


def laid_on(spots: Array, others: Array) -> Array:
    """Return the turn (3, 3) that lays spots (n, 3) on others as well as it goes, both about their own middles (Kabsch 1976)."""
    with warnings.catch_warnings():
        warnings.simplefilter(
            "ignore", UserWarning
        )  # places on one line leave a turn about it open: any will do
        turn: Array = Rotation.align_vectors(others, spots)[0].as_matrix()
    return turn


class Network:
    """A survey's equations over the places it names, started from where they are drawn, or where pictures of stickers say.

    names  : of the places; start (n, 3) mm
    groups, pictures : the rows, in the order of the weighted system
    """

    def __init__(self, survey: Survey, drawn: Mapping[str, list[float]], seen: "Seen | None" = None) -> None:
        self.survey, self.seen = survey, seen
        self.names = self._named(survey)
        if seen is not None:
            self.names = list(dict.fromkeys([*self.names, *seen.places]))
        self.index = {name: number for number, name in enumerate(self.names)}
        self.start: Array = np.array([drawn[name] for name in self.names], dtype=float).reshape(-1, 3)
        self.groups: list[Group] = []
        self.pictures: list[Picture] = []
        self.rows = 0
        for kind in READS:
            self._gather(kind)
        self.columns = 3 * len(self.names)
        for photo in survey.photos:
            if photo.picked and not photo.left_out:
                self._picture(photo)
        self.seen_row = self.rows
        if seen is not None:
            self.rows += len(seen.rows)
        self.row_of = np.full(len(survey.readings), -1)
        for group in self.groups:
            self.row_of[group.numbers] = group.row
        if seen is not None and len(seen.rows):
            self._start_as_seen(seen)

    def _start_as_seen(self, seen: "Seen") -> None:
        """Start stickers' places as they stand to one another: where they were, or laid on the drawing, as the readings like better."""
        its = [self.index[name] for name in seen.places]
        drawn, was = self.start[its], seen.at - seen.at.mean(axis=0)
        middle = drawn.mean(axis=0)
        laid = was @ laid_on(was, drawn - middle).T + middle

        def off(spots: Array) -> float:
            self.start[its] = spots
            left = self.left(self.begin())[0][: self.seen_row] / self.sigma[: self.seen_row]
            return float(np.abs(left).sum())

        self.start[its] = min((seen.at, laid), key=off)

    @staticmethod
    def _named(survey: Survey) -> list[str]:
        named = [name for reading in survey.readings for name in places_of(reading)]
        named += [name for photo in survey.photos for name in photo.picked]
        return list(dict.fromkeys(named))

    def _gather(self, kind: str) -> None:
        taken = [
            (number, reading)
            for number, reading in enumerate(self.survey.readings)
            if not reading.left_out and kind_of(reading) == kind
        ]
        if not taken:
            return
        each = 3 if kind == "mirrored" else 1
        readings = [reading for _, reading in taken]
        self.groups.append(
            Group(
                kind=kind,
                numbers=np.array([number for number, _ in taken]),
                places=np.array([[self.index[name] for name in places_of(one)] for one in readings]),
                value=np.array([value_of(one) for one in readings]),
                sigma=np.array([sigma_of(one, self.survey) for one in readings]),
                row=self.rows + each * np.arange(len(taken)),
            )
        )
        self.rows += each * len(taken)

    def _picture(self, photo: Photo) -> None:
        spots = np.array(list(photo.picked.values()), dtype=float) * [1, -1]
        ends = None if photo.reference is None else np.array(photo.reference.ends, dtype=float) * [1, -1]
        every = spots if ends is None else np.concatenate([spots, ends])
        size = float(np.ptp(every, axis=0).max()) or 1.0
        line = None
        if ends is not None and photo.reference is not None:
            line = (float(np.linalg.norm(ends[1] - ends[0])) / size, photo.reference.length)
        picture = Picture(
            name=photo.name,
            plane=photo.plane,
            places=np.array([self.index[name] for name in photo.picked]),
            picked=(spots - every.mean(axis=0)) / size,
            size=size,
            line=line,
            sigma=tool_error("photo", self.survey),
            row=self.rows,
            column=self.columns,
        )
        self.pictures.append(picture)
        self.rows += picture.rows
        self.columns += 4

    @cached_property
    def sigma(self) -> Array:
        """Return every row's standard error, (rows,) mm or degrees."""
        out = np.empty(self.rows)
        for group in self.groups:
            each = 3 if group.kind == "mirrored" else 1
            for k in range(each):
                out[group.row + k] = group.sigma
        for picture in self.pictures:
            out[picture.row : picture.row + picture.rows] = picture.sigma
        out[self.seen_row :] = 1.0
        return out

    def begin(self) -> Array:
        """Return the unknowns as drawn, (columns,): pictures laid on the drawing as well as they go."""
        unknowns = np.zeros(self.columns)
        unknowns[: 3 * len(self.names)] = self.start.ravel()
        for picture in self.pictures:
            right, up = _seen(picture, self.start)
            u, w = picture.picked.T
            one, nothing = np.ones_like(u), np.zeros_like(u)
            fit = np.concatenate(
                [np.stack([u, -w, one, nothing], axis=1), np.stack([w, u, nothing, one], axis=1)]
            )
            found = np.linalg.lstsq(fit, np.concatenate([right, up]), rcond=None)[0]
            if picture.line is not None and np.hypot(*found[:2]) < picture.line[1] / picture.line[0] * 1e-3:
                found[0] = picture.line[1] / picture.line[0]  # one spot alone tells no scale
            unknowns[picture.column : picture.column + 4] = found
        return unknowns

    def left(self, unknowns: Array) -> tuple[Array, Array]:
        """Return what was read less what these unknowns would read, (rows,), and the latter's slopes (rows, columns)."""
        spots = unknowns[: 3 * len(self.names)].reshape(-1, 3)
        left, slopes = np.empty(self.rows), np.zeros((self.rows, self.columns))
        for group in self.groups:
            would, by = READS[group.kind](spots[group.places])
            for k in range(would.shape[1]):
                rows = group.row + k
                left[rows] = (group.value if would.shape[1] == 1 else 0.0) - would[:, k]
                for place in range(group.places.shape[1]):
                    for axis in range(3):
                        slopes[rows, 3 * group.places[:, place] + axis] += by[:, k, place, axis]
        for picture in self.pictures:
            self._left_in(picture, unknowns, spots, left, slopes)
        if self.seen is not None and len(self.seen.rows):
            self._left_seen(self.seen, spots, left, slopes)
        return left, slopes

    def _left_seen(self, seen: "Seen", spots: Array, left: Array, slopes: Array) -> None:
        its = np.array([self.index[name] for name in seen.places])
        columns = (3 * its[:, None] + np.arange(3)).ravel()
        rows = self.seen_row + np.arange(len(seen.rows))
        # The rows know nothing of where the whole stands: they are asked where it was, whichever way it has been turned since.
        mine, was = spots[its] - spots[its].mean(axis=0), seen.at - seen.at.mean(axis=0)
        turn = laid_on(was, mine)
        left[rows] = -seen.rows @ (mine @ turn - was).ravel()
        slopes[np.ix_(rows, columns)] = (seen.rows.reshape(-1, len(its), 3) @ turn.T).reshape(len(rows), -1)

    def _left_in(self, picture: Picture, unknowns: Array, spots: Array, left: Array, slopes: Array) -> None:
        a, b, right0, up0 = unknowns[picture.column : picture.column + 4]
        u, w = picture.picked.T
        many, column = len(u), picture.column
        right, up = _seen(picture, spots)
        for k, (seen, laid) in enumerate(((right, a * u - b * w + right0), (up, a * w + b * u + up0))):
            rows = picture.row + k * many + np.arange(many)
            # What the picture says, less where the place is.
            left[rows] = laid - seen
            axis, way = IN_PICTURE[picture.plane][k]
            slopes[rows, 3 * picture.places + axis] = way
            slopes[rows, column] = -(u if k == 0 else w)
            slopes[rows, column + 1] = w if k == 0 else -u
            slopes[rows, column + 2 + k] = -1.0
        if picture.line is not None:
            row, (long, known) = picture.row + 2 * many, picture.line
            scale = max(float(np.hypot(a, b)), 1e-9)
            left[row] = known - long * scale
            slopes[row, column : column + 2] = long * a / scale, long * b / scale


def _seen(picture: Picture, spots: Array) -> tuple[Array, Array]:
    (one, way), (other, sense) = IN_PICTURE[picture.plane]
    return way * spots[picture.places, one], sense * spots[picture.places, other]
