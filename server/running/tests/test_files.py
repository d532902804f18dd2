"""The front end's files: what is none is not served, and a build in place of another is followed."""

import os
import tempfile
from pathlib import Path

from django.test import Client, TestCase, override_settings


class Built(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.web = Path(folder.name)
        self.build("one")
        changed = override_settings(WEB_BUILD=self.web, WHITENOISE_ROOT=self.web)
        changed.enable()
        self.addCleanup(changed.disable)

    def build(self, name: str) -> None:
        for file in (self.web / "assets").glob("*"):
            file.unlink()
        (self.web / "assets").mkdir(exist_ok=True)
        (self.web / "assets" / f"index-{name}.js").write_text(f"// {name}")
        (self.web / "index.html").write_text(
            f'<meta content="%NONCE%"><script src="/assets/index-{name}.js">'
        )
        (self.web / ".stamp").write_text(name)
        at = 1_700_000_000 + sum(map(ord, name))
        os.utime(self.web / ".stamp", (at, at))

    def test_a_build_under_a_running_server_shows_no_white_page(self) -> None:
        client = Client()
        self.assertContains(client.get("/"), "index-one.js")
        first = client.get("/assets/index-one.js")
        self.assertEqual(b"".join(first), b"// one")
        self.assertIn("immutable", first["Cache-Control"])
        self.build("two")
        self.assertContains(client.get("/"), "index-two.js")
        self.assertEqual(b"".join(client.get("/assets/index-two.js")), b"// two")
        self.assertEqual(client.get("/assets/index-one.js").status_code, 404)

    def test_the_page_has_its_headers_under_every_name_and_the_stamp_is_no_file(self) -> None:
        client = Client()
        for path in ("/", "/index.html", "/jobs/1/prove", "/invite/abc"):
            page = client.get(path)
            nonce = page["Content-Security-Policy"].partition("'nonce-")[2].partition("'")[0]
            self.assertContains(page, f'content="{nonce}"')
            self.assertEqual(page["X-Frame-Options"], "DENY")
            self.assertNotIn("unsafe-inline", page["Content-Security-Policy"])
            self.assertNotIn("Access-Control-Allow-Origin", page)
        self.assertEqual(client.get("/.stamp").status_code, 404)
