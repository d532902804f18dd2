"""Every answer is what its schema says: the browser's types are made from the schemas, and most answers go past them."""

import json
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import TestCase
from pydantic import BaseModel

from server.api import api

DEMO = Path(__file__).parents[1] / "demo" / "files"
EXAMPLES = settings.ROOT / "docs" / "examples"
ABOUT_STATION = (
    "/solve", "/articulated", "/sensitivity", "/springs", "/pressures", "/standings", "/bars", "/dampers", "/rockers",
)  # fmt: skip
ABOUT_JOB = ("/vehicle", "/brief")


def response_models() -> dict[tuple[str, str], type[BaseModel]]:
    """Return what each call says it answers, by method and path."""
    found = {}
    for prefix, router in api._routers:
        for path, view in router.path_operations.items():
            for operation in view.operations:
                model = operation.response_models.get(200)
                if isinstance(model, type):
                    found[operation.methods[0], f"{prefix}{path}"] = model
    return found


class Answers(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        self.models = response_models()

    def check(self, method: str, path: str, body: Any = None, url: str | None = None) -> Any:
        sent = (
            self.client.get(url or f"/api{path}")
            if method == "GET"
            else self.client.post(url or f"/api{path}", json.dumps(body), content_type="application/json")
        )
        if sent.status_code == 422:
            return None  # refused in a sentence, as some questions are of some stations
        self.assertEqual(sent.status_code, 200, f"{path}: {sent.content[:300]!r}")
        answer = sent.json()
        model = self.models[method, path]
        shown = model.model_validate({"response": answer}, strict=False)
        self.assertEqual(self.keys(shown.model_dump(mode="json")["response"]), self.keys(answer), path)
        return answer

    def keys(self, value: Any, depth: int = 4) -> Any:
        """Return the keys of a value, as far down as schemas go: names of the job's own parts stand for themselves."""
        if depth and isinstance(value, dict):
            return {key: self.keys(child, depth - 1) for key, child in value.items()}
        if depth and isinstance(value, list) and value and isinstance(value[0], dict):
            return self.keys(value[0], depth - 1)
        return None

    def test_of_every_question_about_the_demo_and_some_arrangements(self) -> None:
        files = [*sorted(DEMO.glob("*.json")), EXAMPLES / "axle-on-air.json", EXAMPLES / "five-link.json"]
        for file in files:
            document = json.loads(file.read_text("utf-8"))
            survey = document.pop("survey", {})
            for number in range(min(len(document["stations"]), 2)):
                body = {"document": document, "station": number}
                for path in ABOUT_STATION:
                    self.check(
                        "POST", path, {**body, "articulation": 5.0} if path == "/articulated" else body
                    )
                self.check("POST", "/survey/plan", body)
            for path in ABOUT_JOB:
                self.check("POST", path, {"document": document})
            both = {"document": document, "survey": survey}
            for path in ("/survey", "/survey/aims", "/make"):
                self.check("POST", path, both)
            self.check("POST", "/survey/next", {**both, "figure": "every place"})
            self.check("POST", "/survey/take", both)

    def test_of_what_is_only_read(self) -> None:
        for path in (
            "/session",
            "/usual-limits",
            "/layouts",
            "/parts",
            "/survey/tools",
            "/instruments",
            "/jobs",
        ):
            self.check("GET", path)
        self.check("GET", "/instruments/{key}", url="/api/instruments/angle-finder")
