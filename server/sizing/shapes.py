"""What more than one way of sizing answers."""

from ninja import Schema


class StandsOut(Schema):
    """Where a station comes to stand: mm of travel, N/mm, Hz; null where it stands nowhere."""

    ride: float | None
    wheel_rate: float | None
    frequency: float | None


class TriedOut(StandsOut):
    """The same, mm of damper left over the wanted travel (null without a damper), and why it stands nowhere."""

    left_in_bump: float | None
    left_in_droop: float | None
    fault: str | None
