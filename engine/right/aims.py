"""What a plan is to be least in, or to leave alone, and the search of every group for it, one shelf for all of them."""

import itertools
import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from engine.facts import facts
from engine.right.costs import Cost, Costs
from engine.right.groups import Group
from engine.right.lever import Lever
from engine.right.search import MOST_SOLVES, Found, Search
from engine.right.trial import Trials
from engine.telling import Tell, within

HELD_RIDE_MM, KEPT_HEIGHT_MM = 0.05, 1.0
PARTS_KEPT = {"spring", "damper", "shelf", "rod", "rocker_drawn", "rocker_made"}


@dataclass(frozen=True)
class Aim:
    """What a plan is for; `price` what is to be least, `allows` which levers, `ride_within` mm that its height may move."""

    why: str
    price: Callable[[Cost, Costs], float]
    allows: Callable[[Lever, Costs], bool]
    ride_within: float | None = None


def _any(lever: Lever, costs: Costs) -> bool:
    return True


def _money(cost: Cost, costs: Costs) -> float:
    return costs.money(cost)


AIMS = (
    Aim("least cost", _money, _any),
    Aim("least work", lambda cost, costs: cost.hours + 1e-6 * costs.money(cost), _any),
    Aim("nothing to wait for", _money, lambda lever, costs: costs.of[lever.key].days == 0),
    Aim("keeps the parts", _money, lambda lever, _: lever.key not in PARTS_KEPT),
    Aim("keeps the height", _money, _any, KEPT_HEIGHT_MM),
)


@facts(kw_only=False)
class Asked:
    """What is looked for in every group under one aim.

    firsts : what the first aim ended at; None while that is looked for
    stuck  : groups that had to give up a wish
    there  : how many of a part lie on the shelf, by its name
    """

    groups: Sequence[Group]
    aim: Aim
    costs: Costs
    firsts: Sequence[Found | None] | None
    stuck: frozenset[int]
    there: Mapping[str, int]

    def found(self, tell: Tell) -> tuple[list[Found | None], frozenset[int]]:
        """Return what each group's search ends at, and which had to give up a wish.

        Each is looked for as if the shelf were its own. Where they then take more of a part than there is, who takes
        first is tried every way round, and the others do with what is left.
        """
        every = range(len(self.groups))
        alone = self._in_turn(every, {}, False, tell)
        if not (both := self._want_the_same(alone[0])):
            return alone
        settled = {k: alone[0][k] for k in every if k not in both}
        tries = [self._in_turn(order, settled, True, tell) for order in itertools.permutations(both)]
        return min(tries, key=lambda one: _worth(one[0]))

    def _in_turn(
        self, order: Sequence[int], settled: Mapping[int, Found | None], share: bool, tell: Tell
    ) -> tuple[list[Found | None], frozenset[int]]:
        got, gave_up, left = dict(settled), set(self.stuck), Counter(self.there)
        for k, its in settled.items():
            left.subtract(self._taken(k, its))
        for at, k in enumerate(order):
            mine = {part: left[part] for part in self.there} if share else self.there
            got[k], up = self._of_group(k, mine, within(tell, at / len(order), (at + 1) / len(order)))
            left.subtract(self._taken(k, got[k]))
            gave_up |= {k} if up else set()
        return [got[k] for k in range(len(self.groups))], frozenset(gave_up)

    def _taken(self, k: int, its: Found | None) -> Counter[str]:
        return Counter() if its is None else self.groups[k].trials.taken(its.settings)

    def _want_the_same(self, found: Sequence[Found | None]) -> list[int]:
        """Return the groups that take parts of which there are fewer than all of them take."""
        each = [self._taken(k, its) for k, its in enumerate(found)]
        short = {part for part in self.there if sum(its[part] for its in each) > self.there[part]}
        return [k for k, its in enumerate(each) if short & set(its)]

    def _of_group(self, k: int, there: Mapping[str, int], tell: Tell) -> tuple[Found | None, bool]:
        """Return what the search of one group ends at, and whether it had to give up a wish: only where nothing else does."""
        group, aim, costs, stuck = self.groups[k], self.aim, self.costs, k in self.stuck
        first = None if self.firsts is None else self.firsts[k]
        ride = HELD_RIDE_MM if group.held.ride else aim.ride_within
        trials = Trials(**{**vars(group.trials), "ride_within": ride, "there": there})
        levers = group.levers[0]
        kept = tuple(n for n in group.free if aim.allows(levers[n], costs))
        if first is not None and (stuck or not first.settings):
            fits = all(n in kept for n, _ in first.settings) and not trials.outcome(first.settings).faults
            return (first if fits else None), stuck

        def search(usable: Sequence[int]) -> Found | None:
            return Search(
                trials=trials,
                costs=costs,
                usable=tuple(usable),
                price=lambda cost: aim.price(cost, costs),
                most=MOST_SOLVES if first is None else MOST_SOLVES // 3,
                tell=tell,
            ).best()

        found = search([n for n in kept if levers[n].gives_up is None])
        if found is None and first is None:
            return search(kept), True
        return found, False


def _worth(found: Sequence[Found | None]) -> tuple[int, float, float]:
    """Return what says which of several ways is taken: groups with nothing, what is given up, what it costs."""
    there = [one for one in found if one is not None]
    return (
        len(found) - len(there),
        math.fsum(one.gives_up for one in there),
        math.fsum(one.total for one in there),
    )
