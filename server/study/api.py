"""A job's design study over HTTP: begun, looked at while it grows, stopped, taken up again, one of its vehicles taken."""

import os
import shutil
import subprocess
import sys
import time
from dataclasses import asdict
from typing import Any
from uuid import UUID

import orjson
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from engine.document.read import check_project
from engine.study.asked import OneDamper, StudyAsked, check_study
from engine.study.chunk import parts_of
from engine.study.taken import proved, put_in
from engine.study.usual import usual
from server.answers import ActionRefused, Document, answer
from server.jobs.actions.open_job import open_job
from server.study.folder import SPOILED, StudyFolder, rows_of
from server.study.result import changes_of, vehicle_values
from server.study.waiting import before

router = Router(tags=["study"])
LINE = "line"  # the folder in which studies wait for one another
NO_STUDY: dict[str, Any] = {
    "asked": None, "running": False, "before": None, "parts": 0, "done": 0, "vehicles": 0, "seconds": 0.0, "lost": [], "said": "", "front": [],
}  # fmt: skip
LOOKED_AT = 160
UNSAID = (
    "It ended before its end and could not say why: the machine was switched off, or the process was ended. "
    "What was found is kept; take it up again."
)
STARTS_S = 20.0  # till a process that was started holds the study


class StudyPlace(Schema):
    """Points that move together, and how far each way, mm: ahead, out, up."""

    points: list[str]
    box: list[float] = Field(min_length=3, max_length=3)


class StudyVary(Schema):
    """What of one station may be otherwise: places, and spring rates N/mm; alike : its other side, changed in mirror with it."""

    station: str
    alike: str | None = None
    places: list[StudyPlace]
    springs: list[float]


class StudyWishes(Schema):
    """What the vehicle is to be: Hz by station, share, mm."""

    frequency: dict[str, float]
    roll_front: float | None = None
    damper: OneDamper | None = None
    few_springs: bool = True
    stop_at: float | None = None
    left: float = 5.0
    tape: float = 1.0


class UsualIn(Schema):
    """A job in hand."""

    document: Document


class UsualOut(Schema):
    """What a study of it would begin with."""

    vary: list[StudyVary]
    wishes: StudyWishes


class StudyIn(Schema):
    """A study to be begun; one that was there before is put away."""

    document: Document
    vary: list[StudyVary]
    wishes: StudyWishes
    candidates: int


class StudiedStationOut(Schema):
    """One station of a vehicle: N/mm, Hz, N·m per degree, mm, damper ÷ wheel."""

    spring: float | None = None
    frequency: float | None = None
    roll: float | None = None
    perch: float | None = None
    coil_left: float | None = None
    seat_left: float | None = None
    ratio: float | None = None
    left: float | None = None
    longest: float | None = None
    shortest: float | None = None


class StudiedOut(Schema):
    """One vehicle of the front: its misses by wish (1 is just acceptable), and its stations."""

    score: float
    misses: dict[str, float | None]
    stations: dict[str, StudiedStationOut]


class StudyAskedOut(Schema):
    """What was asked."""

    vary: list[StudyVary]
    wishes: StudyWishes
    candidates: int


class StudyOut(Schema):
    """How a job's study stands; asked is null where there is none. seconds that were worked, parts lost, why it ended.

    before : how many studies stand before it in the line, where it waits for one of the two that may work at a time
    """

    asked: StudyAskedOut | None
    running: bool
    before: int | None
    parts: int
    done: int
    vehicles: int
    seconds: float
    lost: list[int]
    said: str
    front: list[StudiedOut]


class StudyProvedOut(Schema):
    """One station by the general solver: mm, Hz, damper ÷ wheel, mm, faults; or why it does not."""

    station: str
    ride: float | None
    frequency: float | None
    ratio: float | None
    left: float | None
    faults: int
    refused: str


class StudyChangesOut(Schema):
    """What of one station is otherwise: points mm, units' springs and preload by name."""

    points: dict[str, list[float]]
    units: dict[str, dict[str, Any]]


class StudyTakenOut(Schema):
    """One vehicle put into the job that was studied: what changes, and what the general solver says."""

    changes: dict[str, StudyChangesOut]
    proved: list[StudyProvedOut]


@router.post("/study/usual", response=UsualOut, operation_id="usualStudy")
def read_usual(request: HttpRequest, body: UsualIn) -> HttpResponse:
    """Return what a study of a job in hand would begin with."""
    vary, wishes = usual(check_project(body.document))
    return answer({"vary": [one.model_dump() for one in vary], "wishes": wishes.model_dump()})


@router.get("/jobs/{job_id}/study", response=StudyOut, operation_id="readStudy")
def read(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Return how the job's study stands."""
    return answer(_standing(_folder(request, job_id)))


@router.post(
    "/jobs/{job_id}/study",
    response=StudyOut,
    operation_id="beginStudy",
)
def begin(request: HttpRequest, job_id: UUID, body: StudyIn) -> HttpResponse:
    """Begin a study; one that was there before is put away."""
    folder = _folder(request, job_id)
    job = {key: value for key, value in body.document.items() if key not in ("survey", "records")}
    asked, _ = check_study(
        {
            "job": job,
            "vary": [one.model_dump() for one in body.vary],
            "wishes": body.wishes.model_dump(),
            "candidates": body.candidates,
        }
    )
    with folder.changed():
        _not_running(folder)
        shutil.rmtree(folder.path, ignore_errors=True)
        folder.begin(asked.model_dump_json())
        _go(folder)
    return answer(_standing(folder))


@router.post(
    "/jobs/{job_id}/study/stop",
    response=StudyOut,
    operation_id="stopStudy",
)
def stop(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Have it stop after the parts in hand."""
    folder = _there(request, job_id)
    if _running(folder):
        folder.ask_to_stop()
    return answer(_standing(folder))


@router.post(
    "/jobs/{job_id}/study/go",
    response=StudyOut,
    operation_id="goOnWithStudy",
)
def go_on(request: HttpRequest, job_id: UUID) -> HttpResponse:
    """Take it up again where it was left."""
    folder = _there(request, job_id)
    with folder.changed():
        _not_running(folder)
        _go(folder)
    return answer(_standing(folder))


@router.get(
    "/jobs/{job_id}/study/vehicle",
    response=StudyTakenOut,
    operation_id="readStudyVehicle",
)
def vehicle(request: HttpRequest, job_id: UUID, score: float) -> HttpResponse:
    """Return one vehicle of the front as changes to the job, proved; `score` holds it while the front grows."""
    folder = _there(request, job_id)
    rows = [row for row in rows_of(folder.front()) if abs(row["score"] - score) < 1e-4]
    if not rows:
        raise ActionRefused(404, "vehicle_gone", "Better ones have been found since; pick again.")
    asked, project = check_study(orjson.loads(folder.asked or ""))
    document = put_in(asked, project, rows[0])
    names = list(vehicle_values(rows[0])["stations"])
    return answer(
        {
            "changes": changes_of(asked.job, document),
            "proved": [asdict(one) for one in proved(document, names)],
        }
    )


def _folder(request: HttpRequest, job_id: UUID) -> StudyFolder:
    job = open_job(request.user, job_id)
    return StudyFolder(settings.STUDIES / str(job.pk))


def _there(request: HttpRequest, job_id: UUID) -> StudyFolder:
    folder = _folder(request, job_id)
    if folder.asked is None:
        raise Http404
    return folder


def _running(folder: StudyFolder) -> bool:
    # Between its start and its first lock it is held by nobody; a clock that was set back is no reason to wait for it.
    started = folder.state().get("started", 0.0)
    starts = isinstance(started, int | float) and 0 <= time.time() - started < STARTS_S
    return folder.is_held or _waits(folder) is not None or starts


def _waits(folder: StudyFolder) -> int | None:
    """Return how many studies stand before this one in the line; None where it does not wait."""
    return before(settings.STUDIES / LINE, folder.path.name)


def _not_running(folder: StudyFolder) -> None:
    if _running(folder):
        raise ActionRefused(409, "running", "A study of this job is running. Stop it first.")


def _go(folder: StudyFolder) -> None:
    """Start the command in a process of its own: it outlives whoever answered, and is taken up again after a restart."""
    folder.may_go_on()
    folder.say({**folder.state(), "said": "", "started": time.time()})
    with (folder.path / "log.txt").open("ab") as log:
        subprocess.Popen(
            [
                sys.executable, "-m", "server.study.waiting", str(settings.STUDIES / LINE), str(folder.path),
                sys.executable, str(settings.ROOT / "manage.py"), "study", str(folder.path / "study.json"),
                "--folder", str(folder.path), "--line", str(settings.STUDIES / LINE), "--proved", "0", "--out", str(folder.path / "front.json"),
            ],
            cwd=settings.ROOT,
            env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )  # fmt: skip


def _standing(folder: StudyFolder) -> dict[str, Any]:
    text = folder.asked
    if text is None:
        return NO_STUDY
    try:
        asked = StudyAsked.model_validate_json(text)
    except ValueError:
        return {**NO_STUDY, "said": SPOILED}
    # First: it ends after its last word is written, so that what is read once it has ended is its last word.
    running = _running(folder)
    state = folder.state()
    rows = rows_of(folder.front())[:LOOKED_AT]
    parts, done = parts_of(asked.candidates), state.get("done", 0)
    said = state.get("said", "")
    if not (running or said) and done + len(state.get("lost", [])) < parts:
        said = UNSAID
    return {
        "asked": {
            "vary": [one.model_dump() for one in asked.vary],
            "wishes": asked.wishes.model_dump(),
            "candidates": asked.candidates,
        },
        "running": running,
        "before": _waits(folder),
        "parts": parts,
        "done": done,
        "vehicles": state.get("vehicles", 0),
        "seconds": state.get("seconds", 0.0),
        "lost": state.get("lost", []),
        "said": said,
        "front": [vehicle_values(row) for row in rows],
    }
