"""`manage.py nightly`: what is done every night beside the running server; bin/serve starts and ends it."""

import logging
import os
import time
from datetime import UTC, datetime
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import close_old_connections

from server.jobs.actions.remove_job import clear_away
from server.keeping.backup import BadBackup, make_backup, newest_backup, rotate
from server.records.pictures.kept import sweep
from server.running.disk import warnings

LOOKS_S = 30
MISSED_HOURS = 26
AGAIN_HOURS = 20
log = logging.getLogger("jugatrix.nightly")


def is_due(now: datetime, last: datetime | None, hour: int) -> bool:
    """Return whether a backup is due: at its hour, or as soon as one was missed; a clock that jumped back is no reason to wait."""
    if hour < 0:
        return False
    if last is None:
        return True
    age = abs((now - last).total_seconds()) / 3600
    return age > MISSED_HOURS or (now.astimezone().hour == hour and age > AGAIN_HOURS)


def night() -> None:
    """Back up, let go of old backups, removed jobs past their time and sessions that have ended."""
    try:
        its = make_backup()
        gone = rotate()
        said = f"backed up to {its.path.name}: {sum(its.rows.values())} rows, {its.pictures} photographs; let go of {len(gone)}"
        log.info(said)
    except BadBackup as error:
        log.error("the nightly backup failed: %s", error)
    clear_away()
    swept = sweep()
    if swept:
        log.info("took away %s files of pictures that belong to no job", swept)
    call_command("clearsessions")
    for words in warnings():
        log.warning(words)


class Command(BaseCommand):
    """Backs up each night."""

    help = "What is done every night beside the running server."
    # They would load all that answers questions, and keep it all night.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the number of the process that starts it: gone before this begins, it cannot be asked for."""
        parser.add_argument("--of", type=int, default=0)

    def handle(self, *args: Any, **options: Any) -> None:
        """Look every half minute, until the server that started it is gone."""
        parent = options["of"] or os.getppid()
        while os.getppid() == parent:
            last = newest_backup()
            if is_due(datetime.now(UTC), last.made if last else None, settings.PLACE.backup_hour):
                close_old_connections()
                try:
                    night()
                except Exception:
                    log.exception("the night's work failed")
                    time.sleep(600)
            time.sleep(LOOKS_S)
