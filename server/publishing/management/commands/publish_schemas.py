"""`manage.py publish_schemas`: write the published schemas and examples from the code, or check the schemas."""

import copy
import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from engine.document.schema import Project
from engine.document.write import project_text, schema_text
from engine.layouts.catalogue import LAYOUTS, starting_project
from server.answers import OF_THE_FILE, Refusal


def published() -> dict[str, str]:
    """Return each published file's text by where it stands."""
    from server.api import api

    described: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(), default=str))
    # Documents travel as they are, so the API calls them objects; the front end still wants their shape.
    project = Project.model_json_schema(ref_template="#/components/schemas/{model}")
    shapes = {**project.pop("$defs"), "Project": project}
    assert not set(shapes) & set(described["components"]["schemas"]), "two schemas share a name"
    described["components"]["schemas"] |= {**shapes, "Refusal": Refusal.model_json_schema()}
    _refuse(described)
    listed = {
        "Reading": shapes["Survey"]["properties"]["readings"]["items"],
        "Record": project["properties"]["records"]["items"],
    }
    _name_shapes(described, listed)
    openapi = json.dumps(described, indent=2, ensure_ascii=False) + "\n"
    # What a part can have said of it: the forms are made from it.
    parts = json.dumps({name: shapes[name] for name in PARTS}, indent=2, ensure_ascii=False) + "\n"
    return {
        "docs/project-file.schema.json": schema_text(),
        "docs/openapi.json": openapi,
        "web/src/fields/parts.gen.json": parts.replace("#/components/schemas/", ""),
    }


def _refuse(described: dict[str, Any]) -> None:
    """Declare once how every call refuses."""
    shape = {"application/json": {"schema": {"$ref": "#/components/schemas/Refusal"}}}
    described["components"]["responses"] = {
        "Refused": {"description": "Refused, in a sentence.", "content": shape}
    }
    for methods in described["paths"].values():
        for its in methods.values():
            its["responses"]["default"] = {"$ref": "#/components/responses/Refused"}


def _name_shapes(node: Any, listed: dict[str, Any]) -> None:
    """Put in, for what travels as it stands in a project file, the shape that it has there."""
    for child in node.values() if isinstance(node, dict) else node if isinstance(node, list) else ():
        if isinstance(child, dict) and OF_THE_FILE in child:
            shape = child.pop(OF_THE_FILE)
            # Readings and records are one of several shapes: they are named where they are listed.
            its = listed.get(shape, {"$ref": f"#/components/schemas/{shape}"})
            child.update(copy.deepcopy(its))
        _name_shapes(child, listed)


PARTS = (
    *("Coilover", "SpringUnit", "Damper", "AirSpring", "BumpStop", "Strap", "Bar"),
    *("Spring", "Wire", "Adapter", "Perch", "Eye", "Plates", "Rod"),
)


class Command(BaseCommand):
    """Publish the schemas."""

    help = "Write the schemas, what the forms are made from, and docs/examples. --check compares all but the examples."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        for name, text in published().items():
            path = settings.ROOT / name
            if not options["check"]:
                path.write_text(text, encoding="utf-8")
            elif not path.is_file() or path.read_text(encoding="utf-8") != text:
                self.stderr.write(f"{name} is stale. Run: python manage.py publish_schemas")
                raise SystemExit(1)
        if not options["check"]:
            self._examples()

    def _examples(self) -> None:
        """Write a starting file of each arrangement; a test checks that they agree with the code."""
        folder = settings.ROOT / "docs" / "examples"
        folder.mkdir(exist_ok=True)
        for layout in LAYOUTS:
            (folder / f"{layout.name}.json").write_text(
                project_text(starting_project(layout)), encoding="utf-8"
            )
