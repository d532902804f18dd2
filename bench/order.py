"""How near a plan is to the best there is, and how long it takes: six jobs, five people.

.venv/bin/python -m bench.order
"""

import time
from dataclasses import replace
from datetime import date
from pathlib import Path

from engine.document.people import Person, Shop
from engine.document.read import read_project
from engine.steps.evidence import evidence_of
from engine.steps.planning import plan_of
from engine.steps.states import job_steps
from engine.steps.tasks import tasks_of

DEMOS = Path(__file__).parents[1] / "server" / "demo" / "files"
FIRST = date(2026, 12, 2)


def main() -> None:
    """Print, for one person and for five, alike and unlike, the bound over what the plan comes to."""
    begun = time.perf_counter()
    jobs = [
        job_steps(evidence_of(read_project(file.read_bytes())), {}) for file in sorted(DEMOS.glob("*.json"))
    ]
    print(f"the steps of {len(jobs)} jobs: {time.perf_counter() - begun:.1f} s")
    six = [*jobs, *(replace(job, name=f"{job.name} again") for job in jobs)]
    five = [Person(name=name) for name in ("A", "B", "C", "D", "E")]
    unlike = [
        *five[:3],
        Person(name="D", can=["make", "tack", "weld"]),
        Person(name="E", hours={"sat": ["08:00-14:00"]}),
    ]
    for words, those, people in (("three jobs, one person", jobs, five[:1]), ("six jobs, five alike", six, five), ("six jobs, five unlike", six, unlike)):  # fmt: skip
        tasks, _ = tasks_of(those, Shop(people=people), FIRST)
        for seconds in (0.1, 5.0):
            begun = time.perf_counter()
            plan = plan_of(tasks, [job.name for job in those], Shop(people=people), FIRST, seconds)
            spent = time.perf_counter() - begun
            print(
                f"{words}, {len(tasks)} steps, solver {seconds:g} s: bound over plan {plan.bound:.3f} in {spent:.1f} s"
            )


if __name__ == "__main__":
    main()
