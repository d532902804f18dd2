"""`manage.py publish_schemas`: write the published schemas from the code, or check that they are fresh."""

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from engine.document.write import schema_text


def published() -> dict[str, str]:
    """Return each published file's text by its name under docs/."""
    from server.config.api import api

    openapi = json.dumps(api.get_openapi_schema(), indent=2, ensure_ascii=False, default=str) + "\n"
    return {"project-file.schema.json": schema_text(), "openapi.json": openapi}


class Command(BaseCommand):
    """Publish the schemas."""

    help = "Write docs/project-file.schema.json and docs/openapi.json. --check only compares."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        for name, text in published().items():
            path = settings.ROOT / "docs" / name
            if not options["check"]:
                path.write_text(text, encoding="utf-8")
            elif not path.is_file() or path.read_text(encoding="utf-8") != text:
                self.stderr.write(f"docs/{name} is stale. Run: python manage.py publish_schemas")
                raise SystemExit(1)
