"""What levers do together, as the sum of what each does by itself: a proposal that the full solve then disposes of.

Excess  of a finding as in `trial`, negative while it is well; 0 where nothing is said of it.
Limit   of a key: the excess from which it is a fault, between what was seen as one and what was not.
"""

from collections.abc import Sequence

import numpy as np

from engine.facts import facts
from engine.linkage.vectors import Array
from engine.right.trial import Key, Outcome, Settings, Trials

FINE = 25  # settings of a lever between which a sum is looked at
LOOKED_AT = {1: 1000, 2: 30, 3: 10, 4: 6}  # of each, by how many are set together
TRUST = 1.5  # so much more than their sum may levers do together
WARNING_SHARE, MOVED_SHARE = 0.02, 0.002


@facts
class Sums:
    """Excesses by lever and setting.

    base, limit : (keys,)
    at          : by lever, numbers of settings
    by          : by lever, what each of these adds to the excesses, (settings, keys)
    far         : by lever, how far each is from today, 0 to 1
    most        : by lever, the most by which it lessens each excess, (keys,)
    best        : by lever that is no size, its settings from the one that does best by itself
    """

    base: Array
    limit: Array
    at: dict[int, list[int]]
    by: dict[int, Array]
    far: dict[int, Array]
    most: dict[int, Array]
    best: dict[int, list[int]]

    def helps(self, number: int) -> bool:
        """Return whether a lever lessens anything, or nothing is known of what there is."""
        return bool((self.by[number] < -1e-3).any())

    def may_do(self, numbers: Sequence[int]) -> bool:
        """Return whether the most that each lever does for each fault could clear them all."""
        most = sum(self.most[number] for number in numbers)
        return bool((self.base + TRUST * most <= self.limit + 1e-9).all())

    def beyond(self, numbers: Sequence[int]) -> float:
        """Return the least by which the sum stays beyond the limits."""
        return float(self._over(numbers, LOOKED_AT[len(numbers)])[1].min())

    def spoken_for(self, numbers: Sequence[int], most: int) -> list[Settings]:
        """Return the settings of a set that its sum speaks for, the best first."""
        chosen, over, rest = self._over(numbers, LOOKED_AT[len(numbers)])
        score = (over + rest).ravel()
        order = np.argsort(score, kind="stable")[:most]
        found = []
        for flat in order:
            places = np.unravel_index(int(flat), over.shape)
            found.append(
                tuple(
                    (n, self.at[n][chosen[k][int(place)]])
                    for k, (n, place) in enumerate(zip(numbers, places, strict=True))
                )
            )
        return found

    def next_best(self, settings: Settings, number: int) -> tuple[float, int]:
        """Return what the sum stays beyond with one lever more beside others as they are set, and its best setting."""
        here = self.base + sum(self.by[n][self._near(n, k)] for n, k in settings)
        over, rest = self._scored(here + self.by[number])
        score = over + rest + MOVED_SHARE * self.far[number]
        best = int(score.argmin())
        return float(round(score[best], 6)), self.at[number][best]

    def _near(self, number: int, at: int) -> int:
        return min(range(len(self.at[number])), key=lambda k: abs(self.at[number][k] - at))

    def _over(self, numbers: Sequence[int], most: int) -> tuple[list[list[int]], Array, Array]:
        """Return which settings are looked at, by how much the sum stays beyond, and what else speaks against: (settings, …)."""
        chosen = [self.best[n][:most] if n in self.best else _thinned(len(self.at[n]), most) for n in numbers]
        total: Array = self.base
        moved: Array = np.zeros(())
        for k, number in enumerate(numbers):
            shape = [1] * len(numbers)
            shape[k] = len(chosen[k])
            total = total + self.by[number][chosen[k]].reshape(*shape, -1)
            moved = moved + self.far[number][chosen[k]].reshape(shape)
        over, rest = self._scored(total)
        return chosen, over, rest + MOVED_SHARE * moved

    def _scored(self, total: Array) -> tuple[Array, Array]:
        beyond = np.clip(total - self.limit, 0.0, None)
        over = (beyond + (beyond > 1e-6) * 0.2).sum(axis=-1)
        return over, WARNING_SHARE * np.clip(total, 0.0, 10.0).sum(axis=-1)


def _thinned(count: int, most: int) -> list[int]:
    return (
        list(range(count))
        if count <= most
        else sorted({round(k * (count - 1) / (most - 1)) for k in range(most)})
    )


def sums_of(
    trials: Trials, scans: dict[int, list[tuple[int, Outcome]]], base: Outcome, warnings_too: bool
) -> Sums:
    """Return what was seen of each lever by itself beside a base, between its settings in proportion."""
    seen = [base, *(found for scan in scans.values() for _, found in scan)]
    keys = sorted({key for found in seen for key in (*found.faults, *found.warnings, *found.good)})
    here = _excesses(base, keys)
    at, by, far = {}, {}, {}
    for number, scan in scans.items():
        lever = trials.levers[number]
        rows = np.array([_excesses(found, keys) - here for _, found in scan]).reshape(len(scan), len(keys))
        numbers = [k for k, _ in scan]
        if lever.numbers:
            at[number], by[number] = _between(numbers, rows)
            sizes = np.abs(np.array([lever.values[k] for k in at[number]]) - lever.now)
            far[number] = sizes / max(float(sizes.max()), 1e-9)
        else:
            at[number], by[number], far[number] = numbers, rows, np.zeros(len(scan))
    best = {
        number: [int(k) for k in np.argsort(np.clip(here + rows, 0.0, 20.0).sum(axis=1), kind="stable")]
        for number, rows in by.items()
        if not trials.levers[number].numbers
    }
    most = {number: np.minimum(rows.min(axis=0), 0.0) for number, rows in by.items()}
    return Sums(
        base=here, limit=_limits(seen, keys, warnings_too), at=at, by=by, far=far, most=most, best=best
    )


def _between(numbers: list[int], rows: Array) -> tuple[list[int], Array]:
    """Return more settings between those that were tried, and what they do in proportion."""
    fine = sorted({*numbers, *np.linspace(numbers[0], numbers[-1], FINE).round().astype(int).tolist()})
    columns = [np.interp(fine, numbers, rows[:, k]) for k in range(rows.shape[1])]
    return fine, np.stack(columns, axis=1) if columns else np.zeros((len(fine), 0))


def _excesses(found: Outcome, keys: Sequence[Key]) -> Array:
    its = {**found.good, **found.warnings, **found.faults}
    return np.array([its.get(key, 0.0) for key in keys], dtype=float)


def _limits(seen: Sequence[Outcome], keys: Sequence[Key], warnings_too: bool) -> Array:
    """Return the excess of each key from which it counts."""
    found = []
    for key in keys:
        bad = [one.faults[key] for one in seen if key in one.faults]
        if warnings_too:
            bad += [one.warnings[key] for one in seen if key in one.warnings]
        well = [
            value
            for one in seen
            if key not in one.faults and not (warnings_too and key in one.warnings)
            for value in (one.warnings.get(key, one.good.get(key, 0.0)),)
        ]
        if not bad:
            found.append(np.inf)
            continue
        least = min(bad)
        below = [value for value in well if value < least]
        found.append((least + max(below)) / 2 if below else least - 1e-6)
    return np.array(found, dtype=float)
