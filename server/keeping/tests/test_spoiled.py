"""Backups and exports that are not ours, a disk that takes nothing, a store spoiled while it runs, a folder that was emptied."""

import csv
import errno
import io
import json
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import time
import uuid
import zipfile
from collections.abc import Callable
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.core.management import call_command
from django.db import DatabaseError, IntegrityError
from django.test import Client, TestCase
from django.utils import timezone

from server.jobs.actions.remove_job import clear_away
from server.jobs.models import KEPT_DAYS, Job
from server.keeping.backup import BadBackup, look_at, make_backup, restore
from server.keeping.everything import BadFolder, export_all, import_all
from server.keeping.start import CannotStart, ready
from server.keeping.tests.test_keeping import InAFolder
from server.parts.models import Part
from server.records.models import Photograph
from server.records.pictures.kept import sweep
from server.running import failing
from server.running.whole import put_whole

Parts = dict[str, bytes]


class Backups(InAFolder):
    def spoiled(self, said: Any = None, more: Parts | None = None, **changed: Any) -> Path:
        """Return a backup with something of what it says changed, or all of it, and with more in it."""
        its = make_backup(self.folder / f"{uuid.uuid4()}.zip").path
        with zipfile.ZipFile(its) as file:
            parts = {name: file.read(name) for name in file.namelist()}
        told = said if said is not None else {**json.loads(parts["backup.json"]), **changed}
        parts["backup.json"] = told if isinstance(told, bytes) else json.dumps(told).encode()
        bad = self.folder / f"{uuid.uuid4()}.zip"
        with zipfile.ZipFile(bad, "w") as out:
            for name, data in {**parts, **(more or {})}.items():
                out.writestr(name, data)
        return bad

    def test_what_says_nonsense_of_itself_is_a_sentence(self) -> None:
        for said in ([], {}, 5, "x", b"", b"\xff\xfe", b"[" * 100_000, {"form": "one"}, {"form": 1}):
            with self.subTest(str(said)[:20]), self.assertRaisesRegex(BadBackup, "no backup of Jugatrix"):
                look_at(self.spoiled(said))
        for changed in (
            {"rows": 5},
            {"rows": {"a": "x"}},
            {"made": "x"},
            {"pictures": [1]},
            {"pictures": ["../x.jpg"]},
        ):
            with self.subTest(str(changed)), self.assertRaisesRegex(BadBackup, "no backup of Jugatrix"):
                look_at(self.spoiled(**changed))

    def test_what_holds_more_than_it_says_is_not_unpacked(self) -> None:
        with self.assertRaisesRegex(BadBackup, "nothing of ours"):
            look_at(self.spoiled(more={"photographs/../../x": b"x"}))
        with self.assertRaisesRegex(BadBackup, "nothing of ours"):
            look_at(self.spoiled(more={"/etc/x": b"x"}))
        bomb = self.spoiled()
        with zipfile.ZipFile(bomb) as file:
            held = file.infolist()
        for one in held:
            one.file_size = 10**15 if one.filename == "jugatrix.sqlite3" else one.file_size
        with (
            patch.object(zipfile.ZipFile, "infolist", return_value=held),
            patch.object(zipfile.ZipFile, "extractall") as unpacked,
            self.assertRaisesRegex(BadBackup, "less room than that"),
        ):
            look_at(bomb)
        unpacked.assert_not_called()

    def test_a_link_instead_of_a_file_is_refused(self) -> None:
        its = make_backup().path
        linked = self.folder / "linked.zip"
        with zipfile.ZipFile(its) as file, zipfile.ZipFile(linked, "w") as out:
            for one in file.infolist():
                told = zipfile.ZipInfo(one.filename)
                data = file.read(one.filename)
                if one.filename == "jugatrix.sqlite3":
                    told.external_attr, data = (stat.S_IFLNK | 0o777) << 16, b"/etc/passwd"
                out.writestr(told, data)
        with self.assertRaisesRegex(BadBackup, "a link instead"):
            look_at(linked)

    def test_it_is_its_writers_alone_and_lets_nobody_in(self) -> None:
        client = Client()
        client.force_login(self.job.owner)
        client.get("/api/session")
        its = make_backup()
        self.assertEqual(its.path.stat().st_mode & 0o777, 0o600)
        self.assertEqual(its.path.parent.stat().st_mode & 0o777, 0o700)
        self.assertEqual(its.rows["django_session"], 0)
        self.assertGreater(its.rows["auth_user"], 0)
        with zipfile.ZipFile(its.path) as file:
            self.assertNotIn(client.cookies["sessionid"].value.encode(), file.read("jugatrix.sqlite3"))

    def test_a_restore_revives_no_link_and_no_session(self) -> None:
        its = make_backup()
        into = self.folder / "other"
        into.mkdir()
        (into / "secret_key").write_text("the key that invitations were signed with")
        restore(its.path, into)
        self.assertFalse((into / "secret_key").exists())
        self.assertEqual(
            [path.read_text()[:7] for path in into.glob("before-restore-*/secret_key")], ["the key"]
        )


class Exports(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        self.out = self.folder / "out"
        export_all(self.out)
        self.where = next(path for path in (self.out / "jobs").iterdir() if "heron" in path.name.lower())
        for job in Job.objects.all():
            for revision in job.revisions.order_by("-number"):
                revision.delete()
            job.delete()
        Part.objects.all().delete()
        self.photo.path.unlink()

    def told(self, name: str, change: Callable[[Any], Any]) -> None:
        path = self.where / name
        path.write_text(json.dumps(change(json.loads(path.read_text("utf-8")))), "utf-8")

    def test_it_is_its_writers_alone(self) -> None:
        self.assertEqual(self.out.stat().st_mode & 0o777, 0o700)

    def test_what_is_not_as_it_was_written_takes_nothing_in_and_is_a_sentence(self) -> None:
        whole = self.folder / "whole"
        shutil.copytree(self.out, whole)

        def no_uuid() -> None:
            self.told("job.json", lambda its: {**its, "id": "7"})

        def a_list() -> None:
            (self.out / "everything.json").write_text("[1]")

        def no_revisions() -> None:
            (self.where / "log.csv").write_text("number,parent,author,created,reason\n")

        def twice() -> None:
            rows = list(csv.reader((self.where / "log.csv").open(encoding="utf-8", newline="")))
            out = io.StringIO()
            csv.writer(out).writerows([*rows, rows[-1]])
            (self.where / "log.csv").write_text(out.getvalue())

        def nobody() -> None:
            self.told("job.json", lambda its: {**its, "owner": "who is not here"})

        def no_date() -> None:
            self.told("job.json", lambda its: {**its, "created": "yesterday"})

        def no_document() -> None:
            next((self.where / "revisions").iterdir()).write_text("[1, 2]")

        def deep() -> None:
            next((self.where / "revisions").iterdir()).write_text("[" * 5000)

        def items() -> None:
            self.told("items.json", lambda _: [{"kind": "reading", "key": "k", "body": [1]}])

        def no_picture() -> None:
            next((self.where / "photographs").iterdir()).write_bytes(b"MZ\x90")

        def lost_picture() -> None:
            next((self.where / "photographs").iterdir()).unlink()

        def pictures() -> None:
            self.told("photographs.json", lambda _: {"a": 1})

        def week() -> None:
            (self.out / "week.json").write_text(
                json.dumps({"said": {"wanted": 4}, "by": None, "at": "2026-12-01T08:00"})
            )

        def link() -> None:
            picture = next((self.where / "photographs").iterdir())
            picture.unlink()
            picture.symlink_to("/etc/passwd")

        def shelf() -> None:
            for path in (self.out / "shelf").iterdir():
                path.write_bytes(b"\xff\x00rubbish")

        for change in (no_uuid, a_list, no_revisions, twice, nobody, no_date, no_document, deep, items, no_picture, lost_picture, pictures, link, shelf, week):  # fmt: skip
            shutil.rmtree(self.out)
            shutil.copytree(whole, self.out)
            change()
            with self.subTest(change.__name__), self.assertRaises(BadFolder) as refused:
                import_all(self.out)
            said = str(refused.exception)
            self.assertRegex(said, r"[Nn]othing was|holds no export", change.__name__)
            self.assertNotIn("Traceback", said)
            self.assertFalse(Job.objects.exists())
            self.assertEqual(list((self.folder / "photographs").glob("*")), [], change.__name__)
        self.assertEqual(import_all(whole)["jobs"], 3)


class NoRoom(InAFolder):
    def setUp(self) -> None:
        super().setUp()
        self.client.force_login(self.job.owner)
        self.at = f"/api/jobs/{self.job.pk}/photographs"

    def send(self) -> Any:
        jpeg = self.photo.path.read_bytes()
        return self.client.post(f"{self.at}?name=x", jpeg, content_type="image/jpeg")

    def test_a_picture_that_finds_no_room_is_a_sentence_and_leaves_nothing(self) -> None:
        before = set((self.folder / "photographs").iterdir())
        for number, code in (
            (errno.ENOSPC, "disk_full"),
            (errno.EDQUOT, "disk_full"),
            (errno.EROFS, "disk_read_only"),
        ):
            with patch("os.fsync", side_effect=OSError(number, os.strerror(number))):
                answer = self.send()
            self.assertEqual((answer.status_code, answer.json()["code"]), (503, code))
            self.assertIn("Nothing was stored", answer.json()["detail"])
        self.assertEqual(set((self.folder / "photographs").iterdir()), before)
        self.assertEqual(self.send().status_code, 201)

    def test_a_row_that_cannot_be_stored_leaves_no_file(self) -> None:
        before = set((self.folder / "photographs").iterdir())
        full = DatabaseError("database or disk is full")
        with patch.object(Photograph, "save", side_effect=full):
            answer = self.send()
        self.assertEqual((answer.status_code, answer.json()["code"]), (503, "disk_full"))
        self.assertEqual(set((self.folder / "photographs").iterdir()), before)

    def test_a_real_disk_that_is_full_is_said(self) -> None:
        """A file may be no larger than so many bytes in a process of its own: the system's own limit, met for real."""
        script = (
            "import resource, sys, pathlib\n"
            "from server.running.whole import put_whole\n"
            "resource.setrlimit(resource.RLIMIT_FSIZE, (4096, 4096))\n"
            "import signal; signal.signal(signal.SIGXFSZ, signal.SIG_IGN)\n"
            "try:\n    put_whole(pathlib.Path(sys.argv[1]), b'x' * 100_000)\n"
            "except OSError as error:\n    print(error.errno)\n"
        )
        target = self.folder / "picture.jpg"
        done = subprocess.run(
            [sys.executable, "-c", script, str(target)],
            capture_output=True,
            text=True,
            check=True,
            cwd=settings.ROOT,
        )
        self.assertEqual(int(done.stdout), errno.EFBIG)
        self.assertEqual(list(self.folder.glob("picture.jpg*")), [])

    def test_files_without_a_row_are_swept_and_no_others(self) -> None:
        folder = self.folder / "photographs"
        put_whole(folder / f"{uuid.uuid4()}.jpg", b"left by a pulled plug")
        (folder / "torn.jpg.44.part").write_bytes(b"half")
        fresh = folder / f"{uuid.uuid4()}.jpg"
        old = time.time() - 7200
        for path in folder.iterdir():
            os.utime(path, (old, old))
        put_whole(fresh, b"on its way")
        self.assertEqual(sweep(), 2)
        self.assertEqual(set(folder.iterdir()), {self.photo.path, fresh})

    def test_with_a_removed_job_its_pictures_go_for_good(self) -> None:
        self.assertTrue(self.photo.path.exists())
        Job.objects.filter(pk=self.job.pk).update(removed=timezone.now() - timedelta(days=KEPT_DAYS + 1))
        self.assertEqual(clear_away(), 1)
        self.assertFalse(self.photo.path.exists())


class Damaged(InAFolder):
    def test_a_store_damaged_while_it_runs_is_said_everywhere(self) -> None:
        """The middle of a real store is overwritten, and read by SQLite itself."""
        store = self.folder / "damaged.sqlite3"
        with closing(sqlite3.connect(store)) as its:
            its.execute("CREATE TABLE t (x TEXT)")
            its.executemany("INSERT INTO t VALUES (?)", [("x" * 3000,) for _ in range(200)])
            its.commit()
        data = bytearray(store.read_bytes())
        data[4096:200_000] = b"\x55" * (200_000 - 4096)
        store.write_bytes(data)
        with closing(sqlite3.connect(store)) as its, self.assertRaises(sqlite3.DatabaseError) as found:
            its.execute("SELECT SUM(LENGTH(x)) FROM t").fetchall()
        error = DatabaseError(str(found.exception))
        self.client.force_login(self.job.owner)
        for path in ("/api/jobs", f"/api/jobs/{self.job.pk}", f"/api/jobs/{self.job.pk}/survey"):
            with patch("server.jobs.models.JobQuerySet.known_to", side_effect=error):
                answer = self.client.get(path)
            self.assertEqual((answer.status_code, answer.json()["code"]), (503, "database_damaged"), path)
            self.assertIn("restore the newest backup", answer.json()["detail"])
        self.assertEqual(
            failing.outer_fault(DatabaseError("file is not a database")),
            ("database_damaged", failing.DAMAGED),
        )

    def test_a_fault_of_our_own_is_none_of_the_stores(self) -> None:
        self.assertIsNone(failing.outer_fault(IntegrityError("UNIQUE constraint failed")))
        self.assertIsNone(failing.outer_fault(OSError(errno.ENOENT, "no such file")))


class Emptied(InAFolder):
    def starts(self, new: bool = False) -> str:
        with (
            patch("server.keeping.start.store_path", return_value=self.folder / "jugatrix.sqlite3"),
            patch("server.keeping.start.call_command"),
        ):
            try:
                ready(lambda _: None, new=new)
            except CannotStart as error:
                return str(error)
        return ""

    def test_a_folder_whose_store_is_gone_begins_no_new_shop_in_silence(self) -> None:
        self.assertIn("there are photographs", self.starts())
        make_backup()
        (self.folder / "jugatrix.sqlite3").write_bytes(b"")
        said = self.starts()
        self.assertIn("there are backups", said)
        self.assertIn("Is its disk mounted?", said)
        self.assertIn("bin/serve --new", said)
        self.assertEqual(self.starts(new=True), "")
        shutil.rmtree(self.folder / "backups")
        self.photo.path.unlink()
        self.assertEqual(self.starts(), "")


class Nights(TestCase):
    def test_the_night_ends_with_a_server_that_was_gone_before_it_began(self) -> None:
        gone = subprocess.Popen([sys.executable, "-c", ""])
        gone.wait()
        call_command("nightly", of=gone.pid)
