"""One part of a study: some thousand vehicles, of which those that nothing else beats are kept.

Part      geometries of every station, spread evenly by a Sobol' sequence (1967) that all parts share; each under every spring.
Vehicles  one option of each station put together: half of them any, half of the best few of each station.
Miss      how far off a wish is, over what a shop would let pass: 1 is just acceptable.
A part depends on nothing but the study and its number: it may be done anywhere, in any order, and once more.
"""

import json
from functools import lru_cache

import numpy as np

from engine.errors import EngineError
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.ride.settled import swept
from engine.station.equilibrium import wheel_rate_for
from engine.study.asked import StudyAsked, Vary, check_study, varied
from engine.study.front import score_of, unbeaten
from engine.study.options import Options, Ready, geometries, options, ready

GEOMETRIES = 1_024
VEHICLES = 32_768
BEST = 48
KEPT = 80
DRAWS = 6
NEAR_MM = 4.0
FREQUENCY_SHARE, ROLL_SHARE, ROOM_MM, DAMPER_MM, HEIGHT_MM = 0.02, 0.02, 0.8, 0.8, 3.0
MISSES = ("frequency", "roll", "room", "damper", "springs", "tape")
WORST = 60.0


class StudyRefused(EngineError, ValueError):
    """A study whose stations cannot be solved as drawn, in a sentence: it goes from process to process as it is."""

    code = "study_refused"


@facts(kw_only=False)
class _Prepared:
    asked: StudyAsked
    names: tuple[str, ...]
    stations: tuple[Ready, ...]
    leads: tuple[
        int, ...
    ]  # for each station the one that it is changed alike with: itself, or its other side
    ahead: np.ndarray  # which stations stand in the front half


@lru_cache(maxsize=4)
def _prepared(study: str) -> _Prepared:
    asked, project = check_study(json.loads(study))
    vary = varied(asked)
    lead = {one.alike: one.station for one in asked.vary if one.alike is not None}
    looked = [s for s in project.stations if s.name in vary or s.name in asked.wishes.frequency]
    made = tuple(
        ready(s.model_dump_json(exclude_unset=True), vary.get(s.name, Vary(station=s.name)).model_dump_json())
        for s in looked
    )
    ahead = [max(s.points[w.centre][0] for w in s.wheels) for s in looked]
    names = [s.name for s in looked]
    return _Prepared(
        asked=asked,
        names=tuple(names),
        stations=made,
        leads=tuple(names.index(lead.get(name, name)) for name in names),
        ahead=np.array(ahead) >= (max(ahead) + min(ahead)) / 2,
    )


def parts_of(candidates: int) -> int:
    """Return how many parts a study of so many vehicles has."""
    return -(-candidates // VEHICLES)


def done(study: str, number: int) -> dict[str, list[float]]:
    """Return the vehicles kept of one part, by column; `study` is the JSON of the whole study. Raise StudyRefused."""
    try:
        its = _prepared(study)
    except EngineError as error:
        raise StudyRefused(str(error)) from None
    shares = _shares(its, number)
    found = [
        options(one, geometries(one, part), its.asked.wishes.stop_at)
        for one, part in zip(its.stations, shares, strict=True)
    ]
    rng = np.random.default_rng([its.asked.seed, number])
    picks = _vehicles(its, found, rng)
    misses = _misses(its, found, picks)
    good = np.isfinite(misses["room"])
    picks, misses = picks[good], {name: values[good] for name, values in misses.items()}
    if not len(picks):
        return {}
    kept = unbeaten(misses, KEPT)
    picks, misses = picks[kept], {name: values[kept] for name, values in misses.items()}
    misses["tape"] = _by_tape(its, shares, found, picks) / HEIGHT_MM
    columns = {"part": [number] * len(picks), "score": score_of(misses).tolist()}
    columns |= {f"miss/{name}": misses[name].tolist() for name in MISSES}
    for k, (name, one) in enumerate(zip(its.names, its.stations, strict=True)):
        row, spring = picks[:, k, 0], picks[:, k, 1]
        columns |= {f"{name}/share/{n}": shares[k][row, n].tolist() for n in range(one.choices)}
        columns[f"{name}/spring"] = np.array(one.rates)[spring].tolist()
        for what in ("frequency", "roll", "perch", "coil_left", "seat_left"):
            columns[f"{name}/{what}"] = getattr(found[k], what)[row, spring].tolist()
        for what in ("ratio", "left", "longest", "shortest"):
            columns[f"{name}/{what}"] = getattr(found[k], what)[row].tolist()
        columns |= {f"{name}/stop/{unit}": touch[row].tolist() for unit, touch in found[k].stops.items()}
    return columns


def _shares(its: _Prepared, number: int) -> list[Array]:
    """Return every station's shares of its boxes in one part, −1 to 1, (geometries, choices) each."""
    counts = [one.choices if its.leads[k] == k else 0 for k, one in enumerate(its.stations)]
    if not sum(counts):
        return [np.zeros((1, 0)) for _ in counts]
    from scipy.stats import qmc  # half a second, which only who searches pays

    sequence = qmc.Sobol(sum(counts), scramble=True, rng=its.asked.seed)
    if number:
        sequence.fast_forward(number * GEOMETRIES)
    whole = 2 * sequence.random(GEOMETRIES) - 1
    own = np.split(whole, np.cumsum(counts)[:-1], axis=1)
    return [own[lead] for lead in its.leads]


def _alone(its: _Prepared, found: list[Options], k: int) -> Array:
    """Return the squares of what one station misses by itself, (geometries, springs); infinite where it does not stand."""
    wanted = its.asked.wishes.frequency.get(its.names[k])
    off = np.zeros_like(found[k].frequency)
    if wanted is not None:
        off = np.minimum(np.abs(found[k].frequency / wanted - 1) / FREQUENCY_SHARE, WORST)
    total = off**2 + _room_missed(its, its.stations[k], found[k]) ** 2
    return np.where(found[k].stands & np.isfinite(total), total, np.inf)


def _room_missed(its: _Prepared, station: Ready, one: Options) -> Array:
    """Return the miss of what is to be left of dampers, coils and perches, (geometries, springs)."""
    left = its.asked.wishes.left
    own = np.zeros_like(one.left) if its.asked.wishes.damper else np.maximum(left - one.left, 0)
    coil = np.maximum(left - one.coil_left, 0)
    seat = np.maximum(-one.seat_left, 0)
    down, up = station.wound
    wound = np.maximum(np.maximum(one.perch - up, down - one.perch), 0)
    missed = np.maximum(np.maximum(np.maximum(own[:, None], coil), seat), wound)
    return np.asarray(np.minimum(missed / ROOM_MM, WORST))


def _vehicles(its: _Prepared, found: list[Options], rng: np.random.Generator) -> Array:
    """Return vehicles as picks of geometry and spring, (vehicles, stations, 2)."""
    picks = np.zeros((VEHICLES, len(found), 2), dtype=int)
    half = VEHICLES // 2
    alone = [_alone(its, found, k) for k in range(len(found))]
    for k, one in enumerate(found):
        if its.leads[k] != k:
            continue
        rows, springs = one.frequency.shape
        together = np.sum([alone[j] for j, lead in enumerate(its.leads) if lead == k], axis=0)
        picks[:half, k, 0] = rng.integers(0, rows, half)
        picks[:half, k, 1] = rng.integers(0, springs, half)
        best = np.argsort(together, axis=None, kind="stable")[:BEST]
        chosen = best[rng.integers(0, len(best), VEHICLES - half)]
        picks[half:, k, 0], picks[half:, k, 1] = np.unravel_index(chosen, one.frequency.shape)
    return picks[:, list(its.leads)]


def _misses(its: _Prepared, found: list[Options], picks: Array) -> dict[str, Array]:
    """Return every wish's miss but the tape's, (vehicles,); infinite room where a station does not stand."""
    wishes = its.asked.wishes
    count = len(picks)
    frequency, room = np.zeros(count), np.zeros(count)
    longest, shortest = np.full(count, -np.inf), np.full(count, np.inf)
    roll = np.zeros((len(found), count))
    rates = np.zeros((len(found), count))
    for k, one in enumerate(found):
        row, spring = picks[:, k, 0], picks[:, k, 1]
        wanted = wishes.frequency.get(its.names[k])
        if wanted is not None:
            off = np.abs(one.frequency[row, spring] / wanted - 1) / FREQUENCY_SHARE
            frequency = np.maximum(frequency, np.minimum(off, WORST))
        room = np.maximum(room, _room_missed(its, its.stations[k], one)[row, spring])
        room = np.where(one.stands[row, spring], room, np.inf)
        longest, shortest = np.maximum(longest, one.longest[row]), np.minimum(shortest, one.shortest[row])
        roll[k], rates[k] = one.roll[row, spring], np.array(its.stations[k].rates)[spring]
    missed = {name: np.zeros(count) for name in MISSES[:-1]} | {"frequency": frequency, "room": room}
    if wishes.roll_front is not None:
        share = roll[its.ahead].sum(axis=0) / roll.sum(axis=0)
        missed["roll"] = np.minimum(np.abs(share - wishes.roll_front) / ROLL_SHARE, WORST)
    if wishes.damper is not None:
        over = np.maximum(longest + wishes.left - wishes.damper.extended, 0)
        under = np.maximum(wishes.damper.compressed - (shortest - wishes.left), 0)
        missed["damper"] = np.minimum(np.maximum(over, under) / DAMPER_MM, WORST)
    if wishes.few_springs and len(found) > 1:
        sorted_rates = np.sort(rates, axis=0)
        missed["springs"] = 0.5 * (np.diff(sorted_rates, axis=0) > 1e-9).sum(axis=0)
    return missed


def _by_tape(its: _Prepared, shares: list[Array], found: list[Options], picks: Array) -> Array:
    """Return how far the ride height scatters for the tape's error, mm of one standard error, the worst station's.

    The same few errors for every vehicle; height by what the force is then off, over the wheel rate.
    """
    worst = np.zeros(len(picks))
    for k, one in enumerate(its.stations):
        used, inverse = np.unique(picks[:, k], axis=0, return_inverse=True)
        points = geometries(one, shares[k][used[:, 0]])
        noise = np.random.default_rng(its.asked.seed).normal(size=(DRAWS, points.shape[1], 3))
        moved = points[:, None] + its.asked.wishes.tape * noise
        travel = one.solved.station.travel
        at = travel.at or 0.0
        near = np.unique(np.clip([at - NEAR_MM, at, at + NEAR_MM], -travel.droop, travel.bump))
        sweep = swept(one.solved, moved.reshape(-1, *points.shape[1:]), near)
        lengths = sweep.squeezes.length[..., int(np.searchsorted(near, at))].reshape(-1, len(used), DRAWS)
        ratio = sweep.squeezes.ratio[..., int(np.searchsorted(near, at))].reshape(-1, len(used), DRAWS)
        force = np.zeros((len(used), DRAWS))
        for n, law in enumerate(one.solved.springing.laws):
            if law.name in found[k].stops:
                continue
            bare = law.without_coil() if law.stack is not None and one.stacks else law
            force = force + ratio[n] * bare.at(lengths[n])[0]
            if law.stack is not None and one.stacks:
                for option, stack in enumerate(one.stacks):
                    mine = used[:, 1] == option
                    perch = found[k].perch[used[mine, 0], option][:, None]
                    coil = stack.at(law.free_reference - lengths[n][mine] + perch)[0]
                    force[mine] += ratio[n][mine] * coil
        rate = wheel_rate_for(found[k].frequency[used[:, 0], used[:, 1]], one.solved.station.mass.sprung)
        scatter = (force / one.solved.springing.wheels).std(axis=1) / rate
        worst = np.maximum(worst, np.nan_to_num(scatter, nan=WORST)[inverse.reshape(-1)])
    return worst
