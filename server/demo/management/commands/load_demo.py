"""`manage.py load_demo`: add the demo's users and jobs where they are missing."""

from typing import Any

from django.core.management.base import BaseCommand

from server.demo.load import load_demo


class Command(BaseCommand):
    """Load the demo."""

    help = "Add the demo's users and jobs where they are missing."

    def handle(self, *args: Any, **options: Any) -> None:
        for name in load_demo(pictures=True):
            self.stdout.write(f"  {name}")
