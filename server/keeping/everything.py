"""Everything as open files: a folder a job, with each revision as a project file, what was read, found and pictured; and back in.

shop.json    what papers bear of the shop; mark.png beside it
week.json    who works when, what is to come, what is wanted by when and what is held; calendars handed out are not in it
people.csv   name, role, whether let in; never a password
shelf/       a table a person
jobs/NNNN-name/  job.json, log.csv, revisions/NNNN.json, project.json (the newest, whole), items.json, readings.csv,
                 records.csv, photographs.json, photographs/
"""

import csv
import io
import json
import re
import shutil
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.db import IntegrityError, transaction
from pydantic import ValidationError

from engine.document.read import MAX_BYTES, MAX_DEPTH, check_project, read_json
from server.accounts.models import BENCH, ROLES, Person, role_of
from server.accounts.shop import keep_mark, say_shop, shop
from server.jobs.models import Job, Revision
from server.keeping.forms import ITEMS, PICTURES, JobSaid, RevisionSaid, ShopSaid, WeekSaid
from server.parts.actions.take_shelf import take_shelf
from server.parts.models import Part
from server.parts.shelf_csv import write_shelf
from server.records.actions.readings_csv import csv_of
from server.records.actions.records_csv import records_table
from server.records.actions.survey import CHECKS, items_of, records_of, survey_of
from server.records.models import Photograph, SurveyItem
from server.records.pictures.taken import kept_again
from server.running.whole import put_whole
from server.steps.week import say as say_week
from server.steps.week import week_said
from server.tables import as_it_was, as_text

FORM = {"format": "jugatrix-everything", "version": 1}
PEOPLE = ("name", "role", "let_in", "shelf")
LOG = ("number", "parent", "author", "created", "reason")


class BadFolder(RuntimeError):
    """A folder that cannot be written, or that does not hold everything, in a sentence."""


def export_all(to: Path) -> dict[str, int]:
    """Write everything into a new or empty folder; return how much of what. Raise BadFolder, and leave no half of it."""
    if to.exists() and (not to.is_dir() or any(to.iterdir())):
        raise BadFolder(f"{to} is not an empty folder. Give a new one: nothing is written over.")
    half = to.with_name(f".{to.name}.part")
    shutil.rmtree(half, ignore_errors=True)
    try:
        half.mkdir(mode=0o700, parents=True)  # who is here, and everybody's jobs: for whoever wrote it alone
        counts = _write(half)
        if to.exists():
            to.rmdir()
        half.rename(to)
    except OSError as error:
        shutil.rmtree(half, ignore_errors=True)
        raise BadFolder(f"{to} cannot be written: {error.strerror or error}.") from error
    return counts


def _write(folder: Path) -> dict[str, int]:
    counts = {"people": 0, "jobs": 0, "revisions": 0, "photographs": 0}
    _json(folder / "everything.json", {**FORM, "made": datetime.now(UTC).isoformat()})
    _write_shop(folder)
    if week := week_said():
        _json(folder / "week.json", week)
    rows = []
    (folder / "shelf").mkdir()
    for number, user in enumerate(get_user_model().objects.order_by("pk"), start=1):
        parts = list(Part.objects.filter(owner=user))
        shelf = f"{number:04d}.csv" if parts else ""
        if parts:
            (folder / "shelf" / shelf).write_text(write_shelf(parts), "utf-8")
        rows.append([user.get_username(), role_of(user), "yes" if user.is_active else "no", shelf])
        counts["people"] += 1
    _table(folder / "people.csv", PEOPLE, rows)
    for number, job in enumerate(Job.objects.select_related("owner").order_by("created"), start=1):
        slug = re.sub(r"[^a-z0-9]+", "-", job.name.lower()).strip("-")[:50]
        its = folder / "jobs" / f"{number:04d}-{slug}".rstrip("-")
        its.mkdir(parents=True)
        counts["revisions"] += _write_job(its, job)
        counts["photographs"] += _write_pictures(its, job)
        counts["jobs"] += 1
    return counts


def _write_shop(folder: Path) -> None:
    its = shop()
    if its.pk:
        _json(folder / "shop.json", {"name": its.name, "address": its.address, "currency": its.currency})
    if its.mark:
        (folder / "mark.png").write_bytes(bytes(its.mark))


def _write_job(folder: Path, job: Job) -> int:
    _json(
        folder / "job.json",
        {
            "id": str(job.pk),
            "name": job.name,
            "owner": job.owner.get_username(),
            "members": [user.get_username() for user in job.members.all()],
            "created": job.created.isoformat(),
            "removed": None if job.removed is None else job.removed.isoformat(),
        },
    )
    (folder / "revisions").mkdir()
    log = []
    newest: dict[str, Any] = {}
    for one in job.revisions.select_related("author", "parent").order_by("number"):
        _json(folder / "revisions" / f"{one.number:04d}.json", one.document)
        parent = "" if one.parent is None else one.parent.number
        log.append([one.number, parent, one.author.get_username(), one.created.isoformat(), one.reason])
        newest = one.document
    _table(folder / "log.csv", LOG, log)
    items = items_of(job)
    survey, records = survey_of(items), records_of(items)
    whole = {**newest, **({"survey": survey} if survey else {}), **({"records": records} if records else {})}
    _json(folder / "project.json", whole)
    if survey:
        (folder / "readings.csv").write_text(csv_of(survey), "utf-8")
    if records:
        (folder / "records.csv").write_text(records_table(records), "utf-8")
    _json(
        folder / "items.json",
        [
            {
                "kind": item.kind, "key": item.key, "body": item.body, "place": item.place, "gone": item.gone,
                "by": item.by.get_username() if item.by else None, "at": item.at.isoformat(),
            }
            for item in job.survey_items.select_related("by")
        ],
    )  # fmt: skip
    return len(log)


def _write_pictures(folder: Path, job: Job) -> int:
    told = []
    for one in job.photographs.select_related("by"):
        if not one.path.is_file():
            continue
        (folder / "photographs").mkdir(exist_ok=True)
        shutil.copyfile(one.path, folder / "photographs" / f"{one.pk}.jpg")
        told.append(
            {
                "id": str(one.pk), "name": one.name, "width": one.width, "height": one.height,
                "straightened": None if one.straightened_id is None else str(one.straightened_id),
                "mm_per_pixel": one.mm_per_pixel, "ends": one.ends, "length": one.length, "said": one.said,
                "shown": one.shown, "errors": one.errors,
                "by": one.by.get_username() if one.by else None, "at": one.at.isoformat(), "gone": one.gone,
            }
        )  # fmt: skip
    _json(folder / "photographs.json", told)
    return len(told)


def _json(path: Path, value: Any) -> None:
    path.write_text(json.dumps(value, ensure_ascii=False, indent=1) + "\n", "utf-8")


def _table(path: Path, head: tuple[str, ...], rows: list[list[Any]]) -> None:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    writer.writerows([[as_text(cell) if isinstance(cell, str) else cell for cell in row] for row in rows])
    path.write_text(out.getvalue(), "utf-8")


def import_all(folder: Path) -> dict[str, int]:
    """Take everything in from a folder; a job that is here already stays as it is. Raise BadFolder, and take nothing, else.

    People come without a password: an owner gives each a link to set one.
    """
    pictures: list[Path] = []
    try:
        _ours(folder)
        with transaction.atomic():
            return _read(folder, pictures)
    except BaseException as error:
        for picture in pictures:
            picture.unlink(missing_ok=True)
        if isinstance(error, BadFolder) or not isinstance(error, Exception):
            raise
        # A folder that was edited by hand can be wrong in more ways than there are names for; none is a trace.
        raise BadFolder(f"{folder} cannot be imported: {_why(error)} Nothing was.") from error


def _ours(folder: Path) -> None:
    """Raise BadFolder for a folder that export_all did not write."""
    if not folder.is_dir():
        raise BadFolder(f"There is no folder {folder}.")
    link = next((path for path in folder.rglob("*") if path.is_symlink()), None)
    if link is not None:
        raise BadFolder(f"{link} is a link to somewhere else. export_all writes none; nothing was imported.")
    told = json.loads((folder / "everything.json").read_text("utf-8"))
    if not isinstance(told, dict) or told.get("format") != FORM["format"]:
        raise BadFolder(f"{folder} holds no export of everything.")


def _why(error: Exception) -> str:
    """Return what is wrong, in a sentence."""
    if isinstance(error, ValidationError):
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        return f"{error.title}: {where}: {first['msg']}."
    if isinstance(error, KeyError):
        return f"{error} is named in it and not there."
    if isinstance(error, FileNotFoundError):
        return f"{error.filename} is not there."
    if isinstance(error, IntegrityError):
        return f"something stands in it twice ({error})."
    return f"{str(error).rstrip('.') or type(error).__name__}."


def _rows(file: Iterable[str]) -> Iterator[dict[str, str]]:
    for row in csv.DictReader(file):
        yield {name: as_it_was(cell or "") for name, cell in row.items() if name}


def _read(folder: Path, pictures: list[Path]) -> dict[str, int]:
    counts = {"people": 0, "jobs": 0, "revisions": 0, "photographs": 0, "here already": 0}
    users: dict[str, Any] = {user.get_username(): user for user in get_user_model().objects.all()}
    with (folder / "people.csv").open(encoding="utf-8", newline="") as file:
        for row in _rows(file):
            user = users.get(row["name"])
            if user is None:
                user = get_user_model()(username=row["name"], is_active=row["let_in"] == "yes")
                user.set_unusable_password()
                user.save()
                role = row["role"] if row["role"] in ROLES else BENCH
                Person.objects.create(user=user, role=role)
                users[row["name"]] = user
                counts["people"] += 1
            if row["shelf"] and not Part.objects.filter(owner=user).exists():
                take_shelf(user, (folder / "shelf" / Path(row["shelf"]).name).read_bytes())
    _read_shop(folder)
    for its in sorted((folder / "jobs").iterdir()) if (folder / "jobs").is_dir() else ():
        told = JobSaid.model_validate_json((its / "job.json").read_bytes())
        if Job.objects.filter(pk=told.id).exists():
            counts["here already"] += 1
            continue
        job = _read_job(its, told, users)
        counts["jobs"] += 1
        counts["revisions"] += job.revisions.count()
        counts["photographs"] += _read_pictures(its, job, users, pictures)
    _read_week(folder, users)
    return counts


def _read_shop(folder: Path) -> None:
    """Take in what papers bear of the shop, where nobody has said it here."""
    if shop().pk or not (folder / "shop.json").is_file():
        return
    told = ShopSaid.model_validate_json((folder / "shop.json").read_bytes())
    say_shop(told.name, told.address, told.currency)
    if (folder / "mark.png").is_file():
        keep_mark((folder / "mark.png").read_bytes())


def _read_week(folder: Path, users: dict[str, Any]) -> None:
    """Take in what the shop said of its week, where nobody has said it here."""
    if week_said() is not None or not (folder / "week.json").is_file():
        return
    told = WeekSaid.model_validate_json((folder / "week.json").read_bytes())
    say_week(users.get(told.by or ""), told.said, "")


def _read_job(folder: Path, told: JobSaid, users: dict[str, Any]) -> Job:
    job = Job.objects.create(pk=told.id, name=told.name[:120], owner=users[told.owner], removed=told.removed)
    Job.objects.filter(pk=job.pk).update(created=told.created)
    job.members.set([users[name] for name in told.members])
    made: dict[str, Revision] = {}
    for row, document in _revisions(folder):
        made[str(row.number)] = Revision.objects.create(
            job=job, number=row.number, parent=made.get(row.parent), document=document,
            reason=row.reason, author=users[row.author],
        )  # fmt: skip
        Revision.objects.filter(pk=made[str(row.number)].pk).update(created=row.created)
    if not made:
        raise BadFolder(f"{folder} has no revisions in its log.csv. Nothing was imported.")
    newest = list(made.values())[-1].document
    stations = [[station.name, station.kind] for station in check_project(newest).stations]
    Job.objects.filter(pk=job.pk).update(stations=stations)
    for one in ITEMS.validate_json((folder / "items.json").read_bytes()):
        if not one.gone:
            CHECKS[one.kind].validate_python(one.body)
        item = SurveyItem.objects.create(
            job=job, kind=one.kind, key=one.key, body=one.body, place=one.place, gone=one.gone,
            by=users.get(one.by or ""),
        )  # fmt: skip
        SurveyItem.objects.filter(pk=item.pk).update(at=one.at)
    return job


def _revisions(folder: Path) -> Iterator[tuple[RevisionSaid, dict[str, Any]]]:
    with (folder / "log.csv").open(encoding="utf-8", newline="") as file:
        rows = sorted((RevisionSaid.model_validate(row) for row in _rows(file)), key=lambda row: row.number)
    for row in rows:
        path = folder / "revisions" / f"{row.number:04d}.json"
        document = read_json(path.read_bytes(), MAX_BYTES, MAX_DEPTH)
        if not isinstance(document, dict):
            raise BadFolder(f"{path} is no project file. Nothing was imported.")
        yield row, document


def _read_pictures(folder: Path, job: Job, users: dict[str, Any], taken: list[Path]) -> int:
    if not (folder / "photographs.json").is_file():
        return 0
    told = PICTURES.validate_json((folder / "photographs.json").read_bytes())
    for one in sorted(told, key=lambda its: its.straightened is not None):
        photo = Photograph.objects.create(
            pk=one.id, job=job, name=one.name, width=one.width, height=one.height,
            straightened_id=one.straightened, mm_per_pixel=one.mm_per_pixel, ends=one.ends,
            length=one.length, said=one.said, shown=one.shown, errors=one.errors,
            by=users.get(one.by or ""), gone=one.gone,
        )  # fmt: skip
        Photograph.objects.filter(pk=photo.pk).update(at=one.at)
        photo.path.parent.mkdir(parents=True, exist_ok=True)
        if photo.path.exists():
            raise BadFolder(f"There is a picture {photo.pk} here already. Nothing was imported.")
        taken.append(photo.path)
        put_whole(photo.path, kept_again((folder / "photographs" / f"{photo.pk}.jpg").read_bytes()))
    return len(told)
