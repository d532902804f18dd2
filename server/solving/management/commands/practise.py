"""`manage.py practise EXERCISE`: a made-up car played by a scripted worker, and the account at the end; needs no database."""

from server.django_headless import HeadlessCommand
from server.solving.practise_file import PractiseFile


class Command(HeadlessCommand, PractiseFile):
    """Play an exercise."""
