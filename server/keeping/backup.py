"""Backups: the job store copied while it runs by SQLite's own means, with its photographs, in one file that is looked at after.

File     jugatrix-YYYYMMDD-HHMMSS.zip: `jugatrix.sqlite3`, `photographs/`, and `backup.json` saying what must be in it
Looked at  opened again: SQLite's own check, foreign keys, as many rows as when it was copied, every photograph, one job solved
Kept     the newest of each of the last 7 days, 5 weeks and 24 months
"""

import contextlib
import json
import os
import shutil
import sqlite3
import stat
import tempfile
import time
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection

from engine.document.read import check_project
from engine.errors import EngineError
from engine.facts import facts
from engine.station.solved import solve_station
from server.keeping.forms import BackupSaid

STORE = "jugatrix.sqlite3"
PICTURES = "photographs"
SAID = "backup.json"
DAYS, WEEKS, MONTHS = 7, 5, 24
FORM = 1
HALF_S = 24 * 3600
LOOKED_AT_STEPS = 5
LARGEST_SAID = 20_000_000
SECRETS = frozenset(
    {
        "django_session",
        "axes_accessattempt",
        "axes_accesslog",
        "axes_accessfailurelog",
        "axes_accessattemptexpiration",
        "steps_calendarlink",
    }
)
KEY = "secret_key"


class BadBackup(RuntimeError):
    """A backup that could not be made, or is none, in a sentence."""


@facts
class Backup:
    """One backup's file, when it was made, and how many rows each table had."""

    path: Path
    made: datetime
    rows: dict[str, int]
    pictures: int


def backups_folder() -> Path:
    """Return where backups lie."""
    return Path(settings.PLACE.backups or settings.DATA / "backups")


def store_path() -> Path:
    """Return the job store in use."""
    return Path(connection.settings_dict["NAME"])


def make_backup(to: Path | None = None) -> Backup:
    """Return a backup of the data as it stands, looked at; raise BadBackup, and leave no half of one."""
    folder = backups_folder()
    made = datetime.now(UTC)
    path = to or folder / f"jugatrix-{made:%Y%m%d-%H%M%S}.zip"
    if path.exists():
        raise BadBackup(f"{path} is there already; nothing was written over.")
    try:
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=path.parent, prefix=".backup-") as half:
            store = Path(half) / STORE
            _copy_store(store_path(), store)
            rows = rows_of(store)
            named = _pictures_of(store)
            written = Path(half) / path.name
            _write(written, store, named, {"form": FORM, "made": made.isoformat(), "rows": rows})
            found = look_at(written)
            with written.open("rb") as file:
                os.fsync(file.fileno())
            written.chmod(0o600)  # it holds passwords, if only hashed, and everybody's jobs
            os.replace(written, path)
    except (OSError, sqlite3.Error, zipfile.BadZipFile) as error:
        raise BadBackup(f"The backup could not be written to {path}: {error}.") from error
    return Backup(path=path, made=made, rows=found.rows, pictures=found.pictures)


def _copy_store(source: Path, to: Path) -> None:
    if not source.is_file():
        raise BadBackup(f"There is no job store at {source}: nothing to back up.")
    with (
        contextlib.closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True, timeout=30)) as running,
        contextlib.closing(sqlite3.connect(to)) as copy,
    ):
        running.backup(copy)
        _without_secrets(copy)
        # One file without a log beside it: what is in the copy is all in the copy.
        copy.execute("PRAGMA journal_mode=DELETE")


def _without_secrets(copy: sqlite3.Connection) -> None:
    """Take out of a copied store what lets somebody in or tells who tried: open sessions and wrong passwords."""
    copy.execute("PRAGMA secure_delete=ON")
    names = {name for (name,) in copy.execute("SELECT name FROM sqlite_master WHERE type='table'")}
    for name in names & SECRETS:
        copy.execute(f'DELETE FROM "{name}"')
    copy.commit()


def rows_of(store: Path) -> dict[str, int]:
    """Return how many rows each table of a store holds."""
    with contextlib.closing(sqlite3.connect(f"file:{store}?mode=ro", uri=True)) as its:
        names = [
            name for (name,) in its.execute("SELECT name FROM sqlite_master WHERE type='table' ORDER BY name")
        ]
        # Names come out of the store's own list of tables.
        return {
            name: int(its.execute(f'SELECT COUNT(*) FROM "{name}"').fetchone()[0])
            for name in names
            if not name.startswith("sqlite_")
        }


def _pictures_of(store: Path) -> list[str]:
    """Return the files of the photographs that a store names and that lie beside it."""
    with contextlib.closing(sqlite3.connect(f"file:{store}?mode=ro", uri=True)) as its:
        try:
            found = [str(one) for (one,) in its.execute("SELECT id FROM records_photograph")]
        except sqlite3.OperationalError:
            return []  # from before there were any
    names = [f"{one[:8]}-{one[8:12]}-{one[12:16]}-{one[16:20]}-{one[20:]}.jpg" for one in found]
    return [name for name in names if (Path(settings.DATA) / PICTURES / name).is_file()]


def _write(path: Path, store: Path, pictures: list[str], said: dict[str, Any]) -> None:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out:
        out.write(store, STORE)
        for name in pictures:
            out.write(Path(settings.DATA) / PICTURES / name, f"{PICTURES}/{name}", zipfile.ZIP_STORED)
        out.writestr(SAID, json.dumps({**said, "pictures": pictures}, indent=1))


def look_at(path: Path) -> Backup:
    """Return a backup that was opened, counted and solved; raise BadBackup for one that would not give the shop back."""
    with unpacked(path) as (folder, said):
        store = folder / STORE
        try:
            with contextlib.closing(sqlite3.connect(f"file:{store}?mode=ro", uri=True)) as its:
                check = its.execute("PRAGMA integrity_check").fetchone()[0]
                loose = its.execute("PRAGMA foreign_key_check").fetchone()
                documents = its.execute("SELECT document FROM jobs_revision ORDER BY id DESC").fetchmany(5)
        except sqlite3.Error as error:
            raise BadBackup(f"The job store in {path.name} cannot be read: {error}.") from error
        if check != "ok" or loose is not None:
            raise BadBackup(
                f"The job store in {path.name} is damaged: {check if check != 'ok' else 'a row refers to nothing'}."
            )
        rows = rows_of(store)
        if rows != said.rows:
            wrong = next(name for name in {**rows, **said.rows} if rows.get(name) != said.rows.get(name))
            raise BadBackup(
                f"{path.name} holds {rows.get(wrong, 0)} rows of {wrong}, and should {said.rows.get(wrong, 0)}."
            )
        _solve_one([json.loads(document) for (document,) in documents], path.name)
        return Backup(path=path, made=said.made, rows=rows, pictures=len(said.pictures))


def _solve_one(documents: list[dict[str, Any]], name: str) -> None:
    """Solve the first station of the newest documents that can be: what is kept must be a linkage again."""
    refused = None
    for document in documents:
        if not document.get("stations"):
            continue
        try:
            solve_station(check_project(document).stations[0], "stations[0]", LOOKED_AT_STEPS)
        except EngineError as error:
            refused = error  # a job may be saved while it cannot move
            continue
        return
    if refused is not None and len(documents) >= 5:
        raise BadBackup(f"None of the newest jobs in {name} can be solved: {refused}")


@contextlib.contextmanager
def unpacked(path: Path) -> Iterator[tuple[Path, BackupSaid]]:
    """Yield a backup's folder for a while, and what it says of itself; raise BadBackup for what is none."""
    with tempfile.TemporaryDirectory(prefix="jugatrix-") as folder:
        try:
            with zipfile.ZipFile(path) as file:
                said = _said_of(file, path.name)
                wanted = [STORE, SAID, *(f"{PICTURES}/{name}" for name in said.pictures)]
                _fits(file, wanted, Path(folder), path.name)
                bad = file.testzip()
                if bad is not None:
                    raise BadBackup(f"{path.name} is damaged at {bad}.")
                file.extractall(folder, wanted)
        except FileNotFoundError as error:
            raise BadBackup(f"There is no file {path}.") from error
        except BadBackup:
            raise
        except Exception as error:  # a ZIP can be spoiled in more ways than its reader has names for
            raise BadBackup(f"{path.name} is no backup of Jugatrix, or was cut off: {error}.") from error
        yield Path(folder), said


def _said_of(file: zipfile.ZipFile, name: str) -> BackupSaid:
    """Return what a backup says of itself; raise BadBackup."""
    if (
        SAID not in file.namelist()
        or STORE not in file.namelist()
        or file.getinfo(SAID).file_size > LARGEST_SAID
    ):
        raise BadBackup(f"{name} is no backup of Jugatrix.")
    try:
        told = json.loads(file.read(SAID))
        if isinstance(told, dict) and isinstance(told.get("form"), int) and told["form"] > FORM:
            raise BadBackup(f"{name} was made by a newer Jugatrix; restore it with that one.")
        return BackupSaid.model_validate(told)
    except ValueError as error:
        raise BadBackup(f"{name} is no backup of Jugatrix: what it says of itself cannot be read.") from error


def _fits(file: zipfile.ZipFile, wanted: list[str], into: Path, name: str) -> None:
    """Raise BadBackup, before anything is unpacked, for what holds more than it says or than there is room for."""
    held = {one.filename: one for one in file.infolist()}
    if len(held) != len(file.infolist()):
        raise BadBackup(f"{name} holds a file twice.")
    strange = sorted(set(held) - set(wanted))
    if strange:
        raise BadBackup(f"{name} holds {strange[0]!r}, which is nothing of ours.")
    missing = sorted(set(wanted) - set(held))
    if missing:
        raise BadBackup(f"{name} lacks {missing[0]}.")
    if any(stat.S_ISLNK(one.external_attr >> 16) for one in held.values()):
        raise BadBackup(f"{name} holds a link instead of a file.")
    large = sum(one.file_size for one in held.values())
    if large > shutil.disk_usage(into).free:
        raise BadBackup(
            f"{name} unpacks to {large / 1e6:.0f} MB, and there is less room than that in {into}."
        )


def all_backups() -> list[Backup]:
    """Return the backups in the folder by their names, the newest first."""
    found = []
    for path in backups_folder().glob("jugatrix-*.zip"):
        with contextlib.suppress(ValueError):
            made = datetime.strptime(path.stem, "jugatrix-%Y%m%d-%H%M%S").replace(tzinfo=UTC)
            found.append(Backup(path=path, made=made, rows={}, pictures=0))
    return sorted(found, key=lambda one: one.made, reverse=True)


def newest_backup() -> Backup | None:
    """Return the newest backup, None without one."""
    return next(iter(all_backups()), None)


def rotate() -> list[Path]:
    """Delete the backups that no day, week or month needs; return them. The newest always stays."""
    every = all_backups()
    kept: set[Path] = {one.path for one in every[:1]}
    for count, span in ((DAYS, "%Y-%j"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
        newest: dict[str, Path] = {}
        for one in every:
            newest.setdefault(one.made.strftime(span), one.path)
        kept |= set(list(newest.values())[:count])
    gone = [one.path for one in every if one.path not in kept]
    for path in gone:
        path.unlink(missing_ok=True)
    for half in backups_folder().glob(".backup-*"):  # what a pulled plug left
        if time.time() - half.stat().st_mtime > HALF_S:
            shutil.rmtree(half, ignore_errors=True)
    return gone


def restore(path: Path, into: Path) -> Backup:
    """Put a backup's data into a folder; what is there is moved aside, never deleted. Raise BadBackup.

    The server must not run on that folder meanwhile.
    """
    found = look_at(path)
    into.mkdir(parents=True, exist_ok=True)
    if is_served(into):
        raise BadBackup(f"Jugatrix runs on {into}. Stop it first, then restore.")
    aside = into / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    with unpacked(path) as (folder, _):
        half = Path(tempfile.mkdtemp(dir=into, prefix=".restore-"))
        try:
            shutil.copy2(folder / STORE, half / STORE)
            if (folder / PICTURES).is_dir():
                shutil.copytree(folder / PICTURES, half / PICTURES)
            # With the key, every session, invitation and link to a new password that was made with it is over: what has
            # been used or taken back since the backup must not let anybody in once more.
            for name in (STORE, f"{STORE}-wal", f"{STORE}-shm", PICTURES, KEY):
                if (into / name).exists():
                    aside.mkdir(exist_ok=True)
                    os.replace(into / name, aside / name)
            for name in (PICTURES, STORE):  # the store last: with it the folder is whole
                if (half / name).exists():
                    os.replace(half / name, into / name)
        except OSError as error:
            raise BadBackup(
                f"The backup could not be put into {into}: {error}. What was there is in {aside}."
            ) from error
        finally:
            shutil.rmtree(half, ignore_errors=True)
    return found


def is_served(folder: Path) -> bool:
    """Return whether a server holds a data folder."""
    import fcntl

    try:
        with (folder / "serving.lock").open("a") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return False
    except BlockingIOError:
        return True
    except OSError:
        return False
