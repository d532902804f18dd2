"""How long a step takes: by the shop's own past times where it has enough of them, else the usual ones with a wide spread.

Hours     one in ten is done within the first, half within the second, nine in ten within the third.
Past      the hours that records say a step took, over every job that is asked about; each station counts once.
"""

from collections.abc import Sequence
from statistics import median, stdev

import numpy as np

from engine.document.records import (
    ConfirmedRecord,
    CycleRecord,
    DriveRecord,
    MadeRecord,
    OrderedRecord,
    Record,
    SettingRecord,
    WeighRecord,
)
from engine.document.schema import Project
from engine.steps.step import BY_KEY, Hours

ENOUGH = 3
Z_NINE_IN_TEN = 1.2816
LEAST_SPREAD = 0.08  # of the logarithm: nobody is as even as that
Past = dict[str, list[float]]

STEP_OF = (
    (MadeRecord, "make"), (OrderedRecord, "order"), (CycleRecord, "cycle"),
    (WeighRecord, "weigh"), (SettingRecord, "set"), (DriveRecord, "drive"),
)  # fmt: skip


def step_of(record: Record) -> str | None:
    """Return the step that a record belongs to."""
    if isinstance(record, ConfirmedRecord):
        return record.step
    return next((step for kind, step in STEP_OF if isinstance(record, kind)), None)


def past_of(projects: Sequence[Project]) -> Past:
    """Return the hours that each step took, one figure for each station that it was done at; for one piece where it goes by pieces."""
    past: Past = {}
    for project in projects:
        spent: dict[tuple[str, str], list[float]] = {}
        for record in project.records:
            step = step_of(record)
            if step in BY_KEY and record.hours:
                pieces = getattr(record, "count", None) or 1 if BY_KEY[step].each == "piece" else 1
                spent.setdefault((step, getattr(record, "station", None) or ""), []).append(
                    record.hours / pieces
                )
        for (step, _), hours in spent.items():
            past.setdefault(step, []).append(
                sum(hours) / len(hours) if BY_KEY[step].each == "piece" else sum(hours)
            )
    return past


def hours_of(step: str, past: Past, many: int = 1) -> Hours:
    """Return the hours that a step takes, for so many pieces or mounts where it goes by them."""
    its = BY_KEY[step]
    low, middle, high = its.hours
    own = [one for one in past.get(step, ()) if one > 0]
    if len(own) >= ENOUGH:
        middle = median(own)
        spread = max(stdev(np.log(own).tolist()), LEAST_SPREAD)
        low, high = (middle * float(np.exp(sign * Z_NINE_IN_TEN * spread)) for sign in (-1, 1))
    times = max(many, 1) if its.each else 1
    return low * times, middle * times, high * times


def sampled(hours: Hours, samples: int, random: np.random.Generator) -> np.ndarray:
    """Return hours drawn so that a tenth is below the first and a tenth above the third, (samples,).

    A lognormal on either side of the median, each with its own spread.
    """
    low, middle, high = hours
    z = random.standard_normal(samples)
    down, up = np.log(middle / low) / Z_NINE_IN_TEN, np.log(high / middle) / Z_NINE_IN_TEN
    drawn: np.ndarray = middle * np.exp(np.where(z < 0, down, up) * z)
    return drawn
