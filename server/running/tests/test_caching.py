"""Papers are made once while nothing changed, beside those who answer; what changes makes them anew."""

import io
import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings
from pypdf import PdfReader

from engine.layouts.catalogue import layout_named, starting_project
from server.jobs.actions.import_project import import_project
from server.jobs.actions.save_revision import save_revision
from server.keeping.licences import FONTS, licences, shipped
from server.records.actions.survey import put_item
from server.running import caching
from server.running.caching import cached_away, forget_all
from server.running.following import tell

CALLS: list[tuple[Any, ...]] = []


def noted(*values: Any) -> bytes:
    CALLS.append(values)
    tell(0.5, "a paper")
    return repr(values).encode()


class Caching(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        changed = override_settings(DATA=self.folder)
        changed.enable()
        self.addCleanup(changed.disable)
        CALLS.clear()

    def test_the_same_again_is_read_and_anything_else_is_made(self) -> None:
        first = cached_away(noted, {"a": 1.0}, "A4")
        self.assertEqual(cached_away(noted, {"a": 1.0}, "A4"), first)
        self.assertEqual(len(CALLS), 1)
        cached_away(noted, {"a": 1.0}, "Letter")
        cached_away(noted, {"a": 1.0}, "A4", of="another state")
        self.assertEqual(len(CALLS), 3)
        forget_all()
        cached_away(noted, {"a": 1.0}, "A4")
        self.assertEqual(len(CALLS), 4)

    def test_only_so_much_is_kept_and_a_full_disk_keeps_no_paper_back(self) -> None:
        with patch.object(caching, "MOST_FILES", 3):
            for number in range(6):
                cached_away(noted, number)
        self.assertEqual(len(list((self.folder / "made").iterdir())), 3)
        with patch("os.fsync", side_effect=OSError(28, "No space left on device")):
            self.assertEqual(cached_away(noted, "on a full disk"), b"('on a full disk',)")

    def test_the_book_is_made_anew_when_a_reading_comes_or_a_revision(self) -> None:
        user = get_user_model().objects.create_user("ada", password="x")
        self.client.force_login(user)
        document = starting_project(layout_named("wishbones-lower"))
        job = import_project(user, b"" + __import__("json").dumps(document).encode())

        def words() -> str:
            answer = self.client.get(f"/api/jobs/{job.pk}/book.pdf")
            self.assertEqual(answer.status_code, 200)
            return "".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages)

        first = words()
        self.assertEqual(words(), first)
        self.assertEqual(len(list((self.folder / "made").iterdir())), 1)
        record = {"kind": "drive", "when": "2026-11-20", "note": "round the yard", "seconds": 60}
        put_item(user, job, "record", "drive-1", {key: record[key] for key in ("kind", "when", "note")})
        self.assertIn("round the yard", words())
        save_revision(user, job, 1, {**document, "notes": "stiffer"}, "stiffer springs")
        self.assertIn("stiffer springs", words())
        self.assertEqual(self.client.get(f"/api/jobs/{job.pk}/book.pdf?paper=A99").status_code, 422)


class Licences(TestCase):
    def test_what_ships_is_told_whole(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            build, modules = Path(folder) / "dist", Path(folder) / "modules"
            build.mkdir()
            (build / "licences-of-scripts.md").write_text("## a script - 1.0 (MIT)")
            for font in FONTS:
                (modules / font).mkdir(parents=True)
                (modules / font / "LICENSE").write_text(f"terms of {font}")
            text = licences(build, modules)
            (modules / FONTS[0] / "LICENSE").unlink()
            with self.assertRaisesRegex(FileNotFoundError, "no licence beside it"):
                licences(build, modules)
        self.assertIn("a script", text)
        self.assertGreater(len(shipped()), 25)
        for name in ("Django ", "numpy ", "terms of dejavu-fonts-ttf", "reportlab "):
            self.assertIn(name, text)
