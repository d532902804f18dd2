"""Nothing is told to who is not let in: every call of the API as a stranger, and as somebody with another's job."""

import json
import re
from typing import Any

from django.contrib.auth import get_user_model
from django.test import Client, TestCase, TransactionTestCase

from engine.layouts.catalogue import layout_named, starting_project
from server.accounts.models import OWNER, READER, Person
from server.api import api
from server.jobs.actions.import_project import import_project

AT_THE_DOOR = {
    ("GET", "/api/session"), ("POST", "/api/session"), ("POST", "/api/session/demo"), ("POST", "/api/people/first"),
    ("GET", "/api/people/invited/{token}"), ("POST", "/api/people/invited"), ("POST", "/api/people/reset"),
}  # fmt: skip
READS_ONLY = ("/drafts",)


def calls() -> list[tuple[str, str]]:
    """Return every call of the published API."""
    found = [
        (method.upper(), path)
        for path, methods in api.get_openapi_schema()["paths"].items()
        for method in methods
    ]
    return [(method, path) for method, path in found if (method, path) not in AT_THE_DOOR]


class Strangers(TestCase):
    def setUp(self) -> None:
        self.owner = get_user_model().objects.create_user("ada-of-the-shop", password="x")
        document = starting_project(layout_named("wishbones-lower"))
        self.job = import_project(self.owner, json.dumps({**document, "name": "hidden roadster"}).encode())

    def ask(self, client: Client, method: str, path: str) -> Any:
        filled = path.replace("{job_id}", str(self.job.pk))
        filled = re.sub(r"\{(?:number|before|after)\}", "1", filled)
        filled = re.sub(r"\{(?:pk|photograph_id|draft_id)\}", str(self.job.pk), filled)
        filled = (
            filled.replace("{part_id}", "1").replace("{kind}", "mark").replace("{name}", "ada-of-the-shop")
        )
        filled = re.sub(r"\{\w+\}", "x", filled)
        return client.generic(method, filled, "{}", content_type="application/json")

    def test_every_call_asks_who_it_is(self) -> None:
        self.assertGreater(len(calls()), 70)
        for method, path in calls():
            answer = self.ask(Client(), method, path)
            self.assertEqual(answer.status_code, 401, (method, path))
            self.assertEqual(answer.json()["code"], "signed_out", (method, path))

    def test_nobody_learns_of_anothers_job(self) -> None:
        client = Client()
        client.force_login(get_user_model().objects.create_user("bo", password="x"))
        asked = [(method, path) for method, path in calls() if "{job_id}" in path]
        self.assertGreater(len(asked), 25)
        for method, path in asked:
            answer = self.ask(client, method, path)
            self.assertIn(answer.status_code, (404, 422), (method, path))
            self.assertNotIn(b"hidden roadster", answer.content, (method, path))
            self.assertNotIn(b"ada-of-the-shop", answer.content, (method, path))
        self.assertTrue(type(self.job).objects.filter(pk=self.job.pk, removed=None).exists())

    def test_who_only_reads_stores_nothing_by_any_call(self) -> None:
        reader = get_user_model().objects.create_user("dee", password="x")
        Person.objects.create(user=reader, role=READER)
        self.job.members.add(reader)
        client = Client()
        client.force_login(reader)
        storing = [
            (method, path)
            for method, path in calls()
            if method != "GET" and path.startswith(("/api/jobs", "/api/parts"))
            and not any(part in path for part in READS_ONLY)
        ]  # fmt: skip
        self.assertGreater(len(storing), 12)
        for method, path in storing:
            self.assertEqual(self.ask(client, method, path).json()["code"], "reader", (method, path))


class TwoOwners(TransactionTestCase):
    def test_two_owners_who_put_each_other_out_leave_one(self) -> None:
        import threading

        from django.db import connection

        users = {name: get_user_model().objects.create_user(name, password="x") for name in ("ada", "bo")}
        for user in users.values():
            Person.objects.create(user=user, role=OWNER)
        clients = {name: Client() for name in users}
        for name, client in clients.items():
            client.force_login(users[name])
        said: dict[str, int] = {}

        def put_out(by: str, other: str) -> None:
            answer = clients[by].post(
                f"/api/people/one/{other}", json.dumps({"role": "bench"}), content_type="application/json"
            )
            said[by] = answer.status_code
            connection.close()

        hands = [threading.Thread(target=put_out, args=pair) for pair in (("ada", "bo"), ("bo", "ada"))]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join()
        self.assertEqual(Person.objects.filter(role=OWNER).count(), 1)
        self.assertEqual(sorted(said.values())[0], 200)
        self.assertIn(sorted(said.values())[1], (403, 422))
