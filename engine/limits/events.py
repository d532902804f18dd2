"""Everything that may happen on the way up or down, each in one place: what is said of it, and how it ends travel.

Soft   takes the wheel's movement up over some way: a stop that ought to come first.
Hard   nothing goes further without breaking.
Told   worth a notch, but it ends nothing.
"""

from typing import Literal

from engine.facts import facts


@facts
class EventKind:
    """One kind of event. `said` follows the name of what it happens to; `short` stands alone on the Jack."""

    code: str
    said: str
    short: str
    takes: Literal["soft", "hard", "told"]
    spent: bool = False
    """It tells where a soft stop has given all it can, not where it begins."""


EVENTS: dict[str, EventKind] = {
    kind.code: kind
    for kind in (
        EventKind(code="damper_extended", said="tops out", short="tops out", takes="hard"),
        EventKind(code="damper_compressed", said="bottoms", short="bottoms", takes="hard"),
        EventKind(code="coil_solid", said="reaches coil bind", short="coil bind", takes="hard"),
        EventKind(code="coil_loose", said="has its coil loose", short="coil loose", takes="told"),
        EventKind(code="strap_taut", said="comes taut", short="strap taut", takes="soft"),
        EventKind(
            code="strap_end", said="has stretched to its end", short="strap at end", takes="hard", spent=True
        ),
        EventKind(code="bump_stop_contact", said="touches", short="bump stop", takes="soft"),
        EventKind(
            code="bump_stop_solid", said="is squashed flat", short="stop flat", takes="hard", spent=True
        ),
        EventKind(
            code="bag_min_height", said="is pressed to its least height", short="bag bottoms", takes="hard"
        ),
        EventKind(
            code="bag_max_height", said="is pulled to its greatest height", short="bag at top", takes="hard"
        ),
        EventKind(code="linkage_reach", said="can reach no further", short="no reach", takes="hard"),
        EventKind(code="joint_bind", said="binds", short="joint binds", takes="hard"),
        EventKind(code="shaft_bind", said="binds its joint", short="shaft binds", takes="hard"),
        EventKind(code="shaft_short", said="bottoms", short="shaft bottoms", takes="hard"),
        EventKind(code="shaft_long", said="pulls out", short="shaft pulls out", takes="hard"),
        EventKind(code="metal_contact", said="touch", short="touches", takes="hard"),
    )
}

SOFT = frozenset(code for code, kind in EVENTS.items() if kind.takes == "soft")
HARD = frozenset(code for code, kind in EVENTS.items() if kind.takes == "hard")
SPENT = frozenset(code for code, kind in EVENTS.items() if kind.spent)
