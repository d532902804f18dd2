"""What every command that turns a project file into a result file does: read, refuse in sentences, write.

Nothing of the web or the database is loaded: that would take longer than solving. `django_headless.py` makes Django's
commands of these.
"""

import json
import sys
from abc import ABC, abstractmethod
from argparse import ArgumentParser
from pathlib import Path
from typing import Any, NoReturn, TextIO

from engine.document.read import MAX_BYTES, read_project, too_big
from engine.errors import DocumentRefused, EngineError, Fault


class Headless(ABC):
    """A command without a screen: what is asked in, JSON out; exit 2 with one sentence per fault on bad input."""

    help = ""
    stdout: Any = sys.stdout
    stderr: Any = sys.stderr

    def start(self, name: str, words: list[str]) -> None:
        """Do what a command line asks for after the command's name."""
        parser = ArgumentParser(prog=f"manage.py {name}", description=self.help)
        self.add_arguments(parser)
        self.handle(**vars(parser.parse_args(words)))

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Say what may be given."""
        parser.add_argument("--out", type=Path, metavar="FILE", help="write there instead of standard output")

    @abstractmethod
    def handle(self, *args: Any, **options: Any) -> None:
        """Do what is asked."""

    def write(self, result: Any, options: dict[str, Any]) -> None:
        """Write the result where it is wanted."""
        text = json.dumps(result, indent=1, ensure_ascii=False, allow_nan=False)
        if options["out"] is None:
            self.say(text, self.stdout)
        else:
            options["out"].write_text(text + "\n", encoding="utf-8")

    def say(self, text: str, stream: TextIO) -> None:
        """Write a line, or some."""
        stream.write(text + "\n")

    def refuse(self, sentences: list[str]) -> NoReturn:
        """Say what is wrong, a line each, and end with status 2."""
        for sentence in sentences:
            self.say(sentence, self.stderr)
        raise SystemExit(2)

    def bytes_of(self, file: Path) -> bytes:
        """Return a file's bytes; raise DocumentRefused."""
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


class OneFile(Headless):
    """A project file in, JSON out."""

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Say what may be given."""
        parser.add_argument("file", type=Path, metavar="FILE")
        super().add_arguments(parser)

    def read(self, data: bytes) -> Any:
        """Return what a file holds; raise DocumentRefused. A project, if nothing else is said."""
        return read_project(data)

    @abstractmethod
    def result_of(self, read: Any, options: dict[str, Any]) -> Any:
        """Return what is made of what was read: plain values, if nothing else is said."""

    def handle(self, *args: Any, **options: Any) -> None:
        """Read, work out and write."""
        try:
            result = self.result_of(self.read(self.bytes_of(options["file"])), options)
        except DocumentRefused as refused:
            self.refuse([str(fault) for fault in refused.faults])
        except EngineError as error:
            self.refuse([f"{error.path}: {error}" if error.path else str(error)])
        try:
            self.write(result, options)
        except OSError as error:
            self.refuse([f"{options['out']}: cannot be written: {error.strerror}."])
