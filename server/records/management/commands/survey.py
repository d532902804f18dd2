"""`manage.py survey FILE`: a project file with its survey in, places and what is said of the readings out."""

from server.django_headless import HeadlessCommand
from server.records.survey_file import SurveyFile


class Command(HeadlessCommand, SurveyFile):
    """Work out a survey."""
