"""What every command that turns a project file into a result file does: read, refuse in sentences, write."""

import json
from pathlib import Path
from typing import Any, NoReturn

from django.core.management.base import BaseCommand, CommandParser

from engine.document.read import MAX_BYTES, read_project, too_big
from engine.errors import DocumentRefused, EngineError, Fault


class HeadlessCommand(BaseCommand):
    """A project file in, JSON out; exit 2 with one sentence per fault on bad input. Needs no database."""

    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, metavar="FILE")
        parser.add_argument("--out", type=Path, metavar="FILE", help="write there instead of standard output")

    def read(self, data: bytes) -> Any:
        """Return what a file holds; raise DocumentRefused. A project, if nothing else is said."""
        return read_project(data)

    def result_of(self, project: Any, options: dict[str, Any]) -> Any:
        """Return the result as plain values."""
        raise NotImplementedError

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            result = self.result_of(self.read(self._bytes(options["file"])), options)
        except DocumentRefused as refused:
            self.refuse([str(fault) for fault in refused.faults])
        except EngineError as error:
            self.refuse([f"{error.path}: {error}" if error.path else str(error)])
        text = json.dumps(result, indent=1, ensure_ascii=False, allow_nan=False)
        if options["out"] is None:
            self.stdout.write(text)
            return
        try:
            options["out"].write_text(text + "\n", encoding="utf-8")
        except OSError as error:
            self.refuse([f"{options['out']}: cannot be written: {error.strerror}."])

    def refuse(self, sentences: list[str]) -> NoReturn:
        """Say what is wrong, a line each, and end with status 2."""
        for sentence in sentences:
            self.stderr.write(sentence)
        raise SystemExit(2)

    def _bytes(self, file: Path) -> bytes:
        try:
            # One byte more than is allowed is enough to know that it is too big.
            with file.open("rb") as opened:
                data = opened.read(MAX_BYTES + 1)
            size = file.stat().st_size
        except OSError as error:
            raise DocumentRefused([Fault(str(file), f"cannot be read: {error.strerror}.")]) from error
        if len(data) > MAX_BYTES:
            raise DocumentRefused([Fault("", too_big(size))])
        return data
