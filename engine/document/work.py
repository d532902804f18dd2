"""How far the work has come, what is to stay as it is, and what a change costs this shop.

State   of a chassis point: drawn, tacked or welded; of a body: drawn or made. Left out is drawn.
Held    a point, a body, a unit, a station's travel, or where it stands: STATION/NAME, STATION/travel, STATION/ride; or
        travel or ride alone, for every station.
Cost    hours at the bench, money for parts, days to wait.
"""

from typing import Annotated, Literal

from pydantic import Field

from engine.document.fields import Stated

COST_KEYS = (
    "turned", "hole", "shimmed", "shelf", "stop", "strap", "spring", "damper", "rod",
    "moved_drawn", "moved_tacked", "moved_welded", "rocker_drawn", "rocker_made", "room",
)  # fmt: skip
RATE = "rate"
TRAVEL, RIDE = "travel", "ride"
POINT_STATES, BODY_STATES = ("drawn", "tacked", "welded"), ("drawn", "made")

Amount = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1e6)]
Named = Annotated[str, Field(min_length=1, max_length=210)]


class ChangeCost(Stated):
    """What one kind of change costs; what is left out costs as usual."""

    hours: Amount | None = None
    money: Amount | None = Field(None, description="in the shop's currency")
    days: Amount | None = Field(None, description="to wait for parts")


class Work(Stated):
    """The state of the work, what is held, and the shop's own costs."""

    state: Annotated[dict[Named, Literal["drawn", "tacked", "welded", "made"]], Field(max_length=2000)] = (
        Field(default_factory=dict, description="STATION/POINT or STATION/BODY to how far it is")
    )
    held: Annotated[list[Named], Field(max_length=2000)] = Field(
        default_factory=list, description="what stays as it is"
    )
    costs: Annotated[dict[Named, Amount | ChangeCost], Field(max_length=40)] = Field(
        default_factory=dict, description="by kind of change; `rate` is money an hour"
    )
