"""Working hours laid end to end: a clock for each person that stands still while he is away.

Minute   of the calendar, from midnight of the first day.
Work     minutes that a person has worked since then.
"""

from bisect import bisect_right
from datetime import date, timedelta

import numpy as np

from engine.document.people import DAY_MINUTES, WEEKDAYS, Person, stretches_of
from engine.facts import facts
from engine.linkage.vectors import Array

QUARTER = 15  # minutes: what work is planned by


@facts
class Hours:
    """A person's stretches of work, in minutes of the calendar: where each begins and ends (stretches,), and the work before it."""

    begins: Array
    ends: Array
    before: Array

    @property
    def after(self) -> Array:
        """Return the work done when each stretch ends, (stretches,) minutes."""
        its: Array = self.before + self.ends - self.begins
        return its

    def start(self, minute: Array) -> Array:
        """Return when work can begin at a minute or after it; infinite beyond the calendar."""
        k = np.searchsorted(self.ends, minute, side="right")
        found = np.full(np.shape(minute), np.inf)
        there = k < len(self.ends)
        found[there] = np.maximum(minute[there], self.begins[k[there]])
        return found

    def next(self, minute: float) -> float:
        """Return when work can begin at one minute or after it; infinite beyond the calendar."""
        k = int(np.searchsorted(self.ends, minute, side="right"))
        return max(minute, float(self.begins[k])) if k < len(self.ends) else np.inf

    def done(self, start: float, work: float) -> float:
        """Return when so many minutes of work that begin at `start`, a minute of his work, are done; infinite beyond the calendar."""
        k = bisect_right(self.ends, start)
        if k == len(self.ends):
            return np.inf
        goal = float(self.before[k]) + max(start - float(self.begins[k]), 0.0) + work
        m = k
        while m < len(self.ends) and float(self.before[m] + self.ends[m] - self.begins[m]) < goal - 1e-9:
            m += 1
        return float(self.begins[m]) + goal - float(self.before[m]) if m < len(self.ends) else np.inf

    def end(self, start: Array, work: Array) -> Array:
        """Return when so many minutes of work that begin at `start` are done; infinite beyond the calendar."""
        found = np.full(np.shape(start), np.inf)
        there = np.isfinite(start)
        k = np.searchsorted(self.ends, start[there], side="right")
        goal = self.before[k] + np.maximum(start[there] - self.begins[k], 0.0) + work[there]
        m = np.searchsorted(self.after, goal - 1e-9, side="left")
        inside = m < len(self.ends)
        reached = np.full(goal.shape, np.inf)
        reached[inside] = self.begins[m[inside]] + goal[inside] - self.before[m[inside]]
        found[there] = reached
        return found

    def pieces(self, start: float, end: float) -> list[tuple[float, float]]:
        """Return the stretches of work between two minutes."""
        found = []
        for begins, ends in zip(self.begins, self.ends, strict=True):
            one, other = max(float(begins), start), min(float(ends), end)
            if other - one > 1e-6:
                found.append((one, other))
        return found


def hours_of_person(person: Person, first: date, days: int) -> Hours:
    """Return a person's hours over so many days from the first."""
    away = {date.fromisoformat(day) for day in person.away}
    stretches: list[tuple[float, float]] = []
    for number in range(days):
        day = first + timedelta(days=number)
        if day not in away:
            for one, other in stretches_of(person, WEEKDAYS[day.weekday()]):
                stretches.append((number * DAY_MINUTES + one, number * DAY_MINUTES + other))
    begins, ends = (np.array([one[k] for one in stretches], dtype=float) for k in (0, 1))
    return Hours(
        begins=begins, ends=ends, before=np.concatenate([[0.0], np.cumsum(ends - begins)])[: len(ends)]
    )
