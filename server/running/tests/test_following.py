"""Long work followed and stopped from another thread and another process, and nothing of it left."""

import json
import os
import tempfile
import threading
import time
import uuid
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import SimpleTestCase, TestCase, override_settings

from engine.document.read import read_project
from engine.prove.proof import prove
from engine.shop.job_parts import job_parts
from server.answers import ActionRefused
from server.running.following import FORGOTTEN_S, MOST_MARKS, Stopped, followed, heard, stop, tell
from server.running.workers import away, end
from server.shop.files import all_files

KEY = str(uuid.UUID(int=7))
DEMO = settings.ROOT / "server" / "demo" / "files"


def counted(many: int) -> int:
    """Count slowly, and say so."""
    for number in range(many):
        tell(number / many, f"number {number}")
        time.sleep(0.02)
    return many


def when(told: Any, found: list[Any]) -> None:
    """Look until something is told, and note it."""
    for _ in range(6000):
        said = heard(KEY)
        if said and said["what"]:
            found.append(said)
            told()
            return
        time.sleep(0.01)


class Followed(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "working"
        its = override_settings(DATA=folder.name)
        its.enable()
        self.addCleanup(its.disable)

    def test_what_is_told_is_heard_until_the_work_is_done(self) -> None:
        tell(0.5, "of work that nobody follows")
        self.assertIsNone(heard(KEY))
        with followed(KEY):
            tell(0.25, "the second part")
            self.assertEqual(heard(KEY), {"share": 0.25, "what": "the second part"})
        self.assertIsNone(heard(KEY))
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_a_stop_ends_it_at_the_next_word_or_before_it_begins(self) -> None:
        with self.assertRaises(Stopped), followed(KEY):
            tell(0.1, "something")
            stop(KEY)
            tell(0.2, "something else")
        self.assertEqual(list(self.folder.iterdir()), [])
        stop(KEY)  # before it began
        with self.assertRaises(Stopped), followed(KEY):
            self.fail("it began")
        with followed(KEY):
            tell(0.9, "the same question once more")

    def test_what_somebody_left_long_ago_is_cleared_away(self) -> None:
        stop(str(uuid.UUID(int=1)))
        stop(str(uuid.UUID(int=2)))
        old = self.folder / f"{uuid.UUID(int=1)}.stop"
        os.utime(old, (time.time() - FORGOTTEN_S - 60,) * 2)
        with followed(KEY):
            pass
        self.assertEqual([file.name for file in self.folder.iterdir()], [f"{uuid.UUID(int=2)}.stop"])

    def test_marks_for_work_that_never_comes_stay_few(self) -> None:
        for number in range(MOST_MARKS + 40):
            stop(str(uuid.UUID(int=number + 1)))
        self.assertEqual(len(list(self.folder.glob("*.stop"))), MOST_MARKS)

    def test_what_cannot_be_written_keeps_no_answer_back(self) -> None:
        self.folder.write_text("no folder")
        with followed(KEY):
            tell(0.5, "something")
        self.assertIsNone(heard(KEY))

    @override_settings(LONG_WORK_APART=True)
    def test_work_in_another_process_is_heard_and_stopped_from_here(self) -> None:
        os.environ["JUGATRIX_DATA"], before = str(self.folder.parent), os.environ.get("JUGATRIX_DATA")
        try:
            found: list[Any] = []
            asks = threading.Thread(target=when, args=(lambda: stop(KEY), found))
            asks.start()
            began = time.monotonic()
            with self.assertRaises(ActionRefused) as refused:
                away(counted, 6000, key=KEY)
            asks.join()
            self.assertLess(time.monotonic() - began, 100.0)
            self.assertEqual((refused.exception.status, refused.exception.code), (409, "stopped"))
            self.assertRegex(found[0]["what"], r"number \d+")
            self.assertEqual(away(counted, 2, key=KEY), 2)  # and the process goes on
        finally:
            end()
            os.environ.pop("JUGATRIX_DATA")
            if before is not None:
                os.environ["JUGATRIX_DATA"] = before


class Told(SimpleTestCase):
    def told(self, work: Any) -> list[tuple[float, str]]:
        said: list[tuple[float, str]] = []
        work(lambda share, what: said.append((share, what)))
        shares = [share for share, _ in said]
        self.assertEqual(shares, sorted(shares))
        self.assertTrue(all(0 <= share < 1 for share in shares), shares)
        self.assertTrue(all(what for _, what in said))
        return said

    def test_a_proof_its_parts_and_its_files_say_what_comes_next_and_never_go_back(self) -> None:
        job = read_project((DEMO / "heron-three-wheeler.json").read_bytes())
        first = job.stations[0].name
        proof = self.told(lambda tell: prove(job, tell=tell))
        self.assertIn(f"the cycle of {first}", [what for _, what in proof])
        self.assertIn("a weigh-in", [what for _, what in proof])
        parts = self.told(lambda tell: job_parts(job, tell=tell))
        self.assertIn(f"the parts of {first} among everything else", [what for _, what in parts])
        files = self.told(lambda tell: all_files(job, tell=tell))
        self.assertEqual(files[-1][1], "the build sheets")
        self.assertTrue(any(what.startswith("drawing 1 of") for _, what in files))


class OverHttp(TestCase):
    def setUp(self) -> None:
        self.client.force_login(get_user_model().objects.create_user("ada", password="x"))
        self.document = json.loads((DEMO / "heron-three-wheeler.json").read_text("utf-8"))

    def asked(self, path: str, key: str) -> Any:
        body = {"document": self.document, "records": []}
        headers = {"X-Working": key}
        return self.client.post(path, json.dumps(body), content_type="application/json", headers=headers)

    def test_it_is_stopped_in_a_sentence_and_asked_once_more(self) -> None:
        for path in ("/api/prove", "/api/make", "/api/make/fits", "/api/make/stock"):
            with self.subTest(path):
                self.assertEqual(self.client.delete(f"/api/working/{KEY}").status_code, 204)
                answer = self.asked(path, KEY)
                self.assertEqual(answer.status_code, 409, answer.content[:300])
                self.assertEqual(answer.json()["code"], "stopped")
                self.assertEqual(self.asked(path, KEY).status_code, 200)

    def test_nothing_is_told_of_what_nobody_works_on(self) -> None:
        self.assertEqual(self.client.get(f"/api/working/{KEY}").json(), {"share": None, "what": ""})
        with followed(KEY):
            tell(0.4, "the mounts of Front")
            told = self.client.get(f"/api/working/{KEY}").json()
        self.assertEqual(told, {"share": 0.4, "what": "the mounts of Front"})
        self.assertEqual(self.client.get("/api/working/..%2F..").status_code, 404)

    def test_a_key_that_is_none_follows_nothing(self) -> None:
        self.assertEqual(self.asked("/api/make", "../../etc").status_code, 200)
