"""Positions over heave and articulation together: every way in which the wheels may stand within their travel.

Heave         mean height of the wheels above drawn, mm.
Articulation  how far the left wheel stands above the mean and the right one below it, mm; nothing for a corner.
"""

import numpy as np

from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.vectors import Array


@facts(kw_only=False)
class Grid:
    """Solved positions; only those that the linkage reaches and the travel allows.

    place        : (3, n, positions) mm
    heave, articulation : (positions,) mm
    """

    place: Array
    heave: Array
    articulation: Array


def grid_of(linkage: Linkage, steps: int = 41, crossings: int = 5) -> Grid:
    """Return positions over the wanted travel: `steps` of heave by `crossings` of articulation."""
    travel = linkage.station.travel
    heaves = np.linspace(-travel.droop, travel.bump, steps)
    if linkage.articulation() is None:
        path = linkage.follow_to_the_end(heaves)
        level = np.zeros(int(path.reached.sum()))
        return Grid(path.solution.motion.place[:, :, path.reached], path.travels[path.reached], level)
    places, risen, crossed = [], [], []
    for amount in np.linspace(-articulation_mm(linkage), articulation_mm(linkage), crossings):
        inside = heaves[
            (heaves + abs(amount) <= travel.bump + 1e-9) & (heaves - abs(amount) >= -travel.droop - 1e-9)
        ]
        if not len(inside):
            inside = np.array([(travel.bump - travel.droop) / 2])
        path = linkage.follow(inside, float(amount)).to_the_end()
        places.append(path.solution.motion.place[:, :, path.reached])
        risen.append(path.travels[path.reached])
        crossed.append(np.full(int(path.reached.sum()), amount))
    return Grid(np.concatenate(places, axis=2), np.concatenate(risen), np.concatenate(crossed))


def articulation_mm(linkage: Linkage) -> float:
    """Return how far one wheel is wanted to rise while the other falls, mm."""
    travel = linkage.station.travel
    most = (travel.bump + travel.droop) / 2
    return most if travel.articulation is None else min(travel.articulation, most)
