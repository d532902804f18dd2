"""What an exercise is made of.

Truth      the car as it really is: the drawing, with the errors of its frame and castings.
Decision   a fork where people go wrong: what is asked, and the ways on. The first way is the one that comes through.
Believed   the job as the worker has it: places as he measured them, parts as he chose them.
Built      the truth with the worker's choices in it, each new mount as near to where it was meant as hands weld.
Check      what is looked at when it stands: what was wanted, what came, and which decision answers for it.
"""

from collections.abc import Callable
from typing import Any

from engine.facts import facts
from engine.results.whole import WorkedProject

Values = dict[str, Any]


@facts
class Way:
    """One way on from a decision: its name, what it does to the job, and what is said of whoever took it and should not have."""

    name: str
    does: Callable[[Values, WorkedProject], Values]
    mistake: str = ""


@facts
class Decision:
    """A fork: its key, what is asked, the ways on, hours and money that it costs to take, and to take back and do again.

    again_pieces : pieces that are cut twice where it is done again
    """

    key: str
    asks: str
    ways: tuple[Way, ...]
    hours: float = 1.0
    money: float = 0.0
    again_hours: float = 3.0
    again_money: float = 0.0
    again_pieces: int = 0

    def way(self, name: str) -> Way:
        """Return a way by its name; raises StopIteration where there is none."""
        return next(one for one in self.ways if one.name == name)


@facts
class Came:
    """What was wanted and what came: both as figures of what they measure, or None where it cannot be told; well or not."""

    what: str
    wanted: float | None
    got: float | None
    measures: str
    well: bool
    say: str


@facts
class Check:
    """What is looked at when it stands, and which decision answers for it."""

    answers: str
    looks: Callable[[WorkedProject], Came]


@facts
class Exercise:
    """An exercise: its key, what it is about, the car as drawn, its decisions in the order of the work, what is looked at."""

    key: str
    title: str
    about: str
    drawn: Callable[[], Values]
    decisions: tuple[Decision, ...]
    checks: tuple[Check, ...]
