"""Who works in the shop and when, what is on its way, and by when each job is wanted: a file of its own beside the jobs.

Hours   stretches of a day as "08:00-12:00", by day of the week; a day left out is free.
Can     the steps that a person does; `all` of them if nothing else is said.
Held    what somebody at the bench knows better: this step is that person's, or not before that day.
Things  how many of each thing there are that one step at a time takes: the welder, the lift.
"""

import re
from collections.abc import Iterator
from datetime import date
from typing import Annotated, Literal, get_args
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import Field, ValidationError

from engine.document.fields import Name, Stated
from engine.document.read import in_sentences, read_json
from engine.errors import DocumentRefused, Fault

Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = get_args(Weekday)
STRETCH = re.compile(r"^(\d{2}):(\d{2})\s*[-–]\s*(\d{2}):(\d{2})$")
DAY_MINUTES = 24 * 60
Day = Annotated[str, Field(min_length=1, max_length=20)]
Stretch = Annotated[str, Field(max_length=40)]
USUAL_STRETCHES = ["08:00-12:00", "13:00-17:00"]
USUAL_WEEK: dict[Weekday, list[Stretch]] = {day: USUAL_STRETCHES for day in WEEKDAYS[:5]}


class Person(Stated):
    """Somebody of the shop."""

    name: Name
    hours: dict[Weekday, Annotated[list[Stretch], Field(max_length=12)]] = Field(
        default_factory=lambda: dict(USUAL_WEEK), description="by day of the week"
    )
    away: Annotated[list[Day], Field(max_length=400)] = Field(default_factory=list, description="whole days")
    can: Literal["all"] | Annotated[list[str], Field(max_length=40)] = "all"


class Arrival(Stated):
    """Something on its way to a job; `part` begins with its station where it is only for that one."""

    job: Name
    part: Annotated[str, Field(min_length=1, max_length=300)]
    date: Day


class Held(Stated):
    """One step put where somebody wants it: by whom, not before which day; `station` left out is the vehicle's."""

    job: Name
    station: Name | None = None
    step: Annotated[str, Field(max_length=40)]
    who: Name | None = None
    day: Day | None = None


class Shop(Stated):
    """People, arrivals and wishes."""

    people: Annotated[list[Person], Field(min_length=1, max_length=60)] = Field(
        default_factory=lambda: [Person(name="You")]
    )
    arrivals: Annotated[list[Arrival], Field(max_length=1000)] = Field(default_factory=list)
    wanted: Annotated[dict[Name, Day], Field(max_length=400)] = Field(default_factory=dict)
    held: Annotated[list[Held], Field(max_length=400)] = Field(default_factory=list)
    zone: Annotated[str, Field(max_length=60)] = "UTC"
    things: dict[Literal["welder", "lift"], Annotated[int, Field(ge=1, le=50)]] = Field(default_factory=dict)


def stretches_of(person: Person, day: Weekday) -> list[tuple[int, int]]:
    """Return a person's hours on a day of the week as minutes of the day, the earliest first."""
    found = [_stretch(said) for said in person.hours.get(day, ())]
    return sorted(one for one in found if one is not None)


def read_shop(data: bytes | str, jobs: list[str], steps: list[str]) -> Shop:
    """Return the checked file of a shop; raise DocumentRefused with every fault.

    jobs, steps : the names that it may speak of
    """
    value = read_json(data)
    if not isinstance(value, dict):
        raise DocumentRefused([Fault("", 'must be one JSON object: { "people": [ … ] }')])
    try:
        shop = Shop.model_validate(value)
    except ValidationError as error:
        raise DocumentRefused(in_sentences(error)) from error
    faults = list(_faults(shop, jobs, steps))
    if faults:
        raise DocumentRefused(faults)
    return shop


def _faults(shop: Shop, jobs: list[str], steps: list[str]) -> Iterator[Fault]:
    names = [person.name for person in shop.people]
    for number, person in enumerate(shop.people):
        at = f"people[{number}]"
        if names.index(person.name) < number:
            yield Fault(f"{at}.name", f'"{person.name}" stands twice; give each person a name of their own')
        yield from _hours_faults(person, at)
        for k, day in enumerate(person.away):
            yield from _day_faults(day, f"{at}.away[{k}]")
        for k, step in enumerate([] if person.can == "all" else person.can):
            if step not in steps:
                yield Fault(f"{at}.can[{k}]", f'"{step}" is no step; give one of: {", ".join(steps)}')
    for number, arrival in enumerate(shop.arrivals):
        yield from _day_faults(arrival.date, f"arrivals[{number}].date")
        if arrival.job not in jobs:
            yield Fault(f"arrivals[{number}].job", _no_job(arrival.job, jobs))
    for job, day in shop.wanted.items():
        yield from _day_faults(day, f"wanted.{job}")
        if job not in jobs:
            yield Fault(f"wanted.{job}", _no_job(job, jobs))
    yield from _held_faults(shop, names, jobs, steps)
    try:
        ZoneInfo(shop.zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        yield Fault("zone", f'"{shop.zone}" is no time zone; write it as "Europe/Lisbon"')


def _held_faults(shop: Shop, names: list[str], jobs: list[str], steps: list[str]) -> Iterator[Fault]:
    seen: set[tuple[str, str | None, str]] = set()
    for number, held in enumerate(shop.held):
        at, key = f"held[{number}]", (held.job, held.station, held.step)
        if held.job not in jobs:
            yield Fault(f"{at}.job", _no_job(held.job, jobs))
        if held.step not in steps:
            yield Fault(f"{at}.step", f'"{held.step}" is no step; give one of: {", ".join(steps)}')
        if held.who is not None and held.who not in names:
            yield Fault(f"{at}.who", f'nobody here is called "{held.who}"; give one of: {", ".join(names)}')
        if held.who is None and held.day is None:
            yield Fault(at, "says neither who nor from which day; give one of them, or take it out")
        if held.day is not None:
            yield from _day_faults(held.day, f"{at}.day")
        if key in seen:
            yield Fault(at, "holds a step that is held above already: keep one of them")
        seen.add(key)


def _stretch(said: str) -> tuple[int, int] | None:
    """Return a stretch as minutes of the day; None where it is none."""
    match = STRETCH.match(said)
    if match is None:
        return None
    hour, minute, to_hour, to_minute = (int(figure) for figure in match.groups())
    one, other = 60 * hour + minute, 60 * to_hour + to_minute
    return (one, other) if max(minute, to_minute) < 60 and one < other <= DAY_MINUTES else None


def _hours_faults(person: Person, at: str) -> Iterator[Fault]:
    for day, stretches in person.hours.items():
        last, sound = -1, True
        for k, said in enumerate(stretches):
            if _stretch(said) is None:
                yield Fault(f"{at}.hours.{day}[{k}]", f'write a stretch of hours as "08:00-12:00", the earlier first, got "{said}"')  # fmt: skip
                sound = False
        for one, other in sorted(stretches_of(person, day)) if sound else ():
            if one < last:
                yield Fault(f"{at}.hours.{day}", "two stretches of hours overlap: correct one")
            last = other
    if not any(person.hours.values()):
        yield Fault(f"{at}.hours", f"{person.name} has no hours at all; give some, or take the person out")


def _day_faults(day: str, at: str) -> Iterator[Fault]:
    try:
        date.fromisoformat(day)
    except ValueError:
        yield Fault(at, f'write a day as "2026-12-24", got "{day}"')


def _no_job(name: str, jobs: list[str]) -> str:
    return f'no job here is called "{name}"; give one of: {", ".join(jobs)}'
