"""What is done before serving: data of an older version is backed up and brought up to date; newer data is left alone."""

import sys
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor

from server.keeping.backup import PICTURES, BadBackup, make_backup, newest_backup, store_path
from server.records.pictures.kept import sweep
from server.running.caching import forget_all


class CannotStart(RuntimeError):
    """Why it does not start, in a sentence that says what to do."""


def ready(say: Callable[[str], None], new: bool = False) -> None:
    """Bring the data folder to this version; raise CannotStart, and change nothing, where that cannot be.

    new : begin a new shop even where something of another is left
    """
    folder = Path(settings.DATA)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        probe = folder / ".written"
        probe.write_text("x")
        probe.unlink()
    except OSError as error:
        raise CannotStart(
            f"The data folder {folder} cannot be written: {error.strerror or error}. Give another, or the right to write it."
        ) from error
    forget_all()  # this version may make it otherwise
    store = store_path()
    held = store.is_file() and store.stat().st_size > 0
    left = _left(folder)
    if not held and left and not new:
        raise CannotStart(
            f"There is no job store in {folder}, but {left}. Is its disk mounted? "
            "Restore the newest backup (manage.py restore FILE), or begin a new shop with bin/serve --new. Nothing was changed."
        )
    try:
        executor = MigrationExecutor(connection)
        if held:
            _whole(store)
        newer = sorted(set(executor.loader.applied_migrations) - set(executor.loader.disk_migrations))
        if newer:
            raise CannotStart(
                f"The data in {folder} was written by a newer Jugatrix ({newer[0][0]} {newer[0][1]}). "
                "Start that one; nothing was changed."
            )
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            if held:
                say("The data is of an older version: backing it up first …")
                say(f"  {make_backup().path}")
            call_command("migrate", verbosity=0, interactive=False)
        sweep(0.0)  # nobody is sending: a picture without a row is one whose answer was never given
    except BadBackup as error:
        raise CannotStart(f"{error} Nothing was changed.") from error
    except DatabaseError as error:
        raise CannotStart(
            f"The job store {store} cannot be read: {error}. Restore the newest backup: manage.py restore FILE."
        ) from error


def _left(folder: Path) -> str:
    """Return what is left of a shop whose job store is not there; empty where nothing is."""
    newest = newest_backup()
    if newest is not None:
        return f"there are backups, the newest {newest.path}"
    if any((folder / PICTURES).glob("*.jpg")):
        return f"there are photographs in {folder / PICTURES}"
    return ""


def _whole(store: Path) -> None:
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA quick_check(5)")
        said = [row[0] for row in cursor.fetchall()]
    if said != ["ok"]:
        raise CannotStart(
            f"The job store {store} is damaged ({said[0]}). Move it away and restore the newest backup: manage.py restore FILE."
        )


def stop(words: str) -> None:
    """Say why, and end."""
    sys.exit(f"Jugatrix: {words}")
