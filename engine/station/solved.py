"""One station solved: swept over its travel, set on its weight, searched for what ends it."""

from functools import cached_property

import numpy as np

from engine.conventions import SEARCH_BEYOND, TOLERANCES
from engine.document.schema import Station
from engine.errors import LinkageRefused
from engine.facts import facts
from engine.linkage.linkage import Linkage
from engine.linkage.path import Path
from engine.linkage.vectors import Array, distinct
from engine.sentences import Sentence, spoken
from engine.station.at_wheel import Springing, springing_of
from engine.station.ends import Limit, find_limits
from engine.station.equilibrium import Ride, filled, find_ride
from engine.station.rows import Mover, Rows, rows_of

SEARCH_ROWS = 61


@facts
class SolvedStation:
    """A station with everything worked out.

    mover       its linkage on its path under its springs, bags filled; asked for rows at any travel
    sweep       rows asked for; `reached` says which of them the linkage can take
    ride        where it carries its weight, or None with `ride_fault` in words
    limits      what ends the travel, first met first
    filled_at_ride  whether the bags' stated pressure holds the weight somewhere; else shut as drawn
    mismatch_mm     what the bushings of an over-constrained axle must absorb in heave
    """

    station: Station
    mover: Mover
    sweep: Rows
    reached: np.ndarray
    ride: Ride | None
    ride_fault: Sentence | None
    at_ride: Rows | None
    limits: tuple[Limit, ...]
    filled_at_ride: bool
    mismatch_mm: float
    mismatch_body: str

    @property
    def linkage(self) -> Linkage:
        """Return the linkage."""
        return self.mover.linkage

    @property
    def path(self) -> Path:
        """Return the linkage followed over the searched travel."""
        return self.mover.path

    @property
    def springing(self) -> Springing:
        """Return what pushes, its bags filled."""
        return self.mover.springing

    @property
    def search(self) -> Rows:
        """Return the rows of the searched travel; where it is not reached they hold NaN."""
        return self.mover.along

    def at(self, travels: Array) -> Rows:
        """Return exact rows at travels (positions,) mm of the searched travel; one alone is kept at hand."""
        if len(travels) != 1:
            return self.mover.at(travels)
        one = float(travels[0])
        if one not in self._stood:
            self._stood[one] = self.mover.at(travels)
        return self._stood[one]

    @cached_property
    def _stood(self) -> dict[float, Rows]:
        return {}

    def across(self, amounts: Array, heave_mm: float) -> Rows:
        """Return an axle's rows with its left wheel up by amounts (positions,) mm and its right one down, about a heave."""
        path = self.linkage.articulate(amounts, heave_mm)
        return rows_of(self.linkage, self.springing, amounts, path.solution)

    @cached_property
    def taken(self) -> Rows:
        """Return the rows of the wanted travel that the linkage takes, the end of its reach among them."""
        travel, travels = self.station.travel, self.search.travels
        inside = (travels >= -travel.droop) & (travels <= travel.bump)
        return self.search.pick(np.flatnonzero(inside & self.path.reached))

    @cached_property
    def nearest_drawn(self) -> float | None:
        """Return the reached travel nearest to the drawn position, mm."""
        travels = self.search.travels[self.path.reached]
        return float(travels[np.abs(travels).argmin()]) if len(travels) else None

    @cached_property
    def preload_left(self) -> dict[str, float]:
        """Return how far each coil stack is still squeezed at its longest, mm; negative is loose.

        At full droop, or where the damper tops out first.
        """
        left = {}
        for law in self.springing.laws:
            lengths = self.taken.units[law.name].length
            if law.stack is not None and len(lengths):
                topped = [event.length_mm for event in law.events if event.kind == "damper_extended"]
                left[law.name] = law.free_reference - min([float(lengths.max()), *topped])
        return left

    @cached_property
    def pressure_wanted_bar(self) -> float | None:
        """Return the gauge pressure, the same in every bag, that would carry the weight where it is wanted."""
        return self.pressure_for(self.station.travel.at or 0.0)

    def pressure_for(self, travel_mm: float, weight_n: float | None = None) -> float | None:
        """Return the gauge pressure (bar, the same in every bag) that carries a weight at a travel, else today's.

        None without bags, out of reach, or where no pressure can.
        """
        if not self.springing.on_air or not self.path.reached.any():
            return None
        at = self.at(np.array([travel_mm]))
        if not at.solution.closed[0]:
            return None
        return self.springing.pressure_for(at.squeezes.at(0), weight_n)


def mover_of(station: Station, where: str = "", travels: Array | None = None) -> Mover:
    """Return a station's linkage followed through sorted travels (mm; only as drawn if left out), valves open.

    where : the station's place in the file, for refusals
    """
    linkage = Linkage(station, where)
    return Mover(linkage, linkage.follow(np.zeros(1) if travels is None else travels), springing_of(station))


def solve_station(
    station: Station, where: str = "", steps: int = 41, search_rows: int = SEARCH_ROWS
) -> SolvedStation:
    """Return a station solved at `steps` positions from full droop to full bump, searched at more beyond.

    Raises LinkageRefused or LinkageDidNotClose.
    """
    linkage = Linkage(station, where)
    travel = station.travel
    wanted = np.linspace(-travel.droop, travel.bump, steps)
    wider = np.linspace(-SEARCH_BEYOND * travel.droop, SEARCH_BEYOND * travel.bump, search_rows)
    everywhere = distinct(np.concatenate([wanted, wider, [0.0]]))
    return _solved(Mover(linkage, linkage.follow_to_the_end(everywhere), springing_of(station)), wanted)


def solve_again(solved: SolvedStation, station: Station) -> SolvedStation:
    """Return a changed station solved, its linkage taken over where nothing in the change moves it."""
    wanted = solved.sweep.travels
    if station.motion != solved.station.motion:
        return solve_station(station, solved.linkage.where, len(wanted))
    before = Mover(solved.linkage.carrying(station), solved.path, solved.springing)
    before.__dict__["along"] = solved.search
    return _solved(before.under(springing_of(station)), wanted)


def _solved(opened: Mover, wanted: Array) -> SolvedStation:
    """Solve along a path that is known already; `wanted` are the sweep's travels, all on the path."""
    station, path = opened.station, opened.path
    mismatch, body = opened.linkage.mismatch_mm(path)
    _refuse_fighting(opened.linkage, mismatch, body)
    mover, at_ride = filled(opened)
    found = find_ride(mover)
    pick = np.searchsorted(path.travels, wanted)
    return SolvedStation(
        station=station,
        mover=mover,
        sweep=mover.along.pick(pick),
        reached=path.reached[pick],
        ride=found.ride,
        ride_fault=found.fault,
        at_ride=found.at,
        limits=find_limits(mover),
        filled_at_ride=at_ride,
        mismatch_mm=mismatch,
        mismatch_body=body,
    )


def _refuse_fighting(linkage: Linkage, mismatch: float, body: str) -> None:
    if linkage.station.kind == "corner" and mismatch > TOLERANCES.held_mismatch_mm:
        raise LinkageRefused(
            "linkage_held",
            f"The {spoken(body)} is doubly held: through the travel its joints would open "
            f"{mismatch:.2f} mm. Take one joint or hinge out, or bring its axes parallel.",
            (body,),
            linkage.where,
        )
