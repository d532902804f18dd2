"""`manage.py make FILE --out DIR`: a project file in; cut lists, drawings, templates and build sheets out."""

from pathlib import Path
from typing import Any

from django.core.management.base import CommandParser

from engine.document.schema import Project
from server.django_headless import HeadlessCommand
from server.headless import OneFile
from server.shop.files import all_files, write_all


class Command(HeadlessCommand, OneFile):
    """Make a job's papers and files."""

    help = "Write everything the shop cuts and sets out into a folder. Exit 2 with one sentence per fault on bad input."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, metavar="FILE")
        parser.add_argument("--out", type=Path, metavar="DIR", required=True, help="the folder to write into")

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        return all_files(read)

    def write(self, result: Any, options: dict[str, Any]) -> None:
        write_all(result, options["out"])
        self.say(f"{len(result)} files in {options['out']}", self.stdout)
