"""`manage.py right FILE`: a project file in, the plans that put it right out; needs no database."""

from server.django_headless import HeadlessCommand
from server.solving.right_file import RightFile


class Command(HeadlessCommand, RightFile):
    """Say what puts a job right."""
