"""`manage.py survey FILE`: a project file with its survey in, places and what is said of the readings out."""

from argparse import ArgumentParser
from typing import Any

from engine.document.schema import Project
from engine.errors import DocumentRefused, Fault
from engine.survey.survey_file import list_result, survey_result
from server.headless import Headless


class SurveyFile(Headless):
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

    def result_of(self, read: Project, options: dict[str, Any]) -> Any:
        if options.get("list"):
            return list_result(read)
        if read.survey is None:
            raise DocumentRefused([Fault("survey", "is missing; this job has no readings yet")])
        return survey_result(read)
