"""`manage.py right FILE`: a project file in, the plans that put it right out; needs no database."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from engine.document.schema import Project
from engine.document.write import project_text, project_values
from engine.right.aims import AIMS
from engine.right.plans import put_right
from engine.right.result_file import right_values
from server.headless import OneFile
from server.parts.for_right import shelf_of_rows
from server.parts.shelf_csv import read_shelf


class RightFile(OneFile):
    """Say what puts a job right, the cheapest first."""

    help = (
        "Say which changes clear every fault of a project file, the cheapest first, and what each costs. "
        "--take K --write FILE2 writes the project with plan K taken."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        super().add_arguments(parser)
        parser.add_argument("--station", metavar="NAME", help="only this one; the others stay as they are")
        parser.add_argument("--shelf", type=Path, metavar="FILE", help="what the shop has, as CSV")
        parser.add_argument(
            "--plans", type=int, default=len(AIMS), metavar="N", help=f"at most so many ({len(AIMS)})"
        )
        parser.add_argument("--take", type=int, metavar="K", help="the plan to take; 1 is the first")
        parser.add_argument(
            "--write", type=Path, metavar="FILE2", help="where the project with it is written"
        )

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        names = [station.name for station in read.stations]
        only, most = options["station"], options["plans"]
        if only is not None and only not in names:
            self.refuse([f'--station: "{only}" is no station of this job; give one of: {", ".join(names)}.'])
        if most < 1:
            self.refuse([f"--plans: ask for 1 or more, got {most}."])
        if (options["take"] is None) != (options["write"] is None):
            self.refuse(
                ["--take K and --write FILE2 go together: which plan, and where the project with it goes."]
            )
        righted = put_right(read, self._shelf(options["shelf"]), most, only=only)
        if options["take"] is not None:
            self._take(righted.plans, options["take"], options["write"])
        return right_values(read, righted)

    def _shelf(self, file: Path | None) -> Any:
        if file is None:
            return None
        reading = read_shelf(self.bytes_of(file))
        if reading.faults:
            self.refuse([f"{file}: {fault}" for fault in reading.faults])
        return shelf_of_rows((row.kind, row.name, row.stock, row.values) for row in reading.rows)

    def _take(self, plans: Any, number: int, file: Path) -> None:
        if not 1 <= number <= len(plans):
            there = f"there are {len(plans)}" if plans else "there is none"
            self.refuse([f"--take: plan {number} is none of these; {there}."])
        text = project_text(project_values(plans[number - 1].project))
        try:
            file.write_text(text, encoding="utf-8")
        except OSError as error:
            self.refuse([f"{file}: cannot be written: {error.strerror}."])
