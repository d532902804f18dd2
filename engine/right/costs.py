"""What a change costs: hours at the bench, money for parts, days to wait. Usual values, and the shop's own over them."""

from dataclasses import dataclass

from engine.document.work import RATE, ChangeCost, Work

USUAL_RATE = 60.0  # money an hour


@dataclass(frozen=True)
class Cost:
    """hours at the bench; money in the shop's currency; days to wait for parts."""

    hours: float = 0.0
    money: float = 0.0
    days: float = 0.0


USUAL = {
    "turned": Cost(0.2),
    "hole": Cost(0.5),
    "shimmed": Cost(0.5, 5.0),
    "shelf": Cost(1.0),
    "stop": Cost(1.5, 40.0, 2.0),
    "strap": Cost(1.5, 40.0, 2.0),
    "spring": Cost(1.0, 90.0, 5.0),
    "damper": Cost(1.5, 350.0, 10.0),
    "rod": Cost(2.0, 20.0),
    "moved_drawn": Cost(),
    "moved_tacked": Cost(1.5),
    "moved_welded": Cost(5.0, 15.0),
    "rocker_drawn": Cost(),
    "rocker_made": Cost(3.0, 40.0),
    "room": Cost(3.0, 10.0),
    "wish": Cost(),
}


@dataclass(frozen=True)
class Costs:
    """What each kind of change costs in a shop, and what an hour of it costs."""

    rate: float
    of: dict[str, Cost]

    def of_change(self, key: str, sides: int) -> Cost:
        """Return what a change costs on one side, or on both alike: twice the hours and the money, the same days."""
        its = self.of[key]
        return Cost(its.hours * sides, its.money * sides, its.days)

    def money(self, cost: Cost) -> float:
        """Return hours and money as one sum."""
        return cost.hours * self.rate + cost.money


def costs_of(work: Work | None) -> Costs:
    """Return the usual costs with the shop's own in their place."""
    own = {} if work is None else work.costs
    rate = own.get(RATE)
    found = dict(USUAL)
    for key, given in own.items():
        if isinstance(given, ChangeCost):
            usual = USUAL[key]
            found[key] = Cost(
                usual.hours if given.hours is None else given.hours,
                usual.money if given.money is None else given.money,
                usual.days if given.days is None else given.days,
            )
    return Costs(rate if isinstance(rate, float | int) else USUAL_RATE, found)
