"""`manage.py prove FILE`: a project file with its records in, what was built and how it stands out."""

from server.django_headless import HeadlessCommand
from server.proving.prove_file import ProveFile


class Command(HeadlessCommand, ProveFile):
    """Prove a job."""
