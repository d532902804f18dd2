"""The vehicle in roll: does it lean too far on its springs alone?"""

from engine.findings import kinds
from engine.findings.finding import Finding, Rules
from engine.ride.balance import Balance
from engine.sentences import Quantity, Sentence


def judge_roll(balance: Balance | None, rules: Rules) -> list[Finding]:
    """Return what there is to say of the roll gradient."""
    if balance is None:
        return []
    wanted = rules.roll_gradient_deg_per_g
    bar = Quantity(balance.wanted_bar, "roll_stiffness")
    why = "A car that leans far puts its tyres on their edges, and takes its time about it."
    if balance.gradient is None:
        return [
            Finding(
                kind=kinds.ROLL_GRADIENT,
                mark="fault",
                what=Sentence(
                    "On its springs alone it would fall over: roll stiffness is less than its weight needs."
                ),
                why=why,
                remedy=Sentence(
                    "Fit an anti-roll bar of {bar}, or set the springs further out.", {"bar": bar}
                ),
            )
        ]
    values = {"lean": Quantity(balance.gradient, "angle"), "wanted": Quantity(wanted, "angle")}
    good = balance.gradient <= wanted
    return [
        Finding(
            kind=kinds.ROLL_GRADIENT,
            mark="good" if good else "warning",
            what=Sentence(
                "On its springs alone it leans {lean} for each g in a corner; {wanted} is usual.", values
            ),
            why=why,
            remedy=None
            if good
            else Sentence(
                "An anti-roll bar of {bar} would bring it there, or springs set further out.", {"bar": bar}
            ),
            travel_mm=None,
            value=balance.gradient,
            limit=wanted,
            measures="angle",
        )
    ]
