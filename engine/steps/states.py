"""Every step of a job with how it stands: done, next, may, waits, not yet, again.

Next      the first open step of a station, or of the vehicle, that nothing keeps from being begun.
May       another one that could be begun.
Waits     for another step, or for something that has not come.
Not yet   waits, and doing it all the same would spoil something.
Again     was done once, and something later undid it.
"""

from typing import Literal

from engine.document.schema import Station
from engine.facts import facts
from engine.right.costs import costs_of
from engine.sentences import Sentence, listed
from engine.steps.done import PLACES, SCHOOLS, Done, done_of
from engine.steps.durations import Past, hours_of
from engine.steps.evidence import Evidence
from engine.steps.spoilt import Spoilt, spoilt_by
from engine.steps.step import BY_KEY, PARTS_COME, STEPS, Hours, Step

State = Literal["done", "next", "may", "waits", "not_yet", "again"]
OTHER_DAYS = 2.0  # to wait for tube, plate, bolts
WAITED_FOR = {"spring": "spring", "bag": "spring", "damper": "damper"}
RATIO_SHARE = 0.03  # of the last revision: a ratio that is still moving more is not one to buy springs for


@facts
class StepStands:
    """One step: its station, None for the vehicle's; what is said and why; what it waits for; hours still to be spent on it.

    needs : the steps it needs, each of its station, or of the vehicle (None)
    come  : what is ordered and has to come before it, and when it is due; None where nobody said
    lag_days : days after the buying that what is not ordered yet is on its way
    """

    station: str | None
    step: Step
    state: State
    say: Sentence
    why: str
    waits_for: tuple[str, ...]
    spoils: Spoilt | None
    hours: Hours
    needs: tuple[tuple[str | None, str], ...]
    come: tuple[tuple[str, str | None], ...] = ()
    lag_days: float = 0.0
    places: tuple[str, ...] = ()


@facts
class JobSteps:
    """One job's steps, its stations in the file's order; light enough to be handed from one process to another."""

    name: str
    stations: tuple[str, ...]
    steps: tuple[StepStands, ...]


Key = tuple[str | None, str]


def states_of(evidence: Evidence, past: Past) -> list[StepStands]:
    """Return every step of the vehicle and of its stations, the vehicle's first ones first, in the order of the work."""
    found = _all_done(evidence)
    needs = {key: _needs(key, found, evidence) for key in found}
    order = sorted(found, key=lambda key: _place(key, evidence))
    taken: set[str | None] = set()
    told = []
    for key in order:
        its, step = found[key], BY_KEY[key[1]]
        still = [need for need in _all_needs(key, needs) if not found[need].done]
        near = [need for need in still if need in needs[key]] or still
        station = None if key[0] is None else next(one for one in evidence.built if one.name == key[0])
        unsettled = _unsettled(evidence, station) if key[1] == "order" and not its.done else None
        state: State = "done"
        spoils: Spoilt | None = None
        if not its.done:
            held = bool(still or its.waits or unsettled)
            if held:
                spoils = spoilt_by(key[1], evidence, station, [need[1] for need in still] or [key[1]])
            state = _state(its, held, spoils, key[0] in taken)
            if state in ("next", "again"):
                taken.add(key[0])
        told.append(
            StepStands(
                station=key[0],
                step=step,
                state=state,
                say=_said(evidence, its, key[1], unsettled),
                why=_why(step, its, near, state),
                waits_for=tuple(
                    [*(_named(need) for need in near), *(_awaited(*one) for one in its.waits)]
                    if not its.done
                    else ()
                ),
                spoils=spoils,
                hours=hours_of(key[1], past, its.left),
                needs=needs[key],
                come=_coming(evidence, station) if key[1] == PARTS_COME and not its.done else (),
                lag_days=_lag(evidence, station) if key[1] == PARTS_COME and not its.done else 0.0,
                places=_places(evidence, key[1]),
            )
        )
    return told


def job_steps(evidence: Evidence, past: Past) -> JobSteps:
    """Return a job's steps with its name and stations."""
    return JobSteps(
        name=evidence.project.name,
        stations=tuple(one.name for one in evidence.built),
        steps=tuple(states_of(evidence, past)),
    )


def _coming(evidence: Evidence, station: Station | None) -> tuple[tuple[str, str | None], ...]:
    assert station is not None
    return tuple((one.said, one.due) for one in evidence.bought(station.name) if one.state == "ordered")


def _lag(evidence: Evidence, station: Station | None) -> float:
    """Return the days that what is not ordered yet takes to come: as the shelf says, else as usual for its kind."""
    assert station is not None
    costs = costs_of(evidence.project.work)
    return max(
        (
            (costs.of[WAITED_FOR[one.line.what]].days if one.line.what in WAITED_FOR else OTHER_DAYS)
            if one.line.lead_days is None
            else one.line.lead_days
            for one in evidence.bought(station.name)
            if one.state == "open"
        ),
        default=0.0,
    )


def _all_done(evidence: Evidence) -> dict[Key, Done]:
    found: dict[Key, Done] = {}
    for step in STEPS:
        for station in evidence.built if step.per == "station" else [None]:
            its = done_of(step.key, evidence, station)
            if its is not None:
                found[None if station is None else station.name, step.key] = its
    return found


def _place(key: Key, evidence: Evidence) -> tuple[int, int, int]:
    number = [step.key for step in STEPS].index(key[1])
    if key[0] is None:
        # The vehicle's first steps stand before the stations, its last after them.
        return (0 if number < 2 else 2, 0, number)
    return (1, [one.name for one in evidence.built].index(key[0]), number)


def _needs(key: Key, found: dict[Key, Done], evidence: Evidence) -> tuple[Key, ...]:
    """Return what a step needs; a need that a station has no such step for is what that one needs."""
    station, step = key
    needs: list[Key] = []
    for need in BY_KEY[step].needs:
        if BY_KEY[need].per == "vehicle":
            needs.append((None, need))
        else:
            stations = [one.name for one in evidence.built] if station is None else [station]
            for name in stations:
                if (name, need) in found:
                    needs.append((name, need))
                else:
                    needs += _needs((name, need), found, evidence)
    return tuple(dict.fromkeys(needs))


def _all_needs(key: Key, needs: dict[Key, tuple[Key, ...]]) -> list[Key]:
    """Return everything that a step needs, directly or by what it needs, the first of the work first."""
    seen: dict[Key, None] = {}
    todo = list(needs[key])
    while todo:
        one = todo.pop()
        if one not in seen:
            seen[one] = None
            todo += needs[one]
    number = [step.key for step in STEPS]
    return sorted(seen, key=lambda one: number.index(one[1]))


def _state(its: Done, held: bool, spoils: Spoilt | None, taken: bool) -> State:
    if its.undone is not None:
        return "again"
    if held:
        return "waits" if spoils is None else "not_yet"
    return "may" if taken else "next"


def _said(evidence: Evidence, its: Done, step: str, unsettled: Sentence | None) -> Sentence:
    if unsettled is not None:
        return unsettled
    school = evidence.project.judging.school if evidence.project.judging is not None else None
    if step == "layout" and school is not None and not its.done:
        return Sentence(f"{its.say.words} By this shop's way, {SCHOOLS[school]}.", its.say.quantities, its.say.names)  # fmt: skip
    return its.say


def _places(evidence: Evidence, step: str) -> tuple[str, ...]:
    school = evidence.project.judging.school if evidence.project.judging is not None else None
    return PLACES[school] if step == "layout" and school is not None else ()


def _why(step: Step, its: Done, still: list[Key], state: State) -> str:
    names = listed(list(dict.fromkeys(BY_KEY[need[1]].name for need in still))) if still else ""
    if state == "done":
        return f"It holds as the job is now; {names} is still open and may change it." if still else ""
    if its.undone is not None:
        return "It was done, and a later change undid it."
    if still:
        return f"{step.name} needs {names} first."
    if its.waits:
        return "It waits for parts."
    return "Nothing keeps it from being begun." if state in ("next", "may") else "The ratio has not settled."


def _named(key: Key) -> str:
    return BY_KEY[key[1]].name if key[0] is None else f"{key[0]}: {BY_KEY[key[1]].name}"


def _awaited(what: str, due: str | None) -> str:
    return f"{what} ({'no date' if due is None else f'due {due}'})"


def _unsettled(evidence: Evidence, station: Station | None) -> Sentence | None:
    """Return what keeps a ratio from being one to buy springs for: it moved in the last revision by more than a little."""
    if station is None or evidence.before is None:
        return None
    now = evidence.station(station.name)
    before = next((one for one in evidence.before.stations if one.work.station.name == station.name), None)
    if now is None or before is None:
        return None
    one, other = now.work.solved.at_ride, before.work.solved.at_ride
    if one is None or other is None:
        return None
    for unit, trace in one.units.items():
        if unit in other.units:
            a, b = float(trace.motion_ratio[0]), float(other.units[unit].motion_ratio[0])
            if b and abs(a / b - 1) > RATIO_SHARE:
                words = f"The ratio of {{0}} moved by {abs(a / b - 1):.0%} in the last revision: let it settle before buying."
                return Sentence(words, names=(unit,))
    return None
