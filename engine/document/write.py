"""A project back into text, and the JSON Schema published from the models."""

import json
from typing import Any

from engine.document.schema import Project


def project_values(project: Project) -> dict[str, Any]:
    """Return the project as plain JSON values, unknown keys and all, with only what was given."""
    return project.model_dump(mode="json", exclude_unset=True)


def project_text(values: dict[str, Any]) -> str:
    """Return the file's text: two spaces, one final newline, keys in the order given."""
    return json.dumps(values, indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def schema_text() -> str:
    """Return the JSON Schema of the project file, as published in docs/."""
    schema = Project.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Jugatrix project file, version 1"
    return json.dumps(schema, indent=2, ensure_ascii=False) + "\n"
