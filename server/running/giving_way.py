"""Work that nobody's hand is on gives way to what answers at the bench.

A study may wait all night: where a shop is served it has only what is left of a core, by Linux's idle class. What a person
waits for has its share, however small: beside any other program that computes on the machine the idle class would be given
next to nothing, and a second's work would stand still.
"""

import os

NICE = (
    12  # a sixteenth of what somebody beside it gets: ten of these who nudge do not feel it, and it goes on
)


def leave_all() -> None:
    """Let this process have only what others leave of a core; where nobody is served, its share, and a small one."""
    if os.environ.get("JUGATRIX_SERVED") and hasattr(os, "SCHED_IDLE"):
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    else:
        os.nice(NICE)


def give_way() -> None:
    """Let this process go behind those who answer, and still have its share: nicer, and none that cuts in."""
    os.nice(NICE)
    if hasattr(os, "SCHED_BATCH"):
        os.sched_setscheduler(0, os.SCHED_BATCH, os.sched_param(0))
