"""Work that nobody's hand is on gives way to what answers at the bench."""

import os

NICE = 15


def give_way() -> None:
    """Let this process have only what those who answer leave of a core.

    Where a shop is served, by Linux's idle class: whoever answers takes the core at once, and a core with nothing else
    on it counts as free when he looks for one. Being merely nicer, a search kept one of two cores looking taken, and two
    who answered shared the other. Anywhere else (a study by itself, tests beside one another) nobody would leave it
    anything: it is nicer, and has its share.
    """
    if os.environ.get("JUGATRIX_SERVED") and hasattr(os, "SCHED_IDLE"):
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    else:
        os.nice(NICE)
