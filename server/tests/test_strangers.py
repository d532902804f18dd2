"""Nothing is told to who is not let in: every call of the API as a stranger, and as somebody with another's job."""

import json
import re
from typing import Any
from urllib.parse import quote

from django.contrib.auth import get_user_model
from django.test import Client, TestCase, TransactionTestCase

from engine.layouts.catalogue import layout_named, starting_project
from server.accounts.may import BENCH_ONLY, OWN, OWNER_ONLY, WORKS_OUT
from server.accounts.models import OWNER, READER, Person
from server.api import api
from server.jobs.actions.import_project import import_project

AT_THE_DOOR = {
    ("GET", "/api/session"), ("POST", "/api/session"), ("POST", "/api/session/demo"), ("POST", "/api/people/first"),
    ("GET", "/api/calendar/{token}.ics"), ("GET", "/api/people/invited/{token}"), ("POST", "/api/people/invited"), ("POST", "/api/people/reset"),
}  # fmt: skip
HOSTILE = ("a/drafts/b", "drafts/", "../drafts/x", "..", ".", "a/../b", "%2e%2e", "a%2Fdrafts%2Fb")


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

    def test_who_may_is_told_of_every_operation_that_is_no_mere_reading(self) -> None:
        told = [WORKS_OUT, OWN, BENCH_ONLY, OWNER_ONLY]
        asked = {
            its["operationId"]
            for path, methods in api.get_openapi_schema()["paths"].items()
            for method, its in methods.items()
            if method != "get" and (method.upper(), path) not in AT_THE_DOOR
        }
        self.assertEqual(asked, frozenset().union(*told))
        self.assertEqual(len(asked), sum(map(len, told)))

    def reader(self) -> Client:
        reader = get_user_model().objects.create_user("dee", password="x")
        Person.objects.create(user=reader, role=READER)
        self.job.members.add(reader)
        client = Client()
        client.force_login(reader)
        return client

    def test_who_only_reads_stores_nothing_by_any_call(self) -> None:
        client = self.reader()
        kinds = {
            (method.upper(), path): its["operationId"]
            for path, methods in api.get_openapi_schema()["paths"].items()
            for method, its in methods.items()
        }
        refused = 0
        for method, path in calls():
            operation = kinds[method, path]
            if method != "GET" and operation in BENCH_ONLY | OWNER_ONLY:
                code = "reader" if operation in BENCH_ONLY else "not_owner"
                for key in ("x", *HOSTILE):
                    filled = path.replace("{key}", key).replace("{name}", key).replace("{tab}", "t")
                    answer = self.ask(client, method, filled)
                    self.assertIn(
                        answer.json()["code"], (code, "not_found", "no_such_call"), (method, filled)
                    )
                    refused += answer.json()["code"] == code
        self.assertGreater(refused, 60)
        self.assertEqual((self.job.survey_items.count(), self.job.photographs.count()), (0, 0))

    def test_a_reader_keeps_a_draft_of_his_own_and_works_things_out(self) -> None:
        client = self.reader()
        document = self.job.newest().document
        kept = client.put(
            f"/api/jobs/{self.job.pk}/drafts/tab-1",
            json.dumps({"base": 1, "document": document, "steps": []}),
            content_type="application/json",
        )
        self.assertLess(kept.status_code, 300, kept.content)
        solved = client.post(
            "/api/solve", json.dumps({"document": document, "station": 0}), content_type="application/json"
        )
        self.assertEqual(solved.status_code, 200)

    def test_keys_are_carried_whole_or_refused(self) -> None:
        client = Client()
        client.force_login(self.owner)
        kept = []
        for key in (*HOSTILE, "a/b", "50% of it", "q?x=1#y", "Ω µ", " lead", "x" * 221, "line\nend", "nul\0"):
            path = f"/api/jobs/{self.job.pk}/survey/mark/{quote(key, safe='')}"
            answer = client.put(path, json.dumps({"body": [1, 2, 3]}), content_type="application/json")
            self.assertIn(answer.status_code, (204, 404, 422), key)
            if answer.status_code == 204:
                kept.append((key, path))
        found = {one["key"] for one in client.get(f"/api/jobs/{self.job.pk}/survey").json()}
        self.assertEqual(found, {key for key, _ in kept})
        self.assertIn("a/b", found)
        self.assertTrue({".", "..", "line\nend"}.isdisjoint(found))
        for _, path in kept:
            self.assertEqual(client.delete(path).status_code, 204)
        self.assertEqual(client.get(f"/api/jobs/{self.job.pk}/survey").json(), [])


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
