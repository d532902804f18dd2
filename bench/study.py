"""How many vehicles a study looks at, on one process and on two, and beside the general solver taking them one by one.

OPENBLAS_NUM_THREADS=1 .venv/bin/python -m bench.study
"""

import json
import os
import tempfile
import time
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from engine.document.read import check_project
from engine.station.solved import solve_station
from engine.study.asked import StudyAsked
from engine.study.chunk import VEHICLES, done
from engine.study.usual import usual
from server.study.executors import cores, executor_at
from server.study.folder import StudyFolder
from server.study.run import run

FILES = Path(__file__).parents[1] / "server" / "demo" / "files"
PARTS = 16


def main() -> None:
    """Print the figures."""
    job = json.loads((FILES / "heron-three-wheeler.json").read_text("utf-8"))
    job = {key: value for key, value in job.items() if key not in ("survey", "records")}
    project = check_project(job)
    vary, wishes = usual(project)
    text = StudyAsked(job=job, vary=vary, wishes=wishes).model_dump_json()
    done(text, 0)
    began = time.perf_counter()
    for number in range(4):
        done(text, number)
    part = (time.perf_counter() - began) / 4
    began = time.perf_counter()
    for station in project.stations[:3]:
        solve_station(station)
    alone = time.perf_counter() - began
    print(f"a part of {VEHICLES:,} vehicles, three stations       {part * 1e3:8.0f} ms")
    print(
        f"one vehicle by the general solver, nothing judged {alone * 1e3:8.0f} ms  {alone * VEHICLES / part:8,.0f} x"
    )
    for where in ("", "dask"):
        for workers in range(1, cores() + 1):
            with tempfile.TemporaryDirectory() as folder:
                its = StudyFolder(Path(folder) / "study")
                its.begin(text)
                executor = executor_at(where, workers)
                for future in [executor.submit(done, text, 0) for _ in range(2 * workers)]:
                    future.result()  # the processes are there and have solved the stations as drawn
                began = time.perf_counter()
                run(its, text, PARTS * VEHICLES, lambda many=workers: many, lambda _, its=executor: its)  # type: ignore[misc]
                seconds = time.perf_counter() - began
            print(
                f"{where or 'processes':10} {workers} at work: {PARTS * VEHICLES / seconds:10,.0f} vehicles a second"
            )


if __name__ == "__main__":
    main()
