"""One station in many geometries under many springs, each standing where it is wanted by its perch.

Perch      what the spring's seat is turned by from as drawn, mm, so that the coils carry the weight where the wheel is to stand.
Left       what is left of dampers and coils over the whole wanted travel, mm.
Roll       N·m per degree, springs and bars: K·t²/2 on a corner's track, half of it where the other side is a station of its
           own; an axle's by its articulation, K_a·t²/4, in every geometry.
Wound      how far a perch may still be wound each way, mm, where the job says it.
"""

import math
from functools import lru_cache

import numpy as np

from engine.document.coming import wheels_of
from engine.document.mirror import images_of
from engine.document.schema import Coilover, Damper, Spring, SpringUnit, Station
from engine.facts import facts
from engine.forces.stack import Stack, stack_of
from engine.forces.units import damper_ends_mm
from engine.linkage.batch import articulating
from engine.linkage.vectors import Array
from engine.ride.roll import NM_PER_DEG, Roll, roll_of
from engine.ride.settled import Swept, settled, swept
from engine.station.at_wheel import Squeezes
from engine.station.equilibrium import frequencies_hz
from engine.station.solved import SolvedStation, solve_station
from engine.station.traces import squeezed
from engine.study.asked import Place, Vary, coils_of

POSITIONS = 13
HALVINGS = 44
STEPS = 41


@facts
class Ready:
    """A station solved as drawn, and what may be otherwise.

    moves  : (shares, points, 3) what one mm of each share of a box does to the points, mirror images with them
    box    : (shares,) mm each way
    stacks : one for each spring that may be fitted; rates N/mm of those, NaN where what is drawn stays
    copies : 1 where the station stands for both sides, a half where it is one of two
    forced : N·m per degree of roll for each N/mm of wheel rate, of an axle that cannot articulate but by its bushes; else 0
    """

    solved: SolvedStation
    moves: Array
    box: Array
    stacks: tuple[Stack, ...]
    rates: tuple[float, ...]
    track_mm: float
    copies: float
    forced: float
    bar: float
    wound: tuple[float, float]

    @property
    def choices(self) -> int:
        """Return how many shares place everything of this station."""
        return len(self.box)


@facts
class Options:
    """Every geometry with every spring, (geometries, springs); what does not depend on the spring is (geometries,).

    stands    : whether it takes the wanted travel and stands firmly where it is wanted
    frequency Hz, roll N·m per degree, perch mm, coil_left and seat_left mm
    ratio, left mm of its own dampers, longest and shortest mm that its dampers come to
    stops : by bump stop, mm between its ends at which it is to touch, (geometries,); nothing where it stays as drawn
    """

    stands: np.ndarray
    frequency: Array
    roll: Array
    perch: Array
    coil_left: Array
    seat_left: Array
    ratio: Array
    left: Array
    longest: Array
    shortest: Array
    stops: dict[str, Array]


@lru_cache(maxsize=64)
def ready(station: str, vary: str) -> Ready:
    """Return a station made ready, from its JSON and that of what varies."""
    its = Station.model_validate_json(station)
    varies = Vary.model_validate_json(vary)
    solved = solve_station(its, steps=STEPS)
    coils = coils_of(its)
    drawn = [coils[0].springs] if coils else []
    fitted = [with_rate(springs, rate) for springs in drawn for rate in varies.springs] or drawn
    roll = roll_of(solved)
    return Ready(
        solved=solved,
        moves=_moves(solved, varies.places),
        box=np.array([side for place in varies.places for side in place.box], dtype=float),
        stacks=tuple(stack_of(springs) for springs in fitted),
        rates=tuple(varies.springs) if drawn and varies.springs else (math.nan,),
        track_mm=0.0 if roll is None else roll.track,
        copies=1.0 if wheels_of(its) == 2 else 0.5,
        forced=_forced(solved, roll),
        bar=0.0 if roll is None else roll.bar,
        wound=_wound(coils),
    )


def _forced(solved: SolvedStation, roll: Roll | None) -> float:
    """Return an axle's roll stiffness by its wheel rate where only bushes let it articulate: as it is drawn."""
    if solved.station.kind != "axle" or roll is None or solved.ride is None:
        return 0.0
    return (
        0.0
        if solved.linkage.articulation() is not None
        else (roll.stiffness - roll.bar) / solved.ride.wheel_rate
    )


def _wound(coils: list[Coilover | SpringUnit]) -> tuple[float, float]:
    """Return how far every perch may still be wound down and up, mm; without end where the job does not say it."""
    perches = [unit.perch for unit in coils if isinstance(unit, Coilover) and unit.perch is not None]
    return (
        max((-perch.down for perch in perches), default=-math.inf),
        min((perch.up for perch in perches), default=math.inf),
    )


def with_rate(springs: list[Spring], rate: float) -> list[Spring]:
    """Return a stack with its main spring of another rate, N/mm; a flat helper stays."""
    main = next((k for k, spring in enumerate(springs) if not spring.helper), 0)
    other = springs[main].model_copy(update={"rate": rate, "table": None, "wire": None, "two_loads": None})
    return [other if k == main else spring for k, spring in enumerate(springs)]


def _moves(solved: SolvedStation, places: list[Place]) -> Array:
    """Return what a mm of each share does to every point; `out` is away from the middle of the car."""
    index, station = solved.linkage.index, solved.station
    moves = np.zeros((3 * len(places), len(index), 3))
    for number, place in enumerate(places):
        images = images_of(station, {name: list(station.points[name]) for name in place.points})
        for name in (*place.points, *images):
            if name not in index:
                continue
            out = -1.0 if station.points[name][1] < 0 else 1.0
            for axis in range(3):
                moves[3 * number + axis, index[name], axis] = out if axis == 1 else 1.0
    return moves


def geometries(its: Ready, shares: Array) -> Array:
    """Return drawn points for rows of shares −1 to 1 of every box, (rows, points, 3) mm."""
    moved: Array = its.solved.linkage.points + np.einsum("ns,spk->npk", shares * its.box, its.moves)
    return moved


def options(its: Ready, points: Array, stop_at: float | None = None) -> Options:
    """Return every geometry (rows, points, 3) with every spring.

    stop_at : share of the bump travel at which bump stops are set to touch; None leaves them as drawn
    """
    solved, station = its.solved, its.solved.station
    at = station.travel.at or 0.0
    travels = np.unique([*np.linspace(-station.travel.droop, station.travel.bump, POSITIONS), at])
    sweep = swept(solved, points, travels)
    row = int(np.searchsorted(travels, at))
    lengths = sweep.squeezes.length
    ends = {
        k: damper_ends_mm(unit) for k, unit in enumerate(station.units) if isinstance(unit, Coilover | Damper)
    }
    rows = len(points)
    left, longest, shortest = np.full(rows, np.inf), np.full(rows, -np.inf), np.full(rows, np.inf)
    for k, (extended, compressed) in ends.items():
        most, least = lengths[k].max(axis=1), lengths[k].min(axis=1)
        left = np.minimum(left, np.minimum(extended - most, least - compressed))
        longest, shortest = np.maximum(longest, most), np.minimum(shortest, least)
    carries = next((k for k, law in enumerate(solved.springing.laws) if law.springs), 0)
    touching = None
    if stop_at is not None:
        touching = sweep.at(np.full(rows, at + stop_at * (station.travel.bump - at))).length[..., 0]
    whole = np.asarray(sweep.closed.all(axis=1))
    turned = _turned(solved, points, at)
    if its.stacks:
        perch, rate, coil_left, seat_left, across = _on_coils(its, sweep, row, turned, stops=stop_at is None)
    else:
        stood = settled(solved, sweep)
        rate = np.where(stood.stands, stood.at.rate[:, 0], np.nan)[:, None]
        perch, coil_left, seat_left = (
            np.zeros((rows, 1)),
            np.full((rows, 1), np.inf),
            np.full((rows, 1), np.inf),
        )
        across = None
        if turned is not None:
            across = stood.springing.at_wheel(turned).rate * stood.springing.wheels
    frequency = frequencies_hz(rate, station.mass.sprung)
    return Options(
        stands=np.asarray(whole[:, None] & np.isfinite(frequency) & (rate > 0)),
        frequency=frequency,
        roll=_roll(its, rate, across),
        perch=perch,
        coil_left=coil_left,
        seat_left=seat_left,
        ratio=sweep.squeezes.ratio[carries, :, row],
        left=left,
        longest=longest,
        shortest=shortest,
        stops={}
        if touching is None
        else {law.name: touching[k] for k, law in enumerate(solved.springing.laws) if law.stop is not None},
    )


def _roll(its: Ready, rate: Array, across: Array | None) -> Array:
    """Return roll stiffness, (rows, springs) N·m per degree, by wheel rate or by an axle's stiffness against articulation."""
    if across is not None:
        return across * its.track_mm**2 / 4 * NM_PER_DEG + its.bar
    if its.forced:
        return rate * its.forced + its.bar
    return its.copies * (rate * its.track_mm**2 / 2 * NM_PER_DEG + its.bar)


def _turned(solved: SolvedStation, points: Array, at: float) -> Squeezes | None:
    """Return how the units go as an axle articulates where it is wanted, each (units, rows, 1); None where it cannot."""
    if solved.station.kind != "axle" or solved.linkage.articulation() is None:
        return None
    index = solved.linkage.index
    ends = np.array([[index[end] for end in law.ends] for law in solved.springing.laws], dtype=int).reshape(
        -1, 2
    )
    length, ratio, slope = squeezed(ends, articulating(solved.linkage, points, at))
    return Squeezes(length=length[..., None], ratio=ratio[..., None], slope=slope[..., None])


def _on_coils(
    its: Ready, sweep: Swept, row: int, turned: Squeezes | None, *, stops: bool
) -> tuple[Array, Array, Array, Array, Array | None]:
    """Return perch, wheel rate, coil and seat left, each (rows, springs): the perches set so that the wheel stands there.

    With them an axle's stiffness against articulation, as it then stands; None where nothing is `turned`.
    """
    springing, squeezes = its.solved.springing, sweep.squeezes
    coils = [k for k, law in enumerate(springing.laws) if law.stack is not None]
    ratio, slope = squeezes.ratio[..., row], squeezes.slope[..., row]
    force, rate, across = (np.zeros(ratio.shape[1]) for _ in range(3))
    for k, law in enumerate(springing.laws):
        if law.stop is not None and not stops:
            continue  # set to touch further up
        bare = law if k not in coils else law.without_coil()
        its_force, its_rate = bare.at(squeezes.length[k, :, row])
        force = force + ratio[k] * its_force
        rate = rate + ratio[k] ** 2 * its_rate + its_force * slope[k]
        if turned is not None:
            across = across + turned.ratio[k, :, 0] ** 2 * its_rate + its_force * turned.slope[k, :, 0]
    needed = springing.weight_n * springing.wheels - force
    shorter = np.stack([springing.laws[k].free_reference - squeezes.length[k] for k in coils])
    found = [_one_stack(stack, shorter, row, ratio[coils], slope[coils], needed) for stack in its.stacks]
    perch, by_coils, coil_left, seat_left = (np.stack(part, axis=1) for part in zip(*found, strict=True))
    whole = (rate[:, None] + by_coils) / springing.wheels
    if turned is None:
        return perch, whole, coil_left, seat_left, None
    stiff = []
    for k, stack in enumerate(its.stacks):
        coil_force, coil_rate = stack.at(shorter[..., row] + perch[:, k])
        stiff.append(
            across
            + (turned.ratio[coils, :, 0] ** 2 * coil_rate + coil_force * turned.slope[coils, :, 0]).sum(
                axis=0
            )
        )
    return perch, whole, coil_left, seat_left, np.stack(stiff, axis=1)


def _one_stack(
    stack: Stack, squeezed: Array, row: int, ratio: Array, slope: Array, needed: Array
) -> tuple[Array, Array, Array, Array]:
    """Return the perch that carries what is needed, and what follows; squeezed (coils, rows, positions) mm as drawn."""
    here = squeezed[..., row]
    low = np.full(len(needed), -np.nanmax(here, initial=0.0) - 1.0)
    high = np.full(len(needed), stack.solid_compression - np.nanmin(here, initial=0.0) + 1.0)
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        carried = (ratio * stack.at(here + middle)[0]).sum(axis=0)
        low, high = np.where(carried < needed, middle, low), np.where(carried < needed, high, middle)
    perch = (low + high) / 2
    force, rate = stack.at(here + perch)
    carried = (ratio * force).sum(axis=0)
    perch = np.where(np.abs(carried - needed) < 1e-3 * np.abs(needed) + 1e-3, perch, np.nan)
    over = squeezed + perch[:, None]
    return (
        perch,
        (ratio**2 * rate + force * slope).sum(axis=0),
        stack.solid_compression - over.max(axis=(0, 2)),
        over.min(axis=(0, 2)),
    )
