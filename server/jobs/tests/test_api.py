"""Jobs over HTTP: who sees them, saving, conflicts, import and export, refusals."""

import copy
import csv
import io
import json
from typing import Any

from django.contrib.auth import get_user_model
from django.test import Client, TestCase

from engine.document.read import check_project, read_project
from engine.results.whole import work_project
from engine.station.solved import solve_station
from engine.tests import samples
from server.jobs.models import Job, Revision


class JobsCase(TestCase):
    def setUp(self) -> None:
        users = get_user_model().objects
        self.owner = users.create_user("fitter", password="x")
        self.stranger = users.create_user("stranger", password="x")
        self.client.force_login(self.owner)
        self.document = samples.document(samples.pushrod_corner())
        self.document["name"] = "Test corner"
        self.document["shop_note"] = {"kept": [1, 2.5]}
        self.job = self.imported(self.document)

    def imported(self, document: Any) -> str:
        answer = self.client.post("/api/jobs/import", json.dumps(document), content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content)
        return str(answer.json()["id"])

    def save(self, parent: int, document: Any, reason: str = "because", client: Client | None = None) -> Any:
        body = {"parent": parent, "reason": reason, "document": document}
        return (client or self.client).post(
            f"/api/jobs/{self.job}/revisions", json.dumps(body), content_type="application/json"
        )

    def together(self, body: dict[str, Any]) -> Any:
        path = f"/api/jobs/{self.job}/together"
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def moved(self, dz: float) -> dict[str, Any]:
        document = copy.deepcopy(self.document)
        document["stations"][0]["points"]["rocker_front"][2] += dz
        return document


class Seeing(JobsCase):
    def test_strangers_do_not_learn_that_a_job_exists(self) -> None:
        other = Client()
        other.force_login(self.stranger)
        missing = other.get("/api/jobs/00000000-0000-4000-8000-000000000000")
        for path in (
            "",
            "/revisions",
            "/revisions/1",
            "/revisions/1/project.json",
            "/revisions/1/sweep.csv",
            "/compare/1/1",
        ):
            answer = other.get(f"/api/jobs/{self.job}{path}")
            self.assertEqual((answer.status_code, answer.content), (404, missing.content), path)
        self.assertEqual(self.save(1, self.document, client=other).status_code, 404)
        self.assertEqual(other.delete(f"/api/jobs/{self.job}").status_code, 404)
        self.assertEqual(other.get("/api/jobs").json(), [])

    def test_members_see_and_save_but_do_not_remove(self) -> None:
        Job.objects.get(pk=self.job).members.add(self.stranger)
        other = Client()
        other.force_login(self.stranger)
        self.assertEqual([job["mine"] for job in other.get("/api/jobs").json()], [False])
        self.assertEqual(self.save(1, self.moved(1), client=other).status_code, 201)
        answer = other.delete(f"/api/jobs/{self.job}")
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "not_owner"))

    def test_nobody_signed_in_sees_nothing(self) -> None:
        for path in ("/api/jobs", f"/api/jobs/{self.job}"):
            answer = Client().get(path)
            self.assertEqual((answer.status_code, answer.json()["code"]), (401, "signed_out"))


class Saving(JobsCase):
    def test_a_revision_stands_on_its_parent(self) -> None:
        answer = self.save(1, self.moved(5), "clear the clamp")
        self.assertEqual((answer.status_code, answer.json()["number"], answer.json()["parent"]), (201, 2, 1))
        lines = self.client.get(f"/api/jobs/{self.job}/revisions").json()
        self.assertEqual([line["reason"] for line in lines], ["clear the clamp", "Imported"])
        self.assertEqual(self.client.get(f"/api/jobs/{self.job}").json()["document"], self.moved(5))
        self.assertEqual(
            self.client.get(f"/api/jobs/{self.job}/revisions/1").json()["document"], self.document
        )

    def test_the_log_since_a_revision_holds_what_was_saved_after_it(self) -> None:
        self.save(1, self.moved(5), "first")
        self.save(2, self.moved(6), "second")
        for after, numbers in ((0, [3, 2, 1]), (1, [3, 2]), (3, []), (9, [])):
            lines = self.client.get(f"/api/jobs/{self.job}/revisions?after={after}").json()
            self.assertEqual([line["number"] for line in lines], numbers)
        for spoiled in ("-1", "x", "9" * 20):
            answer = self.client.get(f"/api/jobs/{self.job}/revisions?after={spoiled}")
            self.assertEqual(answer.status_code, 422)

    def test_saving_on_an_outdated_revision_loses_neither(self) -> None:
        self.save(1, self.moved(5), "first")
        answer = self.save(1, self.moved(-3), "second")
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "revision_outdated"))
        self.assertEqual(answer.json()["theirs"]["document"], self.moved(5))
        self.assertEqual(answer.json()["yours"], self.moved(-3))
        self.assertIn("You saved revision 2 (“first”), in another tab", answer.json()["detail"])
        self.assertEqual(self.save(2, self.moved(-3), "on top").status_code, 201)

    def test_both_peoples_changes_are_put_together_and_nothing_is_stored(self) -> None:
        other = self.moved(0)
        other["stations"][0]["mass"]["corner"] += 10
        self.save(1, self.moved(5), "first")
        self.assertEqual(self.save(1, other, "second").status_code, 409)
        body = {"parent": 1, "document": other}
        found = self.together(body).json()
        self.assertEqual((found["clashes"], found["why"]), ([], ""))
        both = self.moved(5)
        both["stations"][0]["mass"]["corner"] += 10
        self.assertEqual(found["document"], both)
        self.assertEqual([one["what"] for one in found["mine"]], ["corner"])
        self.assertEqual([one["what"] for one in found["theirs"]], ["point"])
        self.assertEqual(Revision.objects.count(), 2)
        # What both changed is asked, and taken from theirs only where that is said.
        body = {"parent": 1, "document": self.moved(-3)}
        found = self.together(body).json()
        (clash,) = found["clashes"]
        self.assertEqual(found["document"], self.moved(-3))
        body["from_theirs"] = [clash["path"]]
        self.assertEqual(self.together(body).json()["document"], self.moved(5))

    def test_what_does_not_go_together_is_said(self) -> None:
        with_room, without = self.moved(0), self.moved(0)
        unit = without["stations"][0]["units"].pop()
        with_room["stations"][0]["envelopes"] = [
            {
                "name": "guard",
                "shape": "capsule",
                "on": unit["name"],
                "what": "structure",
                "along": [[0, 0, 0], [0, 0, 50]],
                "radius": 4,
            }
        ]
        self.assertEqual(self.save(1, without, "taken off").status_code, 201)
        body = {"parent": 1, "document": with_room}
        found = self.together(body).json()
        self.assertIsNone(found["document"])
        self.assertIn(unit["name"], found["why"])

    def test_a_revision_is_never_changed(self) -> None:
        revision = Revision.objects.get(job=self.job)
        revision.reason = "other"
        with self.assertRaises(TypeError):
            revision.save()

    def test_a_reason_is_wanted(self) -> None:
        for reason in ("", "   "):
            answer = self.save(1, self.moved(1), reason)
            self.assertEqual((answer.status_code, answer.json()["path"]), (422, "body.reason"))

    def test_a_bad_document_is_refused_with_its_path(self) -> None:
        document = self.moved(0)
        document["stations"][0]["units"][0]["springs"][0]["rate"] = -40
        answer = self.save(1, document)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "document_refused"))
        self.assertEqual(answer.json()["path"], "stations[0].units[0].springs[0].rate")
        self.assertEqual(Revision.objects.count(), 1)

    def test_compare_tells_what_moved_and_what_it_did(self) -> None:
        document = self.moved(5)
        document["stations"][0]["mass"]["corner"] = 240
        document["stations"][0]["units"][0]["springs"][0]["rate"] = 80
        self.save(1, document)
        found = self.client.get(f"/api/jobs/{self.job}/compare/1/2").json()
        changes = {
            (c["what"], c["subject"]): (c["before"], c["after"], c["measures"]) for c in found["changes"]
        }
        self.assertEqual(changes[("point", "rocker_front")], ([40, 292, 404], [40, 292, 409], "length"))
        self.assertEqual(changes[("corner", "mass")], (232, 240, "mass"))
        self.assertEqual(changes[("rate", "units · coilover · springs · [1]")], (72, 80, "rate"))
        solved = solve_station(read_project(json.dumps(document)).stations[0])
        assert solved.ride
        self.assertAlmostEqual(
            found["figures_after"][0]["figures"]["ride_travel"], solved.ride.travel, delta=1e-3
        )
        self.assertNotEqual(found["figures_before"], found["figures_after"])
        marks = [f.mark for f in work_project(check_project(document)).stations[0].findings]
        told = found["figures_after"][0]["figures"]
        self.assertEqual((told["faults"], told["warnings"]), (marks.count("fault"), marks.count("warning")))


class InAndOut(JobsCase):
    def test_what_goes_out_comes_back_equal(self) -> None:
        answer = self.client.get(f"/api/jobs/{self.job}/revisions/1/project.json")
        self.assertIn("attachment", answer["Content-Disposition"])
        again = self.imported(json.loads(answer.content))
        self.assertEqual(self.client.get(f"/api/jobs/{again}").json()["document"], self.document)

    def test_the_sweep_as_csv(self) -> None:
        answer = self.client.get(f"/api/jobs/{self.job}/revisions/1/sweep.csv?steps=5")
        rows = list(csv.DictReader(io.StringIO(answer.content.decode())))
        self.assertEqual([row["travel mm"] for row in rows], [f"{t:.6f}" for t in (-40, -20, 0, 20, 40)])
        wanted = samples.expected("wishbone-pushrod")["sweep"]
        for row, want in zip(rows, wanted, strict=True):
            self.assertAlmostEqual(
                float(row["coilover length mm"]), want["units"]["coilover"]["length"], delta=0.001
            )
            self.assertAlmostEqual(float(row["wheel rate N/mm"]) / want["wheel_rate"], 1, delta=1e-3)
        for bad, status in (("station=4", 404), ("steps=1", 422), ("steps=99999", 422)):
            self.assertEqual(
                self.client.get(f"/api/jobs/{self.job}/revisions/1/sweep.csv?{bad}").status_code, status
            )

    def test_broken_imports_are_refused_in_words(self) -> None:
        for body, status, words in (
            (b"{", 422, "not readable JSON"),
            (b'{"format": "jugatrix-project", "version": 2}', 422, "this program reads version 1"),
            (b"\xff\xfe", 422, "not text in UTF-8"),
            (b" " * 20_000_000, 413, "20.0 MB"),
        ):
            answer = self.client.post("/api/jobs/import", body, content_type="application/json")
            self.assertEqual(answer.status_code, status)
            self.assertIn(words, answer.json()["detail"])
        self.assertEqual(Job.objects.count(), 1)
