"""The cheapest set of levers after which nothing is found to be a fault.

What a set costs does not depend on its settings, so sets are taken in the order of their cost and the first that can be
set well is the cheapest. What each lever does by itself is tried first (`scans`); added up, it says which sets cannot do
and which settings to begin with; the full solve then disposes, and goes on from the best by halves.
"""

import itertools
from collections.abc import Callable, Iterator, Sequence

from engine.facts import facts
from engine.right.costs import Cost, Costs
from engine.right.lever import Lever
from engine.right.sums import Sums, sums_of
from engine.right.trial import KNOWN_BY_MARK, Outcome, Settings, Trials
from engine.telling import Tell, to_nobody

SCANNED = (0.015, 0.06, 0.16, 0.4, 1.0)  # of a lever's way each way, tried by itself
MOST_LEVERS = 4
FIRST, STEPS = 3, 14  # of a set: settings that its sum speaks for, then steps from the best
MOST_SOLVES = 300  # of one station and one aim; counted, not timed: the same file gives the same answer
MOST_SETS = 1500
BEYOND = 1.2  # steps beyond the limits, all together, up to which a sum may be wrong
POLISH = 30
OPENERS = 2
EQUALS, MOST_EQUAL = 16, 4  # sets that cost the same: how many more are tried, how many compared
EDGE = 0.05  # steps: what is moved less must not bring anything nearer to its limit than that

Score = tuple[int, float, int, float]
"""Faults, how far beyond, warnings, how far beyond: less is better, the first first."""


@facts
class Found:
    """A set of levers that does, with its settings: what it costs, what is left; how much of a wish it gives up."""

    settings: Settings
    cost: Cost
    total: float
    gives_up: float
    outcome: Outcome


@facts
class Search:
    """The search for one station under one aim.

    usable       : levers by number that may be set
    price        : what is to be least of a set's cost
    warnings_too : whether warnings are to go as well
    most         : solves after the first look at every lever
    """

    trials: Trials
    costs: Costs
    usable: tuple[int, ...]
    price: Callable[[Cost], float]
    warnings_too: bool = False
    most: int = MOST_SOLVES
    tell: Tell = to_nobody

    def best(self) -> Found | None:
        """Return the cheapest set that does; None where none of those that were tried does."""
        base = self.trials.outcome(())
        if self._score(base)[0] == 0:
            return self._found(())
        if not _hides(base):
            return self._from(())
        found = [one for start in self._openers() if (one := self._from(start)) is not None]
        return min(found, key=self._well, default=None)

    def _openers(self) -> list[Settings]:
        """Return the cheapest changes with which it stands somewhere, so that the rest can be judged."""
        found = []
        for number in self.usable:
            seen = [(self._score(its), k) for k, its in self._scan(number, ()) if not _hides(its)]
            if seen:
                found.append((self._rank([number]), min(seen)[0], ((number, min(seen)[1]),)))
        return [settings for _, _, settings in sorted(found)[:OPENERS]]

    def _from(self, start: Settings) -> Found | None:
        """Return the cheapest set that does, with some levers in it already."""
        begun = dict(start)
        slots = {self.trials.levers[n].slot for n in begun}
        usable = [n for n in self.usable if n in begun or self.trials.levers[n].slot not in slots]
        scans = {n: self._scan(n, tuple(one for one in start if one[0] != n)) for n in usable}
        sums = sums_of(self.trials, scans, self.trials.outcome(start), self.warnings_too)
        greedy = self._greedy(sums, start)
        best = [] if greedy is None else [greedy]
        tried, solved = 0, self.trials.solved
        for numbers in self._sets(
            sums, tuple(begun), None if greedy is None else self._rank(_levers(greedy))
        ):
            dearer = bool(best) and self._rank(numbers)[:2] > self._rank(_levers(best[-1]))[:2]
            spent = self.trials.solved - solved > self.most
            if dearer or spent or (len(best) > 1 and tried > EQUALS):
                break
            tried += bool(best)
            found = self._settle(numbers, sums)
            if found is not None:
                cheaper = bool(best) and self._rank(numbers)[:2] < self._rank(_levers(best[-1]))[:2]
                best = [found] if cheaper else [*best, found]
            if len(best) > MOST_EQUAL:
                break
        polished = [self._polished(one, sums) for one in best]
        return min(polished, key=self._well, default=None)

    def _well(self, found: Found) -> tuple[float, float, int, float]:
        """Return what says which of several that do is taken: what it costs, then what is left to look at."""
        warnings = found.outcome.warnings
        return (*self._rank(_levers(found.settings))[:2], len(warnings), sum(warnings.values()))

    def _score(self, found: Outcome) -> Score:
        bad = {**found.warnings, **found.faults} if self.warnings_too else found.faults
        return (len(bad), sum(bad.values()), len(found.warnings), sum(found.warnings.values()))

    def _tried(self, settings: Settings) -> Score:
        return self._score(self.trials.outcome(settings))

    def _scan(self, number: int, others: Settings) -> list[tuple[int, Outcome]]:
        """Return what some of a lever's settings do by themselves, others as they are set."""
        lever = self.trials.levers[number]
        chosen = (
            range(len(lever.values))
            if len(lever.values) <= 2 * len(SCANNED) + 2 or not lever.numbers
            else _about_now(lever)
        )
        return [(one, self.trials.outcome(tuple(sorted([*others, (number, one)])))) for one in chosen]

    def cost(self, numbers: Sequence[int]) -> Cost:
        """Return what a set costs: hours and money added, the longest wait."""
        levers = [self.trials.levers[number] for number in numbers]
        each = [self.costs.of_change(lever.key, lever.sides) for lever in levers]
        return Cost(
            sum(c.hours for c in each), sum(c.money for c in each), max((c.days for c in each), default=0.0)
        )

    def _rank(self, numbers: Sequence[int]) -> tuple[float, float, int]:
        wishes = sum(self.trials.levers[number].gives_up is not None for number in numbers)
        return (float(wishes), round(self.price(self.cost(numbers)), 6), len(numbers))

    def _sets(
        self, sums: Sums, begun: tuple[int, ...], limit: tuple[float, float, int] | None
    ) -> Iterator[tuple[int, ...]]:
        """Yield sets in the order of what they cost, none dearer than a limit, those left out whose sum cannot do."""
        helping = [number for number in sums.by if sums.helps(number) and number not in begun]
        sets = []
        for size in range(0 if begun else 1, MOST_LEVERS + 1 - len(begun)):
            for more in itertools.combinations(helping, size):
                numbers = tuple(sorted((*begun, *more)))
                rank = self._rank(numbers)
                if (
                    (limit is None or rank[:2] <= limit[:2])
                    and self._one_a_slot(numbers)
                    and sums.may_do(numbers)
                ):
                    sets.append((rank, numbers))
        sets.sort()
        for _, numbers in sets[:MOST_SETS]:
            if sums.beyond(numbers) <= BEYOND:
                yield numbers

    def _one_a_slot(self, numbers: Sequence[int]) -> bool:
        slots = [self.trials.levers[number].slot for number in numbers]
        return len(set(slots)) == len(slots)

    def _settle(self, numbers: tuple[int, ...], sums: Sums) -> Settings | None:
        """Return settings of a set that do, or None."""
        self.tell(0.5, f"{len(numbers)} changes together" if len(numbers) > 1 else "one change alone")
        tried = [(self._tried(one), one) for one in sums.spoken_for(numbers, FIRST)]
        if not tried:
            return None
        score, best = min(tried)
        if score[0] == 0:
            return best
        better = self._stepped(best, STEPS, lambda its, now: its < now, lambda its: its[0] == 0)
        return better if self._tried(better)[0] == 0 else None

    def _stepped(
        self,
        start: Settings,
        most: int,
        better: Callable[[Score, Score], bool],
        enough: Callable[[Score], bool] = lambda _: False,
    ) -> Settings:
        """Return settings reached by steps that are each better than the last, half as long where none is."""
        best, score, left = start, self._tried(start), most
        spans = {n: max(len(self.trials.levers[n].values) // 12, 1) for n, _ in start}
        while left > 0 and not enough(score):
            moved = False
            for n, at in best:
                for to in (at + spans[n], at - spans[n]):
                    if left <= 0 or not 0 <= to < len(self.trials.levers[n].values):
                        continue
                    left -= 1
                    again = tuple((m, to if m == n else k) for m, k in best)
                    its = self._tried(again)
                    if better(its, score):
                        best, score, moved = again, its, True
                        break
            if not moved:
                if all(span == 1 for span in spans.values()):
                    break
                spans = {n: max(span // 2, 1) for n, span in spans.items()}
        return best

    def _greedy(self, sums: Sums, start: Settings) -> Settings | None:
        """Return a set that does, the best lever more each time: what no plan may be dearer than."""
        settings = start
        score = self._tried(start)
        if score[0] == 0:
            return start
        for _ in range(MOST_LEVERS + 2):
            used = {self.trials.levers[n].slot for n, _ in settings}
            free = [n for n in sums.by if self.trials.levers[n].slot not in used]
            options = sorted((sums.next_best(settings, n), self._rank([n]), n) for n in free)[:8]
            tried = []
            for (_, value), rank, n in options:
                again = tuple(sorted([*settings, (n, value)]))
                tried.append((self._tried(again), rank, again))
            if not tried:
                return None
            best, _, again = min(tried)
            if best >= score:
                again = self._stepped(again, STEPS, lambda its, now: its < now, lambda its: its < score)  # noqa: B023
                best = self._tried(again)
                if best >= score:
                    return None
            settings, score = again, best
            if score[0] == 0:
                return self._without_spare(settings)
        return None

    def _without_spare(self, settings: Settings) -> Settings:
        """Return settings less the levers without which it does as well, the dearest first."""
        for one in sorted(settings, key=lambda s: self._rank([s[0]]), reverse=True):
            fewer = tuple(s for s in settings if s != one)
            if self._tried(fewer)[0] == 0:
                settings = fewer
        return settings

    def _polished(self, settings: Settings, sums: Sums) -> Found:
        """Return a set that does, set so that fewest warnings are left, and moved as little as that takes."""
        settings = self._without_spare(settings)
        if not settings:
            return self._found(())
        others = [one for one in sums.spoken_for(_levers(settings), 3 * FIRST) if self._tried(one)[0] == 0]
        best = min([settings, *others], key=lambda one: _quiet(self._tried(one)))
        best = self._stepped(best, POLISH, lambda its, now: _quiet(its) < _quiet(now))
        for n, _ in settings:
            best = self._nearer(best, n, self._tried(best))
        return self._found(best)

    def _nearer(self, settings: Settings, number: int, now: Score) -> Settings:
        """Return settings with one lever moved less, as long as no finding more comes of it."""
        lever = self.trials.levers[number]
        if not lever.numbers:
            return settings
        near, far = (
            min(range(len(lever.values)), key=lambda k: abs(lever.values[k] - lever.now)),
            dict(settings)[number],
        )
        while abs(far - near) > 1:
            middle = (near + far) // 2
            score = self._tried(tuple((m, middle if m == number else k) for m, k in settings))
            if (score[0], score[2]) <= (now[0], now[2]) and score[3] <= now[3] + EDGE:
                far = middle
            else:
                near = middle
        return tuple((m, far if m == number else k) for m, k in settings)

    def _found(self, settings: Settings) -> Found:
        cost = self.cost([number for number, _ in settings])
        up = 0.0
        for number, value in settings:
            lever = self.trials.levers[number]
            up += 0.0 if lever.gives_up is None else lever.gives_up(lever.values[value])
        return Found(
            settings=settings,
            cost=cost,
            total=self.costs.money(cost),
            gives_up=up,
            outcome=self.trials.outcome(settings),
        )


def _hides(found: Outcome) -> bool:
    """Return whether it stands nowhere, so that what there is to say of where it stands is not known."""
    return any(key[0] == "standing" and found.faults[key] == KNOWN_BY_MARK for key in found.faults)


def _levers(settings: Settings) -> tuple[int, ...]:
    return tuple(number for number, _ in settings)


def _quiet(score: Score) -> tuple[int, int, float]:
    """Return faults, warnings, and how far beyond."""
    return (score[0], score[2], score[3])


def _about_now(lever: Lever) -> list[int]:
    """Return settings near today's and ever further off, each way."""
    found: set[int] = set()
    for way in (1, -1):
        side = sorted(
            (abs(value - lever.now), k)
            for k, value in enumerate(lever.values)
            if (value - lever.now) * way > 0
        )
        found |= {side[min(int(share * len(side)), len(side) - 1)][1] for share in SCANNED if side}
    return sorted(found)
