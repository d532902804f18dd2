"""What a machine does to one: full and read-only disks, a locked or damaged store, newer data; each in words, nothing lost."""

import contextlib
import io
import json
import logging
import os
import shlex
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.db import OperationalError, connection
from django.db.migrations.recorder import MigrationRecorder
from django.test import Client, TestCase, TransactionTestCase, override_settings

from engine.layouts.catalogue import layout_named, starting_project
from server.jobs.actions.import_project import import_project
from server.keeping.start import CannotStart, ready
from server.running import disk
from server.running.log import Lines


class Full(TransactionTestCase):
    """SQLite's own limit of pages stands in for a full disk."""

    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="plumb-bob-and-twine")
        self.client.force_login(self.user)
        self.document = starting_project(layout_named("wishbones-lower"))
        self.job = import_project(self.user, json.dumps(self.document).encode())

    @contextlib.contextmanager
    def full(self) -> Iterator[None]:
        with connection.cursor() as cursor:
            pages = cursor.execute("PRAGMA page_count").fetchone()[0]
            before = cursor.execute("PRAGMA max_page_count").fetchone()[0]
            cursor.execute("CREATE TABLE filler (x BLOB)")
            cursor.execute(f"PRAGMA max_page_count = {pages + 2}")
            # What is free inside the file, and in its pages, is used up too.
            for size in (3500, 400, 40):
                with contextlib.suppress(OperationalError):
                    while True:
                        cursor.execute(f"INSERT INTO filler VALUES (randomblob({size}))")
        try:
            yield
        finally:
            with connection.cursor() as cursor:
                cursor.execute(f"PRAGMA max_page_count = {before}")
                cursor.execute("DROP TABLE IF EXISTS filler")

    def save(self, reason: str) -> Any:
        parent = self.job.last_number()
        padded = {**self.document, "notes": "x" * 9000}
        body = {"parent": parent, "reason": reason, "document": padded}
        return self.client.post(
            f"/api/jobs/{self.job.pk}/revisions", json.dumps(body), content_type="application/json"
        )

    def test_a_full_disk_is_said_and_nothing_is_torn(self) -> None:
        with self.full():
            refused = [self.save("on a full disk") for _ in range(4)]
            self.assertEqual({one.status_code for one in refused}, {503})
            self.assertEqual({one.json()["code"] for one in refused}, {"disk_full"})
            self.assertIn("The disk is full", refused[0].json()["detail"])
            self.assertTrue(refused[0].json()["values"]["request"])
            self.assertEqual(self.client.get(f"/api/jobs/{self.job.pk}").status_code, 200)
        self.assertEqual(self.job.revisions.count(), 1)
        self.assertEqual(self.save("with room again").status_code, 201)
        with connection.cursor() as cursor:
            self.assertEqual(cursor.execute("PRAGMA integrity_check").fetchone()[0], "ok")

    def test_signing_in_with_a_full_disk_is_a_sentence_too(self) -> None:
        who = json.dumps({"username": "ada", "password": "plumb-bob-and-twine"})
        with self.full():
            # Pages that are half empty take some sessions yet.
            for _ in range(60):
                client = Client(raise_request_exception=False)
                answer = client.post("/api/session", who, content_type="application/json")
                if answer.status_code != 200:
                    break
        self.assertEqual((answer.status_code, answer.json()["code"]), (503, "disk_full"))
        self.assertEqual(client.post("/api/session", who, content_type="application/json").status_code, 200)

    def test_a_disk_nearly_full_is_told_to_owners_before(self) -> None:
        get_user_model().objects.update(is_superuser=True)
        with override_settings(), with_free(120.0):
            (words,) = self.client.get("/api/session").json()["warnings"]
            self.assertIn("120 MB are left", words)
            self.assertIn("nearly full", self.client.get("/health").json()["warnings"][0])
        with with_free(2.0):
            self.assertEqual(self.client.get("/health").status_code, 503)
        self.assertEqual(self.client.get("/api/session").json()["warnings"], [])


@contextlib.contextmanager
def with_free(mb: float) -> Iterator[None]:
    """Let the disk seem to have so much room."""
    with (
        patch.object(disk, "free_mb", return_value=mb),
        patch("server.keeping.health.free_mb", return_value=mb),
    ):
        yield


class Health(TestCase):
    def test_it_says_that_all_is_well_or_what_is_not(self) -> None:
        said = self.client.get("/health").json()
        self.assertEqual((said["ok"], said["database"]), (True, "ok"))
        with patch(
            "server.keeping.health.connection.cursor",
            side_effect=OperationalError("unable to open database file"),
        ):
            answer = self.client.get("/health")
        self.assertEqual((answer.status_code, answer.json()["ok"]), (503, False))
        self.assertIn("unable to open", answer.json()["faults"][0])
        for path in ("/healthz.js", "/.stamp", "/assets/none.js"):
            self.assertEqual(self.client.get(path).status_code, 404, path)

    def test_what_fails_has_a_number_that_is_in_the_log(self) -> None:
        client = Client(raise_request_exception=False)
        client.force_login(get_user_model().objects.create(username="ada"))
        with (
            self.assertLogs("jugatrix", "ERROR") as logs,
            patch("server.jobs.api.Job.objects.known_to", side_effect=RuntimeError("a fault of ours")),
        ):
            answer = client.get("/api/jobs")
        self.assertEqual((answer.status_code, answer.json()["code"]), (500, "server_error"))
        self.assertEqual(answer.json()["values"]["request"], answer["X-Request-ID"])
        self.assertNotIn("a fault of ours", answer.content.decode())
        self.assertIn("a fault of ours", "\n".join(logs.output))


class Names(TestCase):
    def test_a_name_it_does_not_go_by_is_said_so(self) -> None:
        answer = self.client.get("/api/session", HTTP_HOST="elsewhere.example")
        self.assertEqual((answer.status_code, answer.json()["code"]), (400, "unknown_name"))
        page = self.client.get("/", HTTP_HOST="elsewhere.example")
        self.assertContains(page, "adds it to `names`", status_code=400)


class Log(TestCase):
    def line(self, message: str, **fields: Any) -> str:
        record = logging.LogRecord("jugatrix.request", logging.INFO, "", 0, message, None, None)
        record.fields = fields
        return Lines().format(record)

    def test_a_line_is_one_line_and_can_be_taken_apart(self) -> None:
        line = self.line('he said "no"\nat=forged level=error', who="Ada Kern", path="/api/jobs", status=200)
        self.assertNotIn("\n", line)
        found: dict[str, str] = {}
        for token in shlex.split(line.replace("\\n", " ")):
            key, _, value = token.partition("=")
            found.setdefault(key, value)
        self.assertEqual((found["who"], found["status"], found["level"]), ("Ada Kern", "200", "info"))
        self.assertTrue(found["at"].endswith("Z"))


class Starting(TransactionTestCase):
    def setUp(self) -> None:
        # The tests' tables are made without their history.
        call_command("migrate", fake=True, verbosity=0)

    def test_data_of_a_newer_version_is_left_alone(self) -> None:
        recorder = MigrationRecorder(connection)
        recorder.record_applied("jobs", "9999_of_tomorrow")
        try:
            with self.assertRaisesRegex(CannotStart, "newer Jugatrix .jobs 9999_of_tomorrow"):
                ready(lambda _: None)
        finally:
            recorder.record_unapplied("jobs", "9999_of_tomorrow")
        ready(lambda _: None)


class Shop(TestCase):
    """The program itself, in a folder of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def run_in(self, *arguments: str, **environment: str) -> subprocess.CompletedProcess[str]:
        env = {**os.environ, "JUGATRIX_DATA": str(self.folder), "JUGATRIX_SERVING": "1", **environment}
        return subprocess.run(
            [sys.executable, "-W", "ignore", *arguments], cwd=settings.ROOT, env=env, capture_output=True,
            text=True, timeout=120, check=False,
        )  # fmt: skip

    def test_an_empty_key_file_is_made_anew_and_no_key_is_readable_to_others(self) -> None:
        (self.folder / "secret_key").write_text("")
        done = self.run_in("-c", "import django.conf; print(len(django.conf.settings.SECRET_KEY))",
                           DJANGO_SETTINGS_MODULE="server.config.settings")  # fmt: skip
        self.assertEqual((done.stdout.strip(), done.stderr), ("50", ""))
        self.assertEqual((self.folder / "secret_key").stat().st_mode & 0o777, 0o600)
        self.assertEqual([path.name for path in self.folder.glob("secret_key*")], ["secret_key"])

    def test_what_keeps_it_from_starting_is_one_sentence(self) -> None:
        (self.folder / "jugatrix.sqlite3").write_bytes(b"SQLite format 3\0" + b"spoiled" * 4000)
        done = self.run_in("-m", "server.keeping.serve")
        self.assertEqual(done.returncode, 1)
        self.assertRegex(done.stderr, r"^Jugatrix: The job store .*(cannot be read|damaged).*restore")
        self.assertNotIn("Traceback", done.stderr)
        done = self.run_in("-m", "server.keeping.serve", JUGATRIX_PORT="0")
        self.assertRegex(done.stderr, "^Jugatrix: The setting port takes 1 to 65535")

    def test_djangos_own_check_of_a_deployment_is_clean(self) -> None:
        for environment in (
            {"JUGATRIX_PROXY": "127.0.0.1"},
            {"JUGATRIX_PROXY": "127.0.0.1", "JUGATRIX_NAMES": "shop.example"},
        ):
            done = self.run_in("manage.py", "check", "--deploy", "--fail-level", "WARNING", **environment)
            self.assertEqual(done.returncode, 0, done.stderr)

    def test_everything_goes_out_by_its_name_with_a_hyphen(self) -> None:
        store = self.folder / "jugatrix.sqlite3"
        release = sorted((Path(__file__).parent / "releases").glob("*.sql"))[-1]
        with contextlib.closing(sqlite3.connect(store)) as its:
            its.executescript(release.read_text("utf-8"))
        self.assertEqual(self.run_in("manage.py", "migrate", "-v", "0").returncode, 0)
        done = self.run_in("manage.py", "export-all", str(self.folder / "out"))
        self.assertIn("3 jobs, 5 revisions", done.stdout, done.stderr)
        self.assertEqual(len(list((self.folder / "out" / "jobs").iterdir())), 3)
        again = self.run_in("manage.py", "export-all", str(self.folder / "out"))
        self.assertEqual(again.returncode, 1)
        self.assertIn("not an empty folder", again.stderr)

    def test_data_of_every_release_opens(self) -> None:
        releases = sorted((Path(__file__).parent / "releases").glob("*.sql"))
        self.assertTrue(releases)
        for release in releases:
            store = self.folder / "jugatrix.sqlite3"
            store.unlink(missing_ok=True)
            with contextlib.closing(sqlite3.connect(store)) as its:
                its.executescript(release.read_text("utf-8"))
            code = (
                "import django; django.setup()\n"
                "from server.keeping.start import ready; ready(lambda words: None)\n"
                "from server.jobs.models import Job\n"
                "from engine.document.read import check_project\n"
                "for job in Job.objects.all(): check_project(job.newest().document)\n"
                "from server.accounts.models import Person\n"
                "from server.accounts.first_owner import nobody_runs_it\n"
                "owners = ' '.join(one.user.username for one in Person.objects.filter(role='owner'))\n"
                "print(Job.objects.count(), sum(job.revisions.count() for job in Job.objects.all()), owners, nobody_runs_it())\n"
            )
            done = self.run_in("-c", code, DJANGO_SETTINGS_MODULE="server.config.settings")
            # The release of November knew no roles: whoever has most jobs is its owner.
            self.assertEqual(done.stdout.strip(), "3 5 ada False", done.stderr[-500:])


class Commands(TestCase):
    def test_check_says_nothing(self) -> None:
        out = io.StringIO()
        call_command("check", stdout=out)
        self.assertIn("no issues", out.getvalue())
