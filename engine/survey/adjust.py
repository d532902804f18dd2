"""Weighted least squares over a survey's network: where everything is, how well, what is loose, what does not fit.

Gauss–Newton with singular values (Gauss 1809; Golub & Kahan 1965); what the readings say nothing of does not move.
Slips are looked for one after another where a standardised residual w = v / (σ √r) (Baarda 1968) is beyond 3.29, which one
reading in a thousand passes by chance; of more than ten readings beyond what the largest of so many passes once in a hundred. Every reading that may explain it is left out by itself and the rest adjusted: the
one without which all fits best is named, with every other that does nearly as well (TIED of Σw², by the ratio of their
likelihoods), or that goes with it (ALIKE). What nothing much checks (WEAK) is never named alone. After each removal
everything that was left out before is tried again, and comes back where it now fits.
"""

from dataclasses import field, replace

import numpy as np
from scipy.linalg import solve_triangular
from scipy.special import ndtri

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.network import Network

RANK = 1e-7  # of the largest singular value
WELL_HELD = 1e-3  # of the largest pivot: so far from loose that no singular value needs to be looked at
NEXT_TO_NOTHING = 1e-7
SLIP = 3.29
FALSE_ALARMS = 0.01  # of a whole survey
ITERATIONS = 30
HALVINGS = 8
GAINED = 1e-12  # of the misfit: a step that wins less is the last one
ENOUGH_MM = 1e-5
ROUGHLY_MM = 5e-3  # while slips are still being looked for
LONGEST_STEP_MM = 400.0  # so that a wild reading cannot throw places about
NO_REDUNDANCY = 1e-6
WEAK = 0.1  # redundancy: a slip in such a reading hardly shows, and others are blamed for it
TIED = 12.0  # of the weighted misfit: one reading in hundreds explains a slip of another so much better by chance
ALIKE = 0.95  # of two residuals: either explains the other's slip
MAY_EXPLAIN = 0.2  # of the largest w²: what stands out less than this is not the slip
MOST_TRIED = 14
FAR_OFF = 12.0  # of w: beyond this places may have been pulled far from where they are
MOST_APART = 5  # readings looked at besides, those that are furthest off where most agree
ROBUST_STEPS = 12
MOST_ROUNDS = 60
FLAT_LEAST_MM = 3.0  # a place known better than this is held, however
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
    flat        (n, 3) the way in which a place is held by second-order terms alone, noughts where it is held well
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
    flat: Array = field(default_factory=lambda: np.zeros((0, 3)))

    @property
    def loose(self) -> np.ndarray:
        """Return which places can still move, (n,) bool: held by nothing, or by what they stand nearly in one plane with."""
        loose: np.ndarray = self.free_to_move | self.in_plane
        return loose

    @property
    def free_to_move(self) -> np.ndarray:
        """Return which places can move with no reading noticing, (n,) bool."""
        many = len(self.spots)
        moves: Array = np.linalg.norm(self.free[: 3 * many].reshape(many, 3, self.free.shape[1]), axis=(1, 2))
        loose: np.ndarray = moves > LOOSE
        return loose

    @property
    def in_plane(self) -> np.ndarray:
        """Return which places are held one way by no more than what a tape bends, (n,) bool."""
        if not len(self.flat):
            return np.zeros(len(self.spots), dtype=bool)
        flat: np.ndarray = np.linalg.norm(self.flat, axis=1) > 0
        return flat

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
    """A reading left out as a slip: how its row stood out, and the readings that would explain it as well.

    tied : their numbers; where there are any, all of them are left out, and none is known to be wrong
    alone : whether it alone explains what does not fit; a place picked in a picture may be what else does
    """

    number: int
    w: float
    redundancy: float
    tied: tuple[int, ...] = ()
    alone: bool = True


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
    label = labels_of(network)
    gone: dict[int, _Gone] = {}
    used = np.ones(network.rows, dtype=bool)
    fit = fitted(network, used, enough=ROUGHLY_MM)
    seen: set[frozenset[int]] = set()
    for _ in range(MOST_ROUNDS):
        doubted = _doubted(network, fit, label)
        if doubted:
            gone |= {its.label: its for its in doubted}
        back = _fitting_again(network, fit, label, gone, {its.label for its in doubted}) if doubted else set()
        gone = {its: one for its, one in gone.items() if its not in back}
        state = frozenset(gone)
        if not doubted or state in seen:
            break
        seen.add(state)
        used = ~np.isin(label, list(gone)) if gone else np.ones(network.rows, dtype=bool)
        fit = _best_fitted(network, used, fit.unknowns)
    fit = with_flat(network, fitted(network, ~np.isin(label, list(gone)), fit.unknowns))
    suspects = tuple(
        Suspect(
            number=one.label,
            w=one.w,
            redundancy=one.redundancy,
            tied=tuple(its for its in one.group if its >= 0 and its != one.label),
            alone=len(one.group) == 1,
        )
        for one in gone.values()
        if one.label >= 0
    )
    picks = tuple(_pick_of(network, int(np.flatnonzero(label == its)[0])) for its in gone if its < 0)
    return Adjusted(network=network, fit=fit, suspects=suspects, picks=picks)


@facts
class _Gone:
    """What is left out: a reading's number, or below nothing a pick; how it stood out, and with what it was tied."""

    label: int
    w: float
    redundancy: float
    group: tuple[int, ...]


def _doubted(network: Network, fit: Fit, label: np.ndarray) -> list[_Gone]:
    """Return what explains the largest misfit: one, or all that do so as well; none where nothing stands out, or can be told."""
    w = standardised(network, fit)
    if not len(w) or float(w.max()) <= slip_beyond(int((w > 0).sum())):
        return []
    worst: dict[int, int] = {}
    for row in np.argsort(-w):
        worst.setdefault(int(label[row]), int(row))
    may = [its for its, row in worst.items() if w[row] ** 2 >= MAY_EXPLAIN * w.max() ** 2][:MOST_TRIED]
    starts = [fit.unknowns]
    if float(w.max()) > FAR_OFF:
        # So wild a reading pulls places far from where they are, and others seem wrong: look from where most agree.
        apart = most_agree(network, fit.used)
        starts.append(apart)
        off = np.where(fit.used, np.abs(network.left(apart)[0]) / network.sigma, 0.0)
        off[network.seen_row :] = 0.0  # slips in pictures are looked for picture by picture, before
        for row in np.argsort(-off)[:MOST_APART]:
            if int(label[row]) not in may and fit.redundancy[row] > NO_REDUNDANCY:
                may.append(int(label[row]))
                worst[int(label[row])] = int(row)
    fits = {its: _fit_without(network, fit, label, its, starts) for its in may}
    without = {its: _misfit(network, one.used, one.left) for its, one in fits.items()}
    best = min(without, key=lambda its: without[its])
    alike = _alike_with(network, fit, worst[best])
    group = [its for its in may if without[its] <= without[best] + TIED or alike[worst[its]] > ALIKE]
    found = [_gone(network, fits[its], worst[its], its, tuple(group)) for its in group]
    if all(one.redundancy < WEAK for one in found):
        return []
    return sorted(found, key=lambda one: without[one.label])


def _gone(network: Network, fit: Fit, row: int, label: int, group: tuple[int, ...]) -> _Gone:
    """Return how a row stands out against a fit without it: its share of redundancy and w, there and not where it bent it."""
    slope, sigma = fit.slopes[row], float(network.sigma[row])
    if fit.free.size and float(np.abs(slope @ fit.free).max()) > LOOSE:
        return _Gone(label=label, w=0.0, redundancy=0.0, group=group)
    spread = float(slope @ fit.covariance @ slope) / sigma**2
    w = float(fit.left[row] / (sigma * np.sqrt(1 + spread)))
    return _Gone(label=label, w=w, redundancy=1 / (1 + spread), group=group)


def slip_beyond(readings: int) -> float:
    """Return the w beyond which the largest of so many is a slip: SLIP of ten, more of more, so that in a hundred surveys
    without a slip one is accused, however many readings they have."""
    return max(SLIP, float(ndtri(1 - FALSE_ALARMS / 2 / max(readings, 1))))


def _best_fitted(network: Network, used: np.ndarray, near: Array) -> Fit:
    """Return the fit over the used rows from unknowns near it, or as drawn where that fits better."""
    fit = fitted(network, used, near, ROUGHLY_MM)
    if float(standardised(network, fit).max(initial=0.0)) <= FAR_OFF:
        return fit
    anew = fitted(network, used, most_agree(network, used), ROUGHLY_MM)
    return min(fit, anew, key=lambda its: _misfit(network, used, its.left))


def most_agree(network: Network, used: np.ndarray) -> Array:
    """Return unknowns by the least sum of weighted residuals themselves, not of their squares: a wild reading pulls little.

    Reweighted least squares from the drawing (Schlossmacher 1973).
    """
    unknowns = network.begin()
    places = 3 * len(network.names)
    for _ in range(ROBUST_STEPS):
        left, slopes = network.left(unknowns)
        share = 1 / np.sqrt(np.maximum(np.abs(left[used]) / network.sigma[used], 1.0))
        weight = share / network.sigma[used]
        step = _least_squares(slopes[used] * weight[:, None], left[used] * weight)
        largest = np.abs(step[:places]).max(initial=0.0)
        unknowns = unknowns + step * min(1.0, LONGEST_STEP_MM / max(float(largest), 1e-9))
    return unknowns


def _fit_without(network: Network, fit: Fit, label: np.ndarray, its: int, starts: list[Array]) -> Fit:
    """Return the fit of all that is used but one, the best from any of some starts."""
    used = fit.used & (label != its)
    tried = [fitted(network, used, start, ROUGHLY_MM) for start in starts]
    return min(tried, key=lambda one: _misfit(network, used, one.left))


def _alike_with(network: Network, fit: Fit, row: int) -> Array:
    """Return how far each row's residual goes with one row's, (rows,), 1 where wholly."""
    weighted = fit.slopes / network.sigma[:, None]
    with_it = -weighted @ (fit.covariance @ weighted[row])
    share = np.sqrt(np.maximum(fit.redundancy * fit.redundancy[row], NO_REDUNDANCY))
    alike: Array = np.where(fit.used & (fit.redundancy > NO_REDUNDANCY), np.abs(with_it) / share, 0.0)
    return alike


def _fitting_again(
    network: Network, fit: Fit, label: np.ndarray, gone: dict[int, _Gone], now: set[int]
) -> set[int]:
    """Return what was left out before and fits among what is left now that `now` is out too."""
    earlier = [its for its in gone if its not in now]
    if not earlier:
        return set()
    used = ~np.isin(label, list(gone))
    after = fitted(network, used, fit.unknowns, ROUGHLY_MM)
    back = set()
    for its in earlier:
        rows = np.flatnonzero(label == its)
        slopes = after.slopes[rows]
        if after.free.size and float(np.abs(slopes @ after.free).max()) > LOOSE:
            continue
        spread = network.sigma[rows] ** 2 + np.einsum("kc,cd,kd->k", slopes, after.covariance, slopes)
        if float((np.abs(after.left[rows]) / np.sqrt(spread)).max()) <= SLIP:
            back.add(its)
    return back


def with_flat(network: Network, fit: Fit) -> Fit:
    """Return a fit with the places that are held one way by nothing but what the tapes bend.

    A place nearly in one plane with all that it is taped to: moved by its own standard error out of that plane, the
    second-order change of its readings is as large as the first, so that it may as well stand on the other side.
    """
    many = len(network.names)
    flat = np.zeros((many, 3))
    free = fit.free_to_move
    for k in range(many):
        if free[k]:
            continue
        columns = slice(3 * k, 3 * k + 3)
        spread, ways = np.linalg.eigh(fit.covariance[columns, columns])
        size = float(np.sqrt(max(spread[2], 0.0)))
        rows = fit.used & (np.abs(fit.slopes[:, columns]).max(axis=1) > 0)
        if size < FLAT_LEAST_MM or not rows.any():
            continue
        step = np.zeros(len(fit.unknowns))
        step[columns] = ways[:, 2] * size
        out, back = (network.left(fit.unknowns + way * step)[0][rows] for way in (1.0, -1.0))
        sigma = network.sigma[rows]
        first = np.linalg.norm((out - back) / 2 / sigma)
        second = np.linalg.norm(((out + back) / 2 - fit.left[rows]) / sigma)
        if second >= first:
            flat[k] = ways[:, 2]
    return replace(fit, flat=flat)


def standardised(network: Network, fit: Fit) -> Array:
    """Return |v| / (σ √r) of each row, (rows,); 0 where nothing checks it, or it is not used."""
    checked = fit.used & (fit.redundancy > NO_REDUNDANCY)
    checked[network.seen_row :] = False  # slips in pictures are looked for picture by picture, before
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
    # With what is left as one column more, its part along the others comes out without their directions being formed.
    beside = np.zeros((len(left) + columns, columns + 1))
    beside[: len(left), :-1], beside[: len(left), -1] = weighted, left
    np.fill_diagonal(beside[len(left) :, :-1], nothing)
    whole: Array = np.asarray(np.linalg.qr(beside, mode="r"))
    r, along = whole[:columns, :-1], whole[:columns, -1]
    pivots = np.abs(np.diag(r))
    if ((pivots > WELL_HELD * pivots.max()) | (pivots < 10 * nothing)).all():
        return np.asarray(solve_triangular(r, along))
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


def labels_of(network: Network) -> np.ndarray:
    """Return what each row belongs to, (rows,): a reading's number, or below nothing a pick or a line of a picture, or stickers."""
    found = np.full(network.rows, -1 - network.rows)  # what stickers say together is no pick
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
