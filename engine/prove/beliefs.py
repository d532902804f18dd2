"""What readings say of many possible causes, where it is not known whether everything is a little off or one thing a lot.

Every belief  all causes are off by GOODNESS of their standard errors, and at most one of them by SLIP_MM beside that; the rows
              were read with READ of their stated errors.  READ_SPREAD : log-normal, about the stated error
Weight        a belief counts by how likely it makes the misfit (its marginal likelihood, Gaussian), a slip in one place being as
              probable beforehand as none, and each place alike.
Answer        the mean of all beliefs' posterior means, and the covariance of the whole mixture.

Bayes' rule for linear Gaussian models; the slip is a rank-one change of the misfit's covariance (Sherman and Morrison 1950).
"""

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array

SLIP_MM = 6.0
GOODNESS = {0.1: 0.1, 0.3: 0.2, 1.0: 0.7}
READ = np.geomspace(0.2, 1.0, 9)  # a rule that is read to the half millimetre is 0.2 to 0.3 of what is stated
READ_SPREAD = 0.7
FELT = 0.01  # mm of reading for a mm of cause: a slip there would not show
COUNTS = 1e-3  # a belief of less weight adds nothing to the covariance that is seen


@facts
class Belief:
    """One belief for every place that the slip may be in: its first column is no slip at all.

    before : variance of every cause without a slip, mm², (causes,)
    read : variance of every reading, mm², (readings,)
    chance : log of the weight, not yet normed, (1 + slips,)
    means : posterior mean of every cause, mm, (causes, 1 + slips)
    """

    before: Array
    read: Array
    chance: Array
    means: Array


def believed(slopes: Array, sigma: Array, prior: Array, misfit: Array) -> tuple[Array, Array]:
    """Return every cause's mean, mm, (causes,), and their covariance, mm², (causes, causes).

    slopes : mm of reading for a mm of cause, (readings, causes)
    sigma : stated standard error of every reading, mm, (readings,)
    prior : standard error of every cause, mm, (causes,)
    misfit : reading less what is drawn, mm, (readings,)
    """
    slips = np.flatnonzero(np.abs(slopes).max(axis=0) > FELT).astype(int)
    beliefs = [
        _belief(
            slopes, slips, (goodness * prior) ** 2, (read * sigma) ** 2, misfit, chance * _as_stated(read)
        )
        for goodness, chance in GOODNESS.items()
        for read in READ
    ]
    chances = np.array([belief.chance for belief in beliefs])
    weights = np.exp(chances - chances.max())
    weights /= weights.sum()
    mean = np.sum([belief.means @ weight for belief, weight in zip(beliefs, weights, strict=True)], axis=0)
    cover = np.zeros((len(prior), len(prior)))
    for belief, weight in zip(beliefs, weights, strict=True):
        for column in np.flatnonzero(weight > COUNTS):
            before = belief.before.copy()
            if column:
                before[slips[column - 1]] += SLIP_MM**2
            off = belief.means[:, column] - mean
            cover += weight[column] * (_left_open(slopes, before, belief.read) + np.outer(off, off))
    return mean, cover


def _as_stated(read: float) -> float:
    """Return how probable it is beforehand that rows are read with `read` of their stated errors, not normed."""
    return float(np.exp(-0.5 * (np.log(read) / READ_SPREAD) ** 2))


def _belief(slopes: Array, slips: Array, before: Array, read: Array, misfit: Array, chance: float) -> Belief:
    """Return one belief with every place that may have slipped."""
    by_misfit = np.linalg.inv((slopes * before) @ slopes.T + np.diag(read))
    pulled = by_misfit @ misfit
    along = by_misfit @ slopes[:, slips]
    felt = (slopes[:, slips] * along).sum(axis=0)
    agrees = along.T @ misfit
    slipped = SLIP_MM**2 * agrees / (1 + SLIP_MM**2 * felt)
    none = 0.5 * float(np.linalg.slogdet(by_misfit)[1]) - 0.5 * float(misfit @ pulled) + float(np.log(chance))
    some = none + 0.5 * agrees * slipped - 0.5 * np.log1p(SLIP_MM**2 * felt)
    each = np.column_stack([pulled, pulled[:, None] - along * slipped])
    means = before[:, None] * (slopes.T @ each)
    means[slips, 1 + np.arange(len(slips))] += slipped
    return Belief(
        before=before,
        read=read,
        chance=np.concatenate([[none], some - np.log(max(len(slips), 1))]),
        means=means,
    )


def _left_open(slopes: Array, before: Array, read: Array) -> Array:
    """Return the covariance that is left of causes of variance `before` once the readings are in."""
    gain = before[:, None] * slopes.T
    left = np.diag(before) - gain @ np.linalg.solve((slopes * before) @ slopes.T + np.diag(read), gain.T)
    return np.asarray(left)
