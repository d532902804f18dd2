"""`manage.py export_all DIR`: everything as open files, a folder a job."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.keeping.everything import BadFolder, export_all


class Command(BaseCommand):
    """Writes everything out."""

    help = "Write everything as open files: project files of all revisions, readings, records, photographs, shelves."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the folder."""
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it."""
        try:
            counts = export_all(options["folder"])
        except BadFolder as error:
            raise CommandError(str(error)) from error
        self.stdout.write(
            f"{options['folder']}: " + ", ".join(f"{count} {what}" for what, count in counts.items()) + "."
        )
