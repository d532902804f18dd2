"""A real disk that is full under a running bin/serve: every call that stores or reads has its sentence, and with room again all goes on."""

import contextlib
import os
import re
import signal
import subprocess
import tempfile
import time
import unittest
import urllib.request
from collections.abc import Callable
from io import BytesIO
from pathlib import Path
from random import Random
from typing import Any

from django.test import SimpleTestCase
from PIL import Image

from e2e.test_demo import free_port
from e2e.test_serve import PASSWORD, SERVE, Caller
from server.accounts.may import WORKS_OUT
from server.tests.mutated import DOCUMENT, HERON, calls

SIZE = "24m"
OWN_DISK = 'mount -t tmpfs -o size="$1" tmpfs "$2" && exec "$3"'
STUDY_S = 60.0


def may_mount() -> bool:
    """Return whether this machine lets one have a disk of one's own."""
    with tempfile.TemporaryDirectory() as folder:
        tried = subprocess.run(
            ["unshare", "-Urm", "sh", "-c", OWN_DISK, "sh", "1m", folder, "true"],
            capture_output=True,
            check=False,
        )
    return tried.returncode == 0


@unittest.skipUnless(may_mount(), "no disk of one's own can be mounted here")
class FullDisk(SimpleTestCase):
    """One shop on a disk of twenty-four megabytes."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        shop, port = Path(folder.name) / "shop", free_port()
        shop.mkdir()
        cls.its = subprocess.Popen(
            ["unshare", "-Urm", "sh", "-c", OWN_DISK, "sh", SIZE, str(shop), str(SERVE)],
            env={**os.environ, "JUGATRIX_DATA": str(shop), "JUGATRIX_PORT": str(port), "JUGATRIX_BACKUP_HOUR": "-1"},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )  # fmt: skip
        cls.addClassCleanup(cls.stop)
        cls.ada = Caller(f"http://127.0.0.1:{port}")
        for _ in range(480):
            with contextlib.suppress(OSError):
                urllib.request.urlopen(f"{cls.ada.address}/health", timeout=2).read()
                break
            assert cls.its.poll() is None, "bin/serve ended"
            time.sleep(0.25)
        # The disk is seen from within the server alone; through its process it is seen from here too.
        cls.shop = Path(f"/proc/{cls.its.pid}/root{shop}")
        cls.ada.come_in((cls.shop / "first_owner").read_text())

    @classmethod
    def stop(cls) -> None:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(cls.its.pid, signal.SIGTERM)
        cls.its.wait(timeout=30)

    def tearDown(self) -> None:
        (self.shop / "filler").unlink(missing_ok=True)

    def fill(self) -> Path:
        """Take all room, to the last byte."""
        filler = self.shop / "filler"
        with filler.open("ab", buffering=0) as file:
            for size in (1 << 20, 4096, 1):
                with contextlib.suppress(OSError):
                    while True:
                        file.write(b"\1" * size)
        return filler

    def names(self) -> set[str]:
        """Return the pictures and what is half written."""
        return {
            str(file.relative_to(self.shop))
            for file in self.shop.rglob("*")
            if file.is_file() and ("photographs" in file.parts or file.name.endswith(".part"))
        }

    def asked(self, job: str, method: str, path: str, body: Any) -> tuple[int, Any]:
        filled = re.sub(r"\{job_id\}", job, path)
        filled = re.sub(r"\{(?:number|before|after)\}", "1", filled)
        filled = re.sub(r"\{(?:pk|photograph_id|draft_id|working_key)\}", job, filled)
        filled = filled.replace("{kind}", "mark").replace("{name}", "wishbones-lower")
        return self.ada.call(method, re.sub(r"\{\w+\}", "x", filled), body)

    def test_everything_has_its_sentence_and_goes_on_with_room_again(self) -> None:
        picture = BytesIO()
        noise = Random(4).randbytes(400 * 300 * 3)
        Image.frombytes("RGB", (400, 300), noise).save(picture, "JPEG")
        _, made = self.ada.call("POST", "/api/jobs/import", HERON)
        job = made["id"]
        study = self.ada.call("POST", "/api/study/usual", {"document": DOCUMENT})[1]
        photograph = f"/api/jobs/{job}/photographs?name=tower"
        self.assertEqual(self.ada.call("POST", photograph, picture.getvalue(), "image/jpeg")[0], 201)
        before = self.names()

        filler = self.fill()
        refused, stored = {}, []
        for call in calls():
            if call.operation in WORKS_OUT:
                continue
            status, said = self.asked(job, call.method, call.path, call.body)
            if status >= 500:
                self.assertEqual((status, said["code"]), (503, "disk_full"), (call.operation, said))
                self.assertIn("The disk is full", said["detail"])
                refused[call.operation] = said
            elif status < 300 and call.method != "GET":
                stored.append(call.operation)
        save = {"parent": 1, "reason": "on a full disk", "document": {**DOCUMENT, "notes": "x" * 20000}}
        for what, (method, path, body, kind) in {
            "revision": ("POST", f"/api/jobs/{job}/revisions", save, "application/json"),
            "import": ("POST", "/api/jobs/import", HERON, "application/json"),
            "reading": ("PUT", f"/api/jobs/{job}/survey/mark/far", {"body": [1.0, 2.0, 3.0]}, "application/json"),
            "photograph": ("POST", photograph, picture.getvalue(), "image/jpeg"),
            "study": ("POST", f"/api/jobs/{job}/study", {"document": DOCUMENT, **study, "candidates": 40_000}, "application/json"),
        }.items():  # fmt: skip
            with self.subTest(what):
                status, said = self.ada.call(method, path, body, kind)
                self.assertEqual((status, said["code"]), (503, "disk_full"), said)
        someone = Caller(self.ada.address)
        someone.call("GET", "/api/session")
        status, said = someone.call("POST", "/api/session", {"username": "ada", "password": PASSWORD})
        self.assertEqual((status, said["code"]), (503, "disk_full"), said)
        self.assertTrue(refused, "no call of the contract met the full disk")
        self.assertEqual(self.names(), before, "something half written stayed")
        # What was drawn can be solved and read all the while.
        self.assertEqual(self.ada.call("POST", "/api/solve", {"document": DOCUMENT, "station": 0})[0], 200)
        self.assertEqual(self.ada.call("GET", f"/api/jobs/{job}")[1]["number"], 1)

        filler.unlink()
        self.assertEqual(self.ada.call("POST", f"/api/jobs/{job}/revisions", save)[0], 201)
        self.assertEqual(self.ada.call("POST", photograph, picture.getvalue(), "image/jpeg")[0], 201)
        self.assertEqual(len(self.names()), len(before) + len(before))
        self.assertEqual(
            someone.call("POST", "/api/session", {"username": "ada", "password": PASSWORD})[0], 200
        )

    def studied(self, job: str, enough: Callable[[Any], bool]) -> Any:
        """Return how a study stands as soon as it stands as wanted."""
        until = time.monotonic() + STUDY_S
        while time.monotonic() < until:
            seen = self.ada.call("GET", f"/api/jobs/{job}/study")[1]
            if enough(seen):
                return seen
            time.sleep(0.3)
        self.fail(f"the study stands at {seen['done']} of {seen['parts']}: {seen['said']}")

    def test_a_study_says_that_the_disk_is_full_and_keeps_what_it_found(self) -> None:
        job = self.ada.call("POST", "/api/jobs/import", HERON)[1]["id"]
        study = self.ada.call("POST", "/api/study/usual", {"document": DOCUMENT})[1]
        long = {"document": DOCUMENT, **study, "candidates": 20_000_000}
        self.assertLess(self.ada.call("POST", f"/api/jobs/{job}/study", long)[0], 300)
        found = self.studied(job, lambda seen: seen["done"] > 0)
        self.fill()
        ended = self.studied(job, lambda seen: not seen["running"])
        self.assertRegex(ended["said"], "full|room")
        self.assertGreaterEqual(ended["done"], found["done"])
        self.assertTrue(ended["front"])
