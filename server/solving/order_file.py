"""`manage.py order FILE…`: project files in, the order of the work and who does what when out; needs no database."""

import multiprocessing
import os
from argparse import ArgumentParser
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from datetime import date
from itertools import repeat
from pathlib import Path
from typing import Any

from engine.document.people import Shop, read_shop
from engine.document.read import read_project
from engine.document.schema import Project
from engine.errors import DocumentRefused, EngineError
from engine.steps.durations import Past, past_of
from engine.steps.evidence import evidence_of
from engine.steps.planning import plan_of
from engine.steps.result_file import order_values
from engine.steps.states import JobSteps, job_steps
from engine.steps.step import BY_KEY
from engine.steps.tasks import awaiting, tasks_of
from server.headless import Headless
from server.solving.order_ics import calendar_of

Values = dict[str, Any]
SECONDS = 2.5


class OrderFile(Headless):
    """Say what comes next in every job, and who does what when."""

    help = (
        "Say of every job what is done, what comes next, what waits and what would be spoilt; then who does what when "
        "over all of them. Exit 2 with one sentence per fault on bad input."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path, metavar="FILE", nargs="+")
        parser.add_argument("--people", type=Path, metavar="FILE", help="who works when, what is on its way")
        parser.add_argument("--from", dest="first", metavar="DATE", help="the first day of the plan; today")
        parser.add_argument("--ics", type=Path, metavar="FILE", help="write the plan as a calendar too")
        super().add_arguments(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        """Read every job, work out and write."""
        faults: list[str] = []
        projects: list[Project] = []
        for file in options["file"]:
            try:
                projects.append(read_project(self.bytes_of(file)))
            except DocumentRefused as refused:
                many = len(options["file"]) > 1
                faults += [f"{file}: {fault}" if many else str(fault) for fault in refused.faults]
        names = [project.name for project in projects]
        twice = sorted({name for name in names if names.count(name) > 1})
        faults += [f'Two of these jobs are called "{name}": give each a name of its own.' for name in twice]
        first = _day(options["first"])
        if first is None:
            faults.append(f'--from: write a day as "2026-12-02", got "{options["first"]}".')
        if faults:
            self.refuse(faults)
        assert first is not None
        try:
            shop = self._shop(options["people"], names)
        except DocumentRefused as refused:
            self.refuse([f"{options['people']}: {fault}" for fault in refused.faults])
        try:
            values, calendar = ordered(projects, shop, first)
        except EngineError as error:
            self.refuse([f"{error.path}: {error}" if error.path else str(error)])
        try:
            if options["ics"] is not None:
                options["ics"].write_bytes(calendar)
            self.write(values, options)
        except OSError as error:
            self.refuse([f"{error.filename}: cannot be written: {error.strerror}."])

    def _shop(self, file: Path | None, names: list[str]) -> Shop:
        return Shop() if file is None else read_shop(self.bytes_of(file), names, list(BY_KEY))


def _day(said: str | None) -> date | None:
    try:
        return date.today() if said is None else date.fromisoformat(said)
    except ValueError:
        return None


def ordered(
    projects: Sequence[Project], shop: Shop, first: date, seconds: float = SECONDS
) -> tuple[Values, bytes]:
    """Return the order of the work of some jobs as plain values, and the plan as a calendar."""
    jobs = [awaiting(job, shop, first) for job in _every_job(projects, past_of(projects))]
    tasks, said = tasks_of(jobs, shop, first)
    plan = plan_of(tasks, [job.name for job in jobs], shop, first, seconds)
    values = order_values(jobs, tasks, plan, shop, first, said)
    return values, calendar_of(values, shop.zone)


def steps_of(project: Project, past: Past) -> JobSteps:
    """Return one job's steps."""
    return job_steps(evidence_of(project), past)


def _every_job(projects: Sequence[Project], past: Past) -> list[JobSteps]:
    """Return every job's steps, on as many processors as there are: they know nothing of each other."""
    cores = min(os.cpu_count() or 1, len(projects))
    if cores < 2:
        return [steps_of(project, past) for project in projects]
    with ProcessPoolExecutor(cores, multiprocessing.get_context("fork")) as pool:
        return list(pool.map(steps_of, projects, repeat(past)))
