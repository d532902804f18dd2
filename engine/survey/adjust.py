"""Weighted least squares over a survey's network: where everything is, how well, what is loose, what does not fit.

Gauss–Newton with singular values (Gauss 1809; Golub & Kahan 1965); what the readings say nothing of does not move.
Slips are found one after another by their standardised residual w = v / (σ √r) (Baarda 1968): beyond 3.29, which one
reading in a thousand passes by chance, the largest is left out and the rest adjusted again.
"""

from dataclasses import field

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.network import Network

RANK = 1e-7  # of the largest singular value
WELL_HELD = 1e-3  # of the largest pivot: so far from loose that no singular value needs to be looked at
NEXT_TO_NOTHING = 1e-7
SLIP = 3.29
ITERATIONS = 30
HALVINGS = 8
GAINED = 1e-12  # of the misfit: a step that wins less is the last one
ENOUGH_MM = 1e-5
ROUGHLY_MM = 5e-3  # while slips are still being looked for
LONGEST_STEP_MM = 400.0  # so that a wild reading cannot throw places about
NO_REDUNDANCY = 1e-6
LOOSE = 1e-4  # of a millimetre of free movement that a place has to take part in


@facts
class Fit:
    """One adjustment over some of the rows.

    spots       (n, 3) mm
    left        (rows,) read less adjusted, of every row, used or not
    used        (rows,) bool
    redundancy  (rows,) share of each used row that the others check; 0 for those not used
    covariance  (columns, columns) mm², of what is held
    free        (columns, k) the ways in which all may still move together
    scale       of the fit: 1 where the readings are as good as their tools; None with nothing to spare
    freedom     readings to spare
    """

    spots: Array
    unknowns: Array
    left: Array
    slopes: Array
    used: np.ndarray
    redundancy: Array
    covariance: Array
    free: Array
    scale: float | None
    freedom: int

    @property
    def loose(self) -> np.ndarray:
        """Return which places can still move, (n,) bool."""
        many = len(self.spots)
        moves: Array = np.linalg.norm(self.free[: 3 * many].reshape(many, 3, self.free.shape[1]), axis=(1, 2))
        loose: np.ndarray = moves > LOOSE
        return loose

    @property
    def sigma(self) -> Array:
        """Return the standard errors of the places, (n, 3) mm; NaN where loose."""
        many = len(self.spots)
        errors = np.sqrt(np.maximum(np.diag(self.covariance)[: 3 * many], 0.0)).reshape(many, 3)
        errors[self.loose] = np.nan
        return errors

    def block(self, columns: np.ndarray) -> Array:
        """Return the covariance of some unknowns (k,), (k, k) mm²."""
        block: Array = self.covariance[np.ix_(columns, columns)]
        return block


@facts
class Suspect:
    """A reading left out as a slip: how its row stood out when it was the largest."""

    number: int
    w: float
    redundancy: float


@facts
class Adjusted:
    """A survey worked out: its last fit, and the readings left out on the way, in the order found.

    picks : what was left out of pictures: which picture, and which of its places; −1 for its known line
    """

    network: Network
    fit: Fit
    suspects: tuple[Suspect, ...] = field(default=())
    picks: tuple[tuple[int, int], ...] = field(default=())

    def rows_of(self, number: int) -> np.ndarray:
        """Return the rows (1,) or (3,) of one reading of the file; none where it is left out by hand."""
        first = int(self.network.row_of[number])
        if first < 0:
            return np.arange(0)
        return first + np.arange(3 if self.network.survey.readings[number].kind == "mirrored" else 1)


def adjust(network: Network) -> Adjusted:
    """Return a network adjusted, its slips left out one after another: readings, and what is picked in pictures."""
    used = np.ones(network.rows, dtype=bool)
    suspects: list[Suspect] = []
    picks: list[tuple[int, int]] = []
    fit = fitted(network, used, enough=ROUGHLY_MM)
    label = _labels(network)
    while True:
        w = standardised(network, fit)
        worst = int(np.argmax(w)) if len(w) else 0
        if not len(w) or w[worst] <= SLIP:
            break
        its = int(label[worst])
        if its >= 0:
            size = float(np.sign(fit.left[worst]) * w[worst])
            suspects.append(Suspect(number=its, w=size, redundancy=float(fit.redundancy[worst])))
        else:
            picks.append(_pick_of(network, worst))
        used = used & (label != its)
        fit = fitted(network, used, fit.unknowns, ROUGHLY_MM)
    fit = fitted(network, used, fit.unknowns)
    return Adjusted(network=network, fit=fit, suspects=tuple(suspects), picks=tuple(picks))


def standardised(network: Network, fit: Fit) -> Array:
    """Return |v| / (σ √r) of each row, (rows,); 0 where nothing checks it, or it is not used."""
    checked = fit.used & (fit.redundancy > NO_REDUNDANCY)
    w = np.zeros(network.rows)
    w[checked] = np.abs(fit.left[checked]) / (network.sigma[checked] * np.sqrt(fit.redundancy[checked]))
    return w


def fitted(network: Network, used: np.ndarray, near: Array | None = None, enough: float = ENOUGH_MM) -> Fit:
    """Return the adjustment over the used rows, (rows,) bool, started as drawn or from unknowns near it."""
    unknowns = network.begin() if near is None else near.copy()
    places = 3 * len(network.names)
    left, slopes = network.left(unknowns)
    for _ in range(ITERATIONS):
        sigma = network.sigma[used]
        step = _least_squares(slopes[used] / sigma[:, None], left[used] / sigma)
        largest = np.abs(step[:places]).max(initial=0.0)
        if largest > LONGEST_STEP_MM:
            step = step * (LONGEST_STEP_MM / largest)
        before = _misfit(network, used, left)
        unknowns, left, slopes = _taken(network, used, unknowns, step, before)
        # Wild readings leave a valley in which nothing more is to be won: their slips are what is looked for then.
        if largest < enough or before - _misfit(network, used, left) < GAINED * before:
            break
    return _fit(network, used, unknowns, left, slopes)


def _misfit(network: Network, used: np.ndarray, left: Array) -> float:
    weighted = left[used] / network.sigma[used]
    return float(weighted @ weighted)


def _taken(
    network: Network, used: np.ndarray, unknowns: Array, step: Array, before: float
) -> tuple[Array, Array, Array]:
    """Return the unknowns after a step, what is then left, and its slopes; the step is halved while it makes it worse."""
    for _ in range(HALVINGS):
        left, slopes = network.left(unknowns + step)
        if _misfit(network, used, left) <= before * (1 + 1e-9) + 1e-9:
            return unknowns + step, left, slopes
        step = step / 2
    return unknowns, *network.left(unknowns)


def _least_squares(weighted: Array, left: Array) -> Array:
    if not weighted.size:
        return np.zeros(weighted.shape[1])
    # A tenth of the singular values' work: what is loose is held by next to nothing, so that it stays where it is.
    columns = weighted.shape[1]
    nothing = NEXT_TO_NOTHING * float(np.sqrt((weighted**2).sum(axis=0).max()))
    q, r = np.linalg.qr(np.concatenate([weighted, nothing * np.eye(columns)]))
    pivots = np.abs(np.diag(r))
    if ((pivots > WELL_HELD * pivots.max()) | (pivots < 10 * nothing)).all():
        return np.asarray(np.linalg.solve(r, q[: len(left)].T @ left))
    u, sizes, v = np.linalg.svd(weighted, full_matrices=False)
    held = sizes > RANK * sizes[0]
    return np.asarray(v[held].T @ ((u[:, held].T @ left) / sizes[held]))


def _fit(network: Network, used: np.ndarray, unknowns: Array, left: Array, slopes: Array) -> Fit:
    weighted = slopes[used] / network.sigma[used, None]
    redundancy = np.zeros(network.rows)
    taken, covariance, free = _held(weighted) or _loosely(weighted)
    redundancy[used] = np.clip(1 - taken, 0.0, 1.0)
    rank = network.columns - free.shape[1]
    freedom = int(used.sum()) - rank
    spread = _misfit(network, used, left)
    return Fit(
        spots=unknowns[: 3 * len(network.names)].reshape(-1, 3).copy(),
        unknowns=unknowns,
        left=left,
        slopes=slopes,
        used=used,
        redundancy=redundancy,
        covariance=covariance,
        free=free,
        scale=float(np.sqrt(spread / freedom)) if freedom > 0 else None,
        freedom=freedom,
    )


def _held(weighted: Array) -> tuple[Array, Array, Array] | None:
    """Return each row's share of the unknowns, their covariance, and no way free; None where something may be loose."""
    if weighted.shape[0] < weighted.shape[1] or not weighted.size:
        return None
    q, r = np.linalg.qr(weighted)
    pivots = np.abs(np.diag(r))
    if pivots.min() <= WELL_HELD * pivots.max():
        return None
    back = np.linalg.inv(r)
    return (q**2).sum(axis=1), back @ back.T, np.zeros((weighted.shape[1], 0))


def _loosely(weighted: Array) -> tuple[Array, Array, Array]:
    """Return the same by singular values, with the ways in which all may still move."""
    rows, columns = weighted.shape
    if not weighted.size:
        return np.zeros(rows), np.zeros((columns, columns)), np.eye(columns)
    u, sizes, v = np.linalg.svd(weighted, full_matrices=rows < columns)
    rank = int((sizes > RANK * sizes[0]).sum())
    held = v[:rank] / sizes[:rank, None]
    return (u[:, :rank] ** 2).sum(axis=1), held.T @ held, v[rank:].T


def _labels(network: Network) -> np.ndarray:
    """Return what each row belongs to, (rows,): a reading's number, or below nothing a pick or a line of a picture."""
    found = np.full(network.rows, -1)
    for group in network.groups:
        for k in range(3 if group.kind == "mirrored" else 1):
            found[group.row + k] = group.numbers
    for picture in network.pictures:
        many = len(picture.places)
        for k in range(many):
            found[[picture.row + k, picture.row + many + k]] = -1 - (picture.row + k)
        if picture.line is not None:
            found[picture.row + 2 * many] = -1 - (picture.row + 2 * many)
    return found


def _pick_of(network: Network, row: int) -> tuple[int, int]:
    """Return which picture a row belongs to, and which of its places; −1 for its known line."""
    number = next(k for k, its in enumerate(network.pictures) if its.row <= row < its.row + its.rows)
    picture = network.pictures[number]
    many = len(picture.places)
    return number, (row - picture.row) % many if row < picture.row + 2 * many else -1
