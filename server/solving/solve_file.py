"""`manage.py solve FILE`: a project file in, a result file out; needs no database."""

from argparse import ArgumentParser
from typing import Any

from engine.document.schema import Project
from engine.results.result_file import solve_project
from server.headless import OneFile


class SolveFile(OneFile):
    """Solve a project file."""

    help = (
        "Solve a project file and print the result as JSON. Exit 2 with one sentence per fault on bad input."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        super().add_arguments(parser)
        parser.add_argument(
            "--steps", type=int, default=41, metavar="N", help="positions, droop to bump (41)"
        )

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        steps = options["steps"]
        if not 2 <= steps <= 2001:
            self.refuse([f"--steps: ask for 2 to 2001 positions, got {steps}."])
        return solve_project(read, steps)
