"""bin/serve itself: a shop's own copy on its network, with TLS, killed in the middle of saving, and never twice on one folder."""

import contextlib
import json
import os
import random
import re
import signal
import socket
import sqlite3
import ssl
import subprocess
import tempfile
import threading
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPConnection, HTTPException
from http.cookiejar import CookieJar
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from io import BytesIO
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test import SimpleTestCase
from PIL import Image

from e2e.test_demo import free_port
from engine.layouts.catalogue import layout_named, starting_project

SERVE = settings.ROOT / "bin" / "serve"
FILES = Path(__file__).parent / "files"
PASSWORD = "plumb-bob-and-twine"
KILLS = int(os.environ.get("JUGATRIX_KILLS", "6"))


class Caller:
    """Somebody at a browser, with cookies and the page's token."""

    def __init__(self, address: str, context: ssl.SSLContext | None = None) -> None:
        self.address, self.jar, self.origin = address, CookieJar(), ""
        https = [urllib.request.HTTPSHandler(context=context)] if context else []
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar), *https)

    def call(
        self, method: str, path: str, body: Any = None, kind: str = "application/json"
    ) -> tuple[int, Any]:
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        token = next((one.value for one in self.jar if one.name == "csrftoken"), "") or ""
        headers = {"Content-Type": kind, "X-CSRFToken": token, "Referer": self.address + "/"}
        headers |= {"Origin": self.origin} if self.origin else {}
        request = urllib.request.Request(self.address + path, data, headers, method=method)
        try:
            with self.opener.open(request, timeout=120) as got:
                text = got.read()
                return got.status, json.loads(text) if text[:1] in (b"{", b"[") else text
        except urllib.error.HTTPError as error:
            text = error.read()
            return error.code, json.loads(text) if text[:1] == b"{" else text

    def come_in(self, code: str) -> None:
        self.call("GET", "/api/session")
        status, said = self.call(
            "POST", "/api/people/first", {"code": code, "username": "ada", "password": PASSWORD}
        )
        assert status == 200, said


class Stays(urllib.request.HTTPRedirectHandler):
    """Goes nowhere else."""

    def redirect_request(self, *_: Any, **__: Any) -> None:
        return None


class Passing(BaseHTTPRequestHandler):
    """A proxy in front, in the manner of the snippet in docs/serving: it ends TLS and says who asked."""

    port = 0

    def pass_on(self) -> None:
        body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
        headers = {key: value for key, value in self.headers.items() if key.lower() != "connection"}
        headers |= {"X-Forwarded-Proto": "https", "X-Forwarded-For": self.client_address[0]}
        inner = HTTPConnection("127.0.0.1", self.port, timeout=120)
        inner.request(self.command, self.path, body or None, headers)
        got = inner.getresponse()
        data = got.read()
        self.send_response(got.status)
        for key, value in got.getheaders():
            if key.lower() not in ("connection", "transfer-encoding", "content-length"):
                self.send_header(key, value)
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)
        inner.close()

    do_GET = do_POST = do_PUT = do_DELETE = pass_on  # noqa: N815

    def log_message(self, *_: Any) -> None:
        pass


class Serve(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "shop"
        self.port = free_port()

    def start(self, wait: bool = True, **environment: str) -> subprocess.Popen[str]:
        env = {**os.environ, "JUGATRIX_DATA": str(self.folder), "JUGATRIX_PORT": str(self.port),
               "JUGATRIX_BACKUP_HOUR": "-1", **environment}  # fmt: skip
        its = subprocess.Popen(
            [str(SERVE)],
            env=env,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )
        self.addCleanup(self.stop, its)
        if wait:
            self.serving("https" if "JUGATRIX_CERTIFICATE" in environment else "http", its)
        return its

    def serving(self, scheme: str = "http", its: subprocess.Popen[str] | None = None) -> None:
        context = ssl._create_unverified_context() if scheme == "https" else None
        for _ in range(240):
            with contextlib.suppress(OSError):
                urllib.request.urlopen(
                    f"{scheme}://127.0.0.1:{self.port}/health", timeout=2, context=context
                ).read()
                return
            if its is not None and its.poll() is not None:
                self.fail(f"bin/serve ended: {its.communicate()}")
            time.sleep(0.25)
        self.fail("bin/serve did not serve")

    def stop(self, its: subprocess.Popen[str]) -> str:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(its.pid, signal.SIGTERM)
        try:
            out, _ = its.communicate(timeout=15)
        except subprocess.TimeoutExpired:
            os.killpg(its.pid, signal.SIGKILL)
            out, _ = its.communicate(timeout=15)
        except ValueError:
            return ""
        return out

    def code(self) -> str:
        return (self.folder / "first_owner").read_text()

    def test_from_nothing_to_an_owner_and_a_log_without_the_demos_door(self) -> None:
        its = self.start()
        ada = Caller(f"http://127.0.0.1:{self.port}")
        code = self.code()
        ada.come_in(code)
        self.assertEqual(ada.call("GET", "/api/session")[1]["role"], "owner")
        self.assertFalse(ada.call("GET", "/api/session")[1]["demo"])
        self.assertEqual(ada.call("POST", "/api/session/demo", {})[0], 403)
        self.assertEqual(ada.call("GET", "/api/instruments/angle-finder")[0], 404)  # nothing is played here
        # A second one on the same folder would think the first's work its own.
        other = subprocess.run(
            [str(SERVE)], capture_output=True, text=True, timeout=120, check=False,
            env={**os.environ, "JUGATRIX_DATA": str(self.folder), "JUGATRIX_PORT": str(free_port())},
        )  # fmt: skip
        self.assertEqual(other.returncode, 1)
        self.assertIn("already runs on", other.stderr)
        out = self.stop(its)
        self.assertIn(code, out)
        self.assertIn("Only this machine reaches it", out)
        log = (self.folder / "logs" / "jugatrix.log").read_text("utf-8")
        self.assertRegex(
            log, r"request=\w+ who=ada address=127\.0\.0\.1 method=GET path=/api/session status=200 ms=\d+"
        )
        self.assertNotIn(PASSWORD, log)
        self.assertEqual(self.folder.stat().st_mode & 0o077, 0)

    def test_hands_in_a_crowd_are_all_answered_and_moved_to_whoever_is_free(self) -> None:
        """Browsers keep their lines; a line whose question stood in a queue is closed, said so before, and opened anew."""
        self.start(JUGATRIX_WORKERS="2")
        ada = Caller(f"http://127.0.0.1:{self.port}")
        ada.come_in(self.code())
        token = next(one.value for one in ada.jar if one.name == "csrftoken")
        headers = {
            "Content-Type": "application/json", "X-CSRFToken": str(token), "Referer": ada.address + "/",
            "Cookie": "; ".join(f"{one.name}={one.value}" for one in ada.jar),
        }  # fmt: skip
        document = json.loads((SERVE.parents[1] / "docs" / "examples" / "wishbones-lower.json").read_text())
        point = document["stations"][0]["chassis"][0]

        def hand(number: int) -> list[tuple[int, str, float]]:
            line, found = HTTPConnection("127.0.0.1", self.port, timeout=60), []
            for count in range(6):
                mine = json.loads(json.dumps(document))
                mine["stations"][0]["points"][point][0] += number + count / 10
                asked = json.dumps({"document": mine, "station": 0, "rooms": True})
                line.request("POST", "/api/solve", asked, headers)
                got = line.getresponse()
                said = json.loads(got.read())
                found.append((got.status, got.getheader("Connection") or "", said["points"][point][0][0]))
            return found

        with ThreadPoolExecutor(8) as hands:
            told = list(hands.map(hand, range(8)))
        every = [one for its in told for one in its]
        self.assertEqual({status for status, *_ in every}, {200})
        self.assertEqual({line for _, line, _ in every}, {"close", "keep-alive"})
        # Each got the answer to its own question.
        at = document["stations"][0]["points"][point][0]
        for number, its in enumerate(told):
            for count, (_, _, x) in enumerate(its):
                self.assertAlmostEqual(x, at + number + count / 10, places=3)

    def test_with_its_own_certificate_cookies_and_headers_are_those_of_tls(self) -> None:
        self.start(
            JUGATRIX_CERTIFICATE=str(FILES / "localhost.pem"), JUGATRIX_KEY=str(FILES / "localhost.key")
        )
        context = ssl.create_default_context(cafile=str(FILES / "localhost.pem"))
        ada = Caller(f"https://localhost:{self.port}", context)
        ada.come_in(self.code())
        self.assertTrue(all(cookie.secure for cookie in ada.jar))
        with urllib.request.urlopen(f"https://localhost:{self.port}/", context=context) as page:
            self.assertIn("max-age=31536000", page.headers["Strict-Transport-Security"])
            self.assertNotIn("unsafe-inline", page.headers["Content-Security-Policy"])
            nonce = re.search(r"'nonce-([^']+)'", page.headers["Content-Security-Policy"])
            assert nonce is not None
            self.assertIn(nonce.group(1), page.read().decode())
        _, job = ada.call("POST", "/api/jobs/import", starting_project(layout_named("wishbones-lower")))
        cookies = "; ".join(f"{one.name}={one.value}" for one in ada.jar)
        line = self.watching(f"/api/jobs/{job['id']}/saved", cookies, context)
        self.assertTrue(self.told(line, b"data: 1\n"))
        line.close()

    def test_behind_a_proxy_that_ends_tls_one_comes_in_and_straight_to_it_one_does_not(self) -> None:
        self.start(JUGATRIX_PROXY="127.0.0.1", JUGATRIX_NAMES="localhost")
        proxy = ThreadingHTTPServer(("127.0.0.1", 0), type("Here", (Passing,), {"port": self.port}))
        tls = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        tls.load_cert_chain(FILES / "localhost.pem", FILES / "localhost.key")
        proxy.socket = tls.wrap_socket(proxy.socket, server_side=True)
        threading.Thread(target=proxy.serve_forever, daemon=True).start()
        self.addCleanup(proxy.server_close)
        self.addCleanup(proxy.shutdown)
        address = f"https://localhost:{proxy.server_address[1]}"
        ada = Caller(address, ssl.create_default_context(cafile=str(FILES / "localhost.pem")))
        ada.origin = address
        ada.come_in(self.code())
        self.assertTrue(all(cookie.secure for cookie in ada.jar))
        _, job = ada.call("POST", "/api/jobs/import", starting_project(layout_named("wishbones-lower")))
        self.assertEqual(ada.call("GET", f"/api/jobs/{job['id']}")[0], 200)
        link = ada.call("GET", "/api/people/address?path=/jobs")[1]["link"]
        self.assertEqual(link, f"{address}/jobs")
        # Straight at it, without TLS, one is sent to the proxy's.
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/session", headers={"Host": "localhost"}
        )
        opener = urllib.request.build_opener(Stays)
        with self.assertRaises(urllib.error.HTTPError) as sent:
            opener.open(request, timeout=10)
        self.assertEqual((sent.exception.code, sent.exception.headers["Location"][:8]), (301, "https://"))

    def test_a_hundred_idle_lines_shut_nobody_out(self) -> None:
        self.start()
        idle = [socket.create_connection(("127.0.0.1", self.port)) for _ in range(150)]
        began = time.monotonic()
        status, _ = Caller(f"http://127.0.0.1:{self.port}").call("GET", "/health")
        self.assertEqual(status, 200)
        self.assertLess(time.monotonic() - began, 12.0)  # it was 146 s
        for one in idle:
            one.close()

    def watching(self, path: str, cookies: str, context: ssl.SSLContext | None = None) -> socket.socket:
        """Return the line of somebody who watches."""
        line = socket.create_connection(("127.0.0.1", self.port), timeout=30)
        if context:
            line = context.wrap_socket(line, server_hostname="localhost")
        line.sendall(
            f"GET {path} HTTP/1.1\r\nHost: localhost:{self.port}\r\nCookie: {cookies}\r\n\r\n".encode()
        )
        return line

    def told(self, line: socket.socket, what: bytes) -> bool:
        """Return whether somebody who watches is told it."""
        seen = b""
        with contextlib.suppress(TimeoutError):
            while what not in seen:
                more = line.recv(4096)
                if not more:
                    return False
                seen += more
        return what in seen

    def test_two_hundred_who_watch_are_all_told_and_shut_nobody_out(self) -> None:
        """Half of them an instrument, half a job: each hears of a save within seconds, and none holds a thread."""
        self.start(JUGATRIX_STAND_INS="1")
        ada = Caller(f"http://localhost:{self.port}")
        ada.come_in(self.code())
        document = starting_project(layout_named("wishbones-lower"))
        _, job = ada.call("POST", "/api/jobs/import", document)
        cookies = "; ".join(f"{one.name}={one.value}" for one in ada.jar)
        there = [self.watching("/api/instruments/distance-meter/live", cookies) for _ in range(100)]
        jobs = [self.watching(f"/api/jobs/{job['id']}/saved", cookies) for _ in range(100)]
        stranger = self.watching(f"/api/jobs/{job['id']}/saved", "")
        self.assertTrue(self.told(stranger, b"HTTP/1.1 401"))
        self.assertTrue(all(self.told(one, b'"unit": "mm"') for one in there))
        self.assertTrue(all(self.told(one, b"data: 1\n") for one in jobs))
        waited = []
        for _ in range(5):
            began = time.monotonic()
            self.assertEqual(Caller(ada.address).call("GET", "/health")[0], 200)
            waited.append(time.monotonic() - began)
        body = {"parent": 1, "reason": "pivot up", "document": document}
        self.assertEqual(ada.call("POST", f"/api/jobs/{job['id']}/revisions", body)[0], 201)
        began = time.monotonic()
        self.assertTrue(all(self.told(one, b"data: 2\n") for one in jobs))
        heard = time.monotonic() - began
        for one in (*there, *jobs, stranger):
            one.close()
        if "JUGATRIX_KILLS" in os.environ:
            print("a fresh caller beside 200 who watch:", [round(one, 3) for one in waited])
            print("the last of 100 heard of a save after", round(heard, 2), "s")
        self.assertLess(min(waited), 5.0)  # it was more than 70 s
        self.assertLess(heard, 20.0)

    def test_killed_while_it_saves_nothing_that_was_answered_is_lost(self) -> None:
        """A worker or the whole server is killed at any moment, KILLS times; every answered save, reading and picture is there."""
        picture = BytesIO()
        Image.new("RGB", (320, 240), "red").save(picture, "JPEG")
        chance = random.Random(7)
        its = self.start()
        ada = Caller(f"http://127.0.0.1:{self.port}")
        ada.come_in(self.code())
        document = starting_project(layout_named("wishbones-lower"))
        _, job = ada.call("POST", "/api/jobs/import", document)
        kept: dict[str, set[str]] = {"saves": set(), "readings": set(), "pictures": set()}
        stop = threading.Event()
        jar = list(ada.jar)

        def caller() -> Caller:
            one = Caller(ada.address)
            for cookie in jar:
                one.jar.set_cookie(cookie)
            return one

        def saver() -> None:
            one, count = caller(), 0
            while not stop.is_set():
                count += 1
                with contextlib.suppress(OSError, ValueError, HTTPException):
                    status, newest = one.call("GET", f"/api/jobs/{job['id']}")
                    if status != 200:
                        continue
                    note = f"save {count}"
                    body = {
                        "parent": newest["number"],
                        "reason": note,
                        "document": {**document, "notes": note},
                    }
                    if one.call("POST", f"/api/jobs/{job['id']}/revisions", body)[0] == 201:
                        kept["saves"].add(note)

        def reader() -> None:
            one, count = caller(), 0
            while not stop.is_set():
                count += 1
                with contextlib.suppress(OSError, ValueError, HTTPException):
                    body = {"body": [float(count), 0.0, 0.0]}
                    if one.call("PUT", f"/api/jobs/{job['id']}/survey/mark/m{count}", body)[0] in (200, 204):
                        kept["readings"].add(f"m{count}")
                time.sleep(0.05)

        def pictures() -> None:
            one, count = caller(), 0
            while not stop.is_set():
                count += 1
                with contextlib.suppress(OSError, ValueError, HTTPException):
                    path = f"/api/jobs/{job['id']}/photographs?name=p{count}"
                    status, said = one.call("POST", path, picture.getvalue(), "image/jpeg")
                    if status in (200, 201):
                        kept["pictures"].add(said["id"])
                time.sleep(0.3)

        hands = [threading.Thread(target=one) for one in (saver, reader, pictures)]
        for hand in hands:
            hand.start()
        try:
            for kill in range(KILLS):
                time.sleep(chance.uniform(0.2, 1.0))
                if kill % 3 == 2:  # all of it, as a pulled plug does
                    os.killpg(its.pid, signal.SIGKILL)
                    its.communicate()
                    its = self.start()
                else:
                    workers = subprocess.run(
                        ["pgrep", "-P", str(its.pid)],
                        capture_output=True,
                        text=True,
                        check=False,
                    ).stdout.split()
                    with contextlib.suppress(ProcessLookupError):
                        os.kill(int(chance.choice(workers)), signal.SIGKILL)
                self.serving()
        finally:
            stop.set()
            for hand in hands:
                hand.join()
        self.stop(its)
        self.stop(self.start())  # what was left without a row is swept at the start
        for what, some in kept.items():
            self.assertTrue(some, f"no {what} were answered")
        with contextlib.closing(sqlite3.connect(self.folder / "jugatrix.sqlite3")) as store:
            self.assertEqual(store.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            self.assertIsNone(store.execute("PRAGMA foreign_key_check").fetchone())
            rows = store.execute(
                "SELECT number, reason, document FROM jobs_revision ORDER BY number"
            ).fetchall()
            marks = {key for (key,) in store.execute("SELECT key FROM records_surveyitem")}
            photos = {str(pk) for (pk,) in store.execute("SELECT id FROM records_photograph")}
        self.assertEqual([number for number, *_ in rows], list(range(1, len(rows) + 1)))
        for _, reason, text in rows[1:]:
            self.assertEqual(json.loads(text)["notes"], reason)
        self.assertLessEqual(kept["saves"], {reason for _, reason, _ in rows})
        self.assertLessEqual(kept["readings"], marks)
        self.assertLessEqual({one.replace("-", "") for one in kept["pictures"]}, photos)
        files = {path.name.replace("-", "") for path in (self.folder / "photographs").iterdir()}
        self.assertEqual(files, {f"{one}.jpg" for one in photos})  # none torn, none without a row
        for one in kept["pictures"]:
            with Image.open(self.folder / "photographs" / f"{one}.jpg") as shot:
                shot.load()
