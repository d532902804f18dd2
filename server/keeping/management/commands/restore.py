"""`manage.py restore FILE [--into DIR]`: put a backup's data back; what was there is moved aside."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.keeping.backup import BadBackup, restore


class Command(BaseCommand):
    """Restores a backup."""

    help = "Put a backup back. Stop Jugatrix first; what is there is moved aside, not deleted."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file and the folder."""
        parser.add_argument("file", type=Path)
        parser.add_argument("--into", type=Path, help="a data folder; the one in use if left out")

    def handle(self, *args: Any, **options: Any) -> None:
        """Restore it."""
        into = options["into"] or Path(settings.DATA)
        try:
            its = restore(options["file"], into)
        except BadBackup as error:
            raise CommandError(str(error)) from error
        self.stdout.write(
            f"Restored to {into} as of {its.made:%Y-%m-%d %H:%M} UTC: {its.rows.get('jobs_job', 0)} jobs, "
            f"{its.rows.get('jobs_revision', 0)} revisions, {its.pictures} photographs."
        )
