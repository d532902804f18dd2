"""Nothing that somebody entered is lost: drafts, removals, answers that got lost, documents that cannot be read out."""

import copy
import json
from datetime import timedelta
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.db import OperationalError
from django.test import Client, TestCase
from django.utils import timezone

from engine.layouts.catalogue import layout_named, starting_project
from server.jobs.models import KEPT_DAYS, Draft, Job, Revision
from server.jobs.tests.test_api import JobsCase


class Drafts(JobsCase):
    def put(self, tab: str, document: object, base: int = 1, client: Client | None = None) -> int:
        body = json.dumps({"base": base, "document": document})
        url = f"/api/jobs/{self.job}/drafts/{tab}"
        return (client or self.client).put(url, body, content_type="application/json").status_code

    def kept(self) -> list[dict[str, object]]:
        return list(self.client.get(f"/api/jobs/{self.job}/drafts").json())

    def test_each_tab_has_its_own_and_the_newest_comes_first(self) -> None:
        self.assertEqual(self.put("one", self.moved(1)), 204)
        self.assertEqual(self.put("two", self.moved(2)), 204)
        self.assertEqual(self.put("one", self.moved(3)), 204)
        self.assertEqual([draft["tab"] for draft in self.kept()], ["one", "two"])
        self.assertEqual(self.kept()[0]["document"], self.moved(3))
        self.client.delete(f"/api/jobs/{self.job}/drafts/one")
        self.assertEqual([draft["tab"] for draft in self.kept()], ["two"])

    def test_a_draft_need_not_be_sound_but_must_come_out_again(self) -> None:
        broken = self.moved(0) | {"stations": "half typed"}
        self.assertEqual(self.put("one", broken), 204)
        self.assertEqual(self.kept()[0]["document"], broken)
        self.assertEqual(self.put("one", self.moved(0) | {"note": 10**20}), 422)

    def test_somebody_elses_are_never_seen(self) -> None:
        Job.objects.get(pk=self.job).members.add(self.stranger)
        other = Client()
        other.force_login(self.stranger)
        self.put("one", self.moved(1))
        self.assertEqual(other.get(f"/api/jobs/{self.job}/drafts").json(), [])
        self.assertEqual(self.put("one", self.moved(5), client=other), 204)
        self.assertEqual(self.kept()[0]["document"], self.moved(1))

    def test_only_so_many_tabs_are_kept(self) -> None:
        for number in range(15):
            self.put(f"tab-{number}", self.moved(number))
        self.assertEqual(Draft.objects.count(), 12)
        self.assertEqual(self.kept()[0]["tab"], "tab-14")


class Removals(JobsCase):
    def test_a_removed_job_is_gone_from_sight_and_can_be_taken_back(self) -> None:
        self.save(1, self.moved(1))
        self.client.delete(f"/api/jobs/{self.job}")
        self.assertEqual(self.client.get("/api/jobs").json(), [])
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}").status_code, 404)
        self.assertEqual(self.save(2, self.moved(2)).status_code, 404)
        (line,) = self.client.get("/api/jobs/removed").json()
        self.assertEqual(line["name"], "Test corner")
        back = self.client.post(f"/api/jobs/{self.job}/back")
        self.assertEqual((back.status_code, back.json()["revision"]), (200, 2))
        self.assertEqual(len(self.client.get("/api/jobs").json()), 1)
        self.assertEqual(self.save(2, self.moved(2)).status_code, 201)

    def test_nobody_else_takes_it_back(self) -> None:
        Job.objects.get(pk=self.job).members.add(self.stranger)
        self.client.delete(f"/api/jobs/{self.job}")
        other = Client()
        other.force_login(self.stranger)
        self.assertEqual(other.get("/api/jobs/removed").json(), [])
        self.assertEqual(other.post(f"/api/jobs/{self.job}/back").status_code, 404)

    def test_after_thirty_days_it_is_gone_for_good(self) -> None:
        self.save(1, self.moved(1))
        self.client.delete(f"/api/jobs/{self.job}")
        long_ago = timezone.now() - timedelta(days=KEPT_DAYS, minutes=1)
        Job.objects.filter(pk=self.job).update(removed=long_ago)
        self.assertEqual(self.client.get("/api/jobs/removed").json(), [])
        self.assertEqual((Job.objects.count(), Revision.objects.count()), (0, 0))

    def test_a_job_caught_half_removed_is_simply_not_there(self) -> None:
        Revision.objects.filter(job=self.job).delete()
        self.assertEqual(self.client.get("/api/jobs").json(), [])
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}").status_code, 404)
        self.assertEqual(self.save(1, self.moved(1)).status_code, 404)


class Answers(JobsCase):
    def test_a_save_whose_answer_got_lost_is_recognised_when_it_is_tried_again(self) -> None:
        first = self.save(1, self.moved(3), "clear the clamp")
        again = self.save(1, self.moved(3), "clear the clamp")
        self.assertEqual((first.status_code, again.status_code), (201, 201))
        self.assertEqual(first.json(), again.json())
        self.assertEqual(Revision.objects.count(), 2)
        self.assertEqual(self.save(1, self.moved(4), "clear the clamp").status_code, 409)
        self.assertEqual(self.save(1, self.moved(3), "another reason").status_code, 409)

    def test_what_cannot_be_written_out_is_refused_before_it_is_stored(self) -> None:
        document = copy.deepcopy(self.document)
        document["stations"][0]["units"][0]["springs"][0]["rate"] = 10**19
        answer = self.save(1, document)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "document_refused"))
        self.assertTrue(answer.json()["path"].endswith("stations[0].units[0].springs[0].rate"))
        self.assertEqual(Revision.objects.count(), 1)

    def test_a_job_that_holds_such_a_revision_opens_at_its_last_good_one(self) -> None:
        job = Job.objects.get(pk=self.job)
        bad = copy.deepcopy(self.document) | {"note": 10**20}
        Revision.objects.create(
            job=job, number=2, parent=job.newest(), document=bad, reason="bad", author=self.owner
        )
        opened = self.client.get(f"/api/jobs/{self.job}")
        self.assertEqual((opened.status_code, opened.json()["number"]), (200, 1))
        saved = self.save(1, self.moved(1))
        self.assertEqual((saved.status_code, saved.json()["number"], saved.json()["parent"]), (201, 3, 1))

    def test_a_database_that_cannot_be_written_is_a_sentence(self) -> None:
        for said, code in (
            ("database is locked", "database_locked"),
            ("attempt to write a readonly database", "database_read_only"),
            ("database or disk is full", "disk_full"),
            ("something else", "database_failed"),
        ):
            with (
                patch("server.jobs.api.save_revision", side_effect=OperationalError(said)),
                self.assertLogs("jugatrix"),
            ):
                answer = self.save(1, self.moved(1))
            self.assertEqual((answer.status_code, answer.json()["code"]), (503, code))
            self.assertEqual(set(answer.json()), {"code", "detail", "path", "values"})

    def test_a_fault_of_our_own_is_in_the_same_shape(self) -> None:
        with (
            patch("server.jobs.api.save_revision", side_effect=ZeroDivisionError),
            self.assertLogs("jugatrix"),
        ):
            answer = self.save(1, self.moved(1))
        self.assertEqual((answer.status_code, answer.json()["code"]), (500, "server_error"))

    def test_a_parent_beyond_all_numbers_is_refused(self) -> None:
        answer = self.save(2**63, self.moved(1))
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}/revisions/{2**70}").status_code, 404)


class Lists(JobsCase):
    def test_a_list_of_jobs_costs_two_queries_however_many_there_are(self) -> None:
        for _ in range(5):
            self.imported(self.document)
        with self.assertNumQueries(
            5
        ):  # the session, its user and what he may do, the jobs, their newest revisions
            found = self.client.get("/api/jobs").json()
        self.assertEqual(len(found), 6)
        self.assertEqual(
            found[0]["stations"], [{"name": self.document["stations"][0]["name"], "kind": "corner"}]
        )


class Large(TestCase):
    """A job as large and as deep as one may be is saved and compared as any other."""

    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="x")
        self.client.force_login(self.user)

    def ask(self, method: str, path: str, body: Any) -> Any:
        return self.client.generic(method, path, json.dumps(body), content_type="application/json")

    def test_what_was_taken_in_can_be_saved_and_compared(self) -> None:
        nested: Any = "bottom"
        for _ in range(38):
            nested = [nested]
        document = {
            **starting_project(layout_named("wishbones-lower")),
            "x_deep": nested,
            "x_long": "y" * 2_300_000,
        }
        taken = self.ask("POST", "/api/jobs/import", document)
        self.assertEqual(taken.status_code, 201, taken.content[:300])
        job = taken.json()["id"]
        changed = {**document, "name": "another"}
        body = {"parent": 1, "reason": "renamed", "document": changed}
        self.assertEqual(self.ask("POST", f"/api/jobs/{job}/revisions", body).status_code, 201)
        both = self.ask("POST", "/api/changes", {"before": document, "after": changed})
        self.assertEqual(both.status_code, 200, both.content[:300])
        self.assertTrue(both.json())

    def test_more_than_a_job_may_be_is_refused_however_it_comes(self) -> None:
        document = starting_project(layout_named("wishbones-lower"))
        job = self.ask("POST", "/api/jobs/import", document).json()["id"]
        long = {**document, "x_long": "y" * 4_100_000}
        for method, path, body in (
            ("POST", "/api/jobs/import", long),
            ("POST", f"/api/jobs/{job}/revisions", {"parent": 1, "reason": "long", "document": long}),
            ("PUT", f"/api/jobs/{job}/drafts/t", {"base": 1, "document": long}),
        ):
            answer = self.ask(method, path, body)
            self.assertEqual(answer.status_code, 422, path)
            self.assertIn("at most 4 MB", answer.json()["detail"])
        self.assertEqual(Job.objects.get(pk=job).last_number(), 1)
