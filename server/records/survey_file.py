"""`manage.py survey FILE`: a project file with its survey in, places and what is said of the readings out."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from engine.document.schema import Project
from engine.errors import DocumentRefused, Fault
from engine.survey.survey_file import list_result, survey_result
from server.headless import OneFile


class SurveyFile(OneFile):
    """Work out a survey."""

    help = (
        "Work out the survey of a project file and print places, standard errors, slips and what to read next "
        "as JSON; or, with --list, the list to read. Exit 2 with one sentence per fault on bad input."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Say what may be given."""
        super().add_arguments(parser)
        parser.add_argument(
            "--list", action="store_true", help="print the list to read instead, designed for what is drawn"
        )
        parser.add_argument(
            "--pictures",
            type=Path,
            metavar="DIR",
            help="pictures of coded stickers, to be adjusted with the readings",
        )

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        if options.get("list"):
            return list_result(read)
        if read.survey is None:
            raise DocumentRefused([Fault("survey", "is missing; this job has no readings yet")])
        if options.get("stickers") is not None:
            self._print(read, options["stickers"], options["paper"])
        if options.get("pictures") is not None:
            from server.records.pictures_file import (
                with_pictures,  # OpenCV is heavy: only where it is asked for
            )

            return with_pictures(read, options["pictures"])
        return survey_result(read)

    def _print(self, read: Project, file: Path, paper: str) -> None:
        """Write the stickers of a survey."""
        from server.paper.sheets import NoPaper
        from server.records.pictures.sticker_sheet import stickers_pdf

        assert read.survey is not None
        if not read.survey.stickers.places:
            raise DocumentRefused(
                [Fault("survey.stickers", "is missing; say which sticker is on which place")]
            )
        try:
            file.write_bytes(stickers_pdf(read.survey, paper, read.name))
        except NoPaper as error:
            self.refuse([f"--paper: {error}"])
        except OSError as error:
            self.refuse([f"{file}: cannot be written: {error.strerror}."])
