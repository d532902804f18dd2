"""The list to read for one station, designed: every reading of it is checked by others, with as few as that takes.

Redundancy  the share of a reading that the others check, 1 − a·C·a of its weighted row a (Baarda 1968): what is misread
            shows by that share of itself. LEAST of it is asked of every reading, so that a misread tape is named.
Alike       two readings whose residuals go together, |q_ij| / √(q_ii q_jj) (Förstner 1983): either would explain the other's
            slip. ALIKE is the most that is left between any two, where readings that could be taken allow it.
Designed    places by height, plumb line and the lengths of links and units; then whatever reading checks most of what is
            checked too little, one after another; then without every reading that the rest can spare.
"""

import itertools
from collections.abc import Iterator
from functools import partial

import numpy as np

from engine.document.schema import Station
from engine.document.survey import USUAL_ERRORS, USUAL_TOOL
from engine.facts import facts
from engine.linkage.vectors import Array
from engine.survey.kinds import READS

LEAST = 0.3  # redundancy of every reading
WANTED = 0.32  # of it while the list is made: a place stands a little otherwise than it is drawn
OWN = (1.0, 0.3, 0.1)  # how much what a reading itself lacks counts while it is chosen, tried in turn
ALIKE = 0.95
TRIED = 30  # readings that are looked at closely, of those that part two that are alike the most
SINGLES = ("height", "offset", "fore_aft")
PAIRS = ("distance", "rise", "floor_distance")
NEAR_MM, FAR_MM = 60.0, 3500.0
MOST_MORE = 200  # readings that may be added to a list
FLOOR_MARKS = ("floor mark 1", "floor mark 2", "floor mark 3", "floor mark 4")
MARKS_BEYOND_MM = 400.0


@facts
class Planned:
    """A reading to take: its kind, its places, where to put the tape, and why it is on the list.

    drawn : what it would read as drawn, mm; redundancy : the share of it that the others check
    extra : whether it is there only to check others
    """

    kind: str
    places: tuple[str, ...]
    hint: str
    why: str
    drawn: float
    redundancy: float
    extra: bool


@facts
class Plan:
    """A list to read, in the order of reading, and the marks that it asks for besides: places (3,) mm."""

    readings: tuple[Planned, ...]
    marks: dict[str, tuple[float, float, float]]


@facts(kw_only=False)
class _Could:
    """A reading that could be taken: its kind and its places by name; why, where it is on every list."""

    kind: str
    places: tuple[str, ...]
    why: str = ""


def plan_of(station: Station) -> list[Planned]:
    """Return every reading that a survey of a station takes, place by place, then what lies between and what checks it."""
    return list(survey_plan(station).readings)


def survey_plan(station: Station) -> Plan:
    """Return the designed list of a station, with marks asked for besides where its own places do not check one another."""
    spots = {f"{station.name}/{point}": np.array(its, dtype=float) for point, its in station.points.items()}
    asked: dict[str, tuple[float, float, float]] = {}
    taken = _designed(station, spots)
    if taken is None:
        asked = _floor_marks(station)
        spots |= {name: np.array(its) for name, its in asked.items()}
        taken = _designed(station, spots) or _first(station, spots)
    rows = _rows(taken, spots)
    cofactors = _cofactors(rows)
    names = dict.fromkeys(name for one in taken for name in one.places)
    order = {name: k for k, name in enumerate(spots)}
    walked = {f"{station.name}/{point}": k for k, point in enumerate(_in_order(station))}
    found = [
        Planned(
            kind=one.kind,
            places=one.places,
            hint=_hint(station, one),
            why=one.why or _why(station, taken, cofactors, k),
            drawn=_reads(one, spots),
            redundancy=float(cofactors[k, k]),
            extra=not one.why,
        )
        for k, one in enumerate(taken)
    ]
    place = {name: walked.get(name, len(walked) + order[name]) for name in names}
    found.sort(key=lambda one: (len(one.places) > 1, place[one.places[0]], one.extra))
    return Plan(readings=tuple(found), marks=asked)


def _first(station: Station, spots: dict[str, Array]) -> list[_Could]:
    """Return what every list begins with: each place by itself, and the lengths of links and units."""
    found = []
    for point in _in_order(station):
        name = f"{station.name}/{point}"
        found += [_Could(kind, (name,), f"where {_said(name)} stands") for kind in SINGLES]
    for name in spots:
        if not name.startswith(f"{station.name}/"):
            found += [_Could(kind, (name,), f"where {name} stands") for kind in SINGLES]
    for one, other in _lengths(station):
        places = (f"{station.name}/{one}", f"{station.name}/{other}")
        if float(np.linalg.norm(spots[places[0]] - spots[places[1]])) >= NEAR_MM:
            words = f"the length between {_said(places[0])} and {_said(places[1])}: a slip in either shows"
            found.append(_Could("distance", places, words))
    return found


def _designed(station: Station, spots: dict[str, Array]) -> list[_Could] | None:
    """Return the shortest list found in which each reading is checked; None where none that could be taken does it."""
    tried = [its for own in OWN if (its := _designed_with(station, spots, own)) is not None]
    return min(tried, key=len, default=None)


def _designed_with(station: Station, spots: dict[str, Array], own: float) -> list[_Could] | None:
    taken = _first(station, spots)
    known = {(one.kind, frozenset(one.places)) for one in taken}
    could = [one for one in _could_be(spots) if (one.kind, frozenset(one.places)) not in known]
    rows, more = _rows(taken, spots), _rows(could, spots)
    for choose in (partial(_checks_most, own=own), _parts_most):
        for _ in range(MOST_MORE):
            best = choose(rows, more) if len(more) else None
            if best is None:
                break
            taken.append(could.pop(best))
            rows, more = np.vstack([rows, more[best]]), np.delete(more, best, axis=0)
    if float(np.diag(_cofactors(rows)).min()) < LEAST:
        return None
    return _spared(taken, rows)


def _checks_most(rows: Array, more: Array, own: float) -> int | None:
    """Return the reading that checks most of what is checked too little, None where all is or nothing helps."""
    share = np.diag(_cofactors(rows))
    short = np.maximum(WANTED - share, 0.0).sum()
    if short <= 0:
        return None
    beside, room = _beside(rows, more)
    after = share + beside**2 / room[:, None]
    left = np.maximum(WANTED - after, 0.0).sum(axis=1) + own * np.maximum(WANTED - 1 / room, 0.0)
    best = int(left.argmin())
    return best if left[best] < short - 1e-9 else None


def _parts_most(rows: Array, more: Array) -> int | None:
    """Return the reading that parts most of what is too much alike, None where nothing is or nothing helps."""
    cofactors = _cofactors(rows)
    alike = _alike(cofactors)
    much = float(np.maximum(alike - ALIKE, 0.0).sum())
    if much <= 0:
        return None
    one, other = (side[int(alike.argmax())] for side in np.triu_indices(len(rows), 1))
    beside, room = _beside(rows, more)
    near = np.argsort(-np.abs(np.abs(beside[:, one]) - np.abs(beside[:, other])) / np.sqrt(room))[:TRIED]
    left = [float(np.maximum(_alike(_with(cofactors, beside[k], room[k])) - ALIKE, 0.0).sum()) for k in near]
    best = int(np.argmin(left))
    return int(near[best]) if left[best] < much - 1e-6 else None


def _beside(rows: Array, more: Array) -> tuple[Array, Array]:
    """Return how each reading that could be taken goes with each that is, (more, rows), and 1 + c·C·c of it, (more,)."""
    held = more @ np.linalg.pinv(rows.T @ rows, rcond=1e-12, hermitian=True)
    return held @ rows.T, 1 + np.einsum("mc,mc->m", held, more)


def _with(cofactors: Array, beside: Array, room: float) -> Array:
    """Return the cofactors with one reading more."""
    whole = np.empty((len(cofactors) + 1, len(cofactors) + 1))
    whole[:-1, :-1] = cofactors + np.outer(beside, beside) / room
    whole[-1, :-1] = whole[:-1, -1] = -beside / room
    whole[-1, -1] = 1 / room
    return whole


def _spared(taken: list[_Could], rows: Array) -> list[_Could]:
    """Return a list without the readings that the rest can spare, one after another."""
    taken = list(taken)
    while True:
        cofactors = _cofactors(rows)
        share = np.diag(cofactors)
        alike = max(ALIKE, _alike(cofactors).max(initial=0.0))
        best, most = -1, 0.0
        for k in np.argsort(-share)[:40]:
            # Without one reading the others' shares fall by what it held of them.
            least = float(np.delete(share - cofactors[k] ** 2 / share[k], k).min())
            if least < WANTED or least <= most:
                continue
            left = np.delete(
                np.delete(cofactors - np.outer(cofactors[:, k], cofactors[k]) / share[k], k, 0), k, 1
            )
            if _alike(left).max(initial=0.0) <= alike:
                best, most = int(k), least
        if best < 0:
            return taken
        del taken[best]
        rows = np.delete(rows, best, axis=0)


def _alike(cofactors: Array) -> Array:
    """Return how much each pair of readings is alike, (pairs,): of those that are checked at all."""
    share = np.sqrt(np.maximum(np.diag(cofactors), 1e-12))
    alike = np.abs(cofactors) / np.outer(share, share)
    one, other = np.triu_indices(len(share), 1)
    checked = (share[one] ** 2 > 0.02) & (share[other] ** 2 > 0.02)
    found: Array = np.where(checked, alike[one, other], 0.0)
    return found


def _cofactors(rows: Array) -> Array:
    """Return the cofactors of the residuals of weighted rows (readings, unknowns), (readings, readings)."""
    found: Array = (
        np.eye(len(rows)) - rows @ np.linalg.pinv(rows.T @ rows, rcond=1e-12, hermitian=True) @ rows.T
    )
    return found


def _rows(readings: list[_Could], spots: dict[str, Array]) -> Array:
    """Return the weighted rows of readings as drawn, (readings, 3 × places)."""
    index = {name: k for k, name in enumerate(spots)}
    rows = np.zeros((len(readings), 3 * len(spots)))
    for k, one in enumerate(readings):
        slopes = READS[one.kind](np.array([[spots[name] for name in one.places]]))[1][0, 0]
        error = USUAL_ERRORS[USUAL_TOOL[one.kind]]
        for name, slope in zip(one.places, slopes, strict=True):
            rows[k, 3 * index[name] : 3 * index[name] + 3] += slope / error
    return rows


def _reads(one: _Could, spots: dict[str, Array]) -> float:
    return float(READS[one.kind](np.array([[spots[name] for name in one.places]]))[0][0, 0])


def _could_be(spots: dict[str, Array]) -> Iterator[_Could]:
    """Yield every reading between two places that a tape, a plumb line or a level can take."""
    for one, other in itertools.combinations(spots, 2):
        way = spots[other] - spots[one]
        if NEAR_MM <= float(np.linalg.norm(way)) <= FAR_MM:
            yield _Could("distance", (one, other))
        level = float(np.linalg.norm(way[:2]))
        if level <= FAR_MM:
            yield _Could("rise", (one, other))
        if NEAR_MM <= level <= FAR_MM:
            yield _Could("floor_distance", (one, other))


def _floor_marks(station: Station) -> dict[str, tuple[float, float, float]]:
    """Return four marks on the floor about a station, mm."""
    spots = np.array(list(station.points.values()))
    low, high = spots.min(axis=0) - MARKS_BEYOND_MM, spots.max(axis=0) + MARKS_BEYOND_MM
    corners = ((low[0], low[1]), (low[0], high[1]), (high[0], low[1]), (high[0], high[1]))
    return {
        name: (round(float(x), -1), round(float(y), -1), 0.0)
        for name, (x, y) in zip(FLOOR_MARKS, corners, strict=True)
    }


def _why(station: Station, taken: list[_Could], cofactors: Array, number: int) -> str:
    """Return what an extra reading checks the most."""
    beside = np.abs(cofactors[number]) / np.sqrt(np.maximum(np.diag(cofactors), 1e-9))
    beside[number] = 0.0
    its = taken[int(beside.argmax())]
    noun = {
        "height": "the height of {0}",
        "offset": "how far {0} is out from the centreline",
        "fore_aft": "how far {0} is ahead of the datum",
        "distance": "the tape from {0} to {1}",
        "rise": "the rise from {0} to {1}",
        "floor_distance": "the plumb marks of {0} and {1}",
    }[its.kind]
    return "checks " + noun.format(*(_said(name) for name in its.places))


def _said(place: str) -> str:
    return place.rpartition("/")[2].replace("_", " ")


def _hint(station: Station, one: _Could) -> str:
    names = [name.rpartition("/")[2] if name.startswith(f"{station.name}/") else name for name in one.places]
    where = [hint_of(station, name) if name in station.points else name for name in names]
    words = {
        "height": "{0}: up from the floor",
        "offset": "{0}: plumb mark to the centre string",
        "fore_aft": "{0}: plumb mark to the datum line",
        "distance": "{0} to {1}",
        "rise": "level from {0} to {1}: how much higher the second is",
        "floor_distance": "on the floor, between the plumb marks of {0} and {1}",
    }
    return words[one.kind].format(*where)


def hint_of(station: Station, point: str) -> str:
    """Return in plain words where a point of a station is found on the metal."""
    name = point.replace("_", " ")
    wheels = {wheel.centre for wheel in station.wheels}
    spindles = {wheel.spindle for wheel in station.wheels}
    ends = {end for unit in station.units for end in unit.ends}
    carriers = [body for body, members in station.bodies.items() if point in members]
    if point in wheels:
        return "middle of the hub, where the wheel's middle plane is"
    if point in spindles:
        return "middle of the hub face, further out on its axis"
    if point in station.chassis:
        return f"middle of the bolt on the frame, {name}"
    if len(carriers) > 1:
        return f"middle of the joint, {name}"
    return f"middle of the bolt, {name}" if point in ends else f"middle of the {name}"


def _in_order(station: Station) -> list[str]:
    """Return the points as one walks: the frame's first, then what moves, each from front to rear, low to high."""
    spots = station.points

    def walked(point: str) -> tuple[bool, float, float]:
        x, _, z = spots[point]
        return (point not in station.chassis, -round(x, -2), z)

    return sorted(spots, key=walked)


def _lengths(station: Station) -> list[tuple[str, str]]:
    """Return the pairs that a tape goes between: along links, along units, and over the longest way of each body."""
    found: list[tuple[str, str]] = []
    for members in station.bodies.values():
        found += list(itertools.pairwise(members))
    found += [(unit.ends[0], unit.ends[1]) for unit in station.units]
    unique: dict[frozenset[str], tuple[str, str]] = {}
    for one, other in found:
        if one != other:
            unique.setdefault(frozenset((one, other)), (one, other))
    return list(unique.values())
