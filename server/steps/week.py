"""Who does what when over all of a person's jobs: planned from what the shop says of itself, and what each says in calendars.

Jobs are told apart by their ids: two may have one name. What is said of jobs that somebody cannot see, or that are gone, is
kept and left out of his plan.
"""

import hashlib
import json
from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from engine.document.people import Shop, read_shop
from engine.document.read import check_project
from engine.document.schema import Project
from engine.errors import DocumentRefused
from engine.shop.buying import OnShelf
from engine.steps.durations import Past, past_of
from engine.steps.evidence import evidence_of
from engine.steps.planning import Begun, begun, plan_of
from engine.steps.result_file import order_values
from engine.steps.states import JobSteps, job_steps
from engine.steps.step import BY_KEY
from engine.steps.tasks import awaiting, tasks_of
from server.answers import ActionRefused
from server.jobs.models import Job
from server.records.actions.fitting import fitting
from server.records.actions.survey import items_of, records_of, survey_of
from server.running.following import tell
from server.running.workers import away
from server.shop.rack import shelf_of, stock_of
from server.steps.models import ShopWeek

Values = dict[str, Any]
SECONDS = 1.5
KEPT_JOBS = 64
CHANGED = "Somebody has changed the week since you looked. It is shown as it is now: do yours again on it."
BY_JOB = ("arrivals", "held")


def newest(job: Job) -> Values:
    """Return a job's newest revision with its readings and records, as a file."""
    document = job.revisions.order_by("-number")[0].document
    items = items_of(job)
    survey = fitting(document, survey_of(items))
    # Who read it and when changes nothing of what is done: the same readings are the same answer.
    survey["photos"] = [
        {key: value for key, value in one.items() if key != "file"} for one in survey.get("photos", [])
    ]
    survey["readings"] = [
        {key: value for key, value in one.items() if key not in ("by", "when")}
        for one in survey.get("readings", [])
    ]
    return {**document, **({"survey": survey} if survey else {}), "records": records_of(items)}


def said() -> Values:
    """Return what the shop says of itself; the usual week of one person where it never did."""
    row = ShopWeek.objects.first()
    return {**Shop().model_dump(mode="json"), **({} if row is None else row.said)}


def stamp() -> str:
    """Return what tells one state of what the shop says from the next."""
    row = ShopWeek.objects.first()
    return "" if row is None else row.at.isoformat()


def say(user: Any, values: Values, on: str) -> None:
    """Keep what the shop says of itself; raise DocumentRefused with every fault, ActionRefused where it has changed since.

    on : the stamp of what was changed
    """
    known = [str(pk) for pk in Job.objects.values_list("pk", flat=True)]
    shop = read_shop(json.dumps(values), known, list(BY_KEY))
    with transaction.atomic():
        row = ShopWeek.objects.first() or ShopWeek()
        if on != stamp():
            raise ActionRefused(409, "outdated", CHANGED)
        row.said, row.by = shop.model_dump(mode="json"), user
        row.save()


def week_said() -> Values | None:
    """Return what the shop said of its week, with who and when, for the jobs that are here; None where it said nothing."""
    row = ShopWeek.objects.select_related("by").first()
    if row is None:
        return None
    ids = {str(pk) for pk in Job.objects.values_list("pk", flat=True)}
    here = {
        **row.said,
        **{name: [one for one in row.said.get(name, []) if one["job"] in ids] for name in BY_JOB},
        "wanted": {job: day for job, day in row.said.get("wanted", {}).items() if job in ids},
    }
    return {"said": here, "by": row.by.get_username() if row.by else None, "at": row.at.isoformat()}


def week_of(user: Any, first: date | None, key: str) -> Values:
    """Return who does what when over all jobs that a user can open.

    first : the first day; if left out, today by the shop's own clock, or tomorrow once it is noon
    key   : what it is followed and stopped by
    """
    jobs = list(Job.objects.known_to(user).order_by("pk"))
    ids = {str(job.pk) for job in jobs}
    values = said()
    mine = {
        **values,
        **{name: [one for one in values[name] if one["job"] in ids] for name in BY_JOB},
        "wanted": {job: day for job, day in values["wanted"].items() if job in ids},
    }
    first = first or (datetime.now(ZoneInfo(values["zone"])) + timedelta(hours=12)).date()
    documents = [(str(job.pk), newest(job)) for job in jobs]
    return _named(
        away(planned, documents, mine, first.isoformat(), shelf_of(user), key=key),
        {str(job.pk): job.name for job in jobs},
    )


def planned(
    documents: Sequence[tuple[str, Values]], said: Values, first: str, shelf: list[OnShelf]
) -> Values:
    """Return the plan of some jobs by their ids, of plain values."""
    day = date.fromisoformat(first)
    shop = read_shop(json.dumps(said), [job for job, _ in documents], list(BY_KEY))
    projects: dict[str, Project] = {}
    refused = []
    for job, document in documents:
        try:
            projects[job] = check_project(document)
        except DocumentRefused as error:
            refused.append(f"{job} is not planned: {error}")
    past = past_of(list(projects.values()))
    jobs = []
    for number, (job, project) in enumerate(projects.items()):
        tell(0.8 * number / len(projects), f"what is done on {project.name}")
        jobs.append(awaiting(replace(_steps(project, past, shelf), name=job), shop, day))
    tell(0.8, "who does what when")
    tasks, said_too = tasks_of(jobs, shop, day)
    names = [job.name for job in jobs]
    plan = plan_of(tasks, names, shop, day, SECONDS, _before.get(",".join(names), ()))
    _keep(",".join(names), begun(plan, tasks, names, shop))
    values = order_values(jobs, tasks, plan, shop, day, [*refused, *said_too])
    held = {(one.job, one.station, one.step) for one in shop.held}
    for entry in values["plan"]:
        entry["held"] = (entry["job"], entry["station"], entry["step"]) in held
    return {**values, "first": first, "zone": shop.zone}


# The plan of these jobs before: what a step moved by hand does is not mixed up with another plan that is as good.
_before: dict[str, list[Begun]] = {}


def _keep(jobs: str, plan: list[Begun]) -> None:
    _before.pop(jobs, None)
    while len(_before) >= KEPT_JOBS:
        _before.pop(next(iter(_before)))
    _before[jobs] = plan


# Kept where the work is done, so that a step moved by hand asks for the plan alone.
_kept: dict[str, JobSteps] = {}


def _steps(project: Project, past: Past, shelf: list[OnShelf]) -> JobSteps:
    key = hashlib.sha256(repr((project.model_dump_json(), past, shelf)).encode()).hexdigest()
    if key not in _kept:
        while len(_kept) >= KEPT_JOBS:
            _kept.pop(next(iter(_kept)))
        _kept[key] = job_steps(evidence_of(project, stock_of(shelf), tuple(shelf)), past)
    return _kept[key]


def _named(values: Values, names: dict[str, str]) -> Values:
    """Return a plan whose sentences have jobs' names; ids stand beside them."""

    def spoken(words: str) -> str:
        for job, name in names.items():
            words = words.replace(job, name)
        return words

    return {
        **values,
        "said": [spoken(one) for one in values["said"]],
        "jobs": [
            {
                **job,
                "id": job["name"],
                "name": names[job["name"]],
                "done": all(step["state"] == "done" for step in job["steps"]),
                "hangs_on": [spoken(one) for one in job["hangs_on"]],
            }
            for job in values["jobs"]
        ],
    }
