"""Headless commands as Django's own: `manage.py help` lists them and tests call them."""

from django.core.management.base import BaseCommand

from server.headless import Headless


class HeadlessCommand(Headless, BaseCommand):
    """A headless command with Django round it. Needs no database."""

    requires_system_checks: list[str] = []
