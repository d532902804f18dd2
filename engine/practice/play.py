"""An exercise played: measured, decided, cut and welded, and looked at when it stands; and played again without each mistake.

Read      a tape, a plumb line, a level ask the truth, with their tool's own error; now and then one is misread.
Careful   takes the designed list, in which every reading is checked by others, and reads again what does not fit.
Careless  reads each place once by height, offset and distance ahead: nothing checks anything.
Cost      hours at what the shop takes for one, and money; what was done wrong is paid for by doing it again.
"""

import copy
import json
from collections.abc import Mapping, Sequence
from functools import lru_cache

import numpy as np

from engine.document.read import check_project
from engine.document.schema import Project
from engine.document.survey import USUAL_ERRORS, USUAL_TOOL
from engine.errors import EngineError
from engine.facts import facts
from engine.practice.exercise import Came, Decision, Exercise, Values
from engine.results.whole import WorkedProject, work_project
from engine.right.costs import USUAL_RATE
from engine.sentences import spoken
from engine.survey.kinds import READS
from engine.survey.plan import survey_plan
from engine.survey.worked import WorkedSurvey

FRAME_MM, WELD_MM = 1.5, 1.0  # standard errors of a frame as it comes, and of a mount as it is welded
READ_HOURS, AGAIN_HOURS = 0.03, 0.08
MISREAD_MM = (10.0, -10.0, 50.0, 100.0)
SLIPS = 2
SURVEY = "survey"
LISTED, ONCE = "the designed list", "each place once"
SURVEY_MISTAKE = "Nothing checked the readings: a misread one went into the car."
TACKED_AGAIN_HOURS = 1.5
LOCATED_MM = 5.0  # a place believed further off than this from where it is was got wrong
MOST_AGAIN = 6


@facts
class Worker:
    """Which way somebody takes at each decision by its key; how he measures stands under `survey`."""

    name: str
    takes: Mapping[str, str]


@facts
class Account:
    """What came of it. wanted and came, slips planted, found and missed; readings taken against what would have been enough.

    costliest : the decision that cost most, with what it cost; None where nothing was wrong
    off       : by place, mm that it was believed from where it is
    """

    exercise: Exercise
    seed: int
    worker: Worker
    came: tuple[tuple[str, Came], ...]
    slips: tuple[str, ...]
    found: tuple[str, ...]
    readings: int
    enough: int
    cut_twice: int
    hours: float
    money: float
    mistakes: tuple[tuple[str, str], ...]
    costliest: tuple[str, float] | None
    off: dict[str, float]

    @property
    def cost(self) -> float:
        """Return all of it as one sum."""
        return self.hours * USUAL_RATE + self.money


def careful(exercise: Exercise) -> Worker:
    """Return who takes the way that comes through, everywhere."""
    return Worker(
        name="careful", takes={SURVEY: LISTED, **{one.key: one.ways[0].name for one in exercise.decisions}}
    )


def careless(exercise: Exercise) -> Worker:
    """Return who takes the other way, everywhere."""
    return Worker(
        name="careless", takes={SURVEY: ONCE, **{one.key: one.ways[-1].name for one in exercise.decisions}}
    )


def play(exercise: Exercise, seed: int, worker: Worker) -> Account:
    """Return an exercise played by a worker; the same seed has the same car, the same errors and the same slips."""
    account = _played(exercise, seed, worker)
    wrong = [key for key, _ in account.mistakes]
    best: tuple[str, float] | None = None
    for key in wrong:
        other = Worker(name=worker.name, takes={**worker.takes, key: careful(exercise).takes[key]})
        saved = account.cost - _played(exercise, seed, other).cost
        if best is None or saved > best[1]:
            best = (key, saved)
    return Account(**{**vars(account), "costliest": best})


def truth_of(exercise: Exercise, seed: int) -> Values:
    """Return the car as it really is: every place on its frame off by what a frame is off."""
    random, values = np.random.default_rng([seed, 1]), exercise.drawn()
    for station in values["stations"]:
        for point in station["chassis"]:
            station["points"][point] = (
                np.array(station["points"][point]) + random.normal(0, FRAME_MM, 3)
            ).tolist()
    return values


def built_of(exercise: Exercise, seed: int, worker: Worker) -> Values:
    """Return the car as it stands when a worker is done, as a project file has it."""
    measured = _measured(exercise, seed, worker.takes[SURVEY])
    values = measured.values
    for decision in exercise.decisions:
        values = decision.way(worker.takes[decision.key]).does(values, _worked(json.dumps(values)))
    return _built(values, measured.values, truth_of(exercise, seed), seed)


def ways_of(exercise: Exercise) -> dict[str, list[str]]:
    """Return the ways on at every fork of an exercise, by its key: how it is measured first."""
    return {SURVEY: [LISTED, ONCE]} | {one.key: [way.name for way in one.ways] for one in exercise.decisions}


def _played(exercise: Exercise, seed: int, worker: Worker) -> Account:
    measured = _measured(exercise, seed, worker.takes[SURVEY])
    hours = measured.hours + sum(decision.hours for decision in exercise.decisions)
    money = sum(decision.money for decision in exercise.decisions)
    built = built_of(exercise, seed, worker)
    came = _looked_at(exercise, built)
    mistakes, pieces = [], 0
    # Who had every reading checked and is still caught has made no mistake; it is told among the slips, and paid for.
    if measured.missed and worker.takes[SURVEY] != LISTED:
        mistakes.append((SURVEY, SURVEY_MISTAKE))
    bad = {key for key, one in came if not one.well}
    for decision in exercise.decisions:
        way = decision.way(worker.takes[decision.key])
        if way.mistake and decision.key in bad:
            mistakes.append((decision.key, way.mistake))
        if decision.key in bad:
            hours, money = hours + decision.again_hours, money + decision.again_money
            pieces += decision.again_pieces
    if measured.missed:
        # What stands on a place that was got wrong is cut off and tacked again.
        wrong = sum(off > LOCATED_MM for off in measured.off.values())
        hours, pieces = hours + TACKED_AGAIN_HOURS * wrong, pieces + wrong
    return Account(
        exercise=exercise,
        seed=seed,
        worker=worker,
        came=came,
        slips=measured.slips,
        found=tuple(one for one in measured.slips if one not in measured.missed),
        readings=measured.readings,
        enough=measured.enough,
        cut_twice=pieces,
        hours=round(hours, 3),
        money=round(money, 2),
        mistakes=tuple(mistakes),
        costliest=None,
        off=measured.off,
    )


@facts
class _Measured:
    """A car as it was measured: the job with its places taken from the readings; what was misread, and what of it was missed."""

    values: Values
    readings: int
    enough: int
    hours: float
    slips: tuple[str, ...]
    missed: tuple[str, ...]
    off: dict[str, float]


@lru_cache(maxsize=8)
def _measured(exercise: Exercise, seed: int, how: str) -> _Measured:
    """Return a car measured one way or the other; the same car read the same way is read once."""
    drawn, truth = exercise.drawn(), truth_of(exercise, seed)
    project = check_project(drawn)
    station = project.stations[0]
    plan = survey_plan(station)
    marks = {name: list(spot) for name, spot in plan.marks.items()}
    at = {f"{station.name}/{name}": spot for name, spot in truth["stations"][0]["points"].items()} | marks
    on_frame = [f"{station.name}/{point}" for point in station.chassis]
    listed = [(one.kind, one.places) for one in plan.readings]
    once = [(kind, (place,)) for place in on_frame for kind in ("height", "offset", "fore_aft")]
    wanted = listed if how == LISTED else once
    random = np.random.default_rng([seed, 2])
    slipped = {int(k) for k in random.choice(len(wanted), min(SLIPS, len(wanted)), replace=False)}
    misread = {k: float(random.choice(MISREAD_MM)) for k in sorted(slipped)}
    readings: list[Values] = [
        _reading(kind, places, at, random, misread.get(k, 0.0)) for k, (kind, places) in enumerate(wanted)
    ]
    hours, taken = READ_HOURS * len(readings), len(readings)
    missed = set(slipped)
    worked = WorkedSurvey(_with_survey(project, marks, readings))
    if how == LISTED:
        for _ in range(MOST_AGAIN):
            doubted = [one.number for one in worked.adjusted.suspects]
            if not doubted:
                break
            for number in doubted:
                kind, places = wanted[number]
                readings[number] = _reading(kind, places, at, random, 0.0)
                hours, taken = hours + AGAIN_HOURS, taken + 1
                missed.discard(number)
            worked = WorkedSurvey(_with_survey(project, marks, readings))
    values = copy.deepcopy(drawn)
    off: dict[str, float] = {}
    fit, names = worked.adjusted.fit, worked.network.names
    for place in on_frame:
        point = place.removeprefix(f"{station.name}/")
        if place in names and not fit.loose[names.index(place)]:
            values["stations"][0]["points"][point] = fit.spots[names.index(place)].tolist()
        off[place] = float(
            np.linalg.norm(np.array(values["stations"][0]["points"][point]) - np.array(at[place]))
        )
    named = [_named(*wanted[number], misread[number]) for number in sorted(slipped)]
    return _Measured(
        values=values,
        readings=taken,
        enough=len(listed),
        hours=hours,
        slips=tuple(named),
        missed=tuple(_named(*wanted[number], misread[number]) for number in sorted(missed)),
        off=off,
    )


def _named(kind: str, places: Sequence[str], by: float) -> str:
    return f"{kind.replace('_', ' ')} of {' to '.join(spoken(place) for place in places)}, misread by {by:+.0f} mm"


def _reading(
    kind: str,
    places: Sequence[str],
    at: Mapping[str, Sequence[float]],
    random: np.random.Generator,
    misread: float,
) -> Values:
    """Return what a tool says of the truth, with its own error."""
    true = float(READS[kind](np.array([[at[place] for place in places]], dtype=float))[0][0, 0])
    value = true + random.normal(0, USUAL_ERRORS[USUAL_TOOL[kind]]) + misread
    named = {"of": places[0]} if len(places) == 1 else {"between": list(places)}
    return {
        "kind": kind,
        **named,
        "values": [round(max(value, 1.0) if kind in ("distance", "floor_distance") else value, 1)],
    }


def _with_survey(project: Project, marks: Values, readings: list[Values]) -> Project:
    values = project.model_dump(mode="json", exclude_unset=True)
    return check_project({**values, "survey": {"marks": marks, "readings": readings}})


def _built(decided: Values, measured: Values, truth: Values, seed: int) -> Values:
    """Return the car as it stands: its frame as it is, what was moved or added as near to where it was meant as hands weld."""
    random, built = np.random.default_rng([seed, 3]), copy.deepcopy(decided)
    for station, believed, true in zip(
        built["stations"], measured["stations"], truth["stations"], strict=True
    ):
        for point, spot in station["points"].items():
            hand = random.normal(0, WELD_MM, 3)
            meant, was, real = (
                np.array(one, dtype=float) for one in (spot, believed["points"][point], true["points"][point])
            )
            moved = float(np.linalg.norm(meant - was)) > 1e-6
            # A mount that is welded anew is set out from what was believed; what stands already is where it is.
            station["points"][point] = (
                meant + (hand if point in station["chassis"] else 0.0) if moved else real
            ).tolist()
        station["mass"]["corner"] = station["mass"].get("finished") or station["mass"]["corner"]
    return built


@lru_cache(maxsize=16)
def _worked(text: str) -> WorkedProject:
    """Return a car worked out, from its JSON: a day that is played again differs in one decision only."""
    return work_project(check_project(json.loads(text)))


def _looked_at(exercise: Exercise, built: Values) -> tuple[tuple[str, Came], ...]:
    try:
        worked = _worked(json.dumps(built))
    except EngineError as error:
        said = Came(what="moves", wanted=None, got=None, measures="travel", well=False, say=str(error))
        return tuple((check.answers, said) for check in exercise.checks)
    return tuple((check.answers, check.looks(worked)) for check in exercise.checks)


def decision_of(exercise: Exercise, key: str) -> Decision:
    """Return a decision of an exercise by its key; raises StopIteration where there is none."""
    return next(one for one in exercise.decisions if one.key == key)
