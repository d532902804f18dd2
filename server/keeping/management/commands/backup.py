"""`manage.py backup [--out FILE]`: copy everything while it runs, and look at the copy."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.keeping.backup import BadBackup, make_backup


class Command(BaseCommand):
    """Makes a backup."""

    help = (
        "Back up the jobs and photographs while Jugatrix runs; the copy is opened, counted and solved after."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file."""
        parser.add_argument(
            "--out", type=Path, help="the file to write; one by its time in the backups' folder"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it."""
        try:
            its = make_backup(options["out"])
        except BadBackup as error:
            raise CommandError(str(error)) from error
        jobs, revisions = its.rows.get("jobs_job", 0), its.rows.get("jobs_revision", 0)
        self.stdout.write(
            f"{its.path}: {jobs} jobs, {revisions} revisions, {its.pictures} photographs; looked at, whole."
        )
