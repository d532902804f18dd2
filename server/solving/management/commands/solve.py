"""`manage.py solve FILE`: a project file in, a result file out; needs no database."""

from server.django_headless import HeadlessCommand
from server.solving.solve_file import SolveFile


class Command(HeadlessCommand, SolveFile):
    """Solve a project file."""
