"""`manage.py solve FILE`: a project file in, a result file out; needs no database."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from engine.document.read import MAX_BYTES, read_project, too_big
from engine.errors import DocumentRefused, EngineError, Fault
from engine.results.result_file import solve_project


class Command(BaseCommand):
    """Solve a project file."""

    help = (
        "Solve a project file and print the result as JSON. Exit 2 with one sentence per fault on bad input."
    )
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, metavar="FILE")
        parser.add_argument(
            "--steps", type=int, default=41, metavar="N", help="positions, droop to bump (41)"
        )
        parser.add_argument("--out", type=Path, metavar="FILE", help="write there instead of standard output")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            result = solve_project(self._project(options["file"]), self._steps(options["steps"]))
        except DocumentRefused as refused:
            self._refuse([str(fault) for fault in refused.faults])
        except EngineError as error:
            self._refuse([f"{error.path}: {error}" if error.path else str(error)])
        text = json.dumps(result, indent=1, ensure_ascii=False, allow_nan=False)
        if options["out"] is None:
            self.stdout.write(text)
            return
        try:
            options["out"].write_text(text + "\n", encoding="utf-8")
        except OSError as error:
            self._refuse([f"{options['out']}: cannot be written: {error.strerror}."])

    def _project(self, file: Path) -> Any:
        try:
            # One byte more than is allowed is enough to know that it is too big.
            with file.open("rb") as opened:
                data = opened.read(MAX_BYTES + 1)
            size = file.stat().st_size
        except OSError as error:
            raise DocumentRefused([Fault(str(file), f"cannot be read: {error.strerror}.")]) from error
        if len(data) > MAX_BYTES:
            raise DocumentRefused([Fault("", too_big(size))])
        return read_project(data)

    def _steps(self, steps: int) -> int:
        if not 2 <= steps <= 2001:
            self._refuse([f"--steps: ask for 2 to 2001 positions, got {steps}."])
        return steps

    def _refuse(self, sentences: list[str]) -> None:
        for sentence in sentences:
            self.stderr.write(sentence)
        raise SystemExit(2)
