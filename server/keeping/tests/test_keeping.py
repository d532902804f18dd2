"""Backups that give the shop back, and say so only when they do; everything as open files, and in again."""

import io
import json
import shutil
import sqlite3
import tempfile
import threading
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import TestCase, TransactionTestCase, override_settings
from PIL import Image

from engine.layouts.catalogue import layout_named, starting_project
from server.accounts.shop import keep_mark, shop
from server.demo.load import load_demo
from server.jobs.actions.import_project import import_project
from server.jobs.actions.save_revision import save_revision
from server.jobs.models import Job
from server.keeping import backup
from server.keeping.backup import BadBackup, all_backups, look_at, make_backup, restore, rotate, rows_of
from server.keeping.everything import BadFolder, export_all, import_all
from server.keeping.management.commands.nightly import is_due, night
from server.place import Place
from server.records.models import Photograph
from server.steps.models import ShopWeek
from server.steps.week import say, week_said


class InAFolder(TransactionTestCase):
    """The demo shop with a photograph, and a folder for its data and backups."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        changed = override_settings(DATA=self.folder, PLACE=Place(backups=str(self.folder / "backups")))
        changed.enable()
        self.addCleanup(changed.disable)
        load_demo()
        self.job = Job.objects.get(name="Heron three-wheeler")
        self.photo = Photograph.objects.create(
            job=self.job, name="shot", width=40, height=20, by=self.job.owner
        )
        self.photo.path.parent.mkdir(parents=True)
        Image.new("RGB", (40, 20), "red").save(self.photo.path)


class Backups(InAFolder):
    def test_one_is_whole_and_restores_into_another_folder(self) -> None:
        its = make_backup()
        self.assertEqual(its.rows["jobs_revision"], 5)
        self.assertEqual(its.pictures, 1)
        other = self.folder / "another"
        found = restore(its.path, other)
        self.assertEqual(found.rows, its.rows)
        self.assertEqual(rows_of(other / "jugatrix.sqlite3"), its.rows)
        with closing(sqlite3.connect(other / "jugatrix.sqlite3")) as store:
            (document,) = store.execute(
                "SELECT document FROM jobs_revision WHERE job_id = ? ORDER BY number DESC", [self.job.pk.hex]
            ).fetchone()
        self.assertEqual(json.loads(document), self.job.newest().document)
        self.assertTrue((other / "photographs" / self.photo.path.name).is_file())
        # Over what is there: it is moved aside, not lost.
        (other / "photographs" / "mine.jpg").write_bytes(b"x")
        restore(its.path, other)
        (aside,) = other.glob("before-restore-*")
        self.assertTrue((aside / "jugatrix.sqlite3").is_file())
        self.assertTrue((aside / "photographs" / "mine.jpg").is_file())

    def test_made_while_others_save_it_has_all_that_was_answered_before(self) -> None:
        stop = threading.Event()

        def save() -> None:
            user = get_user_model().objects.get(username="bench")
            job = Job.objects.get(pk=self.job.pk)
            number = job.last_number()
            while not stop.is_set():
                document = job.newest().document
                number = save_revision(user, job, number, {**document, "notes": f"n{number}"}, "again").number
            connection.close()

        saver = threading.Thread(target=save)
        saver.start()
        try:
            for _ in range(4):
                before = self.job.last_number()
                its = make_backup(self.folder / f"during-{before}.zip")
                self.assertGreaterEqual(its.rows["jobs_revision"], before)
        finally:
            stop.set()
            saver.join()

    def spoiled(self, change: Any) -> Path:
        its = make_backup(self.folder / "good.zip")
        bad = self.folder / "bad.zip"
        with zipfile.ZipFile(its.path) as file:
            parts = {name: file.read(name) for name in file.namelist()}
        its.path.unlink()
        change(parts)
        with zipfile.ZipFile(bad, "w") as out:
            for name, data in parts.items():
                out.writestr(name, data)
        return bad

    def test_one_that_would_not_give_the_shop_back_is_refused_in_words(self) -> None:
        def no_store(parts: dict[str, bytes]) -> None:
            del parts["jugatrix.sqlite3"]

        def torn(parts: dict[str, bytes]) -> None:
            parts["jugatrix.sqlite3"] = parts["jugatrix.sqlite3"][:20_000]

        def fewer(parts: dict[str, bytes]) -> None:
            said = json.loads(parts["backup.json"])
            said["rows"]["jobs_revision"] += 1
            parts["backup.json"] = json.dumps(said).encode()

        def no_photo(parts: dict[str, bytes]) -> None:
            del parts[next(name for name in parts if name.endswith(".jpg"))]

        def newer(parts: dict[str, bytes]) -> None:
            parts["backup.json"] = json.dumps({**json.loads(parts["backup.json"]), "form": 99}).encode()

        def outside(parts: dict[str, bytes]) -> None:
            parts["../../outside"] = b"x"

        for change, words in (
            (no_store, "no backup of Jugatrix"),
            (torn, "cannot be read|damaged"),
            (fewer, "holds 5 rows of jobs_revision, and should 6"),
            (no_photo, "lacks photographs/"),
            (newer, "newer Jugatrix"),
            (outside, "nothing of ours"),
        ):
            with self.subTest(change.__name__), self.assertRaisesRegex(BadBackup, words):
                look_at(self.spoiled(change))
        cut = self.folder / "cut.zip"
        cut.write_bytes(make_backup().path.read_bytes()[:3000])
        with self.assertRaisesRegex(BadBackup, "cut off"):
            look_at(cut)
        with self.assertRaisesRegex(BadBackup, "There is no file"):
            look_at(self.folder / "none.zip")

    def test_one_that_cannot_be_written_leaves_no_half(self) -> None:
        with (
            patch.object(backup, "_write", side_effect=OSError(28, "No space left on device")),
            self.assertRaisesRegex(BadBackup, "No space left"),
        ):
            make_backup()
        self.assertEqual(list((self.folder / "backups").iterdir()), [])
        its = make_backup(self.folder / "mine.zip")
        with self.assertRaisesRegex(BadBackup, "nothing was written over"):
            make_backup(its.path)

    def test_a_folder_that_is_served_is_not_restored_into(self) -> None:
        its = make_backup()
        with (
            patch.object(backup, "is_served", return_value=True),
            self.assertRaisesRegex(BadBackup, "Stop it first"),
        ):
            restore(its.path, self.folder / "another")

    def test_the_commands_say_what_they_did(self) -> None:
        call_command("backup", out=self.folder / "by-hand.zip", stdout=io.StringIO())
        call_command("restore", self.folder / "by-hand.zip", into=self.folder / "new", stdout=io.StringIO())
        with self.assertRaisesRegex(CommandError, "There is no file"):
            call_command("restore", self.folder / "none.zip")


class Machine(InAFolder):
    def test_an_owner_sees_the_backups_and_makes_one_and_nobody_else(self) -> None:
        self.client.force_login(get_user_model().objects.get(username="wilma"))
        self.assertEqual(self.client.get("/api/machine").status_code, 403)
        self.assertEqual(self.client.post("/api/machine/backup").status_code, 403)
        self.client.force_login(get_user_model().objects.get(username="bench"))
        self.assertEqual((before := self.client.get("/api/machine").json())["backups"], 0)
        self.assertIsNone(before["last_backup"])
        after = self.client.post("/api/machine/backup").json()
        self.assertEqual(after["backups"], 1)
        self.assertIsNotNone(after["last_backup"])
        with patch.object(backup, "_write", side_effect=OSError(28, "No space left on device")):
            refused = self.client.post("/api/machine/backup")
        self.assertEqual((refused.status_code, refused.json()["code"]), (503, "no_backup"))


class Nights(InAFolder):
    def test_a_backup_is_due_at_its_hour_when_missed_and_whatever_the_clock_does(self) -> None:
        now = datetime(2026, 6, 1, 12, tzinfo=UTC)
        hour = now.astimezone().hour
        for last, wanted, due in (
            (None, 3, True),
            (now - timedelta(hours=1), hour, False),
            (now - timedelta(hours=23), hour, True),
            (now - timedelta(hours=23), (hour + 5) % 24, False),
            (now - timedelta(hours=30), (hour + 5) % 24, True),
            (now + timedelta(days=31), (hour + 5) % 24, True),  # the clock was set back a month
            (None, -1, False),
        ):
            self.assertEqual(is_due(now, last, wanted), due, (last, wanted))

    def test_a_night_backs_up_and_rotation_keeps_days_weeks_and_months(self) -> None:
        night()
        (made,) = all_backups()
        for days in range(400):
            at = made.made - timedelta(days=days + 1)
            shutil.copy(made.path, made.path.with_name(f"jugatrix-{at:%Y%m%d-%H%M%S}.zip"))
        rotate()
        kept = all_backups()
        self.assertEqual(kept[0].path, made.path)
        self.assertLessEqual(len(kept), 7 + 5 + 24)
        ages = [(made.made - one.made).days for one in kept]
        self.assertEqual(ages[:7], [0, 1, 2, 3, 4, 5, 6])
        self.assertGreater(ages[-1], 330)


class Everything(InAFolder):
    def test_out_and_in_again_is_the_same_shop(self) -> None:
        job = self.job
        job.members.add(get_user_model().objects.get(username="wilma"))
        mark = io.BytesIO()
        Image.new("RGB", (90, 30), "navy").save(mark, "PNG")
        keep_mark(mark.getvalue())
        say(self.job.owner, {"wanted": {str(job.pk): "2026-12-18"}, "zone": "Europe/Lisbon"}, "")
        wished = week_said()
        borne = (shop().name, shop().address, shop().currency)
        out = self.folder / "everything"
        counts = export_all(out)
        self.assertEqual((counts["jobs"], counts["revisions"], counts["photographs"]), (3, 5, 1))
        whole = json.loads(next(out.glob("jobs/*-heron-*/project.json")).read_text("utf-8"))
        self.assertIn("survey", whole)
        self.assertNotIn("pbkdf2", "".join(path.read_text("utf-8", "replace") for path in out.rglob("*.csv")))
        before = {str(one.pk): one.newest().document for one in Job.objects.all()}
        log = list(job.revisions.values_list("number", "reason", "created", "author__username"))
        items = list(job.survey_items.order_by("place", "id").values_list("kind", "key", "body", "at"))
        self.assertEqual(import_all(out)["here already"], 3)
        Photograph.objects.all().delete()
        self.photo.path.unlink()
        for one in Job.objects.all():
            for revision in one.revisions.order_by("-number"):
                revision.delete()
            one.delete()
        get_user_model().objects.all().delete()
        shop().delete()
        ShopWeek.objects.all().delete()
        counts = import_all(out)
        assert wished
        self.assertEqual((week_said() or {})["said"], wished["said"])
        self.assertEqual((shop().name, shop().address, shop().currency), borne)
        self.assertTrue(shop().mark)
        self.assertEqual((counts["people"], counts["jobs"], counts["revisions"]), (2, 3, 5))
        self.assertEqual({str(one.pk): one.newest().document for one in Job.objects.all()}, before)
        again = Job.objects.get(pk=job.pk)
        self.assertEqual(
            list(again.revisions.values_list("number", "reason", "created", "author__username")), log
        )
        self.assertEqual(
            list(again.survey_items.order_by("place", "id").values_list("kind", "key", "body", "at")), items
        )
        self.assertEqual([user.get_username() for user in again.members.all()], ["wilma"])
        self.assertFalse(again.owner.has_usable_password())
        self.assertTrue(Photograph.objects.get().path.is_file())

    def test_a_folder_with_something_in_it_is_left_alone(self) -> None:
        (self.folder / "letters").mkdir()
        (self.folder / "letters" / "one.txt").write_text("x")
        with self.assertRaisesRegex(BadFolder, "not an empty folder"):
            export_all(self.folder / "letters")
        with self.assertRaisesRegex(BadFolder, "cannot be imported"):
            import_all(self.folder / "letters")

    def test_a_folder_that_is_half_there_takes_nothing_in(self) -> None:
        out = self.folder / "everything"
        export_all(out)
        for file in out.glob("jobs/0003*/revisions/*.json"):
            file.unlink()
        Job.objects.all().update(removed=None)
        people = get_user_model().objects.count()
        for one in Job.objects.all():
            for revision in one.revisions.order_by("-number"):
                revision.delete()
            one.delete()
        with self.assertRaisesRegex(BadFolder, "Nothing was"):
            import_all(out)
        self.assertEqual((Job.objects.count(), get_user_model().objects.count()), (0, people))


class OldFiles(TestCase):
    def test_a_project_file_of_version_1_is_always_taken_in(self) -> None:
        user = get_user_model().objects.create(username="ada")
        document = starting_project(layout_named("wishbones-lower"))
        self.assertEqual(document["version"], 1)
        self.assertEqual(import_project(user, json.dumps(document).encode()).newest().number, 1)
        for file in sorted((settings.ROOT / "docs" / "examples").glob("*.json")):
            import_project(user, file.read_bytes())
