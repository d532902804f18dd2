"""The best few of many places for a mount: by what one may want of it, each put in and solved with its clearances.

Fits   damper stroke left at both ends as the shop wants it; a spring or bag fits everywhere.
Wish   what a place is best at: the most ratio, the steadiest, the least lean, or the least change to what is drawn.
"""

import numpy as np

from engine.errors import EngineError
from engine.facts import facts
from engine.findings.finding import Rules
from engine.findings.judge import judge
from engine.linkage.vectors import Array
from engine.sizing.places import Places
from engine.sizing.tried import moved
from engine.station.solved import SolvedStation
from engine.workup import WorkUp

APART_MM = 12.0
STEPS = 41


@facts
class Best:
    """One place: why it is named, where it is (mm as drawn), and what it does.

    ratio per wheel where it should stand; left mm of damper, the lesser end (None for no damper); lost the share of
    travel lost to lean; clear mm to the nearest thing of the unit (None with nothing near); faults it raises
    """

    wish: str
    place: list[float]
    ratio: float
    left: float | None
    lost: float
    clear: float | None
    faults: int


def best_places(solved: SolvedStation, unit: str, end: str, places: Places, rules: Rules) -> tuple[Best, ...]:
    """Return the best place for each wish among those that fit, really apart from one another; empty if none fits."""
    left = None
    fits = np.full(len(places.place), True)
    if places.left_in_bump is not None and places.left_in_droop is not None:
        left = np.minimum(places.left_in_bump, places.left_in_droop)
        fits = left >= rules.damper_left_mm
    fits &= places.ratio > 0
    if not fits.any():
        return ()
    now = np.array(solved.station.points[end], dtype=float)
    away = np.linalg.norm(places.place - now, axis=1)
    # What is not the wish breaks ties: nearer to the drawing is less work.
    wishes: dict[str, Array] = {
        "nearest": away,
        "ratio": -places.ratio + 1e-4 * away,
        "steady": np.abs(places.slope) + 1e-5 * away,
        "lean": -places.in_line + 1e-5 * away,
    }
    found: list[Best] = []
    taken: list[Array] = []
    for wish, cost in wishes.items():
        free = fits.copy()
        for other in taken:
            free &= np.linalg.norm(places.place - other, axis=1) > APART_MM
        if not free.any():
            continue
        k = int(np.where(free, cost, np.inf).argmin())
        made = _best_made(solved, unit, end, places, left, k, wish, rules)
        if made is not None:
            found.append(made)
            taken.append(places.place[k])
    return tuple(found)


def _best_made(
    solved: SolvedStation,
    unit: str,
    end: str,
    places: Places,
    left: Array | None,
    k: int,
    wish: str,
    rules: Rules,
) -> Best | None:
    place = [round(float(c), 2) for c in places.place[k]]
    try:
        again = moved(solved, {end: place}, STEPS)
    except EngineError:
        return None
    work = WorkUp(again)
    near = [
        one.distance
        for one in work.clearances
        if unit in (one.one, one.other) or f"{unit} body" in (one.one, one.other)
    ]
    return Best(
        wish=wish,
        place=place,
        ratio=float(places.ratio[k]),
        left=None if left is None else float(left[k]),
        lost=1.0 - float(places.in_line[k]),
        clear=min(near, default=None),
        faults=sum(finding.mark == "fault" for finding in judge(again, rules, work)),
    )
