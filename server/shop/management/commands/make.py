"""`manage.py make FILE --out DIR`: a project file in; cut lists, drawings, templates and build sheets out."""

from pathlib import Path
from typing import Any

from django.core.management.base import CommandParser

from engine.errors import DocumentRefused, EngineError
from server.headless import HeadlessCommand
from server.shop.files import all_files, write_all


class Command(HeadlessCommand):
    """Make a job's papers and files."""

    help = "Write everything the shop cuts and sets out into a folder. Exit 2 with one sentence per fault on bad input."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, metavar="FILE")
        parser.add_argument("--out", type=Path, metavar="DIR", required=True, help="the folder to write into")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            files = all_files(self.read(self._bytes(options["file"])))
        except DocumentRefused as refused:
            self.refuse([str(fault) for fault in refused.faults])
        except EngineError as error:
            self.refuse([f"{error.path}: {error}" if error.path else str(error)])
        try:
            write_all(files, options["out"])
        except OSError as error:
            self.refuse([f"{options['out']}: cannot be written: {error.strerror}."])
        self.stdout.write(f"{len(files)} files in {options['out']}")
