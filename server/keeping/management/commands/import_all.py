"""`manage.py import_all DIR`: take in what `export_all` wrote."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.keeping.everything import BadFolder, import_all


class Command(BaseCommand):
    """Takes everything in."""

    help = (
        "Take in a folder that export_all wrote. People come without a password; an owner gives each a link."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the folder."""
        parser.add_argument("folder", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Read it."""
        try:
            counts = import_all(options["folder"])
        except BadFolder as error:
            raise CommandError(str(error)) from error
        self.stdout.write("Taken in: " + ", ".join(f"{count} {what}" for what, count in counts.items()) + ".")
