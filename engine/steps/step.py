"""The steps of a job, in the order of the work, and what each needs.

Per      a station or the vehicle, of which there is one.
Needs    steps of the same station; where it has none of that name, of the vehicle. What a need itself needs counts too.
Usual    hours that it takes: one in ten is quicker than the first, half than the second, nine in ten than the third;
         for each piece or mount where `each` says so.
Tool     the one thing in the shop that it takes: the welder, the lift.
"""

from typing import Literal

from engine.facts import facts

Per = Literal["station", "vehicle"]
Hours = tuple[float, float, float]


@facts
class Step:
    """One kind of step; `every` where a vehicle's step needs its needs of every station."""

    key: str
    name: str
    per: Per
    sheet: str
    needs: tuple[str, ...] = ()
    hours: Hours
    each: Literal["piece", "mount"] | None = None
    tool: Literal["welder", "lift"] | None = None


STEPS: tuple[Step, ...] = (
    Step(key="brief", name="Brief", per="vehicle", sheet="brief", hours=(0.3, 0.5, 1.5)),
    Step(key="guard", name="Check dimensions", per="vehicle", sheet="survey", needs=("brief",), hours=(0.5, 1.0, 2.5)),
    Step(key="survey", name="Survey", per="station", sheet="survey", needs=("brief",), hours=(0.8, 1.5, 3.0)),
    Step(key="layout", name="Layout", per="station", sheet="layout", needs=("survey",), hours=(1.0, 2.0, 6.0)),
    Step(key="rocker", name="Rocker", per="station", sheet="rocker", needs=("layout",), hours=(1.0, 2.0, 5.0)),
    Step(key="springing", name="Springing", per="station", sheet="springing", needs=("layout", "rocker"), hours=(0.5, 1.0, 3.0)),
    Step(key="stops", name="Stops", per="station", sheet="stops", needs=("springing",), hours=(0.3, 0.7, 2.0)),
    Step(key="order", name="Buy", per="station", sheet="make", needs=("springing", "stops"), hours=(0.3, 0.5, 1.0)),
    Step(key="make", name="Make", per="station", sheet="make", needs=("stops",), hours=(0.3, 0.6, 1.3), each="piece"),
    Step(key="tack", name="Tack", per="station", sheet="make", needs=("make", "guard"), hours=(0.3, 0.5, 1.2), each="mount", tool="welder"),
    Step(key="cycle", name="Cycle", per="station", sheet="prove", needs=("tack",), hours=(1.0, 2.0, 4.0), tool="lift"),
    Step(key="weld", name="Weld out", per="station", sheet="prove", needs=("cycle",), hours=(0.3, 0.6, 1.3), each="mount", tool="welder"),
    Step(key="weigh", name="Weigh", per="vehicle", sheet="prove", needs=("weld",), hours=(0.8, 1.5, 3.0)),
    Step(key="set", name="Set", per="vehicle", sheet="prove", needs=("weigh",), hours=(0.7, 1.5, 4.0), tool="lift"),
    Step(key="drive", name="Drive", per="vehicle", sheet="log", needs=("set",), hours=(0.5, 1.0, 3.0)),
)  # fmt: skip
BY_KEY = {step.key: step for step in STEPS}
PARTS_COME = "cycle"
"""The step that waits until everything bought for it has come."""
