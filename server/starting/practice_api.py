"""Practice over HTTP: what can be practised, and an exercise played by whoever takes its decisions."""

from hashlib import sha256
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Schema

from engine.practice.exercise import Exercise
from engine.practice.exercises import BY_KEY, EXERCISES
from engine.practice.play import SURVEY, Worker, built_of, play, ways_of
from engine.practice.result_file import account_values
from server.answers import ActionRefused, Document, answer
from server.running.following import key_of, tell
from server.running.workers import away

router = Router(tags=["practice"])
MEASURING = "How is the frame measured?"
MOST_CARS = 1_000_000
Seed = Annotated[int, Field(ge=0, le=MOST_CARS)]


class ForkOut(Schema):
    """A fork: what is asked, the ways on, and the hours and money that it takes; null where the tape says it."""

    key: str
    asks: str
    ways: list[str]
    hours: float | None
    money: float | None


class ExerciseOut(Schema):
    """Something to practise: its forks in the order of the work."""

    key: str
    title: str
    forks: list[ForkOut]


class PlayIn(Schema):
    """Which car, and the way taken at every fork by its key."""

    seed: Seed
    takes: dict[str, str]


class CameOut(Schema):
    """What was wanted of a car and what came, in words; which fork answers for it."""

    what: str
    decision: str
    well: bool
    say: str


class PracticeSlipOut(Schema):
    """A reading that was misread, and whether that was found."""

    say: str
    found: bool


class MistakeOut(Schema):
    """What was done wrong at a fork, in words."""

    decision: str
    say: str


class CostliestOut(Schema):
    """The fork that cost most, and how much of the shop's money and hours together."""

    asks: str
    cost: float


class PlayedOut(Schema):
    """What came of it, and the car as it stands, as a project file has it."""

    about: str
    came: list[CameOut]
    slips: list[PracticeSlipOut]
    readings: int
    enough: int
    cut_twice: int
    hours: float
    money: float
    cost: float
    mistakes: list[MistakeOut]
    costliest: CostliestOut | None
    car: Document


@router.get("", response=list[ExerciseOut], operation_id="listExercises")
def exercises(request: HttpRequest) -> list[dict[str, Any]]:
    """Return what can be practised."""
    return [{"key": one.key, "title": one.title, "forks": _forks(one)} for one in EXERCISES]


def _forks(exercise: Exercise) -> list[dict[str, Any]]:
    asks = {one.key: one for one in exercise.decisions}
    return [
        {
            "key": key,
            "asks": MEASURING if key == SURVEY else asks[key].asks,
            # In no order that says which of them comes through.
            "ways": sorted(ways, key=lambda way: sha256(way.encode()).digest()),
            "hours": None if key == SURVEY else asks[key].hours,
            "money": None if key == SURVEY else asks[key].money,
        }
        for key, ways in ways_of(exercise).items()
    ]


@router.post("/{key}", response=PlayedOut, operation_id="playExercise")
def play_one(request: HttpRequest, key: str, body: PlayIn) -> HttpResponse:
    """Return what comes of an exercise whose decisions somebody took."""
    exercise = BY_KEY.get(key)
    if exercise is None:
        raise ActionRefused(404, "no_exercise", f"“{key}” is no exercise here. Take one of the list.")
    ways = ways_of(exercise)
    for fork, way in body.takes.items():
        if way not in ways.get(fork, ()):
            raise ActionRefused(422, "no_way", f"“{way}” is not one of the choices at “{fork}”.")
    missing = [fork for fork in ways if fork not in body.takes]
    if missing:
        raise ActionRefused(422, "undecided", f"Still to be decided: {', '.join(missing)}.")
    return answer(away(played, key, body.seed, body.takes, key=key_of(request)))


def played(key: str, seed: int, takes: dict[str, str]) -> dict[str, Any]:
    """Return an exercise played, of plain values."""
    exercise, worker = BY_KEY[key], Worker(name="own", takes=takes)
    tell(0.1, "the car is cut, welded and looked at")
    account = account_values(play(exercise, seed, worker))
    return {
        **account,
        "car": {**built_of(exercise, seed, worker), "name": f"Practice: {exercise.title}, car {seed}"},
    }
