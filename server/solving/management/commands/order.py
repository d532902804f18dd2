"""`manage.py order FILE…`: project files in, the order of the work and who does what when out; needs no database."""

from server.django_headless import HeadlessCommand
from server.solving.order_file import OrderFile


class Command(HeadlessCommand, OrderFile):
    """Say what comes next in every job, and who does what when."""
