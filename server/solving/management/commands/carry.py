"""`manage.py carry FILE`: a project file with a frame in, what the frame bears out; needs no database."""

from server.django_headless import HeadlessCommand
from server.solving.carry_file import CarryFile


class Command(HeadlessCommand, CarryFile):
    """Say whether the frame of a project bears its mounts."""
