"""What is still to be done over all jobs: open steps as tasks, with what each waits for.

Arrival   something on its way that a task must wait for; where nothing is ordered yet, it comes its usual days after the buying.
Release   the day of the calendar, from the first, that a task cannot begin before.
Held      by somebody at the bench: to a person, or to no sooner than a day.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date

from engine.document.people import Arrival, Held, Shop
from engine.facts import facts
from engine.steps.states import JobSteps, StepStands
from engine.steps.step import PARTS_COME, Hours


@facts
class Arrives:
    """Something that comes: what, and on which day of the calendar, from the first."""

    what: str
    day: float


@facts
class Task:
    """One open step: its job and its place in that job's steps; hours; tasks it needs by number, and days to wait after one.

    who  : numbers of the people who can do it, or the one it is held to
    from_day : of the calendar, from the first, that it is held to begin no sooner than
    """

    job: int
    stands: StepStands
    hours: Hours
    needs: tuple[int, ...]
    lags: tuple[tuple[int, float], ...]
    arrives: tuple[Arrives, ...]
    who: tuple[int, ...]
    from_day: float = 0.0

    @property
    def said(self) -> str:
        """Return it as it is said in a plan."""
        its = self.stands
        return its.step.name if its.station is None else f"{its.station}: {its.step.name}"


def tasks_of(jobs: Sequence[JobSteps], shop: Shop, first: date) -> tuple[list[Task], list[str]]:
    """Return every open step of every job, needs before what needs them; and what could not be used, in sentences."""
    tasks: list[Task] = []
    said: list[str] = []
    for number, job in enumerate(jobs):
        arrivals = [one for one in shop.arrivals if one.job == job.name]
        opened = [its for its in job.steps if its.state != "done"]
        said += _idle(job, arrivals, opened)
        kept = {(one.station, one.step): one for one in shop.held if one.job == job.name}
        said += _held_for_nothing(job, kept, opened)
        at: dict[tuple[str | None, str], int] = {}
        for its in opened:
            comes = [
                Arrives(what=one.part, day=_days(one.date, first))
                for one in arrivals
                if its.step.key == PARTS_COME and _is_for(one.part, its.station, job.stations)
            ]
            known = {one.what for one in comes}
            for what, due in its.come:
                if due is not None and what not in known:
                    comes.append(Arrives(what=what, day=_days(due, first)))
                elif due is None and not known:
                    said.append(
                        f"{job.name}, {its.station}: {what} is ordered and nobody knows when it comes; the plan takes it as there."
                    )
            held = kept.get((its.station, its.step.key))
            buying = at.get((its.station, "order"))
            at[its.station, its.step.key] = len(tasks)
            tasks.append(
                Task(
                    job=number,
                    stands=its,
                    hours=its.hours,
                    needs=tuple(sorted({k for need in its.needs for k in _open(need, job.steps, at)})),
                    lags=((buying, its.lag_days),) if buying is not None and its.lag_days else (),
                    arrives=tuple(comes),
                    who=_who(shop, its.step.key, held),
                    from_day=0.0 if held is None or held.day is None else max(_days(held.day, first), 0.0),
                )
            )
    return tasks, said


def awaiting(job: JobSteps, shop: Shop, first: date) -> JobSteps:
    """Return a job's steps with what the shop's own list says is still on its way: what waits for it, and until when."""
    arrivals = [one for one in shop.arrivals if one.job == job.name and _days(one.date, first) > 0]
    steps = []
    for its in job.steps:
        mine = [one for one in arrivals if _is_for(one.part, its.station, job.stations)]
        if its.step.key != PARTS_COME or its.state == "done" or not mine:
            steps.append(its)
            continue
        more = tuple(f"{one.part} (due {one.date})" for one in mine)
        if its.state in ("next", "may"):
            steps.append(
                replace(its, state="waits", why="It waits for parts.", waits_for=(*its.waits_for, *more))
            )
        else:
            steps.append(replace(its, waits_for=(*its.waits_for, *more)))
    return replace(job, steps=tuple(steps))


def _idle(job: JobSteps, arrivals: Sequence[Arrival], opened: Sequence[StepStands]) -> list[str]:
    return [
        f"{job.name}: {one.part} comes on {one.date}, and nothing that is open waits for it."
        for one in arrivals
        if not any(
            its.step.key == PARTS_COME and _is_for(one.part, its.station, job.stations) for its in opened
        )
    ]


def _who(shop: Shop, step: str, held: Held | None) -> tuple[int, ...]:
    """Return who can do a step; whom it is held to alone, whatever else is said of what he does."""
    if held is not None and held.who is not None:
        return tuple(k for k, one in enumerate(shop.people) if one.name == held.who)
    return tuple(k for k, one in enumerate(shop.people) if one.can == "all" or step in one.can)


def _held_for_nothing(
    job: JobSteps, kept: Mapping[tuple[str | None, str], Held], opened: Sequence[StepStands]
) -> list[str]:
    there = {(its.station, its.step.key) for its in opened}
    known = {(its.station, its.step.key) for its in job.steps}
    found = []
    for key in kept:
        if key not in there:
            where = "" if key[0] is None else f"{key[0]}, "
            why = "it is done" if key in known else "this job has no such step"
            found.append(f"{job.name}: {where}{key[1]} is held, and {why}.")
    return found


def _days(day: str, first: date) -> float:
    return (date.fromisoformat(day) - first).days


def _open(
    need: tuple[str | None, str], steps: Sequence[StepStands], at: dict[tuple[str | None, str], int]
) -> list[int]:
    """Return the open tasks that a need comes to: itself, or where it is done, what it needs that is open."""
    if need in at:
        return [at[need]]
    its = next((one for one in steps if (one.station, one.step.key) == need), None)
    return [] if its is None else [k for more in its.needs for k in _open(more, steps, at)]


def _is_for(part: str, station: str | None, stations: Sequence[str]) -> bool:
    """Return whether something on its way is for a station: it begins with its name, or with no station's."""
    named = [one for one in stations if part.lower().startswith(one.lower())]
    return not named or max(named, key=len) == station
