"""What `manage.py order` writes: every job's steps, its finish and what that hangs on, and who does what when; plain values."""

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from typing import Any

from engine.document.people import Shop
from engine.steps.planning import Plan
from engine.steps.spoilt import Spoilt
from engine.steps.states import JobSteps, StepStands
from engine.steps.tasks import Task

Values = dict[str, Any]


def order_values(
    jobs: Sequence[JobSteps],
    tasks: Sequence[Task],
    plan: Plan,
    shop: Shop,
    first: date,
    said: Sequence[str],
) -> Values:
    """Return the whole answer."""
    return {
        "format": "jugatrix-order",
        "version": 1,
        "said": [*said, *_nobody(tasks, plan)],
        "jobs": [
            {
                "name": job.name,
                "steps": [step_values(one) for one in job.steps],
                "finish": None
                if plan.finish[k] is None
                else [day.isoformat() for day in plan.finish[k] or ()],
                "hangs_on": list(plan.hangs_on[k]),
            }
            for k, job in enumerate(jobs)
        ],
        "plan": [
            {
                "who": shop.people[entry.who].name,
                "job": jobs[tasks[entry.task].job].name,
                "station": tasks[entry.task].stands.station,
                "step": tasks[entry.task].stands.step.key,
                "from": _said(first, entry.start),
                "to": _said(first, entry.end),
            }
            for entry in plan.entries
        ],
        "bound": round(plan.bound, 4),
    }


def step_values(one: StepStands) -> Values:
    """Return one step."""
    return {
        "station": one.station,
        "step": one.step.key,
        "name": one.step.name,
        "state": one.state,
        "say": str(one.say),
        "why": one.why,
        "sheet": one.step.sheet,
        "waits_for": list(one.waits_for),
        "spoils": None if one.spoils is None else spoilt_values(one.spoils),
        "hours": [round(value, 2) for value in one.hours],
        **({"places": list(one.places)} if one.places else {}),
    }


def spoilt_values(spoilt: Spoilt) -> Values:
    """Return what a step would spoil."""
    return {
        "say": str(spoilt.say),
        "money": round(spoilt.money, 2),
        "hours": round(spoilt.hours, 2),
        "metal_kg": round(spoilt.metal_kg, 2),
    }


def moment(first: date, minute: float) -> datetime:
    """Return a minute of the calendar as a moment of the shop's own clock."""
    return datetime.combine(first, time()) + timedelta(minutes=round(minute))


def _said(first: date, minute: float) -> str:
    return moment(first, minute).isoformat(timespec="minutes")


def _nobody(tasks: Sequence[Task], plan: Plan) -> list[str]:
    steps = dict.fromkeys(tasks[k].stands.step.name for k in plan.undone if not tasks[k].who)
    return [f"Nobody here can do this step: {name}. It and what needs it are not planned." for name in steps]
